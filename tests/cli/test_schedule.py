"""``./nublet schedule`` as a whole process."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from tests.cli.processes import run_offline
from tests.core.plan_checks import faults_of
from tests.core.test_planning import SMALL, changed


@pytest.fixture
def spec_file(tmp_path: Path) -> Path:
    path = tmp_path / "spec.json"
    path.write_text(json.dumps(SMALL), encoding="utf-8")
    return path


def run(plain: dict[str, Any], tmp_path: Path, *options: str) -> tuple[int, str, str]:
    path = tmp_path / "other.json"
    path.write_text(json.dumps(plain), encoding="utf-8")
    done = run_offline("schedule", str(path), *options)
    return done.returncode, done.stdout, done.stderr


def test_json_has_the_documented_form(spec_file: Path) -> None:
    done = run_offline("schedule", str(spec_file), "--json")
    assert (done.returncode, done.stderr) == (0, "")
    found = json.loads(done.stdout)
    assert set(found) == {
        "feasible", "end", "lower_bound_end", "sittings", "waiting_min", "operations", "says",
    }  # fmt: skip
    assert faults_of(SMALL, found) == []
    first = found["operations"][0]
    assert {name: first[name] for name in ("group", "step", "kind", "look_after_min", "person")} == {
        "group": "A", "step": "A1", "kind": "coat", "look_after_min": None, "person": 1,
    }  # fmt: skip
    assert first["panels"][1] == {
        "panel": "A-2",
        "start": "2027-03-01T09:01:30",
        "end": "2027-03-01T09:03:00",
    }


def test_words_for_a_terminal_and_progress_beside_them(spec_file: Path) -> None:
    done = run_offline("schedule", str(spec_file), "--progress")
    assert done.returncode == 0
    lines = done.stdout.splitlines()
    assert lines[0].startswith("Ends Tue 09 March 10:")
    assert "  09:06:00  person 1    wipe    A1: A-1 to A-4" in lines
    assert "ends 2027-03-09 10:" in done.stderr


def test_due_times_as_a_calendar_and_days_to_print(spec_file: Path, tmp_path: Path) -> None:
    calendar, sheets = tmp_path / "due.ics", tmp_path / "days.pdf"
    done = run_offline("schedule", str(spec_file), "--calendar", str(calendar), "--sheets", str(sheets))
    assert (done.returncode, done.stderr) == (0, "")
    assert sheets.read_bytes().startswith(b"%PDF")
    text = calendar.read_text(encoding="utf-8")
    assert "X-WR-CALNAME:spec" in text
    assert text.count("BEGIN:VEVENT") == text.count("BEGIN:VALARM") == 9


@pytest.mark.parametrize("option", ["--calendar", "--sheets"])
def test_a_place_that_cannot_be_written_is_named(option: str, spec_file: Path, tmp_path: Path) -> None:
    place = tmp_path / "nowhere" / "out"
    done = run_offline("schedule", str(spec_file), option, str(place))
    assert (done.returncode, done.stdout) == (2, "")
    assert f"{place} cannot be written: No such file or directory" in done.stderr


@pytest.mark.parametrize("limit", ["nan", "-1", "soon"])
def test_a_limit_that_is_no_time_is_refused(limit: str, spec_file: Path) -> None:
    done = run_offline("schedule", str(spec_file), "--limit", limit)
    assert (done.returncode, done.stdout) == (2, "")
    assert "--limit" in done.stderr


def test_no_such_plan_is_exit_code_3(tmp_path: Path) -> None:
    rc, out, err = run(changed("groups.0.exposures.0.looks.0.after_min", 600), tmp_path, "--json")
    assert (rc, err) == (3, "")
    found = json.loads(out)
    assert found["feasible"] is False
    assert found["reasons"][0].startswith("A, coffee-1h: its look 600 min after lifting never falls within")


@pytest.mark.parametrize(
    ("plain", "says"),
    [
        (
            changed("groups.0.steps.0.wipe", {"after_min": [3]}),
            "groups.0.steps.0.wipe lacks 'minutes_per_panel'",
        ),
        ({"start": "2027-03-01T09:00", "groups": []}, "hours is missing"),
        (changed("people", 9), "9 people cannot be planned for"),
    ],
)
def test_bad_files_are_exit_code_2_with_the_place(plain: dict[str, Any], says: str, tmp_path: Path) -> None:
    rc, out, err = run(plain, tmp_path, "--json")
    assert (rc, out) == (2, "")
    assert says in err


def test_a_file_that_is_not_there() -> None:
    done = run_offline("schedule", "nowhere.json")
    assert done.returncode == 2
    assert "cannot be opened" in done.stderr
