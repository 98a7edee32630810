"""Designing and preparing as a keeper does it: the live answer, the cutting map, printing, the start, deviations."""

from __future__ import annotations

import json
import re
import statistics
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn, start_trial

REPORTS = Path(__file__).parents[2] / "var" / "reports"

# From the key on the slider to the new sentence.
WATCH_ANSWER = """() => {
  window.answerMs = []
  let pressed = null
  addEventListener('keydown', (event) => { if (event.key.startsWith('Arrow')) pressed = performance.now() }, true)
  let before = document.querySelector('.first').textContent
  new MutationObserver(() => {
    const now = document.querySelector('.first')?.textContent
    if (pressed === null || !now || now === before) return
    before = now
    window.answerMs.push(performance.now() - pressed)
    pressed = null
  }).observe(document.querySelector('.answer'), { subtree: true, childList: true, characterData: true })
}"""


def open_stage(page: Page, trial: Trial, address: str, stage: str) -> None:
    page.goto(f"{address}/trials/{trial.pk}/{stage}")


def sentence(page: Page) -> str:
    return page.locator(".answer .first").inner_text()


def test_more_boards_change_the_sentence_the_curve_and_the_cost(
    sign_in: SignIn, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    open_stage(page, trial, live_server.url, "design")
    expect(page.locator(".answer .first")).to_contain_text("With 2 boards you will notice a")
    page.evaluate(WATCH_ANSWER)
    slider = page.get_by_role("slider", name="Boards of each wood")
    slider.focus()
    grades = []
    for n in range(3, 9):
        page.keyboard.press("ArrowRight")
        expect(page.locator(".answer .first")).to_contain_text(f"With {n} boards you will notice a")
        found = re.search(r"notice a ([\d.]+)-grade", sentence(page))
        assert found
        grades.append(float(found[1]))
        expect(page.locator(".cost")).to_contain_text(f"Panels{3 * n}")
        page.wait_for_function("n => window.answerMs.length >= n", arg=n - 2)
    assert grades == sorted(grades, reverse=True)
    assert grades[0] > grades[-1]
    expect(page.get_by_text("One more board would bring it to")).to_be_visible()
    expect(page.get_by_role("img", name="With 8 boards a difference of")).to_be_visible()
    report_answers(page.evaluate("window.answerMs"))
    # Nothing was saved by looking.
    trial.refresh_from_db()
    assert trial.boards_per_species == 2


def report_answers(times: list[float]) -> None:
    """Write down how long the answers took; nothing is asserted of it but that it was measured."""
    assert len(times) == 6
    REPORTS.mkdir(parents=True, exist_ok=True)
    report = {
        "slider_to_sentence_ms": {"median": round(statistics.median(times), 1), "worst": round(max(times), 1)}
    }
    (REPORTS / "design-speed.json").write_text(json.dumps(report, indent=1) + "\n")
    print(f"\ndesign speed: {json.dumps(report)}")


def test_sections_and_several_woods_are_drawn_as_they_are_asked_for(
    sign_in: SignIn, owner: Person, trial: Trial, live_server: Any
) -> None:
    update_trial(owner, trial.pk, panel_length_mm=700, panel_width_mm=200)
    page = sign_in("nell")
    open_stage(page, trial, live_server.url, "design")
    page.fill("#n-sections", "2")
    page.keyboard.press("Tab")
    for number, name in ((1, "waxed"), (2, "left bare")):
        page.get_by_label(f"Name of section {number}").fill(name)
    sample = page.get_by_role("group", name="Panel sample")
    expect(sample.locator(".area")).to_have_count(2)
    expect(sample.locator(".spot")).to_have_count(12)
    page.get_by_role("button", name="Draw lots", exact=True).click()
    expect(page.locator(".piece")).to_have_count(6)
    orders = {tuple(s["name"] for s in panel.sections) for panel in TrialPanel.objects.filter(trial=trial)}
    assert orders <= {("waxed", "left bare"), ("left bare", "waxed")}
    assert TrialPanel.objects.filter(trial=trial)[0].spots.count() == 12


def test_a_short_board_is_said_and_the_cutting_map_follows_its_measures(
    sign_in: SignIn, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    open_stage(page, trial, live_server.url, "prepare")
    row = page.get_by_role("article", name="Beech 1")
    expect(row).to_contain_text("not measured: needs 1246 mm")
    page.get_by_role("button", name="Measure Beech 1").click()
    page.get_by_label("Length").fill("1126")
    page.get_by_role("button", name="Keep measures").click()
    expect(row).to_contain_text("Board 'Beech 1' is 120 mm short: it gives 2 of 3 panels.")
    expect(page.get_by_text("One board is too short")).to_be_visible()
    start_trial(page)
    expect(page.get_by_role("alert").filter(has_text="Take a longer board")).to_be_visible()

    page.get_by_role("button", name="Measure Beech 1").click()
    page.get_by_label("Length").fill("1400")
    page.get_by_role("button", name="Add a defect").click()
    page.get_by_role("button", name="Keep measures").click()
    expect(row.get_by_role("alert").last).to_have_text("Fill in where each defect begins and ends.")
    page.get_by_label("Defect 1 from").fill("430")
    page.get_by_label("Defect 1 to").fill("480")
    # A reload loses nothing of what was typed.
    page.reload()
    page.get_by_role("button", name="Measure Beech 1").click()
    expect(page.get_by_label("Defect 1 to")).to_have_value("480")
    page.get_by_role("button", name="Keep measures").click()
    expect(row).not_to_contain_text("short")
    # The map is worked by keys too.
    second = row.get_by_role("button", name=re.compile(r"^2 \w+, panel"))
    second.focus()
    page.keyboard.press("Enter")
    expect(row.get_by_role("status")).to_contain_text("480 mm to 880 mm")


def test_starting_freezes_and_a_spoiled_panel_becomes_a_deviation(
    sign_in: SignIn, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    open_stage(page, trial, live_server.url, "prepare")
    page.get_by_role("button", name="Start the trial").click()
    # It asks once more, says what will stand, and is left by one key.
    asks = page.get_by_role("form", name="This will stand")
    expect(asks).to_contain_text("Marrowby Tung")
    expect(page.get_by_role("button", name="Start: this stands")).to_be_disabled()
    page.keyboard.press("Escape")
    expect(asks).to_have_count(0)
    start_trial(page)
    expect(page.get_by_text("Design, build-ups and protocol are as they were then.")).to_be_visible()
    trial.refresh_from_db()
    fingerprint = trial.fingerprint[:12]
    expect(page.locator(".record")).to_contain_text(fingerprint)

    code = TrialPanel.objects.filter(trial=trial).order_by("code")[0].code
    page.get_by_label("A panel is spoiled").check()
    page.get_by_role("button", name=f"{code}, panel").click()
    page.get_by_role("button", name="Record deviation").click()
    form = page.get_by_role("region", name="Deviations")
    expect(form.get_by_role("alert")).to_contain_text("Say what happened")
    page.fill("#deviation-reason", "Dropped on its face")
    page.get_by_role("button", name="Record deviation").click()
    expect(form).to_contain_text(f"Panel {code} (")
    expect(form).to_contain_text("is spoiled and counts for nothing")
    expect(form).to_contain_text("Dropped on its face")
    expect(
        page.get_by_role("button", name=f"{code}, panel").filter(has=page.locator(".struck"))
    ).to_be_visible()

    # The form starts anew once the record has been taken.
    expect(page.locator("#deviation-reason")).to_have_value("")
    # The spoiled panel may still be replaced.
    page.get_by_label("A panel is replaced").check()
    page.click("#deviation-panel")
    page.get_by_role("option", name=code, exact=True).click()
    page.fill("#deviation-reason", "A new one was cut")
    page.get_by_role("button", name="Record deviation").click()
    expect(form).to_contain_text(f"Panel {code} (Beech")
    expect(form).to_contain_text("is replaced by")

    # Later pages show the fingerprint and what deviated from it.
    open_stage(page, trial, live_server.url, "evidence")
    expect(page.locator(".record")).to_contain_text(fingerprint)
    page.click("text=2 deviations")
    expect(page.get_by_role("heading", name="Deviations")).to_be_visible()
    open_stage(page, trial, live_server.url, "design")
    expect(page.get_by_text("The trial has started: this stands.")).to_be_visible()
    expect(page.get_by_role("button", name="Draw lots")).to_have_count(0)


def test_sheets_are_printed_from_the_page(
    sign_in: SignIn, trial: Trial, live_server: Any, workers: None
) -> None:
    page = sign_in("nell")
    open_stage(page, trial, live_server.url, "prepare")
    page.get_by_role("button", name="US Letter").click()
    for name, start in (("Panel labels as PDF", b"%PDF-"), ("Panel labels as SVG", b"PK")):
        with (
            page.expect_download() as download,
            page.expect_request("**/sheets") as asked,
        ):
            page.get_by_role("button", name=name).click()
        assert Path(download.value.path()).read_bytes().startswith(start)
        assert (asked.value.post_data_json or {})["paper"] == "letter"
        assert download.value.suggested_filename.startswith("saloon-tables-labels.")
    # A refusal is read on the page: here the design was drawn away meanwhile.
    TrialPanel.objects.filter(trial=trial).delete()
    page.get_by_role("button", name="Cutting list as PDF").click()
    expect(page.get_by_role("alert")).to_contain_text("Draw lots under Design first")


def test_a_cut_network_loses_nothing_of_a_design(
    sign_in: SignIn, trial: Trial, live_server: Any, context: BrowserContext
) -> None:
    page = sign_in("nell")
    open_stage(page, trial, live_server.url, "design")
    expect(page.locator(".answer .first")).to_be_visible()
    context.set_offline(True)
    page.fill("#margin", "12")
    expect(page.locator(".answer").get_by_role("alert")).to_contain_text("No answer from the server")
    context.set_offline(False)
    page.click("text=Ask again")
    expect(page.locator(".answer .first")).to_be_visible()
    page.reload()
    expect(page.locator("#margin")).to_have_value("12")
    expect(page.get_by_text("Keeping or drawing discards them.")).to_be_visible()
    page.click("text=Keep, draw later")
    expect(page.locator(".piece")).to_have_count(0)
    trial.refresh_from_db()
    assert (trial.margin_mm, trial.fingerprint) == (12, "")


@pytest.mark.parametrize("pressed", [True, False])
def test_benchmarks_begin_every_new_trial(
    sign_in: SignIn, trial: Trial, live_server: Any, pressed: bool
) -> None:
    page = sign_in("nell")
    open_stage(page, trial, live_server.url, "candidates")
    button = page.get_by_role("button", name="Benchmark: Marrowby Tung")
    for _ in range(1 if pressed else 2):
        button.click()
        expect(button).to_be_enabled()
    expect(button).to_have_attribute("aria-pressed", str(pressed).lower())
    page.goto(f"{live_server.url}/trials/new")
    page.fill("#name", "Benches")
    page.click("text=Make the trial")
    expect(page.locator(".candidate", has_text="Marrowby Tung")).to_have_count(int(pressed))
