"""What a tester does on the screens on the way from a question to a plan."""

from __future__ import annotations

from collections.abc import Sequence

from playwright.sync_api import Page, expect

from tests.browser.conftest import choose_candidate, start_trial


def make_trial(
    page: Page, name: str, *, use: str, panel_mm: tuple[int, int], boards: int = 2, woods: Sequence[str] = ()
) -> None:
    """Ask a question for one use, and stand before its candidates; of beech unless woods are named."""
    page.click("text=All trials")
    page.click("text=New trial")
    page.fill("#name", name)
    page.get_by_label("Dining table").uncheck()
    page.get_by_label(use, exact=True).check()
    for wood in woods:
        page.fill("#wood", wood)
        page.keyboard.press("Enter")
        expect(page.locator(".el-select", has=page.locator("#wood"))).to_contain_text(wood)
    page.keyboard.press("Escape")
    page.fill("#boards", str(boards))
    page.keyboard.press("Tab")
    for field, mm in zip(("#length", "#width"), panel_mm, strict=True):
        page.fill(field, str(mm))
    page.click("text=Make the trial")
    expect(page.locator("#candidate-product")).to_be_visible()


def add_candidates(page: Page, candidates: Sequence[tuple[str, str, int]]) -> None:
    """Add candidates: a product or family, a name, a number of coats each."""
    page.get_by_role("link", name="Candidates").click()
    for family, name, coats in candidates:
        choose_candidate(page, family)
        page.fill("#build-up-name", name)
        page.fill("#build-up-coats", str(coats))
        page.keyboard.press("Tab")
        page.get_by_role("button", name="Add", exact=True).click()
        expect(page.locator(".candidate", has_text=name)).to_be_visible()


def draw_and_start(page: Page) -> None:
    """Draw the lots under Design and start the trial under Prepare."""
    page.get_by_role("navigation", name="Stages of the trial").get_by_role("link", name="Design").click()
    page.click("text=Draw lots")
    expect(page.get_by_text("This is the key.")).to_be_visible()
    page.click("text=On to Prepare")
    start_trial(page)
    expect(page.locator("p.record")).to_contain_text("sealed as")


def make_plan(page: Page) -> None:
    """Have the bench days planned."""
    page.get_by_role("navigation", name="Stages of the trial").get_by_role(
        "link", name="Coat and cure"
    ).click()
    page.get_by_role("button", name="Make the plan").click()
    expect(page.get_by_role("group", name="The day by hands")).to_be_visible(timeout=180_000)


def keep_times_on_paper(page: Page) -> None:
    """Say under Expose that the times of the acts are kept on paper."""
    page.get_by_text("How it is exposed and read").click()
    page.get_by_role("checkbox", name="Some spots come round again.").uncheck()
    page.get_by_role("checkbox", name="Times on paper.").check()
    expect(page.get_by_role("heading", name="The times of this trial are kept on paper")).to_be_visible()
