"""A trial's own work: from recipes, panels and protocol to the groups that the planner plans.

Hands-on minutes are the round estimates of :mod:`nublet.core.materials.recipes` and :mod:`nublet.core.design.effort`; tolerances
are bench defaults. Whoever times their own work changes them in the specification.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from nublet.core.design.effort import MINUTES_PER_GRADE, MINUTES_PER_SPOT
from nublet.core.materials.cup import is_solvent_open
from nublet.core.materials.recipes import Layer, Recipe, hands_on_per_panel
from nublet.core.planning.spec import CoatStep, ExposureWork, LookTime, PanelGroup, WipeOff
from nublet.core.protocols.acts import duration_tolerance_min
from nublet.core.protocols.looks import Look, look_tolerance_min
from nublet.core.protocols.tests import Protocol, Test

# Wiping off and abrading, a square metre, as a recipe's hands-on minutes have them; and picking a panel up.
_WIPE_MIN_PER_M2 = _ABRADE_MIN_PER_M2 = 6.0
_HANDLING_MIN = 0.25


@dataclass(frozen=True, kw_only=True)
class TrialGroup:
    """A build-up's panels. ``recipe`` is ``None`` for the bare control; ``face_m2`` the area of one face of a panel.

    ``exposures`` are how often each exposure stands on one panel, by id: once a section.
    """

    name: str
    recipe: Recipe | None
    panels: tuple[str, ...]
    face_m2: float
    exposures: Mapping[str, int]


def groups_of(
    groups: Iterable[TrialGroup],
    protocol: Protocol,
    *,
    n_judges: int = 1,
    weighs: bool = False,
    condition_h: float = 0.0,
) -> tuple[PanelGroup, ...]:
    """The groups of a plan.

    Parameters
    ----------
    groups : iterable of TrialGroup
    protocol : Protocol
    n_judges : int
        Each grades every spot at every look.
    weighs : bool
        Whether each coat is weighed, before and after.
    condition_h : float
        Rest before the first coat.
    """
    return tuple(
        PanelGroup(
            id=group.name,
            panels=group.panels,
            steps=() if group.recipe is None else tuple(_steps(group.recipe, group.face_m2, weighs=weighs)),
            cure_h=0.0 if group.recipe is None else cure_after_last_coat_h(group.recipe),
            condition_h=0.0 if group.recipe is None else condition_h,
            exposures=tuple(
                _exposure(protocol.test(name), protocol.looks_of(protocol.test(name)), times, n_judges)
                for name, times in group.exposures.items()
            ),
        )
        for group in groups
    )


@dataclass(frozen=True, kw_only=True)
class Coat:
    """One coat of a recipe: its id in a plan, its layer from the wood up from 0, and which of the layer's coats, from 1."""

    id: str
    layer: int
    coat: int


def coats_of(recipe: Recipe) -> list[Coat]:
    """The coats of a recipe in order. Their ids count them and name no product, so that a record of them is blind.

    Examples
    --------
    Two coats of oil under one of wax are ``coat 1``, ``coat 2`` and ``coat 3``.
    """
    pairs = [
        (number, coat) for number, layer in enumerate(recipe.all_layers) for coat in range(1, layer.coats + 1)
    ]
    return [
        Coat(id=f"coat {count}", layer=number, coat=coat)
        for count, (number, coat) in enumerate(pairs, start=1)
    ]


def cure_after_last_coat_h(recipe: Recipe) -> float:
    """Hours from the last coat to the full cure of every layer, those beneath having had their waits already.

    Examples
    --------
    A product that cures in 25 days under one that is put on 10 days later and cures in 7: 15 days are left.
    """
    layers = recipe.all_layers
    left_h = 0.0
    since_h = 0.0
    for number in range(len(layers) - 1, -1, -1):
        layer = layers[number]
        left_h = max(left_h, _cure_h(layer) - since_h)
        since_h += (layer.coats - 1) * layer.product.recoat_h[0]
        if number:
            since_h += _wait_before_h(layer, layers[number - 1], is_final_wax=number >= len(recipe.layers))
    return left_h


def _steps(recipe: Recipe, face_m2: float, *, weighs: bool) -> Iterable[CoatStep]:
    area_m2 = face_m2 * (2 if recipe.faces == "both" else 1)
    layers = recipe.all_layers
    for each in coats_of(recipe):
        number, coat, layer = each.layer, each.coat, layers[each.layer]
        product = layer.product
        wipe = product.wipe_off_min
        is_abraded = bool(layer.abrade_between) if coat > 1 else layer.sanded_before and number > 0
        opens_h, closes_h = product.recoat_h
        if coat == layer.coats:
            # The next layer's own wait, which never closes; the last step of all has none.
            following = layers[number + 1] if number + 1 < len(layers) else None
            closes_h = None
            opens_h = (
                0.0
                if following is None
                else _wait_before_h(following, layer, is_final_wax=number + 1 >= len(recipe.layers))
            )
        yield CoatStep(
            id=each.id,
            product=product.name,
            minutes_per_panel=round(hands_on_per_panel(layer, area_m2), 2),
            wipe=None
            if wipe is None
            else WipeOff(
                from_min=wipe[0],
                to_min=wipe[1],
                minutes_per_panel=round(_WIPE_MIN_PER_M2 * area_m2 + _HANDLING_MIN, 2),
            ),
            recoat_from_h=opens_h,
            recoat_to_h=closes_h,
            pot_life_min=product.label.pot_life_min if layer.hardener else None,
            is_solvent_open=is_solvent_open(layer),
            abrade_minutes_per_panel=round(_ABRADE_MIN_PER_M2 * area_m2 + _HANDLING_MIN, 2)
            if is_abraded
            else 0.0,
            weigh_minutes_per_panel=_HANDLING_MIN if weighs else 0.0,
        )


def _wait_before_h(layer: Layer, beneath: Layer, *, is_final_wax: bool) -> float:
    """Hours between two layers; a wax on top, and a layer without a wait, come when what is beneath has cured."""
    return _cure_h(beneath) if layer.wait_before_h is None or is_final_wax else layer.wait_before_h


def _cure_h(layer: Layer) -> float:
    return 24 * layer.product.cure_d(with_hardener=layer.hardener)


def _exposure(exposure: Test, looks: Iterable[Look], times: int, n_judges: int) -> ExposureWork:
    half = MINUTES_PER_SPOT / 2
    return ExposureWork(
        id=exposure.id,
        lay_minutes_per_panel=half * times,
        duration_min=exposure.duration_min,
        tolerance_min=duration_tolerance_min(exposure.duration_min),
        lift_minutes_per_panel=half * times,
        needs_heat_block="heat_block" in exposure.occupies,
        natures=exposure.natures,
        looks=tuple(
            LookTime(
                after_min=look.after_min,
                tolerance_min=look_tolerance_min(look.after_min),
                minutes_per_panel=round(MINUTES_PER_GRADE * times * n_judges, 2),
            )
            for look in looks
        ),
    )
