"""What a trial's build-ups take of each product, and which containers to buy for it."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nublet.core.errors import CalculationError
from nublet.core.materials.buying import Offer, Purchase, choose_containers
from nublet.core.materials.coverage import recipe_needs
from nublet.core.materials.cup import THINNER_WORDS, thinner_carrier
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sheet import Work


@dataclass(frozen=True, kw_only=True)
class ProductNeed:
    """What is needed of a product: of each part, in order, in the unit that its containers are sold in (mL or g).

    ``purchase`` counts its containers in their order, and is ``None`` when it has none or they do not cover the need; then
    ``says`` tells why.
    """

    product: Product
    mixed_ml: float
    parts: tuple[float, ...]
    purchase: Purchase | None
    says: str = ""


def shop_for(recipes: Iterable[Recipe], work: Work) -> list[ProductNeed]:
    """Add up what recipes take for a piece of work and choose the cheapest containers of each product.

    Products that are known by their family alone are left out: there is nothing to buy by that name. A part is needed
    in its share of the mix; a layer without hardener takes the first part alone.
    """
    needs: dict[Product, list[float]] = {}
    for recipe in recipes:
        found = recipe_needs(recipe, work.area_m2(recipe), absorbency=work.absorbency, waste=work.waste)
        for layer, need in zip(recipe.all_layers, found, strict=True):
            product, ml = layer.product, need.total_ml
            if product.id is None:
                continue
            mixed = len(product.parts) == 1 or layer.hardener
            shares = product.shares() if mixed else (1.0,) + (0.0,) * (len(product.parts) - 1)
            parts = needs.setdefault(product, [0.0] * len(product.parts))
            for index, share in enumerate(shares):
                parts[index] += ml * share
    return [_choose(product, parts) for product, parts in needs.items()]


@dataclass(frozen=True, kw_only=True)
class ThinnerNeed:
    """Thinner to have at hand: which, for how many mL, and for which products."""

    what: str
    ml: float
    products: tuple[str, ...]


def thinners_for(recipes: Iterable[Recipe], work: Work) -> list[ThinnerNeed]:
    """Add up the thinners that recipes take for a piece of work, by kind. None is on the shelf, so none has a price."""
    ml: dict[str, float] = {}
    named: dict[str, dict[str, None]] = {}
    for recipe in recipes:
        for need in recipe_needs(recipe, work.area_m2(recipe), absorbency=work.absorbency, waste=work.waste):
            if need.total_thinner_ml:
                what = THINNER_WORDS[thinner_carrier(need.product)]
                ml[what] = ml.get(what, 0.0) + need.total_thinner_ml
                named.setdefault(what, {})[need.product.name] = None
    return [ThinnerNeed(what=what, ml=amount, products=tuple(named[what])) for what, amount in ml.items()]


def _choose(product: Product, parts_ml: Sequence[float]) -> ProductNeed:
    in_sold_unit = tuple(ml * (product.density if product.sold_by == "weight" else 1.0) for ml in parts_ml)
    if not product.containers:
        return ProductNeed(
            product=product,
            mixed_ml=sum(parts_ml),
            parts=in_sold_unit,
            purchase=None,
            says="No containers with prices are on the shelf. Add them to the product.",
        )
    offers = [Offer(amounts=box.amounts, price=box.price) for box in product.containers]
    try:
        purchase = choose_containers(in_sold_unit, offers)
    except CalculationError as error:
        return ProductNeed(
            product=product, mixed_ml=sum(parts_ml), parts=in_sold_unit, purchase=None, says=error.message
        )
    return ProductNeed(product=product, mixed_ml=sum(parts_ml), parts=in_sold_unit, purchase=purchase)
