"""What the evidence may not say: of additive boards, small units, clean tables, ceilings, many tests, many groups."""

from __future__ import annotations

import dataclasses
from dataclasses import replace
from itertools import combinations

import numpy as np
import pytest

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Analysis, analyse
from nublet.core.evidence.checks import Check
from nublet.core.evidence.fit import compare_pairs
from nublet.core.evidence.letters import letter_display
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.studentized_range import pair_tail, studentized_range_sf
from nublet.core.evidence.weighing import PairEvidence
from nublet.core.evidence.words import say_headline, say_wood
from nublet.core.protocols.responses import ANY_MEASURE
from tests.core.builders import block_readings, block_values

Table = dict[str, list[float | None]]


def check_of(found: Analysis, name: str) -> Check:
    return {c.check: c for c in found.checks}[name]


def test_additive_boards_are_not_said_to_be_graded_alike() -> None:
    additive = analyse(block_readings({"A": [5, 4, 3], "B": [4, 3, 2]})).tests[0]
    assert "graded alike" not in additive.says
    assert "exactly the same on every board" in additive.says
    assert "graded alike" in analyse(block_readings({"A": [5, 5], "B": [3, 3]})).tests[0].says


@pytest.mark.parametrize("unit", [1e-60, 1e-6, 1.0, 1e6, 1e60])
def test_the_unit_does_not_matter(unit: float) -> None:
    """Values near 1e-6 once "measured alike"."""
    table = {"A": [1.0, 1.2, 0.9], "B": [2.0, 2.3, 2.1]}
    plain = analyse(block_readings({s: list(v) for s, v in table.items()}), response=ANY_MEASURE).tests[0]
    scaled: Table = {s: [x * unit for x in v] for s, v in table.items()}
    found = analyse(block_readings(scaled), response=ANY_MEASURE).tests[0]
    assert found.pairs[0].p_tukey == pytest.approx(plain.pairs[0].p_tukey)
    assert [row.letters for row in found.systems] == [row.letters for row in plain.systems]


@pytest.mark.parametrize("value", [1e160, 1e-160, float("inf"), float("nan")])
def test_values_that_cannot_be_squared_are_refused(value: float) -> None:
    with pytest.raises(ReadingsError, match="too large or too small to compute with"):
        analyse(block_readings({"A": [value, 1], "B": [2, 3]}), response=ANY_MEASURE)


def test_low_is_better_where_it_is_said() -> None:
    readings = block_readings({"A": [12, 14, 11], "B": [30, 37, 33]})
    low = analyse(readings, response=replace(ANY_MEASURE, better="low")).tests[0]
    assert [(row.system, row.letters) for row in low.systems] == [("A", "a"), ("B", "b")]
    assert [
        r.system for r in analyse(readings, response=replace(ANY_MEASURE, better="high")).tests[0].systems
    ] == [
        "B",
        "A",
    ]
    assert analyse(readings, response=ANY_MEASURE).tests[0].better is None


def test_spellings_of_a_look_are_one_look_and_what_is_left_out_is_counted() -> None:
    table: Table = {"A": [5, 4, 5, 4], "B": [3, 3, 4, 3]}
    readings = block_readings(table, look="24h") + block_readings(table, look="lifted")
    readings[0] = dataclasses.replace(readings[0], look="24 h")
    readings[1] = dataclasses.replace(readings[1], look="24 H", grade=None)
    found = analyse(readings)
    assert found.tests[0].fit is not None
    assert found.tests[0].fit.n_panels == 7
    assert [(part.why, part.n_rows) for part in found.left_out] == [
        ("at another look, lifted", 8),
        ("no grade", 1),
    ]
    assert "8 at another look, lifted; 1 no grade" in check_of(found, "left_out").says
    with pytest.raises(ReadingsError, match="already graded"):
        analyse([*readings, dataclasses.replace(readings[2], look="2 4 h")])


def test_a_panel_without_any_row_is_missing() -> None:
    readings = [r for r in block_readings({"A": [5, 4, 5], "B": [3, 3, 4]}) if r.panel != "B2"]
    missing = check_of(analyse(readings), "missing")
    assert (missing.level, "1 panel has no row at all: B on b2 (water)" in missing.says) == ("warn", True)
    incomplete = block_readings({"A": [5, 4, None], "B": [None, 3, 4], "C": [2, None, 2]})
    assert check_of(analyse([r for r in incomplete if r.grade is not None]), "missing").level == "pass"


