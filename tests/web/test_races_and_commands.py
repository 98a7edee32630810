"""Two requests at once, and the commands that the launcher calls."""

from __future__ import annotations

import io
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import CommandError, call_command
from django.db import connection

from nublet.web.bench.actions import BenchEntry, enter_reading
from nublet.web.bench.models import Reading, ReadingEntry
from nublet.web.people.actions import open_shop
from nublet.web.people.models import Person
from nublet.web.trials.actions import create_trial, draw_design
from nublet.web.trials.build_up_actions import add_build_up
from nublet.web.trials.models import Trial, TrialPanel
from tests.web.conftest import PASSWORD


@pytest.fixture
def raced(transactional_db: None) -> tuple[Person, Trial]:
    nell = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    trial = create_trial(nell, name="Racks", species=["elm"], boards_per_species=1)
    add_build_up(nell, trial.pk, name="Marrowby Tung", family="pure-drying-oil", coats=2)
    return nell, draw_design(nell, trial.pk, seed=1)


def at_once(entries: list[BenchEntry], judge: Person, trial: Trial) -> list[float]:
    def enter(entry: BenchEntry) -> float:
        try:
            return float(enter_reading(judge, trial.pk, entry).grade or 0)
        finally:
            connection.close()

    with ThreadPoolExecutor(len(entries)) as pool:
        return list(pool.map(enter, entries))


def entry(trial: Trial, grade: float, **more: Any) -> BenchEntry:
    code = TrialPanel.objects.filter(trial=trial).order_by("code")[0].code
    fields = {"client_id": uuid4(), "panel": code, "exposure": "wine-1h", "look": "24h", "kind": "grade"}
    return BenchEntry(**{**fields, "grade": grade, **more})


def test_one_entry_sent_six_times_at_once_counts_once(raced: tuple[Person, Trial]) -> None:
    judge, trial = raced
    same = entry(trial, 4)
    assert at_once([same] * 6, judge, trial) == [4.0] * 6
    assert (Reading.objects.count(), ReadingEntry.objects.count()) == (1, 1)


def test_six_grades_of_one_spot_at_once_are_all_in_the_record(raced: tuple[Person, Trial]) -> None:
    judge, trial = raced
    at_once([entry(trial, grade) for grade in (1, 2, 3, 4, 5, 2.5)], judge, trial)
    assert ReadingEntry.objects.count() == 6
    last = ReadingEntry.objects.order_by("pk").last()
    assert last is not None
    assert Reading.objects.get().grade == last.grade


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


def test_the_demo_command(db: None) -> None:
    assert say("load_demo", "--migrate") == "demo loaded"
    assert say("load_demo") == "demo already there"
