"""Plans of several trials of one shop: each is made round what stands in the others."""

from __future__ import annotations

import copy
import time
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings

from nublet.core.bench.keys import DoneWork
from nublet.core.errors import PlanError
from nublet.core.planning.busy import busy_with
from nublet.core.planning.plan import Plan, make_plan
from nublet.core.planning.spec import Busy
from nublet.formats.schedule_json import plan_spec_from_plain, plan_spec_to_plain, plan_to_json
from tests.core.plan_checks import faults_of
from tests.core.plan_specs import plan_specs
from tests.core.test_planning import SMALL, changed


def made(plain: dict[str, Any], *, limit_s: float = 0.1) -> Plan:
    plan = make_plan(plan_spec_from_plain(plain), clock=time.monotonic, limit_s=limit_s)
    assert isinstance(plan, Plan)
    return plan


def round_it(plain: dict[str, Any], other: Plan) -> dict[str, Any]:
    """The same, to be planned round another plan."""
    spec = plan_spec_from_plain(plain)
    busy = busy_with(other.spec, other.operations)
    return plain | {"busy": plan_spec_to_plain(type(spec)(**{**vars_of(spec), "busy": busy}))["busy"]}


def vars_of(spec: Any) -> dict[str, Any]:
    return {name: getattr(spec, name) for name in spec.__dataclass_fields__}


def merged(plains: list[dict[str, Any]], plans: list[Plan]) -> tuple[dict[str, Any], dict[str, Any]]:
    """Two trials as one specification and one plan, for the checker of one: groups and items by the trial's number."""
    spec = copy.deepcopy(plains[0]) | {"groups": []}
    operations = []
    for number, (plain, plan) in enumerate(zip(plains, plans, strict=True)):
        for group in copy.deepcopy(plain["groups"]):
            named = group["panels"]
            panels = named if isinstance(named, list) else [f"{group['id']}-{i + 1}" for i in range(named)]
            for step in group.get("steps") or []:
                step.setdefault("product", group["id"])
            spec["groups"].append(group | {"id": f"{number} {group['id']}", "panels": panels})
        for operation in plan_to_json(plan)["operations"]:
            operations.append(operation | {"group": f"{number} {operation['group']}"})
    spec.pop("together", None)
    end = max(panel["end"] for operation in operations for panel in operation["panels"])
    return spec, {"feasible": True, "operations": operations, "end": end, "lower_bound_end": spec["start"]}


@settings(max_examples=20, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True)
@given(plan_specs(), plan_specs())
def test_two_trials_planned_one_round_the_other_make_one_sound_plan(
    one: dict[str, Any], two: dict[str, Any]
) -> None:
    # One shop: the same hands, hours and things.
    shop = {key: value for key, value in one.items() if key not in ("groups", "together")}
    two = shop | {key: two[key] for key in ("groups", "together") if key in two}
    first = make_plan(plan_spec_from_plain(one), clock=time.monotonic, limit_s=0.05)
    if not isinstance(first, Plan):
        return
    plain = round_it(two, first)
    second = make_plan(plan_spec_from_plain(plain), clock=time.monotonic, limit_s=0.05)
    if not isinstance(second, Plan):
        # Then it cannot be planned alone either.
        assert not isinstance(make_plan(plan_spec_from_plain(two), clock=time.monotonic, limit_s=0.05), Plan)
        return
    assert faults_of(two, plan_to_json(second)) == []
    assert faults_of(*merged([one, two], [first, second])) == []


def test_hands_that_another_plan_has_are_not_there_twice() -> None:
    first = made(SMALL)
    alone = made(SMALL)
    beside = made(round_it(SMALL, first))
    assert beside.operations[0].start_s > 0
    taken = [(o.start_s, o.end_s) for o in first.operations]
    for operation in beside.operations:
        assert not [1 for a, b in taken if a < operation.end_s and operation.start_s < b]
    assert beside.end_s >= alone.end_s


