"""Weighings: what was put on, how thick it lies, how much water went in."""

from __future__ import annotations

import math
from dataclasses import dataclass

from nublet.core.errors import CalculationError
from nublet.core.quantities import amount, say


@dataclass(frozen=True, kw_only=True)
class FilmResult:
    """What a coat left: g/m², and the film in µm wet and dry, which is nominal for a finish that is in the wood."""

    applied_g_per_m2: float
    wet_um: float
    dry_um: float


def film_from_weighings(
    before_g: float, after_g: float, *, area_m2: float, density_g_per_ml: float, solids_pct: float
) -> FilmResult:
    """Film from the panel's weight before and just after a coat.

    (after - before) / area is g/m²; one g/m² at 1 g/mL is 1 µm wet; dry = wet × solids by volume.

    Raises
    ------
    CalculationError
        If the panel lost weight, or a figure is out of range.

    Examples
    --------
    >>> film_from_weighings(500, 505, area_m2=0.1, density_g_per_ml=1.0, solids_pct=40)
    FilmResult(applied_g_per_m2=50.0, wet_um=50.0, dry_um=20.0)
    """
    _positive(area_m2, "area_m2")
    _positive(density_g_per_ml, "density_g_per_ml")
    if not 0 <= solids_pct <= 100:
        raise CalculationError(f"Solids are {solids_pct:g} %; give 0 to 100.", field="solids_pct")
    gained = _gain(before_g, after_g)
    applied = gained / area_m2
    wet = applied / density_g_per_ml
    return FilmResult(applied_g_per_m2=applied, wet_um=wet, dry_um=wet * solids_pct / 100)


def water_uptake(before_g: float, after_g: float, *, ring_diameter_mm: float) -> float:
    """Water taken up, g/m² over the wetted ring: the idea of ISO 535 (Cobb), by ring and weight.

    Examples
    --------
    >>> round(water_uptake(500, 500.5, ring_diameter_mm=100), 1)
    63.7
    """
    return _gain(before_g, after_g) / ring_area_m2(ring_diameter_mm)


def ring_area_m2(ring_diameter_mm: float) -> float:
    """The area that a ring wets, m²."""
    _positive(ring_diameter_mm, "ring_diameter_mm")
    return math.pi * (ring_diameter_mm / 2000) ** 2


def _gain(before_g: float, after_g: float) -> float:
    _positive(before_g, "before_g")
    _positive(after_g, "after_g")
    if after_g < before_g:
        raise CalculationError(
            say(
                "The panel weighs less after ({}) than before ({}). Check that it is the same panel and that the two are not "
                "swapped.",
                amount("grams", after_g),
                amount("grams", before_g),
            ),
            field="after_g",
        )
    return after_g - before_g


def _positive(value: float, field: str) -> None:
    if not (math.isfinite(value) and value > 0):
        raise CalculationError(f"{field.replace('_', ' ')} is {value:g}; give more than 0.", field=field)
