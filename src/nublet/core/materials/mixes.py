"""What is mixed or decanted for the coats: over build-ups and passes, within its pot life, as the shop can measure it.

Two coats share a mix when the same is in the cup: product, thinning, with or without hardener. What a mix comes to is what is
spread from it or, when that is more, the least that the shop's measure can portion out; what is bought follows what is mixed.
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import Literal

from nublet.core.errors import CalculationError
from nublet.core.materials.coverage import DEFAULT_WASTE
from nublet.core.materials.cup import THINNER_WORDS, ThinnerPrices, thinner_carrier
from nublet.core.materials.hands_on import hands_on_per_panel
from nublet.core.materials.mixing import WORKING_SHARE, mix_by_parts, plan_batches, smallest_mix
from nublet.core.materials.panel_coats import PanelCoat, coat_ml, panel_coats
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Layer, Recipe
from nublet.core.materials.species import Species

# A mix whose label gives no pot life is used within a working day.
_UNSAID_POT_LIFE_MIN = 480.0


@dataclass(frozen=True, kw_only=True)
class Measures:
    """The smallest steps of what a shop measures with: a syringe or cup in mL, a scale in g."""

    cup_step_ml: float = 0.5
    scale_step_g: float = 0.1


@dataclass(frozen=True, kw_only=True)
class Work:
    """What a build-up is put on: panels, the area coated on one face of each, the woods, and the shop's measures and prices."""

    n_panels: int
    face_m2: float
    woods: Sequence[Species] = ()
    waste: float = DEFAULT_WASTE
    measures: Measures = Measures()
    thinner_prices: ThinnerPrices = field(default_factory=dict)

    def area_m2(self, recipe: Recipe) -> float:
        """Coated area altogether."""
        return self.n_panels * self.face_m2 * (2 if recipe.faces == "both" else 1)

    @property
    def absorbency(self) -> float:
        """Mean over the woods, 1 when none is chosen."""
        return sum(wood.absorbency for wood in self.woods) / len(self.woods) if self.woods else 1.0


@dataclass(frozen=True, kw_only=True)
class Amount:
    """So much of something: mL, or g where the label's mix ratio is by weight."""

    what: str
    amount: float
    quantity: Literal["millilitres", "grams"] = "millilitres"


@dataclass(frozen=True, kw_only=True)
class Content:
    """What is in a cup."""

    product: Product
    thinned_pct: float = 0.0
    with_hardener: bool = True

    @property
    def is_mixed(self) -> bool:
        """Whether parts are mixed, and a pot life counts; otherwise it is decanted."""
        return len(self.product.parts) > 1 and self.with_hardener

    @property
    def key(self) -> str:
        """The same for two coats that can be put on from one cup."""
        hardened = "mixed" if self.is_mixed else "bare"
        return f"{self.product.id or self.product.name}/{self.thinned_pct:g}/{hardened}"

    @property
    def thinner(self) -> str:
        """Which thinner, in the maker's absence by what the product is carried by."""
        return THINNER_WORDS[thinner_carrier(self.product)]


def content_of(layer: Layer) -> Content:
    """What a layer's coats are put on from."""
    return Content(product=layer.product, thinned_pct=layer.thinned_pct, with_hardener=layer.hardener)


@dataclass(frozen=True, kw_only=True)
class Use:
    """One pass that is put on from a cup: mL of product, thinner apart, and when it begins and ends, minutes from any moment."""

    id: Hashable
    content: Content
    ml: float
    begins_min: float
    ends_min: float


@dataclass(frozen=True, kw_only=True)
class Cup:
    """One mix, or what is decanted at once, for the passes in ``uses``.

    ``spread_ml`` is the product that the passes take, waste included; ``mixed_ml`` what is measured out, never less; ``thinner_ml``
    comes on top. ``amounts`` are the parts and the thinner as the shop measures them.
    """

    content: Content
    uses: tuple[Hashable, ...]
    spread_ml: float
    mixed_ml: float
    thinner_ml: float
    amounts: tuple[Amount, ...]


def fill_cup(content: Content, spread_ml: float, measures: Measures, uses: tuple[Hashable, ...] = ()) -> Cup:
    """Measure out at least so much product, in whole steps of the measure, and its thinner.

    A mix is never less than :func:`~nublet.core.materials.mixing.smallest_mix`: below that a part would be off its share.
    """
    if content.is_mixed:
        measure = measure_of(content.product, measures)
        shares = content.product.shares()
        total = max(spread_ml * measure.per_ml, smallest_mix(shares, resolution=measure.step))
        mixed = mix_by_parts(shares, total, resolution=measure.step)
        mixed_ml = mixed.total / measure.per_ml
        parts = zip(content.product.parts, mixed.amounts, strict=True)
        amounts = [Amount(what=part.name, amount=a, quantity=measure.quantity) for part, a in parts]
    else:
        step = measures.cup_step_ml
        mixed_ml = max(1, math.ceil(spread_ml / step - 1e-9)) * step
        amounts = [Amount(what=content.product.name, amount=mixed_ml)]
    thinner_ml = mixed_ml * content.thinned_pct / 100
    if thinner_ml:
        amounts.append(Amount(what=f"Thinner: {content.thinner}", amount=round(thinner_ml, 1)))
    return Cup(
        content=content,
        uses=uses,
        spread_ml=spread_ml,
        mixed_ml=mixed_ml,
        thinner_ml=thinner_ml,
        amounts=tuple(amounts),
    )


