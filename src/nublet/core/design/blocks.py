"""Complete blocks: every board carries every build-up, and the control, once.

Panels cut from one board share its wood, so the board is the block and the panel the experimental unit.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass

import numpy as np

from nublet.core.design.codes import draw_codes
from nublet.core.design.layout import PanelSize, Spot, check_panel_size, place_spots
from nublet.core.errors import DesignError
from nublet.core.protocols.exposures import Exposure

MAX_PANELS = 1000
DEFAULT_MARGIN_MM = 15.0


@dataclass(frozen=True, kw_only=True)
class Board:
    """A plank, by its own id; panels cut from it share its wood."""

    id: str
    species: str


@dataclass(frozen=True, kw_only=True)
class Panel:
    """One test piece: where it comes from, what it carries, and its spots.

    ``position`` counts the panels along their board from 1; ``code`` is all that a judge sees.
    """

    code: str
    board: str
    species: str
    position: int
    build_up: str
    spots: tuple[Spot, ...]


@dataclass(frozen=True, kw_only=True)
class Design:
    """A complete-blocks design. ``fingerprint`` is the SHA-256 of its canonical JSON."""

    seed: int
    size: PanelSize
    margin_mm: float
    panels: tuple[Panel, ...]
    fingerprint: str


def allocate_panels(
    build_ups: Sequence[str],
    boards: Sequence[Board],
    exposures: Sequence[Exposure],
    *,
    size: PanelSize,
    margin_mm: float = DEFAULT_MARGIN_MM,
    seed: int,
) -> Design:
    """Design a trial in complete blocks.

    Parameters
    ----------
    build_ups : sequence of str
        Names or ids, control included, each once.
    boards : sequence of Board
        The blocks.
    exposures : sequence of Exposure
        Each stands once on each panel.
    size : PanelSize
        Of every panel, mm.
    margin_mm : float
        Beyond each wetted ring, mm.
    seed : int
        Same seed and same input, same design.

    Returns
    -------
    Design
        ``len(build_ups) * len(boards)`` panels, board by board in the order along the board.

    Raises
    ------
    DesignError
        No boards, fewer than two build-ups, a repeated name, no exposures, too many panels, or spots that
        do not fit.

    Notes
    -----
    Three independent streams of chance are drawn from the seed (lots, codes, places), so that a changed
    protocol does not change which panel carries which build-up.
    """
    _check_design(build_ups, boards, exposures)
    check_panel_size(size)
    lots, codes, places = (np.random.default_rng(child) for child in np.random.SeedSequence(seed).spawn(3))
    drawn_codes = iter(draw_codes(len(build_ups) * len(boards), rng=codes))
    panels = tuple(
        Panel(
            code=next(drawn_codes),
            board=board.id,
            species=board.species,
            position=position,
            build_up=build_ups[index],
            spots=place_spots(size, exposures, margin_mm=margin_mm, rng=places),
        )
        for board in boards
        for position, index in enumerate(lots.permutation(len(build_ups)), start=1)
    )
    return Design(
        seed=seed,
        size=size,
        margin_mm=margin_mm,
        panels=panels,
        fingerprint=_fingerprint(size, margin_mm, panels),
    )


def shuffle_read_order(codes: Sequence[str], *, seed: int, judge: int, look: str) -> list[str]:
    """Return the panel codes in one judge's own order for one look.

    The order depends on the seed, the judge and the look alone, so that a judge who comes back finds it
    unchanged.
    """
    look_key = int.from_bytes(hashlib.sha256(look.encode()).digest()[:4], "big")
    rng = np.random.default_rng(np.random.SeedSequence([seed, judge, look_key]))
    ordered = sorted(codes)
    return [ordered[index] for index in rng.permutation(len(ordered))]


def _check_design(build_ups: Sequence[str], boards: Sequence[Board], exposures: Sequence[Exposure]) -> None:
    if not boards:
        raise DesignError(
            "There are no boards. Give at least one board; three are a floor and five are comfortable.",
            field="boards",
        )
    if len(build_ups) < 2:
        raise DesignError(
            "A design needs at least two build-ups (the control counts as one). Add build-ups under "
            "Candidates.",
            field="build_ups",
        )
    for name, field, items in (
        ("build-up", "build_ups", list(build_ups)),
        ("board", "boards", [board.id for board in boards]),
    ):
        twice = sorted({item for item in items if items.count(item) > 1})
        if twice:
            raise DesignError(f"The {name} {twice[0]!r} is listed twice. List each once.", field=field)
    if not exposures:
        raise DesignError(
            "The protocol has no exposures: nothing would be tested. Choose another protocol.",
            field="protocol",
        )
    n_panels = len(build_ups) * len(boards)
    if n_panels > MAX_PANELS:
        raise DesignError(
            f"{len(build_ups)} build-ups on {len(boards)} boards make {n_panels} panels; {MAX_PANELS} is "
            "the most. Use fewer boards or build-ups.",
            field="boards",
        )


def _fingerprint(size: PanelSize, margin_mm: float, panels: Sequence[Panel]) -> str:
    content = {
        "margin_mm": margin_mm,
        "size": asdict(size),
        "panels": [asdict(panel) for panel in panels],
    }
    canonical = json.dumps(content, sort_keys=True, separators=(",", ":"), ensure_ascii=False)
    return hashlib.sha256(canonical.encode()).hexdigest()
