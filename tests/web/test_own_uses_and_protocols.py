"""Uses and protocols of a shop's own: kept, versioned, exchanged, and taken by its trials."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import replace
from typing import Any
from uuid import UUID

import pytest
from rest_framework.test import APIClient

from nublet.core.protocols.plain import protocol_as_dict
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from nublet.core.ranking.shipped import DINING_TABLE, USES
from nublet.core.ranking.use_records import use_as_dict
from nublet.web.build_ups.actions import add_build_up
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.people.models import AuditEntry, Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.shelf import actions
from nublet.web.shelf.adapters import OWN_AGENTS, OWN_PROTOCOLS, OWN_USES, protocols_of
from nublet.web.shelf.models import ShelfProtocol
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

Ask = Callable[..., Any]
BAR = {
    "name": "Buffet counter",
    "says": "Spilt spirits, wet glasses.",
    "criteria": [
        {
            "id": "alcohol",
            "name": "Alcohol",
            "weight": 70,
            "asked": [{"id": "spirits", "agents": ["ethanol 48 %"], "duration_min": [30, None]}],
        },
        {"id": "water", "name": "Water", "weight": 30, "asked": [{"id": "water", "agents": ["Water"]}]},
    ],
    "gates": [{"asked": {"id": "spirits", "agents": ["ethanol 48 %"]}, "threshold": 4}],
    "demands": ["alcohol", "water"],
}
SPIRITS = {
    "name": "Buffet glasses",
    "says": "What a counter meets.",
    "tests": [
        {
            "id": "spirits-1h", "name": "Ethanol 48 %, 1 h", "short_name": "Spirits 1 h", "site": {"kind": "spot", "wetted_mm": 40},
            "acts": [
                {"id": "lay", "kind": "lay", "agent": "ethanol 48 %", "lasts_min": 60, "covered": True},
                {"id": "lift", "kind": "lift"},
            ],
            "reads": [{"response": "grade"}],
        },
        {
            "id": "glass-4h", "name": "Wet glass, 4 h", "short_name": "Glass 4 h", "site": {"kind": "spot", "wetted_mm": 60},
            "acts": [{"id": "lay", "kind": "lay", "agent": "water", "lasts_min": 240}, {"id": "lift", "kind": "lift"}],
            "reads": [{"response": "grade"}],
        },
    ],
    "looks": [
        {"id": "lifted", "name": "At lifting", "after_min": 0},
        {"id": "3d", "name": "3 days", "after_min": 4320},
    ],
}  # fmt: skip


def offered(at: Ask) -> dict[str, bool]:
    """The uses to choose from, each whether it is archived."""
    return {use["id"]: use["is_archived"] for use in at("get", "reference")["uses"]}


def audit() -> list[str]:
    return list(AuditEntry.objects.order_by("pk").values_list("action", flat=True))


def test_a_use_is_kept_whole_and_offered(at: Ask) -> None:
    made = at("post", "shelf/uses", BAR, status=201)
    rows = {row["id"]: row for row in at("get", "shelf/uses")}
    assert sorted(rows) == sorted(["buffet-counter", *USES])
    own = rows["buffet-counter"]
    assert own["item_id"] == made["id"]
    assert own["use"]["criteria"][0]["asked"][0]["duration_min"] == [30, None]
    assert own["use"]["demands"] == ["alcohol", "water"]
    # What is shown can be sent back, and changes nothing.
    at("put", f"shelf/uses/{made['id']}", own["use"])
    assert {row["id"]: row for row in at("get", "shelf/uses")} == rows
    assert rows["dining-table"]["item_id"] is None
    assert offered(at) == dict.fromkeys(USES, False) | {"buffet-counter": False}
    at("post", f"shelf/uses/{made['id']}/archive", {"is_archived": True})
    assert offered(at) == dict.fromkeys(USES, False) | {"buffet-counter": True}
    assert audit()[-3:] == ["add_use", "change_use", "archive_use"]


def test_a_trial_is_ranked_for_a_use_of_the_shops_own(at: Ask, graded: Trial, owner: Person) -> None:
    actions.add_item(owner, OWN_USES, BAR)
    at("patch", f"trials/{graded.pk}", {"name": graded.name, "uses": ["buffet-counter"]})
    ranking = at("get", f"trials/{graded.pk}/ranking?use=buffet-counter")
    assert [c["tests"] for c in ranking["profile"]["criteria"]] == [["ethanol-1h"], ["water-6h"]]
    assert ranking["systems"][0]["system"] == "Skarn Waterborne Satin"
    refused = at("get", f"trials/{graded.pk}/ranking?use=ballroom", status=400)
    assert "buffet-counter, chopping-board, desk, dining-table" in refused["detail"]


def test_what_a_use_demands_is_asked_of_the_recipes(at: Ask, draft: Trial, owner: Person) -> None:
    actions.add_item(owner, OWN_USES, BAR)
    add_build_up(owner, draft.pk, name="Ousel Dewaxed Shellac", family="shellac-dewaxed", coats=4)

    def findings() -> set[str]:
        rows = at("get", f"trials/{draft.pk}/build-ups")["build_ups"]
        shellac = next(row for row in rows if row["name"] == "Ousel Dewaxed Shellac")
        return {finding["rule"] for finding in shellac["assessment"]["findings"]}

    at("patch", f"trials/{draft.pk}", {"name": draft.name, "uses": []})
    assert "alcohol-shellac" not in findings()
    at("patch", f"trials/{draft.pk}", {"name": draft.name, "uses": ["buffet-counter"]})
    assert "alcohol-shellac" in findings()


def test_another_shops_things_are_not_there(at: Ask, draft: Trial, stranger: Person) -> None:
    actions.add_item(stranger, OWN_USES, BAR)
    row = actions.add_item(stranger, OWN_PROTOCOLS, SPIRITS)
    assert (len(at("get", "shelf/uses")), len(at("get", "shelf/protocols"))) == (len(USES), len(PROTOCOLS))
    at("put", f"shelf/protocols/{row.pk}", SPIRITS, status=404)
    for field, value in (("uses", ["buffet-counter"]), ("protocol", "buffet-glasses")):
        refused = at("patch", f"trials/{draft.pk}", {"name": draft.name, field: value}, status=400)
        assert refused["field"] == field


def test_a_protocol_has_versions_and_a_trial_keeps_the_one_it_took(
    at: Ask, draft: Trial, owner: Person
) -> None:
    made = at("post", "shelf/protocols", SPIRITS, status=201)
    at("patch", f"trials/{draft.pk}", {"name": draft.name, "protocol": "buffet-glasses"})
    draft.refresh_from_db()
    taken = protocol_of(draft)
    assert (taken.id, taken.version, draft.protocol_version) == ("buffet-glasses", 1, 1)
    # The words tell that it burns, though nobody stated it.
    assert taken.tests[0].natures == {"flammable"}
    # Saving it as it is makes no version, changing it does.
    shown = next(row for row in at("get", "shelf/protocols") if row["item_id"] == made["id"])["protocol"]
    at("put", f"shelf/protocols/{made['id']}", shown)
    assert ShelfProtocol.objects.get().plain["version"] == 1
    longer = json.loads(json.dumps(shown))
    longer["tests"][0]["acts"][0]["lasts_min"] = 120
    at("put", f"shelf/protocols/{made['id']}", longer)
    assert ShelfProtocol.objects.get().plain["version"] == 2
    at("patch", f"trials/{draft.pk}", {"name": draft.name, "protocol": "buffet-glasses"})
    draft.refresh_from_db()
    assert protocol_of(draft) == taken
    before = AuditEntry.objects.filter(action="change_protocol").latest("pk").details["before"]
    assert before["tests"][0]["acts"][0]["lasts_min"] == 60


def test_what_had_its_name_before_it_shipped_keeps_it(
    at: Ask, owner: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    made = at("post", "shelf/protocols", SPIRITS, status=201)
    shipped = replace(TABLE_BASICS, id="buffet-glasses", name="Buffet glasses")
    monkeypatch.setitem(PROTOCOLS, shipped.id, shipped)
    assert protocols_of(owner.shop_id)["buffet-glasses"].says == SPIRITS["says"]
    at("put", f"shelf/protocols/{made['id']}", {**SPIRITS, "says": "What a counter meets at noon."})
    at("post", "shelf/protocols", {**SPIRITS, "name": "buffet GLASSES"}, status=400)


def test_a_shops_own_agent_says_what_it_is_kept_from(owner: Person) -> None:
    actions.add_item(owner, OWN_AGENTS, {"name": "Buffet descaler", "group": "stain", "natures": ["acid"]})
    plain = json.loads(json.dumps(SPIRITS))
    plain["tests"][0]["acts"][0]["agent"] = "buffet  descaler"
    actions.add_item(owner, OWN_PROTOCOLS, plain)
    own = protocols_of(owner.shop_id)["buffet-glasses"]
    assert own.tests[0].natures == {"acid"}


def test_a_trial_goes_through_a_protocol_of_the_shops_own(
    at: Ask, client_of: Callable[[Person | None], APIClient], draft: Trial, owner: Person, judge: Person
) -> None:
    """From choosing it to the ranking, without the look that ships."""
    actions.add_item(owner, OWN_PROTOCOLS, SPIRITS)
    actions.add_item(owner, OWN_USES, BAR)
    at(
        "patch",
        f"trials/{draft.pk}",
        {"name": draft.name, "protocol": "buffet-glasses", "uses": ["buffet-counter"]},
    )
    draw_design(owner, draft.pk, seed=4)
    trial = start(owner, draft.pk)
    sitting = client_of(judge).get(f"/api/judging/{trial.pk}/looks/24h").json()
    assert sitting["look"]["id"] == "3d"
    assert [each["short_name"] for each in sitting["exposures"]] == ["Spirits 1 h", "Glass 4 h"]
    for panel in TrialPanel.objects.filter(trial=trial).select_related("build_up", "board"):
        for spot in panel.spots.all():
            grade = {"Bare control": 1, "Marrowby Tung": 3}.get(panel.build_up.name, 5)
            entry = BenchEntry(
                client_id=UUID(int=spot.pk), panel=panel.code, exposure=spot.exposure, look="3d", kind="grade",
                value=grade,
            )  # fmt: skip
            enter_reading(judge, trial.pk, entry)
    evidence = at("get", f"trials/{trial.pk}/evidence")
    assert (evidence["look"], evidence["n_readings"]) == ("3d", 18)
    ranking = at("get", f"trials/{trial.pk}/ranking?use=buffet-counter")
    assert (ranking["look"], ranking["systems"][0]["system"]) == ("3d", "Skarn Waterborne Satin")
    assert at("get", f"trials/{trial.pk}/design")["record_state"] == "intact"


@pytest.mark.parametrize(
    ("kind", "thing", "shipped"),
    [("uses", BAR, DINING_TABLE), ("protocols", SPIRITS, TABLE_BASICS)],
)
def test_they_go_out_and_in_as_json(
    client_of: Callable[[Person | None], APIClient],
    owner: Person,
    stranger: Person,
    kind: str,
    thing: dict[str, Any],
    shipped: Any,
) -> None:
    client = client_of(owner)
    client.post(f"/api/shelf/{kind}", thing, format="json")
    written = client.get(f"/api/shelf/{kind}/file?form=json")
    assert json.loads(written.content)[0]["name"] == thing["name"]
    no_rows = client.get(f"/api/shelf/{kind}/file?form=csv")
    assert (no_rows.status_code, no_rows.json()["detail"]) == (
        400,
        f"{kind.capitalize()} do not go into rows. Use JSON.",
    )
    other = client_of(stranger)
    read = other.post(
        f"/api/shelf/{kind}/file?keep=all", written.content, content_type="application/octet-stream"
    )
    assert read.json() == {"n_good": 1, "n_written": 1, "faults": []}
    assert other.get(f"/api/shelf/{kind}/file?form=json").content == written.content
    # What ships can be written as a shop's own would, under another name.
    plain = use_as_dict(shipped) if kind == "uses" else protocol_as_dict(shipped)
    faulty = [{**plain, "name": "Ours"}, plain, {**thing, "looks": [], "criteria": []}]
    looked = client.post(
        f"/api/shelf/{kind}/file?keep=nothing",
        json.dumps(faulty).encode(),
        content_type="application/octet-stream",
    ).json()
    assert (looked["n_good"], [fault["line"] for fault in looked["faults"]]) == (1, [2, 3])
    csv = client.post(
        f"/api/shelf/{kind}/file?keep=all", b"name\nx\n", content_type="application/octet-stream"
    )
    assert "Use JSON" in csv.json()["detail"]


def test_a_judge_sees_none_of_it(client_of: Callable[[Person | None], APIClient], judge: Person) -> None:
    for address in ("uses", "protocols", "uses/file", "protocols/file"):
        assert client_of(judge).get(f"/api/shelf/{address}").status_code == 403
