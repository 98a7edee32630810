"""Which build-up goes on which panel of which board.

The board is the block and the panel the experimental unit. A board carries every build-up once (complete blocks), or,
when the boards of a species are too short for that, as many as it can in balanced incomplete blocks.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from nublet.core.design.areas import PanelSize
from nublet.core.design.cutting import Board, BoardCut, Saw, cut_board
from nublet.core.design.incomplete import balanced_blocks, balancing_counts, efficiency, shuffle_blocks
from nublet.core.errors import DesignError
from nublet.core.quantities import say

Arrangement = Literal["auto", "complete", "incomplete"]
ARRANGEMENTS: dict[Arrangement, str] = {
    "auto": "Complete where the boards are long enough; where not, some on each (balanced incomplete)",
    "complete": "Complete blocks: every board carries every build-up",
    "incomplete": "Every board carries some, and every two meet equally often (balanced incomplete blocks)",
}


@dataclass(frozen=True, kw_only=True)
class SpeciesBlocks:
    """How the boards of one species are used as blocks.

    ``block_size`` build-ups stand on each board, ``replicates`` times each over the boards. ``efficiency`` is 1 for
    complete blocks.
    """

    species: str
    n_build_ups: int
    n_boards: int
    block_size: int
    cuts: tuple[BoardCut, ...]

    @property
    def is_complete(self) -> bool:
        """Whether every board carries every build-up."""
        return self.block_size == self.n_build_ups

    @property
    def replicates(self) -> int:
        """Panels of each build-up on this species (or sets of panels, when each has several)."""
        return self.n_boards * self.block_size // self.n_build_ups

    @property
    def efficiency(self) -> float:
        """Efficiency factor against complete blocks with as many panels."""
        return efficiency(self.n_build_ups, self.block_size)


def plan_blocks(
    n_build_ups: int,
    boards: Sequence[Board],
    size: PanelSize,
    saw: Saw,
    *,
    panels_each: int = 1,
    arrangement: Arrangement = "auto",
    block_size: int | None = None,
) -> list[SpeciesBlocks]:
    """Decide for each species what its boards carry.

    Parameters
    ----------
    n_build_ups : int
        The control included.
    boards : sequence of Board
    size, saw : PanelSize, Saw
    panels_each : int
        Panels of each build-up on a board.
    arrangement : str
    block_size : int or None
        Build-ups on each board for ``"incomplete"``; by default as many as the shortest board carries.

    Returns
    -------
    list of SpeciesBlocks
        In the order in which the species appear.

    Raises
    ------
    DesignError
        If a board is too short or narrow for what it must carry, or no balanced blocks exist for these numbers.
    """
    planned = []
    for species in dict.fromkeys(board.species for board in boards):
        of_species = [board for board in boards if board.species == species]

        def cut(n: int, of_species: Sequence[Board] = of_species) -> tuple[BoardCut, ...]:
            return tuple(cut_board(board, n * panels_each, size, saw) for board in of_species)

        whole = cut(n_build_ups)
        fewest = min(board.capacity for board in whole) // panels_each
        if arrangement == "complete" or (arrangement == "auto" and fewest >= n_build_ups):
            k = n_build_ups
        elif block_size is not None and arrangement == "incomplete":
            k = _given_size(block_size, n_build_ups, species, len(of_species))
        else:
            k = _largest_size(whole, fewest, n_build_ups, species, arrangement)
        cuts = cut(k)
        if any(board.capacity < board.n_asked for board in cuts):
            raise _too_short(cuts)
        planned.append(
            SpeciesBlocks(
                species=species,
                n_build_ups=n_build_ups,
                n_boards=len(of_species),
                block_size=k,
                cuts=cuts,
            )
        )
    return planned


def draw_lots(
    blocks: SpeciesBlocks, pairs: Sequence[tuple[int, int]], *, rng: np.random.Generator
) -> list[list[int]]:
    """Draw, for each board, the numbers of its build-ups in the order of its places.

    ``pairs`` are build-ups to stand next to each other wherever both are on a board; the pair is drawn as one, and which
    of the two comes first is drawn too.
    """
    if blocks.is_complete:
        boards = [list(range(blocks.n_build_ups)) for _ in range(blocks.n_boards)]
    else:
        # plan_blocks made sure that there are some.
        found = balanced_blocks(blocks.n_build_ups, blocks.block_size, blocks.n_boards) or ()
        boards = shuffle_blocks(found, blocks.n_build_ups, rng=rng)
    return [_order(board, pairs, rng) for board in boards]


def _order(board: Sequence[int], pairs: Sequence[tuple[int, int]], rng: np.random.Generator) -> list[int]:
    units: list[list[int]] = []
    paired: set[int] = set()
    for one, other in pairs:
        if one in board and other in board and not {one, other} & paired:
            units.append([one, other] if rng.random() < 0.5 else [other, one])
            paired |= {one, other}
    units += [[index] for index in board if index not in paired]
    return [index for unit in rng.permutation(len(units)) for index in units[unit]]


def _given_size(block_size: int, n_build_ups: int, species: str, n_boards: int) -> int:
    if not 2 <= block_size < n_build_ups:
        raise DesignError(
            f"Blocks of {block_size} for {n_build_ups} build-ups cannot be. Give 2 to {n_build_ups - 1}.",
            field="block_size",
        )
    if balanced_blocks(n_build_ups, block_size, n_boards) is None:
        raise DesignError(
            f"{n_boards} boards of {species} cannot carry {n_build_ups} build-ups in balanced blocks of {block_size}. "
            f"{_counts_words(n_build_ups, [block_size])}",
            field="boards",
        )
    return block_size


def _largest_size(
    whole: Sequence[BoardCut], fewest: int, n_build_ups: int, species: str, arrangement: Arrangement
) -> int:
    """The largest blocks that the shortest board carries and that balance over these boards."""
    sizes = range(min(fewest, n_build_ups - 1), 1, -1)
    for k in sizes:
        if balanced_blocks(n_build_ups, k, len(whole)) is not None:
            return k
    if arrangement == "auto":
        raise _too_short(whole, also=f" {_counts_words(n_build_ups, sizes)}" if sizes else "")
    if not sizes:
        raise _too_short(whole)
    raise DesignError(
        f"{len(whole)} boards of {species} cannot carry {n_build_ups} build-ups so that every two meet equally often "
        f"(balanced incomplete blocks). {_counts_words(n_build_ups, sizes)}",
        field="boards",
    )


def _counts_words(n_build_ups: int, sizes: Sequence[int]) -> str:
    """What would balance, in words."""
    would = [(k, balancing_counts(n_build_ups, k)) for k in sizes]
    found = [f"{counts[0]} boards of {k}" for k, counts in would if counts]
    if not found:
        return "No number of boards up to 40 balances; use longer boards or fewer build-ups."
    return f"{', or '.join(found[:3])} panels each would do."


def _too_short(cuts: Sequence[BoardCut], *, also: str = "") -> DesignError:
    faults = [cut.says for cut in cuts if cut.says]
    more = f" ({len(faults) - 3} more boards fall short too.)" if len(faults) > 3 else ""
    take = "wider" if any(cut.narrow_mm > 0 for cut in cuts) else "longer"
    fewer = "" if take == "wider" else " or fewer build-ups"
    return DesignError(
        say(
            " ".join(["{}"] * len(faults[:3])) + "{} Take {} boards{} smaller panels{}.{}",
            *faults[:3],
            more,
            take,
            " or" if not fewer else ",",
            fewer,
            also,
        ),
        field="boards",
    )
