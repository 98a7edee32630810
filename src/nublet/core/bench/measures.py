"""What is measured at the bench beside the work: names, units, and what no instrument is believed to show."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from nublet.core.errors import PlanError
from nublet.core.quantities import in_unit, say


@dataclass(frozen=True, kw_only=True)
class BenchMeasure:
    """A number of the log. Outside ``low`` to ``high`` it is a slip of the hand or a fault of the instrument."""

    id: str
    unit: str
    low: float
    high: float
    of_one_panel: bool = False


MEASURES: dict[str, BenchMeasure] = {
    measure.id: measure
    for measure in (
        BenchMeasure(id="temperature_c", unit="°C", low=-40, high=80),
        BenchMeasure(id="humidity_pct", unit="%", low=0, high=100),
        BenchMeasure(id="block_c", unit="°C", low=-20, high=400),
        BenchMeasure(id="weight_g", unit="g", low=0.01, high=50_000, of_one_panel=True),
    )
}


def check_measures(measured: Mapping[str, float | None], *, n_panels: int) -> dict[str, float]:
    """What was measured, blanks left out.

    Raises
    ------
    PlanError
        If nothing of that name is measured, the number cannot be, or one panel's own is given for several.
    """
    checked: dict[str, float] = {}
    for name, value in measured.items():
        if value is None:
            continue
        where = f"measured.{name}"
        known = MEASURES.get(name)
        if known is None:
            raise PlanError(f"{name!r} is nothing that is measured at the bench.", field=where)
        if not (math.isfinite(value) and known.low <= value <= known.high):
            raise PlanError(
                say(
                    "{} cannot be; give {} to {}.",
                    in_unit(value, known.unit),
                    in_unit(known.low, known.unit, is_bare=True),
                    in_unit(known.high, known.unit),
                ),
                field=where,
            )
        if known.of_one_panel and n_panels != 1:
            raise PlanError("A weight belongs to one panel. Enter each on its own.", field="panels")
        checked[name] = float(value)
    return checked
