"""A product over finished trials, by its difference from a benchmark; and the spread of each response to plan with."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from rest_framework.test import APIClient

from nublet.core.design.power import Comparison, Spread, smallest_difference
from nublet.core.evidence.spread import strata_of
from nublet.core.protocols.responses import GRADE
from nublet.web.build_ups.actions import add_build_up, set_benchmark
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialSpot
from nublet.web.evidence.rows import rows_of
from nublet.web.evidence.selectors import weigh_evidence
from nublet.web.outlook.spreads import Spreads, reaches
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading
from nublet.web.shelf.actions import add_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.trials.actions import create_trial
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

Client = Callable[[Person | None], APIClient]
At = Callable[..., Any]


def finished(
    owner: Person, judge: Person, called: str, products: dict[str, int], seed: int, sections: list[str]
) -> Trial:
    """Two products on three boards, graded through at both looks; the oil about one grade under the varnish."""
    trial = create_trial(
        owner, name=called, uses=["dining-table"], species=["beech"], boards_per_species=3, times_on_paper=True,
        blind_repeats=False, judges=[judge.pk], sections=sections, panel_length_mm=600, panel_width_mm=200,
    )  # fmt: skip
    # A benchmark comes along by itself.
    there = set(trial.build_ups.values_list("name", flat=True))
    for name, product in products.items():
        if name not in there:
            add_build_up(owner, trial.pk, product=product)
    varnish = trial.build_ups.get(name="Skarn Waterborne Satin")
    set_benchmark(owner, trial.pk, varnish.pk, is_benchmark=True)
    draw_design(owner, trial.pk, seed=seed)
    trial = start(owner, trial.pk)
    rng = np.random.default_rng(seed)
    means = {"Bare control": 1.4, "Marrowby Tung": 3.0, "Skarn Waterborne Satin": 4.0}
    rows = [
        Reading(
            spot=spot, judge=judge, look=look.id, response="grade", view="",
            value=float(np.clip(np.rint(means[spot.panel.build_up.name] + rng.normal(0, 0.6)), 1, 5)),
        )
        for spot in TrialSpot.objects.filter(panel__trial=trial).select_related("panel__build_up")
        for look in protocol_of(trial).looks
    ]  # fmt: skip
    Reading.objects.bulk_create(rows)
    return trial


@pytest.fixture
def products(owner: Person) -> dict[str, int]:
    made = {
        "Marrowby Tung": {"family": "pure-drying-oil"},
        "Skarn Waterborne Satin": {"family": "waterborne-clear"},
    }
    return {name: add_item(owner, PRODUCTS, {"name": name, **fields}).pk for name, fields in made.items()}


def test_differences_from_a_shared_benchmark_are_pooled_and_raw_means_are_not(
    at: At, owner: Person, judge: Person, products: dict[str, int]
) -> None:
    tung = products["Marrowby Tung"]
    assert at("get", f"shelf/products/{tung}/history") == {
        "n_trials": 0, "n_compared": 0, "is_simulated": True, "tests": [],
    }  # fmt: skip
    first = finished(owner, judge, "Saloon tables", products, 1, [])
    one = at("get", f"shelf/products/{tung}/history")
    assert (one["n_trials"], one["n_compared"]) == (1, 1)
    weighed = {test.test: test for test in weigh_evidence(first).tests}
    for row in one["tests"]:
        pair = next(
            each
            for each in weighed[row["test"]].pairs
            if {each.a, each.b} == {"Marrowby Tung", "Skarn Waterborne Satin"}
        )
        sign = 1 if pair.a == "Marrowby Tung" else -1
        assert row["pooled"]["mean"] == pytest.approx(sign * (pair.difference or 0))
        assert row["pooled"]["se"] == pytest.approx(pair.se)
        assert row["benchmark"] == "Skarn Waterborne Satin"
        assert "One trial alone" in row["pooled"]["says"]
    finished(owner, judge, "Buffet counter", products, 2, [])
    both = at("get", f"shelf/products/{tung}/history")
    assert both["n_trials"] == 2
    # In a test of which the panels of one trial show no spread the other trial stands alone.
    n_pooled = [len(row["pooled"]["trials"]) for row in both["tests"]]
    assert n_pooled.count(2) >= len(n_pooled) - 2
    assert all(row["pooled"]["low"] < row["pooled"]["mean"] < row["pooled"]["high"] for row in both["tests"])
    assert np.mean([row["pooled"]["mean"] for row in both["tests"]]) == pytest.approx(-1, abs=0.4)
    # Against itself there is nothing to tell.
    assert at("get", f"shelf/products/{products['Skarn Waterborne Satin']}/history")["tests"] == []


def test_history_is_kept_until_anything_of_a_trial_changes(
    at: At,
    owner: Person,
    judge: Person,
    products: dict[str, int],
    django_assert_max_num_queries: Callable[..., Any],
) -> None:
    page = f"shelf/products/{products['Marrowby Tung']}/history"
    trial = finished(owner, judge, "Saloon tables", products, 1, [])
    finished(owner, judge, "Buffet counter", products, 2, [])
    first = at("get", page)
    # Who asks, the product, and two: not eight a trial.
    with django_assert_max_num_queries(8):
        assert at("get", page) == first
    panel = trial.panels.filter(build_up__name="Marrowby Tung").order_by("pk")[0]
    test = first["tests"][0]["test"]
    at(
        "post",
        f"trials/{trial.pk}/days/spots",
        {"what": "leave_out", "panel": panel.code, "exposure": test, "reason": "A knot."},
    )
    later = at("get", page)
    differ = [one["test"] for one, other in zip(first["tests"], later["tests"], strict=True) if one != other]
    assert differ == [test]


def test_the_planner_asks_for_boards_by_what_is_worth_knowing(at: At, draft: Trial) -> None:
    address = f"trials/{draft.pk}/outlook"
    one = at("post", address, {})["outlook"]
    half = at("post", address, {"worth_knowing": {"grade": 0.5}})["outlook"]
    assert half["n_boards_worth_knowing"] > one["n_boards_worth_knowing"]
    assert any("To tell 0.5 grades apart" in says for says in half["says"])


def test_nobody_sees_what_another_shops_trials_showed(
    client_of: Client, stranger: Person, judge: Person, products: dict[str, int]
) -> None:
    page = f"/api/shelf/products/{products['Marrowby Tung']}/history"
    assert client_of(stranger).get(page).status_code == 404
    assert client_of(judge).get(page).status_code == 403


def test_sections_are_planned_with_the_spread_that_finished_trials_show_within_panels(
    at: At, owner: Person, judge: Person, products: dict[str, int]
) -> None:
    plan = create_trial(
        owner, name="Next", species=["beech"], boards_per_species=3, judges=[judge.pk], sections=["waxed", "bare"],
        panel_length_mm=600, panel_width_mm=200,
    )  # fmt: skip
    for product in products.values():
        add_build_up(owner, plan.pk, product=product)
    usual = at("post", f"trials/{plan.pk}/outlook", {})["outlook"]["sections"]
    assert (usual["is_usual"], usual["sd"]) == (True, pytest.approx(0.7 * 0.6, abs=0.15))
    trial = finished(owner, judge, "Saloon tables", products, 3, ["waxed", "bare"])
    own = at("post", f"trials/{plan.pk}/outlook", {})["outlook"]["sections"]
    strata = strata_of([row for row in rows_of(trial) if row.response == "grade"], protocol_of(trial), GRADE)
    df = sum(df for _, df in strata.sections)
    sd = (sum(ms * df for ms, df in strata.sections) / df) ** 0.5
    assert (own["is_usual"], own["sd"]) == (False, pytest.approx(sd))
    assert own["over_all"] < own["within_build_up"]


def test_what_else_is_read_is_planned_by_its_own_spread(owner: Person) -> None:
    plan = create_trial(
        owner, name="Swatches", species=["beech"], protocol="colour-swatches", worth_knowing={"gloss-60": 5}
    )
    blocks = Comparison(n_build_ups=4, n_boards=3, block_size=4)
    own = {
        "gloss-60": Spread(sd=4.0, source="own_trials", n_trials=2),
        "uptake": Spread(sd=0.2, source="own_trials", n_trials=1),
    }
    (gloss,) = reaches(plan, [blocks], Spreads(panels=Spread(), sections=None, by_response=own))
    assert (gloss.response, gloss.n_trials, gloss.worth, gloss.is_ratio) == ("gloss-60", 2, 5, False)
    assert gloss.told_apart == pytest.approx(smallest_difference(blocks, 4.0))
    assert gloss.n_boards is not None
    reached = [
        smallest_difference(Comparison(n_build_ups=4, n_boards=n, block_size=4), 4.0) or np.inf
        for n in (gloss.n_boards - 1, gloss.n_boards)
    ]
    assert reached[0] > 5 >= reached[1]
    # Nobody said what is worth knowing of it: then no number of boards is asked for.
    plan.worth_knowing = {}
    assert (
        reaches(plan, [blocks], Spreads(panels=Spread(), sections=None, by_response=own))[0].n_boards is None
    )
