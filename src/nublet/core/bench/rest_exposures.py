"""What is left of exposures once some of their acts were done, as chains."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from functools import partial

from nublet.core.bench.keys import DoneBook
from nublet.core.planning.chains import FOREVER, Block, Chain, Occupation
from nublet.core.planning.construct import Obstacle
from nublet.core.planning.exposure_rest import rest_parts
from nublet.core.planning.exposures import exposure_passes, most_together
from nublet.core.planning.passes import in_seconds, released_by
from nublet.core.planning.spec import ExposureWork, LookTime, PanelGroup, PlanSpec

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
        group=number,
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
    """Makes the chains of what is left of exposures.

    ``fits`` tells whether a chain finds room on an empty bench; ``obstacles`` gathers what does not.
    """

    spec: PlanSpec
    done: DoneBook
    now_s: int
    lost: Lost
    fits: Callable[[Chain], bool]
    obstacles: list[Obstacle] = field(default_factory=list)

    def chains(
        self,
        number: int,
        group: PanelGroup,
        exposure: ExposureWork,
        panels: Sequence[int],
        coats: Sequence[Chain],
    ) -> Iterator[Chain]:
        """Chains of what is left of an exposure on some panels, by how far each has come; fresh ones wait for ``coats``."""
        far: dict[int, list[int]] = {}
        for panel in panels:
            far.setdefault(self.done.n_acts(group.id, group.panels[panel], exposure), []).append(panel)
        fresh = far.pop(0, [])
        if fresh:
            passes = exposure_passes(self.spec, number, exposure, fresh, lambda chain: self.fits(chain))
            if not passes:
                self.obstacles.append(Obstacle(number, group.exposures.index(exposure)))
            for chain in passes:
                yield self._released(chain, group, coats)
        for n_done, begun in sorted(far.items()):
            if n_done < len(exposure.chain):
                yield from self._acts_left(number, group, exposure, n_done, begun)
                continue
            for look in exposure.looks:
                if _anchor(exposure, look) == n_done:
                    one = replace(exposure, looks=(look,))
                    seen = [p for p in begun if self._is_to_come(group, p, exposure, look)]
                    yield from by_size(seen, partial(self._part, number, group, one, n_done, 0))

    def _acts_left(
        self, number: int, group: PanelGroup, exposure: ExposureWork, n_done: int, panels: Sequence[int]
    ) -> Iterator[Chain]:
        """The acts that come next, and the looks before and between them, for panels that have come equally far."""
        alike: dict[tuple[LookTime, ...], list[int]] = {}
        for panel in panels:
            looks = tuple(
                look
                for look in exposure.looks
                if _anchor(exposure, look) > n_done
                or (_anchor(exposure, look) == n_done and self._is_to_come(group, panel, exposure, look))
            )
            alike.setdefault(looks, []).append(panel)
        for looks, own in alike.items():
            one = replace(exposure, looks=looks)
            parts = rest_parts(one, n_done, own[:1], begins_s=self.now_s)
            most = most_together(self.spec, exposure.chain[n_done:], len(own))
            for part in range(len(parts or ())):
                yield from by_size(own, partial(self._part, number, group, one, n_done, part), most=most)

    def _is_to_come(self, group: PanelGroup, panel: int, exposure: ExposureWork, look: LookTime) -> bool:
        name = group.panels[panel]
        return (
            self.done.of_look(group.id, name, exposure.id, look) is None
            and (group.id, name, exposure.id, look.after, look.after_min) not in self.lost
        )

    def _part(
        self,
        number: int,
        group: PanelGroup,
        exposure: ExposureWork,
        n_done: int,
        part: int,
        panels: tuple[int, ...],
    ) -> Chain | None:
        """One part of what is left of an exposure, held in its window after the last act that was done."""
        act = exposure.chain[n_done - 1]
        works = [self.done.of_act(group.id, group.panels[p], exposure.id, act) for p in panels]
        done = [work for work in works if work is not None]
        parts = rest_parts(exposure, n_done, panels, begins_s=min(int(work.start_s) for work in done))
        if parts is None or part >= len(parts):
            return None
        found = parts[part]
        high_s = FOREVER if found.high_s is None else found.high_s
        anchors = [work.end_s for work in done]
        return bounded(
            number, found.blocks, found.occupations, anchors, found.low_s, high_s, now_s=self.now_s
        )

    def _released(self, chain: Chain, group: PanelGroup, coats: Sequence[Chain]) -> Chain:
        """An exposure's pass held back until its panels have cured, those that are coated already among them."""
        cure_s = in_seconds(group.cure_h * 60)
        pending = [coat for coat in coats if any(block.kind in ("coat", "wipe") for block in coat.blocks)]
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


def _anchor(exposure: ExposureWork, look: LookTime) -> int:
    """After how many acts a look comes."""
    ids = [act.id for act in exposure.chain]
    return ids.index(look.after) + 1 if look.after in ids else len(ids)
