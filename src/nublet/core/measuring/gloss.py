"""Gloss: how much of it is kept."""

from __future__ import annotations


def gloss_kept_pct(before: float, after: float) -> float | None:
    """Gloss after as a share of that before, %; ``None`` where there was none."""
    return None if before <= 0 else 100 * after / before
