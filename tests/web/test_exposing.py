"""The expose stage: who meets which test, how far each is, what is next; and whole trials exposed and read through the API."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from rest_framework.test import APIClient

from nublet.core.planning.trial_exposures import MendTime, look_window
from nublet.core.protocols.looks import Look
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.web.bench.actions import BenchEntry, enter_work
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.look_times import looks_of_trials
from nublet.web.bench.models import PanelWork, PlannedOperation
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.build_ups.actions import add_build_up
from nublet.web.demo.simulated import simulated_values
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.trials.actions import create_trial, update_trial
from nublet.web.trials.models import Trial
from tests.sizes import FULL
from tests.web.conftest import NELL, SECRETS, Turned, plan

Client = Callable[[Person | None], APIClient]
WINE, HEAT = "wine-1h", "wet-heat-70"


@pytest.fixture
def logged(owner: Person, planned: Trial) -> Trial:
    return update_trial(owner, planned.pk, times_on_paper=False)


@pytest.fixture
def show(client_of: Client, owner: Person, logged: Trial) -> Callable[..., Any]:
    """The expose page's answer."""
    client = client_of(owner)

    def ask(**query: Any) -> Any:
        answer = client.get(f"/api/trials/{logged.pk}/expose", query)
        assert answer.status_code == 200, answer.content
        return answer.json()

    return ask


def log(
    owner: Person, trial: Trial, kind: str, item: str, codes: list[str], at: datetime, **measured: Any
) -> None:
    enter_work(
        owner,
        trial.pk,
        BenchEntry(
            client_id=uuid4(), entry="done", kind=kind, item=item, panels=codes, at=at, measured=measured
        ),
    )


def meeting_of(shown: Any, test: str = WINE) -> Any:
    return next(each for each in shown["meetings"] if each["test"] == test)


def test_each_board_meets_each_test_in_a_drawn_order_and_nothing_names_a_build_up(
    show: Callable[..., Any], logged: Trial
) -> None:
    shown = show()
    assert len(shown["meetings"]) == 3 * 6
    codes = defaultdict(set)
    for panel in logged.panels.select_related("board"):
        codes[panel.block].add(panel.code)
    for meeting in shown["meetings"]:
        assert set(meeting["panels"]) == codes[meeting["shared"]]
        assert meeting["planned_at"] is not None
    planned = [meeting["planned_at"] for meeting in shown["meetings"]]
    assert planned == sorted(planned)
    assert shown["meeting"] == shown["meetings"][0]["id"]
    assert {step["nth"] for step in shown["steps"]} == {0, 1}
    text = str(shown)
    # Boards are the hands' to know.
    assert not [secret for secret in SECRETS if not secret.startswith("Beech") and secret in text]


def test_what_is_next_follows_the_log(
    owner: Person, logged: Trial, show: Callable[..., Any], bench_clock: Turned
) -> None:
    first = show()["meetings"][0]
    log(owner, logged, "lay", first["test"], first["panels"][:2], bench_clock.at)
    shown = show()
    assert shown["meeting"] == first["id"]
    sites = {(site["panel"], site["test"]): site for site in shown["sites"]}
    assert [sites[code, first["test"]]["n_done"] for code in first["panels"]] == [1, 1, 0]
    assert shown["meetings"][0]["n_begun"] == 2
    assert [step["panel"] for step in shown["steps"] if step["nth"] == 0] == first["panels"][2:]
    log(owner, logged, "lay", first["test"], first["panels"][2:], bench_clock.at)
    # All lie: the next sitting is offered, and what lies is still shown with it.
    shown = show()
    assert shown["meeting"] == shown["meetings"][1]["id"]
    assert {(site["panel"], site["test"]) for site in shown["sites"]} >= {
        (code, first["test"]) for code in first["panels"]
    }
    acts = next(test["ways"][0] for test in shown["tests"] if test["id"] == first["test"])
    bench_clock.turn(minutes=acts[1]["aim_min"])
    log(owner, logged, "lift", first["test"], first["panels"], bench_clock.at)
    over = show()["meetings"][-1]
    assert (over["id"], over["n_over"]) == (first["id"], 3)
    assert show(meeting=first["id"])["meeting"] == first["id"]


def test_a_panel_that_has_not_cured_says_so(
    owner: Person, logged: Trial, show: Callable[..., Any], bench_clock: Turned
) -> None:
    shown = show()
    own = {site["panel"]: site["ready_at"] for site in shown["sites"]}
    control = logged.panels.filter(build_up__is_control=True).values_list("code", flat=True)
    assert {code for code, ready in own.items() if ready is not None} == {*control} & {*own}


