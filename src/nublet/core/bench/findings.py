"""What was found otherwise than its window: still usable, a deviation, or spoiled."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Judgement = Literal["usable", "deviation", "spoiled"]
DeviationKind = Literal[
    "early-wipe", "late-wipe", "early-recoat", "late-recoat", "uncured-exposure", "early-lift", "late-lift", "early-look",
    "late-look", "look-before-lift", "early-act", "late-act", "cold-shop", "damp-shop", "spent-mix", "ahead-of-board",
    "board-apart",
]  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Finding:
    """One window that was missed. ``whole_panel`` is false when only the exposure's spot is concerned.

    ``off_s`` is by how much, in seconds, negative when early; ``is_done`` false when it has not been done yet.
    """

    kind: DeviationKind
    group: str
    panel: str
    item: str
    judgement: Judgement
    says: str
    off_s: float
    whole_panel: bool = True
    look_after_min: float | None = None
    act: str = ""
    is_done: bool = True


# How many tolerances a moment may be off as usable, and a look as a deviation; and what nobody counts, seconds.
TOLERANCES_USABLE = 1.5
LOOK_TOLERANCES_DEVIATION = 3.0
SLIP_S = 30.0


def judge_off(off_s: float, *, usable_s: float, deviation_s: float | None) -> Judgement:
    """How a miss is judged, by how far it is usable and how far a deviation (``None`` for always); all in seconds."""
    if abs(off_s) <= usable_s:
        return "usable"
    return "deviation" if deviation_s is None or abs(off_s) <= deviation_s else "spoiled"


def usable_within_s(tolerance_s: float) -> float:
    """How far off a moment may be and nothing follows."""
    return max(TOLERANCES_USABLE * tolerance_s, tolerance_s + SLIP_S)
