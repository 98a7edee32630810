"""A trial's readings as the core weighs them."""

from __future__ import annotations

from django.db.models import Q

from nublet.core.evidence.by_response import PieceRow
from nublet.core.evidence.policy import Given, Judge, ReadSpot, choose_section, piece_rows
from nublet.web.designs.models import TrialSpot
from nublet.web.readings.models import Reading
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


def rows_of(trial: Trial, *, section: str = "") -> list[PieceRow]:
    """Return what was read of a trial at every look that has begun. Four queries.

    Spoiled panels are left out, and build-ups on which the section is not compared. A trial with sections is weighed one section at
    a time, by default its first.
    """
    section = choose_section(trial.sections, section)
    spots = (
        TrialSpot.objects.filter(panel__trial=trial, panel__spoiled_at__isnull=True)
        # What is on glass has no sections, and belongs to each.
        .filter(Q(section=section) | Q(panel__slip_test__isnull=False))
        .select_related("panel__board", "panel__build_up")
        .order_by("pk")
    )
    given = Reading.objects.filter(spot__panel__trial=trial, value__isnull=False).values_list(
        "spot", "look", "response", "view", "against", "judge", "judge__display_name", "value", "is_beyond"
    )
    judges = trial.judges.order_by("pk").values_list("pk", "display_name")
    return piece_rows(
        [
            ReadSpot(
                number=spot.pk,
                test=spot.exposure,
                system=spot.panel.build_up.name,
                board=spot.panel.block,
                species=spot.panel.species,
                piece=spot.panel.code,
            )
            for spot in spots
            if spot.panel.is_slip or section not in spot.panel.build_up.sections_out
        ],
        protocol_of(trial),
        [Judge(number=number, name=name) for number, name in judges],
        (
            Given(
                spot=spot,
                look=look,
                response=response,
                view=view,
                against=against,
                judge=Judge(number=judge, name=name),
                value=float(value or 0),
                is_beyond=is_beyond,
            )
            for spot, look, response, view, against, judge, name, value, is_beyond in given
        ),
        spoiled=_spoiled_results(trial),
    )


def _spoiled_results(trial: Trial) -> set[tuple[str, str, float | None]]:
    """Pieces' tests whose results tell of something else, by the bench log: (code, test, look or all). One query."""
    rows = trial.deviations.filter(withdrawn_at__isnull=True).exclude(spoils_exposure="")
    return set(rows.values_list("panel__code", "spoils_exposure", "spoils_look_min"))
