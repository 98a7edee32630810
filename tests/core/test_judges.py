"""Judges against published examples, by hand, and where there is nothing to compare."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
import pytest
from statsmodels.stats.inter_rater import cohens_kappa, to_table

from nublet.core.evidence.agreement import squared_kappa
from nublet.core.evidence.analysis import analyse
from nublet.core.evidence.judge_checks import check_judges
from nublet.core.evidence.judges import icc_2_1, judge_judges, krippendorff_alpha
from nublet.core.evidence.readings import Reading
from nublet.core.protocols.responses import GRADE

NAN = float("nan")
# Krippendorff, K. (2011), Computing Krippendorff's alpha-reliability, p. 8: four observers, twelve units; ordinal 0.815.
KRIPPENDORFF = np.array(
    [
        [1, 2, 3, 3, 2, 1, 4, 1, 2, NAN, NAN, NAN],
        [1, 2, 3, 3, 2, 2, 4, 1, 2, 5, NAN, 3],
        [NAN, 3, 3, 3, 2, 3, 4, 2, 2, 5, 1, NAN],
        [1, 2, 3, 3, 2, 4, 4, 1, 2, 5, 1, NAN],
    ]
).T
# Shrout, P. E. and Fleiss, J. L. (1979), table 2: six targets, four judges; ICC(2,1) 0.29.
SHROUT_FLEISS = [[9, 2, 5, 8], [6, 1, 3, 2], [8, 4, 6, 8], [7, 1, 2, 6], [10, 5, 6, 9], [6, 2, 4, 7]]


def test_the_published_alpha() -> None:
    assert round(krippendorff_alpha(KRIPPENDORFF) or 0, 3) == 0.815
    # Who is called which changes nothing, and neither do units that only one read.
    assert krippendorff_alpha(KRIPPENDORFF[:, ::-1]) == pytest.approx(krippendorff_alpha(KRIPPENDORFF))
    alone = np.vstack([KRIPPENDORFF, [5, NAN, NAN, NAN]])
    assert krippendorff_alpha(alone) == pytest.approx(krippendorff_alpha(KRIPPENDORFF))


def test_the_published_intraclass_correlation() -> None:
    assert round(icc_2_1(SHROUT_FLEISS) or 0, 2) == 0.29
    assert icc_2_1([[1, 1], [2, 2], [5, 5]]) == pytest.approx(1)


@pytest.mark.parametrize("seed", range(3))
def test_kappa_agrees_with_another_program(seed: int) -> None:
    a, b = np.random.default_rng(seed).integers(1, 6, (2, 40))
    table, _ = to_table(np.column_stack([a, b]))
    assert squared_kappa(list(a), list(b)) == pytest.approx(cohens_kappa(table, wt="quadratic").kappa)


def readings(
    table: Mapping[str, Sequence[float | None]], view: str | None = None, repeat: int = 0
) -> list[Reading]:
    return [
        Reading(
            test="water",
            system="A",
            board="b",
            panel=f"p{i}",
            judge=judge,
            look="24h",
            grade=grade,
            view=view,
            repeat=repeat,
        )
        for judge, row in table.items()
        for i, grade in enumerate(row)
    ]


def test_leniency_by_hand_and_over_gaps() -> None:
    """Imara reads one step above Nell, and only where both read: her other panels are good ones."""
    found = judge_judges(readings({"Nell": [2, 3, 3, None, None], "Imara": [3, 4, 4, 5, 5]}))
    assert found is not None
    assert {each.judge: each.mean_difference for each in found.leniency} == {
        "Imara": pytest.approx(0.5),
        "Nell": pytest.approx(-0.5),
    }
    apart = judge_judges(readings({"Nell": [2, 3, None], "Imara": [None, None, 5]}))
    assert apart is not None
    assert (apart.leniency, apart.alpha_ordinal, apart.pairs) == ((), None, ())


def test_repeatability_by_hand() -> None:
    again = readings({"Nell": [3, 3, 5, 2]}, repeat=1)
    found = judge_judges([*readings({"Nell": [3, 4, 5, 4]}), *again])
    assert found is not None
    (own,) = found.repeatability
    assert (own.n, own.same_share, own.mean_difference) == pytest.approx((4, 0.5, -0.75))
    assert own.sd == pytest.approx(np.sqrt((0 + 1 + 0 + 4) / 4 / 2))


def test_a_repeat_tells_of_the_judge_and_not_of_the_panel() -> None:
    once = [
        Reading(test="water", system=s, board=f"b{b}", panel=f"{s}{b}", judge="Nell", look="24h", grade=g)
        for s, row in {"A": [4, 5, 4], "B": [2, 3, 2]}.items()
        for b, g in enumerate(row)
    ]
    twice = [*once, *(replace(row, repeat=1, grade=1.0) for row in once[:3])]
    assert analyse(twice).tests[0].systems == analyse(once).tests[0].systems
    found = analyse(twice).judges
    assert found is not None
    assert found.repeatability[0].n == 3


def test_views_by_hand() -> None:
    square, glancing = (
        readings({"Nell": [4, 4, 5]}, view="square-on"),
        readings({"Nell": [3, 4, 4]}, view="glancing"),
    )
    found = judge_judges([*square, *glancing])
    assert found is not None
    (views,) = found.views
    assert (views.view, views.other, views.n) == ("glancing", "square-on", 3)
    assert (views.mean_difference, views.differ_share) == pytest.approx((2 / 3, 2 / 3))


def test_too_little_agreement_is_said_at_the_head() -> None:
    rng = np.random.default_rng(1)
    noise = {judge: [float(g) for g in rng.integers(1, 6, 30)] for judge in ("Nell", "Imara")}
    (check,) = check_judges(judge_judges(readings(noise)), GRADE)
    assert (check.level, "the scoring, not the finish" in check.says) == ("fail", True)
    alike = {judge: [1.0, 2, 3, 4, 5, 5, 4, 3] for judge in ("Nell", "Imara")}
    (check,) = check_judges(judge_judges(readings(alike)), GRADE)
    assert (check.level, check.says) == ("pass", "The judges agree (alpha 1.00).")
    lenient = {"Nell": [1.0, 2, 3, 4, 3, 1, 4, 2], "Imara": [2.5, 3.5, 4.5, 5, 4.5, 2.5, 5, 3.5]}
    (check,) = check_judges(judge_judges(readings(lenient)), GRADE)
    assert "Imara reads 0.6 above" in check.says or "Imara reads 0.7 above" in check.says


def test_nothing_to_compare() -> None:
    assert judge_judges([]) is None
    assert krippendorff_alpha([[1, NAN], [NAN, 2]]) is None
    assert krippendorff_alpha([[3, 3], [3, 3]]) is None
    assert icc_2_1([[3, 3], [3, 3]]) is None
    assert icc_2_1([[1, 2]]) is None
    assert check_judges(judge_judges(readings({"Nell": [1, 2, 3]})), GRADE) == []
