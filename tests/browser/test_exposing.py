"""The expose stage by keyboard: a board is laid, something goes wrong, what lies is lifted; with the network cut."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from nublet.web.bench import clock
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.bench.models import PanelWork, Pour
from nublet.web.designs.actions import start
from nublet.web.designs.models import TrialDeviation, TrialSpot
from nublet.web.people.models import Person
from nublet.web.readings.tasks import list_judging
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn
from tests.browser.test_bench_days import ALWAYS, ServerClock


@pytest.fixture
def server_clock(monkeypatch: pytest.MonkeyPatch) -> ServerClock:
    turned = ServerClock()
    monkeypatch.setattr(clock, "now", turned.now)
    return turned


@pytest.fixture
def expose(
    owner: Person, trial: Trial, server_clock: ServerClock, sign_in: SignIn, live_server: Any
) -> Callable[..., Page]:
    """The trial planned, its times in the log, its expose page open."""
    update_trial(owner, trial.pk, times_on_paper=False)
    set_bench(owner, {"hands": [ALWAYS]})
    start(owner, trial.pk)
    make(ask_for_plan(owner, trial.pk), limit_s=0.2)

    def open_page(**size: int) -> Page:
        page = sign_in("nell", **size)
        page.goto(f"{live_server.url}/trials/{trial.pk}/expose")
        expect(page.get_by_role("heading", name="What is lying")).to_be_visible()
        return page

    return open_page


def codes_in_order(page: Page) -> list[str]:
    return page.get_by_role("list", name="Panels of this sitting").locator("button b").all_inner_texts()


def test_a_board_is_laid_by_one_key_a_spot_and_called_to_be_lifted(
    expose: Callable[..., Page], trial: Trial, judge: Person, server_clock: ServerClock
) -> None:
    page = expose()
    codes = codes_in_order(page)
    assert len(codes) == 3
    page.fill("#pour-batch", "bottle 2")
    page.get_by_role("button", name="Made now").click()
    expect(page.get_by_text("From bottle 2")).to_be_visible()
    page.locator("h1").click()
    for code in codes:
        expect(page.locator("#step-title")).to_contain_text(code)
        page.keyboard.press(" ")
        expect(page.get_by_text(f"on {code}.", exact=False).first).to_be_visible()
    expect(page.get_by_text("All saved")).to_be_visible()
    works = list(PanelWork.objects.filter(kind="lay").order_by("begun_at", "pk"))
    assert [work.panel.code for work in works] == codes
    assert {work.pour_id for work in works} == {Pour.objects.get().pk}
    # The last is taken back by a key, and laid again.
    page.keyboard.press("u")
    expect(page.get_by_text("Taken back")).to_be_visible()
    expect(page.locator("#step-title")).to_contain_text(codes[-1])
    expect(page.get_by_text("All saved")).to_be_visible()
    assert PanelWork.objects.filter(kind="lay").count() == 2
    page.keyboard.press(" ")
    expect(page.locator("section.lying li")).to_have_count(3)
    expect(page.get_by_text("All saved")).to_be_visible()

    # When its time has come it is called, whatever else there is to begin.
    item = works[0].item
    minutes = next(test.duration_min for test in _tests(trial) if test.id == item)
    server_clock.turn(minutes=minutes)
    page.reload()
    expect(page.locator("#step-title")).to_contain_text(f"from {codes[0]}")
    assert list_judging(judge) == []
    page.keyboard.press(" ")
    expect(page.locator("#step-title")).to_contain_text(f"from {codes[1]}")
    expect(page.get_by_text("All saved")).to_be_visible()
    assert [task.next_panel for task in list_judging(judge)][:1] == [codes[0]]


def _tests(trial: Trial) -> Any:
    from nublet.web.trials.adapters import protocol_of

    return protocol_of(trial).tests


def test_what_went_wrong_is_left_out_by_keyboard_and_counts_again(
    expose: Callable[..., Page], trial: Trial
) -> None:
    page = expose()
    code = codes_in_order(page)[0]
    page.locator("h1").click()
    page.keyboard.press("w")
    page.keyboard.type("The cup was warm")
    page.get_by_role("button", name="Leave this spot out").click()
    expect(page.get_by_text("The cup was warm")).to_be_visible()
    assert codes_in_order(page)[0] != code
    assert TrialDeviation.objects.get().reason == "The cup was warm"
    assert TrialSpot.objects.filter(left_out_at__isnull=False).get().panel.code == code
    page.get_by_role("button", name="Count it again").click()
    expect(page.get_by_text("The cup was warm")).to_have_count(0)
    assert code in codes_in_order(page)


def test_a_sitting_goes_on_without_a_network_and_pauses(
    expose: Callable[..., Page], context: BrowserContext
) -> None:
    page = expose(width=390, height=800)
    codes = codes_in_order(page)
    page.locator("h1").click()
    context.set_offline(True)
    for _ in codes[:2]:
        page.keyboard.press(" ")
    expect(page.get_by_text("2 kept here, not sent yet")).to_be_visible()
    expect(page.locator("section.lying li")).to_have_count(2)
    page.keyboard.press("p")
    expect(page.get_by_text("Paused: nothing new is begun")).to_be_visible()
    expect(page.locator("#step-title")).to_contain_text(f"from {codes[0]}")
    assert not PanelWork.objects.exists()
    context.set_offline(False)
    expect(page.get_by_text("All saved")).to_be_visible()
    assert PanelWork.objects.count() == 2
    page.keyboard.press("p")
    expect(page.locator("#step-title")).to_contain_text(codes[2])
    # Nothing of the page reaches past a phone's edge.
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
