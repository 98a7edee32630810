"""The cure clock: how far a finish has cured, from the temperature and humidity that it has had.

Label times hold near 20 °C and 50 % RH. A rule of thumb adjusts them: the rate halves for each 10 °C colder, and damp air
slows what dries from water, by half again as much time at 75 % RH and twice at 100 %. Warmth and dry air never count as
faster than the label. Always an estimate.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.errors import CalculationError
from nublet.core.quantities import amount, say

LABEL_C = 20.0
LABEL_RH = 50.0
# Below this most finishes stop setting at all.
COLDEST_C = 5.0


@dataclass(frozen=True, kw_only=True)
class Spell:
    """A stretch of time at one temperature and humidity."""

    hours: float
    temperature_c: float
    humidity_pct: float


@dataclass(frozen=True, kw_only=True)
class CureResult:
    """How far cured, 0 to 1; hours still to go at the last spell's climate (``None`` if it never will); the elapsed hours."""

    progress: float
    hours_left: float | None
    elapsed_h: float


def cure_rate(temperature_c: float, humidity_pct: float, *, from_water: bool) -> float:
    """Rate of cure as a share of the label's, at most 1, 0 below 5 °C.

    Examples
    --------
    >>> cure_rate(10, 50, from_water=False)
    0.5
    >>> cure_rate(30, 20, from_water=True)
    1.0
    """
    if not -60 <= temperature_c <= 100:
        raise CalculationError(
            say(
                "{} is no shop's temperature. Give {} to {}.",
                amount("celsius", temperature_c),
                amount("celsius", -60, is_bare=True),
                amount("celsius", 100),
            ),
            field="temperature_c",
        )
    if not 0 <= humidity_pct <= 100:
        raise CalculationError(f"{humidity_pct:g} % RH cannot be. Give 0 to 100.", field="humidity_pct")
    if temperature_c < COLDEST_C:
        return 0.0
    rate = min(1.0, 2 ** ((temperature_c - LABEL_C) / 10))
    if from_water and humidity_pct > LABEL_RH:
        rate /= 1 + (humidity_pct - LABEL_RH) / 50
    return float(rate)


def follow_cure(label_cure_h: float, spells: Sequence[Spell], *, from_water: bool) -> CureResult:
    """Add up the cure over spells of climate.

    Parameters
    ----------
    label_cure_h : float
        The label's time to full cure, hours at 20 °C and 50 % RH.
    spells : sequence of Spell
        In order; the last one's climate is taken to go on.
    from_water : bool
        Whether the product dries from water.

    Raises
    ------
    CalculationError
        If a figure is out of range or there is no spell.
    """
    if not (math.isfinite(label_cure_h) and label_cure_h > 0):
        raise CalculationError(
            f"A cure of {label_cure_h:g} h cannot be followed. Give more than 0.", field="cure_d"
        )
    if not spells:
        raise CalculationError(
            "Give at least one spell of time with its temperature and humidity.", field="spells"
        )
    progress = 0.0
    rate = 0.0
    for spell in spells:
        if not spell.hours >= 0:
            raise CalculationError(f"A spell of {spell.hours:g} h cannot be. Give 0 or more.", field="spells")
        rate = cure_rate(spell.temperature_c, spell.humidity_pct, from_water=from_water)
        progress += spell.hours * rate / label_cure_h
    left = max(0.0, 1 - progress) * label_cure_h
    return CureResult(
        progress=min(1.0, progress),
        hours_left=0.0 if left == 0 else left / rate if rate > 0 else None,
        elapsed_h=sum(spell.hours for spell in spells),
    )
