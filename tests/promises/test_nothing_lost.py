"""The promise that nothing entered is lost: what the server acknowledged is there, exactly once, whatever is killed under it.

Four clients post grades to a whole running installation while its web process and its database are killed (SIGKILL) again and
again. Each repeats an entry, as the browser does, until it is acknowledged. Five kills by default, 200 with
``NUBLET_FULL_PROMISES=1``.
"""

from __future__ import annotations

import itertools
import json
import os
import signal
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from http.client import HTTPException
from http.cookiejar import CookieJar
from pathlib import Path
from typing import Any
from uuid import uuid4

import MySQLdb  # type: ignore[import-untyped]

from nublet.cli.database import any_free_port
from tests.cli.launched import PASSWORD, Running, until_it_answers
from tests.sizes import FULL

N_CLIENTS = 4
N_POSTS = 500
N_KILLS = 200 if FULL else 5
# The launcher gives up on what dies 40 times within two minutes.
_BETWEEN_S = 3.2 if FULL else 1.0


@dataclass
class Client:
    """A browser's session, that asks again until it is answered."""

    address: str
    jar: CookieJar = field(default_factory=CookieJar)

    def __post_init__(self) -> None:
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))

    def sign_in(self) -> None:
        """As the owner, who judges too."""
        self._once("GET", "/")
        self.ask("POST", "/api/session", {"username": "nell", "password": PASSWORD})

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """The answer, however often it takes; only a refusal ends it."""
        while True:
            try:
                return self._once(method, path, body)
            except urllib.error.HTTPError as error:
                if error.code < 500:
                    raise AssertionError((method, path, error.code, error.read())) from error
            except (OSError, HTTPException):
                pass
            time.sleep(0.05)

    def _once(self, method: str, path: str, body: Any = None) -> Any:
        token = next((cookie.value for cookie in self.jar if cookie.name == "csrftoken"), "") or ""
        request = urllib.request.Request(
            self.address + path,
            method=method,
            data=None if body is None else json.dumps(body).encode(),
            headers={"Content-Type": "application/json", "X-CSRFToken": token},
        )
        with self.opener.open(request, timeout=10) as answer:
            content = answer.read()
        return json.loads(content) if answer.headers["Content-Type"].startswith("application/json") else None


def make_trial(client: Client) -> int:
    """Six boards with three finishes and bare wood: 24 panels of six spots at two looks."""
    made = client.ask(
        "POST",
        "/api/trials",
        {
            "name": "Saloon tables",
            "species": ["beech"],
            "boards_per_species": 6,
            "times_on_paper": True,
            "blind_repeats": False,
        },
    )
    number = int(made["trial"]["id"])
    for name, family in (
        ("Oil", "pure-drying-oil"),
        ("Film", "waterborne-clear"),
        ("Shellac", "shellac-dewaxed"),
    ):
        client.ask("POST", f"/api/trials/{number}/build-ups", {"name": name, "family": family, "coats": 2})
    client.ask("POST", f"/api/trials/{number}/design", {})
    client.ask("POST", f"/api/trials/{number}/start", {"unmeasured_because": "They are cut already"})
    return number


def test_every_acknowledged_entry_is_there_exactly_once_after_kills(opened: Path) -> None:
    var = opened
    running = Running(var, f"--port={any_free_port()}")
    try:
        running.let_it_talk()
        first = Client(running.address)
        first.sign_in()
        trial = make_trial(first)
        sitting = first.ask("GET", f"/api/judging/{trial}/looks/24h")
        spots = [(panel["code"], spot["exposure"]) for panel in sitting["panels"] for spot in panel["spots"]]
        assert len(spots) == 24 * 6
        acknowledged: list[str] = []
        sent: set[str] = set()
        faults: list[BaseException] = []
        numbers = itertools.count()
        is_over = threading.Event()

        def post_all(client: Client) -> None:
            try:
                client.sign_in()
                # On and on until all kills are done, and no fewer than were promised.
                while (number := next(numbers)) < N_POSTS or not is_over.is_set():
                    panel, exposure = spots[number % len(spots)]
                    entry = {
                        "client_id": str(uuid4()),
                        "panel": panel,
                        "exposure": exposure,
                        "look": ("lifted", "24h")[number // len(spots) % 2],
                        "kind": "grade",
                        "value": 1 + number % 5,
                    }
                    sent.add(entry["client_id"])
                    client.ask("POST", f"/api/judging/{trial}/entries", entry)
                    acknowledged.append(entry["client_id"])
            except BaseException as error:
                faults.append(error)

        threads = [
            threading.Thread(target=post_all, args=(Client(running.address),)) for _ in range(N_CLIENTS)
        ]
        for thread in threads:
            thread.start()
        pid_files = [var / "shop" / "web.pid", var / "shop" / "db" / "server.pid"]
        n_killed = 0
        while n_killed < N_KILLS:
            time.sleep(_BETWEEN_S)
            pid_file = pid_files[n_killed % len(pid_files)]
            try:
                os.kill(int(pid_file.read_text()), signal.SIGKILL)
            except (ProcessLookupError, ValueError, FileNotFoundError):
                # It is being started again just now.
                continue
            n_killed += 1
        is_over.set()
        until_it_answers(running.address)
        for thread in threads:
            thread.join(120)
        assert faults == []
        assert not any(thread.is_alive() for thread in threads)
        assert len(acknowledged) >= N_POSTS
        assert set(acknowledged) == sent

        kept = entries_in(var)
        assert sorted(kept) == sorted(each.replace("-", "") for each in acknowledged)
        assert len(set(kept)) == len(kept)
        print(f"\n{n_killed} kills, {len(acknowledged)} entries acknowledged, all there exactly once")
    finally:
        running.stop(signal.SIGINT)


def entries_in(var: Path) -> list[str]:
    """The ids of all entries in the installation's database, without their dashes."""
    access = json.loads((var / "shop" / "db" / "access.json").read_text())
    connection = MySQLdb.connect(
        host="127.0.0.1", port=access["port"], user="nublet", password=access["password"], database="nublet"
    )
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT client_id FROM readings_readingentry")
            return [str(row[0]).replace("-", "") for row in cursor.fetchall()]
    finally:
        connection.close()