def test_a_block_that_is_off_is_flagged_or_refused_as_the_tester_set(
    client_of: Client, owner: Person, logged: Trial, show: Callable[..., Any], bench_clock: Turned
) -> None:
    code = meeting_of(show(), HEAT)["panels"][0]
    act = next(test for test in show()["tests"] if test["id"] == HEAT)["ways"][0][0]
    assert (act["block_c"], act["is_hot"], act["verb"]) == (70, True, "Laid")
    update_trial(owner, logged.pk, block_check="refuse")
    entry = {
        "client_id": str(uuid4()), "entry": "done", "kind": "lay", "item": HEAT, "panels": [code], "look_after_min": 0,
        "nth": 1, "act": "", "at": bench_clock.at.isoformat(), "reason": "", "measured": {"block_c": 66.5},
    }  # fmt: skip
    client = client_of(owner)
    address = f"/api/trials/{logged.pk}/days/entries"
    refused = client.post(address, entry, format="json")
    assert (refused.status_code, refused.json()["field"]) == (400, "measured.block_c")
    assert not PanelWork.objects.filter(item=HEAT).exists()
    assert client.post(address, {**entry, "measured": {"block_c": 68.0}}, format="json").status_code == 200
    update_trial(owner, logged.pk, block_check="flag")
    other = meeting_of(show(), HEAT)["panels"][1]
    kept = client.post(address, {**entry, "client_id": str(uuid4()), "panels": [other]}, format="json")
    assert kept.status_code == 200
    found = [each for each in show()["missed"] if "block" in each["key"]]
    assert [(each["panel"], each["judgement"], each["exposure"]) for each in found] == [
        (other, "deviation", HEAT)
    ]
    says = "".join(
        piece["text"] if piece["value"] is None else f"{piece['value']:g}" for piece in found[0]["says"]
    )
    assert "66.5" in says
    assert "it wants 68 to 72" in says


def test_what_is_left_out_is_told_and_no_more_in_the_sitting(
    client_of: Client, owner: Person, logged: Trial, show: Callable[..., Any]
) -> None:
    meeting = meeting_of(show())
    client = client_of(owner)
    wants = {"what": "leave_out", "panel": meeting["panels"][0], "exposure": WINE, "reason": "Knot under it."}
    assert client.post(f"/api/trials/{logged.pk}/days/spots", wants, format="json").status_code == 200
    shown = show(meeting=meeting["id"])
    assert meeting_of(shown)["panels"] == meeting["panels"][1:]
    assert shown["left_out"] == [{"panel": meeting["panels"][0], "test": WINE, "reason": "Knot under it."}]
    wants = {"what": "count", "panel": meeting["panels"][0], "exposure": WINE}
    assert client.post(f"/api/trials/{logged.pk}/days/spots", wants, format="json").status_code == 200
    assert set(meeting_of(show())["panels"]) == set(meeting["panels"])
    assert show()["left_out"] == []


def test_the_sitting_needs_a_fixed_number_of_queries(
    owner: Person, logged: Trial, client_of: Client, django_assert_max_num_queries: Any, bench_clock: Turned
) -> None:
    client = client_of(owner)
    address = f"/api/trials/{logged.pk}/expose"
    with django_assert_max_num_queries(30) as few:
        shown = client.get(address).json()
    for meeting in shown["meetings"][:4]:
        log(owner, logged, "lay", meeting["test"], meeting["panels"], bench_clock.at)
    with django_assert_max_num_queries(len(few.captured_queries)):
        assert client.get(address).status_code == 200


def test_without_a_plan_or_with_times_on_paper_the_page_says_what_it_lacks(
    client_of: Client, owner: Person, started: Trial
) -> None:
    shown = client_of(owner).get(f"/api/trials/{started.pk}/expose").json()
    assert (shown["has_plan"], shown["times_on_paper"], shown["meetings"]) == (False, True, [])


def test_what_can_never_be_had_is_said_before_the_test(
    client_of: Client, owner: Person, judge: Person, bench_clock: Turned
) -> None:
    trial = whole_trial("scratch-and-mend", owner, judge)
    client = client_of(owner)
    shown = client.get(f"/api/trials/{trial.pk}/expose", {"meeting": ""}).json()
    scratch = meeting_of(shown, "scratch")
    warned = client.get(f"/api/trials/{trial.pk}/expose", {"meeting": scratch["id"]}).json()["cannot_be_had"]
    assert {each["panel"] for each in warned} == set(scratch["panels"])
    assert {(each["what"], each["by"], each["look"]) for each in warned} == {
        ("gloss at 60°", "hands", "before")
    }
    control = trial.panels.get(build_up__is_control=True, code__in=scratch["panels"]).code
    for view in ("along", "across"):
        body = {
            "client_id": str(uuid4()), "panel": control, "exposure": "scratch", "look": "before", "kind": "grade",
            "response": "gloss-60", "view": view, "value": 41.5,
        }  # fmt: skip
        assert client.post(f"/api/judging/{trial.pk}/entries", body, format="json").status_code == 200
    warned = client.get(f"/api/trials/{trial.pk}/expose", {"meeting": scratch["id"]}).json()["cannot_be_had"]
    assert control not in {each["panel"] for each in warned}


