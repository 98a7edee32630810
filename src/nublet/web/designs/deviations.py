"""What a started trial did otherwise than its record says: one function a change."""

from __future__ import annotations

import re
import secrets
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

from nublet.core.design.codes import draw_codes
from nublet.core.design.trial_design import draw_one_panel, loads_of
from nublet.core.design.whole import slip_spot
from nublet.core.errors import DesignError
from nublet.core.quantities import amount, say
from nublet.web.api.conflicts import ConflictError
from nublet.web.designs.actions import set_measures
from nublet.web.designs.adapters import cut_of, spec_of, spot_rows, to_board
from nublet.web.designs.models import DeviationKind, TrialBoard, TrialDeviation, TrialPanel, TrialSpot
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import woods_of
from nublet.web.trials.actions import lock_trial
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial
from nublet.web.trials.signals import asks_whether_read

_MAX_REASON = 2000
_ALONE = "A judge who remembers the codes can see that {new} came when {old} went, and so that both carry the same."


@transaction.atomic
def spoil_panel(actor: Person, trial_id: int, *, panel: str, reason: str) -> TrialDeviation:
    """Record that a panel is spoiled: its readings are kept, and count for nothing from now on."""
    trial = lock_started(actor, trial_id)
    row = find_panel(trial, panel)
    _spoil(row)
    return deviate(
        actor,
        trial,
        DeviationKind.PANEL_SPOILED,
        f"{_noun(row)} {row.code} ({row.block}) is spoiled and counts for nothing.",
        reason,
        panel=row,
    )


@transaction.atomic
def replace_panel(
    actor: Person, trial_id: int, *, panel: str, reason: str, board: int | None = None
) -> TrialDeviation:
    """Record that a panel is replaced by another with a code of its own; ``panel`` may name several, K7, T4.

    Each new panel is cut from the old one's board or another, and carries the same build-up and exposures, its sections
    and spots drawn anew. Codes are dealt by lot, and every judge's order is shuffled anew. One that is replaced alone can
    still be told: whoever remembers the codes sees one go and one come. Several at once hide which stands for which.

    Raises
    ------
    Http404, ConflictError
    DesignError
        If the panel has been replaced before, or the board is of another wood or carries nothing of the trial.
    """
    trial = lock_started(actor, trial_id)
    olds = [find_panel(trial, code) for code in dict.fromkeys(re.split(r"[,;\s]+", panel.strip()))]
    for old in olds:
        if TrialPanel.objects.filter(replaces=old).exists():
            raise DesignError(
                f"Panel {old.code} has been replaced before. Replace its successor.", field="panel"
            )
        _check_replacement_board(old, None if board is None else _named_board(trial, board))
    for old in olds:
        if not old.is_spoiled:
            _spoil(old)
    codes = _fresh_codes(trial, len(olds))
    # The rows are made in an order of their own, so that nothing follows from it either.
    order = secrets.SystemRandom().sample(range(len(olds)), len(olds))
    deviations: dict[int, TrialDeviation] = {}
    for index in order:
        old = olds[index]
        on = old.board if board is None else _named_board(trial, board)
        new = _make_replacement(trial, old, on, codes[index])
        if on is None:
            whence = "a fresh slip of glass"
        else:
            whence = "cut from " + ("the same board" if on == old.board else f"another board, {on.name}")
        known = "" if len(olds) > 1 else f" {_ALONE.format(old=old.code, new=new.code)}"
        deviations[index] = deviate(
            actor,
            trial,
            DeviationKind.PANEL_REPLACED,
            f"{_noun(old)} {old.code} ({old.block}) is replaced by {new.code}, {whence}.{known}",
            reason,
            panel=old,
        )
    return deviations[0]


@transaction.atomic
def swap_board(
    actor: Person, trial_id: int, *, board: int, reason: str, fields: Mapping[str, Any]
) -> TrialDeviation:
    """Record that all panels of a board were cut from another plank, with that plank's measures."""
    trial = lock_started(actor, trial_id)
    row = _named_board(trial, board)
    was = _measure_words(row)
    set_measures(row, {**fields, "name": row.name})
    says = cut_of(trial, to_board(row), row.panels.count()).says
    if says:
        raise DesignError(say("{} Take a longer plank.", says), field="length_mm")
    return deviate(
        actor,
        trial,
        DeviationKind.BOARD_SWAPPED,
        f"Board {row.name} ({was}) was swapped for another plank ({_measure_words(row)}); all its panels come "
        "from that.",
        reason,
        board=row,
    )


