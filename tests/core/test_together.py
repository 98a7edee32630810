"""A board's panels exposed together: one sitting, one pair of hands, a drawn order, and nothing before all of it has cured."""

from __future__ import annotations

import time
from datetime import datetime
from itertools import pairwise
from typing import Any

import pytest

from nublet.core.bench.judging import judge
from nublet.core.bench.keys import DoneWork
from nublet.core.errors import PlanError
from nublet.core.planning.bench import Bench
from nublet.core.planning.bound import earliest_end
from nublet.core.planning.chains import Placed
from nublet.core.planning.construct import split_work
from nublet.core.planning.plan import NoPlan, Plan, make_plan
from nublet.core.planning.reasons import mended
from nublet.core.planning.together import drawn_order, place_bundle
from nublet.formats.schedule_json import plan_spec_from_plain, plan_spec_to_plain, plan_to_json
from tests.core.plan_checks import faults_of
from tests.core.plan_specs import WEEK, large_spec, together

DAYTIME = [{"days": WEEK, "from": "09:00", "to": "17:00"}]


def exposure(name: str, *, minutes: float = 60, heat: bool = False) -> dict[str, Any]:
    look = {"after_min": 1440, "tolerance_min": 60, "minutes_per_panel": 0.5}
    return {
        "id": name, "lay_minutes_per_panel": 1, "duration_min": minutes, "tolerance_min": 2, "lift_minutes_per_panel": 1,
        "heat_block": heat, "looks": [look],
    }  # fmt: skip


def coated(name: str, *, cure_h: float, exposures: list[dict[str, Any]], panels: int = 3) -> dict[str, Any]:
    step = {"id": f"{name}1", "minutes_per_panel": 2}
    return {"id": name, "panels": panels, "steps": [step], "cure_h": cure_h, "exposures": exposures}


def three(*exposures: dict[str, Any], **more: Any) -> dict[str, Any]:
    """A quick finish, a slow one and bare wood, on three boards."""
    bare = {"id": "bare", "panels": 3, "exposures": list(exposures)}
    groups = [
        coated("quick", cure_h=24, exposures=list(exposures)),
        coated("slow", cure_h=240, exposures=list(exposures)),
        bare,
    ]
    return together({"start": "2027-03-01T09:00", "hours": DAYTIME, "groups": groups, **more})


def planned(plain: dict[str, Any]) -> dict[str, Any]:
    answer = plan_to_json(make_plan(plan_spec_from_plain(plain), clock=time.monotonic, limit_s=0.3))
    assert faults_of(plain, answer) == []
    return answer


def begun(answer: dict[str, Any], item: str) -> list[tuple[str, str]]:
    """Start and panel of each laying, in time."""
    return sorted(
        (panel["start"], panel["panel"])
        for operation in answer["operations"]
        if operation["kind"] == "lay" and operation["step"] == item
        for panel in operation["panels"]
    )


def test_bare_wood_and_the_quick_finish_wait_for_the_slow_one() -> None:
    answer = planned(three(exposure("coffee")))
    ten_days_later = "2027-03-11T09:0"
    assert min(start for start, _ in begun(answer, "coffee")) > ten_days_later
    apart = {**three(exposure("coffee")), "together": False}
    first = plan_to_json(make_plan(plan_spec_from_plain(apart), clock=time.monotonic, limit_s=0.3))
    assert min(start for start, _ in begun(first, "coffee")).startswith("2027-03-01")


def test_a_board_goes_through_whole_and_says_which_board_it_is() -> None:
    answer = planned(three(exposure("coffee"), exposure("wine")))
    for item in ("coffee", "wine"):
        boards = [panel[-1] for _, panel in begun(answer, item)]
        # Each board's three stand together: its number changes twice on the way.
        assert sum(a != b for a, b in pairwise(boards)) == 2
    assert {o["board"] for o in answer["operations"] if o["kind"] == "lay"} == {
        f"board {n}" for n in (1, 2, 3)
    }
    assert all("board" not in o for o in answer["operations"] if o["kind"] == "coat")


