"""What can be done to a trial's design: one function a change. Before the start it is drawn, after it deviated from."""

from __future__ import annotations

import secrets
from collections.abc import Mapping, Sequence
from itertools import chain, count
from typing import Any

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from nublet.core.design.cutting import DEFECT_KINDS, check_board
from nublet.core.design.trial_design import draw_design as draw_core_design
from nublet.core.errors import BlockedCombinationError, DesignError
from nublet.core.materials.build_ups import check_build_ups
from nublet.core.materials.compatibility import refuse_undeclared
from nublet.core.materials.sections import recipe_on_section
from nublet.core.plain import tidy
from nublet.core.quantities import say
from nublet.web.api.conflicts import ConflictError
from nublet.web.build_ups.adapters import sections_of, to_build_ups, to_recipes
from nublet.web.designs.adapters import cut_of, planned_boards, spec_of, store_design, to_board
from nublet.web.designs.freezing import freeze_trial
from nublet.web.designs.models import TrialBoard
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import uses_of, woods_of
from nublet.web.trials.actions import drop_design, lock_trial
from nublet.web.trials.adapters import setting_of
from nublet.web.trials.models import Trial

_SECRET_BYTES = 32


@transaction.atomic
def draw_design(actor: Person, trial_id: int, *, seed: int | None = None) -> Trial:
    """Draw lots: make the trial's panels, codes and spots. Replaces an earlier design.

    They are drawn from a secret of 256 bits that is kept with the trial. A ``seed`` in its place makes a design that can be
    made again, for the demo and for tests: whoever knows it can replay the lots, and the evidence says so.

    Raises
    ------
    BuildUpError, DesignError
        If there is nothing to compare, a build-up would not hold and is no declared experiment, there is no wood to put
        them on, a board is too short, or the spots do not fit.
    ConflictError
        If the trial has started.
    """
    trial = lock_trial(actor, trial_id, "draw_design")
    drop_design(actor, trial, what="the design")
    rows = list(trial.build_ups.select_related("version").order_by("pk"))
    check_build_ups(to_build_ups(rows), minimum=1)
    woods = woods_of(actor.shop_id)
    setting = setting_of(trial, woods, uses_of(actor.shop_id))
    sections = sections_of(trial)
    recipes = to_recipes(rows, actor.shop_id)
    for row in rows:
        recipe = recipes.get(row.pk)
        if recipe is None:
            continue
        refuse_undeclared(recipe, setting)
        for section in sections:
            if section.name in row.sections_out:
                continue
            try:
                refuse_undeclared(recipe_on_section(recipe, section), setting)
            except BlockedCombinationError as error:
                raise BlockedCombinationError(
                    f"{section.name!r} on {row.name}: {error.message}", field="sections"
                ) from error
    trial.seed = seed
    trial.lots_secret = secrets.token_hex(_SECRET_BYTES) if seed is None else ""
    trial.order_secret = secrets.token_hex(_SECRET_BYTES)
    design = draw_core_design(
        spec_of(
            trial,
            rows,
            planned_boards(trial, woods, trial.boards.all()),
            seed=int(trial.lots_secret, 16) if seed is None else seed,
        )
    )
    store_design(trial, design)
    trial.fingerprint = design.fingerprint
    trial.designed_at = timezone.now()
    trial.save()
    record(
        actor,
        "draw_design",
        trial,
        seed=seed,
        fingerprint=design.fingerprint,
    )
    return trial


