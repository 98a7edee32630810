"""``./nublet design`` as a whole process."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path
from typing import Any

import pytest

from tests.cli.processes import ROOT, run_offline

SPEC: dict[str, Any] = {
    "systems": ["oil", "varnish", "shellac"],
    "control": True,
    "species": ["beech"],
    "sections": ["none", "waxed"],
    "boards": [
        {
            "id": "B1", "species": "beech", "length_mm": 3200, "width_mm": 210,
            "defects": [{"from_mm": 800, "to_mm": 840}],
        },
        {"id": "B2", "species": "beech", "length_mm": 3300, "width_mm": 210, "defects": []},
        {"id": "B3", "species": "beech", "length_mm": 3300, "width_mm": 210, "defects": []},
    ],
    "panel_mm": [700, 200],
    "kerf_mm": 3,
    "end_trim_mm": 20,
    "exposures": [
        {"id": "wine", "agent": "red wine", "wetted_mm": 40, "kind": "liquid"},
        {"id": "dry-heat", "agent": "hot block", "wetted_mm": 100, "kind": "heat"},
    ],
    "margin_mm": 15,
    "seed": 7,
}  # fmt: skip


@pytest.fixture
def spec_file(tmp_path: Path) -> Path:
    path = tmp_path / "spec.json"
    path.write_text(json.dumps(SPEC), encoding="utf-8")
    return path


def refused(changed: dict[str, Any], tmp_path: Path) -> str:
    path = tmp_path / "bad.json"
    path.write_text(json.dumps(SPEC | changed), encoding="utf-8")
    done = run_offline("design", str(path), "--json")
    assert (done.returncode, done.stdout) == (2, "")
    return done.stderr


def test_json_has_the_documented_form(spec_file: Path) -> None:
    done = run_offline("design", str(spec_file), "--json")
    assert (done.returncode, done.stderr) == (0, "")
    found = json.loads(done.stdout)
    assert set(found) == {"fingerprint", "panels", "says"}
    assert len(found["fingerprint"]) == 64
    assert len(found["panels"]) == 12
    panel = found["panels"][0]
    assert set(panel) == {"code", "board", "species", "system", "offset_mm", "row", "sections", "spots"}
    assert set(panel["sections"][0]) == {"name", "x_mm", "y_mm", "length_mm", "width_mm"}
    assert set(panel["spots"][0]) == {"exposure", "section", "x_mm", "y_mm", "diameter_mm"}
    assert {row["system"] for row in found["panels"]} == {"oil", "varnish", "shellac", "control"}
    assert [len(row["spots"]) for row in found["panels"]] == [4] * 12
    # The knot is sawn around.
    on_first = sorted(row["offset_mm"] for row in found["panels"] if row["board"] == "B1")
    assert on_first == [20, 840, 1543, 2246]
    assert any("With 3 boards you will notice" in says for says in found["says"])


def test_the_same_seed_gives_the_same_design_and_another_another(spec_file: Path, tmp_path: Path) -> None:
    first, second = (json.loads(run_offline("design", str(spec_file), "--json").stdout) for _ in range(2))
    assert first == second
    other = run_offline("design", "-", "--json", stdin=json.dumps(SPEC | {"seed": 8}))
    assert json.loads(other.stdout)["fingerprint"] != first["fingerprint"]


def test_words_for_a_terminal(spec_file: Path) -> None:
    done = run_offline("design", str(spec_file))
    assert done.returncode == 0
    assert "beech: 3 boards, each with all 4 build-ups: 12 panels." in done.stdout
    assert "B1 (beech)" in done.stdout
    assert "fingerprint " in done.stdout


@pytest.mark.parametrize(
    ("changed", "says"),
    [
        ({"boards": [SPEC["boards"][0] | {"length_mm": 1000}, *SPEC["boards"][1:]]}, "Board 'B1' is"),
        ({"panel_mm": [150, 120]}, "do not fit on a panel of 150 × 120 mm"),
        ({"species": ["elm"]}, "which species does not list"),
        ({"systems": []}, "at least two build-ups"),
        ({"colour": 1}, "unknown key 'colour'"),
        ({"seed": -1}, "seed is -1"),
    ],
)
def test_what_cannot_be_done_is_refused_with_the_reason(
    tmp_path: Path, changed: dict[str, Any], says: str
) -> None:
    assert says in refused(changed, tmp_path)


def test_a_file_that_cannot_be_read(tmp_path: Path) -> None:
    missing = run_offline("design", str(tmp_path / "none.json"))
    assert (missing.returncode, "cannot be opened" in missing.stderr) == (2, True)
    broken = run_offline("design", "-", stdin="{")
    assert (broken.returncode, "This is not JSON" in broken.stderr) == (2, True)


def test_the_launcher_hands_over(spec_file: Path) -> None:
    done = subprocess.run(
        [str(ROOT / "nublet"), "design", str(spec_file), "--json"], capture_output=True, text=True
    )
    assert done.returncode == 0, done.stderr
    assert json.loads(done.stdout)["panels"]