def test_a_heat_block_that_another_plan_has_is_waited_for() -> None:
    hot = changed("groups.0.exposures.0.heat_block", True)
    hot["groups"][0] |= {"steps": [], "panels": 1, "cure_h": 0}
    first = made(hot)
    beside = made(round_it(hot | {"people": 2}, made(hot | {"people": 2})))
    (lift,) = [o for o in first.operations if o.kind == "lift"]
    (lay,) = [o for o in beside.operations if o.kind == "lay"]
    assert lay.start_s >= lift.end_s


def test_what_was_just_coated_still_fills_the_air_and_the_rack_and_takes_no_hands() -> None:
    shop = {"airing_min": 120, "rack_places": 8}
    first = made(SMALL | shop)
    # The first pass, coated and wiped; the others come on later days.
    coats = [o for o in first.operations if o.start_s < 43_200]
    assert {o.item for o in coats} == {"A1"}
    now_s = coats[-1].end_s
    done = [
        DoneWork(
            group=panel.group,
            panel=panel.panel,
            item=o.item,
            kind=o.kind,
            start_s=panel.start_s,
            end_s=panel.end_s,
        )
        for o in coats
        for panel in o.panels
    ]
    left = busy_with(first.spec, first.operations, done=done, since_s=now_s)
    assert min(each.start_s for each in left.hands) >= now_s
    wet = [each for each in left.air if each.start_s < now_s < each.end_s]
    assert sum(each.rack_places for each in wet) == len({each.panel for each in done})
    assert {each.hazards for each in wet if each.hazards} == {("solvent",)}
    # A hot block is not laid in the vapour of what another trial's coats give off, though nobody will touch these again today.
    hot = changed("groups.0.exposures.0.heat_block", True, SMALL | shop)
    hot["groups"][0] |= {"steps": [], "panels": 1, "cure_h": 0}
    spec = plan_spec_from_plain(hot)
    beside = make_plan(type(spec)(**{**vars_of(spec), "busy": left}), clock=time.monotonic, limit_s=0.1)
    assert isinstance(beside, Plan)
    (lay,) = [o for o in beside.operations if o.kind == "lay"]
    assert lay.start_s >= now_s + 120 * 60
    # What was over by then is nothing any more.
    over = busy_with(first.spec, (), done=done, since_s=now_s + 400 * 86_400)
    assert over == Busy()


def test_a_coat_that_is_on_and_not_wiped_holds_until_it_is() -> None:
    first = made(SMALL)
    (coat, *_) = [o for o in first.operations if (o.kind, o.item) == ("coat", "A1")]
    done = [
        DoneWork(group="A", panel=p.panel, item="A1", kind="coat", start_s=p.start_s, end_s=p.end_s)
        for p in coat.panels
    ]
    later = [o for o in first.operations if o.start_s >= coat.end_s]
    taken = busy_with(first.spec, later, done=done, since_s=coat.end_s)
    wipe = min(o.end_s for o in later if (o.kind, o.item) == ("wipe", "A1"))
    assert [each for each in taken.air if each.start_s <= coat.end_s and each.end_s >= wipe - 600]


def test_what_is_busy_goes_out_and_comes_back_and_nothing_is_nothing() -> None:
    busy = busy_with(made(SMALL).spec, made(SMALL).operations, later_s=3600)
    spec = plan_spec_from_plain(SMALL)
    whole = type(spec)(**{**vars_of(spec), "busy": busy})
    assert plan_spec_from_plain(plan_spec_to_plain(whole)) == whole
    assert "busy" not in plan_spec_to_plain(spec)
    assert busy_with(spec, ()) == Busy()
    assert min(each.start_s for each in busy.hands) >= 3600


@pytest.mark.parametrize(
    ("busy", "says"),
    [
        ({"hands": [{"name": "Nell", "start_s": 5, "end_s": 1}]}, "ends before it begins"),
        ({"air": [{"start_s": 0, "end_s": 1, "hazards": ["smoke"]}]}, "smoke"),
        ({"feet": []}, "feet"),
    ],
)
def test_what_cannot_be_busy_is_refused(busy: dict[str, Any], says: str) -> None:
    with pytest.raises(PlanError, match=says):
        plan_spec_from_plain(SMALL | {"busy": busy})
