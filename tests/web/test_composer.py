"""Putting a trial's protocol together: what each change makes of it, what it asks for, and what is refused."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from rest_framework.test import APIClient

from nublet.core.protocols.shipped import PROTOCOLS
from nublet.web.designs.actions import start
from nublet.web.people.models import AuditEntry, Person
from nublet.web.shelf.models import ShelfProtocol
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

Client = Callable[[Person | None], APIClient]
Ask = Callable[..., Any]


@pytest.fixture
def ask(client_of: Client, owner: Person, draft: Trial) -> Ask:
    """Change a draft, the trial's own protocol by default; the answer, or the refusal where one is expected."""
    client = client_of(owner)

    def make(at: Any = None, *, status: int = 200, **change: Any) -> Any:
        body = {"protocol": at, "change": change or None}
        answer = client.post(f"/api/trials/{draft.pk}/protocol", body, format="json")
        assert answer.status_code == status, answer.json()
        return answer.json()

    return make


def ids(composed: Any) -> list[str]:
    return [test["id"] for test in composed["protocol"]["tests"]]


BASICS = [test.id for test in PROTOCOLS["table-basics"].tests]


def test_each_change_comes_back_with_all_that_follows(ask: Ask) -> None:
    first = ask()
    assert ids(first) == BASICS
    assert (first["n_build_ups"], first["n_boards"], first["n_judges"]) == (3, 3, 1)
    assert first["asking"]["n_panels"] == 9
    more = ask(first["protocol"], what="add_test", test="boil")
    assert ids(more) == [*BASICS, "boil"]
    # What uses a panel up has one of its own, and is drawn on it.
    assert more["asking"]["n_panels"] == 18
    assert [len(panel["spots"]) for panel in more["panels"]] == [6, 1]
    boil = more["tests"][-1]
    assert [bar["kind"] for bar in boil["timeline"]["bars"]] == ["hot", "waits"]
    assert boil["asked"]["has_own_panel"] is True
    slips = ask(more["protocol"], what="add_test", test="drying-drop")
    # Two finishes, three slips each; bare wood has none.
    assert slips["asking"]["n_slips"] == 6
    assert slips["asking"]["n_readings"] > more["asking"]["n_readings"]


def test_steps_and_ladders(ask: Ask) -> None:
    wine = ask(what="harder", test="wine-1h")
    made = ids(wine)
    assert made[made.index("wine-1h") + 1] == "wine-2h"
    milder = ask(wine["protocol"], what="milder", test="wine-1h")
    assert ids(milder).index("wine-10min") == ids(milder).index("wine-1h") - 1
    ladder = ask(what="ladder", test="coffee-1h", steps=3)
    (only,) = ladder["protocol"]["ladders"]
    assert len(only["tests"]) == 3
    assert "coffee-1h" in only["tests"]
    about = {test["id"]: test for test in ladder["tests"]}
    assert {about[step]["ladder"] for step in only["tests"]} == {only["id"]}
    assert about["coffee-1h"]["can_be_ladder"] is False
    # A step taken out leaves the ladder one shorter.
    shorter = ask(ladder["protocol"], what="remove", test=only["tests"][0])
    assert shorter["protocol"]["ladders"][0]["tests"] == only["tests"][1:]


def test_another_severity_has_another_name_and_a_copy_its_own(ask: Ask) -> None:
    longer = ask(what="severity", test="wine-1h", lasts_min=90)
    changed = next(test for test in longer["protocol"]["tests"] if "wine" in test["id"])
    assert changed["acts"][0]["lasts_min"] == 90
    assert changed["name"] != PROTOCOLS["table-basics"].test("wine-1h").name
    copied = ask(what="copy", test="wine-1h")
    assert ids(copied)[ids(copied).index("wine-1h") + 1] == "wine-1h-2"
    whole = ask(what="add_protocol", protocol="sheen-and-wax")
    assert set(ids(whole)) == {*BASICS, *(test.id for test in PROTOCOLS["sheen-and-wax"].tests)}
    # Those that had the other protocol's looks keep them.
    assert all(test["looks"] for test in whole["protocol"]["tests"][len(BASICS) :])


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"what": "add_test", "test": "lava"}, "no test 'lava'"),
        ({"what": "add_protocol", "protocol": "lava"}, "no protocol 'lava'"),
        ({"what": "remove", "test": "lava"}, "no test 'lava'"),
        ({"what": "harder", "test": "lava"}, "no test 'lava'"),
    ],
)
def test_what_cannot_be_is_refused_in_words(ask: Ask, change: dict[str, Any], says: str) -> None:
    refused = ask(**change, status=400)
    assert says in refused["detail"]


