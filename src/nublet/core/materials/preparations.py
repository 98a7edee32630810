"""Preparation: what is done to the wood before the first layer."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

from nublet.core.errors import BuildUpError
from nublet.core.plain import from_plain

Start = Literal["planed", "sawn", "scraped", "as-found"]
Cleaning = Literal["none", "dry", "damp", "solvent"]
Washing = Literal["none", "cleaner", "brightener", "de-greyer"]
Charring = Literal["none", "light", "medium", "deep"]
Sanding = Literal["along", "across", "orbital"]

START_WORDS: dict[Start, str] = {
    "planed": "Planed",
    "sawn": "Sawn",
    "scraped": "Scraped",
    "as-found": "As found",
}
SANDING_WORDS: dict[Sanding, str] = {
    "along": "Along the grain",
    "across": "Across the grain",
    "orbital": "Orbital sander",
}
CLEANING_WORDS: dict[Cleaning, str] = {
    "none": "Not cleaned",
    "dry": "Brushed, vacuumed",
    "damp": "Damp cloth",
    "solvent": "Solvent wipe",
}
WASHING_WORDS: dict[Washing, str] = {
    "none": "Not washed",
    "cleaner": "Scrubbed with a cleaner",
    "brightener": "Washed with a brightener",
    "de-greyer": "Scrubbed with a de-greyer",
}
CHARRING_WORDS: dict[Charring, str] = {
    "none": "Not charred",
    "light": "Charred lightly",
    "medium": "Charred, medium",
    "deep": "Charred deep",
}


@dataclass(frozen=True, kw_only=True)
class Preparation:
    """What is done to the wood first. ``grits`` in order; ``end_grain_grit`` is ``None`` when as the face."""

    start: Start = "planed"
    grits: tuple[int, ...] = (80, 120, 180)
    sanding: Sanding = "along"
    end_grain_grit: int | None = None
    water_popped: bool = False
    cleaning: Cleaning = "dry"
    charring: Charring = "none"
    brushed: bool = False
    washed: Washing = "none"


def control_preparation(preparations: Sequence[Preparation]) -> Preparation:
    """How the bare control of a trial is prepared: sanded as most build-ups are, and nothing more.

    Bare wood is neither charred nor brushed nor water-popped nor wiped with solvent; a control that was would be another
    treatment. Charred preparations are followed only where nothing else is sanded.

    Parameters
    ----------
    preparations : sequence of Preparation
        One for each panel or build-up.
    """
    plain = [each for each in preparations if each.charring == "none"] or list(preparations)
    if not plain:
        return Preparation()
    usual = Counter((p.start, p.grits, p.sanding, p.end_grain_grit) for p in plain)
    start, grits, sanding, end_grain_grit = max(usual, key=lambda way: usual[way])
    return Preparation(start=start, grits=grits, sanding=sanding, end_grain_grit=end_grain_grit)


def preparation_from_dict(plain: Mapping[str, Any]) -> Preparation:
    """Read a preparation, as it stands in a recipe. Raises ``BuildUpError``."""
    return from_plain(Preparation, plain, at="preparation", error=BuildUpError)
