"""Preferences against a published example, statsmodels, by hand, by symmetry and on bad input."""

from __future__ import annotations

from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest
import statsmodels.api as sm

from nublet.core.errors import ReadingsError
from nublet.core.evidence.models.preference import Choice, fit_preference, shares_by_judge
from nublet.core.evidence.outcomes import Rules
from nublet.core.evidence.scored import weigh_preference
from nublet.core.protocols.responses import RESPONSES

# Agresti, A. (1990), Categorical Data Analysis, table 10.10: how often the row beat the column; and the abilities printed there,
# to two decimals, and since to four, those of the last being 0.
AGRESTI = [
    [0, 7, 9, 7, 7, 9, 11], [6, 0, 7, 5, 11, 9, 9], [4, 6, 0, 7, 7, 8, 12], [6, 8, 6, 0, 6, 7, 10], [6, 2, 6, 7, 0, 7, 12],
    [4, 4, 5, 6, 6, 0, 6], [2, 4, 1, 3, 1, 7, 0],
]  # fmt: skip
PRINTED = [1.5814, 1.4364, 1.2945, 1.2476, 1.1077, 0.6839, 0.0]


def choices_of(wins: list[list[int]], judge: str = "Nell") -> list[Choice]:
    return [
        Choice(judge=judge, a=f"S{i}", b=f"S{j}", won=1.0)
        for i, row in enumerate(wins)
        for j, n in enumerate(row)
        for _ in range(n)
    ]


def drawn(seed: int, abilities: list[float], judges: int = 4, rounds: int = 2) -> list[Choice]:
    rng = np.random.default_rng(seed)
    return [
        Choice(
            judge=f"J{judge}", a=f"S{a}", b=f"S{b}",
            won=float(rng.choice([0.5, float(rng.random() < 1 / (1 + np.exp(abilities[b] - abilities[a])))], p=[0.15, 0.85])),
        )
        for judge in range(judges)
        for a, b in combinations(range(len(abilities)), 2)
        for _ in range(rounds)
    ]  # fmt: skip


def test_the_published_abilities() -> None:
    fit = fit_preference(choices_of(AGRESTI))
    assert (fit.abilities - fit.abilities[-1]).round(4).tolist() == PRINTED
    assert fit.is_bounded


def test_abilities_and_errors_agree_with_a_logit_of_statsmodels() -> None:
    """Choices without ties are a logit on +1 and -1 columns, the last left out."""
    choices = [c for c in drawn(1, [0.9, 0.4, 0.0, -0.6], judges=6) if c.won != 0.5]
    fit = fit_preference(choices)
    x = np.zeros((len(choices), 4))
    for row, c in enumerate(choices):
        x[row, int(c.a[1])], x[row, int(c.b[1])] = 1, -1
    reference = sm.GLM([c.won for c in choices], x[:, :3], family=sm.families.Binomial()).fit(tol=1e-12)
    np.testing.assert_allclose(fit.abilities[:3] - fit.abilities[3], reference.params, atol=1e-6)
    to_last = np.hstack([np.eye(3), -np.ones((3, 1))])
    np.testing.assert_allclose(to_last @ fit.covariance @ to_last.T, reference.cov_params(), atol=1e-6)


def test_two_build_ups_by_hand() -> None:
    """Won 6, lost 2, 2 of neither: log odds of 7 to 3."""
    choices = [Choice(judge="Nell", a="A", b="B", won=w) for w in [1] * 6 + [0] * 2 + [0.5] * 2]
    fit = fit_preference(choices)
    assert fit.abilities[0] - fit.abilities[1] == pytest.approx(np.log(7 / 3))
    assert fit.preferred_over_average()[0][0] == pytest.approx(0.7)


def test_which_lay_left_changes_nothing() -> None:
    choices = drawn(2, [0.5, 0.0, -0.5])
    turned = [replace(c, a=c.b, b=c.a, won=1 - c.won) for c in choices]
    np.testing.assert_allclose(fit_preference(turned).abilities, fit_preference(choices).abilities, atol=1e-9)


def test_what_always_wins_is_bounded_by_half_a_choice_and_said() -> None:
    choices = choices_of([[0, 4, 4], [0, 0, 2], [0, 2, 0]])
    assert not fit_preference(choices).is_bounded
    found = weigh_preference("t", "all", None, choices, rules=Rules(response=RESPONSES["preferred"]))
    assert "half a choice each way" in found.says
    assert "One judge's taste" in found.says
    assert found.systems[0].system == "S0"
    assert all(pair.told_apart is None for pair in found.pairs)


def test_judges_are_the_blocks() -> None:
    """Six judges of one mind tell four build-ups apart; two judges of opposite minds tell nothing."""
    strong = [
        replace(c, judge=f"J{j}")
        for j in range(6)
        for c in choices_of([[0, 1, 1, 1], [0, 0, 1, 1], [0, 0, 0, 1], [0] * 4])
    ]
    found = weigh_preference("t", "all", None, strong, rules=Rules(response=RESPONSES["preferred"]))
    assert [row.letters for row in found.systems] == ["a", "b", "c", "d"]
    one_mind = choices_of([[0, 1, 1], [0, 0, 1], [0] * 3])
    opposed = [replace(c, judge=f"J{j}", won=c.won if j else 1 - c.won) for j in range(2) for c in one_mind]
    split = weigh_preference("t", "all", None, opposed, rules=Rules(response=RESPONSES["preferred"]))
    assert [row.mean for row in split.systems] == pytest.approx([0.5] * 3)
    assert not any(pair.told_apart for pair in split.pairs)


def test_shares_of_each_judge_count_neither_as_half() -> None:
    choices = [Choice(judge="N", a="A", b="B", won=won) for won in (1, 0.5)]
    assert {v.panel: v.value for v in shares_by_judge(choices)} == {"N: A": 0.75, "N: B": 0.25}


def test_what_cannot_be_compared_is_refused() -> None:
    with pytest.raises(ReadingsError, match="Nobody has chosen"):
        fit_preference([Choice(judge="N", a="A", b="A", won=1)])
    with pytest.raises(ReadingsError, match="never chosen between"):
        fit_preference([Choice(judge="N", a="A", b="B", won=1), Choice(judge="N", a="C", b="D", won=1)])
