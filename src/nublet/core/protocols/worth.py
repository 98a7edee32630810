"""The smallest difference worth knowing: two that differ by less are *alike* to whoever asks, whatever their means.

It is the asker's to say, before anything is read: half a grade on a counter that is looked at all day, two on a shelf in a cellar.
Every response that is compared by differences or ratios declares what is usual.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.protocols.derived import derived_of
from nublet.core.protocols.responses import RESPONSES, Response, parts_of
from nublet.core.protocols.tests import Protocol

# A difference of more than ten times as much is no smallest one.
_MOST_OF_A_RATIO = 9.0
_STEPS = "highest-step"


@dataclass(frozen=True, kw_only=True)
class WorthAsked:
    """A response whose smallest difference worth knowing can be said.

    ``unit`` is what the difference counts: a unit, or the noun of a scale's steps. ``is_ratio`` says that it is a share of the
    smaller of two, 0.25 for a quarter more. ``usual`` is what holds where nobody says another; ``None`` where nothing is usual, so
    that no pair is called alike.
    """

    response: str
    name: str
    unit: str
    is_ratio: bool
    usual: float | None


def compared(protocol: Protocol) -> tuple[WorthAsked, ...]:
    """What a protocol reads, or lets be worked out, that is compared by differences or ratios, in the order of declaration."""
    found = {part.id for test in protocol.tests for each in test.responses for part in parts_of(each)}
    found |= {response.id for test in protocol.tests for response in derived_of(test)}
    found |= {_STEPS} if protocol.ladders else set()
    return tuple(
        WorthAsked(
            response=response.id,
            name=response.name,
            unit=_unit(response),
            is_ratio=response.weighed_first == "log-means",
            usual=usual_worth(response),
        )
        for response in RESPONSES.values()
        if response.id in found and _has_worth(response)
    )


def usual_worth(response: Response) -> float | None:
    """What is usually worth knowing of a response: as it declares, one step of a ladder."""
    return 1.0 if response.id == _STEPS else response.worth_knowing


def check_worth(wanted: Mapping[str, float]) -> dict[str, float]:
    """Return the smallest differences worth knowing by response, when they can be.

    Raises
    ------
    ReadingsError
        If a response is unknown or not compared by differences, or one is not above 0 or wider than its scale.

    Examples
    --------
    >>> check_worth({"grade": 0.5})
    {'grade': 0.5}
    """
    for name, value in wanted.items():
        field = f"worth_knowing.{name}"
        response = RESPONSES.get(name)
        if response is None or not _has_worth(response):
            raise ReadingsError(
                f"{name!r} is nothing that is compared by differences, so none of them is worth knowing.",
                field=field,
            )
        is_ratio = response.weighed_first == "log-means"
        most = _MOST_OF_A_RATIO if is_ratio else response.width or math.inf
        if not math.isfinite(value) or not 0 < value <= most:
            least = "more than 0 %" if is_ratio else f"more than 0 {response.unit}".rstrip()
            upto = (
                f" and at most {100 * most:.0f} %"
                if is_ratio
                else f" and at most {most:g}"
                if math.isfinite(most)
                else ""
            )
            raise ReadingsError(
                f"{response.name}: the smallest difference worth knowing must be {least}{upto}.", field=field
            )
    return {name: float(value) for name, value in wanted.items()}


def _unit(response: Response) -> str:
    """What a difference counts: a unit, steps of a ladder or of a scale, or what the measure is called."""
    if response.id == _STEPS:
        return "steps"
    return response.unit or (f"{response.noun}s" if response.steps else response.noun)


def _has_worth(response: Response) -> bool:
    return response.form not in ("known", "group", "kinds", "pair") and (
        response.id == _STEPS or response.weighed_first in ("means", "log-means")
    )
