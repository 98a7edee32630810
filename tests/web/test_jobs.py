"""What takes longer than a request may: queued, followed, stopped, taken up again; and many who sign in at once."""

from __future__ import annotations

import io
import threading
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pdfplumber
import pytest
from django.db import OperationalError
from django.utils import timezone
from django_tasks_db.models import DBTaskResult
from rest_framework.test import APIClient

from nublet.web.api.conflicts import ConflictError
from nublet.web.designs.sheet_tasks import make_sheets
from nublet.web.jobs import actions
from nublet.web.jobs.actions import Made, Tell, ask_for, find_file, run_job, stop_job, take_up_again
from nublet.web.jobs.management.commands import work
from nublet.web.jobs.models import Job, JobFile
from nublet.web.people import api as people_api
from nublet.web.people.models import Person
from nublet.web.people.turns import BusyError, Turns
from nublet.web.trials.models import Trial
from tests.web.conftest import PASSWORD, work_off

Client = Callable[[Person | None], APIClient]


def asked(owner: Person) -> Job:
    return ask_for(owner, says="Labels", wants={}, enqueue=lambda _: None)


def state_of(job: Job) -> tuple[str, str]:
    job.refresh_from_db()
    return job.state, job.trouble


def paper(_job: Job, _tell: Tell) -> Made:
    return Made(name="labels.pdf", media="application/pdf", content=b"%PDF")


def queue_sheets(owner: Person, trial: Trial, *, board: int | None = None) -> Job:
    wants = {"trial": trial.pk, "sheet": "templates", "form": "pdf", "paper": "a4", "board": board}
    job = ask_for(owner, says="Templates", wants=wants, enqueue=lambda _: None)
    make_sheets.enqueue(job.pk)
    return job


def test_the_request_that_asks_makes_nothing(
    client_of: Client, owner: Person, designed: Trial, django_capture_on_commit_callbacks: Any
) -> None:
    client = client_of(owner)
    with django_capture_on_commit_callbacks(execute=True):
        job = client.post(f"/api/trials/{designed.pk}/sheets", {"sheet": "templates"}, format="json").json()
    assert (job["state"], job["says"]) == ("waiting", "Masking and spot templates of Saloon tables")
    early = client.get(f"/api/jobs/{job['id']}/file")
    assert (early.status_code, early.json()["detail"]) == (
        409,
        "This is not ready yet. Ask again in a moment.",
    )
    work_off()
    done = client.get(f"/api/jobs/{job['id']}").json()
    with pdfplumber.open(io.BytesIO(client.get(f"/api/jobs/{job['id']}/file").content)) as pdf:
        assert len(pdf.pages) > 8
        assert (done["state"], done["n_done"], done["n_all"]) == ("done", len(pdf.pages), len(pdf.pages))
        # Laid out a few pages at a time, and one document all the same: each typeface stands in it once.
        fonts = {font for page in pdf.pages for font in {char["fontname"] for char in page.chars}}
        assert len(fonts) == len({font.split("+")[-1] for font in fonts})


def test_what_waits_is_stopped_at_once_and_never_made(owner: Person, designed: Trial) -> None:
    job = queue_sheets(owner, designed)
    assert stop_job(owner, job.pk).state == "stopped"
    work_off()
    assert state_of(job) == ("stopped", "It was stopped.")
    assert not JobFile.objects.exists()
    with pytest.raises(ConflictError, match="It was stopped"):
        find_file(owner, job.pk)


def test_what_is_being_made_stops_at_its_next_word(owner: Person) -> None:
    job = asked(owner)
    seen: list[int] = []

    def make(_job: Job, tell: Tell) -> Made:
        for page in range(1, 5):
            seen.append(page)
            if page == 2:
                assert stop_job(owner, job.pk).is_stop_asked
            tell(page, 4)
        raise AssertionError("not reached")

    run_job(job.pk, make)
    assert seen == [1, 2]
    assert state_of(job)[0] == "stopped"
    assert job.n_done == 2
    # Stopping what has ended changes nothing.
    assert stop_job(owner, job.pk).state == "stopped"