@transaction.atomic
def add_board(
    actor: Person, trial_id: int, *, species: str, reason: str, fields: Mapping[str, Any]
) -> TrialDeviation:
    """Record that a board beyond the plan is cut and carries every build-up once, in an order drawn by lot.

    What it shows is kept apart from the verdict of the planned boards where readings had been made by then.

    Raises
    ------
    Http404, ConflictError
    DesignError
        If the wood is not the trial's, the reason is missing, or the board is too short.
    """
    trial = lock_started(actor, trial_id)
    if species not in trial.species:
        raise DesignError(
            f"This trial is not on {species or 'that wood'!r}. Choose one of: {', '.join(trial.species)}.",
            field="species",
        )
    alike = trial.boards.filter(species=species)
    row = TrialBoard(
        trial=trial,
        species=species,
        number=max(alike.values_list("number", flat=True), default=0) + 1,
        added_at=timezone.now(),
        added_after_reading=any(answer for _, answer in asks_whether_read.send(Trial, trial=trial)),
    )
    row.name = f"{woods_of(trial.shop_id)[species].name} {row.number}"
    row.save()
    set_measures(row, {**fields, "name": row.name})
    panels = _panels_of_an_added_board(trial, row)
    says = cut_of(trial, to_board(row), len(panels)).says
    if says:
        raise DesignError(say("{} Take a longer plank.", says), field="length_mm")
    when = "when readings had been made" if row.added_after_reading else "before anything was read"
    return deviate(
        actor,
        trial,
        DeviationKind.BOARD_ADDED,
        f"Board {row.name} ({_measure_words(row)}) was added beyond the plan with {len(panels)} panels, {when}.",
        reason,
        board=row,
    )


def _panels_of_an_added_board(trial: Trial, board: TrialBoard) -> list[TrialPanel]:
    """Every build-up once in each part, by lot."""
    build_ups = list(trial.build_ups.order_by("pk"))
    spec = spec_of(trial, build_ups, [to_board(board)], seed=0)
    n_parts = len(loads_of(spec))
    if n_parts == 0:
        raise DesignError(
            "Nothing of this trial stands on wood, so that a board would carry nothing.", field="species"
        )
    chance = secrets.SystemRandom()
    carried = [
        (build_up, part)
        for build_up in chance.sample(build_ups, len(build_ups))
        for part in range(1, n_parts + 1)
    ]
    codes = _fresh_codes(trial, len(carried))
    places = np.random.default_rng(secrets.randbits(256))
    made = []
    for position, ((build_up, part), code) in enumerate(zip(carried, codes, strict=True), start=1):
        sections, spots = draw_one_panel(spec, part, rng=places)
        panel = TrialPanel.objects.create(
            trial=trial,
            code=code,
            board=board,
            build_up=build_up,
            position=position,
            part=part,
            sections=[asdict(section) for section in sections],
        )
        TrialSpot.objects.bulk_create(spot_rows(panel, sections, spots, protocol_of(trial)))
        made.append(panel)
    return made


@transaction.atomic
def note_deviation(actor: Person, trial_id: int, *, reason: str, panel: str | None = None) -> TrialDeviation:
    """Record anything else that went otherwise, of one panel or of the trial."""
    trial = lock_started(actor, trial_id)
    row = None if not panel else find_panel(trial, panel)
    says = (
        "The trial went otherwise than recorded."
        if row is None
        else f"Panel {row.code} went otherwise than recorded."
    )
    return deviate(actor, trial, DeviationKind.NOTED, says, reason, panel=row)


def deviate(
    actor: Person,
    trial: Trial,
    kind: DeviationKind,
    says: str,
    reason: str,
    *,
    panel: TrialPanel | None = None,
    board: TrialBoard | None = None,
    spoils_exposure: str = "",
) -> TrialDeviation:
    """Write a deviation down with its audit entry. Raises ``DesignError`` where the reason is missing."""
    reason = reason.strip()
    if not reason:
        raise DesignError("Say what happened, such as 'dropped on its face'.", field="reason")
    if len(reason) > _MAX_REASON:
        raise DesignError(f"Keep it to {_MAX_REASON} letters.", field="reason")
    record(actor, kind.value, trial, says=says, reason=reason)
    return TrialDeviation.objects.create(
        trial=trial,
        kind=kind,
        panel=panel,
        board=board,
        says=says,
        reason=reason,
        recorded_by=actor,
        spoils_exposure=spoils_exposure,
    )


