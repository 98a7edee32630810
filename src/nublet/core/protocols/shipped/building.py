"""What the shipped tests are put together from: looks, ways of wiping, spans of time in words."""

from __future__ import annotations

from nublet.core.protocols.acts import Act
from nublet.core.protocols.looks import BARE, BEFORE, Look, Read, View
from nublet.core.protocols.spot_tests import CLOTH
from nublet.core.quantities import in_unit

HOUR, DAY = 60.0, 1440.0
MONTH = 30.4375 * DAY
BOTH: tuple[View, ...] = ("square-on", "glancing")

ON_BARE = Look(id="bare", name="Bare wood", after_min=0, after=BARE)
JUST_BEFORE = Look(id="before", name="Just before", after_min=0, after=BEFORE)
LIFTED = Look(id="lifted", name="At lifting", after_min=0)
AT_ONCE = Look(id="at-once", name="At once", after_min=0)
CURED = Look(id="cured", name="When cured", after_min=0)
AFTER_20_MIN = Look(id="20min", name="20 min", after_min=20)
DAY_AFTER = Look(id="24h", name="24 h", after_min=DAY)
USUAL_LOOKS = (LIFTED, AFTER_20_MIN, DAY_AFTER)

MARK = (Read(response="grade", views=BOTH), Read(response="change-kinds"))
COLOUR = Read(response="colour", by="hands")


def after(look: Look, act: str) -> Look:
    """The look, counted from another act."""
    return Look(
        id=look.id, name=look.name, after_min=look.after_min, after=act, tolerance_min=look.tolerance_min
    )


def hours_after(hours: float, act: str = "") -> Look:
    """A look some hours after an act; a day and more is told in days."""
    if hours < 48:
        return Look(id=f"{hours:g}h", name=f"{hours:g} h", after_min=hours * HOUR, after=act)
    days = hours / 24
    return Look(id=f"{days:g}d", name=f"{days:g} d", after_min=hours * HOUR, after=act)


def months_after(months: int, act: str) -> Look:
    """A look some months after an act, a week early or late."""
    return Look(
        id=f"{months}mo",
        name=f"{months} months",
        after_min=round(months * MONTH),
        after=act,
        tolerance_min=7 * DAY,
    )


def lifted(how: str = CLOTH) -> Act:
    """Lifting and wiping."""
    return Act(id="lift", kind="lift", how=how)


def span_words(minutes: float) -> str:
    """A span of time as a person says it.

    Examples
    --------
    >>> span_words(0.133), span_words(0.167), span_words(10), span_words(360), span_words(1440)
    ('8 s', '10 s', '10 min', '6 h', '24 h')
    """
    if minutes < 1:
        return f"{round(minutes * 60):d} s"
    if minutes < 60:
        return f"{minutes:g} min"
    return f"{minutes / 60:g} h"


def degrees(temperature_c: float) -> str:
    """A temperature in the metric words of a test's name."""
    return in_unit(temperature_c, "°C").text


def span_id(minutes: float) -> str:
    """The same for an id: ``"6h"``."""
    return span_words(minutes).replace(" ", "").replace(".", "-")
