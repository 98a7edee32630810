"""Why work cannot be planned, and the smallest change of each kind that would mend it.

What cannot be done cannot be done for a single panel on an empty bench (see :func:`nublet.core.planning.plan.make_plan`), so
each change is tried there: a window or the hours of work are widened by more and more minutes until the panel's work fits,
and the least that will do is found by bisection.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from nublet.core.planning.bench import Bench
from nublet.core.planning.chains import Block, Chain
from nublet.core.planning.construct import Obstacle, trial_horizon
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.exposures import exposure_chain
from nublet.core.planning.limits import DAY_MIN
from nublet.core.planning.mends import Knob, knobs_of
from nublet.core.planning.passes import coat_chain, outlives_its_batch
from nublet.core.planning.spec import PlanSpec
from nublet.core.planning.together import bundle_passes, variants_of

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
    for knob in knobs_of(spec, obstacle, culprit):
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
    if culprit.kind in ("work", "coat", "abrade", "weigh"):
        return "its recoat window never falls within working hours."
    if culprit.kind == "look":
        after = culprit.act or "lifting"
        return f"its look {culprit.look_after_min:g} min after {after} never falls within working hours."
    if culprit.kind == "act":
        return f"{culprit.act} never falls within working hours in its window."
    return "its lifting never falls within working hours."


def _least(knob: Knob, obstacle: Obstacle) -> float | None:
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


def _ends(knob: Knob, low: int, high: int) -> Iterator[int]:
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
