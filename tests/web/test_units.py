"""Metric and US: exact factors, and what was typed comes back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.quantities import METRIC_SIGNS
from nublet.web.api.units import screen_units, to_metric, to_us

QUANTITIES = sorted(screen_units())


@pytest.mark.parametrize(
    ("quantity", "metric", "us"),
    [
        ("millilitres", 29.5735295625, 1),
        ("litres", 3.785411784, 1),
        ("grams", 28.349523125, 1),
        ("millimetres", 25.4, 1),
        ("micrometres", 25.4, 1),
        ("square_metres", 0.09290304, 1),
        ("celsius", 100, 212),
        ("celsius", -40, -40),
        ("g_per_l", 119.826427316897, 1),
        ("spread_m2_per_l", 10, 407.458333333333),
        ("price_per_l", 1 / 3.785411784, 1),
        ("price_per_m2", 1 / 0.09290304, 1),
        ("kg_per_m3", 16.01846337396014, 1),
        ("newtons", 4.4482216152605, 1),
        ("g_per_m2", 305.151727, 1),
        ("minutes", 7, 7),
    ],
)
def test_known_values(quantity: str, metric: float, us: float) -> None:
    assert to_us(quantity, metric) == pytest.approx(us, rel=1e-9)
    assert to_metric(quantity, us) == pytest.approx(metric, rel=1e-9)


@given(st.sampled_from(QUANTITIES), st.decimals(-99999, 999999, places=4).map(float))
def test_what_was_typed_comes_back_exactly(quantity: str, typed: float) -> None:
    assert to_us(quantity, to_metric(quantity, typed)) == typed


@given(st.sampled_from(QUANTITIES), st.floats(0.001, 1e6))
def test_there_and_back(quantity: str, metric: float) -> None:
    assert to_metric(quantity, to_us(quantity, metric)) == pytest.approx(metric, rel=1e-9, abs=1e-9)


def test_every_quantity_has_both_signs() -> None:
    for unit in screen_units().values():
        assert unit.factor > 0
        assert (unit.metric == "") == (unit.us == "")


def test_every_quantity_has_its_units_on_screen() -> None:
    assert set(METRIC_SIGNS) == set(screen_units())
