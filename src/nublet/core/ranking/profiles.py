"""Use profiles: what a use asks of a finish. They are starting points; the weights can be changed."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from nublet.core.errors import RankingError


@dataclass(frozen=True, kw_only=True)
class Gate:
    """A must-pass: the true mean grade of ``test`` is at least ``threshold``."""

    test: str
    threshold: float


@dataclass(frozen=True, kw_only=True)
class Criterion:
    """Something the use cares about, fed by the mean of its tests. Without data it is unknown, never 0."""

    id: str
    name: str
    weight: float
    tests: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class UseProfile:
    """An intended use: criteria with weights, gates, and the look that the verdict goes by.

    ``demands`` are what the compatibility rules ask about, such as ``alcohol`` or ``food``.
    """

    id: str
    name: str
    says: str
    criteria: tuple[Criterion, ...]
    gates: tuple[Gate, ...]
    look: str = "24h"
    demands: frozenset[str] = frozenset()


DINING_TABLE = UseProfile(
    id="dining-table",
    name="Dining table",
    says="Meals, wet glasses, hot dishes: must shrug off water, wine and coffee, and be mendable in place.",
    criteria=(
        Criterion(id="stains", name="Stains", weight=35, tests=("wine-1h", "coffee-1h", "ethanol-1h")),
        Criterion(id="heat", name="Heat", weight=25, tests=("wet-heat-70", "dry-heat-100")),
        Criterion(id="water", name="Water", weight=30, tests=("water-6h",)),
        Criterion(id="repair", name="Repair", weight=10, tests=("spot-repair",)),
    ),
    gates=(
        Gate(test="water-6h", threshold=4),
        Gate(test="wine-1h", threshold=4),
        Gate(test="coffee-1h", threshold=4),
        Gate(test="wet-heat-70", threshold=4),
    ),
    demands=frozenset({"water", "wet-washing", "alcohol", "heat", "scratch"}),
)  # fmt: skip

USE_PROFILES: dict[str, UseProfile] = {DINING_TABLE.id: DINING_TABLE}


def reweigh(profile: UseProfile, weights: Mapping[str, float]) -> UseProfile:
    """Return the profile with other weights; criteria not named keep theirs.

    Raises
    ------
    RankingError
        An unknown criterion, a weight that is not a number from 0 to 1000, or no weight above 0 at all.
    """
    known = {criterion.id for criterion in profile.criteria}
    for name, weight in weights.items():
        if name not in known:
            raise RankingError(
                f"{profile.name} has no criterion {name!r}. It has: {', '.join(sorted(known))}.",
                field=f"weights.{name}",
            )
        if not math.isfinite(weight) or not 0 <= weight <= 1000:
            raise RankingError(
                f"A weight of {weight:g} for {name} cannot be. Give 0 to 1000.", field=f"weights.{name}"
            )
    criteria = tuple(
        replace(criterion, weight=float(weights.get(criterion.id, criterion.weight)))
        for criterion in profile.criteria
    )
    if not any(criterion.weight > 0 for criterion in criteria):
        raise RankingError(
            "Every weight is 0, so nothing would be ranked. Give at least one criterion a weight.",
            field="weights",
        )
    return replace(profile, criteria=criteria)
