"""Acts of their own in a plan: chains with windows, what they occupy, looks between them, and what cannot be done."""

from __future__ import annotations

import time
from datetime import datetime
from typing import Any

import pytest

from nublet.core.errors import PlanError
from nublet.core.planning.plan import NoPlan, make_plan
from nublet.formats.schedule_json import plan_spec_from_plain, plan_spec_to_plain, plan_to_json
from tests.core.plan_checks import faults_of
from tests.core.plan_specs import WEEK
from tests.core.test_planning import changed

DAY = 1440


def look(after_min: float, tolerance_min: float, after: str = "") -> dict[str, Any]:
    found: dict[str, Any] = {"after_min": after_min, "tolerance_min": tolerance_min, "minutes_per_panel": 0.3}
    return found | ({"after": after} if after else {})


def act(name: str, minutes: float, then: list[float | None] | None = None, **more: Any) -> dict[str, Any]:
    return {"id": name, "minutes_per_panel": minutes, "then_min": then, **more}


REPAIR = {
    "id": "mend",
    "acts": [act("scratch", 1, [0, DAY]), act("abrade", 1, [0, 60]), act("mend", 2)],
    "looks": [look(0, 60, "scratch"), look(2 * DAY, DAY)],
}
BOIL = {
    "id": "boil",
    "acts": [act("boil", 0.5, [4.5, 5.5], hot=True), act("lift", 0.5, [600, 1080]), act("stand", 0.25)],
    "looks": [look(0, 30)],
}
DAMP = {
    "id": "damp",
    "acts": [*(act(f"wipe-{i}", 0.25, [10, None]) for i in range(24)), act("wipe-24", 0.25)],
    "looks": [look(DAY, 144)],
}
IRON = {"id": "iron", "acts": [act("press", 0.5, occupies="iron", hot=True)], "looks": [look(DAY, 144)]}
BLOCK = {
    "id": "block",
    "acts": [act("set", 0.5, [18, 22], occupies="heat_block", hot=True), act("off", 0.5)],
    "looks": [look(DAY, 144)],
}
SPIRIT = {
    "id": "ethanol-1h", "lay_minutes_per_panel": 0.3, "duration_min": 60, "tolerance_min": 2, "lift_minutes_per_panel": 0.5,
    "looks": [],
}  # fmt: skip


def spec(*exposures: dict[str, Any], panels: int = 4, **more: Any) -> dict[str, Any]:
    return {
        "start": "2027-03-01T09:00",
        "hours": [{"days": WEEK[:5], "from": "09:00", "to": "17:30"}],
        "groups": [
            {
                "id": "A", "panels": panels, "cure_h": 48, "exposures": list(exposures),
                "steps": [{"id": "A1", "minutes_per_panel": 1.5}],
            }
        ],
        **more,
    }  # fmt: skip


def planned(plain: dict[str, Any]) -> dict[str, Any]:
    shown = plan_to_json(make_plan(plan_spec_from_plain(plain), clock=time.monotonic, limit_s=0.2))
    assert shown["feasible"], shown
    assert faults_of(plain, shown) == []
    return shown


def of(shown: dict[str, Any], kind: str, name: str = "") -> list[dict[str, Any]]:
    return [o for o in shown["operations"] if o["kind"] == kind and o.get("act", "") == name]


@pytest.mark.parametrize("exposure", [REPAIR, BOIL, DAMP, IRON, BLOCK], ids=lambda each: str(each["id"]))
def test_each_kind_of_chain_is_planned_in_its_windows(exposure: dict[str, Any]) -> None:
    shown = planned(spec(exposure))
    for one in exposure["acts"]:
        done = of(shown, "act", one["id"])
        assert {o["step"] for o in done} == {exposure["id"]}
        assert sum(len(o["panels"]) for o in done) == 4


def test_all_of_them_together_and_by_two_people() -> None:
    planned(spec(REPAIR, BOIL, DAMP, IRON, BLOCK, SPIRIT, panels=5, people=2, airing_min=30))


def test_what_is_looked_at_between_two_acts_is_seen_before_the_second() -> None:
    shown = planned(spec(REPAIR))
    hurt = of(shown, "look", "scratch")
    abrade = of(shown, "act", "abrade")
    assert sum(len(o["panels"]) for o in hurt) == 4
    ends = {p["panel"]: p["end"] for o in hurt for p in o["panels"]}
    assert all(ends[p["panel"]] <= p["start"] for o in abrade for p in o["panels"])


def test_a_boil_dries_over_night() -> None:
    shown = planned(spec(BOIL))
    lifted = {p["panel"]: p["end"] for o in of(shown, "act", "lift") for p in o["panels"]}
    stood = {p["panel"]: p["start"] for o in of(shown, "act", "stand") for p in o["panels"]}
    for panel, at in lifted.items():
        waited = datetime.fromisoformat(stood[panel]) - datetime.fromisoformat(at)
        assert 600 <= waited.total_seconds() / 60 <= 1080


