"""The areas of a panel that carry spots: the whole of it, or the sections masked on it, on one face or both.

Coordinates are millimetres from the panel's lower left corner; the panel's length lies along the grain. The back is
seen with the panel turned over about its long edge, so its lower left corner is at the left again.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from nublet.core.errors import DesignError
from nublet.core.quantities import amount, say

SMALLEST_PANEL_MM = 50.0
LARGEST_PANEL_MM = 3000.0
MAX_SECTIONS = 24
Side = Literal["front", "back"]
Faces = Literal["front", "both"]


@dataclass(frozen=True, kw_only=True)
class PanelSize:
    """A panel's length along the grain and width across it, mm."""

    length_mm: float
    width_mm: float


@dataclass(frozen=True, kw_only=True)
class Section:
    """A masked part of a panel, lower left corner and size, mm."""

    name: str
    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float


def check_panel_size(size: PanelSize) -> None:
    """Refuse a panel whose length or width is not between 50 mm and 3 m."""
    for name, label, value in (
        ("panel_length_mm", "length", size.length_mm),
        ("panel_width_mm", "width", size.width_mm),
    ):
        if not SMALLEST_PANEL_MM <= value <= LARGEST_PANEL_MM:
            raise DesignError(
                say(
                    "A panel {} of {} cannot be. Give {} to {}.",
                    label,
                    amount("millimetres", value),
                    amount("millimetres", SMALLEST_PANEL_MM, is_bare=True),
                    amount("millimetres", LARGEST_PANEL_MM),
                ),
                field=name,
            )


def check_sections(names: Sequence[str]) -> None:
    """Refuse nameless or repeated sections, and too many. Raises ``DesignError``."""
    if len(names) > MAX_SECTIONS:
        raise DesignError(
            f"{len(names)} sections on a panel are too many; {MAX_SECTIONS} is the most.", field="sections"
        )
    folded_names = [name.strip().casefold() for name in names]
    if not all(folded_names):
        raise DesignError("A section has no name. Name each, such as 'waxed'.", field="sections")
    for index, name in enumerate(folded_names):
        if name in folded_names[:index]:
            raise DesignError(f"Two sections are called {names[index]!r}. Name each once.", field="sections")


def section_size(size: PanelSize, n_sections: int, *, lengthwise: bool) -> PanelSize:
    """The size of each of ``n_sections`` equal sections, side by side along the panel or across it."""
    if lengthwise:
        return PanelSize(length_mm=size.length_mm / n_sections, width_mm=size.width_mm)
    return PanelSize(length_mm=size.length_mm, width_mm=size.width_mm / n_sections)


def mark_sections(size: PanelSize, names: Sequence[str], *, lengthwise: bool) -> tuple[Section, ...]:
    """Divide a panel into equal sections in the order of ``names``, from the left or from below."""
    if not names:
        return ()
    each = section_size(size, len(names), lengthwise=lengthwise)
    return tuple(
        Section(
            name=name,
            x_mm=round(index * each.length_mm, 9) if lengthwise else 0.0,
            y_mm=0.0 if lengthwise else round(index * each.width_mm, 9),
            length_mm=round(each.length_mm, 9),
            width_mm=round(each.width_mm, 9),
        )
        for index, name in enumerate(names)
    )
