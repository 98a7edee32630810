"""Every protocol that ships goes through every stage of a trial: from the protocol alone, with nothing known of its tests.

By default those that are unlike each other; all of them with ``NUBLET_FULL_PROMISES=1``.
"""

from __future__ import annotations

import csv
import io
import time
from collections.abc import Callable, Iterable
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from rest_framework.test import APIClient

from nublet.core.planning.plan import Plan, make_plan
from nublet.core.protocols.prompts import n_values
from nublet.core.protocols.responses import RESPONSES, parts_of
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.ranking.shipped import USES
from nublet.formats.schedule_json import plan_spec_to_plain, plan_to_json
from nublet.web.bench.adapters import spec_for
from nublet.web.bench.bench_actions import active_hands, bench_of, set_bench
from nublet.web.build_ups.actions import add_build_up
from nublet.web.demo.simulated import enter_simulated
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.freezing import check_record
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading
from nublet.web.readings.selectors import open_sitting
from nublet.web.readings.tasks import list_judging
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial
from tests.core.plan_checks import faults_of
from tests.sizes import FULL
from tests.web.conftest import SECRETS

Client = Callable[[Person | None], APIClient]
# What an answer has beside what stands, where nothing was measured and no other device said anything.
PLAIN: dict[str, Any] = {"elsewhere": None, "singles": [], "worked_out": []}
ALWAYS = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "from": "06:00", "to": "22:00"}


def trial_of(protocol: str, owner: Person, judge: Person) -> Trial:
    """Two candidates and the control on two boards with end pieces, started."""
    trial = create_trial(
        owner,
        name=f"A trial by {protocol}",
        question="Which one?",
        uses=list(USES),
        species=["beech"],
        boards_per_species=2,
        panel_length_mm=700,
        panel_width_mm=260,
        end_piece_mm=40,
        slip_replicates=2,
        judges=[judge.pk],
        protocol=protocol,
        times_on_paper=True,
        blind_repeats=False,
    )
    add_build_up(owner, trial.pk, name="Marrowby Tung", family="pure-drying-oil", coats=4)
    add_build_up(owner, trial.pk, name="Skarn Waterborne Satin", family="waterborne-clear", coats=3)
    return start(owner, draw_design(owner, trial.pk, seed=3).pk)


def plan_it(trial: Trial, owner: Person) -> Plan:
    set_bench(owner, {"hands": [{"name": name, "hours": [ALWAYS]} for name in ("Nell", "Wren")]})
    spec = spec_for(
        trial,
        bench_of(trial.shop),
        active_hands(trial.shop_id),
        start_at=datetime(2027, 3, 1, 8, tzinfo=UTC),
        weighs=False,
        condition_h=0,
        prepares=True,
    )
    assert spec.is_together
    plan = make_plan(spec, clock=time.monotonic, limit_s=0)
    assert isinstance(plan, Plan), [reason.says for reason in plan.reasons]
    assert (
        faults_of(plan_spec_to_plain(replace(spec, start=spec.start.replace(tzinfo=None))), shown_of(plan))
        == []
    )
    return plan


def shown_of(plan: Plan) -> dict[str, Any]:
    """The plan for the checker, whose clock has no zone."""
    return plan_to_json(replace(plan, spec=replace(plan.spec, start=plan.spec.start.replace(tzinfo=None))))


# Sites, acts, scales and measures of every kind; the others differ from these by their agents alone.
UNLIKE = (
    "board-and-utensils", "floor", "wet-room", "sheen-and-wax", "outdoors", "charred-wood", "drying-on-glass", "scratch-and-mend",
)  # fmt: skip


def test_those_that_are_always_tried_have_all_kinds_among_them() -> None:
    def kinds_of(protocols: Iterable[str]) -> set[tuple[str, str]]:
        tests = [test for each in protocols for test in PROTOCOLS[each].tests]
        return (
            {("site", test.site.kind) for test in tests}
            | {("act", act.kind) for test in tests for act in test.acts}
            | {("response", response) for test in tests for response in test.responses}
            | {("by", read.by) for test in tests for read in test.reads}
        )

    assert kinds_of(UNLIKE) == kinds_of(PROTOCOLS)


