"""Plans of several trials of one shop: each is made round what stands in the others."""

from __future__ import annotations

import copy
import time
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings

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
