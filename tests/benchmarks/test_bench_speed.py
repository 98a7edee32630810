"""The bench days of a large trial, as ratios to those of a small one, on a real MariaDB.

Large: 11 build-ups and the control on 9 boards; small: 2 and the control on 3. The report's medians are what
docs/bench-days.md quotes; nothing is asserted of a time.
"""

from __future__ import annotations

from typing import Any
from uuid import uuid4

import pytest
from rest_framework.test import APIClient

from nublet.web.bench import clock
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.bench.models import PlannedOperation
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.build_ups.actions import add_build_up
from nublet.web.demo.width import write_down
from nublet.web.designs.actions import draw_design, start
from nublet.web.people.actions import open_shop
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial

FAMILIES = ("pure-drying-oil", "oil-varnish-blend", "waterborne-clear", "hardwax-1k", "shellac-dewaxed")
SIZES = {"small": (2, ["beech"], 3), "large": (11, ["beech", "larch", "elm"], 3)}
WEEK = ["mon", "tue", "wed", "thu", "fri"]


def planned(size: str) -> tuple[Trial, APIClient]:
    n_build_ups, woods, n_boards = SIZES[size]
    owner = open_shop(shop_name=size, username=size, display_name=size, password="long-enough-1")
    trial = create_trial(owner, name=size, species=woods, boards_per_species=n_boards)
    for number in range(n_build_ups):
        family = FAMILIES[number % len(FAMILIES)]
        add_build_up(owner, trial.pk, name=f"System {number}", family=family, coats=3)
    draw_design(owner, trial.pk, seed=1)
    hours = {"days": WEEK, "from": "09:00", "to": "17:30"}
    set_bench(owner, {"hands": [{"name": "Nell", "hours": [hours]}]})
    start(owner, trial.pk)
    make(ask_for_plan(owner, trial.pk, weighs=True), limit_s=0.1)
    client = APIClient()
    client.force_login(owner)
    return trial, client


@pytest.mark.django_db
@pytest.mark.parametrize("size", list(SIZES))
@pytest.mark.benchmark(group="bench days: the day's page")
def test_a_day(benchmark: Any, size: str) -> None:
    trial, client = planned(size)
    found = benchmark(lambda: client.get(f"/api/trials/{trial.pk}/days").json())
    assert found["operations"]
    assert sum(day["n_operations"] for day in found["days"]) == PlannedOperation.objects.count()


@pytest.mark.django_db
@pytest.mark.parametrize("size", list(SIZES))
@pytest.mark.benchmark(group="bench days: what is due")
def test_due(benchmark: Any, size: str) -> None:
    _, client = planned(size)
    found = benchmark(lambda: client.get("/api/due").json())
    assert found["now"]


@pytest.mark.django_db
@pytest.mark.parametrize("size", list(SIZES))
@pytest.mark.benchmark(group="bench days: an entry, kept and judged")
def test_an_entry(benchmark: Any, size: str) -> None:
    trial, client = planned(size)
    work = PlannedOperation.objects.filter(kind="coat").order_by("start_at")[0]

    def press() -> list[dict[str, Any]]:
        entry = {
            "client_id": str(uuid4()),
            "entry": "done",
            "kind": "coat",
            "item": work.item,
            "panels": [panel[0] for panel in work.panels],
            "at": clock.now().isoformat(),
        }
        stands: list[dict[str, Any]] = client.post(
            f"/api/trials/{trial.pk}/days/entries", entry, format="json"
        ).json()
        return stands

    assert len(benchmark(press)) == len(work.panels)


def exposed(size: str) -> tuple[Trial, APIClient]:
    """All of its work but the looks written down as planned, up to now; the owner judges."""
    trial, client = planned(size)
    plan = standing_plan(Trial.objects.get(pk=trial.pk))
    assert plan is not None
    begins = clock.now() - (plan.operations.order_by("-end_at")[0].end_at - plan.start_at)
    later = begins - plan.start_at
    rows = plan.operations.exclude(kind="look").order_by("start_at", "pk")
    write_down(plan.asked_by, trial, [(row, row.start_at + later, row.end_at + later) for row in rows])
    return trial, client


@pytest.mark.django_db
@pytest.mark.parametrize("size", list(SIZES))
@pytest.mark.benchmark(group="bench days: what there is to read")
def test_what_there_is_to_read(benchmark: Any, size: str) -> None:
    _, client = exposed(size)
    found = benchmark(lambda: client.get("/api/judging").json())
    assert sum(task["n_panels_left"] for task in found)


@pytest.mark.django_db
@pytest.mark.parametrize("size", list(SIZES))
@pytest.mark.benchmark(group="bench days: a grade, held to its lift")
def test_a_grade(benchmark: Any, size: str) -> None:
    trial, client = exposed(size)
    panel = client.get(f"/api/judging/{trial.pk}/looks/24h").json()["panels"][0]

    def grade() -> float:
        entry = {
            "client_id": str(uuid4()),
            "panel": panel["code"],
            "exposure": panel["spots"][0]["exposure"],
            "look": "24h",
            "kind": "grade",
            "value": 4,
        }
        answer = client.post(f"/api/judging/{trial.pk}/entries", entry, format="json").json()
        return float(answer["value"])

    assert benchmark(grade) == 4


@pytest.mark.django_db
@pytest.mark.parametrize("size", list(SIZES))
@pytest.mark.benchmark(group="bench days: the expose page")
def test_the_expose_page(benchmark: Any, size: str) -> None:
    trial, client = exposed(size)
    found = benchmark(lambda: client.get(f"/api/trials/{trial.pk}/expose").json())
    assert len(found["meetings"]) == 6 * trial.boards.count()
