"""What a table meets first."""

from __future__ import annotations

from nublet.core.protocols.shipped.building import DAY_AFTER, LIFTED
from nublet.core.protocols.spot_tests import laid_on_spot
from nublet.core.protocols.tests import Protocol, Test


def _covered_liquid(test_id: str, name: str, short_name: str, agent: str, hours: float) -> Test:
    """A soaked 25 mm paper disc under a 40 mm cover."""
    return laid_on_spot(
        test_id,
        agent,
        name=name,
        short_name=short_name,
        group="water" if agent == "water" else "stain",
        wetted_mm=40,
        lasts_min=hours * 60,
        amount="25 mm paper disc, soaked, under a 40 mm cover",
        modelled_on="EN 12720 / ISO 4211-1 in pattern",
    )


def _heat_block(
    test_id: str, name: str, short_name: str, agent: str, temperature_c: float, amount: str
) -> Test:
    """A 100 mm block left 20 minutes."""
    return laid_on_spot(
        test_id,
        agent,
        name=name,
        short_name=short_name,
        group="heat",
        wetted_mm=100,
        lasts_min=20,
        covered=False,
        temperature_c=temperature_c,
        amount=amount,
        natures={"hot"},
        occupies={"heat_block"},
        modelled_on="EN 12721 / ISO 4211-2 (wet) and EN 12722 / ISO 4211-3 (dry) in pattern",
    )


TABLE_BASICS = Protocol(
    id="table-basics",
    version=1,
    name="Table basics",
    says=(
        "Six spots that a table meets first: water, alcohol, wine, coffee, a hot wet dish and a hot "
        "dry pan. Modelled on the public furniture standards; not a certified laboratory test."
    ),
    tests=(
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
