"""The bench days: hands, plans, the log, what it missed, and what is due."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from typing import Any
from uuid import UUID, uuid4

import pytest
from django.db import IntegrityError, connection
from django_tasks_db.models import DBTaskResult
from rest_framework.test import APIClient

from nublet.core.errors import PlanError
from nublet.core.planning.plan import Progress
from nublet.instruments.simulated import SimulatedInstrument
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import clock, plan_actions, planner
from nublet.web.bench.actions import BenchEntry, enter_work
from nublet.web.bench.adapters import log_of
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.bench_selectors import view_bench
from nublet.web.bench.cups import CupAhead, shop_for_trial
from nublet.web.bench.due import list_due
from nublet.web.bench.log import view_log
from nublet.web.bench.making import make
from nublet.web.bench.mix_actions import mix_for
from nublet.web.bench.models import BenchPlan, Hands, PanelWork, PlannedOperation, WorkEntry
from nublet.web.bench.plan_actions import fail_plan, standing_plan, stop_plan
from nublet.web.bench.pour_actions import make_pour
from nublet.web.bench.selectors import view_days
from nublet.web.build_ups.actions import add_build_up, change_build_up
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.deviations import replace_panel, spoil_panel
from nublet.web.designs.models import TrialDeviation, TrialPanel
from nublet.web.evidence.selectors import weigh_evidence
from nublet.web.people.actions import add_person, open_shop
from nublet.web.people.models import AuditEntry, Person
from nublet.web.shelf.actions import add_item, keep_batch
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.stages.selectors import summarise_trial
from nublet.web.trials.actions import create_trial, update_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import NELL, PASSWORD, WEEK, Turned, grade_spot, plan, work_off

# The usual wipe-off window of a pure drying oil, minutes.
WIPE_FROM, WIPE_TO = 15, 40
HARDOIL = {
    "name": "Fellgate Hardoil 2K",
    "family": "hardwax-2k",
    "parts": [{"name": "Base", "share": 9}, {"name": "Hardener", "share": 1}],
    "density_g_per_ml": 0.95,
    "label": {
        "pot_life_min": 240,
        "spread_first_m2_per_l": 30,
        "wipe_off_from_min": 3,
        "wipe_off_to_min": 15,
        "recoat_from_h": 24,
        "recoat_to_h": 72,
        "coats": 2,
        "cure_d": 7,
        "temperature_from_c": 15,
        "humidity_to_pct": 70,
    },
}


def operation(
    trial: Trial, kind: str, item: str = "coat 1", build_up: str = "Marrowby Tung"
) -> PlannedOperation:
    standing = standing_plan(Trial.objects.get(pk=trial.pk))
    assert standing is not None
    rows = standing.operations.filter(kind=kind, item=item)
    return rows.filter(build_up__name=build_up).order_by("start_at")[0]


def laying(trial: Trial, item: str, build_up: str) -> tuple[PlannedOperation, str]:
    """The first sitting in which a board meets a test, and its panel that carries a build-up."""
    standing = standing_plan(Trial.objects.get(pk=trial.pk))
    assert standing is not None
    work = standing.operations.filter(kind="lay", item=item).order_by("start_at")[0]
    assert work.build_up is None
    panel = TrialPanel.objects.get(trial=trial, code__in=codes_of(work), build_up__name=build_up)
    assert panel.block == work.board
    return work, panel.code


def codes_of(work: PlannedOperation) -> list[str]:
    return [panel[0] for panel in work.panels]


def press(
    person: Person,
    trial: Trial,
    entry: str,
    work: PlannedOperation,
    panels: Sequence[str] | None = None,
    **more: Any,
) -> list[PanelWork]:
    fields: dict[str, Any] = {
        "client_id": uuid4(),
        "kind": work.kind,
        "item": work.item,
        "look_after_min": work.look_after_min,
        "nth": work.nth,
        "panels": codes_of(work) if panels is None else panels,
        "at": clock.now(),
    }
    return enter_work(person, trial.pk, BenchEntry(entry=entry, **{**fields, **more}))


def coat(person: Person, trial: Trial, turned: Turned, **more: Any) -> list[str]:
    """The oil's first coat done, two minutes a panel."""
    work = operation(trial, "coat")
    codes = codes_of(work)
    press(person, trial, "begin", work, codes[:1], **more)
    turned.turn(minutes=2 * len(codes))
    press(person, trial, "done", work)
    return codes


def deviations(trial: Trial) -> list[str]:
    rows = TrialDeviation.objects.filter(trial=trial, withdrawn_at__isnull=True).order_by("pk")
    return [row.says for row in rows]


# --- the bench


def test_hands_keep_their_rows_when_they_are_renamed_and_stop_when_taken_off(owner: Person) -> None:
    set_bench(owner, {"hands": [NELL, {**NELL, "name": "Second"}]})
    nell = Hands.objects.get(name="Nell")
    set_bench(owner, {"hands": [{**NELL, "id": nell.pk, "name": "Nell A."}]})
    nell.refresh_from_db()
    assert (nell.name, nell.is_active) == ("Nell A.", True)
    assert not Hands.objects.get(name="Second").is_active
    assert AuditEntry.objects.filter(action="set_bench").count() == 2


@pytest.mark.parametrize(
    ("fields", "field", "says"),
    [
        ({"time_zone": "Nowhere"}, "time_zone", "not a time zone"),
        ({"time_zone": "../etc"}, "time_zone", "not a time zone"),
        ({"hands": [NELL] * 5}, "hands", "At most 4"),
        ({"hands": [{**NELL, "name": " "}]}, "hands.0.name", "a name"),
        ({"hands": [NELL, NELL]}, "hands.1.name", "already"),
        (
            {"hands": [{"name": "A", "hours": [{"days": ["mon"], "from": "9", "to": "17:00"}]}]},
            "hands.0.hours.0.from",
            "A: hours.0.from is '9'; write a time of day as 09:00.",
        ),
        ({"hands": [{**NELL, "days_off": ["tomorrow"]}]}, "hands.0.days_off.0", "2027-03-01"),
        ({"instruments": {"balance": "http://127.0.0.1"}}, "instruments.balance", "/dev/ttyUSB0"),
        ({"instruments": {"oven": "/dev/ttyUSB0"}}, "instruments.oven", "no instrument"),
    ],
)
def test_what_a_bench_cannot_be(owner: Person, fields: dict[str, Any], field: str, says: str) -> None:
    set_bench(owner, {"hands": [NELL]})
    with pytest.raises(PlanError) as refused:
        set_bench(owner, fields)
    assert refused.value.field == field
    assert says in refused.value.message
    assert list(Hands.objects.filter(is_active=True).values_list("name", flat=True)) == ["Nell"]


def test_only_an_owner_sets_where_instruments_are(
    client_of: Callable[[Person | None], APIClient], owner: Person, tester: Person
) -> None:
    body = {"instruments": [{"kind": "balance", "address": "/dev/ttyUSB0"}]}
    assert client_of(tester).patch("/api/bench", body, format="json").status_code == 403
    assert client_of(owner).patch("/api/bench", body, format="json").status_code == 200
    found = client_of(tester).get("/api/bench").json()["instruments"]
    assert found[0] == {"kind": "balance", "name": "balance", "address": "/dev/ttyUSB0"}


