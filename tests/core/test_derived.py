"""What is worked out from readings: against published numbers, reductions, symmetries, and protocols that ship."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.errors import ReadingsError
from nublet.core.measuring.colour import delta_e00
from nublet.core.measuring.gloss import gloss_kept_pct
from nublet.core.protocols.derived import (
    DerivedValue,
    ReadValue,
    derive,
    derived_of,
    highest_step,
    share_preferred_pct,
    time_to_stage,
)
from nublet.core.protocols.shipped import PROTOCOLS, TESTS

# Sharma, G., Wu, W., Dalal, E. N. (2005), Color Research and Application 30, 21-30, table 1: all 34 pairs, in their order.
PUBLISHED = [
    ((50.0, 2.6772, -79.7751), (50.0, 0.0, -82.7485), 2.0425),
    ((50.0, 3.1571, -77.2803), (50.0, 0.0, -82.7485), 2.8615),
    ((50.0, 2.8361, -74.0200), (50.0, 0.0, -82.7485), 3.4412),
    ((50.0, -1.3802, -84.2814), (50.0, 0.0, -82.7485), 1.0000),
    ((50.0, -1.1848, -84.8006), (50.0, 0.0, -82.7485), 1.0000),
    ((50.0, -0.9009, -85.5211), (50.0, 0.0, -82.7485), 1.0000),
    ((50.0, 0.0, 0.0), (50.0, -1.0, 2.0), 2.3669),
    ((50.0, -1.0, 2.0), (50.0, 0.0, 0.0), 2.3669),
    ((50.0, 2.4900, -0.0010), (50.0, -2.4900, 0.0009), 7.1792),
    ((50.0, 2.4900, -0.0010), (50.0, -2.4900, 0.0010), 7.1792),
    ((50.0, 2.4900, -0.0010), (50.0, -2.4900, 0.0011), 7.2195),
    ((50.0, 2.4900, -0.0010), (50.0, -2.4900, 0.0012), 7.2195),
    ((50.0, -0.0010, 2.4900), (50.0, 0.0009, -2.4900), 4.8045),
    ((50.0, -0.0010, 2.4900), (50.0, 0.0010, -2.4900), 4.8045),
    ((50.0, -0.0010, 2.4900), (50.0, 0.0011, -2.4900), 4.7461),
    ((50.0, 2.5, 0.0), (50.0, 0.0, -2.5), 4.3065),
    ((50.0, 2.5, 0.0), (73.0, 25.0, -18.0), 27.1492),
    ((50.0, 2.5, 0.0), (61.0, -5.0, 29.0), 22.8977),
    ((50.0, 2.5, 0.0), (56.0, -27.0, -3.0), 31.9030),
    ((50.0, 2.5, 0.0), (58.0, 24.0, 15.0), 19.4535),
    ((50.0, 2.5, 0.0), (50.0, 3.1736, 0.5854), 1.0000),
    ((50.0, 2.5, 0.0), (50.0, 3.2972, 0.0), 1.0000),
    ((50.0, 2.5, 0.0), (50.0, 1.8634, 0.5757), 1.0000),
    ((50.0, 2.5, 0.0), (50.0, 3.2592, 0.3350), 1.0000),
    ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
    ((63.0109, -31.0961, -5.8663), (62.8187, -29.7946, -4.0864), 1.2630),
    ((61.2901, 3.7196, -5.3901), (61.4292, 2.2480, -4.9620), 1.8731),
    ((35.0831, -44.1164, 3.7933), (35.0232, -40.0716, 1.5901), 1.8645),
    ((22.7233, 20.0904, -46.6940), (23.0331, 14.9730, -42.5619), 2.0373),
    ((36.4612, 47.8580, 18.3852), (36.2715, 50.5065, 21.2231), 1.4146),
    ((90.8027, -2.0831, 1.4410), (91.1528, -1.6435, 0.0447), 1.4441),
    ((90.9257, -0.5406, -0.9208), (88.6381, -0.8985, -0.7239), 1.5381),
    ((6.7747, -0.2908, -2.4247), (5.8714, -0.0985, -2.2286), 0.6377),
    ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
]
LAB = st.tuples(st.floats(0, 100), st.floats(-60, 60), st.floats(-60, 60))


@pytest.mark.parametrize(("one", "other", "published"), PUBLISHED)
def test_the_colour_difference_is_the_published_one(
    one: tuple[float, float, float], other: tuple[float, float, float], published: float
) -> None:
    assert delta_e00(one, other) == pytest.approx(published, abs=5e-5)


@given(LAB, LAB)
def test_a_colour_difference_has_no_direction_and_is_none_from_itself(
    one: tuple[float, float, float], other: tuple[float, float, float]
) -> None:
    assert delta_e00(one, other) == pytest.approx(delta_e00(other, one), abs=1e-9)
    assert delta_e00(one, one) == pytest.approx(0, abs=1e-9)


def test_a_colour_is_held_against_its_boards_bare_wood_at_the_same_look() -> None:
    protocol = PROTOCOLS["colour-swatches"]
    test = next(test for test in protocol.tests if "colour" in test.responses)
    looks = [look.id for look in protocol.looks_of(test)]
    later = [look.id for look in protocol.looks_of(test) if not look.is_before]

    def colour(panel: str, look: str, lab: tuple[float, float, float]) -> list[ReadValue]:
        return [
            ReadValue(panel=panel, test=test.id, look=look, response=f"colour-{part}", value=value)
            for part, value in zip("lab", lab, strict=True)
        ]

    values = [
        *colour("K7", later[0], (60, 10, 30)),
        *colour("C4", later[0], (70, 8, 25)),
        *colour("C5", later[0], (72, 8, 25)),
    ]
    found = derive(values, protocol, bare={"K7": ["C4", "C5"]})
    (against,) = [each for each in found if each.response == "delta-e00-bare"]
    assert (against.panel, against.look) == ("K7", later[0])
    # Of two bare panels of a board the mean of their colours; of none, or at another look only, nothing.
    assert against.value == pytest.approx(delta_e00((71, 8, 25), (60, 10, 30)), abs=1e-3)
    assert not [each for each in derive(values, protocol) if each.response == "delta-e00-bare"]
    other = [*colour("K7", later[-1], (60, 10, 30)), *colour("C4", looks[0], (70, 8, 25))]
    assert not [
        each for each in derive(other, protocol, bare={"K7": ["C4"]}) if each.response == "delta-e00-bare"
    ]


def test_shares_of_gloss_and_of_choices() -> None:
    assert gloss_kept_pct(40, 30) == 75
    assert gloss_kept_pct(0, 3) is None
    assert share_preferred_pct([]) is None


def test_a_stage_lies_between_two_looks() -> None:
    assert time_to_stage([], 2).at_most is None
    assert (time_to_stage([(60, 4)], 2).at_least, time_to_stage([(60, 4)], 2).at_most) == (0, 60)
    # A drop that is tacky again: what was touched too hopefully does not count.
    again = time_to_stage([(60, 2), (120, 1), (240, 2)], 2)
    assert (again.at_least, again.at_most) == (120, 240)


@given(st.lists(st.sampled_from([True, False, None]), min_size=1, max_size=7))
def test_a_ladder_lies_between_its_ends(passed: list[bool | None]) -> None:
    found = highest_step(passed)
    assert 0 <= found.at_least <= found.at_most <= len(passed)
    if None not in passed and not found.is_contradicted:
        assert found.at_least == found.at_most == sum(each is True for each in passed)
    if found.at_most < len(passed):
        assert passed[found.at_most] is False
    # Knowing more never widens it.
    for step, each in enumerate(passed):
        if each is None:
            for known in (True, False):
                more = highest_step([*passed[:step], known, *passed[step + 1 :]])
                if not more.is_contradicted:
                    assert found.at_least <= more.at_least
                    assert more.at_most <= found.at_most


def rows(
    test: str, response: str, of_look: dict[str, float], panel: str = "K7", view: str = ""
) -> list[ReadValue]:
    return [
        ReadValue(panel=panel, test=test, look=look, response=response, value=value, view=view)
        for look, value in of_look.items()
    ]


def by_response(found: list[DerivedValue]) -> dict[str, list[DerivedValue]]:
    listed: dict[str, list[DerivedValue]] = {}
    for each in found:
        listed.setdefault(each.response, []).append(each)
    return listed


def test_colour_is_held_against_the_bare_wood() -> None:
    values = [
        *rows("colour", "colour-l", {"bare": 80, "cured": 70}),
        *rows("colour", "colour-a", {"bare": 5, "cured": 8}),
        *rows("colour", "colour-b", {"bare": 18, "cured": 26}),
    ]
    found = by_response(derive(values, PROTOCOLS["colour-swatches"]))
    assert {name: each[0].value for name, each in found.items()} == {
        "delta-e00": pytest.approx(delta_e00((80, 5, 18), (70, 8, 26)), abs=1e-3),
        "delta-l": -10,
        "delta-b": 8,
        "hue": pytest.approx(72.9, abs=0.01),
    }
    assert {each.look for rows_ in found.values() for each in rows_} == {"cured"}
    # Without the bare wood there is no difference, only a hue.
    assert set(
        by_response(derive([v for v in values if v.look != "bare"], PROTOCOLS["colour-swatches"]))
    ) == {"hue"}


def test_gloss_is_held_against_before_in_each_direction() -> None:
    values = [
        *rows("wear-strip", "gloss-60", {"before": 40, "at-once": 20}, view="along"),
        *rows("wear-strip", "gloss-60", {"before": 30, "at-once": 24}, view="across"),
    ]
    found = derive(values, PROTOCOLS["floor"])
    assert {each.view: each.value for each in found} == {"along": 50, "across": 80}


def test_uptake_at_an_hour_and_a_day() -> None:
    values = rows("uptake", "weight", {"before": 250.0, "wet-1h": 250.5, "wet-24h": 252.0})
    found = derive(values, PROTOCOLS["board-and-utensils"])
    assert {each.look: each.value for each in found} == {
        "wet-1h": pytest.approx(176.84, abs=0.01),
        "wet-24h": pytest.approx(707.36, abs=0.01),
    }


def test_drying_is_told_by_each_reader() -> None:
    values = rows("drying-film", "drying-stage", {"1h": 0, "2h": 1, "4h": 1, "8h": 2, "24h": 3})
    found = by_response(derive(values, PROTOCOLS["drying-on-glass"]))
    assert [(each.at_least, each.at_most) for each in found["minutes-to-touch-dry"]] == [(240, 480)]
    assert [(each.at_least, each.at_most) for each in found["minutes-to-hard"]] == [(480, 1440)]


def test_a_ladder_of_grades() -> None:
    grades = {"water-spot-1h": 5, "water-spot-6h": 4, "water-spot-16h": 2}
    values = [
        row for test, grade in grades.items() for row in rows(test, "grade", {"lifted": 1, "24h": grade})
    ]
    (found,) = derive(values, PROTOCOLS["table-full"])
    assert (found.test, found.value, found.at_least, found.at_most) == ("water", 2, 2, 2)
    (open_ended,) = derive(values[:4], PROTOCOLS["table-full"])
    assert (open_ended.value, open_ended.at_least, open_ended.at_most) == (None, 2, 3)


def test_what_can_be_worked_out_of_a_test() -> None:
    assert [each.id for each in derived_of(TESTS["colour"])] == [
        "delta-e00", "delta-e00-bare", "delta-l", "delta-b", "hue",
    ]  # fmt: skip
    assert [each.id for each in derived_of(TESTS["scratch"])] == ["gloss-60-retention"]
    assert [each.id for each in derived_of(TESTS["drying-drop"])] == [
        "minutes-to-touch-dry",
        "minutes-to-hard",
    ]
    assert derived_of(TESTS["coffee-1h"]) == ()


def test_a_value_of_another_protocol_is_refused() -> None:
    with pytest.raises(ReadingsError, match="has no test 'uptake'"):
        derive(rows("uptake", "weight", {"before": 1}), PROTOCOLS["floor"])
