"""All panels' exposures as a flow through slots of working time: a linear programme that no plan can beat."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from ortools.linear_solver import pywraplp

from nublet.core.planning.bench import Bench
from nublet.core.planning.calendar import Span
from nublet.core.planning.chains import FOREVER
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.exposures import exposure_chain
from nublet.core.planning.spec import PlanSpec

_SLOT_S = 3600
_MOST_SLOTS = 600


@dataclass(frozen=True)
class _Stage:
    """One kind of work of an exposure: how long it takes, and its least and greatest wait behind its parent's start."""

    unit_s: int
    parent: int | None
    wait_s: int
    latest_s: int


class Flow:
    """The linear programme; ``slots`` are its slots of working time."""

    def __init__(
        self,
        spec: PlanSpec,
        empty: Bench,
        releases: Callable[[Sequence[int]], list[int]],
        *,
        question_ms: int,
    ) -> None:
        self.spec, self.empty = spec, empty
        spans = empty.spans
        total = sum(b - a for a, b in spans)
        slot_s = max(_SLOT_S, total // _MOST_SLOTS)
        self.slots: list[Span] = []
        self.span_of: list[int] = []
        for number, (begins, ends) in enumerate(spans):
            n_parts = max(1, round((ends - begins) / slot_s))
            cuts = [begins + (ends - begins) * i // n_parts for i in range(n_parts + 1)]
            self.slots += list(pairwise(cuts))
            self.span_of += [number] * n_parts
        self.starts = [slot[0] for slot in self.slots]
        self.ends = [slot[1] for slot in self.slots]
        members: dict[ExposureWork, list[int]] = {}
        for number, group in enumerate(spec.groups):
            for exposure in group.exposures:
                members.setdefault(exposure, []).append(number)
        self.exposures = list(members)
        self.stages = [_stages(exposure) for exposure in self.exposures]
        pools: dict[tuple[int, ...], list[int]] = {}
        self.releases = []
        for numbers in members.values():
            key = tuple(numbers)
            if key not in pools:
                pools[key] = releases(key)
            self.releases.append(pools[key])
        on_board = [
            [n for panels in spec.boards.values() if (n := sum(at.group in numbers for at in panels))]
            for numbers in members.values()
        ]
        self.most_on_board = [max(counts, default=1) for counts in on_board]
        self.least_on_board = [min(counts, default=1) for counts in on_board]
        self.columns = [(e, stage) for e, stages in enumerate(self.stages) for stage in range(len(stages))]
        self.programme = pywraplp.Solver.CreateSolver("GLOP")
        # Each question differs from the last in bounds alone, from which the dual simplex goes on.
        self.programme.SetSolverSpecificParametersAsString("use_dual_simplex: true")
        self.programme.SetTimeLimit(question_ms)
        self.begun = {column: self._begun(*column) for column in self.columns}
        for e, stage in self.columns:
            found = self.stages[e][stage]
            if found.parent is not None:
                self._follow(self.begun[e, found.parent], self.begun[e, stage], found)
        self._hold_hands()
        self._hold_heat()

    def is_shown_feasible(self, last: int) -> bool:
        """Whether it is proved that all can be begun by the end of slot ``last``."""
        return self._answer(last) in (pywraplp.Solver.OPTIMAL, pywraplp.Solver.FEASIBLE)

    def is_shown_infeasible(self, last: int) -> bool:
        """Whether it is proved that they cannot: only that moves the bound."""
        return bool(self._answer(last) == pywraplp.Solver.INFEASIBLE)

    def _answer(self, last: int) -> int:
        for (e, _), variables in self.begun.items():
            total = len(self.releases[e])
            if variables[last].ub() < total:
                return int(pywraplp.Solver.INFEASIBLE)
            for slot, variable in enumerate(variables):
                variable.SetLb(total if slot >= last else 0)
        return int(self.programme.Solve())

    def _begun(self, e: int, stage: int) -> list[Any]:
        """How many of a stage are begun by the end of each slot: never fewer than before."""
        total = len(self.releases[e])
        variables = []
        for slot, end in enumerate(self.ends):
            most = bisect_left(self.releases[e], end) if stage == 0 else total
            variables.append(self.programme.NumVar(0, most, ""))
            if slot:
                self._row([(variables[slot - 1], 1), (variables[slot], -1)], 0)
        return variables

    def _row(self, terms: Sequence[tuple[Any, float]], most: float) -> None:
        row = self.programme.Constraint(-self.programme.infinity(), most)
        for variable, factor in terms:
            row.SetCoefficient(variable, factor)

    def _follow(self, parents: Sequence[Any], children: Sequence[Any], stage: _Stage) -> None:
        """What began by the end of a slot followed what began early enough, and is followed in time."""
        last = len(self.slots) - 1
        for slot, end in enumerate(self.ends):
            # Children begun before the end of this slot: their parents began at least a wait earlier.
            newest = bisect_left(self.starts, end - stage.wait_s) - 1
            parent = [(parents[newest], -1)] if newest >= 0 else []
            self._row([(children[slot], 1), *parent], 0)
            if stage.latest_s < FOREVER:
                # Parents begun before the end of this slot: their children begin in slots that open by then.
                latest = bisect_right(self.starts, end + stage.latest_s) - 1
                if latest < last:
                    self._row([(parents[slot], 1), (children[latest], -1)], 0)

    def _hold_hands(self) -> None:
        """What begins in a working span up to some slot of it takes no more than the hands have had."""
        longest = max(stage.unit_s for stages in self.stages for stage in stages)
        hands = len(self.spec.people)
        for slot, (opens, is_last) in enumerate(self._spans()):
            terms = [
                term
                for column in self.columns
                for term in self._in_span(column, opens, slot, self.stages[column[0]][column[1]].unit_s)
            ]
            room = self._capacity(self.starts[opens], self.ends[slot])
            self._row(terms, room + (0 if is_last else hands * longest))

    def _hold_heat(self) -> None:
        """What is laid hot in a working span holds its block until it is lifted there."""
        blocks = self.spec.heat_blocks
        spans = self.empty.spans
        shortest_gap = min((b - a for (_, a), (b, _) in pairwise(spans)), default=FOREVER)
        # What can lie on into the next span does not end in this one.
        hot = [
            (e, act, self.stages[e][act + 1])
            for e, exposure in enumerate(self.exposures)
            for act, held in enumerate(exposure.chain[:-1])
            if held.occupies == "heat_block"
            and self.stages[e][act + 1].latest_s - self.stages[e][act].unit_s < shortest_gap
        ]
        for slot, (opens, is_last) in enumerate(self._spans()):
            if is_last and hot:
                terms = [
                    term
                    for e, act, following in hot
                    for term in self._in_span((e, act), opens, slot, following.wait_s + following.unit_s)
                ]
                seconds = blocks * (self.ends[slot] - self.starts[opens])
                self._row(terms, seconds)
                if self.spec.is_together:
                    self._hold_bundles(hot, opens, slot, seconds)

    def _hold_bundles(
        self, hot: Sequence[tuple[int, int, _Stage]], opens: int, slot: int, seconds: int
    ) -> None:
        """A board is begun in one sitting or another, whole: no more of them in a span than have their hours of the blocks there."""
        fullest = max(self.most_on_board[e] for e, _, _ in hot)
        least = min(self.least_on_board[e] * (following.wait_s + following.unit_s) for e, _, following in hot)
        terms = [
            term for e, act, _ in hot if act == 0 for term in self._in_span((e, 0), opens, slot, 1 / fullest)
        ]
        if terms:
            self._row(terms, seconds // max(1, least))

    def _in_span(
        self, column: tuple[int, int], opens: int, slot: int, each_s: float
    ) -> list[tuple[Any, float]]:
        """Terms for what of a stage begins from slot ``opens`` to ``slot``, times the seconds that each takes."""
        variables = self.begun[column]
        return [(variables[slot], each_s), *([(variables[opens - 1], -each_s)] if opens else [])]

    def _spans(self) -> Iterator[tuple[int, bool]]:
        """For each slot the first slot of its working span, and whether it is the span's last."""
        opens = 0
        for slot, span in enumerate(self.span_of):
            if slot and self.span_of[slot - 1] != span:
                opens = slot
            yield opens, slot + 1 == len(self.slots) or self.span_of[slot + 1] != span

    def _capacity(self, begins: int, ends: int) -> float:
        return float(
            sum(max(0, min(b, ends) - max(a, begins)) for p in self.empty.people for a, b in p.spans)
        )


def _stages(exposure: ExposureWork) -> list[_Stage]:
    chain = exposure_chain(0, exposure, (0,), is_loose=True)
    if chain is None:
        return []
    return [_Stage(b.unit_s, b.parent, b.wait_s, b.latest_s) for b in chain.blocks]
