"""What is mixed: over build-ups and passes, within the pot life, as the shop can measure it, and bought accordingly."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.materials.coverage import recipe_needs
from nublet.core.materials.mixes import (
    Content,
    Measures,
    Use,
    Work,
    content_of,
    fill_cup,
    reckon_cups,
    share_cups,
)
from nublet.core.materials.mixing import WORKING_SHARE
from nublet.core.materials.products import Container
from nublet.core.materials.shopping import shop_for, thinners_for
from tests.core.finishes import HARDOIL, POLY, SATIN, TUNG, VARNISH, layer, recipe

USUAL = Measures()
MIX = Content(product=HARDOIL)
LIFE_MIN = 240 * WORKING_SHARE


def use(number: int, begins: float, ends: float, ml: float = 7.0, content: Content = MIX) -> Use:
    return Use(id=number, content=content, ml=ml, begins_min=begins, ends_min=ends)


def test_eight_passes_of_one_morning_share_one_mix() -> None:
    """It was once eight mixes of 50 mL, with 50 mL bought for all of them."""
    (cup,) = share_cups([use(n, 20 * n, 20 * n + 15) for n in range(8)], USUAL)
    assert cup.uses == tuple(range(8))
    assert (cup.spread_ml, cup.mixed_ml) == (56, 56)
    assert [(part.what, part.amount) for part in cup.amounts] == [("Base", 50.5), ("Hardener", 5.5)]


def test_what_does_not_end_within_the_working_life_gets_a_mix_of_its_own() -> None:
    cups = share_cups(
        [use(1, 0, 30), use(2, LIFE_MIN - 20, LIFE_MIN), use(3, LIFE_MIN - 20, LIFE_MIN + 1)], USUAL
    )
    assert [cup.uses for cup in cups] == [(1, 2), (3,)]
    # Neither may be smaller than what a syringe can portion out.
    assert [cup.mixed_ml for cup in cups] == [50, 50]


def test_only_the_same_in_the_cup_is_shared() -> None:
    contents = [
        MIX,
        Content(product=HARDOIL, with_hardener=False),
        Content(product=HARDOIL, thinned_pct=10),
        Content(product=replace(HARDOIL, id=99)),
    ]
    assert len({content.key for content in contents}) == 4
    assert len(share_cups([use(n, 0, 10, content=each) for n, each in enumerate(contents)], USUAL)) == 4
    # With its hardener or without: what has none is the same.
    assert content_of(layer(TUNG)).key == content_of(layer(TUNG, hardener=False)).key


def test_what_is_decanted_has_no_pot_life_and_is_decanted_for_each_pass() -> None:
    oil = Content(product=TUNG)
    cups = share_cups([use(1, 0, 10, 7.2, oil), use(2, 12, 20, 7.2, oil)], USUAL)
    assert [(cup.uses, cup.mixed_ml) for cup in cups] == [((1,), 7.5), ((2,), 7.5)]


def test_the_thinner_of_a_mix_follows_what_is_mixed() -> None:
    """It followed what is spread: thinned by 20 %, a mix of 50 mL for 10 had a tenth of it."""
    cup = fill_cup(Content(product=HARDOIL, thinned_pct=20), 10, USUAL)
    assert (cup.mixed_ml, cup.thinner_ml) == (50, 10)
    assert cup.amounts[-1].what.startswith("Thinner: ")
    assert cup.amounts[-1].amount == 10


@pytest.mark.parametrize(("step_ml", "least_ml"), [(0.1, 10), (0.5, 50), (1.0, 100)])
def test_a_finer_measure_allows_smaller_mixes(step_ml: float, least_ml: float) -> None:
    cup = fill_cup(MIX, 4, Measures(cup_step_ml=step_ml))
    assert cup.mixed_ml == pytest.approx(least_ml)
    assert cup.amounts[1].amount == pytest.approx(least_ml / 10)


def test_what_is_mixed_by_weight_goes_by_the_scale() -> None:
    by_weight = replace(HARDOIL, density_g_per_ml=0.9, label=replace(HARDOIL.label, mix_by="weight"))
    cup = fill_cup(Content(product=by_weight), 20, Measures(scale_step_g=0.1))
    assert [part.quantity for part in cup.amounts] == ["grams", "grams"]
    assert sum(part.amount for part in cup.amounts) == pytest.approx(18)
    assert cup.mixed_ml == pytest.approx(20)


@given(
    starts=st.lists(st.floats(0, 1500), min_size=1, max_size=7),
    lasting=st.floats(1, 150),
)
def test_no_way_needs_fewer_mixes(starts: list[float], lasting: float) -> None:
    uses = [use(n, begins, begins + lasting) for n, begins in enumerate(starts)]
    cups = share_cups(uses, USUAL)
    by_id = {each.id: each for each in uses}
    for cup in cups:
        begins = min(by_id[n].begins_min for n in cup.uses)
        assert all(by_id[n].ends_min <= begins + LIFE_MIN for n in cup.uses) or len(cup.uses) == 1
    assert sorted(n for cup in cups for n in cup.uses) == list(range(len(uses)))  # type: ignore[type-var]
    # By trying: every choice of passes to begin a mix with.
    fewest = next(
        size
        for size in itertools.count(1)
        if any(
            all(
                any(
                    head.begins_min <= each.begins_min and each.ends_min <= head.begins_min + LIFE_MIN
                    for head in heads
                )
                or each in heads
                for each in uses
            )
            for heads in itertools.combinations(uses, size)
        )
    )
    assert len(cups) == fewest


# --- while there is no plan


def test_build_ups_that_take_the_same_share_their_mixes_before_a_plan_too() -> None:
    work = Work(n_panels=4, face_m2=0.06, waste=0)
    alone = reckon_cups([recipe(layer(HARDOIL, 2))], work)
    assert [cup.mixed_ml for cup in alone] == [50, 50]
    together = reckon_cups([recipe(layer(HARDOIL, 2)), recipe(layer(HARDOIL, 1), TUNG)], work)
    first, second, oil = together
    need_ml = 1000 * 2 * 4 * 0.06
    assert first.spread_ml == pytest.approx(2 * need_ml / 30)
    assert (first.mixed_ml, second.mixed_ml) == (50, 50)
    assert not oil.content.is_mixed


def test_a_coat_that_outlasts_its_pot_life_is_mixed_more_than_once() -> None:
    short = replace(HARDOIL, label=replace(HARDOIL.label, pot_life_min=10))
    cups = reckon_cups([recipe(layer(short))], Work(n_panels=24, face_m2=0.06))
    assert len(cups) > 1
    assert sum(cup.spread_ml for cup in cups) == pytest.approx(
        sum(need.total_ml for need in recipe_needs(recipe(layer(short)), 24 * 0.12, absorbency=1))
    )
    # One panel takes longer than the pot life: a mix for each, and the planner says why that cannot be.
    hopeless = replace(HARDOIL, label=replace(HARDOIL.label, pot_life_min=0.5))
    assert len(reckon_cups([recipe(layer(hopeless))], Work(n_panels=5, face_m2=0.06))) == 5


@pytest.mark.parametrize("n_build_ups", [1, 3, 8])
def test_what_is_bought_covers_what_is_mixed(n_build_ups: int) -> None:
    recipes = [recipe(layer(HARDOIL, 2), layer(POLY, 1, thinned_pct=25)) for _ in range(n_build_ups)]
    cups = reckon_cups(recipes, Work(n_panels=6, face_m2=0.06))
    hard, _ = shop_for(cups)
    assert hard.mixed_ml == pytest.approx(sum(c.mixed_ml for c in cups if c.content.product == HARDOIL))
    assert hard.purchase is not None
    assert all(b >= n for b, n in zip(hard.purchase.bought, hard.parts, strict=True))
    (thinner,) = thinners_for(cups)
    assert thinner.ml == pytest.approx(sum(c.mixed_ml for c in cups if c.content.product == POLY) * 0.25)


def test_a_product_known_by_its_family_alone_is_not_bought() -> None:
    assert shop_for(reckon_cups([recipe(replace(VARNISH, id=None))], Work(n_panels=2, face_m2=0.06))) == []


def test_thinner_costs_what_the_shop_says_and_water_nothing() -> None:
    thinned = recipe(layer(POLY, 2, thinned_pct=25))
    cups = reckon_cups([thinned], Work(n_panels=6, face_m2=0.06))
    assert thinners_for(cups)[0].cost is None
    (thinner,) = thinners_for(cups, {"spirit": 8.0, "alcohol": 99.0})
    assert thinner.cost == pytest.approx(thinner.ml / 1000 * 8)
    water = reckon_cups([recipe(layer(SATIN, thinned_pct=10))], Work(n_panels=6, face_m2=0.06))
    assert [need.cost for need in thinners_for(water)] == [0]
    # In the cost of the build-up too, where the product has a price.
    priced = recipe(
        layer(replace(POLY, containers=(Container(amounts=(1000,), price=20),)), 1, thinned_pct=50)
    )
    (without,) = recipe_needs(priced, 1.0, absorbency=1)
    (with_it,) = recipe_needs(priced, 1.0, absorbency=1, thinner_prices={"spirit": 8.0})
    assert without.cost == pytest.approx(without.total_ml / 1000 * 20)
    assert without.cost is not None
    assert with_it.cost == pytest.approx(without.cost + without.total_thinner_ml / 1000 * 8)
