"""Two requests at once, and the commands that the launcher calls."""

from __future__ import annotations

import io
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import CommandError, call_command
from django.db import connection, transaction
from rest_framework.test import APIClient

from nublet.core.materials.recipes import simple_recipe
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import clock
from nublet.web.bench.cups import shop_for_trial
from nublet.web.bench.log import view_log
from nublet.web.build_ups.actions import add_build_up
from nublet.web.build_ups.selectors import view_build_ups
from nublet.web.demo.bench_days import load_bench_days
from nublet.web.demo.loading import DEMO_SEED
from nublet.web.demo.shelf import fill_demo_shelf
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.people.actions import open_shop
from nublet.web.people.models import AuditEntry, Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.readings.models import Reading, ReadingEntry
from nublet.web.shelf.actions import make_version
from nublet.web.shelf.models import BuildUpVersion, ShelfProduct
from nublet.web.stages.selectors import summarise_trials
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial
from tests.sizes import FULL
from tests.web.conftest import PASSWORD


@pytest.fixture
def raced(transactional_db: None) -> tuple[Person, Trial]:
    nell = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    trial = create_trial(nell, name="Racks", species=["elm"], boards_per_species=1)
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


# Nobody works on the last two; what is before and after a Friday differs most.
WEEKDAYS = range(7) if FULL else (4,)


@pytest.mark.parametrize("weekday", WEEKDAYS)
def test_the_demo_has_a_day_at_the_bench_whatever_the_day(
    db: None, monkeypatch: pytest.MonkeyPatch, weekday: int
) -> None:
    """From Monday the 23rd on, at noon; the moment is passed in, the clock stands with it."""
    now = datetime(2026, 11, 23 + weekday, 12, 17, tzinfo=UTC)
    monkeypatch.setattr(clock, "now", lambda: now)
    owner = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    # What of the demo knows of days; the whole of it is loaded once, below.
    boards = load_bench_days(owner, [owner], fill_demo_shelf(owner), seed=DEMO_SEED + 2, now=now)
    missed = boards.deviations.filter(kind="window_missed").values_list("says", flat=True)
    assert len(missed) == 2
    assert all("coat 1: wiped off" in says and "too late" in says for says in missed)
    drowned = [p for coat in view_log(boards).applied for p in coat.panels if p.stands_out]
    assert [round(p.g_per_m2) > 50 for p in drowned] == [True], drowned


def test_the_demo_command(db: None) -> None:
    assert say("load_demo", "--migrate") == "demo loaded"
    assert say("load_demo") == "demo already there"
    owner = Person.objects.get(username="nell")
    assert ShelfProduct.objects.count() == 8
    states = {summary.trial.name: summary.stages for summary in summarise_trials(owner)}
    assert {name: stages["read"] for name, stages in states.items()} == {
        "Saloon tables": "done",
        "Buffet counter": "under_way",
        "Luggage racks": "empty",
        "Galley boards": "empty",
        "Colour swatches": "done",
        "Halt benches": "under_way",
    }
    assert states["Galley boards"]["coat_and_cure"] == "under_way"
    racks = Trial.objects.get(name="Luggage racks")
    blocked = [row for row in view_build_ups(racks).rows if row.assessment and row.assessment.is_blocked]
    assert [row.row.name for row in blocked] == ["Satin over wax"]
    assert blocked[0].recipe is not None
    assert blocked[0].recipe.experiment_reason
    # Every cost is known, and everything can be bought.
    assert all(need.purchase is not None for need in shop_for_trial(racks).products)
    assert states["Luggage racks"]["build_ups"] == "done"
