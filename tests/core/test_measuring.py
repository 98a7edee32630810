"""Weights, moisture, cure, batches' dates."""

from __future__ import annotations

import json
import math
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.errors import CalculationError, ReadingsError, ShelfError
from nublet.core.materials.batches import use_by
from nublet.core.materials.curing import Spell, cure_rate, follow_cure
from nublet.core.measuring.moisture import equilibrium_moisture_pct, follow_conditioning
from nublet.core.measuring.singles import MOST_SINGLES, mean_of_singles
from nublet.core.measuring.weights import film_from_weighings, water_uptake
from nublet.core.protocols.responses import RESPONSES

GOLDEN = json.loads((Path(__file__).parents[1] / "golden" / "singles.json").read_text())


@pytest.mark.parametrize("case", GOLDEN["cases"], ids=lambda case: str(case["response"]))
def test_single_readings_make_a_mean_with_its_spread(case: dict[str, Any]) -> None:
    found = mean_of_singles(case["singles"], RESPONSES[case["response"]])
    assert (found.value, found.spread) == (case["value"], case["spread"])


def test_single_readings_that_cannot_be_are_refused_by_their_number() -> None:
    gloss = RESPONSES["gloss-60"]
    with pytest.raises(ReadingsError, match="panel K7: reading 2: gloss 2000 cannot be"):
        mean_of_singles([14, 2000], gloss, where="panel K7")
    with pytest.raises(ReadingsError, match="reading 1"):
        mean_of_singles([math.nan], gloss)
    with pytest.raises(ReadingsError, match="not 21"):
        mean_of_singles([14.0] * (MOST_SINGLES + 1), gloss)
    with pytest.raises(ReadingsError, match="not 0"):
        mean_of_singles([], gloss)
    # Two looks of one judge are no measure of the mark.
    with pytest.raises(ReadingsError, match="judged once"):
        mean_of_singles([4, 5], RESPONSES["grade"])


# "Wood Handbook", FPL-GTR-190, 2010, table 4-2, whole degrees Fahrenheit turned to Celsius.
@pytest.mark.parametrize(
    ("celsius", "humidity", "published"),
    [
        (-1.1, 30, 6.3),
        (4.4, 65, 12.3),
        (21.1, 30, 6.2),
        (21.1, 50, 9.2),
        (21.1, 80, 16.0),
        (32.2, 45, 8.1),
        (48.9, 65, 10.6),
    ],
)
def test_moisture_against_the_published_table(celsius: float, humidity: float, published: float) -> None:
    assert equilibrium_moisture_pct(celsius, humidity) == pytest.approx(published, abs=0.2)


@given(st.floats(0, 60), st.floats(0, 97))
def test_damper_air_makes_damper_wood(celsius: float, humidity: float) -> None:
    assert equilibrium_moisture_pct(celsius, humidity + 1) > equilibrium_moisture_pct(celsius, humidity) >= 0


def test_rest_is_below_a_tenth_of_a_percent_in_a_day() -> None:
    assert follow_conditioning([0, 24], [500, 499.6]).is_at_rest
    moving = follow_conditioning([0, 24], [500, 499.0])
    assert not moving.is_at_rest
    assert moving.change_pct_per_day == pytest.approx(-0.2)
    assert moving.hours_left is None
    # Read between weighings: the mass 24 h before hour 36 lies half way between those at 0 and 24.
    assert follow_conditioning([0, 24, 36], [500, 498, 498]).change_pct_per_day == pytest.approx(
        100 * (498 - 499) / 499
    )


@pytest.mark.parametrize(("rate", "start"), [(0.03, 516.0), (0.02, 530.0), (0.05, 490.0)])
def test_the_wait_is_that_of_an_exponential(rate: float, start: float) -> None:
    """For a mass that truly approaches 500 g exponentially, at rest after the wait and not before it."""

    def mass(hour: float) -> float:
        return 500 + (start - 500) * math.exp(-rate * hour)

    times = [0.0, 24.0, 48.0]
    left = follow_conditioning(times, [mass(t) for t in times]).hours_left
    assert left is not None
    for later, rests in ((left - 3, False), (left + 3, True)):
        seen = np.arange(0, 48 + later + 0.001, (48 + later) / 200)
        assert follow_conditioning(list(seen), [mass(t) for t in seen]).is_at_rest is rests


def test_film_by_hand() -> None:
    # 2.7 g on 0.06 m² of density 0.9 and 40 % solids.
    film = film_from_weighings(512.4, 515.1, area_m2=0.06, density_g_per_ml=0.9, solids_pct=40)
    assert film.applied_g_per_m2 == pytest.approx(45)
    assert film.wet_um == pytest.approx(50)
    assert film.dry_um == pytest.approx(20)


