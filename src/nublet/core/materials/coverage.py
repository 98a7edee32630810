"""Spread, waste and cost: litres = area × Σ(1 ÷ spread) × absorbency × (1 + waste)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.errors import CalculationError
from nublet.core.materials.cup import NO_PRICES, ThinnerPrices, earlier_coats, thinner_carrier
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Layer, Recipe
from nublet.core.quantities import amount, say

DEFAULT_WASTE = 0.15


@dataclass(frozen=True, kw_only=True)
class LayerNeed:
    """What one layer takes: mL of ready-mixed product for each coat, and what a litre of it costs, if known.

    ``thinner_ml`` is what each coat takes of thinner beside the product; together they are what is spread. Without a price of the
    thinner the cost is the product's alone.
    """

    product: Product
    coats_ml: tuple[float, ...]
    price_per_l: float | None
    thinner_ml: tuple[float, ...] = ()
    thinner_price_per_l: float | None = None

    @property
    def total_ml(self) -> float:
        """Product for all coats, mL, thinner aside."""
        return sum(self.coats_ml)

    @property
    def total_thinner_ml(self) -> float:
        """Thinner for all coats, mL."""
        return sum(self.thinner_ml)

    @property
    def cost(self) -> float | None:
        """Money for what is used, at the cheapest litre price; ``None`` without a price."""
        if self.price_per_l is None:
            return None
        thinner = self.total_thinner_ml / 1000 * (self.thinner_price_per_l or 0.0)
        return self.total_ml / 1000 * self.price_per_l + thinner


def litres_needed(
    area_m2: float,
    spreads_m2_per_l: Sequence[float],
    *,
    absorbency: float = 1.0,
    waste: float = DEFAULT_WASTE,
) -> float:
    """Litres for a number of coats.

    Parameters
    ----------
    area_m2 : float
        Coated area, m².
    spreads_m2_per_l : sequence of float
        Spread of each coat in turn, m²/L.
    absorbency : float
        Of the wood, 1 for beech.
    waste : float
        Share that stays in cup and cloth, 0.15 for 15 %.

    Raises
    ------
    CalculationError
        If a spread or the area is not above 0, or the waste is negative.

    Examples
    --------
    >>> round(litres_needed(2, [10, 20], absorbency=1, waste=0), 3)
    0.3
    """
    if not area_m2 > 0:
        raise CalculationError(
            say("The area is {}; give more than 0.", amount("square_metres", area_m2)), field="area_m2"
        )
    if not absorbency > 0:
        raise CalculationError(
            f"The absorbency is {absorbency:g}; give more than 0, 1 for beech.", field="absorbency"
        )
    if not 0 <= waste <= 10:
        raise CalculationError(f"The waste is {100 * waste:g} %; give 0 to 1000.", field="waste_pct")
    for spread in spreads_m2_per_l:
        if not spread > 0:
            raise CalculationError(
                say("A spread is {}; give more than 0.", amount("spread_m2_per_l", spread)), field="coats"
            )
    return area_m2 * sum(1 / spread for spread in spreads_m2_per_l) * absorbency * (1 + waste)


def expected_g_per_m2(product: Product, coat: int, *, absorbency: float = 1.0) -> float:
    """What the ``coat``-th coat leaves on the wood by the product's spread and density, g/m², waste aside.

    Examples
    --------
    One litre of 0.95 g/mL on 30 m² of a wood like beech is 31.7 g/m².
    """
    return (
        1000
        * litres_needed(1.0, [product.spread_m2_per_l(coat)], absorbency=absorbency, waste=0)
        * product.density
    )


def layer_need(
    layer: Layer,
    area_m2: float,
    *,
    absorbency: float,
    waste: float = DEFAULT_WASTE,
    earlier_coats: int = 0,
    thinner_prices: ThinnerPrices = NO_PRICES,
) -> LayerNeed:
    """What a layer takes on an area.

    A spread says how far a litre goes as it is spread. Of a thinned coat that litre is product and thinner: V mL that are
    thinned by t % are V / (1 + t/100) of product, the rest thinner.

    Parameters
    ----------
    layer : Layer
    area_m2, absorbency, waste : float
        As in :func:`litres_needed`.
    earlier_coats : int
        Coats of the same product beneath, which make this layer's first coat a later one.
    thinner_prices : mapping of Carrier to float
        Money a litre of each thinner, where it is known.
    """
    wet = [
        1000
        * litres_needed(
            area_m2,
            [layer.product.spread_m2_per_l(earlier_coats + coat)],
            absorbency=absorbency,
            waste=waste,
        )
        for coat in range(1, layer.coats + 1)
    ]
    shares = [1 / (1 + layer.thinned_of(coat) / 100) for coat in range(1, layer.coats + 1)]
    return LayerNeed(
        product=layer.product,
        coats_ml=tuple(ml * share for ml, share in zip(wet, shares, strict=True)),
        price_per_l=layer.product.price_per_l(),
        thinner_ml=tuple(ml * (1 - share) for ml, share in zip(wet, shares, strict=True))
        if layer.most_thinned_pct
        else (),
        thinner_price_per_l=thinner_prices.get(thinner_carrier(layer.product)),
    )


def recipe_needs(
    recipe: Recipe,
    area_m2: float,
    *,
    absorbency: float,
    waste: float = DEFAULT_WASTE,
    thinner_prices: ThinnerPrices = NO_PRICES,
) -> list[LayerNeed]:
    """What each layer takes, from the wood up; a final wax too."""
    return [
        layer_need(
            layer,
            area_m2,
            absorbency=absorbency,
            waste=waste,
            earlier_coats=earlier_coats(recipe, index),
            thinner_prices=thinner_prices,
        )
        for index, layer in enumerate(recipe.all_layers)
    ]


def cost_per_m2(
    recipe: Recipe,
    *,
    absorbency: float,
    waste: float = DEFAULT_WASTE,
    thinner_prices: ThinnerPrices = NO_PRICES,
) -> float | None:
    """Money for one square metre of one face; ``None`` when a layer's price is not known."""
    needs = recipe_needs(recipe, 1.0, absorbency=absorbency, waste=waste, thinner_prices=thinner_prices)
    costs = [need.cost for need in needs]
    return None if any(cost is None for cost in costs) else sum(cost or 0.0 for cost in costs)
