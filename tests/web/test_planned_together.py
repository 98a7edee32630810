"""Several trials of a shop planned at once: asked for, made, kept and told of as one."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from itertools import combinations
from typing import Any
from uuid import uuid4

import pytest
from django.core.exceptions import PermissionDenied
from django.http import Http404
from rest_framework.test import APIClient

from nublet.core.errors import PlanError
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import making, plan_actions
from nublet.web.bench.actions import BenchEntry, enter_work
from nublet.web.bench.adapters import busy_beside
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.bench.models import BenchPlan, PlannedOperation
from nublet.web.bench.plan_actions import fail_plan, standing_plan, stop_plan
from nublet.web.bench.selectors import view_days
from nublet.web.build_ups.actions import add_build_up
from nublet.web.designs.actions import draw_design, start
from nublet.web.people.models import Person
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import NELL, Turned, plan


def another(owner: Person, judge: Person, name: str = "Buffet counter", **more: Any) -> Trial:
    trial = create_trial(
        owner,
        name=name,
        species=["beech"],
        boards_per_species=2,
        judges=[judge.pk],
        uses=["dining-table"],
        **more,
    )
    add_build_up(owner, trial.pk, name="Fellgate", family="hardwax-2k", coats=2)
    add_build_up(owner, trial.pk, name="Ousel", family="shellac-dewaxed", coats=2)
    draw_design(owner, trial.pk, seed=4)
    return start(owner, trial.pk)


@pytest.fixture
def buffet(owner: Person, judge: Person) -> Trial:
    return another(owner, judge)


def standing(trial: Trial) -> BenchPlan:
    found = standing_plan(Trial.objects.get(pk=trial.pk))
    assert found is not None
    return found


def at_once(owner: Person, trial: Trial, *others: Trial, **more: Any) -> list[BenchPlan]:
    make(ask_for_plan(owner, trial.pk, together_with=[each.pk for each in others], **more), limit_s=0.1)
    return [standing(each) for each in (trial, *others)]


def hands_are_never_in_two_places(*plans: BenchPlan) -> bool:
    taken = [list(each.operations.values_list("start_at", "end_at")) for each in plans]
    return not [1 for one, two in combinations(taken, 2) for a, b in one for c, d in two if a < d and c < b]


def coat_first(owner: Person, trial: Trial, at: Any) -> PlannedOperation:
    work = standing(trial).operations.filter(kind="coat").order_by("start_at")[0]
    entry = BenchEntry(
        client_id=uuid4(),
        entry="done",
        kind="coat",
        item=work.item,
        panels=[p[0] for p in work.panels],
        at=at,
    )
    enter_work(owner, trial.pk, entry)
    return work


def test_they_are_planned_from_one_moment_and_each_says_so(
    owner: Person, planned: Trial, buffet: Trial, bench_clock: Turned
) -> None:
    second, first = at_once(owner, buffet, planned, weighs=True)
    assert (first.start_at, second.start_at) == (bench_clock.now(), bench_clock.now())
    assert (first.lead, second.lead) == (second, None)
    assert first.says[0] == "Planned together with Buffet counter."
    assert second.says[0] == "Planned together with Saloon tables."
    assert hands_are_never_in_two_places(first, second)
    # What has a plan keeps what that was asked for.
    assert (first.weighs, second.weighs) == (False, True)
    boards = set(second.operations.filter(kind="lay").values_list("board", flat=True))
    assert boards == {"Beech 1", "Beech 2"}
    # The one that had a plan tells what moved in it, on both pages; a third is planned round them.
    for page in (planned, buffet):
        moved = view_days(Trial.objects.get(pk=page.pk)).moved
        assert [each.trial_name for each in moved] == ["Saloon tables"]
    assert first.moved["n_works"] > 0


def test_what_has_begun_is_planned_again_from_now_beside_what_has_not(
    owner: Person, planned: Trial, buffet: Trial, bench_clock: Turned
) -> None:
    at_once(owner, planned, buffet)
    done = coat_first(owner, planned, bench_clock.turn(minutes=30))
    was = standing(buffet)
    now = bench_clock.turn(hours=30)
    with pytest.raises(PlanError, match="Saloon tables"):
        ask_for_plan(owner, buffet.pk, start_at=now + timedelta(days=2), together_with=[planned.pk])
    second, first = at_once(owner, buffet, planned)
    assert hands_are_never_in_two_places(first, second)
    assert first.operations.filter(item=done.item, kind="coat", start_at=done.start_at).exists()
    assert min(second.operations.values_list("start_at", flat=True)) > now
    assert (first.is_again, second.is_again) == (True, True)
    # Thirty hours on everything of the trial that was not begun goes to another day, and both pages tell.
    told = {each.trial_name: each.says for each in view_days(Trial.objects.get(pk=planned.pk)).moved}
    assert set(told) == {"Saloon tables", "Buffet counter"}
    assert second.moved["n_moved"] == second.moved["n_works"] == was.operations.count()
    assert "go to another day, the last goes from" in told["Buffet counter"]
    beside = view_days(Trial.objects.get(pk=buffet.pk)).beside
    assert [(each.trial_name, each.has_begun, each.is_companion) for each in beside] == [
        ("Saloon tables", True, True)
    ]


def test_one_that_is_to_start_later_does_when_it_is_planned_again_with_another(
    owner: Person, planned: Trial, buffet: Trial, bench_clock: Turned
) -> None:
    later = bench_clock.now() + timedelta(days=5)
    plan(owner, buffet, start_at=later)
    coat_first(owner, planned, bench_clock.turn(minutes=5))
    first, second = at_once(owner, buffet, planned, again=True)
    assert (first.start_at, first.is_again) == (later, True)
    assert min(first.operations.values_list("start_at", flat=True)) >= later
    # The other does not wait for it.
    now = bench_clock.now()
    assert second.operations.filter(start_at__gt=now, start_at__lt=later).exists()
    # Nothing begun on any, they keep the first one's start as one alone would.
    third = another(owner, buffet.judges.get(), "Hearth shelf")
    one, two = at_once(owner, buffet, third, again=True)
    assert one.start_at == later
    assert min(one.operations.values_list("start_at", flat=True)) >= later
    assert min(two.operations.values_list("start_at", flat=True)) > now


def test_alone_it_goes_round_the_others_and_moves_nothing_there(
    owner: Person, planned: Trial, buffet: Trial, bench_clock: Turned
) -> None:
    at_once(owner, planned, buffet)
    was = standing(buffet)
    make(ask_for_plan(owner, planned.pk, again=True), limit_s=0.1)
    assert standing(buffet) == was
    assert standing(planned).says[0] == "Planned round what stands in Buffet counter."
    assert hands_are_never_in_two_places(standing(planned), was)
    assert [each.trial_name for each in view_days(Trial.objects.get(pk=planned.pk)).moved] == [
        "Saloon tables"
    ]


def test_what_another_trial_has_just_coated_lies_on_the_rack_still(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    set_bench(owner, {"rack_places": 60})
    plan(owner, planned)
    work = coat_first(owner, planned, bench_clock.turn(minutes=30))
    now = bench_clock.turn(minutes=5)
    taken = busy_beside([standing(planned)], start_at=now, now=now)
    lying = [each for each in taken.air if each.start_s < 0 < each.end_s]
    assert sum(each.rack_places for each in lying) == len(work.panels)
    # It was done half an hour after it was planned, and is planned nowhere any more.
    assert min(each.end_s for each in taken.hands) > 0
    later = busy_beside([standing(planned)], start_at=now, now=now + timedelta(days=400))
    assert (later.hands, later.air) == ((), ())


def test_where_one_cannot_be_planned_none_is_and_its_mend_plans_both(
    owner: Person, judge: Person, planned: Trial, bench_clock: Turned
) -> None:
    cold = another(owner, judge, "Glass shelf", protocol="spirits-and-wet-glasses", panel_length_mm=600)
    plan(owner, cold)
    was = standing(planned), standing(cold)
    set_bench(owner, {"heat_blocks": 0})
    monday = bench_clock.now() + timedelta(days=3)
    asked = ask_for_plan(owner, planned.pk, start_at=monday, together_with=[cold.pk])
    stuck = make(asked, limit_s=0.1)
    assert stuck.start_at == monday
    beside = BenchPlan.objects.filter(trial=cold).latest("pk")
    assert (stuck.state, beside.state) == ("impossible", "failed")
    assert "Saloon tables, planned together with this, cannot be planned" in beside.trouble
    assert (standing(planned), standing(cold)) == was
    (mend,) = {each for told in stuck.mends for each in told if "heat block" in each}
    lead = make(ask_for_plan(owner, planned.pk, mend=mend), limit_s=0.1)
    assert (standing(planned), standing(cold).lead) == (lead, lead)
    assert f"Tried for this plan: {mend}." in lead.says
    assert {plan.start_at for plan in (lead, standing(cold))} == {stuck.start_at}


def test_they_wait_stop_and_fail_as_one(
    owner: Person, planned: Trial, buffet: Trial, bench_clock: Turned
) -> None:
    queued: list[int] = []
    lead = ask_for_plan(owner, planned.pk, together_with=[buffet.pk], enqueue=queued.append)
    for trial in (planned, buffet):
        with pytest.raises(ConflictError, match="being made already"):
            ask_for_plan(owner, trial.pk)
    # The follower's page stops both; neither had its turn yet.
    stop_plan(owner, buffet.pk)
    assert set(BenchPlan.objects.filter(pk__gte=lead.pk).values_list("state", flat=True)) == {"failed"}
    lead = ask_for_plan(owner, planned.pk, together_with=[buffet.pk])
    stop_plan(owner, buffet.pk)
    assert BenchPlan.objects.get(pk=lead.pk).is_stop_asked
    fail_plan(lead.pk, "The planner failed.")
    assert set(BenchPlan.objects.filter(pk__gte=lead.pk).values_list("trouble", flat=True)) == {
        "The planner failed."
    }


def test_all_are_kept_or_none(
    owner: Person, planned: Trial, buffet: Trial, bench_clock: Turned, monkeypatch: pytest.MonkeyPatch
) -> None:
    was = standing(planned)
    lead = ask_for_plan(owner, planned.pk, together_with=[buffet.pk])
    keep = plan_actions.keep_plan

    def broken(plan_id: int, *args: Any, **more: Any) -> BenchPlan:
        if plan_id != lead.pk:
            raise OSError("the database went away")
        return keep(plan_id, *args, **more)

    monkeypatch.setattr(making, "keep_plan", broken)
    with pytest.raises(OSError, match="went away"):
        make(lead, limit_s=0.05)
    assert standing(planned) == was
    assert standing_plan(Trial.objects.get(pk=buffet.pk)) is None
    assert not PlannedOperation.objects.filter(plan__pk__gte=lead.pk).exists()
    monkeypatch.setattr(making, "keep_plan", keep)
    make(lead, limit_s=0.05)
    assert standing(planned) == lead
    assert standing(buffet).lead == lead


def test_only_a_shops_own_trials_are_planned_and_only_by_keepers(
    owner: Person, judge: Person, stranger: Person, planned: Trial, buffet: Trial, bench_clock: Turned
) -> None:
    theirs = create_trial(stranger, name="Theirs", species=["beech"], uses=["dining-table"])
    with pytest.raises(Http404):
        ask_for_plan(owner, planned.pk, together_with=[theirs.pk])
    with pytest.raises(PermissionDenied):
        ask_for_plan(judge, planned.pk, together_with=[buffet.pk])
    assert [each.trial_name for each in view_days(Trial.objects.get(pk=planned.pk)).beside] == [
        "Buffet counter"
    ]


def test_what_is_over_or_done_by_hand_is_not_offered(
    owner: Person, judge: Person, graded: Trial, bench_clock: Turned
) -> None:
    set_bench(owner, {"hands": [NELL]})
    other = another(owner, judge)

    def offered() -> list[str]:
        return [each.trial_name for each in view_days(Trial.objects.get(pk=third.pk)).beside]

    third = another(owner, judge, "Hearth shelf")
    assert offered() == ["Buffet counter"]
    plan(owner, other)
    assert offered() == ["Buffet counter"]
    bench_clock.turn(days=400)
    assert offered() == []


def test_over_http(
    at: Callable[..., Any], client_of: Callable[[Person | None], APIClient], planned: Trial, buffet: Trial
) -> None:
    address = f"trials/{planned.pk}/days"
    asked = at("post", f"{address}/plan", {"together_with": [buffet.pk]}, status=202)
    assert asked["job"]["state"] == "running"
    other = at("get", f"trials/{buffet.pk}/days")
    assert other["job"]["state"] == "running"
    assert [each["trial_name"] for each in other["beside"]] == ["Saloon tables"]


def test_more_than_can_be_planned_at_once_are_refused(
    owner: Person, planned: Trial, bench_clock: Turned
) -> None:
    others = [
        create_trial(owner, name=f"Trial {n}", species=["beech"], uses=["dining-table"]) for n in range(6)
    ]
    with pytest.raises(PlanError, match="7 trials are too many"):
        ask_for_plan(owner, planned.pk, together_with=[each.pk for each in others])
