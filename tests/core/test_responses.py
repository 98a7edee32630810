"""What is read: each declaration by the same rules, and a scale that is not the grade through all that weighs."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from nublet.core.design.graded import graded_moments, graded_sd, smallest_near_the_top
from nublet.core.design.power import Comparison
from nublet.core.errors import DesignError, NubletError, ReadingsError
from nublet.core.evidence.analysis import analyse
from nublet.core.protocols.plain import protocol_as_plain, protocol_from_plain, recorded_protocol
from nublet.core.protocols.responses import ANY_MEASURE, GRADE, RESPONSES, Response, ScaleStep
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.ranking.draws import rank_systems
from nublet.core.ranking.shipped import DINING_TABLE
from tests.core.builders import block_readings

# Smooth to rough: low is better, and neither end is that of the grade.
TOUCH = Response(
    id="touch", name="Touch", noun="step", better="low", lowest=0, highest=3, step=1, decimals=1,
    passes_from=1, unmarked_from=0.2, ruined_to=2.8, alone_by=2,
    steps=tuple(ScaleStep(value=v, key=str(v), words=w, says=w) for v, w in enumerate(["Smooth", "Dry", "Raised", "Rough"])),
)  # fmt: skip


@pytest.mark.parametrize("response", [*RESPONSES.values(), TOUCH], ids=lambda response: str(response.id))
def test_a_declaration_agrees_with_itself(response: Response) -> None:
    """Whatever its form: an id that fits its column, known parts, limits in order, a way to be weighed."""
    assert response.id == TOUCH.id or RESPONSES[response.id] is response
    assert len(response.id) <= 30
    assert response.weighed
    assert (response.form == "group") == bool(response.parts)
    assert (response.form == "derived") == bool(response.derived_from)
    for part in (*response.parts, *response.derived_from):
        assert RESPONSES[part].is_read
    if response.unlikely is not None and response.ends is not None:
        assert response.ends[0] <= response.unlikely[0] < response.unlikely[1] <= response.ends[1]
    assert bool(response.steps) == (response.form in ("scale", "kinds", "pair"))
    if response.form in ("group", "known"):
        return
    assert response.ends is not None
    for value in (*response.ends, sum(response.ends) / 2):
        assert response.check(value) == value
    for value in (response.ends[0] - 0.01, response.ends[1] + 0.01, float("nan"), float("inf")):
        with pytest.raises(ReadingsError, match=r"Give (a number from|any of)") as caught:
            response.check(value, where="row 7")
        assert caught.value.message.startswith("row 7: ")


@pytest.mark.parametrize(
    "response",
    [*(each for each in RESPONSES.values() if each.form == "scale"), TOUCH],
    ids=lambda response: str(response.id),
)
def test_a_scale_steps_from_end_to_end_and_knows_its_better_one(response: Response) -> None:
    assert response.ends is not None
    low, high = response.ends
    assert {response.best, response.worst} == {low, high}
    values = [step.value for step in response.steps]
    assert sorted(values) == list(np.arange(low, high + (response.step or 1), response.step or 1))
    assert len({step.key for step in response.steps}) == len(values)
    assert all(step.words and step.says for step in response.steps)
    if response.better is not None:
        assert values == sorted(values, reverse=response.better == "high")
    for bound in (response.passes_from, response.unmarked_from, response.ruined_to):
        assert bound is None or low <= bound <= high
    if response.passes_from is not None:
        assert response.best is not None
        assert response.worst is not None
        assert response.reaches(response.best, response.passes_from)
        assert not response.reaches(response.worst, response.passes_from)


def test_kinds_are_any_of_several() -> None:
    kinds = RESPONSES["change-kinds"]
    assert [step.words for step in kinds.kinds_in(1 + 16)] == ["Colour", "Raised grain"]
    assert kinds.kinds_in(0) == ()
    assert kinds.check(255) == 255
    assert not kinds.is_averaged


def test_only_what_may_be_is_averaged() -> None:
    averaged = {
        response.id for response in RESPONSES.values() if response.is_averaged and response.form == "scale"
    }
    assert averaged == {"grade", "evenness", "looks", "sheen-seen", "went-on"}
    assert {"smell", "bead", "drying-stage", "repair-seen", "touch"}.isdisjoint(averaged)


def test_what_is_impossible_is_refused_and_what_is_unlikely_is_asked_about() -> None:
    moisture = RESPONSES["moisture"]
    assert moisture.is_unlikely(60)
    assert moisture.check(60) == 60
    assert not moisture.is_unlikely(8)
    with pytest.raises(ReadingsError, match=r"moisture 300 cannot be\. Give a number from 0 % to 200 %"):
        moisture.check(300)


def test_a_measure_has_no_ends_but_what_can_be_computed_with() -> None:
    assert ANY_MEASURE.check(-3e6) == -3e6
    with pytest.raises(ReadingsError, match="too large or too small"):
        ANY_MEASURE.check(1e200)
    assert (ANY_MEASURE.best, ANY_MEASURE.width) == (None, None)
    with pytest.raises(DesignError, match="not read in steps"):
        graded_sd(0.5, 3, ANY_MEASURE)


def flipped(table: dict[str, list[float]]) -> dict[str, list[float]]:
    """Grades 2 to 5 as touch 3 to 0: the same marks on a scale that runs the other way."""
    return {system: [5 - value for value in row] for system, row in table.items()}


GRADED: dict[str, list[float]] = {"A": [5, 5, 4, 5], "B": [4, 3, 4, 4], "Bare control": [2, 2, 3, 2]}


def test_a_scale_that_runs_the_other_way_gives_the_same_verdict() -> None:
    """Means mirrored, order, letters, p-values and every check alike."""
    grades = analyse(block_readings(GRADED), control="Bare control")
    touch = analyse(block_readings(flipped(GRADED)), control="Bare control", response=TOUCH)
    one, other = grades.tests[0], touch.tests[0]
    assert (
        [row.system for row in other.systems]
        == [row.system for row in one.systems]
        == ["A", "B", "Bare control"]
    )
    assert [row.letters for row in other.systems] == [row.letters for row in one.systems]
    np.testing.assert_allclose(
        [5 - (row.mean or 0) for row in other.systems], [row.mean or 0 for row in one.systems]
    )
    assert [p.p_tukey for p in other.pairs] == pytest.approx([p.p_tukey for p in one.pairs])
    assert [(c.check, c.level) for c in touch.checks] == [(c.check, c.level) for c in grades.checks]


@pytest.mark.parametrize(
    ("table", "says"),
    [
        ({"A": [0, 0, 0.1], "Bare control": [0, 0, 0]}, "Too mild"),
        ({"A": [3, 3, 2.9], "Bare control": [3, 3, 3]}, "Too harsh"),
    ],
)
def test_too_mild_and_too_harsh_are_the_scales_own(table: dict[str, list[float]], says: str) -> None:
    checks = {
        c.check: c for c in analyse(block_readings(table), control="Bare control", response=TOUCH).checks
    }
    assert says in checks["discriminates"].says
    assert checks["control"].level == ("warn" if says == "Too mild" else "pass")


def test_a_mirrored_scale_is_graded_and_planned_alike() -> None:
    """Rounding, the ends of the scale and the power near the best end do not know which way it runs."""
    four = replace(GRADE, lowest=2, highest=5)
    comparison = Comparison(n_build_ups=4, n_boards=4, block_size=4)
    for mean in (2.3, 3.5, 4.8):
        one = graded_moments(mean, 0.5, n_judges=3, scale=four)
        other = graded_moments(5 - mean, 0.5, n_judges=3, scale=TOUCH)
        assert 5 - other[0] == pytest.approx(one[0], rel=1e-9)
        assert other[1] == pytest.approx(one[1], rel=1e-9)
    assert smallest_near_the_top(comparison, 0.4, n_judges=3, scale=TOUCH) == pytest.approx(
        smallest_near_the_top(comparison, 0.4, n_judges=3, scale=four), abs=1e-3
    )


def test_ranking_scores_between_the_ends_of_each_response() -> None:
    """The same marks read as grades of 2 to 5 and as touch of 3 to 0 rank alike, whatever the weights of their tests."""
    tests = {}
    for name, response, table in (
        ("grades", replace(GRADE, lowest=2), GRADED),
        ("touch", TOUCH, flipped(GRADED)),
    ):
        found = analyse(block_readings(table), response=response).tests[0]
        wine = {"wine-1h": replace(found, test="wine-1h"), "water-6h": replace(found, test="water-6h")}
        profile = replace(DINING_TABLE, gates=()).asked_of(PROTOCOLS["table-basics"])
        ranking = rank_systems(profile, wine, excluded=["Bare control"], seed=1, n_draws=4000)
        tests[name] = {row.system: row for row in ranking.systems}
    assert list(tests["grades"]) == list(tests["touch"]) == ["A", "B"]
    for system, row in tests["grades"].items():
        other = tests["touch"][system]
        # The draws are others; their spread over 4,000 leaves this much.
        assert other.score == pytest.approx(row.score, abs=1)
        assert other.p_best == pytest.approx(row.p_best, abs=0.03)


def test_a_record_holds_the_protocol_as_it_was_kept() -> None:
    plain = protocol_as_plain(PROTOCOLS["table-basics"])
    assert recorded_protocol(plain) == plain


def test_a_protocol_that_cannot_be_read_says_what_it_names() -> None:
    plain = protocol_as_plain(PROTOCOLS["table-basics"])
    first = plain["tests"][0]
    for changed, says in (
        ({**plain, "format": 4}, "a later release wrote"),
        (
            {**plain, "tests": [{**first, "acts": [{"id": "a", "kind": "lay", "natures": ["radiant"]}]}]},
            "'radiant' is not a choice",
        ),
        (
            {**plain, "tests": [{**first, "site": {"kind": "cloud", "wetted_mm": 1}}]},
            "site kind: 'cloud' is not a choice",
        ),
        ({**plain, "tests": [{"id": "x"}]}, "cannot be read"),
    ):
        with pytest.raises(NubletError, match=says):
            protocol_from_plain(changed)


def test_a_name_within_a_sentence_keeps_its_sign() -> None:
    assert RESPONSES["delta-e00"].name_within == "colour change ΔE00"
    assert RESPONSES["grade"].name_within == "grade"
