"""Simulated readings in a trial's tables, each with its one entry: what the demo shows before anybody has read anything."""

from __future__ import annotations

import uuid
from collections.abc import Sequence
from decimal import Decimal

import numpy as np

from nublet.core.protocols.looks import Look
from nublet.core.protocols.responses import RESPONSES
from nublet.core.simulation.shop import SimulatedPiece, simulate
from nublet.web.build_ups.adapters import to_build_ups
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.readings.models import EntryKind, Reading, ReadingEntry
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_BATCH = 1000


def enter_simulated(
    trial: Trial,
    judges: Sequence[Person],
    hands: Person | None,
    looks: Sequence[Look],
    *,
    rng: np.random.Generator,
    share: float = 1.0,
) -> int:
    """Enter what judges and hands would read at some looks on the first share of the pieces; returns how many values.

    Parameters
    ----------
    trial : Trial
        Started.
    judges : sequence of Person
    hands : Person or None
        Who holds the instruments; ``None`` leaves what they read out.
    looks : sequence of Look
    rng : numpy.random.Generator
    share : float
    """
    panels = list(
        trial.panels.filter(spoiled_at__isnull=True)
        .select_related("board", "build_up")
        .prefetch_related("spots")
        .order_by("code")
    )
    panels = panels[: round(len(panels) * share)]
    carried = to_build_ups(trial.build_ups.select_related("version"))
    spots = {
        (panel.code, spot.exposure): [each.pk for each in panel.spots.all() if each.exposure == spot.exposure]
        for panel in panels
        for spot in panel.spots.all()
    }
    people = {judge.display_name: judge for judge in judges} | ({} if hands is None else {"": hands})
    found = simulate(
        [_piece(panel) for panel in panels],
        {build_up.name: build_up.family for build_up in carried},
        protocol_of(trial),
        [judge.display_name for judge in judges],
        rng=rng,
        looks=looks,
    )
    readings = Reading.objects.bulk_create(
        (
            Reading(
                spot_id=spot,
                judge=people[each.judge],
                look=each.look,
                response=each.response,
                view=each.view,
                against=each.against,
                value=Decimal(str(RESPONSES[each.response].rounded(each.value))),
            )
            for each in found
            if each.judge in people
            # A choice stands with the one of the two whose code comes first.
            for spot in spots[each.piece, each.test]
        ),
        batch_size=_BATCH,
    )
    _enter(readings)
    return len(readings)


def _enter(readings: Sequence[Reading]) -> None:
    """One entry for each."""
    ReadingEntry.objects.bulk_create(
        (
            ReadingEntry(
                reading=reading,
                kind=EntryKind.GRADE,
                response=reading.response,
                value=reading.value,
                client_id=uuid.uuid4(),
            )
            for reading in readings
        ),
        batch_size=_BATCH,
    )


def _piece(panel: TrialPanel) -> SimulatedPiece:
    return SimulatedPiece(
        code=panel.code,
        build_up=panel.build_up.name,
        block=panel.block,
        species=panel.species,
        tests=tuple(dict.fromkeys(spot.exposure for spot in panel.spots.all())),
    )
