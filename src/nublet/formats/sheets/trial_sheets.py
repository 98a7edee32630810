"""What the sheets of a trial are made of. Nothing here says which build-up a panel carries: the blind holds by absence."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from nublet.core.design.areas import PanelSize, Section
from nublet.core.design.cutting import BoardCut, Saw
from nublet.core.design.drawn import Spot
from nublet.core.materials.sheet import Step
from nublet.formats.sheets.page import Page, Paper


@dataclass(frozen=True, kw_only=True)
class SheetPanel:
    """A panel by its code, with where things go on it, mm from its lower left corner."""

    code: str
    sections: tuple[Section, ...]
    spots: tuple[Spot, ...]


@dataclass(frozen=True, kw_only=True)
class SheetBoard:
    """A board as it is cut, with the codes of its panels in the order of cutting."""

    name: str
    wood: str
    cut: BoardCut
    codes: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class PreparationGroup:
    """Panels that are prepared alike, and how."""

    codes: tuple[str, ...]
    steps: tuple[Step, ...]


@dataclass(frozen=True, kw_only=True)
class TrialSheets:
    """All that the sheets of a trial show. ``exposure_names`` are short, by exposure; ``slips`` are codes of pieces of glass."""

    trial: str
    fingerprint: str
    size: PanelSize
    saw: Saw
    boards: tuple[SheetBoard, ...]
    panels: tuple[SheetPanel, ...]
    groups: tuple[PreparationGroup, ...]
    exposure_names: Mapping[str, str]
    slips: tuple[str, ...] = ()


Pages = Callable[[TrialSheets, Paper], Sequence[Page]]
