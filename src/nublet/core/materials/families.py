"""Finish families, because their members behave alike."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Seat = Literal["in", "on", "top"]


@dataclass(frozen=True, kw_only=True)
class Family:
    """A finish family.

    ``seat`` tells where the finish ends up, and so how it is drawn: ``in`` the wood (penetrating),
    ``on`` it (film-forming), or ``top`` (a thin wax or hydrophobic coat over the rest).
    ``setting`` says how it sets, in words that follow its name.
    """

    id: str
    name: str
    seat: Seat
    setting: str


FAMILIES: dict[str, Family] = {
    family.id: family
    for family in (
        Family(id="non-drying-oil", name="Non-drying oil", seat="in", setting="never sets"),
        Family(id="pure-drying-oil", name="Pure drying oil", seat="in", setting="sets by oxidation"),
        Family(id="drying-oil-driers", name="Drying oil with driers or heat-bodied", seat="in", setting="sets by oxidation"),
        Family(id="oil-varnish-blend", name="Oil-varnish blend", seat="in", setting="sets by oxidation"),
        Family(id="hardwax-1k", name="Hardwax oil, one-part", seat="in", setting="sets by oxidation"),
        Family(id="hardwax-2k", name="Hardwax oil with hardener", seat="in", setting="sets by cross-linking"),
        Family(id="uv-oil", name="UV-cured oil", seat="in", setting="sets by ultraviolet light"),
        Family(id="wax", name="Wax", seat="top", setting="sets by evaporation"),
        Family(id="shellac-waxed", name="Shellac, waxed", seat="on", setting="sets by evaporation"),
        Family(id="shellac-dewaxed", name="Shellac, dewaxed", seat="on", setting="sets by evaporation"),
        Family(id="lacquer", name="Lacquer", seat="on", setting="sets by evaporation"),
        Family(id="oil-varnish", name="Oil-based varnish or polyurethane", seat="on", setting="sets by oxidation"),
        Family(id="waterborne-clear", name="Waterborne clear", seat="on", setting="sets by coalescence"),
        Family(id="catalysed-film", name="Two-part catalysed film", seat="on", setting="sets by cross-linking"),
        Family(id="hydrophobic-topcoat", name="Hydrophobic hard topcoat", seat="top", setting="sets by cross-linking"),
        Family(id="stain", name="Stain or colour", seat="in", setting="sets by evaporation"),
        Family(id="conditioner", name="Conditioner or sealer", seat="in", setting="sets by evaporation"),
    )
}  # fmt: skip
