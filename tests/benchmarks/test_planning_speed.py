"""The planner on the large case: how near its bound, how much better than first come, first served, and how long.

The ratios are printed and go into the benchmark report (``extra_info``).
"""

from __future__ import annotations

import time
from dataclasses import replace
from typing import Any

import pytest

from nublet.core.bench.joint import Part, plan_jointly
from nublet.core.bench.replan import replan
from nublet.core.planning.bench import Bench
from nublet.core.planning.bound import earliest_end
from nublet.core.planning.busy import busy_with
from nublet.core.planning.construct import (
    Placement,
    first_horizon,
    merit_of,
    released_at,
    split_work,
    trial_horizon,
)
from nublet.core.planning.plan import Plan, make_plan
from nublet.core.planning.spec import Busy, PlanSpec
from nublet.formats.schedule_json import plan_spec_from_plain, plan_to_json
from tests.core.plan_checks import faults_of, greatest_gap
from tests.core.plan_specs import large_spec, together
from tests.core.test_replan import done_before


def first_come(spec: PlanSpec) -> tuple[int, int]:
    """Ends of two greedy plans.

    The first takes the passes in the order of the list, each at the earliest moment that suits it and never before
    the one in front of it. The second may go back and fill what was left free.
    """
    work = split_work(spec)
    ends = []
    for goes_back in (False, True):
        bench, placement = Bench(spec, 6 * first_horizon(work) + trial_horizon(spec)), Placement()
        front = {True: 0, False: 0}
        for chain in work.chains:
            stage = bool(chain.releases)
            released = max(released_at(chain, placement), 0 if goes_back else front[stage])
            placed = bench.place(chain, released)
            assert placed is not None
            front[stage] = placed[0].start_s
            bench.book(chain, placed)
            placement[chain.number] = placed
        ends.append(merit_of(bench, work.chains, placement).end_s)
    return ends[0], ends[1]


@pytest.mark.slow
@pytest.mark.benchmark(group="the large plan")
@pytest.mark.parametrize("n_hot", [0, 2])
def test_large_plan(benchmark: Any, n_hot: int) -> None:
    # In a run that measures nothing a quarter of it, so that the body cannot rot.
    is_measured = not benchmark.disabled
    plain = large_spec(n_hot=n_hot) if is_measured else large_spec(n_hot=n_hot, n_groups=3)
    spec = plan_spec_from_plain(plain)
    plan = benchmark.pedantic(
        make_plan,
        args=(spec,),
        kwargs={"clock": time.monotonic, "limit_s": None if is_measured else 1},
        rounds=1,
    )
    assert isinstance(plan, Plan)
    shown = plan_to_json(plan)
    assert faults_of(plain, shown) == []
    in_order, going_back = first_come(spec)
    benchmark.extra_info |= {
        "end over lower bound": round(greatest_gap(shown), 3),
        "first come, never going back, over ours": round(in_order / plan.end_s, 2),
        "first come, filling gaps, over ours": round(going_back / plan.end_s, 3),
        "sittings": plan.n_sittings,
    }
    print(benchmark.extra_info)
    assert in_order > plan.end_s
    if is_measured:
        assert greatest_gap(shown) <= 1.1


@pytest.mark.slow
@pytest.mark.benchmark(group="the large plan, exposed together")
@pytest.mark.parametrize("n_hot", [0, 2])
def test_large_plan_exposed_together(benchmark: Any, n_hot: int) -> None:
    """How near its bound, and what it costs against each build-up as it is ready, in days."""
    is_measured = not benchmark.disabled
    apart = large_spec(n_hot=n_hot) if is_measured else large_spec(n_hot=n_hot, n_groups=3)
    plain = together(apart)
    limit_s = None if is_measured else 1
    plan = benchmark.pedantic(
        make_plan,
        args=(plan_spec_from_plain(plain),),
        kwargs={"clock": time.monotonic, "limit_s": limit_s},
        rounds=1,
    )
    other = make_plan(plan_spec_from_plain(apart), clock=time.monotonic, limit_s=limit_s)
    assert isinstance(plan, Plan)
    assert isinstance(other, Plan)
    shown = plan_to_json(plan)
    assert faults_of(plain, shown) == []
    benchmark.extra_info |= {
        "end over lower bound": round(greatest_gap(shown), 3),
        "days": round(plan.end_s / 86_400, 1),
        "days, as each is ready": round(other.end_s / 86_400, 1),
    }
    print(benchmark.extra_info)
    if is_measured:
        assert greatest_gap(shown) <= 1.15


