"""Times that are known only to lie between two looks, or to be longer than the last.

A time T of a panel lies in (after, by]; ``by`` is ``None`` where it had not come when last looked. The distribution of several is
estimated without a shape (the self-consistent estimate of Turnbull): weights p_j ≥ 0 on the intervals in which mass can lie, such
that

    p_j = mean over panels of  a_ij p_j / Σ_l a_il p_l,    a_ij = 1 where interval j lies within panel i's own.

*Scores* for comparing build-ups are those of the generalised log-rank test under proportional hazards: with S the estimate over all
panels,

    c_i = [S(after) log S(after) - S(by) log S(by)] / [S(after) - S(by)],    0 log 0 = 0,

which is the usual log-rank score for exact and right-censored times. They are compared by permutation within boards.

A median is the interval in which S falls to one half. Its own interval goes from an end that is at most to one that is at least
an order statistic of the times, by the sign test; how sure it is follows from the number of panels and is told with it, since a
few panels cannot give 95 %.

References
----------
Turnbull, B. W. (1976). The empirical distribution function with arbitrarily grouped, censored and truncated data. JRSS B 38,
290-295. Finkelstein, D. M. (1986). A proportional hazards model for interval-censored failure time data. Biometrics 42, 845-854.
Fay, M. P. (1996). Rank invariant tests for interval censored data under the grouped continuous model. Biometrics 52, 811-822.
Conover, W. J. (1999). Practical Nonparametric Statistics, 3rd ed., section 3.2 (intervals of quantiles). Wiley.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy import stats

from nublet.core.errors import ReadingsError

FloatArray = NDArray[np.float64]

_MOST_STEPS = 20_000
_STILL = 1e-10
LEVEL = 0.95


@dataclass(frozen=True, kw_only=True, slots=True)
class TimeSeen:
    """When something happened on one piece: after the one time and by the other, in minutes; ``by`` ``None``: not while watched.

    An exact time has both alike.
    """

    piece: str
    system: str
    board: str
    species: str | None
    after: float
    by: float | None
    section: str = ""


@dataclass(frozen=True, kw_only=True)
class MedianTime:
    """In which interval the median lies, and between which ends it surely lies.

    ``by`` ``None``: later than anybody looked. ``low`` and ``high`` are the ends, ``high`` ``None`` when it is open; ``level`` is
    how sure they are, 0.95 or more where the panels are enough.
    """

    after: float
    by: float | None
    low: float
    high: float | None
    level: float
    n: int


@dataclass(frozen=True, kw_only=True)
class Survival:
    """The estimate: mass on the intervals (starts, ends], ends may be infinite; all shape (m,)."""

    starts: FloatArray
    ends: FloatArray
    mass: FloatArray

    def at(self, time: float) -> float:
        """The share of times that are later than ``time``; mass is counted where it has wholly come."""
        return float(self.mass[self.ends > time].sum()) if math.isfinite(time) else 0.0


def estimate_survival(seen: Sequence[TimeSeen]) -> Survival:
    """Estimate the distribution of interval-censored times without a shape.

    Raises
    ------
    ReadingsError
        If there are none, or one ends before it begins.
    """
    low, high = _ends_of(seen)
    # Mass can only lie in the innermost intervals: from a beginning to the next end with no other beginning between. An exact time
    # is an interval of its own; to order it, its beginning comes just before it.
    begins = sorted({(float(a), 1 if a != b else 0) for a, b in zip(low, high, strict=True)})
    stops = sorted({(float(b), 0) for b in high})
    marks = sorted(
        [(time, order, "begin") for time, order in begins]
        + [(time, order + 0.5, "end") for time, order in stops]
    )
    inner = [(one[0], other[0]) for one, other in pairwise(marks) if one[2] == "begin" and other[2] == "end"]
    starts, ends = np.array([a for a, _ in inner]), np.array([b for _, b in inner])
    exact_inner = starts == ends
    exact = low == high
    holds = (low[:, None] <= starts) & (ends <= high[:, None])
    # (after, by] does not hold an exact time at its own beginning.
    holds &= ~(exact_inner[None] & ~exact[:, None] & (low[:, None] >= starts))
    mass = np.full(len(inner), 1 / len(inner))
    for _ in range(_MOST_STEPS):
        share = holds * mass
        renewed = (share / share.sum(axis=1, keepdims=True)).mean(axis=0)
        moved = float(np.abs(renewed - mass).max())
        mass = renewed
        if moved < _STILL:
            break
    return Survival(starts=starts, ends=ends, mass=mass)


def log_rank_scores(seen: Sequence[TimeSeen]) -> FloatArray:
    """Score each time, the later the lower; they sum to zero over all; shape (n,).

    Examples
    --------
    >>> one = dict(board="b", species=None)
    >>> scores = log_rank_scores([TimeSeen(piece=f"p{t}", system="A", after=t, by=t, **one) for t in (1, 2, 3)])
    >>> [round(float(score), 4) for score in scores]
    [0.6667, 0.1667, -0.8333]
    """
    low, high = _ends_of(seen)
    estimate = estimate_survival(seen)
    if np.all((low == high) | np.isinf(high)):
        return _exact_scores(low, high)
    before = np.array([estimate.at(time) for time in low])
    after = np.array([estimate.at(time) if math.isfinite(time) else 0.0 for time in high])
    apart = before - after
    scores = np.where(
        apart > 1e-12,
        (_x_log_x(before) - _x_log_x(after)) / np.maximum(apart, 1e-12),
        1 + np.log(np.maximum(before, 1e-12)),
    )
    return np.asarray(scores - scores.mean())


def _exact_scores(low: FloatArray, high: FloatArray) -> FloatArray:
    """Savage scores: whether it came, less the hazard that was lived through (Nelson and Aalen): what the log-rank test adds up."""
    came = np.isfinite(high)
    hazard = np.zeros(len(low))
    for time in np.unique(low[came]):
        at_risk = float((low >= time).sum())
        hazard[low >= time] += float(((low == time) & came).sum()) / at_risk
    return np.asarray(came - hazard)


def median_time(seen: Sequence[TimeSeen], *, level: float = LEVEL) -> MedianTime:
    """Estimate the median of one build-up's times, with its interval.

    Examples
    --------
    >>> one = dict(system="A", board="b", species=None)
    >>> found = median_time([TimeSeen(piece=f"p{t}", after=t, by=2 * t, **one) for t in (30, 60, 60, 120, 240)])
    >>> found.after, found.by, found.low, found.high, round(found.level, 4)
    (60.0, 120.0, 30.0, 480.0, 0.9375)
    """
    low, high = _ends_of(seen)
    n = len(low)
    estimate = estimate_survival(seen)
    left = 1 - np.cumsum(estimate.mass)
    at = int(np.argmax(left <= 0.5 + 1e-9))
    by = float(estimate.ends[at])
    rank = max(int(stats.binom.ppf((1 - level) / 2, n, 0.5)), 1)
    if stats.binom.cdf(rank - 1, n, 0.5) > (1 - level) / 2 and rank > 1:
        rank -= 1
    sure = 1 - 2 * float(stats.binom.cdf(rank - 1, n, 0.5))
    upper = float(np.sort(high)[n - rank])
    return MedianTime(
        after=float(estimate.starts[at]),
        by=by if math.isfinite(by) else None,
        low=float(np.sort(low)[rank - 1]),
        high=upper if math.isfinite(upper) else None,
        level=sure,
        n=n,
    )


def _ends_of(seen: Sequence[TimeSeen]) -> tuple[FloatArray, FloatArray]:
    if not seen:
        raise ReadingsError("No time was seen.", field="grade")
    for each in seen:
        if each.by is not None and each.by < each.after:
            raise ReadingsError(
                f"panel {each.piece}: the time lies after {each.after:g} and by {each.by:g} minutes, which cannot be.",
                field="grade",
            )
    low = np.array([each.after for each in seen], dtype=float)
    high = np.array([math.inf if each.by is None else each.by for each in seen], dtype=float)
    return low, high


def _x_log_x(x: FloatArray) -> FloatArray:
    return np.asarray(np.where(x > 0, x * np.log(np.maximum(x, 1e-300)), 0.0))
