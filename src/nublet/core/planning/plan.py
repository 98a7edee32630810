"""The plan: who does what to which panel when, how early it ends and how early it might have, or why there is none."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import chain

from nublet.core.planning.bench import Bench
from nublet.core.planning.bound import MOST_OF_A_QUESTION_MS, earliest_end, earliest_end_of_chains
from nublet.core.planning.chains import Chain, Kind
from nublet.core.planning.construct import Merit, Placement, Work, split_work
from nublet.core.planning.reasons import Reason, find_reasons
from nublet.core.planning.search import Clock, begin_search, load_solver
from nublet.core.planning.spec import PlanSpec

# A plan that is solved whole is done in half a second or little better for more; a large one gains little after 13 s.
_LEAST_S, _MOST_S, _PER_BLOCK_S, _SMALL_BLOCKS = 0.35, 13.0, 0.04, 400
# A board's pass stands for so many of the passes that it is made of, as far as time to search goes.
_BLOCKS_OF_A_BOARD = 3
# A linear programme of the bound may take so much of the time there is, within these.
_SHARE_OF_A_QUESTION, _LEAST_OF_A_QUESTION_MS = 0.15, 200
# Other ways to split exposures than whole, in parts of a group.
_PARTS = (3, 2, 4)


@dataclass(frozen=True, kw_only=True)
class PlannedPanel:
    """One panel's part of an operation, in seconds since the plan's start. ``group`` is the id of its group."""

    group: str
    panel: str
    start_s: int
    end_s: int


@dataclass(frozen=True, kw_only=True)
class Operation:
    """The same work on each panel of a pass. ``person`` is the number of the pair of hands, from 0.

    ``board`` is the one whose panels are exposed together, across groups; empty for a pass of one group.
    """

    item: str
    kind: Kind
    look_after_min: float | None
    person: int
    panels: tuple[PlannedPanel, ...]
    act: str = ""
    board: str = ""

    @property
    def group(self) -> str:
        """Id of the group of its panels; empty for several."""
        groups = {panel.group for panel in self.panels}
        return groups.pop() if len(groups) == 1 else ""

    @property
    def start_s(self) -> int:
        """When the first panel is begun."""
        return self.panels[0].start_s

    @property
    def end_s(self) -> int:
        """When the last panel is done."""
        return self.panels[-1].end_s


@dataclass(frozen=True, kw_only=True)
class Plan:
    """A plan that holds every window.

    Attributes
    ----------
    operations : tuple of Operation
        By start.
    end_s : int
        End of the last operation.
    lower_bound_s : int
        No plan for this work can end earlier.
    n_sittings : int
        Sittings with work in them.
    waiting_s : int
        Seconds that hands wait between the first and the last work of their sittings, summed.
    says : tuple of str
        Why groups were split into passes.
    """

    spec: PlanSpec
    operations: tuple[Operation, ...]
    end_s: int
    lower_bound_s: int
    n_sittings: int
    waiting_s: int
    says: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class NoPlan:
    """There is none, and why: one reason for each part of the work that cannot be done."""

    spec: PlanSpec
    reasons: tuple[Reason, ...]


@dataclass(frozen=True, kw_only=True)
class Progress:
    """How far the planner has come: the best end so far, the bound, and its sittings."""

    end_s: int
    lower_bound_s: int
    n_sittings: int


def make_plan(
    spec: PlanSpec,
    *,
    clock: Clock,
    limit_s: float | None = None,
    tell: Callable[[Progress], bool] | None = None,
    seed: int = 0,
) -> Plan | NoPlan:
    """Plan the work of a specification.

    Parameters
    ----------
    spec : PlanSpec
    clock : callable
        Seconds that only ever grow, such as ``time.monotonic``.
    limit_s : float or None
        Seconds for the search; ``None`` for a time that grows with the work, from half a second to 13. A first plan is made in
        any case.
    tell : callable or None
        Told of each step; answers whether to stop with the best plan so far.
    seed : int

    Returns
    -------
    Plan or NoPlan
        The earliest end found; among equal ends fewer sittings; then less waiting.

    Notes
    -----
    Without a last day every single panel's work fits or does not, whatever else is to be done: hours repeat weekly, so that
    panels in each other's way can go in different weeks. Infeasibility is therefore decided a panel at a time, exactly.
    """
    begun = clock()
    work = split_work(spec, seed=seed)
    if work.obstacles:
        return NoPlan(spec=spec, reasons=find_reasons(spec, work.obstacles))
    return solve_work(work, clock=clock, begun=begun, limit_s=limit_s, tell=tell, seed=seed)


def solve_work(
    work: Work,
    *,
    clock: Clock,
    begun: float,
    limit_s: float | None,
    tell: Callable[[Progress], bool] | None,
    seed: int,
    standing: Callable[[Bench], None] | None = None,
    now_s: int = 0,
) -> Plan:
    """Plan the chains of some work; ``standing`` books what stands already on a new bench, at ``now_s``."""
    # Split only when their turn comes, if there is time left for them.
    splits = _PARTS if standing is None and not work.spec.is_together else ()
    others = (split_work(work.spec, parts=parts) for parts in splits)
    ways = chain([work], others)
    is_usual = limit_s is None
    if limit_s is None:
        limit_s = _limit_s(work)
    search = begin_search(ways, clock=clock, until=begun + limit_s, seed=seed, standing=standing)
    if standing is None:
        question_ms = min(
            MOST_OF_A_QUESTION_MS, max(_LEAST_OF_A_QUESTION_MS, round(_SHARE_OF_A_QUESTION * limit_s * 1000))
        )
        bound_s = earliest_end(work.spec, search.kept[0].end_s, question_ms)
    else:
        bound_s = min(search.kept[0].end_s, earliest_end_of_chains(work, now_s))
    if is_usual:
        # Loading the solver takes longer than a small plan does: what is left then is the search's own.
        load_solver()
        search.until = max(search.until, clock() + _LEAST_S)

    def after_each(best: Merit) -> bool:
        progress = Progress(end_s=best.end_s, lower_bound_s=bound_s, n_sittings=best.n_sittings)
        return tell is not None and tell(progress)

    if not after_each(search.kept[0]):
        search.run(bound_s, after_each)
    best = search.back_to_best()
    return Plan(
        spec=work.spec,
        operations=tuple(operations_of(work.spec, search.work.chains, best.placement)),
        end_s=best.merit.end_s,
        lower_bound_s=bound_s,
        n_sittings=best.merit.n_sittings,
        waiting_s=best.merit.waiting_s,
        says=tuple(work.says),
    )


def usual_limit_s(spec: PlanSpec) -> float:
    """Seconds for the search of a plan where none are given: a time that grows with the work."""
    return _limit_s(split_work(spec))


def _limit_s(work: Work) -> float:
    n_blocks = sum(len(each.blocks) for each in work.chains) * (
        _BLOCKS_OF_A_BOARD if work.spec.is_together else 1
    )
    return min(_MOST_S, _LEAST_S + _PER_BLOCK_S * max(0, n_blocks - _SMALL_BLOCKS))


def operations_of(spec: PlanSpec, chains: Iterable[Chain], placement: Placement) -> list[Operation]:
    """The blocks of placed chains as operations, by start."""
    operations = []
    boards = list(spec.boards)
    for each in chains:
        lot = spec.lots[each.lot]
        names = [(spec.groups[at.group].id, spec.groups[at.group].panels[at.panel]) for at in lot]
        for block, at in zip(each.blocks, placement[each.number], strict=True):
            operations.append(
                Operation(
                    board=boards[each.lot - len(spec.groups)] if each.lot >= len(spec.groups) else "",
                    item=block.item,
                    kind=block.kind,
                    look_after_min=block.look_after_min,
                    person=at.person,
                    act=block.act,
                    panels=tuple(
                        PlannedPanel(
                            group=names[panel][0],
                            panel=names[panel][1],
                            start_s=block.start_of(position, at.start_s),
                            end_s=block.end_of(position, at.start_s),
                        )
                        for position, panel in enumerate(block.panels)
                    ),
                )
            )
    return sorted(operations, key=lambda operation: (operation.start_s, operation.person))
