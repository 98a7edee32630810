"""What a number or a name of a plan's specification may be, and the refusal when it is not."""

from __future__ import annotations

import math

from nublet.core.errors import PlanError

DAY_MIN = 24 * 60
# A year of hours and a year of minutes: longer ones are slips of the pen.
MAX_H = 8760.0
MAX_MIN = 525_600.0


def check_unique(names: list[str] | tuple[str, ...], what: str, where: str) -> None:
    """Refuse a name without letters, and one that is given twice. Raises ``PlanError``."""
    seen: set[str] = set()
    for name in names:
        if not name.strip():
            raise PlanError(f"A {what} under {where} has no name. Give it one.", field=where)
        if name in seen:
            raise PlanError(f"The {what} {name!r} is listed twice. Give each its own name.", field=where)
        seen.add(name)


def check_number(value: float, where: str, *, most: float) -> None:
    """Refuse what is not from 0 to ``most``. Raises ``PlanError``."""
    if not (math.isfinite(value) and 0 <= value <= most):
        raise PlanError(f"{where} is {value:g}; give 0 to {most:g}.", field=where)


def check_work(value: float, where: str, *, most: float = DAY_MIN) -> None:
    """Refuse minutes of work that are not more than 0 and at most ``most``. Raises ``PlanError``."""
    if not (math.isfinite(value) and 0 < value <= most):
        raise PlanError(f"{where} is {value:g}; give more than 0, at most {most:g}.", field=where)


def check_window(low: float, high: float | None, where: str, *, most: float) -> None:
    """Refuse a window that closes before it opens; ``None`` never closes. Raises ``PlanError``."""
    check_number(low, where, most=most)
    if high is not None:
        check_number(high, where, most=most)
        if high < low:
            raise PlanError(
                f"{where} closes ({high:g}) before it opens ({low:g}). Swap the two.", field=where
            )
