"""What the entries for a piece of work amount to, panel by panel. Pure: rows in, values out."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Any

from nublet.web.bench.models import WorkEntry, WorkEntryKind

MEASURES = ("temperature_c", "humidity_pct", "block_c", "weight_g", "mix")


@dataclass(frozen=True, kw_only=True)
class Standing:
    """What stands of one piece of work on one panel; a panel without entries has none."""

    begun_at: datetime | None = None
    ended_at: datetime | None = None
    skipped_because: str = ""
    hands_id: int | None = None
    temperature_c: float | None = None
    humidity_pct: float | None = None
    block_c: float | None = None
    weight_g: float | None = None
    mix: int | None = None


def standing_of(entries: Iterable[WorkEntry]) -> dict[str, Standing]:
    """What stands on each panel, by code.

    Parameters
    ----------
    entries : iterable of WorkEntry
        Of one piece of work, in the order received, those that were taken back and their taking back left out.

    Notes
    -----
    Work that is written down as done for several panels at once was done one after the other: the time since it was begun is
    shared out evenly. What was never begun took no time: it was done at that moment.
    """
    found: dict[str, Standing] = {}
    for entry in entries:
        if entry.entry == WorkEntryKind.DONE:
            _finish(found, entry)
            continue
        for code in entry.panels:
            found[code] = _after(found.get(code, Standing()), entry)
    return found


def _after(standing: Standing, entry: WorkEntry) -> Standing:
    hands_id = entry.hands_id or standing.hands_id
    measured = _measured(entry)
    if entry.entry == WorkEntryKind.BEGIN:
        return replace(standing, begun_at=entry.at, hands_id=hands_id, **measured)
    if entry.entry == WorkEntryKind.SKIP:
        begun_at = standing.begun_at if standing.begun_at and standing.begun_at <= entry.at else entry.at
        return replace(
            standing,
            begun_at=begun_at,
            ended_at=entry.at,
            skipped_because=entry.reason,
            hands_id=hands_id,
        )
    return replace(standing, hands_id=hands_id, **measured)


def _finish(found: dict[str, Standing], entry: WorkEntry) -> None:
    codes: Sequence[str] = entry.panels
    begun = [found[code].begun_at for code in codes if code in found]
    starts = [moment for moment in begun if moment is not None]
    since = entry.begun_at or min(starts, default=entry.at)
    since = min(since, entry.at)
    share: timedelta = (entry.at - since) / max(1, len(codes))
    for number, code in enumerate(codes):
        standing = found.get(code, Standing())
        found[code] = replace(
            standing,
            begun_at=since + number * share,
            ended_at=entry.at if number == len(codes) - 1 else since + (number + 1) * share,
            skipped_because="",
            hands_id=entry.hands_id or standing.hands_id,
            **_measured(entry),
        )


def _measured(entry: WorkEntry) -> dict[str, Any]:
    return {name: entry.measured[name] for name in MEASURES if entry.measured.get(name) is not None}
