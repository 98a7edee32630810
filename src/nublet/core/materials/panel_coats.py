"""The coats of a panel whose sections carry recipes of their own: each once, where it goes, and how long after the one before."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from nublet.core.materials.coverage import DEFAULT_WASTE, layer_need, recipe_needs
from nublet.core.materials.cup import ThinnerPrices, earlier_coats
from nublet.core.materials.hands_on import hands_on_per_panel
from nublet.core.materials.paces import HANDLING_MIN, PACES
from nublet.core.materials.recipes import Layer, Recipe
from nublet.core.materials.sections import SectionRecipe, recipe_on_section

# Which of a recipe's coats: the build-up's, its final wax, or a section's own; whose; and its number.
_Key = tuple[str, int, int]


class Spreading(Protocol):
    """What quantities are reckoned by: the wood's absorbency, the waste, prices of thinners."""

    @property
    def absorbency(self) -> float:
        """1 for beech."""

    @property
    def waste(self) -> float:
        """Share that stays in cup and cloth."""

    @property
    def thinner_prices(self) -> ThinnerPrices:
        """Money a litre of each."""


@dataclass(frozen=True, kw_only=True)
class PanelCoat:
    """One coat that a panel gets, on all of it or on some of its sections.

    Attributes
    ----------
    id : str
        ``coat N``, counted over the panel: it names no product, so that a record of it is blind.
    recipe : Recipe
        A recipe that it is part of, in which it is coat ``coat`` of layer ``layer``.
    layer, coat : int
        From the wood up from 0, and from 1.
    sections : tuple of int
        Numbers of the sections that it goes over, in the order in which the trial lists them; empty where there are none.
    share : float
        Of the panel's face that it goes over.
    wait_h : (float, float or None)
        Least and greatest hours from the end of the coat before it in the list; ``(0, None)`` for the first.
    """

    id: str
    recipe: Recipe
    layer: int
    coat: int
    sections: tuple[int, ...] = ()
    share: float = 1.0
    wait_h: tuple[float, float | None] = (0.0, None)

    @property
    def of(self) -> Layer:
        """Its layer."""
        return self.recipe.all_layers[self.layer]

    @property
    def alone(self) -> Layer:
        """A layer of this coat alone: as it is thinned, with its note."""
        return self.of.only(self.coat)

    def shares_layer(self, other: PanelCoat) -> bool:
        """Whether both are coats of one layer: of one number, and over the same piece of the panel in part at least."""
        is_over_the_same = self.sections == other.sections or bool({*self.sections} & {*other.sections})
        return self.layer == other.layer and is_over_the_same

    @property
    def spread_coat(self) -> int:
        """Which coat of its product it is on what it goes over: from the second on less is taken up."""
        return earlier_coats(self.recipe, self.layer) + self.coat

    @property
    def cure_h(self) -> float:
        """Hours to its full cure."""
        return cure_h(self.of)


@dataclass(frozen=True)
class _At:
    """Where a coat stands in one section's recipe."""

    section: int
    recipe: Recipe
    layer: int
    coat: int


def panel_coats(recipe: Recipe, sections: Sequence[SectionRecipe] = ()) -> list[PanelCoat]:
    """The coats of a panel in the order in which they go on, each with its wait.

    The build-up's own first, then each section's, those first whose wait is over first. Waits count from the coat before in the list, so
    that every coat has at least the wait that its own recipe asks for after the coat beneath it.

    Examples
    --------
    Two coats of oil, with wax on one section of two: ``coat 1`` and ``coat 2`` over the panel, ``coat 3`` over half of it.
    """
    whole = [recipe_on_section(recipe, section) for section in sections] or [recipe]
    chains = [
        list(_keyed(each, number, sections[number] if sections else None))
        for number, each in enumerate(whole)
    ]
    places: dict[_Key, list[_At]] = {}
    before: dict[_Key, list[tuple[_Key, float]]] = {}
    for chain in chains:
        for number, (key, at) in enumerate(chain):
            places.setdefault(key, []).append(at)
            if number:
                before.setdefault(key, []).append((chain[number - 1][0], _wait_h(at)))
    order = _in_order(places, before)
    found: list[PanelCoat] = []
    done_h: dict[_Key, float] = {}
    now_h = 0.0
    for count, key in enumerate(order, start=1):
        # Where a section stops sooner, another tells of how many it is.
        at = max(places[key], key=lambda each: each.recipe.all_layers[each.layer].coats)
        ready_h = max([now_h, *(done_h[earlier] + wait_h for earlier, wait_h in before.get(key, ()))])
        follows = {earlier for earlier, _ in before.get(key, ())} == set(order[count - 2 : count - 1])
        closes_h = at.recipe.all_layers[at.layer].recoat_h[1] if at.coat > 1 and follows else None
        found.append(
            PanelCoat(
                id=f"coat {count}",
                recipe=at.recipe,
                layer=at.layer,
                coat=at.coat,
                sections=tuple(each.section for each in places[key]) if sections else (),
                share=len(places[key]) / len(whole),
                wait_h=(ready_h - now_h, closes_h),
            )
        )
        done_h[key] = now_h = ready_h
    return found


