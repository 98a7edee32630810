"""The sheets' typeface: its files, and how wide words are in it."""

from __future__ import annotations

import base64
from functools import cache
from pathlib import Path
from typing import Any

FONTS = Path(__file__).with_name("fonts")
FACES = {
    "Nublet Sans": FONTS / "atkinson-hyperlegible-next-latin.woff2",
    "Nublet Sans Ext": FONTS / "atkinson-hyperlegible-next-latin-ext.woff2",
}
_UNKNOWN_WIDTH = 0.6  # of the size, for a letter that the typeface does not have


def font_faces(*, embedded: bool) -> str:
    """CSS that declares the typeface, by its files or, ``embedded``, with all of it inside."""
    # Browsers must be told of a variable typeface's weights; the PDF's writer finds them and refuses to be told.
    weights = "font-weight:200 800;" if embedded else ""
    return "".join(
        f'@font-face{{font-family:"{family}";{weights}src:url({_source(path, embedded)})}}'
        for family, path in FACES.items()
    )


def width_of(words: str, size: float) -> float:
    """How wide words of a size are in the regular weight, in the unit of ``size``."""
    return size * sum(_widths().get(ord(letter), _UNKNOWN_WIDTH) for letter in words)


def wrap(words: str, size: float, width: float) -> list[str]:
    """Break words into lines no wider than ``width``; a single word that is wider stands alone."""
    lines: list[str] = []
    for word in words.split():
        if lines and width_of(f"{lines[-1]} {word}", size) <= width:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    return lines


def shorten(words: str, size: float, width: float) -> str:
    """Words no wider than ``width``, cut off with dots."""
    if width_of(words, size) <= width:
        return words
    while words and width_of(f"{words}…", size) > width:
        words = words[:-1].rstrip()
    return f"{words}…"


def _source(path: Path, embedded: bool) -> str:
    if not embedded:
        return path.as_uri()
    return "data:font/woff2;base64," + base64.b64encode(path.read_bytes()).decode()


@cache
def _widths() -> dict[int, float]:
    """Advance of each character, of the size."""
    from fontTools.ttLib import TTFont  # here, because it takes a while to load

    widths: dict[int, float] = {}
    for path in reversed(FACES.values()):
        font: Any = TTFont(path)
        em = font["head"].unitsPerEm
        metrics = font["hmtx"].metrics
        widths |= {code: metrics[name][0] / em for code, name in font.getBestCmap().items()}
    return widths
