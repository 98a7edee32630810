"""Planning again from now, and judging what was missed."""

from __future__ import annotations

import time
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nublet.core.bench.findings import Finding
from nublet.core.bench.judging import judge, judge_climate
from nublet.core.bench.keys import DoneWork
from nublet.core.bench.replan import Replan, replan
from nublet.core.planning.plan import Plan, make_plan
from nublet.core.planning.spec import PlanSpec
from nublet.formats.schedule_json import plan_spec_from_plain, plan_to_json
from tests.core.plan_checks import faults_of
from tests.core.plan_specs import WEEK, large_spec, plan_specs
from tests.core.test_planning import SMALL, changed

DAY_S = 86_400


def made(plain: dict[str, Any]) -> tuple[PlanSpec, Plan]:
    spec = plan_spec_from_plain(plain)
    plan = make_plan(spec, clock=time.monotonic, limit_s=0.05)
    assert isinstance(plan, Plan)
    return spec, plan


def done_before(plan: Plan, now_s: int) -> list[DoneWork]:
    """What was begun by then, done as it was planned."""
    return [
        DoneWork(
            group=panel.group,
            panel=panel.panel,
            item=operation.item,
            kind=operation.kind,
            start_s=panel.start_s,
            end_s=panel.end_s,
            look_after_min=operation.look_after_min or 0.0,
            act=operation.act,
        )
        for operation in plan.operations
        for panel in operation.panels
        if panel.start_s < now_s
    ]


def again(spec: PlanSpec, done: list[DoneWork], now_s: int, *, limit_s: float = 0.1, **more: Any) -> Replan:
    return replan(spec, done, now_s, clock=time.monotonic, limit_s=limit_s, **more)


def merged(plain: dict[str, Any], plan: Plan, rest: Replan, now_s: int) -> dict[str, Any]:
    """The old plan up to now and the new one from now, as one."""
    assert isinstance(rest.plan, Plan)
    operations = []
    now = (plan.spec.start + timedelta(seconds=now_s)).isoformat(timespec="seconds")
    for shown in plan_to_json(plan)["operations"]:
        kept = [panel for panel in shown["panels"] if panel["start"] < now]
        operations += [shown | {"panels": kept}] if kept else []
    operations += plan_to_json(rest.plan)["operations"]
    end = max(panel["end"] for operation in operations for panel in operation["panels"])
    return {"feasible": True, "operations": operations, "end": end, "lower_bound_end": plain["start"]}


@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True)
@given(plan_specs(), st.floats(0, 1))
def test_what_was_done_and_what_is_planned_again_make_one_sound_plan(
    plain: dict[str, Any], share: float
) -> None:
    spec = plan_spec_from_plain(plain)
    plan = make_plan(spec, clock=time.monotonic, limit_s=0.05)
    if not isinstance(plan, Plan):
        return
    starts = sorted(panel.start_s for operation in plan.operations for panel in operation.panels)
    now_s = starts[int(share * (len(starts) - 1))]
    done = done_before(plan, now_s)
    # What is under way is finished before anything else is begun.
    then_s = int(max([now_s, *[work.end_s for work in done]]))
    rest = again(spec, done, then_s)
    assert rest.findings == ()
    if not rest.late:
        # A weighing before a coat is done again when the coat itself was not begun; a board that was begun goes on when it can.
        excused = ["weigh", *(f"{item} on {board}" for board, item in begun_boards(plan, now_s))]
        excused += [f"those of {board}" for board, _ in begun_boards(plan, now_s)]
        faults = faults_of(plain, merged(plain, plan, rest, now_s))
        assert [fault for fault in faults if not any(each in fault for each in excused)] == []


def begun_boards(plan: Plan, now_s: int) -> set[tuple[str, str]]:
    """Boards, and what was begun on some of their panels before a moment and on others after it."""
    begun: dict[tuple[str, str], set[bool]] = {}
    for operation in plan.operations:
        if operation.board and operation.kind in ("lay", "act"):
            for panel in operation.panels:
                begun.setdefault((operation.board, operation.item), set()).add(panel.start_s < now_s)
    return {key for key, when in begun.items() if len(when) == 2}


def test_nothing_left_is_an_empty_plan() -> None:
    spec, plan = made(SMALL)
    rest = again(spec, done_before(plan, plan.end_s + 1), plan.end_s + 60)
    assert isinstance(rest.plan, Plan)
    assert (rest.plan.operations, rest.findings) == ((), ())


