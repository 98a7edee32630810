"""Practice: drills of one's own, without a trial, whose truth is told only after the answer."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from rest_framework.test import APIClient

from nublet.core.simulation.marks import DRAWN, true_values
from nublet.web.people.models import AuditEntry, Person
from nublet.web.practice.models import Drill, DrillAnswer
from nublet.web.practice.selectors import marks_of
from nublet.web.trials.models import Trial

Client = Callable[[Person | None], APIClient]


def begin(client: APIClient, response: str = "grade", n_marks: int = 10) -> dict[str, Any]:
    answer = client.post("/api/practice", {"response": response, "n_marks": n_marks}, format="json")
    assert answer.status_code == 201, answer.content
    found: dict[str, Any] = answer.json()
    return found


def read_all(client: APIClient, drill: dict[str, Any], by: Callable[[float], float]) -> dict[str, Any]:
    marks = marks_of(Drill.objects.get(pk=drill["id"]))
    for nth, (value, _) in enumerate(marks):
        answer = client.post(
            f"/api/practice/drills/{drill['id']}", {"nth": nth, "value": by(value)}, format="json"
        )
        assert answer.status_code == 200, answer.content
    found: dict[str, Any] = answer.json()
    return found


@pytest.mark.parametrize("response", DRAWN)
def test_every_scale_that_can_be_drawn_is_practised_to_its_end(
    client_of: Client, judge: Person, response: str
) -> None:
    client = client_of(judge)
    drill = begin(client, response, 6)
    assert [mark["drawn"] for mark in drill["marks"]] == [None] * 6
    assert drill["result"] is None
    done = read_all(client, drill, lambda value: value)
    assert done["result"]["exact_share"] == 1
    assert done["result"]["kappa"] in (1, None)
    assert done["result"]["again_same_share"] == 1
    assert [mark["drawn"] for mark in done["marks"]] == [mark["read"] for mark in done["marks"]]
    drawings = client.get(f"/api/practice/drawings/{response}").json()
    assert {each["value"] for each in drawings} >= {
        value for value in true_values(response) if value in {each["value"] for each in drawings}
    }
    assert drawings == client.get(f"/api/practice/drawings/{response}").json()


def test_progress_tells_of_kindness_over_time_and_of_what_is_unfinished(
    client_of: Client, judge: Person
) -> None:
    client = client_of(judge)
    read_all(client, begin(client), lambda grade: min(5, grade + 1))
    read_all(client, begin(client), lambda grade: grade)
    left = begin(client)
    practice = client.get("/api/practice").json()
    assert practice["open_drill"] == left["id"]
    first, second = practice["drills"]
    assert first["result"]["lean_steps"] > 0.5 > second["result"]["lean_steps"] == 0
    assert first["result"]["kappa"] < second["result"]["kappa"] == 1


def test_the_first_word_stands_and_the_same_again_changes_nothing(client_of: Client, judge: Person) -> None:
    client = client_of(judge)
    drill = begin(client)
    address = f"/api/practice/drills/{drill['id']}"
    for _ in range(2):
        assert client.post(address, {"nth": 0, "value": 4}, format="json").status_code == 200
    assert client.post(address, {"nth": 0, "value": 5}, format="json").status_code == 409
    assert DrillAnswer.objects.count() == 1


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"nth": 10, "value": 4}, "and no 10"),
        ({"nth": -1, "value": 4}, "and no -1"),
        ({"nth": 0, "value": 6}, "not on the scale"),
        ({"nth": 0, "value": 4.4}, "none of the steps"),
        ({"nth": 0}, "required"),
    ],
)
def test_what_cannot_be_an_answer_is_refused(
    client_of: Client, judge: Person, body: dict[str, Any], says: str
) -> None:
    client = client_of(judge)
    answer = client.post(f"/api/practice/drills/{begin(client)['id']}", body, format="json")
    assert (answer.status_code, says in answer.json()["detail"]) == (400, True), answer.content
    assert not DrillAnswer.objects.exists()


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"response": "smell"}, "cannot be drawn"),
        ({"response": "colour-l"}, "cannot be drawn"),
        ({"response": "lava"}, "no scale"),
        ({"response": "grade", "n_marks": 3}, "5 to 60"),
    ],
)
def test_what_cannot_be_drawn_is_no_drill(
    client_of: Client, judge: Person, body: dict[str, Any], says: str
) -> None:
    answer = client_of(judge).post("/api/practice", body, format="json")
    assert (answer.status_code, says in answer.json()["detail"]) == (400, True), answer.content
    assert not Drill.objects.exists()
    assert client_of(judge).get("/api/practice/drawings/smell").status_code == 400


def test_the_evidence_tells_of_it_only_where_the_judge_wishes(
    client_of: Client, graded: Trial, owner: Person, judge: Person
) -> None:
    client, address = client_of(judge), f"/api/trials/{graded.pk}/evidence"
    read_all(client, begin(client, n_marks=20), lambda grade: grade)
    read_all(client, begin(client, "touch"), lambda step: step)
    assert client_of(owner).get(address).json()["practice"] == []
    assert client.patch("/api/practice", {"shows": True}, format="json").json()["shows"] is True
    assert client_of(owner).get(address).json()["practice"] == [
        {"judge": "Imara", "response": "grade", "kappa": 1, "n_marks": 20}
    ]
    client.patch("/api/practice", {"shows": True}, format="json")
    assert AuditEntry.objects.filter(action="show_practice").count() == 1
    client.patch("/api/practice", {"shows": False}, format="json")
    assert client_of(owner).get(address).json()["practice"] == []


def test_what_is_shown_takes_a_fixed_number_of_queries(
    client_of: Client, judge: Person, django_assert_num_queries: Any
) -> None:
    client = client_of(judge)
    for n_before in (0, 2):
        for _ in range(n_before):
            read_all(client, begin(client, n_marks=5), lambda grade: grade)
        client.get("/api/practice")
        with django_assert_num_queries(4 if n_before else 3):
            client.get("/api/practice")
