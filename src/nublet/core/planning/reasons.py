"""Why work cannot be planned, and the smallest change of each kind that would mend it.

What cannot be done cannot be done for a single panel on an empty bench (see :func:`nublet.core.planning.plan.make_plan`), so
each change is tried there: a window or the hours of work are widened by more and more minutes until the panel's work fits,
and the least that will do is found by bisection.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

from nublet.core.errors import PlanError
from nublet.core.planning.bench import Bench
from nublet.core.planning.chains import Block, Chain
from nublet.core.planning.construct import Obstacle, trial_horizon
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.exposures import exposure_chain
from nublet.core.planning.limits import DAY_MIN
from nublet.core.planning.mends import Knob, Widen, knobs_of
from nublet.core.planning.passes import coat_chain, outlives_its_batch
from nublet.core.planning.spec import PlanSpec
from nublet.core.planning.together import bundle_passes, variants_of

_MOST_MIN = 14 * DAY_MIN
_MOST_NAMED = 3
MOST_LINES = 6
# Changes of the shop's own, which are made once for all.
_OF_SHOP = ("working", "heat blocks", "irons", "exposing")


def _unchanged(spec: PlanSpec) -> PlanSpec:
    return spec


@dataclass(frozen=True, kw_only=True)
class Relaxation:
    """A change that alone would mend it. ``was`` and ``needed`` are in ``unit``, or words of the clock; ``apply`` makes it."""

    what: str
    was: str
    needed: str
    more_min: float
    apply: Callable[[PlanSpec], PlanSpec] = field(default=_unchanged, compare=False, repr=False)

    @property
    def says(self) -> str:
        """The change in words."""
        return f"{self.what} {self.needed} instead of {self.was}"


@dataclass(frozen=True, kw_only=True)
class Reason:
    """What cannot be done in one or more groups alike, and what would mend it, the smallest change first.

    ``items`` are the steps or exposures that it is about: several where one and the same is in their way.
    """

    groups: tuple[str, ...]
    items: tuple[str, ...]
    problem: str
    relaxations: tuple[Relaxation, ...]

    @property
    def item(self) -> str:
        """The first of its items."""
        return self.items[0]

    @property
    def least_min(self) -> float:
        """By how much the smallest change widens something, minutes; infinite where nothing was found to help."""
        return min((relaxation.more_min for relaxation in self.relaxations), default=math.inf)

    @property
    def says(self) -> str:
        """The reason in words."""
        start = f"{_named(self.groups)}, {_named(self.items)}: {self.problem}"
        if not self.relaxations:
            return start
        lead = "This mends it" if len(self.relaxations) == 1 else "Any one of these mends it"
        return f"{start} {lead}: {'; '.join(relaxation.says for relaxation in self.relaxations)}."


def _named(names: Sequence[str]) -> str:
    more = f" and {len(names) - _MOST_NAMED} more" if len(names) > _MOST_NAMED else ""
    return f"{', '.join(names[:_MOST_NAMED])}{more}"


def find_reasons(spec: PlanSpec, obstacles: Sequence[Obstacle]) -> tuple[Reason, ...]:
    """What is in the way, the one that the smallest change mends first, in at most :data:`MOST_LINES` of them.

    What is alike in several groups is one reason, and looks of several exposures that fall outside working hours alike are too; where
    there are still too many lines, so is all that has one and the same problem, and the last tells of the rest.
    """
    found = [_Obstructed(spec, obstacle) for obstacle in obstacles]
    known: dict[object, Reason] = {}
    parts: dict[object, list[tuple[_Obstructed, Reason]]] = {}
    for each in found:
        if each.alike not in known:
            known[each.alike] = _reason(spec, each.obstacle)
        reason = known[each.alike]
        is_look = reason.problem.startswith("its look")
        key = reason.problem if is_look else (reason.items, reason.problem, reason.relaxations)
        parts.setdefault(key, []).append((each, reason))
    reasons = [_together(spec, own) for own in parts.values()]
    if len(reasons) > MOST_LINES:
        by_problem: dict[str, list[tuple[_Obstructed, Reason]]] = {}
        for own in parts.values():
            for each, reason in own:
                by_problem.setdefault(reason.problem, []).append((each, reason))
        reasons = [_together(spec, own) for own in by_problem.values()]
    reasons.sort(key=lambda reason: reason.least_min)
    if len(reasons) > MOST_LINES:
        reasons = [*reasons[: MOST_LINES - 1], _rest(reasons[MOST_LINES - 1 :])]
    return tuple(reasons)


class _Obstructed:
    """An obstacle, and what is alike with it."""

    def __init__(self, spec: PlanSpec, obstacle: Obstacle) -> None:
        group = spec.groups[obstacle.group]
        self.obstacle = obstacle
        self.group = group.id
        # Boards that are alike but in their panels are alike in what they cannot do.
        lot = None if obstacle.lot is None else len(spec.lots[obstacle.lot])
        self.alike = (
            group.exposures[obstacle.exposure] if obstacle.exposure is not None else group.steps,
            lot,
        )

    def widen(self, spec: PlanSpec, what: str) -> Widen | None:
        """How this obstacle's own of a kind of change is made."""
        culprit = culprit_of(spec, self.obstacle)
        return next(
            (knob.widened for knob in knobs_of(spec, self.obstacle, culprit) if knob.what == what), None
        )


