"""Reading the bench for judges. Nothing here knows what a panel carries: the blind holds by absence."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import cast

from django.db.models import Count, Q
from django.http import Http404

from nublet.core.design.areas import Side
from nublet.core.design.codes import shuffle_read_order
from nublet.core.errors import ReadingsError
from nublet.core.protocols.looks import Look
from nublet.core.protocols.responses import ScaleStep
from nublet.core.protocols.tests import Test
from nublet.web.designs.adapters import Area, blind_areas
from nublet.web.designs.models import TrialSpot
from nublet.web.people.models import Person
from nublet.web.people.policies import within
from nublet.web.readings.models import Reading
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class JudgingTask:
    """One look of one trial that a judge has to grade, or has graded."""

    trial_id: int
    trial_name: str
    is_simulated: bool
    look: Look
    n_panels: int
    n_spots: int
    n_graded: int
    n_panels_left: int
    next_panel: str | None


@dataclass(frozen=True, kw_only=True)
class BlindSpot:
    """A spot as a judge sees it, with the judge's own grade and note."""

    exposure: str
    place: int
    side: Side
    x_mm: float
    y_mm: float
    diameter_mm: float
    grade: float | None
    note: str


@dataclass(frozen=True, kw_only=True)
class BlindPanel:
    """A panel as a judge sees it: its code and its wood."""

    code: str
    species: str
    areas: tuple[Area, ...]
    spots: tuple[BlindSpot, ...]


@dataclass(frozen=True, kw_only=True)
class Sitting:
    """All that the grading screen needs for one judge at one look, panels in the judge's own order."""

    trial_id: int
    trial_name: str
    is_simulated: bool
    judge: str
    judge_id: int
    look: Look
    looks: tuple[Look, ...]
    panel_length_mm: float
    panel_width_mm: float
    exposures: tuple[Test, ...]
    grades: tuple[ScaleStep, ...]
    panels: tuple[BlindPanel, ...]


def list_judging(judge: Person) -> list[JudgingTask]:
    """List the looks of the judge's started trials, oldest trial first. Three queries."""
    trials = list(
        within(judge, "list_judging", Trial.objects.filter(started_at__isnull=False))
        .annotate(n_replaced=Count("panels", filter=Q(panels__replaces__isnull=False)))
        .order_by("pk")
    )
    codes: dict[int, dict[str, int]] = defaultdict(dict)
    spots = TrialSpot.objects.filter(panel__trial__in=trials, panel__spoiled_at__isnull=True)
    for trial_id, code, n in (
        spots.values("panel__trial", "panel__code")
        .annotate(n=Count("pk"))
        .values_list("panel__trial", "panel__code", "n")
    ):
        codes[trial_id][code] = n
    graded: dict[tuple[int, str], dict[str, int]] = defaultdict(dict)
    rows = (
        Reading.objects.filter(
            spot__panel__trial__in=trials,
            spot__panel__spoiled_at__isnull=True,
            judge=judge,
            value__isnull=False,
        )
        .values("spot__panel__trial", "look", "spot__panel__code")
        .annotate(n=Count("pk"))
        .values_list("spot__panel__trial", "look", "spot__panel__code", "n")
    )
    for trial_id, look_id, code, n in rows:
        graded[trial_id, look_id][code] = n
    tasks = []
    for trial in trials:
        for look in protocol_of(trial).looks:
            have, done = codes[trial.pk], graded[trial.pk, look.id]
            order = shuffle_read_order(
                list(have),
                secret=trial.order_secret,
                judge=judge.pk,
                look=look.id,
                n_replaced=trial.n_replaced,
            )
            left = [code for code in order if done.get(code, 0) < have[code]]
            tasks.append(
                JudgingTask(
                    trial_id=trial.pk,
                    trial_name=trial.name,
                    is_simulated=trial.is_simulated,
                    look=look,
                    n_panels=len(have),
                    n_spots=sum(have.values()),
                    n_graded=sum(done.values()),
                    n_panels_left=len(left),
                    next_panel=left[0] if left else None,
                )
            )
    return tasks


def check_started(trial: Trial) -> None:
    """Refuse to grade a trial that no keeper has started. Raises ``ReadingsError``."""
    if not trial.is_started:
        raise ReadingsError(
            "This trial has not started, so there is nothing to grade yet. A keeper starts it under Prepare.",
            field="trial",
        )


def open_sitting(judge: Person, trial_id: int, look_id: str) -> Sitting:
    """Open one look of one trial for a judge. Four queries.

    Raises
    ------
    Http404
        If the trial is not the judge's to grade.
    ReadingsError
        If the protocol has no such look, or the trial has not started.
    """
    trial = within(judge, "judge", Trial.objects.all()).filter(pk=trial_id).first()
    if trial is None:
        raise Http404
    check_started(trial)
    protocol = protocol_of(trial)
    look_id = protocol.look_meant(look_id)
    look = next((look for look in protocol.looks if look.id == look_id), None)
    if look is None:
        raise ReadingsError(f"This protocol has no look {look_id!r}. Go back and choose one.", field="look")
    spots = (
        TrialSpot.objects.filter(panel__trial=trial, panel__spoiled_at__isnull=True)
        .select_related("panel__board")
        .order_by("pk")
    )
    mine = {
        reading.spot_id: reading
        for reading in Reading.objects.filter(spot__panel__trial=trial, judge=judge, look=look_id)
    }
    panels = {spot.panel.code: spot.panel for spot in spots}
    by_panel = _blind_spots(spots, mine)
    if not by_panel:
        raise ReadingsError("Every panel of this trial is spoiled: there is nothing to grade.")
    order = shuffle_read_order(
        list(by_panel),
        secret=trial.order_secret,
        judge=judge.pk,
        look=look_id,
        n_replaced=trial.panels.filter(replaces__isnull=False).count(),
    )
    return Sitting(
        trial_id=trial.pk,
        trial_name=trial.name,
        is_simulated=trial.is_simulated,
        judge=judge.display_name,
        judge_id=judge.pk,
        look=look,
        looks=protocol.looks,
        panel_length_mm=trial.panel_length_mm,
        panel_width_mm=trial.panel_width_mm,
        exposures=protocol.tests,
        grades=protocol.response.steps,
        panels=tuple(
            BlindPanel(
                code=code,
                species=panels[code].board.species,
                areas=blind_areas(panels[code]),
                # Front first, then column by column from the left, top first: the way the keys go.
                spots=tuple(
                    sorted(by_panel[code], key=lambda spot: (spot.side != "front", spot.x_mm, -spot.y_mm))
                ),
            )
            for code in order
        ),
    )


def _blind_spots(spots: Iterable[TrialSpot], mine: Mapping[int, Reading]) -> dict[str, list[BlindSpot]]:
    """The spots as a judge sees them, by their panel's code; rows need their panel joined."""
    by_panel: dict[str, list[BlindSpot]] = defaultdict(list)
    for spot in spots:
        reading = mine.get(spot.pk)
        by_panel[spot.panel.code].append(
            BlindSpot(
                exposure=spot.exposure,
                place=spot.place,
                side=cast("Side", spot.side),
                x_mm=spot.x_mm,
                y_mm=spot.y_mm,
                diameter_mm=spot.diameter_mm,
                grade=None if reading is None or reading.value is None else float(reading.value),
                note="" if reading is None else reading.note,
            )
        )
    return by_panel
