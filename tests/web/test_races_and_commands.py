"""Two requests at once, and the commands that the launcher calls."""

from __future__ import annotations

import io
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import CommandError, call_command
from django.db import connection, transaction
from rest_framework.test import APIClient

from nublet.core.materials.recipes import simple_recipe
from nublet.web.api.conflicts import ConflictError
from nublet.web.build_ups.actions import add_build_up
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.people.actions import open_shop
from nublet.web.people.models import AuditEntry, Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.readings.models import Reading, ReadingEntry
from nublet.web.shelf.actions import make_version
from nublet.web.shelf.models import BuildUpVersion, ShelfProduct
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import PASSWORD


@pytest.fixture
def raced(transactional_db: None) -> tuple[Person, Trial]:
    nell = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    trial = create_trial(nell, name="Racks", species=["elm"], boards_per_species=1, times_on_paper=True)
    add_build_up(nell, trial.pk, name="Marrowby Tung", family="pure-drying-oil", coats=2)
    return nell, draw_design(nell, trial.pk, seed=1)


@pytest.fixture
def grading(raced: tuple[Person, Trial]) -> tuple[Person, Trial]:
    nell, trial = raced
    return nell, start(nell, trial.pk)


def at_once(entries: list[BenchEntry], judge: Person, trial: Trial) -> list[float]:
    def enter(entry: BenchEntry) -> float:
        try:
            return float(enter_reading(judge, trial.pk, entry).value or 0)
        finally:
            connection.close()

    with ThreadPoolExecutor(len(entries)) as pool:
        return list(pool.map(enter, entries))


def entry(trial: Trial, grade: float, **more: Any) -> BenchEntry:
    code = TrialPanel.objects.filter(trial=trial).order_by("code")[0].code
    fields = {"client_id": uuid4(), "panel": code, "exposure": "wine-1h", "look": "24h", "kind": "grade"}
    return BenchEntry(**{**fields, "value": grade, **more})


def test_one_entry_sent_six_times_at_once_counts_once(grading: tuple[Person, Trial]) -> None:
    judge, trial = grading
    same = entry(trial, 4)
    assert at_once([same] * 6, judge, trial) == [4.0] * 6
    assert (Reading.objects.count(), ReadingEntry.objects.count()) == (1, 1)


def test_six_grades_of_one_spot_at_once_are_all_in_the_record(grading: tuple[Person, Trial]) -> None:
    judge, trial = grading
    at_once([entry(trial, grade) for grade in (1, 2, 3, 4, 5, 2.5)], judge, trial)
    assert ReadingEntry.objects.count() == 6
    last = ReadingEntry.objects.order_by("pk").last()
    assert last is not None
    assert Reading.objects.get().value == last.value


def test_two_designs_at_once_leave_one_whole(raced: tuple[Person, Trial]) -> None:
    nell, trial = raced

    def draw(seed: int) -> str:
        try:
            return draw_design(nell, trial.pk, seed=seed).fingerprint
        finally:
            connection.close()

    with ThreadPoolExecutor(2) as pool:
        made = list(pool.map(draw, (5, 6)))
    trial.refresh_from_db()
    assert trial.fingerprint in made
    assert TrialPanel.objects.filter(trial=trial).count() == 2


def test_a_product_added_six_times_at_once_is_there_once(raced: tuple[Person, Trial]) -> None:
    nell, _ = raced

    def add(_: int) -> tuple[int, str]:
        try:
            client = APIClient()
            client.force_login(nell)
            body = {"name": "Bellwether Soft Wax", "family": "wax"}
            answer = client.post("/api/shelf/products", body, format="json")
            return answer.status_code, answer.json().get("detail", "")
        finally:
            connection.close()

    with ThreadPoolExecutor(6) as pool:
        answers = sorted(pool.map(add, range(6)))
    assert [status for status, _ in answers].count(201) == 1
    refused = [(status, words) for status, words in answers if status != 201]
    assert all(status in (400, 409) for status, _ in refused)
    assert all("already a product" in words or "at the same moment" in words for _, words in refused)
    assert ShelfProduct.objects.count() == 1


def test_versions_made_at_once_get_numbers_of_their_own(raced: tuple[Person, Trial]) -> None:
    nell, _ = raced

    def make(coats: int) -> int:
        try:
            with transaction.atomic():
                return make_version(nell, "Raced", simple_recipe("wax", coats)).number
        finally:
            connection.close()

    with ThreadPoolExecutor(4) as pool:
        assert sorted(pool.map(make, (1, 2, 3, 4))) == [1, 2, 3, 4]


def test_a_trial_that_six_start_at_once_is_started_once(raced: tuple[Person, Trial]) -> None:
    nell, trial = raced

    def begin(_: int) -> str:
        try:
            return start(nell, trial.pk).fingerprint
        except ConflictError as refused:
            return refused.message
        finally:
            connection.close()

    with ThreadPoolExecutor(6) as pool:
        answers = list(pool.map(begin, range(6)))
    assert sum("has started already" in answer for answer in answers) == 5
    assert AuditEntry.objects.filter(action="start_trial").count() == 1
    assert BuildUpVersion.objects.get().is_frozen


def say(*arguments: str, **options: Any) -> str:
    out = io.StringIO()
    call_command(*arguments, stdout=out, **options)
    return out.getvalue().strip()


def test_the_first_owner(db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    assert say("open_shop", "--is-empty") == "yes"
    monkeypatch.setenv("NUBLET_OWNER_PASSWORD", "short")
    arguments = ("open_shop", "--shop", "Tarn Yard", "--username", "nell", "--display-name", "Nell")
    with pytest.raises(CommandError, match="too short"):
        say(*arguments)
    assert say("open_shop", "--is-empty") == "yes"
    monkeypatch.setenv("NUBLET_OWNER_PASSWORD", PASSWORD)
    assert say(*arguments) == "Nell may now sign in as nell"
    assert say("open_shop", "--is-empty") == "no"
