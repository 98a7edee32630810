"""A trial's own work: from recipes, panels and protocol to the groups that the planner plans.

Hands-on minutes are the round estimates of :mod:`nublet.core.materials.recipes` and :mod:`nublet.core.design.effort`; tolerances
are bench defaults. Whoever times their own work changes them in the specification.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from nublet.core.materials.cup import is_solvent_open
from nublet.core.materials.doings import (
    Doing,
    doings_of_finishing,
    doings_of_preparation,
    lamp_pass,
    masking,
    unmasking,
)
from nublet.core.materials.families import Repair
from nublet.core.materials.hands_on import hands_on_per_panel
from nublet.core.materials.paces import HANDLING_MIN, NO_PACES, minutes_per_panel
from nublet.core.materials.panel_coats import PanelCoat, cure_h, cure_left_h, panel_coats
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sections import SectionRecipe
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.spec import CoatStep, PanelGroup, WipeOff
from nublet.core.planning.trial_exposures import MendTime, exposure_of
from nublet.core.protocols.tests import Protocol

# At one site: wiping on more, melting in, sanding back to recoat, stripping.
_LAMP_WITHIN_H = _TAPING_WITHIN_H = 1.0
_MEND_MIN: dict[Repair, float] = {"wipe-on": 1.5, "melts-in": 2.0, "sand-and-recoat": 4.0, "strip": 8.0}


@dataclass(frozen=True, kw_only=True)
class TrialGroup:
    """A build-up's panels. ``recipe`` is ``None`` for the bare control; ``face_m2`` the area of one face of a panel.

    ``preparation`` is what is done to them first: ``None`` where nothing is, as on glass, or where it is done outside the plan.
    ``sections`` are the recipes of its sections.

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
    sections: tuple[SectionRecipe, ...] = ()


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
            cure_h=0.0 if group.recipe is None else cure_after_last_step_h(group.recipe, group.sections),
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
    return MendTime(hands_min=_MEND_MIN[repair], cure_min=60 * cure_h(top))


def cure_after_last_step_h(recipe: Recipe, sections: Sequence[SectionRecipe] = ()) -> float:
    """Hours from the last step to full cure: what is buffed or rubbed has had part of its cure by then."""
    finished_h = sum(doing.after_h for doing in doings_of_finishing(recipe))
    return max(0.0, cure_left_h(panel_coats(recipe, sections)) - finished_h)


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
    coats = _masked(panel_coats(recipe, group.sections), area_m2, weighs=weighs, paces=paces)
    if finishing:
        coats[-1] = replace(coats[-1], recoat_from_h=finishing[0].after_h)
    yield from coats
    yield from (_worked(doing, area_m2, paces) for doing in finishing)


def _masked(
    coats: Sequence[PanelCoat], area_m2: float, *, weighs: bool, paces: Mapping[str, float]
) -> list[CoatStep]:
    """The coats, with masking before those that go over some sections only, and the tape taken off after them."""
    found: list[CoatStep] = []
    steps = iter(_coats(coats, area_m2, weighs=weighs, paces=paces))
    for number, coat in enumerate(coats):
        before = coats[number - 1].sections if number else ()
        after = coats[number + 1].sections if number + 1 < len(coats) else ()
        is_masked = coat.share < 1
        if is_masked and coat.sections != before:
            _add_before_the_next(found, _worked(masking(number + 1), area_m2, paces))
        found.append(next(steps))
        if coat.of.product.kind.sets == "ultraviolet":
            found.append(next(steps))
        if is_masked and coat.sections != after:
            _add_at_once(found, _worked(unmasking(number + 1), area_m2, paces))
    return found


def _add_before_the_next(found: list[CoatStep], work: CoatStep) -> None:
    """Add work that is done just before the next coat: what is done before it keeps its wait, and its window less an hour."""
    if found and (closes_h := found[-1].recoat_to_h) is not None:
        found[-1] = replace(found[-1], recoat_to_h=max(found[-1].recoat_from_h, closes_h - _TAPING_WITHIN_H))
        work = replace(work, recoat_to_h=_TAPING_WITHIN_H)
    found.append(work)


def _add_at_once(found: list[CoatStep], work: CoatStep) -> None:
    """Add work that is done as soon as the coat is on; the wait for the next counts from there, and its window less an hour."""
    coat = found[-1]
    closes_h = coat.recoat_to_h
    found[-1] = replace(coat, recoat_from_h=0.0, recoat_to_h=None if closes_h is None else _TAPING_WITHIN_H)
    found.append(
        replace(
            work,
            recoat_from_h=coat.recoat_from_h,
            recoat_to_h=None if closes_h is None else max(coat.recoat_from_h, closes_h - _TAPING_WITHIN_H),
        )
    )


def _worked(doing: Doing, area_m2: float, paces: Mapping[str, float]) -> CoatStep:
    return CoatStep(
        id=doing.id,
        kind="work",
        minutes_per_panel=doing.minutes(area_m2, paces),
        recoat_from_h=doing.then_h,
        is_solvent_open=doing.is_solvent_open,
    )


def _coats(
    coats: Sequence[PanelCoat], area_m2: float, *, weighs: bool, paces: Mapping[str, float]
) -> Iterable[CoatStep]:
    for number, each in enumerate(coats):
        layer = each.of
        product = layer.product
        wipe = product.wipe_off_min
        own_m2 = area_m2 * each.share
        # Among the first coats of a layer only one that lies on another can be sanded back to.
        is_abraded = bool(layer.abrade_between) if each.coat > 1 else layer.sanded_before and each.layer > 0
        opens_h, closes_h = coats[number + 1].wait_h if number + 1 < len(coats) else (0.0, None)
        coated = CoatStep(
            id=each.id,
            product=product.name,
            minutes_per_panel=round(hands_on_per_panel(layer, own_m2), 2),
            wipe=None
            if wipe is None
            else WipeOff(
                from_min=wipe[0],
                to_min=wipe[1],
                minutes_per_panel=round(minutes_per_panel("wipe", own_m2, paces), 2),
            ),
            recoat_from_h=opens_h,
            recoat_to_h=closes_h,
            pot_life_min=product.label.pot_life_min if layer.hardener else None,
            is_solvent_open=is_solvent_open(each.alone),
            abrade_minutes_per_panel=round(minutes_per_panel("abrade", own_m2, paces), 2)
            if is_abraded
            else 0.0,
            weigh_minutes_per_panel=HANDLING_MIN if weighs else 0.0,
            ends_when_even=tuple(_ended_when_even(coats, number)),
        )
        if product.kind.sets != "ultraviolet":
            yield coated
            continue
        # Set under the lamp at once; the next coat's wait counts from there.
        lamp = _worked(lamp_pass(number + 1), own_m2, paces)
        yield replace(coated, recoat_from_h=0.0, recoat_to_h=_LAMP_WITHIN_H)
        yield replace(lamp, recoat_from_h=opens_h, recoat_to_h=closes_h)


def _ended_when_even(coats: Sequence[PanelCoat], number: int) -> Iterable[str]:
    """The steps that fall away where the sheen is even before a coat: it and the rest of its layer; none where coats are counted."""
    own = coats[number]
    if own.of.stop_rule == "coats" or own.coat == 1:
        return
    for later, each in enumerate(coats[number:], start=number):
        if each.shares_layer(own):
            yield each.id
            if each.of.product.kind.sets == "ultraviolet":
                yield lamp_pass(later + 1).id
