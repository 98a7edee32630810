"""One row for each route and method: who gets which answer. A route that is not here fails the last test."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import ClassVar
from uuid import uuid4

import pytest
from django.core.exceptions import PermissionDenied
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.test import APIClient, APIRequestFactory, force_authenticate
from rest_framework.views import APIView

from nublet.core.protocols.plain import protocol_as_dict
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.core.ranking.shipped import DINING_TABLE
from nublet.core.ranking.use_records import use_as_dict
from nublet.web.jobs.actions import ask_for
from nublet.web.jobs.models import Job
from nublet.web.people.models import Person
from nublet.web.people.policies import POLICIES, may, within
from nublet.web.photographs.actions import PhotographEntry, take_photograph
from nublet.web.practice.actions import begin_drill
from nublet.web.readings.models import Reading
from nublet.web.shelf.actions import add_item, keep_batch
from nublet.web.shelf.adapters import OWN_AGENTS, OWN_PROTOCOLS, OWN_USES, PRODUCTS, WOODS
from nublet.web.trials.api import AnswersWithTrial
from nublet.web.trials.models import Trial
from nublet.web.urls import api_routes
from tests.web.conftest import grade_spot
from tests.web.test_blind import PICTURE

RECIPE = {"preparation": {"grits": [120]}, "layers": [{"family": "wax", "coats": 1}]}
WOOD = {"name": "Bog elm", "pores": "ring-porous", "density_kg_m3": 600, "janka_n": 3900}
AGENT = {"name": "Cordial", "group": "stain"}
USE = {**use_as_dict(DINING_TABLE), "name": "Saloon table"}
PROTOCOL = {**protocol_as_dict(TABLE_BASICS), "name": "Saloon basics"}
WORK_ENTRY = {
    "client_id": "6f1c2f6e-0d3b-4b62-9c5d-2c0f7f6f2b11",
    "entry": "begin",
    "kind": "coat",
    "item": "coat 1",
    "panels": ["K7"],
    "at": "2026-11-25T09:00:00Z",
}

# route, method, body, then the answer to: nobody, judge, tester, owner, another shop's owner
TABLE: list[tuple[str, str, Mapping[str, object] | None, int, int, int, int, int]] = [
    ("session", "get", None, 401, 200, 200, 200, 200),
    ("people", "get", None, 401, 403, 200, 200, 200),
    ("people", "post", {}, 401, 403, 403, 400, 400),
    ("people/{j}", "patch", {"role": "judge"}, 401, 403, 403, 200, 404),
    ("audit", "get", None, 401, 403, 403, 200, 200),
    ("session/password", "put", {"old": "x", "new": "y"}, 401, 400, 400, 400, 400),
    ("trials/{id}/history", "get", None, 401, 403, 200, 200, 404),
    ("reference", "get", None, 401, 403, 200, 200, 200),
    ("units", "get", None, 200, 200, 200, 200, 200),
    ("calculators", "get", None, 401, 403, 200, 200, 200),
    ("calculators/thin", "post", {"values": {}}, 401, 403, 200, 200, 200),
    ("shelf/products", "get", None, 401, 403, 200, 200, 200),
    ("shelf/products", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/products/{p}", "get", None, 401, 403, 200, 200, 404),
    ("shelf/products/{p}", "put", {"name": "A", "family": "wax"}, 401, 403, 200, 200, 404),
    ("shelf/products/{p}/batches", "post", {"number": ""}, 401, 403, 400, 400, 400),
    ("shelf/products/{p}/batches/{n}", "put", {"number": "7"}, 401, 403, 200, 200, 404),
    ("shelf/products/{p}/archive", "post", {"is_archived": True}, 401, 403, 200, 200, 404),
    ("shelf/products/{p}/duplicate", "post", None, 401, 403, 201, 201, 404),
    ("shelf/products/file", "get", None, 401, 403, 200, 200, 200),
    ("shelf/products/file", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/species", "get", None, 401, 403, 200, 200, 200),
    ("shelf/species", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/species/{w}", "put", WOOD, 401, 403, 200, 200, 404),
    ("shelf/species/{w}/archive", "post", {"is_archived": True}, 401, 403, 200, 200, 404),
    ("shelf/species/{w}/duplicate", "post", None, 401, 403, 201, 201, 404),
    ("shelf/species/file", "get", None, 401, 403, 200, 200, 200),
    ("shelf/species/file", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/agents", "get", None, 401, 403, 200, 200, 200),
    ("shelf/agents", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/agents/{a}", "put", AGENT, 401, 403, 200, 200, 404),
    ("shelf/agents/{a}/archive", "post", {"is_archived": True}, 401, 403, 200, 200, 404),
    ("shelf/agents/{a}/duplicate", "post", None, 401, 403, 201, 201, 404),
    ("shelf/agents/file", "get", None, 401, 403, 200, 200, 200),
    ("shelf/agents/file", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/uses", "get", None, 401, 403, 200, 200, 200),
    ("shelf/uses", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/uses/{u}", "put", USE, 401, 403, 200, 200, 404),
    ("shelf/uses/{u}/archive", "post", {"is_archived": True}, 401, 403, 200, 200, 404),
    ("shelf/uses/{u}/duplicate", "post", None, 401, 403, 201, 201, 404),
    ("shelf/uses/file?form=json", "get", None, 401, 403, 200, 200, 200),
    ("shelf/uses/file", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/protocols", "get", None, 401, 403, 200, 200, 200),
    ("shelf/protocols", "post", {}, 401, 403, 400, 400, 400),
    ("shelf/protocols/{o}", "put", PROTOCOL, 401, 403, 200, 200, 404),
    ("shelf/protocols/{o}/archive", "post", {"is_archived": True}, 401, 403, 200, 200, 404),
    ("shelf/protocols/{o}/duplicate", "post", None, 401, 403, 201, 201, 404),
    ("shelf/protocols/file?form=json", "get", None, 401, 403, 200, 200, 200),
    ("shelf/protocols/file", "post", {}, 401, 403, 400, 400, 400),
    ("library", "get", None, 401, 403, 200, 200, 200),
    ("library/compose", "post", {"protocol": PROTOCOL}, 401, 403, 200, 200, 200),
    ("shelf/build-ups", "get", None, 401, 403, 200, 200, 200),
    ("trials", "get", None, 401, 403, 200, 200, 200),
    ("trials", "post", {}, 401, 403, 400, 400, 400),
    ("trials/{id}", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}", "patch", {"question": "Why?"}, 401, 403, 200, 200, 404),
    ("trials/{id}/build-ups", "post", {"name": "X", "family": "wax", "coats": 1}, 401, 403, 409, 409, 404),
    ("trials/{id}/build-ups", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/build-ups/{b}", "put", {"name": "X", "recipe": RECIPE}, 401, 403, 200, 200, 404),
    ("trials/{id}/build-ups/check", "post", {"recipe": RECIPE}, 401, 403, 200, 200, 404),
    ("trials/{id}/build-ups/{b}/sheet", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/build-ups/{b}", "delete", None, 401, 403, 409, 409, 404),
    ("trials/{id}/design", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/design", "post", {}, 401, 403, 409, 409, 404),
    # The trial has started.
    ("trials/{id}/start", "post", None, 401, 403, 409, 409, 404),
    ("trials/{id}/outlook", "post", {"boards_per_species": 4}, 401, 403, 200, 200, 404),
    ("trials/{id}/protocol", "post", {}, 401, 403, 200, 200, 404),
    # The trial has started.
    ("trials/{id}/protocol", "put", PROTOCOL, 401, 403, 409, 409, 404),
    ("trials/{id}/boards/{d}", "patch", {"length_mm": 900}, 401, 403, 409, 409, 404),
    ("trials/{id}/deviations", "post", {"kind": "noted", "reason": "Rain"}, 401, 403, 201, 201, 404),
    ("trials/{id}/build-ups/{b}/benchmark", "put", {"is_benchmark": True}, 401, 403, 200, 200, 404),
    ("trials/{id}/sheets", "post", {"sheet": "labels"}, 401, 403, 202, 202, 404),
    # A job is its asker's alone.
    ("jobs/{q}", "get", None, 401, 403, 404, 200, 404),
    ("jobs/{q}", "delete", None, 401, 403, 404, 200, 404),
    ("jobs/{q}/file", "get", None, 401, 403, 404, 409, 404),
    ("trials/{id}/evidence", "get", None, 401, 403, 200, 200, 404),
    ("shelf/products/{p}/history", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/evidence/board", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/evidence/otherwise", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/evidence/looks?test=wine-1h", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/evidence/readings?test=wine-1h&system=x", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/evidence/readings/{e}", "patch", {"because": "x"}, 401, 403, 200, 409, 404),
    ("trials/{id}/ranking?use=dining-table", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/readings.csv", "get", None, 401, 403, 200, 200, 404),
    ("bench", "get", None, 401, 403, 200, 200, 200),
    ("bench", "patch", {"heat_blocks": 2}, 401, 403, 200, 200, 200),
    # None is set up.
    ("instruments/balance/reading", "post", None, 401, 403, 400, 400, 400),
    ("due", "get", None, 401, 200, 200, 200, 200),
    ("trials/{id}/crossing", "get", None, 401, 403, 200, 200, 404),
    (
        "trials/{id}/crossing",
        "put",
        {"factors": [{"kind": "finish", "on": "panels", "levels": [{"name": "Wax", "family": "wax"}]}]},
        401,
        403,
        409,
        409,
        404,
    ),
    ("trials/{id}/sections", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/sections", "put", {"sections": []}, 401, 403, 200, 200, 404),
    ("trials/{id}/build-ups/{m}/without-wax", "post", None, 401, 403, 404, 404, 404),
    ("trials/{id}/shopping", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/days", "get", None, 401, 403, 200, 200, 404),
    # Nobody works at the bench yet, so that nothing can be planned, stopped, entered or printed.
    ("trials/{id}/days/plan", "post", {}, 401, 403, 400, 400, 404),
    ("trials/{id}/days/plan", "delete", None, 401, 403, 409, 409, 404),
    ("trials/{id}/days/entries", "post", WORK_ENTRY, 401, 403, 409, 409, 404),
    (
        "trials/{id}/days/mixes",
        "post",
        {"build_up": 0, "item": "coat 1", "n_panels": 1},
        401,
        403,
        404,
        404,
        404,
    ),
    ("trials/{id}/days/mixes/{m}", "delete", None, 401, 403, 404, 404, 404),
    ("trials/{id}/days/pours", "post", {"item": "none"}, 401, 403, 400, 400, 404),
    (
        "trials/{id}/days/spots",
        "post",
        {"what": "repeat", "panel": "ZZ", "exposure": "x", "reason": "y"},
        401,
        403,
        400,
        400,
        404,
    ),
    ("trials/{id}/unblind", "post", {"reason": ""}, 401, 403, 400, 400, 404),
    ("trials/{id}/expose", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/days/log", "get", None, 401, 403, 200, 200, 404),
    ("trials/{id}/days/calendar.ics", "get", None, 401, 403, 400, 400, 404),
    ("trials/{id}/days/sheet", "post", {}, 401, 403, 400, 400, 404),
    ("judging", "get", None, 401, 200, 200, 200, 200),
    ("judging/calendar.ics", "get", None, 401, 200, 200, 200, 200),
    # The trial's one judge is Imara: to everybody else it is not there to grade.
    ("judging/{id}/looks/24h", "get", None, 401, 200, 404, 404, 404),
    ("judging/{id}/entries", "post", {}, 401, 400, 400, 400, 400),
    ("practice", "get", None, 401, 200, 200, 200, 200),
    ("practice", "post", {"response": "grade"}, 401, 201, 201, 201, 201),
    ("practice", "patch", {"shows": True}, 401, 200, 200, 200, 200),
    # The judge's own.
    ("practice/drills/{l}", "get", None, 401, 200, 404, 404, 404),
    ("practice/drills/{l}", "post", {"nth": 0, "value": 4}, 401, 200, 404, 404, 404),
    ("practice/drawings/grade", "get", None, 401, 200, 200, 200, 200),
    ("judging/{id}/photographs", "get", None, 401, 200, 200, 200, 404),
    # A photograph comes as a form with a file.
    ("judging/{id}/photographs", "post", {}, 401, 415, 415, 415, 415),
    # The judge's own, which nobody else takes back.
    ("photographs/{f}", "delete", None, 401, 204, 404, 404, 404),
    ("photographs/{f}/thumb", "get", None, 401, 200, 200, 200, 404),
]

# What answers only where the whole trial is read; one reading is enough for the others.
WEIGHED = {"trials/{id}/ranking?use=dining-table", "trials/{id}/evidence/looks?test=wine-1h"}


def of_a_panel(trial: Trial) -> PhotographEntry:
    return PhotographEntry(client_id=uuid4(), panel=trial.panels.order_by("pk")[0].code, look="24h")


@pytest.mark.parametrize(("route", "method", "body", "nobody", "judged", "tested", "owned", "foreign"), TABLE)
def test_who_gets_which_answer(
    client_of: Callable[[Person | None], APIClient],
    request: pytest.FixtureRequest,
    owner: Person,
    tester: Person,
    judge: Person,
    stranger: Person,
    route: str,
    method: str,
    body: dict[str, object] | None,
    nobody: int,
    judged: int,
    tested: int,
    owned: int,
    foreign: int,
) -> None:
    trial: Trial = request.getfixturevalue("graded" if route in WEIGHED else "started")
    panel = trial.panels.all()[0]
    grade_spot(judge, trial, panel.code, panel.spots.all()[0].exposure, 4)
    numbers = {
        "id": trial.pk,
        "b": trial.build_ups.filter(is_control=False)[0].pk,
        "d": trial.boards.all()[0].pk,
        "p": add_item(owner, PRODUCTS, {"name": "A", "family": "wax"}).pk,
        "w": add_item(owner, WOODS, WOOD).pk,
        "a": add_item(owner, OWN_AGENTS, AGENT).pk,
        "u": add_item(owner, OWN_USES, USE).pk,
        "o": add_item(owner, OWN_PROTOCOLS, PROTOCOL).pk,
        "m": 0,
        "e": Reading.objects.filter(spot__panel__trial=trial)[0].pk,
        "j": judge.pk,
        "q": ask_for(owner, says="Labels", wants={}, enqueue=lambda _: None).pk,
    }
    numbers["f"] = take_photograph(judge, trial.pk, of_a_panel(trial), lambda: PICTURE).pk
    numbers["l"] = begin_drill(judge, response="grade", n_marks=5).pk
    numbers["n"] = keep_batch(owner, numbers["p"], number="7").pk
    address = "/api/" + route.format(**numbers)
    for person, expected in (
        (None, nobody),
        (judge, judged),
        (tester, tested),
        (owner, owned),
        (stranger, foreign),
    ):
        response = getattr(client_of(person), method)(address, body, format="json")
        assert response.status_code == expected, (person, response.content)
        if expected >= 400:
            problem = response.json()
            assert response["Content-Type"] == "application/problem+json"
            assert problem["status"] == expected
            assert len(problem["detail"]) > 10


def test_every_route_stands_in_the_table() -> None:
    def shape(route: str) -> str:
        return re.sub(
            r"\{\w+\}|(?<=/)24h|(?<=/)thin|(?<=/)balance|(?<=/)thumb|(?<=/)grade$", "*", route.split("?")[0]
        )

    def pattern(route: str) -> str:
        return "/".join("*" if part.startswith("<") else part for part in route.split("/"))

    tabled = {shape(row[0]) for row in TABLE}
    assert {pattern(str(route.pattern)) for route in api_routes} == tabled


def test_an_address_that_does_not_exist(client_of: Callable[[Person | None], APIClient]) -> None:
    response = client_of(None).get("/api/nothing/here")
    assert response.status_code == 404
    assert response.json()["detail"] == "There is nothing at /api/nothing/here."


def routes() -> list[tuple[str, type[APIView]]]:
    return [(str(route.pattern), route.callback.view_class) for route in api_routes]  # type: ignore[union-attr]


def test_every_route_names_an_action_of_the_table_for_each_of_its_methods() -> None:
    named = set()
    for address, view in routes():
        methods = {name for name in ("get", "post", "put", "patch", "delete") if hasattr(view, name)}
        acts = getattr(view, "acts", {})
        assert set(acts) == methods, address
        assert set(acts.values()) <= set(POLICIES), address
        named |= set(acts.values())
    # What no route names is asked of within one that is allowed: an instrument's address, by whoever may set the bench.
    assert set(POLICIES) - named == {"set_instruments"}


def test_a_route_is_given_what_its_view_answers_with() -> None:
    lacking = [
        str(route.pattern)
        for route in api_routes
        if issubclass(route.callback.view_class, AnswersWithTrial)  # type: ignore[union-attr]
        and "summarise" not in route.callback.view_initkwargs  # type: ignore[union-attr]
    ]
    assert lacking == []


def test_what_is_not_in_the_table_nobody_may(owner: Person) -> None:
    """A route that forgets to name its action, or names one that is not there, is refused to an owner too."""

    class Forgetful(APIView):
        def get(self, request: Request) -> Response:
            return Response("seen")

    class Mistaken(Forgetful):
        acts: ClassVar = {"get": "peek"}

    for view in (Forgetful, Mistaken):
        request = APIRequestFactory().get("/api/x")
        force_authenticate(request, owner)
        assert view.as_view()(request).status_code == 403
        assert view.as_view()(APIRequestFactory().get("/api/x")).status_code == 401
    assert not may(owner, "peek")
    with pytest.raises(PermissionDenied, match="Nobody may peek"):
        within(owner, "peek", Trial.objects.all())


@pytest.mark.parametrize("action", sorted(POLICIES))
def test_no_action_reaches_into_another_shop(
    action: str, owner: Person, stranger: Person, designed: Trial
) -> None:
    """Whatever a policy allows, another shop's trials and papers are not there."""
    ask_for(owner, says="Labels", wants={}, enqueue=lambda _: None)
    whose = POLICIES[action].whose
    rows = Job.objects.all() if whose == "asker" else Trial.objects.all()
    assert rows.count() == 1
    assert within(stranger, action, rows).count() == 0
    assert within(owner, action, rows).count() == (0 if whose == "judge" else 1)