def test_the_last_test_stays_and_a_draft_that_cannot_be_is_refused(ask: Ask) -> None:
    draft = ask()["protocol"]
    for test in BASICS[1:]:
        draft = ask(draft, what="remove", test=test)["protocol"]
    assert "only test" in ask(draft, what="remove", test=BASICS[0], status=400)["detail"]
    bad = {**draft, "tests": [{**draft["tests"][0], "reads": [{"response": "charm"}]}]}
    refused = ask(bad, status=400)
    assert refused["field"] == "tests.0.reads.0.response"
    assert "charm" in refused["detail"]


def test_what_does_not_fit_is_told_and_not_refused(ask: Ask, draft: Trial) -> None:
    draft.panel_length_mm, draft.panel_width_mm = 200, 80
    draft.save()
    found = ask()
    assert found["panels"] == []
    assert "fit" in "".join(piece["text"] for piece in found["trouble"])
    assert found["asking"]["n_panels"] == 9


def test_a_use_names_what_nothing_feeds_and_what_would(ask: Ask, draft: Trial) -> None:
    draft.uses = ["chopping-board"]
    draft.save()
    lacking = {each["name"]: each for each in ask()["unfed"]}
    assert lacking["Water uptake"]["tests"] == ["uptake"]
    assert "Upkeep" not in lacking
    gate = next(each for each in lacking.values() if each["is_gate"])
    assert "boil" in gate["tests"] or "damp-25" in gate["tests"]
    fed = ask(ask()["protocol"], what="add_test", test="uptake")
    assert "Water uptake" not in {each["name"] for each in fed["unfed"]}


def test_it_is_saved_for_the_trial_alone_and_stands_from_the_start(
    client_of: Client, owner: Person, designed: Trial
) -> None:
    client = client_of(owner)
    address = f"/api/trials/{designed.pk}/protocol"
    assert designed.fingerprint
    drafted = client.post(address, {"change": {"what": "add_test", "test": "scratch"}}, format="json").json()
    # The page says that saving discards the lots; afterwards there are none.
    assert drafted["has_lots"] is True
    saved = client.put(address, drafted["protocol"], format="json")
    assert (saved.status_code, saved.json()["has_lots"]) == (200, False)
    designed.refresh_from_db()
    assert designed.fingerprint == ""
    assert [test.id for test in protocol_of(designed).tests] == [*BASICS, "scratch"]
    entry = AuditEntry.objects.get(action="compose_protocol")
    assert entry.details["tests"] == [*BASICS, "scratch"]
    # The same again is no change.
    client.put(address, drafted["protocol"], format="json")
    assert AuditEntry.objects.filter(action="compose_protocol").count() == 1
    # Another form of the trial leaves it as it is.
    client.patch(f"/api/trials/{designed.pk}", {"name": "Saloon tables, again"}, format="json")
    designed.refresh_from_db()
    assert [test.id for test in protocol_of(designed).tests] == [*BASICS, "scratch"]
    assert not ShelfProtocol.objects.exists()


def test_a_started_trial_keeps_its_protocol(client_of: Client, owner: Person, designed: Trial) -> None:
    start(owner, designed.pk)
    client = client_of(owner)
    address = f"/api/trials/{designed.pk}/protocol"
    shown = client.post(address, {}, format="json").json()
    assert shown["is_fixed"] is True
    more = client.post(address, {"change": {"what": "add_test", "test": "boil"}}, format="json").json()
    refused = client.put(address, more["protocol"], format="json")
    assert refused.status_code == 409
    designed.refresh_from_db()
    assert [test.id for test in protocol_of(designed).tests] == BASICS


def test_the_shops_own_protocols_and_tests_are_in_the_library(
    ask: Ask, client_of: Client, owner: Person
) -> None:
    client = client_of(owner)
    made = ask(what="copy", test="wine-1h")["protocol"]
    assert (
        client.post("/api/shelf/protocols", {**made, "name": "Saloon wine"}, format="json").status_code == 201
    )
    library = client.get("/api/library").json()
    own = next(each for each in library["protocols"] if each["name"] == "Saloon wine")
    assert own["version"] == 1
    assert len(own["tests"]) == len(BASICS) + 1
    assert "wine-1h-2" in {test["id"] for test in library["tests"]}
    added = ask(ask()["protocol"], what="add_test", test="wine-1h-2")
    assert ids(added)[-1] == "wine-1h-2"
    # A large one is laid on a larger panel than usual, while it stands on the shelf.
    full = next(row for row in client.get("/api/shelf/protocols").json() if row["id"] == "table-full")
    shown = client.post("/api/library/compose", {"protocol": full["protocol"]}, format="json").json()
    assert shown["panels"]
    assert shown["panel_length_mm"] > 400
