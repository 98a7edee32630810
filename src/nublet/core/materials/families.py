"""Finish families, because their members behave alike: where they sit, how they set, what hurts them, who is at risk.

The usual figures fill gaps where a product's label is silent. They are round defaults, never claims about a
product, and are always shown as "usual for the family".
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Seat = Literal["in", "on", "top"]
Sets = Literal["never", "evaporation", "oxidation", "cross-linking", "ultraviolet", "coalescence"]
Carrier = Literal["none", "spirit", "alcohol", "strong-solvent", "water"]
Repair = Literal["wipe-on", "melts-in", "sand-and-recoat", "strip"]

SEAT_WORDS: dict[Seat, str] = {
    "in": "goes into the wood",
    "on": "stands on the wood as a film",
    "top": "lies thin over the rest",
}
SETTING_WORDS: dict[Sets, str] = {
    "never": "never sets",
    "evaporation": "sets by evaporation",
    "oxidation": "sets by oxidation",
    "cross-linking": "sets by cross-linking",
    "ultraviolet": "sets by ultraviolet light",
    "coalescence": "sets by coalescence",
}
REPAIR_WORDS: dict[Repair, str] = {
    "wipe-on": "Wipe on more",
    "melts-in": "A new coat melts into the old",
    "sand-and-recoat": "Sand back and recoat",
    "strip": "Strip and begin again",
}


@dataclass(frozen=True, kw_only=True)
class Usual:
    """Round figures for a family. Spread in m²/L, times as named; ``None`` where there is nothing to wait for."""

    density_g_per_ml: float
    solids_pct: float
    spread_first_m2_per_l: float
    spread_later_m2_per_l: float
    wipe_off_min: tuple[float, float] | None
    recoat_h: tuple[float, float | None]
    cure_d: float


@dataclass(frozen=True, kw_only=True)
class Family:
    """A finish family.

    ``seat`` tells where the finish ends up, and so how it is drawn: ``in`` the wood (penetrating),
    ``on`` it (film-forming), or ``top`` (a thin wax or hydrophobic coat over the rest). ``redissolved_by``
    names what softens the set finish, empty when nothing on a bench does. ``cautions`` are ids of
    :data:`nublet.core.materials.cautions.CAUTIONS`.
    """

    id: str
    name: str
    seat: Seat
    sets: Sets
    carrier: Carrier
    redissolved_by: str
    repair: Repair
    says: str
    usual: Usual
    cautions: tuple[str, ...] = ()
    two_part: bool = False

    @property
    def setting(self) -> str:
        """How it sets, in words that follow its name."""
        return SETTING_WORDS[self.sets]

    @property
    def mending(self) -> str:
        """How it is repaired, in words."""
        return REPAIR_WORDS[self.repair]

    @property
    def traits(self) -> frozenset[str]:
        """What the compatibility rules ask about, such as ``film``, ``waterborne`` or ``drying-oil``."""
        found = {self.id, self.carrier, {"in": "penetrating", "on": "film", "top": "top"}[self.seat]}
        if self.sets == "oxidation" and self.seat == "in":
            found.add("drying-oil")
        if self.sets != "never":
            found.add("setting")
        if self.carrier == "water":
            found.add("waterborne")
        if self.id.startswith("shellac"):
            found.add("shellac")
        if self.two_part:
            found.add("two-part")
        return frozenset(found)


def _usual(
    density: float,
    solids: float,
    first: float,
    later: float,
    wipe: tuple[float, float] | None,
    recoat: tuple[float, float | None],
    cure_d: float,
) -> Usual:
    return Usual(
        density_g_per_ml=density,
        solids_pct=solids,
        spread_first_m2_per_l=first,
        spread_later_m2_per_l=later,
        wipe_off_min=wipe,
        recoat_h=recoat,
        cure_d=cure_d,
    )


_RAGS = ("oily-rags",)
_RAGS_VAPOUR = ("oily-rags", "solvent-vapour")

FAMILIES: dict[str, Family] = {
    family.id: family
    for family in (
        Family(id="non-drying-oil", name="Non-drying oil", seat="in", sets="never", carrier="none", redissolved_by="detergent and spirit", repair="wipe-on", usual=_usual(0.86, 100, 12, 20, (15, 240), (8, None), 1), cautions=("food-contact",), says="Stays wet in the wood: feeds and darkens it, washes out, and is wiped on again and again. Nothing that sets holds on it."),
        Family(id="pure-drying-oil", name="Pure drying oil", seat="in", sets="oxidation", carrier="none", redissolved_by="", repair="wipe-on", usual=_usual(0.93, 100, 10, 20, (15, 40), (12, 24), 25), cautions=(*_RAGS, "nut-oil"), says="Soaks in and hardens slowly with air; weeps back from pores for days; easily renewed."),
        Family(id="drying-oil-driers", name="Drying oil with driers or heat-bodied", seat="in", sets="oxidation", carrier="spirit", redissolved_by="", repair="wipe-on", usual=_usual(0.92, 90, 11, 20, (15, 40), (12, 36), 14), cautions=_RAGS_VAPOUR, says="A drying oil made to set in days: less weeping, the same easy renewal."),
        Family(id="oil-varnish-blend", name="Oil-varnish blend", seat="in", sets="oxidation", carrier="spirit", redissolved_by="", repair="wipe-on", usual=_usual(0.87, 45, 11, 18, (5, 20), (12, 24), 14), cautions=_RAGS_VAPOUR, says="Wiping varnish or oil with resin: soaks in first, builds a thin film with more coats."),
        Family(id="hardwax-1k", name="Hardwax oil, one-part", seat="in", sets="oxidation", carrier="spirit", redissolved_by="", repair="wipe-on", usual=_usual(0.92, 60, 20, 30, (10, 30), (8, 36), 21), cautions=_RAGS_VAPOUR, says="Oil with hard wax: sits in the top of the wood, thin, repairable in place."),
        Family(id="hardwax-2k", name="Hardwax oil with hardener", seat="in", sets="cross-linking", carrier="none", redissolved_by="", repair="wipe-on", usual=_usual(0.95, 98, 30, 50, (3, 15), (24, 72), 7), cautions=("two-part", "oily-rags"), two_part=True, says="Bonds to the first fibres that it meets; little more is taken by a second coat. Cures in a week with its hardener."),
        Family(id="uv-oil", name="UV-cured oil", seat="in", sets="ultraviolet", carrier="none", redissolved_by="", repair="wipe-on", usual=_usual(1.05, 98, 25, 35, (3, 20), (0.1, 24), 0.1), cautions=("uv-lamp",), says="Sets in seconds under its lamp and hardly at all where the light does not reach."),
        Family(id="wax", name="Wax", seat="top", sets="evaporation", carrier="spirit", redissolved_by="spirit", repair="melts-in", usual=_usual(0.85, 35, 20, 30, (10, 30), (4, None), 3), cautions=("solvent-vapour",), says="A soft sheen that heat melts and spirit lifts. Nothing but wax goes over it."),
        Family(id="shellac-waxed", name="Shellac, waxed", seat="on", sets="evaporation", carrier="alcohol", redissolved_by="alcohol", repair="melts-in", usual=_usual(0.88, 20, 12, 16, None, (0.5, None), 3), cautions=("alcohol-flame", "solvent-vapour"), says="A quick film with its natural wax, which keeps other films from holding on it."),
        Family(id="shellac-dewaxed", name="Shellac, dewaxed", seat="on", sets="evaporation", carrier="alcohol", redissolved_by="alcohol", repair="melts-in", usual=_usual(0.88, 20, 12, 16, None, (0.5, None), 3), cautions=("alcohol-flame", "solvent-vapour"), says="The go-between: holds on nearly everything, and nearly everything holds on it."),
        Family(id="lacquer", name="Lacquer", seat="on", sets="evaporation", carrier="strong-solvent", redissolved_by="ketones and lacquer thinner", repair="melts-in", usual=_usual(0.92, 25, 8, 10, None, (0.5, None), 7), cautions=("solvent-vapour",), says="A fast film whose coats melt into one; its solvents lift softer finishes beneath."),
        Family(id="oil-varnish", name="Oil-based varnish or polyurethane", seat="on", sets="oxidation", carrier="spirit", redissolved_by="", repair="sand-and-recoat", usual=_usual(0.9, 50, 12, 14, None, (12, 48), 21), cautions=_RAGS_VAPOUR, says="A tough amber film that holds by tooth: sand between coats once the window has passed."),
        Family(id="waterborne-clear", name="Waterborne clear", seat="on", sets="coalescence", carrier="water", redissolved_by="ketones", repair="sand-and-recoat", usual=_usual(1.03, 32, 10, 12, None, (2, 24), 14), cautions=(), says="A clear film from water: raises the grain, dries fast, needs weeks to reach its full strength."),
        Family(id="catalysed-film", name="Two-part catalysed film", seat="on", sets="cross-linking", carrier="strong-solvent", redissolved_by="", repair="strip", usual=_usual(0.98, 40, 8, 10, None, (1, 12), 7), cautions=("two-part", "sensitiser", "solvent-vapour"), two_part=True, says="The hardest film: nothing on a table softens it, and nothing but stripping mends it."),
        Family(id="hydrophobic-topcoat", name="Hydrophobic hard topcoat", seat="top", sets="cross-linking", carrier="spirit", redissolved_by="", repair="sand-and-recoat", usual=_usual(0.85, 15, 60, 80, (1, 5), (1, 3), 7), cautions=("two-part", "solvent-vapour"), says="A very thin hard skin that sheds water, and any later coat."),
        Family(id="stain", name="Stain or colour", seat="in", sets="evaporation", carrier="spirit", redissolved_by="its own thinner", repair="sand-and-recoat", usual=_usual(0.9, 15, 12, 18, (2, 15), (12, 72), 1), cautions=("solvent-vapour",), says="Colour, not protection: needs bare wood beneath and a finish above."),
        Family(id="conditioner", name="Conditioner or sealer", seat="in", sets="evaporation", carrier="spirit", redissolved_by="", repair="sand-and-recoat", usual=_usual(0.86, 12, 12, 16, (5, 20), (1, 12), 1), cautions=("solvent-vapour",), says="Fills the thirst of the wood, so that what follows goes on evenly and less deep."),
        Family(id="wood-wash", name="Cleaner, brightener or de-greyer", seat="in", sets="evaporation", carrier="water", redissolved_by="water", repair="wipe-on", usual=_usual(1.02, 5, 8, 10, (5, 20), (24, None), 2), cautions=("wood-wash",), says="Scrubbed in and rinsed off: takes dirt, grease or grey from old wood. The wood dries two days before anything follows."),
    )
}  # fmt: skip
