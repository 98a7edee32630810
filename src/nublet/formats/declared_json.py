"""What the core declares and the front end shows, as JSON: responses, and the words for what can be chosen.

``frontend/src/api/declared.json`` is made by
    python -m nublet.formats.declared_json > frontend/src/api/declared.json
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from nublet.core.design import exposing, factors
from nublet.core.materials import (
    compatibility,
    families,
    pair_rules,
    preparations,
    products,
    recipes,
    schools,
    species,
)
from nublet.core.protocols import acts, agents, looks, response, sites, tests
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.scales import GRADE_WORDS
from nublet.core.simulation.marks import DRAWN

# By the name of the field that holds the choice.
WORDS: Mapping[str, Mapping[Any, str]] = {
    "disclosure": products.DISCLOSURE_WORDS,
    "food_contact": products.FOOD_WORDS,
    "obtained": products.OBTAINED_WORDS,
    "sheen": products.SHEEN_WORDS,
    "seat": families.SEAT_WORDS,
    "pores": species.PORE_WORDS,
    "group": agents.GROUP_WORDS,
    "natures": agents.NATURES,
    "test_group": tests.TEST_GROUP_WORDS,
    "after_fail": tests.AFTER_FAIL_WORDS,
    "site": sites.SITE_WORDS,
    "grain": sites.GRAIN_WORDS,
    "act": {kind: declared.words for kind, declared in acts.ACT_KINDS.items()},
    "occupies": acts.EQUIPMENT_WORDS,
    "view": looks.VIEW_WORDS,
    "by": looks.READER_WORDS,
    "weighing": response.WEIGHING_WORDS,
    "start": preparations.START_WORDS,
    "sanding": preparations.SANDING_WORDS,
    "cleaning": preparations.CLEANING_WORDS,
    "washed": preparations.WASHING_WORDS,
    "charring": preparations.CHARRING_WORDS,
    "applicator": recipes.APPLICATOR_WORDS,
    "final": recipes.FINAL_WORDS,
    "food_school": compatibility.FOOD_SCHOOL_WORDS,
    "severity": pair_rules.SEVERITY_WORDS,
    "preparation_school": schools.PREPARATION_SCHOOLS,
    "coat_school": schools.COAT_SCHOOLS,
    "factor": factors.FACTOR_WORDS,
    "exposing": exposing.EXPOSING_SCHOOLS,
    "exposing_says": exposing.EXPOSING_SAYS,
}


def declared_to_json() -> dict[str, Any]:
    """Responses by their ids, and each choice's words by the field that holds it."""
    return {
        "responses": _responses(),
        "grade_words": [_step(step) for step in GRADE_WORDS],
        "words": {name: dict(words) for name, words in WORDS.items()},
    }


def _step(step: response.ScaleStep) -> dict[str, Any]:
    return {"value": step.value, "key": step.key, "words": step.words, "says": step.says}


def _responses() -> dict[str, Any]:
    """Each response by its id: what a scale's ends and steps are, and which end is better."""
    return {
        each.id: {
            "name": each.name,
            "noun": each.noun,
            "unit": each.unit,
            "better": each.better,
            "lowest": each.lowest,
            "highest": each.highest,
            "step": each.step,
            "passes_from": each.passes_from,
            "form": each.form,
            "weighed": list(each.weighed),
            "parts": list(each.parts),
            "decimals": each.decimals,
            "unlikely": each.unlikely and list(each.unlikely),
            "instrument": each.instrument,
            "line": each.line and list(each.line),
            "n_readings": each.n_readings,
            "may_exceed": each.may_exceed,
            "is_drawn": each.id in DRAWN,
            "steps": [_step(step) for step in each.steps],
        }
        for each in RESPONSES.values()
    }


if __name__ == "__main__":
    print(json.dumps(declared_to_json(), indent=2, ensure_ascii=False))
