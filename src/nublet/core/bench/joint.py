"""Several trials of one shop planned at once, none of them first: one specification of all, and each one's part of the plan."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from nublet.core.bench.evenness import Closed
from nublet.core.bench.keys import DoneWork
from nublet.core.bench.replan import Replan, replan
from nublet.core.bench.rest import Late
from nublet.core.planning.bench import Bench
from nublet.core.planning.bound import earliest_end
from nublet.core.planning.calendar import seconds_since, sitting_at
from nublet.core.planning.plan import NoPlan, Operation, Plan, Progress, make_plan
from nublet.core.planning.search import Clock
from nublet.core.planning.spec import OF_TRIAL, PanelGroup, PlanSpec

# Of each part's own bound: one of them is not worth more.
_QUESTION_MS = 100


@dataclass(frozen=True, kw_only=True)
class Part:
    """One trial of several that are planned at once: what is asked of it, what was done of it and what that has closed.

    Seconds count from its own start.
    """

    spec: PlanSpec
    done: Sequence[DoneWork] = ()
    closed: Closed = field(default_factory=dict)


def join(specs: Sequence[PlanSpec]) -> PlanSpec:
    """One specification of several trials' work, from the earliest start on.

    Parameters
    ----------
    specs : sequence of PlanSpec
        Of one shop: the same hands, hours and things. What stands in plans of still other trials is taken from the first to start.

    Raises
    ------
    PlanError
        If they are more than are planned at once.
    """
    first = min(specs, key=lambda spec: spec.start)
    return replace(
        first,
        is_together=any(spec.is_together for spec in specs),
        groups=tuple(
            _in_trial(number, spec, group) for number, spec in enumerate(specs) for group in spec.groups
        ),
    )


def plan_jointly(
    parts: Sequence[Part],
    *,
    clock: Clock,
    now_s: int | None = None,
    limit_s: float | None = None,
    tell: Callable[[Progress], bool] | None = None,
) -> list[Replan | None]:
    """Plan several trials at once: each one's part, in their order.

    Parameters
    ----------
    parts : sequence of Part
    now_s : int or None
        Seconds since the earliest start from which on what is left is planned; ``None`` where nothing was done yet.
    clock, limit_s, tell
        As for :func:`nublet.core.planning.plan.make_plan`.

    Returns
    -------
    list of Replan or None
        Where one of them cannot be planned none is: its own part says why, and the others are ``None``.
    """
    spec = join([part.spec for part in parts])
    later = [round(seconds_since(spec.start, part.spec.start)) for part in parts]
    found: Replan
    if now_s is None:
        made = make_plan(spec, clock=clock, limit_s=limit_s, tell=tell)
        found = Replan(plan=made, findings=(), late=(), left_out=())
    else:
        found = replan(
            spec,
            [
                _done_in(number, later[number], work)
                for number, part in enumerate(parts)
                for work in part.done
            ],
            now_s,
            clock=clock,
            limit_s=limit_s,
            tell=tell,
            closed={
                (_named(number, group), panel): steps
                for number, part in enumerate(parts)
                for (group, panel), steps in part.closed.items()
            },
        )
    if isinstance(found.plan, NoPlan):
        return [
            _why_not(part, own_s, clock)
            for part, own_s in zip(parts, _own_moments(later, now_s), strict=True)
        ]
    return [
        _part_of(found, found.plan, _Place(number, part.spec, later[number], own_s))
        for number, (part, own_s) in enumerate(zip(parts, _own_moments(later, now_s), strict=True))
    ]


def _own_moments(later: Sequence[int], now_s: int | None) -> list[int | None]:
    return [None if now_s is None else now_s - later_s for later_s in later]


def _why_not(part: Part, now_s: int | None, clock: Clock) -> Replan | None:
    """Why a part cannot be planned; ``None`` where it is another that cannot."""
    if now_s is None:
        made = make_plan(part.spec, clock=clock, limit_s=0.0)
        alone = Replan(plan=made, findings=(), late=(), left_out=())
    else:
        alone = replan(part.spec, part.done, now_s, clock=clock, limit_s=0.0, closed=part.closed)
    return alone if isinstance(alone.plan, NoPlan) else None


@dataclass(frozen=True)
class _Place:
    """A part in the whole: its number, what was asked of it, by how much later it starts, and its own now."""

    number: int
    spec: PlanSpec
    later_s: int
    now_s: int | None

    @property
    def prefix(self) -> str:
        """What its names begin with."""
        return f"{self.number}{OF_TRIAL}"

    def holds(self, name: str) -> bool:
        """Whether a name is one of its own."""
        return name.startswith(self.prefix)

    def own(self, name: str) -> str:
        """A name as it is in its own trial."""
        return name.removeprefix(self.prefix)


def _part_of(whole: Replan, plan: Plan, place: _Place) -> Replan:
    operations = tuple(_alone(each, place) for each in plan.operations if place.holds(each.panels[0].group))
    end_s = max((each.end_s for each in operations), default=place.now_s or 0)
    sittings = Bench(place.spec, max(1, end_s)).sittings
    return Replan(
        plan=Plan(
            spec=place.spec,
            operations=operations,
            end_s=end_s,
            lower_bound_s=earliest_end(place.spec, end_s, _QUESTION_MS)
            if place.now_s is None
            else min(place.now_s, end_s),
            n_sittings=len({sitting_at(sittings, each.start_s) for each in operations}),
            # Between its own work hands may be at another's: only of the whole can be said how long they wait.
            waiting_s=plan.waiting_s,
            says=tuple(place.own(says) for says in plan.says if place.holds(says)),
        ),
        findings=tuple(
            replace(each, group=place.own(each.group)) for each in whole.findings if place.holds(each.group)
        ),
        late=tuple(Late(place.own(each.group), each.says) for each in whole.late if place.holds(each.group)),
        left_out=tuple((place.own(group), panel) for group, panel in whole.left_out if place.holds(group)),
    )


def _alone(operation: Operation, place: _Place) -> Operation:
    """An operation as it is in its own trial's plan."""
    return replace(
        operation,
        board=place.own(operation.board),
        panels=tuple(
            replace(
                panel,
                group=place.own(panel.group),
                start_s=panel.start_s - place.later_s,
                end_s=panel.end_s - place.later_s,
            )
            for panel in operation.panels
        ),
    )


def _named(number: int, name: str) -> str:
    return f"{number}{OF_TRIAL}{name}"


def _in_trial(number: int, spec: PlanSpec, group: PanelGroup) -> PanelGroup:
    """A group by its name in the whole; where its trial goes as each is ready it has no boards there."""
    boards = tuple(_named(number, board) for board in group.boards) if spec.is_together else ()
    return replace(group, id=_named(number, group.id), boards=boards)


def _done_in(number: int, later_s: int, work: DoneWork) -> DoneWork:
    return replace(
        work,
        group=_named(number, work.group),
        start_s=work.start_s + later_s,
        end_s=work.end_s + later_s,
    )