def test_what_is_overdue_is_not_put_off_for_an_earlier_end() -> None:
    (group,) = SMALL["groups"]
    slow = {**group, "id": "B", "panels": 4, "cure_h": 1000}
    quick = {**group, "panels": 4, "cure_h": 24}
    always = [{"days": WEEK, "from": "00:01", "to": "00:00"}]
    spec = plan_spec_from_plain({**SMALL, "hours": always, "groups": [quick, slow]})
    coated = [
        DoneWork(group="A", panel=f"A-{n + 1}", item="A1", kind="coat", start_s=90 * n, end_s=90 * (n + 1))
        for n in range(4)
    ]
    # The end is that of the slow ones, and comes the sooner the sooner their first coat is on.
    rest = again(spec, coated, 20 * 60, limit_s=0.5)
    assert isinstance(rest.plan, Plan)
    first = rest.plan.operations[0]
    assert (first.group, first.kind, first.start_s) == ("A", "wipe", 20 * 60)


@pytest.mark.parametrize("limit_s", [0, 0.1, 0.6])
@pytest.mark.parametrize("seed", range(3))
def test_a_missed_wipe_off_is_done_at_once_and_judged(limit_s: float, seed: int) -> None:
    spec, plan = made(SMALL)
    coated = [work for work in done_before(plan, 6 * 60) if work.kind == "coat"]
    assert [work.panel for work in coated] == ["A-1", "A-2", "A-3", "A-4"]
    now_s = 20 * 60
    rest = again(spec, coated, now_s, limit_s=limit_s, seed=seed)
    assert isinstance(rest.plan, Plan)
    # However long the planner seeks, it puts off nothing that is overdue.
    first = rest.plan.operations[0]
    assert (first.kind, first.start_s) == ("wipe", now_s)
    # The first was coated by 1:30 and should have been wiped by 16:30; the last by 21:00.
    late = {finding.panel: finding for finding in rest.findings}
    assert set(late) == {"A-1", "A-2", "A-3"}
    assert [late[panel].judgement for panel in ("A-1", "A-2", "A-3")] == ["deviation", "deviation", "usable"]
    assert late["A-1"].says == "A-1, A1: wiped off 3 min 30 s too late; the film had begun to set."
    assert not any(finding.is_done for finding in rest.findings)


def test_a_wipe_off_forgotten_for_an_hour_spoils_the_panel_and_the_rest_goes_on() -> None:
    spec, plan = made(SMALL)
    coated = [work for work in done_before(plan, 6 * 60) if work.kind == "coat"]
    rest = again(spec, coated, 3600)
    assert {finding.judgement for finding in rest.findings} == {"spoiled"}
    assert rest.left_out == tuple(("A", f"A-{i}") for i in range(1, 5))
    assert isinstance(rest.plan, Plan)
    assert {panel.panel for o in rest.plan.operations for panel in o.panels} == {
        f"A-{i}" for i in range(5, 9)
    }


def test_a_window_that_can_no_longer_be_met_is_named_before_it_is_missed() -> None:
    """Coated late in the day, to be wiped after the hands have gone home."""
    plain = changed("groups.0.steps.0.wipe", {"after_min": [30, 60], "minutes_per_panel": 1})
    spec = plan_spec_from_plain(plain)
    at = 8 * 3600 + 25 * 60
    coats = [
        DoneWork(group="A", panel="A-1", item="A1", kind="coat", start_s=at, end_s=at + 90),
    ]
    rest = again(spec, coats, at + 120)
    assert rest.late == ("A-1: wipe of A1 cannot be done in its window any more.",)
    assert rest.findings == ()
    assert isinstance(rest.plan, Plan)


def test_a_lost_look_is_left_out_and_the_next_is_kept() -> None:
    looks = [{"after_min": after, "tolerance_min": 5, "minutes_per_panel": 0.3} for after in (20, 120)]
    spec, plan = made(changed("groups.0.exposures.0.looks", looks))
    lifted = next(o for o in plan.operations if o.kind == "lift")
    rest = again(spec, done_before(plan, lifted.end_s), lifted.end_s + 50 * 60)
    assert {(f.kind, f.judgement, f.whole_panel) for f in rest.findings} == {("late-look", "spoiled", False)}
    assert isinstance(rest.plan, Plan)
    assert {(o.kind, o.look_after_min) for o in rest.plan.operations} == {("look", 120)}


