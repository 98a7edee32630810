"""Take the pictures in docs/screenshots from a running demo.

.venv/bin/python tools/screenshots.py [ADDRESS] [FOLDER]
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

ARGUMENTS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
    "--disable-component-update --disable-sync"
).split()
PASSWORD = "lummerdale-halt"


def sign_in(browser: Browser, address: str, who: str, *, width: int = 1280, height: int = 800) -> Page:
    """Open a page signed in as one of the demo's people."""
    page = browser.new_context(viewport={"width": width, "height": height}).new_page()
    page.goto(f"{address}/sign-in")
    page.fill("#username", who)
    page.fill("#password", PASSWORD)
    page.click("button:has-text('Sign in')")
    page.wait_for_url(f"{address}/")
    return page


def main(address: str, folder: Path) -> None:
    """Take one picture of each main view."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)

        def shoot(page: Page, path: str, name: str, wait: str) -> None:
            page.goto(f"{address}{path}")
            page.wait_for_selector(wait)
            page.wait_for_load_state("networkidle")
            page.screenshot(path=str(folder / f"{name}.png"))

        nell = sign_in(browser, address, "nell")
        trials = nell.request.get(f"{address}/api/trials").json()
        ids = {item["name"]: item["id"] for item in trials}
        saloon, counter, racks = ids["Saloon tables"], ids["Buffet counter"], ids["Luggage racks"]
        boards = ids["Galley boards"]
        shoot(nell, f"/trials/{saloon}/question", "question", "#name")
        shoot(nell, f"/trials/{racks}/protocol", "protocol", ".line")
        shoot(nell, "/shelf/protocols", "protocols", "main a")
        shoot(nell, f"/trials/{ids['Halt benches']}/build-ups", "factors", ".grid")
        nell.goto(f"{address}/trials/{racks}/build-ups")
        nell.click(".one:has-text('Tung, shellac, satin')")
        nell.wait_for_load_state("networkidle")
        nell.evaluate("document.querySelector('main').scrollTo(0, 235)")
        nell.wait_for_timeout(400)
        nell.screenshot(path=str(folder / "build-ups.png"))
        nell.click("a:has-text('Sheet')")
        nell.wait_for_selector(".step")
        nell.screenshot(path=str(folder / "sheet.png"))
        shoot(nell, "/shelf/products", "shelf", ".product")
        shoot(nell, "/calculators/cure", "calculators", ".answer")
        shoot(nell, f"/trials/{racks}/design", "design", ".answer .first")
        shoot(nell, f"/trials/{counter}/prepare", "prepare", ".board-row")
        nell.goto(f"{address}/trials/{boards}/coat-and-cure")
        nell.click(".day:not(.done)")
        nell.click("button:has-text('3 hours')")
        nell.wait_for_selector(".turns")
        nell.wait_for_load_state("networkidle")
        nell.evaluate("document.querySelector('main').scrollTo(0, 40)")
        nell.wait_for_timeout(400)
        nell.screenshot(path=str(folder / "coat-and-cure.png"))
        shoot(nell, f"/trials/{ids['Refreshment trays']}/expose", "expose", "section.lying")
        shoot(nell, f"/trials/{ids['Colour swatches']}/read/cured?by=hands", "measure", ".measures")
        shoot(nell, "/bench", "bench", ".hands")
        shoot(nell, f"/trials/{saloon}/evidence", "evidence", "table.grid")
        shoot(nell, f"/trials/{saloon}/ranking", "ranking", ".rows")
        tobias = sign_in(browser, address, "tobias")
        shoot(tobias, "/", "today", ".task")
        shoot(tobias, f"/trials/{counter}/read/24h", "read", "svg.panel")
        tobias.goto(f"{address}/practice")
        tobias.click("button:has-text('Begin')")
        tobias.wait_for_selector(".drill canvas")
        tobias.keyboard.press("v")
        tobias.wait_for_timeout(300)
        tobias.screenshot(path=str(folder / "practice.png"))
        browser.close()


if __name__ == "__main__":
    main(
        sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8321",
        Path(sys.argv[2] if len(sys.argv) > 2 else "docs/screenshots"),
    )
