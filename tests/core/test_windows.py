"""Which windows stand open, by what was done."""

from __future__ import annotations

import pytest

from nublet.core.bench.judging import judge, judge_mix
from nublet.core.bench.keys import VOID_WITHOUT, DoneWork
from nublet.core.bench.windows import Window, open_windows, wanted_s
from nublet.core.evidence.trial_checks import check_windows
from nublet.core.materials.panel_coats import panel_coats
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sheet import cautions_at
from nublet.core.planning.spec import PlanSpec
from nublet.formats.schedule_json import plan_spec_from_plain
from tests.core.finishes import SATIN, TUNG, WAX, layer

HOUR = 3600.0
SPEC = plan_spec_from_plain(
    {
        "start": "2027-03-01T09:00",
        "hours": [{"days": ["mon", "tue", "wed", "thu", "fri"], "from": "09:00", "to": "17:00"}],
        "groups": [
            {
                "id": "oil",
                "panels": ["K7", "T2"],
                "cure_h": 24,
                "steps": [
                    {
                        "id": "coat 1",
                        "minutes_per_panel": 2,
                        "wipe": {"after_min": [3, 15], "minutes_per_panel": 1},
                        "recoat_after_h": [24, 72],
                    },
                    {"id": "coat 2", "minutes_per_panel": 2},
                ],
                "exposures": [
                    {
                        "id": "wine-1h",
                        "lay_minutes_per_panel": 1,
                        "duration_min": 60,
                        "tolerance_min": 2,
                        "lift_minutes_per_panel": 1,
                        "looks": [{"after_min": 1440, "tolerance_min": 144, "minutes_per_panel": 1}],
                    }
                ],
            }
        ],
    }
)


def done(kind: str, item: str, start_s: float, end_s: float, panel: str = "K7") -> DoneWork:
    return DoneWork(group="oil", panel=panel, item=item, kind=kind, start_s=start_s, end_s=end_s)  # type: ignore[arg-type]


def windows(*works: DoneWork, spec: PlanSpec = SPEC) -> list[tuple[str, str, float, float | None, float]]:
    return [(w.kind, w.item, w.opens_s, w.closes_s, w.aim_s) for w in open_windows(spec, works)]


COATED = done("coat", "coat 1", 0, 120)
WIPED = done("wipe", "coat 1", 600, 660)
RECOATED = done("coat", "coat 2", 100_000, 100_120)
LAID = done("lay", "wine-1h", 200_000, 200_060)
LIFTED = done("lift", "wine-1h", 203_660, 203_700)


def test_nothing_is_open_before_anything_was_done() -> None:
    assert windows() == []


def test_a_wipe_off_counts_from_the_panels_own_coat() -> None:
    assert windows(COATED) == [("wipe", "coat 1", 120 + 180, 120 + 900, 120 + 180)]
    # Each panel has its own, and the one that closes first stands first.
    later = done("coat", "coat 1", 120, 240, panel="T2")
    found = open_windows(SPEC, [later, COATED])
    assert [(w.panel, w.opens_s) for w in found] == [("K7", 300), ("T2", 420)]


def test_a_recoat_counts_from_the_wiping() -> None:
    assert windows(COATED, WIPED) == [("coat", "coat 2", 660 + 24 * HOUR, 660 + 72 * HOUR, 660 + 24 * HOUR)]


def test_a_lift_is_wanted_at_its_time_and_a_look_at_its_own() -> None:
    assert windows(COATED, WIPED, RECOATED) == []
    assert windows(COATED, WIPED, RECOATED, LAID) == [
        ("lift", "wine-1h", 200_060 + 3480, 200_060 + 3720, 200_060 + 3600)
    ]
    (look,) = open_windows(SPEC, [COATED, WIPED, RECOATED, LAID, LIFTED])
    assert (look.kind, look.look_after_min) == ("look", 1440)
    assert (look.opens_s, look.closes_s) == (203_700 + 1296 * 60, 203_700 + 1584 * 60)
    seen = DoneWork(
        group="oil", panel="K7", item="wine-1h", kind="look", start_s=3e5, end_s=3e5, look_after_min=1440
    )
    assert open_windows(SPEC, [COATED, WIPED, RECOATED, LAID, LIFTED, seen]) == []