def test_the_order_is_drawn_for_each_board_and_exposure_and_is_the_same_again() -> None:
    exposures = [exposure(name) for name in ("coffee", "wine", "tea", "cola")]
    groups = [coated(name, cure_h=0, exposures=exposures, panels=4) for name in "ABCDEF"]
    spec = plan_spec_from_plain(together({"start": "2027-03-01T09:00", "hours": DAYTIME, "groups": groups}))
    orders = [
        tuple(drawn_order(spec, lot, item["id"], range(6), 0)) for lot in range(6, 10) for item in exposures
    ]
    assert len(set(orders)) > 12
    assert drawn_order(spec, 6, "coffee", range(6), 0) == list(orders[0])
    assert drawn_order(spec, 6, "coffee", (5, 1), 0) == [panel for panel in orders[0] if panel in (5, 1)]
    # Over many draws each panel comes first about as often as any other.
    firsts = [drawn_order(spec, 6, "coffee", range(6), seed)[0] for seed in range(600)]
    assert all(60 <= firsts.count(panel) <= 140 for panel in range(6))


def test_one_heat_block_serves_a_board_in_one_sitting() -> None:
    answer = planned(three(exposure("dry-heat", minutes=20, heat=True), people=2))
    by_board: dict[str, list[datetime]] = {}
    for start, panel in begun(answer, "dry-heat"):
        by_board.setdefault(panel[-1], []).append(datetime.fromisoformat(start))
    assert all(max(times).date() == min(times).date() for times in by_board.values())
    # With one block the next is laid when the one before is lifted.
    assert all((b - a).total_seconds() >= 19 * 60 for times in by_board.values() for a, b in pairwise(times))


def test_a_board_that_no_sitting_holds_is_refused_in_words_with_what_mends_it() -> None:
    short = [{"days": WEEK, "from": "09:00", "to": "09:50"}]
    plain = three(exposure("dry-heat", minutes=20, heat=True), hours=short)
    answer = make_plan(plan_spec_from_plain(plain), clock=time.monotonic)
    assert isinstance(answer, NoPlan)
    (reason,) = answer.reasons
    assert "the 3 panels of board 1 do not meet it in one sitting" in reason.says
    later = next(each for each in reason.relaxations if each.what == "working until")
    # Three times a minute to lay, 18 at the least, and a minute to lift.
    assert later.needed == "10:00"
    assert {"heat blocks: 2 instead of 1", "exposing as each is ready instead of together"} <= {
        each.says for each in reason.relaxations
    }
    for each in reason.relaxations:
        mended_plan = make_plan(
            mended(answer.spec, each.says, answer.reasons), clock=time.monotonic, limit_s=0.2
        )
        assert isinstance(mended_plan, Plan), each.says
    longer = [{"days": WEEK, "from": "09:00", "to": later.needed}]
    planned({**plain, "hours": longer})


def test_mended_by_its_own_family_each_goes_its_own_way_after_a_common_beginning() -> None:
    def mend(minutes: float) -> dict[str, Any]:
        acts = [
            {"id": "scratch", "minutes_per_panel": 1, "then_min": [0, 120]},
            {"id": "mend", "minutes_per_panel": minutes, "then_min": None},
        ]
        return {"id": "repair", "acts": acts, "looks": []}

    groups = [coated(name, cure_h=0, exposures=[mend(minutes)]) for name, minutes in (("A", 2), ("B", 7))]
    answer = planned(together({"start": "2027-03-01T09:00", "hours": DAYTIME, "groups": groups}))
    scratched = [o for o in answer["operations"] if o.get("act") == "scratch"]
    assert {panel["panel"] for o in scratched for panel in o["panels"]} == {
        f"{g}-{n}" for g in "AB" for n in (1, 2, 3)
    }


def test_the_specification_comes_back_as_it_went_out() -> None:
    spec = plan_spec_from_plain(three(exposure("coffee")))
    assert plan_spec_from_plain(plan_spec_to_plain(spec)) == spec


