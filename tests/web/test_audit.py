"""The audit record: declared changes with real subjects, written with the change, and readable."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from django.db import transaction
from rest_framework.test import APIClient

from nublet.core.errors import NubletError
from nublet.web.build_ups.actions import add_build_up, set_benchmark
from nublet.web.people.actions import add_person
from nublet.web.people.audit import AUDITED, record
from nublet.web.people.models import AuditEntry, Person, SubjectKind
from nublet.web.people.selectors import PAGE, read_audit
from nublet.web.shelf.actions import add_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.trials.actions import create_trial, update_trial

Client = Callable[[Person | None], APIClient]


def test_a_change_names_the_thing_that_was_changed(owner: Person) -> None:
    trial = create_trial(owner, name="Bar", species=["beech"])
    tung = add_item(owner, PRODUCTS, {"name": "Marrowby Tung", "family": "pure-drying-oil"})
    row = add_build_up(owner, trial.pk, product=tung.pk)
    set_benchmark(owner, trial.pk, row.pk, is_benchmark=True)
    imara = add_person(owner, username="imara2", display_name="I", role="judge", password="lummerdale-halt")
    assert row.version is not None
    found = list(AuditEntry.objects.order_by("pk").values_list("action", "subject_kind", "subject_id"))
    assert found == [
        ("open_shop", "shop", owner.shop_id),
        ("create_trial", "trial", trial.pk),
        ("add_product", "product", tung.pk),
        ("add_build_up", "trial", trial.pk),
        ("set_benchmark", "build_up", row.version.build_up_id),
        ("add_person", "person", imara.pk),
    ]


def test_a_change_that_is_not_declared_is_not_made(owner: Person) -> None:
    trial = create_trial(owner, name="Bar", species=["beech"])
    before = AuditEntry.objects.count()

    @transaction.atomic
    def whisper() -> None:
        trial.question = "Quietly?"
        trial.save()
        record(owner, "whisper", trial)

    with pytest.raises(KeyError):
        whisper()
    trial.refresh_from_db()
    assert (trial.question, AuditEntry.objects.count()) == ("", before)


def test_a_refused_change_leaves_no_entry(owner: Person) -> None:
    trial = create_trial(owner, name="Bar", species=["beech"])
    before = AuditEntry.objects.count()
    with pytest.raises(NubletError):
        update_trial(owner, trial.pk, boards_per_species=900)
    assert AuditEntry.objects.count() == before


@pytest.mark.parametrize("action", AUDITED)
def test_every_declared_change_has_words_of_its_own(action: str) -> None:
    assert AUDITED[action].subject in SubjectKind.values
    assert "_" not in AUDITED[action].says
    assert len(AUDITED[action].says.split()) > 1
    assert AUDITED[action].says == AUDITED[action].says.strip().rstrip(".")


def test_it_is_read_page_by_page_and_by_subject(client_of: Client, owner: Person, stranger: Person) -> None:
    bar = create_trial(owner, name="Bar", species=["beech"])
    other = create_trial(owner, name="Other", species=["beech"])
    for n in range(PAGE):
        update_trial(owner, bar.pk, question=f"Question {n}")
    create_trial(stranger, name="Elsewhere", species=["beech"])
    client = client_of(owner)
    first = client.get("/api/audit").json()
    assert len(first["lines"]) == PAGE
    assert first["lines"][0] | {"id": 0, "at": ""} == {
        "id": 0,
        "at": "",
        "person": "Nell",
        "action": "update_trial",
        "says": "changed the trial",
        "subject_kind": "trial",
        "subject_id": bar.pk,
        "details": {"fields": ["question"]},
    }
    rest = client.get(f"/api/audit?before={first['before']}").json()
    assert [line["action"] for line in rest["lines"]] == ["create_trial", "create_trial", "open_shop"]
    assert rest["before"] is None
    of_other = client.get(f"/api/audit?subject_kind=trial&subject_id={other.pk}").json()["lines"]
    assert [line["action"] for line in of_other] == ["create_trial"]
    assert len(read_audit(stranger).lines) == 2
    wrong = client.get("/api/audit", {"subject_kind": "weather"})
    assert wrong.status_code == 400
