"""The uses that ship. They are starting points; the weights can be changed.

What a build-up costs, how long it takes and what its upkeep is are known without a test; until a ranking takes them in they are
named as not tested, like everything that a trial's protocol does not feed.
"""

from __future__ import annotations

from nublet.core.materials.compatibility import Demand
from nublet.core.ranking.uses import Asked, AskedCriterion, AskedGate, Range, Use

_DAY = 1440.0


def _asked(
    name: str,
    *agents: str,
    minutes: Range = (None, None),
    degrees: Range = (None, None),
    response: str = "grade",
) -> Asked:
    return Asked(
        id=name, agents=frozenset(agents), duration_min=minutes, temperature_c=degrees, response=response
    )


def _weighs(name: str, weight: float, *asked: Asked, criterion_id: str = "") -> AskedCriterion:
    return AskedCriterion(
        id=criterion_id or name.lower().replace(" ", "-"), name=name, weight=weight, asked=asked
    )


def _water(from_min: float, name: str = "water") -> Asked:
    return _asked(name, "water", minutes=(from_min, _DAY))


_WINE = _asked("red-wine", "red wine", minutes=(60, 360))
_COFFEE = _asked("coffee", "coffee", minutes=(60, 360))
_SPIRITS = _asked("ethanol", "ethanol 48 %", minutes=(60, 120))
_WATER = _water(360)
_WET_HEAT = _asked("wet-heat", "hot block on a damp cloth", degrees=(70, 85))
_DRY_HEAT = _asked("dry-heat", "hot block", degrees=(100, 120))
_HOT_PAN = _asked("hot-pan", "hot block", degrees=(120, 140))
_OIL = _asked("olive-oil", "olive oil", minutes=(60, _DAY))
_SOUR = _asked("acid", "vinegar", "lemon juice (citric acid 10 %)", minutes=(60, _DAY))
_COLOURS = _asked(
    "strong-colours", "beetroot", "turmeric paste", "mustard", "tomato sauce", "soy sauce", "black tea"
)
_GLASS = _asked("wet-glass", "chilled wet glass")
_SCRATCHED = _asked("scratched", "scratch")
_RUBBED = _asked("rubbed", "scouring pad", "wet rubber sole")
_MENDED = _asked("mended", "scratch", "repair", "scouring pad", response="repair-seen")
_BOILED = _asked("boiled-or-damp", "boiling water", "damp cloth")
_DAMP = _asked("damp-cycles", "damp cloth")
_ROUGH = _asked("raised-grain", "boiling water", "damp cloth", "edge or end-grain stand", response="touch")
_UPTAKE = _asked("water-uptake", response="uptake")
_FEEL = _asked("feel-of-it", response="touch")
_LOOKS = _asked("looks-of-it", response="looks")
_EVEN = _asked("evenness-of-it", response="evenness")
_EASE = _asked("ease-of-it", response="went-on")
_COST = _asked("cost-of-it", response="price")
_UPKEEP = _asked("upkeep-of-it", response="upkeep")
_DOWNTIME = _asked("downtime-of-it", response="days")
_CREAM = _asked("hand-cream-spot", "cosmetics, hand cream")
_SANITISER = _asked("sanitiser", "hand sanitiser gel")
_SALIVA = _asked("saliva-spot", "saliva-like salt water")
_INK = _asked("ink", "ballpoint ink", "marker ink")
_SWELLING = _asked("end-grain", "edge or end-grain stand")
_WEATHERED = _asked("weathered", "weather", response="looks")
_PEELS = _asked("peeling", "weather", response="peels")
_RECOAT = _asked("recoat", "weather", response="wants-coat")


def _use(
    use_id: str,
    name: str,
    says: str,
    *criteria: AskedCriterion,
    gates: tuple[tuple[Asked, float], ...] = (),
    demands: set[Demand],
) -> Use:
    return Use(
        id=use_id,
        name=name,
        says=says,
        criteria=criteria,
        gates=tuple(AskedGate(asked=asked, threshold=threshold) for asked, threshold in gates),
        demands=frozenset(demands),
    )


