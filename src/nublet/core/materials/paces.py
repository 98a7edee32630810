"""How fast hands work: minutes a square metre for each kind of work beside spreading, until a shop's own log says otherwise."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

PaceKind = Literal[
    "scrub",
    "sand",
    "char",
    "brush-char",
    "wet",
    "clean",
    "abrade",
    "wipe",
    "buff",
    "matt",
    "lamp",
    "mask",
    "unmask",
]
# Picking a panel up and putting it down.
HANDLING_MIN = 0.25
_LEAST, _MOST = 0.01, 600.0


@dataclass(frozen=True, kw_only=True)
class Pace:
    """Minutes a square metre, a workshop habit for small panels and no measurement; and what it is called."""

    minutes_per_m2: float
    words: str


PACES: dict[PaceKind, Pace] = {
    "sand": Pace(minutes_per_m2=8.0, words="Sanding, each grit"),
    "scrub": Pace(minutes_per_m2=10.0, words="Scrubbing and rinsing"),
    "char": Pace(minutes_per_m2=12.0, words="Charring"),
    "brush-char": Pace(minutes_per_m2=8.0, words="Brushing char"),
    "wet": Pace(minutes_per_m2=2.0, words="Wetting to raise the grain"),
    "clean": Pace(minutes_per_m2=1.5, words="Cleaning off dust"),
    "abrade": Pace(minutes_per_m2=6.0, words="Abrading between coats"),
    "wipe": Pace(minutes_per_m2=6.0, words="Wiping off"),
    "buff": Pace(minutes_per_m2=6.0, words="Buffing"),
    "matt": Pace(minutes_per_m2=8.0, words="Rubbing matt"),
    "mask": Pace(minutes_per_m2=20.0, words="Masking sections"),
    "unmask": Pace(minutes_per_m2=5.0, words="Taking the tape off"),
    "lamp": Pace(minutes_per_m2=4.0, words="Passing under the lamp"),
}
PACE_LIMITS = (_LEAST, _MOST)
NO_PACES: Mapping[str, float] = {}


def minutes_per_panel(
    kind: PaceKind, area_m2: float, own: Mapping[str, float] = NO_PACES, *, times: int = 1
) -> float:
    """Hands-on minutes for one panel.

    Parameters
    ----------
    kind : PaceKind
    area_m2 : float
        What is worked on, of one panel.
    own : mapping of PaceKind to float, optional
        The shop's own minutes a square metre, where it has set any.
    times : int
        How often it is done in one go, such as once a grit.

    Examples
    --------
    >>> round(minutes_per_panel("sand", 0.1, times=3), 2)
    2.65
    >>> round(minutes_per_panel("sand", 0.1, {"sand": 4.0}), 2)
    0.65
    """
    each = own.get(kind, PACES[kind].minutes_per_m2)
    return each * area_m2 * times + HANDLING_MIN