def _together(spec: PlanSpec, parts: Sequence[tuple[_Obstructed, Reason]]) -> Reason:
    """One reason of several with the same problem: what mends them all, by as much as the one that needs most."""
    first = parts[0][1]
    shared = []
    for relaxation in first.relaxations:
        same = [
            [r for r in reason.relaxations if r.what == relaxation.what and _is_same(r, relaxation)]
            for _, reason in parts
        ]
        if all(same):
            most = max((r for own in same for r in own), key=lambda r: r.more_min)
            shared.append(replace(most, apply=_applied(spec, parts, most)))
    return Reason(
        groups=tuple(dict.fromkeys(each.group for each, _ in parts)),
        items=tuple(dict.fromkeys(item for _, reason in parts for item in reason.items)),
        problem=first.problem,
        relaxations=tuple(sorted(shared, key=lambda relaxation: relaxation.more_min)),
    )


def _is_same(one: Relaxation, other: Relaxation) -> bool:
    """Of what is had whole or not at all the same is wanted: no Saturday stands for a Sunday."""
    return not one.what.startswith("working also") or one.needed == other.needed


def _applied(
    spec: PlanSpec, parts: Sequence[tuple[_Obstructed, Reason]], relaxation: Relaxation
) -> Callable[[PlanSpec], PlanSpec]:
    """The change made wherever it is needed; the shop's own is made once, and by whatever it was found with."""

    def apply(base: PlanSpec) -> PlanSpec:
        if relaxation.what.startswith(_OF_SHOP):
            return relaxation.apply(base)
        for each, _ in parts:
            widen = each.widen(spec, relaxation.what)
            base = (None if widen is None else widen(base, relaxation.more_min)) or base
        return base

    return apply


def _rest(reasons: Sequence[Reason]) -> Reason:
    return Reason(
        groups=tuple(dict.fromkeys(group for reason in reasons for group in reason.groups)),
        items=tuple(dict.fromkeys(item for reason in reasons for item in reason.items)),
        problem=f"{len(reasons)} more things are in the way. Mend those above first, then plan again.",
        relaxations=(),
    )


