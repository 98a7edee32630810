"""Pages to files: one PDF, or a ZIP of one SVG a page."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable, Sequence
from html import escape

from nublet.formats.sheets.lettering import font_faces
from nublet.formats.sheets.page import Page

# Pages that are laid out between two words on how far it is.
_AT_ONCE = 8


def write_pdf(pages: Sequence[Page], *, title: str, tell: Callable[[int, int], None] | None = None) -> bytes:
    """One PDF at true size, its text as text and its typeface inside.

    Parameters
    ----------
    pages : sequence of Page
    title : str
    tell : callable or None
        Told after every few pages how many of how many are laid out; what it raises breaks off.
    """
    from weasyprint import CSS, HTML  # here, because it takes a second to load
    from weasyprint.text.fonts import FontConfiguration

    fonts = FontConfiguration()
    kinds = {(page.paper.width_mm, page.paper.height_mm): f"p{index}" for index, page in enumerate(pages)}
    rules = "".join(f"@page {name}{{size:{w}mm {h}mm;margin:0}}" for (w, h), name in kinds.items())
    style = CSS(
        string=f"{font_faces(embedded=False)}{rules}body{{margin:0}}svg{{display:block}}div{{break-after:page}}"
        "div:last-child{break-after:auto}",
        font_config=fonts,
    )
    documents = []
    for first in range(0, len(pages), _AT_ONCE):
        some = pages[first : first + _AT_ONCE]
        body = "".join(
            f'<div style="page:{kinds[page.paper.width_mm, page.paper.height_mm]}">{page.svg()}</div>'
            for page in some
        )
        html = f'<html lang="en"><head><meta charset="utf-8"><title>{escape(title)}</title></head><body>{body}</body></html>'
        documents.append(HTML(string=html).render(stylesheets=[style], font_config=fonts))
        if tell is not None:
            tell(first + len(some), len(pages))
    whole = documents[0].copy([page for document in documents for page in document.pages])
    pdf: bytes = whole.write_pdf()
    return pdf


def write_svgs(pages: Sequence[Page]) -> list[str]:
    """One SVG a page, each with the typeface inside."""
    style = font_faces(embedded=True)
    return [page.svg(style) for page in pages]


def zip_svgs(pages: Sequence[Page], *, name: str) -> bytes:
    """The SVGs in a ZIP, as ``name-01.svg`` and so on."""
    buffer = io.BytesIO()
    digits = max(2, len(str(len(pages))))
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for number, svg in enumerate(write_svgs(pages), start=1):
            # A fixed time, so that the same sheets are the same file.
            archive.writestr(zipfile.ZipInfo(f"{name}-{number:0{digits}}.svg"), svg)
    return buffer.getvalue()
