"""Ranking by draws: against closed forms, by symmetry, gates, ties, unknowns and bad input."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from nublet.core.errors import RankingError
from nublet.core.evidence.weighing import TestEvidence, weigh_test
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.core.ranking.draws import RankedSystem, Ranking, rank_systems
from nublet.core.ranking.profiles import Criterion, Gate, UseProfile, reweigh
from nublet.core.ranking.shipped import DINING_TABLE as DINING_TABLE_ASKED
from nublet.core.ranking.words import join_names, percent, say_verdict
from tests.core.builders import block_values

Table = dict[str, list[float | None]]

DINING_TABLE = DINING_TABLE_ASKED.asked_of(TABLE_BASICS)


def profile(*tests: str, gates: tuple[Gate, ...] = (), unknown_weight: float = 0) -> UseProfile:
    criteria = [Criterion(id=test, name=test.title(), weight=10, tests=(test,)) for test in tests]
    if unknown_weight:
        criteria.append(Criterion(id="repair", name="Repair", weight=unknown_weight, tests=("repair",)))
    return UseProfile(id="use", name="Porch table", says="", criteria=tuple(criteria), gates=gates)


def evidence(table: Table, test: str = "water") -> TestEvidence:
    return weigh_test(test, "all", "24h", tuple(block_values(table)))


def place(ranking: Ranking, system: str) -> RankedSystem:
    return next(row for row in ranking.systems if row.system == system)


NEAR: Table = {"A": [4.2, 3.6, 4.1, 3.9], "B": [3.6, 4.1, 3.5, 4.0], "C": [2.1, 1.8, 2.4, 2.0]}


def test_probabilities_match_the_t_distribution() -> None:
    """With one test and two systems P(best) is P(t > -d/SE), and the gate's is one-sample t."""
    test = evidence({s: NEAR[s] for s in "AB"})
    ranking = rank_systems(
        profile("water", gates=(Gate(test="water", threshold=3.5),)), {"water": test}, seed=1, n_draws=200_000
    )
    free = rank_systems(profile("water"), {"water": test}, seed=1, n_draws=200_000)
    assert test.fit is not None
    pair = test.pairs[0]
    assert pair.se is not None
    assert pair.difference is not None
    p = stats.t.cdf(pair.difference / pair.se, test.fit.residual_df)
    assert place(free, "A").p_best == pytest.approx(p, abs=0.005)
    for row in test.systems:
        assert row.se is not None
        assert row.mean is not None
        p_gate = stats.t.cdf((row.mean - 3.5) / row.se, test.fit.residual_df)
        assert place(ranking, row.system).gates[0].probability == pytest.approx(p_gate, abs=0.005)


def test_same_seed_same_ranking_and_a_new_test_leaves_old_draws_alone() -> None:
    water = evidence(NEAR)
    first = rank_systems(profile("water"), {"water": water}, seed=3)
    assert first == rank_systems(profile("water"), {"water": water}, seed=3)
    assert first != rank_systems(profile("water"), {"water": water}, seed=4)
    wine = evidence({s: [5 - (v or 0) for v in row] for s, row in NEAR.items()}, "wine")
    more = rank_systems(profile("water"), {"water": water, "wine": wine}, seed=3)
    assert first.systems == more.systems


def test_scores_run_from_0_at_grade_1_to_100_at_grade_5() -> None:
    best = evidence({"A": [5, 5, 5], "B": [1, 1, 1], "C": [3, 3, 3]})
    ranking = rank_systems(profile("water"), {"water": best}, seed=1)
    assert [row.system for row in ranking.systems] == ["A", "C", "B"]
    assert place(ranking, "C").score == pytest.approx(50, abs=0.5)
    assert place(ranking, "A").score > 93
    assert place(ranking, "B").score < 7
    assert all(0 <= row.score_low <= row.score <= row.score_high <= 100 for row in ranking.systems)


