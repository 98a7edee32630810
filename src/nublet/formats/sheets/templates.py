"""Masking and spot templates: each panel at true size, on as many sheets as it takes, to be cut out or pricked through."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from nublet.core.design.areas import PanelSize, Section, Side
from nublet.core.design.drawn import Spot
from nublet.formats.sheets.lettering import width_of
from nublet.formats.sheets.page import (
    CONTENT_TOP_MM,
    EDGE_MM,
    FAINT,
    Page,
    Paper,
    content_height,
    number_pages,
    start_page,
)
from nublet.formats.sheets.trial_sheets import SheetPanel, TrialSheets

OVERLAP_MM = 10.0
At = Callable[[float, float], tuple[float, float]]
_MARK_MM = 4.0


@dataclass(frozen=True, kw_only=True)
class Tile:
    """A part of a panel that one sheet shows, mm from the panel's lower left corner."""

    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float


def template_pages(sheets: TrialSheets, paper: Paper) -> list[Page]:
    """Every panel's faces that carry spots or are masked, in the order of the codes."""
    pages: list[Page] = []
    turned, tiles = lay_tiles(sheets.size, paper)
    for panel in sorted(sheets.panels, key=lambda panel: panel.code):
        sides: list[Side] = [
            side for side in ("front", "back") if side == "front" or any(s.side == side for s in panel.spots)
        ]
        for side in sides:
            for number, tile in enumerate(tiles, start=1):
                part = f", sheet {number} of {len(tiles)}" if len(tiles) > 1 else ""
                face = f", {side}" if len(sides) > 1 else ""
                page = start_page(turned, title=f"{panel.code}{face}{part}", trial=sheets.trial)
                _draw(page, sheets, panel, side, tile)
                pages.append(page)
    return number_pages(pages, fingerprint=sheets.fingerprint)


def lay_tiles(size: PanelSize, paper: Paper) -> tuple[Paper, list[Tile]]:
    """The way to turn the paper that takes fewer sheets a panel, and the parts that they show, overlapping by 10 mm."""
    ways = [(way, _tiles(size, way)) for way in (paper, paper.turned())]
    return min(ways, key=lambda way: len(way[1]))


def _tiles(size: PanelSize, paper: Paper) -> list[Tile]:
    columns = _cuts(size.length_mm, paper.width_mm - 2 * EDGE_MM)
    # From the top down, the way one reads.
    rows = list(reversed(_cuts(size.width_mm, content_height(paper))))
    return [Tile(x_mm=x, y_mm=y, width_mm=w, height_mm=h) for y, h in rows for x, w in columns]


def _cuts(length: float, room: float) -> list[tuple[float, float]]:
    """Starts and lengths of equal parts that cover a length, each no longer than the room, overlapping."""
    if length <= room:
        return [(0.0, length)]
    n = math.ceil((length - OVERLAP_MM) / (room - OVERLAP_MM))
    each = (length + (n - 1) * OVERLAP_MM) / n
    return [(index * (each - OVERLAP_MM), each) for index in range(n)]


def _draw(page: Page, sheets: TrialSheets, panel: SheetPanel, side: Side, tile: Tile) -> None:
    size = sheets.size
    # All pages stand in one document, so each needs a name of its own.
    clip = f"{panel.code}-{side}-{tile.x_mm:.0f}-{tile.y_mm:.0f}"

    def at(x: float, y: float) -> tuple[float, float]:
        """Page coordinates of a point of the panel, whose y points up."""
        return EDGE_MM + x - tile.x_mm, CONTENT_TOP_MM + (tile.y_mm + tile.height_mm) - y

    left, top = at(tile.x_mm, tile.y_mm + tile.height_mm)
    page.parts.append(
        f'<clipPath id="{clip}"><rect x="{left}" y="{top}" width="{tile.width_mm:.4f}" height="{tile.height_mm:.4f}"/></clipPath>'
    )
    _outline(page, size, tile, at)
    for number, section in enumerate(panel.sections, start=1):
        if number > 1:
            _border(page, tile, at, section.x_mm, section.y_mm, size)
        _name_section(page, section, number, tile, at)
    if tile.x_mm == 0 and tile.y_mm == 0:
        page.text(left + 2, top + tile.height_mm - 2, "grain →", size=3.2, ink=FAINT)
    for spot in panel.spots:
        if spot.side == side and _meets(spot, tile):
            _site(page, spot, sheets.exposure_names.get(spot.exposure, spot.exposure), at, tile, clip)


def _name_section(page: Page, section: Section, number: int, tile: Tile, at: At) -> None:
    """A section's number where it is seen on the sheet; nothing where it ends before the sheet begins, or is a strip of it."""
    from_x, to_x = (
        max(section.x_mm, tile.x_mm),
        min(section.x_mm + section.length_mm, tile.x_mm + tile.width_mm),
    )
    from_y, to_y = (
        max(section.y_mm, tile.y_mm),
        min(section.y_mm + section.width_mm, tile.y_mm + tile.height_mm),
    )
    words = f"Section {number}"
    if to_y - from_y < 6 or to_x - from_x < 4 + width_of(words, 3.2):
        return
    x, y = at(from_x, to_y)
    page.text(x + 2, y + 4.5, words, size=3.2, ink=FAINT)


