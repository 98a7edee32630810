"""Processes that the launcher starts: not as root where that can be helped, and never left behind."""

from __future__ import annotations

import contextlib
import ctypes
import os
import pwd
import signal
import subprocess
import time
from collections.abc import Sequence
from pathlib import Path
from typing import Any

_PR_SET_PDEATHSIG = 1
_STOP_S = 60.0


def die_with_launcher() -> None:
    """Ask Linux to stop this process when the launcher dies; called in the child before it becomes the program."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


def lesser_user(*names: str, reaches: Sequence[Path]) -> str | None:
    """The first of some users to run a program as in place of root, or ``None`` where none would do.

    Parameters
    ----------
    names : str
        Users to try in turn.
    reaches : sequence of Path
        Folders that the program must get to; a folder for root alone above one of them rules the user out.
    """
    if os.geteuid() != 0:
        return None
    for path in reaches:
        for folder in (path, *path.resolve().parents):
            if folder.exists() and not folder.stat().st_mode & 0o001:
                return None
    for name in names:
        with contextlib.suppress(KeyError):
            return pwd.getpwnam(name).pw_name
    return None


def as_user(user: str) -> dict[str, Any]:
    """What ``subprocess`` is told to run a program as a user; nothing for ourselves."""
    found = pwd.getpwnam(user)
    if found.pw_uid == os.geteuid():
        return {}
    return {"user": found.pw_uid, "group": found.pw_gid, "extra_groups": []}


def give_to(user: str, *paths: Path) -> None:
    """Make paths, and all within them, the user's own."""
    found = pwd.getpwnam(user)
    for path in paths:
        for each in (path, *path.rglob("*")):
            with contextlib.suppress(FileNotFoundError):
                os.chown(each, found.pw_uid, found.pw_gid, follow_symlinks=False)


def running_with(pid_file: Path, sign: str) -> int | None:
    """The process that a file names, if it runs and has ``sign`` in its command line."""
    try:
        pid = int(pid_file.read_text().strip())
        command = Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode(errors="replace")
    except (OSError, ValueError):
        return None
    return pid if sign in command else None


def end(pid: int, *, within_s: float = _STOP_S) -> None:
    """Stop a process that is not our child, and wait until it is gone."""
    with contextlib.suppress(ProcessLookupError):
        os.kill(pid, signal.SIGTERM)
        until = time.monotonic() + within_s
        while time.monotonic() < until:
            os.kill(pid, 0)
            if _is_dead(pid):
                return
            time.sleep(0.05)
        os.kill(pid, signal.SIGKILL)


def _is_dead(pid: int) -> bool:
    """Whether nothing is left of it but an entry that its parent has not read."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0] == "Z"
    except OSError:
        return True


def end_group(process: subprocess.Popen[bytes]) -> None:
    """Kill whatever a process that leads its own group has left running."""
    with contextlib.suppress(ProcessLookupError, PermissionError):
        os.killpg(process.pid, signal.SIGKILL)
