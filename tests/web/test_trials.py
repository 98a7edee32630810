"""Actions on people and trials: the effect, the refusal, one audit entry, and nothing changed on failure."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from django.core.exceptions import PermissionDenied
from django.test.utils import CaptureQueriesContext
from rest_framework.test import APIClient

from nublet.core.errors import NubletError
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.web.build_ups.actions import add_build_up
from nublet.web.designs import actions as design_actions
from nublet.web.designs.freezing import check_record
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.actions import add_person
from nublet.web.people.models import AuditEntry, Person
from nublet.web.stages.selectors import list_trials, summarise_trials
from nublet.web.trials import actions
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial
from tests.web.conftest import PASSWORD

Client = Callable[[Person | None], APIClient]


def audit() -> list[str]:
    return list(AuditEntry.objects.order_by("pk").values_list("action", flat=True))


def test_sign_in_and_out(client_of: Client, owner: Person) -> None:
    client = client_of(None)
    wrong = client.post("/api/session", {"username": "nell", "password": "guess"}, format="json")
    assert (wrong.status_code, wrong.json()["code"]) == (400, "wrong_password")
    signed = client.post("/api/session", {"username": " Nell ", "password": PASSWORD}, format="json")
    assert signed.json() == {
        "id": owner.pk,
        "username": "nell",
        "display_name": "Nell",
        "role": "owner",
        "is_active": True,
        "shop": "Tarn Yard",
        "currency": "",
        "keeps_key": True,
    }
    assert client.get("/api/session").status_code == 200
    assert client.delete("/api/session").status_code == 204
    assert client.get("/api/session").json()["code"] == "signed_out"


def test_many_wrong_passwords_lock_the_name(client_of: Client, owner: Person) -> None:
    client = client_of(None)
    for _ in range(10):
        client.post("/api/session", {"username": "nell", "password": "guess"}, format="json")
    locked = client.post("/api/session", {"username": "nell", "password": PASSWORD}, format="json")
    assert locked.status_code == 429
    assert "Too many wrong tries" in locked.json()["detail"]


def test_a_foreign_page_cannot_write(owner: Person) -> None:
    client = APIClient(enforce_csrf_checks=True)
    client.force_login(owner)
    response = client.post("/api/trials", {"name": "X"}, format="json")
    assert (response.status_code, "Reload it" in response.json()["detail"]) == (403, True)
    assert not Trial.objects.exists()


def test_whoever_cleared_the_cookies_signs_in_at_the_second_try(owner: Person) -> None:
    client = APIClient(enforce_csrf_checks=True)
    who = {"username": "nell", "password": PASSWORD}
    first = client.post("/api/session", who, format="json")
    assert (first.status_code, first.json()["code"]) == (403, "no_token")
    assert "try once more" in first.json()["detail"]
    token = client.cookies["csrftoken"].value
    assert client.post("/api/session", who, format="json", HTTP_X_CSRFTOKEN=token).status_code == 200


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"username": "nell"}, "username"),
        ({"display_name": "Nell "}, "display_name"),
        ({"password": "short"}, "password"),
        ({"username": "two words"}, "username"),
        ({"role": "boss"}, "role"),
    ],
)
def test_people_who_cannot_be_added(
    client_of: Client, owner: Person, change: dict[str, str], field: str
) -> None:
    body = {"username": "imara", "display_name": "Imara", "role": "judge", "password": PASSWORD, **change}
    response = client_of(owner).post("/api/people", body, format="json")
    assert (response.status_code, response.json()["field"]) == (400, field)
    assert Person.objects.count() == 1


def test_adding_people_is_for_owners(owner: Person, tester: Person) -> None:
    with pytest.raises(PermissionDenied):
        add_person(tester, username="x", display_name="X", role="owner", password=PASSWORD)
    assert audit() == ["open_shop", "add_person"]


def test_a_trial_is_made_with_its_control_and_all_people_as_judges(client_of: Client, owner: Person) -> None:
    response = client_of(owner).post("/api/trials", {"name": "  Luggage   racks "}, format="json")
    made = response.json()["trial"]
    assert response.status_code == 201
    assert made["name"] == "Luggage racks"
    assert [(b["name"], b["is_control"]) for b in made["build_ups"]] == [("Bare control", True)]
    assert [judge["id"] for judge in made["judges"]] == [owner.pk]
    assert audit() == ["open_shop", "create_trial"]


@pytest.mark.parametrize(
    ("fields", "field"),
    [
        ({"name": " "}, "name"),
        ({"name": "Saloon tables"}, "name"),
        ({"name": "X", "species": ["oak-of-no-such-kind"]}, "species"),
        ({"name": "X", "uses": ["spaceship"]}, "uses"),
        ({"name": "X", "protocol": "none"}, "protocol"),
        ({"name": "X", "boards_per_species": 31}, "boards_per_species"),
        ({"name": "X", "judges": [999999]}, "judges"),
        ({"name": "X", "judges": []}, "judges"),
    ],
)
def test_a_trial_that_cannot_be_made_leaves_nothing(
    client_of: Client, owner: Person, draft: Trial, fields: dict[str, Any], field: str
) -> None:
    before = audit()
    response = client_of(owner).post("/api/trials", fields, format="json")
    assert (response.status_code, response.json()["field"]) == (400, field)
    assert Trial.objects.count() == 1
    assert audit() == before


def test_a_design_carries_every_build_up_on_every_board(
    client_of: Client, owner: Person, draft: Trial
) -> None:
    response = client_of(owner).post(f"/api/trials/{draft.pk}/design", {}, format="json")
    assert response.status_code == 201
    shown = response.json()
    assert [board["name"] for board in shown["boards"]] == ["Beech 1", "Beech 2", "Beech 3"]
    for board in shown["boards"]:
        assert {p["build_up"]["name"] for p in board["panels"]} == {
            "Bare control",
            "Marrowby Tung",
            "Skarn Waterborne Satin",
        }
        assert all(len(p["spots"]) == 6 for p in board["panels"])
    again = client_of(owner).post(f"/api/trials/{draft.pk}/design", {}, format="json").json()
    assert again["fingerprint"] != shown["fingerprint"]
    assert TrialPanel.objects.count() == 9
    assert audit()[-3:] == ["draw_design", "discard_design", "draw_design"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"species": []}, "boards"),
        ({"panel_length_mm": 200}, "panel_length_mm"),
        ({"panel_width_mm": 100}, "panel_width_mm"),
    ],
)
def test_an_impossible_design_is_refused_and_nothing_written_by_half(
    client_of: Client, owner: Person, draft: Trial, change: dict[str, Any], field: str
) -> None:
    client = client_of(owner)
    assert client.patch(f"/api/trials/{draft.pk}", change, format="json").status_code == 200
    before = audit()
    response = client.post(f"/api/trials/{draft.pk}/design", {}, format="json")
    assert (response.status_code, response.json()["field"]) == (400, field)
    assert not TrialPanel.objects.exists()
    assert audit() == before


def test_a_trial_without_candidates_has_no_design(owner: Person) -> None:
    trial = actions.create_trial(owner, name="Empty", species=["elm"])
    with pytest.raises(NubletError, match="at least 1 build-ups"):
        design_actions.draw_design(owner, trial.pk)


def test_a_change_of_shape_discards_an_ungraded_design(owner: Person, designed: Trial) -> None:
    actions.update_trial(owner, designed.pk, question="Reworded", panel_length_mm=400)
    designed.refresh_from_db()
    assert designed.fingerprint
    actions.update_trial(owner, designed.pk, boards_per_species=5)
    designed.refresh_from_db()
    assert (designed.fingerprint, TrialSpot.objects.count()) == ("", 0)
    assert "discard_design" in audit()


def test_once_graded_the_comparison_stands(
    client_of: Client, owner: Person, graded: Trial, judge: Person
) -> None:
    client, before = client_of(owner), audit()
    row = graded.build_ups.filter(is_control=False)[0]
    body = {"name": "New", "family": "wax", "coats": 1}
    for response in (
        client.patch(f"/api/trials/{graded.pk}", {"species": ["elm"]}, format="json"),
        client.patch(f"/api/trials/{graded.pk}", {"judges": [owner.pk]}, format="json"),
        client.post(f"/api/trials/{graded.pk}/build-ups", body, format="json"),
        client.delete(f"/api/trials/{graded.pk}/build-ups/{row.pk}"),
        client.post(f"/api/trials/{graded.pk}/design", {}, format="json"),
    ):
        assert (response.status_code, response.json()["code"]) == (409, "conflict")
    assert audit() == before
    assert TrialPanel.objects.filter(trial=graded).count() == 9


def test_judges_cannot_change_a_trial_by_any_door(judge: Person, draft: Trial) -> None:
    with pytest.raises(PermissionDenied):
        actions.update_trial(judge, draft.pk, name="Mine")
    with pytest.raises(PermissionDenied):
        actions.create_trial(judge, name="Mine")


def test_the_list_needs_the_same_queries_for_one_trial_as_for_many(
    django_assert_num_queries: Any, owner: Person, graded: Trial
) -> None:
    with django_assert_num_queries(11) as context:
        (one,) = summarise_trials(owner)
    assert isinstance(context, CaptureQueriesContext)
    assert (one.n_build_ups, one.n_panels, one.n_graded, one.n_expected) == (2, 9, 54, 108)
    assert one.stages == {
        "question": "done",
        "candidates": "done",
        "build_ups": "done",
        "design": "done",
        "prepare": "done",
        "coat_and_cure": "empty",
        "expose": "done",
        "read": "under_way",
        "evidence": "under_way",
        "ranking": "under_way",
    }
    for number in range(5):
        actions.create_trial(owner, name=f"Trial {number}")
    # One more for the products and woods of trials that have not started, however many there are.
    with django_assert_num_queries(11):
        assert len(summarise_trials(owner)) == 6


def test_the_list_shows_what_the_trials_page_does_in_two_queries(
    owner: Person, graded: Trial, django_assert_num_queries: Callable[[int], Any]
) -> None:
    for number in range(5):
        actions.create_trial(owner, name=f"Trial {number}")
    (whole,) = [each for each in summarise_trials(owner) if each.trial.pk == graded.pk]
    with django_assert_num_queries(2):
        *others, line = list_trials(owner)
    assert [other.name for other in others] == [f"Trial {number}" for number in reversed(range(5))]
    assert {other.n_panels for other in others} == {0}
    assert (line.name, line.is_simulated) == (graded.name, False)
    assert line.started_at is not None
    for name in ("n_build_ups", "n_panels", "n_graded", "n_expected"):
        assert getattr(line, name) == getattr(whole, name), name
    assert line.n_graded > 0


def test_changing_a_shipped_protocol_changes_no_trial(
    client_of: Client, owner: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A draft and a started trial keep what they copied; a trial made afterwards has what ships then."""
    draft = actions.create_trial(owner, name="Draft", species=["beech"], uses=["dining-table"])
    other = actions.create_trial(owner, name="Started", species=["beech"], uses=["dining-table"])
    add_build_up(owner, other.pk, name="Marrowby Tung", family="pure-drying-oil")
    design_actions.draw_design(owner, other.pk)
    design_actions.start(owner, other.pk)
    before = {each.pk: protocol_of(Trial.objects.get(pk=each.pk)) for each in (draft, other)}
    changed = replace(
        TABLE_BASICS,
        version=2,
        tests=tuple(
            replace(each, acts=(replace(each.acts[0], lasts_min=each.duration_min + 7), *each.acts[1:]))
            for each in TABLE_BASICS.tests[:4]
        ),
        looks=TABLE_BASICS.looks[:1],
    )
    monkeypatch.setitem(PROTOCOLS, TABLE_BASICS.id, changed)
    actions.update_trial(owner, draft.pk, question="Another question", protocol=TABLE_BASICS.id)
    for pk, protocol in before.items():
        assert protocol_of(Trial.objects.get(pk=pk)) == protocol == TABLE_BASICS
    assert check_record(Trial.objects.get(pk=other.pk)) == "intact"
    fresh = actions.create_trial(owner, name="Fresh", species=["beech"])
    assert (protocol_of(fresh), fresh.protocol_version) == (changed, 2)
    served = client_of(owner).get(f"/api/trials/{other.pk}").json()["trial"]["own_protocol"]
    assert [each["duration_min"] for each in served["tests"]] == [
        each.duration_min for each in TABLE_BASICS.tests
    ]
    n_expected = {line.name: line.n_expected for line in list_trials(owner)}
    assert n_expected["Started"] == other.boards_per_species * 2 * 6 * 2 * other.judges.count()


def test_a_protocol_that_ships_no_more_still_belongs_to_its_trial(
    owner: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    draft = actions.create_trial(owner, name="Draft", species=["beech"])
    monkeypatch.setitem(PROTOCOLS, "another", replace(TABLE_BASICS, id="another"))
    monkeypatch.delitem(PROTOCOLS, TABLE_BASICS.id)
    actions.update_trial(owner, draft.pk, question="Which?")
    assert protocol_of(Trial.objects.get(pk=draft.pk)) == TABLE_BASICS
    with pytest.raises(NubletError, match="not known as a choice for protocol"):
        actions.update_trial(owner, draft.pk, protocol="a third")
