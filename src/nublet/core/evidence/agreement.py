"""How well one reader agrees with what is so, or with himself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nublet.core.errors import ReadingsError
from nublet.core.protocols.responses import RESPONSES


def weighted_kappa(one: Sequence[float], other: Sequence[float], categories: Sequence[float]) -> float | None:
    """Cohen's kappa of two series of ordered categories, weighted by the square of how many steps they are apart.

    Parameters
    ----------
    one, other : sequence of float, shape (n,)
        Each from ``categories``.
    categories : sequence of float, shape (k,), k >= 2
        All that there are, in their order.

    Returns
    -------
    float or None
        1 for full agreement, 0 for what chance alone gives; ``None`` where there is nothing to compare, or both always say the
        same one thing, so that chance would agree as well.

    Raises
    ------
    ReadingsError
        If the series are of different lengths, or hold what is no category.

    References
    ----------
    Cohen, J. (1968). Weighted kappa. Psychological Bulletin 70, 213-220.

    Examples
    --------
    >>> round(weighted_kappa([1, 2, 3, 3], [1, 2, 3, 2], [1, 2, 3]), 4)
    0.8
    """
    if len(one) != len(other):
        raise ReadingsError(f"{len(one)} readings cannot be held against {len(other)}.", field="readings")
    place = {float(value): index for index, value in enumerate(sorted(categories))}
    strange = sorted({*map(float, one), *map(float, other)} - set(place))
    if strange:
        raise ReadingsError(f"{strange[0]:g} is none of the scale's steps.", field="readings")
    if len(place) < 2:
        return None
    return squared_kappa([place[float(value)] for value in one], [place[float(value)] for value in other])


def squared_kappa(one: Sequence[float], other: Sequence[float]) -> float | None:
    """Kappa of two series of numbers, weighted by the square of their distance.

    For categories that stand evenly it is Cohen's kappa with quadratic weights, whichever categories there are besides those seen.

    Parameters
    ----------
    one, other : sequence of float, shape (n,)

    Returns
    -------
    float or None
        As :func:`weighted_kappa`.

    References
    ----------
    Fleiss, J. L. and Cohen, J. (1973). The equivalence of weighted kappa and the intraclass correlation coefficient as measures of
    reliability. Educational and Psychological Measurement 33, 613-619.
    """
    a, b = np.asarray(one, dtype=float), np.asarray(other, dtype=float)
    if not len(a):
        return None
    # Over all pairs of one's and the other's values: the squares' means, less twice the product of the means.
    by_chance = float((a * a).mean() + (b * b).mean() - 2 * a.mean() * b.mean())
    floor = 1e-12 * max(float(np.abs(a).max()), float(np.abs(b).max()), 1e-300) ** 2
    return None if by_chance <= floor else 1 - float(((a - b) ** 2).mean()) / by_chance


@dataclass(frozen=True, kw_only=True)
class DrillResult:
    """What a drill showed.

    Attributes
    ----------
    n_marks : int
    kappa : float or None
        Agreement with what was drawn, weighted by the square of the steps; of kinds over each kind of each mark.
    exact_share : float
        Share of marks that were read as they were drawn.
    lean_steps : float or None
        By how many steps the readings lie above what was drawn, on the whole: above 0 too kind where high is better. ``None`` for
        kinds, which have no order.
    n_again : int
        Marks that were shown twice.
    again_same_share : float or None
        Share of those that were read the same both times.
    """

    n_marks: int
    kappa: float | None
    exact_share: float
    lean_steps: float | None
    n_again: int
    again_same_share: float | None


def judge_drill(response_id: str, marks: Sequence[tuple[float, int, float]]) -> DrillResult:
    """Judge a drill.

    Parameters
    ----------
    response_id : str
    marks : sequence of (float, int, float), not empty
        What was drawn, the number of the drawing, and what was read.
    """
    if not marks:
        raise ReadingsError("Nothing was read.", field="marks")
    response = RESPONSES[response_id]
    drawn, read = [mark[0] for mark in marks], [mark[2] for mark in marks]
    lean = None
    if response.form == "kinds":
        kinds = [int(step.value) for step in response.steps]
        cells = [
            (float(bool(int(a) & kind)), float(bool(int(b) & kind)))
            for a, b in zip(drawn, read, strict=True)
            for kind in kinds
        ]
        kappa = weighted_kappa([a for a, _ in cells], [b for _, b in cells], [0, 1])
    else:
        steps = sorted(step.value for step in response.steps)
        kappa = weighted_kappa(drawn, read, steps)
        place = {value: index for index, value in enumerate(steps)}
        # Where low is better a lower reading is the kinder one.
        lean = response.sign * sum(place[b] - place[a] for a, b in zip(drawn, read, strict=True)) / len(marks)
    by_drawing: dict[int, list[float]] = {}
    for _, number, value in marks:
        by_drawing.setdefault(number, []).append(value)
    again = [values for values in by_drawing.values() if len(values) > 1]
    return DrillResult(
        n_marks=len(marks),
        kappa=kappa,
        exact_share=sum(a == b for a, b in zip(drawn, read, strict=True)) / len(marks),
        lean_steps=lean,
        n_again=len(again),
        again_same_share=sum(len(set(values)) == 1 for values in again) / len(again) if again else None,
    )
