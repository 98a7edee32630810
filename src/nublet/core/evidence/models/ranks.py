"""The ranks school: what only the order of values can say.

**Mid-ranks and their scores.** Values that are alike share the mean of the ranks that they fill. The score of a value among n is
(rank - 1/2) / n, between 0 and 1: the share of the readings that lie below it, those alike counted half. A system's mean score is
how often it stands above one drawn from all (its *relative effect*); one half is the middle. Scores are weighed like any value:
boards taken out by least squares, pairs by permutation within boards, which needs no shape of spread.

**Friedman** ranks within each board, over the boards that carry every system; Kendall's W is the same number between 0 (boards
disagree) and 1 (every board gives one order).

References
----------
Friedman, M. (1937). The use of ranks to avoid the assumption of normality. JASA 32, 675-701.
Kendall, M. G. and Babington Smith, B. (1939). The problem of m rankings. Annals of Mathematical Statistics 10, 275-287.
Bross, I. D. J. (1958). How to use ridit analysis. Biometrics 14, 18-38.
Brunner, E., Bathke, A. C. and Konietschke, F. (2018). Rank and Pseudo-Rank Procedures, ch. 2. Springer.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy import special, stats

from nublet.core.evidence.readings import PanelValue

FloatArray = NDArray[np.float64]

# Means of three judges are thirds, which a computer does not hold: values this near are one value.
_ALIKE = 1e-9
_MOST_CELLS = 4_000_000


@dataclass(frozen=True, kw_only=True)
class FriedmanResult:
    """Friedman's test over the boards that carry every system.

    Attributes
    ----------
    statistic : float
        Corrected for ties; roughly chi-squared on ``df`` degrees of freedom where nothing makes a difference.
    df : int
    p : float
    kendall_w : float
        How far the boards agree about the order, 0 to 1.
    n_boards : int
        Boards that carry every system.
    """

    statistic: float
    df: int
    p: float
    kendall_w: float
    n_boards: int


def mid_ranks(values: ArrayLike) -> FloatArray:
    """Rank values from 1, the smallest first; those alike share the mean of their ranks.

    Examples
    --------
    >>> mid_ranks([4, 5, 4 + 1e-12, 1]).tolist()
    [2.5, 4.0, 2.5, 1.0]
    """
    found = np.asarray(values, dtype=float)
    if not found.size:
        return np.zeros(0)
    step = _ALIKE * max(float(np.abs(found).max()), 1e-300)
    return np.asarray(stats.rankdata(np.rint(found / step)))


def relative_scores(values: ArrayLike) -> FloatArray:
    """The share of all values that lie below each, those alike counted half; shape of ``values``.

    Examples
    --------
    >>> relative_scores([1, 2, 2, 5]).tolist()
    [0.125, 0.5, 0.5, 0.875]
    """
    ranks = mid_ranks(values)
    return np.asarray((ranks - 0.5) / max(len(ranks), 1))


def scored(values: Sequence[PanelValue], *, sign: int = 1) -> tuple[PanelValue, ...]:
    """Put scores in the place of values, 1 at the better end.

    Parameters
    ----------
    values : sequence of PanelValue
    sign : 1 or -1
        -1 where low is better.
    """
    scores = relative_scores([sign * value.value for value in values])
    return tuple(replace(value, value=float(score)) for value, score in zip(values, scores, strict=True))


def friedman(values: Sequence[PanelValue]) -> FriedmanResult | None:
    """Test whether systems differ, by their ranks within boards.

    Parameters
    ----------
    values : sequence of PanelValue
        Several of one system on a board are averaged first.

    Returns
    -------
    FriedmanResult or None
        ``None`` with fewer than two boards that carry every system, one system, or every board all alike.

    Notes
    -----
    Misleads with very few boards: chi-squared is only roughly right there. The permutation of the pairs is exact.
    """
    systems = {name: index for index, name in enumerate(sorted({value.system for value in values}))}
    boards = {name: index for index, name in enumerate(sorted({value.board for value in values}))}
    k, size = len(systems), len(systems) * len(boards)
    if k < 2 or size > _MOST_CELLS:
        return None
    at = np.array([boards[value.board] * k + systems[value.system] for value in values], dtype=np.intp)
    counts = np.bincount(at, minlength=size).reshape(-1, k)
    sums = np.bincount(at, weights=[value.value for value in values], minlength=size).reshape(-1, k)
    whole = (counts > 0).all(axis=1)
    b = int(whole.sum())
    if b < 2:
        return None
    table = sums[whole] / counts[whole]
    step = _ALIKE * max(float(np.abs(table).max()), 1e-300)
    ranks = np.asarray(stats.rankdata(np.rint(table / step), axis=1))
    # Over the spread of the ranks as they are: the same as 12 / (b k (k + 1)) and a correction for ties.
    spread = float(((ranks - (k + 1) / 2) ** 2).sum()) / (k - 1)
    if spread <= 0:
        return None
    statistic = float(((ranks.sum(axis=0) - b * (k + 1) / 2) ** 2).sum()) / spread
    return FriedmanResult(
        statistic=statistic,
        df=k - 1,
        p=float(special.chdtrc(k - 1, statistic)),
        kendall_w=statistic / (b * (k - 1)),
        n_boards=b,
    )
