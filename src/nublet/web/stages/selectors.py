"""The stages of trials and how far each has come, each with a fixed number of queries."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, Literal

from django.db.models import CharField, Count, F, OuterRef, Prefetch, QuerySet, Subquery, Sum, Value
from django.db.models.functions import Coalesce, Concat
from django.http import Http404

from nublet.core.materials.compatibility import is_undeclared_block
from nublet.web.bench.models import PanelWork
from nublet.web.build_ups.adapters import to_recipes
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.adapters import cut_of, to_board
from nublet.web.designs.models import TrialBoard, TrialDeviation, TrialPanel, TrialSpot
from nublet.web.people.models import Person
from nublet.web.people.policies import within
from nublet.web.shelf.adapters import uses_of, woods_of
from nublet.web.trials.adapters import setting_of
from nublet.web.trials.models import Trial

StageState = Literal["empty", "under_way", "done", "attention"]


@dataclass(frozen=True, kw_only=True)
class TrialSummary:
    """A trial with what the lists and the stage rail need: counts and each stage's state."""

    trial: Trial
    n_build_ups: int
    n_panels: int
    n_graded: int
    n_expected: int
    n_deviations: int
    stages: dict[str, StageState]


@dataclass(frozen=True, kw_only=True)
class TrialLine:
    """A trial as a line of the list."""

    id: int
    name: str
    question: str
    started_at: datetime | None
    is_simulated: bool
    n_build_ups: int
    n_panels: int
    n_graded: int
    n_expected: int


def list_trials(person: Person) -> list[TrialLine]:
    """The shop's trials, newest first: only what a line shows, in two queries however many there are."""
    graded = _graded(person)
    rows = (
        within(person, "see_trials", Trial.objects.all())
        .order_by("-pk")
        .annotate(
            n_build_ups=_count(TrialBuildUp.objects.filter(is_control=False), "trial"),
            n_panels=_count(TrialPanel.objects.filter(spoiled_at__isnull=True), "trial"),
            n_judged=_sum("n_judged"),
            n_by_hands=_sum("n_by_hands"),
            n_judges=_count(Trial.judges.through.objects.all(), "trial"),
        )
        .values(
            "pk", "name", "question", "started_at", "is_simulated", "n_build_ups", "n_panels", "n_judged",
            "n_by_hands", "n_judges",
        )
    )  # fmt: skip
    return [
        TrialLine(
            id=row["pk"],
            name=row["name"],
            question=row["question"],
            started_at=row["started_at"],
            is_simulated=row["is_simulated"],
            n_build_ups=row["n_build_ups"],
            n_panels=row["n_panels"],
            n_graded=graded.get(row["pk"], 0),
            n_expected=row["n_judged"] * row["n_judges"] + row["n_by_hands"],
        )
        for row in rows
    ]


def _graded(person: Person) -> dict[int, int]:
    """How many values stand, choices between two pieces not counted, on panels that are not spoiled, by trial. One query."""
    return dict(
        TrialSpot.objects.filter(
            panel__trial__shop=person.shop_id,
            panel__spoiled_at__isnull=True,
            left_out_at__isnull=True,
            readings__value__isnull=False,
            readings__against="",
            readings__turn=0,
        )
        .values("panel__trial")
        .annotate(n=Count("readings"))
        .values_list("panel__trial", "n")
    )


def summarise_trials(person: Person, *, trial_id: int | None = None) -> list[TrialSummary]:
    """Summarise the shop's trials, newest first, or one of them. Eleven queries however many there are."""
    trials = (
        within(person, "see_trial", Trial.objects.all())
        .order_by("-pk")
        # A record is as long as the design: no list needs it.
        .defer("record")
        .prefetch_related(
            "judges",
            Prefetch(
                "build_ups",
                queryset=TrialBuildUp.objects.select_related("version__build_up").order_by("pk"),
            ),
            Prefetch("boards", queryset=TrialBoard.objects.annotate(n_panels=Count("panels"))),
        )
        .annotate(
            # Each in its own subquery, so that they do not multiply each other.
            n_judged=_sum("n_judged"),
            n_by_hands=_sum("n_by_hands"),
            n_tests=_pairs(),
            n_deviations=_count(TrialDeviation.objects.filter(withdrawn_at__isnull=True), "trial"),
        )
    )
    if trial_id is not None:
        trials = trials.filter(pk=trial_id)
    counts = dict(
        TrialPanel.objects.filter(trial__shop=person.shop_id, spoiled_at__isnull=True)
        .values("trial")
        .annotate(n=Count("pk"))
        .values_list("trial", "n")
    )
    graded = _graded(person)
    planned = set(
        Trial.objects.filter(
            shop=person.shop_id, plans__state="done", plans__designed_at=F("designed_at")
        ).values_list("pk", flat=True)
    )
    exposed = dict(
        TrialPanel.objects.filter(
            trial__shop=person.shop_id,
            spoiled_at__isnull=True,
            works__kind__in=["lay", "act"],
            works__ended_at__isnull=False,
            works__skipped_because="",
        )
        .values("trial")
        .annotate(n=Count("pk", distinct=True))
        .values_list("trial", "n")
    )
    met = _tests_met(person)
    blocked = _blocked_trials([trial for trial in trials if not trial.is_started], person.shop_id)
    return [
        _summarise(
            trial,
            counts.get(trial.pk, 0),
            graded.get(trial.pk, 0),
            coated=_coated(counts.get(trial.pk, 0), exposed.get(trial.pk, 0), is_planned=trial.pk in planned),
            exposed=_exposed(trial, met.get(trial.pk, 0), graded.get(trial.pk, 0)),
            is_blocked=trial.pk in blocked,
        )
        for trial in trials
    ]


