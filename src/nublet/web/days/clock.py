"""The one clock of the bench days, so that a test can turn it."""

from __future__ import annotations

from datetime import datetime

from django.utils import timezone


def now() -> datetime:
    """The moment that it is, UTC."""
    return timezone.now()
