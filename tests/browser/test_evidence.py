"""The evidence page: answers in three words, what stands behind a point, a result left out and taken in again, files taken away."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import expect

from nublet.web.designs.actions import start
from nublet.web.designs.models import TrialDeviation, TrialPanel
from nublet.web.people.models import Person
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