def test_a_failed_gate_outweighs_any_score() -> None:
    water = evidence({"A": [4.6, 4.8, 4.7, 4.6], "B": [4.5, 4.4, 4.6, 4.5]})
    wine = evidence({"A": [1.2, 1.4, 1.3, 1.1], "B": [4.4, 4.6, 4.5, 4.6]}, "wine")
    heavy = UseProfile(
        id="u",
        name="Bench",
        says="",
        criteria=(Criterion(id="water", name="Water", weight=99, tests=("water",)),),
        gates=(Gate(test="wine", threshold=4),),
    )
    ranking = rank_systems(heavy, {"water": water, "wine": wine}, seed=1)
    assert ranking.systems[0].system == "B"
    assert place(ranking, "A").p_best == 0
    assert place(ranking, "A").score > place(ranking, "B").score
    assert place(ranking, "B").p_passes > 0.99


def test_the_tie_group_holds_those_that_the_leader_does_not_beat_nine_times_in_ten() -> None:
    ranking = rank_systems(profile("water"), {"water": evidence(NEAR)}, seed=1)
    assert {row.system for row in ranking.systems if row.in_tie_group} == {"A", "B"}
    assert place(ranking, "C").p_beaten_by_leader > 0.99
    assert sum(row.p_best for row in ranking.systems) == pytest.approx(1)
    assert sum(row.expected_rank for row in ranking.systems) == pytest.approx(6, abs=0.01)


def test_tied_draws_share_the_first_place() -> None:
    """Four at the top of the scale once summed to more than 2."""
    table: Table = {**{s: [5, 5, 5] for s in "ABCD"}, "E": [2, 2, 2]}
    top = evidence(table)
    ranking = rank_systems(profile("water"), {"water": top}, seed=1)
    assert sum(row.p_best for row in ranking.systems) == pytest.approx(1)
    assert [place(ranking, s).p_best for s in "ABCD"] == pytest.approx([0.25] * 4, abs=0.02)
    assert sum(row.expected_rank for row in ranking.systems) == pytest.approx(15)


def test_a_criterion_known_in_part_says_so_and_carries_the_rest() -> None:
    stains = Criterion(id="stains", name="Stains", weight=10, tests=("water", "wine"))
    use = UseProfile(id="u", name="Use", says="", criteria=(stains,), gates=())
    ranking = rank_systems(use, {"water": evidence(NEAR)}, seed=1)
    whole = place(rank_systems(profile("water"), {"water": evidence(NEAR)}, seed=1), "A")
    row = place(ranking, "A")
    assert ranking.partly_known == (("stains", ("wine",)),)
    assert row.criteria[0].missing == ("wine",)
    assert row.criteria[0].score == pytest.approx(whole.score, abs=0.5)
    assert (row.score_low, row.score_high) == pytest.approx(
        (whole.score_low / 2, whole.score_high / 2 + 50), abs=1
    )
    says = say_verdict(ranking, test_names={"wine": "Wine 1 h"})
    assert "Stains is known in part: without Wine 1 h, whose share counts as anything from 0 to 100." in says


def test_tests_that_fail_on_the_same_panels_are_drawn_together() -> None:
    """Ten copies of one test are one test: independent draws would make the leader far surer."""
    one = evidence(NEAR)
    alone = rank_systems(profile("t0"), {"t0": one}, seed=1)
    copies = {f"t{i}": evidence(NEAR, f"t{i}") for i in range(10)}
    together = rank_systems(profile(*copies), copies, seed=1)
    assert place(together, "A").p_best == pytest.approx(place(alone, "A").p_best, abs=0.02)
    assert place(together, "A").score_low == pytest.approx(place(alone, "A").score_low, abs=1)


