"""A protocol's tests as the planner's work: acts with their windows, turns of a cycle, waits, and looks by whoever reads.

Looks months away are no work of a plan: they are dates. What is read on the bare wood, or as it was coated, belongs to those days.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from nublet.core.design.effort import MINUTES_PER_GRADE, MINUTES_PER_SPOT
from nublet.core.planning.exposure_work import ActWork, ExposureWork, Held, LookTime
from nublet.core.protocols.acts import ACT_KINDS, Act, duration_tolerance_min
from nublet.core.protocols.looks import BEFORE, COATED, Look, Read
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.spot_tests import is_laid_and_lifted
from nublet.core.protocols.tests import Protocol, Test

# One value from an instrument; setting a panel out to be looked at.
MINUTES_PER_MEASUREMENT = 0.5
_SET_OUT_MIN = 0.25
# Acts that no protocol names: setting out what is only looked at, and measuring just before anything is done.
SET_OUT, BEFORE_ACT = "set-out", "before"
# From a measurement before anything is done to the first act.
_BEFORE_MIN = 24 * 60.0
# Between two turns of a cycle nobody need hurry.
_TURN_MOST_MIN = 3 * 24 * 60.0
_AT_ONCE_MIN = 0.5
Window = tuple[float, float | None]


@dataclass(frozen=True, kw_only=True)
class MendTime:
    """How a build-up is mended: hands-on minutes at one site, and how long the mend cures, minutes."""

    hands_min: float
    cure_min: float


def exposure_of(
    test: Test, looks: Iterable[Look], *, times: int = 1, n_judges: int = 1, mend: MendTime | None = None
) -> ExposureWork | None:
    """A test's work on one panel.

    Parameters
    ----------
    test : Test
    looks : iterable of Look
        The test's.
    times : int
        How often it stands on a panel: once a section.
    n_judges : int
    mend : MendTime or None
        How the build-up's own family is mended; ``None`` for bare wood, which is not.

    Returns
    -------
    ExposureWork or None
        ``None`` when there is nothing to do for it in a plan.
    """
    listed = tuple(looks)
    if is_laid_and_lifted(test, listed):
        # Its looks are all planned, months away too, as trials of earlier releases have them in their plans.
        return _laid_and_lifted(test, listed, times, n_judges)
    planned = [look for look in listed if not look.is_before and not look.is_far and look.after != COATED]
    before = [look for look in listed if look.after == BEFORE]
    steps = _Steps(test, times, mend)
    minutes = sum(reading_minutes(test, look, n_judges) for look in before) * times
    if minutes and test.acts:
        steps.lead(minutes)
    found = [(*steps.moment_of(look), reading_minutes(test, look, n_judges) * times) for look in planned]
    if not steps.works and not found:
        return None
    acts = steps.closed()
    ids = [act.id for act in acts]
    timed: dict[tuple[str, float], LookTime] = {}
    for after, (low, high), reading_min in found:
        if reading_min:
            at = "" if not after or after == ids[-1] else after
            look = LookTime(
                after_min=(low + high) / 2,
                tolerance_min=(high - low) / 2,
                minutes_per_panel=round(reading_min, 2),
                after=at,
            )
            timed.setdefault((at, look.after_min), look)
    return ExposureWork(id=test.id, acts=acts, looks=tuple(timed.values()), natures=test.natures - {"hot"})


@dataclass(frozen=True, kw_only=True)
class LookWindow:
    """When a look comes, minutes from the end of a piece of work.

    ``acts`` are the works that it needs, in their order, each by its kind and its id in a plan as in
    :class:`nublet.core.bench.keys.WorkKey`; it counts from the last of them. ``later`` are those that come after it.
    """

    acts: tuple[tuple[Literal["lay", "lift", "act"], str], ...]
    later: tuple[tuple[Literal["lay", "lift", "act"], str], ...] = ()
    opens_min: float
    aim_min: float
    closes_min: float


def look_window(
    test: Test, look: Look, looks: Iterable[Look], *, mend: MendTime | None = None
) -> LookWindow | None:
    """When a look comes after its act; ``None`` for one that comes before anything is done, or after the last coat.

    Parameters
    ----------
    test : Test
    look : Look
        One of the test's.
    looks : iterable of Look
        All of the test's: they tell how it is planned.
    mend : MendTime or None
        As in :func:`exposure_of`.

    Examples
    --------
    >>> from nublet.core.protocols.shipped import TESTS
    >>> wine, day = TESTS["black-tea-1h"], Look(id="24h", name="24 h", after_min=1440)
    >>> window = look_window(wine, day, [day])
    >>> window.acts, window.opens_min, window.closes_min
    ((('lay', ''), ('lift', '')), 1296.0, 1584.0)
    """
    if look.is_before or look.after == COATED:
        return None
    tolerance = look.give_or_take_min
    if is_laid_and_lifted(test, looks):
        return LookWindow(
            acts=(("lay", ""), ("lift", "")),
            opens_min=max(0.0, look.after_min - tolerance),
            aim_min=look.after_min,
            closes_min=look.after_min + tolerance,
        )
    steps = _Steps(test, 1, mend)
    after, (low, high) = steps.moment_of(look)
    ids = [act.id for act in steps.works]
    n_needed = ids.index(after) + 1 if after in ids else len(ids)
    waited = low - max(0.0, look.after_min - tolerance)
    return LookWindow(
        acts=tuple(("act", each) for each in ids[:n_needed]),
        later=tuple(("act", each) for each in ids[n_needed:]),
        opens_min=low,
        aim_min=waited + look.after_min,
        closes_min=high,
    )


def act_words(protocol: Protocol) -> dict[tuple[str, str], str]:
    """What each planned act of a protocol's tests is called, by the test's id and the act's.

    Examples
    --------
    The third turn of damp-cloth cycles is ``"wet and dry in turns, 3 of 25"``.
    """
    found: dict[tuple[str, str], str] = {}
    for test in protocol.tests:
        found[test.id, SET_OUT] = "set out"
        found[test.id, BEFORE_ACT] = "measure before"
        for act in test.acts:
            words = ACT_KINDS[act.kind].words.lower()
            found[test.id, act.id] = words
            for turn in range(1, act.cycles + 1):
                found[test.id, _turn_id(act, turn)] = f"{words}, {turn} of {act.cycles}"
    return found


def _turn_id(act: Act, turn: int) -> str:
    return f"{act.id}-{turn}"


def far_looks(looks: Iterable[Look]) -> tuple[Look, ...]:
    """The looks that are dates in the calendar, and no sitting of a plan."""
    return tuple(look for look in looks if look.is_far)


def last_work_of(test: Test, look: Look) -> str:
    """Id in a plan of the act that a look counts from: the last turn of turns, and of a wait what is done before it."""
    acts = list(test.acts)
    ids = [act.id for act in acts]
    place = ids.index(look.after) if look.after in ids else len(acts) - 1
    while place > 0 and acts[place].kind == "wait":
        place -= 1
    act = acts[place]
    return _turn_id(act, act.cycles) if act.kind == "cycle" else act.id


def reading_minutes(test: Test, look: Look, n_judges: int) -> float:
    """Hands-on minutes to read one site at a look, all judges' together."""
    return sum(_minutes_of(read, n_judges) for read in test.reads if read.is_due_at(look))