@pytest.mark.slow
@pytest.mark.benchmark(group="trials planned at once")
@pytest.mark.parametrize("n_trials", [2, 3])
def test_trials_planned_at_once(benchmark: Any, n_trials: int) -> None:
    """The large case as several trials: the sum of their ends over that of one after the other, each with all the time it wants."""
    is_measured = not benchmark.disabled
    whole = together(large_spec() if is_measured else large_spec(n_groups=n_trials))
    n = len(whole["groups"])
    plains = [
        {**whole, "groups": whole["groups"][k * n // n_trials : (k + 1) * n // n_trials]}
        for k in range(n_trials)
    ]
    specs = [plan_spec_from_plain(plain) for plain in plains]
    limit_s = None if is_measured else 1.0
    found = benchmark.pedantic(
        plan_jointly,
        args=([Part(spec=spec) for spec in specs],),
        kwargs={"clock": time.monotonic, "limit_s": limit_s},
        rounds=1,
    )
    ends = [each.plan.end_s for each in found]
    for plain, each in zip(plains, found, strict=True):
        assert faults_of(plain, plan_to_json(each.plan)) == []
    plans: list[Plan] = []
    for spec in specs:
        taken = [busy_with(plan.spec, plan.operations) for plan in plans]
        busy = Busy(
            hands=tuple(one for each in taken for one in each.hands),
            air=tuple(one for each in taken for one in each.air),
        )
        plan = make_plan(replace(spec, busy=busy), clock=time.monotonic, limit_s=limit_s)
        assert isinstance(plan, Plan)
        plans.append(replace(plan, spec=spec))
    ratio = sum(ends) / sum(plan.end_s for plan in plans)
    benchmark.extra_info |= {
        "days at once": [round(end / 86_400, 1) for end in ends],
        "days one after the other": [round(plan.end_s / 86_400, 1) for plan in plans],
        "sum over sum": round(ratio, 3),
    }
    print(benchmark.extra_info)
    if is_measured:
        assert ratio <= 1.1


@pytest.mark.slow
@pytest.mark.benchmark(group="planning again")
def test_replan_of_the_large_case_after_a_missed_wipe_off(benchmark: Any) -> None:
    is_measured = not benchmark.disabled
    spec = plan_spec_from_plain(large_spec() if is_measured else large_spec(n_groups=3))
    plan = make_plan(spec, clock=time.monotonic, limit_s=1)
    assert isinstance(plan, Plan)
    wipe = next(
        operation for operation in plan.operations if operation.kind == "wipe" and operation.item == "B1"
    )
    done = [work for work in done_before(plan, wipe.end_s) if not (work.kind == "wipe" and work.item == "B1")]
    rest = benchmark.pedantic(
        replan,
        args=(spec, done, wipe.start_s + 16 * 60),
        kwargs={"clock": time.monotonic, "limit_s": 3},
        rounds=1,
    )
    assert {finding.kind for finding in rest.findings} == {"late-wipe"}
    assert isinstance(rest.plan, Plan)
    assert rest.plan.operations[0].kind == "wipe"


@pytest.mark.benchmark(group="the bound")
def test_bound_of_a_trial(benchmark: Any) -> None:
    spec = plan_spec_from_plain(large_spec(n_groups=4, n_panels=4, n_exposures=6))
    assert benchmark(earliest_end, spec, 30 * 86_400) <= 30 * 86_400
    alone = replace(spec, groups=spec.groups[:1])
    assert earliest_end(alone, 30 * 86_400) <= earliest_end(spec, 30 * 86_400)


@pytest.mark.slow
@pytest.mark.benchmark(group="the large plan")
def test_short_exposures(benchmark: Any) -> None:
    """All exposures of an hour, a look a day later: eight panels at a time leave gaps that smaller passes fill."""
    plain = large_spec(n_groups=6)
    for group in plain["groups"]:
        for number, exposure in enumerate(group["exposures"]):
            exposure |= {"id": f"agent-{number}", "duration_min": 60, "tolerance_min": 2}
    spec = plan_spec_from_plain(plain)
    plan = benchmark.pedantic(
        make_plan, args=(spec,), kwargs={"clock": time.monotonic, "limit_s": 4}, rounds=1
    )
    shown = plan_to_json(plan)
    assert faults_of(plain, shown) == []
    benchmark.extra_info["end over the bound"] = greatest_gap(shown)
    print(f"\nshort exposures: end {greatest_gap(shown):.3f} of the bound")
