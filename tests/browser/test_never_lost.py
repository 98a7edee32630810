"""Nothing that was entered is lost: the network gone, the page closed, the browser restarted, the server gone."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from django.core.handlers.wsgi import WSGIHandler
from django.http import HttpResponse
from playwright.sync_api import BrowserContext, BrowserType, Locator, Page, expect

from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.bench.models import PanelWork
from nublet.web.designs.actions import start
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading, ReadingEntry
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial
from tests.browser.conftest import PASSWORD
from tests.browser.test_bench_days import ALWAYS

Restart = Callable[[], BrowserContext]


@pytest.fixture
def restart(
    browser_type: BrowserType, browser_type_launch_args: dict[str, Any], tmp_path: Path
) -> Iterator[Restart]:
    """A browser with a disk of its own: each call starts it, and ends the one before."""
    running: list[BrowserContext] = []

    def make() -> BrowserContext:
        if running:
            running.pop().close()
        running.append(
            browser_type.launch_persistent_context(str(tmp_path / "profile"), **browser_type_launch_args)
        )
        return running[0]

    yield make
    for context in running:
        context.close()


@contextmanager
def nothing_taken() -> Iterator[None]:
    """
    The server takes nothing. A browser that is closed takes its network up again for a moment, in which a page that is as good as
    gone still sends, past whatever it was told of its network: only the server itself can be made to get nothing.
    """
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(WSGIHandler, "get_response", lambda *_: HttpResponse(status=503))
        yield


def sign_in(page: Page, base: str, name: str) -> None:
    page.goto(f"{base}/sign-in")
    page.fill("#username", name)
    page.fill("#password", PASSWORD)
    page.keyboard.press("Enter")
    page.wait_for_url(f"{base}/")


def wait_until_installed(page: Page) -> None:
    """Until the page would open with the server gone."""
    page.evaluate("() => navigator.serviceWorker.ready.then(() => true)")
    page.wait_for_function("() => navigator.serviceWorker.controller !== null")
    # The shell is kept with the first page that it brings.
    page.reload()
    until(page, "() => caches.open('shell').then((kept) => kept.match('/')).then(Boolean)")


def until(page: Page, kept: str, arg: str = "") -> None:
    """Until a promise of the page brings true: `wait_for_function` takes the promise itself for it."""
    for _ in range(400):
        if page.evaluate(kept, arg):
            return
        page.wait_for_timeout(50)
    raise AssertionError(f"It did not come true: {kept}")


def test_a_sitting_goes_on_offline_after_the_browser_was_closed(
    restart: Restart, trial: Trial, owner: Person, judge: Person, live_server: Any
) -> None:
    start(owner, trial.pk)
    context = restart()
    page = context.new_page()
    sign_in(page, live_server.url, "imara")
    wait_until_installed(page)
    address = f"{live_server.url}/trials/{trial.pk}/read/24h"
    page.goto(address)
    expect(page.locator("svg.panel")).to_be_visible()
    keys = "5432154321"
    for key in keys:
        page.keyboard.press(key)
    expect(page.get_by_text("All 10 readings saved")).to_be_visible()
    context.set_offline(True)
    for key in "54321543215432":
        page.keyboard.press(key)
    expect(page.get_by_text("14 kept here, not sent yet")).to_be_visible()
    assert Reading.objects.count() == 10

    # Closed, started again, and still no network.
    with nothing_taken():
        context = restart()
        context.set_offline(True)
    page = context.new_page()
    page.goto(address)
    expect(page.locator("svg.panel")).to_be_visible()
    expect(page.get_by_text("14 kept here, not sent yet")).to_be_visible()
    expect(page.get_by_text("24 of 36 read")).to_be_visible()
    for key in "2345":
        page.keyboard.press(key)
    expect(page.get_by_text("18 kept here, not sent yet")).to_be_visible()
    page.reload()
    expect(page.get_by_text("28 of 36 read")).to_be_visible()
    context.set_offline(False)
    expect(page.get_by_text("All 28 readings saved")).to_be_visible(timeout=30_000)
    values = [float(value or 0) for value in Reading.objects.order_by("pk").values_list("value", flat=True)]
    assert sorted(values) == sorted(float(key) for key in keys + "54321543215432" + "2345")
    assert ReadingEntry.objects.count() == 28
    assert Reading.objects.filter(judge=judge).values("spot").distinct().count() == 28


def test_what_a_keeper_saw_is_not_kept_for_a_judge_on_the_same_browser(
    restart: Restart, trial: Trial, owner: Person, judge: Person, live_server: Any
) -> None:
    start(owner, trial.pk)
    context = restart()
    page = context.new_page()
    sign_in(page, live_server.url, "nell")
    wait_until_installed(page)
    page.goto(f"{live_server.url}/trials/{trial.pk}/question")
    expect(page.get_by_role("navigation", name="Stages of the trial")).to_be_visible()
    page.goto(f"{live_server.url}/trials/{trial.pk}/build-ups")
    expect(page.get_by_text("Marrowby Tung").first).to_be_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.locator("#password")).to_be_visible()
    sign_in(page, live_server.url, "imara")
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    kept = page.evaluate(
        """async () => {
          const said = [JSON.stringify({ ...localStorage }), JSON.stringify({ ...sessionStorage })]
          for (const { name } of await indexedDB.databases()) {
            const db = await new Promise((done) => { const ask = indexedDB.open(name); ask.onsuccess = () => done(ask.result) })
            for (const store of db.objectStoreNames)
              said.push(JSON.stringify(await new Promise((done) => {
                const ask = db.transaction(store).objectStore(store).getAll(); ask.onsuccess = () => done(ask.result)
              })))
            db.close()
          }
          for (const name of await caches.keys()) {
            const cache = await caches.open(name)
            for (const request of await cache.keys()) said.push(request.url, await (await cache.match(request)).text())
          }
          return said.join('\\n')
        }"""
    )
    assert "imara" in kept
    assert "workbox" in " ".join(page.evaluate("() => caches.keys()"))
    for secret in ("Marrowby", "Skarn", "pure-drying-oil", "Beech 1"):
        assert secret not in kept


def test_an_exposing_sitting_stands_as_it_was_left_without_a_server(
    restart: Restart, trial: Trial, owner: Person, live_server: Any
) -> None:
    update_trial(owner, trial.pk, times_on_paper=False)
    set_bench(owner, {"hands": [ALWAYS]})
    start(owner, trial.pk)
    make(ask_for_plan(owner, trial.pk), limit_s=0.2)
    context = restart()
    page = context.new_page()
    sign_in(page, live_server.url, "nell")
    wait_until_installed(page)
    address = f"{live_server.url}/trials/{trial.pk}/expose"
    page.goto(address)
    expect(page.get_by_role("heading", name="What is lying")).to_be_visible()
    page.locator("h1").click()
    page.keyboard.press(" ")
    expect(lying_on(page)).to_have_count(1)
    expect(page.get_by_text("All saved")).to_be_visible()
    # The server has told that it knows, the page has asked it again since, and what it answered is on the disk.
    until(page, KEPT_ANSWER_KNOWS, f"|expose {trial.pk} ")
    context.set_offline(True)
    page.keyboard.press(" ")
    expect(page.get_by_text("1 kept here, not sent yet")).to_be_visible()
    with nothing_taken():
        context = restart()
        context.set_offline(True)
    page = context.new_page()
    page.goto(address)
    expect(lying_on(page)).to_have_count(2)
    context.set_offline(False)
    expect(page.get_by_text("All saved")).to_be_visible(timeout=30_000)
    assert PanelWork.objects.filter(kind="lay").count() == 2


# Whether the sitting that a page without a server would open knows of an act that was done.
KEPT_ANSWER_KNOWS = """(name) => new Promise((done) => {
    const asked = indexedDB.open('nublet')
    asked.onsuccess = () => {
        const db = asked.result
        const answers = db.transaction('answers').objectStore('answers')
        const found = answers.openCursor()
        let knows = false
        found.onsuccess = () => {
            const at = found.result
            if (!at) { db.close(); done(knows); return }
            if (String(at.key).endsWith(name)) knows = at.value.sites.some((site) => site.n_done > 0)
            at.continue()
        }
    }
})"""


def lying_on(page: Page) -> Locator:
    return page.locator("section.lying li")