@transaction.atomic
def start(actor: Person, trial_id: int, *, unmeasured_because: str | None = None) -> Trial:
    """Start a trial: design, build-ups and protocol stand from now on, and their record gets its fingerprint.

    Parameters
    ----------
    unmeasured_because : str or None
        Why boards were not measured, kept with who started it. ``None``, for commands and demos, asks for no reason.

    Raises
    ------
    DesignError
        If it has no design yet, a board is too short for its panels, or boards are not measured and no word says why.
    ConflictError
        If it has started before.
    """
    trial = lock_trial(actor, trial_id, "start_trial")
    if trial.is_started:
        raise ConflictError("This trial has started already; its record stands.")
    if not trial.fingerprint:
        raise DesignError("This trial has no design yet. Draw lots under Design, then start it.")
    unmeasured = []
    for board in trial.boards.prefetch_related("panels"):
        says = cut_of(trial, to_board(board), len(board.panels.all())).says
        if says:
            raise DesignError(say("{} Take a longer board, or measure it again.", says), field="boards")
        if board.length_mm is None or board.width_mm is None:
            unmeasured.append(board.name)
    why = tidy(unmeasured_because or "")
    if unmeasured and unmeasured_because is not None and not why:
        raise DesignError(
            f"{len(unmeasured)} boards are not measured, {unmeasured[0]} for one. Measure them under Prepare, or say why not.",
            field="unmeasured_because",
        )
    freeze_trial(trial, actor)
    if unmeasured and why:
        record(actor, "start_unmeasured", trial, boards=unmeasured, because=why)
    return trial


@transaction.atomic
def measure_board(actor: Person, trial_id: int, board_id: int, fields: Mapping[str, Any]) -> TrialBoard:
    """Change a board's name, measures or defects before the trial starts. The design stands: only places move.

    Raises
    ------
    Http404
    DesignError
        If a measure cannot be, or another board has the name.
    ConflictError
        If the trial has started: a board is then swapped, as a deviation.
    """
    trial = lock_trial(actor, trial_id)
    row = _find_board(trial, board_id)
    if trial.is_started:
        raise ConflictError(
            "This trial has started. Record the other plank as a swapped board under Deviations."
        )
    before = _measures(row)
    set_measures(row, fields)
    record(
        actor,
        "measure_board",
        trial,
        board=row.name,
        before=before,
        after=_measures(row),
    )
    return row


def _find_board(trial: Trial, board_id: int) -> TrialBoard:
    row = trial.boards.filter(pk=board_id).first()
    if row is None:
        raise Http404
    return row


def set_measures(row: TrialBoard, fields: Mapping[str, Any]) -> None:
    """Set a board's name, measures and defects as far as they are given, and save it. Raises ``DesignError``."""
    row.name = tidy(str(fields.get("name") or row.name)) or row.name
    row.length_mm = fields.get("length_mm", row.length_mm)
    row.width_mm = fields.get("width_mm", row.width_mm)
    row.defects = _clean_defects(fields.get("defects", row.defects))
    if row.trial.boards.filter(name=row.name).exclude(pk=row.pk).exists():
        raise DesignError(
            f"Another board of this trial is called {row.name!r}. Choose another name.", field="name"
        )
    check_board(to_board(row))
    row.save()


def _clean_defects(defects: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
    clean = [
        {"from_mm": d["from_mm"], "to_mm": d["to_mm"], "kind": d.get("kind") or "other"} for d in defects
    ]
    for defect in clean:
        if defect["kind"] not in DEFECT_KINDS:
            raise DesignError(
                f"{defect['kind']!r} is not a kind of defect. Choose one of: {', '.join(DEFECT_KINDS)}.",
                field="defects",
            )
    return sorted(clean, key=lambda d: (d["from_mm"], d["to_mm"]))


def _measures(row: TrialBoard) -> dict[str, Any]:
    return {
        "name": row.name, "length_mm": row.length_mm, "width_mm": row.width_mm, "defects": row.defects,
    }  # fmt: skip


def ensure_boards(trial: Trial) -> None:
    """Give every board that the trial asks for a row; those it no longer asks for are kept."""
    woods = woods_of(trial.shop_id)
    rows = list(trial.boards.all())
    known = {(row.species, row.number) for row in rows}
    names = {row.name for row in rows}
    for species in trial.species:
        for number in range(1, trial.boards_per_species + 1):
            if (species, number) in known:
                continue
            base = f"{woods[species].name} {number}"
            name = next(n for n in chain([base], (f"{base} ({i})" for i in count(2))) if n not in names)
            names.add(name)
            TrialBoard.objects.create(trial=trial, name=name, species=species, number=number)
