"""Ladders by hand, censored at both ends, and in a table."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Asked, analyse
from nublet.core.evidence.models.ladders import Climbed, weigh_ladder
from nublet.core.evidence.on_ladders import name_steps
from nublet.core.evidence.readings import Reading
from nublet.core.protocols.responses import PASSED

STEPS = ("10 min", "1 h", "6 h")


def climbed(system: str, *ends: tuple[int, int]) -> list[Climbed]:
    return [
        Climbed(panel=f"{system}{i}", system=system, board=f"b{i}", species=None, at_least=a, at_most=b)
        for i, (a, b) in enumerate(ends)
    ]


def test_medians_lie_between_two_steps_and_are_open_at_both_ends() -> None:
    panels = (
        climbed("A", (3, 3), (3, 3), (2, 2))
        + climbed("B", (1, 1), (2, 2), (1, 1))
        + climbed("C", (0, 0), (0, 0), (1, 1))
    )
    found = {row.system: row for row in weigh_ladder(panels, STEPS).systems}
    assert (found["A"].median_after, found["A"].median_by, found["A"].n_passed_all) == (2, None, 2)
    assert (found["B"].median_after, found["B"].median_by) == (0, 1)
    assert (found["C"].median_after, found["C"].median_by) == (None, 0)
    assert found["B"].mean_steps_passed == pytest.approx(4 / 3)
    assert found["B"].level == pytest.approx(0.75)


def test_a_step_that_was_not_read_counts_in_the_middle_and_is_named() -> None:
    found = weigh_ladder([*climbed("A", (1, 2), (2, 2))], STEPS)
    assert [value.value for value in found.values] == [1.5, 2]
    assert found.unsure == ("A0",)


def table(passes: dict[str, list[list[int]]]) -> list[Reading]:
    return [
        Reading(
            test=f"water {step:g}", ladder="water", step=step, system=system, board=f"b{board}", panel=f"{system}{board}",
            judge="Nell", look="24h", grade=float(grade),
        )
        for system, rows in passes.items()
        for board, row in enumerate(rows)
        for step, grade in zip((10.0, 60.0, 360.0), row, strict=True)
    ]  # fmt: skip


GRADES = {
    "A": [[5, 5, 4], [5, 4, 3], [5, 5, 4], [5, 5, 5]],
    "B": [[4, 3, 2], [5, 3, 4], [4, 2, 1], [3, 2, 1]],
}


def test_a_table_with_steps_is_weighed_as_a_ladder_too() -> None:
    found = analyse(table(GRADES))
    ladder = found.tests[-1]
    assert ladder.test == "water"
    assert ladder.ladder is not None
    assert ladder.ladder.steps == ("10", "60", "360")
    assert ladder.ladder.contradicted == ("B1",)
    assert "Passed above a fail: B1" in ladder.says
    means = {row.system: row.mean for row in ladder.systems}
    assert means == {"A": pytest.approx(2.75), "B": pytest.approx(0.75)}
    (pair,) = ladder.pairs
    assert pair.difference == pytest.approx(2)
    assert pair.p_tukey is not None
    harder = analyse(table(GRADES), asked=Asked(threshold=5)).tests[-1]
    assert harder.ladder is not None
    assert (ladder.ladder.threshold, harder.ladder.threshold) == (4, 5)
    assert {row.system: row.mean for row in harder.systems} == {
        "A": pytest.approx(2),
        "B": pytest.approx(0.25),
    }


def test_passes_in_the_place_of_grades() -> None:
    rows = [replace(r, grade=float((r.grade or 0) >= 4)) for r in table(GRADES)]
    found = analyse(rows, response=PASSED, asked=Asked(threshold=1))
    assert {row.system: row.mean for row in found.tests[-1].systems} == {
        "A": pytest.approx(2.75),
        "B": pytest.approx(0.75),
    }
    assert {test.told_as for test in found.tests[:-1]} == {"share"}
    ladder = found.tests[-1].ladder
    assert ladder is not None
    assert ladder.threshold is None


def test_tests_are_named_as_steps() -> None:
    plain = [replace(r, ladder=None, step=None) for r in table(GRADES)]
    named = analyse(name_steps(plain, ["water 10", "water 60", "water 360"])).tests[-1]
    assert {row.system: row.mean for row in named.systems} == {
        "A": pytest.approx(2.75),
        "B": pytest.approx(0.75),
    }
    fewer = analyse(name_steps(table(GRADES), ["10", "60"])).tests[-1]
    assert fewer.ladder is not None
    assert fewer.ladder.steps == ("10", "60")
    with pytest.raises(ReadingsError, match="no step '7'"):
        name_steps(table(GRADES), ["10", "7"])


def test_a_ladder_without_a_step_is_refused() -> None:
    rows = table(GRADES)
    with pytest.raises(ReadingsError, match="the step of ladder 'water' is blank"):
        analyse([replace(rows[0], step=None), *rows[1:]])
    with pytest.raises(ReadingsError, match="No step"):
        weigh_ladder([], STEPS)
