"""Where rings may stand in an area, before it is drawn which exposure stands where.

Rings stand in columns, or in rows, and what room is left over is shared evenly between them, so that a ring at an end
is about as far from its edge as one in the middle. Hot blocks stand together at one end, liquids at the other. Several
arrangements are drawn of which any will do; :mod:`nublet.core.design.spots` picks among them panel by panel.
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

# Whether it is hot, and its diameter, mm.
Ring = tuple[bool, float]
LARGEST_MARGIN_MM = 200.0
_TOLERANCE = 1e-9


@dataclass(frozen=True, kw_only=True)
class RingPlace:
    """A place for one ring of a kind and diameter. ``edge_mm`` is from the ring's edge to the area's nearest edge."""

    ring: Ring
    x_mm: float
    y_mm: float
    edge_mm: float


@dataclass(frozen=True, kw_only=True)
class _Column:
    diameters_mm: tuple[float, ...]
    is_hot: bool

    @property
    def width_mm(self) -> float:
        return max(self.diameters_mm)


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


def check_rings(exposures: Sequence[Test]) -> None:
    """Refuse exposures without spots, of impossible size, or of one id. Raises ``DesignError``."""
    seen: set[str] = set()
    for exposure in exposures:
        if not 1 <= exposure.site.wetted_mm <= 1000:
            raise DesignError(
                say(
                    "Test {}: a wetted ring of {} cannot be. Give {} to {}.",
                    repr(exposure.id),
                    amount("millimetres", exposure.site.wetted_mm),
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


def arrange_rings(
    size: PanelSize,
    exposures: Sequence[Test],
    *,
    margin_mm: float,
    n_arrangements: int,
    rng: np.random.Generator,
    loose: bool = False,
    pushed: bool = False,
) -> list[tuple[RingPlace, ...]]:
    """Draw arrangements of places for an area, or none when the rings do not fit.

    Parameters
    ----------
    size : PanelSize
        The area, mm.
    exposures : sequence of Test
        Only their kinds and diameters count.
    margin_mm : float
        Kept between a ring's edge and the area's edges and other rings, mm.
    n_arrangements : int
    rng : numpy.random.Generator
    loose : bool
        Split some columns where there is room, and use rows as well: more ways to keep agents apart.
    pushed : bool
        Put the room that is left over into one gap drawn at random instead of sharing it: not as handsome, and brings
        agents that must not meet furthest apart.

    Returns
    -------
    list of tuple of RingPlace
        Each with as many places as there are exposures, of the same kinds and diameters.
    """
    turned_size = PanelSize(length_mm=size.width_mm, width_mm=size.length_mm)
    upright = _fits(size, exposures, margin_mm)
    # Columns are the usual arrangement; rows are taken where columns do not fit, or to bring agents apart.
    lying = _fits(turned_size, exposures, margin_mm) if loose or upright is None else None
    ways = [(columns, area) for columns, area in ((upright, size), (lying, turned_size)) if columns]
    drawn: list[tuple[RingPlace, ...]] = []
    for index in range(n_arrangements if ways else 0):
        columns, area = ways[-1 if index % 3 == 2 else 0]
        if loose:
            columns = _loosened(columns, area, margin_mm, rng)
        places = _stand(area, _shuffled(columns, rng), margin_mm, rng, pushed=pushed)
        if area is turned_size:
            places = tuple(
                RingPlace(ring=p.ring, x_mm=p.y_mm, y_mm=p.x_mm, edge_mm=p.edge_mm) for p in places
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
        crowded = [n for n, c in enumerate(loose) if len(c.diameters_mm) > 1]
        if not crowded:
            break
        n = crowded[int(rng.integers(len(crowded)))]
        cut = int(rng.integers(1, len(loose[n].diameters_mm)))
        halves = [
            _Column(diameters_mm=part, is_hot=loose[n].is_hot)
            for part in (loose[n].diameters_mm[:cut], loose[n].diameters_mm[cut:])
        ]
        spare -= sum(half.width_mm + margin_mm for half in halves) - loose[n].width_mm - margin_mm
        if spare < 0:
            break
        loose[n : n + 1] = halves
    return loose


def _fits(size: PanelSize, exposures: Sequence[Test], margin_mm: float) -> list[_Column] | None:
    """Columns that hold all rings within the area, or ``None``; alike rings share a column if they can."""
    for mixed in (False, True):
        columns = _fill_columns(size, exposures, margin_mm, mixed=mixed)
        if columns is None:
            return None
        needed = margin_mm + sum(column.width_mm + margin_mm for column in columns)
        if needed <= size.length_mm + _TOLERANCE:
            return columns
    return None


def _fill_columns(
    size: PanelSize, exposures: Sequence[Test], margin_mm: float, *, mixed: bool
) -> list[_Column] | None:
    """Fill columns with rings of a kind, the largest first; ``None`` when one is wider than the area."""
    room = size.width_mm - margin_mm + _TOLERANCE
    columns: list[_Column] = []
    for is_hot in (True, False):
        diameters = sorted((e.site.wetted_mm for e in exposures if e.is_hot == is_hot), reverse=True)
        if diameters and diameters[0] + margin_mm > room:
            return None
        if mixed:
            columns += _first_fit(diameters, room, margin_mm, is_hot=is_hot)
            continue
        for diameter in dict.fromkeys(diameters):
            n = diameters.count(diameter)
            n_columns = math.ceil(n / int(room // (diameter + margin_mm)))
            columns += [
                _Column(diameters_mm=(diameter,) * len(part), is_hot=is_hot)
                for part in np.array_split(np.arange(n), n_columns)
            ]
    return columns


def _first_fit(diameters: Sequence[float], room: float, margin_mm: float, *, is_hot: bool) -> list[_Column]:
    filled: list[list[float]] = []
    for diameter in diameters:
        for column in filled:
            if sum(d + margin_mm for d in column) + diameter + margin_mm <= room:
                column.append(diameter)
                break
        else:
            filled.append([diameter])
    return [_Column(diameters_mm=tuple(column), is_hot=is_hot) for column in filled]


def _shuffled(columns: Sequence[_Column], rng: np.random.Generator) -> list[_Column]:
    """Columns in a drawn order, heat at one end and liquids at the other, and so the rings of each."""
    ends = list(dict.fromkeys(column.is_hot for column in columns))
    ordered: list[_Column] = []
    for is_hot in (ends[i] for i in rng.permutation(len(ends))):
        alike = [column for column in columns if column.is_hot == is_hot]
        for i in rng.permutation(len(alike)):
            rings = alike[i].diameters_mm
            if len(set(rings)) > 1:
                rings = tuple(rings[j] for j in rng.permutation(len(rings)))
            ordered.append(_Column(diameters_mm=rings, is_hot=is_hot))
    return ordered


def _stand(
    size: PanelSize,
    columns: Sequence[_Column],
    margin_mm: float,
    rng: np.random.Generator,
    *,
    pushed: bool,
) -> tuple[RingPlace, ...]:
    """Stand the columns along the area and the rings of each across it."""
    lefts = _spread(size.length_mm, [c.width_mm for c in columns], margin_mm, rng, pushed=pushed)
    places: list[RingPlace] = []
    for left, column in zip(lefts, columns, strict=True):
        bottoms = _spread(size.width_mm, column.diameters_mm, margin_mm, rng, pushed=pushed)
        for bottom, diameter in zip(bottoms, column.diameters_mm, strict=True):
            x, y = left + column.width_mm / 2, bottom + diameter / 2
            nearest = min(x, y, size.length_mm - x, size.width_mm - y)
            places.append(
                RingPlace(ring=(column.is_hot, diameter), x_mm=x, y_mm=y, edge_mm=nearest - diameter / 2)
            )
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
