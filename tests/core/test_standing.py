"""What entries amount to, by the cases that the browser's copies are held to as well, and by properties."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import pairwise
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.bench.measures import MEASURES, check_measures
from nublet.core.bench.standing import (
    ReadingEntry,
    StandingReading,
    StandingWork,
    WorkEntry,
    standing_reading,
    standing_work,
)
from nublet.core.errors import PlanError

GOLDEN = json.loads((Path(__file__).parents[1] / "golden" / "standing.json").read_text())
NINE = datetime(2027, 3, 2, 9, tzinfo=UTC)


def read_entry(plain: dict[str, Any]) -> WorkEntry:
    moments = {
        name: datetime.fromisoformat(plain[name])
        for name in ("at", "begun_at")
        if plain.get(name) is not None
    }
    return WorkEntry(**{**plain, **moments})


def shown(moment: datetime | None) -> str | None:
    """To the nearest millisecond, as a browser keeps it."""
    if moment is None:
        return None
    whole = datetime.fromtimestamp(round(moment.timestamp() * 1000) / 1000, tz=UTC)
    return f"{whole:%Y-%m-%dT%H:%M:%S}.{whole.microsecond // 1000:03}Z"


@pytest.mark.parametrize("case", GOLDEN["work"], ids=lambda case: str(case["name"]))
def test_what_work_amounts_to(case: dict[str, Any]) -> None:
    stands = standing_work(map(read_entry, case["entries"]))
    for code, wanted in case["stands"].items():
        found = stands.get(code, StandingWork())
        assert [shown(found.begun_at), shown(found.ended_at), found.skipped_because] == wanted
    assert set(stands) <= set(case["stands"])


@pytest.mark.parametrize("case", GOLDEN["readings"], ids=lambda case: str(case["name"]))
def test_what_a_judges_entries_amount_to(case: dict[str, Any]) -> None:
    entries = [
        ReadingEntry(
            **{**entry, "seen_at": datetime.fromisoformat(entry["seen_at"])}
            if "seen_at" in entry
            else {**entry, "singles": tuple(entry.get("singles", ()))}
        )
        for entry in case["entries"]
    ]
    wanted = {**case["stands"], "singles": tuple(case["stands"].get("singles", ()))}
    assert replace(standing_reading(entries), seen_at=None) == StandingReading(**wanted)


def test_a_value_stands_with_the_moment_at_which_it_was_seen() -> None:
    entries = [
        ReadingEntry(entry="grade", value=5, seen_at=NINE),
        ReadingEntry(entry="note", note="ring", seen_at=NINE + timedelta(minutes=3)),
    ]
    assert standing_reading(entries).seen_at == NINE


def test_hands_mix_and_measures_stand_until_they_are_said_anew() -> None:
    entries = [
        WorkEntry(id="a", entry="begin", panels=["K7"], at=NINE, hands=3, measured={"temperature_c": 19.5}),
        WorkEntry(id="b", entry="measure", panels=["K7"], at=NINE, mix=8, measured={"humidity_pct": 52}),
        WorkEntry(id="c", entry="done", panels=["K7"], at=NINE, measured={"temperature_c": 20.0}),
    ]
    stands = standing_work(entries)["K7"]
    assert (stands.hands, stands.mix) == (3, 8)
    assert stands.measured == {"temperature_c": 20.0, "humidity_pct": 52}


@given(
    n=st.integers(1, 12),
    seconds=st.integers(0, 100_000),
)  # fmt: skip
def test_shares_are_even_follow_each_other_and_fill_the_time(n: int, seconds: int) -> None:
    codes = [f"P{number}" for number in range(n)]
    end = NINE + timedelta(seconds=seconds)
    stands = standing_work(
        [
            WorkEntry(id="a", entry="begin", panels=codes[:1], at=NINE),
            WorkEntry(id="b", entry="done", panels=codes, at=end),
        ]
    )
    spans = [(stands[code].begun_at, stands[code].ended_at) for code in codes]
    assert (spans[0][0], spans[-1][1]) == (NINE, end)
    for (_, ended), (begun, _) in pairwise(spans):
        assert begun == ended
    lengths = [(b - a).total_seconds() for a, b in spans if a and b]
    assert max(lengths) - min(lengths) < 1e-4


def test_measures_are_held_to_their_limits() -> None:
    assert check_measures({"temperature_c": 19.5, "weight_g": None}, n_panels=4) == {"temperature_c": 19.5}
    for name, measure in MEASURES.items():
        with pytest.raises(PlanError, match="cannot be") as caught:
            check_measures({name: measure.high + 1}, n_panels=1)
        assert caught.value.field == f"measured.{name}"
        check_measures({name: measure.low}, n_panels=1)
    with pytest.raises(PlanError, match="one panel"):
        check_measures({"weight_g": 412.0}, n_panels=2)
    with pytest.raises(PlanError, match="nothing that is measured"):
        check_measures({"colour": 3}, n_panels=1)
