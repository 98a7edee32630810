"""Several trials of one shop planned at once, none of them first because it was asked for first.

Each is planned round the others. Which goes first decides whom the hands are left for, so that several orders are tried: the
one that ends soonest alone first, the one that ends latest first, and as they were given. That order is kept in which they end
soonest altogether, by the sum of their ends, then with fewer sittings at the bench. Then each is planned once more round all the
others, and moves where it ends sooner by it. One model of all the work at once was measured against this and ended no trial
sooner: it minds the last end alone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from nublet.core.bench.evenness import Closed
from nublet.core.bench.keys import DoneWork
from nublet.core.bench.replan import Replan, replan
from nublet.core.planning.bench import Bench
from nublet.core.planning.busy import busy_with
from nublet.core.planning.calendar import seconds_since, sitting_at
from nublet.core.planning.plan import NoPlan, Plan, Progress, make_plan, usual_limit_s
from nublet.core.planning.search import Clock
from nublet.core.planning.spec import Busy, PlanSpec

# For all that is planned at once; from now on the bench is waiting.
_MOST_S, _MOST_AGAIN_S, _LEAST_S = 24.0, 8.0, 0.3


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
        n = len(parts)
        # Each alone, three orders but for their first, and each once more.
        n_solved = 2 * n + 3 * (n - 1)
        most_s = _MOST_AGAIN_S if any(part.now_s is not None for part in parts) else _MOST_S
        self.each_s = [
            min(usual_limit_s(part.spec), max(_LEAST_S, most_s / n_solved))
            if limit_s is None
            else limit_s / n_solved
            for part in parts
        ]
        self.best: _Made | None = None
        self.worth = (0, 0, 0)
        self.is_stopped = False

    def run(self) -> list[Replan | None]:
        numbers = range(len(self.parts))
        alone = {number: self._plan(number, {}) for number in numbers}
        if any(isinstance(made.plan, NoPlan) for made in alone.values()):
            return [alone[n] if isinstance(alone[n].plan, NoPlan) else None for n in numbers]
        for order in self._orders(alone):
            if self.is_stopped and self.best is not None:
                break
            made = {order[0]: alone[order[0]]}
            for number in order[1:]:
                made[number] = self._plan(number, made)
            self._keep(made)
        self._polish()
        found = self.best or alone
        return [found[number] for number in numbers]

    def _orders(self, alone: _Made) -> Iterator[tuple[int, ...]]:
        soonest = tuple(sorted(alone, key=lambda number: (self._end_s(number, alone[number]), number)))
        yield from dict.fromkeys([soonest, soonest[::-1], tuple(alone)])

    def _polish(self) -> None:
        """Plan each once more round all the others, the one that ends last first."""
        for number in sorted(self.best or {}, key=lambda n: -self._end_s(n, (self.best or {})[n])):
            if self.is_stopped or self.best is None:
                return
            others = {other: made for other, made in self.best.items() if other != number}
            self._keep({**others, number: self._plan(number, others)})

    def _plan(self, number: int, beside: _Made) -> Replan:
        """One of them round others that are planned."""
        part = self.parts[number]
        busy = [
            busy_with(made.plan.spec, made.plan.operations, later_s=self.later[other] - self.later[number])
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
        limit_s = self.each_s[number]
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
