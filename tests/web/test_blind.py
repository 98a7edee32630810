"""Blind means blind: nothing that a judge's browser receives tells what a panel carries."""

from __future__ import annotations

import io
import json
from collections import Counter
from collections.abc import Callable
from itertools import chain
from typing import Any
from uuid import uuid4

import pytest
from PIL import Image
from rest_framework.test import APIClient

from nublet.core.design.trial_design import draw_design as draw_core_design
from nublet.core.materials.families import FAMILIES
from nublet.formats.sheets.kinds import draw_sheets
from nublet.formats.sheets.page import paper_named
from nublet.web.build_ups.crossing_actions import set_crossing
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.adapters import planned_boards, spec_of
from nublet.web.designs.deviations import replace_panel
from nublet.web.designs.models import TrialBoard, TrialPanel
from nublet.web.designs.sheets import sheets_of
from nublet.web.evidence.selectors import weigh_evidence
from nublet.web.people.models import AuditEntry, Person
from nublet.web.readings.models import Reading
from nublet.web.shelf.adapters import woods_of
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial
from nublet.web.urls import api_routes
from tests.web.conftest import SECRETS, grade_spot


def _picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (64, 48)).save(out, "PNG")
    return out.getvalue()


PICTURE = _picture()


def keys_of(value: Any) -> set[str]:
    if isinstance(value, dict):
        return set(value) | {key for part in value.values() for key in keys_of(part)}
    if isinstance(value, list):
        return {key for part in value for key in keys_of(part)}
    return set()


def test_no_route_gives_a_judge_a_build_up_a_product_or_a_board(
    client_of: Callable[[Person | None], APIClient], graded: Trial, judge: Person
) -> None:
    bodies = everything_answered(client_of(judge), graded)
    assert sum('"panels"' in body for body in bodies.values()) == 1
    ids = {f'"{b}"' for b in TrialBoard.objects.filter(trial=graded).values_list("name", flat=True)}
    names_nothing(bodies, {*SECRETS, *ids, *(family.name for family in FAMILIES.values())})


def test_no_route_gives_a_judge_a_level_or_what_a_section_carries(
    client_of: Callable[[Person | None], APIClient], owner: Person, draft: Trial, judge: Person
) -> None:
    update_trial(owner, draft.pk, panel_length_mm=1200, panel_width_mm=300, boards_per_species=1)
    finishes: list[dict[str, Any]] = [
        {"name": "Sedgefen oil", "family": "pure-drying-oil"},
        {"name": "Sedgefen film", "family": "waterborne-clear"},
    ]
    tops: list[dict[str, Any]] = [
        {"name": "left plain"},
        {"name": "rubbed with paste", "layers": [{"family": "wax"}]},
    ]
    charred: dict[str, Any] = {
        "name": "scorched",
        "preparation": {"grits": [], "charring": "deep", "brushed": True},
    }
    sanded: dict[str, Any] = {"name": "smoothed", "preparation": {"grits": [80, 120]}}
    plain = {
        "factors": [
            {"kind": "preparation", "on": "panels", "levels": [charred, sanded]},
            {"kind": "finish", "on": "panels", "levels": finishes},
            {"kind": "top", "on": "sections", "levels": tops},
        ],
        "out": [["scorched", "Sedgefen oil", "rubbed with paste"]],
        "bare_at": ["scorched"],
    }
    trial = set_crossing(owner, draft.pk, plain)
    draw_design(owner, trial.pk, seed=2)
    start(owner, trial.pk)
    bodies = everything_answered(client_of(judge), trial)
    secrets = {level["name"] for level in (*finishes, *tops, charred, sanded)}
    names_nothing(bodies, {*secrets, *SECRETS, "wax", "Bare", "charring", "sections_out", "levels"})
    # Every panel is alike in what can be seen of it: as many spots in each of as many places.
    sitting = client_of(judge).get(f"/api/judging/{trial.pk}/looks/24h").json()
    shapes = {
        tuple(sorted(Counter(spot["place"] for spot in panel["spots"]).items()))
        for panel in sitting["panels"]
    }
    assert shapes == {((1, 6), (2, 6))}
    # The same on paper.
    groups = sheets_of(trial)
    for kind in ("labels", "templates"):
        pages = "".join(chain(*(page.parts for page in draw_sheets(kind, groups, paper_named("a4")))))
        assert "<text" in pages
        assert not [secret for secret in secrets if secret in pages]


