"""What is not averaged: shares with exact intervals, ordered words, times, ratios; and the ranks school."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.weightstats import ttost_paired

from nublet.core.evidence.analysis import Asked, analyse
from nublet.core.evidence.outcomes import PairEvidence, Rules, TestEvidence
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.scored import share_interval
from nublet.core.evidence.weighing import weigh_test
from nublet.core.protocols.responses import ANY_MEASURE, GRADE, RESPONSES, Response
from tests.core.builders import block_readings, block_values, random_table

Table = dict[str, list[float | None]]


def weighed(
    table: Table, response: Response, *, judges: tuple[str, ...] = ("Nell",), asked: Asked | None = None
) -> TestEvidence:
    return analyse(block_readings(table, judges=judges), response=response, asked=asked).tests[0]


@pytest.mark.parametrize(("n_yes", "n"), [(0, 5), (2, 10), (5, 5), (7, 9)])
def test_shares_have_the_exact_interval_of_scipy(n_yes: int, n: int) -> None:
    expected = stats.binomtest(n_yes, n).proportion_ci(method="exact")
    assert share_interval(n_yes, n) == pytest.approx((expected.low, expected.high), abs=1e-9)


def test_yes_or_no_is_told_by_panels_and_told_apart_by_every_deal() -> None:
    """Peeling on all eight boards against none: of 2^8 deals two are as extreme."""
    found = weighed({"A": [0] * 8, "B": [1] * 8}, RESPONSES["peels"], judges=("Nell", "Imara"))
    assert [(row.system, row.mean, row.letters) for row in found.systems] == [("A", 0, "a"), ("B", 1, "b")]
    (pair,) = found.pairs
    assert pair.is_exact
    assert pair.p_permutation == pytest.approx(2 / 256)
    assert found.told_as == "share"
    assert found.systems[0].ci == pytest.approx(share_interval(0, 8))
    # Boards on which both did the same say nothing: the sign test over the others.
    mixed = weighed({"A": [0, 0, 0, 0, 0, 0, 1, 1], "B": [1, 1, 1, 1, 1, 1, 1, 1]}, RESPONSES["peels"])
    assert mixed.pairs[0].p_permutation == pytest.approx(stats.binomtest(6, 6).pvalue)


def test_ordered_words_show_each_steps_share_and_are_told_apart_by_ranks() -> None:
    table: Table = {"A": [0, 0, 1, 0, 0, 1], "B": [3, 3, 2, 3, 2, 3], "C": [0, 1, 0, 1, 0, 0]}
    smell = RESPONSES["rub-off"]
    found = weighed({s: [min(v or 0, 2) for v in row] for s, row in table.items()}, smell)
    by_name = {row.system: row for row in found.systems}
    assert [(step.words, round(step.share, 3)) for step in by_name["A"].steps] == [
        ("Clean cloth", 0.667),
        ("Some", 0.333),
        ("Strong", 0),
    ]
    assert found.systems[-1].system == "B"
    assert {(p.a, p.b): p.verdict for p in found.pairs} == {
        ("A", "B"): "told apart",
        ("A", "C"): "open",
        ("B", "C"): "told apart",
    }
    assert all(pair.p_tukey is None for pair in found.pairs)


def test_a_harsh_judge_of_ordered_words_moves_nobody() -> None:
    """Imara calls everything one step worse: within her own readings the order is the same."""
    nell = block_readings({"A": [0, 0, 1, 0], "B": [1, 1, 2, 1]}, judges=["Nell"])
    imara = [replace(r, judge="Imara", grade=(r.grade or 0) + 1) for r in nell]
    one = analyse(nell, response=RESPONSES["touch"]).tests[0]
    both = analyse([*nell, *imara], response=RESPONSES["touch"]).tests[0]
    assert [row.mean for row in both.systems] == pytest.approx([row.mean for row in one.systems])


def test_times_are_medians_between_looks_and_the_late_is_better_or_worse_as_declared() -> None:
    ends: list[tuple[str, float, float | None]] = [
        *[("A", 60.0, 120.0)] * 4, *[("A", 120.0, 240.0)] * 3, *[("B", 480.0, 1440.0)] * 4, *[("B", 1440.0, None)] * 3,
    ]  # fmt: skip
    rows = [
        Reading(
            test="dry", system=s, board=f"b{i % 7}", panel=f"{s}{i}", grade=b if b is not None else a,
            after=a if b is not None else None, is_beyond=b is None,
        )
        for i, (s, a, b) in enumerate(ends)
    ]  # fmt: skip
    found = analyse(rows, response=RESPONSES["minutes-to-touch-dry"]).tests[0]
    first, last = found.systems
    assert (first.system, first.letters, last.letters) == ("A", "a", "b")
    assert first.time is not None
    assert last.time is not None
    assert (first.time.after, first.time.by, first.mean) == (60, 120, None)
    assert (last.time.after, last.time.by, last.time.high) == (480, 1440, None)
    soaking = analyse(rows, response=RESPONSES["soak-in"]).tests[0]
    assert [row.system for row in soaking.systems] == ["B", "A"]


def test_ratios_are_those_of_geometric_means() -> None:
    table: Table = {"A": [10, 20, 15, 12], "B": [21, 39, 31, 24]}
    found = weighed(table, RESPONSES["uptake"])
    assert found.told_as == "ratio"
    best = found.systems[0]
    assert best.mean == pytest.approx(stats.gmean([10, 20, 15, 12]))
    (pair,) = found.pairs
    paired = stats.ttest_rel(np.log([10, 20, 15, 12]), np.log([21, 39, 31, 24]))
    assert pair.difference == pytest.approx(np.exp(np.mean(np.log([10 / 21, 20 / 39, 15 / 31, 12 / 24]))))
    assert pair.p_tukey == pytest.approx(paired.pvalue, abs=1e-8)
    low, high = paired.confidence_interval()
    assert pair.ci == pytest.approx((np.exp(low), np.exp(high)))
    # In another unit the ratio is the same.
    other = weighed({s: [(v or 0) * 1000 for v in row] for s, row in table.items()}, RESPONSES["uptake"])
    assert other.pairs[0].difference == pytest.approx(pair.difference)


def test_nought_among_ratios_is_lifted_and_said() -> None:
    found = weighed({"A": [0, 20, 15], "B": [21, 39, 31]}, RESPONSES["uptake"])
    assert "1 value is not above 0" in found.says
    assert found.systems[0].mean == pytest.approx(stats.gmean([7.5, 20, 15]))


def test_alike_is_two_one_sided_tests() -> None:
    """With two build-ups Tukey's 90 % interval is the t interval, so that alike means statsmodels' TOST below 5 %."""
    rng = np.random.default_rng(3)
    for shift in (0.0, 0.3, 0.6, 0.9):
        a, b = rng.normal(3 + shift, 0.5, 7), rng.normal(3, 0.5, 7)
        values = tuple(block_values({"A": list(a), "B": list(b)}))
        for worth in (0.4, 0.8, 1.5):
            found = weigh_test(
                "t", "all", None, values, rules=Rules(response=ANY_MEASURE, worth=worth, draws=None)
            ).pairs[0]
            p, _, _ = ttost_paired(a, b, -worth, worth)
            expected = "told apart" if (found.p_tukey or 0) < 0.05 else "alike" if p < 0.05 else "open"
            assert found.verdict == expected


def test_without_a_difference_worth_knowing_nothing_is_alike() -> None:
    close: Table = {"A": [3, 3.1, 3, 3.1], "B": [3.1, 3, 3.1, 3]}
    assert weighed(close, GRADE).pairs[0].verdict == "alike"
    assert weighed(close, ANY_MEASURE).pairs[0].verdict == "open"
    assert weighed(close, ANY_MEASURE, asked=Asked(worth=1)).pairs[0].verdict == "alike"


def test_where_tukey_and_the_permutation_disagree_the_pair_is_not_told_apart() -> None:
    """One wild value: with it Tukey sees too wide a spread, or too narrow a difference; both must agree."""
    rng = np.random.default_rng(4)
    found: list[PairEvidence] = []
    for _ in range(200):
        table = {f"S{i}": list(np.exp(rng.normal(0.5 * (i == 0), 1.0, 8))) for i in range(4)}
        found += weigh_test(
            "t", "all", None, tuple(block_values(table)), rules=Rules(response=ANY_MEASURE)
        ).pairs
    torn = [pair for pair in found if pair.disagrees]
    assert torn
    assert {pair.told_apart for pair in torn} == {False}
    assert all(((pair.p_tukey or 0) < 0.05) != ((pair.p_permutation or 0) < 0.05) for pair in torn)


def test_the_school_of_ranks_decides_by_permutation_alone_and_minds_only_the_order() -> None:
    rng = np.random.default_rng(5)
    table = random_table(rng, n_systems=4, n_boards=6)
    ranks = Asked(school="ranks")
    one = weighed({s: [*row] for s, row in table.items()}, ANY_MEASURE, asked=ranks)
    other = weighed(
        {s: [float(np.exp(v)) for v in row] for s, row in table.items()}, ANY_MEASURE, asked=ranks
    )
    assert (one.school, one.told_as) == ("ranks", "rank")
    assert [row.mean for row in other.systems] == pytest.approx([row.mean for row in one.systems])
    assert [p.p_permutation for p in other.pairs] == [p.p_permutation for p in one.pairs]
    assert all(p.p_tukey is None for p in one.pairs)


DEGENERATE: dict[str, Table] = {
    "one board": {"A": [1], "B": [0]},
    "one system": {"A": [1, 0, 1]},
    "one panel": {"A": [1]},
    "constant": {"A": [1, 1, 1], "B": [1, 1, 1]},
    "one stuck, one not": {"A": [0, 0, 0], "B": [0, 1, 1]},
    "no board has both": {"A": [1, 0, None, None], "B": [None, None, 1, 0]},
}


@pytest.mark.parametrize("school", ["means", "ranks"])
@pytest.mark.parametrize("name", DEGENERATE)
@pytest.mark.parametrize(
    "response_id", ["grade", "touch", "peels", "soak-in", "uptake", "gloss-60", "drying-stage"]
)
def test_too_little_gives_a_said_result(response_id: str, name: str, school: str) -> None:
    """No warning (they are errors here), no number that is none."""
    response = RESPONSES[response_id]
    table = {
        s: [None if v is None else v + (1.0 if response_id == "grade" else 0.0) for v in row]
        for s, row in DEGENERATE[name].items()
    }
    found = weighed(table, response, asked=Asked(school="ranks" if school == "ranks" else "means"))
    for row in found.systems:
        numbers = [row.mean, row.se, *(row.ci or ())]
        assert all(number is None or np.isfinite(number) for number in numbers)
    for pair in found.pairs:
        assert all(
            p is None or np.isfinite(p) for p in (pair.difference, pair.se, pair.p_tukey, pair.p_permutation)
        )
