"""``backup`` and ``restore``: a shop's database and its photographs in one file, taken while in use, and put back verified.

The file is a compressed tar of ``dump.sql`` (plain SQL, one row a statement), ``manifest.json``: when it was made, the SHA-256
of the dump, and how many rows each table has in it, both counted in the dump itself, so that they are of one moment; and
``photographs``, whose files are named by what they hold. A photograph's files are there before its row is: none that the dump names
is missing.
"""

from __future__ import annotations

import hashlib
import io
import json
import os
import re
import sys
import tarfile
import tempfile
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, BinaryIO

from nublet.cli.database import PrivateServer
from nublet.cli.environment import ROOT, ensure_python, manage, process_environment
from nublet.cli.machine import SERVER_NEEDS, ensure_packages
from nublet.cli.services import photographs_in
from nublet.cli.serving import secret_key
from nublet.cli.steps import LauncherError, step

FORMAT = 1
_ROW = re.compile(rb"INSERT INTO `(\w+)`")
_PHOTOGRAPH = re.compile(r"photographs/([0-9a-f]{2})/([0-9a-f]{64})\.(full|view|thumb)\.jpg")


def back_up(file: Path, *, demo: bool = False) -> int:
    """Write the shop's database to a file; it may be in use meanwhile.

    Raises
    ------
    LauncherError
        If there is nothing to back up, the file is there already, or the database cannot be read.
    """
    var = _var(demo=demo)
    if file.exists():
        raise LauncherError(f"{file} is there already. Name another file, or move that one away.")
    if not (var / "db" / "data").exists():
        raise LauncherError(f"There is no database in {var / 'db'} yet: nothing to back up.")
    ensure_packages(SERVER_NEEDS)
    part = file.with_name(file.name + ".part")
    try:
        with tempfile.TemporaryFile() as dump, _reachable(PrivateServer(var / "db")) as server:
            with step("Reading the database"):
                server.dump(dump)
            manifest = _describe(dump)
            with step(f"Writing {file.name}"):
                n_files = _write(part, manifest, dump, photographs_in(var))
        part.rename(file)
    finally:
        part.unlink(missing_ok=True)
    print(
        f"{sum(manifest['rows'].values())} rows of {len(manifest['rows'])} tables and {n_files} files of photographs are "
        f"in {file}.",
        file=sys.stderr,
    )
    return 0


def restore(file: Path, *, demo: bool = False) -> int:
    """Put a backup into an empty installation, and verify rows and fingerprints.

    Raises
    ------
    LauncherError
        If the file is damaged or no backup, the installation is not empty, or what was restored is not what was backed up.
    """
    ensure_packages(SERVER_NEEDS)
    ensure_python()
    var = _var(demo=demo)
    with tempfile.TemporaryFile() as dump:
        manifest = _read(file, dump)
        server = PrivateServer(var / "db")
        access = server.start()
        try:
            if server.ask("SHOW TABLES FROM nublet").strip():
                raise LauncherError(
                    f"The installation in {var} is not empty. Restore into an empty one: name another folder in NUBLET_VAR."
                )
            with step("Putting the rows back"):
                server.load(dump)
            _compare(manifest["rows"], server)
            with step("Putting the photographs back"):
                n_files = _put_back(file, photographs_in(var))
            env = process_environment(
                NUBLET_VAR=str(var), NUBLET_SECRET_KEY=secret_key(var), DATABASE_URL=access.url
            )
            with step("Bringing the tables up to date"):
                manage("migrate", "--verbosity=0", env=env)
            with step("Verifying the records"):
                records = json.loads(manage("check_records", env=env))
        finally:
            server.stop()
    broken = [record["trial"] for record in records if record["state"] == "broken"]
    if broken:
        raise LauncherError(
            f"The rows are back, but the record of {', '.join(broken)} no longer has its fingerprint. It was so in the backup: "
            "look at an earlier one."
        )
    print(
        f"{sum(manifest['rows'].values())} rows are back, as counted; {len(records)} started trials have their fingerprints, "
        f"and {n_files} files of photographs what they are named for.",
        file=sys.stderr,
    )
    return 0


def _photographs(file: Path) -> Iterator[tuple[str, bytes]]:
    """The photographs' files of a backup by their places, the largest of each held against its name. Raises ``LauncherError``."""
    with tarfile.open(file, "r:gz") as archive:
        for entry in archive:
            found = _PHOTOGRAPH.fullmatch(entry.name)
            source = archive.extractfile(entry) if found and entry.isfile() else None
            if found is None or source is None:
                continue
            content = source.read()
            if found[3] == "full" and hashlib.sha256(content).hexdigest() != found[2]:
                raise LauncherError(f"{file} is damaged: the photograph {found[2]} is not what it was.")
            yield f"{found[1]}/{found[2]}.{found[3]}.jpg", content


