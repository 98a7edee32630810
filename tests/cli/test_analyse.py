"""``./nublet analyse`` as a whole process."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path
from typing import Any

import pytest

from nublet.core.evidence.analysis import analyse
from nublet.formats.readings_csv import write_readings
from tests.cli.processes import run_offline
from tests.core.builders import block_readings

TABLE: dict[str, list[float | None]] = {"A": [5, 4, 5, 4], "B": [3, 3, 4, 3], "control": [1, 1, 2, 1]}


def run(*arguments: str, stdin: str | None = None) -> subprocess.CompletedProcess[str]:
    return run_offline("analyse", *arguments, stdin=stdin)


@pytest.fixture
def csv_file(tmp_path: Path) -> Path:
    path = tmp_path / "readings.csv"
    readings = block_readings(TABLE, judges=("Nell", "Imara")) + block_readings(TABLE, look="lifted")
    path.write_text(write_readings(readings), encoding="utf-8")
    return path


def test_json_has_the_documented_form_and_the_cores_numbers(csv_file: Path) -> None:
    done = run(str(csv_file), "--json")
    assert (done.returncode, done.stderr) == (0, "")
    found: dict[str, Any] = json.loads(done.stdout)
    assert set(found) == {"tests", "interaction", "factors", "judges", "left_out", "checks"}
    (test,) = found["tests"]
    assert {
        "test",
        "species",
        "look",
        "design",
        "n_panels",
        "residual_df",
        "residual_ms",
        "systems",
        "pairs",
    } < set(test)
    assert {"effects", "friedman", "ladder"} < set(test)
    assert (test["test"], test["species"], test["look"], test["design"]) == ("water", "all", "24h", "blocks")
    expected = analyse(block_readings(TABLE)).tests[0]
    assert [(s["system"], s["mean"], s["se"], s["letters"]) for s in test["systems"]] == [
        (s.system, pytest.approx(s.mean), pytest.approx(s.se), s.letters) for s in expected.systems
    ]
    assert set(test["pairs"][0]) == {
        "a", "b", "difference", "se", "ci", "p_tukey", "p_permutation", "exact", "verdict", "disagree",
    }  # fmt: skip
    assert [p["p_tukey"] for p in test["pairs"]] == [pytest.approx(p.p_tukey) for p in expected.pairs]
    assert test["effects"][0]["df"] == [2, 6]
    assert {check["check"] for check in found["checks"]} >= {"replicates", "control"}


def test_same_input_same_bytes(csv_file: Path) -> None:
    assert run(str(csv_file), "--json").stdout == run(str(csv_file), "--json").stdout


def test_a_look_can_be_chosen_and_text_is_for_people(csv_file: Path) -> None:
    done = run(str(csv_file), "--look", "lifted")
    assert done.stdout.startswith("water · all · look lifted · 12 panels")
    assert "pass  Every build-up has 4 panels or more." in done.stdout


def test_standard_input_and_a_byte_order_mark(csv_file: Path) -> None:
    done = run("-", "--json", stdin="\ufeff" + csv_file.read_text(encoding="utf-8"))
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout)["tests"]


@pytest.mark.parametrize(
    ("content", "arguments", "says"),
    [
        ("test,system,board,panel,grade\nwater,A,b1,p1,7\n", [], "line 2: grade 7 is not on the scale"),
        ("not,a,table\n", [], "columns test, system, board, panel, grade are missing"),
        (
            "test,system,board,panel,grade,look\nwater,A,b1,p1,4,24h\n",
            ["--look", "7d"],
            "There is no look '7d'",
        ),
    ],
)
def test_bad_files_end_with_2_and_plain_words(
    tmp_path: Path, content: str, arguments: list[str], says: str
) -> None:
    path = tmp_path / "bad.csv"
    path.write_text(content)
    done = run(str(path), "--json", *arguments)
    assert (done.returncode, done.stdout) == (2, "")
    assert says in done.stderr
    assert "Traceback" not in done.stderr


def test_not_utf8_and_not_there(tmp_path: Path) -> None:
    path = tmp_path / "latin.csv"
    path.write_bytes("test,system,board,panel,grade\nwater,caf\xe9,b,p,3\n".encode("latin-1"))
    assert "not UTF-8" in run(str(path)).stderr
    missing = run(str(tmp_path / "none.csv"))
    assert missing.returncode == 2
    assert "cannot be opened" in missing.stderr
