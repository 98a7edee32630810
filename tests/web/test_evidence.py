"""Evidence, ranking and export over stored readings; the demo; and the contract."""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.core.management import call_command
from rest_framework.test import APIClient

from nublet.core.evidence.analysis import analyse
from nublet.core.protocols.looks import Read
from nublet.core.protocols.responses import GRADE, RESPONSES
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.formats.readings_csv import read_readings, write_readings
from nublet.web.build_ups.actions import set_benchmark
from nublet.web.designs.models import TrialDeviation, TrialPanel
from nublet.web.evidence.beside import view_otherwise
from nublet.web.evidence.selectors import readings_of, weigh_evidence
from nublet.web.people.models import Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.readings.models import Reading
from nublet.web.trials.models import Trial
from tests.web.conftest import GRADES, grade_spot

Client = Callable[[Person | None], APIClient]


def test_means_intervals_and_pairs_are_the_cores(client_of: Client, owner: Person, graded: Trial) -> None:
    shown = client_of(owner).get(f"/api/trials/{graded.pk}/evidence").json()
    assert [test["test"] for test in shown["tests"]] == [e.id for e in TABLE_BASICS.tests]
    wine = next(test for test in shown["tests"] if test["test"] == "wine-1h")
    assert {row["system"]: row["mean"] for row in wine["systems"]} == pytest.approx(
        {"Skarn Waterborne Satin": 14 / 3, "Marrowby Tung": 10 / 3, "Bare control": 4 / 3}
    )
    assert wine["residual_df"] == 4
    assert len(wine["pairs"]) == 3
    assert (shown["n_boards"], shown["judges"], shown["n_readings"]) == (3, ["Imara"], 54)
    assert {check["check"] for check in shown["checks"]} >= {"blind", "control", "replicates"}
    assert shown["headline"]["trust"].endswith("checks hold.")