def test_a_clean_table_seldom_has_a_panel_that_stands_alone() -> None:
    """At a fixed bound of 3 it was 24 of 100."""
    rng, warned, n = np.random.default_rng(4), 0, 300
    for _ in range(n):
        y = 3 + rng.normal(0, 0.3, 4) + rng.normal(0, 0.4, (5, 4))
        table: Table = {f"S{i}": list(np.clip(row, 1, 5)) for i, row in enumerate(y)}
        warned += check_of(analyse(block_readings(table)), "stands_alone").level == "warn"
    assert warned / n < 0.1


def test_the_ceilings_zeros_do_not_make_the_others_look_sure() -> None:
    """Nine of twelve build-ups at 5 on every panel: pooled, 19 of 100 tables told equal ones apart."""
    rng, alarms, n = np.random.default_rng(6), 0, 400
    for _ in range(n):
        y = 3 + rng.normal(0, 0.2, 4) + rng.normal(0, 0.6, (3, 4))
        table = {f"M{i}": list(row) for i, row in enumerate(y)} | {f"C{i}": [5.0] * 4 for i in range(9)}
        fit = fit_blocks(block_values(table), ends=(1.0, 5.0))
        assert fit.error_systems == ("M0", "M1", "M2")
        alarms += any(p.p_tukey < 0.05 for p in compare_pairs(fit, use_table=True) if p.a[0] == p.b[0] == "M")
    assert alarms / n <= 0.06
    says = analyse(block_readings({"A": [5, 5, 5], "B": [3, 4, 3.5], "C": [3, 2.5, 4]})).tests[0].says
    assert says.startswith("Every panel of A stands at an end of the scale")


def test_the_headline_allows_for_the_number_of_tests() -> None:
    """One test of ten at p = 0.01 is what chance gives one time in ten."""
    rng = np.random.default_rng(11)
    alarms, n = 0, 200
    for _ in range(n):
        readings = [
            reading
            for t in range(8)
            for reading in block_readings(
                {f"S{i}": list(3 + rng.normal(0, 0.4, 4)) for i in range(3)}, test=f"t{t}"
            )
        ]
        found = analyse(readings)
        says = say_headline(found.tests, found.checks, control=None, test_names={}).told_apart
        assert "allowing for 8 tests at once" in says
        alarms += not says.startswith("No two")
    assert alarms / n <= 0.09


def by_wood(rng: np.random.Generator, *, depends: bool) -> list[Reading]:
    shift = {"beech": (0.0, 0.0), "larch": (1.5, -1.5) if depends else (0.0, 0.0)}
    return [
        reading
        for wood, (a, b) in shift.items()
        for reading in block_readings(
            {
                "A": list(np.clip(3 + a + rng.normal(0, 0.3, 4), 1, 5)),
                "B": list(np.clip(3 + b + rng.normal(0, 0.3, 4), 1, 5)),
            },
            species=wood,
        )
    ]


def test_it_depends_on_the_wood_is_said_first_and_decides_what_is_shown() -> None:
    found = analyse(by_wood(np.random.default_rng(1), depends=True))
    assert (found.depends_on_wood, found.default_species) == (("water",), "beech")
    assert check_of(found, "wood").level == "warn"
    assert say_wood(found, "all", test_names={}).startswith("It depends on the wood: on water")
    assert "this is beech alone, and larch may have another order" in say_wood(found, "beech", test_names={})
    same = analyse(by_wood(np.random.default_rng(1), depends=False))
    assert (same.depends_on_wood, same.default_species) == ((), "all")
    assert say_wood(same, "all", test_names={}) == ""


def test_letters_of_a_graph_with_exponentially_many_groups() -> None:
    """Twenty triples, each told apart inside: 3^20 groups. It ends, and is still right."""
    systems = [f"S{i:02}" for i in range(60)]
    apart = {frozenset(pair) for i in range(0, 60, 3) for pair in combinations(systems[i : i + 3], 2)}
    shown = letter_display(systems, apart)
    signs = {s: set(_signs(shown[s])) for s in systems}
    for a, b in combinations(systems, 2):
        assert bool(signs[a] & signs[b]) == (frozenset((a, b)) not in apart)


