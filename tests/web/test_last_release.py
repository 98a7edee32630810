"""A dump of the last release, brought up to date as an installation is: nothing is lost, and records keep their fingerprints.

``tests/data/release-12.sql.xz`` is the demo of that release, with a paper that waits to be made.
"""

from __future__ import annotations

import json
import lzma
import os
import subprocess
import sys
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from django.db import connection
from django.utils.module_loading import import_string

from nublet.core.protocols.plain import protocol_from_plain, recorded_protocol
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS

ROOT = Path(__file__).parents[2]
DUMP = ROOT / "tests" / "data" / "release-12.sql.xz"
MOVED = {
    "bench_reading": "readings_reading",
    "bench_readingentry": "readings_readingentry",
    "days_benchplan": "bench_benchplan",
    "days_panelwork": "bench_panelwork",
    "days_workentry": "bench_workentry",
    "days_mix": "bench_mix",
    "trials_trial": "trials_trial",
    "trials_trialbuildup": "build_ups_trialbuildup",
    "trials_trialboard": "designs_trialboard",
    "trials_trialpanel": "designs_trialpanel",
    "trials_trialspot": "designs_trialspot",
    "trials_trialdeviation": "designs_trialdeviation",
}


@dataclass(frozen=True)
class Release:
    """The dump in a database of its own."""

    name: str

    def ask(self, sql: str) -> list[str]:
        return self._client(sql.encode(), self.name).decode().splitlines()

    def manage(self, *arguments: str) -> str:
        access = connection.settings_dict
        url = f"mysql://{access['USER']}:{access['PASSWORD']}@{access['HOST']}:{access['PORT']}/{self.name}"
        done = subprocess.run(
            [sys.executable, "manage.py", *arguments], cwd=ROOT, capture_output=True, text=True, check=False,
            env={**os.environ, "DATABASE_URL": url, "PYTHONPATH": str(ROOT / "src")},
        )  # fmt: skip
        assert done.returncode == 0, done.stderr
        return done.stdout

    def _client(self, sql: bytes, database: str = "") -> bytes:
        access = connection.settings_dict
        done = subprocess.run(
            ["mariadb", "--no-defaults", "-N", "-r", "--default-character-set=utf8mb4", f"-h{access['HOST']}",
             f"-P{access['PORT']}", f"-u{access['USER']}", *([database] if database else [])],
            input=sql, capture_output=True, check=False, env={**os.environ, "MYSQL_PWD": str(access["PASSWORD"])},
        )  # fmt: skip
        assert done.returncode == 0, done.stderr.decode()
        return done.stdout

    def counts(self, tables: list[str]) -> list[int]:
        return [int(self.ask(f"SELECT COUNT(*) FROM `{table}`")[0]) for table in tables]


@pytest.fixture
def release(db: None) -> Iterator[Release]:
    made = Release(f"{connection.settings_dict['NAME']}_12")
    made._client(
        f"DROP DATABASE IF EXISTS `{made.name}`; CREATE DATABASE `{made.name}` "
        "CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_520_ci".encode()
    )
    try:
        made._client(lzma.decompress(DUMP.read_bytes()), made.name)
        yield made
    finally:
        made._client(f"DROP DATABASE `{made.name}`".encode())


@pytest.mark.parametrize("broken_off", [False, True])
def test_the_last_release_comes_over_whole(release: Release, *, broken_off: bool) -> None:
    """Also where an earlier attempt was killed among the tables."""
    counts = release.counts(list(MOVED))
    fingerprints = release.ask("SELECT id, fingerprint, SHA2(record, 256) FROM trials_trial ORDER BY id")
    grades = release.ask(
        "SELECT spot_id, judge_id, look, CAST(grade AS DOUBLE) FROM bench_reading ORDER BY id"
    )
    subjects = release.ask("SELECT subject, COUNT(*) FROM people_auditentry GROUP BY subject")
    if broken_off:
        release.ask("RENAME TABLE bench_reading TO readings_reading; RENAME TABLE days_mix TO bench_mix")
    release.manage("migrate", "--verbosity=0")
    release.manage("migrate", "--verbosity=0")
    release.manage("migrate", "--check")
    assert release.counts(list(MOVED.values())) == counts
    assert counts[0] > 3000
    assert (
        release.ask("SELECT id, fingerprint, SHA2(record, 256) FROM trials_trial ORDER BY id") == fingerprints
    )
    values = "SELECT spot_id, judge_id, look, CAST(value AS DOUBLE) FROM readings_reading ORDER BY id"
    assert release.ask(values) == grades
    assert release.ask("SELECT DISTINCT response, view FROM readings_reading") == ["grade\t"]
    waiting = release.ask("SELECT task_path FROM django_tasks_database_dbtaskresult")
    assert [import_string(path).queue_name for path in waiting] == ["papers"]
    check_protocols(release)
    check_subjects(release, subjects)
    check_records(release)


def check_protocols(release: Release) -> None:
    """Each trial has its protocol as its record has it."""
    rows = release.ask(
        "SELECT JSON_COMPACT(protocol_plain), IFNULL(record, '') FROM trials_trial ORDER BY id"
    )
    same = (
        "id",
        "agent",
        "amount",
        "natures",
        "site",
        "duration_min",
        "temperature_c",
        "covered",
        "occupies",
        "reads",
    )
    for row in rows:
        own, record = row.split("\t")
        plain = json.loads(own)
        for found, meant in zip(protocol_from_plain(plain).tests, TABLE_BASICS.tests, strict=True):
            for field in same:
                assert getattr(found, field) == getattr(meant, field), (found.id, field)
        assert protocol_from_plain(plain).looks == TABLE_BASICS.looks
        if record:
            assert recorded_protocol(plain) == json.loads(record)["protocol"]
    assert (len(rows), sum(not row.endswith("\t") for row in rows)) == (4, 3)


def check_subjects(release: Release, before: list[str]) -> None:
    """Words become numbers: "trial 2" the trial, a sign-in name the person, the shelf and the bench their shop."""
    counts = dict(row.split("\t") for row in before)
    after = release.ask(
        "SELECT subject_kind, subject_id, COUNT(*) FROM people_auditentry GROUP BY subject_kind, subject_id"
    )
    found = {(kind, int(number)): n for kind, number, n in (row.split("\t") for row in after)}
    for subject, n in counts.items():
        kind, _, number = subject.partition(" ")
        if kind in ("trial", "product", "wood", "agent"):
            assert found[kind, int(number)] == n
    assert (
        found["person", int(release.ask("SELECT id FROM people_person WHERE username = 'imara'")[0])] == "1"
    )
    assert sum(map(int, found.values())) == sum(map(int, counts.values())) > 80


def check_records(release: Release) -> None:
    """Each is intact; and it is said when a started trial's tables no longer hold what its record says."""
    states = [record["state"] for record in json.loads(release.manage("check_records"))]
    assert states == ["intact"] * 3
    release.ask("UPDATE designs_trialspot SET x_mm = x_mm + 1 ORDER BY id LIMIT 1")
    states = [record["state"] for record in json.loads(release.manage("check_records"))]
    assert sorted(states) == ["broken", "intact", "intact"]