def test_a_gate_has_the_boards_in_it() -> None:
    """Boards a grade apart leave the mean as sure, and the next board in doubt."""
    gate = (Gate(test="water", threshold=3.5),)
    alike: Table = {"A": [4.1, 4.0, 4.2, 4.1], "B": [3.1, 3.0, 3.0, 3.1]}
    shift = [-1.2, 1.2, -0.9, 0.9]
    apart: Table = {s: [(x or 0) + d for x, d in zip(row, shift, strict=True)] for s, row in alike.items()}
    same = rank_systems(profile("water", gates=gate), {"water": evidence(alike)}, seed=1)
    spread = rank_systems(profile("water", gates=gate), {"water": evidence(apart)}, seed=1)
    assert (place(same, "A").gates[0].probability or 0) > 0.97
    assert 0.55 < (place(spread, "A").gates[0].probability or 0) < 0.8
    assert any("on the next board of this wood" in line for line in say_verdict(spread, test_names={}))
    one = rank_systems(profile("water", gates=gate), {"water": evidence({"A": [5], "B": [3]})}, seed=1)
    assert one.without_board_spread == ("water",)


@pytest.mark.parametrize("p", [0.85, 0.95])
def test_the_tie_group_ends_at_nine_in_ten(p: float) -> None:
    """Two build-ups, closed form: beaten in 85 % of draws is tied, in 95 % is not."""
    gap = float(stats.t.ppf(p, 3)) * np.sqrt(2 * 0.02 / 4)
    table: Table = {
        "A": [4 + gap - 0.1, 4 + gap + 0.1, 4 + gap - 0.1, 4 + gap + 0.1],
        "B": [4.1, 3.9, 4.1, 3.9],
    }
    test = evidence(table)
    assert test.fit is not None
    assert test.fit.residual_ms is not None
    gap = float(stats.t.ppf(p, test.fit.residual_df)) * float(np.sqrt(test.fit.residual_ms * 2 / 4))
    table["A"] = [4 + gap - 0.1, 4 + gap + 0.1, 4 + gap - 0.1, 4 + gap + 0.1]
    ranking = rank_systems(profile("water"), {"water": evidence(table)}, seed=1)
    assert place(ranking, "B").p_beaten_by_leader == pytest.approx(p, abs=0.02)
    assert place(ranking, "B").in_tie_group == (p < 0.9)


def test_a_failed_gate_outweighs_the_whole_scale() -> None:
    """The one that fails has 100 points, the one that passes hardly any."""
    water = evidence({"A": [5, 5, 5, 5], "B": [1, 1.1, 1, 1.1]})
    wine = evidence({"A": [1, 1.1, 1, 1], "B": [4.8, 4.9, 4.8, 4.9]}, "wine")
    use = profile("water", gates=(Gate(test="wine", threshold=3),))
    ranking = rank_systems(use, {"water": water, "wine": wine}, seed=1)
    assert ranking.systems[0].system == "B"
    assert place(ranking, "A").expected_rank == pytest.approx(2, abs=0.05)


def test_an_unknown_criterion_widens_the_score_and_is_never_zero() -> None:
    water = {"water": evidence(NEAR)}
    known = rank_systems(profile("water"), water, seed=1)
    half = rank_systems(profile("water", unknown_weight=10), water, seed=1)
    assert half.unknown_criteria == ("repair",)
    a, wide = place(known, "A"), place(half, "A")
    assert wide.score == pytest.approx(a.score / 2 + 25, abs=1)
    assert wide.score_low == pytest.approx(a.score_low / 2, abs=1)
    assert wide.score_high == pytest.approx(a.score_high / 2 + 50, abs=1)
    assert wide.criteria[1].score is None


def test_the_control_is_no_candidate() -> None:
    ranking = rank_systems(profile("water"), {"water": evidence(NEAR)}, excluded=["C"], seed=1)
    assert {row.system for row in ranking.systems} == {"A", "B"}


def test_a_system_without_grades_in_some_test_is_left_out_by_name() -> None:
    water, wine = evidence(NEAR), evidence({s: NEAR[s] for s in "AB"}, "wine")
    ranking = rank_systems(profile("water", "wine"), {"water": water, "wine": wine}, seed=1)
    assert [row.system for row in ranking.systems] == ["A", "B"]
    assert "Left out, because not every test has grades for it yet: C." in say_verdict(ranking, test_names={})


