"""Several trials of one shop planned at once, none of them first because it was asked for first.

Each is planned round those before it. Which goes first decides whom the hands are left for, so that several orders are tried, each
with little time: the one with the least work first (which, with one pair of hands and no waits, makes the sum of the ends least:
Smith's rule of 1956), then by the ends that came of that, the soonest first and the latest first, and as they were given. The order
in which they end soonest altogether, by the sum of their ends, then the last of them, then with fewer sittings at the bench, is
planned once more with more time; and then each once more round all the others, while there is time. What is best by the same
measure is kept. One model of all the work at once was measured against this and ended no trial sooner: it minds the last end alone.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from nublet.core.bench.evenness import Closed
from nublet.core.bench.keys import DoneWork
from nublet.core.bench.replan import Replan, replan
from nublet.core.planning.bench import Bench
from nublet.core.planning.bound import hands_s
from nublet.core.planning.busy import busy_with
from nublet.core.planning.calendar import seconds_since, sitting_at
from nublet.core.planning.plan import NoPlan, Plan, Progress, make_plan, usual_limit_s
from nublet.core.planning.search import Clock
from nublet.core.planning.spec import Busy, PlanSpec

# For each that is planned at once, all its plans together; from now on the bench is waiting.
_MOST_S, _MOST_AGAIN_S, _LEAST_S = 12.0, 4.0, 0.3
_MOST_ORDERS, _FOR_ORDERS, _PATIENCE = 4, 0.4, 1.5


@dataclass(frozen=True, kw_only=True)
class Part:
    """One trial of several that are planned at once.

    Attributes
    ----------
    spec : PlanSpec
        What is asked of it, with what stands in plans of still other trials. All parts are of one shop.
    now_s : int or None
        From when on what is left is planned, seconds since its own start; ``None`` where all of it is planned.
    done : sequence of DoneWork
    closed : Closed
        Steps that are no work of a panel any more.
    """

    spec: PlanSpec
    now_s: int | None = None
    done: Sequence[DoneWork] = ()
    closed: Closed = field(default_factory=dict)


_Made = dict[int, Replan]
Tell = Callable[[Progress | None], bool]


def plan_jointly(
    parts: Sequence[Part], *, clock: Clock, limit_s: float | None = None, tell: Tell | None = None
) -> list[Replan | None]:
    """Plan several trials at once: each one's plan, in their order.

    Parameters
    ----------
    parts : sequence of Part
    clock : callable
        Seconds that only ever grow.
    limit_s : float or None
        Seconds for all of it; ``None`` for a time that grows with the work. A first plan of each is made in any case.
    tell : callable or None
        Told of the best so far, the last end since the earliest start, and ``None`` while there is none; answers whether to stop
        with it.

    Returns
    -------
    list of Replan or None
        Where one of them cannot be planned none is: its own part says why, and the others are ``None``.

    Notes
    -----
    Without a last day a trial can be planned round others whenever it can be alone: their work ends, and hours repeat weekly.
    """
    return _Joint(parts, clock, limit_s, tell).run()


class _Joint:
    def __init__(self, parts: Sequence[Part], clock: Clock, limit_s: float | None, tell: Tell | None) -> None:
        self.parts, self.clock, self.tell = parts, clock, tell
        start = min(part.spec.start for part in parts)
        self.later = [round(seconds_since(start, part.spec.start)) for part in parts]
        if limit_s is None:
            is_again = any(part.now_s is not None for part in parts)
            limit_s = len(parts) * (_MOST_AGAIN_S if is_again else _MOST_S)
        # First plans of much work take longer than their share: then fewer orders are tried.
        self.until = clock() + _PATIENCE * limit_s
        n_orders = min(math.factorial(len(parts)), _MOST_ORDERS)
        usual_s = [usual_limit_s(part.spec) for part in parts]
        self.first_s = _share(_FOR_ORDERS * limit_s / n_orders, usual_s)
        self.again_s = _share((1 - _FOR_ORDERS) * limit_s, usual_s)
        self.best: _Made | None = None
        self.worth = (0, 0, 0)
        self.is_stopped = False

    def run(self) -> list[Replan | None]:
        numbers = range(len(self.parts))
        by_work = sorted(numbers, key=lambda number: (_work_s(self.parts[number].spec), number))
        first = self._in_order(by_work, self.first_s)
        if self.best is None:
            return [first[n] if isinstance(first[n].plan, NoPlan) else None for n in numbers]
        soonest = sorted(numbers, key=lambda number: (self._end_s(number, first[number]), number))
        for order in dict.fromkeys(map(tuple, (soonest, soonest[::-1], numbers))):
            if order != tuple(by_work):
                self._in_order(order, self.first_s)
        self._in_order(tuple(self.best), self.again_s)
        self._polish()
        return [self.best[number] for number in numbers]

    @property
    def _is_over(self) -> bool:
        return self.best is not None and (self.is_stopped or self.clock() >= self.until)

    def _in_order(self, order: Sequence[int], limits_s: Sequence[float]) -> _Made:
        """Plan them one after the other, each round those before it; kept if all can be and it is the best so far."""
        made: _Made = {}
        for number in order:
            if self._is_over:
                return made
            made[number] = self._plan(number, made, limits_s[number])
        if all(isinstance(each.plan, Plan) for each in made.values()):
            self._keep(made)
        return made

    def _polish(self) -> None:
        """Plan each once more round all the others, the one that ends last first, while there is time."""
        best = self.best or {}
        for number in sorted(best, key=lambda n: -self._end_s(n, best[n])):
            if self._is_over:
                return
            others = {other: made for other, made in (self.best or {}).items() if other != number}
            again = self._plan(number, others, self.first_s[number])
            if isinstance(again.plan, Plan):
                self._keep({**others, number: again})

    def _plan(self, number: int, beside: _Made, limit_s: float) -> Replan:
        """One of them round others that are planned."""
        part = self.parts[number]
        busy = [
            busy_with(
                made.plan.spec,
                made.plan.operations,
                later_s=self.later[other] - self.later[number],
                done=self.parts[other].done,
                since_s=-math.inf if part.now_s is None else part.now_s,
            )
            for other, made in beside.items()
            if isinstance(made.plan, Plan)
        ]
        spec = replace(
            part.spec,
            busy=Busy(
                hands=tuple(taken for each in (part.spec.busy, *busy) for taken in each.hands),
                air=tuple(taken for each in (part.spec.busy, *busy) for taken in each.air),
            ),
        )
        if part.now_s is None:
            made = make_plan(spec, clock=self.clock, limit_s=limit_s, tell=self._told)
            found = Replan(plan=made, findings=(), late=(), left_out=())
        else:
            found = replan(
                spec,
                part.done,
                part.now_s,
                clock=self.clock,
                limit_s=limit_s,
                tell=self._told,
                closed=part.closed,
            )
        # What it was planned round is nothing that it is asked for.
        return replace(found, plan=replace(found.plan, spec=part.spec))

    def _told(self, _: Progress) -> bool:
        """Told by each search: answers whether to stop, which is for nothing before there is a plan of all."""
        if self.tell is not None:
            end_s, n_sittings = self.worth[1:]
            so_far = Progress(end_s=end_s, lower_bound_s=0, n_sittings=n_sittings)
            self.is_stopped |= self.tell(None if self.best is None else so_far)
        return self.is_stopped and self.best is not None

    def _keep(self, made: _Made) -> None:
        """Keep what is better than the best so far: a smaller sum of the ends, the last of them, and sittings that they come to."""
        ends = [self._end_s(number, each) for number, each in made.items()]
        first = min(self.parts, key=lambda part: part.spec.start)
        sittings = Bench(first.spec, max(1, *ends)).sittings
        used = {
            sitting_at(sittings, operation.start_s + self.later[number])
            for number, each in made.items()
            if isinstance(each.plan, Plan)
            for operation in each.plan.operations
        }
        worth = sum(ends), max(ends), len(used)
        if self.best is None or worth < self.worth:
            self.best, self.worth = made, worth

    def _end_s(self, number: int, made: Replan) -> int:
        """When its last work ends, seconds since the earliest start of all."""
        return (made.plan.end_s if isinstance(made.plan, Plan) else 0) + self.later[number]


def _work_s(spec: PlanSpec) -> int:
    """Seconds that hands are at a trial's work, as it is asked for."""
    return sum(len(group.panels) * hands_s(group) for group in spec.groups)


def _share(limit_s: float, usual_s: Sequence[float]) -> list[float]:
    """Seconds for each of some plans, out of so many for all, no more than each would take alone."""
    return [min(each, max(_LEAST_S, limit_s / len(usual_s))) for each in usual_s]
