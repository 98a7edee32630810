"""The planner as a process of its own: it takes the time it takes, and no request waits for it."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from typing import Any
from urllib.parse import quote

from django.conf import settings
from django.db import connection


def begin(plan_id: int) -> None:
    """Start the planner for a plan that waits to be made."""
    process = subprocess.Popen(
        [sys.executable, str(settings.ROOT / "manage.py"), "make_plan", str(plan_id)],
        env={**os.environ, "DATABASE_URL": _url_of(connection.settings_dict)},
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
    )
    # Somebody must take note of its end, or it stays in the table of processes.
    threading.Thread(target=process.wait, daemon=True).start()


def _url_of(database: Any) -> str:
    """The address of the database that this process uses, which in a test is not the one in its environment."""
    user, password, name = (quote(str(database[key]), safe="") for key in ("USER", "PASSWORD", "NAME"))
    return f"mysql://{user}:{password}@{database['HOST'] or '127.0.0.1'}:{database['PORT'] or 3306}/{name}"