def test_one_board_assumes_the_usual_spread_and_says_so() -> None:
    one = evidence({"A": [5], "B": [3]})
    ranking = rank_systems(profile("water"), {"water": one}, seed=1, n_draws=100_000)
    assert ranking.assumed_spread == ("water",)
    # The difference of two panels has an SD of 0.6 sqrt(2).
    assert place(ranking, "A").p_best == pytest.approx(stats.norm.cdf(2 / (0.6 * np.sqrt(2))), abs=0.004)
    assert any("demonstration" in says for says in say_verdict(ranking, test_names={}))


def test_nothing_to_rank_by() -> None:
    with pytest.raises(RankingError, match="None of the tests"):
        rank_systems(profile("wine"), {"water": evidence(NEAR)}, seed=1)
    with pytest.raises(RankingError, match="No build-up"):
        rank_systems(profile("water"), {"water": evidence(NEAR)}, excluded=["A", "B", "C"], seed=1)


def test_reweighing() -> None:
    changed = reweigh(DINING_TABLE, {"heat": 0, "water": 50})
    assert [c.weight for c in changed.criteria] == [35, 0, 50, 10]
    for weights, says in (
        ({"looks": 5}, "no criterion 'looks'"),
        ({"heat": -1}, "weight of -1"),
        ({"heat": float("nan")}, "weight of nan"),
        ({c.id: 0 for c in DINING_TABLE.criteria}, "Every weight is 0"),
    ):
        with pytest.raises(RankingError, match=says):
            reweigh(DINING_TABLE, weights)


def test_the_sentences() -> None:
    tie = rank_systems(
        profile("water", gates=(Gate(test="water", threshold=3), Gate(test="ink", threshold=4))),
        {"water": evidence(NEAR)},
        seed=1,
    )
    says = say_verdict(tie, test_names={"ink": "Ink 1 h"})
    assert says[0].startswith("For a porch table, A and B cannot be told apart (best in ")
    assert "Unlikely to pass the gates: C." in says
    assert "Not tested, so not gated: Ink 1 h." in says
    clear = rank_systems(
        profile("water"), {"water": evidence({"A": [4.8, 4.9, 4.8], "B": [2, 2.2, 1.9]})}, seed=1
    )
    assert say_verdict(clear, test_names={})[0].startswith("For a porch table, use A: it is the best in")
    # Where no gate was tested, none is said to be passed.
    for gates in ((), (Gate(test="ink", threshold=4),)):
        ungated = rank_systems(profile("water", gates=gates), {"water": evidence(NEAR)}, seed=1)
        assert "every gate" not in " ".join(say_verdict(ungated, test_names={}))
    gated = rank_systems(
        profile("water", gates=(Gate(test="water", threshold=1),)), {"water": evidence(NEAR)}, seed=1
    )
    assert "All pass every gate in at least 9 of 10 draws." in say_verdict(gated, test_names={})[0]
    none = rank_systems(
        profile("water", gates=(Gate(test="water", threshold=5),)), {"water": evidence(NEAR)}, seed=1
    )
    assert "probably none of these passes every gate" in say_verdict(none, test_names={})[0]
    unknown = rank_systems(profile("water", unknown_weight=5), {"water": evidence(NEAR)}, seed=1)
    assert any("Nothing was tested for repair" in line for line in say_verdict(unknown, test_names={}))


def test_small_words() -> None:
    assert [percent(share) for share in (0, 0.004, 0.5, 0.995, 1)] == [
        "none",
        "under 1 %",
        "50 %",
        "over 99 %",
        "all",
    ]
    assert [join_names(list(names)) for names in ("", "A", "AB", "ABC")] == ["", "A", "A and B", "A, B and C"]
