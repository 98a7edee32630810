"""Every main screen: readable by a screen reader's rules, no sideways scroll, and plain words when refused."""

from __future__ import annotations

from collections import Counter
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from playwright.sync_api import Page, Request, expect

from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.designs.actions import start
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.shelf.actions import add_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn, choose_candidate

AXE = Path(__file__).parents[2] / "frontend" / "node_modules" / "axe-core" / "axe.min.js"
SHOP = {
    "/": ".task",
    "/trials": ".trial",
    "/trials/new": "#name",
    "/people": "#person-name",
    "/shelf/products": ".product",
    "/shelf/products/new": "#product-name",
    "/shelf/products/{p}": "#batch-number",
    "/shelf/woods": ".thing",
    "/shelf/agents": ".thing",
    "/shelf/protocols": ".protocol",
    "/shelf/protocols/handle": ".line",
    "/shelf/families": ".family",
    "/calculators/mix": ".answer",
    "/calculators/cure": ".answer",
    "/bench": ".hands",
    "/practice": ".begin",
}
TRIAL = {
    "/trials/{id}/question": "#name",
    "/trials/{id}/protocol": ".line",
    "/trials/{id}/candidates": ".candidate",
    "/trials/{id}/build-ups": ".editor",
    "/trials/{id}/build-ups/{b}/sheet": ".step",
    "/trials/{id}/design": ".piece",
    "/trials/{id}/prepare": ".board-row",
    "/trials/{id}/coat-and-cure": ".cards",
    "/trials/{id}/read/24h": "svg.panel",
    "/trials/{id}/evidence": ".matrix",
    "/trials/{id}/ranking": ".rows",
}


@pytest.fixture
def graded(trial: Trial, owner: Person, judge: Person) -> Trial:
    """Graded at 24 h, and planned all the same."""
    start(owner, trial.pk)
    for panel in TrialPanel.objects.filter(trial=trial).select_related("build_up", "board"):
        for n, spot in enumerate(panel.spots.all()):
            grade = {"Bare control": 1, "Marrowby Tung": 3}.get(panel.build_up.name, 4) + (
                n + (panel.board_id or 0)
            ) % 2
            enter_reading(
                judge,
                trial.pk,
                BenchEntry(
                    client_id=uuid4(),
                    panel=panel.code,
                    exposure=spot.exposure,
                    look="24h",
                    kind="grade",
                    value=grade,
                ),
            )
    hours = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "from": "00:00", "to": "24:00"}
    set_bench(owner, {"hands": [{"name": "Nell", "hours": [hours]}]})
    make(ask_for_plan(owner, trial.pk, weighs=True), limit_s=0.2)
    return trial


def addresses(trial: Trial, screens: dict[str, str]) -> dict[str, str]:
    """The screens' addresses, and what shows that each is there."""
    candidate = trial.build_ups.filter(is_control=False)[0].pk
    product = add_item(
        trial.shop.people.get(username="nell"), PRODUCTS, {"name": "Soft Wax", "family": "wax"}
    )
    numbers = {"id": trial.pk, "b": candidate, "p": product.pk}
    return {path.format(**numbers): shown for path, shown in screens.items()}


def violations(page: Page) -> list[str]:
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    found = page.evaluate(
        "axe.run(document, {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']})"
    )
    return [f"{v['id']}: {v['help']} {[n['target'] for n in v['nodes'][:3]]}" for v in found["violations"]]


def sideways(page: Page) -> int:
    """How much wider than its frame the screen is, pixels."""
    found: int = page.evaluate(
        "Math.max(0, ...[document.documentElement, ...document.querySelectorAll('main, .scroll')].map("
        "(e) => e.scrollWidth - e.clientWidth))"
    )
    return found


def look_at(page: Page, address: str, shown: str) -> None:
    page.goto(address)
    expect(page.locator(shown).first).to_be_visible()
    page.wait_for_load_state("networkidle")


