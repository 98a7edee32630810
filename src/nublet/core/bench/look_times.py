"""When each look falls due on each piece, by what was done to that piece; and which can no longer be had.

Nothing is read before it happened: a look is due when the act that it counts from was logged. What was read early or late is
kept with its real time and judged here.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Literal

from nublet.core.bench.findings import (
    LOOK_TOLERANCES_DEVIATION,
    Judgement,
    judge_off,
    usable_within_s,
)
from nublet.core.errors import ReadingsError
from nublet.core.planning.trial_exposures import BEFORE_ACT, LookWindow
from nublet.core.protocols.looks import BARE, BEFORE, Look

# Open whatever the log says; what it counts from is not done yet; done, and its time is still to come; in its time, or past it; and
# no more to be had.
LookState = Literal["open", "waiting", "coming", "due", "late", "shut"]
Act = tuple[str, str]
# What is read just before a test may be read this long before the cure is over.
_BEFORE_CURE = timedelta(hours=24)
# A clock that was set by hand: two devices may differ by this much and nobody is called too early.
_CLOCKS_APART = timedelta(seconds=5)


@dataclass(frozen=True, kw_only=True)
class PieceLog:
    """What was done to one piece.

    Attributes
    ----------
    begun, ended : mapping of (test, (kind, act)) to a moment
    given_up : collection of (test, (kind, act))
        What was skipped.
    coating_at : datetime or None
        When its first coat was begun; ``None`` before that, and for what is never coated.
    coated_at : datetime or None
        When its last coat was done, wiping too; ``None`` before that.
    cured_at : datetime or None
        When that has cured.
    has_coats : bool
        Whether it is coated at all: bare wood and glass are not.
    """

    begun: Mapping[tuple[str, Act], datetime] = field(default_factory=dict)
    ended: Mapping[tuple[str, Act], datetime] = field(default_factory=dict)
    given_up: Collection[tuple[str, Act]] = ()
    coating_at: datetime | None = None
    coated_at: datetime | None = None
    cured_at: datetime | None = None
    has_coats: bool = True

    def begun_of(self, test: str) -> datetime | None:
        """When a test was begun on it; measuring beforehand is no beginning."""
        moments = [
            moment
            for (name, act), moment in self.begun.items()
            if name == test and act != ("act", BEFORE_ACT)
        ]
        return min(moments, default=None)


@dataclass(frozen=True, kw_only=True)
class LookTime:
    """One look of one test on one piece, at some moment.

    ``since_at`` is when the act that it counts from ended; ``opens_at``, ``aim_at`` and ``closes_at`` are empty where the log does
    not tell them. ``why_not`` says why it cannot be read, and names nothing that a judge may not know.
    """

    state: LookState
    since_at: datetime | None = None
    opens_at: datetime | None = None
    aim_at: datetime | None = None
    closes_at: datetime | None = None
    why_not: str = ""

    @property
    def is_offered(self) -> bool:
        """Whether it is to be read now."""
        return self.state in ("open", "due", "late")

    @property
    def may_be_read(self) -> bool:
        """Whether what is read now is kept: early is a deviation, before it happened is not."""
        return self.is_offered or self.state == "coming"


ALWAYS = LookTime(state="open")


def look_time(test: str, look: Look, window: LookWindow | None, log: PieceLog, now: datetime) -> LookTime:
    """When a look of a test falls due on a piece.

    Parameters
    ----------
    test : str
    look : Look
    window : LookWindow or None
        As :func:`nublet.core.planning.trial_exposures.look_window` gives it.
    log : PieceLog
    now : datetime
        The moment that is asked about, such as that of a reading.
    """
    if look.after == BARE:
        return _before_coating(test, log, now)
    if look.after == BEFORE:
        return _before_acts(test, log, now)
    if window is None:
        if not log.has_coats:
            return LookTime(state="due")
        return (
            _waiting("is not coated yet")
            if log.coated_at is None
            else _after(log.coated_at, _of_coat(look), now)
        )
    keys = [(test, act) for act in window.acts]
    if any(key in log.given_up for key in keys):
        return LookTime(state="shut", why_not="was left out of this test, so there is nothing to look at")
    since = log.ended.get(keys[-1]) if keys else log.cured_at
    if since is not None:
        return _after(since, window, now)
    # What was done after it and logged vouches for the act that was not; nobody knows when that was.
    later = [moment for act in window.later if (moment := log.begun.get((test, act))) is not None]
    if later and min(later) <= now:
        return LookTime(state="open")
    return _waiting("is not as far yet: what the look counts from is not in the log")


def check_may_read(time: LookTime, *, where: str) -> None:
    """Refuse a reading of what has not happened yet, or can no longer be seen; ``where`` names panel and test.

    Raises
    ------
    ReadingsError
    """
    if not time.may_be_read:
        raise ReadingsError(f"{where}: it {time.why_not}.", field="look")


def judge_seen(time: LookTime, seen_at: datetime) -> tuple[Judgement, float] | None:
    """How a reading's moment is judged, and by how many seconds it was off; ``None`` within its tolerance, or where none is known.

    Early is negative. A look that is more than three tolerances off tells of another look.
    """
    if time.aim_at is None or time.closes_at is None or time.opens_at is None:
        return None
    if time.opens_at <= seen_at <= time.closes_at:
        return None
    off_s = (seen_at - time.aim_at).total_seconds()
    edge = time.closes_at if off_s > 0 else time.opens_at
    tolerance_s = abs((edge - time.aim_at).total_seconds())
    deviation_s = LOOK_TOLERANCES_DEVIATION * tolerance_s
    return judge_off(off_s, usable_s=usable_within_s(tolerance_s), deviation_s=deviation_s), off_s


def _before_coating(test: str, log: PieceLog, now: datetime) -> LookTime:
    over = [moment for moment in (log.coating_at, log.begun_of(test)) if moment is not None]
    if over and now > min(over) + _CLOCKS_APART:
        return LookTime(state="shut", why_not="is bare wood no longer, so that can never be read again")
    return LookTime(state="due")


def _before_acts(test: str, log: PieceLog, now: datetime) -> LookTime:
    begun = log.begun_of(test)
    if begun is not None and now > begun + _CLOCKS_APART:
        return LookTime(
            state="shut", why_not="has met this test, so what it was before can never be read again"
        )
    if not log.has_coats:
        return LookTime(state="due")
    if log.coated_at is None:
        return _waiting("is not coated yet")
    # A test may be begun a little before the cure is over, and this is not to be missed for that.
    opens = max(log.coated_at, (log.cured_at or log.coated_at) - _BEFORE_CURE)
    return LookTime(state="coming" if now < opens else "due", since_at=log.coated_at, opens_at=opens)


def _waiting(why: str) -> LookTime:
    return LookTime(state="waiting", why_not=why)


def _of_coat(look: Look) -> LookWindow:
    slack = look.give_or_take_min
    return LookWindow(
        acts=(),
        opens_min=max(0.0, look.after_min - slack),
        aim_min=look.after_min,
        closes_min=look.after_min + slack,
    )


def _after(since: datetime, window: LookWindow, now: datetime) -> LookTime:
    opens, aim, closes = (
        since + timedelta(minutes=minutes)
        for minutes in (window.opens_min, window.aim_min, window.closes_min)
    )
    state: LookState = "due"
    why = ""
    if now < since - _CLOCKS_APART:
        state, why = "waiting", "was looked at before the act that the look counts from had ended"
    elif now < opens:
        state = "coming"
    elif now > closes:
        state = "late"
    return LookTime(state=state, since_at=since, opens_at=opens, aim_at=aim, closes_at=closes, why_not=why)