def _reason(spec: PlanSpec, obstacle: Obstacle) -> Reason:
    group = spec.groups[obstacle.group]
    item = group.steps[0].id if obstacle.exposure is None else group.exposures[obstacle.exposure].id
    if not any(person.hours for person in spec.people):
        return Reason(
            groups=(group.id,),
            items=(item,),
            problem="nobody has any working hours. Give at least one span.",
            relaxations=(),
        )
    held = _lacking(spec, obstacle)
    if held is not None:
        one = Relaxation(
            what=f"{held}s:",
            was="0",
            needed="1",
            more_min=0,
            apply=lambda spec: replace(spec, irons=1) if held == "iron" else replace(spec, heat_blocks=1),
        )
        problem = f"it needs {'an' if held == 'iron' else 'a'} {held} and the shop has none."
        return Reason(groups=(group.id,), items=(item,), problem=problem, relaxations=(one,))
    culprit = culprit_of(spec, obstacle)
    found: list[Relaxation] = []
    for knob in knobs_of(spec, obstacle, culprit):
        minutes = _least(spec, knob, obstacle)
        if minutes is not None:
            found.append(
                Relaxation(
                    what=knob.what,
                    was=knob.shown(0),
                    needed=knob.shown(minutes),
                    more_min=minutes,
                    apply=partial(_widened, knob, minutes),
                )
            )
    # One day more is less than two, and two than all.
    days = [relaxation for relaxation in found if relaxation.what.startswith("working also")]
    fewest = min((relaxation.more_min for relaxation in days), default=math.inf)
    found = [
        r for r in found if not r.what.startswith(("working also", "working on")) or r.more_min <= fewest
    ]
    found.sort(key=lambda relaxation: relaxation.more_min)
    if culprit is not None:
        item = culprit.item
    return Reason(
        groups=(group.id,),
        items=(item,),
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
    if obstacle.lot is not None and not spec.is_together:
        # Its panels were found to fit alone.
        return True
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
    if culprit.kind in ("work", "coat", "abrade", "weigh"):
        return "its recoat window never falls within working hours."
    if culprit.kind == "look":
        after = culprit.act or "lifting"
        return f"its look {culprit.look_after_min:g} min after {after} never falls within working hours."
    if culprit.kind == "act":
        return f"{culprit.act} never falls within working hours in its window."
    return "its lifting never falls within working hours."


def culprit_of(spec: PlanSpec, obstacle: Obstacle) -> Block | None:
    """The first block of a panel's work that does not fit with what comes before it; ``None`` where each does."""
    chain = None if obstacle.lot is not None else _single(spec, obstacle)
    return None if chain is None else _culprit(spec, chain)


def mended(spec: PlanSpec, says: str, reasons: Sequence[Reason]) -> PlanSpec:
    """A specification with one of the changes made that mend it, known by what it says.

    Raises
    ------
    PlanError
        If none of the reasons tells of such a change.
    """
    for reason in reasons:
        for relaxation in reason.relaxations:
            if relaxation.says == says:
                return relaxation.apply(spec)
    raise PlanError(f"{says!r} is no longer what would mend the plan. Ask for the plan again.", field="mend")


def _widened(knob: Knob, minutes: float, spec: PlanSpec) -> PlanSpec:
    return knob.widened(spec, minutes) or spec


def _least(spec: PlanSpec, knob: Knob, obstacle: Obstacle) -> float | None:
    """The least whole minutes of widening that mend it, ``None`` when none does."""

    def mends(minutes: float) -> bool:
        wider = knob.widened(spec, minutes)
        return wider is not None and fits_alone(wider, obstacle)

    if knob.fixed_min is not None:
        return knob.fixed_min if mends(knob.fixed_min) else None
    high = 1
    while not mends(high):
        high *= 2
        if high > _MOST_MIN or knob.widened(spec, high) is None:
            # The last stretch before the knob's own end.
            high = max((m for m in _ends(spec, knob, high // 2, high)), default=0)
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


def _ends(spec: PlanSpec, knob: Knob, low: int, high: int) -> Iterator[int]:
    """The greatest widening between two that the knob allows."""
    if high > _MOST_MIN:
        return
    while high - low > 1:
        middle = (low + high) // 2
        if knob.widened(spec, middle) is None:
            high = middle
        else:
            low = middle
    yield low
