"""A use in the tests of one protocol: what a ranking is made by."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

from nublet.core.errors import RankingError

MAX_WEIGHT = 1000.0


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
    """Criteria with weights, gates, and the look that the verdict goes by, each naming the tests of a protocol.

    It is made from a use that names none: see :mod:`nublet.core.ranking.uses`.
    """

    id: str
    name: str
    says: str
    criteria: tuple[Criterion, ...]
    gates: tuple[Gate, ...]
    look: str = "24h"


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
        if not math.isfinite(weight) or not 0 <= weight <= MAX_WEIGHT:
            raise RankingError(
                f"A weight of {weight:g} for {name} cannot be. Give 0 to {MAX_WEIGHT:g}.",
                field=f"weights.{name}",
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
