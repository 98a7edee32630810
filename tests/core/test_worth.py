"""The smallest difference worth knowing: who may have one, in which unit, and what is refused."""

from __future__ import annotations

import math

import pytest

from nublet.core.errors import ReadingsError
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.protocols.worth import check_worth, compared


def test_a_protocol_names_what_of_it_is_compared_by_differences() -> None:
    (grade,) = [each for each in compared(PROTOCOLS["table-basics"]) if each.response == "grade"]
    assert (grade.usual, grade.unit, grade.is_ratio) == (1.0, "grades", False)
    swatches = {each.response: each for each in compared(PROTOCOLS["colour-swatches"])}
    assert swatches["gloss-60"].unit == "GU"
    assert (swatches["delta-e00"].unit, swatches["delta-e00"].usual) == ("ΔE00", None)
    # Choices, kinds and words in an order have no differences.
    assert not {"preferred", "change-kinds", "smell", "bead"} & set(swatches)
    steps = [each for each in compared(PROTOCOLS["table-full"]) if each.response == "highest-step"]
    assert [(each.usual, each.unit) for each in steps] == [(1.0, "steps")]


def test_a_ratio_is_a_share() -> None:
    every = [each for protocol in PROTOCOLS.values() for each in compared(protocol)]
    assert {each.response for each in every if each.is_ratio} == {"uptake"}
    assert check_worth({"uptake": 0.25}) == {"uptake": 0.25}


@pytest.mark.parametrize(
    ("wanted", "says"),
    [
        ({"grade": 0}, "more than 0"),
        ({"grade": math.nan}, "more than 0"),
        ({"grade": 4.5}, "at most 4"),
        ({"uptake": 12}, "at most 900 %"),
        ({"no-such": 1}, "compared by differences"),
        ({"preferred": 1}, "compared by differences"),
    ],
)
def test_what_cannot_be_is_refused_with_its_field(wanted: dict[str, float], says: str) -> None:
    with pytest.raises(ReadingsError, match=says) as refused:
        check_worth(wanted)
    assert refused.value.field == f"worth_knowing.{next(iter(wanted))}"
