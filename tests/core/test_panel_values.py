"""The judges of a panel: pooled where they can be compared, left as they graded where not."""

from __future__ import annotations

import dataclasses

import numpy as np
import pandas as pd
import pytest
import statsmodels.formula.api as smf
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.evidence import panel_values as module
from nublet.core.evidence.analysis import analyse
from nublet.core.evidence.panel_values import panel_values, pool_judges
from nublet.core.evidence.readings import Reading
from nublet.core.protocols.responses import ANY_MEASURE
from tests.core.builders import block_readings

ALL_FOUR: dict[str, list[float | None]] = {name: [4, 4, 4, 4] for name in "ABCDE"}


def of_judges(table: dict[str, list[float | None]], split: dict[str, str]) -> list[Reading]:
    """Each system graded by the one judge that ``split`` gives it."""
    return [r for r in block_readings(table) for r in [dataclasses.replace(r, judge=split[r.system])]]


def test_judges_who_share_no_panel_move_nobody_and_are_named() -> None:
    """All grades 4, one judge for A to C and another for D and E: every mean is 4."""
    found = analyse(of_judges(ALL_FOUR, {"A": "J1", "B": "J1", "C": "J1", "D": "J2", "E": "J2"}))
    assert [row.mean for row in found.tests[0].systems] == [4.0] * 5
    check = {c.check: c for c in found.checks}["judges_linked"]
    assert check.level == "warn"
    assert "J1 | J2" in check.says
    assert "Let one of each set grade a few panels of the other's" in check.says


def test_judges_of_whole_boards_are_absorbed_by_the_boards() -> None:
    readings = [
        dataclasses.replace(r, judge="J1" if r.board in ("b1", "b2") else "J2")
        for r in block_readings(ALL_FOUR)
    ]
    pooled = pool_judges(readings)
    assert pooled.groups == (("J1",), ("J2",))
    assert not pooled.splits_a_board
    assert {c.check: c.level for c in analyse(readings).checks}["judges_linked"] == "pass"


def test_each_connected_set_is_adjusted_by_itself() -> None:
    """J1 and J2 share A1, J3 stands alone: his panels stay, theirs meet at the mean of the two."""
    rows = [("A1", "J1", 3.0), ("A1", "J2", 4.0), ("A2", "J1", 3.0), ("B1", "J2", 4.0), ("B2", "J3", 5.0)]
    readings = [
        Reading(test="water", system=panel[0], board=f"b{panel[1]}", panel=panel, judge=judge, grade=grade)
        for panel, judge, grade in rows
    ]
    values = {v.panel: v.value for v in panel_values(readings)}
    assert values == pytest.approx({"A1": 3.5, "A2": 3.5, "B1": 3.5, "B2": 5.0})


def test_a_blank_judge_counts_as_given_and_is_said() -> None:
    readings = block_readings({"A": [4, 4, 4], "B": [2, 2, 3]}, judges=("Nell", "Imara"))
    readings[0] = dataclasses.replace(readings[0], judge=None)
    values = {v.panel: v.value for v in panel_values(readings)}
    assert values["A1"] == pytest.approx(4)
    check = {c.check: c for c in analyse(readings).checks}["judges_linked"]
    assert (check.level, "The judge is blank for 1 grades (water)" in check.says) == ("warn", True)


def test_a_pooled_grade_never_leaves_the_scale() -> None:
    readings = [
        Reading(test="t", system=s, board=b, panel=p, judge=j, grade=g)
        for s, b, p, j, g in [
            ("A", "b1", "p1", "J1", 1.0), ("A", "b1", "p1", "J2", 5.0), ("B", "b1", "p2", "J2", 5.0),
            ("B", "b2", "p3", "J1", 5.0), ("A", "b2", "p4", "J1", 1.0),
        ]
    ]  # fmt: skip
    graded = {v.panel: v.value for v in panel_values(readings)}
    assert max(graded.values()) == 5.0
    assert max(v.value for v in panel_values(readings, response=ANY_MEASURE)) == pytest.approx(7.0)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000))
def test_agrees_with_least_squares_where_everything_is_linked(seed: int) -> None:
    """Against statsmodels' panel + judge with sum-to-zero judges, whatever is missing."""
    rng = np.random.default_rng(seed)
    rows = [
        (f"p{p}", f"J{j}", float(rng.normal(3, 1)))
        for p in range(6)
        for j in range(3)
        if j == 0 or rng.random() < 0.6
    ]
    if {j for _, j, _ in rows} != {"J0", "J1", "J2"}:
        return
    data = pd.DataFrame(rows, columns=["panel", "judge", "y"])
    reference = smf.ols("y ~ 0 + C(panel) + C(judge, Sum)", data).fit()
    values = panel_values(
        [Reading(test="t", system=p, board="b", panel=p, judge=j, grade=y) for p, j, y in rows],
        response=ANY_MEASURE,
    )
    assert [v.value for v in values] == pytest.approx(
        [reference.params[f"C(panel)[{v.panel}]"] for v in values]
    )


def test_many_judges_need_no_dense_table(monkeypatch: pytest.MonkeyPatch) -> None:
    """The way for thousands of judges gives what the dense one does."""
    rng = np.random.default_rng(1)
    readings = [
        Reading(test="t", system="A", board="b", panel=f"p{p}", judge=f"J{j}", grade=float(rng.normal()))
        for p in range(40)
        for j in range(12)
        if (p + j) % 3 == 0
    ]
    dense = [v.value for v in panel_values(readings, response=ANY_MEASURE)]
    monkeypatch.setattr(module, "_MOST_JUDGES_DENSE", 0)
    assert [v.value for v in panel_values(readings, response=ANY_MEASURE)] == pytest.approx(dense, abs=1e-9)
