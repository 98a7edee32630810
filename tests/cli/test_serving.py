"""``./nublet start`` as a whole process: up, used, stopped, up again with its data."""

from __future__ import annotations

import json
import os
import re
import signal
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from collections import deque
from http.cookiejar import CookieJar
from pathlib import Path

import pytest

from nublet.cli import processes
from nublet.cli.database import any_free_port, port_is_free
from nublet.cli.services import QUEUES

ROOT = Path(__file__).parents[2]
PASSWORD = "a-long-enough-one"


class Running:
    """A launcher process and what it printed until it was ready."""

    def __init__(self, var: Path, *arguments: str, **more: str) -> None:
        env = {
            k: v
            for k, v in os.environ.items()
            if k not in ("DATABASE_URL", "NUBLET_SECRET_KEY", "PYTHONPATH")
        }
        self.process = subprocess.Popen(
            [sys.executable, str(ROOT / "nublet"), "start", *arguments],
            env={**env, "NUBLET_VAR": str(var), **more},
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )
        self.printed = ""
        self.reader: threading.Thread | None = None
        assert self.process.stdout is not None
        for line in self.process.stdout:
            self.printed += line
            if "Ctrl-C stops" in line:
                break
        found = re.search(r"ready at (http://127\.0\.0\.1:\d+)", self.printed)
        self.address = found[1] if found else ""

    def let_it_talk(self) -> None:
        """Read all that it still prints and forget it: a launcher whose pipe is full waits for its reader."""
        assert self.process.stdout is not None
        self.reader = threading.Thread(target=deque, args=(self.process.stdout, 0), daemon=True)
        self.reader.start()

    def stop(self, how: signal.Signals) -> int:
        self.process.send_signal(how)
        if self.reader is None:
            self.process.communicate(timeout=60)
        else:
            self.process.wait(timeout=60)
            self.reader.join(timeout=60)
            assert self.process.stdout is not None
            self.process.stdout.close()
        return self.process.returncode


@pytest.fixture
def var(tmp_path: Path) -> Path:
    return tmp_path / "var"


def sign_in(address: str) -> dict[str, object]:
    jar = CookieJar()
    opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
    page = opener.open(f"{address}/").read().decode()
    script = re.search(r'src="(/static/assets/[^"]+\.js)"', page)
    assert script
    # The built front end is served with names that may be kept for ever, and compressed when asked.
    asset = opener.open(urllib.request.Request(address + script[1], headers={"Accept-Encoding": "gzip"}))
    assert "immutable" in asset.headers["Cache-Control"]
    assert asset.headers["Content-Encoding"] == "gzip"
    token = next(cookie.value for cookie in jar if cookie.name == "csrftoken")
    request = urllib.request.Request(
        f"{address}/api/session",
        data=json.dumps({"username": "nell", "password": PASSWORD}).encode(),
        headers={"Content-Type": "application/json", "X-CSRFToken": token or ""},
    )
    answer: dict[str, object] = json.loads(opener.open(request).read())
    return answer


def test_start_serve_stop_and_start_again(var: Path) -> None:
    port = any_free_port()
    first = Running(
        var,
        f"--port={port}",
        NUBLET_SHOP="Tarn Yard",
        NUBLET_OWNER="nell",
        NUBLET_OWNER_NAME="Nell",
        NUBLET_OWNER_PASSWORD=PASSWORD,
    )
    try:
        assert first.address == f"http://127.0.0.1:{port}", first.printed
        assert "Nell may now sign in as nell" in first.printed
        assert sign_in(first.address)["role"] == "owner"
        kept = json.loads((var / "shop" / "db" / "access.json").read_text())
        assert not port_is_free(kept["port"])
    finally:
        code = first.stop(signal.SIGINT)
    assert code == 130
    assert port_is_free(port)
    assert port_is_free(kept["port"])

    # Its port is taken now: it says so and takes another. The owner is still there, and is not asked for again.
    with socket.socket() as taken:
        taken.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        taken.bind(("127.0.0.1", port))
        taken.listen()
        again = Running(var, f"--port={port}")
        try:
            assert f"Port {port} is taken" in again.printed
            assert again.address != first.address
            assert "may now sign in" not in again.printed
            assert sign_in(again.address)["display_name"] == "Nell"
        finally:
            assert again.stop(signal.SIGTERM) == 130


def test_without_an_owner_or_a_terminal_it_says_what_to_set(var: Path) -> None:
    refused = Running(var)
    refused.process.communicate(timeout=60)
    assert refused.process.returncode == 1
    assert "Set NUBLET_SHOP, NUBLET_OWNER" in refused.printed
    assert "Traceback" not in refused.printed


def until_it_answers(address: str, *, within_s: float = 60) -> float:
    """Seconds until the health page answers again."""
    began = time.monotonic()
    while time.monotonic() - began < within_s:
        try:
            with urllib.request.urlopen(f"{address}/healthz", timeout=2) as page:
                if page.status == 200:
                    return time.monotonic() - began
        except OSError:
            time.sleep(0.1)
    raise AssertionError(f"{address} did not come back within {within_s} s")


OWNER = {"NUBLET_SHOP": "Tarn Yard", "NUBLET_OWNER": "nell", "NUBLET_OWNER_PASSWORD": PASSWORD}


def test_after_a_killed_launcher_the_next_start_comes_up(var: Path) -> None:
    """Killed, it can stop nothing: what it left behind is found and ended, and the data is there."""
    port = any_free_port()
    for _ in range(int(os.environ.get("NUBLET_STARTS", "1"))):
        running = Running(var, f"--port={port}", **OWNER)
        assert running.address == f"http://127.0.0.1:{port}", running.printed
        running.process.kill()
        running.process.communicate()
    last = Running(var, f"--port={port}")
    try:
        assert last.address == f"http://127.0.0.1:{port}", last.printed
        assert sign_in(last.address)["role"] == "owner"
    finally:
        last.stop(signal.SIGINT)


def test_what_dies_is_started_again_and_said_and_a_closed_terminal_stops_everything(var: Path) -> None:
    running = Running(var, f"--port={any_free_port()}", **OWNER)
    try:
        database, web = var / "shop" / "db" / "server.pid", var / "shop" / "web.pid"
        for pid_file in (database, web, var / "shop" / "papers.pid", database):
            was = pid_file.read_text()
            os.kill(int(was), signal.SIGKILL)
            while pid_file.read_text() == was:
                time.sleep(0.05)
            until_it_answers(running.address)
        assert sign_in(running.address)["role"] == "owner"
    finally:
        running.process.send_signal(signal.SIGHUP)
        said, _ = running.process.communicate(timeout=60)
    assert running.process.returncode == 130
    assert port_is_free(int(running.address.rsplit(":", 1)[1]))
    assert not processes.running_with(var / "shop" / "db" / "server.pid", "mariadbd")
    assert not [q for q in QUEUES if processes.running_with(var / "shop" / f"{q}.pid", "manage.py")]
    assert said.count("The database has died; starting it again.") == 2
    assert said.count("The application has died; starting it again.") == 1
    assert said.count("The worker for papers has died; starting it again.") == 1
    assert "The worker for plans has died" not in said
