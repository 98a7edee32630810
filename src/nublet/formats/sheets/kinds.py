"""The sheets that there are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.errors import NubletError
from nublet.formats.sheets.checklist import checklist_pages
from nublet.formats.sheets.cutting_list import cutting_pages
from nublet.formats.sheets.labels import label_pages
from nublet.formats.sheets.page import Page, Paper
from nublet.formats.sheets.templates import template_pages
from nublet.formats.sheets.trial_sheets import Pages, TrialSheets

# Seventy milliseconds each: the answer must come before the browser gives up.
MAX_PAGES = 240


@dataclass(frozen=True, kw_only=True)
class SheetKind:
    """A kind of sheet: its id, its name, and how its pages are drawn."""

    id: str
    name: str
    pages: Pages


SHEET_KINDS = {
    kind.id: kind
    for kind in (
        SheetKind(
            id="labels",
            name="Panel labels",
            pages=label_pages,
        ),
        SheetKind(
            id="templates",
            name="Masking and spot templates",
            pages=template_pages,
        ),
        SheetKind(
            id="cutting-list",
            name="Cutting list",
            pages=cutting_pages,
        ),
        SheetKind(
            id="preparation",
            name="Preparation checklist",
            pages=checklist_pages,
        ),
    )
}


def draw_sheets(kind_id: str, sheets: TrialSheets, paper: Paper) -> Sequence[Page]:
    """Draw one kind of a trial's sheets. Raises ``NubletError`` when there is nothing to draw."""
    pages = SHEET_KINDS[kind_id].pages(sheets, paper)
    if not pages:
        raise NubletError("There is nothing to print yet. Draw lots under Design first.")
    if len(pages) > MAX_PAGES:
        raise NubletError(
            f"That is {len(pages)} sheets; {MAX_PAGES} is the most at once. Print one board after the other.",
            field="board",
        )
    return pages
