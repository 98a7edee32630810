"""What instruments give: several readings a value, what follows from them at once, and what never becomes a reading."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import pytest
from rest_framework.test import APIClient

from nublet.core.measuring.colour import delta_e00
from nublet.core.protocols.looks import Look
from nublet.instruments.simulated import SimulatedBench
from nublet.web.bench.looks_seen import wanted_on_bare_wood
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading, ReadingEntry
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial
from tests.swatches import make_swatches

Client = Callable[[Person | None], APIClient]
Put = Callable[..., Any]
TEST = "colour"


@pytest.fixture
def swatches(owner: Person, judge: Person) -> Trial:
    """On two boards."""
    return make_swatches(owner, judge, boards=2)


@pytest.fixture
def put(client_of: Client, owner: Person, swatches: Trial) -> Put:
    def send(code: str, look: str, part: str, singles: list[Any], **fields: Any) -> Any:
        body = {
            "client_id": str(uuid4()), "panel": code, "exposure": TEST, "look": look, "kind": "grade",
            "response": f"colour-{part}", "singles": singles, **fields,
        }  # fmt: skip
        return client_of(owner).post(f"/api/judging/{swatches.pk}/entries", body, format="json")

    return send


def codes_of(trial: Trial) -> tuple[str, str]:
    """A coated panel and the bare one of the same board."""
    board = trial.panels.order_by("board", "code")[0].board
    own = trial.panels.filter(board=board).order_by("code")
    return own.filter(build_up__is_control=False)[0].code, own.filter(build_up__is_control=True)[0].code


def looks_of(trial: Trial) -> tuple[Look, ...]:
    protocol = protocol_of(trial)
    return protocol.looks_of(protocol.test(TEST))


def test_a_value_is_the_mean_of_its_readings_and_they_are_kept_with_it(
    put: Put, swatches: Trial, client_of: Client, owner: Person
) -> None:
    code, _ = codes_of(swatches)
    answer = put(code, "bare", "l", [70.11, 70.42, 70.3]).json()
    assert (answer["value"], answer["singles"]) == (70.28, [70.11, 70.42, 70.3])
    # A correction as one number leaves no readings behind it; the earlier ones stay in the record.
    assert put(code, "bare", "l", [], value=70.5).json()["singles"] == []
    entries = ReadingEntry.objects.filter(reading__spot__panel__code=code).order_by("pk")
    assert [entry.singles for entry in entries] == [[70.11, 70.42, 70.3], []]
    put(code, "bare", "l", [70, 71])
    table = client_of(owner).get(f"/api/trials/{swatches.pk}/readings.csv", {"response": "all"})
    lines = [line for line in csv.DictReader(io.StringIO(table.content.decode())) if line["panel"] == code]
    assert [(line["value"], line["singles"], line["spread"]) for line in lines] == [
        ("70.5", "70 71", "0.7071")
    ]


def test_the_same_readings_sent_twice_count_once_whatever_mean_came_with_them(
    put: Put, swatches: Trial
) -> None:
    code, _ = codes_of(swatches)
    client_id = str(uuid4())
    for value in (70.3, 70.3, 12):
        # The mean is worked out here; what a browser says of it does not count.
        assert put(code, "bare", "l", [70, 70.6], value=value, client_id=client_id).json()["value"] == 70.3
    assert ReadingEntry.objects.count() == 1


def test_colour_differences_are_told_at_once_and_to_the_hands_alone(
    put: Put, swatches: Trial, client_of: Client, owner: Person, judge: Person
) -> None:
    code, bare = codes_of(swatches)
    later = next(look.id for look in looks_of(swatches) if not look.is_before)
    for panel, look, lab in (
        (code, "bare", (72.0, 7.0, 22.0)), (bare, later, (70.0, 8.0, 25.0)), (code, later, (60.0, 10.0, 30.0)),
    ):  # fmt: skip
        for part, value in zip("lab", lab, strict=True):
            answer = put(panel, look, part, [value - 0.1, value + 0.1])
            assert answer.status_code == 200, answer.content
    told = {each["response"]: each["value"] for each in answer.json()["worked_out"]}
    assert told["delta-e00"] == pytest.approx(delta_e00((72, 7, 22), (60, 10, 30)), abs=1e-3)
    assert told["delta-e00-bare"] == pytest.approx(delta_e00((70, 8, 25), (60, 10, 30)), abs=1e-3)
    assert told["delta-b"] == 8

    sitting = client_of(owner).get(f"/api/judging/{swatches.pk}/looks/{later}", {"by": "hands"}).json()
    spots = {panel["code"]: panel["spots"][0] for panel in sitting["panels"]}
    assert {each["response"]: each["value"] for each in spots[code]["worked_out"]} == told
    # Bare wood is held against what it was, and against no bare wood.
    assert "delta-e00-bare" not in {each["response"] for each in spots[bare]["worked_out"]}
    blind = client_of(judge).get(f"/api/judging/{swatches.pk}/looks/{later}").json()
    assert [
        spot["worked_out"] for panel in blind["panels"] for spot in panel["spots"] if spot["worked_out"]
    ] == []
    assert blind["instruments"] == []

    evidence = (
        client_of(owner).get(f"/api/trials/{swatches.pk}/evidence", {"response": "delta-e00-bare"}).json()
    )
    assert evidence["response"] == "delta-e00-bare"


def test_what_is_to_be_measured_on_bare_wood_is_told_until_it_is(
    put: Put, swatches: Trial, django_assert_num_queries: Any
) -> None:
    code, bare = codes_of(swatches)
    with django_assert_num_queries(2):
        found = wanted_on_bare_wood(swatches, {code})
    assert {(each.panel, each.look, each.by) for each in found} == {(code, "bare", "hands")}
    assert "lightness L*" in found[0].what
    for part in "lab":
        put(code, "bare", part, [20])
    assert {each.panel for each in wanted_on_bare_wood(swatches, {code, bare})} == {bare}


@pytest.mark.parametrize(
    ("singles", "says"),
    [
        ([70, 101], "reading 2: L\\* 101 cannot be"),
        ([70, "NaN"], "singles"),
        ([70, "Infinity"], "singles"),
        ([70, "71 GU"], "singles"),
        ([1e308, 1e308], "cannot be"),
        ([70] * 21, "20"),
        ("70", "singles"),
    ],
)
def test_what_cannot_be_read_is_refused_and_nothing_is_written(
    put: Put, swatches: Trial, singles: Any, says: str
) -> None:
    answer = put(codes_of(swatches)[0], "bare", "l", singles)
    assert answer.status_code == 400
    assert re.search(says, answer.content.decode()), answer.content
    assert not Reading.objects.exists()


@pytest.mark.parametrize("fault", ["garbled", "unplugged", "wild"])
def test_garbage_of_an_instrument_never_becomes_a_reading(
    client_of: Client, owner: Person, swatches: Trial, fault: Any
) -> None:
    with SimulatedBench(seed=2) as bench:
        client = client_of(owner)
        kinds = [kind for kind in ("colour", "gloss", "balance") if kind in bench.addresses]
        client.patch(
            "/api/bench",
            {"instruments": [{"kind": kind, "address": bench.addresses[kind]} for kind in kinds]},
            format="json",
        )
        for kind in kinds:
            good = client.post(f"/api/instruments/{kind}/reading")
            assert good.status_code == 200, good.content
            bench.instruments[kind].fault = fault
            answer = client.post(f"/api/instruments/{kind}/reading")
            assert answer.status_code >= 400
            assert "values" not in answer.json()
            assert "type the value" in answer.json()["detail"]
    assert not Reading.objects.exists()
