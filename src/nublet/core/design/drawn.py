"""What a drawing of lots puts on a panel: rings and strips on its faces, and the spots that they become."""

from __future__ import annotations

from dataclasses import dataclass

from nublet.core.design.areas import Side
from nublet.core.protocols.sites import SiteKind
from nublet.core.protocols.tests import Test


@dataclass(frozen=True, kw_only=True)
class Spot:
    """Where one test is on a panel: its centre, mm. ``section`` is ``None`` on an undivided panel.

    A ring has a diameter; all else reaches so far along the panel and across it.
    """

    exposure: str
    kind: SiteKind = "spot"
    section: str | None = None
    side: Side = "front"
    x_mm: float
    y_mm: float
    diameter_mm: float
    along_mm: float = 0.0
    across_mm: float = 0.0


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
