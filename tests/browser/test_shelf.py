"""The shelf at the screen: a product kept and found, a file looked over first, the network cut."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import expect

from nublet.web.people.models import Person
from nublet.web.shelf.actions import add_item
from nublet.web.shelf.adapters import PRODUCTS, to_product
from nublet.web.shelf.models import ProductBatch, ShelfProduct, ShelfSpecies
from tests.browser.conftest import SignIn


@pytest.fixture
def wax(owner: Person) -> ShelfProduct:
    return add_item(owner, PRODUCTS, {"name": "Bellwether Soft Wax", "family": "wax", "maker": "Bellwether"})


def test_a_product_is_kept_with_label_findings_and_batches(
    sign_in: SignIn, owner: Person, live_server: Any
) -> None:
    page = sign_in("nell")
    page.get_by_role("link", name="Shelf").click()
    expect(page.get_by_role("heading", name="Nothing on the shelf yet")).to_be_visible()
    page.get_by_role("link", name="New product").first.click()
    page.fill("#product-name", "Fellgate Hardoil 2K")
    page.click("#product-family")
    page.get_by_role("option", name="Hardwax oil with hardener").click()
    # What the label does not say is usual for the family, and shown as such.
    expect(page.locator("#label-spread_first_m2_per_l")).to_have_attribute("placeholder", "usual 30")
    page.fill("#label-wipe_off_from_min", "15")
    page.fill("#label-wipe_off_to_min", "3")
    page.fill("#found-spread_m2_per_l", "26,5")
    # A family that is mixed begins with its two parts.
    expect(page.locator("#part-name-1")).to_have_value("Hardener")
    page.click("text=Add a container")
    page.fill("#box-0-0", "900")
    page.fill("#box-0-1", "100")
    page.fill("#box-0-price", "98")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("Turn them round")
    page.reload()
    expect(page.locator("#product-name")).to_have_value("Fellgate Hardoil 2K")
    page.fill("#label-wipe_off_from_min", "three")
    page.get_by_role("button", name="Save").click()
    # The browser itself points at a number that is none; nothing is sent.
    assert page.evaluate("document.activeElement.id") == "label-wipe_off_from_min"
    assert not ShelfProduct.objects.exists()
    page.fill("#label-wipe_off_from_min", "3")
    page.fill("#label-wipe_off_to_min", "15")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("status").filter(has_text="is on the shelf")).to_be_visible()
    expect(page.get_by_text("98.00 /L ready to use")).to_be_visible()
    product = to_product(ShelfProduct.objects.get())
    assert product.wipe_off_min == (3, 15)
    assert product.found.spread_m2_per_l == 26.5
    assert [part.name for part in product.parts] == ["Base", "Hardener"]
    page.fill("#batch-number", "FH-2611")
    page.fill("#batch-best", "2020-01-31")
    page.get_by_role("button", name="Write down").click()
    expect(page.locator("tr", has_text="FH-2611")).to_contain_text("2020-01-31, past")
    assert ProductBatch.objects.count() == 1


def test_search_follows_the_typing(
    sign_in: SignIn, wax: ShelfProduct, owner: Person, live_server: Any
) -> None:
    add_item(owner, PRODUCTS, {"name": "Marrowby Tung", "family": "pure-drying-oil"})
    page = sign_in("nell")
    page.goto(f"{live_server.url}/shelf/products")
    expect(page.locator(".product")).to_have_count(2)
    page.locator("#product-search").press_sequentially("drying")
    expect(page.locator(".product")).to_have_count(1)
    expect(page.locator(".product")).to_contain_text("Marrowby Tung")
    page.fill("#product-search", "")
    expect(page.locator(".product")).to_have_count(2)
    page.click("text=Bellwether Soft Wax")
    page.get_by_role("button", name="Duplicate").click()
    expect(page.get_by_role("heading", name="Bellwether Soft Wax copy")).to_be_visible()
    page.get_by_role("button", name="Archive").click()
    expect(page.get_by_role("status").filter(has_text="In the archive")).to_be_visible()
    assert ShelfProduct.objects.filter(is_archived=True).count() == 1


def test_a_file_is_looked_over_before_anything_is_kept(
    sign_in: SignIn, wax: ShelfProduct, live_server: Any, tmp_path: Path
) -> None:
    rows = ["name,family,label.cure_d", "Tung A,pure-drying-oil,25", "Tung B,paint,25", "Tung C,wax,soon"]
    file = tmp_path / "shelf.csv"
    file.write_text("\n".join(rows))
    page = sign_in("nell")
    page.goto(f"{live_server.url}/shelf/products")
    page.set_input_files("input[type=file]", file)
    expect(page.locator(".import")).to_contain_text("1 row is good, 2 are not. Nothing is kept yet.")
    faults = page.locator(".faults tr")
    expect(faults.nth(0)).to_contain_text("Line 3, family")
    expect(faults.nth(1)).to_contain_text("'soon' is not a number")
    assert ShelfProduct.objects.count() == 1
    page.get_by_role("button", name="Keep the 1 good row").click()
    expect(page.locator(".import")).to_contain_text("1 product put on the shelf. 2 rows were left out.")
    expect(page.locator(".product")).to_have_count(2)
    with page.expect_download() as download:
        page.get_by_role("link", name="Export CSV").click()
    assert "Tung A" in Path(download.value.path()).read_text()


def test_a_cut_network_says_so_and_keeps_what_was_typed(
    sign_in: SignIn, wax: ShelfProduct, live_server: Any
) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/shelf/products/{wax.pk}")
    page.fill("#product-note", "Bought at the fair")
    page.context.set_offline(True)
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("Check the network; what you entered is kept")
    expect(page.locator("#product-note")).to_have_value("Bought at the fair")
    page.context.set_offline(False)
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("status").filter(has_text="is on the shelf")).to_be_visible()
    assert to_product(ShelfProduct.objects.get()).note == "Bought at the fair"


def test_a_wood_is_copied_and_made_ones_own(sign_in: SignIn, owner: Person, live_server: Any) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/shelf/woods")
    page.fill("#wood-search", "elm")
    page.get_by_role("button", name="Copy Elm to change it").click()
    page.fill("#wood-name", "Elm")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("ships with Nublet")
    page.fill("#wood-name", "Bog elm")
    page.fill("#wood-density", "640")
    page.get_by_role("button", name="Save").click()
    expect(page.locator(".thing", has_text="Bog elm")).to_contain_text("640 kg/m³")
    assert ShelfSpecies.objects.get().key == "bog-elm"
