"""Rows of a design to the core's types and back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import cast

from nublet.core.design.areas import Faces, Section
from nublet.core.design.blocks import Arrangement
from nublet.core.design.cutting import Board, BoardCut, Defect, cut_board
from nublet.core.design.drawn import Spot
from nublet.core.design.fitting import Ladders
from nublet.core.design.trial_design import Design, DesignSpec, Panel
from nublet.core.design.whole import slip_spot
from nublet.core.materials.species import Species
from nublet.core.protocols.prompts import n_values
from nublet.core.protocols.sites import SiteKind
from nublet.core.protocols.tests import Protocol
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.models import TrialBoard, TrialPanel, TrialSpot
from nublet.web.trials.adapters import panel_size, protocol_of, saw_of
from nublet.web.trials.models import Trial


def to_board(row: TrialBoard) -> Board:
    """The core's board of a row."""
    return Board(
        id=row.name,
        species=row.species,
        length_mm=row.length_mm,
        width_mm=row.width_mm,
        defects=tuple(Defect(from_mm=d["from_mm"], to_mm=d["to_mm"], kind=d["kind"]) for d in row.defects),
    )


def planned_boards(trial: Trial, woods: Mapping[str, Species], rows: Iterable[TrialBoard]) -> list[Board]:
    """The boards that the trial asks for, species by species; one that has no row yet is not measured."""
    known = {(row.species, row.number): row for row in rows}
    return [
        to_board(known[species, number])
        if (species, number) in known
        else Board(id=f"{woods[species].name} {number}", species=species)
        for species in trial.species
        for number in range(1, trial.boards_per_species + 1)
    ]


def spec_of(
    trial: Trial, build_ups: Sequence[TrialBuildUp], boards: Sequence[Board], *, seed: int
) -> DesignSpec:
    """What the trial asks of its design."""
    names = {row.pk: row.name for row in build_ups}
    return DesignSpec(
        build_ups=tuple(row.name for row in build_ups),
        boards=tuple(boards),
        exposures=protocol_of(trial).tests,
        size=panel_size(trial),
        margin_mm=trial.margin_mm,
        sections=tuple(trial.sections),
        saw=saw_of(trial),
        pairs=tuple((names[a], names[b]) for a, b in trial.pairs if a in names and b in names),
        faces=cast("Faces", trial.faces),
        panels_each=trial.panels_each,
        ladders=cast("Ladders", trial.ladders),
        arrangement=cast("Arrangement", trial.arrangement),
        block_size=trial.block_size,
        slip_replicates=trial.slip_replicates,
        bare=tuple(row.name for row in build_ups if row.is_control),
        seed=seed,
    )


def store_design(trial: Trial, design: Design) -> None:
    """Write a design's panels and spots; the trial's boards have rows, and it has no panels."""
    boards = {row.name: row for row in trial.boards.all()}
    build_ups = {row.name: row for row in trial.build_ups.all()}
    protocol = protocol_of(trial)
    rows = TrialPanel.objects.bulk_create(
        TrialPanel(
            trial=trial,
            code=panel.code,
            board=boards[panel.board],
            build_up=build_ups[panel.build_up],
            position=panel.position,
            part=panel.part,
            sections=[asdict(section) for section in panel.sections],
        )
        for panel in design.panels
    )
    TrialSpot.objects.bulk_create(
        row
        for panel_row, panel in zip(rows, design.panels, strict=True)
        for row in spot_rows(panel_row, panel.sections, panel.spots, protocol)
    )
    slips = TrialPanel.objects.bulk_create(
        TrialPanel(
            trial=trial,
            code=slip.code,
            slip_test=slip.test,
            build_up=build_ups[slip.build_up],
            position=slip.replicate,
        )
        for slip in design.slips
    )
    TrialSpot.objects.bulk_create(
        row for slip in slips for row in spot_rows(slip, (), [slip_spot(str(slip.slip_test))], protocol)
    )


def spot_rows(
    panel: TrialPanel, sections: Sequence[Section], spots: Iterable[Spot], protocol: Protocol
) -> list[TrialSpot]:
    """Rows, not saved yet, of a panel's spots."""
    tests = {test.id: (test, protocol.looks_of(test)) for test in protocol.tests}
    places = {section.name: number for number, section in enumerate(sections, start=1)}
    return [
        TrialSpot(
            panel=panel,
            exposure=spot.exposure,
            kind=spot.kind,
            section=spot.section or "",
            place=0 if spot.section is None else places[spot.section],
            side=spot.side,
            x_mm=spot.x_mm,
            y_mm=spot.y_mm,
            diameter_mm=spot.diameter_mm,
            along_mm=spot.along_mm,
            across_mm=spot.across_mm,
            n_judged=n_values(*tests[spot.exposure], by="judges"),
            n_by_hands=n_values(*tests[spot.exposure], by="hands"),
        )
        for spot in spots
    ]


def to_spot(row: TrialSpot) -> Spot:
    """The core's spot of a row."""
    return Spot(
        exposure=row.exposure,
        kind=cast("SiteKind", row.kind),
        section=row.section or None,
        side="back" if row.side == "back" else "front",
        x_mm=row.x_mm,
        y_mm=row.y_mm,
        diameter_mm=row.diameter_mm,
        along_mm=row.along_mm,
        across_mm=row.across_mm,
    )


@dataclass(frozen=True, kw_only=True)
class Area:
    """A section as a judge may see it: by its number on the panel alone, mm."""

    place: int
    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float


def blind_areas(panel: TrialPanel) -> tuple[Area, ...]:
    """A panel's sections without their names."""
    return tuple(
        Area(
            place=number,
            x_mm=section["x_mm"],
            y_mm=section["y_mm"],
            length_mm=section["length_mm"],
            width_mm=section["width_mm"],
        )
        for number, section in enumerate(panel.sections, start=1)
    )


def cut_of(trial: Trial, board: Board, n_panels: int) -> BoardCut:
    """How the trial's saw cuts so many of its panels from a board."""
    return cut_board(board, n_panels, panel_size(trial), saw_of(trial))


def to_panels(rows: Iterable[TrialPanel]) -> list[Panel]:
    """Core panels, without their spots and their places on the boards; rows need board and build-up joined."""
    return [
        Panel(
            code=row.code,
            board=row.block,
            species=row.species,
            position=row.position,
            offset_mm=0.0,
            row=0,
            build_up=row.build_up.name,
            part=row.part,
            spots=(),
        )
        for row in rows
    ]
