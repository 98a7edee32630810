"""Readings to evidence: panel values, looks, the odd cases, the checks and the sentences."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from nublet.core.errors import NubletError, ReadingsError
from nublet.core.evidence.analysis import analyse
from nublet.core.evidence.panel_values import panel_values
from nublet.core.evidence.readings import Reading, choose_look
from nublet.core.evidence.trial_checks import check_blind
from nublet.core.evidence.weighing import weigh_test
from nublet.core.evidence.words import say_headline
from nublet.core.protocols.responses import ANY_MEASURE, GRADE
from tests.core.builders import block_readings, block_values, random_table

TABLE: dict[str, list[float | None]] = {"A": [5, 4, 5, 4], "B": [3, 3, 4, 3], "control": [1, 1, 2, 1]}


def test_judges_of_one_panel_are_a_mean_and_never_replicates() -> None:
    once = analyse(block_readings(TABLE))
    thrice = analyse(block_readings(TABLE, judges=("Nell", "Imara", "Tobias")))
    assert once.tests[0].systems == thrice.tests[0].systems
    assert thrice.tests[0].fit is not None
    assert thrice.tests[0].fit.n_panels == 12


def test_a_lenient_judge_of_some_panels_lifts_nobody() -> None:
    """Imara grades half a step higher than Nell, and sees only system A and one panel of B."""
    nell = block_readings({"A": [4, 4, 4], "B": [3, 3, 3]}, judges=["Nell"])
    imara = block_readings({"A": [4.5, 4.5, 4.5], "B": [3.5, None, None]}, judges=["Imara"])
    values = {v.panel: v.value for v in panel_values([*nell, *imara])}
    spread = {p: v - values["B2"] for p, v in values.items()}
    assert spread == pytest.approx({"A1": 1, "A2": 1, "A3": 1, "B1": 0, "B2": 0, "B3": 0})
    assert values["B2"] == pytest.approx(3.25)  # at the mean of the two judges


def test_missing_grades_are_left_out_and_said() -> None:
    table: dict[str, list[float | None]] = {**TABLE, "A": [5, None, 5, 4]}
    found = analyse(block_readings(table))
    assert found.tests[0].fit is not None
    assert found.tests[0].fit.n_panels == 11
    assert {c.check: c.level for c in found.checks}["missing"] == "warn"


def test_no_spread_gives_the_scales_resolution_and_no_p_value() -> None:
    found = analyse(block_readings({"A": [5, 5, 5], "B": [4, 4, 4], "C": [2, 2, 2]})).tests[0]
    a, b, c = found.systems
    assert a.se is None
    assert a.ci == pytest.approx((4.5, 5.5))
    assert "resolution" in found.says
    assert {(p.a, p.b): (p.p_tukey, p.told_apart) for p in found.pairs} == {
        ("A", "B"): (None, False),
        ("A", "C"): (None, True),
        ("B", "C"): (None, True),
    }
    assert (a.letters, b.letters, c.letters) == ("a", "a", "b")


def test_board_differences_alone_are_no_spread() -> None:
    """Rounding leaves residuals of about 1e-16, which must not pass for a variance."""
    found = analyse(block_readings({"A": [5, 4, 3.1], "B": [4, 3, 2.1]}), response=GRADE).tests[0]
    assert found.systems[0].se is None
    assert found.pairs[0].told_apart is False


def test_one_board_has_means_without_intervals() -> None:
    found = analyse(block_readings({"A": [5], "B": [3]}))
    assert [(s.system, s.mean, s.ci, s.letters) for s in found.tests[0].systems] == [
        ("A", 5, None, ""),
        ("B", 3, None, ""),
    ]
    assert "Add boards" in found.tests[0].says
    assert {c.check: c.level for c in found.checks}["replicates"] == "fail"


def test_unlinked_boards_have_plain_means_and_say_why() -> None:
    found = weigh_test("water", "all", None, tuple(block_values({"A": [4, 5, None], "B": [None, None, 2]})))
    assert [(s.system, s.mean) for s in found.systems] == [("A", 4.5), ("B", 2)]
    assert "never share a board" in found.says


def test_several_species_are_weighed_apart_and_together() -> None:
    rng = np.random.default_rng(3)
    readings = [
        reading
        for species in ("beech", "larch")
        for reading in block_readings(
            {
                s: [float(np.clip(v, 1, 5)) for v in row]
                for s, row in random_table(rng, n_systems=3, n_boards=4).items()
            },
            species=species,
        )
    ]
    found = analyse(readings)
    assert [test.species for test in found.tests] == ["beech", "larch", "all"]
    assert found.tests[2].fit is not None
    assert len(found.tests[2].fit.boards) == 8
    assert [test for test, _ in found.interaction] == ["water"]


def test_looks() -> None:
    both = block_readings(TABLE, look="lifted") + block_readings(TABLE, look="24 h")
    assert choose_look(both, None) == "24 h"
    assert choose_look(both, "24h") == "24 h"
    assert choose_look(block_readings(TABLE, look=None), None) is None
    assert choose_look(block_readings(TABLE, look="1 h"), None) == "1 h"
    with pytest.raises(ReadingsError, match="Looks found: lifted, 24 h"):
        choose_look(both, "7d")
    with pytest.raises(ReadingsError, match="Say which"):
        choose_look(block_readings(TABLE, look="lifted") + block_readings(TABLE, look="7d"), None)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"panel": "A2", "board": "b2", "system": "B"}, "A panel has one build-up"),
        ({"panel": "A2", "board": "b1"}, "A panel has one board"),
        ({"panel": "A2", "board": "b2"}, "already graded"),
        ({"grade": 7.0}, "grade 7 is not on the scale"),
        ({"grade": float("nan")}, "grade nan is not on the scale"),
        ({"look": None, "judge": "Imara"}, "the look is blank here"),
        ({"panel": "A2", "board": "b2", "section": "waxed"}, "Name the section in every row of a panel"),
    ],
)
def test_tables_that_contradict_themselves_are_refused(change: dict[str, object], says: str) -> None:
    readings = block_readings(TABLE)
    bad = dataclasses.replace(readings[0], row=99, **change)  # type: ignore[arg-type]
    with pytest.raises(ReadingsError, match=says) as refused:
        analyse([*readings, bad] if "grade" not in change else [bad, *readings[1:]])
    assert "line 99" in refused.value.message


def test_a_board_is_of_one_species_and_species_are_named_in_all_rows_or_none() -> None:
    beech = block_readings(TABLE, species="beech")
    with pytest.raises(ReadingsError, match="line 9: the species is blank here"):
        analyse([*beech, dataclasses.replace(beech[0], panel="new", species=None, row=9)])
    with pytest.raises(ReadingsError, match="line 9: board 'beechb1' is elm here but beech"):
        analyse([*beech, dataclasses.replace(beech[0], panel="new", species="elm", row=9)])


def test_nothing_to_analyse() -> None:
    with pytest.raises(ReadingsError, match="no readings"):
        analyse([])
    with pytest.raises(ReadingsError, match="has a grade"):
        analyse([dataclasses.replace(r, grade=None) for r in block_readings(TABLE)])


def test_a_measure_may_be_any_number() -> None:
    found = analyse(block_readings({"A": [12, 14, 11], "B": [30, 37, 33]}), response=ANY_MEASURE)
    assert found.tests[0].systems[0].mean == pytest.approx(100 / 3)
    assert "control" not in {check.check for check in found.checks}


@pytest.mark.parametrize(
    ("table", "check", "level", "says"),
    [
        (TABLE, "control", "pass", "marked in every test"),
        ({"A": [5, 4, 4], "control": [4, 5, 4]}, "control", "warn", "stood up to water"),
        ({"A": [5, 4, 4], "B": [4, 5, 4]}, "control", "warn", "no untreated control"),
        ({"A": [5, 5, 5], "control": [5, 5, 5]}, "discriminates", "warn", "Too mild"),
        ({"A": [1, 1, 1], "control": [1, 1, 1]}, "discriminates", "warn", "Too harsh"),
        (TABLE, "discriminates", "pass", "marks some"),
        ({"A": [5, 4], "control": [1, 2]}, "replicates", "warn", "only 2 panels"),
        (TABLE, "replicates", "pass", "4 panels"),
        ({"A": [5, 5, 5, 1, 5, 4], "B": [3, 3, 4, 3, 3, 3]}, "stands_alone", "warn", "A4 on water"),
        ({"A": [5, 4, 5, 4], "B": [3, 4, 4, 3], "C": [2, 2, 1, 1]}, "stands_alone", "pass", "No panel"),
    ],
)
def test_checks(table: dict[str, list[float | None]], check: str, level: str, says: str) -> None:
    found = {c.check: c for c in analyse(block_readings(table)).checks}
    assert found[check].level == level
    assert says in found[check].says


def test_sections_of_one_panel_are_no_replicates_and_no_siblings() -> None:
    """Two boards with four sections each: two panels; a topcoat that saves all of its section stands alone nowhere."""
    rows = [
        dataclasses.replace(row, section=section, grade=5.0 if section == "topcoat" else row.grade)
        for row in block_readings({"A": [1, 2], "B": [2, 1]})
        for section in ("none", "wax", "oil", "topcoat")
    ]
    found = {check.check: check for check in analyse(rows).checks}
    assert (found["replicates"].level, "only 2 panels" in found["replicates"].says) == ("warn", True)
    assert found["stands_alone"].level == "pass"


def test_the_blind_check_names_who_keeps_the_key() -> None:
    assert check_blind([]).level == "pass"
    assert "Nell" in check_blind(["Nell"]).says
    told = "Nell told the judges on 2027-03-09: the season is over."
    late = check_blind([], unblinded=told, n_seen_after=3)
    assert (late.level, "3 readings were made after that" in late.says, told in late.says) == (
        "warn",
        True,
        True,
    )
    assert check_blind([], unblinded=told).level == "pass"
    both = check_blind(["Nell"], seed_is_known=True).says
    assert ("keeps the key" in both, "seed given by hand" in both) == (True, True)


def test_headline_leaves_the_control_out_and_groups_what_is_alike() -> None:
    rng = np.random.default_rng(0)
    near: dict[str, list[float | None]] = {
        name: [4 + d + rng.normal(0, 0.2) for d in (0, 0.1, 0.2, 0)] for name in ("A", "B")
    }
    table: dict[str, list[float | None]] = {**near, "C": [2.0, 2.3, 2.1, 2.2], "control": [1.2, 1, 1.3, 1.1]}
    found = analyse(block_readings(table))
    headline = say_headline(found.tests, found.checks, control="control", test_names={"water": "Water 6 h"})
    assert headline.told_apart == "2 of 3 pairs in at least one test; most by water 6 h (2 pairs)."
    assert headline.alike == "A and B, within 1 grade, in this test."
    assert headline.open == "Nothing: every pair is told apart or alike."
    assert headline.trust == "7 of 7 checks hold."
    one = analyse(block_readings({"A": [5], "B": [3]}))
    assert "too little" in say_headline(one.tests, one.checks, control=None, test_names={}).told_apart


def test_sections_that_are_weighed_one_by_one_are_told_by_their_names_and_each_once() -> None:
    # No panel has both sections, so that nothing holds one against the other.
    waxed = {"A": [5, 5, 4, 5, 5], "B": [2, 1, 2, 2, 1]}
    bare = {"A": [4, 3, 4, 4, 3], "B": [4, 4, 3, 4, 4]}
    readings = [
        dataclasses.replace(
            reading, section=section, board=f"{section} {reading.board}", panel=f"{section} {reading.panel}"
        )
        for section, table in (("waxed", waxed), ("bare", bare))
        for reading in block_readings(table, test="wine")
    ]
    analysis = analyse(readings)
    assert [(test.test, test.section) for test in analysis.tests] == [("wine", "bare"), ("wine", "waxed")]
    assert all("section" in test.says for test in analysis.tests)
    found = say_headline(analysis.tests, (), control=None, test_names={"wine": "Wine 1 h"})
    assert (
        found.told_apart
        == "1 of 1 pair in at least one test, allowing for 2 tests at once; most by wine 1 h, waxed (1 pair)."
    )


@pytest.mark.parametrize("grade", [1, 2.5, 5])
def test_grades_on_the_scale(grade: float) -> None:
    assert GRADE.check(grade) == grade


@pytest.mark.parametrize("grade", [0.99, 5.01, -1, float("inf")])
def test_grades_off_the_scale(grade: float) -> None:
    with pytest.raises(NubletError, match="not on the scale"):
        GRADE.check(grade)


def test_a_reading_says_where_it_is() -> None:
    reading = Reading(test="wine", system="A", board="b", panel="K7", grade=3)
    assert reading.where == "panel K7, wine"
    assert dataclasses.replace(reading, row=3).where == "line 3"
