"""Grading by key and by touch, with the network cut, with the sign-in ended, and blind."""

from __future__ import annotations

import re
from typing import Any

import pytest
from django.contrib.sessions.models import Session
from playwright.sync_api import BrowserContext, Page, expect

from nublet.web.designs.actions import start
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading, ReadingEntry
from nublet.web.trials.models import Trial
from tests.browser.conftest import PASSWORD, SignIn


@pytest.fixture
def trial(trial: Trial, owner: Person) -> Trial:
    """Started: before that there is nothing to grade."""
    return start(owner, trial.pk)


SECRETS = ("Marrowby", "Skarn", "Bare control", "pure-drying-oil", "Pure drying oil", "Beech 1", "Beech 2")


def open_bench(page: Page, trial: Trial, base: str, look: str = "24h") -> None:
    page.goto(f"{base}/trials/{trial.pk}/read/{look}")
    expect(page.locator("svg.panel")).to_be_visible()


def selected(page: Page) -> str:
    return str(page.locator(".spot.selected").get_attribute("data-exposure"))


def test_keys_grade_move_note_and_take_back(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any
) -> None:
    page = sign_in("imara")
    open_bench(page, trial, live_server.url)
    first = selected(page)
    page.keyboard.press("4")
    assert selected(page) != first
    expect(page.locator(f"[data-exposure={first}] .digit")).to_have_text("4")
    page.keyboard.press("u")
    assert selected(page) == first
    expect(page.locator(f"[data-exposure={first}] .digit")).to_have_count(0)
    page.keyboard.press("n")
    page.keyboard.type("Faint ring 2 mm")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Note: Faint ring 2 mm")).to_be_visible()
    page.keyboard.press("2")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("?")
    expect(page.get_by_text("take the last entry back")).to_be_visible()
    expect(page.get_by_text("All 1 readings saved")).to_be_visible()
    reading = Reading.objects.get(judge=judge, value__isnull=False)
    assert (reading.spot.exposure, float(reading.value or 0), reading.note) == (first, 2, "Faint ring 2 mm")
    assert list(ReadingEntry.objects.order_by("pk").values_list("kind", flat=True)) == [
        "grade",
        "take_back",
        "note",
        "grade",
    ]
    # What is typed is there again after a reload, and a word in a note is no grade.
    page.reload()
    expect(page.locator(f"[data-exposure={first}] .digit")).to_have_text("2")


def test_touch_grades_too_at_tablet_width(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any
) -> None:
    page = sign_in("imara", width=768, height=1024)
    open_bench(page, trial, live_server.url)
    page.locator("[data-exposure=coffee-1h]").click()
    key = page.get_by_role("button", name="3 Slight, several directions")
    box = key.bounding_box()
    assert box is not None
    assert box["height"] >= 44
    key.click()
    expect(page.locator("[data-exposure=coffee-1h] .digit")).to_have_text("3")
    expect(page.get_by_text("All 1 readings saved")).to_be_visible()


def test_the_next_panel_comes_when_one_is_done(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any
) -> None:
    page = sign_in("imara")
    open_bench(page, trial, live_server.url)
    code = page.locator("h1 .mono").inner_text()
    for _ in range(6):
        page.keyboard.press("5")
    expect(page.get_by_text(f"Panel {code} is done.")).to_be_visible()
    assert page.locator("h1 .mono").inner_text() != code
    page.keyboard.press("[")
    expect(page.locator("h1 .mono")).to_have_text(code)
    expect(page.get_by_role("navigation", name="Due now")).to_contain_text("Grade 5")


def test_a_cut_network_loses_nothing(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any, context: BrowserContext
) -> None:
    page = sign_in("imara")
    open_bench(page, trial, live_server.url)
    context.set_offline(True)
    for key in "531":
        page.keyboard.press(key)
    expect(page.get_by_text("3 kept here, not sent yet")).to_be_visible()
    expect(page.locator("svg.panel .digit")).to_have_text(["5", "3", "1"])
    assert not Reading.objects.exists()
    context.set_offline(False)
    expect(page.get_by_text("All 3 readings saved")).to_be_visible(timeout=10_000)
    assert sorted(float(g or 0) for g in Reading.objects.values_list("value", flat=True)) == [1, 3, 5]


def test_an_ended_sign_in_asks_again_over_the_page_and_loses_nothing(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any
) -> None:
    page = sign_in("imara")
    open_bench(page, trial, live_server.url)
    page.keyboard.press("5")
    expect(page.get_by_text("All 1 readings saved")).to_be_visible()
    Session.objects.all().delete()
    page.keyboard.press("2")
    dialog = page.get_by_role("dialog", name="Sign in again to go on")
    expect(dialog).to_be_visible()
    dialog.locator("#password").fill(PASSWORD)
    page.keyboard.press("Enter")
    expect(dialog).to_be_hidden()
    expect(page.get_by_text("All 2 readings saved")).to_be_visible()
    assert Reading.objects.filter(judge=judge).count() == 2


