"""Rows of a trial to the core's types and back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from nublet.core.design.blocks import Board, Design, Panel
from nublet.core.design.layout import PanelSize
from nublet.core.errors import NubletError
from nublet.core.materials.build_ups import BuildUp
from nublet.core.materials.compatibility import Setting
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sheet import Work
from nublet.core.materials.species import Species
from nublet.core.protocols.exposures import PROTOCOLS, Protocol
from nublet.core.ranking.profiles import USE_PROFILES
from nublet.web.shelf.adapters import outline_of, products_named, to_recipe
from nublet.web.trials.models import Trial, TrialBoard, TrialBuildUp, TrialPanel, TrialSpot


def protocol_of(trial: Trial) -> Protocol:
    """Return the trial's protocol. Raises ``NubletError`` when it no longer ships."""
    if trial.protocol not in PROTOCOLS:
        raise NubletError(
            f"There is no protocol {trial.protocol!r}. Choose one of: {', '.join(sorted(PROTOCOLS))}.",
            field="protocol",
        )
    return PROTOCOLS[trial.protocol]


def to_build_ups(rows: Iterable[TrialBuildUp]) -> list[BuildUp]:
    """Core build-ups of a trial's rows, products known by their families alone; rows need their version joined."""
    return [
        BuildUp(name=row.name, recipe=None if row.version is None else outline_of(row.version.recipe))
        for row in rows
    ]


def to_recipes(rows: Iterable[TrialBuildUp], shop_id: int) -> dict[int, Recipe]:
    """Full recipes by the build-up's number, without the control; rows need their version joined. One query."""
    versions = {row.pk: row.version for row in rows if row.version is not None}
    products = products_named((version.recipe for version in versions.values()), shop_id)
    return {pk: to_recipe(version, products) for pk, version in versions.items()}


def to_full_build_ups(rows: Iterable[TrialBuildUp], shop_id: int) -> list[BuildUp]:
    """Core build-ups with their products; rows need their version joined. One query."""
    rows = list(rows)
    recipes = to_recipes(rows, shop_id)
    return [BuildUp(name=row.name, recipe=recipes.get(row.pk)) for row in rows]


def work_of(trial: Trial, woods: Mapping[str, Species]) -> Work:
    """What each build-up of the trial is put on: a panel of every board."""
    return Work(
        n_panels=max(1, len(trial.species) * trial.boards_per_species),
        face_m2=trial.panel_length_mm * trial.panel_width_mm / 1e6,
        woods=[woods[wood] for wood in trial.species if wood in woods],
    )


def setting_of(trial: Trial, woods: Mapping[str, Species]) -> Setting:
    """The woods and demands that a trial's recipes must stand up to."""
    return Setting(
        species=[woods[wood] for wood in trial.species if wood in woods],
        demands=frozenset().union(*(USE_PROFILES[use].demands for use in trial.uses if use in USE_PROFILES)),
    )


def planned_boards(trial: Trial, woods: Mapping[str, Species]) -> list[Board]:
    """The boards that the trial asks for, named by species and number."""
    return [
        Board(id=f"{woods[species].name} {number}", species=species)
        for species in trial.species
        for number in range(1, trial.boards_per_species + 1)
    ]


def panel_size(trial: Trial) -> PanelSize:
    """The size of the trial's panels."""
    return PanelSize(length_mm=trial.panel_length_mm, width_mm=trial.panel_width_mm)


def store_design(trial: Trial, design: Design) -> None:
    """Write a design's boards, panels and spots; the trial must have none."""
    species = {panel.board: panel.species for panel in design.panels}
    boards = {
        row.name: row
        for row in TrialBoard.objects.bulk_create(
            TrialBoard(trial=trial, name=name, species=wood) for name, wood in species.items()
        )
    }
    build_ups = {row.name: row for row in trial.build_ups.all()}
    rows = TrialPanel.objects.bulk_create(
        TrialPanel(
            trial=trial,
            code=panel.code,
            board=boards[panel.board],
            build_up=build_ups[panel.build_up],
            position=panel.position,
        )
        for panel in design.panels
    )
    TrialSpot.objects.bulk_create(
        TrialSpot(
            panel=row,
            exposure=spot.exposure,
            x_mm=spot.x_mm,
            y_mm=spot.y_mm,
            diameter_mm=spot.diameter_mm,
        )
        for row, panel in zip(rows, design.panels, strict=True)
        for spot in panel.spots
    )


def to_panels(rows: Iterable[TrialPanel]) -> list[Panel]:
    """Core panels, without their spots; rows need board and build-up joined."""
    return [
        Panel(
            code=row.code,
            board=row.board.name,
            species=row.board.species,
            position=row.position,
            build_up=row.build_up.name,
            spots=(),
        )
        for row in rows
    ]
