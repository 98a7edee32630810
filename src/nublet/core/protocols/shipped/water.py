"""Water: standing, soaking, wiping, boiling."""

from __future__ import annotations

from nublet.core.protocols.acts import Act
from nublet.core.protocols.agents import AGENTS
from nublet.core.protocols.looks import Look, Read
from nublet.core.protocols.shipped.building import (
    AT_ONCE,
    BOTH,
    DAY_AFTER,
    HOUR,
    JUST_BEFORE,
    LIFTED,
    MARK,
    lifted,
    span_id,
    span_words,
)
from nublet.core.protocols.shipped.stains import stain
from nublet.core.protocols.sites import Site
from nublet.core.protocols.tests import Test

_BLOT = "blotted, not rubbed"
FELT = Read(response="touch")


def wet_glass(hours: float) -> Test:
    """A chilled glass with a wet foot, left standing."""
    return Test(
        id=f"wet-glass-{hours:g}h",
        name=f"Chilled wet glass, {hours:g} h",
        short_name=f"Wet glass {hours:g} h",
        group="water",
        site=Site(kind="spot", wetted_mm=70),
        acts=(
            Act(
                id="lay", kind="lay", agent="chilled wet glass", amount="ice water 250 mL, wetted foot",
                temperature_c=2, lasts_min=hours * HOUR,
            ),
            lifted(),
        ),
        reads=MARK,
        says="A cold glass that sweats: a ring of water that is fed from above for as long as it stands.",
        modelled_on="bench practice",
    )  # fmt: skip


BEAD = Test(
    id="bead",
    name="Water bead",
    short_name="Bead",
    group="water",
    site=Site(kind="spot", wetted_mm=20),
    acts=(
        Act(
            id="drop", kind="drop", agent="water bead", amount="50 µL from a pipette, at 20 °C", lasts_min=20
        ),
        Act(id="lift", kind="lift", how=_BLOT),
    ),
    reads=(
        Read(response="bead", looks=("laid", "lifted")),
        Read(response="soak-in", by="hands", looks=("lifted",)),
    ),
    looks=(Look(id="laid", name="As laid", after_min=0, after="drop"), LIFTED),
    says="How a drop stands, and how long it takes to soak in; longer than 20 min is said so.",
    modelled_on="bench practice",
)
UPTAKE = Test(
    id="uptake",
    name="Water uptake ring, 1 h and 24 h",
    short_name="Uptake",
    group="water",
    site=Site(kind="spot", wetted_mm=60),
    acts=(
        Act(id="fill", kind="lay", agent="water uptake ring", amount="ring filled 10 mm deep", covered=True, lasts_min=HOUR),
        Act(id="blot-1h", kind="lift", how=_BLOT),
        Act(
            id="fill-again", kind="lay", agent="water uptake ring", amount="ring filled 10 mm deep", covered=True,
            lasts_min=23 * HOUR,
        ),
        Act(id="blot-24h", kind="lift", how=_BLOT),
    ),
    reads=(Read(response="weight", by="hands"),),
    looks=(
        JUST_BEFORE,
        Look(id="wet-1h", name="After 1 h of water", after_min=0, after="blot-1h", tolerance_min=5),
        Look(id="wet-24h", name="After 24 h of water", after_min=0, after="blot-24h", tolerance_min=10),
    ),
    says="The panel is weighed before, after 1 h and after 24 h of water in a ring: grams taken up a square metre.",
    modelled_on="ISO 535 in idea: ring and weigh",
)  # fmt: skip


def damp_cycles(n: int) -> Test:
    """A damp cloth wiped over and dried, many times."""
    return Test(
        id=f"damp-{n}",
        name=f"Damp cloth, {n} times",
        short_name=f"Damp {n}×",
        group="water",
        site=Site(kind="panel"),
        acts=(
            Act(
                id="wipe", kind="cycle", agent="damp cloth", amount="wrung out, one wipe over the face", cycles=n, wet_min=0.5,
                dry_min=10, lasts_min=10,
            ),
        ),
        reads=(Read(response="grade", views=BOTH, looks=("at-once", "24h")), FELT, Read(response="change-kinds", looks=("at-once", "24h"))),
        looks=(JUST_BEFORE, AT_ONCE, DAY_AFTER),
        says="Each wiping raises what fibres the finish does not hold; the face is used up by it.",
        modelled_on="bench practice",
    )  # fmt: skip


def end_stand(minutes: float) -> Test:
    """The end-grain piece stood in water."""
    return Test(
        id=f"end-stand-{span_id(minutes)}",
        name=f"End grain stood in water, {span_words(minutes)}",
        short_name=f"End {span_words(minutes)}",
        group="water",
        site=Site(kind="end"),
        acts=(
            Act(
                id="stand", kind="stand", agent="edge or end-grain stand", amount="5 mm of water in a tray", lasts_min=minutes,
                occupies=frozenset({"tray"}),
            ),
            Act(id="lift", kind="lift", how=_BLOT),
        ),
        reads=(Read(response="grade", views=BOTH, looks=("lifted", "24h")), Read(response="touch", looks=("24h",)), Read(response="change-kinds", looks=("lifted", "24h"))),
        looks=(LIFTED, DAY_AFTER),
        says="End grain drinks most: how far water climbs, and what it leaves.",
        modelled_on="bench practice",
    )  # fmt: skip


BOIL = Test(
    id="boil",
    name="Boil, half-immersed",
    short_name="Boil",
    group="water",
    site=Site(kind="part", share=0.5),
    acts=(
        Act(
            id="boil", kind="immerse", agent="boiling water", amount="lower half in boiling water", temperature_c=100, lasts_min=5,
            natures=frozenset({"hot"}), occupies=frozenset({"tray"}),
        ),
        Act(id="lift", kind="lift", how="shaken off, stood on edge"),
        Act(id="dry", kind="wait", how="overnight at the bench", lasts_min=720, then_min=(600, 1080)),
    ),
    reads=(Read(response="grade", views=BOTH), FELT, Read(response="change-kinds")),
    looks=(Look(id="dry", name="When dry", after_min=0, tolerance_min=240),),
    says="What a spoon meets in soup. The dry half is the piece's own reference.",
    modelled_on="bench practice",
)  # fmt: skip

WATER = (
    *(wet_glass(hours) for hours in (1, 4)),
    *(stain("water-spot", minutes) for minutes in AGENTS["water-spot"].durations_min),
    BEAD,
    UPTAKE,
    *(damp_cycles(n) for n in (25, 100)),
    *(end_stand(minutes) for minutes in AGENTS["edge-stand"].durations_min),
    BOIL,
)
