"""Metric and US units for every quantity on screen: exact factors, and a conversion that comes back to what was typed.

The core and the database hold metric values only. A US value is ``metric × factor + offset``. Factors come from the
definitions of the units (inch 25.4 mm, pound 453.59237 g, US gallon 231 in³) by way of pint, as fractions.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from nublet.core.quantities import METRIC_SIGNS, Quantity

# A value carries at most this many significant digits through a conversion, so that rounding errors never show.
SIGNIFICANT_DIGITS = 12

# quantity: its metric unit and its US unit as pint knows them, and the US unit's sign. Other quantities are the same in both.
# A price by the unit is divided by it.
_UNITS: dict[Quantity, tuple[str, str, str]] = {
    "millilitres": ("mL", "US_fluid_ounce", "fl oz"),
    "litres": ("L", "gallon", "gal"),
    "grams": ("g", "ounce", "oz"),
    "millimetres": ("mm", "inch", "in"),
    "micrometres": ("um", "thou", "mil"),
    "square_metres": ("m^2", "ft^2", "ft²"),
    "celsius": ("degC", "degF", "°F"),
    "spread_m2_per_l": ("m^2/L", "ft^2/gallon", "ft²/gal"),
    "g_per_l": ("g/L", "pound/gallon", "lb/gal"),
    "g_per_m2": ("g/m^2", "ounce/ft^2", "oz/ft²"),
    "g_per_ml": ("g/mL", "pound/gallon", "lb/gal"),
    "price_per_l": ("1/L", "1/gallon", "/gal"),
    "price_per_m2": ("1/m^2", "1/ft^2", "/ft²"),
    "kg_per_m3": ("kg/m^3", "pound/ft^3", "lb/ft³"),
    "newtons": ("N", "pound_force", "lbf"),
}


@dataclass(frozen=True, kw_only=True)
class ScreenUnit:
    """How a quantity shows: the metric sign, the US sign, and US = metric × ``factor`` + ``offset``."""

    quantity: str
    metric: str
    us: str
    factor: float
    offset: float


@lru_cache
def screen_units() -> dict[str, ScreenUnit]:
    """All quantities with both units. Raises nothing; loads pint at the first call."""
    # pint takes most of a second to load, and only the server needs it.
    import pint

    registry: pint.UnitRegistry[Fraction] = pint.UnitRegistry(non_int_type=Fraction)
    found: dict[str, ScreenUnit] = {}
    for name, sign in METRIC_SIGNS.items():
        if name not in _UNITS:
            found[name] = ScreenUnit(quantity=name, metric=sign, us=sign, factor=1, offset=0)
            continue
        metric, us, us_sign = _UNITS[name]
        zero = Fraction(registry.Quantity(Fraction(0), metric).to(us).magnitude)
        one = Fraction(registry.Quantity(Fraction(1), metric).to(us).magnitude)
        found[name] = ScreenUnit(
            quantity=name, metric=sign, us=us_sign, factor=float(one - zero), offset=float(zero)
        )
    return found


def to_us(quantity: str, value: float) -> float:
    """A metric value in the US unit of its quantity, to 12 significant digits.

    Examples
    --------
    >>> to_us("celsius", 100.0)
    212.0
    >>> to_us("millilitres", 29.5735295625)
    1.0
    """
    unit = screen_units()[quantity]
    return _rounded(value * unit.factor + unit.offset)


def to_metric(quantity: str, value: float) -> float:
    """A US value in the metric unit of its quantity, unrounded: :func:`to_us` of it gives back what was typed."""
    unit = screen_units()[quantity]
    return (value - unit.offset) / unit.factor


def _rounded(value: float) -> float:
    return float(f"{value:.{SIGNIFICANT_DIGITS - 1}e}")
