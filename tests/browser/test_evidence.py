"""The evidence page: answers in three words, what stands behind a point, a result left out and taken in again, files taken away."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from playwright.sync_api import expect

from nublet.web.designs.actions import start
from nublet.web.designs.models import TrialDeviation, TrialPanel
from nublet.web.people.models import Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn
from tests.web.conftest import GRADES, grade_spot


def grade_all(trial: Trial, judge: Person) -> None:
    for panel in TrialPanel.objects.filter(trial=trial).select_related("build_up", "board"):
        grade = GRADES[panel.build_up.name][int(panel.block[-1]) - 1]
        for spot in panel.spots.all():
            grade_spot(judge, trial, panel.code, spot.exposure, grade)


def test_a_result_is_left_out_with_a_reason_and_counts_again(
    sign_in: SignIn, owner: Person, judge: Person, trial: Trial, live_server: Any
) -> None:
    start(owner, trial.pk)
    grade_all(trial, judge)
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/evidence")
    expect(page.locator(".headline")).to_contain_text("Alike:")
    expect(page.locator(".headline")).to_contain_text("Open:")
    page.locator(".cell", has_text="").nth(1).click()
    behind = page.get_by_role("complementary", name="Readings behind the point")
    expect(behind).to_be_visible()
    leave = behind.get_by_role("button", name="Leave ").first
    panel = (leave.get_attribute("aria-label") or "").split(" ")[1]
    leave.click()
    out = behind.get_by_role("button", name="Leave it out")
    expect(out).to_be_disabled()
    behind.get_by_label("Both results will be shown").fill("A drip from the roof")
    out.click()
    expect(behind).to_contain_text("does not count: A drip from the roof")
    box = page.locator("section", has=page.get_by_role("heading", name="With what was left out"))
    expect(box).to_contain_text("1 reading left out by hand")
    expect(box).to_contain_text("would have")
    assert TrialDeviation.objects.get(trial=trial).panel.code == panel  # type: ignore[union-attr]
    behind.get_by_role("button", name=f"Let {panel} count again").click()
    expect(box).to_have_count(0)
    expect(behind).not_to_contain_text("does not count")


def test_tables_and_drawings_are_taken_away(
    sign_in: SignIn, owner: Person, judge: Person, trial: Trial, live_server: Any
) -> None:
    start(owner, trial.pk)
    grade_all(trial, judge)
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/evidence")
    expect(page.locator(".plot .dot").first).to_be_visible()
    with page.expect_download() as drawn:
        page.get_by_role("button", name="as SVG").click()
    text = drawn.value.path().read_text(encoding="utf-8")
    assert text.startswith('<?xml version="1.0"')
    assert "Marrowby Tung" in text
    assert "stroke:" in text
    with page.expect_download() as table:
        page.get_by_role("button", name="pairs as CSV").click()
    lines = table.value.path().read_text(encoding="utf-8").splitlines()
    assert lines[0] == "of,at,a,b,difference,low,high,p_tukey,p_permutation,verdict"
    assert len(lines) == 4
    assert {line.rsplit(",", 1)[1] for line in lines[1:]} <= {"told apart", "alike", "open"}


def test_one_reading_alone_is_left_out_by_keyboard(
    sign_in: SignIn, owner: Person, judge: Person, trial: Trial, live_server: Any
) -> None:
    start(owner, trial.pk)
    grade_all(trial, judge)
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/evidence")
    page.locator(".cell").nth(1).press("Enter")
    behind = page.get_by_role("complementary", name="Readings behind the point")
    behind.get_by_role("button", name="Leave the one reading").first.press("Enter")
    reason = behind.get_by_label("one reading on")
    reason.fill("Graded the wrong panel")
    reason.press("Enter")
    expect(behind).to_contain_text("does not count: Graded the wrong panel")
    box = page.locator("section", has=page.get_by_role("heading", name="With what was left out"))
    expect(box).to_contain_text("1 reading left out by hand, singly")
    behind.get_by_role("button", name="Let the reading of").press("Enter")
    expect(box).to_have_count(0)


def test_a_test_is_shown_over_its_looks_and_every_check_says_what_it_does(
    sign_in: SignIn, owner: Person, judge: Person, trial: Trial, live_server: Any
) -> None:
    start(owner, trial.pk)
    grade_all(trial, judge)
    for panel in TrialPanel.objects.filter(trial=trial).select_related("build_up"):
        for spot in panel.spots.all():
            value = 1 if panel.build_up.is_control else 2
            entry = BenchEntry(
                client_id=uuid4(),
                panel=panel.code,
                exposure=spot.exposure,
                look="lifted",
                kind="grade",
                value=value,
            )
            enter_reading(judge, trial.pk, entry)
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/evidence")
    over = page.locator("section", has=page.get_by_role("heading", name="over time"))
    satin = over.get_by_role("row", name="Skarn Waterborne Satin")
    expect(satin).to_contain_text("+2.5, recovered")
    page.locator("summary", has_text="Every check").press("Enter")
    expect(page.locator(".checks")).to_contain_text("So few boards tell only large differences apart")


def test_looks_before_the_end_are_planned_with_their_limits_and_what_is_worth_knowing_is_said(
    sign_in: SignIn, owner: Person, judge: Person, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/design")
    page.get_by_label("Look before all boards are read").check()
    answer = page.get_by_label("What this design can show")
    expect(answer.get_by_role("table", name="What each look must show")).to_contain_text("5.0 %")
    page.get_by_role("button", name="One more stage").click()
    expect(answer.get_by_role("table", name="What each look must show").get_by_role("row")).to_have_count(4)
    page.goto(f"{live_server.url}/trials/{trial.pk}/question")
    # The plan that was not saved is kept on this device, and asked about.
    worth = page.get_by_label("Grade", exact=True)
    worth.fill("0.5")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Saved", exact=True)).to_be_visible()
    assert Trial.objects.get(pk=trial.pk).worth_knowing == {"grade": 0.5}


def test_a_board_is_added_beyond_the_plan(
    sign_in: SignIn, owner: Person, judge: Person, trial: Trial, live_server: Any
) -> None:
    start(owner, trial.pk)
    before = trial.panels.count()
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/prepare")
    page.get_by_text("A board is added beyond the plan").click()
    page.get_by_label("The new plank’s length").fill("2400")
    page.get_by_label("width", exact=True).fill("200")
    page.get_by_label("Why").fill("Two were still open")
    page.get_by_role("button", name="Record deviation").click()
    expect(page.get_by_text("was added beyond the plan with")).to_be_visible()
    assert trial.panels.count() > before
    assert trial.boards.filter(added_at__isnull=False).count() == 1
