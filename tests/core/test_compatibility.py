"""Each case is a sentence that a finisher would agree with."""

from __future__ import annotations

import itertools
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.errors import BlockedCombinationError
from nublet.core.materials.compatibility import (
    RULES,
    Setting,
    find_conflicts,
    is_undeclared_block,
    refuse_undeclared,
)
from nublet.core.materials.pair_rules import PAIR_RULES
from nublet.core.materials.products import Label, unnamed_product
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.species import SPECIES
from tests.core.finishes import (
    BOARD_OIL,
    CATALYSED,
    CONDITIONER,
    HARDOIL,
    HARDWAX,
    LACQUER,
    POLY,
    SATIN,
    SHELLAC,
    STAIN,
    TOPCOAT,
    TUNG,
    VARNISH,
    WASH,
    WAX,
    WAX_CUTTER,
    WAXED_SHELLAC,
    layer,
    prepared,
    recipe,
)

NOWHERE = Setting()


def wood(*names: str) -> Setting:
    return Setting(species=[SPECIES[name] for name in names])


def use(*demands: str) -> Setting:
    return Setting(demands=frozenset(demands))


# The sentence, the recipe, where it is used, the rule, its severity, and the place.
CASES: list[tuple[str, Recipe, Setting, str, str, str]] = [
    ("nothing holds on wax but wax", recipe(WAX, TUNG), NOWHERE, "over-wax", "block", "layers.1"),
    ("a film does not hold on wax", recipe(WAX, POLY), NOWHERE, "over-wax", "block", "layers.1"),
    ("dewaxed shellac does not hold on wax either", recipe(WAX, SHELLAC), NOWHERE, "over-wax", "block", "layers.1"),
    ("a reviver that dissolves wax may go over it", recipe(WAX, WAX_CUTTER), NOWHERE, "wax-dissolver", "note", "layers.1"),
    ("a hydrophobic topcoat sheds what follows", recipe(TOPCOAT, SATIN), NOWHERE, "over-hydrophobic", "block", "layers.1"),
    ("wax beads up on a hydrophobic topcoat", recipe(TOPCOAT, final="waxed", final_product=WAX), NOWHERE, "over-hydrophobic", "block", "final"),
    ("a hard topcoat needs something that sets beneath", recipe(BOARD_OIL, TOPCOAT), NOWHERE, "hydrophobic-over-oil-wet", "block", "layers.1"),
    ("a hard topcoat seals in an oil that has not cured", recipe(TUNG, layer(TOPCOAT, wait_before_h=24)), NOWHERE, "hydrophobic-over-uncured", "block", "layers.1"),
    ("waxed shellac under a varnish flakes", recipe(WAXED_SHELLAC, POLY), NOWHERE, "waxed-shellac-under-film", "block", "layers.1"),
    ("waxed shellac repels oil", recipe(WAXED_SHELLAC, TUNG), NOWHERE, "waxed-shellac-under-oil", "warn", "layers.1"),
    ("a varnish over a non-drying oil never holds", recipe(BOARD_OIL, POLY), NOWHERE, "film-over-never-setting", "block", "layers.1"),
    ("a waterborne clear over board oil never holds", recipe(BOARD_OIL, SATIN), NOWHERE, "film-over-never-setting", "block", "layers.1"),
    ("tung over board oil dries slowly", recipe(BOARD_OIL, TUNG), NOWHERE, "oil-over-never-setting", "warn", "layers.1"),
    ("waterborne over wet tung wrinkles", recipe(TUNG, layer(SATIN, wait_before_h=24)), NOWHERE, "water-over-wet-oil", "block", "layers.1"),
    ("lacquer over wet tung wrinkles", recipe(TUNG, layer(LACQUER, wait_before_h=48)), NOWHERE, "water-over-wet-oil", "block", "layers.1"),
    ("waterborne over cured tung needs care", recipe(TUNG, SATIN), NOWHERE, "water-over-oil", "warn", "layers.1"),
    ("lacquer over cured tung needs care", recipe(TUNG, LACQUER), NOWHERE, "water-over-oil", "warn", "layers.1"),
    ("waterborne holds poorly on hardwax", recipe(HARDOIL, SATIN), NOWHERE, "film-over-2k-oil", "warn", "layers.1"),
    ("varnish holds poorly on hardwax", recipe(HARDWAX, POLY), NOWHERE, "film-over-hardwax", "warn", "layers.1"),
    ("shellac seals wet oil in", recipe(TUNG, layer(SHELLAC, wait_before_h=24)), NOWHERE, "shellac-over-wet-oil", "warn", "layers.1"),
    ("varnish wrinkles over oil that is still wet", recipe(TUNG, layer(POLY, wait_before_h=2)), NOWHERE, "varnish-over-wet-oil", "warn", "layers.1"),
    ("dewaxed shellac bridges to any film", recipe(SHELLAC, SATIN), NOWHERE, "dewaxed-bridge", "note", "layers.1"),
    ("oil cannot soak in through a varnish", recipe(POLY, TUNG), NOWHERE, "oil-over-film", "warn", "layers.1"),
    ("oil cannot soak in through shellac", recipe(SHELLAC, TUNG), NOWHERE, "oil-over-film", "warn", "layers.1"),
    ("stain does not reach wood through a film", recipe(POLY, STAIN), NOWHERE, "stain-over-film", "block", "layers.1"),
    ("stain takes unevenly on oiled wood", recipe(TUNG, STAIN), NOWHERE, "stain-over-oil", "warn", "layers.1"),
    ("a conditioner does nothing over a finish", recipe(POLY, CONDITIONER), NOWHERE, "conditioner-over-finish", "warn", "layers.1"),
    ("stain takes room from an oil above it", recipe(STAIN, TUNG), NOWHERE, "stain-under-oil", "note", "layers.1"),
    ("a film drags stain that is not dry", recipe(STAIN, layer(SATIN, wait_before_h=1)), NOWHERE, "spirit-stain-dragged", "warn", "layers.1"),
    ("a conditioned wood drinks less oil", recipe(CONDITIONER, TUNG), NOWHERE, "conditioner-under-oil", "note", "layers.1"),
    ("lacquer can lift a cured varnish", recipe(POLY, LACQUER), NOWHERE, "strong-over-varnish", "warn", "layers.1"),
    ("lacquer wrinkles a young varnish", recipe(POLY, layer(LACQUER, wait_before_h=24)), NOWHERE, "strong-over-wet-varnish", "block", "layers.1"),
    ("a catalysed film tears lacquer from the wood", recipe(LACQUER, CATALYSED), NOWHERE, "catalysed-over-soft", "block", "layers.1"),
    ("a catalysed film may wrinkle shellac", recipe(SHELLAC, CATALYSED), NOWHERE, "catalysed-over-dewaxed", "warn", "layers.1"),
    ("shellac melts into shellac", recipe(SHELLAC, WAXED_SHELLAC), NOWHERE, "shellac-melts-in", "note", "layers.1"),
    ("lacquer bites into shellac", recipe(SHELLAC, LACQUER), NOWHERE, "lacquer-over-shellac", "note", "layers.1"),
    ("tung over tung too early stays soft", recipe(TUNG, layer(VARNISH, wait_before_h=2)), NOWHERE, "too-early", "warn", "layers.1"),
    ("varnish over varnish too early wrinkles", recipe(POLY, layer(POLY, wait_before_h=2)), NOWHERE, "film-too-early", "warn", "layers.1"),
    ("a varnish past its window needs sanding", recipe(POLY, layer(POLY, wait_before_h=200)), NOWHERE, "window-closed", "warn", "layers.1"),
    ("oil over set oil is taken up less", recipe(TUNG, layer(TUNG, wait_before_h=200)), NOWHERE, "penetrating-window-closed", "note", "layers.1"),
    ("hardwax without hardener must wait weeks", recipe(layer(HARDOIL, hardener=False), layer(VARNISH, wait_before_h=100)), NOWHERE, "no-hardener-beneath", "warn", "layers.1"),
    ("wax on wet varnish goes cloudy", recipe(POLY, layer(WAX, wait_before_h=1)), NOWHERE, "wax-over-wet", "warn", "layers.1"),
    ("alcohol softens a young waterborne film", recipe(SATIN, layer(SHELLAC, wait_before_h=24)), NOWHERE, "alcohol-over-young-waterborne", "note", "layers.1"),
    ("80 to 180 leaves scratches", prepared(TUNG, grits=(80, 180)), NOWHERE, "grit-skipped", "warn", "preparation"),
    ("grits go from coarse to fine", prepared(TUNG, grits=(120, 80)), NOWHERE, "grit-backward", "warn", "preparation"),
    ("a hardoil does not soak into polished wood", prepared(HARDOIL, grits=(80, 120, 180)), NOWHERE, "grit-too-fine", "warn", "preparation"),
    ("end grain should be finer than the face", prepared(TUNG, grits=(120, 180), end_grain_grit=120), NOWHERE, "end-grain-rough", "note", "preparation"),
    ("scratches across the grain show", prepared(TUNG, sanding="across"), NOWHERE, "sanded-across", "warn", "preparation"),
    ("sawn wood drinks more", prepared(TUNG, start="sawn", grits=()), NOWHERE, "not-sanded-sawn", "note", "preparation"),
    ("dust is sealed in", prepared(TUNG, cleaning="none"), NOWHERE, "not-cleaned", "warn", "preparation"),
    ("a damp cloth raises the grain", prepared(TUNG, cleaning="damp"), NOWHERE, "damp-cleaned", "note", "preparation"),
    ("waterborne raises the grain of dry wood", prepared(SATIN), NOWHERE, "grain-raised", "note", "layers.0"),
    ("loose char carries a film off", prepared(POLY, charring="deep"), NOWHERE, "charred-film", "warn", "layers.0"),
    ("unbrushed char rubs off", prepared(TUNG, charring="light"), NOWHERE, "charred-loose", "note", "preparation"),
    ("recoated long after its window it does not bond", recipe(layer(HARDOIL, 2, wait_between_h=200)), NOWHERE, "own-recoat-wait", "warn", "layers.0"),
    ("over-thinned varnish forms no film", recipe(layer(replace(POLY, label=Label(thin_up_to_pct=10)), thinned_pct=50)), NOWHERE, "thinned-too-far", "warn", "layers.0"),
    ("thinner may eat the hardener", recipe(layer(HARDOIL, thinned_pct=10)), NOWHERE, "two-part-thinned", "warn", "layers.0"),
    ("five coats of a two-coat oil crack sooner", recipe(layer(HARDOIL, 5)), NOWHERE, "many-coats", "note", "layers.0"),
    ("wood takes only so much oil", recipe(layer(TUNG, 8)), NOWHERE, "thick-penetrating", "warn", "layers.0"),
    ("hardwax without hardener cures slowly", recipe(layer(HARDOIL, hardener=False)), NOWHERE, "no-hardener", "note", "layers.0"),
    ("a catalysed film needs its catalyst", recipe(layer(CATALYSED, hardener=False)), NOWHERE, "catalysed-no-hardener", "block", "layers.0"),
    ("steel wool rusts under a waterborne film", recipe(layer(SATIN, 2, abrade_between="fine steel wool")), NOWHERE, "steel-wool", "warn", "layers.0"),
    ("steel wool blackens oak", recipe(layer(TUNG, 2, abrade_between="Steel wool")), wood("white-oak"), "steel-wool", "warn", "layers.0"),
    ("sprayed oil must still be wiped", recipe(layer(TUNG, applicator="spray")), NOWHERE, "wiped-film-sprayed", "note", "layers.0"),
    ("sprayed hardener is breathed in", recipe(layer(CATALYSED, applicator="spray")), NOWHERE, "spray-two-part", "warn", "layers.0"),
    ("varnish cannot be burnished in", recipe(layer(POLY, applicator="burnished")), NOWHERE, "burnished-film", "warn", "layers.0"),
    ("a hydrophobic skin is one coat", recipe(layer(TOPCOAT, 3)), NOWHERE, "topcoat-many-coats", "note", "layers.0"),
    ("stain alone does not protect", recipe(STAIN), NOWHERE, "stain-alone", "warn", "layers.0"),
    ("a wash leaves nothing behind", recipe(WASH), NOWHERE, "wash-alone", "warn", "layers.0"),
    ("a wash spoils what lies beneath", recipe(TUNG, WASH), NOWHERE, "wash-over-finish", "block", "layers.1"),
    ("a conditioner alone is weak", recipe(CONDITIONER), NOWHERE, "conditioner-alone", "warn", "layers.0"),
    ("until even makes coats a result", recipe(layer(TUNG, stop_rule="even-sheen")), NOWHERE, "even-sheen", "note", "layers.0"),
    ("one coated face cups", recipe(TUNG, faces="one"), NOWHERE, "one-face", "note", "layers.0"),
    ("matting an oil takes off its top", recipe(TUNG, final="matted"), NOWHERE, "matted-oil", "note", "layers.0"),
    ("a last wax is what the tests meet", recipe(POLY, final="waxed", final_product=WAX), NOWHERE, "final-wax-hides", "note", "final"),
    ("a coloured finish patches badly", recipe(replace(TUNG, tint="walnut")), NOWHERE, "coloured-repair", "note", "layers.0"),
    ("stain goes blotchy on pine", recipe(STAIN, POLY), wood("pine"), "blotching", "note", "layers.0"),
    ("teak's own oil weakens the grip", recipe(POLY), wood("teak"), "oily-wood", "warn", "layers.0"),
    ("water draws tannin out of oak", recipe(SATIN), wood("white-oak"), "tannin-waterborne", "note", "layers.0"),
    ("board oil washes out", recipe(BOARD_OIL), use("wet-washing"), "washing-non-drying", "note", "layers.0"),
    ("spilt drink dissolves shellac", recipe(SHELLAC), use("alcohol"), "alcohol-shellac", "warn", "layers.0"),
    ("hot plates print wax", recipe(TUNG, WAX), use("heat"), "heat-soft", "warn", "layers.1"),
    ("films peel outdoors", recipe(POLY), use("outdoor"), "outdoor-film", "warn", "layers.0"),
    ("shellac turns white in rain", recipe(SHELLAC), use("outdoor"), "outdoor-shellac", "block", "layers.0"),
    ("no ingredient list, no food", recipe(VARNISH), use("food"), "food-undisclosed", "warn", "layers.0"),
    ("the label says not for food", recipe(replace(TUNG, food_contact="not-for-food")), use("food"), "food-not-meant", "block", "layers.0"),
    ("cured is accepted of what says so", recipe(TUNG), Setting(demands=frozenset({"food"}), food_schools=frozenset({"cured-accepted"})), "food-unstated", "warn", "layers.0"),
    ("hardener on skin", recipe(HARDOIL), use("skin"), "skin-two-part", "note", "layers.0"),
    ("board oil comes off on hands", recipe(BOARD_OIL), use("skin"), "skin-greasy", "note", "layers.0"),
    ("wax does not stop scratches", recipe(TUNG, WAX), use("scratch"), "scratch-wax", "note", "layers.1"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("made", "setting", "rule", "severity", "place"),
    [case[1:] for case in CASES],
    ids=[case[0] for case in CASES],
)
def test_what_a_finisher_would_say(
    made: Recipe, setting: Setting, rule: str, severity: str, place: str
) -> None:
    found = {(f.rule, f.place): f for f in find_conflicts(made, setting)}
    assert (rule, place) in found, sorted(found)
    finding = found[rule, place]
    assert finding.severity == severity
    assert "{" not in finding.reason + finding.remedy
    assert finding.reason.endswith(".")
    assert finding.remedy


SOUND: list[tuple[str, Recipe, Setting]] = [
    ("wax over cured oil", recipe(TUNG, WAX), NOWHERE),
    ("wax over wax", recipe(WAX, WAX), NOWHERE),
    ("dewaxed shellac under waterborne", prepared(SHELLAC, SATIN, water_popped=True), NOWHERE),
    ("dewaxed shellac over cured tung, then waterborne", recipe(TUNG, SHELLAC, SATIN), NOWHERE),
    ("a film over wax that was sanded away", recipe(WAX, layer(POLY, to_wood=True)), NOWHERE),
    ("oil over varnish sanded to wood", recipe(POLY, layer(TUNG, to_wood=True)), NOWHERE),
    ("varnish on varnish within its window", recipe(POLY, layer(POLY, wait_before_h=24)), NOWHERE),
    ("varnish past its window, sanded", recipe(POLY, layer(POLY, wait_before_h=400, sanded_before=True)), NOWHERE),
    ("a topcoat on a cured film", recipe(POLY, TOPCOAT), NOWHERE),
    ("a grit sequence of 80, 120, 180", prepared(TUNG, grits=(80, 120, 180)), NOWHERE),
    ("shellac on teak", recipe(SHELLAC), wood("teak")),
    ("varnish on teak wiped with solvent", prepared(POLY, cleaning="solvent"), wood("teak")),
    ("tung where wet washing is asked", recipe(TUNG), use("wet-washing")),
    ("a disclosed oil for food", recipe(TUNG), use("food")),
    ("varnish over shellac for a bar", recipe(SHELLAC, POLY), use("alcohol")),
]  # fmt: skip


@pytest.mark.parametrize(("made", "setting"), [case[1:] for case in SOUND], ids=[case[0] for case in SOUND])
def test_what_is_sound_is_neither_blocked_nor_warned_of(made: Recipe, setting: Setting) -> None:
    assert [f for f in find_conflicts(made, setting) if f.severity != "note"] == []


def test_order_matters() -> None:
    """Wax over oil is a finish, oil over wax is a mistake; so for every pair that is blocked in one order."""
    assert not [f for f in find_conflicts(recipe(TUNG, WAX)) if f.severity == "block"]
    assert [f.rule for f in find_conflicts(recipe(WAX, TUNG)) if f.severity == "block"] == ["over-wax"]
    families = ("wax", "pure-drying-oil", "non-drying-oil", "oil-varnish", "waterborne-clear", "stain")
    asymmetric = 0
    for one, other in itertools.combinations(map(unnamed_product, families), 2):
        ways = [{f.rule for f in find_conflicts(made)} for made in (recipe(one, other), recipe(other, one))]
        asymmetric += ways[0] != ways[1]
    assert asymmetric == 15


def test_every_rule_is_met_by_a_case() -> None:
    met = {case[3] for case in CASES}
    assert {rule.id for rule in PAIR_RULES} - met == set()
    # Dense woods above 800 kg/m³ do not ship; a shop adds its own.
    assert {rule.id for rule in RULES} - met == {"dense-wood"}
    heavy = Setting(species=[replace(SPECIES["teak"], density_kg_m3=950)])
    assert "dense-wood" in {f.rule for f in find_conflicts(recipe(TUNG), heavy)}


def test_rule_names_are_unique() -> None:
    names = [rule.id for rule in PAIR_RULES] + [rule.id for rule in RULES]
    assert len(names) == len(set(names))


def test_a_block_is_refused_unless_it_is_declared() -> None:
    with pytest.raises(BlockedCombinationError, match="declare it as an experiment") as refused:
        refuse_undeclared(recipe(WAX, TUNG))
    assert refused.value.field == "layers.1"
    assert is_undeclared_block(recipe(WAX, TUNG))
    assert not is_undeclared_block(recipe(TUNG, WAX))
    declared = recipe(WAX, TUNG, experiment_reason="To show the railway what happens")
    assert not is_undeclared_block(declared)
    assert [f.rule for f in refuse_undeclared(declared) if f.severity == "block"] == ["over-wax"]


PRODUCTS = st.sampled_from(
    [HARDOIL, TUNG, VARNISH, SATIN, SHELLAC, BOARD_OIL, WAX, TOPCOAT, WAXED_SHELLAC, LACQUER, POLY, STAIN, HARDWAX]
)  # fmt: skip
LAYERS = st.builds(
    layer,
    PRODUCTS,
    st.integers(1, 4),
    wait_before_h=st.none() | st.floats(0, 1000),
    sanded_before=st.booleans(),
)


@given(st.lists(LAYERS, min_size=1, max_size=6))
def test_findings_are_sorted_and_stand_somewhere(layers: list[object]) -> None:
    made = recipe(*layers)  # type: ignore[arg-type]
    found = find_conflicts(made)
    order = ["block", "warn", "note"]
    ranks = [order.index(f.severity) for f in found]
    assert ranks == sorted(ranks)
    places = {"preparation", "final", *(f"layers.{n}" for n in range(len(layers)))}
    assert {f.place for f in found} <= places


@given(st.lists(LAYERS, min_size=1, max_size=5), LAYERS)
def test_what_is_put_on_top_never_mends_what_is_wrong_beneath(layers: list[object], top: object) -> None:
    def blocked(*made: object) -> set[tuple[str, str]]:
        pairs = find_conflicts(recipe(*made))  # type: ignore[arg-type]
        return {(f.rule, f.place) for f in pairs if f.severity == "block"}

    assert blocked(*layers) <= blocked(*layers, top)
