"""Blind means blind: nothing that a judge's browser receives tells what a panel carries."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

import pytest
from rest_framework.test import APIClient

from nublet.core.materials.families import FAMILIES
from nublet.web.people.models import Person
from nublet.web.trials.models import Trial, TrialBoard, TrialPanel
from nublet.web.urls import api_routes
from tests.web.conftest import SECRETS


def keys_of(value: Any) -> set[str]:
    if isinstance(value, dict):
        return set(value) | {key for part in value.values() for key in keys_of(part)}
    if isinstance(value, list):
        return {key for part in value for key in keys_of(part)}
    return set()


def test_no_route_gives_a_judge_a_build_up_a_product_or_a_board(
    client_of: Callable[[Person | None], APIClient], graded: Trial, judge: Person
) -> None:
    client = client_of(judge)
    panel = TrialPanel.objects.filter(trial=graded)[0]
    bodies: dict[str, str] = {}
    for route in api_routes:
        address = "/api/" + str(route.pattern)
        for part, value in (
            ("<int:trial_id>", str(graded.pk)),
            ("<int:build_up_id>", str(panel.build_up_id)),
            ("<slug:look>", "24h"),
        ):
            address = address.replace(part, value)
        for method in ("get", "post", "patch", "put"):
            response = getattr(client, method)(address, {}, format="json")
            bodies[f"{method} {address}"] = response.content.decode()
    assert sum('"panels"' in body for body in bodies.values()) == 1
    ids = {f'"{b}"' for b in TrialBoard.objects.filter(trial=graded).values_list("name", flat=True)}
    for asked, body in bodies.items():
        for secret in {*SECRETS, *ids, *(family.name for family in FAMILIES.values())}:
            assert secret not in body, (asked, secret)
        if body.startswith(("{", "[")):
            assert not keys_of(json.loads(body)) & {
                "build_up",
                "build_ups",
                "board",
                "family",
                "seed",
                "position",
            }


def test_the_order_of_the_panels_is_the_judges_own_and_not_the_boards(
    client_of: Callable[[Person | None], APIClient], designed: Trial, judge: Person
) -> None:
    shown = client_of(judge).get(f"/api/judging/{designed.pk}/looks/24h").json()
    codes = [panel["code"] for panel in shown["panels"]]
    along_boards = list(
        TrialPanel.objects.filter(trial=designed).order_by("board", "position").values_list("code", flat=True)
    )
    assert sorted(codes) == sorted(along_boards)
    assert codes != along_boards
    assert codes == [
        p["code"] for p in client_of(judge).get(f"/api/judging/{designed.pk}/looks/24h").json()["panels"]
    ]


@pytest.mark.parametrize("name", ["Marrowby or not", "skarn waterborne satin"])
def test_a_trials_name_may_not_give_a_build_up_away(
    client_of: Callable[[Person | None], APIClient], draft: Trial, owner: Person, name: str
) -> None:
    response = client_of(owner).patch(f"/api/trials/{draft.pk}", {"name": name}, format="json")
    assert (response.status_code, response.json()["field"]) == (400, "name")
    draft.refresh_from_db()
    assert draft.name == "Saloon tables"


def test_nor_may_a_build_up_be_called_what_the_trial_is_called(
    client_of: Callable[[Person | None], APIClient], draft: Trial, owner: Person
) -> None:
    body = {"name": "Saloon Oil", "family": "wax", "coats": 1}
    response = client_of(owner).post(f"/api/trials/{draft.pk}/build-ups", body, format="json")
    assert response.status_code == 400
    assert "judges see it" in response.json()["detail"]
    assert draft.build_ups.count() == 3
