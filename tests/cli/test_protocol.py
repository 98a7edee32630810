"""``./nublet protocol`` as a whole process: what it lists it shows, what it shows it accepts, and what cannot be it refuses."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from nublet.cli import protocol as command
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from tests.cli.processes import run_offline
from tests.core.test_protocol_language import BASICS, changed


def listed(*options: str) -> list[str]:
    done = run_offline("protocol", "list", *options)
    assert (done.returncode, done.stderr) == (0, "")
    return [line.split()[0] for line in done.stdout.splitlines()]


def check(
    text: str, tmp_path: Path, capsys: pytest.CaptureFixture[str], *options: str
) -> tuple[int, str, str]:
    path = tmp_path / "mine.json"
    path.write_text(text, encoding="utf-8")
    before = {each.name: each.stat().st_mtime_ns for each in tmp_path.iterdir()}
    code = command.main(["check", str(path), *options])
    assert {each.name: each.stat().st_mtime_ns for each in tmp_path.iterdir()} == before, "it wrote something"
    told = capsys.readouterr()
    return code, told.out, told.err


def test_it_lists_what_ships() -> None:
    assert sorted(listed()) == sorted(PROTOCOLS)
    assert sorted(listed("--tests")) == sorted(TESTS)


@pytest.mark.parametrize("protocol_id", PROTOCOLS)
def test_what_it_shows_it_accepts(
    protocol_id: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    assert command.main(["show", protocol_id]) == 0
    shown = capsys.readouterr().out
    kinds = {test["site"]["kind"] for test in json.loads(shown)["tests"]}
    assert kinds <= {"spot", "strip", "part", "end", "panel", "slip"}
    code, out, err = check(shown, tmp_path, capsys)
    assert (code, err) == (0, "")
    assert "can be carried out" in out
    # The canonical form of what it shows is what it shows.
    assert check(shown, tmp_path, capsys, "--json")[1] == shown


def test_the_process_ends_with_2_and_a_path(tmp_path: Path) -> None:
    path = tmp_path / "mine.json"
    path.write_text(json.dumps(changed(BASICS, "looks.1.after_min", -5)), encoding="utf-8")
    done = run_offline("protocol", "check", str(path))
    assert (done.returncode, done.stdout) == (2, "")
    assert done.stderr == (
        f"nublet protocol: {path}: looks.1.after_min: The look '24h' is 5 min before its act. A look comes after it: "
        "give 0 or more, or say after: 'before'.\n"
    )
    assert run_offline("protocol", "show", "nothing").returncode == 2
    assert run_offline("protocol", "check", str(tmp_path / "none.json")).returncode == 2


DEEP = '{"tests": ' + "[" * 100_000 + "]" * 100_000 + "}"


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "It is not JSON"),
        ('{"name": "x", "tests": [}', "line 1, column 25"),
        ("[]", "It holds no object"),
        ('{"name": "x", "name": "y"}', "'name' stands twice"),
        ('{"name": "x", "version": NaN}', "NaN is no number"),
        ('{"name": "x", "version": 1e400}', "version is inf; it is a number"),
        ('{"id": 7}', "id: id is 7; it is a text"),
        ('{"name": "x"}', "tests: tests is missing"),
        ('{"name": "x", "tests": {}}', "tests: tests is {}; it is a list"),
        ('{"name": "x", "tests": ["wine"]}', "tests.0: tests 0 is 'wine'; it is an object"),
        (DEEP, "nested more than 20 deep"),
        ('{"name": "' + "x" * 10_000_000 + '"}', "The file has 10,000,012 characters"),
        (json.dumps(changed(BASICS, "tests.0.acts.0.lasts_h", 6)), "tests.0.acts.0.lasts_h: There is no field"),
        (json.dumps(changed(BASICS, "tests.5.acts.0.temperature_c", 473)), "tests.5.acts.0.temperature_c: "),
        (json.dumps(changed(BASICS, "tests.0.reads.0.response", "stars")), "tests.0.reads.0.response: "),
        (json.dumps(changed(BASICS, "looks.1.after", "lay")), "looks.1.after_min: "),
    ],
)  # fmt: skip
def test_bad_files_are_refused_with_a_path_and_nothing_is_written(
    text: str, says: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    code, out, err = check(text, tmp_path, capsys)
    assert (code, out) == (2, "")
    assert says in err
    assert "Traceback" not in err


def test_a_site_that_no_such_panel_carries(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    text = json.dumps(BASICS)
    assert check(text, tmp_path, capsys, "--panel", "400x150")[0] == 0
    code, _, err = check(text, tmp_path, capsys, "--panel", "400x60")
    assert code == 2
    assert "tests.0.site: Water, covered 6 h does not fit on a panel of 400 × 60 mm" in err
    assert check(text, tmp_path, capsys, "--panel", "400x70")[2].startswith(
        f"nublet protocol: {tmp_path / 'mine.json'}: tests.4.site: Wet heat 70 °C, 20 min does not fit"
    )
    assert check(text, tmp_path, capsys, "--panel", "60x130", "--margin", "0")[0] == 2
    for options in (
        ("--panel", "0x0"),
        ("--panel", "400x150", "--margin", "-5"),
        ("--panel", "400x150", "--margin", "nan"),
    ):
        code, _, err = check(text, tmp_path, capsys, *options)
        assert code == 2
        assert "cannot be. Give" in err


def test_a_file_that_is_no_text(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "mine.json"
    path.write_bytes(b"\xff\xfe\x00\x01")
    assert command.main(["check", str(path)]) == 2
    assert "is not UTF-8 text" in capsys.readouterr().err


def test_json_as_it_was_written_by_hand(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """What a person would write: no id, no defaults, natures from the agent's name."""
    mine: dict[str, Any] = {
        "name": "Cellar steps",
        "tests": [
            {
                "id": "wet-boot", "name": "Wet boot, 2 h", "short_name": "Boot", "group": "wear",
                "site": {"kind": "strip", "length_mm": 120, "width_mm": 60},
                "acts": [
                    {"id": "lay", "kind": "lay", "agent": "wet boot", "lasts_min": 120},
                    {"id": "lift", "kind": "lift", "how": "wiped dry"},
                ],
                "reads": [{"response": "grade"}, {"response": "sticks"}],
            }
        ],
        "looks": [{"id": "24h", "name": "24 h", "after_min": 1440}],
    }  # fmt: skip
    code, out, err = check(json.dumps(mine), tmp_path, capsys, "--json")
    assert (code, err) == (0, "")
    assert json.loads(out)["tests"] == mine["tests"]
