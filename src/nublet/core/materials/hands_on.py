"""How long a recipe takes: of hands, and of the calendar."""

from __future__ import annotations

import math

from nublet.core.materials.paces import PACES
from nublet.core.materials.recipes import Applicator, Layer, Recipe

# Hands-on minutes to spread one square metre of a coat: a workshop habit for small panels, not a measurement.
MINUTES_PER_M2: dict[Applicator, float] = {
    "rag": 8,
    "pad": 8,
    "brush": 12,
    "foam": 10,
    "roller": 7,
    "spray": 5,
    "burnished": 25,
}


def hands_on_per_panel(layer: Layer, area_m2: float) -> float:
    """Minutes to spread one coat on a panel of ``area_m2`` coated area: see :data:`MINUTES_PER_M2`, and half a minute."""
    return MINUTES_PER_M2[layer.applicator] * area_m2 + 0.5


def hands_on_minutes(recipe: Recipe, area_m2: float, n_panels: int) -> float:
    """Hands-on minutes to carry a recipe out on ``n_panels`` panels of ``area_m2`` coated area altogether.

    An estimate from :data:`MINUTES_PER_M2` and :data:`~nublet.core.materials.paces.PACES`: each coat adds its spreading, half a minute
    of handling a panel, a wiping-off where the product asks for it, and an abrasion; each grit its sanding.
    """
    minutes = PACES["sand"].minutes_per_m2 * area_m2 * len(recipe.preparation.grits)
    abrading = PACES["abrade"].minutes_per_m2 * area_m2
    for layer in recipe.all_layers:
        each = n_panels * hands_on_per_panel(layer, area_m2 / n_panels)
        if layer.product.wipe_off_min is not None:
            each += PACES["wipe"].minutes_per_m2 * area_m2
        minutes += layer.coats * each
        if layer.abrade_between:
            minutes += (layer.coats - 1) * abrading
        if layer.sanded_before:
            minutes += abrading
    return minutes


def calendar_days(recipe: Recipe) -> float:
    """Days from the first coat to full cure: the shortest recoat waits, the waits between layers, the longest cure left.

    Working hours are not counted in; the planner does that.
    """
    hours = 0.0
    ready_h = 0.0
    for index, layer in enumerate(recipe.all_layers):
        if index:
            beneath = recipe.all_layers[index - 1]
            cured = 24 * beneath.product.cure_d(with_hardener=beneath.hardener)
            final_wax = index >= len(recipe.layers)
            hours += cured if layer.wait_before_h is None or final_wax else layer.wait_before_h
        hours += (layer.coats - 1) * layer.recoat_h[0]
        ready_h = max(ready_h, hours + 24 * layer.product.cure_d(with_hardener=layer.hardener))
    return math.ceil(ready_h / 24 * 10) / 10
