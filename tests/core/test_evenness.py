"""Coated until the sheen is even: what the log closes, what is judged and planned of the rest."""

from __future__ import annotations

import time
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.bench.evenness import EVEN_SAYS, as_it_goes, closed_steps, void_by
from nublet.core.bench.judging import judge
from nublet.core.bench.keys import DoneWork, WorkKey
from nublet.core.bench.replan import replan
from nublet.core.bench.standing import StandingWork
from nublet.core.bench.taken import coats_taken, last_coat_at
from nublet.core.bench.windows import open_windows
from nublet.core.materials.families import FAMILIES
from nublet.core.materials.panel_coats import panel_coats
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Layer, Recipe
from nublet.core.materials.sections import SectionRecipe
from nublet.core.planning.plan import Plan
from nublet.core.planning.spec import PlanSpec
from nublet.core.planning.trial_work import TrialGroup, groups_of
from nublet.core.protocols.tests import Protocol
from nublet.formats.schedule_json import plan_spec_from_plain, plan_spec_to_plain
from tests.core.plan_specs import WEEK

HOUR, DAY = 3600.0, 86_400.0
# Three coats of oil until the sheen is even, and a wax on it.
PLAIN: dict[str, Any] = {
    "start": "2027-03-01T00:00",
    "hours": [{"days": WEEK, "from": "00:00", "to": "24:00"}],
    "people": 1,
    "heat_blocks": 1,
    "groups": [
        {
            "id": "A",
            "panels": 2,
            "steps": [
                {"id": "c1", "minutes_per_panel": 1, "recoat_after_h": [24, 72]},
                {
                    "id": "c2", "minutes_per_panel": 1, "recoat_after_h": [24, 72],
                    "abrade_minutes_per_panel": 1, "ends_when_even": ["c2", "c3"],
                },
                {
                    "id": "c3", "minutes_per_panel": 1, "recoat_after_h": [48, None],
                    "abrade_minutes_per_panel": 1, "ends_when_even": ["c3"],
                },
                {"id": "wax", "minutes_per_panel": 1},
            ],
            "cure_h": 168,
            "exposures": [
                {
                    "id": "wine", "lay_minutes_per_panel": 0.3, "duration_min": 60, "tolerance_min": 2,
                    "lift_minutes_per_panel": 0.5, "heat_block": False, "looks": [],
                }
            ],
        }
    ],
}  # fmt: skip


NO_TESTS = Protocol(id="none", version=1, name="None", says="", tests=(), looks=())


def spec() -> PlanSpec:
    return plan_spec_from_plain(PLAIN)


def done(panel: str, item: str, at_s: float, kind: Any = "coat") -> DoneWork:
    return DoneWork(group="A", panel=panel, item=item, kind=kind, start_s=at_s, end_s=at_s + 60)


def test_a_specification_keeps_what_ends_it() -> None:
    assert plan_spec_from_plain(plan_spec_to_plain(spec())) == spec()


def test_the_rest_of_the_layer_is_closed_but_not_what_was_put_on_all_the_same() -> None:
    even = [WorkKey("A-1", "c2", "coat")]
    assert closed_steps(spec(), even) == {("A", "A-1"): {"c2", "c3"}}
    assert closed_steps(spec(), even, [done("A-1", "c3", DAY), done("A-2", "c2", DAY)]) == {
        ("A", "A-1"): {"c2"}
    }
    assert closed_steps(spec(), [WorkKey("A-1", "c1", "coat")]) == {("A", "A-1"): set()}
    void = void_by(closed_steps(spec(), even))
    assert {("A-1", "c2", "abrade"), ("A-1", "c3", "wipe")} <= void
    assert not [each for each in void if each[0] == "A-2" or each[1] == "wax"]


def test_the_wait_for_the_next_layer_is_the_last_coats() -> None:
    group = spec().groups[0]
    closed = closed_steps(spec(), [WorkKey("A-1", "c2", "coat")])
    own = as_it_goes(group, "A-1", closed)
    assert [(step.id, step.recoat_from_h, step.recoat_to_h) for step in own.steps] == [
        ("c1", 48, None),
        ("wax", 0, None),
    ]
    assert as_it_goes(group, "A-2", closed) is group


def test_what_falls_away_is_no_window_and_no_deviation() -> None:
    works = [done("A-1", "c1", 0), done("A-2", "c1", 60)]
    closed = closed_steps(spec(), [WorkKey("A-1", "c2", "coat")])
    windows = {(each.panel, each.item): each.opens_s for each in open_windows(spec(), works, closed=closed)}
    assert windows == {("A-1", "wax"): 60 + 48 * HOUR, ("A-2", "c2"): 120 + 24 * HOUR}
    # Four days on the one lacks nothing, and the other's second coat is late.
    late = judge(spec(), works, now_s=4 * DAY, closed=closed)
    assert [(each.panel, each.item, each.kind) for each in late] == [("A-2", "c2", "late-recoat")]
    early = judge(spec(), [*works, done("A-1", "wax", 30 * HOUR)], closed=closed)
    assert [(each.panel, each.item, each.kind) for each in early] == [("A-1", "wax", "early-recoat")]


