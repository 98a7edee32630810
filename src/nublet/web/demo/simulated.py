"""Simulated readings in a trial's tables, each with its one entry: what the demo shows before anybody has read anything."""

from __future__ import annotations

import uuid
from collections import defaultdict
from collections.abc import Mapping, Sequence
from decimal import Decimal

import numpy as np

from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sections import recipe_on_section
from nublet.core.protocols.looks import Look
from nublet.core.protocols.responses import RESPONSES
from nublet.core.simulation.shop import (
    SimulatedPiece,
    SimulatedReading,
    SimulatedSection,
    preparation_shift,
    simulate,
)
from nublet.web.build_ups.adapters import control_preparations, sections_by_build_up, to_build_ups, to_recipes
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.readings.models import EntryKind, Reading, ReadingEntry
from nublet.web.readings.selectors import open_sitting
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
    panels = _panels_of(trial)
    panels = panels[: round(len(panels) * share)]
    spots: dict[tuple[str, str, str], list[int]] = defaultdict(list)
    for panel in panels:
        for spot in panel.spots.all():
            spots[panel.code, spot.exposure, spot.section].append(spot.pk)
    people = {judge.display_name: judge for judge in judges} | ({} if hands is None else {"": hands})
    found = simulated_values(trial, judges, looks, rng=rng, panels=panels)
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
            for spot in spots[each.piece, each.test, each.section]
        ),
        batch_size=_BATCH,
    )
    _enter(readings)
    return len(readings)


def enter_repeats(
    trial: Trial, judges: Sequence[Person], looks: Sequence[Look], *, rng: np.random.Generator
) -> int:
    """Enter what came round a second time, as somebody reads it who is not always of the same mind; returns how many values."""
    spots = {
        (code, exposure, place): number
        for number, code, exposure, place in trial.panels.values_list(
            "spots", "code", "spots__exposure", "spots__place"
        )
    }
    made = []
    for judge in judges:
        for look in looks:
            sitting = open_sitting(judge, trial.pk, look.id)
            prompts = {asked.test.id: asked.prompts for asked in sitting.exposures}
            first = {
                (panel.code, spot.exposure, spot.place): spot.values
                for panel in sitting.panels
                if panel.turn == 0
                for spot in panel.spots
            }
            for panel in sitting.panels:
                for spot in panel.spots if panel.turn else ():
                    key = panel.code, spot.exposure, spot.place
                    for prompt, value in zip(prompts[spot.exposure], first[key], strict=True):
                        response = RESPONSES[prompt.response]
                        if value is None or response.form != "scale":
                            continue
                        steps = sorted(step.value for step in response.steps)
                        at = steps.index(min(steps, key=lambda step: abs(step - value)))
                        at = min(len(steps) - 1, max(0, at + int(rng.choice([-1, 0, 0, 0, 0, 1]))))
                        made.append(
                            Reading(
                                spot_id=spots[key],
                                judge=judge,
                                look=look.id,
                                response=prompt.response,
                                view=prompt.view,
                                turn=1,
                                value=Decimal(str(steps[at])),
                            )
                        )
    _enter(Reading.objects.bulk_create(made, batch_size=_BATCH))
    return len(made)


def simulated_values(
    trial: Trial,
    judges: Sequence[Person],
    looks: Sequence[Look],
    *,
    rng: np.random.Generator,
    panels: Sequence[TrialPanel] | None = None,
) -> list[SimulatedReading]:
    """What judges and hands would read of a trial's pieces, by default of all that count, at some looks."""
    rows = list(trial.build_ups.select_related("version"))
    recipes = to_recipes(rows, trial.shop_id)
    lies = _sections_that_lie(trial, rows, recipes)
    shifts = _shifts(rows, recipes)
    return simulate(
        [_piece(panel, lies, shifts) for panel in (_panels_of(trial) if panels is None else panels)],
        {build_up.name: build_up.family for build_up in to_build_ups(rows)},
        protocol_of(trial),
        [judge.display_name for judge in judges],
        rng=rng,
        looks=looks,
    )


def _panels_of(trial: Trial) -> list[TrialPanel]:
    return list(
        trial.panels.filter(spoiled_at__isnull=True)
        .select_related("board", "build_up")
        .prefetch_related("spots")
        .order_by("code")
    )


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


def _sections_that_lie(
    trial: Trial, rows: Sequence[TrialBuildUp], recipes: Mapping[int, Recipe]
) -> dict[int, tuple[SimulatedSection, ...]]:
    """What lies on each section of each build-up's panels."""
    found = {}
    for number, sections in sections_by_build_up(trial, rows).items():
        recipe = recipes.get(number)
        most = 0 if recipe is None else sum(layer.coats for layer in recipe.layers)
        found[number] = tuple(
            SimulatedSection(
                name=section.name,
                families=()
                if recipe is None
                else tuple(layer.product.family for layer in recipe_on_section(recipe, section).all_layers),
                n_fewer=0 if section.coats is None else max(0, most - section.coats),
            )
            for section in sections
        )
    return found


def _shifts(rows: Sequence[TrialBuildUp], recipes: Mapping[int, Recipe]) -> dict[int, float]:
    bare = {row.pk: each for row, each in control_preparations(rows, recipes).items()}
    return {
        row.pk: preparation_shift(recipes[row.pk].preparation if row.pk in recipes else bare.get(row.pk))
        for row in rows
    }


def _piece(
    panel: TrialPanel,
    lies: Mapping[int, tuple[SimulatedSection, ...]],
    shifts: Mapping[int, float],
) -> SimulatedPiece:
    return SimulatedPiece(
        code=panel.code,
        build_up=panel.build_up.name,
        block=panel.block,
        species=panel.species,
        tests=tuple(dict.fromkeys(spot.exposure for spot in panel.spots.all())),
        sections=() if panel.is_slip else lies[panel.build_up_id],
        shift=0.0 if panel.is_slip else shifts[panel.build_up_id],
    )
