"""Calculators for what it takes, what it costs, and what was put on."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

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
from nublet.core.materials.buying import Offer, choose_containers
from nublet.core.materials.coverage import litres_needed
from nublet.core.materials.curing import Spell, cure_rate, follow_cure
from nublet.core.measuring.moisture import equilibrium_moisture_pct, follow_conditioning
from nublet.core.measuring.weights import film_from_weighings, water_uptake
from nublet.core.quantities import amount, say

_COATS = TableInput(
    name="coats", label="Coats, in order",
    default=({"spread_m2_per_l": 10.0}, {"spread_m2_per_l": 20.0}),
    columns=(NumberInput(name="spread_m2_per_l", label="Spread", quantity="spread_m2_per_l", default=15, low=0.1, high=500),),
)  # fmt: skip
_ABSORBENCY = NumberInput(name="absorbency", label="Absorbency of the wood", quantity="number", default=1, low=0.1, high=5, hint="beech 1, elm 1.2, spruce 1.3, teak 0.8")  # fmt: skip
_WASTE = NumberInput(
    name="waste_pct", label="Stays in cup and cloth", quantity="percent", default=15, high=500
)


def _spread(values: Mapping[str, Any]) -> Answer:
    spreads = [row["spread_m2_per_l"] for row in values["coats"]]
    waste = values["waste_pct"] / 100
    litres = litres_needed(values["area_m2"], spreads, absorbency=values["absorbency"], waste=waste)
    net = litres / (1 + waste)
    return Answer(
        figures=(
            Figure(label="You need", value=1000 * litres, quantity="millilitres"),
            Figure(label="On the wood", value=1000 * net, quantity="millilitres"),
            Figure(label="Wasted", value=1000 * (litres - net), quantity="millilitres"),
        )
    )


def _cost(values: Mapping[str, Any]) -> Answer:
    rows = values["layers"]
    waste = values["waste_pct"] / 100
    costs = []
    for row in rows:
        spreads = [row["spread_first_m2_per_l"]] + [row["spread_later_m2_per_l"]] * (round(row["coats"]) - 1)
        costs.append(
            litres_needed(1.0, spreads, absorbency=values["absorbency"], waste=waste) * row["price_per_l"]
        )
    return Answer(
        figures=(Figure(label="A square metre costs", value=sum(costs), quantity="price_per_m2"),),
        tables=(
            Table(
                title="By layer",
                columns=(("Layer", "words"), ("A square metre", "price_per_m2")),
                rows=tuple((row["layer"] or f"Layer {index + 1}", cost) for index, (row, cost) in enumerate(zip(rows, costs, strict=True))),
            ),
        ),
    )  # fmt: skip


def _buy(values: Mapping[str, Any]) -> Answer:
    rows = values["containers"]
    needs = [values["need_base_ml"], values["need_hardener_ml"]]
    chosen = choose_containers(
        needs, [Offer(amounts=(row["base_ml"], row["hardener_ml"]), price=row["price"]) for row in rows]
    )
    held = tuple(
        (row["container"] or f"Container {index + 1}", float(n), n * row["price"])
        for index, (row, n) in enumerate(zip(rows, chosen.counts, strict=True))
        if n
    )
    return Answer(
        figures=(
            Figure(label="Costs", value=chosen.cost, quantity="price"),
            Figure(label="Left over", value=sum(chosen.left_over), quantity="millilitres"),
        ),
        tables=(
            Table(
                title="Buy",
                columns=(("Container", "words"), ("How many", "count"), ("Costs", "price")),
                rows=held,
            ),
        ),
    )


def _film(values: Mapping[str, Any]) -> Answer:
    film = film_from_weighings(
        values["before_g"], values["after_g"], area_m2=values["area_m2"], density_g_per_ml=values["density_g_per_ml"], solids_pct=values["solids_pct"]
    )  # fmt: skip
    return Answer(
        figures=(
            Figure(label="Applied", value=film.applied_g_per_m2, quantity="g_per_m2"),
            Figure(label="Wet film", value=film.wet_um, quantity="micrometres"),
            Figure(label="Dry film", value=film.dry_um, quantity="micrometres"),
        ),
        notes=("A penetrating finish is in the wood: its film is what it would be if it stood on top.",),
    )


def _uptake(values: Mapping[str, Any]) -> Answer:
    grams = water_uptake(values["before_g"], values["after_g"], ring_diameter_mm=values["ring_mm"])
    return Answer(figures=(Figure(label="Taken up", value=grams, quantity="g_per_m2"),))


def _moisture(values: Mapping[str, Any]) -> Answer:
    pct = equilibrium_moisture_pct(values["temperature_c"], values["humidity_pct"])
    return Answer(
        figures=(
            Figure(label="Comes to rest at", value=pct, quantity="percent", says="moisture of the dry mass"),
        ),
        notes=("Woods differ by about a point; this is the published mean curve.",),
    )


def _conditioning(values: Mapping[str, Any]) -> Answer:
    rows = values["weighings"]
    found = follow_conditioning(
        [row["hour"] for row in rows], [row["mass_g"] for row in rows], limit_pct_per_day=values["limit_pct"]
    )
    return Answer(
        figures=(
            Figure(label="Change over the last 24 h", value=found.change_pct_per_day, quantity="percent", says="at rest" if found.is_at_rest else "not at rest yet"),
            Figure(label="Still to wait, estimated", value=found.hours_left, quantity="hours"),
        ),
        notes=() if found.hours_left is not None else ("The weighings do not tell how long yet: weigh again tomorrow.",),
    )  # fmt: skip


def _cure(values: Mapping[str, Any]) -> Answer:
    from_water = values["dries_from"] == "water"
    spells = [
        Spell(hours=row["hours"], temperature_c=row["temperature_c"], humidity_pct=row["humidity_pct"])
        for row in values["spells"]
    ]
    found = follow_cure(24 * values["cure_d"], spells, from_water=from_water)
    rate = cure_rate(spells[-1].temperature_c, spells[-1].humidity_pct, from_water=from_water)
    return Answer(
        figures=(
            Figure(
                label="Still to cure, estimated",
                value=None if found.hours_left is None else found.hours_left / 24,
                quantity="days",
            ),
            Figure(label="Cured so far", value=100 * found.progress, quantity="percent"),
            Figure(label="Rate now, of the label's", value=100 * rate, quantity="percent"),
            Figure(label="Elapsed", value=found.elapsed_h / 24, quantity="days"),
        ),
        notes=(
            "An estimate, never earlier than the label. Press a thumbnail into a spare piece before you trust it.",
        )
        + (
            (say("Below {} it stands still: warm the room.", amount("celsius", 5)),)
            if found.hours_left is None
            else ()
        ),
    )


USING = (
    Calculator(
        id="spread",
        name="Spread and waste",
        question="How much finish for this area?",
        formula="litres = area × Σ(1 ÷ spread) × absorbency × (1 + waste)",
        source="Label spreads, coat by coat; absorbency is the wood's against beech",
        inputs=(NumberInput(name="area_m2", label="Area", quantity="square_metres", default=1.5, low=0.0001), _COATS, _ABSORBENCY, _WASTE),
        compute=_spread,
    ),
    Calculator(
        id="buy",
        name="What to buy",
        question="Which containers cover it for least?",
        formula="minimise Σ price·n with Σ contents·n ≥ need for each part, n whole",
        source="Integer programme, solved exactly by branch and bound (HiGHS)",
        inputs=(
            NumberInput(name="need_base_ml", label="Need of the finish, or base", quantity="millilitres", default=1350),
            NumberInput(name="need_hardener_ml", label="Need of hardener", quantity="millilitres", default=150),
            TableInput(
                name="containers", label="On sale",
                default=(
                    {"container": "Small set", "base_ml": 450.0, "hardener_ml": 50.0, "price": 29.0},
                    {"container": "Large set", "base_ml": 900.0, "hardener_ml": 100.0, "price": 52.0},
                    {"container": "Base alone", "base_ml": 1000.0, "hardener_ml": 0.0, "price": 48.0},
                    {"container": "Hardener alone", "base_ml": 0.0, "hardener_ml": 100.0, "price": 12.0},
                ),
                columns=(
                    TextInput(name="container", label="Container"),
                    NumberInput(name="base_ml", label="Finish or base", quantity="millilitres", default=0),
                    NumberInput(name="hardener_ml", label="Hardener", quantity="millilitres", default=0),
                    NumberInput(name="price", label="Price", quantity="price", default=0),
                ),
            ),
        ),
        compute=_buy,
    ),
    Calculator(
        id="cost",
        name="Cost of a build-up",
        question="What does a square metre cost?",
        formula="cost = Σ over layers of price × Σ(1 ÷ spread) × absorbency × (1 + waste)",
        source="As spread and waste; prices by the litre ready to use",
        inputs=(
            TableInput(
                name="layers", label="Layers",
                default=({"layer": "Oil", "coats": 2.0, "spread_first_m2_per_l": 10.0, "spread_later_m2_per_l": 20.0, "price_per_l": 30.0},),
                columns=(
                    TextInput(name="layer", label="Layer"),
                    NumberInput(name="coats", label="Coats", quantity="count", default=1, low=1, high=20),
                    NumberInput(name="spread_first_m2_per_l", label="First coat", quantity="spread_m2_per_l", default=12, low=0.1, high=500),
                    NumberInput(name="spread_later_m2_per_l", label="Later coats", quantity="spread_m2_per_l", default=15, low=0.1, high=500),
                    NumberInput(name="price_per_l", label="Price", quantity="price_per_l", default=0),
                ),
            ),
            _ABSORBENCY,
            _WASTE,
        ),
        compute=_cost,
    ),
    Calculator(
        id="film",
        name="Applied weight and film",
        question="How much went on, and how thick is it?",
        formula="g/m² = (after − before) ÷ area; wet µm = g/m² ÷ density; dry µm = wet × solids by volume",
        source="Geometry: 1 g/m² at 1 g/mL is 1 µm",
        inputs=(
            NumberInput(name="before_g", label="Panel before", quantity="grams", default=512.4, low=0.01),
            NumberInput(name="after_g", label="Panel just after", quantity="grams", default=515.1, low=0.01),
            NumberInput(name="area_m2", label="Coated area", quantity="square_metres", default=0.06, low=0.0001),
            NumberInput(name="density_g_per_ml", label="Density", quantity="g_per_ml", default=1, low=0.3, high=3),
            NumberInput(name="solids_pct", label="Solids by volume", quantity="percent", default=35, high=100),
        ),
        compute=_film,
    ),
    Calculator(
        id="uptake",
        name="Water uptake",
        question="How much water went in?",
        formula="g/m² = (after − before) ÷ (π·d² ÷ 4)",
        source="The idea of ISO 535 (Cobb): ring and weigh; not a certified test",
        inputs=(
            NumberInput(name="before_g", label="Panel before", quantity="grams", default=512.4, low=0.01),
            NumberInput(name="after_g", label="Panel wiped dry after", quantity="grams", default=512.9, low=0.01),
            NumberInput(name="ring_mm", label="Inner diameter of the ring", quantity="millimetres", default=60, low=1, high=1000),
        ),
        compute=_uptake,
    ),
    Calculator(
        id="moisture",
        name="Moisture at rest",
        question="Which moisture will the wood come to?",
        formula="M = 1800 ÷ W · (K·h ÷ (1 − K·h) + (K₁·K·h + 2·K₁·K₂·K²·h²) ÷ (1 + K₁·K·h + K₁·K₂·K²·h²))",
        source="Hailwood and Horrobin 1946, coefficients of the Wood Handbook FPL-GTR-190, 2010, eq. 4-5",
        inputs=(
            NumberInput(name="temperature_c", label="Temperature", quantity="celsius", default=21, low=-1, high=132),
            NumberInput(name="humidity_pct", label="Relative humidity", quantity="percent", default=50, high=98),
        ),
        compute=_moisture,
    ),
    Calculator(
        id="conditioning",
        name="End of conditioning",
        question="Have the panels come to rest?",
        formula="at rest when |m − m₂₄ₕ| ÷ m₂₄ₕ < limit; the wait from the decay between the last three weighings",
        source="Bench practice: below 0.1 % in 24 h, at 20–23 °C and about 50 % RH",
        inputs=(
            TableInput(
                name="weighings", label="Weighings", fewest=2,
                default=({"hour": 0.0, "mass_g": 516.0}, {"hour": 24.0, "mass_g": 513.6}, {"hour": 48.0, "mass_g": 512.6}),
                columns=(
                    NumberInput(name="hour", label="Hour", quantity="hours", default=0),
                    NumberInput(name="mass_g", label="Mass", quantity="grams", default=500, low=0.01),
                ),
            ),
            NumberInput(name="limit_pct", label="Limit in 24 h", quantity="percent", default=0.1, low=0.001, high=10),
        ),
        compute=_conditioning,
    ),
    Calculator(
        id="cure",
        name="Cure clock",
        question="How far has it cured in this room?",
        formula="rate = 2^((T − 20) ÷ 10), at most 1, 0 below 5 °C; from water also ÷ (1 + (RH − 50) ÷ 50) above 50 %",
        source="Rule of thumb: the rate halves for each 10 °C colder, damp air slows what dries from water",
        inputs=(
            NumberInput(name="cure_d", label="Full cure on the label", quantity="days", default=14, low=0.01, high=400),
            ChoiceInput(name="dries_from", label="It dries", default="other", options=(("other", "From solvent, or by reacting"), ("water", "From water"))),
            TableInput(
                name="spells", label="The room since the last coat",
                default=({"hours": 72.0, "temperature_c": 20.0, "humidity_pct": 50.0}, {"hours": 96.0, "temperature_c": 13.0, "humidity_pct": 65.0}),
                columns=(
                    NumberInput(name="hours", label="For", quantity="hours", default=24),
                    NumberInput(name="temperature_c", label="At", quantity="celsius", default=20, low=-60, high=100),
                    NumberInput(name="humidity_pct", label="Humidity", quantity="percent", default=50, high=100),
                ),
            ),
        ),
        compute=_cure,
    ),
)  # fmt: skip
