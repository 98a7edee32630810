"""``./nublet start`` as a process of its own, and an installation that was started once and is copied by who needs one."""

from __future__ import annotations

import fcntl
import json
import os
import re
import shutil
import signal
import subprocess
import sys
import threading
import time
import urllib.request
from collections import deque
from http.cookiejar import CookieJar
from pathlib import Path

from nublet.cli.database import any_free_port

ROOT = Path(__file__).parents[2]
PASSWORD = "a-long-enough-one"
OWNER = {"NUBLET_SHOP": "Tarn Yard", "NUBLET_OWNER": "nell", "NUBLET_OWNER_PASSWORD": PASSWORD}


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


def copy_opened(original: Path, var: Path) -> None:
    """Lay a copy of an installation with tables and an owner at ``var``; ``original`` is made by the first who asks.

    To bring the tables up from nothing takes longer than all else of a start, and has a test of its own.
    """
    original.parent.mkdir(parents=True, exist_ok=True)
    with original.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not original.exists():
            made = original.with_suffix(".made")
            running = Running(made, f"--port={any_free_port()}", **OWNER)
            assert running.address, running.printed
            running.stop(signal.SIGINT)
            made.rename(original)
    shutil.copytree(original, var, ignore=shutil.ignore_patterns("*.pid", "passing"))
    access = var / "shop" / "db" / "access.json"
    # Two copies may run at once.
    access.write_text(json.dumps({**json.loads(access.read_text()), "port": any_free_port()}))
