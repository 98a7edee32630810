"""Where rings and strips may stand in an area, before it is drawn which test stands where.

They stand in columns, or in rows, and what room is left over is shared evenly between them, so that one at an end is about as far
from its edge as one in the middle. Hot things stand together at one end, all else at the other. Several arrangements are drawn of
which any will do; :mod:`nublet.core.design.spots` picks among them panel by panel.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nublet.core.design.areas import PanelSize
from nublet.core.errors import DesignError
from nublet.core.protocols.tests import Test
from nublet.core.quantities import amount, say

LARGEST_MARGIN_MM = 200.0
_TOLERANCE = 1e-9


@dataclass(frozen=True)
class Shape:
    """What a site takes on the face: how far along the panel and across it, mm; a ring has rounded corners all the way."""

    is_hot: bool
    along_mm: float
    across_mm: float
    is_round: bool

    @property
    def turned(self) -> Shape:
        """The same on a panel that is turned by a right angle."""
        return Shape(self.is_hot, self.across_mm, self.along_mm, self.is_round)


def shape_of(test: Test) -> Shape:
    """What a test's spot or strip takes."""
    along, across = test.site.footprint_mm
    return Shape(test.is_hot, along, across, test.site.kind == "spot")


@dataclass(frozen=True, kw_only=True)
class SitePlace:
    """A place for one shape, by its centre. ``edge_mm`` is from the shape's edge to the area's nearest edge."""

    shape: Shape
    x_mm: float
    y_mm: float
    edge_mm: float


@dataclass(frozen=True, kw_only=True)
class _Column:
    shapes: tuple[Shape, ...]

    @property
    def is_hot(self) -> bool:
        return self.shapes[0].is_hot

    @property
    def width_mm(self) -> float:
        return max(shape.along_mm for shape in self.shapes)


def check_margin(margin_mm: float) -> None:
    """Refuse a margin that cannot be. Raises ``DesignError``."""
    if not 0 <= margin_mm <= LARGEST_MARGIN_MM:
        raise DesignError(
            say(
                "A margin of {} cannot be. Give {} to {}; {} is usual.",
                amount("millimetres", margin_mm),
                amount("millimetres", 0, is_bare=True),
                amount("millimetres", LARGEST_MARGIN_MM),
                amount("millimetres", 15),
            ),
            field="margin_mm",
        )


def check_placed(exposures: Sequence[Test]) -> None:
    """Refuse spots and strips of impossible size, and tests of one id. Raises ``DesignError``."""
    seen: set[str] = set()
    for exposure in exposures:
        sides = exposure.site.footprint_mm if exposure.site.is_placed else (1.0,)
        wrong = next((side for side in sides if not 1 <= side <= 1000), None)
        if wrong is not None:
            what = "wetted ring" if exposure.site.kind == "spot" else "strip"
            raise DesignError(
                say(
                    "Test {}: a {} of {} cannot be. Give {} to {}.",
                    repr(exposure.id),
                    what,
                    amount("millimetres", wrong),
                    amount("millimetres", 1, is_bare=True),
                    amount("millimetres", 1000),
                ),
                field="exposures",
            )
        if exposure.id in seen:
            raise DesignError(
                f"The exposure {exposure.id!r} is listed twice. List each once.", field="exposures"
            )
        seen.add(exposure.id)


def arrange_sites(
    size: PanelSize,
    shapes: Sequence[Shape],
    *,
    margin_mm: float,
    n_arrangements: int,
    rng: np.random.Generator,
    loose: bool = False,
    pushed: bool = False,
) -> list[tuple[SitePlace, ...]]:
    """Draw arrangements of places for an area, or none when the shapes do not fit.

    Parameters
    ----------
    size : PanelSize
        The area, mm.
    shapes : sequence of Shape
    margin_mm : float
        Kept between a shape's edge and the area's edges and other shapes, mm.
    n_arrangements : int
    rng : numpy.random.Generator
    loose : bool
        Split some columns where there is room, and use rows as well: more ways to keep agents apart.
    pushed : bool
        Put the room that is left over into one gap drawn at random instead of sharing it: not as handsome, and brings
        agents that must not meet furthest apart.

    Returns
    -------
    list of tuple of SitePlace
        Each with as many places as there are shapes, of the same shapes.
    """
    turned_size = PanelSize(length_mm=size.width_mm, width_mm=size.length_mm)
    upright = _fits(size, shapes, margin_mm)
    # Columns are the usual arrangement; rows are taken where columns do not fit, or to bring agents apart.
    turned = [shape.turned for shape in shapes]
    lying = _fits(turned_size, turned, margin_mm) if loose or upright is None else None
    ways = [(columns, area) for columns, area in ((upright, size), (lying, turned_size)) if columns]
    drawn: list[tuple[SitePlace, ...]] = []
    for index in range(n_arrangements if ways else 0):
        columns, area = ways[-1 if index % 3 == 2 else 0]
        if loose:
            columns = _loosened(columns, area, margin_mm, rng)
        places = _stand(area, _shuffled(columns, rng), margin_mm, rng, pushed=pushed)
        if area is turned_size:
            places = tuple(
                SitePlace(shape=p.shape.turned, x_mm=p.y_mm, y_mm=p.x_mm, edge_mm=p.edge_mm) for p in places
            )
        drawn.append(places)
    return drawn