class Asked:
    """What a page asks the server for while it is opened."""

    def __init__(self, page: Page) -> None:
        self.times: Counter[str] = Counter()
        page.wait_for_load_state("networkidle")
        page.on("request", self._count)

    def _count(self, request: Request) -> None:
        if "/api/" in request.url:
            self.times[request.url.partition("?")[0]] += 1

    def twice(self) -> list[str]:
        """What was asked for more than once since the last time; something was."""
        found = [f"{url} was asked for {n} times" for url, n in self.times.items() if n > 1]
        assert self.times
        self.times.clear()
        return found


@pytest.mark.parametrize("screens", [SHOP, TRIAL], ids=["shop", "trial"])
def test_every_screen_is_accessible_fits_its_width_and_asks_for_each_thing_once(
    screens: dict[str, str], sign_in: SignIn, graded: Trial, live_server: Any
) -> None:
    page = sign_in("nell")
    page.evaluate("localStorage.setItem('nublet.theme', 'light')")
    asked = Asked(page)
    faults: dict[str, list[str]] = {}
    for path, shown in addresses(graded, screens).items():
        page.set_viewport_size({"width": 1280, "height": 800})
        look_at(page, live_server.url + path, shown)
        if twice := asked.twice():
            faults[path] = twice
        for theme, width in (("light", 1280), ("dark", 768)):
            page.set_viewport_size({"width": width, "height": 800})
            page.evaluate(
                f"document.documentElement.classList.toggle('dark', {str(theme == 'dark').lower()})"
            )
            found = [f"{over} px too wide"] if (over := sideways(page)) else []
            if found := found + violations(page):
                faults[f"{path}, {theme}, {width}"] = found
    assert faults == {}


def test_a_judges_page_asks_for_each_thing_once(sign_in: SignIn, graded: Trial, live_server: Any) -> None:
    page = sign_in("imara")
    asked = Asked(page)
    for path in ("/", "/trials/{id}/read/24h"):
        look_at(page, live_server.url + path.format(id=graded.pk), (SHOP | TRIAL)[path])
        assert asked.twice() == [], path


def test_on_a_phone_what_there_is_to_grade_and_grading_fit(
    sign_in: SignIn, graded: Trial, live_server: Any
) -> None:
    page = sign_in("nell", width=390)
    for path in ("/", "/trials/{id}/read/24h"):
        look_at(page, live_server.url + path.format(id=graded.pk), (SHOP | TRIAL)[path])
        assert sideways(page) == 0, path


def test_an_impossible_design_says_why_and_what_would_do(
    sign_in: SignIn, owner: Person, live_server: Any
) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/new")
    page.fill("#name", "Short pieces")
    page.fill("#length", "250")
    page.keyboard.press("Tab")
    # A reload loses nothing of a form that was not sent.
    page.reload()
    expect(page.locator("#name")).to_have_value("Short pieces")
    expect(page.locator("#length")).to_have_value("250")
    page.click("text=Make the trial")
    page.fill("#build-up-name", "Marrowby Tung")
    page.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("alert")).to_have_text("Choose a product, or at least the family of the finish.")
    expect(page.locator("#build-up-name")).to_have_value("Marrowby Tung")
    choose_candidate(page, "Pure drying oil")
    page.get_by_role("button", name="Add", exact=True).click()
    page.click("text=On to the build-ups")
    page.click("text=On to the design")
    page.click("text=Draw lots")
    expect(page.get_by_role("alert")).to_contain_text("6 spots do not fit on a panel of 250 × 150 mm")
    expect(page.get_by_role("alert")).to_contain_text("355 mm long would do")
    assert not TrialPanel.objects.exists()


def test_pages_that_are_not_there(sign_in: SignIn, owner: Person, live_server: Any) -> None:
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/999999/evidence")
    expect(page.get_by_role("alert")).to_contain_text("it is not yours to see")
    page.goto(f"{live_server.url}/no/such/page")
    expect(page.get_by_role("heading", name="There is no such page")).to_be_visible()


def test_wrong_password(page: Page, owner: Person, live_server: Any) -> None:
    page.goto(f"{live_server.url}/trials")
    page.fill("#username", "nell")
    page.fill("#password", "wrong")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("do not belong together")
    page.fill("#password", "a-long-enough-one")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Trials", exact=True)).to_be_visible()
