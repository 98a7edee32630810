"""Factors crossed in a trial: build-ups, bare pieces and sections are made of them, to a plan and to files."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

import pytest
from django.db.models import Count
from rest_framework.test import APIClient

from nublet.core.errors import BlockedCombinationError, DesignError, NubletError
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.build_ups.crossing_actions import set_crossing
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.build_ups.selectors import view_build_ups, view_sections, write_sheet
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.freezing import check_record
from nublet.web.designs.models import TrialSpot
from nublet.web.evidence.rows import rows_of
from nublet.web.people.models import Person
from nublet.web.readings.actions import BenchEntry, enter_reading
from nublet.web.shelf.actions import add_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial

Client = Callable[[Person | None], APIClient]
ALWAYS = {"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "from": "06:00", "to": "22:00"}
FINISHES = ("pure-drying-oil", "waterborne-clear", "oil-varnish-blend", "shellac-dewaxed", "hardwax-1k")


def finish(*families: str) -> dict[str, Any]:
    return {"kind": "finish", "on": "panels", "levels": [{"name": each, "family": each} for each in families]}


def coats(*numbers: int, on: str = "sections") -> dict[str, Any]:
    return {"kind": "coats", "on": on, "levels": [{"name": f"{n} coats", "coats": n} for n in numbers]}


def tops(on: str = "sections") -> dict[str, Any]:
    levels: list[dict[str, Any]] = [{"name": "nothing"}, {"name": "paste wax", "layers": [{"family": "wax"}]}]
    return {"kind": "top", "on": on, "levels": levels}


def charred(*levels: str) -> dict[str, Any]:
    return {
        "kind": "preparation",
        "on": "panels",
        "levels": [
            {"name": f"charred {each}", "preparation": {"grits": [], "charring": each, "brushed": True}}
            for each in levels
        ],
    }


def names(trial: Trial) -> list[str]:
    return list(trial.build_ups.order_by("pk").values_list("name", flat=True))


def test_five_bases_by_two_tops_by_three_coats_on_sections_to_a_plan(owner: Person, draft: Trial) -> None:
    update_trial(owner, draft.pk, panel_length_mm=1400, panel_width_mm=300, boards_per_species=1)
    trial = set_crossing(owner, draft.pk, {"factors": [finish(*FINISHES), coats(1, 2, 3), tops()]})
    # The candidates of before are no levels of this: they stay, the bare control too.
    assert names(trial) == ["Bare control", "Marrowby Tung", "Skarn Waterborne Satin", *FINISHES]
    for row in list(trial.build_ups.filter(levels={}).exclude(is_control=True)):
        row.delete()
    assert len(trial.sections) == 6
    assert trial.section_levels["3 coats · paste wax"] == {"coats": "3 coats", "top": "paste wax"}
    made = trial.build_ups.get(name="pure-drying-oil")
    assert made.levels == {"finish": "pure-drying-oil"}
    assert made.version is not None
    assert made.version.recipe["layers"][0]["coats"] == 3
    draw_design(owner, trial.pk, seed=3)
    start(owner, trial.pk)
    set_bench(owner, {"hands": [{"name": "Nell", "hours": [ALWAYS]}]})
    plan = make(
        ask_for_plan(owner, trial.pk, start_at=datetime(2100, 3, 1, 6, tzinfo=UTC), prepares=True),
        limit_s=0.05,
    )
    assert (plan.state, plan.reasons) == ("done", [])
    items = set(plan.operations.filter(build_up__name="pure-drying-oil").values_list("item", flat=True))
    # Three coats, each on fewer sections than the one before, and wax on top of each number of them.
    assert {"coat 1", "mask 2", "coat 3", "coat 6", "unmask 6"} <= items
    with pytest.raises(ConflictError, match="can no longer change"):
        set_crossing(owner, trial.pk, {"factors": [finish("wax")]})


def test_charring_by_finishes_with_bare_wood_at_each_level(owner: Person, draft: Trial) -> None:
    plain = {
        "factors": [charred("light", "medium", "deep"), finish(*FINISHES[:3])],
        "bare_at": ["charred light", "charred medium", "charred deep"],
    }
    trial = set_crossing(owner, draft.pk, plain)
    bare = trial.build_ups.filter(is_control=True).order_by("pk")
    assert [row.name for row in bare] == [
        "Bare control", "Bare · charred light", "Bare · charred medium", "Bare · charred deep",
    ]  # fmt: skip
    assert [row.preparation and row.preparation["charring"] for row in bare] == [
        None,
        "light",
        "medium",
        "deep",
    ]
    assert sum(bool(row.levels) for row in trial.build_ups.all()) == 12
    # Taken out, a cell is no build-up; what an earlier crossing made and this one does not is gone, what stays keeps its number.
    kept = trial.build_ups.get(name="charred light · pure-drying-oil").pk
    set_crossing(owner, draft.pk, {**plain, "bare_at": [], "out": [["charred deep", "waterborne-clear"]]})
    assert trial.build_ups.get(name="charred light · pure-drying-oil").pk == kept
    assert "charred deep · waterborne-clear" not in names(trial)
    assert not [name for name in names(trial) if name.startswith("Bare ·")]
    shown = {row.row.name: row for row in view_build_ups(trial).rows}
    assert shown["charred medium · pure-drying-oil"].recipe is not None


def test_candidates_that_become_levels_are_replaced_by_what_is_made(owner: Person, draft: Trial) -> None:
    product = add_item(owner, PRODUCTS, {"name": "Ousel Dewaxed Shellac", "family": "shellac-dewaxed"})
    levels = [
        {"name": "Marrowby Tung", "family": "pure-drying-oil"},
        {"name": "Ousel Dewaxed Shellac", "product": product.pk},
    ]
    plain = {"factors": [{"kind": "finish", "on": "panels", "levels": levels}, tops("panels")]}
    trial = set_crossing(owner, draft.pk, plain)
    assert names(trial) == [
        "Bare control", "Skarn Waterborne Satin", "Marrowby Tung · nothing", "Marrowby Tung · paste wax",
        "Ousel Dewaxed Shellac · nothing", "Ousel Dewaxed Shellac · paste wax",
    ]  # fmt: skip
    assert trial.crossing == plain


def test_crossed_through_the_api_the_trial_is_answered_as_it_stands(
    client_of: Client, owner: Person, draft: Trial
) -> None:
    address = f"/api/trials/{draft.pk}/crossing"
    plain = {"factors": [finish(*FINISHES[:2]), coats(1, 2)]}
    answer = client_of(owner).put(address, plain, format="json")
    assert (answer.status_code, answer.json()["trial"]["sections"]) == (200, ["1 coats", "2 coats"])
    found = client_of(owner).get(address).json()
    assert [factor["kind"] for factor in found["crossing"]["factors"]] == ["finish", "coats"]
    assert {each["name"] for each in found["preparations"]} >= {"sanded to 180", "charred deep"}
    wrong = client_of(owner).put(address, {"factors": []}, format="json")
    assert (wrong.status_code, wrong.json()["field"]) == (400, "factors")


def test_what_will_not_hold_can_be_made_and_is_refused_with_the_lots(owner: Person, draft: Trial) -> None:
    film = {
        "kind": "top",
        "on": "panels",
        "levels": [{"name": "film", "layers": [{"family": "waterborne-clear"}]}],
    }
    set_crossing(owner, draft.pk, {"factors": [finish("wax", "shellac-dewaxed"), film]})
    with pytest.raises(BlockedCombinationError):
        draw_design(owner, draft.pk, seed=1)
    trial = set_crossing(
        owner, draft.pk, {"factors": [finish("wax", "shellac-dewaxed"), film], "out": [["wax", "film"]]}
    )
    assert "wax · film" not in names(trial)
    draw_design(owner, draft.pk, seed=1)


def test_a_section_that_is_out_on_one_build_up_is_not_coated_there_and_does_not_count(
    owner: Person, judge: Person, draft: Trial
) -> None:
    update_trial(owner, draft.pk, panel_length_mm=800, panel_width_mm=300, boards_per_species=2)
    film = {"name": "film", "layers": [{"family": "waterborne-clear"}]}
    top = {"kind": "top", "on": "sections", "levels": [{"name": "nothing"}, film]}
    crossed = {"factors": [finish("wax", "shellac-dewaxed"), top]}
    set_crossing(owner, draft.pk, crossed)
    with pytest.raises(BlockedCombinationError, match="'film' on wax"):
        draw_design(owner, draft.pk, seed=1)
    trial = set_crossing(owner, draft.pk, {**crossed, "out": [["wax", "film"]]})
    assert trial.build_ups.get(name="wax").sections_out == ["film"]
    on = {row.plain["name"]: [each.build_up for each in row.on] for row in view_sections(trial)}
    assert {row.plain["name"]: row.out for row in view_sections(trial)}["film"] == ("wax",)
    assert ("wax" in on["nothing"], "wax" in on["film"], "shellac-dewaxed" in on["film"]) == (
        True,
        False,
        True,
    )
    steps = [step.title for step in write_sheet(trial, trial.build_ups.get(name="wax").pk).steps]
    assert not [title for title in steps if "mask" in title.lower()]
    # A section that is renamed takes along where it is out.
    for names in (["nothing", "hard film"], ["nothing", "film"]):
        update_trial(owner, trial.pk, sections=names)
        trial.refresh_from_db()
        assert trial.build_ups.get(name="wax").sections_out == names[1:]
        assert trial.section_levels[names[1]] == {"top": "film"}
    draw_design(owner, draft.pk, seed=1)
    start(owner, trial.pk)
    trial.refresh_from_db()
    assert check_record(trial) == "intact"
    changes: list[dict[str, Any]] = [
        {"sections_out": []},
        {"sections_out": ["film"], "levels": {"finish": "oil"}},
    ]
    for changed in changes:
        trial.build_ups.filter(name="wax").update(**changed)
        assert check_record(trial) == "broken"
    trial.build_ups.filter(name="wax").update(levels={"finish": "wax"})
    assert check_record(trial) == "intact"
    # Nothing that a judge holds differs: each panel has as many spots in each of its sections.
    spots = (
        TrialSpot.objects.filter(panel__trial=trial).values_list("panel", "section").annotate(n=Count("pk"))
    )
    assert len({n for *_, n in spots}) == 1
    assert len(spots) == 2 * trial.panels.count()
    for spot in TrialSpot.objects.filter(panel__trial=trial, exposure="wine-1h").select_related("panel"):
        enter_reading(
            judge,
            trial.pk,
            BenchEntry(
                client_id=uuid4(),
                panel=spot.panel.code,
                place=spot.place,
                exposure="wine-1h",
                look="24h",
                kind="grade",
                value=3,
            ),
        )
    plain, filmed = ({row.system for row in rows_of(trial, section=each)} for each in ("nothing", "film"))
    assert (plain - filmed, filmed - plain) == ({"wax"}, set())


def test_what_cannot_be_crossed_changes_nothing(owner: Person, draft: Trial) -> None:
    before = names(draft)
    for wrong, error in (
        ({"factors": []}, DesignError),
        (
            {"factors": [{"kind": "finish", "on": "panels", "levels": [{"name": "x", "product": 999}]}]},
            DesignError,
        ),
        (
            {
                "factors": [
                    {"kind": "finish", "on": "panels", "levels": [{"name": "Saloon tables", "family": "wax"}]}
                ]
            },
            NubletError,
        ),
    ):
        with pytest.raises(error):
            set_crossing(owner, draft.pk, wrong)
    draft.refresh_from_db()
    assert (names(draft), draft.sections, draft.crossing) == (before, [], {})
    assert TrialBuildUp.objects.filter(trial=draft).exclude(levels={}).count() == 0
