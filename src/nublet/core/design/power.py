"""What a design can show before any wood is cut: the smallest difference that it will notice 8 times in 10.

The evidence page calls two build-ups told apart when their difference passes the Tukey–Kramer test at 0.05 over all
build-ups of the trial. What is promised here is the power of just that rule for one given pair,

    P( |T| > q / √2 ),   T ~ noncentral t(df, δ / SED),   SED = σ √(2 / (r E)),

with q the 0.95 quantile of the studentized range for v build-ups on df degrees of freedom, r the panels of each
build-up, E the efficiency factor of the blocks (1 for complete blocks), σ the standard deviation between panels of one
board, and df = n - v - b + 1 for n panels on b boards. The power of a pair that is named before anything is cut, judged by
a plain t test at 0.05, is larger and given beside it.

References
----------
Hayter, A. J. (1984), A proof of the conjecture that the Tukey–Kramer multiple comparisons procedure is conservative,
Annals of Statistics 12, 61-75. Cohen, J. (1988), Statistical Power Analysis, ch. 2 (noncentral t). Montgomery, D. C.
(2017), Design and Analysis of Experiments, 9th ed., section 4.4 (efficiency of balanced incomplete blocks).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from scipy import optimize, special

from nublet.core.design.incomplete import efficiency
from nublet.core.errors import DesignError
from nublet.core.evidence.studentized_range import studentized_range_quantile
from nublet.core.protocols.responses import GRADE

DEFAULT_SD = 0.6
WORTH_KNOWING = 1.0
POWER = 0.8
ALPHA = 0.05
Rule = Literal["told_apart", "named_pair"]
_LARGEST_NCP = 40.0


@dataclass(frozen=True, kw_only=True)
class Comparison:
    """How precisely a design compares two build-ups on one species.

    ``n_build_ups`` stand ``n_boards * block_size / n_build_ups`` times each, ``block_size`` on each board.
    """

    n_build_ups: int
    n_boards: int
    block_size: int

    @property
    def replicates(self) -> float:
        """Panels of each build-up."""
        return self.n_boards * self.block_size / self.n_build_ups

    @property
    def residual_df(self) -> int:
        """Degrees of freedom left for the spread between panels; 0 when nothing is left."""
        return max(0, self.n_boards * self.block_size - self.n_build_ups - self.n_boards + 1)

    def sed(self, sd: float) -> float:
        """Standard error of a difference between two build-ups, in the unit of ``sd``."""
        return sd * math.sqrt(2 / (self.replicates * efficiency(self.n_build_ups, self.block_size)))


@dataclass(frozen=True, kw_only=True)
class Spread:
    """The standard deviation between panels of one board that a promise rests on, and where it comes from.

    ``source`` is ``"usual"`` for the default, ``"own_trials"`` when pooled over finished trials, ``"given"`` when a person
    typed it. ``residual_df`` and ``n_trials`` say how much stands behind a pooled one.
    """

    sd: float = DEFAULT_SD
    source: Literal["usual", "own_trials", "given"] = "usual"
    residual_df: int = 0
    n_trials: int = 0

    @property
    def says(self) -> str:
        """Where it comes from, in words."""
        if self.source == "usual":
            return f"taking the usual spread between panels, SD {self.sd:.2g} grades"
        if self.source == "given":
            return f"taking the SD of {self.sd:.3g} grades that you gave"
        trials = (
            "your own finished trial" if self.n_trials == 1 else f"your own {self.n_trials} finished trials"
        )
        return f"taking SD {self.sd:.2f} grades, pooled from {trials} ({self.residual_df} degrees of freedom)"


def notice_power(difference: float, comparison: Comparison, sd: float, *, rule: Rule = "told_apart") -> float:
    """Return the probability that a true difference between two build-ups is noticed.

    Parameters
    ----------
    difference : float
        True difference of the two means, grades.
    comparison : Comparison
    sd : float
        Between panels of one board, grades.
    rule : "told_apart" or "named_pair"
        The evidence page's rule over all pairs, or a plain t test of one pair named beforehand.

    Returns
    -------
    float
        0 to 1; 0 when no degrees of freedom are left, 1 for an SD of 0.

    Raises
    ------
    DesignError
        If the SD or the difference is not a number of at least 0.

    Examples
    --------
    >>> four_of_five = Comparison(n_build_ups=5, n_boards=4, block_size=5)
    >>> round(notice_power(1.3, four_of_five, 0.6, rule="named_pair"), 2)
    0.8
    >>> round(notice_power(1.3, four_of_five, 0.6), 2)
    0.48
    """
    _check(sd, difference)
    df = comparison.residual_df
    if df == 0:
        return 0.0
    critical = _critical(comparison.n_build_ups, df, rule)
    if sd == 0:
        return 1.0 if difference > 0 else 0.0
    return _power(difference / comparison.sed(sd), critical, df)


def smallest_difference(
    comparison: Comparison, sd: float, *, rule: Rule = "told_apart", power: float = POWER
) -> float | None:
    """Return the smallest difference noticed with probability ``power``, grades; ``None`` when none ever is.

    Examples
    --------
    >>> round(smallest_difference(Comparison(n_build_ups=5, n_boards=4, block_size=5), 0.6, rule="named_pair"), 2)
    1.3
    """
    _check(sd, 0.0)
    df = comparison.residual_df
    if df == 0:
        return None
    return smallest_ncp(_critical(comparison.n_build_ups, df, rule), df, power=power) * comparison.sed(sd)


def smallest_ncp(critical: float, df: int, *, power: float = POWER) -> float:
    """The true difference, in standard errors, of which |t| passes a critical value with this probability."""
    high = critical + 4.0
    while _power(high, critical, df) < power:
        high *= 2
    return float(optimize.brentq(lambda ncp: _power(ncp, critical, df) - power, 0.0, high, xtol=1e-9))


def power_curve(
    comparison: Comparison, sd: float, *, differences: Iterable[float] | None = None
) -> list[tuple[float, float]]:
    """Points (difference, power) of the told-apart rule, by default every 0.1 grades from 0 to 4."""
    return [
        (difference, notice_power(difference, comparison, sd))
        for difference in (differences or _whole_scale())
    ]


def _whole_scale() -> list[float]:
    """Every tenth of a step of the scale of grades, from nothing to all of it."""
    n = round(10 * (GRADE.width or 0.0) / (GRADE.step or 1.0))
    return [tenth * (GRADE.step or 1.0) / 10 for tenth in range(n + 1)]


def pool_spread(strata: Sequence[tuple[float, int]], *, n_trials: int) -> Spread:
    """Pool residual mean squares, each with its degrees of freedom, into one spread; the usual one if there are none.

    Examples
    --------
    >>> pool_spread([(0.25, 10), (0.49, 20)], n_trials=2).sd
    0.6403124237432849
    """
    df = sum(df for _, df in strata)
    if df == 0:
        return Spread()
    sd = math.sqrt(sum(ms * df for ms, df in strata) / df)
    if sd == 0:
        return Spread()
    return Spread(sd=sd, source="own_trials", residual_df=df, n_trials=n_trials)


def _critical(n_build_ups: int, df: int, rule: Rule) -> float:
    if rule == "named_pair":
        return float(special.stdtrit(df, 1 - ALPHA / 2))
    return studentized_range_quantile(1 - ALPHA, k=n_build_ups, df=df) / math.sqrt(2)


def _power(ncp: float, critical: float, df: int) -> float:
    if ncp > _LARGEST_NCP + critical:
        # The noncentral t loses its footing that far out; there is no doubt left either.
        return 1.0
    above = 1.0 - float(special.nctdtr(df, ncp, critical))
    below = float(special.nctdtr(df, ncp, -critical))
    total = (above if math.isfinite(above) else 1.0) + (below if math.isfinite(below) else 0.0)
    return min(1.0, max(0.0, total))


def check_spread(sd: float) -> None:
    """Refuse a standard deviation that cannot be. Raises ``DesignError``."""
    if not (math.isfinite(sd) and 0 <= sd <= 100):
        raise DesignError(f"An SD of {sd} grades cannot be. Give 0 to 100; 0.6 is usual.", field="sd")


def _check(sd: float, difference: float) -> None:
    check_spread(sd)
    if not math.isfinite(difference) or difference < 0:
        raise DesignError(
            f"A difference of {difference} grades cannot be. Give 0 or more.", field="difference"
        )
