"""What there is to say of a recipe before anyone opens a can: what clashes, what it takes, costs and lasts."""

from __future__ import annotations

from dataclasses import dataclass

from nublet.core.materials.compatibility import Finding, Setting, find_conflicts
from nublet.core.materials.coverage import LayerNeed, cost_per_m2, recipe_needs
from nublet.core.materials.hands_on import calendar_days, hands_on_minutes
from nublet.core.materials.mixes import Work
from nublet.core.materials.recipes import Recipe


@dataclass(frozen=True, kw_only=True)
class Assessment:
    """A recipe's figures for a piece of work.

    ``needs`` are those of the layers from the wood up, a final wax last. ``cost_per_m2`` is for one square metre of one
    face and ``cost`` for the whole work, both ``None`` without a price for every product. ``hands_on_min`` and ``days``
    are estimates.
    """

    findings: tuple[Finding, ...]
    needs: tuple[LayerNeed, ...]
    area_m2: float
    cost_per_m2: float | None
    cost: float | None
    hands_on_min: float
    days: float

    @property
    def is_blocked(self) -> bool:
        """Whether a finding blocks."""
        return any(finding.severity == "block" for finding in self.findings)


def assess_recipe(recipe: Recipe, work: Work, setting: Setting) -> Assessment:
    """Look a recipe over for a piece of work in its setting."""
    area = work.area_m2(recipe)
    prices = work.thinner_prices
    needs = tuple(
        recipe_needs(recipe, area, absorbency=work.absorbency, waste=work.waste, thinner_prices=prices)
    )
    costs = [need.cost for need in needs]
    return Assessment(
        findings=tuple(find_conflicts(recipe, setting)),
        needs=needs,
        area_m2=area,
        cost_per_m2=cost_per_m2(recipe, absorbency=work.absorbency, waste=work.waste, thinner_prices=prices),
        cost=None if any(cost is None for cost in costs) else sum(cost or 0.0 for cost in costs),
        hands_on_min=hands_on_minutes(recipe, area, work.n_panels),
        days=calendar_days(recipe),
    )
