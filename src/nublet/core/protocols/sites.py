"""Where on a panel something happens."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from nublet.core.plain import Span

SiteKind = Literal["spot"]


@dataclass(frozen=True, kw_only=True)
class Site:
    """A place of a test.

    Attributes
    ----------
    kind : SiteKind
        A spot is a ring.
    wetted_mm : float
        Diameter of the touched ring, mm: the cover's for liquids, the block's for heat.
    """

    kind: SiteKind = "spot"
    wetted_mm: Annotated[float, Span(5, 300, "mm")]
