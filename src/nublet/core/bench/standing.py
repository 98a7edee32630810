"""What entries amount to: the one place that says so.

The browser shows the same before the server has answered (``frontend/src/features/coat-and-cure/standing.ts``,
``frontend/src/features/read/standing.ts``); both sides are held to ``tests/golden/standing.json``.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Literal

from nublet.core.bench.evenness import EVEN_SAYS
from nublet.core.bench.measures import MEASURES

WorkEntryKind = Literal["begin", "done", "skip", "even", "measure", "take_back"]
ReadingEntryKind = Literal["grade", "note", "take_back"]


@dataclass(frozen=True, kw_only=True)
class WorkEntry:
    """One key press for one piece of work.

    Attributes
    ----------
    id : str
    entry : WorkEntryKind
    panels : sequence of str
        Codes, in the order in which they were worked on.
    at, begun_at : datetime
        When it happened; ``begun_at`` is given with work that is written down afterwards.
    hands, mix, pour : int or None
        Numbers of whose hands they were, of the mix that was put on, and of the pour that was laid.
    reason : str
        Why it was skipped.
    measured : mapping
        By the names of :data:`nublet.core.bench.measures.MEASURES`.
    undoes : str or None
        Id of the entry that is taken back.
    """

    id: str
    entry: WorkEntryKind
    panels: Sequence[str]
    at: datetime
    begun_at: datetime | None = None
    hands: int | None = None
    mix: int | None = None
    pour: int | None = None
    reason: str = ""
    measured: Mapping[str, float] = field(default_factory=dict)
    undoes: str | None = None


@dataclass(frozen=True, kw_only=True)
class StandingWork:
    """What stands of one piece of work on one panel; a panel without entries has none.

    ``is_even`` where it was not wanted any more, because the sheen was even before it.
    """

    begun_at: datetime | None = None
    ended_at: datetime | None = None
    skipped_because: str = ""
    is_even: bool = False
    hands: int | None = None
    mix: int | None = None
    pour: int | None = None
    measured: Mapping[str, float] = field(default_factory=dict)


def standing_work(entries: Iterable[WorkEntry]) -> dict[str, StandingWork]:
    """What stands of one piece of work on each panel, by code.

    Parameters
    ----------
    entries : iterable of WorkEntry
        Of that work, in the order received.

    Notes
    -----
    An entry that was taken back counts for nothing. Work that is written down as done for several panels at once was done one
    after the other: the time since it was begun is shared out evenly. What was never begun took no time: it was done at that
    moment.
    """
    all_of_them = list(entries)
    undone = {entry.undoes for entry in all_of_them if entry.entry == "take_back"}
    found: dict[str, StandingWork] = {}
    for entry in all_of_them:
        if entry.entry == "take_back" or entry.id in undone:
            continue
        if entry.entry == "done":
            _finish(found, entry)
            continue
        for code in entry.panels:
            found[code] = _after(found.get(code, StandingWork()), entry)
    return found


def _after(standing: StandingWork, entry: WorkEntry) -> StandingWork:
    if entry.entry in ("skip", "even"):
        begun_at = standing.begun_at if standing.begun_at and standing.begun_at <= entry.at else entry.at
        return replace(
            standing,
            begun_at=begun_at,
            ended_at=entry.at,
            skipped_because=EVEN_SAYS if entry.entry == "even" else entry.reason,
            is_even=entry.entry == "even",
            hands=entry.hands or standing.hands,
        )
    measured = _with_measures(standing, entry)
    return replace(measured, begun_at=entry.at) if entry.entry == "begin" else measured


def _finish(found: dict[str, StandingWork], entry: WorkEntry) -> None:
    codes = entry.panels
    begun = [found[code].begun_at for code in codes if code in found]
    starts = [moment for moment in begun if moment is not None]
    since = min(entry.begun_at or min(starts, default=entry.at), entry.at)
    share: timedelta = (entry.at - since) / max(1, len(codes))
    for number, code in enumerate(codes):
        found[code] = replace(
            _with_measures(found.get(code, StandingWork()), entry),
            begun_at=since + number * share,
            ended_at=entry.at if number == len(codes) - 1 else since + (number + 1) * share,
            skipped_because="",
            is_even=False,
        )


def _with_measures(standing: StandingWork, entry: WorkEntry) -> StandingWork:
    measured = {name: value for name, value in entry.measured.items() if name in MEASURES}
    return replace(
        standing,
        hands=entry.hands or standing.hands,
        mix=entry.mix or standing.mix,
        pour=entry.pour or standing.pour,
        measured={**standing.measured, **measured},
    )


@dataclass(frozen=True, kw_only=True)
class ReadingEntry:
    """One key press for one spot at one look: a value, or more than it, a note, or the last one taken back.

    ``seen_at`` is when it was seen, where that was kept; ``id`` what it is known by, and ``undoes`` of a take-back the id of what
    it undoes, empty for the last one left. ``singles`` are the single readings of an instrument of which the value is the mean.
    """

    entry: ReadingEntryKind
    id: str = ""
    undoes: str = ""
    value: float | None = None
    is_beyond: bool = False
    note: str = ""
    seen_at: datetime | None = None
    singles: tuple[float, ...] = ()


@dataclass(frozen=True, kw_only=True)
class StandingReading:
    """What stands on a spot at a look, when its value was seen, and of which single readings it is the mean."""

    value: float | None = None
    is_beyond: bool = False
    note: str = ""
    seen_at: datetime | None = None
    singles: tuple[float, ...] = ()


def standing_reading(entries: Iterable[ReadingEntry]) -> StandingReading:
    """What entries, in their order, amount to; a take-back undoes the one that it names, else the last one left, or nothing.

    A value that was seen later stands, whichever of two devices sent its own first.
    """
    kept: list[ReadingEntry] = []
    for entry in entries:
        if entry.entry != "take_back":
            kept.append(entry)
        elif entry.undoes:
            kept = [other for other in kept if other.id != entry.undoes]
        elif kept:
            kept.pop()
    values = _as_seen([entry for entry in kept if entry.entry == "grade"])
    notes = [entry.note for entry in kept if entry.entry == "note"]
    return StandingReading(
        value=values[-1].value if values else None,
        is_beyond=bool(values) and values[-1].is_beyond,
        note=notes[-1] if notes else "",
        seen_at=values[-1].seen_at if values else None,
        singles=values[-1].singles if values else (),
    )


def _as_seen(entries: list[ReadingEntry]) -> list[ReadingEntry]:
    """Values in the order in which they were seen; those without a moment stay where they came."""
    seen = [(entry.seen_at, number) for number, entry in enumerate(entries) if entry.seen_at is not None]
    return [entries[number] for _, number in sorted(seen)] if len(seen) == len(entries) else entries