def everything_answered(client: APIClient, trial: Trial) -> dict[str, str]:
    """What every route answers to every method, of one trial with a photograph that the judge took."""
    panel = TrialPanel.objects.filter(trial=trial)[0]
    taken = client.post(
        f"/api/judging/{trial.pk}/photographs",
        {"client_id": str(uuid4()), "panel": panel.code, "look": "24h", "file": io.BytesIO(PICTURE)},
        format="multipart",
    )
    photograph = taken.json().get("id", 0)
    bodies: dict[str, str] = {}
    for route in api_routes:
        address = "/api/" + str(route.pattern)
        for part, value in (
            ("<int:trial_id>", str(trial.pk)),
            ("<int:build_up_id>", str(panel.build_up_id)),
            ("<slug:look>", "24h"),
            ("<slug:size>", "thumb"),
            ("<slug:scale>", "grade"),
            ("<int:photograph_id>", str(photograph)),
        ):
            address = address.replace(part, value)
        for method in ("get", "post", "patch", "put"):
            response = getattr(client, method)(address, {}, format="json")
            # A file's name tells too.
            told = f"{response.get('Content-Disposition', '')} {response.get('Location', '')}".strip()
            # A picture is no text; what stands in it is looked for all the same.
            bodies[f"{method} {address}"] = response.content.decode(errors="replace") + told
    for page in ("/", f"/trials/{trial.pk}/expose", f"/trials/{trial.pk}/read/24h", "/sw.js"):
        bodies[page] = client.get(page).content.decode()
    return bodies


def names_nothing(bodies: dict[str, str], secrets: set[str]) -> None:
    """No answer holds a secret, or a key under which one would stand."""
    for asked, body in bodies.items():
        for secret in secrets:
            assert secret not in body, (asked, secret)
        if body.startswith(("{", "[")):
            assert not keys_of(json.loads(body)) & {
                "build_up",
                "build_ups",
                "board",
                "family",
                "seed",
                "position",
            }


def test_the_order_of_the_panels_is_the_judges_own_and_not_the_boards(
    client_of: Callable[[Person | None], APIClient], started: Trial, judge: Person
) -> None:
    designed = started
    shown = client_of(judge).get(f"/api/judging/{designed.pk}/looks/24h").json()
    codes = [panel["code"] for panel in shown["panels"]]
    along_boards = list(
        TrialPanel.objects.filter(trial=designed).order_by("board", "position").values_list("code", flat=True)
    )
    assert sorted(codes) == sorted(along_boards)
    assert codes != along_boards
    assert codes == [
        p["code"] for p in client_of(judge).get(f"/api/judging/{designed.pk}/looks/24h").json()["panels"]
    ]


@pytest.mark.parametrize("name", ["Marrowby or not", "skarn waterborne satin"])
def test_a_trials_name_may_not_give_a_build_up_away(
    client_of: Callable[[Person | None], APIClient], draft: Trial, owner: Person, name: str
) -> None:
    response = client_of(owner).patch(f"/api/trials/{draft.pk}", {"name": name}, format="json")
    assert (response.status_code, response.json()["field"]) == (400, "name")
    draft.refresh_from_db()
    assert draft.name == "Saloon tables"