def test_nothing_that_reaches_a_judges_browser_breaks_the_blind(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any, context: BrowserContext
) -> None:
    bodies: list[str] = []
    context.on(
        "response",
        lambda response: bodies.append(response.text()) if "/api/" in response.url and response.ok else None,
    )
    page = sign_in("imara")
    open_bench(page, trial, live_server.url)
    page.keyboard.press("3")
    expect(page.get_by_text("All 1 readings saved")).to_be_visible()
    for stage in ("question", "candidates", "design", "prepare", "evidence", "ranking"):
        page.goto(f"{live_server.url}/trials/{trial.pk}/{stage}")
        expect(page.get_by_role("heading", name="Not for judges")).to_be_visible()
    assert len(bodies) > 5
    for body in (*bodies, page.content()):
        assert not [secret for secret in SECRETS if secret in body]


def test_on_a_phone_the_keys_stand_at_the_thumb_wherever_the_page_is(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any
) -> None:
    page = sign_in("imara", width=390, height=844)
    open_bench(page, trial, live_server.url)
    keys = page.get_by_role("group", name="Grade this spot").get_by_role("button")
    expect(keys).to_have_count(5)
    first = selected(page)
    for where in ("0", "99999"):
        page.evaluate(f"document.querySelector('main').scrollTo(0, {where}); window.scrollTo(0, {where})")
        boxes = [key.bounding_box() for key in keys.all()]
        # In a row at the lower edge, each as wide as a thumb.
        assert all(box is not None and box["y"] + box["height"] > 800 for box in boxes)
        assert all(box is not None and box["width"] >= 44 and box["height"] >= 44 for box in boxes)
    # Nothing lies hidden under them at the end of the page.
    last = page.locator(".left > section").last.bounding_box()
    top = min(box["y"] for box in boxes if box is not None)
    assert last is not None
    assert last["y"] + last["height"] <= top
    keys.nth(1).click()
    expect(page.locator(f"[data-exposure={first}] .digit")).to_have_count(1)


def test_the_rail_tells_the_stages_while_grading(sign_in: SignIn, trial: Trial, live_server: Any) -> None:
    page = sign_in("nell")
    open_bench(page, trial, live_server.url)
    rail = page.get_by_role("navigation", name="Stages of the trial")
    for stage, state in (("Design", "done"), ("Prepare", "done"), ("Coat and cure", "not begun")):
        expect(rail.get_by_role("link", name=re.compile(rf"^{stage} ?, {state}$"))).to_be_visible()


def test_the_rail_tells_a_judge_how_far_the_own_grading_is(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any
) -> None:
    page = sign_in("imara")
    open_bench(page, trial, live_server.url)
    stages = page.get_by_role("navigation", name="Stages of the trial").get_by_role("link")
    expect(stages).to_have_count(1)
    expect(stages).to_have_accessible_name(re.compile("^Read ?, not begun$"))
    page.keyboard.press("4")
    expect(page.get_by_text("All 1 readings saved")).to_be_visible()
    page.goto(f"{live_server.url}/")
    open_bench(page, trial, live_server.url)
    expect(stages).to_have_accessible_name(re.compile("^Read ?, under way$"))


def test_two_tabs_of_two_people_never_mix(
    sign_in: SignIn, trial: Trial, judge: Person, live_server: Any, context: BrowserContext
) -> None:
    """One cookie for both tabs: who signed in last is who the server sees, and the other page stores nothing."""
    first = sign_in("imara")
    open_bench(first, trial, live_server.url)
    second = context.new_page()
    second.goto(f"{live_server.url}/")
    second.get_by_role("button", name="Sign out").click()
    second.fill("#username", "nell")
    second.fill("#password", PASSWORD)
    second.keyboard.press("Enter")
    expect(second.get_by_role("heading", name="Today")).to_be_visible()
    first.keyboard.press("4")
    expect(first.get_by_role("dialog", name="Sign in again to go on")).to_be_visible()
    assert not ReadingEntry.objects.exists()
    first.fill("#password", PASSWORD)
    first.keyboard.press("Enter")
    expect(first.get_by_role("dialog")).to_have_count(0)
    expect(first.get_by_text("All 1 readings saved")).to_be_visible()
    reading = Reading.objects.get(value__isnull=False)
    assert (reading.judge, float(reading.value or 0)) == (judge, 4)
    # Signing out leaves nothing of the person in the browser.
    first.get_by_role("button", name="Sign out").click()
    expect(first.locator("#username")).to_be_visible()
    kept = first.evaluate("Object.entries(localStorage)")
    assert not [key for key, value in kept if "draft" in key or ("entries" in key and value != "[]")]
    assert "imara" not in str(kept).lower()
