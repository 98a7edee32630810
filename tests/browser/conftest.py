"""Headless Chromium against a live server with a small trial."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from typing import Any
from urllib.parse import quote

import pytest
from django.conf import settings as django_settings
from django.db import connection
from playwright.sync_api import BrowserContext, Page, expect

from nublet.web.build_ups.actions import add_build_up
from nublet.web.designs.actions import draw_design
from nublet.web.jobs.actions import QUEUES
from nublet.web.people.actions import add_person, open_shop
from nublet.web.people.models import Person
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial

PASSWORD = "a-long-enough-one"
# A machine that others use too answers late now and then; a page that never answers fails all the same.
expect.set_options(timeout=20_000)
SignIn = Callable[..., Page]


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    return {
        "executable_path": "/usr/bin/chromium",
        "args": [
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
        ],
    }


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    """Without the installed page, which fetches everything beforehand: the tests of that start a browser of their own."""
    return {**browser_context_args, "service_workers": "block"}


@pytest.fixture(autouse=True)
def _quick_passwords(settings: Any) -> None:
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]


@pytest.fixture
def owner(transactional_db: None) -> Person:
    return open_shop(shop_name="Tarn Yard Finishing", username="nell", display_name="Nell", password=PASSWORD)


@pytest.fixture
def judge(owner: Person) -> Person:
    return add_person(owner, username="imara", display_name="Imara Stolt", role="judge", password=PASSWORD)


@pytest.fixture
def trial(owner: Person, judge: Person) -> Trial:
    """Two candidates and the control on two beech boards, designed, ungraded."""
    made = create_trial(
        owner,
        name="Saloon tables",
        uses=["dining-table"],
        species=["beech"],
        boards_per_species=2,
        # What is read here is not held back until a log tells of its act: the tests of that say so.
        times_on_paper=True,
        blind_repeats=False,
        judges=[owner.pk, judge.pk],
    )
    add_build_up(owner, made.pk, name="Marrowby Tung", family="pure-drying-oil", coats=4)
    add_build_up(owner, made.pk, name="Skarn Waterborne Satin", family="waterborne-clear", coats=3)
    return draw_design(owner, made.pk, seed=5)


@pytest.fixture
def sign_in(context: BrowserContext, live_server: Any) -> Iterator[SignIn]:
    """Sign someone in on a page of their own; the page must ask no other host and log no error."""
    faults: list[str] = []

    def make(username: str, *, width: int = 1280, height: int = 800) -> Page:
        page = context.new_page()
        page.set_viewport_size({"width": width, "height": height})
        page.on(
            "request",
            lambda request: None if request.url.startswith(live_server.url) else faults.append(request.url),
        )
        page.on("pageerror", lambda error: faults.append(str(error)))
        page.goto(f"{live_server.url}/sign-in")
        page.fill("#username", username)
        page.fill("#password", PASSWORD)
        page.keyboard.press("Enter")
        page.wait_for_url(f"{live_server.url}/")
        return page

    yield make
    assert faults == []


def choose_candidate(page: Page, name: str) -> None:
    """Choose a product or a family for a candidate by typing it."""
    page.click("#candidate-product")
    page.fill("#candidate-product", name)
    page.keyboard.press("Enter")
    # What is chosen, not what is typed, which the box holds out of sight as well.
    picker = page.locator(".el-select", has=page.locator("#candidate-product"))
    expect(picker.locator(".el-select__placeholder")).to_have_text(name)


def start_trial(page: Page) -> None:
    """Start the trial on its Prepare page, its boards as they are."""
    page.get_by_role("button", name="Start the trial").click()
    page.get_by_role("textbox", name="not measured").fill("They are cut already")
    page.get_by_role("button", name="Start: this stands").click()


@pytest.fixture
def workers(live_server: Any) -> Iterator[None]:
    """The workers for papers and plans, as the launcher runs them, on the tests' database."""
    database = connection.settings_dict
    user, password, name = (quote(str(database[key]), safe="") for key in ("USER", "PASSWORD", "NAME"))
    address = f"mysql://{user}:{password}@{database['HOST']}:{database['PORT']}/{name}"
    running = [
        subprocess.Popen(
            [sys.executable, str(django_settings.ROOT / "manage.py"), "work", queue],
            env={**os.environ, "DATABASE_URL": address},
        )
        for queue in QUEUES
    ]
    yield
    assert [process.poll() for process in running] == [None] * len(running)
    for process in running:
        process.terminate()
    for process in running:
        process.wait(60)
