"""Products: a finish as bought. What the label says is kept apart from what the tester found.

A field says itself what it may hold (:class:`~nublet.core.plain.Span`): wide enough for every finish, narrow enough for a
slip of the decimal point. How a product is stored, exchanged and checked is in :mod:`nublet.core.materials.product_records`.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from nublet.core.errors import ShelfError
from nublet.core.materials.families import FAMILIES, Family
from nublet.core.plain import Longest, Span

Disclosure = Literal["full", "partial", "none", "unknown"]
FoodContact = Literal["not-stated", "not-for-food", "safe-once-cured", "declared-compliant"]
Obtained = Literal["bought", "supplied-free", "own-make", "unknown"]
Sheen = Literal["", "dead-matt", "matt", "satin", "semi-gloss", "gloss"]
MeasuredBy = Literal["volume", "weight"]

DISCLOSURE_WORDS: dict[Disclosure, str] = {
    "full": "Full ingredient list",
    "partial": "Some ingredients named",
    "none": "Nothing disclosed",
    "unknown": "Not looked up",
}
FOOD_WORDS: dict[FoodContact, str] = {
    "not-stated": "Says nothing of food",
    "not-for-food": "Says: not for food",
    "safe-once-cured": "Says: safe with food once cured",
    "declared-compliant": "Declares a food-contact rule met",
}
SHEEN_WORDS: dict[Sheen, str] = {
    "dead-matt": "Dead matt",
    "matt": "Matt",
    "satin": "Satin",
    "semi-gloss": "Semi-gloss",
    "gloss": "Gloss",
}
OBTAINED_WORDS: dict[Obtained, str] = {
    "bought": "Bought",
    "supplied-free": "Supplied free: declared in the report",
    "own-make": "Made in the shop",
    "unknown": "Not said",
}


@dataclass(frozen=True, kw_only=True)
class Part:
    """A part to be mixed, such as base or hardener, and its share in the mix ratio."""

    name: Annotated[str, Longest(60)]
    share: float = 1.0


@dataclass(frozen=True, kw_only=True)
class Container:
    """What can be bought: amounts of each part, in the order of the product's parts (mL, or g by weight), and a price."""

    amounts: tuple[float, ...]
    price: float


@dataclass(frozen=True, kw_only=True)
class Label:
    """What the label says; ``None`` where it is silent.

    Times carry their unit. ``wipe_off_from_min``/``to`` is the window for wiping off after coating;
    ``recoat_from_h``/``to`` that for the next coat; ``cure_without_hardener_d`` applies when the hardener is left out.
    """

    mix_by: MeasuredBy = "volume"
    pot_life_min: Annotated[float | None, Span(0.1, 100_000, "min")] = None
    finest_grit: Annotated[float | None, Span(20, 5000, "grit")] = None
    spread_first_m2_per_l: Annotated[float | None, Span(0.1, 500, "m²/L")] = None
    spread_later_m2_per_l: Annotated[float | None, Span(0.1, 500, "m²/L")] = None
    wipe_off_from_min: Annotated[float | None, Span(0, 3000, "min")] = None
    wipe_off_to_min: Annotated[float | None, Span(0, 3000, "min")] = None
    recoat_from_h: Annotated[float | None, Span(0, 2000, "h")] = None
    recoat_to_h: Annotated[float | None, Span(0, 5000, "h")] = None
    abrade_between: Annotated[str, Longest(200)] = ""
    coats: Annotated[float | None, Span(1, 20, "coats")] = None
    touch_dry_h: Annotated[float | None, Span(0, 1000, "h")] = None
    light_use_d: Annotated[float | None, Span(0, 200, "days")] = None
    cure_d: Annotated[float | None, Span(0, 400, "days")] = None
    cure_without_hardener_d: Annotated[float | None, Span(0, 400, "days")] = None
    temperature_from_c: Annotated[float | None, Span(-20, 60, "°C")] = None
    temperature_to_c: Annotated[float | None, Span(-20, 80, "°C")] = None
    humidity_to_pct: Annotated[float | None, Span(0, 100, "%")] = None
    thin_up_to_pct: Annotated[float | None, Span(0, 100, "%")] = None
    keeps_opened_d: Annotated[float | None, Span(0, 4000, "days")] = None
    dissolves_wax: bool = False
    hazards: str = ""


@dataclass(frozen=True, kw_only=True)
class Found:
    """What the tester saw, beside what the label says."""

    smell: str = ""
    viscosity: str = ""
    drying_drop: str = ""
    touch_dry_h: Annotated[float | None, Span(0, 1000, "h")] = None
    cure_d: Annotated[float | None, Span(0, 400, "days")] = None
    spread_m2_per_l: Annotated[float | None, Span(0.1, 500, "m²/L")] = None
    note: str = ""


