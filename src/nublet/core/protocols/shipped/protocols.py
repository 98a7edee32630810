"""The ready protocols: what a trial's own may be begun from."""

from __future__ import annotations

from nublet.core.protocols.acts import Act
from nublet.core.protocols.looks import Read
from nublet.core.protocols.shipped.building import DAY_AFTER, LIFTED, USUAL_LOOKS
from nublet.core.protocols.shipped.heat import HOT_MUG, dry_block, iron, wet_block
from nublet.core.protocols.shipped.looking import (
    COLOUR_OF_FINISH,
    DRYING_DROP,
    DRYING_FILM,
    FAULTS,
    FEEL,
    LIGHT,
    PREFERENCE,
    SHEEN,
    WEEP_BACK,
    WENT_ON,
    outdoors,
)
from nublet.core.protocols.shipped.stains import stain
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.core.protocols.shipped.water import BEAD, BOIL, UPTAKE, damp_cycles, end_stand, wet_glass
from nublet.core.protocols.shipped.wear import (
    PENCIL,
    RUB_OFF,
    SCRATCH,
    SCRATCH_AND_MEND,
    SPOT_REPAIR,
    WEAR_STRIP,
    WET_SHOE,
)
from nublet.core.protocols.sites import Site
from nublet.core.protocols.tests import AfterFail, Ladder, Protocol, Test

_NOT_CERTIFIED = "Modelled on public standards; not a certified laboratory test."


def _protocol(
    protocol_id: str,
    name: str,
    says: str,
    *tests: Test,
    ladders: tuple[Ladder, ...] = (),
    look_20: bool = False,
) -> Protocol:
    looks = USUAL_LOOKS if look_20 else (LIFTED, DAY_AFTER)
    needs = any(not test.looks for test in tests)
    return Protocol(
        id=protocol_id,
        version=1,
        name=name,
        says=says,
        tests=tests,
        looks=looks if needs else (),
        ladders=ladders,
    )


def _ladder(ladder_id: str, name: str, *tests: Test, after_fail: AfterFail = "go-on") -> Ladder:
    return Ladder(id=ladder_id, name=name, tests=tuple(test.id for test in tests), after_fail=after_fail)


_WATER = tuple(stain("water-spot", minutes) for minutes in (60, 360, 960))
_WINE = tuple(stain("red-wine", minutes) for minutes in (10, 60, 360))
_COFFEE = tuple(stain("coffee", minutes) for minutes in (60, 360))
_ETHANOL = tuple(stain("ethanol-48", minutes) for minutes in (10, 60))
_WET_HEAT = tuple(wet_block(temperature) for temperature in (55, 70, 85))
_DRY_HEAT = tuple(dry_block(temperature) for temperature in (85, 100, 120))

TABLE_FULL = _protocol(
    "table-full", "Table, full", f"Water, wine, coffee, spirit and heat as ladders, with oil, mustard, a mug and repair. {_NOT_CERTIFIED}",
    *_WATER, *_WINE, *_COFFEE, *_ETHANOL, stain("olive-oil", 360), stain("mustard", 60), *_WET_HEAT, *_DRY_HEAT, HOT_MUG, SCRATCH,
    SPOT_REPAIR,
    ladders=(
        _ladder("water", "Water", *_WATER), _ladder("wine", "Red wine", *_WINE), _ladder("coffee", "Coffee", *_COFFEE),
        _ladder("ethanol", "Ethanol 48 %", *_ETHANOL), _ladder("wet-heat", "Wet heat", *_WET_HEAT, after_fail="confirm"),
        _ladder("dry-heat", "Dry heat", *_DRY_HEAT, after_fail="confirm"),
    ),
    look_20=True,
)  # fmt: skip
_GLASSES = tuple(wet_glass(hours) for hours in (1, 4))
_SPIRITS = tuple(stain("spirits-40", minutes) for minutes in (10, 60, 120))
_STRONG = tuple(stain("ethanol-48", minutes) for minutes in (2, 10, 60))
SPIRITS_AND_GLASSES = _protocol(
    "spirits-and-wet-glasses", "Spirits and wet glasses", "What a bar top meets: cold wet glasses, spirits and wine.",
    *_GLASSES, *_SPIRITS, *_STRONG, stain("red-wine", 60), stain("hand-sanitiser", 10), stain("water-spot", 960),
    ladders=(
        _ladder("glass", "Wet glass", *_GLASSES), _ladder("spirits", "Spirits 40 %", *_SPIRITS),
        _ladder("ethanol", "Ethanol 48 %", *_STRONG),
    ),
    look_20=True,
)  # fmt: skip
_KITCHEN_WATER = tuple(stain("water-spot", minutes) for minutes in (360, 960, 1440))
_PAN = tuple(dry_block(temperature) for temperature in (100, 120, 140, 160, 180))
KITCHEN = _protocol(
    "kitchen-worktop", "Kitchen worktop", "Water, oil, acid, strong colours, washing and cleaning, and a hot pan.",
    *_KITCHEN_WATER, stain("olive-oil", 60), stain("vinegar", 60), stain("citric-acid", 60), stain("beetroot", 60),
    stain("turmeric", 60), stain("tomato-sauce", 60), stain("soy-sauce", 60), stain("coffee", 60), stain("washing-up", 60),
    stain("bleach", 10), stain("milk", 360), *_PAN, SPOT_REPAIR,
    ladders=(_ladder("water", "Water", *_KITCHEN_WATER), _ladder("dry-heat", "Dry heat", *_PAN, after_fail="confirm")),
)  # fmt: skip

