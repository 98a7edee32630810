"""The demo: what it shows, loaded once by its command, whatever the day."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

import pytest
from rest_framework.test import APIClient

from nublet.web.bench import clock
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.cups import shop_for_trial
from nublet.web.bench.log import view_log
from nublet.web.bench.models import PlanState
from nublet.web.build_ups.selectors import view_build_ups
from nublet.web.demo.bench_days import DEMO_HANDS, load_bench_days
from nublet.web.demo.exposing import load_trays
from nublet.web.demo.loading import DEMO_SEED, DEMO_SHOP
from nublet.web.demo.shelf import fill_demo_shelf
from nublet.web.people.actions import open_shop
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading
from nublet.web.shelf.models import ShelfProduct
from nublet.web.stages.selectors import summarise_trials
from nublet.web.trials.models import Trial
from tests.sizes import FULL
from tests.web.conftest import PASSWORD
from tests.web.test_races_and_commands import say

# Nobody works on the last two; what is before and after a Friday differs most.
WEEKDAYS = range(7) if FULL else (4,)
# Before the first hour of a working day, when windows close that nobody was there for, and within it.
MOMENTS = (
    [datetime(2026, 11, 30, hour, minute, 20, tzinfo=UTC) for hour in range(24) for minute in (6, 36)]
    if FULL
    else [datetime(2026, 11, 30, 7, 36, 20, tzinfo=UTC)]
)


@pytest.mark.parametrize("weekday", WEEKDAYS)
def test_the_demo_has_a_day_at_the_bench_whatever_the_day(
    db: None, monkeypatch: pytest.MonkeyPatch, weekday: int
) -> None:
    """From Monday the 23rd on, at noon; the moment is passed in, the clock stands with it."""
    now = datetime(2026, 11, 23 + weekday, 12, 17, tzinfo=UTC)
    monkeypatch.setattr(clock, "now", lambda: now)
    owner = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    # What of the demo knows of days; the whole of it is loaded once, below.
    boards = load_bench_days(owner, [owner], fill_demo_shelf(owner), seed=DEMO_SEED + 2, now=now)
    missed = boards.deviations.filter(kind="window_missed").values_list("says", flat=True)
    assert len(missed) == 2
    assert all("coat 1: wiped off" in says and "too late" in says for says in missed)
    drowned = [p for coat in view_log(boards).applied for p in coat.panels if p.stands_out]
    assert [round(p.g_per_m2) > 50 for p in drowned] == [True], drowned


@pytest.mark.parametrize("now", MOMENTS, ids=str)
def test_what_lies_on_the_trays_is_planned_on_whatever_the_hour(
    db: None, monkeypatch: pytest.MonkeyPatch, now: datetime
) -> None:
    monkeypatch.setattr(clock, "now", lambda: now)
    owner = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    products = fill_demo_shelf(owner)
    set_bench(owner, {"hands": list(DEMO_HANDS)})
    trays = load_trays(owner, [owner], products, seed=DEMO_SEED + 6, now=now)
    plan = trays.plans.latest("pk")
    assert plan.state == PlanState.DONE
    assert plan.operations.filter(kind="look").exists()


def test_the_demo_is_what_it_says_and_is_loaded_once(
    db: None, client_of: Callable[[Person | None], APIClient], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(clock, "now", lambda: datetime(2026, 11, 25, 12, 17, tzinfo=UTC))
    assert say("load_demo", "--migrate") == "demo loaded"
    assert say("load_demo") == "demo already there"
    nell = Person.objects.get(username="nell")
    assert nell.shop.name == DEMO_SHOP
    shown = {item["name"]: item for item in client_of(nell).get("/api/trials").json()}
    saloon, counter = shown["Saloon tables"], shown["Buffet counter"]
    for item in (saloon, counter):
        assert item["is_simulated"]
        whole = client_of(nell).get(f"/api/trials/{item['id']}").json()
        assert (whole["n_build_ups"], whole["n_panels"] + whole["n_deviations"]) == (6, 56)
        assert len(whole["trial"]["judges"]) == 3
    # Six tests, coffee as a ladder of three steps among them, spirits as one of two; on two sections.
    assert saloon["n_graded"] == saloon["n_expected"] == 56 * 2 * 9 * 2 * 3
    sections = {
        name: {
            row["system"]: row["mean"]
            for test in found["tests"]
            if test["test"] == "coffee-1h"
            for row in test["systems"]
        }
        for name in ("nothing on top", "hard topcoat")
        for found in [client_of(nell).get(f"/api/trials/{saloon['id']}/evidence?section={name}").json()]
    }
    # Nothing holds on the oil that never sets, so that it is not compared there.
    assert set(sections["nothing on top"]) - set(sections["hard topcoat"]) == {"Pikelaw Board Oil"}
    assert sections["hard topcoat"]["Marrowby Tung"] > sections["nothing on top"]["Marrowby Tung"]
    # A judge who practised and lets it be known; photographs of one board at both looks, nobody else's while the trial runs.
    told = client_of(nell).get(f"/api/trials/{saloon['id']}/evidence").json()["practice"]
    assert [(each["judge"], each["n_marks"]) for each in told] == [("Imara Stolt", 60)]
    photographs = client_of(nell).get(f"/api/judging/{saloon['id']}/photographs").json()
    assert len({each["look"] for each in photographs}) == 2
    assert len(photographs) == 2 * len({(each["panel"], each["place"]) for each in photographs}) >= 12
    panelling = client_of(nell).get(f"/api/trials/{shown['Carriage panelling']['id']}/evidence").json()
    assert len(panelling["species_choices"]) == 7
    crossed = client_of(nell).get(f"/api/trials/{shown['Halt benches']['id']}/evidence").json()
    assert [each["factor"] for each in crossed["factors"]] == ["Preparation", "Finish"]
    swatches, benches = shown["Colour swatches"], shown["Halt benches"]
    assert swatches["n_graded"] == swatches["n_expected"]
    # A year and two years outdoors are still to come.
    assert 0.3 < benches["n_graded"] / benches["n_expected"] < 1
    days = client_of(nell).get(f"/api/trials/{benches['id']}/days").json()
    assert {each["what"] for each in days["far"]} == {"Out, south, 12 months", "Out, south, 24 months"}
    assert not any(each["is_planned"] for each in days["far"])
    assert 0.5 < counter["n_graded"] / counter["n_expected"] < 1
    first = [float(g or 0) for g in Reading.objects.order_by("pk").values_list("value", flat=True)[:200]]
    assert len(set(first)) == 5
    ranking = client_of(nell).get(f"/api/trials/{saloon['id']}/ranking?use=dining-table").json()
    assert ranking["systems"][-1]["p_best"] < 0.01 < ranking["systems"][0]["p_best"]
    assert ShelfProduct.objects.count() == 8
    states = {summary.trial.name: summary.stages for summary in summarise_trials(nell)}
    assert {name: stages["read"] for name, stages in states.items()} == {
        "Saloon tables": "done",
        "Buffet counter": "under_way",
        "Luggage racks": "empty",
        "Galley boards": "empty",
        "Colour swatches": "done",
        "Halt benches": "under_way",
        "Carriage panelling": "done",
        "Refreshment trays": "under_way",
    }
    assert states["Galley boards"]["coat_and_cure"] == "under_way"
    racks = Trial.objects.get(name="Luggage racks")
    blocked = [row for row in view_build_ups(racks).rows if row.assessment and row.assessment.is_blocked]
    assert [row.row.name for row in blocked] == ["Satin over wax"]
    assert blocked[0].recipe is not None
    assert blocked[0].recipe.experiment_reason
    # Every cost is known, and everything can be bought.
    assert all(need.purchase is not None for need in shop_for_trial(racks).products)
    assert states["Luggage racks"]["build_ups"] == "done"
