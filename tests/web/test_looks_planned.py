"""A trial that is looked at in stages, boards beyond the plan, what is worth knowing, who knew, and one reading left out."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from rest_framework.test import APIClient

from nublet.core.evidence.readings import KNEW, UNPLANNED
from nublet.core.evidence.stages import stage_limits
from nublet.web.demo.width import with_ladders
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.deviations import add_board
from nublet.web.designs.freezing import check_record
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import Person
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import GRADES, grade_spot

Client = Callable[[Person | None], APIClient]
At = Callable[..., Any]


def grade_board(judge: Person, trial: Trial, number: int, *, most: int = 99) -> None:
    panels = TrialPanel.objects.filter(trial=trial, board__number=number).select_related("build_up")
    for panel in panels[:most]:
        for spot in panel.spots.all():
            grade_spot(judge, trial, panel.code, spot.exposure, GRADES[panel.build_up.name][(number - 1) % 3])


def checks_of(evidence: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {check["check"]: check for check in evidence["checks"]}


def means(evidence: dict[str, Any]) -> list[float]:
    return [row["mean"] for test in evidence["tests"] for row in test["systems"]]


def verdicts(evidence: dict[str, Any]) -> list[str]:
    return [pair["verdict"] for test in evidence["tests"] for pair in test["pairs"]]


@pytest.fixture
def staged(owner: Person, draft: Trial) -> Trial:
    update_trial(owner, draft.pk, stages=[2, 1])
    draw_design(owner, draft.pk, seed=11)
    return start(owner, draft.pk)


def test_a_stage_is_looked_at_when_it_is_read_to_the_end_and_by_its_own_limit(
    client_of: Client, owner: Person, judge: Person, staged: Trial
) -> None:
    keeper = client_of(owner)
    page = f"/api/trials/{staged.pk}/evidence"
    limits = stage_limits((2, 1))
    grade_board(judge, staged, 1)
    grade_board(judge, staged, 2, most=2)
    early = keeper.get(page)
    assert early.status_code == 400
    assert "Stage 1 of 2 (2 boards of each wood) is not read to the end" in early.json()["detail"]
    assert keeper.get(f"/api/trials/{staged.pk}/ranking?use=dining-table").status_code == 400

    grade_board(judge, staged, 2)
    first = keeper.get(page).json()
    assert (first["stage"]["stage"], first["stage"]["n_stages"], first["n_boards"]) == (1, 2, 2)
    assert {test["alpha"] for test in first["tests"]} == {limits[0].alpha}

    grade_board(judge, staged, 3, most=1)
    waiting = keeper.get(page).json()
    assert waiting["stage"]["n_waiting"] > 0
    # A look between the stages shows nothing of the boards to come.
    assert waiting["tests"] == first["tests"]
    assert waiting["left_out"] == []

    grade_board(judge, staged, 3)
    last = keeper.get(page).json()
    assert (last["stage"]["stage"], last["n_boards"]) == (2, 3)
    assert {test["alpha"] for test in last["tests"]} == {limits[1].alpha}
    assert limits[0].alpha < limits[1].alpha < 0.05
    assert "Stage 2 of 2" in checks_of(last)["stages"]["says"]


def test_what_is_worked_out_waits_for_its_stage_wherever_it_is_shown(
    client_of: Client, owner: Person, judge: Person, draft: Trial
) -> None:
    """A panel of which nothing was read has no row of a ladder that could be missing."""
    with_ladders(owner, draft)
    update_trial(owner, draft.pk, stages=[2, 1], panel_length_mm=500)
    draw_design(owner, draft.pk, seed=11)
    staged, keeper = start(owner, draft.pk), client_of(owner)

    def ask(what: str) -> Any:
        return keeper.get(f"/api/trials/{staged.pk}/evidence{what}").json()

    def on_the_board() -> list[str]:
        return [each["id"] for each in ask("/board")["responses"]]

    shown = ("?response=highest-step", "/otherwise?response=highest-step")
    grade_board(judge, staged, 1)
    grade_board(judge, staged, 2, most=2)
    for what in (*shown, "/board"):
        assert "Stage 1 of 2 (2 boards of each wood) is not read to the end" in ask(what)["detail"]

    grade_board(judge, staged, 2)
    assert "highest-step" in on_the_board()
    first = [ask(what) for what in shown]
    assert (first[0]["stage"]["stage"], first[0]["n_boards"]) == (1, 2)

    grade_board(judge, staged, 3, most=1)
    then = [ask(what) for what in shown]
    assert then[0]["stage"]["stage"] == 1
    assert then[0]["tests"] == first[0]["tests"]
    assert then[1] == first[1]


def test_stages_come_to_the_boards_and_stand_once_the_trial_has_started(
    at: At, staged: Trial, draft: Trial
) -> None:
    at("patch", f"trials/{staged.pk}", {"stages": [1, 2]}, status=409)
    at("patch", f"trials/{staged.pk}", {"stages": [2, 1]})


@pytest.mark.parametrize(
    ("fields", "says"),
    [
        ({"stages": [2, 2]}, "come to 4 of each wood, but the trial has 3"),
        ({"stages": [3, 0]}, "1 to 10 stages"),
        ({"worth_knowing": {"grade": 0}}, "more than 0"),
        ({"worth_knowing": {"grade": 7}}, "at most 4"),
        ({"worth_knowing": {"smell": 1}}, "compared by differences"),
    ],
)
def test_plans_that_cannot_be_are_refused_in_words(
    at: At, draft: Trial, fields: dict[str, Any], says: str
) -> None:
    assert says in at("patch", f"trials/{draft.pk}", fields, status=400)["detail"]


def test_the_design_page_tells_what_each_look_must_show(at: At, draft: Trial) -> None:
    told = at("post", f"trials/{draft.pk}/outlook", {"stages": [2, 1], "boards_per_species": 3})
    assert [each["n_boards"] for each in told["stages"]] == [2, 3]
    assert told["stages"][0]["alpha"] == stage_limits((2, 1))[0].alpha


def test_what_is_worth_knowing_is_the_askers_to_say(client_of: Client, owner: Person, graded: Trial) -> None:
    keeper = client_of(owner)
    usual = keeper.get(f"/api/trials/{graded.pk}/evidence").json()
    assert {test["worth"] for test in usual["tests"]} == {1.0}
    assert "worth" not in checks_of(usual)
    assert (
        keeper.patch(f"/api/trials/{graded.pk}", {"worth_knowing": {"grade": 3.5}}, format="json").status_code
        == 200
    )
    wide = keeper.get(f"/api/trials/{graded.pk}/evidence").json()
    assert {test["worth"] for test in wide["tests"]} == {3.5}
    assert verdicts(usual).count("alike") < verdicts(wide).count("alike")
    assert verdicts(usual).count("told apart") == verdicts(wide).count("told apart")
    late = checks_of(wide)["worth"]
    assert (late["level"], "when readings had been made" in late["says"], bool(late["does"])) == (
        "warn",
        True,
        True,
    )


def test_a_board_beyond_the_plan_stands_beside_the_verdict_once_something_was_read(
    client_of: Client, owner: Person, judge: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    page = f"/api/trials/{graded.pk}/evidence"
    before = keeper.get(page).json()
    said = {
        "kind": "board_added", "species": "beech", "reason": "two were still open", "length_mm": 1500, "width_mm": 170,
    }  # fmt: skip
    design = keeper.post(f"/api/trials/{graded.pk}/deviations", said, format="json").json()
    board = design["boards"][-1]
    assert (board["name"], len(board["panels"]), board["added_at"] is not None) == ("Beech 4", 3, True)
    assert {panel["build_up"]["name"] for panel in board["panels"]} == set(GRADES)
    assert check_record(Trial.objects.get(pk=graded.pk)) == "intact"
    assert not any(name in design["deviations"][-1]["says"] for name in GRADES)

    grade_board(judge, graded, 4)
    after = keeper.get(page).json()
    assert means(after) == means(before)
    assert [each["why"] for each in after["left_out"]] == [UNPLANNED]
    assert checks_of(after)["added"]["level"] == "warn"
    assert "Beech 4" in checks_of(after)["added"]["says"]


def test_a_board_that_comes_before_anything_is_read_counts(
    client_of: Client, owner: Person, judge: Person, started: Trial
) -> None:
    add_board(
        owner,
        started.pk,
        species="beech",
        reason="one more was dry",
        fields={"length_mm": 1500, "width_mm": 170},
    )
    for number in (1, 2, 3, 4):
        grade_board(judge, started, number)
    found = client_of(owner).get(f"/api/trials/{started.pk}/evidence").json()
    assert (found["n_boards"], found["left_out"]) == (4, [])
    assert checks_of(found)["added"]["level"] == "pass"


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"species": "larch"}, "not on 'larch'"),
        ({"length_mm": 300}, "longer plank"),
        ({"reason": " "}, "Say what happened"),
    ],
)
def test_a_board_that_cannot_be_added_leaves_nothing_behind(
    at: At, started: Trial, more: dict[str, Any], says: str
) -> None:
    said = {
        "kind": "board_added",
        "species": "beech",
        "reason": "x",
        "length_mm": 1500,
        "width_mm": 170,
    } | more
    assert says in at("post", f"trials/{started.pk}/deviations", said, status=400)["detail"]
    assert started.boards.count() == 3
    assert started.panels.count() == 9


def test_who_could_know_stands_apart_where_others_read_the_same_blind(
    client_of: Client, owner: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    page = f"/api/trials/{graded.pk}/evidence"
    before = keeper.get(page).json()
    graded.judges.add(owner)
    panel = TrialPanel.objects.filter(trial=graded, build_up__name="Marrowby Tung")[0]
    grade_spot(owner, graded, panel.code, "wine-1h", 5)
    after = keeper.get(page).json()
    assert means(after) == means(before)
    assert [(each["why"], each["n_rows"]) for each in after["left_out"]] == [(KNEW, 1)]
    assert "1 reading of those who could know stand apart" in checks_of(after)["blind"]["says"]
    # How far he agrees with the others is told all the same.
    assert "Nell" in after["agreement"]["judges"]


def test_one_reading_is_left_out_with_a_reason_and_counts_again(
    client_of: Client, owner: Person, judge: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    page = f"/api/trials/{graded.pk}/evidence"
    before = keeper.get(page).json()
    behind = f"{page}/readings?test=wine-1h&system=Marrowby Tung"
    row = keeper.get(behind).json()[0]
    one = f"{page}/readings/{row['id']}"
    assert keeper.patch(one, {"because": " "}, format="json").status_code == 409
    told = keeper.patch(one, {"because": "graded the wrong panel"}, format="json")
    assert (told.status_code, told.json()["left_out_because"]) == (200, "graded the wrong panel")
    assert keeper.patch(one, {"because": "again"}, format="json").status_code == 409
    without = keeper.get(page).json()
    assert without["n_readings"] == before["n_readings"] - 1
    assert [(each["why"], each["n_rows"]) for each in without["left_out"]] == [
        ("left out by hand, singly", 1)
    ]
    assert keeper.get(f"{page}/otherwise").json()["means"]
    assert client_of(judge).patch(one, {"because": ""}, format="json").status_code == 403
    assert keeper.patch(one, {"because": ""}, format="json").status_code == 200
    assert keeper.get(page).json()["tests"] == before["tests"]
