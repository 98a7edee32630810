"""The whole path as an owner walks it: sign in, make a trial, draw lots, grade, read evidence and ranking."""

from __future__ import annotations

import csv
import io
import json
import statistics
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, expect

from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading, ReadingEntry
from tests.browser.conftest import SignIn, choose_candidate, start_trial
from tests.browser.steps import keep_times_on_paper

REPORTS = Path(__file__).parents[2] / "var" / "reports"
GRADES = {"Bare control": (1, 2, 1), "Marrowby Tung": (3, 3, 4), "Skarn Waterborne Satin": (5, 5, 4)}

# When each key went down: heard before the page's own listeners, which keep an answer's key to themselves.
HEAR_KEYS = """
  window.shownMs = []
  window.pressedMs = []
  window.pressed = null
  addEventListener('keydown', (event) => {
    if (!/^[1-5]$/.test(event.key)) return
    window.pressed = performance.now()
    window.pressedMs.push(window.pressed)
  }, true)
"""
# From the key to the next frame after the drawing changed.
WATCH_DRAWING = """() => {
  new MutationObserver(() => {
    if (window.pressed === null) return
    const began = window.pressed
    window.pressed = null
    requestAnimationFrame(() => window.shownMs.push(performance.now() - began))
  }).observe(document.querySelector('main'), { subtree: true, childList: true, attributes: true, characterData: true })
}"""


def make_trial(page: Page) -> None:
    page.click("text=All trials")
    page.click("text=New trial")
    page.fill("#name", "Galley boards")
    page.fill("#question", "Which finish for the galley?")
    page.fill("#boards", "3")
    page.keyboard.press("Tab")
    page.click("text=Make the trial")
    for name, family, coats in (
        ("Marrowby Tung", "Pure drying oil", 4),
        ("Skarn Waterborne Satin", "Waterborne clear", 3),
    ):
        choose_candidate(page, family)
        page.fill("#build-up-name", name)
        page.fill("#build-up-coats", str(coats))
        page.keyboard.press("Tab")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator(".candidate", has_text=name)).to_be_visible()
    page.click("text=On to the build-ups")
    expect(page.locator(".editor")).to_be_visible()
    page.click("text=On to the design")
    page.click("text=Draw lots")
    expect(page.locator(".board")).to_have_count(3)
    expect(page.locator(".piece")).to_have_count(9)


def grade_everything(page: Page) -> None:
    """Grade by keys alone, as the panel's hidden build-up deserves."""
    carried = {
        row.code: GRADES[row.build_up.name][int(row.block[-1]) - 1]
        for row in TrialPanel.objects.select_related("build_up", "board")
    }
    for n in range(9 * 6):
        code = page.locator("h1 .mono").inner_text()
        page.keyboard.press(str(carried[code]))
        page.wait_for_function("n => window.shownMs.length > n", arg=n)
    expect(page.get_by_text("Every spot at this look is graded.")).to_be_visible()
    expect(page.get_by_text("All 54 readings saved")).to_be_visible()


def report_speed(page: Page) -> None:
    """Write down what was measured; nothing is asserted of it but that it was measured."""
    shown: list[float] = page.evaluate("window.shownMs")
    # Entries go one after the other, so that the nth answer is the nth key's.
    answered: list[float] = page.evaluate(
        "performance.getEntriesByType('resource').filter(e => e.name.endsWith('/entries')).map(e => e.responseEnd)"
    )
    pressed: list[float] = page.evaluate("window.pressedMs")
    acknowledged = [end - began for began, end in zip(pressed, answered, strict=True)]
    assert len(acknowledged) == 54
    assert len(shown) > 40
    REPORTS.mkdir(parents=True, exist_ok=True)
    report = {
        name: {"median": round(statistics.median(times), 1), "worst": round(max(times), 1), "n": len(times)}
        for name, times in (("key_to_grade_shown_ms", shown), ("key_to_server_answer_ms", acknowledged))
    }
    (REPORTS / "grading-speed.json").write_text(json.dumps(report, indent=1) + "\n")
    print(f"\ngrading speed: {json.dumps(report)}")


def test_from_question_to_ranking(sign_in: SignIn, owner: Person, live_server: Any) -> None:
    page = sign_in("nell")
    make_trial(page)
    page.click("text=On to Prepare")
    start_trial(page)
    page.get_by_role("link", name="Grade", exact=True).click()
    # Nothing was lifted yet, by the log: this shop keeps its times on paper.
    expect(page.get_by_text("what it counts from is not in the log")).to_be_visible()
    page.get_by_role("link", name="Log the acts, or keep their times on paper").click()
    keep_times_on_paper(page)
    page.get_by_role("link", name="Read panels").click()
    expect(page.locator("svg.panel")).to_be_visible()
    page.add_init_script(HEAR_KEYS)
    page.reload()
    expect(page.locator("svg.panel")).to_be_visible()
    page.evaluate(WATCH_DRAWING)
    grade_everything(page)
    report_speed(page)
    assert Reading.objects.filter(value__isnull=False).count() == 54
    assert ReadingEntry.objects.count() == 54

    page.get_by_role("link", name="Evidence").click()
    expect(page.locator("tbody .system").first).to_have_text("Skarn Waterborne Satin")
    expect(page.get_by_text("Told apart:", exact=True)).to_be_visible()
    page.get_by_role("button", name="Marrowby Tung, Wine 1 h: mean 3.3").click()
    behind = page.get_by_role("complementary", name="Readings behind the point")
    expect(behind.locator("tbody tr")).to_have_count(3)
    expect(behind).to_contain_text("Beech 3")

    with page.expect_download() as download:
        page.click("text=Export CSV")
    rows = list(csv.DictReader(io.StringIO(Path(download.value.path()).read_text())))
    assert len(rows) == 54

    page.get_by_role("link", name="Ranking").click()
    expect(page.locator(".first")).to_contain_text("For a dining table, use Skarn Waterborne Satin")
    expect(page.locator(".rows tbody tr")).to_have_count(2)
    page.fill("#weight-repair", "0")
    page.keyboard.press("Tab")
    expect(page.get_by_text("Nothing was tested for repair")).to_be_hidden()
