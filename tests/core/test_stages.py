"""Limits of staged trials against published ones, by chance, by reduction and on bad input."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy import stats

from nublet.core.errors import ReadingsError
from nublet.core.evidence.rows import PieceRow
from nublet.core.evidence.stages import Staging, check_stages, stage_limits, stage_reached

# Two-sided 0.05, O'Brien-Fleming form, equal steps, as printed by Reboussin, D. M., DeMets, D. L., Kim, K. and Lan, K. K. G.
# (2000), Programs for computing group sequential boundaries using the Lan-DeMets method, Controlled Clinical Trials 21, 190-207.
PRINTED = {
    2: [2.9626, 1.9686],
    3: [3.7103, 2.5114, 1.9930],
    5: [4.8769, 3.3569, 2.6803, 2.2898, 2.0310],
}


@pytest.mark.parametrize("n", PRINTED)
def test_the_published_limits(n: int) -> None:
    assert [each.z for each in stage_limits((1,) * n)] == pytest.approx(PRINTED[n], abs=2e-4)


def test_a_trial_in_one_go_is_the_plain_test() -> None:
    (only,) = stage_limits((5,))
    assert (only.alpha, only.z, only.n_boards) == pytest.approx((0.05, stats.norm.isf(0.025), 5))


def test_the_error_over_all_looks_is_what_was_to_be_spent() -> None:
    """200,000 walks of chance alone, looked at after 3, 5 and 7 boards."""
    limits = stage_limits((3, 2, 2))
    steps = np.random.default_rng(1).normal(size=(200_000, 7))
    sums = np.cumsum(steps, axis=1)
    passed = np.zeros(len(sums), dtype=bool)
    for each in limits:
        passed |= np.abs(sums[:, each.n_boards - 1]) / np.sqrt(each.n_boards) >= each.z
        assert passed.mean() == pytest.approx(each.spent, abs=4 * np.sqrt(0.05 * 0.95 / len(sums)))
    assert limits[-1].spent == pytest.approx(0.05)


def test_limits_fall_and_a_board_more_in_the_first_stage_lowers_its_own() -> None:
    zs = [each.z for each in stage_limits((3, 2, 2))]
    assert zs == sorted(zs, reverse=True)
    assert stage_limits((4, 2, 2))[0].z < zs[0]
    assert [each.n_boards for each in stage_limits((3, 2, 2))] == [3, 5, 7]


def test_another_error_moves_the_last_limit_towards_its_own() -> None:
    assert stage_limits((2, 2), alpha=0.01)[-1].z == pytest.approx(stats.norm.isf(0.005), abs=0.03)


@pytest.mark.parametrize("boards", [(), (3, 0), (1,) * 11])
def test_what_is_no_plan_of_stages_is_refused(boards: tuple[int, ...]) -> None:
    with pytest.raises(ReadingsError, match="1 to 10 stages"):
        stage_limits(boards)


STAGING = Staging(boards=(1, 1), stage_of={"Beech 1": 1, "Beech 2": 2})


def row(board: str, value: float | None, **more: Any) -> PieceRow:
    return PieceRow(
        piece=f"{board} a", system="A", board=board, species="beech", test="wine-1h", look="24h", response="grade",
        value=value, **more,
    )  # fmt: skip


def test_a_stage_counts_when_nothing_on_its_boards_is_missing() -> None:
    reached, counted = stage_reached([row("Beech 1", 4), row("Beech 2", None)], STAGING)
    assert (reached.stage, reached.n_stages, reached.n_missing, reached.n_waiting) == (1, 2, 1, 0)
    assert [each.board for each in counted] == ["Beech 1"]
    reached, counted = stage_reached([row("Beech 1", 4), row("Beech 2", 3), row("Glass 1", 2)], STAGING)
    assert (reached.stage, len(counted), reached.limit) == (2, 3, reached.limits[-1])


def test_what_was_read_ahead_of_its_stage_waits_and_glass_belongs_to_none() -> None:
    rows = [row("Beech 1", 4), row("Beech 2", 3), row("Beech 2", None), row("Glass 1", 2)]
    reached, counted = stage_reached(rows, STAGING)
    assert (reached.stage, reached.n_waiting) == (1, 1)
    assert [each.board for each in counted] == ["Beech 1", "Glass 1"]


def test_nothing_is_weighed_before_the_first_stage_and_what_is_left_out_does_not_hold_it_up() -> None:
    with pytest.raises(
        ReadingsError, match=r"Stage 1 of 2 \(1 board of each wood\) is not read to the end: 1 reading"
    ):
        stage_reached([row("Beech 1", None), row("Beech 2", 3)], STAGING)
    rows = [row("Beech 1", 4), row("Beech 1", None, left_out="spoiled")]
    assert stage_reached(rows, STAGING)[0].stage == 1


def test_stages_come_to_the_boards_of_the_trial() -> None:
    check_stages((3, 2, 2), 7)
    with pytest.raises(ReadingsError, match="come to 7 of each wood, but the trial has 5"):
        check_stages((3, 2, 2), 5)
