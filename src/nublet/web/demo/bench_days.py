"""The demo's bench days: the trial *Galley boards*, planned from two working days before, and logged until now.

What the log holds is simulated: hands a little behind the plan, one pass wiped late, one panel drowned in oil.
"""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from datetime import datetime, time, timedelta

import numpy as np

from nublet.instruments.lines import KINDS
from nublet.web.bench.actions import BenchEntry, enter_work
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.cups import cups_ahead, kitchen_of
from nublet.web.bench.making import make
from nublet.web.bench.mix_actions import empty_mix, mix_for
from nublet.web.bench.models import PlannedOperation
from nublet.web.build_ups.actions import add_build_up
from nublet.web.demo.width import for_the_galley, write_down
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.shelf.models import ProductBatch
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial

_WEEK = ["mon", "tue", "wed", "thu", "fri"]
DEMO_HANDS = (
    {
        "name": "Nell Arkwright-Osei",
        "hours": [
            {"days": _WEEK, "from": "09:00", "to": "12:30"},
            {"days": _WEEK, "from": "13:15", "to": "17:30"},
        ],
    },
    {"name": "Second bench hand", "hours": [{"days": ["mon", "wed", "fri"], "from": "13:15", "to": "17:30"}]},
)
_CANDIDATES = ("Fellgate Hardoil 2K", "Marrowby Tung", "Cobble Lane Wiping Varnish", "Pikelaw Board Oil")
_SEARCH_S = 1.5
_EXPOSING = ("lay", "lift", "act", "look")
# Hands are this much behind the plan all day.
_SLIP = timedelta(seconds=12)
# g/m² of a first coat; later ones take about half.
_TAKES = dict(zip(_CANDIDATES, (31.0, 88.0, 74.0, 70.0), strict=True))


def set_demo_instruments(owner: Person, addresses: Mapping[str, str]) -> None:
    """Tell the demo shop where the simulated instruments listen now."""
    set_bench(owner, {"instruments": {kind: addresses[kind] for kind in KINDS if kind in addresses}})


def load_bench_days(
    owner: Person, judges: Sequence[Person], products: Mapping[str, int], *, seed: int, now: datetime
) -> Trial:
    """A trial on the bench: planned, and logged until ``now``, whatever day that is."""
    set_bench(owner, {"hands": list(DEMO_HANDS), "rack_places": 24, "currency": "€"})
    trial = create_trial(
        owner,
        is_simulated=True,
        name="Galley boards",
        question="The galley's boards are wiped down after every service. Which oil keeps water and coffee out, and is "
        "mended in an evening?",
        uses=["chopping-board"],
        species=["sycamore"],
        boards_per_species=2,
        judges=[judge.pk for judge in judges],
    )
    for name in _CANDIDATES:
        add_build_up(owner, trial.pk, product=products[name])
    for_the_galley(owner, trial)
    draw_design(owner, trial.pk, seed=seed)
    trial = start(owner, trial.pk)
    plan = ask_for_plan(owner, trial.pk, start_at=_two_working_days_before(now), weighs=True, prepares=True)
    plan = make(plan, limit_s=_SEARCH_S)
    operations = list(plan.operations.select_related("build_up").order_by("start_at", "pk"))
    coats = [each for each in operations if each.kind not in _EXPOSING]
    _log_until(now, owner, trial, coats, seed)
    exposed = [
        (each, each.start_at + _SLIP, each.end_at + _SLIP)
        for each in operations
        if each.kind in _EXPOSING and each.end_at + _SLIP <= now
    ]
    write_down(owner, trial, exposed)
    return trial


def _two_working_days_before(now: datetime) -> datetime:
    """Nine o'clock of the last working day but one: every day of the week then has a whole day's log to show."""
    day = now
    for _ in range(2):
        day -= timedelta(days=1)
        while day.weekday() >= len(_WEEK):
            day -= timedelta(days=1)
    return datetime.combine(day.date(), time(9), tzinfo=now.tzinfo)


def _log_until(
    now: datetime, owner: Person, trial: Trial, operations: Sequence[PlannedOperation], seed: int
) -> None:
    rng = np.random.default_rng(seed)
    face_m2 = trial.panel_length_mm * trial.panel_width_mm / 1e6
    weights = {
        code: float(rng.normal(690, 25))
        for code in TrialPanel.objects.filter(trial=trial).order_by("code").values_list("code", flat=True)
    }
    batches = {batch.product_id: batch.pk for batch in ProductBatch.objects.order_by("-pk")}
    cups = cups_ahead(operations, kitchen_of(trial), {})
    mixes: dict[str, int] = {}
    drowned = False
    late = next((o.pk for o in operations if o.kind == "wipe" and "Tung" in o.shared), None)
    for operation in operations:
        slip = timedelta(minutes=31) if operation.pk == late else _SLIP
        begun, ended = operation.start_at + slip, operation.end_at + slip
        if ended > now:
            continue
        codes = [str(panel[0]) for panel in operation.panels]
        if operation.kind == "weigh":
            for number, code in enumerate(codes, start=1):
                at = begun + number * (ended - begun) / len(codes)
                if operation.nth == 2:
                    first = operation.item == "coat 1"
                    took = _TAKES[operation.shared] * (1 if first else 0.55) * rng.normal(1, 0.06)
                    if first and not drowned and "Hardoil" in operation.shared:
                        took, drowned = took * 2.0, True
                    weights[code] += took * 2 * face_m2
                _enter(owner, trial, operation, "done", [code], at, weight_g=round(weights[code], 2))
            continue
        measured: dict[str, float] = {}
        if operation.kind == "coat":
            measured = {
                "temperature_c": round(float(rng.normal(19.6, 0.4)), 1),
                "humidity_pct": round(float(rng.normal(52, 2)), 0),
            }
            cup = cups[operation.pk]
            if cup.cup.content.is_mixed:
                if cup.begun_with is None:
                    made = mix_for(
                        owner,
                        trial.pk,
                        build_up=operation.build_up_id or 0,
                        item=operation.item,
                        n_panels=len(codes),
                        work=operation.pk,
                        batch=batches.get(cup.cup.content.product.id or 0),
                        at=begun - timedelta(minutes=4),
                    )
                    mixes[cup.key] = made.pk
                measured["mix"] = mixes[cup.key]
        _enter(owner, trial, operation, "begin", codes[:1], begun, **measured)
        _enter(owner, trial, operation, "done", codes, ended, **measured)
        if "mix" in measured and not cups[operation.pk].after:
            empty_mix(owner, trial.pk, int(measured["mix"]))


def _enter(
    owner: Person,
    trial: Trial,
    operation: PlannedOperation,
    entry: str,
    codes: Sequence[str],
    at: datetime,
    **measured: float,
) -> None:
    enter_work(
        owner,
        trial.pk,
        BenchEntry(
            client_id=uuid.uuid4(),
            entry=entry,
            kind=operation.kind,
            item=operation.item,
            look_after_min=operation.look_after_min,
            nth=operation.nth,
            act=operation.act,
            panels=codes,
            at=at,
            hands=operation.hands_id,
            measured=measured,
        ),
    )
