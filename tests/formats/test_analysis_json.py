"""Whatever the readings, the answer is plain JSON: never a NaN, never a contradiction."""

from __future__ import annotations

import json
from itertools import pairwise
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import analyse
from nublet.core.evidence.readings import Reading
from nublet.formats.analysis_json import analysis_to_json

grades = st.none() | st.sampled_from([1.0, 2.0, 2.5, 3.0, 4.0, 5.0])


@st.composite
def tables(draw: st.DrawFn) -> list[Reading]:
    """Up to 4 systems on up to 4 boards of up to 2 species, 2 judges, 2 tests, any grades missing."""
    n_systems, n_boards = draw(st.integers(1, 4)), draw(st.integers(1, 4))
    n_judges, n_species = draw(st.integers(1, 2)), draw(st.integers(0, 2))
    readings = []
    for test in ("water", "wine")[: draw(st.integers(1, 2))]:
        for board in range(n_boards):
            for system in range(n_systems):
                for judge in range(n_judges):
                    readings.append(
                        Reading(
                            test=test,
                            system=f"S{system}",
                            board=f"b{board}",
                            panel=f"{system}-{board}",
                            species=f"wood {board % n_species}" if n_species else None,
                            judge=f"J{judge}",
                            look="24h",
                            grade=draw(grades),
                        )
                    )
    return readings


@settings(max_examples=150, deadline=None)
@given(tables())
def test_any_table_gives_numbers_or_nulls(readings: list[Reading]) -> None:
    try:
        found: dict[str, Any] = analysis_to_json(analyse(readings))
    except ReadingsError as refused:
        assert "has a grade" in refused.message
        return
    assert json.loads(json.dumps(found, allow_nan=False)) == found
    for test in found["tests"]:
        means = [row["mean"] for row in test["systems"]]
        assert means == sorted(means, reverse=True) or max(b - a for a, b in pairwise(means)) < 1e-8
        for row in test["systems"]:
            assert row["ci"] is None or row["ci"][0] < row["mean"] < row["ci"][1]
        letters = {row["system"]: set(row["letters"]) for row in test["systems"]}
        for pair in test["pairs"]:
            assert {pair["a"], pair["b"]} <= set(letters)
            assert all(p is None or 0 <= p <= 1 for p in (pair["p_tukey"], pair["p_permutation"]))
            if any(letters.values()):
                share = bool(letters[pair["a"]] & letters[pair["b"]])
                assert share == (pair["verdict"] != "told apart")
            if pair["verdict"] == "told apart" and pair["p_tukey"] is not None:
                assert pair["p_tukey"] < 0.05
        if test["residual_df"] == 0:
            assert all(row["ci"] is None for row in test["systems"])
            assert test["says"]
    assert {check["level"] for check in found["checks"]} <= {"pass", "warn", "fail"}


@settings(max_examples=40, deadline=None)
@given(tables(), st.randoms(use_true_random=False))
def test_the_order_of_the_rows_does_not_matter(readings: list[Reading], random: Any) -> None:
    if all(reading.grade is None for reading in readings):
        return
    shuffled = list(readings)
    random.shuffle(shuffled)

    def numbers(rows: list[Reading]) -> dict[tuple[str, str], list[tuple[str, float]]]:
        tests = analysis_to_json(analyse(rows))["tests"]
        return {
            (test["test"], test["species"]): sorted(
                (s["system"], round(s["mean"], 8)) for s in test["systems"]
            )
            for test in tests
        }

    assert numbers(readings) == numbers(shuffled)
