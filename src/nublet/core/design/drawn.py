"""What a drawing of lots puts on a panel: rings on its faces, and the spots that they become."""

from __future__ import annotations

from dataclasses import dataclass

from nublet.core.design.areas import Side
from nublet.core.protocols.tests import Test


@dataclass(frozen=True, kw_only=True)
class Spot:
    """One exposure's ring on a panel: centre and diameter, mm. ``section`` is ``None`` on an undivided panel."""

    exposure: str
    section: str | None = None
    side: Side = "front"
    x_mm: float
    y_mm: float
    diameter_mm: float


@dataclass(frozen=True, kw_only=True)
class DrawnRing:
    """An exposure's place on a panel, by the section's number; x and y are the panel's."""

    section: int
    exposure: Test
    x_mm: float
    y_mm: float


@dataclass(frozen=True, kw_only=True)
class DrawnFace:
    """One face's rings, and whether an agent that burns had to stand beside a hot block."""

    rings: tuple[DrawnRing, ...]
    is_beside_heat: bool
