"""Products, woods, agents and recipes: what may be, what is refused, and that nothing is lost on the way to storage."""

from __future__ import annotations

import itertools
import json
from dataclasses import fields, replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.errors import BuildUpError, ShelfError
from nublet.core.materials.cautions import CAUTIONS
from nublet.core.materials.compatibility import Setting, find_conflicts
from nublet.core.materials.coverage import layer_need
from nublet.core.materials.cup import is_solvent_open
from nublet.core.materials.doings import doings_of_preparation
from nublet.core.materials.families import FAMILIES
from nublet.core.materials.hands_on import calendar_days, hands_on_minutes
from nublet.core.materials.mixes import Work, content_of
from nublet.core.materials.panel_coats import panel_coats
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.product_records import check_product, product_as_dict, product_from_dict
from nublet.core.materials.products import Container, Label, Part, unnamed_product
from nublet.core.materials.recipes import (
    Layer,
    Recipe,
    check_recipe,
    product_ids,
    recipe_as_dict,
    recipe_by_label,
    recipe_from_dict,
)
from nublet.core.materials.sheet import steps_of_preparation
from nublet.core.materials.species import SPECIES, check_species
from nublet.core.protocols.agents import AGENTS, check_agent, must_not_meet
from tests.core.finishes import HARDOIL, POLY, SATIN, SHELLAC, TUNG, VARNISH, WASH, WAX, layer, recipe

PLAIN = product_as_dict(HARDOIL)


def test_a_product_comes_back_from_storage_as_it_was() -> None:
    assert product_from_dict(json.loads(json.dumps(PLAIN)), product_id=1) == HARDOIL


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"name": " "}, "name", "Give the product a name"),
        ({"name": "x" * 121}, "name", "120 fit"),
        ({"family": "paint"}, "family", "not a finish family"),
        ({"sheen": "shiny"}, "sheen", "not a choice"),
        ({"obtained": "stolen"}, "obtained", "not a choice"),
        ({"colour": "red"}, "colour", "no field colour"),
        ({"voc_g_per_l": -1}, "voc_g_per_l", "0 to 1500"),
        ({"solids_pct": "lots"}, "solids_pct", "is a number"),
        ({"solids_pct": float("nan")}, "solids_pct", "is a number"),
        ({"solids_pct": True}, "solids_pct", "is a number"),
        ({"note": 3}, "note", "is a text"),
        ({"label": {"pot_life_min": 0}}, "label.pot_life_min", "0.1 to"),
        ({"label": {"cure_h": 3}}, "label.cure_h", "no field label.cure_h"),
        ({"label": {"dissolves_wax": "yes"}}, "label.dissolves_wax", "true or false"),
        ({"label": [1]}, "label", "named fields"),
        (
            {"label": {"wipe_off_from_min": 20, "wipe_off_to_min": 10}},
            "label.wipe_off_to_min",
            "Turn them round",
        ),
        ({"parts": [{"name": "A", "share": 0}, {"name": "B"}]}, "parts.0.share", "cannot be mixed"),
        ({"parts": [{"name": "A"}, {"name": "a"}]}, "parts.1.name", "Rename one"),
        ({"parts": [{"name": ""}]}, "parts.0.name", "Give each part a name"),
        ({"parts": [{"name": str(n)} for n in range(5)]}, "parts", "1 to 4 parts"),
        ({"parts": "base"}, "parts", "is a list"),
        ({"containers": [{"amounts": [1], "price": 2}]}, "containers.0", "2\nparts"),
        ({"containers": [{"amounts": [0, 0], "price": 2}]}, "containers.0.amounts", "hold something"),
        ({"containers": [{"amounts": [1, 1], "price": -2}]}, "containers.0.price", "price of -2"),
        ({"containers": [7]}, "containers.0", "named fields"),
    ],
)
def test_products_that_cannot_be(change: dict[str, Any], field: str, says: str) -> None:
    with pytest.raises(ShelfError) as refused:
        product_from_dict({**PLAIN, **change})
    assert refused.value.field == field
    assert says.replace("\n", " ") in refused.value.message