def lock_started(actor: Person, trial_id: int) -> Trial:
    """A started trial, its row locked. Raises ``Http404``, ``PermissionDenied`` or ``ConflictError``."""
    trial = lock_trial(actor, trial_id, "deviate")
    if not trial.is_started:
        raise ConflictError(
            "This trial has not started, so nothing can deviate from its record yet. Change it under Design, "
            "or start it."
        )
    return trial


def _spoil(row: TrialPanel) -> None:
    if row.is_spoiled:
        raise ConflictError(f"Panel {row.code} is spoiled already.", field="panel")
    row.spoiled_at = timezone.now()
    row.save()


def _fresh_codes(trial: Trial, n: int) -> list[str]:
    """Codes that no panel of the trial has or had, as long as the others, by lot from outside the trial's own secret."""
    taken = set(trial.panels.values_list("code", flat=True))
    rng = np.random.default_rng(secrets.randbits(256))
    fresh = [code for code in draw_codes(max(85, len(taken)), rng=rng) if code not in taken]
    if len(fresh) < n:
        fresh = [code for code in draw_codes(10 * (len(taken) + n), rng=rng) if code not in taken]
    return fresh[:n]


def _noun(row: TrialPanel) -> str:
    return "Slip" if row.is_slip else "Panel"


def _make_replacement(trial: Trial, old: TrialPanel, on: TrialBoard | None, code: str) -> TrialPanel:
    if on is None:
        return _make_slip(trial, old, code)
    places = np.random.default_rng(secrets.randbits(256))
    rows = list(trial.build_ups.order_by("pk"))
    spec = spec_of(trial, rows, [to_board(on)], seed=0)
    sections, spots = draw_one_panel(spec, old.part, rng=places)
    last = max(on.panels.values_list("position", flat=True), default=0)
    attempts = TrialPanel.objects.filter(trial=trial, build_up=old.build_up, part=old.part)
    new = TrialPanel.objects.create(
        trial=trial,
        code=code,
        board=on,
        build_up=old.build_up,
        position=last + 1,
        part=old.part,
        attempt=max(attempts.values_list("attempt", flat=True)) + 1,
        sections=[asdict(section) for section in sections],
        replaces=old,
    )
    TrialSpot.objects.bulk_create(spot_rows(new, sections, spots, protocol_of(trial)))
    return new


def _make_slip(trial: Trial, old: TrialPanel, code: str) -> TrialPanel:
    alike = TrialPanel.objects.filter(
        build_up=old.build_up_id, slip_test=old.slip_test, position=old.position
    )
    new = TrialPanel.objects.create(
        trial=trial,
        code=code,
        slip_test=old.slip_test,
        build_up=old.build_up,
        position=old.position,
        attempt=max(alike.values_list("attempt", flat=True)) + 1,
        replaces=old,
    )
    TrialSpot.objects.bulk_create(spot_rows(new, (), [slip_spot(str(old.slip_test))], protocol_of(trial)))
    return new


def _check_replacement_board(old: TrialPanel, chosen: TrialBoard | None) -> None:
    if old.board is None:
        if chosen is not None:
            raise DesignError(
                f"{old.code} is a slip of glass and comes from no board. Leave the board out.", field="board"
            )
        return
    on = old.board if chosen is None else chosen
    if on.species != old.board.species:
        raise DesignError(
            f"Board {on.name} is of another wood than {old.board.name}. Take a board of the same wood.",
            field="board",
        )
    if not on.panels.exclude(pk=old.pk).filter(spoiled_at__isnull=True).exists():
        raise DesignError(
            f"No other panel comes from {on.name}, so a panel cut from it could be compared with nothing. Take a board "
            "that carries others.",
            field="board",
        )


def find_panel(trial: Trial, code: str) -> TrialPanel:
    """A trial's panel by its code. Raises ``DesignError``."""
    if not code:
        raise DesignError("Say which panel: the code on its back.", field="panel")
    row = TrialPanel.objects.select_related("board", "build_up").filter(trial=trial, code=code).first()
    if row is None:
        raise DesignError(f"This trial has no panel {code!r}. Check the code on its back.", field="panel")
    return row


def _named_board(trial: Trial, board_id: int) -> TrialBoard:
    """A board that a form names. Raises ``DesignError``."""
    row = trial.boards.filter(pk=board_id).first()
    if row is None:
        raise DesignError("Choose which board: one of this trial's.", field="board")
    return row


def _measure_words(row: TrialBoard) -> str:
    if row.length_mm is None:
        return "not measured"
    long = amount("millimetres", row.length_mm, is_bare=row.width_mm is not None)
    return (
        say("{}", long) if row.width_mm is None else say("{} × {}", long, amount("millimetres", row.width_mm))
    )
