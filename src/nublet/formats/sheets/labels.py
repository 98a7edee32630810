"""Panel labels: the code in large letters, and the same as a QR code. Nothing else, so that the blind holds."""

from __future__ import annotations

from itertools import groupby

import segno

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
from nublet.formats.sheets.trial_sheets import TrialSheets

LABEL_WIDTH_MM, LABEL_HEIGHT_MM = 60.0, 30.0
QR_MM = 22.0
_QUIET_MODULES = 4


def label_pages(sheets: TrialSheets, paper: Paper) -> list[Page]:
    """Labels in the order of their codes, a second one for the end-grain piece where there is one; then those of slips."""
    with_pieces = sheets.saw.end_piece_mm > 0
    labels = [
        (code, note)
        for code in sorted(panel.code for panel in sheets.panels)
        for note in (("", "End grain") if with_pieces else ("",))
    ]
    labels += [(code, "Glass") for code in sorted(sheets.slips)]
    columns = int((paper.width_mm - 2 * EDGE_MM) // LABEL_WIDTH_MM)
    rows = int(content_height(paper) // LABEL_HEIGHT_MM)
    pages: list[Page] = []
    for index, (code, note) in enumerate(labels):
        place = index % (columns * rows)
        if place == 0:
            pages.append(start_page(paper, title="Panel labels", trial=sheets.trial))
        x = EDGE_MM + (place % columns) * LABEL_WIDTH_MM
        y = CONTENT_TOP_MM + (place // columns) * LABEL_HEIGHT_MM
        _draw(pages[-1], x, y, code, note)
    return number_pages(pages, fingerprint=sheets.fingerprint)


def draw_qr(page: Page, content: str, x: float, y: float, size: float) -> None:
    """Draw a QR code, its quiet zone inside the square of ``size``: each row's dark runs as strokes of a path."""
    rows = [list(row) for row in segno.make_qr(content, error="m").matrix]
    module = size / (len(rows) + 2 * _QUIET_MODULES)
    data = []
    for number, row in enumerate(rows):
        column = 0
        for dark, group in groupby(row):
            length = len(list(group))
            if dark:
                left = x + (_QUIET_MODULES + column) * module
                middle = y + (_QUIET_MODULES + number + 0.5) * module
                data.append(f"M{left:.3f} {middle:.3f}h{length * module:.3f}")
            column += length
    page.path("".join(data), stroke=round(module, 4))


def _draw(page: Page, x: float, y: float, code: str, note: str) -> None:
    page.rect(x, y, LABEL_WIDTH_MM, LABEL_HEIGHT_MM, ink=FAINT, dash="1 1")
    draw_qr(page, code, x + LABEL_WIDTH_MM - QR_MM - 3, y + (LABEL_HEIGHT_MM - QR_MM) / 2, QR_MM)
    middle = x + (LABEL_WIDTH_MM - QR_MM - 3) / 2
    page.text(middle, y + LABEL_HEIGHT_MM / 2 + 5, code, size=14, weight=700, anchor="middle")
    if note:
        page.text(middle, y + LABEL_HEIGHT_MM - 4, note, size=3.2, anchor="middle")
