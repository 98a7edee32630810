"""Printed sheets, read back from the PDF and the SVG: true size, real text, and nothing that breaks the blind."""

from __future__ import annotations

import io
import re
import xml.etree.ElementTree as ET
import zipfile
from collections.abc import Iterator, Sequence
from functools import cache
from itertools import pairwise
from typing import Any

import pdfplumber
import pytest
import segno
from pdfminer.pdftypes import resolve1

from nublet.core.design.areas import PanelSize, Section
from nublet.core.design.cutting import Board, Defect, Saw, cut_board
from nublet.core.design.trial_design import Design, DesignSpec, draw_design
from nublet.core.errors import NubletError
from nublet.core.materials.mixes import Work
from nublet.core.materials.recipes import simple_recipe
from nublet.core.materials.sheet import preparation_steps
from nublet.formats.sheets.kinds import SHEET_KINDS, draw_sheets
from nublet.formats.sheets.lettering import shorten, width_of, wrap
from nublet.formats.sheets.page import CHECK_LINE_MM, EDGE_MM, PAPERS, PaperName, paper_named
from nublet.formats.sheets.templates import OVERLAP_MM, lay_tiles
from nublet.formats.sheets.trial_sheets import PreparationGroup, SheetBoard, SheetPanel, TrialSheets
from nublet.formats.sheets.writing import write_pdf, write_svgs, zip_svgs
from tests.core.builders import exposure

POINTS_PER_MM = 72 / 25.4
BUILD_UPS = ("Marrowby Tung", "Skarn Satin", "Bare control")
SECTIONS = ("waxed", "left bare")
SIZE = PanelSize(length_mm=320, width_mm=150)
SAW = Saw(kerf_mm=3, end_trim_mm=20, end_piece_mm=40)


@cache
def design() -> Design:
    return draw_design(
        DesignSpec(
            build_ups=BUILD_UPS,
            boards=(
                Board(id="Beech 1", species="beech", length_mm=1300, width_mm=160),
                Board(
                    id="Beech 2",
                    species="beech",
                    length_mm=1400,
                    width_mm=160,
                    defects=(Defect(from_mm=400, to_mm=450, kind="knot"),),
                ),
            ),
            exposures=(
                exposure("wine-1h", agent="red wine"),
                exposure("water-6h", agent="water"),
                exposure("ammonia-1h", agent="ammonia"),
            ),
            size=SIZE,
            sections=SECTIONS,
            faces="both",
            saw=SAW,
            seed=3,
        )
    )


def sheets(**changed: Any) -> TrialSheets:
    drawn = design()
    boards = []
    for board in drawn.spec.boards:
        codes = tuple(panel.code for panel in drawn.panels if panel.board == board.id)
        cut = cut_board(board, len(codes), SIZE, SAW)
        boards.append(SheetBoard(name=board.id, wood="Beech", cut=cut, codes=codes))
    recipe = simple_recipe("pure-drying-oil", 3)
    codes = tuple(panel.code for panel in drawn.panels)
    fields: dict[str, Any] = {
        "trial": "Saloon tables",
        "fingerprint": drawn.fingerprint,
        "size": SIZE,
        "saw": SAW,
        "boards": tuple(boards),
        "panels": tuple(
            SheetPanel(code=panel.code, sections=panel.sections, spots=panel.spots) for panel in drawn.panels
        ),
        "groups": (
            PreparationGroup(
                codes=codes, steps=tuple(preparation_steps(recipe, Work(n_panels=3, face_m2=0.05)))
            ),
        ),
        "exposure_names": {"wine-1h": "Wine 1 h", "water-6h": "Water 6 h", "ammonia-1h": "Ammonia 1 h"},
    }
    return TrialSheets(**(fields | changed))


@cache
def printed(kind: str, paper: PaperName) -> bytes:
    return write_pdf(draw_sheets(kind, sheets(), paper_named(paper)), title=kind)


def pages_of(pdf: bytes) -> Iterator[Any]:
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        yield from document.pages