def whole_trial(protocol: str, owner: Person, judge: Person) -> Trial:
    """One quick finish and the bare control on two boards, planned; its times are in the log."""
    trial = create_trial(
        owner,
        name=f"Exposed by {protocol}",
        species=["beech"],
        boards_per_species=2,
        panel_length_mm=700,
        panel_width_mm=260,
        end_piece_mm=40,
        slip_replicates=2,
        judges=[judge.pk],
        protocol=protocol,
    )
    add_build_up(owner, trial.pk, name="Skarn Waterborne Satin", family="waterborne-clear", coats=2)
    draw_design(owner, trial.pk, seed=3)
    set_bench(owner, {"hands": [NELL]})
    start(owner, trial.pk)
    return plan(owner, trial)


@dataclass
class Walk:
    """A trial carried out through the API: each act as it is planned, each look as it falls due."""

    trial: Trial
    owner: Person
    judge: Person
    client_of: Client
    clock: Turned
    truth: Mapping[tuple[str, str, str, str, str, str, str], float]
    # What looks count from: after all else nothing new can fall due.
    anchors: frozenset[tuple[str, str, str]]
    soon: tuple[datetime, ...] = ()

    def work(self, row: PlannedOperation, code: str, begins: datetime, ends: datetime) -> None:
        """Log one panel's turn in a planned operation as it ends."""
        self.clock.at = max(self.clock.at, ends)
        body = {
            "client_id": str(uuid4()), "entry": "done", "kind": row.kind, "item": row.item, "act": row.act, "nth": row.nth,
            "look_after_min": row.look_after_min, "panels": [code], "reason": "", "measured": {}, "at": ends.isoformat(),
            "begun_at": begins.isoformat(),
        }  # fmt: skip
        answer = self.client_of(self.owner).post(
            f"/api/trials/{self.trial.pk}/days/entries", body, format="json"
        )
        assert answer.status_code == 200, answer.content

    def read_what_is_due(self) -> None:
        """All that the list of judge and hands offers now."""
        for person, by in ((self.judge, "judges"), (self.owner, "hands")):
            client = self.client_of(person)
            for task in client.get("/api/judging").json():
                if task["by"] == by and task["n_panels_left"]:
                    self._read(client, task["look"]["id"], by)

    def _read(self, client: APIClient, look: str, by: str) -> None:
        sitting = client.get(f"/api/judging/{self.trial.pk}/looks/{look}", {"by": by}).json()
        tests = {test["id"]: test for test in sitting["exposures"]}
        who = self.judge.display_name if by == "judges" else ""
        for panel in sitting["panels"]:
            for spot in panel["spots"]:
                test = tests[spot["exposure"]]
                for prompt, value in zip(test["prompts"], spot["values"], strict=True):
                    if value is None:
                        at = (
                            panel["code"],
                            spot["exposure"],
                            look,
                            prompt["response"],
                            prompt["view"],
                            "",
                            who,
                        )
                        self._enter(client, panel["code"], spot, look, prompt, self.truth[at])
                for choice in spot["choices"]:
                    if choice["value"] is None:
                        at = (
                            panel["code"],
                            spot["exposure"],
                            look,
                            test["choice"],
                            "",
                            choice["against"],
                            who,
                        )
                        prompt = {"response": test["choice"], "view": "", "against": choice["against"]}
                        self._enter(client, panel["code"], spot, look, prompt, self.truth[at])

    def _enter(
        self, client: APIClient, code: str, spot: Any, look: str, prompt: dict[str, str], value: float
    ) -> None:
        body = {
            "client_id": str(uuid4()), "panel": code, "exposure": spot["exposure"], "place": spot["place"], "look": look,
            "kind": "grade", **prompt, "value": RESPONSES[prompt["response"]].rounded(value), "at": self.clock.at.isoformat(),
        }  # fmt: skip
        answer = client.post(f"/api/judging/{self.trial.pk}/entries", body, format="json")
        assert answer.status_code == 200, (body, answer.content)

    def go_on_to(self, moment: datetime) -> None:
        """Read what falls due until then, each at its time."""
        while self.soon and self.soon[0] < moment:
            self.clock.at = max(self.clock.at, self.soon[0])
            self.read_what_is_due()
            self.soon = self.coming()

    def coming(self) -> tuple[datetime, ...]:
        """When the looks that open later are wanted."""
        looks = looks_of_trials([self.trial])[self.trial.pk]
        found = []
        for panel in TrialPanel.objects.filter(trial=self.trial).prefetch_related("spots"):
            for spot in panel.spots.all():
                test = looks.protocol.test(spot.exposure)
                for look in looks.protocol.looks_of(test):
                    time = looks.time(panel.code, test, look, self.clock.at)
                    wanted = time.aim_at or time.opens_at
                    if time.state == "coming" and wanted is not None:
                        found.append(wanted)
        return tuple(sorted(found))


