"""What a trial's design can show and what it costs, before it is drawn: also of a draft that nobody has saved."""

from __future__ import annotations

import copy
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np

from nublet.core.design.areas import Section
from nublet.core.design.blocks import SpeciesBlocks, plan_blocks
from nublet.core.design.cutting import BoardCut
from nublet.core.design.drawn import Spot
from nublet.core.design.effort import Effort, estimate_effort
from nublet.core.design.fitting import PanelLoad
from nublet.core.design.outlook import Outlook, look_ahead
from nublet.core.design.power import WORTH_KNOWING, Comparison, Spread
from nublet.core.design.response_reach import ResponseReach
from nublet.core.design.trial_design import DesignSpec, check_spec, draw_one_panel, loads_of
from nublet.core.design.whole import share_out
from nublet.core.design.words import comparisons_of, say_blocks, say_loads
from nublet.core.errors import DesignError
from nublet.core.evidence.stages import StageLimit, stage_limits
from nublet.core.materials.mixes import reckon_cups_of
from nublet.core.materials.panel_coats import coat_cost, coat_ml, days_of, panel_coats
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sections import SectionRecipe
from nublet.core.materials.shopping import shop_for, thinners_for
from nublet.core.materials.species import Species
from nublet.core.protocols.responses import GRADE
from nublet.core.quantities import Prose
from nublet.web.build_ups.adapters import sections_by_build_up, to_recipes, work_of
from nublet.web.designs.adapters import cut_of, planned_boards, spec_of
from nublet.web.outlook.spreads import reaches, spreads_for
from nublet.web.shelf.adapters import woods_of
from nublet.web.trials.actions import set_fields
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

Found = TypeVar("Found")


@dataclass(frozen=True, kw_only=True)
class Trouble:
    """What keeps the design from being drawn as it is, and the field to change."""

    field: str
    says: Prose


@dataclass(frozen=True, kw_only=True)
class SpeciesOutlook:
    """How one species' boards would be used."""

    species: str
    block_size: int
    n_boards: int
    efficiency: float
    says: str


@dataclass(frozen=True, kw_only=True)
class BoardOutlook:
    """What one board would have to give, mm."""

    name: str
    n_panels: int
    needed_mm: float
    length_mm: float | None
    says: Prose


@dataclass(frozen=True, kw_only=True)
class SamplePanel:
    """A panel as it might be laid out, mm; the lots that are drawn later place the spots otherwise."""

    sections: tuple[Section, ...]
    spots: tuple[Spot, ...]


@dataclass(frozen=True, kw_only=True)
class Cost:
    """What a design takes.

    ``money`` is for what is used up and ``purchase`` for whole containers, both over the products that have prices;
    ``n_without_price`` counts the others. ``litres`` is all that is spread, ``days`` from the first coat to full cure.
    """

    effort: Effort
    litres: float
    money: float
    purchase: float
    n_without_price: int
    days: float


@dataclass(frozen=True, kw_only=True)
class DesignOutlook:
    """The live answer of the Design page. ``outlook`` is ``None`` while there is nothing to compare."""

    outlook: Outlook | None
    spread: Spread
    spread_is_simulated: bool
    n_build_ups: int
    n_panels: int
    n_slips: int
    n_spots: int
    panel_length_mm: float
    panel_width_mm: float
    species: tuple[SpeciesOutlook, ...]
    boards: tuple[BoardOutlook, ...]
    says: tuple[str, ...]
    troubles: tuple[Trouble, ...]
    samples: tuple[SamplePanel, ...]
    stages: tuple[StageLimit, ...]
    others: tuple[ResponseReach, ...]
    cost: Cost


