"""Factors crossed: cells, names, recipes and levels follow; what cannot be crossed is refused."""

from __future__ import annotations

from typing import Any

import pytest

from nublet.core.design.factor_records import (
    PREPARATIONS,
    crossing_from_dict,
    presets_as_plain,
    product_ids_of,
)
from nublet.core.design.factors import Crossing, Factor, Level, cross, layers_with_coats
from nublet.core.errors import DesignError
from nublet.core.materials.panel_coats import panel_coats
from nublet.core.materials.recipes import Recipe
from tests.core.finishes import HARDOIL, SATIN, SHELLAC, TOPCOAT, TUNG, VARNISH, WAX, layer

FINISHES = Factor(
    kind="finish",
    levels=tuple(
        Level(name=each.name, recipe=Recipe(layers=(layer(each, 2),)))
        for each in (HARDOIL, TUNG, VARNISH, SATIN, SHELLAC)
    ),
)
TOPS = Factor(
    kind="top",
    on="sections",
    levels=(
        Level(name="nothing"),
        Level(name="paste wax", layers=(layer(WAX),)),
        Level(name="hard topcoat", layers=(layer(TOPCOAT),)),
    ),
)
COATS = Factor(
    kind="coats", on="sections", levels=tuple(Level(name=f"{n} coats", coats=n) for n in (1, 2, 3))
)
CHARRED = Factor(
    kind="preparation",
    levels=tuple(
        Level(name=name, preparation=PREPARATIONS[name])
        for name in PREPARATIONS
        if name.startswith("charred")
    ),
)


def test_five_bases_by_three_tops_by_coats_on_sections() -> None:
    found = cross(Crossing(factors=(FINISHES, TOPS, COATS)))
    assert (len(found.build_ups), len(found.sections), found.n_cells) == (5, 9, 45)
    assert found.is_complete
    # A panel gets as many coats as its fullest section; the others stop before.
    assert all(each.recipe is not None and each.recipe.layers[0].coats == 3 for each in found.build_ups)
    assert [(s.section.name, s.section.coats) for s in found.sections[:3]] == [
        ("nothing · 1 coats", 1), ("nothing · 2 coats", 2), ("nothing · 3 coats", None),
    ]  # fmt: skip
    assert found.sections[3].levels == {"top": "paste wax", "coats": "1 coats"}
    recipe = found.build_ups[0].recipe
    assert recipe is not None
    coats = panel_coats(recipe, [each.section for each in found.sections])
    assert [round(coat.share * 9) for coat in coats[:3]] == [9, 6, 3]
    assert len(coats) == 3 + 6


def test_charring_by_finishes_with_bare_wood_at_each_level() -> None:
    three = Factor(kind="finish", levels=FINISHES.levels[:3])
    names = tuple(level.name for level in CHARRED.levels)
    found = cross(Crossing(factors=(CHARRED, three), bare_at=names))
    assert found.n_cells == 9
    bare = [each for each in found.build_ups if each.recipe is None]
    # Bare wood charred deep and bare wood charred lightly are different things.
    assert [(each.name, each.preparation.charring) for each in bare] == [
        ("Bare · charred lightly", "light"), ("Bare · charred, medium", "medium"), ("Bare · charred deep", "deep"),
    ]  # fmt: skip
    deep = next(each for each in found.build_ups if each.name == "charred deep · Marrowby Tung")
    assert deep.recipe is not None
    assert (deep.recipe.preparation.charring, deep.levels) == (
        "deep", {"preparation": "charred deep", "finish": "Marrowby Tung"},
    )  # fmt: skip


def test_on_panels_tops_and_coats_are_build_ups_of_their_own() -> None:
    on_panels = [Factor(kind=each.kind, levels=each.levels) for each in (TOPS, COATS)]
    found = cross(Crossing(factors=(Factor(kind="finish", levels=FINISHES.levels[:2]), *on_panels)))
    assert (len(found.build_ups), found.sections) == (18, ())
    topped = next(each for each in found.build_ups if each.name == "Marrowby Tung · hard topcoat · 1 coats")
    assert topped.recipe is not None
    assert [(each.product.name, each.coats) for each in topped.recipe.layers] == [
        (TUNG.name, 1),
        (TOPCOAT.name, 1),
    ]


