"""The sheet of a build-up: its steps in order, with quantities for a trial, windows, and each caution at its step."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from nublet.core.materials.cautions import CAUTIONS, Moment
from nublet.core.materials.cup import solvents_in_cup
from nublet.core.materials.doings import WASHED_AS
from nublet.core.materials.hands_on import hands_on_per_panel
from nublet.core.materials.mixes import Amount, Measures, Work, content_of, fill_cup, measure_of
from nublet.core.materials.mixing import Batch, plan_batches, smallest_mix
from nublet.core.materials.panel_coats import PanelCoat, coat_ml, cure_left_h, panel_coats
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import APPLICATOR_WORDS, Layer, Recipe
from nublet.core.materials.sections import SectionRecipe
from nublet.core.quantities import Prose, amount, say

StepKind = Literal["prepare", "mix", "coat", "wipe", "abrade", "wait", "finish", "cure"]


@dataclass(frozen=True, kw_only=True)
class Step:
    """One thing to do. Windows count from the step before on each panel: minutes for wiping, hours for recoating."""

    kind: StepKind
    title: str
    says: Prose = ""
    amounts: tuple[Amount, ...] = ()
    window_min: tuple[float, float] | None = None
    window_h: tuple[float, float | None] | None = None
    cautions: tuple[str, ...] = ()


def application_steps(recipe: Recipe, work: Work, sections: Sequence[SectionRecipe] = ()) -> list[Step]:
    """Write a recipe out as steps for a piece of work, from the first grit to full cure; what goes over some sections only, with its tape."""
    steps = preparation_steps(recipe, work)
    coats = panel_coats(recipe, sections)
    for number, coat in enumerate(coats):
        steps += _before_coat(coat)
        is_masked = coat.share < 1
        named = _named(coat, sections)
        if is_masked and (number == 0 or coats[number - 1].sections != coat.sections):
            steps.append(
                Step(
                    kind="prepare",
                    title=f"Mask all but {named}",
                    says="Press the tape's edge down; both faces alike.",
                )
            )
        steps += _coat_steps(coat, work, named if is_masked else "")
        if is_masked and (number + 1 == len(coats) or coats[number + 1].sections != coat.sections):
            steps.append(
                Step(
                    kind="finish",
                    title="Take the tape off",
                    says="Before it is dry, along the edge and away from it.",
                )
            )
    if recipe.final in ("buffed", "matted"):
        says = (
            "Buff with a clean cloth."
            if recipe.final == "buffed"
            else "Rub evenly along the grain with a fine pad."
        )
        steps.append(Step(kind="finish", title=recipe.final.capitalize(), says=says))
    last = coats[-1].of
    days = cure_left_h(coats) / 24 if sections else last.product.cure_d(with_hardener=last.hardener)
    steps.append(
        Step(
            kind="cure",
            title="Cure fully before any test",
            says=say(
                "{:g} days near {} and 50 % RH; longer when colder or damper. Stand the panels apart, with air on both faces.",
                days,
                amount("celsius", 20),
            ),
            cautions=_cautions(last, "cure"),
        )
    )
    return steps


def preparation_steps(recipe: Recipe, work: Work) -> list[Step]:
    """Write out how the bare panels are prepared, from charring or the first grit to cleaning."""
    return steps_of_preparation(recipe.preparation, work)


def steps_of_preparation(preparation: Preparation, work: Work) -> list[Step]:
    """As :func:`preparation_steps`, for panels that carry no recipe too: the bare control."""
    dust = ["sanding-dust"] if preparation.grits else []
    if preparation.grits and any(wood.oily or wood.tannin_rich for wood in work.woods):
        dust.append("strong-dust")
    steps: list[Step] = []
    if preparation.washed != "none":
        steps.append(
            Step(
                kind="prepare",
                title=WASHED_AS[preparation.washed],
                says="Both faces alike; let it dry for two days.",
                cautions=("wood-wash",),
            )
        )
    if preparation.charring != "none":
        brushing = "Brush to sound wood." if preparation.brushed else "Leave the char unbrushed."
        steps.append(
            Step(
                kind="prepare",
                title=f"Char, {preparation.charring}",
                says=brushing,
                cautions=("torch", "treated-wood"),
            )
        )
    if preparation.grits:
        sequence = "-".join(str(grit) for grit in preparation.grits)
        ways = {"along": "Along the grain", "across": "Across the grain", "orbital": "With an orbital sander"}
        end = f" End grain to {preparation.end_grain_grit}." if preparation.end_grain_grit else ""
        steps.append(
            Step(kind="prepare", title=f"Sand {sequence}", says=f"{ways[preparation.sanding]}; a fresh sheet for each panel's last grit.{end}", cautions=tuple(dust))
        )  # fmt: skip
    if preparation.water_popped:
        again = preparation.grits[-1] if preparation.grits else 240
        steps.append(
            Step(
                kind="prepare",
                title="Water-pop",
                says=f"Wipe with a damp cloth, let dry, and sand again with {again}.",
            )
        )
    cleaning = {"none": "", "dry": "Brush and vacuum the dust off.", "damp": "Wipe with a damp cloth and let dry.", "solvent": "Wipe with solvent on a clean cloth and let it flash off."}[preparation.cleaning]  # fmt: skip
    if cleaning:
        steps.append(
            Step(
                kind="prepare",
                title="Clean",
                says=cleaning,
                cautions=("solvent-vapour",) if preparation.cleaning == "solvent" else (),
            )
        )
    return steps


def _between_layers(under: Layer, over: Layer, *, is_final_wax: bool) -> list[Step]:
    steps: list[Step] = []
    if over.wait_before_h is None or is_final_wax:
        days = under.product.cure_d(with_hardener=under.hardener)
        steps.append(
            Step(
                kind="wait",
                title=f"Let {under.product.name} cure fully",
                says=say("{:g} days near {} and 50 % RH.", days, amount("celsius", 20)),
            )
        )
    else:
        steps.append(_wait_between(over.wait_before_h, under))
    if over.to_wood:
        steps.append(Step(kind="abrade", title="Sand back to bare wood", cautions=("sanding-dust",)))
    elif over.sanded_before:
        steps.append(
            Step(
                kind="abrade",
                title="Sand back lightly with 320",
                says="Until it is even and dull; dust off.",
                cautions=("sanding-dust",),
            )
        )
    return steps


def _wait_between(wait_h: float, under: Layer) -> Step:
    """The recipe's own wait; the label's window for more of the same product beside it only where it says otherwise."""
    from_h, to_h = under.product.recoat_h
    label = f"{from_h:g} h or more" if to_h is None else f"{from_h:g} to {to_h:g} h"
    outside = wait_h < from_h or (to_h is not None and wait_h > to_h)
    return Step(
        kind="wait",
        title=f"Wait {wait_h:g} h on {under.product.name}",
        says=f"This build-up's own wait; for its next coat {under.product.name} asks for {label}."
        if outside
        else "",
        window_h=(wait_h, None),
    )


def _before_coat(coat: PanelCoat) -> list[Step]:
    """The wait for a coat, and what is cut back before it."""
    layer = coat.of
    if coat.coat == 1:
        beneath = coat.recipe.all_layers[coat.layer - 1]
        is_final_wax = coat.layer >= len(coat.recipe.layers)
        return _between_layers(beneath, layer, is_final_wax=is_final_wax) if coat.layer else []
    own = "" if layer.wait_between_h is None else "This build-up's own wait, in place of the label's."
    steps = [Step(kind="wait", title=f"Wait before coat {coat.coat}", says=own, window_h=layer.recoat_h)]
    if layer.abrade_between:
        steps.append(
            Step(
                kind="abrade",
                title=f"Abrade: {layer.abrade_between}",
                says="Wipe the dust off.",
                cautions=("sanding-dust",),
            )
        )
    return steps


def _named(coat: PanelCoat, sections: Sequence[SectionRecipe]) -> str:
    names = [f"'{sections[number].name}'" for number in coat.sections]
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def _coat_steps(coat: PanelCoat, work: Work, only: str) -> list[Step]:
    """Mixing, coating, wiping off and the lamp; ``only`` names the sections that it goes over, empty for all."""
    recipe, layer = coat.recipe, coat.of
    product = layer.product
    ml = coat_ml(coat, work.area_m2(recipe), absorbency=work.absorbency, waste=work.waste)
    steps = _mix_steps(coat.alone, ml, recipe, work)
    count = f"coat {coat.coat} of {layer.coats}" if layer.stop_rule == "coats" else f"coat {coat.coat}"
    even = (
        " Go on until the sheen is even, and write down how many coats it took."
        if layer.stop_rule == "even-sheen"
        else ""
    )
    note = f" {layer.note_of(coat.coat)}." if layer.note_of(coat.coat) else ""
    faces = "both faces" if recipe.faces == "both" else "one face"
    where = f"{only} only, {faces}" if only else faces
    steps.append(
        Step(
            kind="coat",
            title=f"{product.name}, {count}",
            says=f"{APPLICATOR_WORDS[layer.applicator]}, {where}, each panel by its code; a fresh cloth and cup for this product.{even}{note}",
            cautions=cautions_at(layer, "coat"),
        )
    )
    if product.wipe_off_min is not None:
        low, high = product.wipe_off_min
        steps.append(
            Step(kind="wipe", title=f"Wipe off after {low:g} to {high:g} min", says="Counted from each panel's own coat; wipe until no more comes off.", window_min=(low, high), cautions=_cautions(layer, "wipe"))
        )  # fmt: skip
    if lamp := _cautions(layer, "lamp"):
        steps.append(
            Step(
                kind="finish",
                title=f"Set coat {coat.coat} under the lamp" if layer.coats > 1 else "Set it under the lamp",
                says="Both faces and the edges: what the light does not reach stays wet.",
                cautions=lamp,
            )
        )
    return steps


def _mix_steps(layer: Layer, ml: float, recipe: Recipe, work: Work) -> list[Step]:
    """Decant, or mix: in as many batches as the pot life asks for."""
    product, content = layer.product, content_of(layer)
    if not content.is_mixed:
        bare = " Without its hardener." if len(product.parts) > 1 else ""
        return [
            Step(
                kind="mix",
                title=f"Decant {product.name}",
                says=f"Stir or shake as the label says; never pour back.{bare}",
                amounts=fill_cup(content, ml, work.measures).amounts,
                cautions=_cautions(layer, "mix"),
            )
        ]
    batches = _batches(layer, ml, recipe, work)
    return [
        Step(
            kind="mix",
            title=f"Mix {product.name}" + (f", batch {n} of {len(batches)}" if len(batches) > 1 else ""),
            says=_mix_words(layer, batch, work.measures, is_only=len(batches) == 1),
            amounts=fill_cup(content, batch.total_ml, work.measures).amounts,
            cautions=_cautions(layer, "mix"),
        )
        for n, batch in enumerate(batches, start=1)
    ]


def _batches(layer: Layer, ml: float, recipe: Recipe, work: Work) -> list[Batch]:
    minutes = hands_on_per_panel(layer, work.area_m2(recipe) / work.n_panels)
    return plan_batches(
        work.n_panels,
        ml_per_panel=ml / work.n_panels,
        minutes_per_panel=minutes,
        # With no pot life on the label, as long as it takes.
        pot_life_min=layer.product.label.pot_life_min or 2 * minutes * work.n_panels,
    )


def _mix_words(layer: Layer, batch: Batch, measures: Measures, *, is_only: bool) -> str:
    when = (
        "" if is_only else f" For {batch.panels} panels, about {batch.mixed_at_min:.0f} min after the first."
    )
    pot_life = layer.product.label.pot_life_min
    life = f" Use it up within {pot_life:g} min." if pot_life else ""
    measure = measure_of(layer.product, measures)
    smallest = smallest_mix(layer.product.shares(), resolution=measure.step)
    more = (
        say(
            " Less than {} cannot be measured well with a {} of {} steps. Other build-ups may share the mix: see its day under "
            "Coat and cure.",
            amount(measure.quantity, smallest),
            measure.name,
            amount(measure.quantity, measure.step),
        )
        if batch.total_ml * measure.per_ml < smallest
        else ""
    )
    return say("Stir each part, then both together.{}{}{}", when, life, more)


def cautions_at(layer: Layer, moment: Moment) -> tuple[str, ...]:
    """Ids of the cautions that belong to a layer at a moment of the work.

    A lamp has no work of its own in the plan: its caution stands at the last thing done to the coat.
    """
    last: Moment = "coat" if layer.product.wipe_off_min is None else "wipe"
    lamp = _cautions(layer, "lamp") if moment == last else ()
    spraying = ("spraying",) if moment == "coat" and layer.applicator == "spray" else ()
    return (*_cautions(layer, moment), *lamp, *spraying)


def _cautions(layer: Layer, moment: Moment) -> tuple[str, ...]:
    """The cautions of the family and of what is in the cup; food contact only where the label speaks of food."""
    product = layer.product
    solvents = solvents_in_cup(layer)
    named = [
        *(name for name in product.kind.cautions if name not in ("solvent-vapour", "alcohol-flame")),
        *(["alcohol-flame"] if "alcohol" in solvents else []),
        *(["solvent-vapour"] if solvents else []),
        *(["food-contact"] if product.food_contact in ("safe-once-cured", "declared-compliant") else []),
    ]
    return tuple(dict.fromkeys(name for name in named if moment in CAUTIONS[name].moments))
