"""What must not be combined, what should not, and what to know: rules as data over a recipe.

Each :class:`~nublet.core.materials.pair_rules.PairRule` looks at every layer and what lies beneath it (order matters: wax over oil is not oil over
wax); each :class:`Rule` looks at the recipe as a whole. A rule holds its severity, its reason and its remedy; what it
asks is put in traits (of products, see :attr:`Product.traits`, and of woods and uses) so that a rule reads as the
sentence that a finisher would say.

``block``: it will not hold, or hurts someone. ``warn``: it often goes wrong. ``note``: worth knowing.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from nublet.core.errors import BlockedCombinationError
from nublet.core.materials.pair_rules import PAIR_RULES, Beneath, Severity, trait_set
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import Layer, Recipe
from nublet.core.materials.species import Species

Demand = Literal["wet-washing", "water", "alcohol", "heat", "food", "outdoor", "scratch", "skin"]
# Which products food may touch: two schools, and each use says which is its own.
FoodSchool = Literal["disclosed-only", "cured-accepted"]
FOOD_SCHOOL_WORDS: dict[FoodSchool, str] = {
    "disclosed-only": "Disclosed only: a full ingredient list, or not on food",
    "cured-accepted": "Cured is accepted: any maker's statement, once fully cured",
}
GRIT_STEP = 1.6
SEVERITY_ORDER: dict[Severity, int] = {"block": 0, "warn": 1, "note": 2}


@dataclass(frozen=True, kw_only=True)
class Finding:
    """A rule that a recipe meets: where (``layers.1``, ``preparation``, ``final``), how grave, why, and what to do."""

    rule: str
    severity: Severity
    place: str
    reason: str
    remedy: str


@dataclass(frozen=True, kw_only=True)
class Setting:
    """What a recipe is for: the woods that it goes on, what the uses demand, and the schools of those that food touches."""

    species: Sequence[Species] = ()
    demands: frozenset[str] = frozenset()
    food_schools: frozenset[FoodSchool] = frozenset({"disclosed-only"})


Place = tuple[str, str]
RecipeTest = Callable[[Recipe, Setting], Iterable[Place]]


@dataclass(frozen=True, kw_only=True)
class Rule:
    """A rule on a whole recipe.

    ``find`` yields, for each place where it holds, the place and what it is about (``{what}`` in the words).
    """

    id: str
    severity: Severity
    reason: str
    remedy: str
    find: RecipeTest


def _layers(
    *traits: str, but: frozenset[str] = frozenset(), test: Callable[[Layer], bool] = lambda _: True
) -> RecipeTest:
    """Places of the layers that have one of the traits, none of ``but``, and pass the test."""

    def find(recipe: Recipe, _: Setting) -> Iterable[Place]:
        for index, layer in enumerate(recipe.all_layers):
            have = layer.product.traits
            if (not traits or have & set(traits)) and not have & but and test(layer):
                yield _place(recipe, index), layer.product.name

    return find


def _demanded(demand: Demand, found: RecipeTest) -> RecipeTest:
    """The same, where a use demands something."""
    return lambda recipe, setting: found(recipe, setting) if demand in setting.demands else ()


def _for_food(school: FoodSchool, found: RecipeTest) -> RecipeTest:
    """The same, where food touches it and a use follows a school."""
    demanded = _demanded("food", found)
    return lambda recipe, setting: demanded(recipe, setting) if school in setting.food_schools else ()


def _prepared(test: Callable[[Preparation], object]) -> RecipeTest:
    """The preparation, where the test gives words or true."""

    def find(recipe: Recipe, _: Setting) -> Iterable[Place]:
        if found := test(recipe.preparation):
            yield "preparation", str(found)

    return find


def _on_wood(trait: Callable[[Species], bool], found: RecipeTest) -> RecipeTest:
    """The same, where one of the woods is such."""

    def find(recipe: Recipe, setting: Setting) -> Iterable[Place]:
        woods = [wood.name for wood in setting.species if trait(wood)]
        if woods:
            for place, what in found(recipe, setting):
                yield place, f"{what} on {' and '.join(woods).lower()}"

    return find


def _top(*traits: str, but: frozenset[str] = frozenset()) -> RecipeTest:
    """The topmost layer, where it has one of the traits."""

    def find(recipe: Recipe, _: Setting) -> Iterable[Place]:
        last = recipe.all_layers[-1]
        if last.product.traits & set(traits) and not last.product.traits & but:
            yield _place(recipe, len(recipe.all_layers) - 1), last.product.name

    return find


def _first(*traits: str) -> RecipeTest:
    """The first layer, where it has one of the traits."""

    def find(recipe: Recipe, _: Setting) -> Iterable[Place]:
        if recipe.layers[0].product.traits & set(traits):
            yield "layers.0", recipe.layers[0].product.name

    return find


def _place(recipe: Recipe, index: int) -> str:
    return f"layers.{index}" if index < len(recipe.layers) else "final"


def _skipped_grits(recipe: Recipe, _: Setting) -> Iterable[Place]:
    for rough, fine in itertools.pairwise(recipe.preparation.grits):
        if fine > GRIT_STEP * rough:
            yield "preparation", f"{rough} to {fine}"


def _backward_grits(recipe: Recipe, _: Setting) -> Iterable[Place]:
    for before, after in itertools.pairwise(recipe.preparation.grits):
        if after <= before:
            yield "preparation", f"{after} after {before}"


def _too_fine(recipe: Recipe, _: Setting) -> Iterable[Place]:
    first = recipe.layers[0].product
    ceiling = first.label.finest_grit
    grits = recipe.preparation.grits
    if ceiling is not None and grits and max(grits) > ceiling:
        yield "preparation", f"{max(grits)} grit, where the label of {first.name} stops at {ceiling:g}"


def _rough_end_grain(recipe: Recipe, _: Setting) -> Iterable[Place]:
    end, grits = recipe.preparation.end_grain_grit, recipe.preparation.grits
    if end is not None and grits and end < grits[-1]:
        yield "preparation", f"{end} on end grain, {grits[-1]} on the face"


def _over_thinned(recipe: Recipe, _: Setting) -> Iterable[Place]:
    for index, layer in enumerate(recipe.layers):
        limit = layer.product.label.thin_up_to_pct
        if limit is not None and layer.most_thinned_pct > limit:
            yield (
                f"layers.{index}",
                f"{layer.product.name} thinned by {layer.most_thinned_pct:g} %, label up to {limit:g} %",
            )


def _own_recoat_wait(recipe: Recipe, _: Setting) -> Iterable[Place]:
    for index, layer in enumerate(recipe.layers):
        own, (from_h, to_h) = layer.wait_between_h, layer.product.recoat_h
        if own is None or layer.coats < 2:
            continue
        if own < from_h or (to_h is not None and own > to_h):
            label = f"{from_h:g} h or more" if to_h is None else f"{from_h:g} to {to_h:g} h"
            yield f"layers.{index}", f"{own:g} h between coats of {layer.product.name}, label {label}"


def _more_coats_than_label(recipe: Recipe, _: Setting) -> Iterable[Place]:
    for index, layer in enumerate(recipe.layers):
        says = layer.product.label.coats
        if says is not None and layer.coats > says:
            yield f"layers.{index}", f"{layer.coats} coats of {layer.product.name}, label {says:g}"


def _iron_wool(recipe: Recipe, setting: Setting) -> Iterable[Place]:
    tannin = any(wood.tannin_rich for wood in setting.species)
    for index, layer in enumerate(recipe.layers):
        says = layer.abrade_between.casefold()
        if ("steel wool" in says or "wire wool" in says) and (tannin or "waterborne" in layer.product.traits):
            yield f"layers.{index}", layer.product.name


def _uneven_faces(recipe: Recipe, _: Setting) -> Iterable[Place]:
    if recipe.faces == "one":
        yield "layers.0", ""


def _soft_top(recipe: Recipe, setting: Setting) -> Iterable[Place]:
    return _top("wax", "shellac")(recipe, setting)


RULES: tuple[Rule, ...] = (
    Rule(id="grit-skipped", severity="warn", find=_skipped_grits, reason="The step from {what} is too wide: the coarse scratches stay and show under finish.", remedy="Put a grit between; each at most 1.6 times the last."),
    Rule(id="grit-backward", severity="warn", find=_backward_grits, reason="The sequence goes back: {what}.", remedy="Sort the grits from coarse to fine."),
    Rule(id="grit-too-fine", severity="warn", find=_too_fine, reason="Sanded to {what}: polished wood takes up less and holds less.", remedy="Stop at the label's grit."),
    Rule(id="end-grain-rough", severity="note", find=_rough_end_grain, reason="End grain drinks more and goes darker; {what} makes that worse.", remedy="Sand end grain a step or two finer than the face."),
    Rule(id="sanded-across", severity="warn", find=_prepared(lambda p: p.sanding == "across"), reason="Scratches across the grain show under every finish.", remedy="Sand along the grain, at least with the last grit."),
    Rule(id="not-sanded-sawn", severity="note", find=_prepared(lambda p: p.start == "sawn" and not p.grits), reason="Sawn wood drinks far more than sanded wood: spreads and cost will be off.", remedy="Weigh what goes on, and compare only with sawn panels."),
    Rule(id="not-cleaned", severity="warn", find=_prepared(lambda p: p.cleaning == "none" and bool(p.grits)), reason="Dust left in the pores is sealed in and feels rough.", remedy="Brush, vacuum or wipe before the first coat."),
    Rule(id="damp-cleaned", severity="note", find=_prepared(lambda p: p.cleaning == "damp" and not p.water_popped), reason="A damp cloth raises the grain after the last sanding.", remedy="Clean dry, or water-pop: wet, dry and sand again."),
    Rule(id="grain-raised", severity="note", find=lambda r, s: [] if r.preparation.water_popped else _first("waterborne")(r, s), reason="{what} raises the grain of wood that has never been wet.", remedy="Water-pop before, or sand lightly after the first coat."),
    Rule(id="charred-film", severity="warn", find=lambda r, s: _layers("film")(r, s) if r.preparation.charring in ("medium", "deep") and not r.preparation.brushed else [], reason="Loose char carries {what} off with it.", remedy="Brush the char to sound wood, or oil it."),
    Rule(id="charred-loose", severity="note", find=_prepared(lambda p: p.charring != "none" and not p.brushed), reason="Unbrushed char rubs off on hands and rags.", remedy="Brush it, or say that the soot is the point."),
    Rule(id="thinned-too-far", severity="warn", find=_over_thinned, reason="{what}: it may not form its film.", remedy="Thin less and put on more coats."),
    Rule(id="two-part-thinned", severity="warn", find=_layers("two-part", test=lambda layer: layer.most_thinned_pct > 0 and layer.product.label.thin_up_to_pct is None), reason="Thinner in {what} may take up the hardener.", remedy="Do not thin unless the label says with what."),
    Rule(id="own-recoat-wait", severity="warn", find=_own_recoat_wait, reason="{what}: too soon shuts solvent in, too late and the coats do not bond.", remedy="Keep to the label's window, or declare the wait as your question and abrade between."),
    Rule(id="many-coats", severity="note", find=_more_coats_than_label, reason="{what}: a thick film cures slowly and cracks sooner.", remedy="Keep to the label, or declare the coats as your question."),
    Rule(id="thick-penetrating", severity="warn", find=_layers("penetrating", but=trait_set("oil-varnish-blend", "stain", "conditioner", "wood-wash"), test=lambda layer: layer.coats > 6), reason="Wood takes only so much of {what}: later coats stay on top, and stay sticky.", remedy="Stop when the wood stops taking it; wipe dry."),
    Rule(id="no-hardener", severity="note", find=_layers("two-part", test=lambda layer: not layer.hardener), reason="{what} without its hardener takes three to four times as long to cure, and is softer until then.", remedy="Plan the cure for it, or use the hardener."),
    Rule(id="catalysed-no-hardener", severity="block", find=_layers("catalysed-film", test=lambda layer: not layer.hardener), reason="{what} does not set at all without its catalyst.", remedy="Mix the catalyst in."),
    Rule(id="steel-wool", severity="warn", find=_iron_wool, reason="Steel wool leaves iron that turns black with water or tannin under {what}.", remedy="Use a synthetic pad."),
    Rule(id="wiped-film-sprayed", severity="note", find=_layers("penetrating", test=lambda layer: layer.applicator == "spray"), reason="{what} that is sprayed still has to be wiped, and its mist burns.", remedy="Wipe it on."),
    Rule(id="spray-two-part", severity="warn", find=_layers("two-part", test=lambda layer: layer.applicator == "spray"), reason="A sprayed two-part product puts its hardener into the air you breathe.", remedy="Roll or brush it; spray only with supplied air and training."),
    Rule(id="burnished-film", severity="warn", find=_layers("film", test=lambda layer: layer.applicator == "burnished"), reason="{what} sets too fast to be burnished in as a slurry: it tears.", remedy="Burnish oils; brush, pad or spray films."),
    Rule(id="topcoat-many-coats", severity="note", find=_layers("hydrophobic-topcoat", test=lambda layer: layer.coats > 2), reason="{what} is a skin of a few micrometres; more coats do not bond to it.", remedy="One coat, or two within its window."),
    Rule(id="stain-alone", severity="warn", find=_top("stain"), reason="{what} colours and does not protect: it needs a finish above.", remedy="Add a finish, or declare the stain as a control."),
    Rule(id="wash-alone", severity="warn", find=_top("wood-wash"), reason="{what} is rinsed off: it leaves nothing that protects.", remedy="Add a finish above it, or wash under Preparation and compare with bare wood."),
    Rule(id="conditioner-alone", severity="warn", find=_top("conditioner"), reason="{what} is made to go under a finish and is weak alone.", remedy="Add a finish above it."),
    Rule(id="even-sheen", severity="note", find=_layers(test=lambda layer: layer.stop_rule == "even-sheen"), reason="Coated until the sheen is even: the number of coats becomes a result, not a setting.", remedy="Write down how many each panel took."),
    Rule(id="one-face", severity="note", find=_uneven_faces, reason="Coated on one face only, a panel takes up water unevenly and cups.", remedy="Coat both faces alike."),
    Rule(id="matted-oil", severity="note", find=lambda r, s: _top("penetrating")(r, s) if r.final == "matted" else [], reason="Rubbing {what} matt takes off the thin top that protects it.", remedy="Choose a matt product, or read the result as for a worn one."),
    Rule(id="final-wax-hides", severity="note", find=lambda r, _: [("final", "")] if r.final == "waxed" else [], reason="A last coat of wax is what the first tests meet, not the finish beneath.", remedy="Test with and without, as sections of one panel."),
    Rule(id="coloured-repair", severity="note", find=_layers("coloured"), reason="Coloured build-ups repair poorly in one spot: the patch shows.", remedy="Include a repair test if the use asks for it."),
    Rule(id="blotching", severity="note", find=_on_wood(lambda w: w.pores == "softwood" or w.absorbency >= 1.2, lambda r, s: _first("stain")(r, s)), reason="Colour goes on blotchy: {what}.", remedy="Put a conditioner first, or use a tinted film."),
    Rule(id="oily-wood", severity="warn", find=_on_wood(lambda w: w.oily, lambda r, s: [] if r.preparation.cleaning == "solvent" else _first("film", "drying-oil")(r, s) if r.layers[0].product.family != "shellac-dewaxed" else []), reason="The wood's own oil weakens the grip and slows the setting of {what}.", remedy="Wipe with solvent just before, or begin with dewaxed shellac."),
    Rule(id="tannin-waterborne", severity="note", find=_on_wood(lambda w: w.tannin_rich, _first("waterborne")), reason="Water draws tannin up: {what} may stain yellow or brown.", remedy="Seal with dewaxed shellac first."),
    Rule(id="dense-wood", severity="note", find=_on_wood(lambda w: w.density_kg_m3 > 800, _first("penetrating")), reason="Dense wood takes up little and softens differences between finishes: {what}.", remedy="Add a softer wood to tell them apart."),
    Rule(id="washing-non-drying", severity="note", find=_demanded("wet-washing", _layers("non-drying-oil")), reason="{what} washes out: with wet washing it must be renewed every few weeks.", remedy="Count the upkeep in, or choose an oil that sets."),
    Rule(id="alcohol-shellac", severity="warn", find=_demanded("alcohol", _top("shellac")), reason="Alcohol dissolves shellac: a spilt drink marks {what} at once.", remedy="Put a film over it that alcohol does not touch, or test it to show this."),
    Rule(id="heat-soft", severity="warn", find=_demanded("heat", _soft_top), reason="{what} softens with heat: hot dishes print it.", remedy="Choose a finish that sets by curing, or read it as the low mark."),
    Rule(id="outdoor-film", severity="warn", find=_demanded("outdoor", _top("film")), reason="Films outdoors crack at the joints, let water in, and peel: {what}.", remedy="Choose a penetrating finish, or count the stripping in."),
    Rule(id="outdoor-shellac", severity="block", find=_demanded("outdoor", _layers("shellac")), reason="{what} turns white and lifts in rain.", remedy="Use it indoors."),
    Rule(id="food-undisclosed", severity="warn", find=_for_food("disclosed-only", _layers("undisclosed")), reason="For food the default school takes only products with a full ingredient list; {what} has none.", remedy="Ask the maker for the list, or change the school in the use."),
    Rule(id="food-unstated", severity="warn", find=_for_food("cured-accepted", _layers(test=lambda layer: layer.product.food_contact == "not-stated")), reason="This use takes a maker's statement for food once cured; {what} makes none.", remedy="Ask the maker for a statement in writing, or choose a product that has one."),
    Rule(id="food-not-meant", severity="block", find=_demanded("food", _layers(test=lambda layer: layer.product.food_contact == "not-for-food")), reason="The label of {what} says that it is not for food.", remedy="Choose another product for this use."),
    Rule(id="skin-two-part", severity="note", find=_demanded("skin", _layers(test=lambda layer: layer.product.kind.two_part)), reason="Before it has cured, hardener in {what} irritates skin and may sensitise.", remedy="Wait for the full cure before anybody holds or wears it."),
    Rule(id="skin-greasy", severity="note", find=_demanded("skin", _layers("non-drying-oil")), reason="{what} never sets: hands and clothes take it off.", remedy="Expect to renew it, or choose an oil that sets."),
    Rule(id="scratch-wax", severity="note", find=_demanded("scratch", _top("wax")), reason="Wax protects little against scratches: {what}.", remedy="Expect to buff it out often."),
)  # fmt: skip


def find_conflicts(recipe: Recipe, setting: Setting | None = None) -> list[Finding]:
    """Apply every rule to a recipe.

    Parameters
    ----------
    recipe : Recipe
    setting : Setting, optional
        The woods and demands of the trial; without it only what holds everywhere is found.

    Returns
    -------
    list of Finding
        Gravest first, then from the wood up.
    """
    setting = setting or Setting()
    found: list[Finding] = []
    layers = recipe.all_layers
    for index in range(1, len(layers)):
        # A layer sanded to bare wood no longer has anything beneath it.
        if layers[index].to_wood:
            continue
        pair = Beneath(over=layers[index], under=layers[index - 1])
        names = {"over": pair.over.product.name, "under": pair.under.product.name}
        found += [
            Finding(rule=rule.id, severity=rule.severity, place=_place(recipe, index), reason=rule.reason.format(**names), remedy=rule.remedy.format(**names))
            for rule in PAIR_RULES
            if rule.holds(pair)
        ]  # fmt: skip
    for rule in RULES:
        for place, what in rule.find(recipe, setting):
            found.append(Finding(rule=rule.id, severity=rule.severity, place=place, reason=rule.reason.format(what=what), remedy=rule.remedy))  # fmt: skip
    return sorted(found, key=lambda one: (SEVERITY_ORDER[one.severity], one.place))


def is_undeclared_block(recipe: Recipe, setting: Setting | None = None) -> bool:
    """Whether a recipe would not hold and is not declared as an experiment."""
    return not recipe.experiment_reason and any(
        finding.severity == "block" for finding in find_conflicts(recipe, setting)
    )


def refuse_undeclared(recipe: Recipe, setting: Setting | None = None) -> list[Finding]:
    """Return the findings, or refuse a blocked combination that is not declared as an experiment.

    Raises
    ------
    BlockedCombinationError
        If a finding blocks and the recipe gives no reason to try it all the same.
    """
    found = find_conflicts(recipe, setting)
    blocked = [one for one in found if one.severity == "block"]
    if blocked and not recipe.experiment_reason:
        raise BlockedCombinationError(
            f"{blocked[0].reason} {blocked[0].remedy} To try it all the same, declare it as an experiment and say why.",
            field=blocked[0].place,
        )
    return found
