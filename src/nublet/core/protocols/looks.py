"""Looks: when a test is read, and what is read then."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from nublet.core.plain import Longest, Span
from nublet.core.protocols.agents import MAX_DURATION_MIN

View = Literal["square-on", "glancing", "down-the-length", "along", "across"]
VIEW_WORDS: dict[View, str] = {
    "square-on": "Square on",
    "glancing": "Lamp glancing",
    "down-the-length": "Down the length",
    "along": "Along the grain",
    "across": "Across the grain",
}
Reader = Literal["judges", "hands"]
READER_WORDS: dict[Reader, str] = {"judges": "Each judge, blind", "hands": "The hands at the bench"}
# What a look may come after beside an act: on the bare wood before the first coat; after the last coat was put on; just before the
# first act.
BARE, COATED, BEFORE = "bare", "coated", "before"
# A look's tolerance when nobody has said: a tenth, at least 10 min.
_SHARE, _LEAST_MIN = 0.1, 10.0
# A look so far away is a date in the calendar, not a sitting of the plan.
FAR_MIN = 14 * 24 * 60


@dataclass(frozen=True, kw_only=True)
class Look:
    """One reading occasion, ``after_min`` minutes after an act ended.

    Attributes
    ----------
    id, name : str
        One id means the same words and the same time throughout a protocol.
    after_min : float
    after : str
        Id of the act that it is counted from; empty for the last one, and of a test without acts from the cure. ``"bare"`` is
        before the first coat, ``"coated"`` counts from the last coat, ``"before"`` is just before the first act.
    tolerance_min : float or None
        How early or late it may be; by default a tenth of its time, at least 10 min.
    """

    id: Annotated[str, Longest(30)]
    name: Annotated[str, Longest(60)]
    after_min: Annotated[float, Span(0, MAX_DURATION_MIN, "min")]
    after: Annotated[str, Longest(60)] = ""
    tolerance_min: Annotated[float | None, Span(0, MAX_DURATION_MIN, "min")] = None

    @property
    def give_or_take_min(self) -> float:
        """How early or late it may be, minutes."""
        return look_tolerance_min(self.after_min) if self.tolerance_min is None else self.tolerance_min

    @property
    def is_before(self) -> bool:
        """Whether it is read before anything is done."""
        return self.after in (BARE, BEFORE)

    @property
    def is_far(self) -> bool:
        """Whether it is so far away that it is a date in the calendar."""
        return not self.is_before and self.after_min >= FAR_MIN


@dataclass(frozen=True, kw_only=True)
class Read:
    """What is read at a test's looks.

    Attributes
    ----------
    response : str
        Id of a scale or measure.
    by : Reader
    views : tuple of View
        From where; each keeps a value of its own. Empty for one value, from wherever it is seen best.
    looks : tuple of str
        Ids of the looks at which it is read; empty for all.
    """

    response: Annotated[str, Longest(30)]
    by: Reader = "judges"
    views: tuple[View, ...] = ()
    looks: tuple[str, ...] = ()

    def is_due_at(self, look: Look) -> bool:
        """Whether it is read at a look."""
        return not self.looks or look.id in self.looks


def look_tolerance_min(minutes: float) -> float:
    """How far from its time a look may be, either way: a tenth, at least 10 min."""
    return max(_LEAST_MIN, _SHARE * minutes)
