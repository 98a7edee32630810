"""``./nublet backup`` while a shop is in use, and ``./nublet restore`` into an empty installation."""

from __future__ import annotations

import hashlib
import io
import json
import os
import signal
import subprocess
import sys
import tarfile
from pathlib import Path

import pytest

from nublet.cli.backup import _read
from nublet.cli.database import any_free_port
from nublet.cli.steps import LauncherError
from tests.cli.launched import ROOT, Running, sign_in


def nublet(var: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    env = {
        k: v for k, v in os.environ.items() if k not in ("DATABASE_URL", "NUBLET_SECRET_KEY", "PYTHONPATH")
    }
    return subprocess.run(
        [sys.executable, str(ROOT / "nublet"), *arguments],
        env={**env, "NUBLET_VAR": str(var)}, capture_output=True, text=True, check=False,
    )  # fmt: skip


def test_backed_up_in_use_and_restored_elsewhere(opened: Path, tmp_path: Path) -> None:
    first, second, file = opened, tmp_path / "second", tmp_path / "shop.tar.gz"
    nothing = nublet(second, "backup", str(file))
    assert (nothing.returncode, "nothing to back up" in nothing.stderr) == (1, True)
    running = Running(first, f"--port={any_free_port()}")
    try:
        assert sign_in(running.address)["role"] == "owner"
        kept = keep_photograph(first)
        made = nublet(first, "backup", str(file))
        assert made.returncode == 0, made.stderr
    finally:
        running.stop(signal.SIGINT)
    assert file.stat().st_mode & 0o077 == 0
    twice = nublet(first, "backup", str(file))
    assert (twice.returncode, "is there already" in twice.stderr) == (1, True)

    restored = nublet(second, "restore", str(file))
    assert restored.returncode == 0, restored.stderr
    assert "rows are back, as counted" in restored.stderr
    assert "1 files of photographs" in restored.stderr
    assert (second / kept.relative_to(first)).read_bytes() == kept.read_bytes()
    again = nublet(second, "restore", str(file))
    assert (again.returncode, "is not empty" in again.stderr) == (1, True)
    other = Running(second, f"--port={any_free_port()}")
    try:
        assert sign_in(other.address)["role"] == "owner"
    finally:
        other.stop(signal.SIGINT)


def keep_photograph(var: Path) -> Path:
    """A file as the application keeps it: under the digest of what it holds."""
    content = b"as good as any picture"
    digest = hashlib.sha256(content).hexdigest()
    target = var / "shop" / "photographs" / digest[:2] / f"{digest}.full.jpg"
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_bytes(content)
    return target


def test_a_photograph_that_changed_or_is_missing_is_told_before_anything_is_written(tmp_path: Path) -> None:
    dump = b"INSERT INTO `a` (`id`) VALUES (1);\n"
    manifest = {
        "format": 1, "sha256": hashlib.sha256(dump).hexdigest(), "rows": {"a": 1}, "photographs": 1,
    }  # fmt: skip
    file = tmp_path / "shop.tar.gz"
    name = hashlib.sha256(b"before").hexdigest()
    for photographs, says in (
        ({f"photographs/{name[:2]}/{name}.full.jpg": b"after"}, "is not what it was"),
        ({}, "1 files of photographs were in it, and 0 are"),
        ({"photographs/../../etc/passwd": b"x"}, "and 0 are"),
    ):
        with tarfile.open(file, "w:gz") as made:
            for place, content in {
                "manifest.json": json.dumps(manifest).encode(), "dump.sql": dump, **photographs,
            }.items():  # fmt: skip
                entry = tarfile.TarInfo(place)
                entry.size = len(content)
                made.addfile(entry, io.BytesIO(content))
        with pytest.raises(LauncherError, match=says):
            _read(file, io.BytesIO())


def archive(path: Path, **members: bytes) -> Path:
    with tarfile.open(path, "w:gz") as made:
        for name, content in members.items():
            entry = tarfile.TarInfo(name.replace("_", "."))
            entry.size = len(content)
            made.addfile(entry, io.BytesIO(content))
    return path


@pytest.mark.parametrize(
    ("manifest", "says"),
    [
        ({"format": 1, "sha256": "0" * 64, "rows": {"a": 1}}, "not what it says"),
        ({"format": 9}, "another format"),
        (None, "no backup of ours"),
    ],
)
def test_a_damaged_file_is_refused_before_anything_is_written(
    tmp_path: Path, manifest: dict[str, object] | None, says: str
) -> None:
    dump = b"INSERT INTO `a` (`id`) VALUES (1);\n"
    members = {"dump_sql": dump} | (
        {} if manifest is None else {"manifest_json": json.dumps(manifest).encode()}
    )
    with pytest.raises(LauncherError, match=says):
        _read(archive(tmp_path / "bad.tar.gz", **members), io.BytesIO())
    cut = tmp_path / "cut.tar.gz"
    cut.write_bytes(archive(tmp_path / "whole.tar.gz", dump_sql=dump * 5000).read_bytes()[:60])
    with pytest.raises(LauncherError, match="damaged"):
        _read(cut, io.BytesIO())
