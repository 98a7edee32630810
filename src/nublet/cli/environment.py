"""The virtual environment, the Node packages and the built front end, each made again only when its inputs change."""

from __future__ import annotations

import hashlib
import os
import shutil
import sys
from collections.abc import Iterable
from pathlib import Path

from nublet.cli.machine import PRINT_NEEDS, PYTHON_NEEDS, ensure_node, ensure_packages
from nublet.cli.steps import LauncherError, run, step

ROOT = Path(__file__).resolve().parents[3]
VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
FRONTEND = ROOT / "frontend"
DIST = FRONTEND / "dist"
_STAMP = VENV / ".nublet-stamp"

# The installer is itself pinned; it reads the lock file with hashes and is about ten times as fast as pip.
INSTALLER = "uv==0.13.9"


def ensure_python(*, for_tests: bool = False) -> Path:
    """Make the virtual environment match the lock file; return its interpreter."""
    lock = ROOT / ("requirements-dev.txt" if for_tests else "requirements.txt")
    ensure_packages(PYTHON_NEEDS + PRINT_NEEDS)
    if _has_locked_packages(for_tests=for_tests):
        return PYTHON
    with step("Installing Python packages"):
        if not PYTHON.exists():
            run([sys.executable, "-m", "venv", VENV])
        run([PYTHON, "-m", "pip", "install", "--quiet", "--disable-pip-version-check", INSTALLER])
        run(
            [
                VENV / "bin" / "uv",
                "pip",
                "install",
                "--quiet",
                "--require-hashes",
                # Once here instead of at each start of a command, where nobody writes it down (or may not).
                "--compile-bytecode",
                "--python",
                PYTHON,
                "-r",
                lock,
            ]
        )
        _STAMP.write_text(_stamps()[1 if for_tests else 0])
    return PYTHON


def ready_python() -> Path:
    """Return the interpreter for a command that needs no server, making the environment when it is missing."""
    return PYTHON if _has_locked_packages(for_tests=False) else ensure_python()


def _has_locked_packages(*, for_tests: bool) -> bool:
    have = _STAMP.read_text() if _STAMP.exists() else ""
    return have in _stamps()[1 if for_tests else 0 :]


def _stamps() -> tuple[str, str]:
    """What is written down when the application's packages are installed, and when the checks' are, too."""
    wanted = _digest([ROOT / "requirements.txt"]) + "\n"
    return wanted, wanted + _digest([ROOT / "requirements-dev.txt"]) + "\n"


def ensure_node_modules() -> None:
    """Install the locked Node packages."""
    ensure_node()
    stamp = FRONTEND / "node_modules" / ".nublet-stamp"
    wanted = _digest([FRONTEND / "package-lock.json", FRONTEND / "package.json"])
    if stamp.exists() and stamp.read_text() == wanted:
        return
    with step("Installing front-end packages"):
        run(["npm", "ci", "--no-audit", "--no-fund"], cwd=FRONTEND)
        stamp.write_text(wanted)


def ensure_front_end() -> None:
    """Build the front end into ``frontend/dist``."""
    stamp = DIST / ".nublet-stamp"
    sources = [path for path in sorted((FRONTEND / "src").rglob("*")) if path.name != "schema.d.ts"]
    inputs = [
        *sources,
        FRONTEND / "index.html",
        FRONTEND / "vite.config.ts",
        FRONTEND / "package-lock.json",
        ROOT / "docs" / "openapi.json",
    ]
    wanted = _digest(path for path in inputs if path.is_file())
    if stamp.exists() and stamp.read_text() == wanted:
        return
    ensure_node_modules()
    with step("Building the front end"):
        shutil.rmtree(DIST, ignore_errors=True)
        run(["npm", "run", "build"], cwd=FRONTEND)
        run([PYTHON, "-m", "whitenoise.compress", "--quiet", DIST], env=process_environment())
        stamp.write_text(wanted)


def process_environment(**more: str) -> dict[str, str]:
    """The environment for our own Python processes."""
    env = {**os.environ, "PYTHONPATH": str(ROOT / "src"), **more}
    env.setdefault("DJANGO_SETTINGS_MODULE", "nublet.web.settings")
    return env


def manage(*arguments: str, env: dict[str, str]) -> str:
    """Run one of Django's commands; return what it printed.

    Django's own checks are of the code, not of the installation: the tests run them, and to skip them here spares each command
    the loading of all that the application can do.
    """
    return run([PYTHON, ROOT / "manage.py", *arguments, "--skip-checks"], env=env)


def _digest(paths: Iterable[Path]) -> str:
    total = hashlib.sha256()
    for path in paths:
        if not path.is_file():
            if path.suffix:
                raise LauncherError(f"{path.relative_to(ROOT)} is missing from the checkout. Run git status.")
            continue
        total.update(str(path.relative_to(ROOT)).encode() + b"\0" + path.read_bytes() + b"\0")
    return total.hexdigest()