def test_nor_may_a_build_up_be_called_what_the_trial_is_called(
    client_of: Callable[[Person | None], APIClient], draft: Trial, owner: Person
) -> None:
    body = {"name": "Saloon Oil", "family": "wax", "coats": 1}
    response = client_of(owner).post(f"/api/trials/{draft.pk}/build-ups", body, format="json")
    assert response.status_code == 400
    assert "judges see it" in response.json()["detail"]
    assert draft.build_ups.count() == 3


def test_lots_and_orders_come_from_two_secrets_of_256_bits(owner: Person, draft: Trial) -> None:
    trial = draw_design(owner, draft.pk)
    assert trial.seed is None
    assert {len(trial.lots_secret), len(trial.order_secret)} == {64}
    assert trial.lots_secret != trial.order_secret
    # The record keeps what is needed to replay; the audit trail, which keepers read, does not.
    started = start(owner, trial.pk)
    assert json.loads(started.record)["design"]["lots_secret"] == trial.lots_secret
    kept = json.dumps(list(AuditEntry.objects.values_list("details", flat=True)))
    assert trial.lots_secret not in kept
    again = draw_core_design(
        spec_of(
            trial,
            list(trial.build_ups.select_related("version").order_by("pk")),
            planned_boards(trial, woods_of(owner.shop_id), trial.boards.all()),
            seed=int(trial.lots_secret, 16),
        )
    )
    assert {p.code: p.build_up for p in again.panels} == dict(
        trial.panels.values_list("code", "build_up__name")
    )
    assert again.fingerprint == json.loads(started.record)["drawn"]


def test_nothing_that_a_judge_receives_holds_a_secret(
    client_of: Callable[[Person | None], APIClient], owner: Person, draft: Trial, judge: Person
) -> None:
    trial = start(owner, draw_design(owner, draft.pk).pk)
    client = client_of(judge)
    for address in ("/api/session", "/api/judging", f"/api/judging/{trial.pk}/looks/24h", "/api/due"):
        body = client.get(address).content.decode()
        assert trial.lots_secret not in body
        assert trial.order_secret not in body
        assert str(int(trial.lots_secret, 16)) not in body


def test_a_seed_by_hand_is_refused_and_one_that_is_known_is_said(
    client_of: Callable[[Person | None], APIClient], owner: Person, draft: Trial, graded: Trial
) -> None:
    response = client_of(owner).post(f"/api/trials/{draft.pk}/design", {"seed": 5}, format="json")
    assert (response.status_code, response.json()["field"]) == (400, "seed")
    assert "breaks the blind" in response.json()["detail"]
    check = {c.check: c for c in weigh_evidence(graded).checks}["blind"]
    assert (check.level, "seed given by hand" in check.says) == ("warn", True)


def test_several_replaced_at_once_hide_which_stands_for_which(owner: Person, started: Trial) -> None:
    old = list(started.panels.order_by("code").values_list("code", flat=True))[:3]
    replace_panel(owner, started.pk, panel=", ".join(old), reason="dropped")
    new = TrialPanel.objects.filter(trial=started, replaces__isnull=False)
    assert {row.replaces.code for row in new if row.replaces} == set(old)
    assert not {row.code for row in new} & set(
        started.panels.filter(attempt=1).values_list("code", flat=True)
    )
    assert not any("can see that" in says for says in started.deviations.values_list("says", flat=True))
    alone = replace_panel(
        owner, started.pk, panel=started.panels.filter(spoiled_at=None)[0].code, reason="again"
    )
    assert "A judge who remembers the codes can see that" in alone.says


