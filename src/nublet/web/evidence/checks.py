"""Checks that need the tables: whether the blind held, whether looks came at their time, and what the log shows."""

from __future__ import annotations

from typing import cast

from django.db.models import Min

from nublet.core.design.exposing import Exposing
from nublet.core.evidence.checks import Check
from nublet.core.evidence.stages import StageReached
from nublet.core.evidence.trial_checks import (
    Laid,
    check_added,
    check_blind,
    check_blocks,
    check_deviations,
    check_exposing,
    check_looked_at,
    check_looks,
    check_pours,
    check_windows,
    check_worth_said,
)
from nublet.web.bench.models import PanelWork
from nublet.web.designs.models import DeviationKind
from nublet.web.evidence.rows import far_from_its_time
from nublet.web.people.models import Person, Role
from nublet.web.readings.models import Reading as ReadingRow
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


def check_blindness(trial: Trial, *, n_apart: int = 0) -> Check:
    """Whether whoever graded knew what the panels carry. One query, and one more once the judges have been told.

    ``n_apart`` readings of those who could know stand apart.
    """
    keepers = sorted(
        Person.objects.filter(readings__spot__panel__trial=trial)
        .exclude(role=Role.JUDGE)
        .distinct()
        .values_list("display_name", flat=True)
    )
    if trial.unblinded_at is None or trial.unblinded_by is None:
        return check_blind(keepers, seed_is_known=trial.seed is not None, n_apart=n_apart)
    told = (
        f"{trial.unblinded_by.display_name} told the judges what the panels carry on {trial.unblinded_at:%Y-%m-%d %H:%M} UTC: "
        f"{trial.unblinded_because.rstrip('.')}."
    )
    after = ReadingRow.objects.filter(
        spot__panel__trial=trial, value__isnull=False, seen_at__gt=trial.unblinded_at
    )
    return check_blind(
        keepers,
        seed_is_known=trial.seed is not None,
        unblinded=told,
        n_seen_after=after.count(),
        n_apart=n_apart,
    )


def check_look_times(trial: Trial) -> Check:
    """Whether readings were seen at the time of their looks. Two queries, and those of when the looks fell due."""
    if trial.times_on_paper:
        return check_looks(0, n_off=0, n_far=0, on_paper=True)
    judged = far_from_its_time(trial)
    if judged is None:
        return check_looks(0, n_off=0, n_far=0, on_paper=False)
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


def checks_of_plan(trial: Trial, reached: StageReached | None) -> list[Check]:
    """At which stage the trial is looked at, what was added beyond its plan, and what was said late. One query, or two."""
    found = [check_looked_at(reached)] if reached is not None else []
    added = dict(
        trial.boards.filter(added_at__isnull=False).order_by("pk").values_list("name", "added_after_reading")
    )
    if (said := check_added(list(added), n_after=sum(added.values()))) is not None:
        found.append(said)
    if trial.worth_said_at is not None:
        read = ReadingRow.objects.filter(spot__panel__trial=trial, value__isnull=False)
        first = read.aggregate(at=Min("seen_at"))["at"]
        if first is not None and trial.worth_said_at > first:
            found.append(check_worth_said(f"{trial.worth_said_at:%Y-%m-%d}"))
    return found


def check_laying(trial: Trial, *, n_systems: int) -> list[Check]:
    """Whether boards were exposed together, from one pour, and with blocks alike at contact, by the log. One query."""
    names = {test.id: test.short_name for test in protocol_of(trial).tests}
    rows = (
        PanelWork.objects.filter(
            panel__trial=trial, panel__spoiled_at__isnull=True, panel__board__isnull=False,
            kind__in=("lay", "act"), begun_at__isnull=False, skipped_because="",
        )
        .order_by("begun_at", "pk")
        .values_list("item", "act", "panel__build_up__name", "panel__board__name", "begun_at", "nth", "pour", "block_c")
    )  # fmt: skip
    laid = [
        Laid(
            test=names.get(item, item) if not act else f"{names.get(item, item)} ({act})",
            system=system,
            board=board,
            at=at,
            nth=nth,
            pour=pour,
            block_c=block_c,
        )
        for item, act, system, board, at, nth, pour, block_c in rows
        if at is not None
    ]
    found = [
        check_exposing(cast("Exposing", trial.exposing), laid, n_systems=n_systems),
        check_pours(laid),
        check_blocks(laid),
    ]
    return [check for check in found if check is not None]