@pytest.mark.parametrize(
    ("change", "says", "field"),
    [
        ({"boards": ["board 1"]}, "3 panels and names 1 boards", "groups.0.boards"),
        ({"boards": []}, "does not name its panels' boards", "groups.0.boards"),
        ({"boards": ["one", " ", "two"]}, "boards.1", "groups.0.boards.1"),
    ],
)
def test_boards_that_do_not_fit_the_panels_are_refused(change: dict[str, Any], says: str, field: str) -> None:
    plain = three(exposure("coffee"))
    plain["groups"][0] |= change
    with pytest.raises(PlanError, match=says) as caught:
        plan_spec_from_plain(plain)
    assert caught.value.field == field


def test_the_bound_waits_for_the_whole_board() -> None:
    plain = three(exposure("coffee"))
    apart = plan_spec_from_plain({**plain, "together": False})
    whole = plan_spec_from_plain(plain)
    far = 60 * 24 * 3600
    # Apart, only the slow ones hold the end up, and as much; without them nothing does.
    assert earliest_end(whole, far) >= earliest_end(apart, far)
    quick = {
        **plain,
        "groups": [plain["groups"][0], {**plain["groups"][1], "exposures": []}, plain["groups"][2]],
    }
    ends = [earliest_end(plan_spec_from_plain({**quick, "together": is_so}), far) for is_so in (True, False)]
    assert ends[0] - ends[1] >= 200 * 3600


def test_a_bundle_is_placed_in_the_hands_that_can_begin_it_first() -> None:
    plain = three(exposure("dry-heat", minutes=20, heat=True), people=2)
    work = split_work(plan_spec_from_plain(plain))
    bench = Bench(work.spec, 30 * 24 * 3600)
    members = [chain for chain in work.chains if chain.bundle == work.chains[-1].bundle]
    assert len(members) == 3
    busy = members[0].blocks[0]
    # The first person is busy all morning.
    bench.people[0].book(0, 4 * 3600)
    placed = place_bundle(bench, members, 0)
    assert placed is not None
    assert {at[0].person for at in placed} == {1}
    assert placed[0][0] == Placed(0, 1)
    assert busy.kind == "lay"


def test_the_large_case_exposed_together_is_split_by_boards() -> None:
    work = split_work(plan_spec_from_plain(together(large_spec())))
    bundles = [chain for chain in work.chains if chain.bundle >= 0]
    assert len(bundles) == 8 * 12
    assert all(len(chain.blocks[0].panels) == 12 for chain in bundles)
    assert work.obstacles == []


def test_what_was_laid_ahead_of_its_board_or_on_another_day_is_found() -> None:
    plain = three(exposure("coffee"))
    spec = plan_spec_from_plain(plain)
    day_s = 24 * 3600

    def coat(group: str, start_s: float) -> DoneWork:
        return DoneWork(
            group=group,
            panel=f"{group}-1",
            item=f"{group}1",
            kind="coat",
            start_s=start_s,
            end_s=start_s + 120,
        )

    def lay(group: str, start_s: float) -> DoneWork:
        return DoneWork(
            group=group, panel=f"{group}-1", item="coffee", kind="lay", start_s=start_s, end_s=start_s + 60
        )

    coats = [coat("quick", 0), coat("slow", 600)]
    ready_s = 600 + 120 + 240 * 3600
    in_time = [lay("bare", ready_s), lay("quick", ready_s + 60), lay("slow", ready_s + 120)]
    assert judge(spec, [*coats, *in_time]) == []
    # Bare wood laid while the slow one cures; the others when they may, on another day.
    (ahead, *apart) = sorted(
        judge(spec, [*coats, lay("bare", day_s), *in_time[1:]]), key=lambda each: each.kind
    )
    assert (ahead.kind, ahead.panel, ahead.judgement) == ("ahead-of-board", "bare-1", "deviation")
    assert (
        ahead.says
        == "bare-1, coffee: begun before all of its board had cured, so that they do not meet it together."
    )
    assert [(each.kind, each.panel) for each in apart] == [
        ("board-apart", "quick-1"),
        ("board-apart", "slow-1"),
    ]
    # As each is ready nothing of this is a deviation.
    free = plan_spec_from_plain({**plain, "together": False})
    assert judge(free, [*coats, lay("bare", day_s), *in_time[1:]]) == []
