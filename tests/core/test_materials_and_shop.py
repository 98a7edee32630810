"""Build-ups and the simulated shop."""

from __future__ import annotations

import pytest

from nublet.core.errors import BuildUpError
from nublet.core.materials.build_ups import CONTROL, BuildUp, check_build_ups, revealed_build_up
from nublet.core.materials.recipes import simple_recipe
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from tests.core.finishes import HARDOIL, layer, recipe

TUNG = BuildUp(name="Marrowby Tung", recipe=simple_recipe("pure-drying-oil", 4))
SATIN = BuildUp(name="Skarn Waterborne Satin", recipe=simple_recipe("waterborne-clear", 3))


@pytest.mark.parametrize(
    ("build_ups", "field", "says"),
    [
        ([CONTROL, TUNG], "build_ups", "at least 2"),
        (
            [TUNG, BuildUp(name="marrowby  tung", recipe=simple_recipe("wax", 1))],
            "build_ups.1.name",
            "Two build-ups",
        ),
        ([TUNG, BuildUp(name=" ", recipe=simple_recipe("wax", 1))], "build_ups.1.name", "a name"),
        (
            [TUNG, BuildUp(name="Märrowby Tung", recipe=simple_recipe("wax", 1))],
            "build_ups.1.name",
            "Two build-ups",
        ),
    ],
)
def test_unusable_build_ups(build_ups: list[BuildUp], field: str, says: str) -> None:
    with pytest.raises(BuildUpError, match=says) as refused:
        check_build_ups(build_ups)
    assert refused.value.field == field


def test_usable_build_ups() -> None:
    check_build_ups([CONTROL, TUNG, SATIN])


@pytest.mark.parametrize(
    ("text", "revealed"),
    [
        ("Saloon tables", None),
        ("Marrowby against the rest", "Marrowby Tung"),
        ("is skarn  waterborne SATIN any good", "Skarn Waterborne Satin"),
        ("Bare control", None),
        ("Tungsten lamps", None),
    ],
)
def test_names_that_break_the_blind(text: str, revealed: str | None) -> None:
    assert revealed_build_up(text, [CONTROL, TUNG, SATIN]) == revealed


def test_a_products_name_breaks_the_blind_too() -> None:
    shelved = BuildUp(name="First", recipe=recipe(layer(HARDOIL)))
    assert revealed_build_up("Does fellgate hardoil 2k last?", [shelved]) == "Fellgate Hardoil 2K"
    assert revealed_build_up("Tables of hard oil", [shelved]) is None
    # A family is not a product.
    assert revealed_build_up("Which wax", [BuildUp(name="First", recipe=simple_recipe("wax", 1))]) is None


def test_protocols_know_their_parts() -> None:
    assert TABLE_BASICS.look("24h").after_min == 1440
    for ask in (TABLE_BASICS.look, TABLE_BASICS.test):
        with pytest.raises(KeyError):
            ask("nothing")