def _put_back(file: Path, folder: Path) -> int:
    """Write the photographs of a backup."""
    n_files = 0
    for place, content in _photographs(file):
        target = folder / place
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(content)
        n_files += 1
    return n_files


def _var(*, demo: bool) -> Path:
    if os.environ.get("DATABASE_URL") and not demo:
        raise LauncherError(
            "DATABASE_URL names a database of yours: back it up and restore it with its own tools (mariadb-dump)."
        )
    return Path(os.environ.get("NUBLET_VAR", ROOT / "var")) / ("demo" if demo else "shop")


@contextmanager
def _reachable(server: PrivateServer) -> Iterator[PrivateServer]:
    """The server as it runs, or started for as long as it is needed."""
    if server.answers():
        yield server
        return
    server.start()
    try:
        yield server
    finally:
        server.stop()


def _describe(dump: BinaryIO) -> dict[str, Any]:
    dump.seek(0)
    digest, rows = hashlib.sha256(), Counter[str]()
    for line in dump:
        digest.update(line)
        if found := _ROW.match(line):
            rows[found[1].decode()] += 1
    return {
        "format": FORMAT,
        "made_at": datetime.now(tz=UTC).isoformat(timespec="seconds"),
        "sha256": digest.hexdigest(),
        "rows": dict(sorted(rows.items())),
    }


def _write(file: Path, manifest: dict[str, Any], dump: BinaryIO, photographs: Path) -> int:
    """Write the file, and say how many photographs' files are in it."""
    kept = [path for path in sorted(photographs.glob("*/*.jpg")) if not path.name.startswith(".")]
    text = json.dumps({**manifest, "photographs": len(kept)}, indent=1).encode()
    with tarfile.open(file, "w:gz") as archive:
        for name, content, size in (
            ("manifest.json", io.BytesIO(text), len(text)),
            ("dump.sql", dump, dump.seek(0, os.SEEK_END)),
        ):
            content.seek(0)
            entry = tarfile.TarInfo(name)
            entry.size, entry.mode = size, 0o600
            archive.addfile(entry, content)
        for path in kept:
            archive.add(path, f"photographs/{path.parent.name}/{path.name}", recursive=False)
    file.chmod(0o600)
    return len(kept)


def _read(file: Path, dump: BinaryIO) -> dict[str, Any]:
    """The manifest; the dump is copied out, and held against it."""
    try:
        with tarfile.open(file, "r:gz") as archive:
            manifest: dict[str, Any] = json.load(_member(archive, "manifest.json"))
            source = _member(archive, "dump.sql")
            while block := source.read(1 << 20):
                dump.write(block)
        n_files = sum(1 for _ in _photographs(file))
    except FileNotFoundError as error:
        raise LauncherError(f"{file} is not there.") from error
    except (tarfile.TarError, EOFError, OSError, KeyError, ValueError) as error:
        raise LauncherError(f"{file} is damaged, or no backup of ours ({error}).") from error
    if manifest.get("format") != FORMAT:
        raise LauncherError(
            f"{file} is of another format ({manifest.get('format')}). Restore it with the release that made it."
        )
    found = _describe(dump)
    if (found["sha256"], found["rows"]) != (manifest.get("sha256"), manifest.get("rows")):
        raise LauncherError(f"{file} is damaged: what it holds is not what it says that it holds.")
    if n_files != manifest.get("photographs", 0):
        raise LauncherError(
            f"{file} is damaged: {manifest['photographs']} files of photographs were in it, and {n_files} are."
        )
    dump.seek(0)
    return manifest


def _member(archive: tarfile.TarFile, name: str) -> Any:
    found = archive.extractfile(name)
    if found is None:
        raise KeyError(name)
    return found


def _compare(rows: dict[str, int], server: PrivateServer) -> None:
    """Count what was restored. Raises ``LauncherError`` with each table that differs."""
    differing = []
    for table, expected in rows.items():
        found = int(server.ask(f"SELECT COUNT(*) FROM nublet.`{table}`").strip())
        if found != expected:
            differing.append(f"{table} has {found} rows for {expected}")
    if differing:
        raise LauncherError(f"What was restored is not what was backed up: {'; '.join(differing)}.")
