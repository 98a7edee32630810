"""Recipes of sections: what they carry is a recipe like any other, and a panel's coats are those of all its sections."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.errors import BuildUpError
from nublet.core.materials.assessment import assess_recipe
from nublet.core.materials.compatibility import Setting, find_conflicts
from nublet.core.materials.coverage import cost_per_m2, recipe_needs
from nublet.core.materials.hands_on import calendar_days, hands_on_minutes, hands_on_per_panel
from nublet.core.materials.mixes import Work
from nublet.core.materials.paces import PACES
from nublet.core.materials.panel_coats import coat_ml, cure_left_h, panel_coats, panel_minutes
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import Layer, Recipe, recipe_as_dict, recipe_from_dict
from nublet.core.materials.sections import (
    SectionRecipe,
    check_section_recipe,
    recipe_on_section,
    section_as_dict,
    section_from_dict,
    sections_on,
)
from nublet.core.materials.sheet import application_steps
from nublet.core.planning.spec import PanelGroup
from nublet.core.planning.trial_work import TrialGroup, groups_of
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from tests.core.finishes import HARDOIL, SATIN, SHELLAC, TUNG, WAX, layer

FACE_M2 = 0.06
NOTHING = SectionRecipe(name="nothing")
WAXED = SectionRecipe(name="waxed", layers=(layer(WAX, 1),))
FILMED = SectionRecipe(name="filmed", layers=(layer(SATIN, 2, wait_before_h=300),))
ONCE = SectionRecipe(name="one coat", coats=1)

layers = st.builds(
    Layer,
    product=st.sampled_from([HARDOIL, TUNG, SATIN, SHELLAC, WAX]),
    coats=st.integers(1, 3),
    wait_before_h=st.sampled_from([None, 0.0, 12.0, 48.0]),
    sanded_before=st.booleans(),
)
recipes = st.builds(
    Recipe, layers=st.lists(layers, min_size=1, max_size=3).map(tuple), faces=st.sampled_from(["both", "one"])
)
sections_of_a_panel = st.lists(
    st.builds(
        SectionRecipe,
        name=st.just("s"),
        coats=st.none() | st.integers(1, 4),
        layers=st.lists(layers, max_size=2).map(tuple),
    ),
    min_size=1,
    max_size=4,
)


def group(recipe: Recipe, *sections: SectionRecipe) -> PanelGroup:
    panels = TrialGroup(
        name="A", recipe=recipe, panels=("K7",), face_m2=FACE_M2, exposures={}, sections=tuple(sections)
    )
    return groups_of([panels], TABLE_BASICS)[0]


@settings(max_examples=150, deadline=None)
@given(recipes, sections_of_a_panel)
def test_a_sections_recipe_and_the_same_recipe_on_a_panel_of_its_own_agree(
    base: Recipe, sections: list[SectionRecipe]
) -> None:
    coats = panel_coats(base, sections)
    done_h = [sum(coat.wait_h[0] for coat in coats[: number + 1]) for number in range(len(coats))]
    for number, section in enumerate(sections):
        whole = recipe_on_section(base, section)
        alone = panel_coats(whole)
        own = [(coat, at) for coat, at in zip(coats, done_h, strict=True) if number in coat.sections]
        # The same coats in the same order: layer, coat, how it is put on.
        assert [(c.of, c.coat, c.spread_coat) for c, _ in own] == [
            (c.of, c.coat, c.spread_coat) for c in alone
        ] or [(c.of.product, c.spread_coat) for c, _ in own] == [(c.of.product, c.spread_coat) for c in alone]
        # The same of each on a square metre.
        for (coat, _), same in zip(own, alone, strict=True):
            assert coat_ml(coat, 2.0) / (2.0 * coat.share) == pytest.approx(coat_ml(same, 2.0) / 2.0)
        assert sum(coat_ml(c, 1.0) / c.share for c, _ in own) == pytest.approx(
            sum(need.total_ml for need in recipe_needs(whole, 1.0, absorbency=1.0))
        )
        # Each wait at least as long, and cured no sooner.
        for (before, after), same in zip(pairwise(at for _, at in own), alone[1:], strict=True):
            assert after - before >= same.wait_h[0] - 1e-9
        cured_h = max(at + coat.cure_h for coat, at in own)
        assert done_h[-1] + cure_left_h(coats) >= cured_h - 1e-9


@settings(max_examples=60, deadline=None)
@given(recipes, sections_of_a_panel)
def test_where_all_sections_are_alike_the_panel_is_planned_as_that_recipe(
    base: Recipe, sections: list[SectionRecipe]
) -> None:
    section = sections[0]
    whole = recipe_on_section(base, section)
    for n in (1, 3):
        if section.layers and n > 1:
            # Layers of a section's own are put on section by section.
            continue
        planned = group(base, *[section] * n)
        assert planned.steps == group(whole).steps
        assert planned.cure_h == group(whole).cure_h
        assert panel_minutes(base, [section] * n, 0.6, 10) == pytest.approx(hands_on_minutes(whole, 0.6, 10))
    # What is asked of a recipe is asked of this one: findings, cost, days.
    same = Recipe(layers=whole.layers, faces=base.faces)
    work = Work(n_panels=4, face_m2=FACE_M2)
    assert assess_recipe(whole, work, Setting()) == assess_recipe(same, work, Setting())
    assert find_conflicts(whole, Setting()) == find_conflicts(same, Setting())
    assert cost_per_m2(whole, absorbency=1.0) == cost_per_m2(same, absorbency=1.0)
    assert calendar_days(whole) == calendar_days(same)


def test_coats_go_where_they_belong() -> None:
    coats = panel_coats(Recipe(layers=(layer(HARDOIL, 3),)), [NOTHING, WAXED, ONCE])
    assert [(coat.id, coat.sections, round(coat.share, 2)) for coat in coats] == [
        ("coat 1", (0, 1, 2), 1.0),
        ("coat 2", (0, 1), 0.67),
        ("coat 3", (0, 1), 0.67),
        ("coat 4", (1,), 0.33),
    ]
    assert [coat.wait_h for coat in coats] == [(0, None), (24, 72), (24, 72), (7 * 24, None)]
    # The first coat on all of it takes as much as without sections, the wax a third of what it takes on a panel.
    assert coat_ml(coats[0], 1.0) == pytest.approx(
        coat_ml(panel_coats(Recipe(layers=(layer(HARDOIL),)))[0], 1.0)
    )
    alone = panel_coats(Recipe(layers=(layer(HARDOIL, 3), layer(WAX))))[-1]
    assert coat_ml(coats[3], 1.0) == pytest.approx(coat_ml(alone, 1.0) / 3)


def test_the_section_that_is_ready_first_comes_first() -> None:
    coats = panel_coats(Recipe(layers=(layer(TUNG, 1),)), [WAXED, FILMED])
    # Wax waits 25 days for the oil's cure, the film 300 hours.
    assert [(coat.of.product.name, coat.sections) for coat in coats[1:]] == [
        (SATIN.name, (1,)), (SATIN.name, (1,)), (WAX.name, (0,)),
    ]  # fmt: skip
    assert coats[1].wait_h == (300, None)
    assert coats[2].wait_h == SATIN.recoat_h
    assert sum(coat.wait_h[0] for coat in coats) == pytest.approx(25 * 24)


def test_the_same_product_on_top_counts_as_its_later_coats() -> None:
    more = SectionRecipe(name="oiled again", layers=(layer(HARDOIL, 1, wait_before_h=48),))
    base = Recipe(layers=(layer(HARDOIL, 2),))
    *_, last = panel_coats(base, [NOTHING, more])
    assert last.spread_coat == 3


def test_what_does_not_go_over_everything_is_masked_and_the_tape_comes_off() -> None:
    steps = group(Recipe(layers=(layer(HARDOIL, 2),)), NOTHING, WAXED).steps
    assert [step.id for step in steps] == ["coat 1", "coat 2", "mask 3", "coat 3", "unmask 3"]
    by_id = {step.id: step for step in steps}
    # The week's cure is had before the tape goes on.
    assert by_id["coat 2"].recoat_from_h == 7 * 24
    assert (by_id["mask 3"].kind, by_id["mask 3"].recoat_from_h) == ("work", 0)
    assert by_id["coat 3"].minutes_per_panel < by_id["coat 1"].minutes_per_panel
    # A window that closes still closes: an hour of it is for the tape.
    fewer = {step.id: step for step in group(Recipe(layers=(layer(HARDOIL, 2),)), NOTHING, ONCE).steps}
    assert list(fewer) == ["coat 1", "mask 2", "coat 2", "unmask 2"]
    assert (fewer["coat 1"].recoat_from_h, fewer["coat 1"].recoat_to_h) == (24, 71)
    assert fewer["mask 2"].recoat_to_h == 1


def test_a_final_treatment_is_left_to_sections_without_layers_of_their_own() -> None:
    base = Recipe(layers=(layer(SHELLAC, 2),), final="waxed", final_product=WAX, preparation=Preparation())
    assert recipe_on_section(base, NOTHING) == base
    assert recipe_on_section(base, ONCE).final == "waxed"
    assert recipe_on_section(base, FILMED).final == "none"
    coats = panel_coats(base, [NOTHING, FILMED])
    assert [(coat.of.product.name, coat.sections) for coat in coats if coat.of.product == WAX] == [
        (WAX.name, (0,))
    ]


def test_a_section_that_clashes_says_so() -> None:
    base = Recipe(layers=(layer(WAX, 1),))
    found = find_conflicts(recipe_on_section(base, FILMED), Setting())
    assert any(finding.severity == "block" and finding.place == "layers.1" for finding in found)
    assert not [each for each in find_conflicts(base, Setting()) if each.severity == "block"]


def test_a_section_goes_out_and_comes_back() -> None:
    section = SectionRecipe(name="topped", coats=2, layers=(Layer(product=layer(WAX).product, coats=1),))
    plain = section_as_dict(section)
    products = {} if section.layers[0].product.id is None else {section.layers[0].product.id: WAX}
    assert section_from_dict(plain, products).coats == 2
    assert section_from_dict({"name": "left bare"}, {}).is_plain


@pytest.mark.parametrize(
    ("plain", "says"),
    [
        ({"name": "s", "coats": 0}, "0 coats of the build-up cannot be"),
        ({"name": "s", "coats": 2.5}, "no number of coats"),
        ({"name": "s", "coat": 2}, "A section has no 'coat'"),
        ({"name": "s", "layers": [{"product": 77}]}, "not on your shelf"),
        ({"name": "s", "layers": [{"family": "wax", "coats": 0}]}, "0 coats cannot be"),
    ],
)
def test_what_nobody_could_carry_out_is_refused(plain: dict[str, object], says: str) -> None:
    with pytest.raises(BuildUpError, match=says):
        section_from_dict(plain, {})


def test_too_many_layers_are_refused() -> None:
    with pytest.raises(BuildUpError, match="13 layers are too many"):
        check_section_recipe(SectionRecipe(name="s", layers=(layer(WAX),) * 13))


def test_coats_have_waits_and_notes_of_their_own() -> None:
    own = layer(HARDOIL, 3, wait_between_h=30, notes=("wheel, slow", "brush squeezed out"))
    coats = panel_coats(Recipe(layers=(own,)))
    assert [coat.wait_h for coat in coats] == [(0, None), (30, 72), (30, 72)]
    assert [coat.of.note_of(coat.coat) for coat in coats] == ["wheel, slow", "brush squeezed out", ""]
    # Past the label's window nothing closes it any more; the finding says what that risks.
    late = panel_coats(Recipe(layers=(layer(HARDOIL, 2, wait_between_h=200),)))
    assert late[1].wait_h == (200, None)
    steps = application_steps(Recipe(layers=(own,)), Work(n_panels=2, face_m2=FACE_M2))
    (wait, _) = [step for step in steps if step.title.startswith("Wait before coat")]
    assert (wait.window_h, wait.says) == ((30, 72), "This build-up's own wait, in place of the label's.")
    assert [step.says for step in steps if step.kind == "coat"][1].endswith("brush squeezed out.")
    plain = recipe_as_dict(Recipe(layers=(own,)))
    assert recipe_from_dict(plain, {1: HARDOIL}).layers[0] == own
    # What was written before there were any reads as before.
    for name in ("wait_between_h", "notes"):
        del plain["layers"][0][name]
    assert recipe_from_dict(plain, {1: HARDOIL}).layers[0].recoat_h == HARDOIL.recoat_h
    for wrong in ({"wait_between_h": -1}, {"notes": ["a", "b", "c", "d"]}, {"notes": ["x" * 201]}):
        with pytest.raises(BuildUpError):
            recipe_from_dict({"layers": [plain["layers"][0] | wrong]}, {1: HARDOIL})


def test_sections_take_hands_for_what_they_go_over_and_for_the_tape() -> None:
    base = Recipe(layers=(layer(TUNG, 2),))
    plain = panel_minutes(base, (), 1.0, 10)
    assert panel_minutes(base, (NOTHING, NOTHING), 1.0, 10) == plain
    half = 10 * hands_on_per_panel(layer(WAX, 1), 0.05)
    tape = 20 + 5 + 10 * 2 * 0.25
    wiping = 0.5 * PACES["wipe"].minutes_per_m2 if WAX.wipe_off_min is not None else 0
    assert panel_minutes(base, (NOTHING, WAXED), 1.0, 10) == pytest.approx(plain + half + tape + wiping)
    # Left out on this build-up, a section is the panel's and takes nothing.
    assert panel_minutes(base, sections_on((NOTHING, WAXED), ["waxed"]), 1.0, 10) == plain


def test_a_section_of_the_first_coats_keeps_what_is_said_of_these_alone() -> None:
    base = Recipe(layers=(layer(TUNG, 3, thinned_by_coat=(10.0, 0.0, 40.0), notes=("thin", "", "warm")),))
    own = recipe_on_section(base, ONCE).layers[0]
    assert (own.coats, own.thinned_by_coat, own.notes) == (1, (10.0,), ("thin",))