def test_what_takes_too_long_is_given_up(owner: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(actions, "LIMIT_S", 1)
    job = asked(owner)

    def make(_job: Job, _tell: Tell) -> Made:
        threading.Event().wait(60)
        raise AssertionError("not reached")

    run_job(job.pk, make)
    assert state_of(job)[0] == "failed"
    assert "took longer than" in job.trouble


def test_what_goes_wrong_is_said_and_the_next_is_made(
    owner: Person, designed: Trial, caplog: pytest.LogCaptureFixture
) -> None:
    gone, good = queue_sheets(owner, designed, board=0), queue_sheets(owner, designed)
    work_off()
    assert state_of(gone) == ("failed", "This board has no panels to print. Choose another board.")
    assert state_of(good)[0] == "done"

    def breaks(_job: Job, _tell: Tell) -> Made:
        raise ZeroDivisionError

    job = asked(owner)
    with pytest.raises(ZeroDivisionError):
        run_job(job.pk, breaks)
    assert state_of(job)[0] == "failed"
    assert job.trouble.startswith("The server failed at it.")
    # Whoever keeps the server reads what it was.
    assert "ZeroDivisionError" in caplog.text


def test_a_file_that_the_database_cannot_hand_over_is_refused(
    owner: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(actions, "MAX_FILE_BYTES", 3)
    job = asked(owner)
    run_job(job.pk, paper)
    assert state_of(job)[0] == "failed"
    assert "one board after the other" in job.trouble


def test_a_worker_that_died_takes_its_work_up_again_but_not_for_ever(owner: Person, designed: Trial) -> None:
    job = queue_sheets(owner, designed)
    for again in (1, 1):
        # Claimed, and then the power went.
        DBTaskResult.objects.get().claim("a worker")
        assert take_up_again("plans") == 0
        assert take_up_again("papers") == again
    work_off()
    assert state_of(job)[0] == "done"

    killer = queue_sheets(owner, designed)
    row = DBTaskResult.objects.get(status="READY")
    for _ in range(3):
        row.claim("a worker")
    take_up_again("papers")
    work_off()
    assert state_of(killer) == (
        "failed",
        "The server broke off at it 3 times. Print one board after the other.",
    )


def test_so_many_are_queued_and_no_more(owner: Person) -> None:
    jobs = [asked(owner) for _ in range(actions.MOST_WAITING)]
    with pytest.raises(ConflictError, match="being made already"):
        asked(owner)
    stop_job(owner, jobs[0].pk)
    assert asked(owner).state == "waiting"


def test_old_papers_are_forgotten(owner: Person) -> None:
    old, fresh = asked(owner), asked(owner)
    for job in (old, fresh):
        run_job(job.pk, paper)
    Job.objects.filter(pk=old.pk).update(ended_at=timezone.now() - actions.KEPT - timedelta(minutes=1))
    asked(owner)
    assert list(JobFile.objects.values_list("job", flat=True)) == [fresh.pk]
    assert not Job.objects.filter(pk=old.pk).exists()


def test_a_worker_waits_for_a_database_that_is_away(monkeypatch: pytest.MonkeyPatch) -> None:
    tries: list[str] = []

    def take_up(queue: str) -> int:
        tries.append(queue)
        if len(tries) < 3:
            raise OperationalError(2002, "away")
        return 0

    begun: list[str] = []
    monkeypatch.setattr(work, "take_up_again", take_up)
    monkeypatch.setattr(work, "call_command", lambda _name, **options: begun.append(options["queue_name"]))
    monkeypatch.setattr(f"{work.__name__}.time.sleep", lambda _s: None)
    monkeypatch.setattr(f"{work.__name__}.os.nice", lambda _n: 0)
    monkeypatch.setattr(f"{work.__name__}.connection.close", lambda: None)
    work.Command().handle(queue="papers")
    assert (tries, begun) == (["papers"] * 3, ["papers"])


# --- signing in


def test_one_password_is_checked_at_a_time_one_waits_and_others_come_again() -> None:
    turns, held, go_on = Turns(wait_s=30), threading.Event(), threading.Event()
    done: list[str] = []

    def first() -> None:
        with turns.turn():
            held.set()
            go_on.wait(30)
            done.append("first")

    def second() -> None:
        with turns.turn():
            done.append("second")

    threads = [threading.Thread(target=first), threading.Thread(target=second)]
    threads[0].start()
    assert held.wait(30)
    threads[1].start()
    # Until the second stands in line, there is room; then there is none.
    refused = False
    while not refused:
        try:
            with Turns.turn(turns):
                raise AssertionError("two at once")
        except BusyError:
            refused = turns._room._value == 0
    go_on.set()
    for thread in threads:
        thread.join(30)
    assert done == ["first", "second"]
    with turns.turn():
        pass


def test_whoever_comes_in_a_storm_is_told_to_come_again(
    owner: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    turns = Turns(n_waiting=0)
    monkeypatch.setattr(people_api, "password_turns", turns)
    client = APIClient()
    signs_in = {"username": "nell", "password": PASSWORD}
    with turns.turn():
        busy = client.post("/api/session", signs_in, format="json")
    assert (busy.status_code, busy["Retry-After"], busy.json()["code"]) == (503, "1", "busy")
    assert client.post("/api/session", signs_in, format="json").status_code == 200
