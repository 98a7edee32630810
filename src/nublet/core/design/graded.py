"""What grading in whole steps does to what a design can show.

A panel's value x ~ N(m, σ²) is seen by J judges, each with noise e ~ N(0, τ²), who give the nearest step of the scale. The
panel's graded value is their mean g:

    E[g] = E_x[p(x)],    Var[g] = Var_x[p(x)] + E_x[v(x)] / J,    p(x) = Σ k P(k | x),  v(x) = Σ k² P(k | x) - p(x)²

Rounding adds to the spread in the middle of the scale (for one judge without noise σ² + 1/12, Sheppard 1898), and near its
ends the means draw together, so that a true difference is seen as a smaller one. Integrals on an even grid of ± 6 SD and, in the
middle, averaged over where the mean lies between two grades.

References
----------
Sheppard, W. F. (1898). On the calculation of the most probable values of frequency-constants, for data arranged according
to equidistant divisions of a scale. Proceedings of the London Mathematical Society 29, 353-380.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from scipy import optimize, special

from nublet.core.design.power import POWER, Comparison, notice_power
from nublet.core.errors import DesignError
from nublet.core.protocols.responses import GRADE, Response

# In steps of the scale.
JUDGE_NOISE_SD = 0.25
_NODES = 201
_REACH = 6.0


def graded_moments(
    mean: float, sd: float, *, n_judges: int, held: bool = True, scale: Response = GRADE
) -> tuple[float, float]:
    """Return mean and variance of a panel's graded value.

    Parameters
    ----------
    mean, sd : float
        Of the panel's own value, grades.
    n_judges : int
    held : bool
        Whether the scale ends where it ends.
    scale : Response
        With steps and ends.

    Examples
    --------
    >>> round(graded_moments(5.0, 0.6, n_judges=3)[0], 2)
    4.77
    """
    z = np.linspace(-_REACH, _REACH, _NODES)
    weight = np.exp(-0.5 * z * z)
    weight /= weight.sum()
    x = mean + sd * z
    step, (low, high) = _scale_of(scale)
    if not held:
        low, high = step * (math.floor(mean / step) - 8), step * (math.ceil(mean / step) + 8)
    grades = low + step * np.arange(round((high - low) / step) + 1)
    edges = special.ndtr((grades[:-1] + step / 2 - x[:, None]) / (step * JUDGE_NOISE_SD))
    below = np.hstack([edges, np.ones((len(x), 1))])
    share = np.diff(below, axis=1, prepend=0.0)
    seen = share @ grades
    spread = share @ grades**2 - seen**2
    centre = float(weight @ seen)
    return centre, float(weight @ (seen - centre) ** 2 + weight @ spread / n_judges)


@lru_cache(maxsize=256)
def graded_sd(sd: float, n_judges: int, scale: Response = GRADE) -> float:
    """The spread between panels as whole steps show it, in the middle of the scale; in its units."""
    step, (low, high) = _scale_of(scale)
    middle = (low + high) / 2
    variances = [
        graded_moments(middle + phase * step, sd, n_judges=n_judges, held=False, scale=scale)[1]
        for phase in np.linspace(0, 0.9, 10)
    ]
    return math.sqrt(float(np.mean(variances)))


def graded_power(
    difference: float,
    better: float,
    comparison: Comparison,
    sd: float,
    *,
    n_judges: int,
    scale: Response = GRADE,
) -> float:
    """Power of the told-apart rule for two build-ups, the better at ``better``, when panels are graded in whole steps.

    Each has its own graded mean and variance; the error that the evidence page pools is taken as their average.
    """
    high = graded_moments(better, sd, n_judges=n_judges, scale=scale)
    low = graded_moments(better - scale.sign * difference, sd, n_judges=n_judges, scale=scale)
    error = math.sqrt((high[1] + low[1]) / 2)
    return notice_power(max(scale.sign * (high[0] - low[0]), 0.0), comparison, error)


def smallest_near_the_top(
    comparison: Comparison, sd: float, *, n_judges: int, scale: Response = GRADE
) -> float | None:
    """The smallest true difference to a build-up at the best end of the scale noticed 8 times in 10; ``None`` if none is."""
    if comparison.residual_df == 0:
        return None

    def short(difference: float) -> float:
        return graded_power(difference, best, comparison, sd, n_judges=n_judges, scale=scale) - POWER

    low, high = _scale_of(scale)[1]
    best, widest = high if scale.sign > 0 else low, high - low
    if short(widest) < 0:
        return None
    return float(optimize.brentq(short, 0.0, widest, xtol=1e-4))


def _scale_of(scale: Response) -> tuple[float, tuple[float, float]]:
    """Its step and its ends. Raises ``DesignError`` for a measure, which is not read in steps."""
    if scale.step is None or scale.ends is None:
        raise DesignError(f"{scale.name} is not read in steps, so there is nothing that grading does to it.")
    return scale.step, scale.ends
