"""Designing, measuring, starting, deviating and printing through the API."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Callable
from typing import Any

import pdfplumber
import pytest
from rest_framework.test import APIClient

from nublet.core.design.graded import graded_sd
from nublet.core.design.trial_design import fingerprint_of
from nublet.web.build_ups.actions import set_benchmark
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.freezing import check_record
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.evidence.selectors import readings_of, weigh_evidence
from nublet.web.people.models import AuditEntry, Person
from nublet.web.readings.models import Reading
from nublet.web.stages.selectors import summarise_trial
from nublet.web.trials.actions import create_trial, update_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import SECRETS, grade_spot

Client = Callable[[Person | None], APIClient]
BUILD_UP_NAMES = SECRETS[:5]


def in_words(pieces: list[dict[str, Any]]) -> str:
    return "".join(piece["text"] for piece in pieces)


@pytest.fixture
def started(owner: Person, designed: Trial) -> Trial:
    return start(owner, designed.pk)


def panels_of(trial: Trial) -> list[TrialPanel]:
    return list(trial.panels.order_by("board", "position"))


def test_a_measured_board_is_cut_around_its_defects(at: Callable[..., Any], designed: Trial) -> None:
    board = designed.boards.all()[0]
    drawn = at("get", f"trials/{designed.pk}/design")
    assert [panel["offset_mm"] for panel in drawn["boards"][0]["panels"]] == [20, 423, 826]
    codes = [panel["code"] for panel in drawn["boards"][0]["panels"]]
    knot = {"from_mm": 400, "to_mm": 440, "kind": "knot"}
    measured = at(
        "patch",
        f"trials/{designed.pk}/boards/{board.pk}",
        {"length_mm": 1700, "width_mm": 160, "defects": [knot]},
    )
    first = measured["boards"][0]
    assert [panel["offset_mm"] for panel in first["panels"]] == [440, 843, 1246]
    assert [panel["code"] for panel in first["panels"]] == codes
    assert (first["says"], first["needed_mm"], measured["n_short"]) == ([], 1666, 0)
    shorter = at("patch", f"trials/{designed.pk}/boards/{board.pk}", {"length_mm": 1546})
    says = shorter["boards"][0]["says"]
    assert in_words(says) == "Board 'Beech 1' is 120 mm short: it gives 2 of 3 panels."
    assert [(piece["quantity"], piece["value"]) for piece in says if piece["quantity"]] == [
        ("millimetres", 120)
    ]
    assert shorter["boards"][0]["defects"] == [knot]
    assert shorter["boards"][0]["panels"][2]["offset_mm"] is None
    problem = at("post", f"trials/{designed.pk}/start", status=400)
    assert "120 mm short" in problem["detail"]
    assert "millimetres" in {piece["quantity"] for piece in problem["pieces"]}


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"length_mm": 0}, "0 mm long cannot be"),
        ({"defects": [{"from_mm": 300, "to_mm": 200}]}, "a defect from 300 to 200 mm cannot be"),
        ({"defects": [{"from_mm": 1, "to_mm": 2, "kind": "rot"}]}, "rot"),
        ({"name": "Beech 2"}, "Another board of this trial is called 'Beech 2'"),
    ],
)
def test_a_measure_that_cannot_be_is_refused_and_changes_nothing(
    at: Callable[..., Any], designed: Trial, body: dict[str, Any], says: str
) -> None:
    board = designed.boards.all()[0]
    problem = at("patch", f"trials/{designed.pk}/boards/{board.pk}", body, status=400)
    assert says in json.dumps(problem)
    board.refresh_from_db()
    assert (board.name, board.length_mm, board.defects) == ("Beech 1", None, [])


def test_boards_keep_their_measures_when_fewer_are_asked_for_and_then_more(
    at: Callable[..., Any], owner: Person, draft: Trial
) -> None:
    last = draft.boards.get(name="Beech 3")
    at("patch", f"trials/{draft.pk}/boards/{last.pk}", {"length_mm": 1800})
    update_trial(owner, draft.pk, boards_per_species=2)
    draw_design(owner, draft.pk, seed=1)
    assert [board["name"] for board in at("get", f"trials/{draft.pk}/design")["boards"]] == [
        "Beech 1",
        "Beech 2",
    ]
    update_trial(owner, draft.pk, boards_per_species=4)
    shown = at("get", f"trials/{draft.pk}/design")["boards"]
    assert [board["length_mm"] for board in shown] == [None, None, 1800, None]


def test_a_board_too_short_for_all_is_drawn_in_balanced_incomplete_blocks(
    at: Callable[..., Any], owner: Person, draft: Trial
) -> None:
    for board in draft.boards.all():
        at("patch", f"trials/{draft.pk}/boards/{board.pk}", {"length_mm": 900})
    drawn = at("post", f"trials/{draft.pk}/design", {}, status=201)
    carried = [{panel["build_up"]["name"] for panel in board["panels"]} for board in drawn["boards"]]
    assert [len(names) for names in carried] == [2, 2, 2]
    assert len(set(map(frozenset, carried))) == 3
    outlook = at("post", f"trials/{draft.pk}/outlook", {})
    assert outlook["species"][0]["efficiency"] == pytest.approx(0.75)
    assert (outlook["n_panels"], outlook["troubles"]) == (6, [])
    update_trial(owner, draft.pk, arrangement="complete")
    problem = at("post", f"trials/{draft.pk}/design", {}, status=400)
    assert "mm short" in problem["detail"]
    assert "millimetres" in {piece["quantity"] for piece in problem["pieces"]}


def test_the_outlook_follows_a_draft_and_saves_nothing(at: Callable[..., Any], draft: Trial) -> None:
    first, second = (
        at("post", f"trials/{draft.pk}/outlook", {"boards_per_species": n})["outlook"] for n in (3, 6)
    )
    assert "With 3 boards you will notice a" in first["says"][0]
    assert "SD 0.6 grades" in first["says"][0]
    assert second["here"]["told_apart"] < first["here"]["told_apart"]
    assert second["fewer"]["n_boards"] == 5
    assert first["more"]["told_apart"] < first["here"]["told_apart"] < first["fewer"]["told_apart"]
    assert first["curve"][10][0] == 1.0
    assert first["curve_fewer"][10][1] < first["curve"][10][1] < first["curve_more"][10][1]
    draft.refresh_from_db()
    assert draft.boards_per_species == 3
    given = at("post", f"trials/{draft.pk}/outlook", {"sd": 0.3})
    assert given["spread"] == given["spread"] | {"sd": 0.3, "origin": "given"}
    # Half the spread between panels, and the same rounding to whole grades.
    smaller = graded_sd(0.3, 1) / graded_sd(0.6, 1)
    assert given["outlook"]["here"]["told_apart"] == pytest.approx(first["here"]["told_apart"] * smaller)


def test_one_board_is_a_demonstration(at: Callable[..., Any], draft: Trial) -> None:
    outlook = at("post", f"trials/{draft.pk}/outlook", {"boards_per_species": 1})["outlook"]
    assert outlook["says"][0].startswith("One board is a demonstration")
    assert outlook["here"]["told_apart"] is None


def test_the_outlook_names_what_cannot_be_drawn(at: Callable[..., Any], draft: Trial) -> None:
    small = at("post", f"trials/{draft.pk}/outlook", {"panel_length_mm": 200})
    assert [trouble["field"] for trouble in small["troubles"]] == ["panel_length_mm"]
    says = small["troubles"][0]["says"]
    assert "would do" in in_words(says)
    assert {piece["quantity"] for piece in says} == {None, "millimetres"}
    assert (small["samples"], small["outlook"]["here"]["n_boards"]) == ([], 3)
    none = at("post", f"trials/{draft.pk}/outlook", {"species": []})
    assert (none["outlook"], none["n_panels"]) == (None, 0)
    assert "There are no boards" in in_words(none["troubles"][0]["says"])
    problem = at("post", f"trials/{draft.pk}/outlook", {"margin_mm": -1}, status=400)
    assert problem["field"] == "margin_mm"


def test_the_outlook_says_what_the_design_costs(at: Callable[..., Any], draft: Trial) -> None:
    few, many = (at("post", f"trials/{draft.pk}/outlook", {"boards_per_species": n})["cost"] for n in (2, 4))
    assert few["litres"] > 0
    assert many["litres"] == pytest.approx(2 * few["litres"])
    assert many["effort"]["total_h"] == pytest.approx(2 * few["effort"]["total_h"])
    effort = few["effort"]
    assert effort["prepare_h"] == pytest.approx(6 * 6 / 60)
    assert effort["total_h"] == pytest.approx(sum(effort[k] for k in effort if k != "total_h"))
    # Known by their families alone, they have no price.
    assert (few["money"], few["n_without_price"]) == (0, 2)


def test_the_spread_is_pooled_from_the_shops_own_finished_trials(
    at: Callable[..., Any], owner: Person, judge: Person, graded: Trial
) -> None:
    other = create_trial(owner, name="Benches", species=["beech"], boards_per_species=3, judges=[judge.pk])
    assert at("post", f"trials/{other.pk}/outlook", {})["spread"]["origin"] == "usual"
    spots = list(TrialSpot.objects.filter(panel__trial=graded))
    Reading.objects.bulk_create(Reading(spot=spot, judge=judge, look="lifted", value=3) for spot in spots)
    spread = at("post", f"trials/{other.pk}/outlook", {})["spread"]
    fits = [test.fit for test in weigh_evidence(graded).tests]
    df = sum(fit.residual_df for fit in fits if fit)
    pooled = sum((fit.residual_ms or 0) * fit.residual_df for fit in fits if fit) / df
    assert (spread["origin"], spread["n_trials"], spread["residual_df"]) == ("own_trials", 1, df)
    assert spread["sd"] == pytest.approx(pooled**0.5)
    assert "pooled from your own finished trial" in spread["says"]
    # A correction is taken in; a trial never counts towards its own plan; simulated ones stand apart.
    bare = TrialSpot.objects.filter(panel__trial=graded, panel__build_up__is_control=True)[0]
    grade_spot(judge, graded, bare.panel.code, bare.exposure, 5)
    assert at("post", f"trials/{other.pk}/outlook", {})["spread"]["sd"] != spread["sd"]
    assert at("post", f"trials/{graded.pk}/outlook", {})["spread"]["origin"] == "usual"
    Trial.objects.filter(pk=graded.pk).update(is_simulated=True)
    assert at("post", f"trials/{other.pk}/outlook", {})["spread"]["origin"] == "usual"


def test_the_outlook_needs_a_fixed_number_of_queries(
    at: Callable[..., Any], owner: Person, draft: Trial, django_assert_max_num_queries: Any
) -> None:
    for n in (3, 12):
        with django_assert_max_num_queries(16):
            at("post", f"trials/{draft.pk}/outlook", {"boards_per_species": n})


def test_starting_freezes_the_trial_under_the_fingerprint_of_its_record(
    at: Callable[..., Any],
    client_of: Client,
    owner: Person,
    designed: Trial,
    sheet: Callable[..., Any],
) -> None:
    assert check_record(designed) == "none"
    before = designed.fingerprint
    address = f"trials/{designed.pk}/start"
    problem = at("post", address, status=400)
    assert (problem["field"], problem["code"]) == ("unmeasured_because", "design_impossible")
    assert problem["detail"].startswith("3 boards are not measured, Beech 1 for one.")
    assert (
        at("post", address, {"unmeasured_because": " \u200b "}, status=400)["field"] == "unmeasured_because"
    )
    shown = at("post", address, {"unmeasured_because": "Cut already"})
    said = AuditEntry.objects.get(action="start_unmeasured")
    assert said.details == {"boards": ["Beech 1", "Beech 2", "Beech 3"], "because": "Cut already"}
    designed.refresh_from_db()
    record = json.loads(designed.record)
    assert shown["fingerprint"] == designed.fingerprint == fingerprint_of(record) != before
    assert shown["record_state"] == "intact"
    # Sheets that were printed before the start are still of this design.
    assert record["drawn"] == before
    assert before[:12] in text_of(sheet(client_of(owner), designed, "labels").content)
    assert {panel["code"] for panel in record["design"]["panels"]} == {p.code for p in panels_of(designed)}
    assert [row["name"] for row in record["build_ups"]] == [
        "Bare control",
        "Marrowby Tung",
        "Skarn Waterborne Satin",
    ]
    assert record["build_ups"][1]["recipe"]["layers"][0]["coats"] == 4
    assert record["protocol"]["id"] == "table-basics"
    assert [board["name"] for board in record["boards"]] == ["Beech 1", "Beech 2", "Beech 3"]
    problem = at("post", f"trials/{designed.pk}/start", status=409)
    assert "has started already" in problem["detail"]


def test_a_record_that_no_longer_fits_its_fingerprint_or_the_tables_is_broken(started: Trial) -> None:
    assert check_record(started) == "intact"
    spot = TrialSpot.objects.filter(panel__trial=started)[0]
    TrialSpot.objects.filter(pk=spot.pk).update(x_mm=spot.x_mm + 1)
    assert check_record(started) == "broken"
    TrialSpot.objects.filter(pk=spot.pk).update(x_mm=spot.x_mm)
    assert check_record(started) == "intact"
    started.record = started.record.replace("Marrowby Tung", "Marrowby Oil")
    assert check_record(started) == "broken"


@pytest.mark.parametrize(
    "change",
    [
        {"boards_per_species": 4}, {"species": ["elm"]}, {"panel_length_mm": 500}, {"sections": ["a", "b"]},
        {"kerf_mm": 4}, {"end_piece_mm": 50}, {"preparation_school": "levelled"}, {"faces": "both"},
    ],
)  # fmt: skip
def test_what_is_frozen_cannot_change(at: Callable[..., Any], started: Trial, change: dict[str, Any]) -> None:
    problem = at("patch", f"trials/{started.pk}", change, status=409)
    assert "Record what went otherwise as a deviation" in problem["detail"]
    board = started.boards.all()[0]
    at("patch", f"trials/{started.pk}/boards/{board.pk}", {"length_mm": 2000}, status=409)
    at("post", f"trials/{started.pk}/design", {}, status=409)
    assert check_record(started) == "intact"


def test_nothing_deviates_before_the_start(at: Callable[..., Any], designed: Trial) -> None:
    panel = panels_of(designed)[0]
    body = {"kind": "panel_spoiled", "panel": panel.code, "reason": "Dropped"}
    problem = at("post", f"trials/{designed.pk}/deviations", body, status=409)
    assert "has not started" in problem["detail"]


def test_a_spoiled_panel_is_kept_and_counts_for_nothing(
    at: Callable[..., Any], client_of: Client, judge: Person, graded: Trial
) -> None:
    panel = panels_of(graded)[0]
    n_readings = Reading.objects.count()
    before = len(readings_of(graded))
    body = {"kind": "panel_spoiled", "panel": panel.code, "reason": " Dropped on its face "}
    shown = at("post", f"trials/{graded.pk}/deviations", body, status=201)
    (deviation,) = shown["deviations"]
    assert deviation["says"] == f"Panel {panel.code} (Beech 1) is spoiled and counts for nothing."
    assert (deviation["reason"], deviation["recorded_by"]) == ("Dropped on its face", "Nell")
    assert shown["record_state"] == "intact"
    assert Reading.objects.count() == n_readings
    assert len(readings_of(graded)) == before - 6
    graded.refresh_from_db()
    checks = {check.check: check for check in weigh_evidence(graded).checks}
    assert checks["deviations"].level == "warn"
    assert panel.code in checks["deviations"].says
    sitting = client_of(judge).get(f"/api/judging/{graded.pk}/looks/24h").json()
    assert panel.code not in {blind["code"] for blind in sitting["panels"]}
    entry = {
        "client_id": "0b9ee6cb-1c5c-4f43-9c4f-3a1b2c3d4e5f", "panel": panel.code, "exposure": "wine-1h", "look": "24h",
        "kind": "grade", "grade": 2,
    }  # fmt: skip
    refused = client_of(judge).post(f"/api/judging/{graded.pk}/entries", entry, format="json")
    assert refused.status_code == 400
    again = at("post", f"trials/{graded.pk}/deviations", body, status=409)
    assert "spoiled already" in again["detail"]


def test_a_replaced_panel_gets_a_successor_with_a_code_of_its_own(
    at: Callable[..., Any], client_of: Client, judge: Person, started: Trial
) -> None:
    old, neighbour = panels_of(started)[:2]
    body = {"kind": "panel_replaced", "panel": old.code, "reason": "Split along the grain"}
    shown = at("post", f"trials/{started.pk}/deviations", body, status=201)
    new = TrialPanel.objects.get(replaces=old)
    assert (new.board, new.build_up, new.position, new.attempt) == (old.board, old.build_up, 4, 2)
    assert len(new.code) == len(old.code)
    assert {spot.exposure for spot in new.spots.all()} == {spot.exposure for spot in old.spots.all()}
    assert shown["boards"][0]["panels"][3]["replaces"] == old.code
    assert f"is replaced by {new.code}, cut from the same board" in shown["deviations"][0]["says"]
    sitting = client_of(judge).get(f"/api/judging/{started.pk}/looks/24h").json()
    assert {new.code} == {blind["code"] for blind in sitting["panels"]} - {
        p.code for p in panels_of(started)[:3]
    } - {p.code for p in panels_of(started) if p.code != new.code}
    twice = at("post", f"trials/{started.pk}/deviations", body, status=400)
    assert "has been replaced before" in twice["detail"]
    elsewhere = {
        "kind": "panel_replaced",
        "panel": neighbour.code,
        "reason": "Lost",
        "board": started.boards.all()[1].pk,
    }
    shown = at("post", f"trials/{started.pk}/deviations", elsewhere, status=201)
    assert "cut from another board, Beech 2" in shown["deviations"][1]["says"]
    assert shown["record_state"] == "intact"


def test_a_swapped_board_is_recorded_with_its_measures(at: Callable[..., Any], started: Trial) -> None:
    board = started.boards.all()[0]
    body = {
        "kind": "board_swapped",
        "board": board.pk,
        "reason": "It cupped overnight",
        "length_mm": 1300,
        "width_mm": 155,
    }
    shown = at("post", f"trials/{started.pk}/deviations", body, status=201)
    assert (
        "Board Beech 1 (not measured) was swapped for another plank (1300 × 155 mm)"
        in shown["deviations"][0]["says"]
    )
    assert shown["boards"][0]["length_mm"] == 1300
    assert shown["record_state"] == "intact"
    short = at("post", f"trials/{started.pk}/deviations", body | {"length_mm": 900}, status=400)
    assert "millimetres" in {piece["quantity"] for piece in short["pieces"]}
    assert "Take a longer plank" in short["detail"]
    assert at("get", f"trials/{started.pk}/design")["boards"][0]["length_mm"] == 1300


def test_a_deviation_needs_a_reason_and_a_panel_that_is_there(at: Callable[..., Any], started: Trial) -> None:
    code = panels_of(started)[0].code
    for body, says in (
        ({"kind": "noted", "reason": "  "}, "Say what happened"),
        ({"kind": "panel_spoiled", "panel": "ZZ", "reason": "Lost"}, "no panel 'ZZ'"),
        ({"kind": "panel_spoiled", "reason": "Lost"}, "Say which panel"),
        ({"kind": "board_swapped", "reason": "Cupped"}, "Choose which board"),
        ({"kind": "panel_replaced", "panel": code, "reason": "Split", "board": 999999}, "Choose which board"),
        ({"kind": "panel_spoiled", "panel": code, "reason": ""}, "Say what happened"),
    ):
        problem = at("post", f"trials/{started.pk}/deviations", body, status=400)
        assert says in problem["detail"]
    assert not started.deviations.exists()
    assert not TrialPanel.objects.filter(spoiled_at__isnull=False).exists()
    shown = at("post", f"trials/{started.pk}/deviations", {"kind": "noted", "reason": "Rain"}, status=201)
    assert shown["deviations"][0]["says"] == "The trial went otherwise than recorded."


def test_new_trials_begin_with_the_control_and_the_shops_benchmarks(
    at: Callable[..., Any], owner: Person, draft: Trial
) -> None:
    tung = draft.build_ups.get(name="Marrowby Tung")
    set_benchmark(owner, draft.pk, tung.pk, is_benchmark=True)
    made = create_trial(owner, name="Benches")
    rows = made.build_ups.order_by("pk")
    assert [(row.name, row.is_control) for row in rows] == [("Bare control", True), ("Marrowby Tung", False)]
    assert rows[1].version == tung.version
    at("put", f"trials/{draft.pk}/build-ups/{tung.pk}/benchmark", {"is_benchmark": False})
    assert create_trial(owner, name="Shelves").build_ups.count() == 1
    control = draft.build_ups.get(is_control=True)
    at("put", f"trials/{draft.pk}/build-ups/{control.pk}/benchmark", {"is_benchmark": True}, status=400)


def test_pairs_are_cut_next_to_each_other(owner: Person, draft: Trial) -> None:
    ids = list(draft.build_ups.order_by("pk").values_list("pk", flat=True))
    update_trial(owner, draft.pk, pairs=[[ids[0], ids[2]]], boards_per_species=6)
    draw_design(owner, draft.pk, seed=2)
    for board in draft.boards.all():
        places = dict(board.panels.values_list("build_up", "position"))
        assert abs(places[ids[0]] - places[ids[2]]) == 1


def test_sections_are_drawn_for_each_panel_and_hidden_from_judges(
    at: Callable[..., Any], client_of: Client, owner: Person, judge: Person, draft: Trial
) -> None:
    update_trial(
        owner,
        draft.pk,
        sections=["waxed", "left bare"],
        panel_length_mm=700,
        panel_width_mm=200,
        boards_per_species=8,
    )
    draw_design(owner, draft.pk, seed=5)
    start(owner, draft.pk)
    shown = at("get", f"trials/{draft.pk}/design")
    panels = [panel for board in shown["boards"] for panel in board["panels"]]
    orders = [tuple(section["name"] for section in panel["sections"]) for panel in panels]
    assert set(orders) == {("waxed", "left bare"), ("left bare", "waxed")}
    assert all(len(panel["spots"]) == 12 for panel in panels)
    answer = client_of(judge).get(f"/api/judging/{draft.pk}/looks/24h")
    assert b"waxed" not in answer.content
    sitting = answer.json()["panels"][0]
    assert [area["place"] for area in sitting["areas"]] == [1, 2]
    # The same exposure on both sections: the place tells them apart.
    client = client_of(judge)
    for place, grade in ((1, 2), (2, 4)):
        entry = {
            "client_id": f"0b9ee6cb-1c5c-4f43-9c4f-3a1b2c3d4e5{place}", "panel": sitting["code"], "exposure": "wine-1h",
            "place": place, "look": "24h", "kind": "grade", "grade": grade,
        }  # fmt: skip
        assert client.post(f"/api/judging/{draft.pk}/entries", entry, format="json").status_code == 200
    draft.refresh_from_db()
    names = {s["place"]: s["name"] for p in panels if p["code"] == sitting["code"] for s in p["sections"]}
    for place, grade in ((1, 2), (2, 4)):
        found = [r.grade for r in readings_of(draft, section=names[place]) if r.grade is not None]
        assert found == [grade]
    problem = at("get", f"trials/{draft.pk}/evidence?section=oiled", status=400)
    assert "no section 'oiled'" in problem["detail"]


@pytest.fixture
def sheet(printed: Callable[..., Any]) -> Callable[..., Any]:
    return lambda client, trial, kind, **wants: printed(
        client, f"/api/trials/{trial.pk}/sheets", sheet=kind, **wants
    )


def text_of(pdf: bytes) -> str:
    with pdfplumber.open(io.BytesIO(pdf)) as document:
        return "\n".join(page.extract_text(x_tolerance_ratio=0.2) for page in document.pages)


def test_printed_sheets_name_codes_and_no_build_up(
    client_of: Client, owner: Person, designed: Trial, sheet: Callable[..., Any]
) -> None:
    client = client_of(owner)
    for kind in ("labels", "templates", "cutting-list", "preparation"):
        answer = sheet(client, designed, kind, paper="letter")
        assert answer["Content-Type"] == "application/pdf"
        assert answer["Content-Disposition"] == f'attachment; filename="saloon-tables-{kind}.pdf"'
        text = text_of(answer.content)
        assert all(panel.code in text for panel in panels_of(designed))
        assert not [name for name in BUILD_UP_NAMES if name in text]
    archive = zipfile.ZipFile(io.BytesIO(sheet(client, designed, "labels", form="zip").content))
    assert archive.namelist() == ["saloon-tables-labels-01.svg"]


def test_sheets_of_one_board_and_without_spoiled_panels(
    at: Callable[..., Any],
    client_of: Client,
    owner: Person,
    started: Trial,
    sheet: Callable[..., Any],
) -> None:
    first, second, *others = panels_of(started)
    at(
        "post", f"trials/{started.pk}/deviations",
        {"kind": "panel_spoiled", "panel": first.code, "reason": "Dropped"}, status=201,
    )  # fmt: skip
    text = text_of(sheet(client_of(owner), started, "labels", board=first.board_id).content)
    assert second.code in text
    assert first.code not in text
    assert not [panel.code for panel in others if panel.board_id != first.board_id and panel.code in text]


def test_sheets_need_a_design_and_a_known_paper(
    client_of: Client, owner: Person, draft: Trial, sheet: Callable[..., Any]
) -> None:
    answer = sheet(client_of(owner), draft, "labels")
    assert answer.status_code == 400
    assert "Draw lots under Design first" in answer.json()["detail"]
    assert sheet(client_of(owner), draft, "labels", paper="a0").status_code == 400


def test_candidates_are_not_done_with_a_benchmark_alone(owner: Person, draft: Trial) -> None:
    def stage() -> str:
        return summarise_trial(owner, draft.pk).stages["candidates"]

    assert stage() == "done"
    for row in draft.build_ups.filter(is_control=False):
        set_benchmark(owner, draft.pk, row.pk, is_benchmark=True)
    assert stage() == "under_way"