def test_cells_are_taken_out() -> None:
    two = Factor(kind="finish", levels=FINISHES.levels[:2])
    whole = cross(Crossing(factors=(CHARRED, two), out=frozenset({("charred deep", TUNG.name)})))
    assert [each.name for each in whole.build_ups if "deep" in each.name] == [
        f"charred deep · {HARDOIL.name}"
    ]
    some = cross(Crossing(factors=(two, TOPS), out=frozenset({(TUNG.name, "paste wax")})))
    assert some.left_out == {(TUNG.name, "paste wax")}
    assert (some.n_cells, some.is_complete) == (5, False)
    # A section that nothing carries any more is none, and a build-up without a section neither.
    none = cross(
        Crossing(factors=(two, TOPS), out=frozenset({(each.name, "paste wax") for each in two.levels}))
    )
    assert [each.section.name for each in none.sections] == ["nothing", "hard topcoat"]
    assert none.is_complete
    gone = cross(
        Crossing(factors=(two, TOPS), out=frozenset({(TUNG.name, each.name) for each in TOPS.levels}))
    )
    assert [each.name for each in gone.build_ups] == [HARDOIL.name]
    with pytest.raises(DesignError, match="nothing is compared"):
        cross(Crossing(factors=(two,), out=frozenset({(each.name,) for each in two.levels})))


def test_coats_are_counted_from_the_wood() -> None:
    both = (layer(SHELLAC, 2), layer(SATIN, 2))
    assert [each.coats for each in layers_with_coats(both, 3)] == [2, 1]
    assert [each.coats for each in layers_with_coats(both, 1)] == [1]
    assert [each.coats for each in layers_with_coats(both, 6)] == [2, 4]


def plain(**more: Any) -> dict[str, Any]:
    finish = {
        "kind": "finish",
        "levels": [{"name": "Tung", "product": 2}, {"name": "a wax", "family": "wax"}],
    }
    top = {
        "kind": "top",
        "on": "sections",
        "levels": [{"name": "nothing"}, {"name": "waxed", "layers": [{"product": 7}]}],
    }
    return {"factors": [finish, top], **more}


def test_a_crossing_is_read_from_what_is_kept() -> None:
    assert product_ids_of(plain()) == {2, 7}
    found = cross(crossing_from_dict(plain(out=[["Tung", "nothing"]]), {2: TUNG, 7: WAX}))
    assert [each.name for each in found.build_ups] == ["Tung", "a wax"]
    assert found.left_out == {("Tung", "nothing")}
    assert [level["name"] for level in presets_as_plain()] == list(PREPARATIONS)


@pytest.mark.parametrize(
    ("change", "says", "field"),
    [
        ({"factors": []}, "0 factors cannot be crossed", "factors"),
        ({"factors": [plain()["factors"][1]]}, "needs a finish", "factors"),
        ({"factors": [plain()["factors"][0]] * 2}, "comes twice", "factors.1"),
        ({"factors": [plain()["factors"][0] | {"on": "sections"}]}, "not on sections", "factors.0.on"),
        ({"factors": [{"kind": "colour"}]}, "is no factor", "factors.0.kind"),
        ({"factors": [plain()["factors"][0] | {"on": "edges"}]}, "is no place", "factors.0.on"),
        ({"factors": [{"kind": "finish", "levels": []}]}, "has 0 levels", "factors.0.levels"),
        ({"factors": [{"kind": "finish", "levels": [{"name": " ", "family": "wax"}]}]}, "has no name", "factors.0.levels.0"),
        ({"factors": [{"kind": "finish", "levels": [{"name": "x"}]}]}, "says no finish", "factors.0.levels.0"),
        ({"factors": [{"kind": "finish", "levels": [{"name": "x", "product": 99}]}]}, "not on your shelf", "factors.0.levels.0"),
        ({"out": [["Tung", "beeswax"]]}, "no cell of this crossing", "out"),
        ({"bare_at": ["charred"]}, "no level of the preparation", "bare_at"),
        ({"colour": 1}, "has no 'colour'", "colour"),
    ],
)  # fmt: skip
def test_what_cannot_be_crossed_is_refused_with_its_place(
    change: dict[str, Any], says: str, field: str
) -> None:
    with pytest.raises(DesignError, match=says) as caught:
        cross(crossing_from_dict(plain() | change, {2: TUNG, 7: WAX}))
    assert caught.value.field == field


def test_too_many_cells_are_refused() -> None:
    many = tuple(Level(name=str(n), recipe=Recipe(layers=(layer(TUNG),))) for n in range(12))
    with pytest.raises(DesignError, match="108 cells are too many"):
        cross(Crossing(factors=(Factor(kind="finish", levels=many), TOPS, COATS)))


def test_names_that_grow_too_long_are_refused() -> None:
    long = Factor(kind="top", on="sections", levels=(Level(name="n" * 50), Level(name="m")))
    two = Factor(kind="finish", levels=FINISHES.levels[:2])
    coats = Factor(
        kind="coats",
        on="sections",
        levels=tuple(Level(name=f"{n} coats, thin ones", coats=n) for n in (1, 2)),
    )
    with pytest.raises(DesignError, match="60 is the most"):
        cross(Crossing(factors=(two, long, coats)))
