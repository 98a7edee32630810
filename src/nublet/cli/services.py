"""What is served: the application and its workers, processes that are started again when they die."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Mapping, Sequence
from pathlib import Path

from nublet.cli.environment import PYTHON, ROOT
from nublet.cli.processes import (
    as_user,
    die_with_launcher,
    end,
    end_group,
    give_to,
    lesser_user,
    running_with,
)

QUEUES = ("papers", "plans")
_STOP_S, _WORKER_STOP_S = 20.0, 3.0


class Service:
    """One program that the launcher keeps running.

    Parameters
    ----------
    name : str
        As its end is told to whoever watches.
    command : sequence of str
        With the mark of the folder in it, by which a later launcher knows the process for its own.
    env : mapping of str
    pid_file : Path
        Where its number is kept.
    stop_s : float
        How long it may take to end; a worker is cut off sooner, and takes up again what it was at.
    """

    def __init__(
        self,
        name: str,
        command: Sequence[str | Path],
        env: Mapping[str, str],
        pid_file: Path,
        *,
        stop_s: float,
    ) -> None:
        self.name = name
        self._command, self._env, self._pid_file, self._stop_s = command, env, pid_file, stop_s
        self.user = _lesser_user(env)
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start it; its number is kept, so that a later launcher finds it."""
        self.process = subprocess.Popen(
            [str(part) for part in self._command],
            cwd=ROOT,
            env=dict(self._env),
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=die_with_launcher,
            **({} if self.user is None else as_user(self.user)),
        )
        self._pid_file.write_text(str(self.process.pid))

    @property
    def is_running(self) -> bool:
        """Whether it runs."""
        return self.process is not None and self.process.poll() is None

    def start_again(self) -> None:
        """Start it in place of one that has died, when nothing is left of that."""
        if self.process is not None:
            end_group(self.process)
            self.process.wait()
        self.start()

    def stop(self) -> None:
        """Stop it, where it was started, and wait."""
        if self.process is None:
            return
        if self.is_running:
            self.process.terminate()
            try:
                self.process.wait(self._stop_s)
            except subprocess.TimeoutExpired:
                self.process.kill()
                self.process.wait()
        end_group(self.process)


def application(env: Mapping[str, str], var: Path, port: int) -> Service:
    """The application, serving on a port."""
    command: list[str | Path] = [
        PYTHON, "-m", "gunicorn", "nublet.web.wsgi:application", "--bind", f"127.0.0.1:{port}",
        "--workers", "2", "--threads", "4", "--preload", "--worker-tmp-dir", "/dev/shm", "--no-control-socket",
        "--log-level", "warning", "--forwarded-allow-ips", "", "--env", _mark(var),
    ]  # fmt: skip
    found = Service("The application", command, env, var / "web.pid", stop_s=_STOP_S)
    photographs = photographs_in(var)
    photographs.mkdir(parents=True, exist_ok=True)
    if found.user is not None:
        # What the launcher itself wrote there, such as the demo's or a backup's, is the application's too.
        give_to(found.user, photographs)
    return found


def photographs_in(var: Path) -> Path:
    """Where an installation's photographs lie."""
    return Path(os.environ.get("NUBLET_PHOTOGRAPHS") or var / "photographs")


def workers(env: Mapping[str, str], var: Path) -> list[Service]:
    """One worker for each queue: what takes long is done one thing after the other, outside the application."""
    return [
        Service(
            f"The worker for {queue}",
            [PYTHON, ROOT / "manage.py", "work", queue, "--skip-checks", "--env", _mark(var)],
            env,
            var / f"{queue}.pid",
            stop_s=_WORKER_STOP_S,
        )
        for queue in QUEUES
    ]


def end_orphans(var: Path) -> None:
    """Stop what an earlier launcher left behind when it was killed."""
    for name in ("web", *QUEUES):
        orphan = running_with(var / f"{name}.pid", _mark(var))
        if orphan is not None:
            end(orphan, within_s=10 if name == "web" else _WORKER_STOP_S)


def _lesser_user(env: Mapping[str, str]) -> str | None:
    """A user without rights to run as, where root starts us and that user can run our Python; ``None`` otherwise."""
    var = [Path(env["NUBLET_VAR"])] if "NUBLET_VAR" in env else []
    user = lesser_user("www-data", "nobody", reaches=[ROOT, PYTHON.resolve().parent, *var])
    if user is None:
        return None
    command = [str(PYTHON), "-c", "import django, nublet.web"]
    try:
        tried = subprocess.run(
            command, env=dict(env), cwd=ROOT, capture_output=True, check=False, **as_user(user)
        )
    except OSError:
        return None
    return user if tried.returncode == 0 else None


def _mark(var: Path) -> str:
    """What a command line says of whose it is."""
    return f"NUBLET_VAR={var}"
