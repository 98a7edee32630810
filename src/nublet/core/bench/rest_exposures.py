"""What is left of exposures once some of their acts were done, as chains."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

from nublet.core.bench.keys import DoneBook
from nublet.core.planning.bench import Bench
from nublet.core.planning.chains import FOREVER, STEP_ENDS, Block, Chain, Occupation, Release
from nublet.core.planning.construct import Obstacle, bundle_obstacle
from nublet.core.planning.exposure_rest import rest_parts
from nublet.core.planning.exposure_work import ExposureWork, LookTime
from nublet.core.planning.exposures import exposure_passes, most_together
from nublet.core.planning.passes import in_seconds, released_by
from nublet.core.planning.spec import PlanSpec
from nublet.core.planning.together import bundle_passes, released_by_board, variants_of

# Looks that cannot be had any more, by group, panel, exposure, act and time.
Lost = set[tuple[str, str, str, str, float | None]]


def bounded(
    number: int,
    blocks: Sequence[Block],
    occupations: Sequence[Occupation],
    anchors: Sequence[float],
    low_s: int,
    high_s: int,
    *,
    now_s: int,
) -> Chain | None:
    """The chain with its first block held in the window of each panel; ``None`` when no moment suits them all."""
    pace = blocks[0].pace_s
    begins = max(anchor + low_s - i * pace for i, anchor in enumerate(anchors))
    ends = min(anchor + high_s - i * pace for i, anchor in enumerate(anchors))
    if ends < begins and len(anchors) > 1:
        return None
    # A window that has closed stands open: the work is late already, and is done as soon as it can be.
    is_overdue = high_s < FOREVER and ends < max(begins, now_s)
    return Chain(
        number=-1,
        lot=number,
        blocks=tuple(blocks),
        occupations=tuple(occupations),
        not_before_s=int(-(-begins // 1)),
        not_after_s=FOREVER if high_s >= FOREVER or is_overdue else int(ends),
        is_overdue=is_overdue,
    )


def by_size(
    panels: Sequence[int],
    make: Callable[[tuple[int, ...]], Chain | None],
    *,
    most: int | None = None,
) -> list[Chain]:
    """Chains for panels that have come equally far, as large as their moments allow, of at most so many."""
    chains: list[Chain] = []
    left = list(panels)
    while left:
        for size in range(min(len(left), len(left) if most is None else max(1, most)), 0, -1):
            chain = make(tuple(left[:size]))
            if chain is not None:
                chains.append(chain)
                left = left[size:]
                break
        else:
            break
    return chains


@dataclass(kw_only=True)
class ExposuresLeft:
    """Makes the chains of what is left of exposures. ``obstacles`` gathers what finds no room on the ``empty`` bench.

    Panels are numbered within their lot: a group, or a board whose panels are exposed together.
    """

    spec: PlanSpec
    done: DoneBook
    now_s: int
    lost: Lost
    empty: Bench
    obstacles: list[Obstacle] = field(default_factory=list)

    def of_group(
        self, lot: int, exposure: ExposureWork, panels: Sequence[int], coats: Sequence[Chain]
    ) -> Iterator[Chain]:
        """Chains of what is left of an exposure on some panels of a group; fresh ones wait for their own ``coats``."""
        fresh, begun = self._by_standing(lot, exposure, panels)
        if fresh:
            passes = exposure_passes(
                self.spec, lot, exposure, fresh, lambda chain: self.empty.place(chain) is not None
            )
            if not passes:
                self.obstacles.append(Obstacle(lot, self.spec.groups[lot].exposures.index(exposure)))
            yield from (self._released(chain, coats) for chain in passes)
        yield from self._begun(lot, exposure, begun)

    def of_board(
        self, lot: int, panels: Sequence[int], coats: Sequence[Chain], bundle: int
    ) -> Iterator[Chain]:
        """Chains of what is left of all exposures of a board; fresh ones go together, once all of its panels have cured.

        Parameters
        ----------
        lot : int
        panels : sequence of int
            Those that count.
        coats : sequence of Chain
            Of all groups.
        bundle : int
            A number for the first bundle; others follow.
        """
        releases, not_before_s = self._board_cured(lot, panels, coats)
        for _, variants in variants_of(self.spec, lot, panels, 0):
            fresh: list[tuple[ExposureWork, list[int]]] = []
            for exposure, own in variants:
                untouched, begun = self._by_standing(lot, exposure, own)
                fresh += [(exposure, untouched)] if untouched else []
                yield from self._begun(lot, exposure, begun)
            if not fresh:
                continue
            passes = bundle_passes(self.spec, lot, fresh, self.empty)
            if not passes:
                self.obstacles.append(bundle_obstacle(self.spec, lot, fresh, self.empty))
            for chain in passes:
                yield replace(chain, bundle=bundle, releases=releases, not_before_s=not_before_s)
            bundle += 1

    def _by_standing(
        self, lot: int, exposure: ExposureWork, panels: Sequence[int]
    ) -> tuple[list[int], dict[int, list[int]]]:
        """The panels that are not begun, and the others by how many acts are done."""
        far: dict[int, list[int]] = {}
        for panel in panels:
            far.setdefault(self.done.n_acts(*self._name(lot, panel), exposure), []).append(panel)
        return far.pop(0, []), far

    def _begun(
        self, lot: int, exposure: ExposureWork, by_acts: Mapping[int, Sequence[int]]
    ) -> Iterator[Chain]:
        for n_done, begun in sorted(by_acts.items()):
            if n_done < len(exposure.chain):
                yield from self._acts_left(lot, exposure, n_done, begun)
                continue
            for look in exposure.looks:
                if _anchor(exposure, look) == n_done:
                    one = replace(exposure, looks=(look,))
                    seen = [panel for panel in begun if self._is_to_come(lot, panel, exposure, look)]
                    yield from by_size(seen, partial(self._part, lot, one, n_done, 0))

    def _acts_left(
        self, lot: int, exposure: ExposureWork, n_done: int, panels: Sequence[int]
    ) -> Iterator[Chain]:
        """The acts that come next, and the looks before and between them, for panels that have come equally far."""
        alike: dict[tuple[LookTime, ...], list[int]] = {}
        for panel in panels:
            looks = tuple(
                look
                for look in exposure.looks
                if _anchor(exposure, look) > n_done
                or (_anchor(exposure, look) == n_done and self._is_to_come(lot, panel, exposure, look))
            )
            alike.setdefault(looks, []).append(panel)
        for looks, own in alike.items():
            one = replace(exposure, looks=looks)
            parts = rest_parts(one, n_done, own[:1], begins_s=self.now_s)
            most = most_together(self.spec, exposure.chain[n_done:], len(own))
            for part in range(len(parts or ())):
                yield from by_size(own, partial(self._part, lot, one, n_done, part), most=most)

    def _name(self, lot: int, panel: int) -> tuple[str, str]:
        at = self.spec.lots[lot][panel]
        return self.spec.groups[at.group].id, self.spec.groups[at.group].panels[at.panel]

    def _is_to_come(self, lot: int, panel: int, exposure: ExposureWork, look: LookTime) -> bool:
        name = self._name(lot, panel)
        return (
            self.done.of_look(*name, exposure.id, look) is None
            and (*name, exposure.id, look.after, look.after_min) not in self.lost
        )

    def _part(
        self, lot: int, exposure: ExposureWork, n_done: int, part: int, panels: tuple[int, ...]
    ) -> Chain | None:
        """One part of what is left of an exposure, held in its window after the last act that was done."""
        act = exposure.chain[n_done - 1]
        works = [self.done.of_act(*self._name(lot, panel), exposure.id, act) for panel in panels]
        done = [work for work in works if work is not None]
        parts = rest_parts(exposure, n_done, panels, begins_s=min(int(work.start_s) for work in done))
        if parts is None or part >= len(parts):
            return None
        found = parts[part]
        high_s = FOREVER if found.high_s is None else found.high_s
        anchors = [work.end_s for work in done]
        return bounded(lot, found.blocks, found.occupations, anchors, found.low_s, high_s, now_s=self.now_s)

    def _released(self, chain: Chain, coats: Sequence[Chain]) -> Chain:
        """An exposure's pass held back until its panels have cured, those that are coated already among them."""
        group = self.spec.groups[chain.lot]
        cure_s = in_seconds(group.cure_h * 60)
        pending = _coating(coats)
        still = {panel for coat in pending for panel in coat.blocks[0].panels}
        cured = [
            self.done.coated_s(group, group.panels[panel]) + cure_s - position * chain.blocks[0].pace_s
            for position, panel in enumerate(chain.blocks[0].panels)
            if group.steps and panel not in still
        ]
        return replace(
            chain,
            releases=released_by(chain, pending, cure_s),
            not_before_s=max(0, *[int(-(-second // 1)) for second in cured], 0),
        )

    def _board_cured(
        self, lot: int, panels: Sequence[int], coats: Sequence[Chain]
    ) -> tuple[tuple[Release, ...], int]:
        """The coats that a board still waits for, and when what is coated of it has cured."""
        pending = _coating(coats)
        still = {(coat.lot, panel) for coat in pending for panel in coat.blocks[0].panels}
        cured_s = [0]
        for panel in panels:
            at = self.spec.lots[lot][panel]
            group = self.spec.groups[at.group]
            if group.steps and at not in still:
                coated_s = self.done.coated_s(group, group.panels[at.panel])
                cured_s.append(int(-(-coated_s // 1)) + in_seconds(group.cure_h * 60))
        return released_by_board(self.spec, lot, pending, panels), max(cured_s)


def _coating(chains: Sequence[Chain]) -> list[Chain]:
    return [chain for chain in chains if any(block.kind in STEP_ENDS for block in chain.blocks)]


def _anchor(exposure: ExposureWork, look: LookTime) -> int:
    """After how many acts a look comes."""
    ids = [act.id for act in exposure.chain]
    return ids.index(look.after) + 1 if look.after in ids else len(ids)