def look_at_design(stored: Trial, draft: Mapping[str, Any]) -> DesignOutlook:
    """Look ahead at a trial with some of its fields changed, without saving anything.

    Parameters
    ----------
    stored : Trial
    draft : mapping of field to value
        As in :func:`nublet.web.trials.actions.update_trial`; what is left out is as stored.

    Raises
    ------
    NubletError
        If a field cannot be. What cannot be drawn is no error but one of the ``troubles``.
    """
    trial = copy.copy(stored)
    set_fields(trial, draft)
    woods = woods_of(trial.shop_id)
    rows = list(trial.build_ups.select_related("version").order_by("pk"))
    boards = planned_boards(trial, woods, trial.boards.all())
    spec = spec_of(trial, rows, boards, seed=0)
    recipes = to_recipes(rows, trial.shop_id)
    sections = sections_by_build_up(trial, rows)
    troubles: list[Trouble] = []
    _try(troubles, lambda: check_spec(spec))
    shares = share_out(spec.exposures)
    loads = _try(troubles, lambda: loads_of(spec)) or ()
    panels_each = shares.panels_each(spec.panels_each)
    blocks = (_try(troubles, lambda: _plan(spec, panels_each)) or []) if panels_each else []
    spreads = spreads_for(trial)
    spread = spreads.panels
    comparisons = comparisons_of(tuple(blocks)) if blocks else _complete(spec, trial.species)
    n_each = sum(c.n_boards * c.block_size // c.n_build_ups for c in comparisons)
    n_panels = n_each * panels_each * len(rows)
    n_slips = len(shares.slips) * spec.slip_replicates * (len(rows) - len(spec.bare))
    on_wood = len(spec.exposures) - len(shares.slips)
    n_spots = n_each * len(rows) * on_wood * max(1, len(spec.sections)) + n_slips
    can_compare = len(rows) > 1 and bool(comparisons)
    return DesignOutlook(
        outlook=look_ahead(
            comparisons,
            spread,
            n_sections=len(spec.sections),
            n_judges=max(1, trial.judges.count()),
            within=spreads.sections,
            worth=trial.worth_knowing.get(GRADE.id, WORTH_KNOWING),
        )
        if can_compare
        else None,
        spread=spread,
        spread_is_simulated=spread.source == "own_trials" and trial.is_simulated,
        n_build_ups=len(rows),
        n_panels=n_panels,
        n_slips=n_slips,
        n_spots=n_spots,
        panel_length_mm=trial.panel_length_mm,
        panel_width_mm=trial.panel_width_mm,
        species=tuple(_say_species(b, panels_each, woods) for b in blocks),
        boards=_boards(trial, spec, blocks, panels_each),
        says=tuple(say_loads(loads)),
        troubles=tuple(dict.fromkeys(troubles)),
        samples=_samples(spec, loads),
        stages=stage_limits(trial.stages) if trial.stages else (),
        others=reaches(trial, comparisons, spreads) if can_compare else (),
        cost=_cost(
            trial,
            [(recipes[row.pk], sections[row.pk]) for row in rows if row.pk in recipes],
            woods,
            n_each=n_each * panels_each,
            n_panels=n_panels,
            n_spots=n_spots,
        ),
    )


def _try(troubles: list[Trouble], do: Callable[[], Found]) -> Found | None:
    """What ``do`` returns; when the design cannot be, note why and return ``None``."""
    try:
        return do()
    except DesignError as error:
        troubles.append(Trouble(field=error.field or "", says=error.message))
        return None


def _plan(spec: DesignSpec, panels_each: int) -> list[SpeciesBlocks]:
    return plan_blocks(
        len(spec.build_ups),
        spec.boards,
        spec.size,
        spec.saw,
        panels_each=panels_each,
        arrangement=spec.arrangement,
        block_size=spec.block_size,
    )


def _complete(spec: DesignSpec, species: Sequence[str]) -> list[Comparison]:
    """Complete blocks on all boards: what there would be if the boards were long enough."""
    counts = [sum(board.species == name for board in spec.boards) for name in species]
    v = len(spec.build_ups)
    return [Comparison(n_build_ups=v, n_boards=n, block_size=v) for n in counts if n]


def _say_species(blocks: SpeciesBlocks, panels_each: int, woods: Mapping[str, Species]) -> SpeciesOutlook:
    says = say_blocks(blocks, panels_each)
    return SpeciesOutlook(
        species=blocks.species,
        block_size=blocks.block_size,
        n_boards=blocks.n_boards,
        efficiency=blocks.efficiency,
        says=says.replace(blocks.species, woods[blocks.species].name, 1),
    )


def _boards(
    trial: Trial, spec: DesignSpec, blocks: Sequence[SpeciesBlocks], panels_each: int
) -> tuple[BoardOutlook, ...]:
    cuts: list[BoardCut] = [cut for species in blocks for cut in species.cuts]
    if not blocks and panels_each:
        n = len(spec.build_ups) * panels_each
        cuts = [cut_of(trial, board, n) for board in spec.boards]
    return tuple(
        BoardOutlook(
            name=cut.board.id,
            n_panels=cut.n_asked,
            needed_mm=cut.needed_mm,
            length_mm=cut.board.length_mm,
            says=cut.says,
        )
        for cut in cuts
    )


def _samples(spec: DesignSpec, loads: Sequence[PanelLoad]) -> tuple[SamplePanel, ...]:
    samples = []
    for part in range(1, len(loads) + 1):
        try:
            sections, spots = draw_one_panel(spec, part, rng=np.random.default_rng(part))
        except DesignError:
            # The lots may still find a place; a sample is only there to be looked at.
            continue
        samples.append(SamplePanel(sections=sections, spots=spots))
    return tuple(samples)


def _cost(
    trial: Trial,
    coated: Sequence[tuple[Recipe, Sequence[SectionRecipe]]],
    woods: Mapping[str, Species],
    *,
    n_each: int,
    n_panels: int,
    n_spots: int,
) -> Cost:
    work = work_of(trial, woods, n_panels=n_each)
    protocol = protocol_of(trial)
    if n_each == 0:
        coated = []
    made = [(recipe, panel_coats(recipe, sections)) for recipe, sections in coated]
    coats = [(coat, work.area_m2(recipe)) for recipe, own in made for coat in own]
    costs = [(coat, coat_cost(coat, area_m2, work)) for coat, area_m2 in coats]
    cups = reckon_cups_of(made, work)
    purchases = [need.purchase for need in shop_for(cups)]
    thinners = [need.cost for need in thinners_for(cups, work.thinner_prices)]
    return Cost(
        effort=estimate_effort(
            coated,
            work,
            n_panels=n_panels,
            n_spots=n_spots,
            n_grades_a_spot=len(protocol.looks) * trial.judges.count(),
        ),
        litres=sum(
            coat_ml(coat, area_m2, absorbency=work.absorbency, waste=work.waste) for coat, area_m2 in coats
        )
        / 1000,
        money=sum(cost for _, cost in costs if cost is not None),
        purchase=sum(purchase.cost for purchase in purchases if purchase is not None)
        + sum(cost for cost in thinners if cost is not None),
        n_without_price=len({coat.of.product.name for coat, cost in costs if cost is None}),
        days=max((days_of(own) for _, own in made), default=0.0),
    )
