"""People: their own password, what an owner may change, and what ends with it."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from rest_framework.test import APIClient

from nublet.web.people.models import AuditEntry, Person
from nublet.web.trials.models import Trial
from tests.web.conftest import PASSWORD

Client = Callable[[Person | None], APIClient]
NEW = "quite-another-one"


def signed_in(client: APIClient) -> bool:
    return client.get("/api/session").status_code == 200


def test_ones_own_password(client_of: Client, judge: Person) -> None:
    here, elsewhere = client_of(judge), client_of(judge)
    wrong = here.put("/api/session/password", {"old": "not-it-at-all", "new": NEW}, format="json")
    assert (wrong.status_code, wrong.json()["field"]) == (400, "old")
    weak = here.put("/api/session/password", {"old": PASSWORD, "new": "imara"}, format="json")
    assert (weak.status_code, weak.json()["field"]) == (400, "new")
    assert here.put("/api/session/password", {"old": PASSWORD, "new": NEW}, format="json").status_code == 204
    # This page stays signed in, every other ends.
    assert (signed_in(here), signed_in(elsewhere)) == (True, False)
    judge.refresh_from_db()
    assert judge.check_password(NEW)
    assert NEW not in str(list(AuditEntry.objects.values_list("details", flat=True)))


@pytest.mark.parametrize("change", [{"password": NEW}, {"is_active": False}, {"end_sessions": True}])
def test_an_owner_ends_what_somebody_has_open(
    client_of: Client, owner: Person, judge: Person, change: dict[str, object]
) -> None:
    theirs, own = client_of(judge), client_of(owner)
    assert own.patch(f"/api/people/{judge.pk}", change, format="json").status_code == 200
    assert (signed_in(theirs), signed_in(own)) == (False, True)
    assert AuditEntry.objects.filter(action="change_person").count() == 1
    judge.refresh_from_db()
    assert judge.is_active == change.get("is_active", True)
    assert judge.check_password(str(change.get("password", PASSWORD)))


@pytest.mark.parametrize("change", [{"role": "tester"}, {"is_active": False}])
def test_a_shop_always_has_an_owner(
    client_of: Client, owner: Person, tester: Person, change: dict[str, object]
) -> None:
    client = client_of(owner)
    refused = client.patch(f"/api/people/{owner.pk}", change, format="json")
    assert (refused.status_code, refused.json()["field"]) == (400, next(iter(change)))
    assert "without an owner" in refused.json()["detail"]
    assert client.patch(f"/api/people/{tester.pk}", {"role": "owner"}, format="json").status_code == 200
    assert client.patch(f"/api/people/{owner.pk}", change, format="json").status_code == 200


def test_who_did_what_to_a_trial(client_of: Client, owner: Person, graded: Trial) -> None:
    lines = client_of(owner).get(f"/api/trials/{graded.pk}/history").json()
    assert [line["action"] for line in lines][:2] == ["start_trial", "draw_design"]
    assert {line["person"] for line in lines} == {"Nell"}
    assert graded.order_secret not in str(lines)
