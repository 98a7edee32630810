"""What a table meets first."""

from __future__ import annotations

from nublet.core.protocols.agents import natures_of
from nublet.core.protocols.exposures import Exposure, Look, Protocol
from nublet.core.protocols.sites import Site

LIFTED = Look(id="lifted", name="At lifting", after_min=0)
DAY_AFTER = Look(id="24h", name="24 h", after_min=24 * 60)


def _covered_liquid(exposure_id: str, name: str, short_name: str, agent: str, hours: float) -> Exposure:
    """A soaked 25 mm paper disc under a 40 mm cover, the pattern of EN 12720 / ISO 4211-1."""
    return Exposure(
        id=exposure_id,
        name=name,
        short_name=short_name,
        agent=agent,
        natures=natures_of(agent),
        site=Site(wetted_mm=40),
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
        natures=natures_of(agent) | {"hot"},
        site=Site(wetted_mm=100),
        duration_min=20,
        covered=False,
        temperature_c=temperature_c,
        amount=amount,
        occupies=frozenset({"heat_block"}),
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
