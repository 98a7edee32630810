"""What the machine must have from Debian's packages, and how it gets it."""

from __future__ import annotations

import importlib
import importlib.util
import os
import shutil
import subprocess
import sysconfig
from collections.abc import Callable
from ctypes.util import find_library
from dataclasses import dataclass
from functools import partial
from pathlib import Path

from nublet.cli.steps import LauncherError, run, step

OLDEST_NODE = 20


@dataclass(frozen=True, kw_only=True)
class SystemNeed:
    """Something the machine must have: the Debian packages that bring it, and how to see whether it is there."""

    packages: tuple[str, ...]
    is_there: Callable[[], bool]


def _has_library(name: str) -> bool:
    pkg_config = shutil.which("pkg-config")
    if pkg_config is None:
        return False
    return subprocess.run([pkg_config, "--exists", name]).returncode == 0


def _has_shared_library(name: str) -> bool:
    return find_library(name) is not None


def _has_python_headers() -> bool:
    return (Path(sysconfig.get_paths()["include"]) / "Python.h").exists()


PYTHON_NEEDS = (
    SystemNeed(
        packages=("python3-venv",),
        is_there=lambda: importlib.util.find_spec("ensurepip") is not None,
    ),
    SystemNeed(packages=("python3-dev",), is_there=_has_python_headers),
    SystemNeed(packages=("gcc", "libc6-dev"), is_there=lambda: shutil.which("cc") is not None),
    SystemNeed(packages=("pkg-config",), is_there=lambda: shutil.which("pkg-config") is not None),
    SystemNeed(
        packages=("libmariadb-dev",),
        is_there=lambda: _has_library("libmariadb") or _has_library("mariadb"),
    ),
)
# What the printed sheets are set with.
PRINT_NEEDS = tuple(
    SystemNeed(packages=(package,), is_there=partial(_has_shared_library, library))
    for package, library in (
        ("libpango-1.0-0", "pango-1.0"),
        ("libpangoft2-1.0-0", "pangoft2-1.0"),
        ("libharfbuzz-subset0", "harfbuzz-subset"),
    )
)
SERVER_NEEDS = (
    SystemNeed(packages=("mariadb-server",), is_there=lambda: shutil.which("mariadbd") is not None),
)
BROWSER_NEEDS = (SystemNeed(packages=("chromium",), is_there=lambda: Path("/usr/bin/chromium").exists()),)


def ensure_packages(needs: tuple[SystemNeed, ...]) -> None:
    """Install what is missing from Debian's packages.

    Raises
    ------
    LauncherError
        If something is missing and this is not root with apt-get; the message is the command to run.
    """
    os.environ["PATH"] = os.environ.get("PATH", "") + ":/usr/sbin:/sbin"
    missing = [package for need in needs if not need.is_there() for package in need.packages]
    if not missing:
        return
    install = [
        "apt-get",
        "-o",
        "DPkg::Lock::Timeout=300",
        "install",
        "-y",
        "--no-install-recommends",
        *missing,
    ]
    by_hand = f"apt-get update && apt-get install -y --no-install-recommends {' '.join(missing)}"
    as_root = _root_prefix()
    if as_root is None or shutil.which("apt-get") is None:
        raise LauncherError(f"these packages are missing: {', '.join(missing)}. Run as root:\n  {by_hand}")
    env = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    with step(f"Installing from Debian: {', '.join(missing)}"):
        run([*as_root, "apt-get", "-q", "update"], env=env)
        run([*as_root, *install], env=env)
    importlib.invalidate_caches()
    still = [package for need in needs if not need.is_there() for package in need.packages]
    if still:
        raise LauncherError(f"these packages did not install: {', '.join(still)}. Run as root:\n  {by_hand}")


def _root_prefix() -> list[str] | None:
    """What to put before a command that needs root: nothing, sudo when it asks no password, or None."""
    if os.geteuid() == 0:
        return []
    if shutil.which("sudo") and subprocess.run(["sudo", "-n", "true"], capture_output=True).returncode == 0:
        return ["sudo", "-n", "DEBIAN_FRONTEND=noninteractive"]
    return None


def ensure_node() -> None:
    """Check that Node.js is new enough. Raises ``LauncherError`` when it is not."""
    node = shutil.which("node")
    if node is None or shutil.which("npm") is None:
        raise LauncherError(f"Node.js {OLDEST_NODE} or newer with npm is needed to build the front end.")
    version = run([node, "--version"]).strip()
    if int(version.lstrip("v").split(".")[0]) < OLDEST_NODE:
        raise LauncherError(f"Node.js {OLDEST_NODE} or newer is needed; this is {version}.")
