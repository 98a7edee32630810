"""How far those who read agree with each other, and each with himself.

A *place* is one test on one panel or section, seen from one view at the look that counts. Over the places of one response:

- **kappa** of each pair of judges, weighted by the square of the distance (Cohen 1968);
- **alpha** over all judges (Krippendorff), for ordered steps: 1 is full agreement, 0 what chance gives; under 0.67 readings are too
  unsure to carry a conclusion;
- **ICC(2,1)**: the share of a single judge's spread that is between places, judges drawn at random (Shrout and Fleiss), over the
  places that all judges read;
- **leniency**: by how much a judge reads above the others, least squares over the places, within sets that share places;
- **repeatability**: what a judge said when the same place came round again unannounced;
- **views**: what glancing light shows that square-on does not.

References
----------
Krippendorff, K. (2011). Computing Krippendorff's alpha-reliability. University of Pennsylvania; (2004) Content Analysis, 2nd ed.,
ch. 11 (0.67 and 0.80 as bounds).
Shrout, P. E. and Fleiss, J. L. (1979). Intraclass correlations: uses in assessing rater reliability. Psychological Bulletin 86,
420-428.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import ArrayLike, NDArray

from nublet.core.evidence.agreement import squared_kappa
from nublet.core.evidence.panel_values import reader_effects
from nublet.core.evidence.readings import Reading

FloatArray = NDArray[np.float64]

# Krippendorff's lowest bound for tentative conclusions.
ALPHA_LOWEST = 0.67
_MOST_VALUES = 500


@dataclass(frozen=True, kw_only=True)
class JudgePair:
    """Two judges over the places that both read; ``kappa_quadratic`` is ``None`` where both always said the same one thing."""

    a: str
    b: str
    kappa_quadratic: float | None
    n: int


@dataclass(frozen=True, kw_only=True)
class Leniency:
    """By how much a judge reads above the mean of those with whom he shares places, in units of the response."""

    judge: str
    mean_difference: float
    n: int


@dataclass(frozen=True, kw_only=True)
class Repeatability:
    """A judge against himself: ``n`` places that came round again.

    ``same_share`` of them were read alike; ``sd`` is the standard deviation of one reading about what the judge would say in the
    long run; ``kappa_quadratic`` as between two judges.
    """

    judge: str
    n: int
    same_share: float
    mean_difference: float
    sd: float
    kappa_quadratic: float | None


@dataclass(frozen=True, kw_only=True)
class ViewsApart:
    """Two views of the same places by the same judges: ``other`` less ``view`` on average, and how often they differ at all."""

    view: str
    other: str
    n: int
    mean_difference: float
    differ_share: float


@dataclass(frozen=True, kw_only=True)
class JudgesResult:
    """What the judges of one response show; ``None`` where there is nothing to compare."""

    judges: tuple[str, ...]
    alpha_ordinal: float | None
    icc_2_1: float | None
    n_by_all: int
    pairs: tuple[JudgePair, ...]
    leniency: tuple[Leniency, ...]
    repeatability: tuple[Repeatability, ...]
    views: tuple[ViewsApart, ...]


def judge_judges(readings: Sequence[Reading]) -> JudgesResult | None:
    """Compare judges over all tests of one response at one look.

    Parameters
    ----------
    readings : sequence of Reading
        Blind repeats among them; what is left out or missing counts for nothing.

    Returns
    -------
    JudgesResult or None
        ``None`` where nobody is named.
    """
    counted = [r for r in readings if r.grade is not None and r.left_out is None and r.judge is not None]
    if not counted:
        return None
    judges = tuple(sorted({r.judge for r in counted if r.judge}))
    column = {judge: index for index, judge in enumerate(judges)}
    if len(judges) < 2 and not any(r.repeat or r.view for r in counted):
        return JudgesResult(
            judges=judges,
            alpha_ordinal=None,
            icc_2_1=None,
            n_by_all=0,
            pairs=(),
            leniency=(),
            repeatability=(),
            views=(),
        )
    first = [r for r in counted if r.repeat == 0]
    row: dict[tuple[str, str, str, str], int] = {}
    rows = np.array([row.setdefault(_place(r), len(row)) for r in first], dtype=np.int64)
    columns = np.array([column[r.judge or ""] for r in first], dtype=np.int64)
    values = np.array([r.grade for r in first], dtype=float)
    table = np.full((len(row), len(judges)), np.nan)
    table[rows, columns] = values
    read = ~np.isnan(table)
    by_all = table[read.all(axis=1)]
    return JudgesResult(
        judges=judges,
        alpha_ordinal=krippendorff_alpha(table),
        icc_2_1=icc_2_1(by_all),
        n_by_all=len(by_all),
        pairs=tuple(_pairs(table, read, judges)),
        leniency=tuple(_leniency(rows, columns, values, judges, read)),
        repeatability=tuple(_repeatability(counted, judges)),
        views=tuple(_views(first)),
    )


def _place(reading: Reading) -> tuple[str, str, str, str]:
    return reading.test, reading.panel, reading.section or "", reading.view or ""


def krippendorff_alpha(table: ArrayLike) -> float | None:
    """Krippendorff's alpha for ordered values.

    Parameters
    ----------
    table : array_like, shape (n_places, n_judges)
        NaN where a judge did not read. Places with fewer than two readings count for nothing.

    Returns
    -------
    float or None
        ``None`` where nothing was read twice, every reading is the same, or there are more than 500 different values.

    Examples
    --------
    >>> nan = float("nan")
    >>> round(krippendorff_alpha([[1, 1], [2, 3], [3, 3], [nan, 4]]), 4)
    0.7778
    """
    found = np.asarray(table, dtype=float)
    present = ~np.isnan(found)
    kept = present.sum(axis=1) >= 2
    found, present = found[kept], present[kept]
    if not len(found):
        return None
    steps, at = np.unique(found[present], return_inverse=True)
    if len(steps) < 2 or len(steps) > _MOST_VALUES:
        return None
    counts = np.zeros((len(found), len(steps)))
    np.add.at(counts, (np.nonzero(present)[0], at), 1.0)
    n_in_place = counts.sum(axis=1)
    weight = 1 / (n_in_place - 1)
    together = (counts * weight[:, None]).T @ counts - np.diag(weight @ counts)
    total = counts.sum(axis=0)
    n = float(total.sum())
    # Ordinal distance: all values from one to the other, those at the ends by half.
    below = np.cumsum(total)
    middle = below - total / 2
    apart = (middle[:, None] - middle[None]) ** 2
    expected = float(total @ apart @ total)
    return None if expected <= 0 else 1 - (n - 1) * float((together * apart).sum()) / expected


def icc_2_1(table: ArrayLike) -> float | None:
    """Intraclass correlation of single readings, two-way random, absolute agreement.

    Parameters
    ----------
    table : array_like, shape (n_places, n_judges)
        Without gaps.

    Returns
    -------
    float or None
        ``None`` with fewer than two places or judges, or no spread.
    """
    y = np.asarray(table, dtype=float)
    if y.ndim != 2 or y.shape[0] < 2 or y.shape[1] < 2:
        return None
    n, k = y.shape
    rows, columns, mean = y.mean(axis=1), y.mean(axis=0), y.mean()
    ms_rows = k * float(((rows - mean) ** 2).sum()) / (n - 1)
    ms_columns = n * float(((columns - mean) ** 2).sum()) / (k - 1)
    ms_error = float(((y - rows[:, None] - columns[None] + mean) ** 2).sum()) / ((n - 1) * (k - 1))
    whole = ms_rows + (k - 1) * ms_error + k * (ms_columns - ms_error) / n
    return None if whole <= 1e-12 * max(float(np.abs(y).max()) ** 2, 1e-300) else (ms_rows - ms_error) / whole


def _pairs(table: FloatArray, read: NDArray[np.bool_], judges: Sequence[str]) -> list[JudgePair]:
    found = []
    for i, j in combinations(range(len(judges)), 2):
        both = read[:, i] & read[:, j]
        n = int(both.sum())
        if n:
            kappa = squared_kappa(table[both, i].tolist(), table[both, j].tolist())
            found.append(JudgePair(a=judges[i], b=judges[j], kappa_quadratic=kappa, n=n))
    return found


def _leniency(
    rows: NDArray[np.int64],
    columns: NDArray[np.int64],
    values: FloatArray,
    judges: Sequence[str],
    read: NDArray[np.bool_],
) -> list[Leniency]:
    effects, set_of = reader_effects(rows, columns, values, len(read), len(judges))
    shared = read[read.sum(axis=1) > 1].sum(axis=0)
    return [
        Leniency(judge=judge, mean_difference=float(effects[i]), n=int(shared[i]))
        for i, judge in enumerate(judges)
        if (set_of == set_of[i]).sum() > 1
    ]


def _repeatability(counted: Sequence[Reading], judges: Sequence[str]) -> list[Repeatability]:
    if not any(reading.repeat for reading in counted):
        return []
    by_place: dict[str, dict[tuple[str, str, str, str], dict[int, float]]] = defaultdict(
        lambda: defaultdict(dict)
    )
    for reading in counted:
        by_place[reading.judge or ""][_place(reading)][reading.repeat] = reading.grade or 0.0
    found = []
    for judge in judges:
        twice = [
            (seen[0], value)
            for seen in by_place[judge].values()
            if 0 in seen
            for turn, value in sorted(seen.items())
            if turn > 0
        ]
        if not twice:
            continue
        apart = np.array([b - a for a, b in twice])
        found.append(
            Repeatability(
                judge=judge,
                n=len(twice),
                same_share=float((np.abs(apart) < 1e-9).mean()),
                mean_difference=float(apart.mean()),
                sd=float(np.sqrt((apart**2).mean() / 2)),
                kappa_quadratic=squared_kappa([a for a, _ in twice], [b for _, b in twice]),
            )
        )
    return found


def _views(first: Sequence[Reading]) -> list[ViewsApart]:
    seen: dict[tuple[str, str, str, str], dict[str, float]] = defaultdict(dict)
    order: dict[str, None] = {}
    for r in first:
        if r.view:
            order[r.view] = None
            seen[r.judge or "", r.test, r.panel, r.section or ""][r.view] = r.grade or 0.0
    found = []
    for view, other in combinations(sorted(order), 2):
        apart = _differences(seen, view, other)
        if len(apart):
            found.append(
                ViewsApart(
                    view=view,
                    other=other,
                    n=len(apart),
                    mean_difference=float(apart.mean()),
                    differ_share=float((np.abs(apart) > 1e-9).mean()),
                )
            )
    return found


def _differences(
    seen: Mapping[tuple[str, str, str, str], Mapping[str, float]], view: str, other: str
) -> FloatArray:
    return np.array([each[other] - each[view] for each in seen.values() if view in each and other in each])
