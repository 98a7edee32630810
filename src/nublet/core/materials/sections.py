"""Recipes of sections: what a masked part of a panel carries on top of the panel's build-up, or in place of its last coats.

The **recipe on a section** is a whole recipe like any other: what clashes, what it takes, costs and cures is asked of it as of a
recipe on a panel of its own. A panel's coats are those of all its sections' recipes, shared where they are the same: the
build-up's first coat goes over everything, its third only where no section stops before, a section's own layers over that section.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any

from nublet.core.errors import BuildUpError
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import (
    MAX_COATS,
    MAX_LAYERS,
    Layer,
    Recipe,
    check_layer,
    layer_as_dict,
    layer_from_dict,
)
from nublet.core.plain import Longest


@dataclass(frozen=True, kw_only=True)
class SectionRecipe:
    """What is done to one section of every panel.

    Attributes
    ----------
    name : str
    coats : int or None
        Only so many of the build-up's coats, counted from the wood; ``None`` for all.
    layers : tuple of Layer
        On top of that, from below.
    """

    name: Annotated[str, Longest(60)]
    coats: int | None = None
    layers: tuple[Layer, ...] = ()

    @property
    def is_plain(self) -> bool:
        """Whether it carries the panel's build-up as it is."""
        return self.coats is None and not self.layers


def recipe_on_section(base: Recipe, section: SectionRecipe) -> Recipe:
    """The recipe that a section carries.

    Notes
    -----
    The build-up's final treatment is left to sections without layers of their own: what is put on top meets it as it dried.
    """
    layers: list[Layer] = []
    left = MAX_LAYERS * MAX_COATS if section.coats is None else section.coats
    for layer in base.layers:
        coats = min(layer.coats, left)
        left -= coats
        if coats:
            layers.append(layer.first(coats))
    if section.layers:
        return replace(base, layers=(*layers, *section.layers), final="none", final_product=None)
    return replace(base, layers=tuple(layers))


def sections_on(sections: Sequence[SectionRecipe], left_out: Collection[str]) -> tuple[SectionRecipe, ...]:
    """The sections of a build-up on which those named ``left_out`` are not compared: they stay as the panel is.

    They meet its tests and are read like the others, so that nobody can tell panels apart by what they lack; they do not count.
    """
    return tuple(
        SectionRecipe(name=section.name) if section.name in left_out else section for section in sections
    )


def check_section_recipe(section: SectionRecipe) -> None:
    """Refuse what nobody could carry out. Raises ``BuildUpError`` with the dotted path of the part at fault."""
    if section.coats is not None and not 1 <= section.coats <= MAX_COATS:
        raise BuildUpError(
            f"{section.name}: {section.coats} coats of the build-up cannot be. Give 1 to {MAX_COATS}, or all of them.",
            field="coats",
        )
    if len(section.layers) > MAX_LAYERS:
        raise BuildUpError(
            f"{section.name}: {len(section.layers)} layers are too many; {MAX_LAYERS} is the most.",
            field="layers",
        )
    for index, layer in enumerate(section.layers):
        check_layer(layer, index)


def section_as_dict(section: SectionRecipe) -> dict[str, Any]:
    """A section's recipe as plain lists, mappings and numbers."""
    return {
        "name": section.name,
        "coats": section.coats,
        "layers": [layer_as_dict(layer) for layer in section.layers],
    }


def section_from_dict(
    plain: Mapping[str, Any], products: Mapping[int, Product], *, is_stored: bool = False
) -> SectionRecipe:
    """Read a section's recipe and check it. ``products`` are those that it may name, by shelf number.

    Raises
    ------
    BuildUpError
        If it names a product that is not there, or nobody could carry it out.
    """
    unknown = sorted(set(plain) - {"name", "coats", "layers"})
    if unknown:
        raise BuildUpError(
            f"A section has no {unknown[0]!r}. It has a name, coats and layers.", field=unknown[0]
        )
    coats = plain.get("coats")
    if coats is not None and (isinstance(coats, bool) or not isinstance(coats, int)):
        raise BuildUpError(
            f"{coats!r} is no number of coats. Give a whole number, or none for all.", field="coats"
        )
    section = SectionRecipe(
        name=str(plain.get("name") or ""),
        coats=coats,
        layers=tuple(
            layer_from_dict(layer, products, index) for index, layer in enumerate(plain.get("layers") or ())
        ),
    )
    if not is_stored:
        check_section_recipe(section)
    return section