def test_each_response_is_weighed_on_its_own_scale(
    client_of: Client, owner: Person, graded: Trial, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The same numbers, on a scale that runs the other way; of two scales one is shown at a time."""
    rough = replace(
        GRADE, id="rough", name="Rough", better="low", passes_from=2, unmarked_from=1.25, ruined_to=4.75
    )
    monkeypatch.setitem(RESPONSES, "rough", rough)
    first, *others = TABLE_BASICS.tests
    tests = (replace(first, reads=(Read(response="rough"),)), *others)
    for room in ("selectors", "rows"):
        monkeypatch.setattr(
            f"nublet.web.evidence.{room}.protocol_of", lambda trial: replace(TABLE_BASICS, tests=tests)
        )
    Reading.objects.filter(spot__exposure=first.id).update(response="rough")
    address = f"/api/trials/{graded.pk}/evidence"
    grades = client_of(owner).get(address).json()
    assert grades["response"] == "grade"
    assert grades["response_choices"] == [{"id": "grade", "name": "Grade"}, {"id": "rough", "name": "Rough"}]
    assert {test["test"] for test in grades["tests"]} == {test.id for test in others}
    shown = client_of(owner).get(address, {"response": "rough"}).json()
    assert [test["test"] for test in shown["tests"]] == [first.id]
    assert [row["system"] for row in shown["tests"][0]["systems"]] == [
        "Bare control", "Marrowby Tung", "Skarn Waterborne Satin",
    ]  # fmt: skip
    assert next(check["level"] for check in shown["checks"] if check["check"] == "control") == "warn"
    refused = client_of(owner).get(address, {"response": "gloss-60"})
    assert (refused.status_code, refused.json()["field"]) == (400, "response")
    assert "Choose one of: grade, rough" in refused.json()["detail"]


def test_export_reads_back_to_the_same_numbers(client_of: Client, owner: Person, graded: Trial) -> None:
    response = client_of(owner).get(f"/api/trials/{graded.pk}/readings.csv")
    assert response["Content-Disposition"] == 'attachment; filename="saloon-tables-readings.csv"'
    readings = read_readings(io.StringIO(response.content.decode(), newline=""))
    from_csv = analyse(readings, look="24h", control="Bare control").tests
    assert {t.test: t.systems for t in from_csv} == {t.test: t.systems for t in weigh_evidence(graded).tests}
    assert {t.test: t.pairs for t in from_csv} == {t.test: t.pairs for t in weigh_evidence(graded).tests}


def test_the_levels_of_what_is_crossed_go_with_the_evidence_and_the_files(
    client_of: Client, owner: Person, graded: Trial
) -> None:
    levels = {"Marrowby Tung": "oil", "Skarn Waterborne Satin": "film"}
    for name, level in levels.items():
        graded.build_ups.filter(name=name).update(levels={"preparation": "sanded to 180", "finish": level})
    shown = client_of(owner).get(f"/api/trials/{graded.pk}/evidence").json()
    # What is the same on all is no choice of how to look at it.
    assert shown["factors"] == [
        {
            "factor": "Finish",
            "levels": ["oil", "film"],
            "systems": [{"system": name, "level": level} for name, level in levels.items()],
        }
    ]
    text = client_of(owner).get(f"/api/trials/{graded.pk}/readings.csv").content.decode()
    assert text.splitlines()[0].endswith(",grade,factor:Preparation,factor:Finish")
    found = analyse(read_readings(io.StringIO(text, newline="")), look="24h")
    assert [(each.factor, tuple(sorted(each.levels, reverse=True))) for each in found.factors] == [
        ("Preparation", ("sanded to 180",)),
        ("Finish", ("oil", "film")),
    ]
    whole = client_of(owner).get(f"/api/trials/{graded.pk}/readings.csv?response=all").content.decode()
    assert {row.rsplit(",", 1)[1] for row in whole.splitlines()} == {"factor:Finish", "oil", "film", ""}


def test_the_readings_behind_a_point_with_their_history(
    client_of: Client, owner: Person, judge: Person, graded: Trial, django_assert_num_queries: Any
) -> None:
    panel = TrialPanel.objects.filter(trial=graded, build_up__name="Marrowby Tung").order_by("board")[0]
    grade_spot(judge, graded, panel.code, "wine-1h", 2)
    address = f"/api/trials/{graded.pk}/evidence/readings"
    rows = client_of(owner).get(address, {"test": "wine-1h", "system": "Marrowby Tung"}).json()
    assert [(row["board"], row["value"]) for row in rows] == [("Beech 1", 2), ("Beech 2", 4), ("Beech 3", 3)]
    assert [entry["value"] for entry in rows[0]["entries"]] == [3, 2]
    assert rows[0]["panel"] == panel.code


def test_ranking_for_a_dining_table(client_of: Client, owner: Person, graded: Trial) -> None:
    address = f"/api/trials/{graded.pk}/ranking"
    shown = client_of(owner).get(address, {"use": "dining-table"}).json()
    assert [row["system"] for row in shown["systems"]] == ["Skarn Waterborne Satin", "Marrowby Tung"]
    assert shown["says"][0].startswith("For a dining table, ")
    assert shown == client_of(owner).get(address, {"use": "dining-table"}).json()
    other = client_of(owner).get(address, {"use": "dining-table", "weights": "repair:0,water:80"}).json()
    assert {c["id"]: c["weight"] for c in other["profile"]["criteria"]}["water"] == 80
    assert not any("repair" in says for says in other["says"])


@pytest.mark.parametrize(
    ("query", "field"),
    [
        ({"use": "spaceship"}, "use"),
        ({}, "use"),
        ({"use": "dining-table", "weights": "heat"}, "weights"),
        ({"use": "dining-table", "weights": "charm:3"}, "weights.charm"),
        ({"use": "dining-table", "weights": "heat:nan"}, "weights.heat"),
        ({"use": "dining-table", "species": "elm"}, "species"),
    ],
)
def test_rankings_that_cannot_be(
    client_of: Client, owner: Person, graded: Trial, query: dict[str, str], field: str
) -> None:
    response = client_of(owner).get(f"/api/trials/{graded.pk}/ranking", query)
    assert (response.status_code, response.json()["field"]) == (400, field)


@pytest.mark.parametrize("page", ["evidence", "ranking?use=dining-table"])
def test_nothing_graded_yet_says_what_to_do(
    client_of: Client, owner: Person, designed: Trial, page: str
) -> None:
    response = client_of(owner).get(f"/api/trials/{designed.pk}/{page}")
    assert response.status_code == 400
    assert "Grade panels under Read" in response.json()["detail"]


def test_the_evidence_needs_a_fixed_number_of_queries(graded: Trial, django_assert_num_queries: Any) -> None:
    with django_assert_num_queries(14):
        weigh_evidence(graded)


def test_half_a_trial_is_not_taken_for_a_whole_one(graded: Trial, owner: Person) -> None:
    assert {c.check: c.level for c in weigh_evidence(graded).checks}["missing"] == "pass"
    before = weigh_evidence(graded)
    graded.judges.add(owner)
    after = weigh_evidence(graded)
    missing = {c.check: c for c in after.checks}["missing"]
    assert missing.level == "warn"
    assert missing.says.startswith("54 grades are missing (Water 6 h, Ethanol 1 h")
    assert (after.n_readings, after.judges) == (54, ("Imara",))
    assert [t.systems for t in after.tests] == [t.systems for t in before.tests]


def test_the_blind_check_sees_a_keeper_who_grades(graded: Trial, owner: Person) -> None:
    graded.judges.add(owner)
    panel = TrialPanel.objects.filter(trial=graded)[0]
    grade_spot(owner, graded, panel.code, "wine-1h", 3)
    check = {c.check: c for c in weigh_evidence(graded).checks}["blind"]
    assert check.level == "warn"
    assert check.says.startswith("Nell graded")


def test_the_committed_openapi_document_is_the_one_that_is_served(tmp_path: Path) -> None:
    """After a change of contract make it anew (CONTRIBUTING.md); the diff shows what changed."""
    made = tmp_path / "openapi.json"
    call_command("spectacular", "--format", "openapi-json", "--file", str(made), "--fail-on-warn")
    committed = Path(__file__).parents[2] / "docs" / "openapi.json"
    assert json.loads(made.read_text()) == json.loads(committed.read_text())


def test_no_model_has_changed_without_its_migration(db: None) -> None:
    call_command("makemigrations", "--check", "--dry-run", verbosity=0)


def test_djangos_own_checks_find_nothing() -> None:
    """They are run here, since a start skips them."""
    call_command("check", fail_level="WARNING")


def test_the_front_end_and_the_health_page(client_of: Client, db: None) -> None:
    client = client_of(None)
    page = client.get("/trials/3/evidence")
    assert page.status_code == 200
    assert b'<div id="app">' in page.content
    assert "default-src 'self'" in page["Content-Security-Policy"]
    assert "csrftoken" in page.cookies
    assert client.get("/healthz").json() == {"status": "ok"}


def test_a_spoiled_result_is_left_out_and_counted(owner: Person, graded: Trial) -> None:
    """The log said "leave the result out" and it counted all the same."""
    panel = TrialPanel.objects.filter(trial=graded, build_up__name="Marrowby Tung").order_by("board")[0]
    before = {t.test: len(t.values) for t in weigh_evidence(graded).tests}

    def found(**more: Any) -> TrialDeviation:
        return TrialDeviation.objects.create(
            trial=graded,
            kind="window-missed",
            panel=panel,
            says="lifted late",
            reason="log",
            recorded_by=owner,
            **more,
        )

    row = found(found_key="late-lift wine-1h", judgement="spoiled", spoils_exposure="wine-1h")
    found(
        found_key="late-look water-6h 1440",
        judgement="spoiled",
        spoils_exposure="water-6h",
        spoils_look_min=0,
    )
    view = weigh_evidence(graded)
    now = {t.test: len(t.values) for t in view.tests}
    assert now == {**before, "wine-1h": before["wine-1h"] - 1}
    says = {c.check: c.says for c in view.checks}["left_out"]
    assert "1 spoiled, by the bench log" in says
    readings = read_readings(io.StringIO(write_readings(readings_of(graded)), newline=""))
    assert {t.test: t.systems for t in analyse(readings, look="24h", control="Bare control").tests} == {
        t.test: t.systems for t in view.tests
    }
    row.withdrawn_at = datetime(2026, 1, 1, tzinfo=UTC)
    row.save()
    assert {t.test: len(t.values) for t in weigh_evidence(graded).tests} == before


def test_what_is_left_out_is_said_with_its_reason_and_both_results_are_shown(
    client_of: Client, owner: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    before = weigh_evidence(graded)
    assert before.left_out == ()
    tung = TrialPanel.objects.filter(trial=graded, build_up__name="Marrowby Tung").order_by("board__pk")[1]
    wants = {
        "what": "leave_out",
        "panel": tung.code,
        "exposure": "water-6h",
        "reason": "A drip from the roof",
    }
    assert keeper.post(f"/api/trials/{graded.pk}/days/spots", wants, format="json").status_code == 200
    after = weigh_evidence(Trial.objects.get(pk=graded.pk))
    assert [(each.why, each.n_rows) for each in after.left_out] == [("left out by hand", 1)]
    otherwise = view_otherwise(Trial.objects.get(pk=graded.pk))
    assert otherwise.left_out == after.left_out
    moved = {(each.test, each.system): (each.mean, each.otherwise) for each in otherwise.means}
    test = next(each for each in after.tests if each.test == "water-6h")
    was = next(each for each in before.tests if each.test == "water-6h")
    assert {name for name, _ in moved} == {"water-6h"}
    assert moved["water-6h", "Marrowby Tung"] == (
        next(row.mean for row in test.systems if row.system == "Marrowby Tung"),
        next(row.mean for row in was.systems if row.system == "Marrowby Tung"),
    )
    rows = keeper.get(
        f"/api/trials/{graded.pk}/evidence/readings",
        {"test": "water-6h", "system": "Marrowby Tung", "look": "24h"},
    ).json()
    told = {row["panel"]: (row["left_out"], row["may_count_again"]) for row in rows}
    assert told.pop(tung.code) == ("A drip from the roof", True)
    assert set(told.values()) == {("", False)}
    again = {"what": "count", "panel": tung.code, "exposure": "water-6h"}
    assert keeper.post(f"/api/trials/{graded.pk}/days/spots", again, format="json").status_code == 200
    back = weigh_evidence(Trial.objects.get(pk=graded.pk))
    assert [each.systems for each in back.tests] == [each.systems for each in before.tests]
    assert back.left_out == ()
    assert view_otherwise(Trial.objects.get(pk=graded.pk)).means == ()


def test_a_wood_that_nobody_graded_is_refused_by_its_name(
    client_of: Client, owner: Person, graded: Trial
) -> None:
    refused = client_of(owner).get(f"/api/trials/{graded.pk}/evidence", {"species": "elm"})
    assert (refused.status_code, refused.json()["field"]) == (400, "species")
    assert "Nothing was graded on 'elm'" in refused.json()["detail"]
    alone = client_of(owner).get(f"/api/trials/{graded.pk}/evidence", {"species": "all"})
    assert alone.status_code == 200
    assert alone.json()["tests"]


def test_the_board_has_every_response_and_the_same_numbers_as_each_page(
    client_of: Client, owner: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    board = keeper.get(f"/api/trials/{graded.pk}/evidence/board").json()
    one = keeper.get(f"/api/trials/{graded.pk}/evidence").json()
    assert [each["id"] for each in board["responses"]] == [each["id"] for each in one["response_choices"]]
    for each in board["responses"]:
        page = keeper.get(f"/api/trials/{graded.pk}/evidence", {"response": each["id"]}).json()
        assert [(test["test"], test["systems"]) for test in each["tests"]] == [
            (test["test"], test["systems"]) for test in page["tests"]
        ]
    assert (
        keeper.get(f"/api/trials/{graded.pk}/evidence/board", {"species": "elm"}).json()["field"] == "species"
    )


def test_a_test_over_its_looks_pairs_each_panel_with_itself(
    client_of: Client, owner: Person, judge: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    page = f"/api/trials/{graded.pk}/evidence/looks"
    alone = keeper.get(page, {"test": "wine-1h"}).json()
    assert [each["look"] for each in alone["looks"]] == ["24h"]
    assert alone["change"] is None
    for panel in TrialPanel.objects.filter(trial=graded).select_related("build_up", "board"):
        was = GRADES[panel.build_up.name][int(panel.block[-1]) - 1]
        lower = 0 if panel.build_up.is_control else 1
        entry = BenchEntry(
            client_id=uuid4(),
            panel=panel.code,
            exposure="wine-1h",
            look="lifted",
            kind="grade",
            value=was - lower,
        )
        enter_reading(judge, graded.pk, entry)
    found = keeper.get(page, {"test": "wine-1h"}).json()
    assert [each["look"] for each in found["looks"]] == ["lifted", "24h"]
    now = keeper.get(f"/api/trials/{graded.pk}/evidence").json()
    shown = next(test for test in now["tests"] if test["test"] == "wine-1h")
    assert found["looks"][1]["test"]["systems"] == shown["systems"]
    change = {row["system"]: row["mean"] for row in found["change"]["systems"]}
    assert change == pytest.approx({"Marrowby Tung": 1, "Skarn Waterborne Satin": 1, "Bare control": 0})
    assert keeper.get(page, {"test": "no-such"}).json()["field"] == "test"
    assert keeper.get(page, {"test": "wine-1h", "response": "preferred"}).status_code == 400


def test_a_benchmark_is_named_so_that_it_can_stand_apart(
    client_of: Client, owner: Person, graded: Trial
) -> None:
    row = graded.build_ups.exclude(is_control=True)[0]
    set_benchmark(owner, graded.pk, row.pk, is_benchmark=True)
    assert client_of(owner).get(f"/api/trials/{graded.pk}/evidence").json()["benchmarks"] == [row.name]


def test_what_went_otherwise_on_a_panel_stands_with_its_readings(
    client_of: Client, owner: Person, graded: Trial
) -> None:
    keeper = client_of(owner)
    tung = TrialPanel.objects.filter(trial=graded, build_up__name="Marrowby Tung").order_by("board__pk")[1]
    told = {"kind": "noted", "panel": tung.code, "reason": "The lamp was out"}
    assert keeper.post(f"/api/trials/{graded.pk}/deviations", told, format="json").status_code == 201
    rows = keeper.get(
        f"/api/trials/{graded.pk}/evidence/readings",
        {"test": "water-6h", "system": "Marrowby Tung", "look": "24h"},
    ).json()
    found = {row["panel"]: row["deviations"] for row in rows}
    assert found.pop(tung.code) == [f"Panel {tung.code} went otherwise than recorded. The lamp was out"]
    assert set(map(tuple, found.values())) == {()}