def read(page: Any) -> str:
    # Letters are placed one by one: a gap is told from the letters' own size.
    return str(page.extract_text(x_tolerance_ratio=0.2))


def text_of(pdf: bytes) -> str:
    return "\n".join(read(page) for page in pages_of(pdf))


EVERY = [(kind, paper) for kind in SHEET_KINDS for paper in PAPERS]


@pytest.mark.parametrize(("kind", "paper"), EVERY)
def test_every_page_has_a_check_line_of_a_hundred_millimetres_at_its_papers_size(
    kind: str, paper: PaperName
) -> None:
    sides = {PAPERS[paper].width_mm, PAPERS[paper].height_mm}
    for page in pages_of(printed(kind, paper)):
        assert {
            round(float(page.width) / POINTS_PER_MM, 1),
            round(float(page.height) / POINTS_PER_MM, 1),
        } == sides
        lengths = [(line["x1"] - line["x0"]) / POINTS_PER_MM for line in page.lines]
        foot = [
            length
            for length, line in zip(lengths, page.lines, strict=True)
            if (float(page.height) - line["top"]) / POINTS_PER_MM < EDGE_MM + 3 and length > 5
        ]
        assert foot == [pytest.approx(CHECK_LINE_MM, abs=0.2)]
        assert "This line is 100 mm long" in read(page)


@pytest.mark.parametrize(("kind", "paper"), EVERY)
def test_text_is_text_in_embedded_fonts_and_names_no_build_up(kind: str, paper: PaperName) -> None:
    pdf = printed(kind, paper)
    text = text_of(pdf)
    assert all(panel.code in text for panel in design().panels)
    assert not [name for name in BUILD_UPS if name in text]
    embedded = 0
    for page in pages_of(pdf):
        for font in resolve1(page.page_obj.resources["Font"]).values():
            descendant = resolve1(resolve1(resolve1(font)["DescendantFonts"])[0])
            descriptor = resolve1(descendant["FontDescriptor"])
            assert "FontFile2" in descriptor or "FontFile3" in descriptor
            embedded += 1
    assert embedded


def test_what_a_judge_may_hold_names_no_section_and_no_board() -> None:
    for kind in ("labels", "templates"):
        text = text_of(printed(kind, "a4"))
        assert not [name for name in (*SECTIONS, "Beech") if name in text], kind


def test_the_preparation_checklist_says_which_section_is_which() -> None:
    text = text_of(printed("preparation", "a4"))
    for panel in design().panels:
        named = ", ".join(
            f"{number} {section.name}" for number, section in enumerate(panel.sections, start=1)
        )
        assert re.search(rf"{panel.code}.*{named}", text)
    assert "Sand 80-120-180" in text
    assert "Wood dust harms the lungs" in text


def long_panel(n: int, size: PanelSize) -> SheetPanel:
    """A panel of sections side by side whose names do not fit on one line together."""
    each = size.length_mm / n
    return SheetPanel(
        code="K7",
        sections=tuple(
            Section(
                name=f"{i} coats · hard topcoat",
                x_mm=i * each,
                y_mm=0,
                length_mm=each,
                width_mm=size.width_mm,
            )
            for i in range(n)
        ),
        spots=(),
    )


def test_sections_whose_names_do_not_fit_stand_by_letters_that_are_told_first() -> None:
    for n in (9, 24):
        panel = long_panel(n, SIZE)
        group = PreparationGroup(codes=("K7",), steps=())
        pages = draw_sheets("preparation", sheets(panels=(panel,), groups=(group,)), paper_named("a4"))
        text = " ".join(text_of(write_pdf(pages, title="x")).split())
        told = dict(re.findall(r"(\w+) = (\d+ coats · hard topcoat)", text))
        row = re.findall(r"\b(\d+):([a-z]+)\b", text)
        assert [int(number) for number, _ in row] == list(range(1, n + 1))
        assert [told[letter] for _, letter in row] == [section.name for section in panel.sections]


