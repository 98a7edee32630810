"""People, a shop, and a small trial."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import call_command
from django_tasks_db.management.commands import db_worker
from rest_framework.test import APIClient

from nublet.web.bench import clock
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.build_ups.actions import add_build_up
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.people.actions import add_person, open_shop
from nublet.web.people.models import Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial

PASSWORD = "a-long-enough-one"
SECRETS = ("Marrowby", "Skarn", "Bare control", "pure-drying-oil", "waterborne-clear", "Beech 1", "Beech 2")


@pytest.fixture(autouse=True)
def _quick_passwords(settings: Any) -> None:
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture
def owner(db: None) -> Person:
    return open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)


@pytest.fixture
def tester(owner: Person) -> Person:
    return add_person(owner, username="wren", display_name="Wren", role="tester", password=PASSWORD)


@pytest.fixture
def judge(owner: Person) -> Person:
    return add_person(owner, username="imara", display_name="Imara", role="judge", password=PASSWORD)


@pytest.fixture
def stranger(db: None) -> Person:
    """The owner of another shop."""
    return open_shop(shop_name="Other Yard", username="other", display_name="Other", password=PASSWORD)


@pytest.fixture
def draft(owner: Person, judge: Person) -> Trial:
    """A trial with two candidates and no design."""
    trial = create_trial(
        owner,
        name="Saloon tables",
        question="Which one lasts?",
        uses=["dining-table"],
        species=["beech"],
        boards_per_species=3,
        # What is read here is not held back until a log tells of its act: the tests of that say so.
        times_on_paper=True,
        blind_repeats=False,
        judges=[judge.pk],
    )
    add_build_up(owner, trial.pk, name="Marrowby Tung", family="pure-drying-oil", coats=4)
    add_build_up(owner, trial.pk, name="Skarn Waterborne Satin", family="waterborne-clear", coats=3)
    return trial


@pytest.fixture
def designed(owner: Person, draft: Trial) -> Trial:
    return draw_design(owner, draft.pk, seed=11)


GRADES = {"Bare control": (1, 2, 1), "Marrowby Tung": (3, 4, 3), "Skarn Waterborne Satin": (5, 4, 5)}


@pytest.fixture
def graded(designed: Trial, judge: Person, owner: Person) -> Trial:
    """All panels graded at 24 h; every exposure of a panel alike, by build-up and board."""
    start(owner, designed.pk)
    for panel in TrialPanel.objects.filter(trial=designed).select_related("build_up", "board"):
        grade = GRADES[panel.build_up.name][int(panel.block[-1]) - 1]
        for spot in panel.spots.all():
            grade_spot(judge, designed, panel.code, spot.exposure, grade)
    designed.refresh_from_db()
    return designed


@pytest.fixture
def started(designed: Trial, owner: Person) -> Trial:
    return start(owner, designed.pk)


def grade_spot(judge: Person, trial: Trial, panel: str, exposure: str, grade: float) -> None:
    entry = BenchEntry(
        client_id=uuid4(), panel=panel, exposure=exposure, look="24h", kind="grade", value=grade
    )
    enter_reading(judge, trial.pk, entry)


@pytest.fixture
def client_of() -> Callable[[Person | None], APIClient]:
    """A client signed in as someone, or as nobody."""

    def make(person: Person | None) -> APIClient:
        client = APIClient()
        if person is not None:
            client.force_login(person)
        return client

    return make


@pytest.fixture
def printed(django_capture_on_commit_callbacks: Any) -> Callable[..., Any]:
    """Ask for a paper, let the worker make all that is queued, and fetch it; a refusal is answered as it came."""

    def ask(client: APIClient, address: str, **wants: Any) -> Any:
        with django_capture_on_commit_callbacks(execute=True):
            asked = client.post(address, wants, format="json")
        if asked.status_code != 202:
            return asked
        work_off()
        return client.get(f"/api/jobs/{asked.json()['id']}/file")

    return ask


@pytest.fixture
def at(client_of: Callable[[Person | None], APIClient], owner: Person) -> Callable[..., Any]:
    """Ask the API as the owner; the answer must have the status."""
    client = client_of(owner)

    def ask(method: str, address: str, body: Any = None, *, status: int = 200) -> Any:
        response = getattr(client, method)(f"/api/{address}", body, format="json")
        assert response.status_code == status, response.content
        return response.json()

    return ask


def work_off() -> None:
    """Do all that is queued, as the workers would, in this process."""
    with pytest.MonkeyPatch.context() as patch:
        # A test's transaction stays open on its connection.
        patch.setattr(db_worker, "close_old_connections", lambda: None)
        call_command("db_worker", queue_name="*", batch=True, interval=0, reload=False, verbosity=0)


WEEK = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
NELL = {"name": "Nell", "hours": [{"days": WEEK, "from": "00:00", "to": "24:00"}]}


class Turned:
    """The bench's clock, standing until it is turned."""

    def __init__(self) -> None:
        # A morning, so that no day ends within a test, and after whatever the other fixtures have done by the real clock.
        self.at = datetime(2100, 3, 2, 9, tzinfo=UTC)

    def now(self) -> datetime:
        return self.at

    def turn(self, **by: float) -> datetime:
        self.at += timedelta(**by)
        return self.at


@pytest.fixture
def bench_clock(monkeypatch: pytest.MonkeyPatch) -> Turned:
    turned = Turned()
    monkeypatch.setattr(clock, "now", turned.now)
    return turned


@pytest.fixture
def planned(owner: Person, designed: Trial, bench_clock: Turned) -> Trial:
    set_bench(owner, {"hands": [NELL]})
    start(owner, designed.pk)
    return plan(owner, designed)


def plan(owner: Person, trial: Trial, **more: Any) -> Trial:
    make(ask_for_plan(owner, trial.pk, **more), limit_s=0.05)
    return trial