def test_large_replan_after_a_missed_wipe_off_holds_all_other_windows() -> None:
    plain = large_spec(n_groups=5, n_panels=6, n_exposures=5)
    spec, plan = made(plain)
    wipe = next(o for o in plan.operations if o.kind == "wipe" and o.item == "B1")
    done = [work for work in done_before(plan, wipe.end_s) if not (work.kind == "wipe" and work.item == "B1")]
    now_s = int(wipe.panels[0].start_s + 16 * 60)
    rest = again(spec, done, now_s)
    assert isinstance(rest.plan, Plan)
    assert {finding.kind for finding in rest.findings} == {"late-wipe"}
    late = {finding.panel for finding in rest.findings}
    faults = faults_of(plain, merged(plain, plan, rest, wipe.start_s))
    assert all(any(f"on {panel} " in fault for panel in late) for fault in faults), faults


def test_a_solvent_airs_on_when_the_rest_is_planned_again() -> None:
    hot = SMALL["groups"][0]["exposures"][0] | {"id": "dry-heat", "heat_block": True, "duration_min": 20}
    oiled = {"id": "A", "panels": 1, "steps": [{"id": "A1", "minutes_per_panel": 1}]}
    plain = SMALL | {"groups": [oiled, {"id": "B", "panels": 1, "exposures": [hot]}], "airing_min": 240}
    coat = DoneWork(group="A", panel="A-1", item="A1", kind="coat", start_s=0, end_s=60)
    rest = again(plan_spec_from_plain(plain), [coat], 120)
    assert isinstance(rest.plan, Plan)
    assert [o.kind for o in rest.plan.operations] == ["lay", "lift", "look"]
    assert rest.plan.operations[0].start_s >= 60 + 240 * 60


def off(changes: dict[str, float], key: tuple[str, str]) -> list[Finding]:
    """The findings of a small plan in which one piece of work on the first panel was shifted."""
    spec, plan = made(SMALL)
    done = [
        replace(work, **{name: getattr(work, name) + by for name, by in changes.items()})
        if (work.kind, work.item, work.panel) == (*key, "A-1")
        else work
        for work in done_before(plan, plan.end_s + 1)
    ]
    return judge(spec, done)


@pytest.mark.parametrize(
    ("key", "shift_s", "kind", "judgement"),
    [
        (("wipe", "A1"), 10.4 * 60, None, None),
        (("wipe", "A1"), 11 * 60, "late-wipe", "usable"),
        (("wipe", "A1"), 15 * 60, "late-wipe", "deviation"),
        (("wipe", "A1"), 40 * 60, "late-wipe", "spoiled"),
        (("wipe", "A1"), -4 * 60, "early-wipe", "deviation"),
        (("coat", "A2"), -3 * 3600, "early-recoat", "deviation"),
        (("coat", "A2"), -20 * 3600, "early-recoat", "spoiled"),
        (("coat", "A2"), 60 * 3600, "late-recoat", "deviation"),
        (("lay", "coffee-1h"), -30 * 3600, "uncured-exposure", "deviation"),
        (("lay", "coffee-1h"), -55 * 3600, "uncured-exposure", "spoiled"),
        (("lay", "coffee-1h"), -80 * 3600, "uncured-exposure", "spoiled"),
        (("lift", "coffee-1h"), 6 * 60, "late-lift", "deviation"),
        (("lift", "coffee-1h"), 3600, "late-lift", "spoiled"),
        (("look", "coffee-1h"), 13 * 60, "late-look", "deviation"),
        (("look", "coffee-1h"), -11 * 60, "early-look", "deviation"),
    ],
)
def test_each_kind_of_miss_is_found_and_judged(
    key: tuple[str, str], shift_s: float, kind: str | None, judgement: str | None
) -> None:
    found = {
        (f.kind, f.judgement) for f in off({"start_s": shift_s, "end_s": shift_s}, key) if f.item == key[1]
    }
    if kind is None:
        assert found == set()
    else:
        assert (kind, judgement) in found


def test_the_air_of_the_shop() -> None:
    assert judge_climate(20, 50) == judge_climate(None, None) == []
    assert [kind for kind, _ in judge_climate(12, 80)] == ["cold-shop", "damp-shop"]
    assert judge_climate(12, 50, coldest_c=10) == []
    assert judge_climate(14.5, None)[0][1] == "coated at 14.5 °C; it wants 15 °C or more, and cures slower."