def test_where_the_label_is_silent_the_family_speaks() -> None:
    usual = FAMILIES["pure-drying-oil"].usual
    tung = replace(TUNG, label=Label())
    assert (tung.spread_m2_per_l(1), tung.spread_m2_per_l(3)) == (10, 20)
    assert (tung.wipe_off_min, tung.recoat_h, tung.cure_d()) == (
        usual.wipe_off_min,
        usual.recoat_h,
        usual.cure_d,
    )
    assert (HARDOIL.wipe_off_min, HARDOIL.recoat_h, HARDOIL.cure_d()) == ((3, 15), (24, 72), 7)
    assert HARDOIL.cure_d(with_hardener=False) == 25
    # A label that says only "recoat after 6 h" leaves the window open at the end.
    assert replace(TUNG, label=Label(recoat_from_h=6)).recoat_h == (6, None)
    assert replace(SATIN, label=Label(spread_first_m2_per_l=9)).spread_m2_per_l(2) == 9


def test_price_of_a_litre() -> None:
    # 52 for 900 + 100 mL is the cheaper kit; the lone hardener gives no price without a lone base.
    assert HARDOIL.price_per_l() == pytest.approx(52)
    alone = (Container(amounts=(1000, 0), price=40), Container(amounts=(0, 100), price=8))
    assert replace(HARDOIL, containers=alone).price_per_l() == pytest.approx(0.9 * 40 + 0.1 * 80)
    assert TUNG.price_per_l() is None
    heavy = replace(
        WAX, sold_by="weight", density_g_per_ml=0.8, containers=(Container(amounts=(400,), price=10),)
    )
    assert heavy.price_per_l() == pytest.approx(20)


def test_what_ships() -> None:
    assert len(SPECIES) >= 12
    assert {"ring-porous", "diffuse-porous", "softwood"} == {wood.pores for wood in SPECIES.values()}
    for wood in SPECIES.values():
        check_species(wood)
    for agent in AGENTS.values():
        check_agent(agent)
        assert set(agent.cautions) <= set(CAUTIONS)
    assert len(FAMILIES) == 18
    for family in FAMILIES.values():
        assert set(family.cautions) <= set(CAUTIONS)
        assert unnamed_product(family.id).name == family.name
    # Each caution of a family is shown at a step that a build-up's sheet has.
    assert {c for f in FAMILIES.values() for c in f.cautions} <= {
        c.id for c in CAUTIONS.values() if c.moments & {"mix", "coat", "wipe", "lamp", "cure"}
    }


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": ""}, "name"),
        ({"pores": "porous"}, "pores"),
        ({"density_kg_m3": 5}, "density_kg_m3"),
        ({"janka_n": float("nan")}, "janka_n"),
        ({"absorbency": 9}, "absorbency"),
    ],
)
def test_woods_that_cannot_be(change: dict[str, Any], field: str) -> None:
    with pytest.raises(ShelfError) as refused:
        check_species(replace(SPECIES["beech"], **change))
    assert refused.value.field == field


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": " "}, "name"),
        ({"group": "fun"}, "group"),
        ({"natures": frozenset({"blue"})}, "natures"),
        ({"durations_min": (-1.0,)}, "durations_min"),
        ({"temperatures_c": (900.0,)}, "temperatures_c"),
    ],
)
def test_agents_that_cannot_be(change: dict[str, Any], field: str) -> None:
    with pytest.raises(ShelfError) as refused:
        check_agent(replace(AGENTS["coffee"], **change))
    assert refused.value.field == field


def test_what_must_never_meet() -> None:
    forbidden = {
        frozenset((one.id, other.id))
        for one, other in itertools.combinations(AGENTS.values(), 2)
        if must_not_meet(one, other)
    }
    assert {frozenset(("bleach", "ammonia-10")), frozenset(("bleach", "vinegar"))} <= forbidden
    assert frozenset(("dry-block", "acetone")) in forbidden
    assert not {pair for pair in forbidden if "coffee" in pair or "olive-oil" in pair}
    for one, other in itertools.combinations(AGENTS.values(), 2):
        assert bool(must_not_meet(one, other)) == bool(must_not_meet(other, one))


