"""Wear, and its repair by the way of the build-up's own family."""

from __future__ import annotations

from nublet.core.protocols.acts import Act
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
)
from nublet.core.protocols.sites import Site
from nublet.core.protocols.tests import Test

_GLOSS = Read(response="gloss-60", by="hands", views=("along", "across"))
_AFTER = ("at-once", "24h")

SCRATCH = Test(
    id="scratch",
    name="Weighted scratch, 15 strokes",
    short_name="Scratch",
    group="wear",
    site=Site(kind="strip", length_mm=90, width_mm=20, grain="across"),
    acts=(
        Act(
            id="scratch", kind="stroke", agent="scratch", amount="a 680 g mug", how="the foot ring of the mug, pushed and pulled",
            mass_g=680, strokes=15, grain="across",
        ),
    ),
    reads=(Read(response="grade", views=BOTH, looks=_AFTER), Read(response="touch", looks=_AFTER), _GLOSS),
    looks=(JUST_BEFORE, AT_ONCE, DAY_AFTER),
    says="A mug that is moved about; the gloss is measured before and after, because a matt finish hides what a shiny one shows.",
    modelled_on="bench practice",
)  # fmt: skip
PENCIL = Test(
    id="pencil",
    name="Pencil hardness",
    short_name="Pencil",
    group="wear",
    site=Site(kind="strip", length_mm=80, width_mm=25),
    acts=(
        Act(
            id="draw", kind="stroke", agent="pencil hardness", amount="pencils 6B to 6H at 45°, 750 g", how="softest first",
            mass_g=750, strokes=14, minutes=3,
        ),
    ),
    reads=(Read(response="pencil", by="hands"),),
    looks=(AT_ONCE,),
    says="The softest pencil that scratches the film.",
    modelled_on="ISO 15184 in pattern",
)  # fmt: skip
WEAR_STRIP = Test(
    id="wear-strip",
    name="Wear strip, 200 rubs",
    short_name="Wear",
    group="wear",
    site=Site(kind="strip", length_mm=120, width_mm=40),
    acts=(
        Act(
            id="rub", kind="stroke", agent="scouring pad", amount="grey pad under 1 kg", how="there and back along the strip",
            mass_g=1000, strokes=200, minutes=4,
        ),
    ),
    reads=(Read(response="grade", views=BOTH, looks=_AFTER), _GLOSS, Read(response="change-kinds", looks=_AFTER)),
    looks=(JUST_BEFORE, AT_ONCE, DAY_AFTER),
    says="What feet and sand do: marks and the gloss that is kept.",
    modelled_on="bench practice",
)  # fmt: skip
WET_SHOE = Test(
    id="wet-shoe-1h",
    name="Wet shoe, 1 h",
    short_name="Wet shoe",
    group="wear",
    site=Site(kind="strip", length_mm=100, width_mm=60),
    acts=(
        Act(
            id="lay", kind="lay", agent="wet rubber sole", amount="a wet sole under 5 kg", covered=True, mass_g=5000, lasts_min=HOUR
        ),
        lifted(),
    ),
    reads=(*MARK, Read(response="sticks", looks=("lifted",))),
    looks=(LIFTED, DAY_AFTER),
    says="A shoe left on a wet floor: water under weight, and whether the sole sticks.",
    modelled_on="bench practice",
)  # fmt: skip
RUB_OFF = Test(
    id="rub-off",
    name="Rub-off on a white cloth, 20 rubs",
    short_name="Rub-off",
    group="wear",
    site=Site(kind="strip", length_mm=100, width_mm=30),
    acts=(
        Act(
            id="rub",
            kind="stroke",
            agent="white cloth",
            amount="dry cotton under 500 g",
            mass_g=500,
            strokes=20,
        ),
    ),
    reads=(Read(response="rub-off"), Read(response="grade", views=BOTH)),
    looks=(AT_ONCE,),
    says="What charred or coloured wood gives to clothes.",
    modelled_on="bench practice",
)

_HURT = Look(id="hurt", name="Before mending", after_min=0, after="scratch", tolerance_min=60)
_MENDED = Look(id="mended", name="When mended", after_min=0, tolerance_min=24 * HOUR)
SCRATCH_AND_MEND = Test(
    id="scratch-and-mend",
    name="Scratch and mend",
    short_name="Mend",
    group="repair",
    site=Site(kind="strip", length_mm=90, width_mm=25, grain="across"),
    acts=(
        Act(
            id="scratch", kind="stroke", agent="scratch", amount="a 680 g mug", mass_g=680, strokes=15, grain="across",
            then_min=(0, 24 * HOUR),
        ),
        Act(id="abrade", kind="abrade", how="as the family's mend wants it, grey pad or 320", then_min=(0, HOUR)),
        Act(id="mend", kind="mend", how="by the way of the build-up's own family", by_family=True),
        Act(id="cure", kind="wait", how="until the mend has cured", lasts_min=24 * HOUR, then_min=(24 * HOUR, None), by_family=True),
    ),
    reads=(
        Read(response="repair-seen", views=BOTH, looks=("mended",)),
        Read(response="grade", views=BOTH),
        Read(response="colour", by="hands", looks=("before", "mended")),
    ),
    looks=(JUST_BEFORE, _HURT, _MENDED),
    says="Damage, mend in the family's own way, and see whether anyone finds it.",
    modelled_on="bench practice",
)  # fmt: skip
SPOT_REPAIR = Test(
    id="ring-mended",
    name="Ring mended",
    short_name="Ring mended",
    group="repair",
    site=Site(kind="spot", wetted_mm=40),
    acts=(
        Act(id="lay", kind="lay", agent="repair", amount="water on a 25 mm disc under a cover", covered=True, lasts_min=16 * HOUR),
        Act(id="lift", kind="lift", how="wiped dry", then_min=(0, 24 * HOUR)),
        Act(id="abrade", kind="abrade", how="as the family's mend wants it", then_min=(0, HOUR)),
        Act(id="mend", kind="mend", how="by the way of the build-up's own family", by_family=True),
        Act(id="cure", kind="wait", how="until the mend has cured", lasts_min=24 * HOUR, then_min=(24 * HOUR, None), by_family=True),
    ),
    reads=(Read(response="repair-seen", views=BOTH, looks=("mended",)), Read(response="grade", views=BOTH), Read(response="colour", by="hands", looks=("before", "mended"))),
    looks=(JUST_BEFORE, Look(id="hurt", name="Before mending", after_min=0, after="lift", tolerance_min=60), _MENDED),
    says="A water ring, mended in place.",
    modelled_on="bench practice",
)  # fmt: skip

WEAR = (SCRATCH, PENCIL, WEAR_STRIP, WET_SHOE, RUB_OFF, SCRATCH_AND_MEND, SPOT_REPAIR)