def test_a_page_of_one_person_stores_nothing_under_anothers_name(
    client_of: Callable[[Person | None], APIClient], owner: Person, started: Trial, judge: Person
) -> None:
    """Two tabs: the cookie is the owner's by now, the page still the judge's."""
    started.judges.add(owner)
    panel = started.panels.order_by("code")[0]
    entry = {
        "client_id": str(uuid4()), "panel": panel.code, "exposure": "wine-1h", "look": "24h", "kind": "grade",
        "grade": 4, "judge": judge.pk,
    }  # fmt: skip
    client = client_of(owner)
    address = f"/api/judging/{started.pk}/entries"
    for headers in ({}, {"X-Nublet-Person": str(judge.pk)}):
        refused = client.post(address, entry, format="json", headers=headers)
        assert (refused.status_code, refused.json()["code"]) == (409, "other_person")
        assert "Nell is signed in in this browser now" in refused.json()["detail"]
    # Nor is it "not there": the entry waits for its own judge, where the other may not grade at all.
    started.judges.remove(owner)
    assert client.post(address, entry, format="json").json()["code"] == "other_person"
    started.judges.add(owner)
    stopped = client.delete(f"/api/trials/{started.pk}/days/plan", headers={"X-Nublet-Person": str(judge.pk)})
    assert stopped.json()["code"] == "other_person"
    looked = client.get(f"/api/judging/{started.pk}/looks/24h", headers={"X-Nublet-Person": str(judge.pk)})
    assert looked.status_code == 409
    assert not Reading.objects.exists()
    assert client_of(judge).post(address, entry, format="json").status_code == 200
    # The same id with other content is no repetition.
    other = client_of(judge).post(address, {**entry, "grade": 2}, format="json")
    assert other.status_code == 409
    assert Reading.objects.get().value == 4


@pytest.mark.parametrize("kind", ["note", "grade"])
def test_nobody_starts_a_trial_by_grading(
    client_of: Callable[[Person | None], APIClient], designed: Trial, judge: Person, kind: str
) -> None:
    client = client_of(judge)
    assert client.get("/api/judging").json() == []
    panel = designed.panels.order_by("code")[0]
    entry = {
        "client_id": str(uuid4()), "panel": panel.code, "exposure": "wine-1h", "look": "24h", "kind": kind,
        "grade": 4, "note": "x",
    }  # fmt: skip
    for response in (
        client.post(f"/api/judging/{designed.pk}/entries", entry, format="json"),
        client.get(f"/api/judging/{designed.pk}/looks/24h"),
    ):
        assert response.status_code == 400
        assert "has not started" in response.json()["detail"]
    designed.refresh_from_db()
    assert not designed.is_started


def test_telling_the_judges_is_an_act_with_name_time_and_reason_and_marks_what_is_read_after(
    client_of: Callable[[Person | None], APIClient], owner: Person, judge: Person, graded: Trial
) -> None:
    client = client_of(owner)
    address = f"/api/trials/{graded.pk}"
    told = client.post(f"{address}/unblind", {"reason": "The last look is over."}, format="json")
    assert told.status_code == 200
    trial = told.json()["trial"]
    assert (trial["unblinded_by"], trial["unblinded_because"]) == ("Nell", "The last look is over.")
    assert AuditEntry.objects.get(action="unblind").details["reason"] == "The last look is over."
    assert client.post(f"{address}/unblind", {"reason": "again"}, format="json").status_code == 409

    def blind() -> Any:
        return next(
            each for each in client.get(f"{address}/evidence").json()["checks"] if each["check"] == "blind"
        )

    assert "Nothing was read after that" in blind()["says"]
    panel = graded.panels.order_by("code")[0]
    grade_spot(judge, graded, panel.code, "wine-1h", 3)
    assert blind()["level"] == "warn"
    assert "1 reading was made after that" in blind()["says"]
    behind = client.get(
        f"{address}/evidence/readings",
        {"test": "wine-1h", "system": panel.build_up.name, "look": "24h"},
    ).json()
    assert {row["panel"]: row["is_after_unblinding"] for row in behind}[panel.code] is True
    assert sum(row["is_after_unblinding"] for row in behind) == 1
    # The judge's own pages stay as they were.
    page = client_of(judge).get(f"/api/judging/{graded.pk}/looks/24h").content.decode()
    assert not [secret for secret in SECRETS if secret in page]