def test_a_sheet_of_a_template_names_the_sections_that_are_seen_on_it() -> None:
    size = PanelSize(length_mm=1400, width_mm=420)
    panel = long_panel(9, size)
    pages = draw_sheets("templates", sheets(size=size, panels=(panel,)), paper_named("a4"))
    tiles = lay_tiles(size, paper_named("a4"))[1]
    assert len(pages) == len(tiles)
    seen = []
    for page, tile in zip(pages_of(write_pdf(pages, title="x")), tiles, strict=True):
        named = [int(number) for number in re.findall(r"Section (\d+)", read(page))]
        meets = [
            number
            for number, section in enumerate(panel.sections, start=1)
            if section.x_mm < tile.x_mm + tile.width_mm and section.x_mm + section.length_mm > tile.x_mm
        ]
        # A strip too narrow for its name is named on the sheet beside.
        assert named == [number for number in meets if number in named]
        seen += named
    assert set(seen) == set(range(1, 10))


def test_the_cutting_list_gives_every_cut_and_what_to_saw_around() -> None:
    text = text_of(printed("cutting-list", "a4"))
    assert "Saw around: knot 400 to 450." in text
    for panel in design().panels:
        end = panel.offset_mm + SIZE.length_mm
        row = rf"{panel.position} {panel.code} {panel.row + 1} {panel.offset_mm:g} {end:g} {end + 3:g} to {end + 43:g}"
        assert re.search(row, text), row


def test_a_short_board_says_so_on_the_cutting_list() -> None:
    short = Board(id="Beech 1", species="beech", length_mm=900, width_mm=160)
    board = SheetBoard(
        name="Beech 1", wood="Beech", cut=cut_board(short, 3, SIZE, SAW), codes=("K7", "M3", "T9")
    )
    text = text_of(write_pdf(draw_sheets("cutting-list", sheets(boards=(board,)), PAPERS["a4"]), title="x"))
    assert "mm short: it gives 2 of 3 panels" in text
    assert "T9 does not fit on this board" in text


def test_rings_are_printed_at_their_true_size_and_place() -> None:
    tiles = lay_tiles(SIZE, PAPERS["a4"])[1]
    assert len(tiles) == 2
    pages = list(pages_of(printed("templates", "a4")))
    # Six panels, two faces, two sheets each.
    assert len(pages) == len(design().panels) * 2 * 2
    panel = min(design().panels, key=lambda panel: panel.code)
    left, top = EDGE_MM, EDGE_MM + 9
    on_front = [spot for spot in panel.spots if spot.side == "front" and spot.x_mm + 20 < tiles[0].width_mm]
    assert on_front
    circles = [
        (
            (curve["x0"] + curve["x1"]) / 2 / POINTS_PER_MM - left,
            tiles[0].height_mm - ((curve["top"] + curve["bottom"]) / 2 / POINTS_PER_MM - top),
            (curve["x1"] - curve["x0"]) / POINTS_PER_MM,
        )
        for curve in pages[0].curves
    ]
    for spot in on_front:
        assert any(
            circle == pytest.approx((spot.x_mm, spot.y_mm, spot.diameter_mm), abs=0.1) for circle in circles
        ), (spot, circles)


@pytest.mark.parametrize("paper", PAPERS)
@pytest.mark.parametrize(("length", "width"), [(400, 150), (150, 100), (900, 300), (250, 185)])
def test_tiles_cover_the_panel_and_fit_on_the_paper(paper: PaperName, length: float, width: float) -> None:
    turned, tiles = lay_tiles(PanelSize(length_mm=length, width_mm=width), PAPERS[paper])
    assert all(tile.width_mm <= turned.width_mm - 2 * EDGE_MM for tile in tiles)
    for x in range(0, int(length), 5):
        for y in range(0, int(width), 5):
            assert any(
                tile.x_mm - 1e-9 <= x <= tile.x_mm + tile.width_mm
                and tile.y_mm - 1e-9 <= y <= tile.y_mm + tile.height_mm
                for tile in tiles
            )
    columns = sorted({(tile.x_mm, tile.width_mm) for tile in tiles})
    for (start, wide), (following, _) in pairwise(columns):
        assert start + wide - following == pytest.approx(OVERLAP_MM)


