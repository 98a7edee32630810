"""From a specification to chains, and from chains to a first plan: each chain at its earliest, in an order by rule."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from nublet.core.planning.bench import Bench
from nublet.core.planning.calendar import DAY_S, WEEK_S, sitting_at
from nublet.core.planning.chains import FOREVER, Chain, Placed, at_least
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.exposures import exposure_chain, exposure_passes
from nublet.core.planning.passes import (
    coat_chain,
    coat_pass_size,
    in_seconds,
    numbered,
    outlives_its_batch,
    released_by,
    sizes_to_try,
    split_evenly,
)
from nublet.core.planning.spec import PanelGroup, PlanSpec
from nublet.core.planning.together import bundle_passes, place_bundle, released_by_board, variants_of

_MOST_HORIZON_S = 20 * 366 * DAY_S
Aim = Literal["end", "sittings", "waiting"]
Placement = dict[int, list[Placed]]
Rule = Callable[[Chain], tuple[int, ...]]


@dataclass(frozen=True)
class Obstacle:
    """A part of the work that cannot be done whatever else is left out: a group's steps, or one of its exposures.

    ``lot`` is the board's that cannot meet the exposure together, though each of its panels could alone.
    """

    group: int
    exposure: int | None = None
    lot: int | None = None


@dataclass(kw_only=True)
class Work:
    """A specification's chains, by number. ``says`` tell why groups were split; ``obstacles`` what cannot be done."""

    spec: PlanSpec
    chains: list[Chain] = field(default_factory=list)
    says: list[str] = field(default_factory=list)
    obstacles: list[Obstacle] = field(default_factory=list)


@dataclass(frozen=True, order=True)
class Merit:
    """What plans are compared by, in this order: end, sittings, seconds of hands waiting within their sittings."""

    end_s: int
    n_sittings: int
    waiting_s: int


def split_work(spec: PlanSpec, *, parts: int = 1, seed: int = 0) -> Work:
    """Split all groups into passes, as large as fit an empty bench; exposures' into ``parts`` of a group at least.

    Smaller passes fill gaps that larger ones leave, at the price of more of them. What is exposed together goes by boards, in an
    order that is drawn with ``seed``.
    """
    work = Work(spec=spec)
    empty = Bench(spec, trial_horizon(spec))
    for number, group in enumerate(spec.groups):
        panels = range(len(group.panels))
        coats = _coat_passes(work, empty, number, group) if group.steps else []
        if group.steps and not coats:
            work.obstacles.append(Obstacle(number))
        coats = numbered(coats, len(work.chains))
        work.chains += coats
        for place, exposure in enumerate(() if spec.is_together else group.exposures):
            passes = exposure_passes(
                spec, number, exposure, panels, lambda chain: empty.place(chain) is not None, parts=parts
            )
            if not passes:
                work.obstacles.append(Obstacle(number, place))
            for chain in numbered(passes, len(work.chains)):
                work.chains.append(release_chain(chain, coats, group))
    if spec.is_together:
        _add_bundles(work, empty, seed)
    return work


def _add_bundles(work: Work, empty: Bench, seed: int) -> None:
    """Add the passes of each board through each exposure, held back until all of the board has cured."""
    spec, coats = work.spec, list(work.chains)
    for lot in range(len(spec.groups), len(spec.lots)):
        everyone = range(len(spec.lots[lot]))
        releases = released_by_board(spec, lot, coats, everyone)
        for _, variants in variants_of(spec, lot, everyone, seed):
            passes = bundle_passes(spec, lot, variants, empty)
            if not passes:
                work.obstacles.append(bundle_obstacle(spec, lot, variants, empty))
            bundle = len(work.chains)
            for chain in numbered(passes, bundle):
                work.chains.append(replace(chain, bundle=bundle, releases=releases))


def bundle_obstacle(
    spec: PlanSpec, lot: int, variants: Sequence[tuple[ExposureWork, Sequence[int]]], empty: Bench
) -> Obstacle:
    """What is in the way of a board's exposure: one of its panels' own work, or else that they meet it together."""
    for exposure, panels in variants:
        at = spec.lots[lot][panels[0]]
        place = spec.groups[at.group].exposures.index(exposure)
        alone = exposure_chain(lot, exposure, panels[:1])
        if alone is None or empty.place(alone) is None:
            return Obstacle(at.group, place)
    exposure, panels = variants[0]
    at = spec.lots[lot][panels[0]]
    return Obstacle(at.group, spec.groups[at.group].exposures.index(exposure), lot)


def release_chain(chain: Chain, coats: Sequence[Chain], group: PanelGroup) -> Chain:
    """The exposure's chain, held back until its panels have cured; from the start where there is nothing to cure."""
    return replace(chain, releases=released_by(chain, coats, in_seconds(group.cure_h * 60)))


def trial_horizon(spec: PlanSpec) -> int:
    """Seconds within which one panel's work fits an empty bench, if it fits at all: hours of work repeat weekly."""
    longest = 0.0
    for group in spec.groups:
        steps = sum((step.recoat_to_h or step.recoat_from_h) * 3600 for step in group.steps)
        steps += sum(step.wipe.to_min * 60 for step in group.steps if step.wipe)
        tests = max((exposure.longest_min for exposure in group.exposures), default=0.0)
        longest = max(longest, steps + 60 * tests + group.condition_h * 3600)
    off = sum(len(person.days_off) for person in spec.people)
    return int(longest) + off * DAY_S + 4 * WEEK_S + spec.busy.end_s