def test_uptake_by_hand() -> None:
    # A 100 cm² ring, as the standard has it, takes 112.8 mm; 1 g there is 100 g/m².
    assert water_uptake(500, 501, ring_diameter_mm=112.838) == pytest.approx(100, abs=0.01)


@pytest.mark.parametrize(
    ("celsius", "humidity", "from_water", "rate"),
    [
        (20, 50, True, 1),
        (10, 50, False, 0.5),
        (10, 50, True, 0.5),
        (20, 75, True, 1 / 1.5),
        (20, 100, True, 0.5),
        (20, 100, False, 1),
        (30, 20, True, 1),
        (4.9, 50, False, 0),
    ],
)
def test_the_rule_of_thumb(celsius: float, humidity: float, from_water: bool, rate: float) -> None:
    assert cure_rate(celsius, humidity, from_water=from_water) == pytest.approx(rate)


@given(
    st.floats(1, 1000),
    st.lists(st.tuples(st.floats(0, 500), st.floats(-10, 40), st.floats(0, 100)), min_size=1, max_size=5),
    st.booleans(),
)
def test_never_earlier_than_the_label(
    label_h: float, rooms: list[tuple[float, float, float]], from_water: bool
) -> None:
    spells = [Spell(hours=h, temperature_c=t, humidity_pct=rh) for h, t, rh in rooms]
    found = follow_cure(label_h, spells, from_water=from_water)
    assert 0 <= found.progress <= 1
    assert found.progress <= found.elapsed_h / label_h + 1e-9
    if found.hours_left is not None:
        assert found.elapsed_h + found.hours_left >= label_h * (1 - 1e-9)


def test_a_cure_across_a_cold_spell() -> None:
    # A week on the label; three days at 20 °C, then at 10 °C half as fast: eight days more.
    week = [
        Spell(hours=72, temperature_c=20, humidity_pct=50),
        Spell(hours=0, temperature_c=10, humidity_pct=50),
    ]
    found = follow_cure(168, week, from_water=False)
    assert found.hours_left == pytest.approx(192)
    frozen = follow_cure(168, [Spell(hours=72, temperature_c=0, humidity_pct=50)], from_water=False)
    assert (frozen.progress, frozen.hours_left) == (0, None)


@pytest.mark.parametrize(
    ("opened", "best", "keeps", "day"),
    [
        (date(2026, 3, 1), date(2026, 3, 10), 30, date(2026, 3, 10)),
        (date(2026, 3, 1), date(2027, 3, 10), 30, date(2026, 3, 31)),
        (date(2026, 3, 1), None, None, None),
        (None, date(2027, 3, 10), 30, date(2027, 3, 10)),
    ],
)
def test_the_last_good_day(
    opened: date | None, best: date | None, keeps: float | None, day: date | None
) -> None:
    assert use_by(opened_on=opened, best_before=best, keeps_opened_d=keeps) == day


@pytest.mark.parametrize(
    ("compute", "field"),
    [
        (lambda: equilibrium_moisture_pct(150, 50), "temperature_c"),
        (lambda: equilibrium_moisture_pct(20, 99), "humidity_pct"),
        (lambda: equilibrium_moisture_pct(20, math.nan), "humidity_pct"),
        (lambda: follow_conditioning([0], [500]), "weighings"),
        (lambda: follow_conditioning([24, 0], [500, 499]), "weighings"),
        (lambda: follow_conditioning([0, 12], [500, 499]), "weighings"),
        (lambda: follow_conditioning([0, 24], [500, 0]), "weighings"),
        (lambda: film_from_weighings(500, 499, area_m2=1, density_g_per_ml=1, solids_pct=1), "after_g"),
        (lambda: film_from_weighings(500, 501, area_m2=0, density_g_per_ml=1, solids_pct=1), "area_m2"),
        (lambda: film_from_weighings(500, 501, area_m2=1, density_g_per_ml=1, solids_pct=101), "solids_pct"),
        (lambda: water_uptake(500, 501, ring_diameter_mm=0), "ring_diameter_mm"),
        (lambda: water_uptake(500, 499, ring_diameter_mm=50), "after_g"),
        (lambda: cure_rate(200, 50, from_water=True), "temperature_c"),
        (lambda: cure_rate(20, 150, from_water=True), "humidity_pct"),
        (lambda: follow_cure(0, [], from_water=True), "cure_d"),
        (lambda: follow_cure(10, [], from_water=True), "spells"),
        (lambda: use_by(opened_on=date(1926, 1, 1), best_before=None, keeps_opened_d=1), "opened_on"),
    ],
)
def test_what_cannot_have_been_measured(compute: Callable[[], Any], field: str) -> None:
    with pytest.raises((CalculationError, ShelfError)) as refused:
        compute()
    assert refused.value.field == field
    assert len(refused.value.message) > 15