DINING_TABLE = Use(
    id="dining-table",
    name="Dining table",
    says="Meals, wet glasses, hot dishes: must shrug off water, wine and coffee, and be mendable in place.",
    criteria=(
        AskedCriterion(id="stains", name="Stains", weight=35, asked=(_WINE, _COFFEE, _SPIRITS)),
        AskedCriterion(id="heat", name="Heat", weight=25, asked=(_WET_HEAT, _DRY_HEAT)),
        AskedCriterion(id="water", name="Water", weight=30, asked=(_WATER,)),
        AskedCriterion(id="repair", name="Repair", weight=10, asked=(_MENDED,)),
    ),
    gates=(
        AskedGate(asked=_WATER, threshold=4),
        AskedGate(asked=_WINE, threshold=4),
        AskedGate(asked=_COFFEE, threshold=4),
        AskedGate(asked=_WET_HEAT, threshold=4),
    ),
    demands=frozenset({"water", "wet-washing", "alcohol", "heat", "scratch"}),
)
BAR = _use(
    "bar-counter", "Bar or counter", "Spirits, standing water, cold glasses, and no day to lose.",
    _weighs("Alcohol", 35, _SPIRITS), _weighs("Water", 30, _water(960), _GLASS), _weighs("Scratch", 20, _SCRATCHED),
    _weighs("Downtime", 15, _DOWNTIME),
    gates=((_SPIRITS, 4), (_water(960), 4)), demands={"water", "wet-washing", "alcohol", "scratch"},
)  # fmt: skip
KITCHEN = _use(
    "kitchen-worktop", "Kitchen worktop", "Standing water, oil, acid, strong colours and a hot pan, washed every day.",
    _weighs("Water", 30, _water(960)), _weighs("Stains", 30, _OIL, _SOUR, _COLOURS, _COFFEE), _weighs("Heat", 15, _HOT_PAN),
    _weighs("Upkeep", 25, _UPKEEP, _MENDED),
    gates=((_water(960), 4), (_OIL, 4), (_SOUR, 4), (_HOT_PAN, 3)), demands={"water", "wet-washing", "heat", "food", "scratch"},
)  # fmt: skip
BOARD = _use(
    "chopping-board", "Chopping board and utensils", "Washed, boiled, cut on: must not drink, fur up or hide what is in it.",
    _weighs("Water uptake", 30, _UPTAKE), _weighs("Raised grain", 25, _ROUGH), _weighs("Wet", 20, _BOILED),
    _weighs("Upkeep", 25, _UPKEEP),
    gates=((_BOILED, 3),), demands={"water", "wet-washing", "food", "scratch"},
)  # fmt: skip
BATHROOM = _use(
    "bathroom-shelf", "Bathroom shelf or vanity", "Water that stands for a day, cosmetics and sanitiser.",
    _weighs("Water", 50, _water(_DAY)), _weighs("Cosmetics", 25, _CREAM, _SANITISER), _weighs("Swelling", 25, _SWELLING, _ROUGH),
    gates=((_water(_DAY), 4), (_CREAM, 4), (_SANITISER, 4)), demands={"water", "wet-washing", "alcohol"},
)  # fmt: skip
FLOOR = _use(
    "floor", "Floor", "Feet and sand, a wet shoe, and mending in place.",
    _weighs("Wear", 45, _SCRATCHED, _RUBBED), _weighs("Repair in place", 25, _MENDED), _weighs("Water", 15, _water(60)),
    _weighs("Cost", 15, _COST),
    gates=((_SCRATCHED, 3), (_water(60), 4)), demands={"water", "scratch"},
)  # fmt: skip
DESK = _use(
    "desk", "Desk", "Ink, a mug of coffee, sleeves: above all it is looked at.",
    _weighs("Looks", 40, _LOOKS, _EVEN), _weighs("Scratch", 25, _SCRATCHED), _weighs("Stains", 35, _INK, _COFFEE),
    gates=((_INK, 3), (_COFFEE, 3)), demands={"water", "scratch"},
)  # fmt: skip
SHELF = _use(
    "shelf-bedside-display", "Shelf, bedside, display", "Touched and looked at, hardly ever wet.",
    _weighs("Looks", 40, _LOOKS, _EVEN), _weighs("Feel", 25, _FEEL), _weighs("Ease", 15, _EASE), _weighs("Cost", 20, _COST),
    gates=((_water(10), 3),), demands={"water"},
)  # fmt: skip
TOY = _use(
    "toy", "Toy", "Held, dropped and put in mouths: only what is known to be in it.",
    _weighs("Contact", 60, _SALIVA, _CREAM), _weighs("Feel", 40, _FEEL),
    gates=((_SALIVA, 4),), demands={"food", "skin", "scratch"},
)  # fmt: skip
HANDLE = _use(
    "handle-or-grip", "Handle or grip", "Damp hands all day, and mended where it is worn.",
    _weighs("Feel", 40, _FEEL), _weighs("Water", 30, _DAMP, _ROUGH), _weighs("Spot repair", 30, _MENDED),
    gates=((_DAMP, 3),), demands={"water", "skin", "scratch"},
)  # fmt: skip
BENCH = _use(
    "outdoor-bench", "Outdoor bench", "Sun, rain and frost, and a new coat every few years at most.",
    _weighs("Recoat interval", 35, _RECOAT), _weighs("Peel risk", 25, _PEELS), _weighs("Weathering", 20, _WEATHERED),
    _weighs("Water", 20, _water(_DAY)),
    gates=((_water(_DAY), 3),), demands={"outdoor", "water"},
)  # fmt: skip

USES: dict[str, Use] = {
    use.id: use
    for use in (DINING_TABLE, BAR, KITCHEN, BOARD, BATHROOM, FLOOR, DESK, SHELF, TOY, HANDLE, BENCH)
}
