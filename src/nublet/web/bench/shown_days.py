"""Days as a screen shows them: which have work, which matters now, and when their lanes begin and end."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from nublet.core.bench.keys import WorkKey
from nublet.core.planning.calendar import working_spans
from nublet.core.planning.spec import PlanSpec
from nublet.web.bench.models import PanelWork, PlannedOperation
from nublet.web.bench.turns import is_done, worked_at

_HOUR = timedelta(hours=1)
# When it begins, when it ends, how many operations it has and how many of them are done.
Counted = tuple[datetime, datetime, int, int]


@dataclass(frozen=True, kw_only=True)
class BenchDay:
    """A day by the shop's zone: when its lanes begin and end, and how many operations it has."""

    date: date
    opens_at: datetime
    closes_at: datetime
    n_operations: int
    n_done: int


def count_days(
    rows: Iterable[PlannedOperation], works: Mapping[WorkKey, PanelWork], zone: ZoneInfo
) -> dict[date, Counted]:
    """The days with work, by the shop's zone; work counts on the day on which it was begun."""
    days: dict[date, Counted] = {}
    for row in rows:
        begins = worked_at(row, works)
        ends = begins + (row.end_at - row.start_at)
        day = begins.astimezone(zone).date()
        opens, closes, n, m = days.get(day, (begins, ends, 0, 0))
        days[day] = (min(opens, begins), max(closes, ends), n + 1, m + is_done(row, works))
    return days


def focus_of(days: Mapping[date, Counted], today: date) -> date:
    """Today while there is work on it; else the next day with work, else the last."""
    if today in days or not days:
        return today
    later = [day for day in days if day > today]
    return min(later) if later else max(days)


def working_days(
    spec: PlanSpec, zone: ZoneInfo, first: date, last: date
) -> dict[date, tuple[datetime, datetime]]:
    """When hands work on each day, from the first to the last of them."""
    end = datetime.combine(last + timedelta(days=1), datetime.min.time(), tzinfo=zone)
    horizon_s = max(0, round((end - spec.start).total_seconds()))
    found: dict[date, tuple[datetime, datetime]] = {}
    for person in spec.people:
        for begins, ends in working_spans(person, spec.start, horizon_s):
            a, b = spec.start + timedelta(seconds=begins), spec.start + timedelta(seconds=ends)
            day = a.astimezone(zone).date()
            if first <= day <= last:
                was = found.get(day, (a, b))
                found[day] = (min(a, was[0]), max(b, was[1]))
    return found


def shown_day(
    day: date,
    days: Mapping[date, Counted],
    lanes: Mapping[date, tuple[datetime, datetime]],
    zone: ZoneInfo,
) -> BenchDay:
    """The day with its lanes, from a full hour to a full hour; one without hands or work shows nine to five."""
    nine = datetime.combine(day, datetime.min.time(), tzinfo=zone) + 9 * _HOUR
    known = [span for span in (lanes.get(day), days[day][:2] if day in days else None) if span]
    opens = min((span[0] for span in known), default=nine).astimezone(zone)
    closes = max((span[1] for span in known), default=nine + 8 * _HOUR).astimezone(zone)
    full = closes.replace(minute=0, second=0, microsecond=0)
    counted = days.get(day)
    return BenchDay(
        date=day,
        opens_at=opens.replace(minute=0, second=0, microsecond=0),
        closes_at=full if full == closes else full + _HOUR,
        n_operations=0 if counted is None else counted[2],
        n_done=0 if counted is None else counted[3],
    )
