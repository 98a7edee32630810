"""Checks of the log and the plan: one sitting, one pour, blocks alike, boards beyond the plan; what each does to the verdict."""

from __future__ import annotations

import ast
from collections import defaultdict
from datetime import UTC, datetime, timedelta
from importlib.resources import files
from pathlib import Path
from typing import Any

import pytest

import nublet
from nublet.core.evidence.checks import DOES, DOES_WHEN_IT_FAILS, Check
from nublet.core.evidence.trial_checks import (
    Laid,
    check_added,
    check_blind,
    check_blocks,
    check_exposing,
    check_pours,
)

NINE = datetime(2027, 3, 1, 9, tzinfo=UTC)


def laid(system: str, board: str = "Beech 1", *, hours: float = 0, **more: Any) -> Laid:
    return Laid(test="Hot mug", system=system, board=board, at=NINE + timedelta(hours=hours), **more)


@pytest.mark.parametrize(("hours", "level"), [(0.5, "pass"), (12, "pass"), (12.5, "warn"), (24, "warn")])
def test_a_board_is_exposed_in_one_sitting(hours: float, level: str) -> None:
    found = check_exposing("together", [laid("A"), laid("B", hours=hours)], n_systems=2)
    assert found.level == level
    assert ("Hot mug on Beech 1" in found.says) == (level == "warn")
    # Another board may have its own day, and what comes round again too.
    other = [
        laid("A"),
        laid("A", "Beech 2", hours=48),
        laid("B", "Beech 2", hours=48),
        laid("A", hours=72, nth=2),
    ]
    assert check_exposing("together", other, n_systems=2).level == "pass"


def test_as_each_is_ready_is_a_warning_whatever_the_log_says() -> None:
    assert check_exposing("as-ready", [], n_systems=2).level == "warn"
    assert check_exposing("as-ready", [], n_systems=1).level == "pass"


def test_a_board_is_laid_from_one_pour() -> None:
    assert check_pours([laid("A"), laid("B")]) is None
    one = check_pours([laid("A", pour=1), laid("B", pour=1), laid("A", "Beech 2", pour=2)])
    assert one is not None
    assert one.level == "pass"
    mixed = check_pours([laid("A", pour=1), laid("B", pour=2)])
    assert mixed is not None
    assert (mixed.level, "Hot mug on Beech 1" in mixed.says) == ("warn", True)


def test_a_block_that_is_hotter_for_one_build_up_is_named_and_one_that_is_hotter_on_a_board_is_not() -> None:
    def heats(*degrees: tuple[str, str, float]) -> Check:
        found = check_blocks([laid(system, board, block_c=c) for system, board, c in degrees])
        assert found is not None
        return found

    assert check_blocks([laid("A")]) is None
    boards = heats(("A", "1", 80), ("B", "1", 80.5), ("A", "2", 90), ("B", "2", 90.5))
    assert boards.level == "pass"
    leaning = heats(("A", "1", 80), ("B", "1", 86), ("A", "2", 81), ("B", "2", 87))
    assert leaning.level == "warn"
    assert "B met hot mug at 86.5 °C on average, the others of its boards at 80.5 °C" in leaning.says
    # Chance that evens out over boards is no lean.
    assert heats(("A", "1", 80), ("B", "1", 83), ("A", "2", 83), ("B", "2", 80)).level == "pass"


def test_boards_beyond_the_plan_warn_where_something_had_been_read() -> None:
    assert check_added([], n_after=0) is None
    early, late = check_added(["Beech 4"], n_after=0), check_added(["Beech 4", "Beech 5"], n_after=1)
    assert early is not None
    assert late is not None
    assert (early.level, late.level) == ("pass", "warn")
    assert "1 of them came when readings had been made" in late.says


def test_who_could_know_is_said_to_stand_apart() -> None:
    assert "stand apart" not in check_blind(["Nell"]).says
    assert "12 readings of those who could know stand apart" in check_blind(["Nell"], n_apart=12).says


def levels_in_the_source() -> dict[str, set[str]]:
    """At which levels the source makes each check; one whose level is worked out may have any."""
    found: dict[str, set[str]] = defaultdict(set)
    for path in Path(str(files(nublet))).glob("**/*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "Check":
                given = {each.arg: each.value for each in node.keywords}
                key = ast.literal_eval(given["check"])
                literals = [each for each in ast.walk(given["level"]) if isinstance(each, ast.Constant)]
                found[key] |= {str(each.value) for each in literals if isinstance(each.value, str)} or {
                    "warn"
                }
    return found


def test_each_check_that_can_warn_says_what_it_does_to_the_verdict() -> None:
    made = levels_in_the_source()
    assert {key for key, levels in made.items() if "warn" in levels} <= set(DOES)
    assert {key for key, levels in made.items() if "fail" in levels} == set(DOES_WHEN_IT_FAILS)
    assert set(DOES) <= set(made)
    for key in DOES:
        assert Check(check=key, level="warn", says="x").does == DOES[key]
        assert Check(check=key, level="pass", says="x").does == ""
    assert Check(check="replicates", level="fail", says="x").does == DOES_WHEN_IT_FAILS["replicates"]
    assert not set(DOES_WHEN_IT_FAILS) - set(DOES)