@dataclass(frozen=True, kw_only=True)
class Product:
    """A finish as bought.

    ``sold_by`` says whether the containers' amounts are mL or g. ``solids_pct`` is by volume, ``density_g_per_ml`` of
    the mixed product. ``tint`` is empty for a clear product. ``id`` is the shelf's number, ``None`` off the shelf.
    """

    name: Annotated[str, Longest(120)]
    family: str
    id: int | None = None
    maker: Annotated[str, Longest(120)] = ""
    parts: tuple[Part, ...] = (Part(name="Finish"),)
    sold_by: MeasuredBy = "volume"
    containers: tuple[Container, ...] = ()
    label: Label = field(default_factory=Label)
    found: Found = field(default_factory=Found)
    disclosure: Disclosure = "unknown"
    ingredients: str = ""
    food_contact: FoodContact = "not-stated"
    voc_g_per_l: Annotated[float | None, Span(0, 1500, "g/L")] = None
    solids_pct: Annotated[float | None, Span(0, 100, "%")] = None
    density_g_per_ml: Annotated[float | None, Span(0.3, 3, "g/mL")] = None
    sheen: Sheen = ""
    tint: Annotated[str, Longest(60)] = ""
    obtained: Obtained = "unknown"
    note: str = ""

    @property
    def kind(self) -> Family:
        """Its finish family."""
        return FAMILIES[self.family]

    @property
    def traits(self) -> frozenset[str]:
        """The family's traits and what the label adds: ``dissolves-wax``, ``coloured``, ``undisclosed``."""
        own = set(self.kind.traits)
        if self.label.dissolves_wax:
            own.add("dissolves-wax")
        if self.tint or self.family == "stain":
            own.add("coloured")
        if self.disclosure != "full":
            own.add("undisclosed")
        if len(self.parts) > 1:
            own.add("two-part")
        return frozenset(own)

    @property
    def density(self) -> float:
        """Density, g/mL; usual for the family where the product's is not known."""
        return self.density_g_per_ml or self.kind.usual.density_g_per_ml

    @property
    def solids(self) -> float:
        """Solids as a fraction of the volume; usual for the family where the product's is not known."""
        return (self.kind.usual.solids_pct if self.solids_pct is None else self.solids_pct) / 100

    def spread_m2_per_l(self, coat: int) -> float:
        """Spread of the ``coat``-th coat, counted from 1: the label's, or usual for the family."""
        label, usual = self.label, self.kind.usual
        if coat == 1:
            return label.spread_first_m2_per_l or usual.spread_first_m2_per_l
        return label.spread_later_m2_per_l or label.spread_first_m2_per_l or usual.spread_later_m2_per_l

    @property
    def wipe_off_min(self) -> tuple[float, float] | None:
        """Wipe-off window in minutes after coating, or ``None`` for what is never wiped off."""
        label, usual = self.label, self.kind.usual.wipe_off_min
        low, high = label.wipe_off_from_min, label.wipe_off_to_min
        if low is None and high is None:
            return usual
        return (low or 0.0, high if high is not None else max(low or 0.0, usual[1] if usual else 60.0))

    @property
    def recoat_h(self) -> tuple[float, float | None]:
        """Recoat window in hours; the second is ``None`` when it never closes."""
        low, high = self.kind.usual.recoat_h
        if self.label.recoat_from_h is not None:
            low = self.label.recoat_from_h
            high = self.label.recoat_to_h
        elif self.label.recoat_to_h is not None:
            high = self.label.recoat_to_h
        return low, high

    def cure_d(self, *, with_hardener: bool = True) -> float:
        """Days to full cure at 20 °C and 50 % RH."""
        if not with_hardener and len(self.parts) > 1:
            return self.label.cure_without_hardener_d or 3 * (self.label.cure_d or self.kind.usual.cure_d)
        return self.kind.usual.cure_d if self.label.cure_d is None else self.label.cure_d

    def price_per_l(self) -> float | None:
        """Cheapest price of a litre of ready-mixed product, from its containers; ``None`` without a price.

        Two-part products are priced at the mix ratio from single containers and at face value from kits, whichever
        is less. Larger containers may be cheaper a litre than what a trial needs; what to buy is
        :func:`nublet.core.materials.buying.choose_containers`.
        """
        shares = self.shares()
        singles: list[float | None] = [None] * len(self.parts)
        kits: list[float] = []
        for container in self.containers:
            volumes = [
                amount / (self.density if self.sold_by == "weight" else 1.0) for amount in container.amounts
            ]
            held = [index for index, volume in enumerate(volumes) if volume > 0]
            if len(held) == 1:
                rate = 1000 * container.price / volumes[held[0]]
                known = singles[held[0]]
                singles[held[0]] = rate if known is None else min(known, rate)
            if len(held) == len(self.parts):
                mixed = min(volume / share for volume, share in zip(volumes, shares, strict=True))
                kits.append(1000 * container.price / mixed)
        if all(rate is not None for rate in singles):
            kits.append(sum((rate or 0.0) * share for rate, share in zip(singles, shares, strict=True)))
        return min(kits, default=None)

    def shares(self) -> tuple[float, ...]:
        """Each part's share of the mix, summing to 1."""
        total = sum(part.share for part in self.parts)
        return tuple(part.share / total for part in self.parts)


def unnamed_product(family: str) -> Product:
    """A product known by its family alone; all its figures are usual for the family.

    Raises
    ------
    ShelfError
        If there is no such family.
    """
    if family not in FAMILIES:
        raise ShelfError(
            f"{family!r} is not a finish family. Choose one of: {', '.join(sorted(FAMILIES))}.",
            field="family",
        )
    return Product(name=FAMILIES[family].name, family=family)
