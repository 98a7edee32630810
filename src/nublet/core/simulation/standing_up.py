"""How finishes that do not exist stand up to what is done to them: one model for every test of the language.

A test meets a finish with one **challenge**, told by its agent's nature and group (a table of eleven), at a **severity** in steps
above the usual one::

    condition(f, t) = R[f, c] - slope[c] * severity(t)

R[f, c] is the grade that family f would have after the usual exposure to challenge c; severity is log10 of minutes over the usual
minutes (a third of a step less in the open, where a liquid dries), 30 °C a step for heat, log10 of strokes or turns over the usual
number. 5 is untouched, and a condition may be better than that: what is not even near a mark at a milder step. What is seen soon
after lifting is worse by what recovers. Nothing here knows a test by name. The numbers are invented, in keeping with how the
families behave; they are claims about nothing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from nublet.core.materials.families import FAMILIES, Family
from nublet.core.protocols.agents import known_agent
from nublet.core.protocols.looks import Look
from nublet.core.protocols.tests import Test

Challenge = Literal[
    "water", "alcohol", "acid", "dye", "wet-heat", "dry-heat", "alkali", "oil", "solvent", "wear", "weather"
]
NOT_YET_RECOVERED = 0.7
_RECOVERED_AFTER_MIN = 120.0
_OPEN_STEPS = 1 / 3
_DEGREES_A_STEP = 30.0


@dataclass(frozen=True)
class _Usual:
    """What is usual of a challenge: minutes, °C or times; how much a step harsher costs; what share of a fresh mark recovers."""

    minutes: float | None = None
    degrees: float | None = None
    times: float | None = None
    slope: float = 0.8
    recovers: float = 0.1


_USUAL: dict[Challenge, _Usual] = {
    "water": _Usual(minutes=360, slope=0.7, recovers=0.6),
    "alcohol": _Usual(minutes=60, slope=0.9, recovers=0.3),
    "acid": _Usual(minutes=60, slope=0.7),
    "dye": _Usual(minutes=60, slope=0.7),
    "wet-heat": _Usual(degrees=70, slope=0.9, recovers=0.7),
    "dry-heat": _Usual(degrees=100, slope=0.8, recovers=0.4),
    "alkali": _Usual(minutes=10, slope=0.8),
    "oil": _Usual(minutes=60, slope=0.4, recovers=0.2),
    "solvent": _Usual(minutes=1, slope=1.0, recovers=0.1),
    "wear": _Usual(times=15, slope=0.8, recovers=0.0),
    "weather": _Usual(minutes=262_980, slope=1.6, recovers=0.0),
}
_ORDER: tuple[Challenge, ...] = (
    "water", "alcohol", "acid", "dye", "wet-heat", "dry-heat", "alkali", "oil", "solvent", "wear", "weather",
)  # fmt: skip


def _row(*values: float) -> dict[Challenge, float]:
    return dict(zip(_ORDER, values, strict=True))


_BARE = _row(1.6, 2.3, 1.2, 1.4, 2.5, 3.6, 1.8, 2.0, 4.2, 2.2, 2.2)
_STANDS_UP: dict[str, dict[Challenge, float]] = {
    "non-drying-oil": _row(2.8, 2.4, 2.0, 2.1, 3.2, 3.8, 2.2, 4.2, 3.6, 2.6, 2.0),
    "pure-drying-oil": _row(3.9, 3.0, 3.0, 3.1, 3.8, 4.1, 2.8, 4.4, 3.8, 3.0, 2.6),
    "oil-varnish-blend": _row(4.6, 3.8, 4.3, 4.4, 4.2, 4.4, 3.6, 4.7, 3.2, 3.4, 2.8),
    "hardwax-2k": _row(4.9, 4.1, 4.4, 4.6, 4.7, 4.7, 4.0, 4.8, 4.2, 3.9, 3.0),
    "waterborne-clear": _row(4.9, 4.2, 4.8, 4.7, 4.3, 4.3, 4.2, 4.9, 1.8, 3.8, 3.2),
    "shellac-dewaxed": _row(3.1, 1.2, 3.9, 3.6, 2.3, 2.8, 1.6, 4.6, 1.6, 3.0, 1.6),
    # Rinsed off: the wood is as bare as before.
    "wood-wash": _BARE,
    "wax": _row(2.6, 2.2, 2.4, 2.4, 2.0, 2.6, 2.0, 3.0, 1.8, 2.4, 1.8),
    "hydrophobic-topcoat": _row(4.9, 4.4, 4.7, 4.7, 4.5, 4.4, 4.3, 4.9, 4.4, 3.7, 3.4),
}  # fmt: skip
_OTHERS = _row(4.2, 3.5, 4.0, 4.0, 3.9, 4.1, 3.4, 4.6, 3.2, 3.5, 2.9)


def challenge_of(test: Test) -> Challenge:
    """What a test puts a finish to, by its agent's nature and group.

    Examples
    --------
    >>> from nublet.core.protocols.shipped import TESTS
    >>> [challenge_of(TESTS[name]) for name in ("red-wine-1h", "iron-200", "damp-25", "acetone-10s", "milk-1h")]
    ['acid', 'dry-heat', 'water', 'solvent', 'dye']
    """
    words = test.agent.casefold()
    agent = known_agent(words)
    if test.group == "outdoors" or "weather" in words or "daylight" in words:
        return "weather"
    if test.is_hot:
        return "wet-heat" if any(word in words for word in ("damp", "wet", "boil")) else "dry-heat"
    if "flammable" in test.natures:
        return "solvent" if "acetone" in words or "solvent" in words else "alcohol"
    if "acid" in test.natures:
        return "acid"
    if test.natures & {"ammonia", "bleach"}:
        return "alkali"
    if any(word in words for word in ("oil", "cream", "butter", "grease")):
        return "oil"
    if test.group in ("wear", "repair") and any(act.kind in ("stroke", "damage") for act in test.acts):
        return "wear"
    is_water = test.group == "water" or (agent is not None and agent.group == "water") or "water" in words
    if is_water or test.group in ("wear", "repair"):
        return "water"
    return "dye"


def severity(test: Test) -> float:
    """How many steps harsher than usual a test is; below 0 for a milder one."""
    usual = _USUAL[challenge_of(test)]
    degrees, minutes, times = test.harshness
    if usual.degrees is not None:
        return ((degrees or usual.degrees) - usual.degrees) / _DEGREES_A_STEP + _short(test)
    if usual.times is not None:
        return math.log10(max(1.0, times or usual.times) / usual.times)
    found = math.log10(max(minutes, 0.05) / (usual.minutes or 60.0)) if minutes else 0.0
    is_liquid = test.group in ("stain", "water", "contact") and test.site.kind == "spot"
    return found - (_OPEN_STEPS if is_liquid and not test.covered else 0.0)


def _short(test: Test) -> float:
    """Heat that is on for less than 20 min does less: a step for each factor of ten."""
    return min(0.0, math.log10(max(test.duration_min, 0.05) / 20.0)) if test.duration_min else 0.0


def condition(family: str | None, test: Test) -> float:
    """The invented condition of a family, ``None`` for bare wood, after a test, before chance; 5 and more is untouched."""
    rows = _BARE if family is None else _STANDS_UP.get(family, _OTHERS)
    challenge = challenge_of(test)
    return rows[challenge] - _USUAL[challenge].slope * severity(test)


def fresh_loss(test: Test, look: Look) -> float:
    """By how much worse it looks while it has not recovered yet."""
    left = max(0.0, 1.0 - look.after_min / _RECOVERED_AFTER_MIN)
    return NOT_YET_RECOVERED * _USUAL[challenge_of(test)].recovers * left


def against_water(family: str | None) -> float:
    """How a family stands up to standing water: what beads, soaks and drinks goes by it."""
    return (_BARE if family is None else _STANDS_UP.get(family, _OTHERS))["water"]


def family_of(family: str | None) -> Family | None:
    """The family by its id; ``None`` for bare wood."""
    return None if family is None else FAMILIES.get(family)
