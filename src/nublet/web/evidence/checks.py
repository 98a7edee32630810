"""Checks that need the tables: whether the blind held, whether looks came at their time, and what the log shows."""

from __future__ import annotations

from nublet.core.evidence.checks import Check, check_blind, check_deviations, check_looks, check_windows
from nublet.web.bench.models import PanelWork
from nublet.web.designs.models import DeviationKind
from nublet.web.evidence.rows import far_from_its_time
from nublet.web.people.models import Person, Role
from nublet.web.readings.models import Reading as ReadingRow
from nublet.web.trials.models import Trial


def check_blindness(trial: Trial) -> Check:
    """Whether whoever graded knew what the panels carry. One query, and one more once the judges have been told."""
    keepers = sorted(
        Person.objects.filter(readings__spot__panel__trial=trial)
        .exclude(role=Role.JUDGE)
        .distinct()
        .values_list("display_name", flat=True)
    )
    if trial.unblinded_at is None or trial.unblinded_by is None:
        return check_blind(keepers, seed_is_known=trial.seed is not None)
    told = (
        f"{trial.unblinded_by.display_name} told the judges what the panels carry on {trial.unblinded_at:%Y-%m-%d %H:%M} UTC: "
        f"{trial.unblinded_because.rstrip('.')}."
    )
    after = ReadingRow.objects.filter(
        spot__panel__trial=trial, value__isnull=False, seen_at__gt=trial.unblinded_at
    )
    return check_blind(
        keepers, seed_is_known=trial.seed is not None, unblinded=told, n_seen_after=after.count()
    )


def check_look_times(trial: Trial) -> Check:
    """Whether readings were seen at the time of their looks. Two queries, and those of when the looks fell due."""
    if trial.times_on_paper:
        return check_looks(0, n_off=0, n_far=0, on_paper=True)
    judged = far_from_its_time(trial)
    rows = ReadingRow.objects.filter(spot__panel__trial=trial, value__isnull=False).values_list(
        "spot__panel__code", "spot__exposure", "look", "seen_at"
    )
    said = [judged(*row) for row in rows]
    return check_looks(
        len(said),
        n_off=said.count("deviation"),
        n_far=said.count("spoiled"),
        on_paper=False,
    )


def check_log(trial: Trial) -> tuple[Check, Check]:
    """What was told to have gone otherwise, and what the bench log shows. Three queries."""
    rows = list(trial.deviations.filter(withdrawn_at__isnull=True).order_by("pk").values_list("kind", "says"))
    missed = [says for kind, says in rows if kind == DeviationKind.WINDOW_MISSED]
    told = [says for kind, says in rows if kind != DeviationKind.WINDOW_MISSED]
    n_logged = (
        PanelWork.objects.filter(panel__trial=trial, panel__spoiled_at__isnull=True, ended_at__isnull=False)
        .values("panel")
        .distinct()
        .count()
    )
    n_panels = trial.panels.filter(spoiled_at__isnull=True).count()
    return check_deviations(told), check_windows(missed, n_logged=n_logged, n_panels=n_panels)