def _outline(page: Page, size: PanelSize, tile: Tile, at: At) -> None:
    """The panel's own edges as solid lines, and where the sheets are joined as dashes with crosses."""
    right, upper = tile.x_mm + tile.width_mm, tile.y_mm + tile.height_mm
    for x, is_edge in ((tile.x_mm, tile.x_mm == 0), (right, math.isclose(right, size.length_mm))):
        _side(page, at(x, tile.y_mm), at(x, upper), is_edge)
    for y, is_edge in ((tile.y_mm, tile.y_mm == 0), (upper, math.isclose(upper, size.width_mm))):
        _side(page, at(tile.x_mm, y), at(right, y), is_edge)
    quarters = (0.25, 0.75)
    joined_x = [x for x in (tile.x_mm, right) if 0 < x < size.length_mm - 1e-6]
    joined_y = [y for y in (tile.y_mm, upper) if 0 < y < size.width_mm - 1e-6]
    for x in joined_x:
        inwards = OVERLAP_MM / 2 if x == tile.x_mm else -OVERLAP_MM / 2
        for share in quarters:
            _cross(page, *at(x + inwards, tile.y_mm + share * tile.height_mm))
    for y in joined_y:
        inwards = OVERLAP_MM / 2 if y == tile.y_mm else -OVERLAP_MM / 2
        for share in quarters:
            _cross(page, *at(tile.x_mm + share * tile.width_mm, y + inwards))


def _side(page: Page, start: tuple[float, float], end: tuple[float, float], is_edge: bool) -> None:
    if is_edge:
        page.line(*start, *end, width=0.4)
    else:
        page.line(*start, *end, width=0.2, dash="2 2", ink=FAINT)


def _cross(page: Page, x: float, y: float) -> None:
    page.line(x - _MARK_MM, y, x + _MARK_MM, y)
    page.line(x, y - _MARK_MM, x, y + _MARK_MM)


def _border(page: Page, tile: Tile, at: At, x: float, y: float, size: PanelSize) -> None:
    """A masking line where a section begins, as far as it lies on the tile."""
    if x > 0 and tile.x_mm <= x <= tile.x_mm + tile.width_mm:
        page.line(
            *at(x, tile.y_mm),
            *at(x, min(size.width_mm, tile.y_mm + tile.height_mm)),
            width=0.35,
            dash="4 1.5",
        )
    if y > 0 and tile.y_mm <= y <= tile.y_mm + tile.height_mm:
        page.line(
            *at(tile.x_mm, y),
            *at(min(size.length_mm, tile.x_mm + tile.width_mm), y),
            width=0.35,
            dash="4 1.5",
        )


def _meets(spot: Spot, tile: Tile) -> bool:
    # An end piece is cut off, and lies on no template.
    if spot.kind == "end":
        return False
    along, across = _reach(spot)
    return (
        tile.x_mm - along / 2 < spot.x_mm < tile.x_mm + tile.width_mm + along / 2
        and tile.y_mm - across / 2 < spot.y_mm < tile.y_mm + tile.height_mm + across / 2
    )


def _reach(spot: Spot) -> tuple[float, float]:
    """How far a site reaches along the panel and across it, mm."""
    return (spot.diameter_mm, spot.diameter_mm) if spot.kind == "spot" else (spot.along_mm, spot.across_mm)


def _site(page: Page, spot: Spot, name: str, at: At, tile: Tile, clip: str) -> None:
    """A ring or a strip with its middle; of a part its border; of a whole face its name alone."""
    if spot.kind == "spot":
        _ring(page, spot, name, at, tile, clip)
        return
    left, top = at(spot.x_mm - spot.along_mm / 2, spot.y_mm + spot.across_mm / 2)
    if spot.kind != "panel":
        page.parts.append(f'<g clip-path="url(#{clip})">')
        page.rect(left, top, spot.along_mm, spot.across_mm, dash="4 1.5" if spot.kind == "part" else "")
        page.parts.append("</g>")
    x, y = at(spot.x_mm, spot.y_mm)
    has_middle = (
        tile.x_mm <= spot.x_mm <= tile.x_mm + tile.width_mm
        and tile.y_mm <= spot.y_mm <= tile.y_mm + tile.height_mm
    )
    if not has_middle:
        return
    measures = "" if spot.kind == "panel" else f"{spot.along_mm:g} × {spot.across_mm:g}"
    half = max(width_of(name, 2.6), width_of(measures, 2.6)) / 2 + 1
    inside = min(max(x, at(tile.x_mm, 0)[0] + half), at(tile.x_mm + tile.width_mm, 0)[0] - half)
    # Inside the strip where it holds the name, above it where it is too narrow.
    y = y if spot.across_mm >= 12 else top - 4
    page.text(inside, y + 1, name, size=2.6, anchor="middle")
    if measures:
        page.text(inside, y + 4, measures, size=2.6, anchor="middle", ink=FAINT)


def _ring(page: Page, spot: Spot, name: str, at: At, tile: Tile, clip: str) -> None:
    x, y = at(spot.x_mm, spot.y_mm)
    page.parts.append(f'<g clip-path="url(#{clip})">')
    page.circle(x, y, spot.diameter_mm)
    page.parts.append("</g>")
    if (
        tile.x_mm <= spot.x_mm <= tile.x_mm + tile.width_mm
        and tile.y_mm <= spot.y_mm <= tile.y_mm + tile.height_mm
    ):
        page.line(x - 2, y, x + 2, y)
        page.line(x, y - 2, x, y + 2)
        size = 3.2 if width_of(name, 3.2) <= spot.diameter_mm - 4 else 2.6
        half = width_of(name, size) / 2 + 1
        left, right = at(tile.x_mm, 0)[0], at(tile.x_mm + tile.width_mm, 0)[0]
        # A name near a joint moves inwards, so that it is not cut through.
        inside = min(max(x, left + half), right - half)
        page.text(inside, y + 6.5, name, size=size, anchor="middle")
        page.text(inside, y - 4, f"⌀ {spot.diameter_mm:g}", size=2.6, anchor="middle", ink=FAINT)