def _tests_met(person: Person) -> dict[int, int]:
    """How many tests the pieces of each trial have met to the end, by the log. One query."""
    rows = (
        PanelWork.objects.filter(
            panel__trial__shop=person.shop_id,
            panel__spoiled_at__isnull=True,
            kind__in=["lift", "act"],
            ended_at__isnull=False,
        )
        .values("panel__trial", "panel", "item")
        .distinct()
    )
    return dict(Counter(row["panel__trial"] for row in rows))


def summarise_trial(person: Person, trial_id: int) -> TrialSummary:
    """Summarise one trial. Raises ``Http404`` when it is not the shop's."""
    found = summarise_trials(person, trial_id=trial_id)
    if not found:
        raise Http404
    return found[0]


def _blocked_trials(trials: Sequence[Trial], shop_id: int) -> set[int]:
    """Numbers of the trials with a build-up that would not hold and is no declared experiment. Three queries."""
    woods, uses = woods_of(shop_id), uses_of(shop_id)
    rows = [row for trial in trials for row in trial.build_ups.all()]
    recipes = to_recipes(rows, shop_id)
    settings = {trial.pk: setting_of(trial, woods, uses) for trial in trials}
    return {
        row.trial_id
        for row in rows
        if row.pk in recipes and is_undeclared_block(recipes[row.pk], settings[row.trial_id])
    }


def _prepared(trial: Trial, n_panels: int) -> StageState:
    """Whether the boards give what is to be cut from them, and the trial has started."""
    if not n_panels:
        return "empty"
    if trial.is_started:
        return "done"
    cuts = [cut_of(trial, to_board(board), board.n_panels) for board in trial.boards.all() if board.n_panels]  # type: ignore[attr-defined]
    return "attention" if any(cut.says for cut in cuts) else "under_way"


def _count(rows: QuerySet[Any], owner: str) -> Coalesce:
    """How many of the rows belong to each trial."""
    counted = (
        rows.filter(**{owner: OuterRef("pk")}).order_by().values(owner).annotate(n=Count("pk")).values("n")
    )
    return Coalesce(Subquery(counted), 0)


def _sum(values: str) -> Coalesce:
    """How many of these values all sites of a trial want that count."""
    rows = TrialSpot.objects.filter(
        panel__spoiled_at__isnull=True, left_out_at__isnull=True, panel__trial=OuterRef("pk")
    )
    return Coalesce(Subquery(rows.order_by().values("panel__trial").annotate(n=Sum(values)).values("n")), 0)


def _pairs() -> Coalesce:
    """How many tests all pieces of a trial are to meet."""
    rows = TrialSpot.objects.filter(
        panel__spoiled_at__isnull=True, left_out_at__isnull=True, panel__trial=OuterRef("pk")
    )
    # A test stands on each section of a panel, and is met once.
    whole = Concat("panel__code", Value(" "), "exposure", output_field=CharField())
    counted = rows.order_by().values("panel__trial").annotate(n=Count(whole, distinct=True)).values("n")
    return Coalesce(Subquery(counted), 0)


def _exposed(trial: Any, n_met: int, n_graded: int) -> StageState:
    """How far exposing is, by how many tests were met to the end; of times on paper nobody knows more than that it was read."""
    if trial.times_on_paper:
        return "done" if n_graded else "empty"
    if not n_met:
        return "empty"
    return "done" if n_met >= trial.n_tests else "under_way"


def _coated(n_panels: int, n_exposed: int, *, is_planned: bool) -> StageState:
    """How far the bench days are, by whether they are planned and how many panels have come to be exposed."""
    if not is_planned or not n_panels:
        return "empty"
    return "done" if n_exposed >= n_panels else "under_way"


def _summarise(
    trial: Any, n_panels: int, n_graded: int, *, coated: StageState, exposed: StageState, is_blocked: bool
) -> TrialSummary:
    n_judges = len(trial.judges.all())
    n_expected = trial.n_judged * n_judges + trial.n_by_hands
    n_build_ups = sum(not row.is_control for row in trial.build_ups.all())
    # A benchmark is there by itself; a comparison needs something that somebody chose.
    n_chosen = sum(
        not row.is_control and not (row.version is not None and row.version.build_up.is_benchmark)
        for row in trial.build_ups.all()
    )
    asked = bool(trial.uses and trial.species and trial.boards_per_species and n_judges)
    read: StageState = "empty" if n_graded == 0 else "done" if n_graded >= n_expected else "under_way"
    shown: StageState = "empty" if n_graded == 0 else "under_way" if read == "under_way" else "done"
    return TrialSummary(
        trial=trial,
        n_build_ups=n_build_ups,
        n_panels=n_panels,
        n_graded=n_graded,
        n_expected=n_expected,
        n_deviations=trial.n_deviations,
        stages={
            "question": "done" if asked else "attention",
            "candidates": "empty" if n_build_ups == 0 else "done" if n_chosen else "under_way",
            "build_ups": "empty" if n_build_ups == 0 else "attention" if is_blocked else "done",
            "design": "done" if n_panels else "empty",
            "prepare": _prepared(trial, n_panels),
            "coat_and_cure": coated,
            "expose": exposed,
            "read": read,
            "evidence": shown,
            "ranking": shown,
        },
    )
