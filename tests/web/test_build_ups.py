"""Build-ups of a trial: their versions, what freezes them, what is refused, and what there is to say of them."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from rest_framework.test import APIClient

from nublet.core.errors import BlockedCombinationError, BuildUpError, NubletError
from nublet.core.ranking import shipped
from nublet.web.build_ups import actions
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.build_ups.selectors import view_build_ups, write_sheet
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialPanel
from nublet.web.designs.sheets import sheets_of
from nublet.web.people.models import AuditEntry, Person
from nublet.web.shelf.actions import add_item, change_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.shelf.models import BuildUp, BuildUpVersion
from nublet.web.stages.selectors import summarise_trial
from nublet.web.trials.actions import create_trial, update_trial
from nublet.web.trials.models import Trial
from tests.web.conftest import grade_spot

Client = Callable[[Person | None], APIClient]
HARDOIL = {
    "name": "Fellgate Hardoil 2K",
    "family": "hardwax-2k",
    "parts": [{"name": "Base", "share": 9}, {"name": "Hardener", "share": 1}],
    "containers": [{"amounts": [315, 35], "price": 42}, {"amounts": [900, 100], "price": 98}],
    "label": {"coats": 2, "finest_grit": 150, "cure_d": 7},
}
OVER_WAX = {"layers": [{"family": "wax"}, {"family": "pure-drying-oil"}], "preparation": {}}


def audit() -> list[str]:
    return list(AuditEntry.objects.order_by("pk").values_list("action", flat=True))


def plain(*families: str, **more: Any) -> dict[str, Any]:
    return {"preparation": {"grits": [120]}, "layers": [{"family": f} for f in families], **more}


def tung_of(trial: Trial) -> TrialBuildUp:
    return trial.build_ups.select_related("version__build_up").get(name__startswith="Marrowby")


def recipe_layers(trial: Trial, name: str) -> list[dict[str, Any]]:
    version = trial.build_ups.select_related("version").get(name=name).version
    assert version is not None
    layers: list[dict[str, Any]] = version.recipe["layers"]
    return layers


@pytest.fixture
def hardoil(owner: Person) -> int:
    return add_item(owner, PRODUCTS, HARDOIL).pk


def test_a_product_is_added_as_its_label_asks(
    client_of: Client, owner: Person, draft: Trial, hardoil: int
) -> None:
    answer = client_of(owner).post(f"/api/trials/{draft.pk}/build-ups", {"product": hardoil}, format="json")
    assert answer.status_code == 201
    added = answer.json()["trial"]["build_ups"][-1]
    assert (added["name"], added["family"], added["coats"], added["version"]) == (
        "Fellgate Hardoil 2K", "hardwax-2k", 2, 1,
    )  # fmt: skip
    assert added["layers"] == [
        {"name": "Hardwax oil with hardener", "family": "hardwax-2k", "seat": "in", "coats": 2}
    ]
    shown = client_of(owner).get(f"/api/trials/{draft.pk}/build-ups").json()
    assert shown["build_ups"][-1]["recipe"]["preparation"]["grits"] == [80, 120]
    assert audit()[-1] == "add_build_up"


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"name": "X", "family": "paint", "coats": 1}, "family"),
        ({"name": "X", "family": "wax", "coats": 0}, "layers.0.coats"),
        ({"name": "", "family": "wax", "coats": 1}, "name"),
        ({"name": "marrowby tung", "family": "wax", "coats": 1}, "build_ups.3.name"),
        ({"name": "Saloon", "family": "wax", "coats": 1}, "name"),
        ({"product": 987654}, "product"),
        ({"version": 987654}, "version"),
    ],
)
def test_candidates_that_cannot_be_added(
    client_of: Client, owner: Person, draft: Trial, body: dict[str, Any], field: str
) -> None:
    before = audit()
    answer = client_of(owner).post(f"/api/trials/{draft.pk}/build-ups", body, format="json")
    assert (answer.status_code, answer.json()["field"]) == (400, field)
    assert draft.build_ups.count() == 3
    assert audit() == before


def test_a_version_of_this_trial_alone_is_changed_in_place(owner: Person, designed: Trial) -> None:
    row = tung_of(designed)
    changed = actions.change_build_up(
        owner, designed.pk, row.pk, name=row.name, recipe=plain("pure-drying-oil", "wax")
    )
    assert changed.made_for_shelf is None
    assert (changed.row.version_id, BuildUpVersion.objects.count()) == (row.version_id, 2)
    assert [layer["family"] for layer in tung_of(designed).version.recipe["layers"]] == [  # type: ignore[union-attr]
        "pure-drying-oil", "wax",
    ]  # fmt: skip
    designed.refresh_from_db()
    assert designed.fingerprint
    assert audit()[-1] == "change_build_up"


def test_a_new_name_is_a_new_key(owner: Person, designed: Trial) -> None:
    row = tung_of(designed)
    actions.change_build_up(
        owner, designed.pk, row.pk, name="Marrowby Tung, thin", recipe=plain("pure-drying-oil")
    )
    designed.refresh_from_db()
    assert designed.fingerprint == ""
    assert set(BuildUp.objects.values_list("name", flat=True)) == {
        "Marrowby Tung, thin",
        "Skarn Waterborne Satin",
    }


def test_a_version_that_another_trial_uses_gets_a_successor(owner: Person, draft: Trial) -> None:
    row = tung_of(draft)
    other = create_trial(owner, name="Galley boards", species=["elm"])
    shared = actions.add_build_up(owner, other.pk, version=row.version_id)
    assert (shared.name, shared.version_id) == ("Marrowby Tung", row.version_id)
    actions.change_build_up(
        owner, draft.pk, row.pk, name=row.name, recipe=plain("pure-drying-oil", "pure-drying-oil")
    )
    shared.refresh_from_db()
    mine = tung_of(draft)
    assert mine.version is not None
    assert mine.version.number == 2
    assert shared.version_id == row.version_id
    # The same recipe under the same name is the same version, not a third.
    again = create_trial(owner, name="Halt benches")
    added = actions.add_build_up(owner, again.pk, name="Marrowby Tung", family="pure-drying-oil", coats=4)
    assert added.version_id == row.version_id


def test_a_copy_is_a_build_up_of_its_own(owner: Person, draft: Trial) -> None:
    row = tung_of(draft)
    copy = actions.add_build_up(owner, draft.pk, version=row.version_id, name="Marrowby Tung copy")
    assert copy.version_id != row.version_id
    assert copy.version is not None
    assert row.version is not None
    assert copy.version.recipe == row.version.recipe
    actions.change_build_up(owner, draft.pk, copy.pk, name=copy.name, recipe=plain("pure-drying-oil", "wax"))
    assert len(recipe_layers(draft, "Marrowby Tung")) == 1
    assert len(recipe_layers(draft, "Marrowby Tung copy")) == 2


def test_starting_freezes_what_is_compared(
    client_of: Client, owner: Person, draft: Trial, judge: Person, hardoil: int
) -> None:
    row = actions.add_build_up(owner, draft.pk, product=hardoil)
    draw_design(owner, draft.pk, seed=3)
    panel = TrialPanel.objects.filter(trial=draft)[0]
    before = write_sheet(draft, row.pk).steps
    start(owner, draft.pk)
    grade_spot(judge, draft, panel.code, "wine-1h", 4)
    grade_spot(judge, draft, panel.code, "coffee-1h", 4)
    draft.refresh_from_db()
    assert draft.is_started
    assert audit().count("start_trial") == 1
    # The shelf's product changes; the trial keeps the label that it was coated by.
    change_item(owner, PRODUCTS, hardoil, {**HARDOIL, "name": "Fellgate New", "label": {"cure_d": 99}})
    assert write_sheet(draft, row.pk).steps == before
    answer = client_of(owner).put(
        f"/api/trials/{draft.pk}/build-ups/{row.pk}",
        {"name": row.name, "recipe": plain("hardwax-2k", "wax")},
        format="json",
    )
    assert answer.json()["made_for_shelf"] == 2
    kept = answer.json()["view"]["build_ups"][-1]
    assert (kept["version"], kept["is_frozen"], len(kept["layers"])) == (1, True, 1)
    assert audit()[-1] == "make_version"
    versions = client_of(owner).get("/api/shelf/build-ups").json()
    assert [(v["name"], v["number"], v["is_frozen"]) for v in versions[:2]] == [
        ("Fellgate Hardoil 2K", 2, False),
        ("Fellgate Hardoil 2K", 1, True),
    ]
    # The unchanged recipe with the changed product is another thing than the frozen one.
    other = create_trial(owner, name="Galley boards")
    added = actions.add_build_up(owner, other.pk, name="Fellgate Hardoil 2K", product=hardoil)
    assert added.version is not None
    assert added.version.number == 3


def test_a_block_is_refused_until_it_is_declared(client_of: Client, owner: Person, draft: Trial) -> None:
    row = tung_of(draft)
    address, before = f"/api/trials/{draft.pk}/build-ups/{row.pk}", audit()
    refused = client_of(owner).put(address, {"name": row.name, "recipe": OVER_WAX}, format="json")
    assert (refused.status_code, refused.json()["code"], refused.json()["field"]) == (
        400, "blocked_combination", "layers.1",
    )  # fmt: skip
    assert "Nothing holds on wax but wax" in refused.json()["detail"]
    assert audit() == before
    declared = {**OVER_WAX, "experiment_reason": "To show what happens"}
    kept = client_of(owner).put(address, {"name": row.name, "recipe": declared}, format="json")
    assert kept.status_code == 200
    shown = next(b for b in kept.json()["view"]["build_ups"] if b["id"] == row.pk)
    assert shown["assessment"]["is_blocked"]
    assert shown["recipe"]["experiment_reason"] == "To show what happens"
    draw_design(owner, draft.pk, seed=1)


def test_what_a_change_of_use_blocks_is_found_before_wood_is_cut(
    owner: Person, draft: Trial, monkeypatch: pytest.MonkeyPatch
) -> None:
    row = tung_of(draft)
    not_food = add_item(owner, PRODUCTS, {"name": "No Food", "family": "wax", "food_contact": "not-for-food"})
    actions.change_build_up(
        owner, draft.pk, row.pk, name=row.name, recipe=plain(layers=[{"product": not_food.pk}])
    )

    board = replace(shipped.DINING_TABLE, id="chopping-board", demands=frozenset({"food"}))
    monkeypatch.setitem(shipped.USES, "chopping-board", board)
    update_trial(owner, draft.pk, uses=["chopping-board"])
    with pytest.raises(BlockedCombinationError, match="not for food"):
        draw_design(owner, draft.pk)


def test_the_rail_asks_for_attention_while_something_would_not_hold(owner: Person, draft: Trial) -> None:
    def state() -> str:
        return summarise_trial(owner, draft.pk).stages["build_ups"]

    assert state() == "done"
    row = tung_of(draft)
    assert row.version is not None
    # As a change of use or wood may leave it: no action would save it so.
    stored = BuildUpVersion.objects.filter(pk=row.version.pk)
    stored.update(recipe={**row.version.recipe, **OVER_WAX})
    assert state() == "attention"
    declared = {**row.version.recipe, **OVER_WAX, "experiment_reason": "To see"}
    stored.update(recipe=declared)
    assert state() == "done"


def test_a_product_that_was_corrected_never_hides_a_trial(
    client_of: Client, owner: Person, draft: Trial
) -> None:
    wax = add_item(owner, PRODUCTS, {"name": "Bellwether Soft Wax", "family": "wax"})
    row = tung_of(draft)
    waxed = plain("pure-drying-oil", final="waxed", final_product=wax.pk)
    actions.change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=waxed)
    change_item(owner, PRODUCTS, wax.pk, {"name": "Bellwether Soft Wax", "family": "hardwax-1k"})
    client = client_of(owner)
    for address in ("", f"/{draft.pk}", f"/{draft.pk}/build-ups", f"/{draft.pk}/build-ups/{row.pk}/sheet"):
        assert client.get(f"/api/trials{address}").status_code == 200, address
    # Other candidates can still be added; this one says what is wrong when it is saved again.
    actions.add_build_up(owner, draft.pk, name="Varnish", family="oil-varnish", coats=2)
    with pytest.raises(BuildUpError, match="Bellwether Soft Wax is no wax"):
        actions.change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=waxed)


def test_what_a_recipe_was_stays_in_the_record(owner: Person, draft: Trial) -> None:
    row = tung_of(draft)
    assert row.version is not None
    before = row.version.recipe
    actions.change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=plain("wax"))
    assert AuditEntry.objects.latest("pk").details["before"] == before


def test_a_draft_is_looked_over_and_not_kept(client_of: Client, owner: Person, draft: Trial) -> None:
    before = tung_of(draft).version.recipe  # type: ignore[union-attr]
    answer = client_of(owner).post(
        f"/api/trials/{draft.pk}/build-ups/check", {"recipe": OVER_WAX}, format="json"
    )
    found = answer.json()["assessment"]
    assert [f["rule"] for f in found["findings"] if f["severity"] == "block"] == ["over-wax"]
    assert [layer["seat"] for layer in answer.json()["layers"]] == ["top", "in"]
    assert tung_of(draft).version.recipe == before  # type: ignore[union-attr]
    hopeless = client_of(owner).post(
        f"/api/trials/{draft.pk}/build-ups/check", {"recipe": {**OVER_WAX, "layers": []}}, format="json"
    )
    assert (hopeless.status_code, hopeless.json()["field"]) == (400, "layers")


def test_figures_and_shopping_are_those_of_the_trial(
    client_of: Client, owner: Person, draft: Trial, hardoil: int
) -> None:
    actions.add_build_up(owner, draft.pk, product=hardoil)
    shown = client_of(owner).get(f"/api/trials/{draft.pk}/build-ups").json()
    # Three beech boards, one panel of 400 × 150 mm of each, both faces.
    assert (shown["n_panels"], shown["face_m2"]) == (3, pytest.approx(0.06))
    made = shown["build_ups"][-1]["assessment"]
    assert made["area_m2"] == pytest.approx(0.36)
    # Usual spread of the family: 30 then 50 m²/L; 98 a litre; 15 % waste.
    assert made["cost_per_m2"] == pytest.approx(98 * (1 / 30 + 1 / 50) * 1.15)
    assert made["needs"][0]["coats_ml"] == pytest.approx([13.8, 8.28])
    shopping = client_of(owner).get(f"/api/trials/{draft.pk}/shopping").json()
    assert (shopping["is_planned"], shopping["n_panels"], shopping["thinners"]) == (False, 3, [])
    (buy,) = shopping["products"]
    assert (buy["product"], buy["parts"], buy["cost"]) == ("Fellgate Hardoil 2K", ["Base", "Hardener"], 42)
    assert buy["lines"] == [{"amounts": [315, 35], "count": 1, "price": 42}]
    # 22 mL go on the wood; less than 50 mL of nine to one cannot be portioned out in half millilitres.
    assert buy["spread_ml"] == pytest.approx(22.08)
    assert (buy["mixed_ml"], buy["needs"]) == (100, [90, 10])


def test_schools_are_kept_and_say_what_they_confound(client_of: Client, owner: Person, draft: Trial) -> None:
    client = client_of(owner)
    answer = client.patch(
        f"/api/trials/{draft.pk}",
        {"preparation_school": "levelled", "coat_school": "equal-coats"},
        format="json",
    )
    assert answer.json()["trial"]["coat_school"] == "equal-coats"
    shown = client.get(f"/api/trials/{draft.pk}/build-ups").json()
    assert shown["confounded"][0].startswith("Levelled, preparation cannot explain")
    assert "Marrowby Tung has 4, Skarn Waterborne Satin has 3" in shown["strays"][0]
    assert (
        client.patch(f"/api/trials/{draft.pk}", {"coat_school": "by-mood"}, format="json").status_code == 400
    )


def test_the_sheet_of_a_build_up(client_of: Client, owner: Person, draft: Trial, hardoil: int) -> None:
    row = actions.add_build_up(owner, draft.pk, product=hardoil)
    sheet = client_of(owner).get(f"/api/trials/{draft.pk}/build-ups/{row.pk}/sheet").json()
    assert (sheet["trial"], sheet["name"], sheet["woods"]) == (
        "Saloon tables", "Fellgate Hardoil 2K", ["Beech"],
    )  # fmt: skip
    assert [s["kind"] for s in sheet["steps"]][-1] == "cure"
    assert {"two-part", "oily-rags"} <= {c["id"] for c in sheet["cautions"]}
    control = draft.build_ups.get(is_control=True)
    assert client_of(owner).get(f"/api/trials/{draft.pk}/build-ups/{control.pk}/sheet").status_code == 404


def test_removed_but_never_the_control(owner: Person, draft: Trial) -> None:
    tung, control = tung_of(draft), draft.build_ups.get(is_control=True)
    actions.remove_build_up(owner, draft.pk, tung.pk)
    assert set(draft.build_ups.values_list("name", flat=True)) == {"Bare control", "Skarn Waterborne Satin"}
    assert BuildUp.objects.filter(name="Marrowby Tung").exists()
    with pytest.raises(NubletError, match="bare control"):
        actions.remove_build_up(owner, draft.pk, control.pk)
    with pytest.raises(NubletError, match="bare control"):
        actions.change_build_up(owner, draft.pk, control.pk, name="X", recipe=plain("wax"))


def test_another_shops_products_cannot_be_named(owner: Person, stranger: Person, draft: Trial) -> None:
    foreign = add_item(stranger, PRODUCTS, HARDOIL).pk
    with pytest.raises(BuildUpError, match="not on your shelf"):
        actions.add_build_up(owner, draft.pk, product=foreign)
    row = tung_of(draft)
    with pytest.raises(BuildUpError, match="not on your shelf"):
        actions.change_build_up(
            owner, draft.pk, row.pk, name=row.name, recipe=plain(layers=[{"product": foreign}])
        )


def test_queries_do_not_grow_with_the_build_ups(
    django_assert_num_queries: Any, owner: Person, draft: Trial, hardoil: int
) -> None:
    actions.add_build_up(owner, draft.pk, product=hardoil)
    with django_assert_num_queries(4):
        view_build_ups(draft)
    for n in range(5):
        actions.add_build_up(owner, draft.pk, name=f"Hardoil {n}", product=hardoil, coats=n + 1)
    with django_assert_num_queries(4):
        view_build_ups(draft)


@pytest.mark.django_db(transaction=True)
def test_trials_from_before_the_shelf_keep_their_candidates() -> None:
    """The migration turns a family and coats into a version of a build-up, and starts what was graded."""
    executor = MigrationExecutor(connection)
    executor.migrate([("trials", "0001_initial"), ("readings", "0001_initial"), ("shelf", None)])
    try:
        old = executor.loader.project_state([("trials", "0001_initial"), ("readings", "0001_initial")]).apps
        shop = old.get_model("people", "Shop").objects.create(name="Old")
        for name in ("One", "Two"):
            trial = old.get_model("trials", "Trial").objects.create(
                shop=shop, name=name, protocol="table-basics"
            )
            row = old.get_model("trials", "TrialBuildUp").objects
            row.create(trial=trial, name="Bare control", is_control=True)
            row.create(
                trial=trial, name="Marrowby Tung", family="pure-drying-oil", coats=4 if name == "One" else 2
            )
    finally:
        executor = MigrationExecutor(connection)
        executor.migrate(executor.loader.graph.leaf_nodes())
    rows = TrialBuildUp.objects.filter(is_control=False).select_related("version").order_by("pk")
    assert [(r.version.number, r.version.recipe["layers"][0]["coats"]) for r in rows if r.version] == [
        (1, 4),
        (2, 2),
    ]
    TrialBuildUp.objects.all().delete()


def test_a_bare_control_of_each_preparation_where_it_is_wanted(
    at: Callable[..., Any], owner: Person, draft: Trial
) -> None:
    row = draft.build_ups.get(name="Marrowby Tung")
    assert row.version is not None
    recipe = row.version.recipe
    charred = {**recipe, "preparation": {**recipe["preparation"], "charring": "light", "grits": [120]}}
    actions.change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=charred)
    draw_design(owner, draft.pk, seed=4)
    address = f"trials/{draft.pk}/build-ups"
    made = at("post", address, {"bare_like": row.pk}, status=201)
    assert [each["name"] for each in made["trial"]["build_ups"] if each["is_control"]] == [
        "Bare control",
        "Bare, as Marrowby Tung",
    ]
    # What is compared has changed: lots are drawn anew.
    assert made["n_panels"] == 0
    controls = [each for each in at("get", address)["build_ups"] if each["is_control"]]
    assert [each["is_further"] for each in controls] == [False, True]
    assert not any("Char" in step for step in controls[0]["prepared"])
    assert controls[1]["prepared"][:2] == ["Char, light", "Sand 120"]
    again = at("post", address, {"bare_like": row.pk}, status=400)
    assert again["detail"] == "Bare, as Marrowby Tung is prepared so already."
    satin = draft.build_ups.get(name="Skarn Waterborne Satin")
    assert (
        "Bare control is prepared so already"
        in at("post", address, {"bare_like": satin.pk}, status=400)["detail"]
    )

    # It is drawn, prepared and recorded as one of the trial's.
    draw_design(owner, draft.pk, seed=4)
    draft.refresh_from_db()
    groups = {
        code: [step.title for step in group.steps]
        for group in sheets_of(draft).groups
        for code in group.codes
    }
    for name, is_charred in (("Bare control", False), ("Bare, as Marrowby Tung", True)):
        codes = list(TrialPanel.objects.filter(build_up__name=name).values_list("code", flat=True))
        assert len(codes) == 3
        assert {"Char, light" in groups[code] for code in codes} == {is_charred}
    start(owner, draft.pk)
    draft.refresh_from_db()
    rows = {each["name"]: each for each in json.loads(draft.record)["build_ups"]}
    assert rows["Bare, as Marrowby Tung"]["preparation"]["charring"] == "light"
    assert "preparation" not in rows["Bare control"]


def test_a_further_bare_control_can_be_taken_away_and_the_usual_one_cannot(
    at: Callable[..., Any], owner: Person, draft: Trial
) -> None:
    row = draft.build_ups.get(name="Marrowby Tung")
    assert row.version is not None
    charred = {**row.version.recipe["preparation"], "charring": "deep"}
    recipe = {**row.version.recipe, "preparation": charred}
    actions.change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=recipe)
    further = actions.add_bare_control(owner, draft.pk, like=row.pk)
    with pytest.raises(NubletError, match="belongs to every trial"):
        actions.remove_build_up(owner, draft.pk, draft.build_ups.get(name="Bare control").pk)
    left = at("delete", f"trials/{draft.pk}/build-ups/{further.pk}")
    assert [each["name"] for each in left["trial"]["build_ups"] if each["is_control"]] == ["Bare control"]