# Recipes


FULL = Recipe(
    preparation=Preparation(grits=(80, 120), end_grain_grit=180, water_popped=True, cleaning="solvent"),
    layers=(
        Layer(product=TUNG, coats=2, stop_rule="even-sheen"),
        Layer(product=unnamed_product("shellac-dewaxed"), wait_before_h=48, sanded_before=True),
        Layer(product=HARDOIL, coats=3, hardener=False, thinned_pct=5, abrade_between="grey pad"),
    ),
    final="waxed",
    final_product=WAX,
    faces="one",
    experiment_reason="A question of ours",
)
ON_SHELF = {product.id: product for product in (TUNG, HARDOIL, WAX) if product.id is not None}


def test_a_recipe_comes_back_from_storage_as_it_was() -> None:
    plain = json.loads(json.dumps(recipe_as_dict(FULL)))
    assert recipe_from_dict(plain, ON_SHELF) == FULL
    assert product_ids(plain) == {1, 2, 7}


def test_every_field_of_a_layer_is_stored() -> None:
    stored = recipe_as_dict(FULL)["layers"][0]
    assert {item.name for item in fields(Layer)} <= set(stored)


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"layers": []}, "layers", "1 to 12 layers"),
        ({"layers": [{"product": 99}]}, "layers.0.product", "not on your shelf"),
        ({"layers": [{}]}, "layers.0.product", "Choose the product"),
        ({"layers": [{"family": "wax", "coats": 0}]}, "layers.0.coats", "0 coats"),
        ({"layers": [{"family": "wax", "coats": 21}]}, "layers.0.coats", "21 coats"),
        ({"layers": [{"family": "wax", "applicator": "mop"}]}, "layers.0.applicator", "not a choice"),
        ({"layers": [{"family": "wax", "thinned_pct": 900}]}, "layers.0.thinned_pct", "0 to 400"),
        ({"layers": [{"family": "wax", "wait_before_h": -1}]}, "layers.0.wait_before_h", "0 to 10,000"),
        ({"preparation": {"grits": [5]}}, "preparation.grits", "no 5 grit"),
        ({"preparation": {"grits": list(range(80, 89))}}, "preparation.grits", "at most 8"),
        ({"preparation": {"cleaning": "spit"}}, "preparation.cleaning", "not a choice"),
        ({"final": "waxed", "final_product": 2}, "final_product", "is no wax"),
        ({"faces": "edges"}, "faces", "not a choice"),
    ],
)
def test_recipes_that_nobody_could_carry_out(change: dict[str, Any], field: str, says: str) -> None:
    with pytest.raises(BuildUpError) as refused:
        recipe_from_dict({**recipe_as_dict(FULL), **change}, ON_SHELF)
    assert refused.value.field == field
    assert says in refused.value.message


def test_the_recipe_that_a_label_asks_for() -> None:
    made = recipe_by_label(HARDOIL)
    assert made.preparation.grits == (80, 120)
    assert (made.layers[0].coats, made.layers[0].applicator) == (2, "rag")
    assert recipe_by_label(SATIN).preparation.water_popped
    assert recipe_by_label(replace(TUNG, label=Label(finest_grit=60))).preparation.grits == (60,)


def test_a_build_up_is_known_by_its_last_film() -> None:
    assert recipe(SHELLAC, POLY, WAX).leading_layer.product == POLY
    assert recipe(TUNG, WAX).leading_layer.product == TUNG
    assert recipe(WAX).leading_layer.product == WAX


