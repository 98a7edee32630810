"""Photographs: kept once, given to whom they may be shown, refused in words, and never written over."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from rest_framework.test import APIClient

from nublet.formats.photographs import MOST_BYTES
from nublet.web.designs.models import TrialSpot
from nublet.web.people.actions import add_person
from nublet.web.people.models import AuditEntry, Person
from nublet.web.photographs.actions import MOST_OF_A_PANEL
from nublet.web.photographs.files import file_of
from nublet.web.photographs.models import Photograph
from nublet.web.trials.actions import unblind, update_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import PASSWORD

Client = Callable[[Person | None], APIClient]
Send = Callable[..., Any]


def jpeg(colour: tuple[int, int, int] = (180, 120, 60), size: tuple[int, int] = (640, 480)) -> bytes:
    out, exif = io.BytesIO(), Image.Exif()
    exif[0x0110] = "Camera 7"
    Image.new("RGB", size, colour).save(out, "JPEG", exif=exif)
    return out.getvalue()


@pytest.fixture(autouse=True)
def folder(settings: Any, tmp_path: Path) -> Path:
    settings.PHOTOGRAPHS = tmp_path / "photographs"
    return tmp_path / "photographs"


@pytest.fixture
def spot(started: Trial) -> TrialSpot:
    return TrialSpot.objects.filter(panel__trial=started).select_related("panel").order_by("pk")[0]


@pytest.fixture
def send(client_of: Client, judge: Person, started: Trial, spot: TrialSpot) -> Send:
    def post(data: bytes, *, by: Person = judge, name: str = "ring.jpg", **fields: Any) -> Any:
        body = {
            "client_id": str(uuid4()), "panel": spot.panel.code, "exposure": spot.exposure, "look": "24h",
            "file": SimpleUploadedFile(name, data, "image/jpeg"), **fields,
        }  # fmt: skip
        return client_of(by).post(f"/api/judging/{started.pk}/photographs", body, format="multipart")

    return post


def listed(client: APIClient, trial: Trial) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"/api/judging/{trial.pk}/photographs").json()
    return found


def test_a_photograph_is_kept_under_what_it_holds_without_place_or_camera(
    send: Send, client_of: Client, judge: Person, started: Trial, spot: TrialSpot, folder: Path
) -> None:
    made = send(jpeg())
    assert made.status_code == 201, made.content
    assert {key: made.json()[key] for key in ("panel", "exposure", "look", "width_px", "height_px", "is_own")} == {
        "panel": spot.panel.code, "exposure": spot.exposure, "look": "24h", "width_px": 640, "height_px": 480, "is_own": True,
    }  # fmt: skip
    assert listed(client_of(judge), started) == [made.json()]
    row = Photograph.objects.get()
    assert sorted(path.name for path in folder.glob("*/*")) == [
        f"{row.sha256}.{size}.jpg" for size in ("full", "thumb", "view")
    ]
    assert all(b"Camera 7" not in path.read_bytes() for path in folder.glob("*/*"))
    for size, width in (("full", 640), ("view", 640), ("thumb", 320)):
        answer = client_of(judge).get(f"/api/photographs/{row.pk}/{size}")
        assert Image.open(io.BytesIO(answer.content)).width == width
        assert answer["Content-Type"] == "image/jpeg"
        assert answer["X-Content-Type-Options"] == "nosniff"
        assert answer["Cache-Control"] == "no-store"
        assert f'filename="{spot.panel.code}-{spot.exposure}-24h.jpg"' in answer["Content-Disposition"]
    assert client_of(judge).get(f"/api/photographs/{row.pk}/huge").status_code == 404


def test_the_same_one_sent_twice_counts_once_and_the_same_picture_lies_once(
    send: Send, folder: Path, spot: TrialSpot
) -> None:
    client_id = str(uuid4())
    first, again = send(jpeg(), client_id=client_id), send(jpeg(), client_id=client_id)
    assert first.json() == again.json()
    assert Photograph.objects.count() == 1
    assert AuditEntry.objects.filter(action="take_photograph").count() == 1
    # The same id for another spot is somebody's mistake, and is told.
    other = spot.panel.spots.exclude(exposure=spot.exposure).values_list("exposure", flat=True)[0]
    assert send(jpeg(), client_id=client_id, exposure=other).status_code == 409
    send(jpeg(), exposure=other)
    assert Photograph.objects.count() == 2
    assert len(list(folder.glob("*/*"))) == 3


def test_a_judge_sees_his_own_until_the_trial_is_unblinded(
    send: Send, client_of: Client, owner: Person, tester: Person, judge: Person, started: Trial
) -> None:
    second = add_person(owner, username="tobias", display_name="Tobias", role="judge", password=PASSWORD)
    update_trial(owner, started.pk, judges=[judge.pk, second.pk, tester.pk])
    mine = send(jpeg()).json()["id"]
    theirs = send(jpeg((20, 20, 20)), by=second).json()["id"]

    def seen(person: Person) -> set[int]:
        found = {each["id"] for each in listed(client_of(person), started)}
        for number in (mine, theirs):
            answer = client_of(person).get(f"/api/photographs/{number}/thumb")
            assert answer.status_code == (200 if number in found else 404)
        return found

    # A keeper who judges is a judge; one who does not sees all.
    assert (seen(judge), seen(second), seen(tester), seen(owner)) == ({mine}, {theirs}, set(), {mine, theirs})
    unblind(owner, started.pk, reason="The trial is over.")
    assert [seen(person) for person in (judge, second, tester, owner)] == [{mine, theirs}] * 4
    by = {each["id"]: (each["taken_by"], each["is_own"]) for each in listed(client_of(judge), started)}
    assert by == {mine: ("Imara", True), theirs: ("Tobias", False)}


def test_one_is_taken_back_by_whoever_took_it_and_stays_in_the_record(
    send: Send, client_of: Client, owner: Person, judge: Person, started: Trial
) -> None:
    number = send(jpeg()).json()["id"]
    assert client_of(owner).delete(f"/api/photographs/{number}").status_code == 404
    for _ in range(2):
        assert client_of(judge).delete(f"/api/photographs/{number}").status_code == 204
    assert listed(client_of(judge), started) == listed(client_of(owner), started) == []
    assert client_of(judge).get(f"/api/photographs/{number}/full").status_code == 404
    row = Photograph.objects.get()
    assert row.withdrawn_at is not None
    assert file_of(row.sha256, "full").exists()
    assert AuditEntry.objects.filter(action="withdraw_photograph").count() == 1


@pytest.mark.parametrize(
    ("fields", "status", "says"),
    [
        ({"panel": "ZZ9"}, 400, "no panel"),
        ({"exposure": "lava"}, 400, "no spot"),
        ({"look": "never"}, 400, "Choose one of"),
        ({"client_id": "x"}, 400, "UUID"),
        ({"judge": 0}, 409, "signed in"),
        ({"file": "no file"}, 400, "file"),
    ],
)
def test_what_is_not_there_cannot_be_photographed(
    send: Send, fields: dict[str, Any], status: int, says: str, folder: Path
) -> None:
    answer = send(jpeg(), **fields)
    assert (answer.status_code, says in answer.content.decode()) == (status, True), answer.content
    assert not Photograph.objects.exists()
    assert not folder.exists()


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("grades.jpg", b"panel,grade\nK7,4\n", "no photograph that can be read"),
        ("../../etc/ring.jpg", b"<html><script>1</script></html>", "no photograph that can be read"),
        ("ring.jpg", jpeg() + b"PK\x03\x04 archive", "something else"),
        ("ring.jpg", b"", "empty"),
        ("large.jpg", jpeg() + b"\x00" * 60_000_000, "60 MB"),
    ],
    ids=["text", "a page", "two things", "empty", "60 MB"],
)
def test_bad_files_are_refused_and_nothing_is_kept(
    send: Send, folder: Path, name: str, data: bytes, says: str
) -> None:
    answer = send(data, name=name)
    assert (answer.status_code, says in answer.json()["detail"]) == (400, True), answer.content
    assert answer.json()["field"] == "file"
    assert not Photograph.objects.exists()
    assert not folder.exists()


def test_a_body_that_says_how_large_it_is_is_not_read_in(
    client_of: Client, judge: Person, started: Trial
) -> None:
    answer = client_of(judge).generic(
        "POST",
        f"/api/judging/{started.pk}/photographs",
        "x" * (MOST_BYTES + 200_000),
        content_type="multipart/form-data; boundary=zz",
    )
    assert answer.status_code == 400
    assert "a photograph may have" in answer.json()["detail"]


def test_a_panel_has_room_for_so_many(send: Send, client_of: Client, judge: Person, monkeypatch: Any) -> None:
    assert MOST_OF_A_PANEL >= 100
    monkeypatch.setattr("nublet.web.photographs.actions.MOST_OF_A_PANEL", 1)
    first = send(jpeg())
    answer = send(jpeg())
    assert (answer.status_code, "Take some of them back" in answer.content.decode()) == (400, True)
    client_of(judge).delete(f"/api/photographs/{first.json()['id']}")
    assert send(jpeg()).status_code == 201


def test_a_name_that_is_no_digest_leads_nowhere() -> None:
    for sha256, size in (
        ("../../secret-key", "full"),
        ("a" * 64, "../x"),
        ("G" * 64, "full"),
        ("a" * 63, "full"),
    ):
        with pytest.raises(ValueError, match="no photograph"):
            file_of(sha256, size)


def test_the_whole_panel_and_what_is_spoiled_may_be_photographed(
    send: Send, spot: TrialSpot, client_of: Client, judge: Person, started: Trial,
    django_assert_num_queries: Any,
) -> None:  # fmt: skip
    spot.panel.spoiled_at = spot.panel.trial.created_at
    spot.panel.save()
    assert send(jpeg(), exposure="").json()["exposure"] == ""
    assert send(jpeg((1, 2, 3))).status_code == 201
    client = client_of(judge)
    client.get("/api/session")
    with django_assert_num_queries(5):
        assert len(listed(client, started)) == 2
    send(jpeg((3, 2, 3)))
    with django_assert_num_queries(5):
        assert len(listed(client, started)) == 3
