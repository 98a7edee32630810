"""The calculators: each answers its own defaults, agrees with the function behind it, and refuses in words."""

from __future__ import annotations

from typing import Any, get_args

import pytest

from nublet.core.calculators.declare import (
    Calculator,
    ChoiceInput,
    NumberInput,
    TableInput,
    TextInput,
)
from nublet.core.calculators.shipped import CALCULATORS
from nublet.core.errors import CalculationError
from nublet.core.quantities import METRIC_SIGNS, Quantity

EACH = pytest.mark.parametrize("calculator", CALCULATORS.values(), ids=CALCULATORS)


def numbers_of(calculator: Calculator) -> list[NumberInput]:
    found = [one for one in calculator.inputs if isinstance(one, NumberInput)]
    for table in calculator.inputs:
        if isinstance(table, TableInput):
            found += [column for column in table.columns if isinstance(column, NumberInput)]
    return found


def figures(name: str, **values: Any) -> dict[str, float | None]:
    return {figure.label: figure.value for figure in CALCULATORS[name].answer(values).figures}


@EACH
def test_it_answers_its_own_defaults_with_formula_and_source(calculator: Calculator) -> None:
    answer = calculator.answer({})
    assert answer.figures[0].value is not None
    assert calculator.formula
    assert calculator.source
    assert calculator.question.endswith("?")
    for number in numbers_of(calculator):
        assert number.low <= number.default <= number.high
        assert number.quantity in METRIC_SIGNS
    for figure in answer.figures:
        assert figure.quantity in METRIC_SIGNS
    for table in answer.tables:
        assert table.rows
        for row in table.rows:
            assert len(row) == len(table.columns)


@EACH
def test_a_number_out_of_range_is_refused_by_name(calculator: Calculator) -> None:
    for one in calculator.inputs:
        if isinstance(one, NumberInput):
            for bad in (one.low - 1, one.high * 2 + 1, None, "3", True, float("nan")):
                with pytest.raises(CalculationError) as refused:
                    calculator.answer({one.name: bad})
                assert refused.value.field == one.name
                assert one.label in refused.value.message
        elif isinstance(one, ChoiceInput):
            with pytest.raises(CalculationError, match="is not a choice"):
                calculator.answer({one.name: "nothing of the kind"})
        else:
            many: tuple[object, ...] = ([], "rows", [1], [{}] * 41)
            for bad_rows in many:
                with pytest.raises(CalculationError) as refused:
                    calculator.answer({one.name: bad_rows})
                assert (refused.value.field or "").startswith(one.name)


@EACH
def test_a_cell_out_of_range_is_refused_by_row(calculator: Calculator) -> None:
    for table in calculator.inputs:
        if not isinstance(table, TableInput):
            continue
        for column in table.columns:
            if isinstance(column, TextInput):
                continue
            rows = [dict(row) for row in table.default]
            rows[-1][column.name] = "x"
            with pytest.raises(CalculationError) as refused:
                calculator.answer({table.name: rows})
            assert refused.value.field == f"{table.name}.{len(rows) - 1}.{column.name}"


def test_an_unknown_input_is_refused() -> None:
    with pytest.raises(CalculationError, match="asks for no 'colour'"):
        CALCULATORS["thin"].answer({"colour": 3})


def test_every_quantity_has_its_sign() -> None:
    assert set(get_args(Quantity)) == set(METRIC_SIGNS)


def test_mixing_by_weight_and_by_volume() -> None:
    parts = [
        {"part": "Base", "share": 3, "density_g_per_ml": 1.0},
        {"part": "Hardener", "share": 1, "density_g_per_ml": 1.5},
    ]
    answer = CALCULATORS["mix"].answer(
        {"parts": parts, "measured_by": "weight", "total_g": 90, "resolution_g": 0.1}
    )
    # 3 mL at 1 g/mL and 1 mL at 1.5 g/mL: 2 to 1 by weight.
    assert [row[1] for row in answer.tables[0].rows] == pytest.approx([60, 30])
    by_weight = CALCULATORS["mix"].answer(
        {"parts": parts, "ratio_by": "weight", "total_ml": 110, "resolution_ml": 1}
    )
    # 3 g and 1 g: 3 mL and two thirds of one.
    assert [row[1] for row in by_weight.tables[0].rows] == pytest.approx([90, 20])
    tiny = CALCULATORS["mix"].answer({"total_ml": 10})
    assert "Below the smallest sensible mix" in tiny.notes[0]


def test_blend_in_thirds() -> None:
    found = figures("blend")
    # Thirds at 24, 30 and 8 a litre; solids of 100, 50 and 0 %.
    assert found["A litre costs"] == pytest.approx(62 / 3)
    assert found["Solids, estimated"] == pytest.approx(50)
    assert found["This blend costs"] == pytest.approx(6.2)


def test_shellac_both_ways() -> None:
    flakes = figures("shellac", have="alcohol", alcohol_ml=1000, cut_by="pound", pound_cut=1)["Flakes"]
    assert flakes == pytest.approx(119.8264, abs=1e-4)
    alcohol = figures("shellac", have="flakes", flakes_g=100, cut_by="metric", cut_g_per_l=200)["Alcohol"]
    assert alcohol == pytest.approx(500)


def test_spread_and_cost_agree() -> None:
    used = figures("spread", area_m2=1, coats=[{"spread_m2_per_l": 10}, {"spread_m2_per_l": 20}])
    layers = [
        {"layer": "Oil", "coats": 2, "spread_first_m2_per_l": 10, "spread_later_m2_per_l": 20, "price_per_l": 30}
    ]  # fmt: skip
    assert figures("cost", layers=layers)["A square metre costs"] == pytest.approx(
        (used["You need"] or 0) / 1000 * 30
    )


def test_buying_lists_only_what_is_bought() -> None:
    answer = CALCULATORS["buy"].answer({"need_base_ml": 1350, "need_hardener_ml": 150})
    assert answer.figures[0].value == pytest.approx(52 + 29)
    assert {row[0] for row in answer.tables[0].rows} == {"Small set", "Large set"}


def test_a_cold_room_never_ends_the_cure() -> None:
    spells = [{"hours": 10, "temperature_c": 2, "humidity_pct": 50}]
    answer = CALCULATORS["cure"].answer({"spells": spells})
    assert answer.figures[0].value is None
    assert any("stands still" in note for note in answer.notes)


def test_conditioning_says_whether_it_is_at_rest() -> None:
    at_rest = [{"hour": 0, "mass_g": 500}, {"hour": 24, "mass_g": 500.1}]
    assert CALCULATORS["conditioning"].answer({"weighings": at_rest}).figures[0].says == "at rest"
    assert CALCULATORS["conditioning"].answer({}).figures[0].says == "not at rest yet"
