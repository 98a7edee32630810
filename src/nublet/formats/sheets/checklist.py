"""The preparation checklist: panels that are prepared alike, the steps, and a box for each panel at each step."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain

from nublet.core.materials.cautions import CAUTIONS, DEFERS
from nublet.core.materials.sheet import Step
from nublet.formats.sheets.lettering import width_of, wrap
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
from nublet.formats.sheets.trial_sheets import PreparationGroup, SheetPanel, TrialSheets

_LINE_MM = 4.6
_ROW_MM = 6.0
_BOX_MM = 4.0
_CODE_MM = 16.0
_MOISTURE_MM = 22.0
_STEP_MM = 9.0
_FIRST_STEPS = (
    Step(kind="prepare", title="Cut and square", says="Ease the edges; wipe the saw dust off."),
    Step(kind="prepare", title="Label the back", says="The code and nothing else."),
    Step(kind="prepare", title="Measure the moisture", says="With the grain; write it down before sanding."),
)
_MASK = Step(
    kind="prepare", title="Mask the sections", says="By the template; which is which stands under Sections."
)


def checklist_pages(sheets: TrialSheets, paper: Paper) -> list[Page]:
    """One group after the other; a group that does not fit goes on overleaf with its columns named again."""
    writer = _Writer(sheets, paper)
    panels = {panel.code: panel for panel in sheets.panels}
    for number, group in enumerate(sheets.groups):
        writer.group(chr(ord("A") + number) if len(sheets.groups) <= 26 else str(number + 1), group, panels)
    if sheets.groups:
        writer.lines(DEFERS, ink=FAINT)
    return number_pages(writer.pages, fingerprint=sheets.fingerprint)


class _Writer:
    """Writes down the page, and on to the next when it is full."""

    def __init__(self, sheets: TrialSheets, paper: Paper) -> None:
        self.sheets, self.paper = sheets, paper
        self.pages: list[Page] = []
        self.bottom = CONTENT_TOP_MM + content_height(paper)
        self.y = self.bottom

    def room(self, height: float) -> Page:
        """The page with so much room left on it, a new one when needed."""
        if not self.pages or self.y + height > self.bottom:
            self.pages.append(start_page(self.paper, title="Preparation", trial=self.sheets.trial))
            self.y = CONTENT_TOP_MM
        return self.pages[-1]

    def lines(self, words: str, *, indent: float = 0.0, weight: int = 400, ink: str = "#1d2226") -> None:
        """Wrapped words."""
        for line in wrap(words, 3.4, self.paper.width_mm - 2 * EDGE_MM - indent):
            page = self.room(_LINE_MM)
            page.text(EDGE_MM + indent, self.y + 3.4, line, size=3.4, weight=weight, ink=ink)
            self.y += _LINE_MM

    def group(self, letter: str, group: PreparationGroup, panels: dict[str, SheetPanel]) -> None:
        """One group: what to do, with the cautions at their step, and the boxes."""
        has_sections = any(panels[code].sections for code in group.codes if code in panels)
        steps = [*_FIRST_STEPS, *group.steps, *([_MASK] if has_sections else [])]
        self.room(6 + 2 * _LINE_MM + 3 * _ROW_MM)
        n = len(group.codes)
        self.pages[-1].text(
            EDGE_MM, self.y + 4.5, f"Group {letter}: {n} panel{'' if n == 1 else 's'}", size=4.4, weight=700
        )
        self.y += 7
        for number, step in enumerate(steps, start=1):
            self.lines(f"{number}  {step.title}. {step.says}".strip())
            for caution in step.cautions:
                known = CAUTIONS[caution]
                self.lines(f"Caution: {known.says} {known.do}", indent=5, weight=600)
        self.y += 2
        self._boxes(steps, group.codes, self._sections(steps, group.codes, panels) if has_sections else {})
        self.y += 6

    def _sections(
        self, steps: Sequence[Step], codes: Sequence[str], panels: dict[str, SheetPanel]
    ) -> dict[str, str]:
        """What lies in each section of each panel, by name where the names fit, else by letters that are told first."""
        lies = {code: [section.name for section in panels[code].sections] for code in codes if code in panels}
        named = {
            code: ", ".join(f"{i} {name}" for i, name in enumerate(own, start=1))
            for code, own in lies.items()
        }
        if all(width_of(words, 3.2) <= self._notes_width(steps) for words in named.values()):
            return named
        letters = {name: _letters(number) for number, name in enumerate(sorted(set(chain(*lies.values()))))}
        self.lines("Sections: " + ", ".join(f"{letter} = {name}" for name, letter in letters.items()))
        self.y += 2
        return {
            code: " ".join(f"{i}:{letters[name]}" for i, name in enumerate(own, start=1))
            for code, own in lies.items()
        }

    def _notes_width(self, steps: Sequence[Step]) -> float:
        return self.paper.width_mm - 2 * EDGE_MM - _CODE_MM - _MOISTURE_MM - len(steps) * _STEP_MM

    def _boxes(self, steps: Sequence[Step], codes: Sequence[str], sections: dict[str, str]) -> None:
        ordered = sorted(codes)
        for index, code in enumerate(ordered):
            if index == 0 or self.y + _ROW_MM > self.bottom:
                self.room(2 * _ROW_MM)
                self._columns(steps, named=bool(sections))
            notes = wrap(sections.get(code, ""), 3.2, self._notes_width(steps))
            height = max(_ROW_MM, _ROW_MM + (len(notes) - 1) * _LINE_MM)
            page = self.room(height)
            page.line(EDGE_MM, self.y, self.paper.width_mm - EDGE_MM, self.y, width=0.1, ink=FAINT)
            page.text(EDGE_MM, self.y + 4.3, code, size=3.8, weight=700)
            page.line(EDGE_MM + _CODE_MM, self.y + 4.8, EDGE_MM + _CODE_MM + 12, self.y + 4.8, width=0.15)
            page.text(EDGE_MM + _CODE_MM + 13, self.y + 4.3, "%", size=3.2)
            for number in range(len(steps)):
                x = EDGE_MM + _CODE_MM + _MOISTURE_MM + number * _STEP_MM
                page.rect(x, self.y + 1, _BOX_MM, _BOX_MM)
            x = EDGE_MM + _CODE_MM + _MOISTURE_MM + len(steps) * _STEP_MM
            for line, words in enumerate(notes):
                page.text(x, self.y + 4.3 + line * _LINE_MM, words, size=3.2)
            self.y += height

    def _columns(self, steps: Sequence[Step], *, named: bool) -> None:
        page = self.pages[-1]
        page.text(EDGE_MM, self.y + 4.3, "Code", size=3, ink=FAINT)
        page.text(EDGE_MM + _CODE_MM, self.y + 4.3, "Moisture", size=3, ink=FAINT)
        for number in range(len(steps)):
            x = EDGE_MM + _CODE_MM + _MOISTURE_MM + number * _STEP_MM
            page.text(x + _BOX_MM / 2, self.y + 4.3, str(number + 1), size=3, ink=FAINT, anchor="middle")
        x = EDGE_MM + _CODE_MM + _MOISTURE_MM + len(steps) * _STEP_MM
        page.text(x, self.y + 4.3, "Sections" if named else "Notes", size=3, ink=FAINT)
        self.y += _ROW_MM


def _letters(number: int) -> str:
    """A to z, then aa and on."""
    return chr(ord("a") + number) if number < 26 else _letters(number // 26 - 1) + chr(ord("a") + number % 26)