def test_an_instrument_is_read_and_its_trouble_told(
    client_of: Callable[[Person | None], APIClient], owner: Person
) -> None:
    client = client_of(owner)
    with SimulatedInstrument("balance") as balance:
        set_bench(owner, {"instruments": {"balance": balance.address}})
        balance.put = {"g": 412.31}
        read = client.post("/api/instruments/balance/reading")
        assert read.status_code == 200
        assert read.json()["values"]["g"] == pytest.approx(412.31, abs=0.2)
        balance.fault = "garbled"
        told = client.post("/api/instruments/balance/reading")
        assert (told.status_code, told.json()["code"]) == (400, "instrument_garbled")
    gone = client.post("/api/instruments/balance/reading").json()
    assert gone["code"] == "instrument_absent"
    assert "Or type the value." in gone["detail"]


# --- plans


def test_a_plan_is_made_from_the_trials_recipes_and_stands(planned: Trial) -> None:
    view = view_days(Trial.objects.get(pk=planned.pk))
    assert view.plan is not None
    assert view.job is None
    first = operation(planned, "coat")
    assert len(first.panels) == 3
    assert {row.kind for row in PlannedOperation.objects.all()} == {"coat", "wipe", "lay", "lift", "look"}
    # Four coats of oil, three of satin, on three panels each.
    coats = PlannedOperation.objects.filter(kind="coat")
    assert sum(len(row.panels) for row in coats) == 3 * 4 + 3 * 3


def test_nobody_to_plan_for_and_nothing_to_plan(owner: Person, draft: Trial) -> None:
    with pytest.raises(PlanError, match="Nobody works at the bench"):
        ask_for_plan(owner, draft.pk)
    set_bench(owner, {"hands": [NELL]})
    with pytest.raises(PlanError, match="no panels yet"):
        ask_for_plan(owner, draft.pk)
    assert not BenchPlan.objects.exists()


def test_an_impossible_plan_says_which_constraint_and_leaves_the_one_before(
    owner: Person, planned: Trial
) -> None:
    before = standing_plan(Trial.objects.get(pk=planned.pk))
    # Nobody can wait for a wipe-off that opens after 15 min in sittings of 10.
    short = {"name": "Nell", "hours": [{"days": WEEK, "from": "09:00", "to": "09:10"}]}
    set_bench(owner, {"hands": [short]})
    made = make(ask_for_plan(owner, planned.pk), limit_s=0.05)
    assert made.state == "impossible"
    assert made.reasons
    trial = Trial.objects.get(pk=planned.pk)
    assert standing_plan(trial) == before
    job = view_days(trial).job
    assert job is not None
    assert job.plan == made


def test_a_planner_can_be_stopped_and_keeps_its_best(
    owner: Person, planned: Trial, client_of: Callable[[Person | None], APIClient]
) -> None:
    waiting = ask_for_plan(owner, planned.pk)
    with pytest.raises(ConflictError, match="being made already"):
        ask_for_plan(owner, planned.pk)
    shown = client_of(owner).delete(f"/api/trials/{planned.pk}/days/plan")
    assert (shown.status_code, shown.json()["job"]["is_stop_asked"]) == (202, True)
    # It would search for ten minutes, and ends with what it has at its first word.
    made = make(waiting, limit_s=600)
    assert made.state == "done"
    assert len(BenchPlan.objects.get(pk=made.pk).progress) == 1
    with pytest.raises(ConflictError, match="nothing to stop"):
        stop_plan(owner, planned.pk)


def test_progress_is_kept_one_line_an_improvement(owner: Person, planned: Trial) -> None:
    waiting = ask_for_plan(owner, planned.pk)
    for end_s, elapsed_s in ((9000, 1.0), (9000, 2.0), (8000, 3.0)):
        assert not plan_actions.tell_progress(
            waiting,
            Progress(end_s=end_s, lower_bound_s=0, n_sittings=2),
            elapsed_s,
            start=waiting.start_at,
        )
    kept = BenchPlan.objects.get(pk=waiting.pk).progress
    assert [line["elapsed_s"] for line in kept] == [1.0, 3.0]


