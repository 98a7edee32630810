"""What comes round a second time: unannounced, kept apart, and never counted for a panel."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from uuid import uuid4

from rest_framework.test import APIClient

from nublet.web.evidence.selectors import weigh_evidence
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading
from nublet.web.readings.selectors import open_sitting
from nublet.web.stages.selectors import summarise_trial
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial

Client = Callable[[Person | None], APIClient]


def means_of(trial: Trial) -> dict[tuple[str, str], float]:
    view = weigh_evidence(Trial.objects.get(pk=trial.pk), look="24h")
    return {(test.test, system.system): system.mean or 0 for test in view.tests for system in test.systems}


def test_a_tenth_of_the_spots_comes_again_without_the_earlier_value(
    client_of: Client, owner: Person, judge: Person, graded: Trial
) -> None:
    assert {panel.turn for panel in open_sitting(judge, graded.pk, "24h").panels} == {0}
    update_trial(owner, graded.pk, blind_repeats=True)
    sitting = client_of(judge).get(f"/api/judging/{graded.pk}/looks/24h").json()
    again = [panel for panel in sitting["panels"] if panel["turn"]]
    # 54 sites on 9 panels; one whose panel is the last of the order does not come again.
    n = sum(len(panel["spots"]) for panel in again)
    assert 3 <= n <= 5
    assert all(value is None for panel in again for spot in panel["spots"] for value in spot["values"])
    codes = [(panel["code"], panel["turn"]) for panel in sitting["panels"]]
    for panel in again:
        assert codes.index((panel["code"], 1)) - codes.index((panel["code"], 0)) >= 2

    before = means_of(graded)
    n_graded = summarise_trial(owner, graded.pk).n_graded
    spot = again[0]["spots"][0]
    body: dict[str, Any] = {
        "client_id": str(uuid4()), "panel": again[0]["code"], "exposure": spot["exposure"], "place": spot["place"], "look": "24h",
        "kind": "grade", "value": 1, "turn": 1,
    }  # fmt: skip
    assert client_of(judge).post(f"/api/judging/{graded.pk}/entries", body, format="json").status_code == 200
    both = Reading.objects.filter(
        spot__panel__code=again[0]["code"], spot__exposure=spot["exposure"], look="24h"
    ).order_by("turn")
    assert [reading.turn for reading in both] == [0, 1]
    assert means_of(graded) == before
    assert summarise_trial(owner, graded.pk).n_graded == n_graded


def test_each_judge_sees_how_far_the_others_are_and_none_of_their_values(
    client_of: Client, owner: Person, judge: Person, graded: Trial
) -> None:
    graded.judges.add(owner)
    sitting = client_of(owner).get(f"/api/judging/{graded.pk}/looks/24h").json()
    assert {each["judge"]: each["n_read"] for each in sitting["progress"]} == {"Imara": 54, "Nell": 0}
    assert {value for panel in sitting["panels"] for spot in panel["spots"] for value in spot["values"]} == {
        None
    }
