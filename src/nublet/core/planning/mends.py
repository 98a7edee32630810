"""What can be widened where work does not fit: windows, tolerances, hours; each by minutes."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from itertools import combinations
from typing import TypeVar

from nublet.core.planning.chains import Block
from nublet.core.planning.construct import Obstacle
from nublet.core.planning.limits import DAY_MIN
from nublet.core.planning.spec import WEEKDAYS, PanelGroup, PlanSpec, Weekday, WorkingHours

Item = TypeVar("Item")
# What buying a block, or giving up that a board meets its tests together, counts as: more than longer hours do.
_MINUTES_OF_A_BLOCK = 3 * DAY_MIN
_MINUTES_OF_APART = 7 * DAY_MIN
_DAY_NAMES: dict[Weekday, str] = {
    "mon": "Monday", "tue": "Tuesday", "wed": "Wednesday", "thu": "Thursday", "fri": "Friday", "sat": "Saturday", "sun": "Sunday",
}  # fmt: skip


Widen = Callable[[PlanSpec, float], PlanSpec | None]


@dataclass(frozen=True)
class Knob:
    """Something that can be widened by minutes.

    ``widened`` gives a specification with it widened by so many, ``None`` beyond its end; ``fixed_min`` is what it takes where it
    is all or nothing. ``is_of_shop`` says that it is the shop's and no group's: once is enough for all.
    """

    what: str
    widened: Widen
    shown: Callable[[float], str]
    fixed_min: float | None = None
    is_of_shop: bool = False


def knobs_of(spec: PlanSpec, obstacle: Obstacle, culprit: Block | None) -> Iterator[Knob]:
    """What can be widened where something does not fit: its own windows, and the hours of work."""
    if obstacle.exposure is None:
        yield from _step_knobs(spec, obstacle.group)
    else:
        yield from _exposure_knobs(spec, obstacle.group, obstacle.exposure, culprit)
    if obstacle.lot is not None:
        yield from _board_knobs(spec, obstacle)
    yield from _hours_knobs(spec)


def _board_knobs(spec: PlanSpec, obstacle: Obstacle) -> Iterator[Knob]:
    """What lets a board meet an exposure together that it cannot: another block; or not together after all."""
    exposure = spec.groups[obstacle.group].exposures[obstacle.exposure or 0]
    if exposure.holds("heat_block"):
        yield Knob(
            "heat blocks:",
            lambda spec, n: replace(spec, heat_blocks=spec.heat_blocks + (n > 0)),
            lambda n: str(spec.heat_blocks + (n > 0)),
            fixed_min=_MINUTES_OF_A_BLOCK,
            is_of_shop=True,
        )
    yield Knob(
        "exposing",
        lambda spec, n: replace(spec, is_together=not n),
        lambda n: "as each is ready" if n else "together",
        fixed_min=_MINUTES_OF_APART,
        is_of_shop=True,
    )


def _step_knobs(spec: PlanSpec, number: int) -> Iterator[Knob]:
    steps = spec.groups[number].steps
    for place, step in enumerate(steps):
        widen = partial(_widen_step, number, place)
        is_last = place == len(steps) - 1
        if step.wipe is not None:
            yield Knob(f"wiping {step.id} up to", partial(widen, "wipe_to"), partial(_more, step.wipe.to_min))
            yield Knob(
                f"wiping {step.id} from", partial(widen, "wipe_from"), partial(_less, step.wipe.from_min)
            )
        if step.recoat_to_h is not None and not is_last:
            shown = partial(_more, step.recoat_to_h * 60, in_hours=True)
            yield Knob(f"recoating after {step.id} up to", partial(widen, "recoat_to"), shown)
        if step.recoat_from_h and not is_last:
            shown = partial(_less, step.recoat_from_h * 60, in_hours=True)
            yield Knob(f"recoating after {step.id} from", partial(widen, "recoat_from"), shown)
        if step.pot_life_min is not None:
            yield Knob(
                f"a pot life of {step.id} of", partial(widen, "pot_life"), partial(_more, step.pot_life_min)
            )


def _widen_step(number: int, place: int, field: str, spec: PlanSpec, minutes: float) -> PlanSpec | None:
    group = spec.groups[number]
    step = group.steps[place]
    if field == "wipe_to" and step.wipe:
        step = replace(step, wipe=replace(step.wipe, to_min=step.wipe.to_min + minutes))
    elif field == "wipe_from" and step.wipe:
        if minutes > step.wipe.from_min:
            return None
        step = replace(step, wipe=replace(step.wipe, from_min=step.wipe.from_min - minutes))
    elif field == "recoat_to" and step.recoat_to_h is not None:
        step = replace(step, recoat_to_h=step.recoat_to_h + minutes / 60)
    elif field == "recoat_from":
        if minutes > step.recoat_from_h * 60:
            return None
        step = replace(step, recoat_from_h=step.recoat_from_h - minutes / 60)
    elif field == "pot_life" and step.pot_life_min is not None:
        step = replace(step, pot_life_min=step.pot_life_min + minutes)
    return _with_group(spec, number, replace(group, steps=_put(group.steps, place, step)))


def _exposure_knobs(spec: PlanSpec, number: int, place: int, culprit: Block | None) -> Iterator[Knob]:
    exposure = spec.groups[number].exposures[place]
    if not exposure.acts:
        yield Knob(
            f"a tolerance on the {exposure.duration_min:g} min of",
            partial(_widen_exposure, number, place, None),
            partial(_more, exposure.tolerance_min),
        )
    # Of many acts only the wait before the one that does not fit is tried.
    stuck = next(
        (n for n, act in enumerate(exposure.acts) if culprit is not None and act.id == culprit.act), 0
    )
    for index, act in list(enumerate(exposure.acts))[max(0, stuck - 1) : stuck + 1]:
        if act.then_min is not None and act.then_min[1] is not None:
            yield Knob(
                f"a wait after {act.id} of up to",
                partial(_widen_act, number, place, index),
                partial(_more, act.then_min[1]),
            )
    for index, look in enumerate(exposure.looks):
        yield Knob(
            f"a tolerance on the look after {look.after_min:g} min of",
            partial(_widen_exposure, number, place, index),
            partial(_more, look.tolerance_min),
        )


def _widen_exposure(number: int, place: int, look: int | None, spec: PlanSpec, minutes: float) -> PlanSpec:
    group = spec.groups[number]
    exposure = group.exposures[place]
    if look is None:
        exposure = replace(exposure, tolerance_min=exposure.tolerance_min + minutes)
    else:
        wider = replace(exposure.looks[look], tolerance_min=exposure.looks[look].tolerance_min + minutes)
        exposure = replace(exposure, looks=_put(exposure.looks, look, wider))
    return _with_group(spec, number, replace(group, exposures=_put(group.exposures, place, exposure)))


def _widen_act(number: int, place: int, index: int, spec: PlanSpec, minutes: float) -> PlanSpec:
    group = spec.groups[number]
    exposure = group.exposures[place]
    act = exposure.acts[index]
    least, most = act.then_min or (0.0, None)
    wider = replace(act, then_min=(least, None if most is None else most + minutes))
    exposure = replace(exposure, acts=_put(exposure.acts, index, wider))
    return _with_group(spec, number, replace(group, exposures=_put(group.exposures, place, exposure)))


def _more(base_min: float, minutes: float, *, in_hours: bool = False) -> str:
    return f"{round((base_min + minutes) / 60, 2):g} h" if in_hours else f"{base_min + minutes:g} min"


def _less(base_min: float, minutes: float, *, in_hours: bool = False) -> str:
    return _more(base_min, -minutes, in_hours=in_hours)


def _hours_knobs(spec: PlanSpec) -> Iterator[Knob]:
    spans = [hours for person in spec.people for hours in person.hours]
    ends = [hours.to_min for hours in spans if hours.to_min > hours.from_min]
    if not ends:
        return
    last, first = max(ends), min(hours.from_min for hours in spans)
    yield Knob(
        "working until", partial(_work_later, last), lambda minutes: _clock(last + minutes), is_of_shop=True
    )
    yield Knob(
        "working from",
        partial(_work_earlier, first),
        lambda minutes: _clock(first - minutes),
        is_of_shop=True,
    )
    yield from _day_knobs(spans)


def _day_knobs(spans: Sequence[WorkingHours]) -> Iterator[Knob]:
    """One day more, two, or all, worked as the others are. A day counts as its minutes, so that longer hours come first."""
    days = {day for hours in spans for day in hours.days}
    free = [day for day in WEEKDAYS if day not in days]
    usual = max(spans, key=lambda hours: len(hours.days))
    length = (usual.to_min - usual.from_min) % DAY_MIN or DAY_MIN
    now = f"{len(days)} days"
    for n in (1, 2):
        for more in combinations(free, n):
            names = " and ".join(_DAY_NAMES[day] for day in more)
            yield Knob(
                "working also on",
                partial(_work_on, frozenset(more)),
                partial(_named_or, names, now),
                fixed_min=n * length,
                is_of_shop=True,
            )
    if free:
        yield Knob(
            "working on",
            partial(_work_on, frozenset(WEEKDAYS)),
            lambda minutes: "every day of the week" if minutes else now,
            fixed_min=max(float(DAY_MIN), len(free) * length),
            is_of_shop=True,
        )


def _named_or(names: str, now: str, minutes: float) -> str:
    return names if minutes else now


def _work_later(last: float, spec: PlanSpec, minutes: float) -> PlanSpec | None:
    if last + minutes > DAY_MIN:
        return None
    return _with_hours(spec, lambda h: replace(h, to_min=h.to_min + minutes) if h.to_min == last else h)


def _work_earlier(first: float, spec: PlanSpec, minutes: float) -> PlanSpec | None:
    if minutes > first:
        return None
    return _with_hours(
        spec, lambda h: replace(h, from_min=h.from_min - minutes) if h.from_min == first else h
    )


def _work_on(days: frozenset[Weekday], spec: PlanSpec, minutes: float) -> PlanSpec:
    """Those days too, by each person's own most usual hours."""
    if not minutes:
        return spec
    people = []
    for person in spec.people:
        usual = max(person.hours, key=lambda hours: len(hours.days), default=None)
        more = tuple(
            replace(hours, days=hours.days | days) if hours is usual else hours for hours in person.hours
        )
        people.append(replace(person, hours=more))
    return replace(spec, people=tuple(people))


def _with_hours(spec: PlanSpec, change: Callable[[WorkingHours], WorkingHours]) -> PlanSpec:
    people = tuple(
        replace(person, hours=tuple(change(hours) for hours in person.hours)) for person in spec.people
    )
    return replace(spec, people=people)


def _with_group(spec: PlanSpec, number: int, group: PanelGroup) -> PlanSpec:
    return replace(spec, groups=_put(spec.groups, number, group))


def _put(items: tuple[Item, ...], place: int, item: Item) -> tuple[Item, ...]:
    return (*items[:place], item, *items[place + 1 :])


def _clock(minutes: float) -> str:
    return f"{int(minutes) // 60:02d}:{int(minutes) % 60:02d}"