def test_a_look_is_wanted_when_the_plan_says_in_its_window_and_a_lift_at_its_time() -> None:
    def window(kind: str, closes_s: float | None = 900) -> Window:
        return Window(group="oil", panel="K7", item="x", kind=kind, opens_s=300, closes_s=closes_s, aim_s=600)  # type: ignore[arg-type]

    assert [wanted_s(window("look"), planned) for planned in (0, 450, 5000)] == [300, 450, 900]
    assert [wanted_s(window("coat", None), planned) for planned in (0, 5000)] == [300, 5000]
    assert [wanted_s(window("lift"), planned) for planned in (0, 5000)] == [600, 600]


def test_nothing_follows_from_what_was_given_up() -> None:
    assert set(VOID_WITHOUT["coat"]) == {"wipe", "weigh"}
    # Whatever is void without a lift is void without the lay before it.
    assert set(VOID_WITHOUT["lift"]) < set(VOID_WITHOUT["lay"])


def test_a_panel_that_counts_for_nothing_has_none() -> None:
    assert open_windows(SPEC, [COATED], left_out=[("oil", "K7")]) == []


@pytest.mark.parametrize("at_s", [299.0, 300.0, 301.0, 700.0, 1019.0, 1021.0, 1100.0])
def test_windows_and_judgement_agree_on_what_is_in_time(at_s: float) -> None:
    (window,) = open_windows(SPEC, [COATED])
    assert isinstance(window, Window)
    assert window.closes_s is not None
    in_time = window.opens_s - 0.5 <= at_s <= window.closes_s + 0.5
    assert (judge(SPEC, [COATED, done("wipe", "coat 1", at_s, at_s + 60)]) == []) == in_time


def test_a_mix_past_its_pot_life_is_told_with_by_how_much() -> None:
    assert judge_mix(239, 240) == []
    assert judge_mix(1e6, None) == []
    ((kind, says),) = judge_mix(255, 240)
    assert kind == "spent-mix"
    assert "15 min past its pot life" in says


def test_coats_are_counted_through_the_layers_and_name_no_product() -> None:
    recipe = Recipe(
        layers=(layer(TUNG, 2), layer(SATIN)), preparation=Preparation(), final="waxed", final_product=WAX
    )
    assert [(coat.id, coat.layer, coat.coat) for coat in panel_coats(recipe)] == [
        ("coat 1", 0, 1),
        ("coat 2", 0, 2),
        ("coat 3", 1, 1),
        ("coat 4", 2, 1),
    ]


def test_cautions_belong_to_their_moment() -> None:
    assert "oily-rags" in cautions_at(layer(TUNG), "wipe")
    assert "oily-rags" not in cautions_at(layer(TUNG), "coat")
    assert "spraying" in cautions_at(layer(SATIN, applicator="spray"), "coat")
    assert "spraying" not in cautions_at(layer(SATIN, applicator="spray"), "cure")


def test_the_evidence_tells_what_the_log_shows() -> None:
    assert check_windows([], n_logged=5, n_panels=5).level == "pass"
    unknown = check_windows([], n_logged=0, n_panels=5)
    assert (unknown.level, "Nobody wrote down" in unknown.says) == ("warn", True)
    many = check_windows([f"late {n}." for n in range(6)], n_logged=9, n_panels=9)
    assert many.level == "warn"
    assert many.says.endswith("late 3. And 2 more.")


def test_a_look_before_its_lift_shows_nothing() -> None:
    """Within the look's tolerance it was once no finding at all, and without a lift never."""
    lay = done("lay", "wine-1h", 100 * HOUR, 100 * HOUR + 60)
    look = DoneWork(
        group="oil", panel="K7", item="wine-1h", kind="look", start_s=100.5 * HOUR, end_s=100.5 * HOUR + 60,
        look_after_min=1440,
    )  # fmt: skip
    for works in ([lay, look], [lay, look, done("lift", "wine-1h", 101 * HOUR + 60, 101 * HOUR + 120)]):
        found = [f for f in judge(SPEC, works) if f.kind == "look-before-lift"]
        assert [(f.judgement, f.whole_panel, f.look_after_min) for f in found] == [("spoiled", False, 1440)]
        assert "before it was lifted" in found[0].says
