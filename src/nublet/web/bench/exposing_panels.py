"""A trial's panels as the hands at the bench see them when they expose: code, wood, areas and spots, and no build-up."""

from __future__ import annotations

from dataclasses import dataclass

from nublet.core.design.whole import SLIP_SIZE
from nublet.core.protocols.sites import SiteKind
from nublet.web.designs.adapters import Area, blind_areas
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class ExposedSpot:
    """A place of a test on a panel, mm from its lower left corner to the middle; ``attempt`` counts those of a test that was repeated."""

    exposure: str
    kind: SiteKind
    place: int
    side: str
    x_mm: float
    y_mm: float
    diameter_mm: float
    along_mm: float
    across_mm: float
    attempt: int


@dataclass(frozen=True, kw_only=True)
class ExposedPanel:
    """A piece with what stands on it that counts; ``block`` is its board, or its replicate."""

    code: str
    block: str
    species: str
    length_mm: float
    width_mm: float
    areas: tuple[Area, ...]
    spots: tuple[ExposedSpot, ...]


def panels_of(trial: Trial) -> dict[str, ExposedPanel]:
    """The trial's pieces that count, by code. Two queries."""
    rows = (
        TrialPanel.objects.filter(trial=trial, spoiled_at__isnull=True)
        .select_related("board")
        .prefetch_related("spots")
    )
    return {row.code: _panel(trial, row) for row in rows}


def _panel(trial: Trial, row: TrialPanel) -> ExposedPanel:
    size = SLIP_SIZE if row.is_slip else None
    return ExposedPanel(
        code=row.code,
        block=row.block,
        species=row.species,
        length_mm=trial.panel_length_mm if size is None else size.length_mm,
        width_mm=trial.panel_width_mm if size is None else size.width_mm,
        areas=blind_areas(row),
        spots=tuple(_spot(spot) for spot in row.spots.all() if spot.left_out_at is None),
    )


def _spot(spot: TrialSpot) -> ExposedSpot:
    return ExposedSpot(
        exposure=spot.exposure,
        kind=spot.kind,  # type: ignore[arg-type]
        place=spot.place,
        side=spot.side,
        x_mm=spot.x_mm,
        y_mm=spot.y_mm,
        diameter_mm=spot.diameter_mm,
        along_mm=spot.along_mm,
        across_mm=spot.across_mm,
        attempt=spot.attempt,
    )
