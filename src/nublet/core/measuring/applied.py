"""What each panel took of a coat, and which took so much more or less than the others that something went wrong."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from statistics import median

from nublet.core.errors import CalculationError
from nublet.core.quantities import Prose, Words, amount, say

# Where the others agree to the milligram, a few per cent are still the hand's own.
_LEAST_SPREAD = 0.05
_FEWEST = 4
# Beside one or two others, or none, only what the label makes unlikely is noticed.
_LABEL_FACTOR = 2.0
_LIMIT = 3.5
_MAD_TO_SD = 0.6745


@dataclass(frozen=True, kw_only=True)
class AppliedWeight:
    """One panel's coat: g/m², and when it stands out why, in words (else empty)."""

    panel: str
    g_per_m2: float
    stands_out: Prose = ""


def weigh_coat(
    weighings_g: Mapping[str, tuple[float, float]],
    *,
    area_m2: float,
    expected_g_per_m2: float | None = None,
) -> tuple[AppliedWeight, ...]:
    """What each panel took of a coat, judged as by :func:`judge_applied`.

    One that lost weight stands out, and judges nobody.

    Parameters
    ----------
    weighings_g : mapping
        Weight before and after the coat, g, by panel, of one coat of one build-up.
    area_m2 : float
        Coated area of a panel.
    expected_g_per_m2 : float or None

    Examples
    --------
    >>> [(each.panel, each.g_per_m2) for each in weigh_coat({"K7": (500, 506), "T2": (500, 499)}, area_m2=0.12)]
    [('K7', 50.0), ('T2', -8.333333333333334)]
    """
    took = {panel: (after - before) / area_m2 for panel, (before, after) in weighings_g.items()}
    gained = {panel: weight for panel, weight in took.items() if weight >= 0}
    lost = tuple(
        AppliedWeight(
            panel=panel,
            g_per_m2=weight,
            stands_out=say(
                "{} weighs less after the coat ({}) than before ({}). Weigh it again, and check that the two are not swapped.",
                panel,
                amount("grams", weighings_g[panel][1]),
                amount("grams", weighings_g[panel][0]),
            ),
        )
        for panel, weight in took.items()
        if weight < 0
    )
    return (*judge_applied(gained, expected_g_per_m2=expected_g_per_m2), *lost)


def judge_applied(
    weights_g_per_m2: Mapping[str, float], *, expected_g_per_m2: float | None = None
) -> tuple[AppliedWeight, ...]:
    """Find the panels whose applied weight stands out from the others of the same build-up and coat.

    Parameters
    ----------
    weights_g_per_m2 : mapping
        Applied weight by panel, of one coat of one build-up, in the order weighed.
    expected_g_per_m2 : float or None
        By the label's spread and the product's density; used where fewer than four panels were weighed.

    Returns
    -------
    tuple of AppliedWeight
        One a panel, in the order given.

    Raises
    ------
    CalculationError
        If a weight is not a number of 0 or more.

    Notes
    -----
    With four panels or more a panel stands out when its modified z score, 0.6745 (x - median) / MAD, is beyond 3.5;
    the MAD is taken to be at least what a spread of 5 % would make it, so that panels which agree closely do not
    accuse each other. With fewer it stands out at more than twice or less than half of what the label lets expect.
    One that stands out may be right: a thirsty board, end grain.

    References
    ----------
    B. Iglewicz and D. C. Hoaglin, How to Detect and Handle Outliers, ASQC, 1993, p. 11.

    Examples
    --------
    >>> found = judge_applied({"K7": 36, "T2": 35, "R4": 38, "M9": 61})
    >>> [each.panel for each in found if each.stands_out]
    ['M9']
    """
    for panel, weight in weights_g_per_m2.items():
        if not (math.isfinite(weight) and weight >= 0):
            raise CalculationError(
                say(
                    "Panel {} took {}, which cannot be. Weigh it again, before and after.",
                    panel,
                    amount("g_per_m2", weight),
                ),
                field=panel,
            )
    weights = list(weights_g_per_m2.values())
    if len(weights) >= _FEWEST:
        middle = median(weights)
        mad = max(median(abs(weight - middle) for weight in weights), _MAD_TO_SD * _LEAST_SPREAD * middle)
        limit = math.inf if mad == 0 else _LIMIT * mad / _MAD_TO_SD
        low, high, beside = middle - limit, middle + limit, _beside("the others about {}", middle)
    elif expected_g_per_m2 is not None:
        low, high = expected_g_per_m2 / _LABEL_FACTOR, expected_g_per_m2 * _LABEL_FACTOR
        beside = _beside("the label lets expect {}", expected_g_per_m2)
    else:
        low, high, beside = 0.0, math.inf, say("")
    return tuple(
        AppliedWeight(panel=panel, g_per_m2=weight, stands_out=_say(panel, weight, low, high, beside))
        for panel, weight in weights_g_per_m2.items()
    )


def _beside(template: str, weight: float) -> Words:
    return say(template, amount("g_per_m2", weight, ".0f", is_bare=True))


def _say(panel: str, weight: float, low: float, high: float, beside: Words) -> str:
    if low <= weight <= high:
        return ""
    much = "Wipe it off sooner or spread it out" if weight > high else "Put on more"
    return say(
        "{} took {}, {}. {} while it is wet, or weigh it again; a thirsty board may be right.",
        panel,
        amount("g_per_m2", weight, ".0f"),
        beside,
        much,
    )
