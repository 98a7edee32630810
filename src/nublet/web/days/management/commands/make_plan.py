"""``manage.py make_plan``: make a plan that was asked for. The server starts it; nobody else need."""

from __future__ import annotations

import os
from contextlib import suppress
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from nublet.core.errors import NubletError
from nublet.web.days.making import make
from nublet.web.days.models import PlanState
from nublet.web.days.plan_actions import fail_plan, find_plan

_POLITE = 5


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
            make(plan, limit_s=options["limit"])
        except NubletError as error:
            fail_plan(plan.pk, error.message)
        except Exception:
            fail_plan(
                plan.pk, "The planner failed. Try again; if it fails again, tell whoever keeps the server."
            )
            raise
