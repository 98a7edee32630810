"""The uses that ship. They are starting points; the weights can be changed."""

from __future__ import annotations

from nublet.core.ranking.uses import Asked, AskedCriterion, AskedGate, Range, Use


def _asked(name: str, *agents: str, minutes: Range = (None, None), degrees: Range = (None, None)) -> Asked:
    return Asked(id=name, agents=frozenset(agents), duration_min=minutes, temperature_c=degrees)


_WINE = _asked("red-wine", "red wine", minutes=(60, 360))
_COFFEE = _asked("coffee", "coffee", minutes=(60, 360))
_SPIRITS = _asked("ethanol", "ethanol 48 %", minutes=(60, 120))
_WATER = _asked("water", "water", minutes=(360, 1440))
_WET_HEAT = _asked("wet-heat", "hot block on a damp cloth", degrees=(70, 85))
_DRY_HEAT = _asked("dry-heat", "hot block", degrees=(100, 120))

DINING_TABLE = Use(
    id="dining-table",
    name="Dining table",
    says="Meals, wet glasses, hot dishes: must shrug off water, wine and coffee, and be mendable in place.",
    criteria=(
        AskedCriterion(id="stains", name="Stains", weight=35, asked=(_WINE, _COFFEE, _SPIRITS)),
        AskedCriterion(id="heat", name="Heat", weight=25, asked=(_WET_HEAT, _DRY_HEAT)),
        AskedCriterion(id="water", name="Water", weight=30, asked=(_WATER,)),
        AskedCriterion(id="repair", name="Repair", weight=10, asked=(_asked("spot-repair", "repair"),)),
    ),
    gates=(
        AskedGate(asked=_WATER, threshold=4),
        AskedGate(asked=_WINE, threshold=4),
        AskedGate(asked=_COFFEE, threshold=4),
        AskedGate(asked=_WET_HEAT, threshold=4),
    ),
    demands=frozenset({"water", "wet-washing", "alcohol", "heat", "scratch"}),
)

USES: dict[str, Use] = {use.id: use for use in (DINING_TABLE,)}
