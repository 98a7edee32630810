"""Planning again from now: what was done stands, what was missed is judged, and the rest is planned anew."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass

from nublet.core.bench.evenness import NOTHING_CLOSED, Closed, stand_ins
from nublet.core.bench.findings import Finding
from nublet.core.bench.judging import judge
from nublet.core.bench.keys import DoneBook, DoneWork
from nublet.core.bench.rest import Rest
from nublet.core.planning.plan import NoPlan, Plan, Progress, solve_work
from nublet.core.planning.reasons import find_reasons
from nublet.core.planning.search import Clock
from nublet.core.planning.spec import PlanSpec

# The bench is waiting.
_USUAL_LIMIT_S = 3.0


@dataclass(frozen=True, kw_only=True)
class Replan:
    """A plan of what is left, and what was found on the way.

    Attributes
    ----------
    plan : Plan or NoPlan
        Of what is left; its operations all begin after now.
    findings : tuple of Finding
        Windows that were missed, by what was done and by what is overdue.
    late : tuple of str
        What will be late whatever is done, in words.
    left_out : tuple of (str, str)
        Panels, by group and name, that are spoiled: nothing more is planned for them.
    """

    plan: Plan | NoPlan
    findings: tuple[Finding, ...]
    late: tuple[str, ...]
    left_out: tuple[tuple[str, str], ...]


def replan(
    spec: PlanSpec,
    done: Iterable[DoneWork],
    now_s: int,
    *,
    clock: Clock,
    limit_s: float | None = None,
    tell: Callable[[Progress], bool] | None = None,
    spoiled: Iterable[tuple[str, str]] = (),
    closed: Closed = NOTHING_CLOSED,
    seed: int = 0,
) -> Replan:
    """Plan what is left of a specification.

    Parameters
    ----------
    spec : PlanSpec
    done : iterable of DoneWork
        All that was done; for what was done twice the last counts.
    now_s : int
        Seconds since the plan's start; nothing is planned earlier.
    clock, limit_s, tell, seed
        As for :func:`nublet.core.planning.plan.make_plan`; without a limit 3 s.
    spoiled : iterable of (str, str)
        Panels, by group and name, that count for nothing any more.
    closed : Closed
        Steps that are no work of a panel any more.

    Notes
    -----
    A window that has closed, or that can no longer be met, is left open: the work is planned as soon as it can be, and what
    comes of it is judged. A look that is lost, and a panel that is spoiled, are left out.
    """
    begun = clock()
    works = list(done)
    findings = judge(spec, works, now_s=now_s, closed=closed)
    book = DoneBook([*works, *stand_ins(spec, DoneBook(works), closed)])
    left_out = set(spoiled) | {
        (f.group, f.panel) for f in findings if f.judgement == "spoiled" and f.whole_panel
    }
    lost: set[tuple[str, str, str, str, float | None]] = {
        (f.group, f.panel, f.item, f.act, f.look_after_min)
        for f in findings
        if f.judgement == "spoiled" and f.look_after_min is not None and not f.is_done
    }
    n_weighed = Counter((w.group, w.panel, w.item) for w in works if w.kind == "weigh")
    rest = Rest(spec, book, now_s, left_out, lost, n_weighed)
    rest.split()
    found = tuple(findings)
    out = tuple(sorted(left_out))
    if rest.work.obstacles:
        no_plan = NoPlan(spec=spec, reasons=find_reasons(spec, rest.work.obstacles))
        return Replan(plan=no_plan, findings=found, late=(), left_out=out)
    if not rest.work.chains:
        nothing = Plan(spec=spec, operations=(), end_s=now_s, lower_bound_s=now_s, n_sittings=0, waiting_s=0)
        return Replan(plan=nothing, findings=found, late=(), left_out=out)
    late = rest.open_what_cannot_be_met()
    plan = solve_work(
        rest.work,
        clock=clock,
        begun=begun,
        limit_s=limit_s,
        tell=tell,
        seed=seed,
        standing=rest.stand,
        now_s=now_s,
    )
    return Replan(plan=plan, findings=found, late=tuple(late), left_out=out)
