"""Power: against scipy, a published example, a simpler case, and its own limits."""

from __future__ import annotations

import itertools
import math

import pytest
from scipy import integrate, stats

from nublet.core.design.outlook import look_ahead
from nublet.core.design.power import (
    Comparison,
    Spread,
    notice_power,
    pool_spread,
    power_curve,
    smallest_difference,
)
from nublet.core.errors import DesignError


def blocks(v: int, b: int, k: int | None = None) -> Comparison:
    return Comparison(n_build_ups=v, n_boards=b, block_size=k or v)


def by_integration(difference: float, sed: float, critical: float, df: int) -> float:
    """P(|T| > critical) with T = (Z + δ) / S, by integrating over the chi distribution of S √df."""
    ncp = difference / sed

    def beyond(chi: float) -> float:
        limit = critical * chi / math.sqrt(df)
        return float((stats.norm.sf(limit - ncp) + stats.norm.cdf(-limit - ncp)) * stats.chi.pdf(chi, df))

    return float(integrate.quad(beyond, 0, math.sqrt(df) + 12, limit=200)[0])


@pytest.mark.parametrize("v", [2, 5, 12])
@pytest.mark.parametrize("b", [2, 4, 9])
@pytest.mark.parametrize("difference", [0.1, 0.5, 1.0, 2.0])
@pytest.mark.parametrize("rule", ["told_apart", "named_pair"])
def test_power_is_that_of_the_noncentral_t(v: int, b: int, difference: float, rule: str) -> None:
    df = (v - 1) * (b - 1)
    critical = (
        stats.t.ppf(0.975, df)
        if rule == "named_pair"
        else stats.studentized_range.ppf(0.95, v, df) / math.sqrt(2)
    )
    expected = by_integration(difference, 0.6 * math.sqrt(2 / b), critical, df)
    found = notice_power(difference, blocks(v, b), 0.6, rule=rule)  # type: ignore[arg-type]
    assert found == pytest.approx(expected, abs=1e-5)


def test_two_build_ups_are_a_paired_t_test_whatever_the_rule() -> None:
    """With two means the studentized range is √2 |t|, so both rules are one."""
    for difference in (0.3, 1.0, 2.5):
        told = notice_power(difference, blocks(2, 6), 0.6)
        named = notice_power(difference, blocks(2, 6), 0.6, rule="named_pair")
        assert told == pytest.approx(named, abs=1e-6)


def test_the_rule_of_thumb_of_the_trade() -> None:
    """Four boards and a spread of 0.6: a pair named beforehand is noticed from 1.3 grades, 8 times in 10."""
    found = smallest_difference(blocks(5, 4), 0.6, rule="named_pair")
    assert found is not None
    assert round(found, 1) == 1.3


@pytest.mark.parametrize("comparison", [blocks(2, 2), blocks(8, 4), blocks(7, 7, 3), blocks(13, 30)])
@pytest.mark.parametrize("rule", ["told_apart", "named_pair"])
def test_the_smallest_difference_has_just_that_power(comparison: Comparison, rule: str) -> None:
    found = smallest_difference(comparison, 0.6, rule=rule)  # type: ignore[arg-type]
    assert found is not None
    assert notice_power(found, comparison, 0.6, rule=rule) == pytest.approx(0.8, abs=1e-6)  # type: ignore[arg-type]


def test_power_is_never_nan_and_never_falls() -> None:
    for comparison in (blocks(2, 2), blocks(3, 2), blocks(12, 40)):
        powers = [notice_power(step / 4, comparison, 0.05) for step in range(200)]
        assert all(math.isfinite(p) for p in powers)
        assert all(later >= earlier - 1e-6 for earlier, later in itertools.pairwise(powers))
        assert powers[-1] == pytest.approx(1.0)


def test_one_board_notices_nothing() -> None:
    assert smallest_difference(blocks(5, 1), 0.6) is None
    assert notice_power(4, blocks(5, 1), 0.6) == 0
    assert look_ahead([blocks(5, 1)], Spread()).says[0].startswith("One board is a demonstration")
    assert {power for _, power in power_curve(blocks(5, 1), 0.6)} == {0.0}


@pytest.mark.parametrize("sd", [-1.0, float("nan"), float("inf"), 1e6])
def test_a_spread_that_cannot_be_is_refused(sd: float) -> None:
    with pytest.raises(DesignError, match="SD of"):
        smallest_difference(blocks(3, 3), sd)


def test_a_pooled_spread_weighs_by_degrees_of_freedom_and_says_so() -> None:
    pooled = pool_spread([(0.16, 30), (0.64, 10)], n_trials=2)
    assert pooled.sd == pytest.approx(math.sqrt((0.16 * 30 + 0.64 * 10) / 40))
    assert "your own 2 finished trials (40 degrees" in pooled.says
    assert pool_spread([], n_trials=0) == Spread()
    assert pool_spread([(0.0, 12)], n_trials=1) == Spread()


def test_the_outlook_says_what_one_board_more_or_fewer_buys() -> None:
    ahead = look_ahead([blocks(6, 4), blocks(6, 4)], Spread())
    assert ahead.fewer is not None
    assert ahead.more is not None
    assert ahead.pooled is not None
    assert ahead.fewer.n_boards == 3
    assert ahead.more.n_boards == 5
    assert ahead.pooled.n_boards == 8
    reaches = [r.told_apart for r in (ahead.fewer, ahead.here, ahead.more, ahead.pooled)]
    assert all(r is not None for r in reaches)
    assert reaches == sorted(reaches, reverse=True)  # type: ignore[type-var]
    text = " ".join(ahead.says)
    assert f"With 4 boards of each wood you will notice a {reaches[1]:.1f}-grade difference" in text
    assert (
        f"One more board would bring it to {reaches[2]:.1f}; one fewer would raise it to {reaches[0]:.1f}"
        in text
    )
    n = ahead.n_boards_worth_knowing
    assert n is not None
    assert smallest_difference(blocks(6, n), 0.6) <= 1 < smallest_difference(blocks(6, n - 1), 0.6)  # type: ignore[operator]


def test_incomplete_blocks_move_in_steps_that_balance() -> None:
    ahead = look_ahead([blocks(7, 7, 3)], Spread())
    assert ahead.fewer is None
    assert ahead.more is not None
    assert ahead.more.n_boards == 14
    assert any("worth 78 %" in says for says in ahead.says)
