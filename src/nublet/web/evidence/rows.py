"""A trial's readings as the core weighs them."""

from __future__ import annotations

import json
from bisect import bisect_left
from collections.abc import Callable, Iterator
from datetime import datetime
from itertools import accumulate

from django.db.models import DateTimeField, Exists, F, OuterRef, TextField, Value
from django.db.models.functions import Cast

from nublet.core.bench.look_times import LookTime, judge_seen
from nublet.core.evidence.policy import (
    FAR_FROM_ITS_TIME,
    LEFT_OUT_READING,
    LEFT_OUT_RESULT,
    SPOILED_RESULT,
    Given,
    Judge,
    ReadSpot,
    known_section,
    piece_rows,
)
from nublet.core.evidence.rows import PieceRow
from nublet.core.evidence.stages import Staging
from nublet.web.bench import clock
from nublet.web.bench.look_times import looks_of_trials
from nublet.web.designs.models import DeviationKind, TrialSpot
from nublet.web.people.models import Role
from nublet.web.readings.models import Reading
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


def rows_of(trial: Trial, *, section: str = "") -> list[PieceRow]:
    """Return what was read of a trial at every look that has begun. Six queries, and those of when its looks fell due.

    Spoiled panels are left out, places on which a test is not any more, and build-ups on which a section is not compared. Of a
    trial with sections all are returned, or the one that is named. What was left out, spoiled by the log, or seen far from its
    time is kept and does not count.
    """
    section = known_section(trial.sections, section)
    later = TrialSpot.objects.filter(
        panel=OuterRef("panel"), exposure=OuterRef("exposure"), attempt__gt=OuterRef("attempt")
    )
    panels = {
        panel.pk: panel
        for panel in trial.panels.filter(spoiled_at__isnull=True).select_related("board", "build_up")
    }
    spots = (
        TrialSpot.objects.filter(~Exists(later), panel__in=panels)
        .order_by("pk")
        .values_list("pk", "panel", "exposure", "section")
    )
    judges = trial.judges.order_by("pk").values_list("pk", "display_name")
    return piece_rows(
        [
            ReadSpot(
                number=number,
                test=test,
                system=panel.build_up.name,
                board=panel.block,
                species=panel.species,
                piece=panel.code,
                section="" if panel.is_slip else own,
            )
            for number, panel, test, own in ((pk, panels[of], test, own) for pk, of, test, own in spots)
            # What is on glass has no sections, and belongs to each.
            if panel.is_slip or (own not in panel.build_up.sections_out and section in ("", own))
        ],
        protocol_of(trial),
        [Judge(number=number, name=name) for number, name in judges],
        _given(trial),
        spoiled=_spoiled_results(trial),
        unplanned={
            panel.block for panel in panels.values() if panel.board and panel.board.added_after_reading
        },
    )


def _given(trial: Trial) -> Iterator[Given]:
    """What was read, as it stands, what came round again unannounced among it. One query."""
    is_far = far_from_its_time(trial)
    told_at = trial.unblinded_at
    # Lists that are nearly always empty are read from their text only where they are not, and moments only where they tell.
    rows = Reading.objects.filter(spot__panel__trial=trial, value__isnull=False).annotate(
        own=Cast("singles", TextField()),
        moment=Value(None, DateTimeField()) if is_far is None and told_at is None else F("seen_at"),
    )
    fields = (
        "spot", "spot__panel__code", "spot__exposure", "look", "response", "view", "against", "judge",
        "judge__display_name", "judge__role", "value", "is_beyond", "own", "moment", "turn",
        "left_out_because",
    )  # fmt: skip
    judges: dict[int, Judge] = {}
    for row in rows.values_list(*fields):
        (
            spot, code, test, look, response, view, against, judge, name, role, value, is_beyond, singles, seen_at, turn, because,
        ) = row  # fmt: skip
        if judge not in judges:
            judges[judge] = Judge(number=judge, name=name)
        is_late = is_far is not None and is_far(code, test, look, seen_at) == "spoiled"
        yield Given(
            spot=spot,
            look=look,
            response=response,
            view=view,
            against=against,
            judge=judges[judge],
            value=float(value or 0),
            is_beyond=is_beyond,
            singles=() if singles == "[]" else tuple(json.loads(singles)),
            turn=turn,
            knew=role != Role.JUDGE or (told_at is not None and seen_at is not None and seen_at > told_at),
            left_out=LEFT_OUT_READING if because else FAR_FROM_ITS_TIME if is_late else None,
        )


def far_from_its_time(trial: Trial) -> Callable[[str, str, str, datetime | None], str] | None:
    """How the moment of a reading is judged, by piece, test and look: empty within its tolerance; ``None`` where none is known."""
    looks = looks_of_trials([trial])[trial.pk]
    if looks.is_open:
        return None
    asked = {
        (test.id, look.id): (test, look)
        for test in looks.protocol.tests
        for look in looks.protocol.looks_of(test)
    }
    times: dict[tuple[str, str, str], LookTime] = {}
    now = clock.now()

    def judged(code: str, test_id: str, look_id: str, seen_at: datetime | None) -> str:
        known = asked.get((test_id, look_id))
        if known is None or seen_at is None:
            return ""
        key = code, test_id, look_id
        if key not in times:
            times[key] = looks.time(code, *known, now)
        found = judge_seen(times[key], seen_at)
        return "" if found is None else found[0]

    return judged


def _spoiled_results(trial: Trial) -> dict[tuple[str, str, float | None], str]:
    """Why pieces' tests do not count: by code, test, and look or all. One query."""
    rows = trial.deviations.filter(withdrawn_at__isnull=True).exclude(spoils_exposure="")
    return {
        (code, exposure, look_min): LEFT_OUT_RESULT if kind == DeviationKind.SPOT_LEFT_OUT else SPOILED_RESULT
        for code, exposure, look_min, kind in rows.annotate(code=F("panel__code")).values_list(
            "code", "spoils_exposure", "spoils_look_min", "kind"
        )
    }


def staging_of(trial: Trial) -> Staging | None:
    """To which stage each board belongs, where the trial is looked at in stages; one beyond the plan to the last. One query."""
    if len(trial.stages) < 2:
        return None
    ends = list(accumulate(trial.stages))
    return Staging(
        boards=tuple(trial.stages),
        stage_of={
            name: len(ends) if added_at else min(bisect_left(ends, number) + 1, len(ends))
            for name, number, added_at in trial.boards.values_list("name", "number", "added_at")
        },
    )