def test_time_of_a_build_up_by_hand() -> None:
    # Two faces of ten panels of 0.05 m²: 1 m². Grits 3 × 8, two coats (8 + 10 × 0.5 + 6 of wiping).
    assert hands_on_minutes(recipe(layer(TUNG, 2)), 1.0, 10) == pytest.approx(24 + 2 * (8 + 5 + 6))
    # Two coats a day apart, then 25 days.
    assert calendar_days(recipe(layer(HARDOIL, 2))) == pytest.approx(1 + 7)
    # A wax on a varnish waits for its full cure, then takes its own three days.
    assert calendar_days(recipe(POLY, final="waxed", final_product=WAX)) == pytest.approx(21 + 3)
    # The longest cure left counts: tung under shellac put on after two days.
    assert calendar_days(recipe(TUNG, layer(SHELLAC, wait_before_h=48))) == pytest.approx(25)


@given(st.integers(1, 6), st.integers(1, 40), st.floats(0.05, 5))
def test_more_work_takes_longer(coats: int, n_panels: int, area: float) -> None:
    made = recipe(layer(VARNISH, coats))
    more = recipe(layer(VARNISH, coats + 1))
    assert hands_on_minutes(more, area, n_panels) > hands_on_minutes(made, area, n_panels)
    assert calendar_days(more) > calendar_days(made)


def test_parts_share_the_mix() -> None:
    assert HARDOIL.shares() == (0.9, 0.1)
    assert replace(HARDOIL, parts=(Part(name="A", share=3), Part(name="B", share=1))).shares() == (0.75, 0.25)


@pytest.mark.parametrize("name", ["", "  ", "\u200b", "\xad \ufeff"])
def test_a_name_of_which_nothing_can_be_seen_is_none(name: str) -> None:
    with pytest.raises(ShelfError, match="Give the product a name"):
        check_product(replace(TUNG, name=name))


def test_each_coat_may_be_thinned_as_it_says() -> None:
    thinned = layer(TUNG, 3, thinned_by_coat=(100, 25), thinned_pct=0)
    assert [thinned.thinned_of(coat) for coat in (1, 2, 3)] == [100, 25, 0]
    need = layer_need(thinned, 2.0, absorbency=1.0)
    alone = [layer_need(layer(TUNG, 3, thinned_pct=pct), 2.0, absorbency=1.0) for pct in (100, 25, 0)]
    assert need.coats_ml == pytest.approx([alone[n].coats_ml[n] for n in range(3)])
    assert need.thinner_ml == pytest.approx([alone[0].thinner_ml[0], alone[1].thinner_ml[1], 0])
    coats = panel_coats(recipe(thinned))
    # Three coats from three cups, of which only the thinned ones give off vapour.
    assert len({content_of(coat.alone).key for coat in coats}) == 3
    assert [is_solvent_open(coat.alone) for coat in coats] == [True, True, False]
    for wrong in ((1, 2, 3, 4), (-1,), (401,)):
        with pytest.raises(BuildUpError, match="coat by coat"):
            check_recipe(recipe(layer(TUNG, 3, thinned_by_coat=wrong)))
    plain = recipe_as_dict(recipe(thinned))
    assert recipe_from_dict(plain, {TUNG.id or 0: TUNG}).layers[0].thinned_by_coat == (100, 25)


def test_a_wash_comes_first_and_the_wood_dries_after_it() -> None:
    over = find_conflicts(recipe(TUNG, WASH), Setting())
    assert [(each.rule, each.severity) for each in over if each.rule.startswith("wash")] == [
        ("wash-over-finish", "block"),
        ("wash-alone", "warn"),
    ]
    assert not [
        each.rule for each in find_conflicts(recipe(WASH, TUNG), Setting()) if each.rule.startswith("wash")
    ]
    washed = Preparation(grits=(80,), washed="de-greyer")
    first, *_ = doings_of_preparation(washed)
    assert (first.id, first.then_h, first.cautions) == ("wash", 48.0, ("wood-wash",))
    assert (
        steps_of_preparation(washed, Work(n_panels=1, face_m2=0.1))[0].title
        == "Scrub with a de-greyer, rinse"
    )
