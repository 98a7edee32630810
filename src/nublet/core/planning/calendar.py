"""Working time as spans of seconds since the plan's start."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime, time, timedelta

from nublet.core.planning.limits import DAY_MIN
from nublet.core.planning.spec import WEEKDAYS, Hands, WorkingHours

Span = tuple[int, int]
DAY_S = 24 * 3600
WEEK_S = 7 * DAY_S


def seconds_since(start: datetime, moment: datetime) -> float:
    """Seconds from one moment to another, by the clock of the world where both have a zone."""
    if start.tzinfo is not None and moment.tzinfo is not None:
        return (moment.astimezone(UTC) - start.astimezone(UTC)).total_seconds()
    return (moment.replace(tzinfo=None) - start.replace(tzinfo=None)).total_seconds()


def moment_at(start: datetime, seconds: float) -> datetime:
    """The moment so many seconds after the start, in the start's zone."""
    if start.tzinfo is None:
        return start + timedelta(seconds=seconds)
    return (start.astimezone(UTC) + timedelta(seconds=seconds)).astimezone(start.tzinfo)


def working_spans(person: Hands, start: datetime, horizon_s: int) -> list[Span]:
    """When a person works, as disjoint spans in order, from the start to the horizon; touching spans are one.

    Hours are the zone's own: a day on which the clock is changed is longer or shorter by night, not at the bench.
    """
    spans: list[Span] = []
    day = start.date() - timedelta(days=1)
    last = moment_at(start, horizon_s).date()
    while day <= last:
        if day not in person.days_off:
            for hours in person.hours:
                if WEEKDAYS[day.weekday()] in hours.days:
                    midnight = datetime.combine(day, time(), tzinfo=start.tzinfo)
                    begins, ends = _minutes(hours)
                    spans.append(
                        (
                            round(seconds_since(start, midnight + timedelta(minutes=begins))),
                            round(seconds_since(start, midnight + timedelta(minutes=ends))),
                        )
                    )
        day += timedelta(days=1)
    return merge_spans((max(0, a), min(b, horizon_s)) for a, b in spans if b > 0 and a < horizon_s)


def merge_spans(spans: Iterable[Span]) -> list[Span]:
    """The union of spans, disjoint and in order.

    Examples
    --------
    >>> merge_spans([(5, 7), (0, 3), (3, 4)])
    [(0, 4), (5, 7)]
    """
    merged: list[Span] = []
    for begins, ends in sorted(spans):
        if begins >= ends:
            continue
        if merged and begins <= merged[-1][1]:
            merged[-1] = (merged[-1][0], max(ends, merged[-1][1]))
        else:
            merged.append((begins, ends))
    return merged


def sittings_of(spans: Sequence[Span], start: datetime) -> list[Span]:
    """The shop's sittings: its working spans, one that runs past midnight cut there."""
    sittings: list[Span] = []
    for begins, ends in spans:
        while begins < ends:
            # Half a second on: a midnight that was rounded down belongs to the day that begins there.
            day = moment_at(start, begins + 0.5).date() + timedelta(days=1)
            midnight = round(seconds_since(start, datetime.combine(day, time(), tzinfo=start.tzinfo)))
            sittings.append((begins, min(ends, midnight)))
            begins = min(ends, midnight)
    return sittings


def sitting_at(sittings: Sequence[Span], second: int) -> int:
    """Number of the sitting that holds a second, or of the last one before it; -1 before the first."""
    return bisect_right(sittings, second, key=lambda sitting: sitting[0]) - 1


def _minutes(hours: WorkingHours) -> tuple[float, float]:
    past_midnight = hours.to_min <= hours.from_min
    return hours.from_min, hours.to_min + (DAY_MIN if past_midnight else 0)