def test_what_is_left_is_planned_by_the_last_real_coat() -> None:
    works = [done("A-1", "c1", 0), done("A-2", "c1", 60)]
    closed = closed_steps(spec(), [WorkKey("A-1", "c2", "coat")])
    found = replan(spec(), works, round(30 * HOUR), clock=time.monotonic, limit_s=0.1, closed=closed)
    assert isinstance(found.plan, Plan)
    assert found.left_out == ()
    planned = {
        (operation.kind, operation.item, panel.panel): panel.start_s
        for operation in found.plan.operations
        for panel in operation.panels
    }
    own = {key[:2] for key in planned if key[2] == "A-1"}
    assert own == {("coat", "wax"), ("lay", "wine"), ("lift", "wine")}
    assert {("abrade", "c2"), ("coat", "c3")} <= {key[:2] for key in planned if key[2] == "A-2"}
    assert planned["coat", "wax", "A-1"] >= 60 + 48 * HOUR
    # Not sooner than it may be, and not as late as three coats would have made it.
    assert planned["coat", "wax", "A-1"] <= 60 + 49 * HOUR


def oil(**more: Any) -> Layer:
    return Layer(
        product=Product(name="Marrowby Tung", family=FAMILIES["pure-drying-oil"].id), coats=3, **more
    )


@pytest.mark.parametrize("stop_rule", ["coats", "even-sheen"])
def test_a_trials_coats_end_where_their_layer_does(stop_rule: Any) -> None:
    recipe = Recipe(layers=(oil(stop_rule=stop_rule), replace(oil(), coats=1)))
    group = TrialGroup(name="A", recipe=recipe, panels=("A-1",), face_m2=0.01, exposures={})
    (made,) = groups_of([group], NO_TESTS)
    ends = {step.id: step.ends_when_even for step in made.steps}
    counted: dict[str, tuple[str, ...]] = dict.fromkeys(["coat 1", "coat 2", "coat 3", "coat 4"], ())
    even = {**counted, "coat 2": ("coat 2", "coat 3"), "coat 3": ("coat 3",)}
    assert ends == (even if stop_rule == "even-sheen" else counted)


@given(
    base=st.integers(1, 4),
    fewer=st.integers(1, 4),
    own=st.integers(1, 3),
    rules=st.tuples(*[st.sampled_from(["coats", "even-sheen"])] * 2),
)
def test_coats_of_sections_end_with_their_own_layer_alone(
    base: int, fewer: int, own: int, rules: tuple[Any, Any]
) -> None:
    recipe = Recipe(layers=(replace(oil(stop_rule=rules[0]), coats=base),))
    top = replace(oil(stop_rule=rules[1]), coats=own)
    sections = (
        SectionRecipe(name="plain", coats=min(fewer, base)),
        SectionRecipe(name="top", layers=(top,)),
        SectionRecipe(name="other top", coats=min(fewer, base), layers=(top,)),
    )
    coats = {coat.id: coat for coat in panel_coats(recipe, sections)}
    group = TrialGroup(
        name="A", recipe=recipe, panels=("A-1",), face_m2=0.01, exposures={}, sections=sections
    )
    (made,) = groups_of([group], NO_TESTS)
    for step in made.steps:
        for each in step.ends_when_even:
            first, later = coats[step.id], coats[each]
            # What falls away lies on nothing but what it falls away with, on every section that it would have gone over.
            assert set(later.sections) <= set(first.sections)
            assert later.of.product == first.of.product
            assert later.coat >= first.coat > 1


def test_what_each_panel_took_is_told_layer_by_layer_once_it_is_known() -> None:
    recipe = Recipe(layers=(oil(stop_rule="even-sheen"), oil()))
    at = datetime(2027, 3, 1, 9, tzinfo=UTC)
    done = StandingWork(begun_at=at, ended_at=at)
    even = replace(done, skipped_because=EVEN_SAYS, is_even=True)
    given_up = replace(done, skipped_because="Dropped")
    stands = [
        *[("K7", f"coat {n}", done) for n in (1, 2, 4)], ("K7", "coat 3", even),
        *[("T2", f"coat {n}", done) for n in (1, 2, 3)],
        # Still under way, and one that lacks a coat for another reason.
        ("R4", "coat 1", done), ("R4", "coat 2", StandingWork(begun_at=at)),
        ("B9", "coat 1", done), ("B9", "coat 2", given_up), ("B9", "coat 3", done),
    ]  # fmt: skip
    (taken,) = coats_taken(panel_coats(recipe), stands)
    assert (taken.product, taken.most) == ("Marrowby Tung", 3)
    assert [(each.panel, each.n_coats, each.is_even) for each in taken.panels] == [
        ("K7", 2, True),
        ("T2", 3, False),
    ]
    assert coats_taken(panel_coats(Recipe(layers=(oil(),))), stands) == []


def test_the_last_coat_is_the_one_after_which_none_is_wanted() -> None:
    oil = Product(name="Oil", family="pure-drying-oil")
    film = Product(name="Film", family="waterborne-clear")
    coats = panel_coats(
        Recipe(layers=(Layer(product=oil, coats=2), Layer(product=film, coats=3, stop_rule="even-sheen")))
    )
    at = {coat.id: datetime(2027, 3, day, tzinfo=UTC) for day, coat in enumerate(coats, start=1)}
    ids = [coat.id for coat in coats]
    first = {name: at[name] for name in ids[:3]}
    assert last_coat_at(coats, {}, ()) is None
    assert last_coat_at(coats, first, ()) is None
    assert last_coat_at(coats, at, ()) == at[ids[-1]]
    # Even before the fourth: the third was the last, and the fifth falls away with it.
    assert last_coat_at(coats, first, [ids[3]]) == at[ids[2]]
    # Of another layer it says nothing.
    assert last_coat_at(coats, {ids[0]: at[ids[0]]}, [ids[1]]) is None
    assert last_coat_at((), {}, ()) is None
