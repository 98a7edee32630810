"""A trial's design to the sheets that are printed of it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from nublet.core.design.areas import Section
from nublet.core.design.cutting import BoardCut
from nublet.core.errors import DesignError
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.sheet import steps_of_preparation
from nublet.formats.sheets.trial_sheets import PreparationGroup, SheetBoard, SheetPanel, TrialSheets
from nublet.web.build_ups.adapters import control_preparations, to_recipes, work_of
from nublet.web.designs.adapters import to_spot
from nublet.web.designs.freezing import drawn_fingerprint
from nublet.web.designs.models import TrialPanel
from nublet.web.designs.selectors import CutBoard, view_design
from nublet.web.shelf.adapters import woods_of
from nublet.web.trials.adapters import panel_size, protocol_of, saw_of
from nublet.web.trials.models import Trial


def sheets_of(trial: Trial, *, board: int | None = None) -> TrialSheets:
    """What the sheets of a trial show, or of one of its boards alone.

    Spoiled panels stand in the cutting list alone.

    Raises
    ------
    DesignError
        If nothing has been drawn yet, or the trial has no such board.
    """
    view = view_design(trial)
    boards = [found for found in view.boards if found.panels and board in (None, found.row.pk)]
    slips = [row for row in view.slips if not row.is_spoiled] if board is None else []
    if not boards and not slips:
        raise DesignError(
            "There is nothing to print yet. Draw lots under Design first."
            if board is None
            else "This board has no panels to print. Choose another board.",
            field="board",
        )
    woods = woods_of(trial.shop_id)
    rows = [panel.row for found in boards for panel in found.panels if not panel.row.is_spoiled]
    return TrialSheets(
        trial=trial.name,
        fingerprint=drawn_fingerprint(trial),
        size=panel_size(trial),
        saw=saw_of(trial),
        boards=tuple(
            _board(found, found.cut, woods[found.row.species].name)
            for found in boards
            if found.cut is not None
        ),
        panels=tuple(_panel(row) for row in rows),
        slips=tuple(row.code for row in slips),
        groups=tuple(_groups(trial, rows)),
        exposure_names={exposure.id: exposure.short_name for exposure in protocol_of(trial).tests},
    )


def _board(found: CutBoard, cut: BoardCut, wood: str) -> SheetBoard:
    return SheetBoard(
        name=found.row.name, wood=wood, cut=cut, codes=tuple(panel.row.code for panel in found.panels)
    )


def _panel(row: TrialPanel) -> SheetPanel:
    return SheetPanel(
        code=row.code,
        sections=tuple(Section(**section) for section in row.sections),
        spots=tuple(to_spot(spot) for spot in row.spots.all()),
    )


def _groups(trial: Trial, rows: Sequence[TrialPanel]) -> list[PreparationGroup]:
    """Panels by how they are prepared, the largest group first; the bare control as :func:`control_preparations` says."""
    build_ups = list(trial.build_ups.select_related("version").order_by("pk"))
    recipes = to_recipes(build_ups, trial.shop_id)
    work = work_of(trial, woods_of(trial.shop_id))
    bare = {row.pk: each for row, each in control_preparations(build_ups, recipes).items()}
    codes: dict[Preparation, list[str]] = defaultdict(list)
    for row in rows:
        recipe = recipes.get(row.build_up_id)
        codes[bare[row.build_up_id] if recipe is None else recipe.preparation].append(row.code)
    return [
        PreparationGroup(codes=tuple(codes[each]), steps=tuple(steps_of_preparation(each, work)))
        for each in sorted(codes, key=lambda each: -len(codes[each]))
    ]
