"""Agents, exposures, looks and the protocols that ship."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from nublet.core.protocols.agents import Nature, natures_of

ExposureKind = Literal["liquid", "heat"]


@dataclass(frozen=True, kw_only=True)
class Exposure:
    """One agent put on one spot.

    Attributes
    ----------
    id, name, short_name : str
        Stable key, full name, and a label short enough for a spot on the drawing.
    agent : str
        What touches the wood.
    kind : "liquid" or "heat"
        Hot blocks are kept apart from liquids on the panel.
    wetted_mm : float
        Diameter of the touched ring, mm: the cover's for liquids, the block's for heat.
    duration_min : float
        Contact time, minutes.
    covered : bool
        Whether a cover keeps the liquid from drying out.
    temperature_c : float or None
        Temperature at contact, °C, where it is part of the test.
    amount : str
        How much, in bench words.
    """

    id: str
    name: str
    short_name: str
    agent: str
    kind: ExposureKind
    wetted_mm: float
    duration_min: float
    covered: bool = True
    temperature_c: float | None = None
    amount: str = ""

    @property
    def natures(self) -> frozenset[Nature]:
        """What it must be kept from; a heat exposure is hot whatever its agent is called."""
        return natures_of(self.agent) | ({"hot"} if self.kind == "heat" else frozenset())


@dataclass(frozen=True, kw_only=True)
class Look:
    """One reading occasion, ``after_min`` minutes after the spot was lifted and wiped."""

    id: str
    name: str
    after_min: float


@dataclass(frozen=True, kw_only=True)
class Protocol:
    """A named, versioned list of exposures with the looks at which each is graded."""

    id: str
    version: int
    name: str
    says: str
    exposures: tuple[Exposure, ...]
    looks: tuple[Look, ...]

    def exposure(self, exposure_id: str) -> Exposure:
        """Return the exposure with this id. Raises ``KeyError`` when the protocol has none."""
        for exposure in self.exposures:
            if exposure.id == exposure_id:
                return exposure
        raise KeyError(exposure_id)

    def look(self, look_id: str) -> Look:
        """Return the look with this id. Raises ``KeyError`` when the protocol has none."""
        for look in self.looks:
            if look.id == look_id:
                return look
        raise KeyError(look_id)


LIFTED = Look(id="lifted", name="At lifting", after_min=0)
DAY_AFTER = Look(id="24h", name="24 h", after_min=24 * 60)


def _covered_liquid(exposure_id: str, name: str, short_name: str, agent: str, hours: float) -> Exposure:
    """A soaked 25 mm paper disc under a 40 mm cover, the pattern of EN 12720 / ISO 4211-1."""
    return Exposure(
        id=exposure_id,
        name=name,
        short_name=short_name,
        agent=agent,
        kind="liquid",
        wetted_mm=40,
        duration_min=hours * 60,
        amount="25 mm paper disc, soaked, under a 40 mm cover",
    )


def _heat_block(
    exposure_id: str, name: str, short_name: str, agent: str, temperature_c: float, amount: str
) -> Exposure:
    """A 100 mm block left 20 minutes: EN 12721 (wet) and EN 12722 (dry) in pattern."""
    return Exposure(
        id=exposure_id,
        name=name,
        short_name=short_name,
        agent=agent,
        kind="heat",
        wetted_mm=100,
        duration_min=20,
        covered=False,
        temperature_c=temperature_c,
        amount=amount,
    )


TABLE_BASICS = Protocol(
    id="table-basics",
    version=1,
    name="Table basics",
    says=(
        "Six spots that a table meets first: water, alcohol, wine, coffee, a hot wet dish and a hot "
        "dry pan. Modelled on the public furniture standards; not a certified laboratory test."
    ),
    exposures=(
        _covered_liquid("water-6h", "Water, covered 6 h", "Water 6 h", "water", 6),
        _covered_liquid("ethanol-1h", "Ethanol 48 %, covered 1 h", "Ethanol 1 h", "ethanol 48 %", 1),
        _covered_liquid("wine-1h", "Red wine, covered 1 h", "Wine 1 h", "red wine", 1),
        _covered_liquid("coffee-1h", "Coffee, covered 1 h", "Coffee 1 h", "coffee", 1),
        _heat_block(
            "wet-heat-70", "Wet heat 70 °C, 20 min", "Wet heat 70°", "hot block on a damp cloth", 70,
            "100 mm block on a damp cloth with 2 mL water",
        ),
        _heat_block(
            "dry-heat-100", "Dry heat 100 °C, 20 min", "Dry heat 100°", "hot block", 100,
            "100 mm block, dry",
        ),
    ),
    looks=(LIFTED, DAY_AFTER),
)  # fmt: skip

PROTOCOLS: dict[str, Protocol] = {TABLE_BASICS.id: TABLE_BASICS}
