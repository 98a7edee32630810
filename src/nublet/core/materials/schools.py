"""Schools of preparation and of coats, and what each leaves confounded."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from nublet.core.materials.recipes import Recipe

PreparationSchool = Literal["by-label", "levelled"]
CoatSchool = Literal["by-label", "equal-coats", "equal-sheen"]

PREPARATION_SCHOOLS: dict[str, str] = {
    "by-label": "By label: each as its maker says",
    "levelled": "Levelled: all prepared alike",
}
COAT_SCHOOLS: dict[str, str] = {
    "by-label": "By label: as many coats as the maker says",
    "equal-coats": "Equal coats for all",
    "equal-sheen": "To equal sheen or film weight",
}


@dataclass(frozen=True, kw_only=True)
class SchoolAdvice:
    """What the chosen schools confound, and where the build-ups do not keep to them."""

    confounded: tuple[str, ...]
    strays: tuple[str, ...]


def advise_on_schools(preparation: str, coats: str, recipes: Mapping[str, Recipe]) -> SchoolAdvice:
    """Say which effects cannot be told apart under the schools, and which build-ups stray from them.

    Parameters
    ----------
    preparation, coats : str
        Ids of :data:`PREPARATION_SCHOOLS` and :data:`COAT_SCHOOLS`.
    recipes : mapping of build-up name to Recipe
        Without the control.
    """
    return SchoolAdvice(
        confounded=(_CONFOUNDED[f"preparation:{preparation}"], _CONFOUNDED[f"coats:{coats}"]),
        strays=(*_preparation_strays(preparation, recipes), *_coat_strays(coats, recipes)),
    )


_CONFOUNDED = {
    "preparation:by-label": "By label, a difference between two finishes may be the product's or its preparation's: this is what a buyer gets, "
    "and the two cannot be told apart.",
    "preparation:levelled": "Levelled, preparation cannot explain a difference; but a product may do worse here than on the surface that its maker "
    "asks for.",
    "coats:by-label": "Coats by label: product and film thickness go together, and a thicker film may be what wins.",
    "coats:equal-coats": "Equal coats: the number is the same, the film is not; a thin product stays thin.",
    "coats:equal-sheen": "To equal sheen or film weight: the film is alike, the coats, days and cost are not; they become part of the answer.",
}


def _preparation_strays(school: str, recipes: Mapping[str, Recipe]) -> list[str]:
    ways: dict[object, list[str]] = {}
    for name, recipe in recipes.items():
        ways.setdefault(recipe.preparation, []).append(name)
    if school == "levelled" and len(ways) > 1:
        usual = max(ways.values(), key=len)
        odd = [name for names in ways.values() if names is not usual for name in names]
        return [f"Levelled asks for one preparation: {', '.join(odd)} differ from {usual[0]}."]
    if school == "by-label" and len(ways) == 1 and len(recipes) > 1:
        return ["All are prepared alike: choose 'levelled', or write in what each label asks."]
    return []


def _coat_strays(school: str, recipes: Mapping[str, Recipe]) -> list[str]:
    coats = {name: sum(layer.coats for layer in recipe.layers) for name, recipe in recipes.items()}
    if school == "equal-coats" and len(set(coats.values())) > 1:
        return [
            "Equal coats asks for one number: "
            + ", ".join(f"{name} has {n}" for name, n in coats.items())
            + "."
        ]
    if school == "by-label":
        return [
            f"{name}: {layer.coats} {'coat' if layer.coats == 1 else 'coats'} of {layer.product.name}, where the label says {layer.product.label.coats:g}."
            for name, recipe in recipes.items()
            for layer in recipe.layers
            if layer.product.label.coats is not None
            and layer.coats != layer.product.label.coats
            and layer.stop_rule == "coats"
        ]
    if school == "equal-sheen":
        fixed = [
            name
            for name, recipe in recipes.items()
            if all(layer.stop_rule == "coats" for layer in recipe.layers)
        ]
        if fixed:
            return [
                f"To equal sheen needs the stop rule 'until the sheen is even': {', '.join(fixed)} count coats."
            ]
    return []