def cure_left_h(coats: Sequence[PanelCoat]) -> float:
    """Hours from the last coat to the full cure of every one, those beneath having had their waits already.

    Examples
    --------
    A product that cures in 25 days under one that is put on 10 days later and cures in 7: 15 days are left.
    """
    now_h = left_h = 0.0
    for coat in coats:
        now_h += coat.wait_h[0]
        left_h = max(left_h, now_h + coat.cure_h)
    return max(0.0, left_h - now_h)


def coat_ml(
    coat: PanelCoat, area_m2: float, *, absorbency: float = 1.0, waste: float = DEFAULT_WASTE
) -> float:
    """Product that a coat takes on panels with ``area_m2`` of coated area altogether, mL, thinner aside."""
    needs = recipe_needs(coat.recipe, area_m2 * coat.share, absorbency=absorbency, waste=waste)
    return needs[coat.layer].coats_ml[coat.coat - 1]


def coat_cost(coat: PanelCoat, area_m2: float, work: Spreading) -> float | None:
    """Money that a coat takes, at the cheapest litre price; ``None`` without a price."""
    need = layer_need(
        coat.alone,
        area_m2 * coat.share,
        absorbency=work.absorbency,
        waste=work.waste,
        earlier_coats=coat.spread_coat - 1,
        thinner_prices=work.thinner_prices,
    )
    return need.cost


def panel_minutes(recipe: Recipe, sections: Sequence[SectionRecipe], area_m2: float, n_panels: int) -> float:
    """Hands-on minutes to carry a recipe out with its sections' own, on ``n_panels`` panels of ``area_m2`` coated area altogether.

    Without sections that of :func:`~nublet.core.materials.hands_on.hands_on_minutes`; with them each coat for what it goes over, and
    masking and taking the tape off where it goes over some only.
    """
    coats = panel_coats(recipe, sections)
    minutes = PACES["sand"].minutes_per_m2 * area_m2 * len(recipe.preparation.grits)
    taping = (
        PACES["mask"].minutes_per_m2 + PACES["unmask"].minutes_per_m2
    ) * area_m2 + 2 * HANDLING_MIN * n_panels
    for number, coat in enumerate(coats):
        layer, area = coat.of, area_m2 * coat.share
        minutes += n_panels * hands_on_per_panel(layer, area / n_panels)
        if layer.product.wipe_off_min is not None:
            minutes += PACES["wipe"].minutes_per_m2 * area
        if layer.abrade_between if coat.coat > 1 else layer.sanded_before:
            minutes += PACES["abrade"].minutes_per_m2 * area
        if coat.share < 1 and coat.sections != (coats[number - 1].sections if number else ()):
            minutes += taping
    return minutes


def days_of(coats: Sequence[PanelCoat]) -> float:
    """Days from the first coat to the full cure of every one, working hours aside."""
    return math.ceil((sum(coat.wait_h[0] for coat in coats) + cure_left_h(coats)) / 24 * 10) / 10


def cure_h(layer: Layer) -> float:
    """Hours to a layer's full cure."""
    return 24 * layer.product.cure_d(with_hardener=layer.hardener)


def wait_before_h(layer: Layer, beneath: Layer, *, is_final_wax: bool) -> float:
    """Hours between two layers; a wax on top, and a layer without a wait, come when what is beneath has cured."""
    return cure_h(beneath) if layer.wait_before_h is None or is_final_wax else layer.wait_before_h


def _keyed(recipe: Recipe, number: int, section: SectionRecipe | None) -> list[tuple[_Key, _At]]:
    """The coats of one section's recipe, by what they are on the panel."""
    own_from = len(recipe.layers) - (0 if section is None else len(section.layers))
    found: list[tuple[_Key, _At]] = []
    for index, layer in enumerate(recipe.all_layers):
        kind = "final" if index >= len(recipe.layers) else "own" if index >= own_from else "base"
        for coat in range(1, layer.coats + 1):
            count = 1 + sum(key[0] == kind for key, _ in found)
            key = (kind, number if kind == "own" else 0, count)
            found.append((key, _At(number, recipe, index, coat)))
    return found


def _wait_h(at: _At) -> float:
    """Least hours from the coat before it in its recipe."""
    layers = at.recipe.all_layers
    if at.coat > 1:
        return layers[at.layer].recoat_h[0]
    return wait_before_h(
        layers[at.layer], layers[at.layer - 1], is_final_wax=at.layer >= len(at.recipe.layers)
    )


def _in_order(places: dict[_Key, list[_At]], before: dict[_Key, list[tuple[_Key, float]]]) -> list[_Key]:
    """The build-up's coats, then those of each section in one go, the soonest ready first."""
    base = sorted((key for key in places if key[0] == "base"), key=lambda key: key[2])
    times: dict[_Key, float] = {}
    for key in (*base, *(key for key in places if key[0] != "base")):
        times[key] = max((times[earlier] + wait_h for earlier, wait_h in before.get(key, ())), default=0.0)
    groups = dict.fromkeys((kind, whose) for kind, whose, _ in places if kind != "base")
    ready = sorted(groups, key=lambda group: (times[(*group, 1)], group))
    return base + [key for group in ready for key in sorted(key for key in places if key[:2] == group)]
