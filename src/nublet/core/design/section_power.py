"""What sections of one panel let a design show: they share its wood, so that what differs between them is seen more sharply.

A section is compared within its panel, in the stratum of the sections of a split plot. With v build-ups on r panels each and s
sections, σ the standard deviation of a section about its panel,

    over all build-ups        SED = σ √(2 / (v r)),    α = 0.05
    on one build-up           SED = σ √(2 / r),        α = 0.05 / v  (one family over the build-ups, Bonferroni)

each on df = v (r - 1) (s - 1) degrees of freedom, and told apart where |T| > q / √2 with q the 1 - α quantile of the studentized
range of s means: the rule of :mod:`nublet.core.evidence.by_sections`, by the noncentral t of :mod:`nublet.core.design.power`.

References
----------
Montgomery, D. C. (2017). Design and Analysis of Experiments, 9th ed., section 14.4 (the split-plot design).
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from nublet.core.design.power import ALPHA, POWER, Comparison, check_spread, smallest_ncp
from nublet.core.evidence.studentized_range import studentized_range_quantile

# Of the spread between panels, where nobody knows better: half of its variance is within the panel.
USUAL_SHARE = math.sqrt(0.5)


@dataclass(frozen=True, kw_only=True)
class SectionReach:
    """The smallest differences between two sections that are noticed 8 times in 10, in the unit of ``sd``; ``None`` when none ever is.

    ``sd`` is that of a section about its panel, ``is_usual`` where it is a share of the spread between panels and not the shop's own.
    """

    n_sections: int
    sd: float
    is_usual: bool
    over_all: float | None
    within_build_up: float | None


def section_reach(
    comparison: Comparison, n_sections: int, sd: float, *, is_usual: bool = False, power: float = POWER
) -> SectionReach:
    """Say what sections show.

    Parameters
    ----------
    comparison : Comparison
        The build-ups on their boards; whole panels only.
    n_sections : int
        At least 2.
    sd : float
        Of a section about its panel.

    Raises
    ------
    DesignError
        If the standard deviation cannot be.

    Examples
    --------
    >>> reach = section_reach(Comparison(n_build_ups=4, n_boards=5, block_size=4), 3, 0.4)
    >>> round(reach.over_all, 2), round(reach.within_build_up, 2)
    (0.42, 0.99)
    """
    check_spread(sd)
    v, r = comparison.n_build_ups, comparison.replicates
    df = round(v * (r - 1) * (n_sections - 1))

    def smallest(alpha: float, n_panels: float) -> float | None:
        if df < 1:
            return None
        critical = studentized_range_quantile(1 - alpha, k=n_sections, df=df) / math.sqrt(2)
        return smallest_ncp(critical, df, power=power) * sd * math.sqrt(2 / n_panels)

    return SectionReach(
        n_sections=n_sections,
        sd=sd,
        is_usual=is_usual,
        over_all=smallest(ALPHA, v * r),
        within_build_up=smallest(ALPHA / v, r),
    )
