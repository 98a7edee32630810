"""What a plan moves to another day of the plan that stood before it."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from nublet.core.bench.keys import WorkKey
from nublet.web.bench.models import BenchPlan, PlannedOperation


def moved_by(before: BenchPlan, after: BenchPlan, rows: Iterable[PlannedOperation]) -> dict[str, Any]:
    """How many pieces of work are on another day now, of how many, and the days of the last work before and now.

    Parameters
    ----------
    before, after : BenchPlan
        Both done.
    rows : iterable of PlannedOperation
        What ``after`` plans, not kept yet: what was done moves no more. One query.
    """
    zone = ZoneInfo(after.time_zone)
    was = {key: day for row in before.operations.all() for key, day in _days(before, row, zone)}
    n_moved = n_works = 0
    for row in rows:
        days = dict(_days(after, row, zone))
        known = {key for key in days if key in was}
        if known:
            n_works += 1
            n_moved += any(was[key] != days[key] for key in known)
    return {
        "n_moved": n_moved,
        "n_works": n_works,
        "last_was": _date(before.last_work_at, zone),
        "last_is": _date(after.last_work_at, zone),
    }


def _days(plan: BenchPlan, row: PlannedOperation, zone: ZoneInfo) -> Iterable[tuple[WorkKey, date]]:
    """Each panel's part of an operation with its day."""
    for code, start_s, _ in row.panels:
        key = WorkKey(code, row.item, row.kind, row.look_after_min, row.nth, row.act)  # type: ignore[arg-type]
        yield key, (plan.start_at + timedelta(seconds=start_s)).astimezone(zone).date()


def _date(moment: datetime | None, zone: ZoneInfo) -> str:
    return "" if moment is None else moment.astimezone(zone).date().isoformat()
