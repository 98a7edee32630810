"""Four trials from scratch to a plan, each with a protocol that is put together on the screen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.models import PlannedOperation
from nublet.web.designs.models import TrialSpot
from nublet.web.people.models import Person
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn
from tests.browser.steps import add_candidates, draw_and_start, make_plan, make_trial

ALWAYS = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "from": "06:00", "to": "22:00"}


@dataclass(frozen=True, kw_only=True)
class Wanted:
    """A trial as its tester tells of it.

    ``tests`` are what is looked for in the library and the name that is taken; ``planned`` are acts of the plan, as test and act.
    """

    name: str
    use: str
    candidates: Sequence[tuple[str, str, int]]
    tests: Sequence[tuple[str, str]]
    looks: Sequence[str]
    views: Sequence[str]
    planned: Sequence[tuple[str, str]]
    panel_mm: tuple[int, int] = (400, 150)
    harder: str = ""
    slips: int = 0
    says: str = ""


OILS = [("Pure drying oil", f"Oil {n}", 3) for n in ("one", "two", "three", "four")]
TRIALS = [
    Wanted(
        name="Buffet counter, spirits and heat",
        use="Bar or counter",
        candidates=[("Pure drying oil", "Marrowby Tung", 3), ("Waterborne clear", "Skarn Satin", 3)],
        tests=[
            ("red wine covered 1 h", "Red wine, covered 1 h"),
            ("ethanol covered 1 h", "Ethanol 48 %, covered 1 h"),
            ("chilled glass 1 h", "Chilled wet glass, 1 h"),
            ("acetone 10 s", "Acetone, covered 10 s"),
            ("iron 115", "Iron 115 °C, 8 s"),
            ("weighted scratch", "Weighted scratch, 15 strokes"),
        ],
        harder="Iron 200 °C, 8 s",
        looks=["At lifting", "24 h"],
        views=["Square on", "Lamp glancing"],
        planned=[("iron-200", "press"), ("iron-115", "press"), ("scratch", "scratch")],
        panel_mm=(700, 160),
    ),
    Wanted(
        name="Galley boards, four oils and bare",
        use="Chopping board and utensils",
        candidates=OILS,
        tests=[
            ("boil half-immersed", "Boil, half-immersed"),
            ("uptake ring", "Water uptake ring, 1 h and 24 h"),
            ("drying drop glass", "Drying, a drop on glass"),
            ("feel", "Feel"),
        ],
        looks=["When dry"],
        views=["Square on", "Lamp glancing"],
        planned=[("boil", "boil"), ("boil", "lift"), ("feel", "set-out")],
        slips=12,
        says="slips of glass",
    ),
    Wanted(
        name="Waxes by their sheen",
        use="Shelf, bedside, display",
        candidates=[("Wax", f"Wax {n}", 2) for n in ("one", "two", "three")],
        tests=[("sheen evenness", "Sheen and evenness"), ("preferred of two", "Preferred of two")],
        looks=["When cured"],
        views=["Square on", "Down the length"],
        planned=[("sheen", "set-out")],
    ),
    Wanted(
        name="Halt bench outdoors",
        use="Outdoor bench",
        candidates=[("Pure drying oil", "Marrowby Tung", 3), ("Waterborne clear", "Skarn Satin", 3)],
        tests=[("outdoors south", "Outdoors, south face")],
        looks=["Just before", "3 months", "6 months", "12 months", "24 months"],
        views=[],
        planned=[("outdoors-south", "out")],
        says="24 months",
    ),
]


def put_together(page: Page, wanted: Wanted) -> None:
    """The wanted tests in, all that the trial began with out; saved."""
    page.get_by_role("link", name="Question").click()
    page.get_by_role("link", name="Put together what is done").click()
    lines = page.locator(".line")
    expect(lines).to_have_count(6)
    old = lines.locator("b").all_inner_texts()
    page.get_by_role("button", name="Add a test").click()
    for words, name in wanted.tests:
        page.fill("#find-test", words)
        page.locator(".add").get_by_role("button", name=f"Add {name}", exact=True).click()
        expect(page.locator(".line.chosen")).to_contain_text(name)
        if wanted.harder and name.startswith("Iron"):
            page.get_by_role("button", name="+ the next harder").click()
            expect(page.locator(".line.chosen")).to_contain_text(wanted.harder)
    page.get_by_role("button", name="Close").click()
    for name in old:
        alike = lines.filter(has_text=name)
        n_alike = alike.count()
        alike.first.click()
        page.get_by_role("button", name="Take it out").click()
        expect(alike).to_have_count(n_alike - 1)
    lines.filter(has_text=wanted.tests[0][1]).click()
    editor = page.get_by_role("region", name="In hand")
    for look in wanted.looks:
        expect(editor.get_by_role("button", name=look, exact=True)).to_have_attribute("aria-pressed", "true")
    for view in wanted.views:
        expect(editor.get_by_label(view).first).to_be_checked()
    if wanted.says:
        expect(page.locator("main")).to_contain_text(wanted.says)
    page.get_by_role("button", name="Save the protocol").click()
    expect(page.get_by_role("button", name="Saved")).to_be_visible()


@pytest.mark.parametrize("wanted", TRIALS, ids=lambda wanted: str(wanted.name))
def test_from_scratch_to_a_plan(
    sign_in: SignIn, owner: Person, live_server: Any, workers: None, wanted: Wanted
) -> None:
    set_bench(owner, {"hands": [{"name": name, "hours": [ALWAYS]} for name in ("Nell", "Wren")]})
    page = sign_in("nell")
    make_trial(page, wanted.name, use=wanted.use, panel_mm=wanted.panel_mm)
    put_together(page, wanted)
    trial = Trial.objects.get(name=wanted.name)
    names = {test.name for test in protocol_of(trial).tests}
    assert names == {name for _, name in wanted.tests} | ({wanted.harder} if wanted.harder else set())
    add_candidates(page, wanted.candidates)
    draw_and_start(page)
    n_spots = TrialSpot.objects.filter(panel__trial=trial).count()
    n_slips = trial.panels.filter(board__isnull=True).count()
    assert n_slips == wanted.slips
    on_wood = sum(test.site.kind != "slip" for test in protocol_of(trial).tests)
    assert n_spots == n_slips + on_wood * 2 * (len(wanted.candidates) + 1)
    make_plan(page)
    made = set(PlannedOperation.objects.filter(plan__trial=trial, kind="act").values_list("item", "act"))
    assert set(wanted.planned) <= made
    if wanted.name.startswith("Halt"):
        dates = page.get_by_role("region", name="Looks months away")
        for look in wanted.looks[1:]:
            expect(dates).to_contain_text(look)


def test_a_spot_is_taken_in_hand_on_the_panel_and_made_a_ladder_of_one_line(
    sign_in: SignIn, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/protocol")
    lines = page.locator(".line")
    expect(lines).to_have_count(6)
    page.locator("aside [data-exposure='coffee-1h']").click()
    expect(page.locator(".line.chosen")).to_contain_text("Coffee, covered 1 h")
    page.get_by_role("button", name="As a ladder").click()
    steps = page.get_by_role("group", name="Steps of the ladder").get_by_role("button")
    expect(steps).to_have_count(4)
    # Four steps, and still a line of its own.
    expect(lines).to_have_count(6)
    expect(page.locator(".line.chosen")).to_contain_text("4 spots")
    hardest = steps.last.inner_text()
    steps.last.click()
    expect(page.get_by_role("region", name="In hand")).to_contain_text(f"Coffee, covered {hardest}")
    expect(steps.last).to_have_attribute("aria-pressed", "true")
