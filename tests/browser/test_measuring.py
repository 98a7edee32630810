"""Measures from the instrument, photographs, and practice, by keyboard, on a thin network and on a phone."""

from __future__ import annotations

import io
import re
import time
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from playwright.sync_api import BrowserContext, Page, expect

from nublet.instruments.simulated import SimulatedBench
from nublet.web.bench.bench_actions import set_bench
from nublet.web.designs.actions import start
from nublet.web.people.models import Person
from nublet.web.photographs.models import Photograph
from nublet.web.practice.models import Drill
from nublet.web.readings.models import Reading
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn
from tests.swatches import make_swatches


@pytest.fixture(autouse=True)
def _folder(settings: Any, tmp_path: Path) -> None:
    settings.PHOTOGRAPHS = tmp_path / "photographs"


@pytest.fixture
def swatches(owner: Person, judge: Person) -> Trial:
    """On one board."""
    return make_swatches(owner, judge, boards=1)


def picture(colour: str) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (640, 400), colour).save(out, "JPEG")
    return out.getvalue()


def test_colours_are_read_by_one_key_a_row_and_tell_their_difference_at_once(
    sign_in: SignIn, owner: Person, swatches: Trial, live_server: Any
) -> None:
    with SimulatedBench(seed=4) as bench:
        set_bench(owner, {"instruments": {kind: bench.addresses[kind] for kind in ("colour", "gloss")}})
        colour = bench.instruments["colour"]
        page = sign_in("nell")

        def measure_all(look: str, lightness: float, counts: list[int]) -> None:
            """Three panels; ``counts`` are how many values each table of one gives."""
            colour.put = {"l": lightness, "a": 8, "b": 25}
            page.goto(f"{live_server.url}/trials/{swatches.pk}/read/{look}?by=hands")
            n_saved = 0
            for count in 3 * counts:
                expect(page.locator("[data-cell='0-0']")).to_be_focused()
                for row in range(3):
                    page.keyboard.press("r")
                    expect(page.locator(f"[data-cell='{row}-0']")).not_to_have_value("")
                page.get_by_role("button", name="Keep").click()
                n_saved += count
                expect(page.get_by_text(f"All {n_saved} readings saved")).to_be_visible()

        measure_all("bare", 72, [3])
        later = next(row.id for row in protocol_of(swatches).all_looks if not row.is_before)
        # Colour, then gloss along and across the grain.
        measure_all(later, 60, [3, 1, 1])
        # What followed is told with the panel that it was measured on.
        expect(page.locator(".follows")).to_contain_text("Colour change ΔE00")
        # What cannot be read never gets into the table, and the reason is said.
        colour.fault = "garbled"
        page.keyboard.press("[")
        page.keyboard.press("r")
        expect(page.get_by_role("alert")).to_contain_text("its lines come damaged")
    readings = Reading.objects.filter(response="colour-l", look=later)
    assert {len(reading.singles) for reading in readings} == {3}
    assert all(reading.value is not None and 59 < reading.value < 61 for reading in readings)


def test_photographs_wait_without_a_network_and_are_held_against_each_other(
    sign_in: SignIn, trial: Trial, owner: Person, live_server: Any, context: BrowserContext
) -> None:
    start(owner, trial.pk)
    page = sign_in("imara")
    page.goto(f"{live_server.url}/trials/{trial.pk}/read/lifted")
    chooser = page.locator(".photos input[type=file]")

    def take(colour: str, name: str = "ring.jpg") -> None:
        chooser.set_input_files({"name": name, "mimeType": "image/jpeg", "buffer": picture(colour)})

    take("tan")
    expect(page.locator(".thumb img")).to_have_count(1)
    exposure = page.locator(".spot.selected").get_attribute("data-exposure")
    code = page.locator("h1 .mono").inner_text()
    # A text by the name of a picture is refused by the server, in words.
    chooser.set_input_files({"name": "a.jpg", "mimeType": "image/jpeg", "buffer": b"grade,4"})
    expect(page.get_by_text("no photograph that can be read")).to_be_visible()
    page.get_by_role("button", name="I have seen it").click()

    page.goto(f"{live_server.url}/trials/{trial.pk}/read/24h")
    for _ in range(12):
        if page.locator("h1 .mono").inner_text() == code:
            break
        page.keyboard.press("]")
    page.locator(f"[data-exposure={exposure}]").first.click()
    # At the next look nothing of the one before leads the eye.
    expect(page.locator(".thumb img")).to_have_count(0)
    context.set_offline(True)
    take("brown")
    expect(page.get_by_text("1 photograph kept here, on the way")).to_be_visible()
    context.set_offline(False)
    expect(page.locator(".thumb img")).to_have_count(1)
    expect(page.get_by_text("kept here, on the way")).to_have_count(0)
    page.keyboard.press("3")
    page.locator(f"[data-exposure={exposure}]").first.click()
    page.get_by_role("button", name="Before and after").click()
    expect(page.locator("dialog img")).to_have_count(2)
    edge = page.locator("dialog input[type=range]")
    edge.focus()
    page.keyboard.press("ArrowRight")
    expect(page.locator("dialog .over")).to_have_attribute("style", re.compile(r"inset\(0(px)? 49%"))
    page.keyboard.press("Escape")
    expect(page.locator("dialog")).to_have_count(0)
    # No key of the dialog was taken for a grade.
    assert [float(value or 0) for value in Reading.objects.values_list("value", flat=True)] == [3]
    assert Photograph.objects.count() == 2


