"""Which panel took too much or too little of a coat."""

from __future__ import annotations

import math

import pytest

from nublet.core.errors import CalculationError
from nublet.core.materials.coverage import expected_g_per_m2
from nublet.core.materials.products import Label, Product
from nublet.core.measuring.applied import judge_applied, weigh_coat


def out(weights: dict[str, float], expected: float | None = None) -> dict[str, str]:
    return {w.panel: w.stands_out for w in judge_applied(weights, expected_g_per_m2=expected) if w.stands_out}


def test_one_that_took_too_much_or_too_little_stands_out_and_says_what_to_do() -> None:
    assert out({"K7": 36, "T2": 35, "R4": 38, "M9": 61, "P3": 37}) == {
        "M9": "M9 took 61 g/m², the others about 37. Wipe it off sooner or spread it out while it is wet, or weigh it "
        "again; a thirsty board may be right."
    }
    assert "Put on more" in out({"K7": 36, "T2": 35, "R4": 38, "M9": 12, "P3": 37})["M9"]


def test_the_limit_is_the_published_score_of_3_5() -> None:
    # Median 10, MAD 1: beyond 10 + 3.5 / 0.6745 = 15.189.
    others = {"A": 9.0, "B": 9.0, "C": 10.0, "D": 11.0, "E": 11.0, "F": 10.0}
    limit = 10 + 3.5 / 0.6745
    assert out({**others, "G": limit - 0.01}) == {}
    assert set(out({**others, "G": limit + 0.01})) == {"G"}


def test_panels_that_agree_closely_do_not_accuse_each_other() -> None:
    # A spread of 5 % is the hand's own: 3.5 times that of 40 is 7.
    same = dict.fromkeys("ABCDE", 40.0)
    assert out({**same, "F": 46.9}) == {}
    assert set(out({**same, "F": 47.1})) == {"F"}


def test_few_panels_are_held_against_the_label() -> None:
    assert out({"K7": 30, "T2": 90}) == {}
    assert set(out({"K7": 30, "T2": 90}, expected=40)) == {"T2"}
    assert "the label lets expect 40" in out({"K7": 15}, expected=40)["K7"]


def test_the_order_and_the_scale_do_not_matter() -> None:
    weights = {"K7": 36.0, "T2": 35.0, "R4": 38.0, "M9": 61.0, "P3": 37.0}
    backwards = dict(reversed(weights.items()))
    assert set(out(backwards)) == set(out(weights)) == set(out({p: 7 * w for p, w in weights.items()}))
    assert [each.panel for each in judge_applied(backwards)] == list(backwards)


@pytest.mark.parametrize("weight", [-1.0, math.nan, math.inf])
def test_weights_that_cannot_be_are_refused(weight: float) -> None:
    with pytest.raises(CalculationError, match="Weigh it again"):
        judge_applied({"K7": weight})


def test_nothing_weighed_and_nothing_applied() -> None:
    assert judge_applied({}) == ()
    assert out(dict.fromkeys("ABCD", 0.0)) == {}


def test_a_panel_that_lost_weight_stands_out_and_judges_nobody() -> None:
    weighings = {"K7": (500.0, 504.0), "T2": (500.0, 504.1), "R4": (510.0, 500.0), "M9": (500.0, 503.9)}
    found = {each.panel: each for each in weigh_coat(weighings, area_m2=0.12, expected_g_per_m2=33)}
    assert found["K7"].g_per_m2 == pytest.approx(33.33, abs=0.01)
    assert "(500 g) than before (510 g)" in found["R4"].stands_out
    assert [panel for panel, each in found.items() if each.stands_out] == ["R4"]


def test_what_a_label_lets_expect_of_a_coat() -> None:
    oil = Product(
        name="Fellgate Hardoil 2K",
        family="hardwax-2k",
        density_g_per_ml=0.95,
        label=Label(spread_first_m2_per_l=30, spread_later_m2_per_l=50),
    )
    assert expected_g_per_m2(oil, 1) == pytest.approx(950 / 30)
    assert expected_g_per_m2(oil, 2, absorbency=1.2) == pytest.approx(1.2 * 950 / 50)
