"""Heat: blocks dry and wet, a mug, an iron. The block's real temperature at contact is logged."""

from __future__ import annotations

from nublet.core.protocols.acts import Act
from nublet.core.protocols.agents import AGENTS, Nature
from nublet.core.protocols.shipped.building import MARK, degrees, lifted, span_words
from nublet.core.protocols.sites import Site
from nublet.core.protocols.tests import Test

_HOT: frozenset[Nature] = frozenset({"hot"})


def dry_block(temperature_c: float) -> Test:
    """A 100 mm block at a temperature, left 20 min."""
    return _block(
        "dry-heat",
        "Dry heat",
        "hot block",
        temperature_c,
        "100 mm block, dry",
        "EN 12722 / ISO 4211-3 in pattern",
    )


def wet_block(temperature_c: float) -> Test:
    """The same on a damp cloth."""
    return _block(
        "wet-heat", "Wet heat", "hot block on a damp cloth", temperature_c, "100 mm block on a damp cloth with 2 mL water",
        "EN 12721 / ISO 4211-2 in pattern",
    )  # fmt: skip


def _block(kind: str, name: str, agent: str, temperature_c: float, amount: str, pattern: str) -> Test:
    return Test(
        id=f"{kind}-{temperature_c:g}",
        name=f"{name} {degrees(temperature_c)}, 20 min",
        short_name=f"{name} {temperature_c:g}°",
        group="heat",
        site=Site(kind="spot", wetted_mm=100),
        acts=(
            Act(
                id="lay", kind="lay", agent=agent, amount=amount, temperature_c=temperature_c, lasts_min=20, natures=_HOT,
                occupies=frozenset({"heat_block"}),
            ),
            lifted(),
        ),
        reads=MARK,
        says=f"A block at {degrees(temperature_c)} at contact, left to cool for 20 min.",
        modelled_on=pattern,
    )  # fmt: skip


HOT_MUG = Test(
    id="hot-mug",
    name="Hot mug with a wet foot, 15 min",
    short_name="Hot mug",
    group="heat",
    site=Site(kind="spot", wetted_mm=80),
    acts=(
        Act(
            id="lay", kind="lay", agent="hot mug with a wet foot", amount="a mug filled at 85 °C", temperature_c=85, lasts_min=15,
            natures=_HOT,
        ),
        lifted(),
    ),
    reads=MARK,
    says="What a table meets every morning.",
    modelled_on="bench practice",
)  # fmt: skip


def iron(temperature_c: float, minutes: float = AGENTS["brief-iron"].durations_min[0]) -> Test:
    """An iron pressed on for some seconds."""
    return Test(
        id=f"iron-{temperature_c:g}",
        name=f"Iron {degrees(temperature_c)}, {span_words(minutes)}",
        short_name=f"Iron {temperature_c:g}°",
        group="heat",
        site=Site(kind="strip", length_mm=40, width_mm=90),
        acts=(
            Act(
                id="press", kind="press", agent="brief iron", amount="sole flat, its own weight", temperature_c=temperature_c,
                lasts_min=minutes, natures=_HOT, occupies=frozenset({"iron"}),
            ),
            Act(id="lift", kind="lift", how="lifted straight up"),
        ),
        reads=MARK,
        says=f"An iron at {degrees(temperature_c)} for {span_words(minutes)}: a brief high heat.",
        modelled_on="bench practice",
    )  # fmt: skip


HEAT = (
    *(dry_block(temperature) for temperature in AGENTS["dry-block"].temperatures_c),
    *(wet_block(temperature) for temperature in AGENTS["wet-block"].temperatures_c),
    HOT_MUG,
    *(iron(temperature) for temperature in AGENTS["brief-iron"].temperatures_c),
)
