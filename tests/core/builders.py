"""Small makers of core values for the tests."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from nublet.core.design.cutting import Board
from nublet.core.evidence.readings import PanelValue, Reading
from nublet.core.protocols.spot_tests import laid_on_spot
from nublet.core.protocols.tests import Test


def exposure(name: str, wetted_mm: float = 40, kind: str = "liquid", *, agent: str = "") -> Test:
    is_hot = kind == "heat"
    return laid_on_spot(
        name,
        agent or name,
        wetted_mm=wetted_mm,
        lasts_min=60,
        natures={"hot"} if is_hot else (),
        occupies={"heat_block"} if is_hot else (),
    )


def unmeasured_boards(n: int, species: str = "beech") -> tuple[Board, ...]:
    return tuple(Board(id=f"{species} {i}", species=species) for i in range(1, n + 1))


def block_values(table: Mapping[str, Sequence[float | None]], species: str | None = None) -> list[PanelValue]:
    """One value a system and board; the boards are b1, b2, ... with the species' name in front."""
    return [
        PanelValue(
            panel=f"{species or ''}{system}{board}",
            system=system,
            board=f"{species or ''}b{board}",
            species=species,
            value=value,
        )
        for system, row in table.items()
        for board, value in enumerate(row, start=1)
        if value is not None
    ]


def block_readings(
    table: Mapping[str, Sequence[float | None]],
    *,
    test: str = "water",
    judges: Sequence[str] = ("Nell",),
    look: str | None = "24h",
    species: str | None = None,
) -> list[Reading]:
    """Readings of a table of systems by boards, every judge grading alike."""
    return [
        Reading(
            test=test,
            system=system,
            board=f"{species or ''}b{board}",
            panel=f"{species or ''}{system}{board}",
            judge=judge,
            look=look,
            species=species,
            grade=value,
        )
        for system, row in table.items()
        for board, value in enumerate(row, start=1)
        for judge in judges
    ]


def random_table(
    rng: np.random.Generator, *, n_systems: int, n_boards: int, spread: float = 0.6
) -> dict[str, list[float]]:
    """Continuous values about a spread of true means, with board effects."""
    boards = rng.normal(0, 0.4, n_boards)
    return {f"S{i}": list(3 + 0.3 * i + boards + rng.normal(0, spread, n_boards)) for i in range(n_systems)}