def _minutes_of(read: Read, n_judges: int) -> float:
    views = len(read.views or ("",))
    if read.by == "judges":
        return MINUTES_PER_GRADE * views * n_judges
    return MINUTES_PER_MEASUREMENT * views * RESPONSES[read.response].n_readings


def _laid_and_lifted(test: Test, looks: Sequence[Look], times: int, n_judges: int) -> ExposureWork:
    half = MINUTES_PER_SPOT / 2
    return ExposureWork(
        id=test.id,
        lay_minutes_per_panel=half * times,
        duration_min=test.duration_min,
        tolerance_min=duration_tolerance_min(test.duration_min) if test.duration_min else _AT_ONCE_MIN,
        lift_minutes_per_panel=half * times,
        needs_heat_block="heat_block" in test.occupies,
        natures=test.natures,
        looks=tuple(
            LookTime(
                after_min=look.after_min,
                tolerance_min=look.give_or_take_min,
                minutes_per_panel=round(reading_minutes(test, look, n_judges) * times, 2),
            )
            for look in looks
            if reading_minutes(test, look, n_judges)
        ),
    )


class _Steps:
    """The works of a test's acts, one after the other, and where its looks come."""

    def __init__(self, test: Test, times: int, mend: MendTime | None) -> None:
        self.works: list[ActWork] = []
        # Of each act of the test the work that looks count from, and how much longer they wait.
        self.ends: dict[str, tuple[str, Window]] = {}
        self._times, self._mend = times, mend
        for act in test.acts:
            if act.by_family and mend is None:
                continue
            if act.kind == "wait":
                self._wait(act)
            elif act.kind == "cycle":
                self._turns(act)
            else:
                self._do(act.id, self._minutes(act), act.window_min, act)
            if self.works:
                self.ends[act.id] = self.works[-1].id, self._held_back
        if not test.acts:
            self.works = [ActWork(id=SET_OUT, minutes_per_panel=_SET_OUT_MIN * times)]
        self._last = next(reversed(self.ends.values()), (self.works[-1].id if self.works else "", (0.0, 0.0)))

    _held_back: Window = (0.0, 0.0)

    def lead(self, minutes: float) -> None:
        """Put what is measured beforehand in front."""
        self.works.insert(
            0, ActWork(id=BEFORE_ACT, minutes_per_panel=round(minutes, 2), then_min=(0.0, _BEFORE_MIN))
        )

    def moment_of(self, look: Look) -> tuple[str, tuple[float, float]]:
        """The work that a look comes after, and its window from the end of that, minutes."""
        after, (least, most) = self.ends.get(look.after, self._last) if look.after else self._last
        early = least + max(0.0, look.after_min - look.give_or_take_min)
        late = (least if most is None else most) + look.after_min + look.give_or_take_min
        return after, (early, max(early, late))

    def closed(self) -> tuple[ActWork, ...]:
        """The works; nothing comes after the last."""
        *others, last = self.works
        return (*others, replace(last, then_min=None, wanted_min=None))

    def _minutes(self, act: Act) -> float:
        minutes = act.hands_min if not (act.by_family and self._mend) else self._mend.hands_min
        return max(minutes, 0.05) * self._times

    def _do(self, name: str, minutes: float, window: Window, act: Act) -> None:
        held: Held | None = (
            "heat_block" if "heat_block" in act.occupies else "iron" if "iron" in act.occupies else None
        )
        wanted = act.lasts_min if act.then_min is None and act.lasts_min else None
        self.works.append(
            ActWork(
                id=name, minutes_per_panel=round(minutes, 3), then_min=window, wanted_min=wanted, occupies=held,
                is_hot="hot" in act.natures,
            )
        )  # fmt: skip
        self._held_back = (0.0, 0.0)

    def _turns(self, act: Act) -> None:
        pause = act.wet_min + act.dry_min
        for turn in range(1, act.cycles + 1):
            self._do(
                _turn_id(act, turn), self._minutes(act), (pause, _TURN_MOST_MIN), replace(act, lasts_min=0.0)
            )

    def _wait(self, act: Act) -> None:
        """A wait makes the one before longer; looks after it count from its end."""
        if not self.works:
            return
        least, most = act.window_min
        if act.by_family and self._mend is not None:
            least, most = self._mend.cure_min, None
        before = self.works[-1].then_min or (0.0, None)
        # What was to be done at once is done after the wait.
        self.works[-1] = replace(self.works[-1], then_min=(before[0] + least, most), wanted_min=None)
        self._held_back = (self._held_back[0] + least, most)
