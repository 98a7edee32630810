"""What is in the cup: the product, its thinner, and whether it gives off vapour. Judged by that, not by the family."""

from __future__ import annotations

from collections.abc import Mapping

from nublet.core.materials.families import Carrier
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Layer, Recipe

SOLVENTS: frozenset[Carrier] = frozenset({"spirit", "alcohol", "strong-solvent"})
# A label that states more than this carries solvent, whatever the family usually does.
MUCH_VOC_G_PER_L = 50.0
THINNER_WORDS: dict[Carrier, str] = {
    "none": "white spirit or as the label says",
    "spirit": "white spirit or as the label says",
    "alcohol": "alcohol",
    "strong-solvent": "the maker's thinner",
    "water": "water",
}

ThinnerPrices = Mapping[Carrier, float]
NO_PRICES: ThinnerPrices = {}


def thinner_carrier(product: Product) -> Carrier:
    """What a product is thinned with; an oil without solvent of its own takes spirit."""
    carrier = product.kind.carrier
    return "spirit" if carrier == "none" else carrier


def solvents_in_cup(layer: Layer) -> frozenset[Carrier]:
    """The solvents that a coat gives off: the product's own, what its label states, and its thinner."""
    product = layer.product
    found = {product.kind.carrier} & SOLVENTS
    if product.kind.carrier == "none" and (product.voc_g_per_l or 0.0) > MUCH_VOC_G_PER_L:
        found.add("spirit")
    if layer.most_thinned_pct > 0:
        found |= {thinner_carrier(product)} & SOLVENTS
    return frozenset(found)


def is_solvent_open(layer: Layer) -> bool:
    """Whether a coat fills the air with vapour that a hot block could set alight."""
    return bool(solvents_in_cup(layer))


def earlier_coats(recipe: Recipe, layer: int) -> int:
    """Coats of the same product that lie beneath a layer: its own first coat is then a later one.

    What was sanded back to bare wood in between does not count.

    Parameters
    ----------
    recipe : Recipe
    layer : int
        From the wood up, from 0.
    """
    layers = recipe.all_layers
    count = 0
    product = layers[layer].product
    for index in range(layer, -1, -1):
        if index < layer and layers[index].product == product:
            count += layers[index].coats
        if layers[index].to_wood:
            break
    return count
