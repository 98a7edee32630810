"""A board's panels through an exposure together: in a drawn order, as one pass where that is possible, else as a bundle of them."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from nublet.core.planning.bench import Bench
from nublet.core.planning.chains import Chain, Placed, Release, at_least
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.exposures import exposure_passes
from nublet.core.planning.passes import in_seconds, last_of_step
from nublet.core.planning.spec import PlanSpec


def drawn_order(spec: PlanSpec, lot: int, item: str, panels: Sequence[int], seed: int) -> list[int]:
    """Panels of a board in the order in which they meet an exposure: drawn, the same whenever it is asked for.

    Parameters
    ----------
    spec : PlanSpec
    lot : int
        The board's.
    item : str
        The exposure's id.
    panels : sequence of int
        Of the lot.
    seed : int
    """
    names = {panel: _name(spec, lot, panel) for panel in range(len(spec.lots[lot]))}
    order = sorted(names, key=lambda panel: names[panel])
    random.Random(f"{seed}|{item}|{'|'.join(sorted(names.values()))}").shuffle(order)  # noqa: S311
    place = {panel: number for number, panel in enumerate(order)}
    return sorted(panels, key=lambda panel: place[panel])


def variants_of(
    spec: PlanSpec, lot: int, panels: Sequence[int], seed: int
) -> Iterator[tuple[str, list[tuple[ExposureWork, list[int]]]]]:
    """Each exposure of a board's panels by its id: its panels in their drawn order, those apart that go through other work.

    A scratch mended by each build-up's own family is one exposure and several works.
    """
    found: dict[str, dict[int, ExposureWork]] = {}
    for panel in panels:
        for exposure in spec.groups[spec.lots[lot][panel].group].exposures:
            found.setdefault(exposure.id, {})[panel] = exposure
    for item, works in found.items():
        alike: dict[ExposureWork, list[int]] = {}
        for panel in drawn_order(spec, lot, item, list(works), seed):
            alike.setdefault(works[panel], []).append(panel)
        yield item, list(alike.items())


def bundle_passes(
    spec: PlanSpec,
    lot: int,
    variants: Sequence[tuple[ExposureWork, Sequence[int]]],
    empty: Bench,
) -> list[Chain]:
    """A board's passes through one exposure, as few as go into one sitting; empty when there is no way.

    Their numbers, bundle and releases are for the caller to set.
    """
    most = max(len(panels) for _, panels in variants)
    for parts in range(1, most + 1):
        passes: list[Chain] = []
        for exposure, panels in variants:
            own = exposure_passes(spec, lot, exposure, panels, _fits(empty), parts=min(parts, len(panels)))
            if not own:
                return []
            passes += own
        numbered = [replace(chain, number=number, bundle=0) for number, chain in enumerate(passes)]
        if place_bundle(empty, numbered, 0) is not None:
            return passes
    return []


def _fits(empty: Bench) -> Callable[[Chain], bool]:
    return lambda chain: empty.place(replace(chain, bundle=0)) is not None


def place_bundle(bench: Bench, members: Sequence[Chain], not_before: int) -> list[list[Placed]] | None:
    """The earliest way found to fit a bundle in, nothing booked; ``None`` when there is none before the horizon.

    Each person is tried, sitting by sitting: the passes one after the other, each at its earliest; where they do not go into one
    sitting with their waits as they are wanted, with the least that is allowed.
    """
    best: list[list[Placed]] | None = None
    for person in range(len(bench.people)):
        found = _placed_by(bench, members, not_before, person)
        if found is not None and (best is None or found[0][0].start_s < best[0][0].start_s):
            best = found
    return best


def _placed_by(
    bench: Bench, members: Sequence[Chain], not_before: int, person: int
) -> list[list[Placed]] | None:
    low = not_before
    tight = [at_least(member) for member in members] if len(members) > 1 else []
    while True:
        placed = _one_after_the_other(bench, members, low, person)
        if not placed or len(placed) == len(members):
            return placed or None
        sitting = bench.sitting_of(person, placed[0][0].start_s)
        closer = _one_after_the_other(bench, tight, max(low, sitting[0]), person)
        if len(closer) == len(members) and closer[0][0].start_s < sitting[1]:
            return closer
        low = sitting[1]


def _one_after_the_other(bench: Bench, members: Sequence[Chain], low: int, person: int) -> list[list[Placed]]:
    """Where the members of a bundle fit behind each other, up to the first that does not; nothing stays booked."""
    placed: list[list[Placed]] = []
    for member in members:
        at = bench.place(member, low, only=person)
        if at is None:
            break
        bench.book(member, at)
        placed.append(at)
    for member, at in zip(members, placed, strict=False):
        bench.unbook(member, at)
    return placed


def released_by_board(
    spec: PlanSpec, lot: int, coats: Sequence[Chain], panels: Sequence[int]
) -> tuple[Release, ...]:
    """When a board may be exposed: once every one of its panels has cured, and the last of them is out of all hands.

    Parameters
    ----------
    spec : PlanSpec
    lot : int
    coats : sequence of Chain
        Of all groups.
    panels : sequence of int
        Of the lot: those that are waited for.
    """
    own: dict[int, set[int]] = {}
    for panel in panels:
        at = spec.lots[lot][panel]
        own.setdefault(at.group, set()).add(at.panel)
    releases = []
    for coat in coats:
        cure_s = in_seconds(spec.groups[coat.lot].cure_h * 60)
        cured, last = last_of_step(coat.blocks), len(coat.blocks) - 1
        for number, wait_s in {last: 0, cured: cure_s}.items():
            block = coat.blocks[number]
            ends = [
                block.end_of(position, 0)
                for position, panel in enumerate(block.panels)
                if panel in own.get(coat.lot, ())
            ]
            if ends:
                releases.append(Release(chain=coat.number, block=number, wait_s=max(ends) + wait_s))
    return tuple(releases)


def _name(spec: PlanSpec, lot: int, panel: int) -> str:
    at = spec.lots[lot][panel]
    return f"{spec.groups[at.group].id}\x1f{spec.groups[at.group].panels[at.panel]}"
