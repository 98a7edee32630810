"""The demo's trial on the bench now: *Refreshment trays*, coated weeks ago, meeting its first tests within the last hour."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta

import numpy as np

from nublet.core.protocols.responses import GRADE
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.core.protocols.tests import Protocol
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.making import make
from nublet.web.bench.models import PlannedOperation
from nublet.web.bench.pour_actions import make_pour
from nublet.web.build_ups.actions import add_build_up
from nublet.web.demo.width import compose, write_down
from nublet.web.designs.actions import draw_design, start
from nublet.web.people.models import Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.readings.selectors import open_sitting
from nublet.web.readings.tasks import list_judging
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial

_CANDIDATES = ("Ousel Dewaxed Shellac", "Skarn Waterborne Satin", "Cobble Lane Wiping Varnish")
_MEETS = ("coffee-10min", "red-wine-1h", "wet-glass-1h", "hot-mug", "bead", "scratch")
_COATED = timedelta(days=60)
# The first panel met its first test so long ago.
_SINCE = timedelta(minutes=36)
_SEARCH_S = 0.6
_EXPOSING = ("lay", "lift", "act")


def load_trays(
    owner: Person, judges: Sequence[Person], products: Mapping[str, int], *, seed: int, now: datetime
) -> Trial:
    """Coated and cured, planned, and exposed until ``now``: some of it lies, some was lifted, a little was graded."""
    trial = create_trial(
        owner,
        is_simulated=True,
        name="Refreshment trays",
        question="The trays carry cups that drip and plates that scrape. Which clear finish still looks clean in September?",
        uses=["bar-counter"],
        species=["elm"],
        boards_per_species=2,
        panel_length_mm=480,
        judges=[judge.pk for judge in judges],
    )
    for name in _CANDIDATES:
        add_build_up(owner, trial.pk, product=products[name])
    basics = PROTOCOLS["table-basics"]
    compose(
        owner,
        trial,
        Protocol(
            id=basics.id,
            version=basics.version,
            name=basics.name,
            says=basics.says,
            looks=basics.looks,
            tests=tuple(TESTS[name] for name in _MEETS),
        ),
    )
    draw_design(owner, trial.pk, seed=seed)
    trial = start(owner, trial.pk)
    plan = make(ask_for_plan(owner, trial.pk, start_at=now - _COATED), limit_s=_SEARCH_S)
    operations = list(plan.operations.order_by("start_at", "pk"))
    coats = [
        (each, each.start_at, each.end_at) for each in operations if each.kind not in (*_EXPOSING, "look")
    ]
    write_down(owner, trial, coats)
    _expose(owner, trial, [each for each in operations if each.kind in _EXPOSING], now)
    # What is left is planned from now on; what lies is lifted in its window.
    make(ask_for_plan(owner, trial.pk, again=True), limit_s=_SEARCH_S)
    _grade_some(judges[-1], trial, np.random.default_rng(seed))
    return trial


def _expose(owner: Person, trial: Trial, operations: Sequence[PlannedOperation], now: datetime) -> None:
    """Log the acts that were done by now, as if the first had been begun less than an hour ago."""
    first = operations[0].start_at
    shift = now - _SINCE - first
    done = [
        (each, each.start_at + shift, each.end_at + shift)
        for each in operations
        if each.end_at + shift <= now
    ]
    for item in dict.fromkeys(each.item for each, _, _ in done if each.kind == "lay"):
        begun = min(at for each, at, _ in done if each.item == item)
        make_pour(owner, trial.pk, item=item, batch="the day's pot", at=begun - timedelta(minutes=6))
    write_down(owner, trial, done)


def _grade_some(judge: Person, trial: Trial, rng: np.random.Generator) -> None:
    """The first panel that is due, by the last of the judges."""
    task = next(
        (
            task
            for task in list_judging(judge)
            if task.trial_id == trial.pk and task.by == "judges" and task.next_panel
        ),
        None,
    )
    if task is None:
        return
    sitting = open_sitting(judge, trial.pk, task.look.id)
    tests = {each.test.id: each for each in sitting.exposures}
    for spot in sitting.panels[0].spots:
        for prompt in tests[spot.exposure].prompts:
            if prompt.response == GRADE.id:
                enter_reading(
                    judge,
                    trial.pk,
                    BenchEntry(
                        client_id=uuid.uuid4(),
                        panel=sitting.panels[0].code,
                        exposure=spot.exposure,
                        place=spot.place,
                        look=task.look.id,
                        response=prompt.response,
                        view=prompt.view,
                        kind="grade",
                        value=float(rng.integers(3, 6)),
                    ),
                )