def test_a_silent_planner_is_taken_for_dead_and_may_be_followed(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    ask_for_plan(owner, planned.pk)
    bench_clock.turn(minutes=5)
    job = view_days(Trial.objects.get(pk=planned.pk)).job
    assert job is not None
    assert job.is_silent
    plan(owner, planned)
    assert view_days(Trial.objects.get(pk=planned.pk)).job is None


def test_a_planner_that_fails_says_so(owner: Person, planned: Trial) -> None:
    waiting = ask_for_plan(owner, planned.pk)
    fail_plan(waiting.pk, "The planner failed.")
    job = view_days(Trial.objects.get(pk=planned.pk)).job
    assert job is not None
    assert (job.plan.state, job.plan.trouble) == ("failed", "The planner failed.")


def test_a_plan_waits_for_its_turn_and_is_made_by_the_worker(
    owner: Person, designed: Trial, django_capture_on_commit_callbacks: Any, bench_clock: Turned
) -> None:
    set_bench(owner, {"hands": [NELL]})
    with django_capture_on_commit_callbacks(execute=True):
        asked = ask_for_plan(
            owner,
            designed.pk,
            start_at=datetime(2027, 3, 1, 9),  # noqa: DTZ001
            enqueue=planner.make_plan.enqueue,
        )
        assert not DBTaskResult.objects.exists()
    assert asked.start_at.isoformat() == "2027-03-01T09:00:00+00:00"
    # However long it waits, it is not taken for dead.
    bench_clock.turn(minutes=5)
    job = view_days(Trial.objects.get(pk=designed.pk)).job
    assert job is not None
    assert (job.is_waiting, job.is_silent) == (True, False)
    work_off()
    made = BenchPlan.objects.get(pk=asked.pk)
    assert (made.state, made.begun_at is None) == ("done", False)


def test_a_plan_that_waits_can_be_called_off(
    owner: Person, designed: Trial, django_capture_on_commit_callbacks: Any
) -> None:
    set_bench(owner, {"hands": [NELL]})
    with django_capture_on_commit_callbacks(execute=True):
        asked = ask_for_plan(owner, designed.pk, enqueue=planner.make_plan.enqueue)
    stopped = stop_plan(owner, designed.pk)
    assert (stopped.state, stopped.trouble) == ("failed", "It was stopped before its turn came.")
    work_off()
    assert not BenchPlan.objects.get(pk=asked.pk).operations.exists()


def test_a_new_design_has_no_plan(owner: Person, designed: Trial, bench_clock: Turned) -> None:
    set_bench(owner, {"hands": [NELL]})
    plan(owner, designed)
    trial = draw_design(owner, designed.pk, seed=12)
    assert standing_plan(trial) is None
    assert view_days(trial).operations == ()


def test_planning_again_keeps_what_was_done_and_begins_after_now(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    codes = coat(owner, planned, bench_clock)
    with pytest.raises(ConflictError, match="again from now"):
        ask_for_plan(owner, planned.pk)
    bench_clock.turn(minutes=WIPE_TO + 5)
    plan(owner, planned, again=True)
    standing = standing_plan(Trial.objects.get(pk=planned.pk))
    assert standing is not None
    done = operation(planned, "coat")
    assert codes_of(done) == codes
    undone = [row for row in standing.operations.all() if row.pk != done.pk]
    assert min(row.start_at for row in undone) >= bench_clock.now()
    # The wiping that was missed comes first of the oil's, and every later coat is planned again.
    assert operation(planned, "wipe").start_at <= bench_clock.now() + timedelta(minutes=5)
    assert sum(row.kind == "coat" and row.shared == "Marrowby Tung" for row in undone) >= 3
    # What is overdue is judged as if it were done now.
    assert any(says.startswith(f"If it is done now: {codes[0]}, coat 1: wiped off") for says in standing.late)
    assert standing.left_out == []


def test_a_panel_that_waited_too_long_is_planned_no_more(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    codes = coat(owner, planned, bench_clock)
    # Twice the window over: the film has set.
    bench_clock.turn(minutes=3 * WIPE_TO)
    plan(owner, planned, again=True)
    standing = standing_plan(Trial.objects.get(pk=planned.pk))
    assert standing is not None
    assert sorted(standing.left_out) == sorted(codes)
    later = standing.operations.filter(start_at__gt=bench_clock.now())
    assert not {code for row in later for code in codes_of(row)} & set(codes)
    assert not [thing for thing in list_due(owner).things if set(thing.panels) & set(codes)]


def test_a_spoiled_panel_is_due_no_more_and_its_successor_is_planned_again(
    owner: Person, planned: Trial
) -> None:
    first = operation(planned, "coat")
    gone = codes_of(first)[0]
    spoil_panel(owner, planned.pk, panel=gone, reason="Split")
    trial = Trial.objects.get(pk=planned.pk)
    assert gone not in {turn.code for each in view_days(trial).operations for turn in each.turns}
    assert gone not in {code for thing in list_due(owner).things for code in thing.panels}
    replace_panel(owner, planned.pk, panel=gone, reason="Split")
    new = TrialPanel.objects.get(replaces__code=gone, trial=trial).code
    plan(owner, planned, again=True)
    again = standing_plan(Trial.objects.get(pk=trial.pk))
    assert again is not None
    coats = [row for row in again.operations.filter(kind="coat", item="coat 1") if new in codes_of(row)]
    assert [row.shared for row in coats] == ["Marrowby Tung"]


# --- the log


def test_panels_done_together_are_taken_to_be_done_one_after_the_other(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    begun = bench_clock.now()
    codes = coat(owner, planned, bench_clock)
    rows = {row.panel.code: row for row in PanelWork.objects.select_related("panel")}
    assert [
        (
            (rows[code].begun_at - begun).total_seconds(),  # type: ignore[operator]
            (rows[code].ended_at - begun).total_seconds(),  # type: ignore[operator]
        )
        for code in codes
    ] == [(0, 120), (120, 240), (240, 360)]


def test_an_entry_sent_again_changes_nothing(owner: Person, planned: Trial, bench_clock: Turned) -> None:
    work = operation(planned, "coat")
    same = uuid4()
    first = press(owner, planned, "begin", work, codes_of(work)[:1], client_id=same)
    bench_clock.turn(minutes=1)
    again = press(owner, planned, "begin", work, codes_of(work)[:1], client_id=same)
    assert [row.begun_at for row in again] == [row.begun_at for row in first]
    assert WorkEntry.objects.count() == 1
    with pytest.raises(ConflictError, match="belongs to other work"):
        press(owner, planned, "begin", operation(planned, "wipe"), client_id=same)
    # The same work, and yet not what was said the first time.
    hands = Hands.objects.get(shop=owner.shop_id).pk
    for other in (
        {"entry": "done"},
        {"panels": codes_of(work)[1:2]},
        {"at": clock.now() + timedelta(seconds=30)},
        {"measured": {"temperature_c": 21.5}},
        {"hands": hands},
        {"reason": "No wine"},
        {"begun_at": clock.now()},
    ):
        said = {"entry": "begin", "panels": codes_of(work)[:1], **other}
        with pytest.raises(ConflictError, match="belongs to other work"):
            press(owner, planned, work=work, client_id=same, **said)  # type: ignore[arg-type]
    assert WorkEntry.objects.count() == 1


def test_a_measured_entry_and_a_taking_back_may_be_sent_again(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    work = operation(planned, "coat")
    first, back = uuid4(), uuid4()
    measured = {"temperature_c": 21.5, "humidity_pct": None}
    for _ in range(2):
        press(owner, planned, "begin", work, codes_of(work)[:1], client_id=first, measured=measured)
    for _ in range(2):
        press(owner, planned, "take_back", work, client_id=back, undoes=first)
    assert WorkEntry.objects.count() == 2


def test_what_is_taken_back_is_undone_and_withdraws_what_it_missed(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    codes = coat(owner, planned, bench_clock)
    bench_clock.turn(minutes=WIPE_TO + 8)
    wipe = operation(planned, "wipe")
    entry = uuid4()
    press(owner, planned, "done", wipe, client_id=entry)
    assert len(deviations(planned)) == len(codes)
    assert all("coat 1: wiped off" in says and "too late" in says for says in deviations(planned))
    assert not any("Marrowby" in says for says in deviations(planned))
    press(owner, planned, "take_back", wipe, undoes=entry)
    assert deviations(planned) == []
    assert not PanelWork.objects.filter(kind="wipe").exists()
    # The record of it stays, and it comes back when it holds again.
    assert TrialDeviation.objects.count() == len(codes)
    press(owner, planned, "done", wipe)
    assert len(deviations(planned)) == len(codes)
    assert TrialDeviation.objects.count() == len(codes)
    with pytest.raises(ConflictError, match="taken back already"):
        press(owner, planned, "take_back", wipe, undoes=entry)
    with pytest.raises(ConflictError, match="no such entry"):
        press(owner, planned, "take_back", wipe, undoes=UUID(int=7))


def test_early_recoats_and_uncured_exposures_are_found(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    coat(owner, planned, bench_clock)
    bench_clock.turn(minutes=WIPE_FROM + 2)
    press(owner, planned, "begin", operation(planned, "wipe"))
    bench_clock.turn(minutes=2)
    press(owner, planned, "done", operation(planned, "wipe"))
    assert deviations(planned) == []
    bench_clock.turn(hours=3)
    second = operation(planned, "coat", "coat 2")
    press(owner, planned, "done", second, codes_of(second)[:1])
    assert len(deviations(planned)) == 1
    assert "recoated" in deviations(planned)[0]
    lay, code = laying(planned, "wine-1h", "Marrowby Tung")
    press(owner, planned, "done", lay, [code])
    assert "before full cure" in deviations(planned)[-1]


def test_cold_damp_and_stale_are_found_by_the_labels_limits(
    owner: Person, draft: Trial, bench_clock: Turned
) -> None:
    product = add_item(owner, PRODUCTS, HARDOIL)
    batch = keep_batch(owner, product.pk, number="FH-1")
    row = add_build_up(owner, draft.pk, product=product.pk)
    draw_design(owner, draft.pk, seed=3)
    set_bench(owner, {"hands": [NELL]})
    start(owner, draft.pk)
    plan(owner, draft)
    work = operation(draft, "coat", build_up=row.name)
    mix = mix_for(owner, draft.pk, build_up=row.pk, item="coat 1", n_panels=3, batch=batch.pk)
    assert [part["what"] for part in mix.amounts] == ["Base", "Hardener"]
    assert (mix.pot_life_min, mix.batch) == (240, batch)
    due = [thing for thing in list_due(owner).things if thing.kind == "mix"]
    assert [(thing.verb, thing.closes_at) for thing in due] == [
        ("Use up Fellgate Hardoil 2K", mix.made_at + timedelta(minutes=240))
    ]
    bench_clock.turn(minutes=255)
    measured = {"temperature_c": 12.0, "humidity_pct": 74.0, "mix": mix.pk}
    press(owner, draft, "done", work, measured=measured)
    code = codes_of(work)[0]
    assert [says for says in deviations(draft) if says.startswith(code)] == [
        f"{code}, coat 1: coated at 12 °C; it wants 15 °C or more, and cures slower.",
        f"{code}, coat 1: coated at 74 % RH; it wants 70 % or less, and dries slower.",
        f"{code}, coat 1: coated from a mix 15 min past its pot life; it may not have set through.",
    ]
    # All panels are coated: what is left of the mix is waste, and counts no more.
    assert not [thing for thing in list_due(owner).things if thing.kind == "mix"]
    other = add_item(owner, PRODUCTS, {"name": "Wax", "family": "wax"})
    wrong = keep_batch(owner, other.pk, number="W")
    with pytest.raises(PlanError, match="not one of"):
        mix_for(owner, draft.pk, build_up=row.pk, item="coat 1", n_panels=3, batch=wrong.pk)


def test_weights_give_grams_a_square_metre_and_flag_what_stands_out(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    set_bench(owner, {"hands": [NELL]})
    start(owner, designed.pk)
    plan(owner, designed, weighs=True)
    before, after = (
        PlannedOperation.objects.filter(
            kind="weigh", nth=nth, item="coat 1", build_up__name="Marrowby Tung"
        ).order_by("start_at")[0]
        for nth in (1, 2)
    )
    assert before.start_at < operation(designed, "coat").start_at < after.start_at
    codes = codes_of(before)
    for number, code in enumerate(codes):
        press(owner, designed, "done", before, [code], measured={"weight_g": 700 + number})
    # Both faces of 400 by 150 mm.
    for number, (code, took) in enumerate(zip(codes, (90, 95, 400), strict=True)):
        grams = 700 + number + took * 0.12
        press(owner, designed, "done", after, [code], measured={"weight_g": grams})
    (applied,) = view_log(Trial.objects.get(pk=designed.pk)).applied
    assert [round(each.g_per_m2) for each in applied.panels] == [90, 95, 400]
    assert [bool(each.stands_out) for each in applied.panels] == [False, False, True]
    press(owner, designed, "done", after, [codes[0]], measured={"weight_g": 690})
    (applied,) = view_log(Trial.objects.get(pk=designed.pk)).applied
    assert "weighs less after the coat" in applied.panels[-1].stands_out


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"panels": ["??"]}, "panels"),
        ({"at": timedelta(minutes=10)}, "at"),
        ({"at": timedelta(days=-500)}, "at"),
        ({"begun_at": timedelta(0), "at": timedelta(minutes=-3)}, "begun_at"),
        ({"entry": "skip", "reason": "  "}, "reason"),
        ({"measured": {"temperature_c": 120.0}}, "measured.temperature_c"),
        ({"measured": {"weight_g": 0.0}}, "measured.weight_g"),
        ({"measured": {"weight_g": 400.0}}, "panels"),
        ({"measured": {"mix": 0}}, "measured.mix"),
        ({"measured": {"mood": 1.0}}, "measured.mood"),
        ({"item": "coat 9"}, "item"),
        ({"kind": "look", "item": "wine-1h", "look_after_min": 3.0}, "item"),
        ({"hands": 0}, "hands"),
    ],
)
def test_what_cannot_be_entered_is_refused_and_nothing_is_kept(
    owner: Person, planned: Trial, more: dict[str, Any], field: str
) -> None:
    now = clock.now()
    fields: dict[str, Any] = {
        key: now + value if isinstance(value, timedelta) else value for key, value in more.items()
    }
    with pytest.raises(PlanError) as refused:
        press(owner, planned, fields.pop("entry", "done"), operation(planned, "coat"), **fields)
    assert refused.value.field == field
    assert not WorkEntry.objects.exists()
    assert not PanelWork.objects.exists()


def test_nothing_is_logged_before_the_start_or_without_a_plan(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    entry = {"client_id": uuid4(), "entry": "begin", "kind": "coat", "item": "coat 1", "panels": ["K7"]}
    with pytest.raises(ConflictError, match="has not started"):
        enter_work(owner, designed.pk, BenchEntry(**entry, at=clock.now()))  # type: ignore[arg-type]
    start(owner, designed.pk)
    with pytest.raises(ConflictError, match="no plan"):
        enter_work(owner, designed.pk, BenchEntry(**entry, at=clock.now()))  # type: ignore[arg-type]


def test_one_entry_sent_six_times_at_once_counts_once(transactional_db: None, bench_clock: Turned) -> None:
    nell = open_shop(shop_name="Tarn Yard", username="nell", display_name="Nell", password=PASSWORD)
    trial = create_trial(nell, name="Racks", species=["elm"], boards_per_species=1)
    add_build_up(nell, trial.pk, name="Marrowby Tung", family="pure-drying-oil", coats=2)
    draw_design(nell, trial.pk, seed=1)
    set_bench(nell, {"hands": [NELL]})
    start(nell, trial.pk)
    plan(nell, trial)
    work = operation(trial, "coat")
    same = uuid4()

    def enter(_: int) -> int:
        try:
            return len(press(nell, trial, "done", work, client_id=same))
        finally:
            connection.close()

    with ThreadPoolExecutor(6) as pool:
        assert list(pool.map(enter, range(6))) == [1] * 6
    assert (WorkEntry.objects.count(), PanelWork.objects.count()) == (1, 1)


# --- what is due


def test_due_counts_from_each_panels_own_coat_and_is_grouped_by_pass(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    codes = coat(owner, planned, bench_clock)
    things = {thing.kind: thing for thing in list_due(owner).things if thing.is_window}
    wipe = things["wipe"]
    assert list(wipe.panels) == codes
    first_done = bench_clock.now() - timedelta(minutes=2 * (len(codes) - 1))
    assert wipe.opens_at == first_done + timedelta(minutes=WIPE_FROM)
    assert wipe.closes_at == first_done + timedelta(minutes=WIPE_TO)
    press(owner, planned, "done", operation(planned, "wipe"), codes[:1])
    (left,) = [thing for thing in list_due(owner).things if thing.kind == "wipe" and thing.is_window]
    assert list(left.panels) == codes[1:]


def test_a_judge_is_told_the_time_and_nothing_that_is_due(
    client_of: Callable[[Person | None], APIClient], planned: Trial, judge: Person, bench_clock: Turned
) -> None:
    found = client_of(judge).get("/api/due").json()
    assert datetime.fromisoformat(found["now"]) == bench_clock.now()
    assert found["things"] == []


def test_another_shops_bench_is_not_mine(planned: Trial, stranger: Person) -> None:
    assert list_due(stranger).things == ()


def test_screens_need_a_fixed_number_of_queries(
    owner: Person, planned: Trial, bench_clock: Turned, django_assert_num_queries: Any
) -> None:
    trial = Trial.objects.select_related("shop").get(pk=planned.pk)

    def ask() -> None:
        with django_assert_num_queries(17):
            view_days(trial)
        with django_assert_num_queries(6):
            list_due(owner)
        with django_assert_num_queries(4):
            view_log(trial)

    ask()
    coat(owner, planned, bench_clock)
    bench_clock.turn(minutes=20)
    press(owner, planned, "done", operation(planned, "wipe"))
    ask()


# --- to take along


def test_calendar_and_sheets_name_the_work_and_whose_it_is(
    client_of: Callable[[Person | None], APIClient],
    owner: Person,
    planned: Trial,
    printed: Callable[..., Any],
) -> None:
    client = client_of(owner)
    calendar = client.get(f"/api/trials/{planned.pk}/days/calendar.ics")
    assert calendar["Content-Type"].startswith("text/calendar")
    text = calendar.content.decode().replace("\r\n ", "")
    assert text.count("BEGIN:VEVENT") == PlannedOperation.objects.count()
    codes = "\\, ".join(codes_of(operation(planned, "wipe")))
    assert f"SUMMARY:Wipe off coat 1: {codes}" in text
    day = operation(planned, "coat").start_at.date()
    address = f"/api/trials/{planned.pk}/days/sheet"
    sheet = printed(client, address, day=str(day), paper="letter")
    assert sheet.content.startswith(b"%PDF")
    assert sheet["Content-Disposition"] == f'attachment; filename="saloon-tables-{day}.pdf"'
    assert printed(client, address, day="2020-01-01").status_code == 400


def test_what_follows_from_work_given_up_is_no_work_any_more(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    work = operation(planned, "coat")
    code, *others = codes_of(work)
    press(owner, planned, "skip", work, [code], reason="Split")
    press(owner, planned, "done", work, others)
    bench_clock.turn(minutes=WIPE_FROM + 1)
    (wipe,) = [thing for thing in list_due(owner).things if thing.kind == "wipe" and thing.is_window]
    assert list(wipe.panels) == others
    view = view_days(Trial.objects.get(pk=planned.pk))
    shown = next(each for each in view.operations if each.row.kind == "wipe" and each.row.item == "coat 1")
    assert [turn.code for turn in shown.turns] == others
    lay, _ = laying(planned, "wine-1h", "Bare control")
    press(owner, planned, "skip", lay, reason="No wine")
    plan(owner, planned, again=True)
    left = {
        (row.kind, row.item, code)
        for row in standing_plan(Trial.objects.get(pk=planned.pk)).operations.all()  # type: ignore[union-attr]
        for code in codes_of(row)
    }
    assert ("wipe", "coat 1", code) not in left
    assert ("wipe", "coat 1", others[0]) in left
    assert not {("lift", "wine-1h", each) for each in codes_of(lay)} & left
    assert not {("look", "wine-1h", each) for each in codes_of(lay)} & left


def test_a_panel_whose_sheen_is_even_gets_no_more_coats_and_cures_from_its_last(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    row = TrialBuildUp.objects.get(trial=designed, name="Marrowby Tung")
    recipe = {"layers": [{"family": "pure-drying-oil", "coats": 4, "stop_rule": "even-sheen"}]}
    change_build_up(owner, designed.pk, row.pk, name=row.name, recipe=recipe)
    draw_design(owner, designed.pk, seed=5)
    designed.refresh_from_db()
    set_bench(owner, {"hands": [NELL]})
    start(owner, designed.pk)
    plan(owner, designed)
    code, *others = coat(owner, designed, bench_clock)
    with pytest.raises(PlanError, match="no work of panel"):
        press(owner, designed, "even", operation(designed, "coat"), [code])
    bench_clock.turn(minutes=WIPE_FROM)
    press(owner, designed, "done", operation(designed, "wipe"), begun_at=clock.now())
    bench_clock.turn(hours=13)
    second = operation(designed, "coat", "coat 2")
    shown = {view.row.pk: view for view in view_days(designed, work=second.pk).operations}
    assert shown[second.pk].until_even
    (stands,) = press(owner, designed, "even", second, [code])
    assert (stands.is_even, stands.skipped_because) == (True, "The sheen is even: no more coats.")
    press(owner, designed, "done", second, others)
    assert deviations(designed) == []

    def left_of(panel: str) -> set[tuple[str, str]]:
        rows = (
            view.row
            for view in view_days(designed, first=second.start_at.date(), last=date(2100, 3, 16)).operations
        )
        return {
            (row.kind, row.item)
            for row in rows
            if panel in codes_of(row) and row.kind in ("abrade", "coat", "wipe") and row.item != "coat 1"
        }

    # Its own turn still tells why; nothing that comes after it is work any more, before and after planning again.
    assert left_of(code) == {("coat", "coat 2")}
    assert {("wipe", "coat 2"), ("coat", "coat 3"), ("coat", "coat 4")} <= left_of(others[0])
    plan(owner, designed, again=True)
    assert left_of(code) <= {("coat", "coat 2")}
    assert ("coat", "coat 4") in left_of(others[0])
    standing = standing_plan(designed)
    assert standing is not None
    assert code not in standing.left_out
    (taken,) = view_log(designed).taken
    assert [(each.panel, each.n_coats, each.is_even) for each in taken.layer.panels] == [(code, 1, True)]

    log = log_of(standing)
    assert log.closed == {(log.group_of(code), code): frozenset({"coat 2", "coat 3", "coat 4"})}

    press(owner, designed, "take_back", second, [code], undoes=WorkEntry.objects.get(entry="even").client_id)
    assert log_of(standing).closed == {}
    assert view_log(designed).taken == ()


def test_a_board_meets_a_test_in_one_sitting_from_one_pour(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    lay, _ = laying(planned, "wine-1h", "Marrowby Tung")
    # One panel of each build-up, bare wood among them, and all of one board.
    panels = TrialPanel.objects.filter(trial=planned, code__in=codes_of(lay)).select_related(
        "board", "build_up"
    )
    assert {panel.block for panel in panels} == {lay.board}
    assert {panel.build_up.name for panel in panels} == {
        "Marrowby Tung",
        "Skarn Waterborne Satin",
        "Bare control",
    }
    (view,) = [each for each in view_days(planned, work=lay.pk).operations if each.row.pk == lay.pk]
    assert (view.row.shared, view.agent, view.pour) == (lay.board, "red wine", None)

    pour = make_pour(owner, planned.pk, item="wine-1h", batch="  bottle 2 ")
    assert (pour.agent, pour.batch, pour.made_at, pour.made_by) == (
        "red wine",
        "bottle 2",
        bench_clock.now(),
        owner,
    )
    press(owner, planned, "done", lay, measured={"pour": pour.pk})
    assert set(PanelWork.objects.filter(kind="lay", item="wine-1h").values_list("pour", flat=True)) == {
        pour.pk
    }
    shown = view_days(planned, work=lay.pk)
    assert [each.pk for each in shown.pours] == [pour.pk]
    assert [each.pour for each in shown.operations if each.row.pk == lay.pk] == [pour.pk]
    assert {work.pour for work in view_log(planned).works if work.kind == "lay"} == {"bottle 2"}
    # A skipped or corrected lay keeps it; another test's is not taken.
    other, _ = laying(planned, "water-6h", "Marrowby Tung")
    with pytest.raises(PlanError, match="not for this test"):
        press(owner, planned, "done", other, measured={"pour": pour.pk})
    with pytest.raises(PlanError, match="no test of this trial"):
        make_pour(owner, planned.pk, item="none")


def test_a_mend_is_tried_by_one_press_and_kept_by_what_is_planned_after_it(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    brief = {"name": "Nell", "hours": [{"days": ["mon", "wed", "fri"], "from": "09:00", "to": "17:00"}]}
    set_bench(owner, {"hands": [brief]})
    start(owner, designed.pk)
    plan(owner, designed, weighs=True)
    refused = BenchPlan.objects.get(trial=designed)
    assert refused.state == "impossible"
    assert 1 <= len(refused.reasons) <= 6
    with pytest.raises(ConflictError, match="no such change"):
        ask_for_plan(owner, designed.pk, mend="working on Pluto")
    tried = []
    # What is in the way of some may not be all: each press goes on from the last.
    while (newest := BenchPlan.objects.filter(trial=designed).latest("pk")).state == "impossible":
        tried.append(newest.mends[0][0])
        assert len(tried) < 6
        make(ask_for_plan(owner, designed.pk, mend=tried[-1]), limit_s=0.05)
    assert (newest.state, newest.weighs, newest.tried) == ("done", True, tried)
    assert newest.says[0] == f"Tried for this plan: {'; '.join(tried)}."
    # The bench's own hours are as they were; what is planned again goes on by what was tried.
    assert Hands.objects.get(shop=owner.shop).hours == brief["hours"]
    again = make(ask_for_plan(owner, designed.pk, again=True), limit_s=0.05)
    assert (again.state, again.tried) == ("done", tried)


def test_two_trials_of_a_shop_are_planned_round_each_other(
    owner: Person, judge: Person, planned: Trial, bench_clock: Turned
) -> None:
    other = create_trial(
        owner,
        name="Buffet counter",
        species=["beech"],
        boards_per_species=2,
        judges=[judge.pk],
        uses=["dining-table"],
    )
    add_build_up(owner, other.pk, name="Fellgate", family="hardwax-2k", coats=2)
    add_build_up(owner, other.pk, name="Ousel", family="shellac-dewaxed", coats=2)
    draw_design(owner, other.pk, seed=4)
    start(owner, other.pk)
    plan(owner, other)
    first, second = (standing_plan(Trial.objects.get(pk=pk)) for pk in (planned.pk, other.pk))
    assert first is not None
    assert second is not None
    assert second.says[0] == "Planned round what stands in Saloon tables."
    # One pair of hands: nothing of the one lies in anything of the other.
    taken = list(first.operations.values_list("start_at", "end_at"))
    mine = list(second.operations.values_list("start_at", "end_at"))
    assert not [1 for a, b in taken for c, d in mine if a < d and c < b]
    # What is planned again from now goes round the other too, and says so.
    again = make(ask_for_plan(owner, planned.pk, again=True), limit_s=0.05)
    assert again.beside == ["Buffet counter"]
    assert not [
        1 for a, b in again.operations.values_list("start_at", "end_at") for c, d in mine if a < d and c < b
    ]


def test_preparing_is_planned_on_cards_with_its_cautions_and_need_not_be_written_down(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    recipe = {
        "preparation": {"grits": [80, 120, 180], "water_popped": True},
        "layers": [{"family": "pure-drying-oil", "coats": 1}],
        "final": "buffed",
    }
    row = TrialBuildUp.objects.get(trial=designed, name="Marrowby Tung")
    change_build_up(owner, designed.pk, row.pk, name=row.name, recipe=recipe)
    draw_design(owner, designed.pk, seed=5)
    designed.refresh_from_db()
    set_bench(owner, {"hands": [NELL]})
    start(owner, designed.pk)
    plan(owner, designed, prepares=True)
    standing = standing_plan(designed)
    assert standing is not None
    own = standing.operations.filter(build_up=row).order_by("start_at", "pk")
    items = list(dict.fromkeys(each.item for each in own))
    assert items == ["sand", "wet", "sand again", "clean", "coat 1", "buff"]
    by_item = {each.item: each for each in own}
    # Wetted wood dries four hours before it is sanded again.
    dried = by_item["sand again"].start_at - by_item["wet"].end_at
    assert timedelta(hours=4) - timedelta(minutes=10) <= dried
    bare = standing.operations.filter(build_up__is_control=True, kind="work")
    assert {each.item for each in bare} == {"sand", "clean"}
    (view,) = [
        v for v in view_days(designed, work=by_item["sand"].pk).operations if v.row.pk == by_item["sand"].pk
    ]
    assert (view.what, view.short, view.cautions) == ("Sand 80-120-180", "sand", ("sanding-dust",))
    # Nobody writes down that it was sanded: the coat vouches for it, here and when it is planned again.
    press(owner, designed, "done", by_item["coat 1"])
    left = {
        (v.row.kind, v.row.item)
        for v in view_days(designed, n_days=2).operations
        if v.row.build_up_id == row.pk
    }
    assert ("work", "sand") not in left
    assert not [
        t
        for t in list_due(owner).things
        if t.kind == "work" and set(t.panels) & set(codes_of(by_item["sand"]))
    ]
    plan(owner, designed, again=True)
    again = standing_plan(Trial.objects.get(pk=designed.pk))
    assert again is not None
    assert again.prepares
    assert not [w for w in again.operations.filter(kind="work", build_up=row) if w.item != "buff"]


def test_the_log_tells_how_long_hands_take_and_plans_follow(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    set_bench(owner, {"hands": [NELL]})
    start(owner, designed.pk)
    plan(owner, designed, prepares=True)
    sand = operation(designed, "work", "sand")
    planned_min = (sand.end_at - sand.start_at).total_seconds() / 60 / len(codes_of(sand))
    codes = codes_of(sand)
    press(owner, designed, "begin", sand, codes[:1])
    bench_clock.turn(minutes=6 * len(codes))
    press(owner, designed, "done", sand)
    (pace,) = [each for each in view_bench(owner).paces if each.kind == "sand"]
    assert (pace.n_panels, pace.logged_min, pace.own) == (len(codes), 6.0, None)
    assert pace.planned_min == pytest.approx(planned_min, abs=0.02)
    assert pace.logged_minutes_per_m2 == pytest.approx(8.0 * (6 - 0.25) / (planned_min - 0.25), abs=0.05)
    set_bench(owner, {"paces": {"sand": pace.logged_minutes_per_m2, "buff": None}})
    plan(owner, designed, again=True)
    other = operation(designed, "work", "sand", "Skarn Waterborne Satin")
    taken = (other.end_at - other.start_at).total_seconds() / 60 / len(codes_of(other))
    assert taken == pytest.approx(6.0 * taken_share(designed, other, sand), rel=0.05)
    # What was logged is held against the pace that it was planned by.
    (pace,) = [each for each in view_bench(owner).paces if each.kind == "sand"]
    assert pace.logged_min == 6.0
    for wrong in ({"sand": 0}, {"sand": 1e9}, {"sing": 3}, {"sand": "fast"}):
        with pytest.raises(PlanError):
            set_bench(owner, {"paces": wrong})


def taken_share(trial: Trial, one: PlannedOperation, other: PlannedOperation) -> float:
    """How many grits the one is sanded with for each of the other."""
    grits = [
        len(row.version.recipe["preparation"]["grits"])
        for row in (one.build_up, other.build_up)
        if row is not None and row.version is not None
    ]
    return grits[0] / grits[1]


def test_as_each_is_ready_is_the_other_school_and_stands_from_the_start(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    assert designed.exposing == "together"
    update_trial(owner, designed.pk, exposing="as-ready")
    set_bench(owner, {"hands": [NELL]})
    start(owner, designed.pk)
    plan(owner, designed)
    bare = operation(designed, "lay", "wine-1h", "Bare control")
    oiled = operation(designed, "lay", "wine-1h")
    assert oiled.start_at - bare.start_at > timedelta(days=20)
    assert (bare.board, bare.shared) == ("", "Bare control")
    with pytest.raises(ConflictError, match="can no longer change"):
        update_trial(owner, designed.pk, exposing="together")


def test_the_stage_is_done_when_each_panel_that_counts_was_exposed(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    def stage() -> str:
        return summarise_trial(owner, designed.pk).stages["coat_and_cure"]

    assert stage() == "empty"
    set_bench(owner, {"hands": [NELL]})
    start(owner, designed.pk)
    plan(owner, designed)
    assert stage() == "under_way"
    lays = PlannedOperation.objects.filter(kind="lay", item="wine-1h").select_related("build_up")
    *others, last = sorted({code for row in lays for code in codes_of(row)})
    for row in lays:
        codes = [code for code in codes_of(row) if code in others]
        if codes:
            press(owner, designed, "done", row, codes)
    (row,) = [row for row in lays if last in codes_of(row)]
    entry = uuid4()
    press(owner, designed, "skip", row, [last], reason="No wine", client_id=entry)
    assert stage() == "under_way"
    spoil_panel(owner, designed.pk, panel=last, reason="Split")
    assert stage() == "done"


def test_another_trials_work_for_the_same_hands_is_told(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    trial = Trial.objects.get(pk=planned.pk)
    assert view_days(trial).others == ()
    other = create_trial(owner, name="Racks", species=["elm"], boards_per_species=2)
    add_build_up(owner, other.pk, name="Cobble", family="oil-varnish-blend", coats=2)
    draw_design(owner, other.pk, seed=2)
    plan(owner, other)
    (told,) = view_days(trial).others
    assert (told.trial_name, told.hands) == ("Racks", "Nell")
    own = PlannedOperation.objects.filter(
        plan__trial=other, start_at__lt=view_days(trial).shown[-1].closes_at
    )
    assert told.start_at == min(row.start_at for row in own)
    assert told.end_at == max(row.end_at for row in own)


def test_days_that_nobody_plans_for_are_refused(
    client_of: Callable[[Person | None], APIClient], owner: Person, planned: Trial
) -> None:
    client = client_of(owner)
    far = client.get(f"/api/trials/{planned.pk}/days?first=9999-12-31")
    assert (far.status_code, far.json()["field"]) == (400, "first")
    assert client.get(f"/api/trials/{planned.pk}/days?first=someday").status_code == 400


def test_a_tester_may_work_and_a_judge_may_not(
    owner: Person, planned: Trial, judge: Person, bench_clock: Turned
) -> None:
    from django.core.exceptions import PermissionDenied

    wren = add_person(owner, username="wren", display_name="Wren", role="tester", password=PASSWORD)
    press(wren, planned, "begin", operation(planned, "coat"))
    for forbidden in (
        lambda: press(judge, planned, "begin", operation(planned, "coat")),
        lambda: ask_for_plan(judge, planned.pk),
        lambda: stop_plan(judge, planned.pk),
        lambda: set_bench(judge, {"heat_blocks": 3}),
        lambda: mix_for(judge, planned.pk, build_up=1, item="coat 1", n_panels=1),
    ):
        with pytest.raises(PermissionDenied):
            forbidden()
    assert WorkEntry.objects.get().made_by == wren


# --- by HTTP


def test_the_whole_way_over_http(
    client_of: Callable[[Person | None], APIClient], owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    client = client_of(owner)
    base = f"/api/trials/{designed.pk}"
    bench = client.patch("/api/bench", {"hands": [NELL], "rack_places": 12}, format="json").json()
    assert bench["hands"][0]["hours"] == NELL["hours"]
    assert (
        client.post(f"{base}/start", {"unmeasured_because": "Cut already"}, format="json").status_code == 200
    )
    start_at = bench_clock.now().isoformat()
    asked = client.post(f"{base}/days/plan", {"start": start_at, "weighs": True}, format="json")
    assert (asked.status_code, asked.json()["job"]["state"]) == (202, "running")
    assert client.post(f"{base}/days/plan", {"start": "soon"}, format="json").json()["field"] == "start"
    make(BenchPlan.objects.get(), limit_s=0.05)

    days = client.get(f"{base}/days").json()
    assert days["job"] is None
    assert [lane["name"] for lane in days["hands"]] == ["Nell"]
    first = days["operations"][0]
    work = operation(designed, "coat")
    found = client.get(f"{base}/days?work={work.pk}").json()
    shown = next(each for each in found["operations"] if each["id"] == work.pk)
    assert (shown["what"], shown["product"]) == ("Coat 1", "Pure drying oil")
    assert [turn["code"] for turn in shown["turns"]] == codes_of(work)
    assert shown["wipe_after_min"] == [WIPE_FROM, WIPE_TO]
    assert first["start_at"] >= start_at[:16]

    entry = {
        "client_id": str(uuid4()),
        "entry": "done",
        "kind": "coat",
        "item": "coat 1",
        "panels": codes_of(work),
        "at": bench_clock.now().isoformat(),
        "hands": shown["hands_id"],
        "measured": {"temperature_c": 19.5, "humidity_pct": 52},
    }
    stands = client.post(f"{base}/days/entries", entry, format="json")
    assert stands.status_code == 200
    assert sorted(row["panel"] for row in stands.json()) == sorted(codes_of(work))
    again = client.get(f"{base}/days?work={work.pk}").json()
    done = next(each for each in again["operations"] if each["id"] == work.pk)
    assert (done["n_done"], done["last_entry"]) == (3, entry["client_id"])
    wipe = next(each for each in again["operations"] if each["kind"] == "wipe" and each["item"] == "coat 1")
    assert wipe["turns"][0]["opens_at"] is not None
    assert {caution["id"] for caution in wipe["cautions"]} == {"oily-rags"}

    log = client.get(f"{base}/days/log").json()
    assert {(row["what"], row["hands"], row["temperature_c"]) for row in log["works"]} == {
        ("Coat 1", "Nell", 19.5)
    }
    wrong = client.post(f"{base}/days/entries", {**entry, "entry": "sing"}, format="json")
    assert (wrong.status_code, wrong.json()["field"]) == (400, "entry")
    undone = {
        **entry,
        "client_id": str(uuid4()),
        "entry": "take_back",
        "undoes": entry["client_id"],
    }
    assert client.post(f"{base}/days/entries", undone, format="json").json() == []
    assert client.get(f"{base}/days/log").json()["works"] == []


def test_the_evidence_says_whether_windows_were_kept(
    owner: Person, planned: Trial, judge: Person, bench_clock: Turned
) -> None:
    for panel in TrialPanel.objects.filter(trial=planned):
        for spot in panel.spots.all():
            grade_spot(judge, planned, panel.code, spot.exposure, 4)

    def windows() -> tuple[str, str]:
        checks = weigh_evidence(Trial.objects.get(pk=planned.pk)).checks
        found = next(check for check in checks if check.check == "windows")
        return found.level, found.says

    assert windows()[0] == "warn"
    assert "Nobody wrote down" in windows()[1]
    codes = coat(owner, planned, bench_clock)
    # What is known of three panels says nothing of the others.
    assert windows()[0] == "warn"
    assert "The bench log knows 3 of 9 panels and shows no missed window on them" in windows()[1]
    bench_clock.turn(minutes=WIPE_TO + 10)
    press(owner, planned, "done", operation(planned, "wipe"), codes[:1])
    level, says = windows()
    assert level == "warn"
    assert says.startswith(f"{codes[0]}, coat 1: wiped off")
    # It is told once: what the log found is no deviation that somebody told of.
    checks = weigh_evidence(Trial.objects.get(pk=planned.pk)).checks
    assert next(check for check in checks if check.check == "deviations").level == "pass"


def test_hours_are_the_shops_own_whatever_its_zone(
    owner: Person, designed: Trial, bench_clock: Turned
) -> None:
    day = {"days": WEEK, "from": "09:00", "to": "17:00"}
    set_bench(owner, {"time_zone": "Asia/Tokyo", "hands": [{"name": "Nell", "hours": [day]}]})
    plan(owner, designed)
    view = view_days(Trial.objects.get(pk=designed.pk))
    shown = view.shown[0]
    # Nine to five in Tokyo is midnight to eight in UTC.
    assert (shown.opens_at.astimezone(UTC).hour, shown.closes_at.astimezone(UTC).hour) == (0, 8)
    starts = PlannedOperation.objects.values_list("start_at", flat=True)
    assert all(0 <= moment.astimezone(UTC).hour < 8 for moment in starts)
    assert shown.opens_at.utcoffset() == timedelta(hours=9)


# --- cups over build-ups


def two_of_one_product(owner: Person, draft: Trial) -> tuple[TrialBuildUp, TrialBuildUp]:
    """Two build-ups whose coats are put on from the same cup, planned and started."""
    product = add_item(owner, PRODUCTS, HARDOIL)
    first = add_build_up(owner, draft.pk, product=product.pk)
    second = add_build_up(owner, draft.pk, product=product.pk, name="Hardoil again")
    draw_design(owner, draft.pk, seed=3)
    set_bench(owner, {"hands": [NELL]})
    start(owner, draft.pk)
    plan(owner, draft)
    return first, second


def test_one_mix_serves_the_passes_of_several_build_ups(
    owner: Person, draft: Trial, bench_clock: Turned
) -> None:
    names = [row.name for row in two_of_one_product(owner, draft)]
    draft.refresh_from_db()
    passes = sorted(
        (operation(draft, "coat", build_up=name) for name in names), key=lambda work: work.start_at
    )
    early, late = passes
    shown = {view.row.pk: view for view in view_days(draft, work=early.pk).operations}
    opens, follows = shown[early.pk].cup, shown[late.pk].cup
    assert opens is not None
    assert follows is not None
    assert (opens.n_panels, opens.begun_with) == (6, None)
    assert opens.after == (f"{late.shared}, coat 1",)
    assert (follows.n_panels, follows.after) == (3, ())
    assert follows.begun_with == f"{early.shared}, coat 1"
    # 28 mL go on the wood of both, and half of it on the latter's: either is mixed as 50.
    assert [cup.cup.mixed_ml for cup in (opens, follows)] == [50, 50]

    mix = mix_for(owner, draft.pk, build_up=early.build_up_id or 0, item="coat 1", n_panels=3, work=early.pk)
    assert sum(part["amount"] for part in mix.amounts) == 50
    press(owner, draft, "done", early, measured={"mix": mix.pk})
    # It still counts down, for the other build-up's panels.
    assert [thing.kind for thing in list_due(owner).things if thing.kind == "mix"] == ["mix"]
    press(owner, draft, "done", late, measured={"mix": mix.pk})
    assert not [thing for thing in list_due(owner).things if thing.kind == "mix"]
    oil = operation(draft, "coat", build_up="Marrowby Tung")
    with pytest.raises(PlanError, match="not for this coat"):
        press(owner, draft, "done", oil, measured={"mix": mix.pk})


def test_what_is_mixed_is_what_the_card_says_when_panels_are_given_up_or_spoiled(
    owner: Person, draft: Trial, bench_clock: Turned
) -> None:
    set_bench(owner, {"cup_step_ml": 0.05})
    names = [row.name for row in two_of_one_product(owner, draft)]
    draft.refresh_from_db()
    first, second = (
        sorted((operation(draft, "coat", item, build_up=n) for n in names), key=lambda work: work.start_at)
        for item in ("coat 1", "coat 2")
    )

    def shown(work: PlannedOperation) -> CupAhead:
        (cup,) = [v.cup for v in view_days(draft, work=work.pk).operations if v.row.pk == work.pk]
        assert cup is not None
        return cup

    assert [shown(each[0]).n_panels for each in (first, second)] == [6, 6]
    press(owner, draft, "skip", first[1], codes_of(first[1])[:2], reason="Dropped")
    spoil_panel(owner, draft.pk, panel=codes_of(second[1])[2], reason="Split")
    for work, n_panels in ((first[0], 3), (second[0], 5)):
        cup = shown(work)
        assert cup.n_panels == n_panels
        mix = mix_for(
            owner, draft.pk, build_up=work.build_up_id or 0, item=work.item, n_panels=3, work=work.pk
        )
        assert [part["amount"] for part in mix.amounts] == [part.amount for part in cup.cup.amounts]


def test_what_is_bought_follows_the_mixes_of_the_plan_and_the_shops_measure(
    owner: Person, draft: Trial, bench_clock: Turned
) -> None:
    two_of_one_product(owner, draft)
    draft.refresh_from_db()
    planned_for = shop_for_trial(draft)
    (need,) = planned_for.products
    mixes = {
        view.cup.begun_with or view.row.pk: view.cup.cup.mixed_ml
        for work in PlannedOperation.objects.filter(kind="coat", build_up__name__contains="Hardoil")
        for view in view_days(draft, work=work.pk).operations
        if view.cup is not None and view.cup.cup.content.is_mixed and view.cup.begun_with is None
    }
    assert planned_for.is_planned
    assert need.mixed_ml == pytest.approx(sum(mixes.values()))
    assert need.mixed_ml >= need.spread_ml
    # A finer syringe portions out less, and less is bought.
    set_bench(owner, {"cup_step_ml": 0.1})
    (finer,) = shop_for_trial(Trial.objects.get(pk=draft.pk)).products
    assert finer.spread_ml == pytest.approx(need.spread_ml)
    assert finer.mixed_ml < need.mixed_ml


def test_a_mix_is_for_the_panels_that_are_asked_for_without_a_plan_of_its_own(
    owner: Person, draft: Trial, bench_clock: Turned
) -> None:
    first, _ = two_of_one_product(owner, draft)
    mix = mix_for(owner, draft.pk, build_up=first.pk, item="coat 1", n_panels=3, work=0)
    assert mix.serves == [[first.pk, "coat 1"]]
    # What is measured with has a step.
    with pytest.raises(IntegrityError):
        set_bench(owner, {"scale_step_g": 0})


def test_money_and_measures_of_the_shop_are_set_at_the_bench(
    client_of: Callable[[Person | None], APIClient], owner: Person
) -> None:
    client = client_of(owner)
    prices = {"spirit": 8, "alcohol": None, "strong_solvent": 24.5}
    fields = {"cup_step_ml": 0.1, "scale_step_g": 0.01, "currency": " € ", "thinner_prices": prices}
    shown = client.patch("/api/bench", fields, format="json").json()
    assert (shown["cup_step_ml"], shown["scale_step_g"], shown["currency"]) == (0.1, 0.01, "€")
    assert shown["thinner_prices"] == prices
    owner.shop.refresh_from_db()
    assert owner.shop.thinner_prices == {"spirit": 8, "strong-solvent": 24.5}
    assert client.get("/api/session").json()["currency"] == "€"
    for wrong in ({"cup_step_ml": 0}, {"thinner_prices": {"spirit": -1}}, {"currency": "far too long"}):
        assert client.patch("/api/bench", wrong, format="json").status_code == 400, wrong