def _signs(letters: str) -> list[str]:
    """``"ab'c"`` as its letters with their primes."""
    found: list[str] = []
    for sign in letters:
        if sign == "'":
            found[-1] += sign
        else:
            found.append(sign)
    return found


@pytest.mark.parametrize(("k", "df"), [(2, 1), (3, 3), (5, 12), (12, 55), (40, 6)])
def test_the_table_of_the_studentized_range_is_the_function(k: int, df: int) -> None:
    q = np.concatenate([np.linspace(0, 20, 201), np.geomspace(20, 1e5, 30)])
    np.testing.assert_allclose(pair_tail(k, df)(q), studentized_range_sf(q, k=k, df=df), atol=1e-9)


def test_more_pairs_than_can_be_listed_are_said() -> None:
    rng = np.random.default_rng(2)
    table: Table = {f"S{i}": list(rng.normal(3, 0.2, 2)) for i in range(900)}
    found = analyse(block_readings(table)).tests[0]
    assert (found.pairs, "more pairs than can be listed" in found.says) == ((), True)
    assert found.systems[0].ci is not None
    with pytest.raises(ReadingsError, match="20,001 different tests"):
        analyse([Reading(test=f"t{i}", system="A", board="b", panel="p", grade=3) for i in range(20_001)])


@pytest.mark.parametrize(("control_mean", "level"), [(3.5, "pass"), (4.0, "warn")])
def test_the_control_fails_below_grade_4(control_mean: float, level: str) -> None:
    half = control_mean - 0.25, control_mean + 0.25
    found = analyse(block_readings({"A": [5, 4.5], "control": list(half)}))
    assert check_of(found, "control").level == level


@pytest.mark.parametrize(("value", "level"), [(4.75, "warn"), (4.7, "pass")])
def test_too_mild_begins_at_three_quarters_of_the_last_step(value: float, level: str) -> None:
    assert check_of(analyse(block_readings({"A": [5, 5], "B": [value, 5]})), "discriminates").level == level


@pytest.mark.parametrize(("value", "level"), [(1.25, "warn"), (1.3, "pass")])
def test_too_harsh_ends_at_a_quarter_of_the_first_step(value: float, level: str) -> None:
    assert check_of(analyse(block_readings({"A": [1, 1], "B": [value, 1]})), "discriminates").level == level


@pytest.mark.parametrize(("far", "level"), [(2.0, "warn"), (2.05, "pass")])
def test_a_panel_two_grades_from_every_sibling_stands_alone(far: float, level: str) -> None:
    """Among others so unruly that no residual is large."""
    table: Table = {"A": [4, 4, 4, far], "B": [5, 3, 1.5, 3.4], "C": [1, 2.9, 4.6, 3], "D": [3, 1.2, 3, 4.8]}
    assert check_of(analyse(block_readings(table)), "stands_alone").level == level


@pytest.mark.parametrize(("p", "is_apart"), [(0.0499, True), (0.0501, False), (0.058, False)])
def test_build_ups_are_told_apart_below_one_in_twenty(p: float, is_apart: bool) -> None:
    """The difference that has just this p, found by halving: below it they are alike, above it not."""
    noise = np.array([[0.0, 0.4, -0.3, 0.1, -0.2], [0.2, -0.4, 0.1, 0.3, -0.2]])

    def pair_at(difference: float) -> PairEvidence:
        table: Table = {"A": list(3 + difference + noise[0]), "B": list(3 + noise[1])}
        return analyse(block_readings(table), response=ANY_MEASURE).tests[0].pairs[0]

    low, high = 0.0, 5.0
    for _ in range(40):
        middle = (low + high) / 2
        tail = pair_at(middle).p_tukey
        assert tail is not None
        low, high = (middle, high) if tail > p else (low, middle)
    found = pair_at(high)
    assert found.p_tukey == pytest.approx(p, abs=1e-6)
    assert found.told_apart is is_apart
    assert (found.ci is not None and found.ci[0] > 0) is is_apart
