"""A test on one rule of time: what touches, heats or waits from when to when, and when it is looked at.

Minutes count from the first act. What is done before any act stands at 0.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from nublet.core.protocols.acts import Act
from nublet.core.protocols.looks import BARE, BEFORE, COATED, Look
from nublet.core.protocols.tests import Test

BarKind = Literal["contact", "hot", "waits"]


@dataclass(frozen=True, kw_only=True)
class Bar:
    """From when to when an act goes on; ``what`` is its id."""

    what: str
    kind: BarKind
    from_min: float
    to_min: float


@dataclass(frozen=True, kw_only=True)
class SeenAt:
    """A look's moment; ``is_two`` when something is read from two views or more then."""

    look: str
    at_min: float
    is_two: bool


@dataclass(frozen=True, kw_only=True)
class Timeline:
    """A test's bars and looks, and its whole length, minutes."""

    bars: tuple[Bar, ...]
    looks: tuple[SeenAt, ...]

    @property
    def length_min(self) -> float:
        """From the first act to the last bar's end or look."""
        return max([*(bar.to_min for bar in self.bars), *(look.at_min for look in self.looks)], default=0.0)


def timeline_of(test: Test, looks: Iterable[Look]) -> Timeline:
    """Lay a test on the rule of time.

    Examples
    --------
    >>> from nublet.core.protocols.shipped import TESTS
    >>> boil = TESTS["boil"]
    >>> found = timeline_of(boil, boil.looks)
    >>> [(bar.kind, bar.from_min, bar.to_min) for bar in found.bars], found.looks[0].at_min
    ([('hot', 0.0, 5.5), ('waits', 6.25, 726.25)], 726.25)
    """
    bars: list[Bar] = []
    ends: dict[str, float] = {}
    at = 0.0
    for act in test.acts:
        done = at + _hands(act)
        goes_on = act.cycles * (act.wet_min + act.dry_min) + act.lasts_min
        if goes_on:
            bars.append(
                Bar(what=act.id, kind=_kind(act), from_min=round(at, 3), to_min=round(done + goes_on, 3))
            )
        at = done + (0.0 if act.then_min is None else max(0.0, act.then_min[0] - goes_on)) + goes_on
        # What is laid or waited for ends with its time, all else when the hands are done.
        ends[act.id] = at if act.kind in ("wait", "cycle") else done
    last = next(reversed(ends.values()), 0.0)
    seen = []
    for look in looks:
        start = 0.0 if look.after in (BARE, BEFORE, COATED) else ends.get(look.after, last)
        views = max((len(read.views) for read in test.reads if read.is_due_at(look)), default=0)
        seen.append(SeenAt(look=look.id, at_min=round(start + look.after_min, 3), is_two=views > 1))
    return Timeline(bars=tuple(bars), looks=tuple(seen))


def _hands(act: Act) -> float:
    return 0.0 if act.kind == "wait" else act.hands_min * max(1, act.cycles)


def _kind(act: Act) -> BarKind:
    if act.is_hot:
        return "hot"
    return "contact" if act.declared.touches else "waits"
