"""The cups of a plan: what is mixed once for passes of several build-ups, and what to buy for it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from nublet.core.bench.keys import WorkKey
from nublet.core.materials.doings import Doing, doing_of
from nublet.core.materials.mixes import Cup, Use, Work, content_of, fill_cup, reckon_cups_of, share_cups
from nublet.core.materials.panel_coats import PanelCoat, coat_ml, panel_coats
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sections import SectionRecipe
from nublet.core.materials.shopping import ProductNeed, ThinnerNeed, shop_for, thinners_for
from nublet.core.materials.species import Species
from nublet.core.protocols.tests import Protocol
from nublet.web.bench.models import PanelWork, PlannedOperation
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.bench.turns import is_done, turn_key
from nublet.web.build_ups.adapters import control_preparations, sections_by_build_up, to_recipes, work_of
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.selectors import panels_of_a_build_up
from nublet.web.shelf.adapters import woods_of
from nublet.web.shelf.models import ProductBatch
from nublet.web.trials.adapters import measures_of, protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class Kitchen:
    """What operations are described from: recipes by build-up, the protocol, and the wood they are put on."""

    trial: Trial
    protocol: Protocol
    recipes: Mapping[int, Recipe]
    names: Mapping[int, str]
    woods: Mapping[str, Species]
    batches: Mapping[int, Sequence[ProductBatch]]
    bare: Mapping[int, Preparation]
    sections: Mapping[int, Sequence[SectionRecipe]]

    def doing(self, row: PlannedOperation) -> Doing | None:
        """What is prepared or finished by an operation; ``None`` for what is none."""
        if row.kind != "work":
            return None
        recipe = self.recipes.get(row.build_up_id or 0)
        preparation = self.bare.get(row.build_up_id or 0) if recipe is None else recipe.preparation
        return doing_of(row.item, preparation, recipe)

    def coat(self, row: PlannedOperation) -> PanelCoat | None:
        """The coat that an operation belongs to, ``None`` for what is none."""
        return next((coat for coat in self.coats.get(row.build_up_id or 0, ()) if coat.id == row.item), None)

    @cached_property
    def coats(self) -> dict[int, list[PanelCoat]]:
        """The coats of each build-up's panels."""
        return {number: panel_coats(recipe, self.sections[number]) for number, recipe in self.recipes.items()}

    def work(self, n_panels: int) -> Work:
        """The work of a pass."""
        return work_of(self.trial, self.woods, n_panels=n_panels)

    def use(self, row: PlannedOperation, n_panels: int | None = None) -> Use | None:
        """What a pass takes from a cup, for so many of its panels or all; ``None`` where it coats nothing."""
        found = self.coat(row) if row.kind == "coat" else None
        if found is None:
            return None
        work = self.work(len(row.panels) if n_panels is None else n_panels)
        return Use(
            id=row.pk,
            content=content_of(found.alone),
            ml=coat_ml(found, work.area_m2(found.recipe), absorbency=work.absorbency, waste=work.waste),
            begins_min=row.start_at.timestamp() / 60,
            ends_min=row.end_at.timestamp() / 60,
        )


def kitchen_of(trial: Trial) -> Kitchen:
    """What a trial's operations are described from. Four queries."""
    build_ups = list(TrialBuildUp.objects.filter(trial=trial).select_related("version"))
    recipes = to_recipes(build_ups, trial.shop_id)
    sections = sections_by_build_up(trial, build_ups)
    batches: dict[int, list[ProductBatch]] = defaultdict(list)
    products = {
        layer.product.id
        for layers in (
            *(recipe.all_layers for recipe in recipes.values()),
            *(section.layers for each in sections.values() for section in each),
        )
        for layer in layers
        if layer.product.id
    }
    for batch in ProductBatch.objects.filter(product__in=products, is_used_up=False).order_by("-pk"):
        batches[batch.product_id].append(batch)
    return Kitchen(
        trial=trial,
        protocol=protocol_of(trial),
        recipes=recipes,
        names={row.pk: row.name for row in build_ups},
        woods=woods_of(trial.shop_id),
        batches=batches,
        sections=sections,
        bare={row.pk: each for row, each in control_preparations(build_ups, recipes).items()},
    )


