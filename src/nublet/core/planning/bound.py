"""The earliest end that any plan could have, whatever its passes: what a plan's own end is judged by.

Two relaxations, of which the later end counts.

*One panel alone*: each group's first panel with the bench to itself, every wait at its least.

*All panels as a flow*: time is cut into slots of working time, and of each exposure's layings, lifts and looks only the
number begun by the end of each slot is kept, as a real number. It must not outrun the panels that can have cured by then, nor
the laying it follows; it must not fall behind what its window forces; and the hands and the heat blocks of each working span
must suffice for what begins in it. Whether all can be begun by the end of some slot is a linear programme; the first slot for
which it is feasible is found by bisection. Passes, hazards, clean-up and rack are left out, all of which can only make a plan
end later.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence
from dataclasses import replace

from nublet.core.planning.bench import Bench
from nublet.core.planning.chains import Block, Chain, Placed, at_least
from nublet.core.planning.construct import Placement, Work, released_at, trial_horizon
from nublet.core.planning.exposures import exposure_chain
from nublet.core.planning.flow import Flow
from nublet.core.planning.passes import coat_chain, in_seconds, last_of_step
from nublet.core.planning.spec import PanelGroup, PlanSpec

MOST_OF_A_QUESTION_MS = 2000


def earliest_end(spec: PlanSpec, horizon_s: int, question_ms: int = MOST_OF_A_QUESTION_MS) -> int:
    """A second before which no plan can end.

    Parameters
    ----------
    spec : PlanSpec
        Every panel's work must fit an empty bench.
    horizon_s : int
        The end of a plan that is known; the bound is never later.
    question_ms : int
        Milliseconds after which a linear programme is left unanswered, which can only make the bound earlier.
    """
    bound = _Bound(spec, horizon_s, question_ms)
    return min(horizon_s, max(bound.of_one_panel(), bound.of_hands(), bound.of_the_flow()))


def earliest_end_of_chains(work: Work, now_s: int) -> int:
    """A second before which chains that are split already cannot end: each alone on an empty bench, from now on."""
    bench = Bench(work.spec, now_s + 2 * trial_horizon(work.spec))
    ends = [now_s]
    placement: Placement = {}
    for chain in sorted(work.chains, key=lambda chain: bool(chain.releases)):
        alone = replace(at_least(chain), releases=())
        known = all(release.chain in placement for release in chain.releases)
        placed = bench.place(alone, released_at(chain, placement) if known else now_s)
        if placed is not None:
            placement[chain.number] = placed
            ends.append(_end_of(chain.blocks, placed))
    return max(ends)


class _Bound:
    def __init__(self, spec: PlanSpec, horizon_s: int, question_ms: int) -> None:
        self.spec = spec
        self.question_ms = question_ms
        self.horizon_s = horizon_s
        self.empty = Bench(spec, horizon_s + 1)
        # Working seconds of all hands before each edge of a span.
        edges = sorted({edge for person in self.empty.people for span in person.spans for edge in span})
        self.edges = edges
        self.n_hands = [
            sum(any(a <= edge < b for a, b in person.spans) for person in self.empty.people) for edge in edges
        ]
        self.done = [0]
        for number in range(1, len(edges)):
            self.done.append(self.done[-1] + self.n_hands[number - 1] * (edges[number] - edges[number - 1]))

    def of_one_panel(self) -> int:
        """The latest end of the single chains."""
        ends = [0]
        for number, group in enumerate(self.spec.groups):
            own = self._release(number, 0)
            ends.append(own - in_seconds(group.cure_h * 60) if group.steps else 0)
            # Exposed together, each of its panels waits for the whole board.
            beside = self.beside(number)
            released = max([own, *(self._release(other, 0) for other in beside)])
            for exposure in group.exposures:
                # A look at a time, so that none is in another's way.
                for look in exposure.looks or (None,):
                    one = replace(exposure, looks=() if look is None else (look,))
                    chain = exposure_chain(number, one, (0,), is_loose=True)
                    ends.append(self.horizon_s if chain is None else self._end(at_least(chain), released))
        return max(ends)

    def of_hands(self) -> int:
        """When so many hands can have done all the work there is."""
        work = sum(len(group.panels) * hands_s(group) for group in self.spec.groups)
        return self._when_done(work)

    def of_the_flow(self) -> int:
        """The first slot by whose end all exposures can have been begun, as its start."""
        if not any(group.exposures for group in self.spec.groups):
            return 0
        flow = Flow(self.spec, self.empty, self.releases, question_ms=self.question_ms)
        low, high = min(len(flow.slots) - 1, bisect_left(flow.ends, self.of_one_panel())), len(flow.slots) - 1
        # Most often a single panel's waits hold a plan up more than all panels' work does, and one question tells.
        if flow.is_shown_feasible(low):
            return flow.slots[low][0]
        # The plan that is known ends in the last slot, so that one is feasible.
        while low < high:
            middle = (low + high) // 2
            if flow.is_shown_infeasible(middle):
                low = middle + 1
            else:
                high = middle
        return flow.slots[low][0]

    def releases(self, members: Sequence[int]) -> list[int]:
        """Seconds before which fewer than 1, 2, 3 ... of the groups' panels can have been coated and cured.

        The first j panels to be ready have had all their coating, and their first coats, done by hands that work no faster
        than they can; and the one of them whose first coat came last still had its own waits before it.
        """
        if self.spec.is_together:
            return self._board_releases(members)
        works, firsts = [], []
        for number in members:
            group = self.spec.groups[number]
            works += [_coating(group)] * len(group.panels)
            firsts += [_first_coat(group)] * len(group.panels)
        return self._one_by_one(sorted(works), sorted(firsts), members, max(firsts))

    def _board_releases(self, members: Sequence[int]) -> list[int]:
        """The same where a board's panels wait for each other: the boards one by one, the fullest first."""
        boards = [panels for panels in self.spec.boards.values() if any(at.group in members for at in panels)]
        works = sorted(sum(_coating(self.spec.groups[at.group]) for at in panels) for panels in boards)
        firsts = sorted(sum(_first_coat(self.spec.groups[at.group]) for at in panels) for panels in boards)
        groups = sorted({at.group for panels in boards for at in panels})
        each = max(_first_coat(self.spec.groups[number]) for number in groups)
        coated = [number for number in groups if self.spec.groups[number].steps]
        by_board = self._one_by_one(works, firsts, coated, each) if coated else [0] * len(boards)
        alone = sorted(max(self._release(at.group, 0) for at in panels) for panels in boards)
        counts = sorted((sum(at.group in members for at in panels) for panels in boards), reverse=True)
        return [
            max(released, own)
            for released, own, count in zip(by_board, alone, counts, strict=True)
            for _ in range(count)
        ]

    def _one_by_one(
        self, works: Sequence[int], firsts: Sequence[int], members: Sequence[int], longest_first: int
    ) -> list[int]:
        cure_s = min(in_seconds(self.spec.groups[number].cure_h * 60) for number in members)
        kinds = {self._kind(number): number for number in members}
        found, total, first_total = [], 0, 0
        for work, first in zip(works, firsts, strict=True):
            total += work
            first_total += first
            from_s = max(0, self._when_done(first_total) - longest_first)
            by_chain = min(self._release(number, from_s) for number in kinds.values())
            found.append(max(by_chain, self._when_done(total) + cure_s if total else 0))
        return found

    def beside(self, number: int) -> set[int]:
        """Groups that have a panel on a board of a group's, itself among them; none where boards are not exposed together."""
        if not self.spec.is_together:
            return set()
        boards = set(self.spec.groups[number].boards)
        return {at.group for board in boards for at in self.spec.boards[board]}

    def _kind(self, number: int) -> object:
        return replace(self.spec.groups[number], id="", panels=("",), exposures=())

    def _release(self, number: int, from_s: int) -> int:
        """When one panel of a group, first coated no earlier than ``from_s``, can have cured."""
        group = self.spec.groups[number]
        if not group.steps:
            return 0
        chain = at_least(_loosened(coat_chain(self.spec, number, (0,)), group))
        placed = self.empty.place(chain, from_s)
        if placed is None:
            return self.horizon_s
        end = last_of_step(chain.blocks)
        return placed[end].start_s + chain.blocks[end].length_s + in_seconds(group.cure_h * 60)

    def _end(self, chain: Chain, from_s: int) -> int:
        placed = self.empty.place(chain, from_s)
        return self.horizon_s if placed is None else _end_of(chain.blocks, placed)

    def _when_done(self, work_s: int) -> int:
        """When all hands together can have worked so many seconds."""
        number = bisect_left(self.done, work_s)
        if number == 0:
            return 0
        if number == len(self.done):
            return self.horizon_s
        return self.edges[number] - (self.done[number] - work_s) // max(1, self.n_hands[number - 1])


