"""Several trials of one shop planned at once: each part sound alone, and all of them sound together."""

from __future__ import annotations

import time
from dataclasses import replace
from datetime import timedelta
from typing import Any

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nublet.core.bench.evenness import closed_steps
from nublet.core.bench.joint import Part, plan_jointly
from nublet.core.bench.keys import WorkKey
from nublet.core.bench.replan import Replan
from nublet.core.planning.plan import NoPlan, Plan, Progress, make_plan
from nublet.core.planning.spec import PlanSpec
from nublet.formats.schedule_json import plan_spec_from_plain, plan_spec_to_plain, plan_to_json
from tests.core.plan_checks import faults_of
from tests.core.plan_specs import plan_specs
from tests.core.test_busy import merged
from tests.core.test_evenness import spec as until_even
from tests.core.test_planning import SMALL, changed
from tests.core.test_replan import done_before
from tests.core.test_replan import merged as before_and_after
from tests.core.test_together import exposure, three

TOGETHER = three(exposure("coffee"), exposure("wine"))


def jointly(parts: list[Part], **more: Any) -> list[Replan | None]:
    return plan_jointly(parts, **{"clock": time.monotonic, "limit_s": 0.3, **more})


def of_one_shop(*plains: dict[str, Any]) -> list[dict[str, Any]]:
    """The same hands, hours and things for all."""
    shop = {key: value for key, value in plains[0].items() if key not in ("groups", "together")}
    return [shop | {key: each[key] for key in ("groups", "together") if key in each} for each in plains]


def parts_of(plains: list[dict[str, Any]]) -> list[Part]:
    return [Part(spec=plan_spec_from_plain(plain)) for plain in plains]


def plans_of(found: list[Replan | None]) -> list[Plan]:
    plans = [each.plan for each in found if each is not None]
    assert len(plans) == len(found)
    assert all(isinstance(plan, Plan) for plan in plans)
    return plans  # type: ignore[return-value]


@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True)
@given(plan_specs(), plan_specs())
def test_each_part_is_sound_and_all_of_them_are_sound_together(
    one: dict[str, Any], two: dict[str, Any]
) -> None:
    plains = of_one_shop(one, two)
    alone = [make_plan(plan_spec_from_plain(plain), clock=time.monotonic, limit_s=0.05) for plain in plains]
    found = jointly(parts_of(plains))
    # What cannot be planned alone cannot be beside another, and nothing else is in the way.
    told = [None if each is None else isinstance(each.plan, Plan) for each in found]
    can = [isinstance(each, Plan) for each in alone]
    if not all(can):
        assert told == [None if each else False for each in can]
        return
    plans = plans_of(found)
    for plain, plan in zip(plains, plans, strict=True):
        assert faults_of(plain, plan_to_json(plan)) == []
    assert faults_of(*merged(plains, plans)) == []


@settings(max_examples=15, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True)
@given(plan_specs(), plan_specs(), st.floats(0, 1), st.integers(0, 3 * 86_400))
def test_what_is_left_of_several_is_planned_again_together(
    one: dict[str, Any], two: dict[str, Any], share: float, later_s: int
) -> None:
    plains = of_one_shop(one, two)
    specs = [plan_spec_from_plain(plain) for plain in plains]
    first = make_plan(specs[0], clock=time.monotonic, limit_s=0.05)
    if not isinstance(first, Plan) or isinstance(
        make_plan(specs[1], clock=time.monotonic, limit_s=0.0), NoPlan
    ):
        return
    starts = sorted(panel.start_s for operation in first.operations for panel in operation.panels)
    now_s = starts[round(share * (len(starts) - 1))]
    # The other begins later, by its own clock.
    done = done_before(first, now_s)
    later_s = min(later_s, now_s)
    second = replace(specs[1], start=specs[1].start + timedelta(seconds=later_s))
    found = jointly([Part(spec=specs[0], done=done, now_s=now_s), Part(spec=second, now_s=now_s - later_s)])
    if any(each is None or isinstance(each.plan, NoPlan) for each in found):
        return
    went, fresh = found
    assert went is not None
    assert fresh is not None
    assert isinstance(fresh.plan, Plan)
    plain = plan_spec_to_plain(second)
    assert faults_of(plain, plan_to_json(fresh.plan)) == []
    assert min(each.start_s for each in fresh.plan.operations) >= now_s - later_s
    if went.late or went.findings or went.left_out:
        return
    whole = before_and_after(plains[0], first, went, now_s)
    assert faults_of(plains[0], whole) == []


def test_each_keeps_its_own_way_of_exposing() -> None:
    plains = of_one_shop(TOGETHER, SMALL)
    by_board, as_ready = plans_of(jointly(parts_of(plains)))
    boards = set(plan_spec_from_plain(TOGETHER).boards)
    assert {each.board for each in by_board.operations if each.kind == "lay"} == boards
    assert {each.board for each in as_ready.operations} == {""}


def test_whichever_was_given_first_they_end_as_soon_altogether() -> None:
    # One whose cure leaves the hands free, and one that would take all of the first days.
    long = changed("groups.0.panels", 60, changed("groups.0.cure_h", 24))
    ends = []
    for plains in (of_one_shop(SMALL, long), of_one_shop(long, SMALL)):
        ends.append(sorted(plan.end_s for plan in plans_of(jointly(parts_of(plains), limit_s=2.0))))
    assert abs(sum(ends[0]) - sum(ends[1])) < 0.02 * sum(ends[0])


def test_the_best_so_far_is_told_and_can_be_had_at_once() -> None:
    told: list[Progress | None] = []

    def tell(progress: Progress | None) -> bool:
        told.append(progress)
        return True

    plans = plans_of(plan_jointly(parts_of([SMALL, SMALL]), clock=time.monotonic, limit_s=5.0, tell=tell))
    assert told[0] is None
    # Stopped from the first word on, but for what must be there to be had.
    assert max(plan.end_s for plan in plans) <= 9 * 86_400
    assert faults_of(*merged([SMALL, SMALL], plans)) == []


def test_where_one_cannot_be_planned_it_says_why_and_the_other_waits() -> None:
    cannot = changed("groups.0.steps.0.pot_life_min", 0.5)
    sound, stuck = jointly(parts_of([SMALL, cannot]))
    assert sound is None
    assert stuck is not None
    assert isinstance(stuck.plan, NoPlan)
    assert stuck.plan.reasons[0].groups == ("A",)


def test_what_an_even_sheen_closes_stays_closed_beside_another() -> None:
    spec: PlanSpec = until_even()
    closed = closed_steps(spec, [WorkKey("A-1", "c2", "coat")])
    fresh = plan_spec_from_plain({**plan_spec_to_plain(spec), "groups": SMALL["groups"]})
    first = make_plan(spec, clock=time.monotonic, limit_s=0.05)
    assert isinstance(first, Plan)
    now_s = 30 * 3600
    done = [work for work in done_before(first, now_s) if work.item == "c1"]
    went, _ = jointly([Part(spec=spec, done=done, closed=closed, now_s=now_s), Part(spec=fresh, now_s=now_s)])
    assert went is not None
    assert isinstance(went.plan, Plan)
    items = {each.item for each in went.plan.operations for panel in each.panels if panel.panel == "A-1"}
    assert items == {"wax", "wine"}