def _loosened(
    columns: Sequence[_Column], size: PanelSize, margin_mm: float, rng: np.random.Generator
) -> list[_Column]:
    """The columns with some of them split in two, as many as there is room for and chance will have."""
    loose = list(columns)
    spare = size.length_mm - margin_mm - sum(column.width_mm + margin_mm for column in columns)
    for _ in range(int(rng.integers(0, len(columns) + 2))):
        crowded = [n for n, c in enumerate(loose) if len(c.shapes) > 1]
        if not crowded:
            break
        n = crowded[int(rng.integers(len(crowded)))]
        cut = int(rng.integers(1, len(loose[n].shapes)))
        halves = [_Column(shapes=part) for part in (loose[n].shapes[:cut], loose[n].shapes[cut:])]
        spare -= sum(half.width_mm + margin_mm for half in halves) - loose[n].width_mm - margin_mm
        if spare < 0:
            break
        loose[n : n + 1] = halves
    return loose


def _fits(size: PanelSize, shapes: Sequence[Shape], margin_mm: float) -> list[_Column] | None:
    """Columns that hold all shapes within the area, or ``None``; alike ones share a column if they can."""
    for mixed in (False, True):
        columns = _fill_columns(size, shapes, margin_mm, mixed=mixed)
        if columns is None:
            return None
        needed = margin_mm + sum(column.width_mm + margin_mm for column in columns)
        if needed <= size.length_mm + _TOLERANCE:
            return columns
    return None


def _fill_columns(
    size: PanelSize, shapes: Sequence[Shape], margin_mm: float, *, mixed: bool
) -> list[_Column] | None:
    """Fill columns with shapes of a kind, the widest first; ``None`` when one is wider across than the area."""
    room = size.width_mm - margin_mm + _TOLERANCE
    columns: list[_Column] = []
    for is_hot in (True, False):
        own = sorted(
            (shape for shape in shapes if shape.is_hot == is_hot),
            key=lambda shape: (shape.along_mm, shape.across_mm, shape.is_round),
            reverse=True,
        )
        if any(shape.across_mm + margin_mm > room for shape in own):
            return None
        if mixed:
            columns += _first_fit(own, room, margin_mm)
            continue
        for shape in dict.fromkeys(own):
            n = own.count(shape)
            n_columns = math.ceil(n / int(room // (shape.across_mm + margin_mm)))
            columns += [
                _Column(shapes=(shape,) * len(part)) for part in np.array_split(np.arange(n), n_columns)
            ]
    return columns


def _first_fit(shapes: Sequence[Shape], room: float, margin_mm: float) -> list[_Column]:
    filled: list[list[Shape]] = []
    for shape in shapes:
        for column in filled:
            if sum(one.across_mm + margin_mm for one in column) + shape.across_mm + margin_mm <= room:
                column.append(shape)
                break
        else:
            filled.append([shape])
    return [_Column(shapes=tuple(column)) for column in filled]


def _shuffled(columns: Sequence[_Column], rng: np.random.Generator) -> list[_Column]:
    """Columns in a drawn order, heat at one end and liquids at the other, and so the rings of each."""
    ends = list(dict.fromkeys(column.is_hot for column in columns))
    ordered: list[_Column] = []
    for is_hot in (ends[i] for i in rng.permutation(len(ends))):
        alike = [column for column in columns if column.is_hot == is_hot]
        for i in rng.permutation(len(alike)):
            shapes = alike[i].shapes
            if len(set(shapes)) > 1:
                shapes = tuple(shapes[j] for j in rng.permutation(len(shapes)))
            ordered.append(_Column(shapes=shapes))
    return ordered


def _stand(
    size: PanelSize,
    columns: Sequence[_Column],
    margin_mm: float,
    rng: np.random.Generator,
    *,
    pushed: bool,
) -> tuple[SitePlace, ...]:
    """Stand the columns along the area and the shapes of each across it."""
    lefts = _spread(size.length_mm, [c.width_mm for c in columns], margin_mm, rng, pushed=pushed)
    places: list[SitePlace] = []
    for left, column in zip(lefts, columns, strict=True):
        sides = [shape.across_mm for shape in column.shapes]
        bottoms = _spread(size.width_mm, sides, margin_mm, rng, pushed=pushed)
        for bottom, shape in zip(bottoms, column.shapes, strict=True):
            x, y = left + column.width_mm / 2, bottom + shape.across_mm / 2
            along, across = min(x, size.length_mm - x), min(y, size.width_mm - y)
            edge = min(along - shape.along_mm / 2, across - shape.across_mm / 2)
            places.append(SitePlace(shape=shape, x_mm=x, y_mm=y, edge_mm=edge))
    return tuple(places)


def _spread(
    length: float, widths: Sequence[float], margin_mm: float, rng: np.random.Generator, *, pushed: bool
) -> list[float]:
    """Starts of things side by side along a length, with even gaps, or with one wide gap among narrow ones."""
    n = len(widths)
    gaps = [(length - sum(widths)) / (n + 1)] * (n + 1)
    if pushed:
        spare = length - sum(widths) - margin_mm * (n + 1)
        gaps = [margin_mm] * (n + 1)
        gaps[int(rng.integers(0, n + 1))] += spare
    starts, at = [], 0.0
    for gap, width in zip(gaps, widths, strict=False):
        at += gap
        # To the micrometre where there is room, exactly where there is none.
        starts.append(round(at, 3) if min(gaps) > margin_mm + 0.002 else round(at, 9))
        at += width
    return starts
