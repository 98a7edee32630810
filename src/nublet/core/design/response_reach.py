"""What a design notices of a response beside the main one, by what finished trials show of its spread."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.design.outlook import boards_for
from nublet.core.design.power import Comparison, Spread, smallest_difference
from nublet.core.protocols.worth import WorthAsked


@dataclass(frozen=True, kw_only=True)
class ResponseReach:
    """What a design notices 8 times in 10 of a response beside the main one, by what finished trials show of its spread.

    ``told_apart`` is a difference in ``unit``, or a share where it is a ratio; ``n_boards`` tell the smallest difference worth
    knowing apart, ``None`` where none is said or 60 boards are too few.
    """

    response: str
    name: str
    unit: str
    is_ratio: bool
    sd: float
    n_trials: int
    told_apart: float | None
    worth: float | None
    n_boards: int | None


def response_reach(
    asked: WorthAsked, comparisons: Sequence[Comparison], spread: Spread, *, worth: float | None = None
) -> ResponseReach:
    """Say what a design notices of one response.

    Parameters
    ----------
    asked : WorthAsked
    comparisons : sequence of Comparison
        One for each species; of the one with the fewest boards.
    spread : Spread
        In the response's unit, or of natural logarithms where ratios are compared.
    worth : float or None
        The smallest difference worth knowing, by default the usual one.
    """
    weakest = min(comparisons, key=lambda each: each.n_boards)
    told = smallest_difference(weakest, spread.sd)
    worth = asked.usual if worth is None else worth
    wanted = math.log1p(worth) if worth is not None and asked.is_ratio else worth
    return ResponseReach(
        response=asked.response,
        name=asked.name,
        unit=asked.unit,
        is_ratio=asked.is_ratio,
        sd=spread.sd,
        n_trials=spread.n_trials,
        told_apart=math.expm1(told) if told is not None and asked.is_ratio else told,
        worth=worth,
        n_boards=None if wanted is None else boards_for(wanted, weakest, spread.sd),
    )
