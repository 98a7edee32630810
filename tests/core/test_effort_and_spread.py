"""What a design costs in hours, and the spread that plans rest on."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nublet.core.design.effort import MINUTES_PER_GRADE, MINUTES_PER_PANEL, MINUTES_PER_SPOT, estimate_effort
from nublet.core.design.power import pool_spread
from nublet.core.evidence.analysis import analyse
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.rows import PieceRow
from nublet.core.evidence.spread import Strata, strata_of
from nublet.core.materials.hands_on import hands_on_minutes
from nublet.core.materials.mixes import Work
from nublet.core.materials.recipes import simple_recipe
from nublet.core.protocols.responses import GRADE
from nublet.core.protocols.shipped import PROTOCOLS
from tests.core.builders import block_readings

TABLE = {"A": [5, 4, 5, 4], "B": [3, 3, 4, 3], "control": [1, 1, 2, 1]}


def test_effort_adds_up_by_panels_spots_grades_and_coats() -> None:
    work = Work(n_panels=6, face_m2=0.06)
    recipes = [simple_recipe("pure-drying-oil", 4), simple_recipe("waterborne-clear", 3)]
    effort = estimate_effort(
        [(recipe, ()) for recipe in recipes], work, n_panels=18, n_spots=108, n_grades_a_spot=6
    )
    assert effort.prepare_h == pytest.approx(18 * MINUTES_PER_PANEL / 60)
    assert effort.expose_h == pytest.approx(108 * MINUTES_PER_SPOT / 60)
    assert effort.read_h == pytest.approx(108 * 6 * MINUTES_PER_GRADE / 60)
    both = sum(hands_on_minutes(recipe, work.area_m2(recipe), 6) for recipe in recipes)
    assert effort.coat_h == pytest.approx(both / 60)
    assert effort.total_h == pytest.approx(effort.prepare_h + effort.coat_h + effort.expose_h + effort.read_h)


def strata(readings: list[Reading]) -> Strata:
    rows = [
        PieceRow(
            piece=r.panel, system=r.system, board=r.board, species=r.species, test=r.test, look=r.look or "", response="grade",
            value=r.grade, judge=r.judge or "",
        )
        for r in readings
    ]  # fmt: skip
    return strata_of(rows, PROTOCOLS["table-full"], GRADE)


def test_the_strata_are_those_of_the_evidence_page() -> None:
    readings = [
        reading
        for species in ("beech", "larch")
        for test in ("water", "wine")
        for reading in block_readings(TABLE, test=test, species=species, judges=("Nell", "Imara"))
    ]
    panels = strata(readings).panels
    fits = [test.fit for test in analyse(readings).tests if test.species != "all"]
    assert [ms for ms, _ in panels] == pytest.approx([fit.residual_ms or 0.0 for fit in fits if fit])
    assert [df for _, df in panels] == [6, 6, 6, 6]
    assert pool_spread(panels, n_trials=1).residual_df == 24


def test_what_says_nothing_of_the_spread_is_left_out() -> None:
    alone = block_readings({"A": [5], "B": [3]})
    assert strata(alone) == Strata()
    apart = block_readings({"A": [5, 4, None, None], "B": [None, None, 3, 2]})
    assert strata(apart) == Strata()
    early = [replace(reading, look="lifted") for reading in block_readings(TABLE, test="wine")]
    both = strata([*block_readings(TABLE, test="wine"), *early])
    assert both == strata(block_readings(TABLE, test="wine"))