def test_a_label_carries_the_code_and_a_qr_code_of_the_code_alone() -> None:
    pages = draw_sheets("labels", sheets(), PAPERS["a4"])
    codes = sorted(panel.code for panel in design().panels)
    paths = [part for page in pages for part in page.parts if part.startswith("<path")]
    # A second label for each end-grain piece.
    assert len(paths) == 2 * len(codes)
    for code, path in zip([code for code in codes for _ in range(2)], paths, strict=True):
        assert _modules(path) == [
            [bool(dark) for dark in row] for row in segno.make_qr(code, error="m").matrix
        ]
    assert text_of(printed("labels", "a4")).count("End grain") == len(codes)


def _modules(path: str) -> list[list[bool]]:
    """The QR code's modules, read back from the path."""
    stroke = float(re.findall(r'stroke-width="([\d.]+)"', path)[0])
    runs = [tuple(map(float, run)) for run in re.findall(r"M([\d.]+) ([\d.]+)h([\d.]+)", path)]
    left, top = min(run[0] for run in runs), min(run[1] for run in runs)
    n = 1 + max(round((x + length - left) / stroke) - 1 for x, _, length in runs)
    matrix = [[False] * n for _ in range(n)]
    for x, y, length in runs:
        start = round((x - left) / stroke)
        for column in range(start, start + round(length / stroke)):
            matrix[round((y - top) / stroke)][column] = True
    return matrix


def test_svg_has_the_same_pages_at_true_size_with_the_typeface_inside() -> None:
    pages = draw_sheets("templates", sheets(), PAPERS["letter"])
    name = "{http://www.w3.org/2000/svg}"
    svgs: Sequence[str] = write_svgs(pages)
    assert len(svgs) == len(pages)
    root = ET.fromstring(svgs[0])
    width, height = (root.get(side) or "" for side in ("width", "height"))
    assert root.get("viewBox") == f"0 0 {width.removesuffix('mm')} {height.removesuffix('mm')}"
    lengths = [float(line.get("x2") or 0) - float(line.get("x1") or 0) for line in root.iter(f"{name}line")]
    assert CHECK_LINE_MM in lengths
    assert "font/woff2;base64," in svgs[0]
    with zipfile.ZipFile(io.BytesIO(zip_svgs(pages, name="saloon-templates"))) as archive:
        assert archive.namelist()[0] == "saloon-templates-01.svg"
        assert archive.read("saloon-templates-01.svg").decode() == svgs[0]


def test_words_are_escaped() -> None:
    pages = draw_sheets("labels", sheets(trial='Tables <b> & "Counters"'), PAPERS["a4"])
    assert 'Tables <b> & "Counters"' in text_of(write_pdf(pages, title="A <b> & c"))
    ET.fromstring(pages[0].svg())


def test_words_are_measured_wrapped_and_cut_off() -> None:
    assert width_of("WWW", 10) > width_of("iii", 10) > 0
    lines = wrap("Sand along the grain with a fresh sheet for each panel", 3.4, 30)
    assert " ".join(lines) == "Sand along the grain with a fresh sheet for each panel"
    assert all(width_of(line, 3.4) <= 30 for line in lines)
    short = shorten("waxed, left bare, oiled twice", 3.4, 20)
    assert short.endswith("…")
    assert width_of(short, 3.4) <= 20


def test_what_cannot_be_printed_is_refused() -> None:
    with pytest.raises(NubletError, match="no paper 'a0'"):
        paper_named("a0")
    with pytest.raises(NubletError, match="nothing to print"):
        draw_sheets("labels", sheets(panels=()), PAPERS["a4"])
    many = sheets(panels=sheets().panels * 30)
    with pytest.raises(NubletError, match="Print one board after the other"):
        draw_sheets("templates", many, PAPERS["a4"])
