"""A spare place on a panel that is already laid out: where a test that went wrong may be repeated."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nublet.core.design.layout import Shape, shape_of
from nublet.core.design.spots import neighbour_gap_mm
from nublet.core.protocols.agents import give_off_gas, may_ignite
from nublet.core.protocols.tests import Test

# How finely places are tried, mm.
_STEP_MM = 2.5

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class StandingSite:
    """A test that stands on the panel already, or stood there: its centre, mm."""

    test: Test
    x_mm: float
    y_mm: float


@dataclass(frozen=True, kw_only=True)
class FreeArea:
    """The section, or the whole face, on which a place is looked for: lower left corner and size, mm."""

    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float


def find_spare(
    test: Test, area: FreeArea, standing: Sequence[StandingSite], *, margin_mm: float
) -> tuple[float, float] | None:
    """The centre of the roomiest place where a test may be repeated, mm, or ``None`` where there is none.

    Parameters
    ----------
    test : Test
        On a spot or a strip.
    area : FreeArea
    standing : sequence of StandingSite
        All on the same face, the place that went wrong among them: its wood is used up.
    margin_mm : float
        To the area's edge and between any two.

    Notes
    -----
    By the rules of the layout: margins to edges and to each other; bleach no neighbour of an acid or ammonia, nothing hot that of what
    burns. Of all places on a grid of 2.5 mm the one that is furthest from everything.
    """
    shape = shape_of(test)
    half_x, half_y = shape.along_mm / 2 + margin_mm, shape.across_mm / 2 + margin_mm
    if area.length_mm < 2 * half_x - 1e-9 or area.width_mm < 2 * half_y - 1e-9:
        return None
    xs = _grid(area.x_mm + half_x, area.x_mm + area.length_mm - half_x)
    ys = _grid(area.y_mm + half_y, area.y_mm + area.width_mm - half_y)
    x, y = (each.ravel() for each in np.meshgrid(xs, ys))
    room = np.minimum(
        np.minimum(x - xs[0], xs[-1] - x) + margin_mm, np.minimum(y - ys[0], ys[-1] - y) + margin_mm
    )
    free = np.ones(x.shape, dtype=bool)
    apart = neighbour_gap_mm([test, *(other.test for other in standing)], margin_mm)
    for other in standing:
        gap = _gap_mm(shape, x, y, other)
        clash = give_off_gas(test.natures, other.test.natures) or may_ignite(test.natures, other.test.natures)
        free &= gap >= (apart if clash else margin_mm) - 1e-9
        room = np.minimum(room, gap)
    if not free.any():
        return None
    best = int(np.argmax(np.where(free, room, -np.inf)))
    return float(x[best]), float(y[best])


def _grid(low: float, high: float) -> FloatArray:
    """From one end to the other in steps, both ends among them; shape (n,)."""
    return np.unique(np.append(np.arange(low, high, _STEP_MM), max(low, high)))


def _gap_mm(shape: Shape, x: FloatArray, y: FloatArray, other: StandingSite) -> FloatArray:
    """From edge to edge of a shape at each of some centres and another that stands, mm; shape (n,)."""
    there = shape_of(other.test)
    dx, dy = np.abs(x - other.x_mm), np.abs(y - other.y_mm)
    if shape.is_round and there.is_round:
        gap: FloatArray = np.hypot(dx, dy) - (shape.along_mm + there.along_mm) / 2
        return gap
    beside = np.maximum(dx - (shape.along_mm + there.along_mm) / 2, 0)
    above = np.maximum(dy - (shape.across_mm + there.across_mm) / 2, 0)
    return np.hypot(beside, above)
