"""Build-ups built at the screen: by keys alone, a combination that will not hold, a frozen one, units, the sheet."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from nublet.web.build_ups.actions import change_build_up
from nublet.web.designs.actions import start
from nublet.web.people.models import Person
from nublet.web.shelf.actions import add_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.shelf.models import BuildUpVersion
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn

TUNG = {
    "name": "Marrowby Tung",
    "family": "pure-drying-oil",
    "containers": [{"amounts": [1000], "price": 40}],
    "label": {"spread_first_m2_per_l": 10, "spread_later_m2_per_l": 20, "cure_d": 25},
}


@pytest.fixture
def shelf(owner: Person) -> None:
    add_item(owner, PRODUCTS, TUNG)
    add_item(owner, PRODUCTS, {"name": "Bellwether Soft Wax", "family": "wax", "maker": "Bellwether"})
    add_item(owner, PRODUCTS, {"name": "Pikelaw Board Oil", "family": "non-drying-oil"})


def open_build_ups(page: Page, live_server: Any, trial: Trial) -> None:
    page.goto(f"{live_server.url}/trials/{trial.pk}/build-ups")
    expect(page.locator(".editor")).to_be_visible()


def recipe_of(trial: Trial, name: str) -> dict[str, Any]:
    version = trial.build_ups.select_related("version").get(name=name).version
    assert version is not None
    recipe: dict[str, Any] = version.recipe
    return recipe


def press(page: Page, *keys: str) -> None:
    for key in keys:
        page.keyboard.press(key)


def tab_to(page: Page, name: str, *, most: int = 60) -> None:
    """Move on with the tab key until the focused thing has this name."""
    named = (
        "(() => { const e = document.activeElement; return e.getAttribute('aria-label') || "
        "(e.labels && e.labels[0] ? e.labels[0].innerText : e.innerText || '') })()"
    )
    for _ in range(most):
        page.keyboard.press("Tab")
        if page.evaluate(named).strip().startswith(name):
            return
    raise AssertionError(f"the tab key never came to {name!r}")


def pick(page: Page, text: str, option: str) -> None:
    """Type into the focused product box and take what is offered first."""
    page.keyboard.type(text)
    offered = page.get_by_role("option", name=option).first
    expect(offered).to_be_visible()
    # What Enter takes is the one that is marked.
    expect(offered).to_have_class(re.compile("is-hovering"))
    press(page, "Enter")


def test_a_build_up_is_built_by_keys_alone(
    sign_in: SignIn, shelf: None, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    open_build_ups(page, live_server, trial)
    page.locator("#work").focus()
    tab_to(page, "Name")
    press(page, "Control+a")
    page.keyboard.type("Tung and wax")
    tab_to(page, "Add a layer on top")
    press(page, "Enter")
    expect(page.locator("#layer-1-product")).to_be_focused()
    pick(page, "soft", "Bellwether Soft Wax")
    expect(page.locator(".drawing .band")).to_have_count(2)
    press(page, "Tab")
    expect(page.locator("#layer-1-coats")).to_be_focused()
    press(page, "ArrowUp")
    tab_to(page, "Layer 1, product")
    press(page, "Control+a")
    pick(page, "marrow", "Marrowby Tung")
    tab_to(page, "Grits")
    press(page, "Control+a")
    page.keyboard.type("80-180")
    expect(page.locator(".wood .findings")).to_contain_text("80 to 180 is too wide")
    press(page, "Control+a")
    page.keyboard.type("80-120")
    expect(page.locator(".wood .findings")).to_have_count(0)
    # The figures follow: 40 a litre on 10 and three coats on 20 m²/L, but the wax has no price.
    expect(page.locator(".layer").last).to_contain_text("mL")
    press(page, "Enter")
    expect(page.get_by_role("status").filter(has_text="Tung and wax is saved.")).to_be_visible()
    recipe = recipe_of(trial, "Tung and wax")
    assert [(layer["family"], layer["coats"]) for layer in recipe["layers"]] == [
        ("pure-drying-oil", 4),
        ("wax", 2),
    ]
    assert recipe["layers"][0]["product"] is not None
    assert recipe["preparation"]["grits"] == [80, 120]


def test_a_combination_that_will_not_hold(
    sign_in: SignIn, shelf: None, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    open_build_ups(page, live_server, trial)
    before = recipe_of(trial, "Marrowby Tung")
    # Wax goes on top of the oil, and that is well; the wrong way round it is not.
    page.click("text=Add a layer on top")
    page.fill("#layer-1-product", "wax")
    page.get_by_role("option", name="Bellwether Soft Wax").click()
    expect(page.locator(".findings .block")).to_have_count(0)
    page.get_by_role("button", name="Move layer 2 down").click()
    finding = page.locator(".layer").first.locator(".findings .block")
    expect(finding).to_contain_text("Will not hold.")
    expect(finding).to_contain_text("Nothing holds on wax but wax")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("declare it as an experiment and say why")
    assert recipe_of(trial, "Marrowby Tung") == before
    # A reload loses nothing of it.
    page.reload()
    expect(page.locator(".layer")).to_have_count(2)
    expect(page.locator(".findings .block")).to_be_visible()
    page.fill("#experiment", "The old tables were waxed: what if nobody strips them?")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("status").filter(has_text="is saved")).to_be_visible()
    expect(page.locator(".one").first).to_contain_text("declared experiment")
    saved = recipe_of(trial, "Marrowby Tung")
    assert [layer["family"] for layer in saved["layers"]] == ["wax", "pure-drying-oil"]
    assert saved["experiment_reason"].startswith("The old tables")


def test_a_frozen_build_up_gets_a_new_version(
    sign_in: SignIn, shelf: None, trial: Trial, owner: Person, live_server: Any
) -> None:
    start(owner, trial.pk)
    page = sign_in("nell")
    open_build_ups(page, live_server, trial)
    expect(page.locator(".one").first).to_contain_text("version 1, frozen")
    page.fill("#layer-0-coats", "2")
    page.get_by_role("button", name="Save as a new version").click()
    expect(page.get_by_role("status").filter(has_text="This trial keeps version 1")).to_be_visible()
    expect(page.locator("#layer-0-coats")).to_have_value("4")
    versions = BuildUpVersion.objects.filter(build_up__name="Marrowby Tung").order_by("number")
    assert [v.recipe["layers"][0]["coats"] for v in versions] == [4, 2]


def test_a_copy_becomes_a_variant(sign_in: SignIn, shelf: None, trial: Trial, live_server: Any) -> None:
    page = sign_in("nell")
    open_build_ups(page, live_server, trial)
    page.get_by_role("button", name="Copy", exact=True).click()
    expect(page.locator("#recipe-name")).to_have_value("Marrowby Tung copy")
    page.fill("#layer-0-coats", "2")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("status").filter(has_text="Marrowby Tung copy is saved.")).to_be_visible()
    coats = [recipe_of(trial, name)["layers"][0]["coats"] for name in ("Marrowby Tung", "Marrowby Tung copy")]
    assert coats == [4, 2]


def test_metric_and_us_show_the_same_thing(
    sign_in: SignIn, shelf: None, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/calculators/spread")
    area = page.locator("#in-area_m2")
    expect(page.locator(".answer .main")).to_contain_text("259 mL")
    page.get_by_role("button", name="US units").click()
    expect(page.locator(".answer .main")).to_contain_text("8.75 fl oz")
    # 1.5 m² is a long figure in square feet; what is typed instead stays as typed, there and back.
    expect(area).to_have_value("16.14587")
    area.focus()
    expect(area).to_have_value("16.1458656251")
    area.fill("17.3")
    expect(page.locator(".answer .main")).to_contain_text("9.37 fl oz")
    page.get_by_role("button", name="Metric units").click()
    expect(page.locator(".answer .main")).to_contain_text("277 mL")
    page.get_by_role("button", name="US units").click()
    expect(area).to_have_value("17.3")
    page.reload()
    expect(area).to_have_value("17.3")
    page.goto(f"{live_server.url}/trials/{trial.pk}/question")
    expect(page.locator("#length")).to_have_value("15.74803")


def test_the_sheet_prints_without_the_shell(
    sign_in: SignIn, shelf: None, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    open_build_ups(page, live_server, trial)
    page.click("text=Sheet")
    expect(page.get_by_role("heading", name="Marrowby Tung, version 1")).to_be_visible()
    expect(page.locator(".step").filter(has_text="Wipe off after 15 to 40 min").first).to_contain_text(
        "Rags wet with a drying oil heat themselves"
    )
    page.emulate_media(media="print")
    expect(page.get_by_role("navigation", name="Places")).to_be_hidden()
    expect(page.get_by_role("button", name="Print")).to_be_hidden()
    expect(page.locator(".step").last).to_contain_text("Cure fully before any test")


def test_enter_takes_the_product_that_was_typed(
    sign_in: SignIn, shelf: None, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/candidates")
    page.click("#candidate-product")
    # At once, before any answer to what was typed.
    page.keyboard.type("pikelaw")
    page.keyboard.press("Enter")
    expect(page.locator("#build-up-name")).to_have_value("Pikelaw Board Oil")


def test_a_bare_panel_prepared_like_a_build_up(sign_in: SignIn, trial: Trial, live_server: Any) -> None:
    row = trial.build_ups.get(name="Marrowby Tung")
    assert row.version is not None
    charred = {**row.version.recipe["preparation"], "charring": "light"}
    change_build_up(
        trial.shop.people.get(username="nell"), trial.pk, row.pk, name=row.name,
        recipe={**row.version.recipe, "preparation": charred},
    )  # fmt: skip
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/build-ups?build_up={row.pk}")
    bare = page.get_by_role("region", name="Bare panels")
    expect(bare).not_to_contain_text("Char")
    bare.get_by_role("button", name="Add a bare one prepared like Marrowby Tung").click()
    expect(bare).to_contain_text("Bare, as Marrowby Tung")
    expect(bare).to_contain_text("Char, light")
    bare.get_by_role("button", name="Add a bare one").click()
    expect(page.get_by_role("alert")).to_contain_text("is prepared so already")
    bare.get_by_role("button", name="Remove Bare, as Marrowby Tung").click()
    expect(bare).not_to_contain_text("Bare, as")


def test_sections_are_set_by_keys_and_tell_what_they_come_to(
    sign_in: SignIn, shelf: None, trial: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    open_build_ups(page, live_server, trial)
    panel = page.get_by_role("form", name="Sections of each panel")
    expect(panel).to_contain_text("each panel carries its build-up all over")
    panel.get_by_role("button", name="Add a section").focus()
    press(page, "Enter")
    page.get_by_label("Section 2, name").focus()
    page.keyboard.type("waxed")
    tab_to(page, "Layer 2, product")
    pick(page, "Bellw", "Bellwether Soft Wax")
    expect(panel).to_contain_text("the build-up, then Bellwether Soft Wax")
    # Kept in the browser until it is sent, as all that is typed is.
    page.reload()
    expect(page.get_by_label("Section 2, name")).to_have_value("waxed")
    panel.get_by_role("button", name="Keep the sections").focus()
    press(page, "Enter")
    expect(page.get_by_role("status").filter(has_text="The sections are kept.")).to_be_visible()
    trial.refresh_from_db()
    assert trial.sections == ["nothing on top", "waxed"]
    assert [layer["family"] for layer in trial.section_recipes["waxed"]["layers"]] == ["wax"]
    # What it costs and how long it takes stands beside each build-up's name.
    expect(panel.locator("fieldset").nth(1)).to_contain_text(re.compile(r"Marrowby Tung: .*days"))
