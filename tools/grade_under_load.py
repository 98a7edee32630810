"""How long a grade waits for its answer while papers are made and people sign in: the figures in docs/operations.md.

    ./nublet demo                                  # in another terminal
    .venv/bin/python tools/grade_under_load.py http://127.0.0.1:8321

The judge amends grades of the demo's trial one after the other, first undisturbed, then while a keeper asks for eight papers of
masking templates, then while thirty sign in at once. At last eight judges grade a trial of their own at once: 40 spots a minute
each, as a quick hand does, then each the next spot as soon as the last is acknowledged.
"""

from __future__ import annotations

import itertools
import json
import statistics
import sys
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable
from http.cookiejar import CookieJar
from typing import Any

PASSWORD = "lummerdale-halt"
LOOK = "24h"
N_PAPERS, N_SIGNING_IN, N_JUDGES = 8, 30, 8
QUICK_HAND_S = 1.5


class Browser:
    """Someone with cookies of their own."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._jar = CookieJar()
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self._jar))
        self._opener.open(f"{address}/").read()

    def ask(self, path: str, body: Any = None) -> Any:
        """What an address of the API answers."""
        token = next(cookie.value for cookie in self._jar if cookie.name == "csrftoken") or ""
        request = urllib.request.Request(
            f"{self._address}/api/{path}",
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json", "X-CSRFToken": token},
        )
        return json.loads(self._opener.open(request).read())

    def sign_in(self, username: str) -> None:
        """Sign in, coming again while others do."""
        for _ in range(100):
            try:
                self.ask("session", {"username": username, "password": PASSWORD})
                return
            except urllib.error.HTTPError as error:
                if error.code != 503:
                    raise
                time.sleep(0.3)
        raise SystemExit(f"{username} was never let in")


def grade(
    judge: Browser,
    panels: list[Any],
    trial: int,
    seconds: list[float],
    *,
    until: threading.Event,
    pause_s: float = 0.05,
) -> None:
    """Grade spot after spot until told to end, and note how long each answer took."""
    spots = [(panel["code"], spot) for panel in panels for spot in panel["spots"]]
    for number in itertools.count():
        if until.is_set():
            return
        code, spot = spots[number % len(spots)]
        began = time.perf_counter()
        judge.ask(
            f"judging/{trial}/entries",
            {
                "client_id": str(uuid.uuid4()), "panel": code, "exposure": spot["exposure"], "place": spot.get("place", 0),
                "look": LOOK, "kind": "grade", "grade": 1 + number % 5,
            },
        )  # fmt: skip
        seconds.append(time.perf_counter() - began)
        time.sleep(pause_s)


def while_doing(name: str, judge: Browser, panels: list[Any], trial: int, work: Callable[[], None]) -> None:
    """Grade while something is done, and print what it came to."""
    seconds: list[float] = []
    end = threading.Event()
    grading = threading.Thread(target=grade, args=(judge, panels, trial, seconds), kwargs={"until": end})
    grading.start()
    began = time.perf_counter()
    work()
    took = time.perf_counter() - began
    end.set()
    grading.join()
    print(
        f"{name:34} {took:6.1f} s  {len(seconds):4} grades  median {1000 * statistics.median(seconds):4.0f} ms  "
        f"worst {1000 * max(seconds):5.0f} ms"
    )


def make_papers(keeper: Browser, trial: int) -> None:
    """Ask for eight papers at once and wait for the last."""
    jobs = [keeper.ask(f"trials/{trial}/sheets", {"sheet": "templates"})["id"] for _ in range(N_PAPERS)]
    while any(keeper.ask(f"jobs/{job}")["state"] in ("waiting", "running") for job in jobs):
        time.sleep(0.5)
    if not all(keeper.ask(f"jobs/{job}")["state"] == "done" for job in jobs):
        raise SystemExit("not every paper was made")


def storm(address: str) -> None:
    """Thirty sign in at the same moment."""
    waits: list[float] = []

    def one() -> None:
        browser = Browser(address)
        began = time.perf_counter()
        browser.sign_in("tobias")
        waits.append(time.perf_counter() - began)

    threads = [threading.Thread(target=one) for _ in range(N_SIGNING_IN)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    print(f"  signed in after {statistics.median(waits):.1f} s at the median, {max(waits):.1f} s at worst")


def make_trial(keeper: Browser) -> tuple[int, list[str]]:
    """A trial of 24 panels with eight judges, started: its number, and the names by which they sign in."""
    tag = uuid.uuid4().hex[:6]
    names = [f"judge-{tag}-{number}" for number in range(N_JUDGES)]
    judges = [
        keeper.ask(
            "people",
            {"username": name, "display_name": f"Judge {name}", "role": "judge", "password": PASSWORD},
        )["id"]
        for name in names
    ]
    made = keeper.ask(
        "trials",
        {
            "name": f"Eight at once {tag}", "species": ["beech"], "boards_per_species": 6, "judges": judges,
            "times_on_paper": True, "blind_repeats": False,
        },
    )  # fmt: skip
    trial = int(made["trial"]["id"])
    for name, family in (
        ("Oil", "pure-drying-oil"),
        ("Film", "waterborne-clear"),
        ("Shellac", "shellac-dewaxed"),
    ):
        keeper.ask(f"trials/{trial}/build-ups", {"name": name, "family": family, "coats": 2})
    keeper.ask(f"trials/{trial}/design", {})
    keeper.ask(
        f"trials/{trial}/start", {"unmeasured_because": "Nothing is cut: this is a trial of the tool."}
    )
    return trial, names


def eight_at_once(address: str, keeper: Browser, *, pause_s: float, for_s: float) -> None:
    """Eight judges grade one trial, each from a browser of his own."""
    trial, names = make_trial(keeper)
    browsers = [Browser(address) for _ in names]
    for browser, name in zip(browsers, names, strict=True):
        browser.sign_in(name)
    seconds: list[float] = []
    end = threading.Event()
    threads = [
        threading.Thread(
            target=grade,
            args=(browser, browser.ask(f"judging/{trial}/looks/{LOOK}")["panels"], trial, seconds),
            kwargs={"until": end, "pause_s": pause_s},
        )
        for browser in browsers
    ]
    for thread in threads:
        thread.start()
    time.sleep(for_s)
    end.set()
    for thread in threads:
        thread.join()
    in_order = sorted(seconds)
    nearly_all_s = in_order[int(0.95 * len(in_order))]
    print(
        f"{N_JUDGES} judges at once, {pause_s:g} s between spots  {len(seconds):4} grades  "
        f"median {1000 * statistics.median(seconds):4.0f} ms  95 in 100 within {1000 * nearly_all_s:4.0f} ms  "
        f"worst {1000 * in_order[-1]:5.0f} ms"
    )


def main(address: str) -> None:
    """Print the medians and the worst."""
    judge, keeper = Browser(address), Browser(address)
    judge.sign_in("imara")
    keeper.sign_in("nell")
    task = next(each for each in judge.ask("judging") if each["look"]["id"] == LOOK and each["n_panels_left"])
    trial = task["trial_id"]
    panels = judge.ask(f"judging/{trial}/looks/{LOOK}")["panels"]
    while_doing("undisturbed", judge, panels, trial, lambda: time.sleep(10))
    while_doing(f"while {N_PAPERS} papers are made", judge, panels, trial, lambda: make_papers(keeper, trial))
    while_doing(f"while {N_SIGNING_IN} sign in", judge, panels, trial, lambda: storm(address))
    for pause_s in (QUICK_HAND_S, 0.0):
        eight_at_once(address, keeper, pause_s=pause_s, for_s=20)


if __name__ == "__main__":
    main(sys.argv[1])
