"""The sheet of a build-up, the schools, and what is said of a recipe beforehand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nublet.core.materials.assessment import assess_recipe
from nublet.core.materials.cautions import CAUTIONS
from nublet.core.materials.compatibility import Setting
from nublet.core.materials.coverage import recipe_needs
from nublet.core.materials.cup import is_solvent_open
from nublet.core.materials.mixes import Work, reckon_cups
from nublet.core.materials.preparations import Preparation, control_preparation
from nublet.core.materials.products import Label, unnamed_product
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.schools import COAT_SCHOOLS, PREPARATION_SCHOOLS, advise_on_schools
from nublet.core.materials.sheet import Step, application_steps, cautions_at
from nublet.core.materials.shopping import thinners_for
from nublet.core.materials.species import SPECIES
from tests.core.finishes import (
    HARDOIL,
    LACQUER,
    POLY,
    SHELLAC,
    TUNG,
    WAX,
    layer,
    prepared,
    recipe,
)

WORK = Work(n_panels=8, face_m2=0.06, woods=[SPECIES["beech"]])


def steps_of(made: Recipe, work: Work = WORK) -> list[Step]:
    return application_steps(made, work)


def test_the_steps_come_in_the_order_of_the_work() -> None:
    kinds = [step.kind for step in steps_of(recipe(layer(TUNG, 2, abrade_between="grey pad"), WAX))]
    assert kinds == [
        "prepare", "prepare",
        "mix", "coat", "wipe",
        "wait", "abrade", "mix", "coat", "wipe",
        "wait", "mix", "coat", "wipe",
        "cure",
    ]  # fmt: skip


def test_quantities_are_those_of_the_trial() -> None:
    # Both faces of eight panels: 0.96 m²; 10 then 20 m²/L, 15 % waste; up to the next half millilitre.
    mixes = [step for step in steps_of(recipe(layer(TUNG, 2))) if step.kind == "mix"]
    assert [step.amounts[0].amount for step in mixes] == pytest.approx([110.5, 55.5])
    # Elm drinks 1.2 times what beech does: the mean of the two is 1.1.
    both = replace(WORK, woods=[SPECIES["beech"], SPECIES["elm"]])
    assert steps_of(recipe(TUNG), both)[2].amounts[0].amount == pytest.approx(121.5)
    one_face = steps_of(recipe(TUNG, faces="one"))
    assert one_face[2].amounts[0].amount == pytest.approx(55.5)


def test_a_two_part_coat_is_mixed_in_measurable_amounts() -> None:
    (mix,) = [step for step in steps_of(recipe(HARDOIL)) if step.kind == "mix"]
    assert [amount.what for amount in mix.amounts] == ["Base", "Hardener"]
    # 0.96 m² at 30 m²/L and 15 % waste take 36.8 mL; below 50 mL a half-millilitre syringe is off by over 5 %.
    assert [amount.amount for amount in mix.amounts] == [45, 5]
    assert "Less than 50 mL cannot be measured well" in mix.says
    assert "within 240 min" in mix.says


def test_a_ratio_by_weight_is_weighed_out() -> None:
    heavy = replace(HARDOIL, density_g_per_ml=1.2, label=replace(HARDOIL.label, mix_by="weight"))
    (mix,) = [step for step in steps_of(recipe(heavy)) if step.kind == "mix"]
    # 36.8 mL are 44.16 g, in tenths of a gram 44.2, of which a tenth is hardener.
    assert [(a.quantity, round(a.amount, 6)) for a in mix.amounts] == [("grams", 39.8), ("grams", 4.4)]
    assert "cannot be measured well" not in mix.says


def test_pot_life_splits_a_coat_into_batches() -> None:
    quick = replace(HARDOIL, label=replace(HARDOIL.label, pot_life_min=10))
    mixes = [step for step in steps_of(recipe(quick), replace(WORK, n_panels=16)) if step.kind == "mix"]
    # A panel takes 8 × 0.12 + 0.5 = 1.46 min, 8 min are worked: 5 panels a batch, so 4 batches of 4.
    assert [step.title for step in mixes] == [
        f"Mix Fellgate Hardoil 2K, batch {n} of 4" for n in (1, 2, 3, 4)
    ]
    assert "For 4 panels, about 6 min after the first" in mixes[1].says


def test_thinner_and_no_hardener() -> None:
    steps = steps_of(recipe(layer(POLY, thinned_pct=10)))
    (mix,) = [step for step in steps if step.kind == "mix"]
    assert [amount.what for amount in mix.amounts] == [
        "Long varnish",
        "Thinner: white spirit or as the label says",
    ]
    assert mix.amounts[1].amount == pytest.approx(0.1 * mix.amounts[0].amount)
    (plain,) = [s for s in steps_of(recipe(layer(HARDOIL, hardener=False))) if s.kind == "mix"]
    assert plain.title == "Decant Fellgate Hardoil 2K"
    assert "Without its hardener" in plain.says


def test_windows_stand_at_their_steps() -> None:
    steps = steps_of(recipe(layer(HARDOIL, 2)))
    (wait,) = [step for step in steps if step.kind == "wait"]
    assert wait.window_h == (24, 72)
    assert {step.window_min for step in steps if step.kind == "wipe"} == {(3, 15)}
    assert "7 days" in steps[-1].says
    assert "25 days" in steps_of(recipe(layer(HARDOIL, hardener=False)))[-1].says


@pytest.mark.parametrize(
    ("made", "kind", "caution"),
    [
        (recipe(TUNG), "wipe", "oily-rags"),
        (recipe(TUNG), "prepare", "sanding-dust"),
        (recipe(HARDOIL), "mix", "two-part"),
        (recipe(HARDOIL), "cure", "food-contact"),
        (recipe(SHELLAC), "coat", "alcohol-flame"),
        (recipe(LACQUER), "coat", "solvent-vapour"),
        (recipe(layer(POLY, applicator="spray")), "coat", "spraying"),
        (prepared(TUNG, charring="light"), "prepare", "torch"),
        (prepared(TUNG, cleaning="solvent"), "prepare", "solvent-vapour"),
    ],
)
def test_each_caution_stands_at_its_step(made: Recipe, kind: str, caution: str) -> None:
    assert any(caution in step.cautions for step in steps_of(made) if step.kind == kind)
    assert all(set(step.cautions) <= set(CAUTIONS) for step in steps_of(made))


def test_dust_of_a_tannin_rich_wood_is_worse() -> None:
    oak = replace(WORK, woods=[SPECIES["white-oak"]])
    assert "strong-dust" in steps_of(recipe(TUNG), oak)[0].cautions
    assert "strong-dust" not in steps_of(recipe(TUNG))[0].cautions


def test_every_preparation_and_finish_is_written_out() -> None:
    made = prepared(POLY, grits=(), charring="deep", brushed=True, water_popped=True, cleaning="damp")
    titles = [step.title for step in steps_of(replace(made, final="matted"))]
    assert titles[:3] == ["Char, deep", "Water-pop", "Clean"]
    assert titles[-2:] == ["Matted", "Cure fully before any test"]
    sanded = steps_of(
        recipe(POLY, layer(POLY, wait_before_h=72, sanded_before=True), layer(TUNG, to_wood=True))
    )
    assert [s.title for s in sanded if s.kind == "abrade"] == [
        "Sand back lightly with 320",
        "Sand back to bare wood",
    ]
    assert next(s.title for s in sanded if s.kind == "wait") == "Wait 72 h on Long varnish"


def test_an_assessment_adds_up() -> None:
    found = assess_recipe(recipe(layer(HARDOIL, 2)), WORK, Setting())
    assert found.area_m2 == pytest.approx(0.96)
    assert found.cost == pytest.approx(0.96 * (found.cost_per_m2 or 0))
    assert not found.is_blocked
    clash = assess_recipe(recipe(WAX, TUNG), WORK, Setting())
    assert clash.is_blocked
    assert clash.cost is None


# Schools

TWO = {"Tung": recipe(layer(TUNG, 2)), "Varnish": prepared(layer(POLY, 3), grits=(80, 120))}


def test_each_pair_of_schools_says_what_is_confounded() -> None:
    for preparation in PREPARATION_SCHOOLS:
        for coats in COAT_SCHOOLS:
            said = advise_on_schools(preparation, coats, TWO).confounded
            assert len(said) == 2
            assert all(len(sentence) > 40 for sentence in said)


def test_strays_are_named() -> None:
    assert advise_on_schools("levelled", "by-label", TWO).strays == (
        "Levelled asks for one preparation: Varnish differ from Tung.",
    )
    assert "Tung has 2, Varnish has 3" in advise_on_schools("by-label", "equal-coats", TWO).strays[0]
    even = advise_on_schools("by-label", "equal-sheen", TWO).strays[0]
    assert "Tung, Varnish count coats" in even
    alike = {name: replace(made, preparation=TWO["Tung"].preparation) for name, made in TWO.items()}
    assert "All are prepared alike" in advise_on_schools("by-label", "equal-coats", alike).strays[0]
    assert advise_on_schools("levelled", "by-label", alike).strays == ()


def test_coats_by_label_are_held_against_the_label() -> None:
    labelled = recipe(layer(replace(TUNG, label=Label(coats=4)), 2))
    said = advise_on_schools("levelled", "by-label", {"Tung": labelled}).strays
    assert said == ("Tung: 2 coats of Marrowby Tung, where the label says 4.",)


def test_a_thinned_coat_spreads_as_much_as_an_unthinned_one() -> None:
    """Thinned by 100 %, half of what is spread is thinner; it was once the whole beside as much again."""
    work = Work(n_panels=10, face_m2=0.1)
    plain = recipe_needs(recipe(layer(POLY, 2)), 1.0, absorbency=1)[0]
    thinned = recipe_needs(recipe(layer(POLY, 2, thinned_pct=100)), 1.0, absorbency=1)[0]
    assert thinned.total_ml == pytest.approx(plain.total_ml / 2)
    assert thinned.total_thinner_ml == pytest.approx(plain.total_ml / 2)
    (mix, *_) = [s for s in application_steps(recipe(layer(POLY, thinned_pct=100)), work) if s.kind == "mix"]
    assert mix.amounts[0].amount == pytest.approx(mix.amounts[1].amount)
    (need,) = thinners_for(reckon_cups([recipe(layer(POLY, 2, thinned_pct=100))], work))
    assert (need.products, need.what) == (("Long varnish",), "white spirit or as the label says")
    # Two square metres, each coat in whole half millilitres.
    assert need.ml == pytest.approx(thinned.total_thinner_ml * 2, abs=1)


def test_a_product_in_several_layers_has_one_first_coat() -> None:
    once = recipe_needs(recipe(layer(HARDOIL, 3)), 1.0, absorbency=1)[0]
    apart = recipe_needs(recipe(layer(HARDOIL, 1), layer(HARDOIL, 2)), 1.0, absorbency=1)
    assert sum(need.total_ml for need in apart) == pytest.approx(once.total_ml)
    again = recipe_needs(recipe(layer(HARDOIL, 1), layer(HARDOIL, 1, to_wood=True)), 1.0, absorbency=1)
    assert again[1].total_ml == pytest.approx(again[0].total_ml)


def test_a_wait_stands_with_its_own_window() -> None:
    """ "Wait 120 h" once stood above "24 to 96 h"."""
    steps = steps_of(recipe(layer(POLY), layer(POLY, wait_before_h=120)))
    (wait,) = [s for s in steps if s.kind == "wait"]
    assert (wait.title, wait.window_h) == ("Wait 120 h on Long varnish", (120, None))
    assert "asks for" in wait.says


def test_what_is_in_the_cup_decides_about_vapour() -> None:
    """A pure oil has no solvent; thinned it has, and its hot neighbours must wait."""
    oil = unnamed_product("pure-drying-oil")
    assert "solvent-vapour" not in cautions_at(layer(oil), "coat")
    assert not is_solvent_open(layer(oil))
    assert "solvent-vapour" in cautions_at(layer(oil, thinned_pct=20), "coat")
    assert "solvent-vapour" in cautions_at(layer(oil, thinned_pct=20), "wipe")
    assert is_solvent_open(layer(oil, thinned_pct=20))
    assert is_solvent_open(layer(replace(oil, voc_g_per_l=300.0)))
    assert not is_solvent_open(layer(unnamed_product("waterborne-clear"), thinned_pct=10))
    assert "alcohol-flame" in cautions_at(layer(unnamed_product("shellac-dewaxed")), "coat")


def test_a_lamp_is_a_step_wherever_its_coat_lies() -> None:
    uv, wax = unnamed_product("uv-oil"), unnamed_product("wax")
    steps = steps_of(recipe(layer(uv, 2), layer(wax)))
    lamps = [s for s in steps if "uv-lamp" in s.cautions]
    assert [s.title for s in lamps] == ["Set coat 1 under the lamp", "Set coat 2 under the lamp"]
    assert "uv-lamp" in cautions_at(layer(uv), "wipe")


def test_the_control_is_sanded_as_most_are_and_never_charred() -> None:
    charred = Preparation(grits=(80,), charring="deep", brushed=True)
    sanded = Preparation(grits=(80, 120, 180), water_popped=True, cleaning="solvent")
    bare = control_preparation([charred, charred, charred, sanded])
    assert bare == Preparation(grits=(80, 120, 180))
    assert control_preparation([charred]).charring == "none"
    assert control_preparation([]) == Preparation()
