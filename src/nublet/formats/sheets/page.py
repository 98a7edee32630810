"""A page in millimetres, its shapes and its SVG; the origin is the upper left corner."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal
from xml.sax.saxutils import escape

from nublet.core.errors import NubletError

PaperName = Literal["a4", "letter"]
EDGE_MM = 10.0  # what home printers leave white
CHECK_LINE_MM = 100.0
INK, FAINT = "#1d2226", "#6b7278"
FAMILY = "Nublet Sans, Nublet Sans Ext, sans-serif"


@dataclass(frozen=True, kw_only=True)
class Paper:
    """A sheet of paper, mm."""

    name: str
    width_mm: float
    height_mm: float

    def turned(self) -> Paper:
        """The same in landscape."""
        return Paper(name=self.name, width_mm=self.height_mm, height_mm=self.width_mm)


PAPERS: dict[PaperName, Paper] = {
    "a4": Paper(name="A4", width_mm=210.0, height_mm=297.0),
    "letter": Paper(name="US Letter", width_mm=215.9, height_mm=279.4),
}


def paper_named(name: str) -> Paper:
    """The paper of a name. Raises ``NubletError`` for one that is not kept."""
    for known, paper in PAPERS.items():
        if known == name:
            return paper
    raise NubletError(f"There is no paper {name!r}. Choose one of: {', '.join(PAPERS)}.", field="paper")


@dataclass(kw_only=True)
class Page:
    """One page: shapes in millimetres from its upper left corner. ``Page.svg`` is the whole of it."""

    paper: Paper
    parts: list[str] = field(default_factory=list)

    @property
    def inner_width(self) -> float:
        """Between the edges, mm."""
        return self.paper.width_mm - 2 * EDGE_MM

    def line(
        self,
        x1: float,
        y1: float,
        x2: float,
        y2: float,
        *,
        width: float = 0.2,
        ink: str = INK,
        dash: str = "",
    ) -> None:
        """Draw a line."""
        dashed = f' stroke-dasharray="{dash}"' if dash else ""
        self.parts.append(
            f'<line x1="{_n(x1)}" y1="{_n(y1)}" x2="{_n(x2)}" y2="{_n(y2)}" stroke="{ink}" stroke-width="{width}"{dashed}/>'
        )

    def rect(
        self,
        x: float,
        y: float,
        width: float,
        height: float,
        *,
        stroke: float = 0.2,
        ink: str = INK,
        fill: str = "none",
        dash: str = "",
    ) -> None:
        """Draw a rectangle."""
        dashed = f' stroke-dasharray="{dash}"' if dash else ""
        line = f'stroke="{ink}" stroke-width="{stroke}"' if stroke else 'stroke="none"'
        self.parts.append(
            f'<rect x="{_n(x)}" y="{_n(y)}" width="{_n(width)}" height="{_n(height)}" fill="{fill}" {line}{dashed}/>'
        )

    def circle(self, x: float, y: float, diameter: float, *, stroke: float = 0.3, dash: str = "") -> None:
        """Draw a circle."""
        dashed = f' stroke-dasharray="{dash}"' if dash else ""
        self.parts.append(
            f'<circle cx="{_n(x)}" cy="{_n(y)}" r="{_n(diameter / 2)}" fill="none" stroke="{INK}" '
            f'stroke-width="{stroke}"{dashed}/>'
        )

    def path(self, data: str, *, stroke: float) -> None:
        """Draw a path's lines."""
        self.parts.append(f'<path d="{data}" fill="none" stroke="{INK}" stroke-width="{stroke}"/>')

    def text(
        self,
        x: float,
        y: float,
        words: str,
        *,
        size: float = 3.6,
        weight: int = 400,
        anchor: Literal["start", "middle", "end"] = "start",
        ink: str = INK,
    ) -> None:
        """Write words on a baseline; ``size`` in mm."""
        self.parts.append(
            f'<text x="{_n(x)}" y="{_n(y)}" font-family="{FAMILY}" font-size="{size}" font-weight="{weight}" '
            f'text-anchor="{anchor}" fill="{ink}">{escape(words)}</text>'
        )

    def svg(self, style: str = "") -> str:
        """The page as one SVG element of its true size; ``style`` is CSS to carry along."""
        width, height = _n(self.paper.width_mm), _n(self.paper.height_mm)
        css = f"<style>{style}</style>" if style else ""
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
            f'viewBox="0 0 {width} {height}">{css}{"".join(self.parts)}</svg>'
        )


def start_page(paper: Paper, *, title: str, trial: str) -> Page:
    """A page with its heading and the line to check its size by; :func:`number_pages` adds the numbers."""
    page = Page(paper=paper)
    page.text(EDGE_MM, EDGE_MM + 5, title, size=5, weight=700)
    page.text(paper.width_mm - EDGE_MM, EDGE_MM + 5, trial, size=3.6, anchor="end", ink=FAINT)
    y = paper.height_mm - EDGE_MM - 1.5
    page.line(EDGE_MM, y, EDGE_MM + CHECK_LINE_MM, y, width=0.3)
    for x in (EDGE_MM, EDGE_MM + CHECK_LINE_MM):
        page.line(x, y - 1.5, x, y + 1.5, width=0.3)
    page.text(
        EDGE_MM,
        y - 2.4,
        "This line is 100 mm long. Print at 100 %, not fitted to the page.",
        size=2.8,
        ink=FAINT,
    )
    return page


HEADING_MM = 9.0
FOOT_MM = 8.0


def content_height(paper: Paper) -> float:
    """Between the heading and the foot, mm."""
    return paper.height_mm - 2 * EDGE_MM - HEADING_MM - FOOT_MM


CONTENT_TOP_MM = EDGE_MM + HEADING_MM


def number_pages(pages: list[Page], *, fingerprint: str) -> list[Page]:
    """Write each page's number at its foot, and the design that it is of."""
    of_design = f"Design {fingerprint[:12]}, page" if fingerprint else "Page"
    for number, page in enumerate(pages, start=1):
        page.text(
            page.paper.width_mm - EDGE_MM,
            page.paper.height_mm - EDGE_MM,
            f"{of_design} {number} of {len(pages)}",
            size=2.8,
            anchor="end",
            ink=FAINT,
        )
    return pages


def _n(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")
