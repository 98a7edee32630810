"""A trial's own work: from recipes, panels and protocol to the groups that the planner plans.

Hands-on minutes are the round estimates of :mod:`nublet.core.materials.recipes` and :mod:`nublet.core.design.effort`; tolerances
are bench defaults. Whoever times their own work changes them in the specification.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from nublet.core.materials.cup import is_solvent_open
from nublet.core.materials.doings import Doing, doings_of_finishing, doings_of_preparation, lamp_pass
from nublet.core.materials.families import Repair
from nublet.core.materials.paces import HANDLING_MIN, NO_PACES, minutes_per_panel
from nublet.core.materials.recipes import Layer, Preparation, Recipe, hands_on_per_panel
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.spec import CoatStep, PanelGroup, WipeOff
from nublet.core.planning.trial_exposures import MendTime, exposure_of
from nublet.core.protocols.tests import Protocol

# At one site: wiping on more, melting in, sanding back to recoat, stripping.
_LAMP_WITHIN_H = 1.0
_MEND_MIN: dict[Repair, float] = {"wipe-on": 1.5, "melts-in": 2.0, "sand-and-recoat": 4.0, "strip": 8.0}


@dataclass(frozen=True, kw_only=True)
class TrialGroup:
    """A build-up's panels. ``recipe`` is ``None`` for the bare control; ``face_m2`` the area of one face of a panel.

    ``preparation`` is what is done to them first: ``None`` where nothing is, as on glass, or where it is done outside the plan.

    ``boards`` names each panel's board, or of a slip its replicate.

    ``exposures`` are how often each exposure stands on one panel, by id: once a section.
    """

    name: str
    recipe: Recipe | None
    panels: tuple[str, ...]
    face_m2: float
    exposures: Mapping[str, int]
    boards: tuple[str, ...] = ()
    preparation: Preparation | None = None


def groups_of(
    groups: Iterable[TrialGroup],
    protocol: Protocol,
    *,
    n_judges: int = 1,
    weighs: bool = False,
    condition_h: float = 0.0,
    paces: Mapping[str, float] = NO_PACES,
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
        Rest before the first work.
    paces : mapping of PaceKind to float
        The shop's own minutes a square metre.
    """
    return tuple(
        PanelGroup(
            id=group.name,
            panels=group.panels,
            boards=group.boards,
            steps=tuple(_steps(group, weighs=weighs, paces=paces)),
            cure_h=0.0 if group.recipe is None else cure_after_last_step_h(group.recipe),
            condition_h=0.0 if group.recipe is None and group.preparation is None else condition_h,
            exposures=tuple(_exposures(group, protocol, n_judges)),
        )
        for group in groups
    )


def _exposures(group: TrialGroup, protocol: Protocol, n_judges: int) -> Iterable[ExposureWork]:
    mend = None if group.recipe is None else mend_time(group.recipe)
    for name, times in group.exposures.items():
        test = protocol.test(name)
        work = exposure_of(test, protocol.looks_of(test), times=times, n_judges=n_judges, mend=mend)
        if work is not None:
            yield work


def mend_time(recipe: Recipe) -> MendTime | None:
    """How long a mend of a build-up takes, by the way of the family on top, and how long it cures: as that layer does.

    ``None`` where nothing was put on.
    """
    if not recipe.all_layers:
        return None
    top = recipe.all_layers[-1]
    repair = top.product.kind.repair
    return MendTime(hands_min=_MEND_MIN[repair], cure_min=60 * _cure_h(top))


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


def cure_after_last_step_h(recipe: Recipe) -> float:
    """Hours from the last step to full cure: what is buffed or rubbed has had part of its cure by then."""
    finished_h = sum(doing.after_h for doing in doings_of_finishing(recipe))
    return max(0.0, cure_after_last_coat_h(recipe) - finished_h)


def _steps(group: TrialGroup, *, weighs: bool, paces: Mapping[str, float]) -> Iterable[CoatStep]:
    """Preparing, coats, finishing; bare wood is prepared and no more."""
    recipe = group.recipe
    is_both = recipe is None or recipe.faces == "both"
    area_m2 = group.face_m2 * (2 if is_both else 1)
    if group.preparation is not None:
        for doing in doings_of_preparation(group.preparation):
            yield _worked(doing, area_m2, paces)
    if recipe is None:
        return
    finishing = list(doings_of_finishing(recipe))
    coats = list(_coats(recipe, area_m2, weighs=weighs, paces=paces))
    if finishing:
        coats[-1] = replace(coats[-1], recoat_from_h=finishing[0].after_h)
    yield from coats
    yield from (_worked(doing, area_m2, paces) for doing in finishing)


def _worked(doing: Doing, area_m2: float, paces: Mapping[str, float]) -> CoatStep:
    return CoatStep(
        id=doing.id,
        kind="work",
        minutes_per_panel=doing.minutes(area_m2, paces),
        recoat_from_h=doing.then_h,
        is_solvent_open=doing.is_solvent_open,
    )


def _coats(recipe: Recipe, area_m2: float, *, weighs: bool, paces: Mapping[str, float]) -> Iterable[CoatStep]:
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
        coated = CoatStep(
            id=each.id,
            product=product.name,
            minutes_per_panel=round(hands_on_per_panel(layer, area_m2), 2),
            wipe=None
            if wipe is None
            else WipeOff(
                from_min=wipe[0],
                to_min=wipe[1],
                minutes_per_panel=round(minutes_per_panel("wipe", area_m2, paces), 2),
            ),
            recoat_from_h=opens_h,
            recoat_to_h=closes_h,
            pot_life_min=product.label.pot_life_min if layer.hardener else None,
            is_solvent_open=is_solvent_open(layer),
            abrade_minutes_per_panel=round(minutes_per_panel("abrade", area_m2, paces), 2)
            if is_abraded
            else 0.0,
            weigh_minutes_per_panel=HANDLING_MIN if weighs else 0.0,
        )
        if product.kind.sets != "ultraviolet":
            yield coated
            continue
        # Set under the lamp at once; the next coat's wait counts from there.
        lamp = _worked(lamp_pass(int(each.id.split()[-1])), area_m2, paces)
        yield replace(coated, recoat_from_h=0.0, recoat_to_h=_LAMP_WITHIN_H)
        yield replace(lamp, recoat_from_h=opens_h, recoat_to_h=closes_h)


def _wait_before_h(layer: Layer, beneath: Layer, *, is_final_wax: bool) -> float:
    """Hours between two layers; a wax on top, and a layer without a wait, come when what is beneath has cured."""
    return _cure_h(beneath) if layer.wait_before_h is None or is_final_wax else layer.wait_before_h


def _cure_h(layer: Layer) -> float:
    return 24 * layer.product.cure_d(with_hardener=layer.hardener)