@dataclass(frozen=True, kw_only=True)
class CupAhead:
    """What to mix or decant where a pass begins a cup, or to mix anew in the middle of one: for it and what follows from it.

    ``after`` says which passes follow from the same cup; ``begun_with`` is the pass that the cup is planned to be mixed for, ``None``
    where it is this one.
    """

    cup: Cup
    passes: tuple[PlannedOperation, ...]
    n_panels: int
    after: tuple[str, ...]
    begun_with: str | None

    @property
    def is_mixed(self) -> bool:
        """Whether the passes share it; what is decanted is decanted for each."""
        return self.cup.content.is_mixed

    @property
    def key(self) -> str:
        """The same for all that can be put on from it."""
        return self.cup.content.key


def cups_ahead(
    rows: Iterable[PlannedOperation], kitchen: Kitchen, works: Mapping[WorkKey, PanelWork]
) -> dict[int, CupAhead]:
    """For each pass that coats, by its number, its cup from there on; panels that are done take nothing any more."""
    rows = list(rows)
    left = {row.pk: _left(row, works) or len(row.panels) for row in rows}
    found = {row.pk: (row, use) for row in rows if (use := kitchen.use(row, left[row.pk])) is not None}
    measures = measures_of(kitchen.trial)
    ahead: dict[int, CupAhead] = {}
    for cup in share_cups((use for _, use in found.values()), measures):
        passes = [found[number] for number in cup.uses if isinstance(number, int)]
        for index, (row, use) in enumerate(passes):
            rest = [each for each in passes[index + 1 :] if not is_done(each[0], works)]
            ml = use.ml + sum(other.ml for _, other in rest)
            ahead[row.pk] = CupAhead(
                cup=fill_cup(use.content, ml, measures),
                passes=(row, *(other for other, _ in rest)),
                n_panels=sum(left[each.pk] for each in (row, *(other for other, _ in rest))),
                after=tuple(_say(other, kitchen) for other, _ in rest),
                begun_with=None if index == 0 else _say(passes[0][0], kitchen),
            )
    return ahead


def _left(row: PlannedOperation, works: Mapping[WorkKey, PanelWork]) -> int:
    """How many of a pass's panels are neither done nor given up."""
    turns = (works.get(turn_key(row, panel[0])) for panel in row.panels)
    return sum(work is None or work.ended_at is None for work in turns)


def _say(row: PlannedOperation, kitchen: Kitchen) -> str:
    return f"{kitchen.names.get(row.build_up_id or 0, '')}, {row.item}"


@dataclass(frozen=True, kw_only=True)
class Shopping:
    """What to buy for what will be mixed: by the plan of the days where one stands, else as reckoned."""

    is_planned: bool
    n_panels: int
    products: tuple[ProductNeed, ...]
    thinners: tuple[ThinnerNeed, ...]


def shop_for_trial(trial: Trial) -> Shopping:
    """What a trial's build-ups take of each product. Eight queries at most."""
    kitchen = kitchen_of(trial)
    plan = standing_plan(trial)
    work = work_of(trial, kitchen.woods, n_panels=panels_of_a_build_up(trial))
    if plan is None:
        cups = reckon_cups_of(
            [(recipe, kitchen.coats[number]) for number, recipe in kitchen.recipes.items()], work
        )
    else:
        rows = plan.operations.filter(kind="coat").order_by("start_at", "pk")
        cups = share_cups((use for row in rows if (use := kitchen.use(row)) is not None), work.measures)
    return Shopping(
        is_planned=plan is not None,
        n_panels=work.n_panels,
        products=tuple(shop_for(cups)),
        thinners=tuple(thinners_for(cups, work.thinner_prices)),
    )