@pytest.mark.parametrize("name", PROTOCOLS if FULL else UNLIKE)
def test_a_trial_by_every_protocol_is_designed_planned_read_weighed_and_ranked(
    client_of: Client, owner: Person, judge: Person, name: str
) -> None:
    protocol = PROTOCOLS[name]
    trial = trial_of(name, owner, judge)
    assert check_record(trial) == "intact"
    assert plan_it(trial, owner).operations

    # What is expected of everybody is what the tables count by.
    every = {test.id: (test, protocol.looks_of(test)) for test in protocol.tests}
    spots = list(trial.panels.values_list("spots__exposure", flat=True))
    expected = sum(
        n_values(*every[exposure], by="judges") + n_values(*every[exposure], by="hands") for exposure in spots
    )
    keeper = client_of(owner)
    assert keeper.get(f"/api/trials/{trial.pk}").json()["n_expected"] == expected
    wanted = [*list_judging(judge), *list_judging(owner)]
    assert sum(task.n_values for task in wanted) == expected
    assert {task.by for task in list_judging(judge)} <= {"judges"}
    assert {task.by for task in list_judging(owner)} <= {"hands"}

    enter_simulated(trial, [judge], owner, protocol.all_looks, rng=np.random.default_rng(5))
    left = [*list_judging(judge), *list_judging(owner)]
    assert {task.n_panels_left for task in left} == {0}
    assert sum(task.n_read for task in left) == expected
    for person in (judge, owner):
        for task in list_judging(person):
            sitting = open_sitting(person, trial.pk, task.look.id, task.by)
            values = [value for panel in sitting.panels for spot in panel.spots for value in spot.values]
            assert len(values) == task.n_values
            assert None not in values

    # Each response is shown, alone and among all; a judge sees none of it, and no secret in what is his to see.
    address = f"/api/trials/{trial.pk}/evidence"
    shown = keeper.get(address).json()
    read = {part.id for test in protocol.tests for each in test.responses for part in parts_of(each)}
    choices = {each["id"] for each in shown["response_choices"]}
    assert read <= choices
    for choice in sorted(choices):
        answered = keeper.get(address, {"response": choice})
        assert answered.status_code == 200, answered.content
        found = answered.json()
        assert found["response"] == choice
        assert bool(found["tests"]) != bool(found["shares"])
        assert bool(found["shares"]) == (RESPONSES[choice].form == "kinds")
        behind = (found["tests"] or found["shares"])[0]["test"]
        if behind in every:
            rows = keeper.get(
                f"{address}/readings",
                {"test": behind, "system": "Marrowby Tung", "look": found["look"], "response": choice},
            )
            assert rows.status_code == 200
    table = keeper.get(f"/api/trials/{trial.pk}/readings.csv", {"response": "all"})
    lines = list(csv.DictReader(io.StringIO(table.content.decode())))
    assert {line["response"] for line in lines} >= read
    assert sum(line["response"] in read and not line["against"] for line in lines) == expected
    # A use is ranked as far as the trial feeds it; where nothing does it says so.
    for use in ("dining-table", "shelf-bedside-display"):
        ranked = keeper.get(f"/api/trials/{trial.pk}/ranking", {"use": use})
        says = " ".join(ranked.json()["says"]) if ranked.status_code == 200 else ranked.json()["detail"]
        assert any(words in says for words in ("For a ", "None of the tests", "has been graded"))

    blind = client_of(judge)
    for task in list_judging(judge):
        page = blind.get(f"/api/judging/{trial.pk}/looks/{task.look.id}").content.decode()
        assert not [secret for secret in SECRETS if secret in page]
    assert blind.get(f"/api/judging/{trial.pk}/looks/x?by=hands").status_code == 403


def test_each_form_of_response_is_entered_and_refused_in_words(
    client_of: Client, owner: Person, judge: Person
) -> None:
    trial = trial_of("desk-and-shelf", owner, judge)
    panel = trial.panels.order_by("code")[0]
    other = trial.panels.filter(board=panel.board_id).order_by("code").last()
    assert other is not None

    def post(person: Person, **fields: Any) -> Any:
        body = {"client_id": str(uuid4()), "panel": panel.code, "kind": "grade", "look": "cured", **fields}
        return client_of(person).post(f"/api/judging/{trial.pk}/entries", body, format="json")

    seen = {"exposure": "sheen", "response": "sheen-seen", "view": "down-the-length"}
    assert post(judge, **seen, value=4).json() == {
        "value": 4,
        "is_beyond": False,
        "note": "",
        **PLAIN,
    }
    assert post(judge, **{**seen, "view": "square-on"}, value=2).json()["value"] == 2
    assert Reading.objects.filter(response="sheen-seen").count() == 2
    gloss: dict[str, Any] = {"exposure": "sheen", "response": "gloss-60", "view": "along", "value": 34.5}
    assert post(owner, **gloss).json()["value"] == 34.5
    # Instruments are for the hands at the bench, and a grade is not asked for here.
    for fields in (gloss, {"exposure": "sheen", "response": "grade", "value": 3}):
        refused = post(judge, **fields)
        assert (refused.status_code, refused.json()["field"]) == (400, "response")
    off = post(owner, **{**gloss, "value": -3})
    assert (off.status_code, off.json()["field"]) == (400, "value")
    beyond = post(owner, **gloss, is_beyond=True)
    assert (beyond.status_code, beyond.json()["field"]) == (400, "is_beyond")
    kinds = {"exposure": "faults", "response": "application-faults"}
    assert post(judge, **kinds, value=5).json()["value"] == 5
    assert post(judge, **kinds, value=0).json()["value"] == 0
    chosen = {"exposure": "preference", "response": "preferred", "value": 1}
    assert post(judge, **chosen, against=other.code).json()["value"] == 1
    for fields in ({"panel": other.code, "against": panel.code}, {"against": panel.code}, {"against": "ZZ"}):
        refused = post(judge, **{**chosen, **fields})
        assert (refused.status_code, refused.json()["field"]) == (400, "against")
    # A look of the protocol that is none of the test's.
    wrong = post(judge, **seen, value=3, look="24h")
    assert (wrong.status_code, wrong.json()["field"]) == (400, "look")
    assert "is not read at" in wrong.json()["detail"]


