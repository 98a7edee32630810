"""Nothing is read before it happened: looks are due to their readers by what the log says of each panel."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from icalendar import Calendar
from rest_framework.test import APIClient

from nublet.core.errors import DesignError
from nublet.core.materials.families import FAMILIES
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench.actions import BenchEntry as WorkPress
from nublet.web.bench.actions import enter_work
from nublet.web.bench.due import list_due
from nublet.web.bench.models import PanelWork
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.bench.selectors import view_days
from nublet.web.bench.spot_actions import count_spot_again, leave_spot_out, repeat_spot
from nublet.web.designs.actions import draw_design
from nublet.web.designs.models import DeviationKind, TrialSpot
from nublet.web.evidence.selectors import weigh_evidence
from nublet.web.people.models import AuditEntry, Person
from nublet.web.readings.models import Reading
from nublet.web.readings.selectors import open_sitting
from nublet.web.readings.tasks import JudgingTask, list_judging
from nublet.web.stages.selectors import summarise_trial
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import SECRETS, Turned
from tests.web.test_blind import everything_answered, names_nothing

Client = Callable[[Person | None], APIClient]
WINE = "wine-1h"


@pytest.fixture
def designed(owner: Person, draft: Trial) -> Trial:
    """Panels with room to spare."""
    return draw_design(owner, update_trial(owner, draft.pk, panel_length_mm=700).pk, seed=11)


@pytest.fixture
def logged(owner: Person, planned: Trial) -> Trial:
    """A planned trial whose times are in the log, coated."""
    return update_trial(owner, planned.pk, times_on_paper=False)


def log(owner: Person, trial: Trial, kind: str, item: str, codes: list[str], at: datetime) -> None:
    enter_work(
        owner,
        trial.pk,
        WorkPress(client_id=uuid4(), entry="done", kind=kind, item=item, panels=codes, at=at),
    )


def codes_of(trial: Trial) -> list[str]:
    return list(trial.panels.filter(spoiled_at=None).order_by("code").values_list("code", flat=True))


@pytest.fixture
def lifted(owner: Person, logged: Trial, bench_clock: Turned) -> tuple[Trial, list[str]]:
    """Wine was laid on two panels an hour ago, and lifted from them now, one minute apart."""
    codes = codes_of(logged)[:2]
    for number, code in enumerate(codes):
        log(owner, logged, "lay", WINE, [code], bench_clock.at + timedelta(seconds=number))
    bench_clock.turn(minutes=60)
    for code in codes:
        log(owner, logged, "lift", WINE, [code], bench_clock.at)
        bench_clock.turn(minutes=1)
    return logged, codes


@pytest.fixture
def judged(client_of: Client, judge: Person, lifted: tuple[Trial, list[str]]) -> Callable[..., Any]:
    """Post a grade for a spot as the judge."""
    client = client_of(judge)
    trial, codes = lifted

    def post(panel: str = codes[0], look: str = "lifted", value: float = 4, **more: Any) -> Any:
        body = {
            "client_id": str(uuid4()), "panel": panel, "exposure": WINE, "look": look, "kind": "grade", "value": value, **more,
        }  # fmt: skip
        return client.post(f"/api/judging/{trial.pk}/entries", body, format="json")

    return post


def tasks(person: Person) -> dict[str, JudgingTask]:
    return {task.look.id: task for task in list_judging(person)}


def test_only_what_was_lifted_is_offered(
    judge: Person, logged: Trial, lifted: tuple[Trial, list[str]]
) -> None:
    trial, codes = lifted
    now, coming = tasks(judge)["lifted"], tasks(judge)["24h"]
    assert (now.n_panels, now.n_values, now.n_panels_left) == (2, 2, 2)
    assert now.next_panel in codes
    assert now.closes_at is not None
    assert (coming.n_panels, coming.next_panel, coming.closes_at) == (0, None, None)
    assert [each.code for each in coming.coming] == codes
    assert coming.coming[1].opens_at - coming.coming[0].opens_at == timedelta(minutes=1)
    sitting = open_sitting(judge, trial.pk, "lifted")
    assert {panel.code for panel in sitting.panels} == set(codes)
    assert {spot.exposure for panel in sitting.panels for spot in panel.spots} == {WINE}


def test_nothing_is_due_before_anything_was_lifted(
    client_of: Client, judge: Person, logged: Trial, bench_clock: Turned
) -> None:
    assert list_judging(judge) == []
    refused = client_of(judge).get(f"/api/judging/{logged.pk}/looks/lifted")
    assert refused.status_code == 400
    assert "what it counts from is not in the log" in refused.json()["detail"]


def test_a_look_recorded_before_its_lift_is_refused_with_the_reason(
    judged: Callable[..., Any], lifted: tuple[Trial, list[str]], bench_clock: Turned
) -> None:
    trial, codes = lifted
    other = next(code for code in codes_of(trial) if code not in codes)
    refused = judged(panel=other)
    assert (refused.status_code, refused.json()["field"]) == (400, "look")
    assert other in refused.json()["detail"]
    assert "not in the log" in refused.json()["detail"]
    early = judged(at=(bench_clock.at - timedelta(minutes=20)).isoformat())
    assert early.status_code == 400
    assert "before the act" in early.json()["detail"]
    assert not Reading.objects.exists()
    assert judged().status_code == 200


def test_what_was_seen_without_a_network_keeps_its_time(
    judged: Callable[..., Any], bench_clock: Turned
) -> None:
    seen = bench_clock.at
    bench_clock.turn(hours=9)
    assert judged(at=seen.isoformat()).status_code == 200
    reading = Reading.objects.get()
    assert reading.seen_at == seen
    assert reading.entries.get().seen_at == seen
    # A device whose clock runs ahead loses nothing: it was seen now at the latest, and sent again it is the same entry.
    ahead = {"client_id": str(uuid4()), "at": (bench_clock.at + timedelta(hours=3)).isoformat()}
    assert judged(value=2, **ahead).status_code == 200
    assert judged(value=2, **ahead).status_code == 200
    assert reading.entries.count() == 2
    reading.refresh_from_db()
    assert (float(reading.value or 0), reading.seen_at) == (2, bench_clock.at)


def test_early_and_late_looks_count_by_their_real_time(
    judged: Callable[..., Any], lifted: tuple[Trial, list[str]], bench_clock: Turned, judge: Person
) -> None:
    trial, codes = lifted
    # Two hours before it opens: within three tolerances.
    bench_clock.turn(hours=24 - 4.5)
    assert judged(panel=codes[0], look="24h").status_code == 200
    bench_clock.turn(hours=14)
    assert tasks(judge)["24h"].closes_at is not None
    assert judged(panel=codes[1], look="24h").status_code == 200
    view = weigh_evidence(trial, look="24h")
    looks = next(check for check in view.checks if check.check == "looks")
    assert looks.level == "warn"
    assert "1 of 2 readings were seen early or late" in looks.says
    assert "1 were seen so far" in looks.says
    assert view.n_readings == 1
    left_out = next(check for check in view.checks if check.check == "left_out")
    assert "too far from the time of the look" in left_out.says


def test_times_on_paper_open_all_looks_and_the_evidence_says_so(
    client_of: Client, owner: Person, judge: Person, logged: Trial, judged: Callable[..., Any]
) -> None:
    keeper = client_of(owner)
    changed = keeper.patch(
        f"/api/trials/{logged.pk}", {"name": logged.name, "times_on_paper": True}, format="json"
    )
    assert changed.status_code == 200
    assert changed.json()["trial"]["times_on_paper"] is True
    assert AuditEntry.objects.filter(action="update_trial").exists()
    assert tasks(judge)["24h"].n_panels == len(codes_of(logged))
    assert judged(panel=codes_of(logged)[-1], look="24h").status_code == 200
    view = weigh_evidence(Trial.objects.get(pk=logged.pk), look="24h")
    looks = next(check for check in view.checks if check.check == "looks")
    assert (looks.level, "kept on paper" in looks.says) == ("warn", True)


def test_bench_hands_get_acts_and_no_look_names_a_build_up(
    client_of: Client, owner: Person, lifted: tuple[Trial, list[str]], bench_clock: Turned
) -> None:
    trial, _ = lifted
    assert "look" not in {thing.kind for thing in list_due(owner).things}
    plan = standing_plan(Trial.objects.get(pk=trial.pk))
    assert plan is not None
    look = plan.operations.filter(kind="look").order_by("start_at")[0]
    days = client_of(owner).get(f"/api/trials/{trial.pk}/days", {"work": look.pk}).json()
    looks = [each for each in days["operations"] if each["kind"] == "look"]
    assert looks
    assert {each["build_up"] for each in looks} == {""}


def test_a_look_is_done_at_the_bench_when_it_was_read(
    owner: Person, judged: Callable[..., Any], lifted: tuple[Trial, list[str]]
) -> None:
    trial, codes = lifted
    plan = standing_plan(Trial.objects.get(pk=trial.pk))
    assert plan is not None
    row = next(
        each
        for each in plan.operations.filter(kind="look", item=WINE, look_after_min=0)
        if codes[0] in [panel[0] for panel in each.panels]
    )

    def turn() -> Any:
        view = view_days(Trial.objects.get(pk=trial.pk), work=row.pk, n_days=14)
        shown = next(each for each in view.operations if each.row.pk == row.pk)
        return next(each for each in shown.turns if each.code == codes[0])

    assert turn().ended_at is None
    judged(panel=codes[0])
    assert turn().ended_at == Reading.objects.get().seen_at


def events_of(client: APIClient) -> list[Any]:
    answer = client.get("/api/judging/calendar.ics")
    assert answer["Content-Type"].startswith("text/calendar")
    return list(Calendar.from_ical(answer.content).walk("VEVENT"))


def test_the_calendar_has_codes_and_times_and_nothing_else(
    client_of: Client, judge: Person, lifted: tuple[Trial, list[str]]
) -> None:
    _, codes = lifted
    client = client_of(judge)
    events = events_of(client)
    assert sorted(str(each["summary"]).split(",")[0] for each in events) == [
        f"Look at {code}" for code in codes
    ]
    lift = PanelWork.objects.get(panel__code=codes[0], kind="lift").ended_at
    assert lift is not None
    assert min(each["dtstart"].dt for each in events) == lift.replace(microsecond=0) + timedelta(days=1)
    text = client.get("/api/judging/calendar.ics").content.decode()
    assert not [secret for secret in (*SECRETS, WINE, "wine", "Wine") if secret in text]
    # Twice the same, so that a calendar that fetches it again adds nothing.
    assert [str(each["uid"]) for each in events_of(client)] == [str(each["uid"]) for each in events]


def test_a_spot_left_out_is_out_of_everything_and_may_count_again(
    owner: Person, judge: Person, judged: Callable[..., Any], lifted: tuple[Trial, list[str]]
) -> None:
    trial, codes = lifted
    for code in codes:
        judged(panel=code, value=2 if code == codes[0] else 5)
    trial = Trial.objects.get(pk=trial.pk)
    before = weigh_evidence(trial, look="lifted").n_readings
    expected = summarise_trial(owner, trial.pk).n_expected
    leave_spot_out(owner, trial.pk, panel=codes[0], exposure=WINE, reason="The cover slid off.")
    view = weigh_evidence(trial, look="lifted")
    assert view.n_readings == before - 1
    assert "left out by hand" in next(check.says for check in view.checks if check.check == "left_out")
    assert any(
        "The cover" not in check.says and codes[0] in check.says
        for check in view.checks
        if check.check == "deviations"
    )
    assert summarise_trial(owner, trial.pk).n_expected == expected - 2
    assert tasks(judge)["lifted"].n_panels == 1
    refused = judged(panel=codes[0])
    assert (refused.status_code, "left out" in refused.json()["detail"]) == (400, True)
    with pytest.raises(ConflictError, match="left out already"):
        leave_spot_out(owner, trial.pk, panel=codes[0], exposure=WINE, reason="again")
    count_spot_again(owner, trial.pk, panel=codes[0], exposure=WINE)
    assert weigh_evidence(trial, look="lifted").n_readings == before
    assert summarise_trial(owner, trial.pk).n_expected == expected
    with pytest.raises(ConflictError, match="not left out"):
        count_spot_again(owner, trial.pk, panel=codes[0], exposure=WINE)


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"exposure": "lava"}, "has no spot 'lava'"),
        ({"reason": "  "}, "Say what happened"),
        ({"panel": "ZZ"}, "no panel 'ZZ'"),
    ],
)
def test_what_cannot_be_left_out_is_said_and_nothing_changes(
    owner: Person, lifted: tuple[Trial, list[str]], fields: dict[str, str], says: str
) -> None:
    trial, codes = lifted
    for change in (leave_spot_out, repeat_spot):
        with pytest.raises(DesignError, match=says):
            change(owner, trial.pk, **{"panel": codes[0], "exposure": WINE, "reason": "x", **fields})
    assert not TrialSpot.objects.filter(left_out_at__isnull=False).exists()
    assert not trial.deviations.exists()


def test_a_test_is_repeated_on_a_spare_spot_and_its_log_begins_anew(
    owner: Person,
    judge: Person,
    judged: Callable[..., Any],
    lifted: tuple[Trial, list[str]],
    bench_clock: Turned,
) -> None:
    trial, codes = lifted
    judged(panel=codes[0], value=1)
    old = TrialSpot.objects.get(panel__trial=trial, panel__code=codes[0], exposure=WINE)
    told = repeat_spot(owner, trial.pk, panel=codes[0], exposure=WINE, reason="Lifted by a visitor.")
    assert told.kind == DeviationKind.SPOT_REPEATED
    assert "lay 2100-03-02" in told.says
    new = TrialSpot.objects.get(panel=old.panel, exposure=WINE, attempt=2)
    assert (new.x_mm, new.y_mm) != (old.x_mm, old.y_mm)
    for each in TrialSpot.objects.filter(panel=old.panel).exclude(pk=new.pk):
        gap = ((new.x_mm - each.x_mm) ** 2 + (new.y_mm - each.y_mm) ** 2) ** 0.5
        assert gap >= (new.diameter_mm + each.diameter_mm) / 2 + trial.margin_mm - 1e-6
    # It is to be laid and lifted again before it can be read, and the old reading is kept.
    assert judged(panel=codes[0]).status_code == 400
    assert tasks(judge)["lifted"].n_panels == 1
    assert Reading.objects.get().spot_id == old.pk
    assert not PanelWork.objects.filter(panel=old.panel, item=WINE).exists()
    log(owner, trial, "lay", WINE, [codes[0]], bench_clock.at)
    bench_clock.turn(minutes=60)
    log(owner, trial, "lift", WINE, [codes[0]], bench_clock.at)
    assert PanelWork.objects.get(panel=old.panel, item=WINE, kind="lift").ended_at == bench_clock.at
    assert judged(panel=codes[0], value=4).status_code == 200
    assert Reading.objects.get(value=4).spot_id == new.pk
    view = weigh_evidence(Trial.objects.get(pk=trial.pk), look="lifted")
    values = [value for test in view.tests for system in test.systems for value in (system.mean,)]
    assert values == [4.0]
    assert view.n_readings == 1


def test_two_devices_of_one_judge_are_both_kept_and_the_later_seen_stands(
    judged: Callable[..., Any], bench_clock: Turned
) -> None:
    offline = bench_clock.at
    bench_clock.turn(minutes=2)
    now = judged(value=5, device="tablet", at=bench_clock.at.isoformat())
    assert now.json() == {
        "value": 5.0,
        "is_beyond": False,
        "note": "",
        "elsewhere": None,
        "singles": [],
        "worked_out": [],
    }
    bench_clock.turn(minutes=5)
    late = judged(value=2, device="phone", at=offline.isoformat()).json()
    assert late["value"] == 5.0
    assert (late["elsewhere"]["value"], late["elsewhere"]["stands"]) == (5.0, True)
    assert Reading.objects.get().entries.count() == 2
    later = judged(value=3, device="phone", at=bench_clock.at.isoformat()).json()
    assert (later["value"], later["elsewhere"]["value"], later["elsewhere"]["stands"]) == (3.0, 5.0, False)


def test_a_take_back_undoes_the_entry_that_it_names(judged: Callable[..., Any], bench_clock: Turned) -> None:
    first, second = str(uuid4()), str(uuid4())
    judged(value=5, client_id=first, device="tablet")
    bench_clock.turn(seconds=5)
    judged(value=2, client_id=second, device="phone")
    assert judged(kind="take_back", undoes=first, value=None).json()["value"] == 2.0
    assert judged(kind="take_back", undoes=second, value=None).json()["value"] is None


def test_a_running_trial_gives_a_judge_codes_and_times_on_no_route_anything_else(
    client_of: Client, judge: Person, lifted: tuple[Trial, list[str]]
) -> None:
    trial, codes = lifted
    bodies = everything_answered(client_of(judge), trial)
    boards = {f'"{name}"' for name in trial.boards.values_list("name", flat=True)}
    names_nothing(bodies, {*SECRETS, *boards, *(family.name for family in FAMILIES.values())})
    due = {
        asked for asked, body in bodies.items() if "/api/" in asked and any(code in body for code in codes)
    }
    # A photograph is named by the code that the judge gave when he took it.
    assert {asked for asked in due if "photographs" not in asked} == {
        "get /api/judging",
        "get /api/judging/calendar.ics",
    }