REAPPLICATION = Test(
    id="reapplication", name="Coated once more, worn face", short_name="Reapplied", group="repair", site=Site(kind="strip", length_mm=100, width_mm=40),
    acts=(
        Act(id="rub", kind="stroke", agent="scouring pad", amount="grey pad, by hand", strokes=50, minutes=2, then_min=(0, 1440)),
        Act(id="mend", kind="mend", how="one more coat by the way of the build-up's own family", by_family=True),
        Act(id="cure", kind="wait", how="until it has cured", lasts_min=1440, then_min=(1440, None), by_family=True),
    ),
    reads=(Read(response="repair-seen", looks=("mended",)), Read(response="looks", looks=("mended",))),
    looks=tuple(look for look in SCRATCH_AND_MEND.looks if look.id == "mended"),
    says="What a board gets every few months: rubbed and coated once more.", modelled_on="bench practice",
)  # fmt: skip
BOARD = _protocol(
    "board-and-utensils", "Board and utensils",
    "What is washed and boiled: a boil with a dry half, water uptake, damp cycles, drying on glass, feel, and coating once more.",
    BOIL, UPTAKE, damp_cycles(25), DRYING_DROP, DRYING_FILM, FEEL, REAPPLICATION, stain("beetroot", 60), stain("vinegar", 60),
)  # fmt: skip
FLOOR = _protocol(
    "floor", "Floor", "Feet, sand, wet shoes, and mending in place.",
    SCRATCH, WEAR_STRIP, WET_SHOE, stain("water-spot", 60), SCRATCH_AND_MEND,
)  # fmt: skip
DESK = _protocol(
    "desk-and-shelf", "Desk and shelf", "Ink, a mug, hand sanitiser; how it looks, and which is preferred.",
    stain("ballpoint", 120, covered=False), stain("marker", 120, covered=False), HOT_MUG, stain("coffee", 60), stain("water-spot", 10),
    stain("hand-sanitiser", 10), SCRATCH, SHEEN, FAULTS, PREFERENCE,
)  # fmt: skip
_LONG_WATER = tuple(stain("water-spot", minutes) for minutes in (60, 360, 1440))
WET_ROOM = _protocol(
    "wet-room", "Wet room", "Standing water, cosmetics and cleaners, and what end grain drinks.",
    *_LONG_WATER, stain("hand-cream", 60), stain("hand-sanitiser", 60), stain("ammonia-10", 10), stain("washing-up", 60),
    end_stand(1440), damp_cycles(25),
    ladders=(_ladder("water", "Water", *_LONG_WATER),),
)  # fmt: skip
HANDLE = _protocol(
    "handle", "Handle", "What hands do: damp wipes, sweat and cream, and how it feels.",
    damp_cycles(100), FEEL, stain("saliva", 60), stain("hand-cream", 360), SCRATCH_AND_MEND,
)  # fmt: skip
SHEEN_AND_WAX = _protocol(
    "sheen-and-wax", "Sheen and wax", "Square on and down the length: sheen, evenness, gloss, faults, and which is preferred.",
    SHEEN, FAULTS, WENT_ON, PREFERENCE, FEEL,
)  # fmt: skip
SWATCHES = _protocol(
    "colour-swatches", "Colour swatches", "No exposure but light: colour, evenness, which is preferred, before and after a month of daylight.",
    COLOUR_OF_FINISH, SHEEN, PREFERENCE, LIGHT,
)  # fmt: skip
OUTDOORS = _protocol(
    "outdoors", "Outdoors", "Put out facing south and looked at after 3, 6, 12 and 24 months; and standing water.",
    outdoors("south"), stain("water-spot", 1440), BEAD,
)  # fmt: skip
CHARRED = _protocol(
    "charred-wood", "Charred wood", "What rubs off, how it looks, and what water does.",
    RUB_OFF, FAULTS, SHEEN, BEAD, stain("water-spot", 360),
)  # fmt: skip
DRYING = _protocol(
    "drying-on-glass", "Drying on glass", "A drop and a film on glass, looked at over a week; and oil that weeps back.",
    DRYING_DROP, DRYING_FILM, WEEP_BACK,
)  # fmt: skip
MEND = _protocol(
    "scratch-and-mend", "Scratch and mend", "Damage of several kinds, mended in the family's own way.",
    SCRATCH, PENCIL, SCRATCH_AND_MEND, SPOT_REPAIR, iron(115),
)  # fmt: skip

READY = (
    TABLE_BASICS, TABLE_FULL, SPIRITS_AND_GLASSES, KITCHEN, BOARD, FLOOR, DESK, WET_ROOM, HANDLE, SHEEN_AND_WAX, SWATCHES, OUTDOORS,
    CHARRED, DRYING, MEND,
)  # fmt: skip
