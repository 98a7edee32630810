"""Progress on the terminal, and running other programs with their trouble shown."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path


class LauncherError(Exception):
    """Something that the person at the terminal has to mend; the message says how."""


@contextmanager
def step(words: str) -> Iterator[None]:
    """Show a step as it begins, and how long it took when it is done."""
    print(f"  {words} ...", end="", file=sys.stderr, flush=True)
    began = time.monotonic()
    try:
        yield
    except BaseException:
        print(" failed", file=sys.stderr, flush=True)
        raise
    print(f" done ({time.monotonic() - began:.1f} s)", file=sys.stderr, flush=True)


def run(
    command: Sequence[str | Path],
    *,
    cwd: Path | None = None,
    env: Mapping[str, str] | None = None,
    stdin: str | None = None,
) -> str:
    """Run a program quietly and return what it printed.

    Raises
    ------
    LauncherError
        If it cannot be started or fails; the message holds the end of its output.
    """
    try:
        done = subprocess.run(
            [str(part) for part in command],
            cwd=cwd,
            env=env,
            input=stdin,
            stdin=subprocess.DEVNULL if stdin is None else None,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        )
    except FileNotFoundError as error:
        raise LauncherError(f"{command[0]} is not installed ({error}).") from error
    if done.returncode != 0:
        tail = "\n".join(done.stdout.strip().splitlines()[-25:])
        shown = " ".join(str(part) for part in command)
        raise LauncherError(f"this failed with exit code {done.returncode}:\n  {shown}\n{tail}")
    return done.stdout
