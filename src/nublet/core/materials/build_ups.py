"""Build-ups: what the trial compares."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.errors import BuildUpError
from nublet.core.materials.recipes import Recipe
from nublet.core.plain import folded

CONTROL_NAME = "Bare control"


@dataclass(frozen=True, kw_only=True)
class BuildUp:
    """A named recipe. ``recipe`` is ``None`` for the control, the untreated panel."""

    name: str
    recipe: Recipe | None

    @property
    def is_control(self) -> bool:
        """Whether it is the untreated panel."""
        return self.recipe is None

    @property
    def family(self) -> str | None:
        """The finish family that it is known by, ``None`` for the control."""
        return None if self.recipe is None else self.recipe.leading_layer.product.family


CONTROL = BuildUp(name=CONTROL_NAME, recipe=None)


def check_build_ups(build_ups: Sequence[BuildUp], *, minimum: int = 2) -> None:
    """Refuse a list of build-ups that cannot make a comparison.

    Raises
    ------
    BuildUpError
        If there are fewer than ``minimum`` candidates beside the control, or two share a name. A recipe is checked where it
        is written, not here.
    """
    candidates = [build_up for build_up in build_ups if not build_up.is_control]
    if len(candidates) < minimum:
        raise BuildUpError(
            f"A comparison needs at least {minimum} build-ups beside the control; this trial has "
            f"{len(candidates)}. Add one under Candidates.",
            field="build_ups",
        )
    seen: set[str] = set()
    for index, build_up in enumerate(build_ups):
        key = folded(build_up.name)
        if not key:
            raise BuildUpError("Give the build-up a name.", field=f"build_ups.{index}.name")
        if key in seen:
            raise BuildUpError(
                f"Two build-ups are called {build_up.name!r}. Give each its own name, such as "
                f"'{build_up.name}, 3 coats'.",
                field=f"build_ups.{index}.name",
            )
        seen.add(key)


def revealed_build_up(text: str, build_ups: Sequence[BuildUp]) -> str | None:
    """Return the name of the first build-up or product that a text gives away, or ``None``.

    Judges see a trial's name; a name that holds a build-up's name, or its first word when that word is
    a name of its own, would break the blind. So would the whole name of a product in one of them.

    Examples
    --------
    >>> from nublet.core.materials.recipes import simple_recipe
    >>> tung = BuildUp(name="Marrowby Tung", recipe=simple_recipe("pure-drying-oil", 3))
    >>> revealed_build_up("Is marrowby worth it?", [tung])
    'Marrowby Tung'
    >>> revealed_build_up("Saloon tables", [tung]) is None
    True
    """
    words = set(re.findall(r"\w+", text.casefold()))
    folded = " ".join(text.casefold().split())
    for build_up in build_ups:
        if build_up.is_control:
            continue
        name = " ".join(build_up.name.casefold().split())
        first = re.findall(r"\w+", name)[:1]
        if name in folded or (len(name.split()) > 1 and first and first[0] in words):
            return build_up.name
        for layer in () if build_up.recipe is None else build_up.recipe.all_layers:
            product = layer.product
            if product.id is not None and " ".join(product.name.casefold().split()) in folded:
                return product.name
    return None
