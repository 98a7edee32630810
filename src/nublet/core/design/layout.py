"""Where each spot stands on a panel.

Coordinates are millimetres from the panel's lower left corner; the panel's length lies along the grain.

Spots of one diameter stand in columns, columns stand side by side, and what room is left over is shared
evenly between them. Chance then decides which exposure takes which place and in which order the columns
stand, so that over many panels no agent is always near the edge.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from nublet.core.errors import DesignError
from nublet.core.protocols.exposures import Exposure

SMALLEST_PANEL_MM = 50.0
LARGEST_PANEL_MM = 3000.0


@dataclass(frozen=True, kw_only=True)
class PanelSize:
    """A panel's length along the grain and width across it, mm."""

    length_mm: float
    width_mm: float


@dataclass(frozen=True, kw_only=True)
class Spot:
    """One exposure's ring on a panel: centre and diameter, mm."""

    exposure: str
    x_mm: float
    y_mm: float
    diameter_mm: float


@dataclass(frozen=True, kw_only=True)
class _Column:
    diameter_mm: float
    exposures: tuple[str, ...]


def place_spots(
    size: PanelSize,
    exposures: Sequence[Exposure],
    *,
    margin_mm: float,
    rng: np.random.Generator,
) -> tuple[Spot, ...]:
    """Place every exposure once on a panel.

    Parameters
    ----------
    size : PanelSize
        The panel, mm.
    exposures : sequence of Exposure
        What is to stand on it; ``wetted_mm`` is each ring's diameter.
    margin_mm : float
        Kept between a ring's edge and every panel edge and every other ring, mm.
    rng : numpy.random.Generator
        Decides which exposure takes which place.

    Returns
    -------
    tuple of Spot
        In the order of ``exposures``.

    Raises
    ------
    DesignError
        If the panel's size is doubtful, or the spots do not fit; the message gives a size that would do.
    """
    check_panel_size(size)
    if not 0 <= margin_mm <= 200:
        raise DesignError(
            f"A margin of {margin_mm:g} mm cannot be. Give 0 to 200 mm; 15 mm is usual.",
            field="margin_mm",
        )
    columns = _fill_columns(size, exposures, margin_mm=margin_mm, rng=rng)
    needed_mm = _needed_length_mm(columns, margin_mm)
    if needed_mm > size.length_mm + 1e-9:
        raise DesignError(
            f"{len(exposures)} spots do not fit on a panel of {size.length_mm:g} × {size.width_mm:g} mm "
            f"with {margin_mm:g} mm margins. A panel {math.ceil(needed_mm)} mm long would do, or fewer "
            "exposures.",
            field="panel_length_mm",
        )
    placed = _stand_columns(size, columns)
    return tuple(placed[exposure.id] for exposure in exposures)


def check_panel_size(size: PanelSize) -> None:
    """Refuse a panel whose length or width is not between 50 mm and 3 m."""
    for name, label, value in (
        ("panel_length_mm", "length", size.length_mm),
        ("panel_width_mm", "width", size.width_mm),
    ):
        if not SMALLEST_PANEL_MM <= value <= LARGEST_PANEL_MM:
            raise DesignError(
                f"A panel {label} of {value:g} mm cannot be. Give {SMALLEST_PANEL_MM:g} to "
                f"{LARGEST_PANEL_MM:g} mm.",
                field=name,
            )


def _fill_columns(
    size: PanelSize,
    exposures: Sequence[Exposure],
    *,
    margin_mm: float,
    rng: np.random.Generator,
) -> list[_Column]:
    """Group the exposures into columns by kind and diameter, at random, heat kept at one end."""
    zones: dict[str, list[_Column]] = {}
    for kind, diameter_mm in sorted({(e.kind, e.wetted_mm) for e in exposures}):
        if diameter_mm + 2 * margin_mm > size.width_mm + 1e-9:
            raise DesignError(
                f"A ring of {diameter_mm:g} mm needs a panel at least {diameter_mm + 2 * margin_mm:g} mm "
                f"wide with its margins; this one is {size.width_mm:g} mm.",
                field="panel_width_mm",
            )
        per_column = int((size.width_mm - margin_mm + 1e-9) // (diameter_mm + margin_mm))
        alike = [e.id for e in exposures if e.kind == kind and e.wetted_mm == diameter_mm]
        drawn = [alike[index] for index in rng.permutation(len(alike))]
        n_columns = math.ceil(len(drawn) / per_column)
        cuts = np.array_split(np.arange(len(drawn)), n_columns)
        zones.setdefault(kind, []).extend(
            _Column(diameter_mm=diameter_mm, exposures=tuple(drawn[i] for i in cut)) for cut in cuts
        )
    # Liquids stay together and hot blocks stay together: no flammable agent between two blocks.
    kinds = sorted(zones)
    ordered = [kinds[index] for index in rng.permutation(len(kinds))]
    return [
        zones[kind][index] for kind in ordered for index in rng.permutation(len(zones[kind]))
    ]  # fmt: skip


def _needed_length_mm(columns: Sequence[_Column], margin_mm: float) -> float:
    return margin_mm + sum(column.diameter_mm + margin_mm for column in columns)


def _stand_columns(size: PanelSize, columns: Sequence[_Column]) -> dict[str, Spot]:
    """Stand the columns along the panel with even gaps, and the spots of each with even gaps."""
    gap_x = (size.length_mm - sum(c.diameter_mm for c in columns)) / (len(columns) + 1)
    placed: dict[str, Spot] = {}
    left = gap_x
    for column in columns:
        n = len(column.exposures)
        gap_y = (size.width_mm - n * column.diameter_mm) / (n + 1)
        for index, exposure_id in enumerate(column.exposures):
            placed[exposure_id] = Spot(
                exposure=exposure_id,
                x_mm=round(left + column.diameter_mm / 2, 3),
                y_mm=round(gap_y + column.diameter_mm / 2 + index * (column.diameter_mm + gap_y), 3),
                diameter_mm=column.diameter_mm,
            )
        left += column.diameter_mm + gap_x
    return placed
