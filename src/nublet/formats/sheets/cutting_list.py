"""The cutting list: each board to scale with its panels, and where the saw goes in figures."""

from __future__ import annotations

from nublet.formats.sheets.lettering import shorten
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
from nublet.formats.sheets.trial_sheets import SheetBoard, TrialSheets

WOOD, DEFECT = "#ead9bd", "#8a5a44"
_ROW_MM = 5.2
_TALLEST_DRAWING_MM = 22.0
_BLOCK_GAP_MM = 6.0
_COLUMNS = (
    ("No.", 0.0), ("Code", 12.0), ("Lane", 32.0), ("From", 48.0), ("To", 68.0), ("End grain", 88.0), ("Done", 122.0),
)  # fmt: skip


def cutting_pages(sheets: TrialSheets, paper: Paper) -> list[Page]:
    """Boards one below the other, none torn apart."""
    pages: list[Page] = []
    bottom = CONTENT_TOP_MM + content_height(paper)
    y = bottom
    scale = (paper.width_mm - 2 * EDGE_MM) / max((_length(board) for board in sheets.boards), default=1.0)
    for board in sheets.boards:
        height = _height(board, sheets, scale)
        if not pages or y + height > bottom:
            pages.append(start_page(paper, title="Cutting list", trial=sheets.trial))
            y = CONTENT_TOP_MM
            page = pages[-1]
            page.text(EDGE_MM, y + 3, _about(sheets), size=3.4)
            y += 8
        _draw(pages[-1], sheets, board, y, scale)
        y += height + _BLOCK_GAP_MM
    return number_pages(pages, fingerprint=sheets.fingerprint)


def _about(sheets: TrialSheets) -> str:
    piece = f", end-grain pieces {sheets.saw.end_piece_mm:g} mm" if sheets.saw.end_piece_mm else ""
    return (
        f"Panels {sheets.size.length_mm:g} × {sheets.size.width_mm:g} mm, grain along the length{piece}. "
        f"Kerf {sheets.saw.kerf_mm:g} mm, ends trimmed {sheets.saw.end_trim_mm:g} mm. All in mm from the left end."
    )


def _length(board: SheetBoard) -> float:
    return max(board.cut.board.length_mm or 0.0, board.cut.needed_mm)


def _drawn_scale(board: SheetBoard, sheets: TrialSheets, scale: float) -> float:
    """The common scale, or a smaller one for a board that would be drawn too tall."""
    return min(scale, _TALLEST_DRAWING_MM / _width(board, sheets))


def _width(board: SheetBoard, sheets: TrialSheets) -> float:
    return board.cut.board.width_mm or sheets.size.width_mm


def _remarks(board: SheetBoard) -> list[str]:
    """What is wrong with a board, and what to saw around."""
    avoid = [f"{d.kind} {d.from_mm:g} to {d.to_mm:g}" for d in board.cut.board.defects]
    return [*filter(None, [board.cut.says]), *([f"Saw around: {', '.join(avoid)}."] if avoid else [])]


def _height(board: SheetBoard, sheets: TrialSheets, scale: float) -> float:
    drawing = _width(board, sheets) * _drawn_scale(board, sheets, scale)
    return 6 + (len(_remarks(board)) + len(board.codes) + 1) * _ROW_MM + drawing + 2


def _draw(page: Page, sheets: TrialSheets, board: SheetBoard, y: float, scale: float) -> None:
    cut, size = board.cut, sheets.size
    measured = cut.board.length_mm is not None
    measures = (
        f"{cut.board.length_mm:g} × {cut.board.width_mm or size.width_mm:g} mm"
        if measured
        else f"not measured: at least {cut.needed_mm:g} mm long"
    )
    page.text(EDGE_MM, y + 4, board.name, size=4.2, weight=700)
    page.text(page.paper.width_mm - EDGE_MM, y + 4, f"{board.wood}, {measures}", size=3.4, anchor="end")
    y += 6
    for remark in _remarks(board):
        page.text(EDGE_MM, y + 3, shorten(remark, 3.4, page.inner_width), size=3.4, weight=700)
        y += _ROW_MM
    length, width = _length(board), _width(board, sheets)
    drawn = _drawn_scale(board, sheets, scale)
    page.rect(EDGE_MM, y, length * drawn, width * drawn, fill=WOOD, dash="" if measured else "1.5 1")
    for defect in cut.board.defects:
        start, end = min(defect.from_mm, length), min(defect.to_mm, length)
        page.rect(EDGE_MM + start * drawn, y, (end - start) * drawn, width * drawn, fill=DEFECT, stroke=0)
    for code, place in zip(board.codes, cut.places, strict=False):
        lane_y = (
            y + width * drawn - (place.row * (size.width_mm + sheets.saw.kerf_mm) + size.width_mm) * drawn
        )
        x = EDGE_MM + place.offset_mm * drawn
        page.rect(x, lane_y, size.length_mm * drawn, size.width_mm * drawn, fill="#ffffff", stroke=0.25)
        page.text(
            x + size.length_mm * drawn / 2,
            lane_y + size.width_mm * drawn / 2 + 1.1,
            code,
            size=min(3.2, size.length_mm * drawn / 3),
            anchor="middle",
            weight=700,
        )
        if sheets.saw.end_piece_mm:
            page.rect(
                x + (size.length_mm + sheets.saw.kerf_mm) * drawn,
                lane_y,
                sheets.saw.end_piece_mm * drawn,
                size.width_mm * drawn,
                fill="#f7efe1",
                stroke=0.15,
            )
    _table(page, sheets, board, y + width * drawn + 2)


def _table(page: Page, sheets: TrialSheets, board: SheetBoard, y: float) -> None:
    for title, x in _COLUMNS:
        if title == "End grain" and not sheets.saw.end_piece_mm:
            continue
        page.text(EDGE_MM + x, y + 3, title, size=3, ink=FAINT)
    y += _ROW_MM
    for number, code in enumerate(board.codes, start=1):
        place = board.cut.places[number - 1] if number <= len(board.cut.places) else None
        page.line(EDGE_MM, y - 1, EDGE_MM + 132, y - 1, width=0.1, ink=FAINT)
        cells = [str(number), code]
        if place is None:
            cells += ["", "does not fit on this board"]
        else:
            end = place.offset_mm + sheets.size.length_mm
            cells += [str(place.row + 1), f"{place.offset_mm:g}", f"{end:g}"]
            if sheets.saw.end_piece_mm:
                start = end + sheets.saw.kerf_mm
                cells.append(f"{start:g} to {start + sheets.saw.end_piece_mm:g}")
        for (_, x), cell in zip(_COLUMNS, cells, strict=False):
            page.text(EDGE_MM + x, y + 3, cell, size=3.4)
        page.rect(EDGE_MM + _COLUMNS[-1][1], y, 3.4, 3.4)
        y += _ROW_MM
