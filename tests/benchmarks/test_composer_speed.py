"""Putting a protocol together and laying it out, at the size that a large trial has.

12 build-ups, 3 woods, 6 boards of each, 24 tests on sites of all kinds. The report's medians are what docs/protocols.md
and docs/design.md quote; nothing is asserted of a time.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from rest_framework.test import APIClient

from nublet.core.design.areas import PanelSize
from nublet.core.design.cutting import Board, Saw
from nublet.core.design.trial_design import DesignSpec, draw_design
from nublet.core.protocols.plain import protocol_as_plain
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.web.build_ups.actions import add_build_up
from nublet.web.outlook.composer import set_protocol
from nublet.web.people.actions import open_shop
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial

FAMILIES = ("pure-drying-oil", "oil-varnish-blend", "waterborne-clear", "hardwax-1k", "shellac-dewaxed")
OF_ALL_KINDS = (
    "water-spot-1h", "water-spot-24h", "wet-glass-1h", "coffee-10min", "coffee-1h", "coffee-16h", "black-tea-1h",
    "red-wine-1h", "vinegar-1h", "ethanol-48-1h", "wet-heat-70", "wet-heat-85", "dry-heat-100", "dry-heat-140",
    "bead", "uptake", "iron-115", "scratch", "scratch-and-mend", "boil", "damp-25", "end-stand-1h", "sheen", "drying-drop",
)  # fmt: skip


def test_they_are_of_all_kinds() -> None:
    assert len(OF_ALL_KINDS) == 24
    kinds = {TESTS[test].site.kind for test in OF_ALL_KINDS}
    assert kinds == {"spot", "strip", "part", "end", "panel", "slip"}


@pytest.mark.benchmark(group="design and layout, sites of all kinds")
def test_the_large_design_of_all_kinds(benchmark: Any) -> None:
    spec = DesignSpec(
        build_ups=tuple(f"build-up {i}" for i in range(12)),
        boards=tuple(
            Board(id=f"{wood} {i}", species=wood) for wood in ("beech", "elm", "larch") for i in range(6)
        ),
        exposures=tuple(TESTS[test] for test in OF_ALL_KINDS),
        size=PanelSize(length_mm=900, width_mm=250),
        saw=Saw(end_piece_mm=40),
        seed=3,
    )
    design = benchmark.pedantic(draw_design, args=(spec,), rounds=5)
    drawn = {spot.exposure for panel in design.panels for spot in panel.spots}
    assert drawn | {slip.test for slip in design.slips} == set(OF_ALL_KINDS)
    # Two of the tests use a panel up beside the one that carries the rest.
    assert len(design.panels) == 12 * 18 * 3


def trial_of(size: str) -> tuple[Trial, APIClient]:
    n_build_ups, woods, n_boards = {"small": (2, ["beech"], 3), "large": (11, ["beech", "larch", "elm"], 6)}[
        size
    ]
    owner = open_shop(shop_name=size, username=size, display_name=size, password="long-enough-1")
    trial = create_trial(owner, name=size, species=woods, boards_per_species=n_boards)
    for number in range(n_build_ups):
        add_build_up(owner, trial.pk, name=f"System {number}", family=FAMILIES[number % 5], coats=3)
    if size == "large":
        tests = tuple(TESTS[test] for test in OF_ALL_KINDS)
        whole = replace(PROTOCOLS["table-basics"], tests=tests, ladders=())
        set_protocol(owner, trial.pk, protocol_as_plain(whole))
    client = APIClient()
    client.force_login(owner)
    return trial, client


@pytest.mark.django_db
@pytest.mark.parametrize("size", ["small", "large"])
@pytest.mark.parametrize(
    "change",
    [
        {"what": "severity", "test": "coffee-1h", "lasts_min": 90},
        {"what": "harder", "test": "coffee-1h"},
        {"what": "add_test", "test": "mustard-1h"},
        {"what": "remove", "test": "coffee-1h"},
    ],
    ids=lambda change: str(change["what"]),
)
@pytest.mark.benchmark(group="composer: the answer to a change")
def test_a_change(benchmark: Any, size: str, change: dict[str, Any]) -> None:
    trial, client = trial_of(size)
    at = f"/api/trials/{trial.pk}/protocol"
    draft = client.post(at, {}, format="json").json()["protocol"]
    answer = benchmark(lambda: client.post(at, {"protocol": draft, "change": change}, format="json"))
    assert answer.status_code == 200, answer.json()
    assert answer.json()["protocol"] != draft
