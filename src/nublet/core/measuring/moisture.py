"""Moisture: the equilibrium of wood with its air, and when a panel has come to rest."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nublet.core.errors import CalculationError
from nublet.core.quantities import amount, say

REST_PCT_PER_DAY = 0.1


@dataclass(frozen=True, kw_only=True)
class ConditioningResult:
    """Whether a panel has come to rest.

    ``change_pct_per_day`` is the change over the last 24 h, in percent of the mass then. ``hours_left`` estimates
    the wait until it falls below the limit, ``None`` while the weighings do not tell.
    """

    is_at_rest: bool
    change_pct_per_day: float
    hours_left: float | None


def equilibrium_moisture_pct(temperature_c: float, humidity_pct: float) -> float:
    """Equilibrium moisture content of wood, percent of its dry mass.

    Parameters
    ----------
    temperature_c : float
        Dry-bulb temperature, °C, -1 to 132: the range of the published table.
    humidity_pct : float
        Relative humidity, %, 0 to 98.

    Raises
    ------
    CalculationError
        Outside those ranges.

    References
    ----------
    Hailwood and Horrobin, 1946, Trans. Faraday Soc. 42B; with the coefficients of "Wood Handbook", FPL-GTR-190, 2010,
    eq. 4-5.

    Examples
    --------
    >>> round(equilibrium_moisture_pct(21.1, 50), 1)
    9.2
    """
    if not -1.2 <= temperature_c <= 132.3:
        raise CalculationError(
            say(
                "{} is outside what is known. Give {} to {}.",
                amount("celsius", temperature_c),
                amount("celsius", -1, is_bare=True),
                amount("celsius", 132),
            ),
            field="temperature_c",
        )
    if not 0 <= humidity_pct <= 98:
        raise CalculationError(
            f"{humidity_pct:g} % RH is outside what is known. Give 0 to 98.", field="humidity_pct"
        )
    t, h = temperature_c, humidity_pct / 100
    w = 349 + 1.29 * t + 0.0135 * t**2
    k = 0.805 + 0.000736 * t - 0.00000273 * t**2
    k1 = 6.27 - 0.00938 * t - 0.000303 * t**2
    k2 = 1.91 + 0.0407 * t - 0.000293 * t**2
    kh = k * h
    return float(
        1800 / w * (kh / (1 - kh) + (k1 * kh + 2 * k1 * k2 * kh**2) / (1 + k1 * kh + k1 * k2 * kh**2))
    )


def follow_conditioning(
    hours: Sequence[float], masses_g: Sequence[float], *, limit_pct_per_day: float = REST_PCT_PER_DAY
) -> ConditioningResult:
    """Judge from weighings whether a panel's mass has come to rest.

    At rest: the mass has changed by less than the limit over the last 24 h, read by straight lines between the
    weighings. The wait is estimated from the last three weighings, taking the mass to approach its end exponentially.

    Parameters
    ----------
    hours : sequence of float, shape (n,)
        Times of the weighings, rising.
    masses_g : sequence of float, shape (n,)

    Raises
    ------
    CalculationError
        If there are fewer than two weighings, they span less than 24 h, or a mass is not above 0.
    """
    if len(hours) != len(masses_g) or len(hours) < 2:
        raise CalculationError("Give at least two weighings, each with its time.", field="weighings")
    times, masses = np.array(hours, dtype=float), np.array(masses_g, dtype=float)
    if not (np.diff(times) > 0).all():
        raise CalculationError("The times of the weighings must rise. Sort them.", field="weighings")
    if not (masses > 0).all():
        raise CalculationError("A mass must be above 0 g.", field="weighings")
    if times[-1] - times[0] < 24 - 1e-9:
        raise CalculationError(
            f"The weighings span {times[-1] - times[0]:g} h; rest is judged over 24 h. Weigh again later.",
            field="weighings",
        )
    day_before = float(np.interp(times[-1] - 24, times, masses))
    change = 100 * (masses[-1] - day_before) / day_before
    at_rest = bool(abs(change) < limit_pct_per_day)
    return ConditioningResult(
        is_at_rest=at_rest,
        change_pct_per_day=float(change),
        hours_left=0.0 if at_rest else _hours_left(times, masses, limit_pct_per_day),
    )


def _hours_left(times: np.ndarray, masses: np.ndarray, limit_pct: float) -> float | None:
    """Time until a day's change falls below the limit, from the change's decay between the last two spans."""
    if len(times) < 3:
        return None
    rates = np.diff(masses[-3:]) / np.diff(times[-3:])
    if rates[0] * rates[1] <= 0 or abs(rates[1]) >= abs(rates[0]):
        return None
    middles = (times[-3:-1] + times[-2:]) / 2
    decay_per_h = np.log(rates[0] / rates[1]) / (middles[1] - middles[0])
    # The change over the day that ends t hours from the last middle: |rate| (e^24d - 1) / d · e^(-dt).
    day_change_pct = 100 * abs(rates[1]) * np.expm1(24 * decay_per_h) / decay_per_h / masses[-1]
    return max(0.0, float(np.log(day_change_pct / limit_pct) / decay_per_h - (times[-1] - middles[1])))
