"""Which containers to buy for what is mixed and decanted in a trial, and which thinners to have at hand."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nublet.core.errors import CalculationError
from nublet.core.materials.buying import Offer, Purchase, choose_containers
from nublet.core.materials.cup import NO_PRICES, THINNER_WORDS, ThinnerPrices, thinner_carrier
from nublet.core.materials.families import Carrier
from nublet.core.materials.mixes import Cup
from nublet.core.materials.products import Product


@dataclass(frozen=True, kw_only=True)
class ProductNeed:
    """What is needed of a product: of each part, in order, in the unit that its containers are sold in (mL or g).

    ``spread_ml`` goes on the wood, waste included, and ``mixed_ml`` into the cups: what is bought follows the latter.
    ``purchase`` counts its containers in their order, and is ``None`` when it has none or they do not cover the need; then
    ``says`` tells why.
    """

    product: Product
    spread_ml: float
    mixed_ml: float
    parts: tuple[float, ...]
    purchase: Purchase | None
    says: str = ""


def shop_for(cups: Iterable[Cup]) -> list[ProductNeed]:
    """Add up what cups take and choose the cheapest containers of each product.

    Products that are known by their family alone are left out: there is nothing to buy by that name. A part is needed in its share
    of the mix; a coat without hardener takes the first part alone.
    """
    needs: dict[Product, list[float]] = {}
    spread: dict[Product, float] = {}
    for cup in cups:
        product = cup.content.product
        if product.id is None:
            continue
        mixed = len(product.parts) == 1 or cup.content.with_hardener
        shares = product.shares() if mixed else (1.0,) + (0.0,) * (len(product.parts) - 1)
        parts = needs.setdefault(product, [0.0] * len(product.parts))
        spread[product] = spread.get(product, 0.0) + cup.spread_ml
        for index, share in enumerate(shares):
            parts[index] += cup.mixed_ml * share
    return [_choose(product, parts, spread[product]) for product, parts in needs.items()]


@dataclass(frozen=True, kw_only=True)
class ThinnerNeed:
    """Thinner to have at hand: which, for how many mL, for which products, and for how much where its price is known."""

    what: str
    ml: float
    products: tuple[str, ...]
    cost: float | None


def thinners_for(cups: Iterable[Cup], prices: ThinnerPrices = NO_PRICES) -> list[ThinnerNeed]:
    """Add up the thinners that cups take, by kind; ``prices`` are money a litre. Water costs nothing."""
    ml: dict[Carrier, float] = {}
    named: dict[Carrier, dict[str, None]] = {}
    for cup in cups:
        if cup.thinner_ml:
            carrier = thinner_carrier(cup.content.product)
            ml[carrier] = ml.get(carrier, 0.0) + cup.thinner_ml
            named.setdefault(carrier, {})[cup.content.product.name] = None
    found = []
    for carrier, amount in ml.items():
        price = 0.0 if carrier == "water" else prices.get(carrier)
        found.append(
            ThinnerNeed(
                what=THINNER_WORDS[carrier],
                ml=amount,
                products=tuple(named[carrier]),
                cost=None if price is None else amount / 1000 * price,
            )
        )
    return found


def _choose(product: Product, parts_ml: Sequence[float], spread_ml: float) -> ProductNeed:
    in_sold_unit = tuple(ml * (product.density if product.sold_by == "weight" else 1.0) for ml in parts_ml)
    purchase, says = None, ""
    if not product.containers:
        says = "No containers with prices are on the shelf. Add them to the product."
    else:
        try:
            offers = [Offer(amounts=box.amounts, price=box.price) for box in product.containers]
            purchase = choose_containers(in_sold_unit, offers)
        except CalculationError as error:
            says = error.message
    return ProductNeed(
        product=product,
        spread_ml=spread_ml,
        mixed_ml=sum(parts_ml),
        parts=in_sold_unit,
        purchase=purchase,
        says=says,
    )