def share_cups(uses: Iterable[Use], measures: Measures) -> list[Cup]:
    """The fewest cups for passes that are planned: each mix serves what ends within its working life.

    Passes with the same content are taken in the order of their beginning, and a new mix is made for the first that the one before
    does not last for; no way needs fewer. What is decanted has no pot life and is decanted for each pass.

    Parameters
    ----------
    uses : iterable of Use
    measures : Measures

    Examples
    --------
    See ``tests/core/test_mixes.py``.
    """
    by_content: dict[Content, list[Use]] = {}
    for use in sorted(uses, key=lambda use: (use.begins_min, use.ends_min)):
        by_content.setdefault(use.content, []).append(use)
    groups: list[list[Use]] = []
    for content, found in by_content.items():
        life_min = WORKING_SHARE * (content.product.label.pot_life_min or _UNSAID_POT_LIFE_MIN)
        run: list[Use] = []
        for use in found:
            if run and (not content.is_mixed or use.ends_min > run[0].begins_min + life_min):
                groups.append(run)
                run = []
            run.append(use)
        groups.append(run)
    groups.sort(key=lambda run: run[0].begins_min)
    return [
        fill_cup(run[0].content, sum(use.ml for use in run), measures, tuple(use.id for use in run))
        for run in groups
    ]


def reckon_cups(recipes: Iterable[Recipe], work: Work) -> list[Cup]:
    """The cups that recipes take while there is no plan of the days.

    As if each of the build-ups' n-th coats of one content were put on one after the other by one pair of hands, in as many mixes
    as the pot life asks for.
    """
    return reckon_cups_of([(recipe, panel_coats(recipe)) for recipe in recipes], work)


def reckon_cups_of(coated: Iterable[tuple[Recipe, Sequence[PanelCoat]]], work: Work) -> list[Cup]:
    """The cups of :func:`reckon_cups` where panels have sections: of recipes with their panels' coats."""
    ml: dict[tuple[Content, int], float] = {}
    minutes: dict[tuple[Content, int], float] = {}
    n_panels: dict[tuple[Content, int], int] = {}
    for recipe, coats in coated:
        area_m2 = work.area_m2(recipe)
        for nth, coat in enumerate(coats, start=1):
            key = content_of(coat.alone), nth
            takes = coat_ml(coat, area_m2, absorbency=work.absorbency, waste=work.waste)
            ml[key] = ml.get(key, 0.0) + takes
            n_panels[key] = n_panels.get(key, 0) + work.n_panels
            each = hands_on_per_panel(coat.of, coat.share * area_m2 / work.n_panels)
            minutes[key] = minutes.get(key, 0.0) + each * work.n_panels
    cups = []
    for (content, nth), total_ml in ml.items():
        for share in _batch_shares(content, n_panels[content, nth], minutes[content, nth]):
            cups.append(fill_cup(content, total_ml * share, work.measures))
    return cups


def _batch_shares(content: Content, n_panels: int, minutes: float) -> list[float]:
    """What share of a coat is put on from each of its mixes."""
    if not content.is_mixed:
        return [1.0]
    try:
        batches = plan_batches(
            n_panels,
            ml_per_panel=1.0,
            minutes_per_panel=minutes / n_panels,
            pot_life_min=content.product.label.pot_life_min or _UNSAID_POT_LIFE_MIN,
        )
    except CalculationError:
        # Not even one panel is done within the pot life: a mix for each is the least there can be.
        return [1 / n_panels] * n_panels
    return [batch.panels / n_panels for batch in batches]


@dataclass(frozen=True, kw_only=True)
class Measure:
    """What a mix is measured with, and how much of its unit a millilitre of the mix is."""

    name: str
    quantity: Literal["millilitres", "grams"]
    step: float
    per_ml: float


def measure_of(product: Product, measures: Measures) -> Measure:
    """A scale where the label's ratio is by weight, else a syringe."""
    if product.label.mix_by == "weight":
        return Measure(name="scale", quantity="grams", step=measures.scale_step_g, per_ml=product.density)
    return Measure(name="syringe", quantity="millilitres", step=measures.cup_step_ml, per_ml=1.0)
