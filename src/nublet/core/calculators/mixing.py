"""Calculators for what goes into the cup."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from nublet.core.calculators.declare import (
    Answer,
    Calculator,
    ChoiceInput,
    Figure,
    NumberInput,
    Table,
    TableInput,
    TextInput,
)
from nublet.core.materials.mixing import (
    G_PER_L_OF_ONE_POUND_CUT,
    SHELLAC_DENSITY_G_PER_ML,
    alcohol_for_shellac,
    mix_by_parts,
    plan_batches,
    shellac_for_alcohol,
    smallest_mix,
    thin_to,
    weight_shares,
)

_PARTS = (
    {"part": "Base", "share": 9.0, "density_g_per_ml": 0.95},
    {"part": "Hardener", "share": 1.0, "density_g_per_ml": 1.1},
)


def _mix(values: Mapping[str, Any]) -> Answer:
    rows, on_scale = values["parts"], values["measured_by"] == "weight"
    by_weight = values["ratio_by"] == "weight"
    shares = tuple(row["share"] for row in rows)
    densities = tuple(row["density_g_per_ml"] for row in rows)
    if on_scale and not by_weight:
        shares = weight_shares(shares, densities)
    elif by_weight and not on_scale:
        shares = weight_shares(shares, tuple(1 / density for density in densities))
    resolution = values["resolution_g" if on_scale else "resolution_ml"]
    mixed = mix_by_parts(shares, values["total_g" if on_scale else "total_ml"], resolution=resolution)
    smallest = smallest_mix(shares, resolution=resolution, tolerance_pct=values["tolerance_pct"])
    unit: Literal["grams", "millilitres"] = "grams" if on_scale else "millilitres"
    notes = []
    if mixed.total < smallest:
        notes.append(
            f"Below the smallest sensible mix: with this measure a part can be off by more than {values['tolerance_pct']:g} %."
        )
    return Answer(
        figures=(
            Figure(label="Mixed", value=mixed.total, quantity=unit),
            Figure(label="Furthest from its share", value=mixed.worst_error_pct, quantity="percent"),
            Figure(label="Smallest sensible mix", value=smallest, quantity=unit),
        ),
        tables=(
            Table(
                title="Measure out",
                columns=(("Part", "words"), ("Amount", unit), ("Steps of the measure", "count")),
                rows=tuple(
                    (row["part"] or f"Part {index + 1}", amount, float(step))
                    for index, (row, amount, step) in enumerate(
                        zip(rows, mixed.amounts, mixed.steps, strict=True)
                    )
                ),
            ),
        ),
        notes=tuple(notes),
    )


def _batches(values: Mapping[str, Any]) -> Answer:
    batches = plan_batches(
        round(values["n_panels"]),
        ml_per_panel=values["ml_per_panel"],
        minutes_per_panel=values["minutes_per_panel"],
        pot_life_min=values["pot_life_min"],
        working_share=values["working_pct"] / 100,
    )
    return Answer(
        figures=(
            Figure(label="Batches", value=len(batches), quantity="count"),
            Figure(label="Mixed in all", value=sum(batch.total_ml for batch in batches), quantity="millilitres"),
            Figure(label="Time at the bench", value=batches[-1].done_at_min, quantity="minutes"),
        ),
        tables=(
            Table(
                title="When to mix, counted from the start",
                columns=(("Mix at", "minutes"), ("Panels", "count"), ("Mix", "millilitres"), ("Used up at", "minutes"), ("Gone off at", "minutes")),
                rows=tuple((b.mixed_at_min, float(b.panels), b.total_ml, b.done_at_min, b.use_by_min) for b in batches),
            ),
        ),
        notes=("Small mixes last longer than the pot life on the label, large ones in a deep cup shorter.",),
    )  # fmt: skip


def _thin(values: Mapping[str, Any]) -> Answer:
    stock, thinner = thin_to(
        have_pct=values["have_pct"], want_pct=values["want_pct"], total_ml=values["total_ml"]
    )
    return Answer(
        figures=(
            Figure(label="Stock", value=stock, quantity="millilitres"),
            Figure(label="Thinner", value=thinner, quantity="millilitres"),
            Figure(
                label="Thinner on the stock",
                value=100 * thinner / stock,
                quantity="percent",
                says="as a label states thinning",
            ),
        )
    )


def _blend(values: Mapping[str, Any]) -> Answer:
    rows = values["parts"]
    mixed = mix_by_parts(
        [row["share"] for row in rows], values["total_ml"], resolution=values["resolution_ml"]
    )
    costs = [amount / 1000 * row["price_per_l"] for row, amount in zip(rows, mixed.amounts, strict=True)]
    solids = (
        sum(amount * row["solids_pct"] for row, amount in zip(rows, mixed.amounts, strict=True)) / mixed.total
    )
    return Answer(
        figures=(
            Figure(label="A litre costs", value=1000 * sum(costs) / mixed.total, quantity="price_per_l"),
            Figure(label="This blend costs", value=sum(costs), quantity="price"),
            Figure(label="Solids, estimated", value=solids, quantity="percent"),
            Figure(label="Blended", value=mixed.total, quantity="millilitres"),
        ),
        tables=(
            Table(
                title="Measure out",
                columns=(("Part", "words"), ("Amount", "millilitres"), ("Costs", "price")),
                rows=tuple(
                    (row["part"] or f"Part {index + 1}", amount, cost)
                    for index, (row, amount, cost) in enumerate(zip(rows, mixed.amounts, costs, strict=True))
                ),
            ),
        ),
        notes=("Volumes are taken to add up; solids are those of the parts, by volume.",),
    )


def _shellac(values: Mapping[str, Any]) -> Answer:
    cut = (
        values["pound_cut"] * G_PER_L_OF_ONE_POUND_CUT
        if values["cut_by"] == "pound"
        else values["cut_g_per_l"]
    )
    if values["have"] == "alcohol":
        alcohol = values["alcohol_ml"]
        flakes = shellac_for_alcohol(alcohol, cut)
        main = Figure(label="Flakes", value=flakes, quantity="grams")
    else:
        flakes = values["flakes_g"]
        alcohol = alcohol_for_shellac(flakes, cut)
        main = Figure(label="Alcohol", value=alcohol, quantity="millilitres")
    volume = alcohol + flakes / SHELLAC_DENSITY_G_PER_ML
    return Answer(
        figures=(
            main,
            Figure(label="The cut", value=cut, quantity="g_per_l", says=f"{cut / G_PER_L_OF_ONE_POUND_CUT:.2f} pound cut"),
            Figure(label="Makes about", value=volume, quantity="millilitres"),
            Figure(label="Solids by volume", value=100 * (flakes / SHELLAC_DENSITY_G_PER_ML) / volume, quantity="percent"),
        ),
        notes=("The cut counts litres of alcohol, not of the solution.", "Alcohol burns with a flame that is hard to see: no flame or hot block near it."),
    )  # fmt: skip


MIXING = (
    Calculator(
        id="mix",
        name="Mix by parts",
        question="How much of each part?",
        formula="part = total × share ÷ Σ shares, in whole steps of the measure that sum to the total",
        source="Largest-remainder rounding (Hamilton's method); by weight: share × density",
        inputs=(
            TableInput(
                name="parts", label="Parts of the mix", default=_PARTS,
                columns=(
                    TextInput(name="part", label="Part"),
                    NumberInput(name="share", label="Share", quantity="number", default=1, low=0.001, high=1000),
                    NumberInput(name="density_g_per_ml", label="Density", quantity="g_per_ml", default=1, low=0.3, high=3),
                ),
            ),
            ChoiceInput(name="ratio_by", label="The ratio is by", default="volume", options=(("volume", "Volume"), ("weight", "Weight"))),
            ChoiceInput(name="measured_by", label="You measure with", default="volume", options=(("volume", "A syringe or cup"), ("weight", "A scale"))),
            NumberInput(name="total_ml", label="Total", quantity="millilitres", default=60, low=0.01, shown_when=("measured_by", "volume")),
            NumberInput(name="resolution_ml", label="Smallest step of the cup", quantity="millilitres", default=0.5, low=0.0001, high=1000, shown_when=("measured_by", "volume")),
            NumberInput(name="total_g", label="Total", quantity="grams", default=60, low=0.01, shown_when=("measured_by", "weight")),
            NumberInput(name="resolution_g", label="Smallest step of the scale", quantity="grams", default=0.1, low=0.0001, high=1000, shown_when=("measured_by", "weight")),
            NumberInput(name="tolerance_pct", label="A part may be off by", quantity="percent", default=5, low=0.1, high=50),
        ),
        compute=_mix,
    ),
    Calculator(
        id="batches",
        name="Batches within pot life",
        question="How many mixes, and when?",
        formula="panels a batch = ⌊pot life × working share ÷ minutes a panel⌋; batches = ⌈panels ÷ panels a batch⌉",
        source="Bench practice: the last fifth of the pot life is left alone",
        inputs=(
            NumberInput(name="n_panels", label="Panels", quantity="count", default=24, low=1, high=10_000),
            NumberInput(name="ml_per_panel", label="A panel takes", quantity="millilitres", default=4, low=0.001),
            NumberInput(name="minutes_per_panel", label="Time for a panel", quantity="minutes", default=15, low=0.01, high=10_000),
            NumberInput(name="pot_life_min", label="Pot life", quantity="minutes", default=240, low=0.1, high=100_000),
            NumberInput(name="working_pct", label="Share of the pot life to work with", quantity="percent", default=80, low=1, high=100),
        ),
        compute=_batches,
    ),
    Calculator(
        id="thin",
        name="Thin",
        question="How much thinner?",
        formula="C₁·V₁ = C₂·V₂",
        source="Conservation of what is dissolved; volumes are taken to add up",
        inputs=(
            NumberInput(name="have_pct", label="You have", quantity="percent", default=48, low=0.01, high=100, hint="strength or solids"),
            NumberInput(name="want_pct", label="You want", quantity="percent", default=24, low=0.01, high=100),
            NumberInput(name="total_ml", label="Total", quantity="millilitres", default=250, low=0.01),
        ),
        compute=_thin,
    ),
    Calculator(
        id="blend",
        name="Blend parts",
        question="What does my own blend cost, and what is in it?",
        formula="part = total × share ÷ Σ shares; price and solids weighted by volume",
        source="Bench practice: blends in thirds and quarters",
        inputs=(
            TableInput(
                name="parts", label="What goes in",
                default=(
                    {"part": "Oil", "share": 1.0, "price_per_l": 24.0, "solids_pct": 100.0},
                    {"part": "Varnish", "share": 1.0, "price_per_l": 30.0, "solids_pct": 50.0},
                    {"part": "Spirit", "share": 1.0, "price_per_l": 8.0, "solids_pct": 0.0},
                ),
                columns=(
                    TextInput(name="part", label="Part"),
                    NumberInput(name="share", label="Share", quantity="number", default=1, low=0.001, high=1000),
                    NumberInput(name="price_per_l", label="Price", quantity="price_per_l", default=0),
                    NumberInput(name="solids_pct", label="Solids", quantity="percent", default=0, high=100),
                ),
            ),
            NumberInput(name="total_ml", label="Total", quantity="millilitres", default=300, low=0.01),
            NumberInput(name="resolution_ml", label="Smallest step of the cup", quantity="millilitres", default=1, low=0.0001, high=1000),
        ),
        compute=_blend,
    ),
    Calculator(
        id="shellac",
        name="Shellac cut",
        question="How many flakes, or how much alcohol?",
        formula="flakes = alcohol × cut; a one-pound cut is 1 lb per US gallon = 119.8 g/L of alcohol",
        source="Definitions of the pound (453.59237 g) and the US gallon (3.785411784 L)",
        inputs=(
            ChoiceInput(name="have", label="You have", default="alcohol", options=(("alcohol", "Alcohol, and want flakes"), ("flakes", "Flakes, and want alcohol"))),
            NumberInput(name="alcohol_ml", label="Alcohol", quantity="millilitres", default=500, low=0.01, shown_when=("have", "alcohol")),
            NumberInput(name="flakes_g", label="Flakes", quantity="grams", default=100, low=0.01, shown_when=("have", "flakes")),
            ChoiceInput(name="cut_by", label="The cut is given in", default="pound", options=(("pound", "Pounds a gallon"), ("metric", "Weight by volume"))),
            NumberInput(name="pound_cut", label="Pound cut", quantity="number", default=2, low=0.05, high=10, shown_when=("cut_by", "pound")),
            NumberInput(name="cut_g_per_l", label="Cut", quantity="g_per_l", default=200, low=5, high=1200, shown_when=("cut_by", "metric")),
        ),
        compute=_shellac,
    ),
)  # fmt: skip