def first_horizon(work: Work) -> int:
    """A guess at how long the plan may take; the bench is made anew with twice as much when it was too short."""
    spec = work.spec
    empty = Bench(spec, trial_horizon(spec))
    week = sum(min(b, 2 * WEEK_S) - a for a, b in empty.spans if a < 2 * WEEK_S) / 2 or 1
    hands = sum(block.length_s for chain in work.chains for block in chain.blocks)
    heat = sum(chain.tail_s for chain in work.chains if any(o.heat_blocks for o in chain.occupations)) / max(
        1, spec.heat_blocks
    )
    cure = max(in_seconds(group.cure_h * 60) for group in spec.groups)
    return int(empty.horizon_s + cure + 1.5 * WEEK_S * (hands + heat) / week)


def place_all(bench: Bench, chains: Iterable[Chain], placement: Placement) -> bool:
    """Place and book chains one after the other, each at its earliest; false when one finds no place before the horizon.

    ``placement`` has the chains that stand already, and gets the others.
    """
    # While bookings only grow, a chain of the same shape that may begin no sooner finds nothing sooner either.
    known: dict[object, tuple[int, int]] = {}
    is_alone = len(bench.people) == 1
    chains = list(chains)
    bundles: dict[int, list[Chain]] = {}
    for chain in chains:
        bundles.setdefault(chain.bundle, []).append(chain)
    for chain in chains:
        if chain.number in placement:
            continue
        members = [chain] if chain.bundle < 0 else bundles[chain.bundle]
        if len(members) > 1:
            if not _place_members(bench, members, placement):
                return False
            continue
        released = max(released_at(chain, placement), chain.not_before_s)
        shape = (chain.shape, None if is_alone else chain.lot)
        earlier = known.get(shape)
        placed = bench.place(
            chain, max(released, earlier[1]) if earlier and released >= earlier[0] else released
        )
        if placed is None:
            return False
        known[shape] = (released, placed[0].start_s)
        bench.book(chain, placed)
        placement[chain.number] = placed
    return True


def _place_members(bench: Bench, members: Sequence[Chain], placement: Placement) -> bool:
    """Place and book a bundle of several passes; false when there is no place."""
    released = max(max(released_at(chain, placement), chain.not_before_s) for chain in members)
    placed = place_bundle(bench, members, released)
    if placed is None:
        return False
    for chain, at in zip(members, placed, strict=True):
        bench.book(chain, at)
        placement[chain.number] = at
    return True


def released_at(chain: Chain, placement: Placement) -> int:
    """When the chains that a chain waits for let it begin."""
    return max(
        (placement[release.chain][release.block].start_s + release.wait_s for release in chain.releases),
        default=0,
    )


def first_plan(
    work: Work,
    rule: Rule,
    standing: Callable[[Bench], None] | None = None,
    *,
    is_close: bool = False,
) -> tuple[Bench, Placement] | None:
    """A plan in which every chain is placed at its earliest, in the order of a rule; coats before what they release.

    ``standing`` books first what stands already. ``is_close`` puts what follows at the least wait that is allowed, not at the one
    that is wanted: passes then stand closer, and the search may move them back.

    ``None`` where in this order a chain finds no room before its last moment, or within 20 years: what has a last moment was
    tried in one order only (:meth:`nublet.core.bench.rest.Rest.open_what_cannot_be_met`), and another may take its room away.
    """
    order = sorted(work.chains, key=lambda chain: (chain.rank, bool(chain.releases), *rule(chain)))
    if is_close:
        order = [at_least(chain) for chain in order]
    held = max((c.not_before_s for c in work.chains), default=0)
    horizon = first_horizon(work) + held
    while horizon <= _MOST_HORIZON_S:
        bench, placement = Bench(work.spec, horizon), Placement()
        if standing is not None:
            standing(bench)
        if place_all(bench, order, placement):
            return bench, placement
        stuck = next(chain for chain in order if chain.number not in placement)
        if stuck.not_after_s < horizon:
            break  # A longer bench has no more room before then.
        horizon *= 2
    return None


def merit_of(bench: Bench, chains: Sequence[Chain], placement: Placement) -> Merit:
    """How good a plan is."""
    end, used = 0, dict[tuple[int, int], tuple[int, int, int]]()
    for chain in chains:
        for block, at in zip(chain.blocks, placement[chain.number], strict=True):
            ends = at.start_s + block.length_s
            end = max(end, ends)
            key = (sitting_at(bench.sittings, at.start_s), at.person)
            first, last, busy = used.get(key, (FOREVER, 0, 0))
            used[key] = (min(first, at.start_s), max(last, ends), busy + block.length_s)
    return Merit(
        end_s=end,
        n_sittings=len({sitting for sitting, _ in used}),
        waiting_s=sum(max(0, last - first - busy) for first, last, busy in used.values()),
    )


def _coat_passes(work: Work, empty: Bench, number: int, group: PanelGroup) -> list[Chain]:
    if any(outlives_its_batch(step) for step in group.steps):
        return []
    limit = coat_pass_size(work.spec, group)
    panels = range(len(group.panels))
    for size in sizes_to_try(len(panels), limit.panels):
        chains = [coat_chain(work.spec, number, part) for part in split_evenly(panels, size)]
        if empty.place(chains[0]) is not None:
            if limit.says:
                work.says.append(limit.says)
            return chains
    return []