@pytest.fixture
def walk_of(client_of: Client, owner: Person, judge: Person, bench_clock: Turned) -> Callable[[str], Walk]:
    def make(protocol: str) -> Walk:
        trial = whole_trial(protocol, owner, judge)
        looks: tuple[Look, ...] = PROTOCOLS[protocol].all_looks
        found = simulated_values(trial, [judge], looks, rng=np.random.default_rng(5))
        truth = {
            (each.piece, each.test, each.look, each.response, each.view, each.against, each.judge): each.value for each in found
        }  # fmt: skip
        own = PROTOCOLS[protocol]
        anchors = {
            (test.id, *window.acts[-1])
            for test in own.tests
            for look in own.looks_of(test)
            for mend in (None, MendTime(hands_min=1, cure_min=1))
            if (window := look_window(test, look, own.looks_of(test), mend=mend)) is not None and window.acts
        }
        return Walk(
            trial=trial,
            owner=owner,
            judge=judge,
            client_of=client_of,
            clock=bench_clock,
            truth=truth,
            anchors=frozenset(anchors),
        )

    return make


def turns_of(walk: Walk) -> list[tuple[PlannedOperation, str, datetime, datetime]]:
    """Each panel's turn in each planned operation but the looks, as they end."""
    standing = standing_plan(Trial.objects.get(pk=walk.trial.pk))
    assert standing is not None
    found = [
        (row, str(code), standing.start_at + timedelta(seconds=a), standing.start_at + timedelta(seconds=b))
        for row in standing.operations.exclude(kind="look")
        for code, a, b in row.panels
    ]
    return sorted(found, key=lambda turn: (turn[3], turn[0].pk))


# Acts with mends, slips, and what is only looked at and chosen between; all others with NUBLET_FULL_PROMISES=1.
QUICK = ("colour-swatches", "drying-on-glass", "scratch-and-mend")


@pytest.mark.parametrize("name", PROTOCOLS if FULL else QUICK)
def test_a_small_trial_of_every_protocol_is_exposed_and_read_through_the_api(
    walk_of: Callable[[str], Walk], client_of: Client, owner: Person, name: str
) -> None:
    walk = walk_of(name)
    trial, protocol = walk.trial, PROTOCOLS[name]
    walk.read_what_is_due()
    for row, code, begins, ends in turns_of(walk):
        walk.go_on_to(ends)
        walk.work(row, code, begins, ends)
        if row.kind in ("coat", "wipe") or (row.item, row.kind, row.act) in walk.anchors:
            walk.read_what_is_due()
            walk.soon = walk.coming()
    walk.go_on_to(datetime.max.replace(tzinfo=walk.clock.at.tzinfo))
    summary = client_of(owner).get(f"/api/trials/{trial.pk}").json()
    assert summary["n_graded"] == summary["n_expected"]
    assert summary["stages"]["expose"] in ("done", "empty")
    shown = client_of(owner).get(f"/api/trials/{trial.pk}/evidence").json()
    read = {response for test in protocol.tests for response in test.responses}
    parts = {part for response in read for part in (RESPONSES[response].parts or (response,))}
    assert parts <= {each["id"] for each in shown["response_choices"]}
    for choice in sorted(parts):
        found = client_of(owner).get(f"/api/trials/{trial.pk}/evidence", {"response": choice}).json()
        assert found["response"] == choice
        assert found["n_readings"] > 0
    looks = next(check for check in shown["checks"] if check["check"] == "looks")
    assert "do not count" not in looks["says"]
    assert timedelta(0) < walk.clock.at - datetime(2100, 3, 2, 9, tzinfo=walk.clock.at.tzinfo)