def _loosened(chain: Chain, group: PanelGroup) -> Chain:
    """The chain with recoat windows as wide as they can be read."""
    widest = max(
        (in_seconds(s.wipe.to_min + s.wipe.minutes_per_panel) for s in group.steps if s.wipe), default=0
    )
    return replace(
        chain,
        blocks=tuple(
            replace(block, latest_s=block.latest_s + widest + 7200)
            if block.kind in ("work", "coat", "abrade", "weigh")
            else block
            for block in chain.blocks
        ),
        occupations=(),
    )


def _end_of(blocks: Sequence[Block], placed: Sequence[Placed]) -> int:
    return max(at.start_s + block.length_s for block, at in zip(blocks, placed, strict=True))


def _coating(group: PanelGroup) -> int:
    """Hands-on seconds to coat one panel of a group."""
    total = 0.0
    for step in group.steps:
        total += step.minutes_per_panel + step.abrade_minutes_per_panel + 2 * step.weigh_minutes_per_panel
        total += step.wipe.minutes_per_panel if step.wipe else 0
    return int(total * 60)


def _first_coat(group: PanelGroup) -> int:
    return _coating(replace(group, steps=group.steps[:1]))


def hands_s(group: PanelGroup) -> int:
    """Seconds that hands are at the work of one panel of a group."""
    total = _coating(group)
    for exposure in group.exposures:
        total += int(exposure.hands_min * 60)
    return total
