"""What somebody may send by mistake or on purpose: refused in words, never a 500; and what every answer carries."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest
from django.db import DataError, IntegrityError, OperationalError
from django.test import Client as DjangoClient
from django.test import Client as PlainClient
from django.test import RequestFactory
from rest_framework.test import APIClient

from nublet.core.errors import NubletError
from nublet.web.api.errors import answer_problem
from nublet.web.api.parsing import TrustedProxyMiddleware
from nublet.web.people.actions import add_person
from nublet.web.people.models import Person
from nublet.web.trials.models import Trial
from tests.web.conftest import PASSWORD

Client = Callable[[Person | None], APIClient]


@pytest.mark.parametrize("depth", [41, 900, 3000])
@pytest.mark.parametrize("signed_in", [True, False])
def test_json_without_end_is_refused(client_of: Client, owner: Person, depth: int, signed_in: bool) -> None:
    client = client_of(owner if signed_in else None)
    body = '{"a":' * depth + "1" + "}" * depth
    for address in ("/api/session", "/api/trials", "/api/bench"):
        response = client.post(address, body, content_type="application/json")
        assert response.status_code in (400, 401, 403, 405), address
    assert (
        "nested more than"
        in client.post("/api/session", body, content_type="application/json").json()["detail"]
    )


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"instruments": [{"kind": "balance"}]}, "instruments.0.address"),
        ({"instruments": [{"address": "/dev/ttyUSB0"}]}, "instruments.0.kind"),
        ({"hands": [{"name": "Nell"}]}, "hands.0.hours"),
        ({"hands": [{"hours": []}]}, "hands.0.name"),
        ({"hands": [{"name": "Nell", "hours": [{"days": ["mon"]}]}]}, "hands.0.hours.0.from"),
        ({"hands": [{"name": "\u200b", "hours": []}]}, "hands.0.name"),
    ],
)
def test_half_a_bench_is_refused(client_of: Client, owner: Person, body: dict[str, Any], field: str) -> None:
    response = client_of(owner).patch("/api/bench", body, format="json")
    assert (response.status_code, response.json()["field"]) == (400, field)


def test_a_long_name_is_no_fault_of_the_server(client_of: Client, db: None) -> None:
    body = {"username": "n" * 100_000, "password": "x" * 100_000}
    assert client_of(None).post("/api/session", body, format="json").status_code == 400


@pytest.mark.parametrize("grade", [True, False, "NaN", 1e308])
def test_what_is_no_grade(client_of: Client, started: Trial, judge: Person, grade: object) -> None:
    entry = {
        "client_id": str(uuid4()), "panel": started.panels.order_by("code")[0].code, "exposure": "wine-1h",
        "look": "24h", "kind": "grade", "value": grade,
    }  # fmt: skip
    response = client_of(judge).post(f"/api/judging/{started.pk}/entries", entry, format="json")
    assert (response.status_code, response.json()["field"]) == (400, "value")


@pytest.mark.parametrize("minutes", [-1, 1e308, True])
def test_looks_lie_within_ten_years(
    client_of: Client, owner: Person, started: Trial, minutes: object
) -> None:
    entry = {
        "client_id": str(uuid4()), "entry": "done", "kind": "look", "item": "wine-1h", "look_after_min": minutes,
        "panels": ["K7"],
    }  # fmt: skip
    response = client_of(owner).post(f"/api/trials/{started.pk}/days/entries", entry, format="json")
    assert (response.status_code, response.json()["field"]) == (400, "look_after_min")


@pytest.mark.parametrize(
    ("fields", "field"),
    [
        ({"boards_per_species": 0}, "boards_per_species"),
        ({"name": "\u200b\u200b"}, "name"),
        ({"name": "  "}, "name"),
    ],
)
def test_a_trial_of_nothing(
    client_of: Client, owner: Person, draft: Trial, fields: dict[str, Any], field: str
) -> None:
    response = client_of(owner).patch(f"/api/trials/{draft.pk}", fields, format="json")
    assert (response.status_code, response.json()["field"]) == (400, field)


@pytest.mark.parametrize(
    ("username", "password", "says"),
    [
        ("lummerdale-halt", "lummerdale-halt", "similar"),
        ("wren", "              ", "blanks alone"),
        ("wren", "ababababababab", "over and over"),
        ("wren", "short", "too short"),
    ],
)
def test_passwords_that_are_none(owner: Person, username: str, password: str, says: str) -> None:
    with pytest.raises(NubletError, match=says):
        add_person(owner, username=username, display_name="Wren", role="judge", password=password)
    with pytest.raises(NubletError, match="visible letters"):
        add_person(owner, username="\u200b", display_name="Wren", role="judge", password=PASSWORD)


@pytest.mark.parametrize(
    ("error", "status", "says"),
    [
        (IntegrityError(1062, "Duplicate entry"), 409, "at the same moment"),
        (IntegrityError(4025, "CONSTRAINT failed"), 400, "cannot be kept"),
        (IntegrityError(1048, "Column cannot be null"), 400, "cannot be kept"),
        (DataError(1406, "Data too long"), 400, "cannot be kept"),
        (OperationalError(2013, "Lost connection"), 503, "does not answer"),
        (OperationalError(2002, "Can't connect"), 503, "does not answer"),
    ],
)
def test_what_the_database_says_is_told_apart(error: Exception, status: int, says: str) -> None:
    """Any refusal was once "somebody did the same"."""
    answer = answer_problem(error, {})
    assert answer is not None
    assert answer.status_code == status
    assert says in answer.data["detail"]


def test_what_every_answer_carries(client_of: Client, owner: Person, settings: Any) -> None:
    answer = client_of(owner).get("/api/trials")
    assert answer["Cache-Control"] == "no-store"
    assert "camera=()" in answer["Permissions-Policy"]
    browser = PlainClient()
    for address in ("/", "/trials/1/read", "/static/index.html", "/static/nothing.html"):
        page = browser.get(address)
        assert "default-src 'self'" in page["Content-Security-Policy"], address
        assert "camera=()" in page["Permissions-Policy"], address
        page.close()


def test_forwarded_headers_are_believed_of_a_named_proxy_alone(settings: Any) -> None:
    seen: list[tuple[str, bool]] = []

    def note(request: Any) -> str:
        seen.append((request.META["REMOTE_ADDR"], "HTTP_X_FORWARDED_PROTO" in request.META))
        return "answer"

    request: dict[str, Any] = {
        "HTTP_X_FORWARDED_FOR": "198.51.100.9, 203.0.113.7",
        "HTTP_X_FORWARDED_PROTO": "https",
    }
    for proxies in (frozenset(), frozenset({"192.0.2.1"})):
        settings.TRUSTED_PROXIES = proxies
        TrustedProxyMiddleware(note)(RequestFactory().get("/", REMOTE_ADDR="192.0.2.1", **request))
    assert seen == [("192.0.2.1", False), ("203.0.113.7", True)]


@pytest.mark.parametrize("address", ["/api/trials", "/api/session", "/healthz"])
def test_without_its_database_the_answer_is_503_in_words(
    client_of: Client, owner: Person, monkeypatch: pytest.MonkeyPatch, address: str
) -> None:
    """Never HTML, and never the sign-in page, from whatever place the fault comes."""
    client = client_of(owner)
    client.raise_request_exception = False

    def gone(*_: object, **__: object) -> None:
        raise OperationalError(2013, "Lost connection to server during query")

    monkeypatch.setattr("django.db.backends.utils.CursorWrapper.execute", gone)
    answer = client.get(address)
    assert (answer.status_code, answer["Content-Type"]) == (503, "application/problem+json")
    assert answer.json()["code"] == "database_gone"


def test_a_fault_of_ours_is_problem_json_too(
    client_of: Client, owner: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    client = client_of(owner)
    client.raise_request_exception = False

    def broken(*_: object, **__: object) -> None:
        raise RuntimeError("a fault")

    monkeypatch.setattr("nublet.web.stages.selectors._graded", broken)
    answer = client.get("/api/trials")
    assert (answer.status_code, answer["Content-Type"]) == (500, "application/problem+json")
    assert "a fault" not in answer.content.decode()


def test_under_https_browsers_are_told_to_stay_there(db: None, settings: Any) -> None:
    """What NUBLET_HTTPS=1 sets; a page without it says nothing of the kind."""
    assert "Strict-Transport-Security" not in DjangoClient().get("/healthz", secure=True)
    settings.SECURE_HSTS_SECONDS = 365 * 24 * 3600
    answer = DjangoClient().get("/healthz", secure=True)
    assert answer["Strict-Transport-Security"] == "max-age=31536000"
    assert "Strict-Transport-Security" not in DjangoClient().get("/healthz")
