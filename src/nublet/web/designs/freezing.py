"""Starting a trial: design, build-ups and protocol are written down as they are, under a fingerprint."""

from __future__ import annotations

import json
from dataclasses import asdict
from typing import Any, Literal

from django.utils import timezone

from nublet.core.design.trial_design import canonical_json, fingerprint_of
from nublet.core.protocols.plain import recorded_protocol
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.adapters import cut_of, to_board
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.actions import freeze_versions, products_as_they_are
from nublet.web.trials.adapters import panel_size, saw_of
from nublet.web.trials.models import Trial

RECORD_FORMAT = 1
RecordState = Literal["none", "intact", "broken"]


def freeze_trial(trial: Trial, actor: Person) -> None:
    """Start a trial whose row is locked and which has a design: freeze what it compares. Once only."""
    if trial.is_started:
        return
    rows = trial.build_ups.select_related("version").order_by("pk")
    freeze_versions([row.version for row in rows if row.version is not None], trial.shop_id)
    trial.section_products = products_as_they_are(trial.section_recipes.values(), trial.shop_id)
    trial.started_at = timezone.now()
    content = {"boards": _boards(trial), "drawn": trial.fingerprint, **frozen_content(trial)}
    trial.record = canonical_json(content)
    trial.fingerprint = fingerprint_of(content)
    trial.save()
    record(actor, "start_trial", trial, fingerprint=trial.fingerprint)


def check_record(trial: Trial) -> RecordState:
    """Whether the record still has its fingerprint and the tables still hold what it says. Three queries.

    ``"none"`` is that of a trial that has not started, or had before records were kept.
    """
    if not trial.record:
        return "none"
    kept = json.loads(trial.record)
    standing = json.loads(canonical_json(frozen_content(trial)))
    # Boards may be swapped, which is recorded as a deviation; everything else stands.
    is_kept = {key: value for key, value in kept.items() if key not in ("boards", "drawn")} == standing
    return "intact" if is_kept and fingerprint_of(kept) == trial.fingerprint else "broken"


def drawn_fingerprint(trial: Trial) -> str:
    """The fingerprint of the design as it was drawn, which sheets carry that were printed before the start."""
    return str(json.loads(trial.record)["drawn"]) if trial.record else trial.fingerprint


def frozen_content(trial: Trial) -> dict[str, Any]:
    """What a started trial may no longer change, as plain values: design, build-ups and protocol."""
    panels = (
        TrialPanel.objects.filter(trial=trial, attempt=1, board__added_at__isnull=True)
        .select_related("board", "build_up")
        .prefetch_related("spots")
        .order_by("pk")
    )
    size = panel_size(trial)
    slips = [panel for panel in panels if panel.is_slip]
    return {
        "format": RECORD_FORMAT,
        "species": trial.species,
        "design": {
            "seed": trial.seed,
            **({"lots_secret": trial.lots_secret} if trial.lots_secret else {}),
            "panel_mm": [size.length_mm, size.width_mm],
            "margin_mm": trial.margin_mm,
            "sections": trial.sections,
            # Only where there are any: records from before keep their fingerprint.
            **({"section_recipes": trial.section_recipes} if trial.section_recipes else {}),
            **({"section_levels": trial.section_levels} if trial.section_levels else {}),
            "saw": asdict(saw_of(trial)),
            "faces": trial.faces,
            "panels_each": trial.panels_each,
            "ladders": trial.ladders,
            **({"stages": trial.stages} if trial.stages else {}),
            "arrangement": trial.arrangement,
            "panels": [
                {
                    "code": panel.code,
                    "board": panel.board.number,
                    "species": panel.board.species,
                    "position": panel.position,
                    "part": panel.part,
                    "build_up": panel.build_up.name,
                    "sections": panel.sections,
                    "spots": [
                        _spot_line(spot) for spot in sorted(panel.spots.all(), key=lambda spot: spot.pk)
                    ],
                }
                for panel in panels
                if panel.board is not None
            ],
            # Only where there are any: records from before there were slips keep their fingerprint.
            **(
                {"slips": [[slip.code, slip.slip_test, slip.build_up.name, slip.position] for slip in slips]}
                if slips
                else {}
            ),
        },
        "build_ups": [
            _build_up_line(row) for row in trial.build_ups.select_related("version").order_by("pk")
        ],
        "schools": _schools(trial),
        "protocol": recorded_protocol(trial.protocol_plain),
    }


def _build_up_line(row: TrialBuildUp) -> dict[str, Any]:
    return {
        "name": row.name,
        "is_control": row.is_control,
        "version": None if row.version is None else row.version.number,
        "recipe": None if row.version is None else row.version.recipe,
        "products": None if row.version is None else row.version.products,
        # Only where there is one: records from before there were any keep their fingerprint.
        **({} if row.preparation is None else {"preparation": row.preparation}),
        **({"levels": row.levels} if row.levels else {}),
        **({"sections_out": row.sections_out} if row.sections_out else {}),
    }


def _schools(trial: Trial) -> dict[str, str]:
    found = {"preparation": trial.preparation_school, "coats": trial.coat_school}
    # Only where it is so: records from before there was a choice keep their fingerprint.
    return {**found, "exposing": trial.exposing} if trial.exposing == "together" else found


def _spot_line(spot: TrialSpot) -> list[Any]:
    """A ring as it has always been written, and what is none with how it reaches."""
    line = [spot.exposure, spot.section, spot.side, spot.x_mm, spot.y_mm, spot.diameter_mm]
    return line if spot.kind == "spot" else [*line, spot.kind, spot.along_mm, spot.across_mm]


def _boards(trial: Trial) -> list[dict[str, Any]]:
    """The boards as they were to be cut when the trial started."""
    boards = []
    for row in trial.boards.prefetch_related("panels").order_by("pk"):
        panels = sorted(row.panels.all(), key=lambda panel: panel.position)
        if not panels:
            continue
        cut = cut_of(trial, to_board(row), len(panels))
        boards.append(
            {
                "name": row.name,
                "species": row.species,
                "number": row.number,
                "length_mm": row.length_mm,
                "width_mm": row.width_mm,
                "defects": row.defects,
                "places": [[place.offset_mm, place.row] for place in cut.places],
            }
        )
    return boards
