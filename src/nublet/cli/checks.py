"""``test``: every check, from a clean clone, on a private MariaDB of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import IO

from nublet.cli.database import PrivateServer
from nublet.cli.environment import (
    FRONTEND,
    PYTHON,
    ROOT,
    VENV,
    ensure_front_end,
    ensure_node_modules,
    ensure_python,
    process_environment,
)
from nublet.cli.machine import BROWSER_NEEDS, SERVER_NEEDS, ensure_packages
from nublet.cli.steps import LauncherError, step

CHECK_GROUPS = ("lint", "types", "frontend", "python", "browser")
ONE_CORE = ("lint", "types", "frontend")


def run_checks(only: Sequence[str] | None, rest: Sequence[str]) -> int:
    """Run the chosen groups (all by default); return 0 when every one passed."""
    groups = [group for group in CHECK_GROUPS if not only or group in only]
    pytest_arguments = [argument for argument in rest if argument != "--"]
    if pytest_arguments and not only:
        groups = ["python"]
    began = time.monotonic()
    ensure_packages(SERVER_NEEDS + BROWSER_NEEDS)
    ensure_python(for_tests=True)
    # The browser tests take their accessibility rules from the front end's packages.
    if {"lint", "types", "frontend", "browser"} & set(groups):
        ensure_node_modules()
    if {"python", "browser"} & set(groups):
        ensure_front_end()
    outcomes: dict[str, bool] = {}
    took_s: dict[str, float] = {}
    # What works on one core each goes side by side; pytest then spreads itself over all of them.
    alone = [group for group in groups if group in ONE_CORE]
    with ThreadPoolExecutor(_n_cores()) as cores:
        for group, (passed, took, said) in zip(alone, cores.map(_timed_quietly, alone), strict=True):
            print(f"\n== {group}\n{said}", end="", flush=True)
            outcomes[group], took_s[group] = passed, took
    for group in groups:
        if group not in ONE_CORE:
            print(f"\n== {group}", flush=True)
            started = time.monotonic()
            outcomes[group] = _run_tests(group, pytest_arguments)
            took_s[group] = time.monotonic() - started
    print(f"\n{'':2}{time.monotonic() - began:.0f} s in all")
    for group, passed in outcomes.items():
        print(f"  {group:10} {'passed' if passed else 'FAILED'} in {took_s[group]:.0f} s")
    n_passed = sum(outcomes.values())
    print(f"checks: {n_passed} passed, {len(outcomes) - n_passed} failed")
    return 0 if all(outcomes.values()) else 1


def _n_cores() -> int:
    return min(4, os.cpu_count() or 1)


def _timed_quietly(group: str) -> tuple[bool, float, str]:
    """Run a group that needs no database: whether it passed, in how many seconds, and what it printed."""
    npm: list[str | Path] = ["npm", "--silent", "run"]
    bin_ = VENV / "bin"
    env = process_environment()
    commands: list[list[str | Path]]
    if group == "lint":
        commands = [
            [bin_ / "ruff", "check", "."],
            [bin_ / "ruff", "format", "--check", "."],
            [bin_ / "lint-imports", "--no-cache"],
            [*npm, "--prefix", FRONTEND, "lint"],
        ]
    elif group == "types":
        commands = [[PYTHON, "-m", "mypy"], [*npm, "--prefix", FRONTEND, "check"]]
        env = process_environment(NUBLET_SECRET_KEY="types", DATABASE_URL="mysql://nobody@127.0.0.1/none")
    else:
        commands = [[*npm, "--prefix", FRONTEND, "types"], [*npm, "--prefix", FRONTEND, "test"]]
    began = time.monotonic()
    with tempfile.TemporaryFile("w+") as said:
        passed = _all_pass(*commands, env=env, into=said)
        said.seek(0)
        return passed, time.monotonic() - began, said.read()


def _run_tests(group: str, pytest_arguments: Sequence[str]) -> bool:
    if any((ROOT / argument.split("::")[0]).exists() for argument in pytest_arguments):
        return _run_pytest(pytest_arguments)
    everything = ["tests/browser"] if group == "browser" else ["--ignore=tests/browser"]
    if not pytest_arguments:
        everything += ["--numprocesses", str(_n_cores()), "--dist", "worksteal"]
    return _run_pytest([*everything, *pytest_arguments])


def _run_pytest(arguments: Sequence[str]) -> bool:
    """Run pytest with a MariaDB that lives in a temporary folder for as long as the tests run."""
    with tempfile.TemporaryDirectory(prefix="nublet-test-") as folder:
        server = PrivateServer(Path(folder) / "db")
        with step("Starting a database for the tests"):
            access = server.start()
        try:
            env = process_environment(
                DATABASE_URL=access.url, NUBLET_SECRET_KEY="for the tests alone", NUBLET_VAR=folder
            )
            return _all_pass([PYTHON, "-m", "pytest", *arguments], env=env)
        finally:
            server.stop()


def _all_pass(
    *commands: Sequence[str | Path], env: dict[str, str] | None = None, into: IO[str] | None = None
) -> bool:
    """Run each command even when one fails, so that one run shows everything."""
    passed = True
    for command in commands:
        try:
            code = subprocess.run(
                [str(part) for part in command],
                cwd=ROOT,
                env=env or process_environment(),
                stdout=into,
                stderr=into and subprocess.STDOUT,
            ).returncode
        except FileNotFoundError as error:
            raise LauncherError(f"{command[0]} is not installed: {error}") from error
        if code != 0:
            failed = f"failed ({code}): {' '.join(str(part) for part in command)}"
            print(failed, file=into or sys.stderr, flush=True)
            passed = False
    return passed