def test_one_iron_goes_from_panel_to_panel_and_one_block_does_not() -> None:
    """An iron pressed for seconds is free again at once: all panels in one pass. A block that lies is not."""
    (press,) = of(planned(spec(IRON)), "act", "press")
    assert len(press["panels"]) == 4
    assert [len(o["panels"]) for o in of(planned(spec(BLOCK)), "act", "set")] == [1, 1, 1, 1]
    assert max(len(o["panels"]) for o in of(planned(spec(BLOCK, heat_blocks=2)), "act", "set")) == 2


def test_something_hot_meets_no_spirit() -> None:
    """The checker looks at the air; here all of them are forced into two short days a week."""
    shown = planned(
        spec(IRON, BLOCK, SPIRIT, hours=[{"days": ["mon", "tue"], "from": "09:00", "to": "12:00"}])
    )
    assert of(shown, "lay")


@pytest.mark.parametrize(
    ("plain", "says"),
    [
        (spec(IRON, irons=0), "iron: it needs an iron and the shop has none"),
        (spec(BLOCK, heat_blocks=0), "block: it needs a heat block and the shop has none"),
        (
            spec({"id": "x", "acts": [act("wet", 1, [600, 610]), act("dry", 1)], "looks": []}),
            "a wait after wet of up to 930 min instead of 610 min",
        ),
        (
            spec({"id": "x", "acts": [act("wet", 1)], "looks": [look(600, 5)]}),
            "its look 600 min after lifting never falls",
        ),
    ],
)
def test_what_cannot_be_done_is_said_with_what_would_mend_it(plain: dict[str, Any], says: str) -> None:
    answer = make_plan(plan_spec_from_plain(plain), clock=time.monotonic, limit_s=0.1)
    assert isinstance(answer, NoPlan)
    assert says in answer.reasons[0].says


@pytest.mark.parametrize(
    ("path", "value", "field", "says"),
    [
        ("acts", [], "acts", "acts is empty"),
        ("acts", "none", "acts", "acts"),
        ("acts.0.then_min", None, "acts.0.then_min", "then_min is missing"),
        ("acts.2.then_min", [1, 2], "acts.2.then_min", "nothing comes after 'mend'"),
        ("acts.0.then_min", [60, 5], "acts.0.then_min", "Swap the two"),
        ("acts.0.then_min", [1], "acts.0.then_min", "least and greatest minutes"),
        ("acts.1.id", "scratch", "acts", "listed twice"),
        ("acts.0.minutes_per_panel", 0, "acts.0.minutes_per_panel", "more than 0"),
        ("acts.0.occupies", "kettle", "acts.0.occupies", "heat_block"),
        ("acts.0.hot", "yes", "acts.0.hot", "true or false"),
        ("acts.0.colour", 1, "acts.0", "colour"),
        ("duration_min", 5, "", "duration_min"),
        ("looks.0.after", "polish", "looks.0.after", "none of its acts"),
        ("looks.0", {**look(2 * DAY, 5)}, "looks.1.after_min", "two looks"),
    ],
)
def test_acts_that_nobody_can_mean(path: str, value: object, field: str, says: str) -> None:
    with pytest.raises(PlanError) as refused:
        plan_spec_from_plain(changed(f"groups.0.exposures.0.{path}", value, spec(REPAIR)))
    assert refused.value.field == f"groups.0.exposures.0.{field}".rstrip(".")
    assert says in refused.value.message


def turns(n: int, least: float, most: float) -> dict[str, Any]:
    """So many turns in narrow windows."""
    return {
        "id": "damp",
        "acts": [*(act(f"wipe-{i}", 0.25, [least, most]) for i in range(1, n)), act(f"wipe-{n}", 0.25)],
    }


def test_many_turns_fill_a_day_or_are_refused_by_the_first_that_does_not_fit() -> None:
    """A day of 510 min holds 98 turns at 5.25 min apart, and no 100; neither takes the planner through every way to wait."""
    planned(spec(turns(97, 5, 6), panels=1))
    answer = make_plan(
        plan_spec_from_plain(spec(turns(100, 5, 6), panels=1)), clock=time.monotonic, limit_s=0.1
    )
    assert isinstance(answer, NoPlan)
    assert "wipe-99 never falls within working hours" in answer.reasons[0].says
    planned(spec(turns(200, 1, 4320), panels=2))
    with pytest.raises(PlanError, match="At most 200 are planned"):
        plan_spec_from_plain(spec(turns(201, 1, 2)))


def test_a_specification_with_acts_comes_back() -> None:
    plain = spec(REPAIR, BOIL, DAMP, IRON, BLOCK, SPIRIT, irons=2)
    read = plan_spec_from_plain(plain)
    assert plan_spec_from_plain(plan_spec_to_plain(read)) == read


def test_the_checker_sees_broken_acts() -> None:
    plain = spec(REPAIR, IRON)
    shown = planned(plain)
    swapped = [
        {**o, "act": {"scratch": "abrade", "abrade": "scratch"}.get(o.get("act", ""), o.get("act", ""))}
        if o["kind"] == "act"
        else o
        for o in shown["operations"]
    ]
    assert any("min after" in fault for fault in faults_of(plain, {**shown, "operations": swapped}))
    assert any("more of iron" in fault for fault in faults_of({**plain, "irons": 0}, shown))