def test_more_than_can_be_told_stands_until_it_is_told(
    client_of: Client, owner: Person, judge: Person
) -> None:
    trial = trial_of("outdoors", owner, judge)
    test = next(test for test in PROTOCOLS["outdoors"].tests if "soak-in" in test.responses)
    panel = trial.panels.filter(spots__exposure=test.id).order_by("code")[0]
    look = next(look.id for look in PROTOCOLS["outdoors"].looks_of(test) if test.reads[-1].is_due_at(look))

    def post(**fields: Any) -> Any:
        body = {
            "client_id": str(uuid4()), "panel": panel.code, "exposure": test.id, "look": look, "kind": "grade",
            "response": "soak-in", **fields,
        }  # fmt: skip
        return client_of(owner).post(f"/api/judging/{trial.pk}/entries", body, format="json").json()

    assert post(value=60, is_beyond=True) == {"value": 60, "is_beyond": True, "note": "", **PLAIN}
    assert post(value=74) == {"value": 74, "is_beyond": False, "note": "", **PLAIN}
    assert post(kind="take_back") == {"value": 60, "is_beyond": True, "note": "", **PLAIN}
    table = client_of(owner).get(f"/api/trials/{trial.pk}/readings.csv", {"response": "all"})
    (line,) = csv.DictReader(io.StringIO(table.content.decode()))
    assert (line["panel"], line["value"], line["beyond"], line["unit"]) == (panel.code, "60", "yes", "min")


def test_slips_have_codes_and_labels_and_no_board(client_of: Client, owner: Person, judge: Person) -> None:
    trial = trial_of("drying-on-glass", owner, judge)
    keeper = client_of(owner)
    design = keeper.get(f"/api/trials/{trial.pk}/design").json()
    on_glass = [test.id for test in PROTOCOLS["drying-on-glass"].tests if test.site.kind == "slip"]
    # Two of each test for each finish; bare wood has none.
    assert len(design["slips"]) == len(on_glass) * 2 * 2
    assert {slip["build_up"]["name"] for slip in design["slips"]} == {
        "Marrowby Tung",
        "Skarn Waterborne Satin",
    }
    slip = design["slips"][0]
    codes = {panel["code"] for board in design["boards"] for panel in board["panels"]}
    assert slip["code"] not in codes
    refused = keeper.post(
        f"/api/trials/{trial.pk}/deviations",
        {
            "kind": "panel_replaced",
            "panel": slip["code"],
            "reason": "broke",
            "board": design["boards"][0]["id"],
        },
        format="json",
    )
    assert (refused.status_code, refused.json()["field"]) == (400, "board")
    told = keeper.post(
        f"/api/trials/{trial.pk}/deviations",
        {"kind": "panel_replaced", "panel": slip["code"], "reason": "broke"},
        format="json",
    ).json()["deviations"][-1]
    assert told["says"].startswith(f"Slip {slip['code']} (Glass {slip['replicate']}) is replaced by ")
    assert "a fresh slip of glass" in told["says"]
    again = keeper.get(f"/api/trials/{trial.pk}/design").json()["slips"]
    new = next(each for each in again if each["replaces"] == slip["code"])
    assert (new["test"], new["replicate"], new["build_up"]["name"]) == (
        slip["test"], slip["replicate"], slip["build_up"]["name"],
    )  # fmt: skip
    assert check_record(Trial.objects.get(pk=trial.pk)) == "intact"


def test_looks_months_away_are_dates(client_of: Client, owner: Person, judge: Person) -> None:
    from nublet.core.bench.far import far_dates

    trial = trial_of("outdoors", owner, judge)
    test = next(test for test in PROTOCOLS["outdoors"].tests if any(look.is_far for look in test.looks))
    codes = sorted(trial.panels.filter(spots__exposure=test.id).values_list("code", flat=True))
    out = datetime(2027, 3, 1, 10, tzinfo=UTC)
    ended = {(code, test.id, "out"): out for code in codes[:2]}
    planned = {(code, test.id, "out"): out + timedelta(days=3) for code in codes}
    carried = [(code, test.id) for code in codes]
    dates = far_dates(PROTOCOLS["outdoors"], carried, ended, planned)
    far = [look for look in test.looks if look.is_far]
    assert len(dates) == 2 * len(far)
    first = dates[0]
    assert (first.look.id, first.panels, first.is_planned) == (far[0].id, tuple(codes[:2]), False)
    assert first.aim_at == out + timedelta(minutes=far[0].after_min)
    assert first.opens_at == first.aim_at - timedelta(minutes=far[0].give_or_take_min)
    assert [each.is_planned for each in dates[:2]] == [False, True]
    # What was read is no date any more.
    seen = {(code, test.id, far[0].id) for code in codes[:2]}
    assert far_dates(PROTOCOLS["outdoors"], carried, ended, {}, seen=seen)[0].look.id == far[1].id
