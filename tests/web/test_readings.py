"""Grading: what stands, what is kept, and what is refused."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest
from django.db import IntegrityError, transaction
from rest_framework.test import APIClient

from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading, ReadingEntry
from nublet.web.readings.selectors import open_sitting
from nublet.web.readings.tasks import list_judging
from nublet.web.trials.models import Trial

Client = Callable[[Person | None], APIClient]
# What an answer has beside what stands, where nothing was measured and no other device said anything.
PLAIN: dict[str, Any] = {"elsewhere": None, "singles": [], "worked_out": []}


@pytest.fixture
def bench(client_of: Client, judge: Person, started: Trial) -> Callable[..., Any]:
    """Post one entry for the first panel's wine spot."""
    client = client_of(judge)
    code = TrialPanel.objects.filter(trial=started).order_by("code")[0].code

    def post(kind: str = "grade", **fields: Any) -> Any:
        body = {"client_id": str(uuid4()), "panel": code, "exposure": "wine-1h", "look": "24h", "kind": kind}
        return client.post(f"/api/judging/{started.pk}/entries", {**body, **fields}, format="json")

    return post


def test_a_correction_keeps_the_earlier_value_in_the_record(bench: Callable[..., Any]) -> None:
    assert bench(value=3).json() == {"value": 3.0, "is_beyond": False, "note": "", **PLAIN}
    assert bench(value=2).json() == {"value": 2.0, "is_beyond": False, "note": "", **PLAIN}
    assert bench("note", note=" ring ").json() == {
        "value": 2.0,
        "is_beyond": False,
        "note": "ring",
        **PLAIN,
    }
    entries = list(ReadingEntry.objects.order_by("pk").values_list("kind", "value", "note"))
    assert [(kind, grade and float(grade), note) for kind, grade, note in entries] == [
        ("grade", 3.0, ""),
        ("grade", 2.0, ""),
        ("note", None, "ring"),
    ]


def test_take_back_undoes_one_entry_at_a_time_and_is_itself_kept(bench: Callable[..., Any]) -> None:
    bench(value=3)
    bench(value=1)
    bench("note", note="slip")
    assert bench("take_back").json() == {"value": 1.0, "is_beyond": False, "note": "", **PLAIN}
    assert bench("take_back").json() == {"value": 3.0, "is_beyond": False, "note": "", **PLAIN}
    assert bench("take_back").json() == {"value": None, "is_beyond": False, "note": "", **PLAIN}
    assert bench("take_back").json() == {"value": None, "is_beyond": False, "note": "", **PLAIN}
    assert ReadingEntry.objects.count() == 7
    assert bench(value=4).json()["value"] == 4.0


def test_the_same_entry_sent_twice_counts_once(bench: Callable[..., Any]) -> None:
    twice = str(uuid4())
    bench(value=3, client_id=twice)
    bench(value=5)
    assert bench(value=3, client_id=twice).json()["value"] == 5.0
    assert ReadingEntry.objects.count() == 2
    other = bench(value=3, client_id=twice, exposure="coffee-1h")
    assert other.status_code == 409
    assert not Reading.objects.filter(spot__exposure="coffee-1h").exists()


@pytest.mark.parametrize(
    ("fields", "field", "says"),
    [
        ({"value": 7}, "value", "grade 7 is not on the scale"),
        ({"value": 0.5}, "value", "not on the scale"),
        ({"value": "good"}, "value", "number"),
        ({}, "value", "A grade is missing"),
        ({"value": 3, "panel": "ZZ9"}, "panel", "no panel 'ZZ9'"),
        ({"value": 3, "exposure": "lava"}, "panel", "'lava'"),
        ({"value": 3, "look": "7d"}, "look", "no look '7d'"),
        ({"value": 3, "client_id": "mine"}, "client_id", "UUID"),
    ],
)
def test_bad_entries_are_refused_and_nothing_is_written(
    bench: Callable[..., Any], fields: dict[str, Any], field: str, says: str
) -> None:
    response = bench(**fields)
    assert response.status_code == 400
    assert response.json()["field"] == field
    assert says in response.json()["detail"]
    assert not Reading.objects.exists()


def test_codes_tell_capitals_apart(bench: Callable[..., Any], started: Trial) -> None:
    code = TrialPanel.objects.filter(trial=started).order_by("code")[0].code
    assert bench(value=3, panel=code.lower()).status_code == 400


def test_the_database_itself_refuses_a_grade_off_the_scale(graded: Trial) -> None:
    reading = Reading.objects.all()[0]
    reading.value = 9
    with pytest.raises(IntegrityError), transaction.atomic():
        reading.save()


def test_judges_see_only_their_own_grades(graded: Trial, owner: Person, judge: Person) -> None:
    graded.judges.add(owner)
    assert all(s.values[0] is not None for p in open_sitting(judge, graded.pk, "24h").panels for s in p.spots)
    assert all(s.values[0] is None for p in open_sitting(owner, graded.pk, "24h").panels for s in p.spots)


def test_what_is_left_to_grade(graded: Trial, judge: Person, django_assert_num_queries: Any) -> None:
    with django_assert_num_queries(3):
        lifted, day_after = list_judging(judge)
    assert (lifted.n_panels_left, lifted.n_read, lifted.n_values) == (9, 0, 54)
    assert lifted.next_panel == open_sitting(judge, graded.pk, "lifted").panels[0].code
    assert (day_after.n_panels_left, day_after.next_panel) == (0, None)


def test_a_sitting_needs_a_fixed_number_of_queries(
    graded: Trial, judge: Person, django_assert_num_queries: Any
) -> None:
    with django_assert_num_queries(5):
        sitting = open_sitting(judge, graded.pk, "24h")
    assert len(sitting.panels) == 9


@pytest.mark.parametrize(("look", "status"), [("24h", 400), ("7d", 400)])
def test_a_trial_without_panels_or_look(
    client_of: Client, draft: Trial, judge: Person, look: str, status: int
) -> None:
    response = client_of(judge).get(f"/api/judging/{draft.pk}/looks/{look}")
    assert response.status_code == status
    assert len(response.json()["detail"]) > 20
