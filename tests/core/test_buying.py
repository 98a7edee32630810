"""What to buy: never too little, and never dearer than the best that counting finds."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.errors import CalculationError
from nublet.core.materials.buying import Offer, choose_containers
from nublet.core.materials.coverage import cost_per_m2, litres_needed
from nublet.core.materials.mixes import Work, reckon_cups
from nublet.core.materials.products import Container
from nublet.core.materials.recipes import Layer
from nublet.core.materials.shopping import shop_for
from nublet.core.materials.species import SPECIES
from tests.core.finishes import HARDOIL, TUNG, VARNISH, layer, recipe

SIZES = st.integers(1, 12).map(lambda n: 50.0 * n)
PRICES = st.integers(1, 120).map(lambda n: n / 2)


def cheapest_by_counting(needs: list[float], offers: list[Offer]) -> float:
    most = [
        max(math.ceil(need / held) if held else 0 for need, held in zip(needs, offer.amounts, strict=True))
        for offer in offers
    ]
    best = math.inf
    for counts in itertools.product(*(range(n + 1) for n in most)):
        bought = [
            sum(n * offer.amounts[i] for n, offer in zip(counts, offers, strict=True))
            for i in range(len(needs))
        ]
        if all(have >= need for have, need in zip(bought, needs, strict=True)):
            best = min(best, sum(n * offer.price for n, offer in zip(counts, offers, strict=True)))
    return best


@settings(max_examples=60, deadline=None)
@given(st.integers(1, 60).map(lambda n: 20.0 * n), st.lists(st.tuples(SIZES, PRICES), min_size=1, max_size=3))
def test_one_part_is_covered_at_the_least_cost(need: float, boxes: list[tuple[float, float]]) -> None:
    offers = [Offer(amounts=(size,), price=price) for size, price in boxes]
    chosen = choose_containers([need], offers)
    assert chosen.bought[0] >= need
    assert chosen.cost == pytest.approx(sum(n * o.price for n, o in zip(chosen.counts, offers, strict=True)))
    assert chosen.cost == pytest.approx(cheapest_by_counting([need], offers))
    assert chosen.left_over[0] == pytest.approx(chosen.bought[0] - need)


@settings(max_examples=40, deadline=None)
@given(
    st.integers(1, 20).map(lambda n: 45.0 * n),
    st.integers(0, 12).map(lambda n: 5.0 * n),
    st.lists(st.tuples(SIZES, st.integers(0, 4).map(lambda n: 25.0 * n), PRICES), min_size=1, max_size=2),
    PRICES,
)
def test_hardener_is_bought_alongside(
    base: float, hardener: float, sets: list[tuple[float, float, float]], alone: float
) -> None:
    offers = [Offer(amounts=(b, h), price=price) for b, h, price in sets] + [
        Offer(amounts=(0, 50), price=alone)
    ]
    chosen = choose_containers([base, hardener], offers)
    assert all(have >= need for have, need in zip(chosen.bought, (base, hardener), strict=True))
    assert chosen.cost == pytest.approx(cheapest_by_counting([base, hardener], offers))


def test_the_cheapest_is_not_the_greedy_choice() -> None:
    # Greedy by litre price buys two large ones for 60; one large and two small cost 50.
    offers = [Offer(amounts=(1000,), price=30), Offer(amounts=(250,), price=10)]
    chosen = choose_containers([1400], offers)
    assert (chosen.counts, chosen.cost) == ((1, 2), 50)


def test_of_equal_prices_the_one_that_leaves_least() -> None:
    offers = [Offer(amounts=(1000,), price=20), Offer(amounts=(500,), price=20)]
    assert choose_containers([400], offers).counts == (0, 1)


@pytest.mark.parametrize(
    ("needs", "offers", "field", "says"),
    [
        ([10.0], [], "containers", "1 to 40"),
        ([10.0], [Offer(amounts=(1.0, 2.0), price=1)], "containers", "must give 1 amounts"),
        ([10.0], [Offer(amounts=(1.0,), price=-1)], "containers", "price of -1"),
        ([-1.0], [Offer(amounts=(1.0,), price=1)], "needs", "0 or more"),
        ([1.0, 1.0], [Offer(amounts=(1.0, 0.0), price=1)], "containers", "material 2"),
        ([1e9], [Offer(amounts=(1.0,), price=1)], "needs", "Check the units"),
        ([math.nan], [Offer(amounts=(1.0,), price=1)], "needs", "cannot be covered"),
    ],
)
def test_what_cannot_be_bought(needs: list[float], offers: list[Offer], field: str, says: str) -> None:
    with pytest.raises(CalculationError, match=says) as refused:
        choose_containers(needs, offers)
    assert refused.value.field == field


def test_spread_by_hand() -> None:
    # 2 m², 10 and 20 m²/L, elm drinks 1.2 times as much, 15 % waste: 2·(0.1 + 0.05)·1.2·1.15.
    assert litres_needed(2, [10, 20], absorbency=1.2, waste=0.15) == pytest.approx(0.414)


@given(
    st.floats(0.01, 50),
    st.lists(st.floats(1, 100), min_size=1, max_size=6),
    st.floats(0.5, 2),
    st.floats(0, 1),
)
def test_twice_the_area_takes_twice_as_much(
    area: float, spreads: list[float], absorbency: float, waste: float
) -> None:
    once = litres_needed(area, spreads, absorbency=absorbency, waste=waste)
    assert litres_needed(2 * area, spreads, absorbency=absorbency, waste=waste) == pytest.approx(2 * once)
    assert once >= litres_needed(area, spreads[:-1], absorbency=absorbency, waste=waste)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"area_m2": 0}, "area_m2"),
        ({"absorbency": -1}, "absorbency"),
        ({"waste": -0.1}, "waste_pct"),
        ({"spreads_m2_per_l": [0.0]}, "coats"),
    ],
)
def test_spread_out_of_range(change: dict[str, object], field: str) -> None:
    given_ = {"area_m2": 1.0, "spreads_m2_per_l": [10.0], "absorbency": 1.0, "waste": 0.1, **change}
    with pytest.raises(CalculationError) as refused:
        litres_needed(
            given_["area_m2"],  # type: ignore[arg-type]
            given_["spreads_m2_per_l"],  # type: ignore[arg-type]
            absorbency=given_["absorbency"],  # type: ignore[arg-type]
            waste=given_["waste"],  # type: ignore[arg-type]
        )
    assert refused.value.field == field


def test_cost_of_a_square_metre() -> None:
    # The large kit: 52 for 1 L ready mixed; 1/30 + 1/50 m²/L, 15 % waste.
    made = recipe(layer(HARDOIL, 2))
    assert cost_per_m2(made, absorbency=1) == pytest.approx(52 * (1 / 30 + 1 / 50) * 1.15)
    assert cost_per_m2(recipe(layer(HARDOIL, 2), TUNG), absorbency=1) is None


def test_shopping_adds_up_a_trial_and_buys_both_parts() -> None:
    work = Work(n_panels=20, face_m2=0.06, woods=[SPECIES["beech"]])
    without = Layer(product=HARDOIL, coats=1, hardener=False)
    (need,) = shop_for(reckon_cups([recipe(layer(HARDOIL, 2)), recipe(without)], work))
    both_faces = 20 * 0.06 * 2
    coats_ml = [1000 * both_faces / 30 * 1.15, 1000 * both_faces / 50 * 1.15]
    assert need.spread_ml == pytest.approx(sum(coats_ml) + coats_ml[0])
    # 92 mL and 55.2 mL of the mix, and 92 mL of the base alone, each in whole half millilitres.
    assert need.parts == pytest.approx((0.9 * (92 + 55.5) + 92, 0.1 * (92 + 55.5)))
    assert need.purchase is not None
    assert need.purchase.counts == (1, 0, 0)
    assert all(b >= n for b, n in zip(need.purchase.bought, need.parts, strict=True))


def test_shopping_says_what_is_missing() -> None:
    work = Work(n_panels=4, face_m2=0.06)
    hardener_alone = Container(amounts=(0, 100), price=12)
    needs = shop_for(
        reckon_cups([recipe(VARNISH), recipe(replace(HARDOIL, containers=(hardener_alone,)))], work)
    )
    assert [need.purchase for need in needs] == [None, None]
    assert "Add them to the product" in needs[0].says
    assert "Nothing on offer holds material 1" in needs[1].says
