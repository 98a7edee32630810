"""Where on a panel something happens."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from nublet.core.errors import ShelfError
from nublet.core.plain import Span
from nublet.core.quantities import amount, say

SiteKind = Literal["spot", "strip", "part", "end", "panel", "slip"]
Grain = Literal["along", "across"]
SITE_WORDS: dict[SiteKind, str] = {
    "spot": "Spot: a ring",
    "strip": "Strip: a rectangle",
    "part": "Part: a share of the panel, the rest its own reference",
    "end": "End: the end-grain piece",
    "panel": "Panel: the whole face",
    "slip": "Slip: a film on glass, no wood",
}
GRAIN_WORDS: dict[Grain, str] = {"along": "Along the grain", "across": "Across the grain"}
# On the face, beside other things.
PLACED_KINDS: frozenset[SiteKind] = frozenset({"spot", "strip"})
_LEAST_MM, _MOST_MM = 5.0, 300.0


@dataclass(frozen=True, kw_only=True)
class Site:
    """A place of a test.

    Attributes
    ----------
    kind : SiteKind
        A spot is a ring, a strip a rectangle; both are laid on the face beside others. A part is a share of the panel whose rest
        is its own reference, an end the end-grain piece, a panel the whole face, a slip a piece of glass.
    wetted_mm : float
        Of a spot: diameter of the touched ring, mm: the cover's for liquids, the block's for heat.
    length_mm, width_mm : float
        Of a strip, mm.
    grain : Grain
        Which way a strip's length lies.
    share : float
        Of a part, between 0 and 1.
    """

    kind: SiteKind
    wetted_mm: Annotated[float, Span(0, _MOST_MM, "mm")] = 0.0
    length_mm: Annotated[float, Span(0, 1000, "mm")] = 0.0
    width_mm: Annotated[float, Span(0, 1000, "mm")] = 0.0
    grain: Grain = "along"
    share: Annotated[float, Span(0, 1, "of the panel")] = 0.0

    @property
    def is_placed(self) -> bool:
        """Whether it is laid on the face beside others."""
        return self.kind in PLACED_KINDS

    @property
    def footprint_mm(self) -> tuple[float, float]:
        """How far it reaches along and across the grain, mm; nothing for what is not laid on the face.

        Examples
        --------
        >>> Site(kind="strip", length_mm=90, width_mm=20, grain="across").footprint_mm
        (20, 90)
        """
        if self.kind == "spot":
            return self.wetted_mm, self.wetted_mm
        if self.kind != "strip":
            return 0.0, 0.0
        return (self.length_mm, self.width_mm) if self.grain == "along" else (self.width_mm, self.length_mm)


def check_site(site: Site, name: str, at: str) -> None:
    """Refuse a site that lacks what its kind needs, or has what its kind has not.

    Raises
    ------
    ShelfError
        ``field`` is the path under ``at``.
    """
    needs = {"spot": ("wetted_mm",), "strip": ("length_mm", "width_mm"), "part": ("share",)}
    for field in ("wetted_mm", "length_mm", "width_mm", "share"):
        value = getattr(site, field)
        path = f"{at}.{field}"
        if field not in needs.get(site.kind, ()):
            if value:
                raise ShelfError(
                    f"{name} stands on a {site.kind}, which has no {field.replace('_', ' ')}. Leave it out.",
                    field=path,
                )
        elif field == "share":
            if not 0 < value < 1:
                raise ShelfError(
                    f"{name} takes {value:g} of the panel. Give a share between 0 and 1, such as 0.5 for one half.",
                    field=path,
                )
        elif not value >= _LEAST_MM:
            raise ShelfError(
                say(
                    "{}: the {} of its {} is {}. Give {} or more.",
                    name,
                    {"wetted_mm": "ring", "length_mm": "length", "width_mm": "width"}[field],
                    site.kind,
                    amount("millimetres", value),
                    amount("millimetres", _LEAST_MM),
                ),
                field=path,
            )
