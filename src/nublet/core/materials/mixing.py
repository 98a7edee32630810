"""Mixing by parts, batches within pot life, thinning, blends, shellac cuts."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.errors import CalculationError

# 1 lb (0.45359237 kg) per US gallon (3.785411784 L), both exact by definition.
G_PER_L_OF_ONE_POUND_CUT = 453.59237 / 3.785411784
# Flakes take room in the alcohol that they dissolve in.
SHELLAC_DENSITY_G_PER_ML = 1.1
# Mixed product thickens before its pot life ends; this share of it is for working.
WORKING_SHARE = 0.8


@dataclass(frozen=True, kw_only=True)
class MixResult:
    """Amounts of each part, in order, as whole multiples of the measure's resolution.

    ``steps`` counts those multiples; ``amounts`` and ``total`` are in the unit of the resolution. ``worst_error_pct``
    is the largest deviation of a part from its exact share, in percent of that share.
    """

    amounts: tuple[float, ...]
    steps: tuple[int, ...]
    total: float
    worst_error_pct: float


@dataclass(frozen=True, kw_only=True)
class Batch:
    """One mix within pot life: how many panels, how much (mL), when mixed and when it must be used up, in minutes."""

    panels: int
    total_ml: float
    mixed_at_min: float
    use_by_min: float
    done_at_min: float


def mix_by_parts(shares: Sequence[float], total: float, *, resolution: float) -> MixResult:
    """Measure out a mix so that the parts sum to the total and each is within one resolution of its share.

    The total is rounded up to a whole number of resolutions; what is left over by rounding the parts down goes to the parts
    with the largest remainders (Hamilton's method of apportionment).

    Parameters
    ----------
    shares : sequence of float
        Parts of the ratio, such as (9, 1); by volume or by weight, as the total is measured.
    total : float
        How much is wanted, in mL or g.
    resolution : float
        Smallest step of the syringe, cup or scale, in the same unit.

    Returns
    -------
    MixResult

    Raises
    ------
    CalculationError
        If a share, the total or the resolution is not above 0, or the total is so small that a part would be left out.

    Examples
    --------
    >>> mix_by_parts((9, 1), 45, resolution=0.5).amounts
    (40.5, 4.5)
    """
    _above_zero(total, "total")
    _above_zero(resolution, "resolution")
    if not shares:
        raise CalculationError("A mix has at least one part.", field="shares")
    for share in shares:
        _above_zero(share, "shares")
    n = max(1, math.ceil(total / resolution - 1e-9))
    if n > 10_000_000:
        raise CalculationError(
            f"{total:g} in steps of {resolution:g} is too fine to measure. Use a coarser step.",
            field="resolution",
        )
    whole = math.fsum(shares)
    exact = [n * share / whole for share in shares]
    steps = [math.floor(value + 1e-9) for value in exact]
    by_remainder = sorted(range(len(shares)), key=lambda i: (steps[i] - exact[i], i))
    for index in by_remainder[: n - sum(steps)]:
        steps[index] += 1
    if min(steps) == 0:
        smallest = smallest_mix(shares, resolution=resolution)
        raise CalculationError(
            f"{total:g} is too little to measure in steps of {resolution:g}: a part would be left out. The smallest sensible "
            f"mix is {smallest:g}.",
            field="total",
        )
    return MixResult(
        amounts=tuple(step * resolution for step in steps),
        steps=tuple(steps),
        total=n * resolution,
        worst_error_pct=max(
            100 * abs(step - value) / value for step, value in zip(steps, exact, strict=True)
        ),
    )


def smallest_mix(shares: Sequence[float], *, resolution: float, tolerance_pct: float = 5.0) -> float:
    """Return the total from which on every part is within the tolerance of its share, whatever the total.

    Rounding moves a part by less than one resolution times (1 - 1/k) for k parts, so the smallest part must be that over the
    tolerance.
    """
    _above_zero(resolution, "resolution")
    _above_zero(tolerance_pct, "tolerance_pct")
    if len(shares) < 2:
        return resolution
    smallest_share = min(shares) / math.fsum(shares)
    steps = (1 - 1 / len(shares)) * 100 / tolerance_pct / smallest_share
    return math.ceil(steps - 1e-9) * resolution


def weight_shares(shares: Sequence[float], densities_g_per_ml: Sequence[float]) -> tuple[float, ...]:
    """Turn a ratio by volume into one by weight, with each part's density."""
    if len(shares) != len(densities_g_per_ml):
        raise CalculationError("Give one density for each part.", field="densities")
    for density in densities_g_per_ml:
        _above_zero(density, "densities")
    return tuple(share * density for share, density in zip(shares, densities_g_per_ml, strict=True))


def plan_batches(
    n_panels: int,
    *,
    ml_per_panel: float,
    minutes_per_panel: float,
    pot_life_min: float,
    working_share: float = WORKING_SHARE,
) -> list[Batch]:
    """Split a coat into mixes that are used up within their pot life, as even as can be.

    Parameters
    ----------
    n_panels : int
    ml_per_panel, minutes_per_panel : float
        What one panel takes, waste included.
    pot_life_min : float
    working_share : float
        Share of the pot life that is worked with; the rest is for thickening.

    Raises
    ------
    CalculationError
        If not even one panel is done within the pot life, or a figure is not above 0.
    """
    for name, value in (
        ("n_panels", n_panels),
        ("ml_per_panel", ml_per_panel),
        ("minutes_per_panel", minutes_per_panel),
        ("pot_life_min", pot_life_min),
        ("working_share", working_share),
    ):
        _above_zero(value, name)
    usable = pot_life_min * min(1.0, working_share)
    at_most = math.floor(usable / minutes_per_panel + 1e-9)
    if at_most < 1:
        raise CalculationError(
            f"One panel takes {minutes_per_panel:g} min and the mix can be worked for {usable:g} min. Use smaller panels, more "
            "hands, or a slower hardener.",
            field="pot_life_min",
        )
    n_batches = math.ceil(n_panels / at_most)
    batches: list[Batch] = []
    start = 0.0
    for index in range(n_batches):
        panels = n_panels // n_batches + (1 if index < n_panels % n_batches else 0)
        done = start + panels * minutes_per_panel
        batches.append(
            Batch(
                panels=panels,
                total_ml=panels * ml_per_panel,
                mixed_at_min=start,
                use_by_min=start + pot_life_min,
                done_at_min=done,
            )
        )
        start = done
    return batches


def thin_to(*, have_pct: float, want_pct: float, total_ml: float) -> tuple[float, float]:
    """Return (mL of stock, mL of thinner) for a total at a weaker strength: C1·V1 = C2·V2.

    Examples
    --------
    >>> thin_to(have_pct=48, want_pct=12, total_ml=100)
    (25.0, 75.0)
    """
    _above_zero(have_pct, "have_pct")
    _above_zero(want_pct, "want_pct")
    _above_zero(total_ml, "total_ml")
    if want_pct > have_pct:
        raise CalculationError(
            f"Thinning cannot make {have_pct:g} % stronger. Ask for less than that.", field="want_pct"
        )
    stock = total_ml * want_pct / have_pct
    return stock, total_ml - stock


def shellac_for_alcohol(alcohol_ml: float, cut_g_per_l: float) -> float:
    """Grams of flakes for an amount of alcohol at a cut, g per litre of alcohol."""
    _above_zero(alcohol_ml, "alcohol_ml")
    _above_zero(cut_g_per_l, "cut")
    return alcohol_ml / 1000 * cut_g_per_l


def alcohol_for_shellac(flakes_g: float, cut_g_per_l: float) -> float:
    """Millilitres of alcohol for an amount of flakes at a cut, g per litre of alcohol."""
    _above_zero(flakes_g, "flakes_g")
    _above_zero(cut_g_per_l, "cut")
    return 1000 * flakes_g / cut_g_per_l


def _above_zero(value: float, field: str) -> None:
    if not (math.isfinite(value) and value > 0):
        raise CalculationError(f"{field.replace('_', ' ')} is {value:g}; give more than 0.", field=field)
