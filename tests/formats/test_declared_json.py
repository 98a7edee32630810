"""The front end's copy of what is declared."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any, get_args

import pytest

from nublet.core.materials import families, pair_rules, preparations, products, recipes, schools, species
from nublet.core.protocols import agents
from nublet.formats.declared_json import WORDS, declared_to_json

COPY = Path(__file__).parents[2] / "frontend" / "src" / "api" / "declared.json"


def test_the_front_end_has_what_is_declared() -> None:
    """After a change of a response or of words make it anew (CONTRIBUTING.md)."""
    assert json.loads(COPY.read_text()) == declared_to_json()


@pytest.mark.parametrize(
    ("name", "choices"),
    [
        ("disclosure", products.Disclosure),
        ("food_contact", products.FoodContact),
        ("obtained", products.Obtained),
        ("sheen", products.Sheen),
        ("seat", families.Seat),
        ("pores", species.PoreStructure),
        ("group", agents.AgentGroup),
        ("natures", agents.Nature),
        ("start", preparations.Start),
        ("sanding", preparations.Sanding),
        ("cleaning", preparations.Cleaning),
        ("charring", preparations.Charring),
        ("washed", preparations.Washing),
        ("applicator", recipes.Applicator),
        ("final", recipes.Final),
        ("severity", pair_rules.Severity),
        ("preparation_school", schools.PreparationSchool),
        ("coat_school", schools.CoatSchool),
    ],
)
def test_every_choice_has_its_words(name: str, choices: Any) -> None:
    assert list(WORDS[name]) == [choice for choice in get_args(choices) if choice]
    assert len(set(WORDS[name].values())) == len(WORDS[name])