def test_a_drill_by_keyboard_from_the_first_mark_to_how_it_went(
    sign_in: SignIn, judge: Person, live_server: Any
) -> None:
    page = sign_in("imara")
    page.goto(f"{live_server.url}/practice")
    page.get_by_label("marks").fill("5")
    page.get_by_role("button", name="Begin").click()
    for n in range(5):
        expect(page.get_by_text(f"Mark {n + 1} of 5")).to_be_visible()
        shown = lit(page)
        page.keyboard.press("v")
        expect(page.get_by_text("glancing, 12° over the surface")).to_be_visible()
        assert lit(page) != shown
        page.keyboard.press("4")
        expect(page.locator(".truth")).to_be_visible()
        page.keyboard.press("Enter")
    expect(page.get_by_text("How it went: grade")).to_be_visible()
    expect(page.get_by_text("of 5 marks read as they were drawn")).to_be_visible()
    assert Drill.objects.get().finished_at is not None
    page.get_by_label("Let the evidence of the trials").check()
    page.reload()
    expect(page.get_by_label("Let the evidence of the trials")).to_be_checked()


def lit(page: Page) -> int:
    """A number of what the lamp shows now."""
    found: int = page.evaluate(
        """() => {
            const canvas = document.querySelector('canvas')
            const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height)
            let sum = 0
            for (let i = 0; i < data.length; i += 97) sum = (sum * 31 + data[i]) % 1000003
            return sum
        }"""
    )
    return found


def test_what_each_step_looks_like_is_one_key_away_and_the_keys_go_on_grading(
    sign_in: SignIn, trial: Trial, owner: Person, live_server: Any, context: BrowserContext
) -> None:
    start(owner, trial.pk)
    page = sign_in("imara")
    page.goto(f"{live_server.url}/trials/{trial.pk}/read/24h")
    expect(page.locator("svg.panel")).to_be_visible()
    page.wait_for_load_state("networkidle")
    # They were fetched with the sitting: no network is needed when they are wanted.
    context.set_offline(True)
    page.keyboard.press("w")
    expect(page.locator(".steps canvas")).to_have_count(10)
    context.set_offline(False)
    page.keyboard.press("2")
    expect(page.get_by_text("All 1 readings saved")).to_be_visible()
    page.keyboard.press("w")
    expect(page.locator("svg.panel")).to_be_visible()


def test_twenty_spots_a_minute_are_no_hurry(
    sign_in: SignIn, trial: Trial, owner: Person, live_server: Any
) -> None:
    """A key a spot and nothing between: what the page takes is told, and only that all arrived is asserted."""
    start(owner, trial.pk)
    page = sign_in("imara")
    page.goto(f"{live_server.url}/trials/{trial.pk}/read/24h")
    expect(page.locator("svg.panel")).to_be_visible()
    began, n_spots = time.monotonic(), 36
    for n in range(n_spots):
        page.keyboard.press("54321"[n % 5])
    expect(page.get_by_text(f"All {n_spots} readings saved")).to_be_visible()
    print(f"\n{60 * n_spots / (time.monotonic() - began):.0f} spots a minute, saved")
    assert Reading.objects.filter(value__isnull=False).count() == n_spots
