"""``manage.py make_plan``: make a plan that was asked for. The server starts it; nobody else need."""

from __future__ import annotations

import os
import time
from contextlib import suppress
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from nublet.core.errors import NubletError
from nublet.core.planning.plan import NoPlan, Plan, Progress, make_plan
from nublet.core.planning.replan import replan
from nublet.web.days.adapters import log_of
from nublet.web.days.models import BenchPlan, PlanState
from nublet.web.days.plan_actions import fail_plan, find_plan, keep_plan, replan_from, tell_progress

_POLITE = 5
_TELL_EVERY_S = 0.5


class Command(BaseCommand):
    """Make one plan and keep it."""

    help = "Make a plan that was asked for."

    def add_arguments(self, parser: CommandParser) -> None:
        """The plan's number."""
        parser.add_argument("plan", type=int)
        parser.add_argument("--limit", type=float, help="Seconds to search; by default by size.")

    def handle(self, *args: Any, **options: Any) -> None:
        """Make it; whatever goes wrong is kept with the plan, for whoever waits for it."""
        plan = find_plan(options["plan"])
        if plan.state != PlanState.RUNNING:
            return
        with suppress(OSError):
            # The server comes first.
            os.nice(_POLITE)
        try:
            run(plan, limit_s=options["limit"])
        except NubletError as error:
            fail_plan(plan.pk, error.message)
        except Exception:
            fail_plan(
                plan.pk, "The planner failed. Try again; if it fails again, tell whoever keeps the server."
            )
            raise


def run(plan: BenchPlan, *, limit_s: float | None = None) -> BenchPlan:
    """Make a plan in this process and keep it."""
    log = log_of(plan)
    begun = told = time.monotonic()

    def tell(progress: Progress) -> bool:
        nonlocal told
        now = time.monotonic()
        if plan.progress and now - told < _TELL_EVERY_S:
            return False
        told = now
        return tell_progress(plan, progress, now - begun)

    if not plan.is_again:
        made: Plan | NoPlan = make_plan(log.spec, clock=time.monotonic, tell=tell, limit_s=limit_s)
        return keep_plan(plan.pk, made)
    moment = replan_from(plan)
    found = replan(
        log.spec,
        log.done(running_until=moment, with_skipped=True),
        round(log.seconds(moment)),
        clock=time.monotonic,
        tell=tell,
        limit_s=limit_s,
    )
    # What is overdue is judged as if it were done now.
    overdue = tuple(
        f"If it is done now: {each.says}"
        for each in found.findings
        if not each.is_done and each.judgement != "usable"
    )
    return keep_plan(
        plan.pk,
        found.plan,
        late=(*found.late, *overdue),
        left_out=tuple(panel for _, panel in found.left_out),
    )
