"""Running a command that needs neither server nor database, as a process of its own."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[2]


def run_offline(command: str, *arguments: str, stdin: str | None = None) -> subprocess.CompletedProcess[str]:
    # No DATABASE_URL and no settings: the command must need neither.
    env = {k: v for k, v in os.environ.items() if k not in ("DATABASE_URL", "DJANGO_SETTINGS_MODULE")}
    return subprocess.run(
        [sys.executable, "-m", f"nublet.cli.{command}", *arguments],
        capture_output=True,
        text=True,
        input=stdin,
        env={**env, "PYTHONPATH": str(ROOT / "src")},
        encoding="utf-8",
    )
