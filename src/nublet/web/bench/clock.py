"""The one clock of the bench days, so that a test can turn it."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.utils import timezone

from nublet.core.errors import PlanError


def now() -> datetime:
    """The moment that it is, UTC."""
    return timezone.now()


# A browser that keeps the server's time is right to a second; more is a clock that nobody set.
AHEAD = timedelta(seconds=60)
# Within this a moment stands as it was given: two entries of one key press keep one time.
_RIGHT = timedelta(seconds=1)
LONG_AGO = timedelta(days=400)


def checked_moment(moment: datetime, name: str) -> datetime:
    """A moment that somebody gives, put back to now where it is more than a second ahead. Raises ``PlanError`` for one that cannot be."""
    present = now()
    if moment > present + AHEAD:
        raise PlanError(
            f"{moment:%Y-%m-%d %H:%M} UTC has not come yet. Check the time, and the clock of this device.",
            field=name,
        )
    if moment < present - LONG_AGO:
        raise PlanError(f"{moment:%Y-%m-%d} is too long ago. Check the date.", field=name)
    return moment if moment <= present + _RIGHT else present
