"""Four comparisons from scratch to a plan: what is crossed is pressed together as a grid."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.models import PlannedOperation
from nublet.web.people.models import Person
from nublet.web.shelf.actions import add_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn
from tests.browser.steps import add_candidates, draw_and_start, make_plan, make_trial

ALWAYS = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "from": "06:00", "to": "22:00"}
BASES = [
    ("Pure drying oil", "Marrowby Tung", 2),
    ("Waterborne clear", "Skarn Satin", 2),
    ("Oil-varnish blend", "Cobble Lane Varnish", 2),
    ("Shellac, dewaxed", "Ousel Shellac", 2),
    ("Hardwax oil with hardener", "Fellgate Hardoil", 2),
]


class Presses:
    """Presses, counted; what is typed to find a name is beside them."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.n = 0
        self.panel = page.get_by_role("form", name="Factors")

    def press(self, what: Locator) -> None:
        """One press more."""
        what.click()
        self.n += 1

    def level(self, *names: str) -> None:
        """Press levels that are offered."""
        for name in names:
            button = self.panel.get_by_role("button", name=name, exact=True)
            self.press(button)
            expect(button).to_have_attribute("aria-pressed", "true")

    def find(self, field: str, *names: str) -> None:
        """Levels that are found by typing: a press for each, to take it."""
        for name in names:
            self.page.fill(field, name)
            self.page.keyboard.press("Enter")
            self.n += 1
            expect(self.panel.get_by_role("button", name=name, exact=True)).to_have_attribute(
                "aria-pressed", "true"
            )

    def make(self, says: str) -> None:
        """Have the build-ups and sections made."""
        expect(self.panel.locator(".says")).to_have_text(says)
        self.press(self.panel.get_by_role("button", name="Make them"))
        expect(self.page.get_by_role("status").filter(has_text=f"Crossed: {says}.")).to_be_visible()


@pytest.fixture
def shop(sign_in: SignIn, owner: Person, live_server: Any, workers: None) -> Page:
    set_bench(owner, {"hands": [{"name": name, "hours": [ALWAYS]} for name in ("Nell", "Wren")]})
    return sign_in("nell")


def cross(page: Page) -> Presses:
    page.get_by_role("link", name="On to the build-ups").click()
    found = Presses(page)
    found.press(page.get_by_role("button", name="Cross factors"))
    return found


def test_five_bases_by_three_tops_by_three_coats_on_sections(shop: Page) -> None:
    make_trial(shop, "Saloon tables, what goes on top", use="Dining table", panel_mm=(1400, 420), boards=1)
    add_candidates(shop, BASES)
    crossing = cross(shop)
    crossing.level("1 coat", "2 coats", "3 coats")
    crossing.find("#crossing-top", "Wax", "Hydrophobic hard topcoat")
    grid = crossing.panel.get_by_role("table")
    expect(grid.get_by_role("row")).to_have_count(6)
    expect(grid.get_by_role("columnheader")).to_have_count(9)
    crossing.make("5 build-ups × 9 sections of each panel: 45 cells")
    assert crossing.n < 25
    trial = Trial.objects.get(name="Saloon tables, what goes on top")
    assert len(trial.sections) == 9
    assert [row.levels for row in trial.build_ups.filter(is_control=False)] == [
        {"finish": name} for _, name, _ in BASES
    ]
    draw_and_start(shop)
    make_plan(shop)
    planned = set(PlannedOperation.objects.filter(plan__trial=trial).values_list("kind", flat=True))
    assert {"coat", "work", "lay", "lift"} <= planned


def test_three_charrings_by_three_finishes_with_bare_wood_at_each(shop: Page) -> None:
    make_trial(shop, "Halt benches, how deep to char", use="Dining table", panel_mm=(400, 150))
    add_candidates(shop, BASES[:3])
    crossing = cross(shop)
    crossing.level("charred lightly", "charred, medium", "charred deep")
    crossing.press(crossing.panel.get_by_label("a bare piece of each"))
    crossing.make("9 build-ups and 3 bare")
    trial = Trial.objects.get(name="Halt benches, how deep to char")
    bare = trial.build_ups.filter(is_control=True).exclude(levels={})
    assert [row.levels for row in bare] == [
        {"preparation": level} for level in ("charred lightly", "charred, medium", "charred deep")
    ]
    draw_and_start(shop)
    make_plan(shop)
    charred = PlannedOperation.objects.filter(plan__trial=trial, kind="work", item__startswith="char")
    # Bare pieces of each level are charred like what is coated; the usual bare control is not.
    assert {code for row in charred for code, *_ in row.panels} == set(
        trial.panels.exclude(build_up__name="Bare control").values_list("code", flat=True)
    )


def test_three_waxes_over_four_bases(shop: Page, owner: Person) -> None:
    waxes = ("Wax one", "Wax two", "Wax three")
    for name in waxes:
        add_item(owner, PRODUCTS, {"name": name, "family": "wax"})
    make_trial(shop, "Shelves, waxes over bases", use="Shelf, bedside, display", panel_mm=(900, 300))
    add_candidates(shop, BASES[:4])
    crossing = cross(shop)
    crossing.find("#crossing-top", *waxes)
    # With and without is offered first; here each panel has wax all over.
    crossing.press(crossing.panel.get_by_role("button", name="nothing", exact=True))
    crossing.make("4 build-ups × 3 sections of each panel: 12 cells")
    trial = Trial.objects.get(name="Shelves, waxes over bases")
    assert list(trial.section_levels.values()) == [{"top": name} for name in waxes]
    draw_and_start(shop)
    make_plan(shop)
    planned = PlannedOperation.objects.filter(plan__trial=trial, build_up__name="Ousel Shellac")
    # Two coats of shellac all over, then each wax on its section, with tape.
    assert {"coat 1", "coat 2", "coat 3", "coat 4", "coat 5", "mask 3", "unmask 5"} <= set(
        planned.values_list("item", flat=True)
    )


def test_two_finishes_over_six_woods(shop: Page) -> None:
    woods = ("Sycamore", "Elm", "Larch", "Ash", "Walnut")
    make_trial(shop, "Oil against waterborne", use="Dining table", panel_mm=(400, 150), boards=1, woods=woods)
    add_candidates(shop, BASES[:2])
    trial = Trial.objects.get(name="Oil against waterborne")
    draw_and_start(shop)
    assert trial.panels.count() == 6 * 3
    assert {panel.species for panel in trial.panels.all()} == {"beech", *(wood.lower() for wood in woods)}
    make_plan(shop)
    # Oil, film and bare wood of one board meet each test in one sitting of one pair of hands.
    for board, codes in boards_of(trial).items():
        lays = PlannedOperation.objects.filter(plan__trial=trial, kind="lay", board=board)
        assert {code for row in lays for code, *_ in row.panels} == codes
        assert {
            len(set(lays.filter(item=item).values_list("hands", flat=True)))
            for item in {row.item for row in lays}
        } == {1}


def boards_of(trial: Trial) -> dict[str, set[str]]:
    found: dict[str, set[str]] = {}
    for panel in trial.panels.all():
        found.setdefault(panel.block, set()).add(panel.code)
    return found
