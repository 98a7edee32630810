"""What a trial's sections carry: set, looked over, frozen, planned, bought, and gone where a judge could read it."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest

from nublet.core.errors import BlockedCombinationError, BuildUpError, DesignError
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench.adapters import stored_spec
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.cups import shop_for_trial
from nublet.web.bench.making import make
from nublet.web.bench.selectors import view_days
from nublet.web.build_ups.actions import change_build_up
from nublet.web.build_ups.adapters import sections_of
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.build_ups.section_actions import set_sections, try_without_wax
from nublet.web.build_ups.selectors import view_sections, write_sheet
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.freezing import check_record
from nublet.web.people.models import Person
from nublet.web.shelf.actions import add_item, change_item
from nublet.web.shelf.adapters import PRODUCTS
from nublet.web.trials.actions import update_trial
from nublet.web.trials.models import Trial

NELL = {
    "name": "Nell",
    "hours": [{"days": ["mon", "tue", "wed", "thu", "fri"], "from": "08:00", "to": "18:00"}],
}
TOPCOAT = {
    "name": "Glasswing Hard Topcoat",
    "family": "hydrophobic-topcoat",
    "containers": [{"amounts": [100], "price": 40}],
    "label": {"cure_d": 5},
}
MONDAY = datetime(2100, 3, 1, 8, tzinfo=UTC)


@pytest.fixture
def topped(owner: Person, draft: Trial) -> Trial:
    """Nothing, a hard topcoat, and one coat of the build-up only."""
    product = add_item(owner, PRODUCTS, TOPCOAT)
    update_trial(owner, draft.pk, panel_length_mm=600, panel_width_mm=260)
    return set_sections(
        owner,
        draft.pk,
        [
            {"name": "nothing on top"},
            {"name": "  hard   topcoat ", "layers": [{"product": product.pk}]},
            {"name": "one coat", "coats": 1},
        ],
    )


def test_sections_are_set_as_a_whole_and_looked_over_on_each_build_up(owner: Person, topped: Trial) -> None:
    assert topped.sections == ["nothing on top", "hard topcoat", "one coat"]
    assert set(topped.section_recipes) == {"hard topcoat", "one coat"}
    plain, top, one = view_sections(topped)
    assert plain.plain == {"name": "nothing on top", "coats": None, "layers": []}
    assert [each.build_up for each in top.on] == ["Marrowby Tung", "Skarn Waterborne Satin"]
    assert all(not each.findings for each in plain.on)
    (oiled, _) = top.on
    # After the oil's own weeks of cure come the topcoat's five days.
    assert oiled.days == plain.on[0].days + 5
    assert [each.days for each in one.on] < [each.days for each in plain.on]


def test_the_sections_are_planned_masked_mixed_bought_and_on_the_sheet(owner: Person, topped: Trial) -> None:
    before = {need.product.name for need in shop_for_trial(topped).products}
    assert "Glasswing Hard Topcoat" in before
    draw_design(owner, topped.pk, seed=2)
    topped.refresh_from_db()
    set_bench(owner, {"hands": [NELL]})
    start(owner, topped.pk)
    plan = make(ask_for_plan(owner, topped.pk, start_at=MONDAY), limit_s=0.05)
    tung = TrialBuildUp.objects.get(trial=topped, name="Marrowby Tung")
    items = list(
        dict.fromkeys(
            plan.operations.filter(build_up=tung).order_by("start_at").values_list("item", flat=True)
        )
    )
    assert items == [
        "coat 1", "mask 2", "coat 2", "coat 3", "coat 4", "unmask 4", "mask 5", "coat 5", "unmask 5",
    ]  # fmt: skip
    spec = stored_spec(plan)
    (group,) = [group for group in spec.groups if group.id == "Marrowby Tung"]
    steps = {step.id: step for step in group.steps}
    assert steps["mask 2"].kind == "work"
    # The bare control is bare all over.
    (bare,) = [group for group in spec.groups if group.id == "Bare control"]
    assert bare.steps == ()
    last = next(step for step in group.steps if step.product == "Glasswing Hard Topcoat")
    row = plan.operations.filter(build_up=tung, kind="coat", item=last.id).order_by("start_at")[0]
    (view,) = [each for each in view_days(topped, work=row.pk).operations if each.row.pk == row.pk]
    assert view.product == "Glasswing Hard Topcoat"
    assert view.amounts[0].what == "Glasswing Hard Topcoat"
    assert "Glasswing Hard Topcoat" in {need.product.name for need in shop_for_trial(topped).products}
    titles = [step.title for step in write_sheet(topped, tung.pk).steps]
    assert "Mask all but 'nothing on top' and 'hard topcoat'" in titles
    assert "Mask all but 'hard topcoat'" in titles
    assert "Glasswing Hard Topcoat, coat 1 of 1" in titles


def test_what_a_started_trial_put_on_its_sections_stands_whatever_becomes_of_the_shelf(
    owner: Person, topped: Trial
) -> None:
    draw_design(owner, topped.pk, seed=2)
    start(owner, topped.pk)
    topped.refresh_from_db()
    assert check_record(topped) == "intact"
    product = sections_of(topped)[1].layers[0].product
    change_item(owner, PRODUCTS, product.id or 0, {**TOPCOAT, "label": {"cure_d": 50}})
    assert sections_of(topped)[1].layers[0].product.label.cure_d == 5
    with pytest.raises(ConflictError, match="can no longer change"):
        set_sections(
            owner, topped.pk, [{"name": "nothing on top"}, {"name": "waxed", "layers": [{"family": "wax"}]}]
        )
    Trial.objects.filter(pk=topped.pk).update(section_recipes={})
    assert check_record(Trial.objects.get(pk=topped.pk)) == "broken"


def test_renamed_under_design_a_section_keeps_what_it_carries(owner: Person, topped: Trial) -> None:
    update_trial(owner, topped.pk, sections=["nothing on top", "topped", "one coat"])
    topped.refresh_from_db()
    assert set(topped.section_recipes) == {"topped", "one coat"}
    update_trial(owner, topped.pk, sections=["nothing on top", "one coat"])
    topped.refresh_from_db()
    assert topped.section_recipes == {"one coat": {"coats": 1, "layers": []}}


def test_other_recipes_leave_the_lots_other_names_do_not(owner: Person, topped: Trial) -> None:
    draw_design(owner, topped.pk, seed=2)
    drawn = Trial.objects.get(pk=topped.pk).fingerprint
    again = [{"name": name} for name in topped.sections]
    set_sections(owner, topped.pk, again)
    assert Trial.objects.get(pk=topped.pk).fingerprint == drawn
    set_sections(owner, topped.pk, [*again, {"name": "more", "coats": 2}])
    assert Trial.objects.get(pk=topped.pk).fingerprint == ""


def test_a_section_that_will_not_hold_is_refused_with_the_lots(owner: Person, draft: Trial) -> None:
    update_trial(owner, draft.pk, panel_length_mm=600, panel_width_mm=260)
    row = TrialBuildUp.objects.get(trial=draft, name="Marrowby Tung")
    waxy: dict[str, Any] = {"preparation": {}, "layers": [{"family": "wax"}]}
    change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=waxy)
    set_sections(
        owner,
        draft.pk,
        [{"name": "as it is"}, {"name": "filmed", "layers": [{"family": "waterborne-clear"}]}],
    )
    draft.refresh_from_db()
    assert view_sections(draft)[1].on[0].is_blocked
    with pytest.raises(BlockedCombinationError, match="'filmed' on Marrowby Tung") as caught:
        draw_design(owner, draft.pk, seed=2)
    assert caught.value.field == "sections"
    # Declared as an experiment on the build-up, it may.
    change_build_up(
        owner, draft.pk, row.pk, name=row.name, recipe={**waxy, "experiment_reason": "To see it fail."}
    )
    draw_design(owner, draft.pk, seed=2)


def test_with_and_without_the_last_wax_by_one_press(owner: Person, draft: Trial) -> None:
    row = TrialBuildUp.objects.get(trial=draft, name="Marrowby Tung")
    wax = add_item(owner, PRODUCTS, {"name": "Bellwether Soft Wax", "family": "wax"})
    recipe = {
        "preparation": {},
        "layers": [{"family": "pure-drying-oil", "coats": 2}],
        "final": "waxed",
        "final_product": wax.pk,
    }
    with pytest.raises(BuildUpError, match="has no last wax"):
        try_without_wax(owner, draft.pk, row.pk)
    change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=recipe)
    try_without_wax(owner, draft.pk, row.pk)
    draft.refresh_from_db()
    assert draft.sections == ["nothing on top", "waxed"]
    assert [layer.product.name for layer in sections_of(draft)[1].layers] == ["Bellwether Soft Wax"]
    row.refresh_from_db()
    assert row.version is not None
    assert row.version.recipe["final"] == "none"
    change_build_up(owner, draft.pk, row.pk, name=row.name, recipe=recipe)
    with pytest.raises(BuildUpError, match="sections already"):
        try_without_wax(owner, draft.pk, row.pk)


@pytest.mark.parametrize(
    ("wanted", "error", "says"),
    [
        ([{"name": "a"}, {"name": "A"}], DesignError, "one name"),
        ([{"name": "a"}, {"name": " "}], DesignError, "has no name"),
        ([{"name": "a"}, {"name": "b", "coats": 0}], BuildUpError, "0 coats"),
        ([{"name": "a"}, {"name": "b", "layers": [{"product": 999}]}], BuildUpError, "not on your shelf"),
        ([{"name": str(n)} for n in range(25)], DesignError, "24 is the most"),
    ],
)
def test_sections_that_cannot_be_are_refused_and_nothing_changes(
    owner: Person, topped: Trial, wanted: list[dict[str, Any]], error: type[Exception], says: str
) -> None:
    before = topped.sections, topped.section_recipes
    with pytest.raises(error, match=says):
        set_sections(owner, topped.pk, wanted)
    topped.refresh_from_db()
    assert (topped.sections, topped.section_recipes) == before
