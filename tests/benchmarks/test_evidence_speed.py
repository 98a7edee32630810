"""The evidence page of a season, from the database and from the store: ./nublet test -- tests/benchmarks --benchmark-enable."""

from __future__ import annotations

from datetime import UTC, datetime
from itertools import product
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from rest_framework.test import APIClient

from nublet.core.protocols.prompts import prompts_at
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.tests import Protocol
from nublet.web.build_ups.actions import add_build_up
from nublet.web.demo.width import compose
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialSpot
from nublet.web.evidence.models import KeptResult
from nublet.web.people.actions import add_person, open_shop
from nublet.web.readings.models import Reading, ReadingEntry
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial

PASSWORD = "a-long-enough-one"
MEETS = (
    "water-spot-1h", "water-spot-6h", "black-tea-1h", "black-tea-10min", "coffee-2h", "coffee-10min", "coffee-1h", "wet-glass-1h",
    "coffee-2min", "black-tea-2min",
)  # fmt: skip
SIZES = [pytest.param(2, 3, id="small"), pytest.param(11, 6, id="large")]


def season(n_build_ups: int, n_boards: int) -> tuple[APIClient, Trial]:
    """Build-ups and bare wood on boards, ten tests, three judges, two looks, two views, all of it graded."""
    owner = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    judges = [
        add_person(owner, username=f"judge{n}", display_name=f"Judge {n}", role="judge", password=PASSWORD)
        for n in range(3)
    ]
    trial = create_trial(
        owner, name="A season", uses=["dining-table"], species=["beech"], boards_per_species=n_boards, panel_length_mm=600,
        panel_width_mm=250, times_on_paper=True, blind_repeats=False, judges=[judge.pk for judge in judges],
    )  # fmt: skip
    for n in range(n_build_ups):
        add_build_up(owner, trial.pk, name=f"Oil in {n + 1} coats", family="pure-drying-oil", coats=n + 1)
    basics = PROTOCOLS["table-basics"]
    tests = tuple(TESTS[name] for name in MEETS)
    compose(
        owner,
        trial,
        Protocol(
            id=basics.id,
            version=basics.version,
            name=basics.name,
            says=basics.says,
            looks=basics.looks,
            tests=tests,
        ),
    )
    draw_design(owner, trial.pk, seed=3)
    trial = start(owner, trial.pk)
    by_id = {test.id: test for test in tests}
    rng = np.random.default_rng(2)
    spots = list(TrialSpot.objects.filter(panel__trial=trial).select_related("panel__build_up"))
    at = datetime(2027, 3, 1, 9, tzinfo=UTC)
    rows = Reading.objects.bulk_create(
        [
            Reading(
                spot=spot, judge=judge, look=look.id, response=prompt.response, view=prompt.view, seen_at=at, changed_at=at,
                value=float(np.clip(np.rint(2 + 0.2 * (spot.panel.build_up_id % 12) + rng.normal(0, 0.6)), 1, 5)),
            )
            for spot, judge, look in product(spots, judges, basics.looks)
            for prompt in prompts_at(by_id[spot.exposure], look, "judges")
        ]
    )  # fmt: skip
    ReadingEntry.objects.bulk_create(
        [
            ReadingEntry(reading=row, kind="grade", value=row.value, client_id=uuid4(), seen_at=at)
            for row in Reading.objects.filter(pk__in=[row.pk for row in rows]) if row.value is not None
        ]
    )  # fmt: skip
    client = APIClient()
    client.force_login(owner)
    return client, trial


@pytest.mark.benchmark(group="the evidence page of a season")
@pytest.mark.parametrize(("n_build_ups", "n_boards"), SIZES)
def test_the_page_from_the_database(db: None, benchmark: Any, n_build_ups: int, n_boards: int) -> None:
    client, trial = season(n_build_ups, n_boards)
    page = f"/api/trials/{trial.pk}/evidence"

    def cold() -> Any:
        KeptResult.objects.all().delete()
        return client.get(page)

    answer = benchmark.pedantic(cold, rounds=5, warmup_rounds=1)
    assert answer.status_code == 200
    # Three judges, at the look that counts from two views.
    assert answer.json()["n_readings"] == (n_build_ups + 1) * n_boards * len(MEETS) * 3 * 2


@pytest.mark.benchmark(group="the evidence page of a season")
@pytest.mark.parametrize(("n_build_ups", "n_boards"), SIZES)
def test_the_page_from_the_store(db: None, benchmark: Any, n_build_ups: int, n_boards: int) -> None:
    client, trial = season(n_build_ups, n_boards)
    page = f"/api/trials/{trial.pk}/evidence"
    first = client.get(page)
    answer = benchmark.pedantic(lambda: client.get(page), rounds=9, warmup_rounds=1)
    assert answer.content == first.content
