"""Why work cannot be planned, and the smallest change of each kind that would mend it.

What cannot be done cannot be done for a single panel on an empty bench (see :func:`nublet.core.planning.plan.make_plan`), so
each change is tried there: a window or the hours of work are widened by more and more minutes until the panel's work fits,
and the least that will do is found by bisection.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import TypeVar

from nublet.core.planning.bench import Bench
from nublet.core.planning.chains import Block, Chain
from nublet.core.planning.construct import Obstacle, trial_horizon
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.exposures import exposure_chain
from nublet.core.planning.limits import DAY_MIN
from nublet.core.planning.passes import coat_chain, outlives_its_batch
from nublet.core.planning.spec import WEEKDAYS, PanelGroup, PlanSpec, WorkingHours
from nublet.core.planning.together import bundle_passes, variants_of

Item = TypeVar("Item")
_MOST_MIN = 14 * DAY_MIN
_MOST_NAMED = 3


@dataclass(frozen=True, kw_only=True)
class Relaxation:
    """A change that alone would mend it. ``was`` and ``needed`` are in ``unit``, or words of the clock."""

    what: str
    was: str
    needed: str
    more_min: float

    @property
    def says(self) -> str:
        """The change in words."""
        return f"{self.what} {self.needed} instead of {self.was}"


@dataclass(frozen=True, kw_only=True)
class Reason:
    """What cannot be done in one or more groups alike, and what would mend it, the smallest change first."""

    groups: tuple[str, ...]
    item: str
    problem: str
    relaxations: tuple[Relaxation, ...]

    @property
    def least_min(self) -> float:
        """By how much the smallest change widens something, minutes; infinite where nothing was found to help."""
        return min((relaxation.more_min for relaxation in self.relaxations), default=math.inf)

    @property
    def says(self) -> str:
        """The reason in words."""
        named = ", ".join(self.groups[:_MOST_NAMED])
        if len(self.groups) > _MOST_NAMED:
            named += f" and {len(self.groups) - _MOST_NAMED} more"
        start = f"{named}, {self.item}: {self.problem}"
        if not self.relaxations:
            return start
        lead = "This mends it" if len(self.relaxations) == 1 else "Any one of these mends it"
        return f"{start} {lead}: {'; '.join(relaxation.says for relaxation in self.relaxations)}."


def find_reasons(spec: PlanSpec, obstacles: Sequence[Obstacle]) -> tuple[Reason, ...]:
    """What is in the way: alike in several groups is one reason; the one that the smallest change mends comes first."""
    known: dict[object, Reason] = {}
    groups: dict[tuple[str, str, tuple[Relaxation, ...]], list[str]] = {}
    for obstacle in obstacles:
        group = spec.groups[obstacle.group]
        alike = group.exposures[obstacle.exposure] if obstacle.exposure is not None else group.steps
        if alike not in known:
            known[alike] = _reason(spec, obstacle)
        found = known[alike]
        named = groups.setdefault((found.item, found.problem, found.relaxations), [])
        if group.id not in named:
            named.append(group.id)
    reasons = [
        Reason(groups=tuple(named), item=item, problem=problem, relaxations=relaxations)
        for (item, problem, relaxations), named in groups.items()
    ]
    return tuple(sorted(reasons, key=lambda reason: reason.least_min))


@dataclass(frozen=True)
class _Knob:
    """Something that can be widened by minutes."""

    what: str
    widened: Callable[[float], PlanSpec | None]
    shown: Callable[[float], str]


def _reason(spec: PlanSpec, obstacle: Obstacle) -> Reason:
    group = spec.groups[obstacle.group]
    item = group.steps[0].id if obstacle.exposure is None else group.exposures[obstacle.exposure].id
    if not any(person.hours for person in spec.people):
        return Reason(
            groups=(group.id,),
            item=item,
            problem="nobody has any working hours. Give at least one span.",
            relaxations=(),
        )
    held = _lacking(spec, obstacle)
    if held is not None:
        one = Relaxation(what=f"{held}s:", was="0", needed="1", more_min=0)
        problem = f"it needs {'an' if held == 'iron' else 'a'} {held} and the shop has none."
        return Reason(groups=(group.id,), item=item, problem=problem, relaxations=(one,))
    chain = _single(spec, obstacle)
    culprit = None if chain is None else _culprit(spec, chain)
    found = []
    for knob in _knobs(spec, obstacle, culprit):
        minutes = _least(knob, obstacle)
        if minutes is not None:
            found.append(
                Relaxation(what=knob.what, was=knob.shown(0), needed=knob.shown(minutes), more_min=minutes)
            )
    found.sort(key=lambda relaxation: relaxation.more_min)
    if culprit is not None:
        item = culprit.item
    return Reason(
        groups=(group.id,),
        item=item,
        problem=_problem(spec, obstacle, culprit),
        relaxations=tuple(found),
    )


def _lacking(spec: PlanSpec, obstacle: Obstacle) -> str | None:
    """What an exposure needs and the shop has none of, in words."""
    if obstacle.exposure is None:
        return None
    exposure = spec.groups[obstacle.group].exposures[obstacle.exposure]
    if exposure.holds("heat_block") and not spec.heat_blocks:
        return "heat block"
    return "iron" if exposure.holds("iron") and not spec.irons else None


def fits_alone(spec: PlanSpec, obstacle: Obstacle) -> bool:
    """Whether a single panel's part of the work fits an empty bench, or a board's where that is what was in the way."""
    if obstacle.lot is not None:
        return bool(
            bundle_passes(spec, obstacle.lot, _variants(spec, obstacle), Bench(spec, trial_horizon(spec)))
        )
    chain = _single(spec, obstacle)
    return chain is not None and Bench(spec, trial_horizon(spec)).place(chain) is not None


def _single(spec: PlanSpec, obstacle: Obstacle) -> Chain | None:
    group = spec.groups[obstacle.group]
    if obstacle.exposure is None:
        stuck = any(outlives_its_batch(step) for step in group.steps)
        return None if stuck else coat_chain(spec, obstacle.group, (0,))
    return exposure_chain(obstacle.group, group.exposures[obstacle.exposure], (0,))


def _variants(spec: PlanSpec, obstacle: Obstacle) -> list[tuple[ExposureWork, list[int]]]:
    """The work of a board that does not meet an exposure together."""
    if obstacle.lot is None or obstacle.exposure is None:
        return []
    item = spec.groups[obstacle.group].exposures[obstacle.exposure].id
    return dict(variants_of(spec, obstacle.lot, range(len(spec.lots[obstacle.lot])), 0))[item]


def _culprit(spec: PlanSpec, chain: Chain) -> Block | None:
    """The first block that does not fit with what comes before it."""
    bench = Bench(spec, trial_horizon(spec))

    def fits(number: int) -> bool:
        part = replace(
            chain,
            blocks=chain.blocks[:number],
            occupations=tuple(o for o in chain.occupations if o.last < number),
        )
        return bench.place(part) is not None

    if fits(len(chain.blocks)):
        return None
    # What fits with more fits with less.
    first = bisect_left(range(1, len(chain.blocks) + 1), True, key=lambda number: not fits(number))
    return chain.blocks[first]


def _problem(spec: PlanSpec, obstacle: Obstacle, culprit: Block | None) -> str:
    group = spec.groups[obstacle.group]
    if obstacle.lot is not None:
        n = sum(len(panels) for _, panels in _variants(spec, obstacle))
        return f"the {n} panels of {list(spec.boards)[obstacle.lot - len(spec.groups)]} do not meet it in one sitting."
    if culprit is None:
        for step in group.steps if obstacle.exposure is None else ():
            if outlives_its_batch(step):
                return f"a batch lasts {step.pot_life_min:g} min, and {step.id} takes {step.minutes_per_panel:g} for one panel."
        return "one panel's looks are in each other's way."
    if culprit.parent is None:
        return f"no working span is long enough for {culprit.unit_s / 60:g} min of work on one panel."
    if culprit.kind == "wipe":
        return "its wipe-off never falls within working hours."
    if culprit.kind in ("coat", "abrade", "weigh"):
        return "its recoat window never falls within working hours."
    if culprit.kind == "look":
        after = culprit.act or "lifting"
        return f"its look {culprit.look_after_min:g} min after {after} never falls within working hours."
    if culprit.kind == "act":
        return f"{culprit.act} never falls within working hours in its window."
    return "its lifting never falls within working hours."


def _least(knob: _Knob, obstacle: Obstacle) -> float | None:
    """The least whole minutes of widening that mend it, ``None`` when none does."""

    def mends(minutes: int) -> bool:
        spec = knob.widened(minutes)
        return spec is not None and fits_alone(spec, obstacle)

    high = 1
    while not mends(high):
        high *= 2
        if high > _MOST_MIN or knob.widened(high) is None:
            # The last stretch before the knob's own end.
            high = max((m for m in _ends(knob, high // 2, high)), default=0)
            if not high or not mends(high):
                return None
            break
    low = high // 2
    while high - low > 1:
        middle = (low + high) // 2
        if mends(middle):
            high = middle
        else:
            low = middle
    return high


def _ends(knob: _Knob, low: int, high: int) -> Iterator[int]:
    """The greatest widening between two that the knob allows."""
    if high > _MOST_MIN:
        return
    while high - low > 1:
        middle = (low + high) // 2
        if knob.widened(middle) is None:
            high = middle
        else:
            low = middle
    yield low


def _knobs(spec: PlanSpec, obstacle: Obstacle, culprit: Block | None) -> Iterator[_Knob]:
    if obstacle.exposure is None:
        yield from _step_knobs(spec, obstacle.group)
    else:
        yield from _exposure_knobs(spec, obstacle.group, obstacle.exposure, culprit)
    yield from _hours_knobs(spec)


def _step_knobs(spec: PlanSpec, number: int) -> Iterator[_Knob]:
    steps = spec.groups[number].steps
    for place, step in enumerate(steps):
        widen = partial(_widen_step, spec, number, place)
        is_last = place == len(steps) - 1
        if step.wipe is not None:
            yield _Knob(
                f"wiping {step.id} up to", partial(widen, "wipe_to"), partial(_more, step.wipe.to_min)
            )
            yield _Knob(
                f"wiping {step.id} from", partial(widen, "wipe_from"), partial(_less, step.wipe.from_min)
            )
        if step.recoat_to_h is not None and not is_last:
            shown = partial(_more, step.recoat_to_h * 60, in_hours=True)
            yield _Knob(f"recoating after {step.id} up to", partial(widen, "recoat_to"), shown)
        if step.recoat_from_h and not is_last:
            shown = partial(_less, step.recoat_from_h * 60, in_hours=True)
            yield _Knob(f"recoating after {step.id} from", partial(widen, "recoat_from"), shown)
        if step.pot_life_min is not None:
            yield _Knob(
                f"a pot life of {step.id} of", partial(widen, "pot_life"), partial(_more, step.pot_life_min)
            )


def _widen_step(spec: PlanSpec, number: int, place: int, field: str, minutes: float) -> PlanSpec | None:
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


def _exposure_knobs(spec: PlanSpec, number: int, place: int, culprit: Block | None) -> Iterator[_Knob]:
    exposure = spec.groups[number].exposures[place]
    if not exposure.acts:
        yield _Knob(
            f"a tolerance on the {exposure.duration_min:g} min of",
            partial(_widen_exposure, spec, number, place, None),
            partial(_more, exposure.tolerance_min),
        )
    # Of many acts only the wait before the one that does not fit is tried.
    stuck = next(
        (n for n, act in enumerate(exposure.acts) if culprit is not None and act.id == culprit.act), 0
    )
    for index, act in list(enumerate(exposure.acts))[max(0, stuck - 1) : stuck + 1]:
        if act.then_min is not None and act.then_min[1] is not None:
            yield _Knob(
                f"a wait after {act.id} of up to",
                partial(_widen_act, spec, number, place, index),
                partial(_more, act.then_min[1]),
            )
    for index, look in enumerate(exposure.looks):
        yield _Knob(
            f"a tolerance on the look after {look.after_min:g} min of",
            partial(_widen_exposure, spec, number, place, index),
            partial(_more, look.tolerance_min),
        )


def _widen_exposure(spec: PlanSpec, number: int, place: int, look: int | None, minutes: float) -> PlanSpec:
    group = spec.groups[number]
    exposure = group.exposures[place]
    if look is None:
        exposure = replace(exposure, tolerance_min=exposure.tolerance_min + minutes)
    else:
        wider = replace(exposure.looks[look], tolerance_min=exposure.looks[look].tolerance_min + minutes)
        exposure = replace(exposure, looks=_put(exposure.looks, look, wider))
    return _with_group(spec, number, replace(group, exposures=_put(group.exposures, place, exposure)))


def _widen_act(spec: PlanSpec, number: int, place: int, index: int, minutes: float) -> PlanSpec:
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


def _hours_knobs(spec: PlanSpec) -> Iterator[_Knob]:
    spans = [hours for person in spec.people for hours in person.hours]
    ends = [hours.to_min for hours in spans if hours.to_min > hours.from_min]
    if not ends:
        return
    last, first = max(ends), min(hours.from_min for hours in spans)
    yield _Knob("working until", partial(_work_later, spec, last), lambda minutes: _clock(last + minutes))
    yield _Knob("working from", partial(_work_earlier, spec, first), lambda minutes: _clock(first - minutes))
    days = {day for hours in spans for day in hours.days}
    if len(days) < len(WEEKDAYS):
        yield _Knob(
            "working on",
            partial(_work_every_day, spec),
            lambda minutes: "every day of the week" if minutes else f"{len(days)} days",
        )


def _work_later(spec: PlanSpec, last: float, minutes: float) -> PlanSpec | None:
    if last + minutes > DAY_MIN:
        return None
    return _with_hours(spec, lambda h: replace(h, to_min=h.to_min + minutes) if h.to_min == last else h)


def _work_earlier(spec: PlanSpec, first: float, minutes: float) -> PlanSpec | None:
    if minutes > first:
        return None
    return _with_hours(
        spec, lambda h: replace(h, from_min=h.from_min - minutes) if h.from_min == first else h
    )


def _work_every_day(spec: PlanSpec, minutes: float) -> PlanSpec:
    """A day more counts as a day's minutes: longer hours are tried first."""
    every = frozenset(WEEKDAYS)
    return _with_hours(spec, lambda h: replace(h, days=every)) if minutes >= DAY_MIN else spec


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
