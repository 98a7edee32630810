"""Drawn marks: a step is seen under the lamp that its words say, neighbours differ, and drills are balanced."""

from __future__ import annotations

from collections import Counter
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nublet.core.errors import ReadingsError
from nublet.core.protocols.responses import RESPONSES
from nublet.core.simulation.marks import DRAWN, draw_mark, plan_drill, seen_at, true_values

SQUARE_ON, GLANCING = 90.0, 10.0
JUST_SEEN = 0.05
SEEDS = st.integers(0, 2**31)


@given(SEEDS)
def test_a_grade_is_seen_under_the_lamp_that_its_words_say(seed: int) -> None:
    rng = np.random.default_rng(seed)
    five, four, three, two, one = (draw_mark("grade", grade, rng=rng) for grade in (5, 4, 3, 2, 1))
    assert five.shapes == ()
    # Only when the light glances.
    assert seen_at(four, SQUARE_ON) == pytest.approx(0, abs=1e-9)
    assert seen_at(four, GLANCING) > 2 * JUST_SEEN
    # From several directions, and each worse step more than the one before it.
    assert JUST_SEEN < seen_at(three, SQUARE_ON) < seen_at(two, SQUARE_ON) / 2
    assert not any(shape.height for shape in (*three.shapes, *two.shapes))
    assert max(shape.height for shape in one.shapes) >= 0.7


@given(SEEDS, st.sampled_from([each for each in DRAWN if RESPONSES[each].form == "kinds"]))
def test_each_kind_is_drawn_once_and_none_else(seed: int, response: str) -> None:
    rng = np.random.default_rng(seed)
    for value in true_values(response):
        picture = draw_mark(response, value, rng=rng)
        assert len(picture.shapes) == len(RESPONSES[response].kinds_in(value))
        assert all(
            seen_at(picture, lamp) > JUST_SEEN or lamp == SQUARE_ON for lamp in (GLANCING, SQUARE_ON) if value
        )


@pytest.mark.parametrize("response", [each for each in DRAWN if RESPONSES[each].form == "scale"])
def test_neighbouring_steps_look_different_under_some_lamp(response: str) -> None:
    def look(value: float) -> tuple[float, ...]:
        pictures = [draw_mark(response, value, rng=np.random.default_rng(seed)) for seed in range(12)]
        return (
            float(np.mean([seen_at(each, SQUARE_ON) for each in pictures])),
            float(np.mean([seen_at(each, GLANCING) for each in pictures])),
            float(np.mean([each.gloss for each in pictures])),
            float(np.mean([sum(shape.height for shape in each.shapes) for each in pictures])),
            # Where it lies matters too: a drop spreads, scratches begin.
            float(
                np.mean(
                    [
                        sum(shape.r * abs(shape.height or shape.gloss) for shape in each.shapes)
                        for each in pictures
                    ]
                )
            ),
        )

    for one, other in pairwise(true_values(response)):
        assert max(abs(a - b) for a, b in zip(look(one), look(other), strict=True)) > 0.03, (one, other)


def test_what_cannot_be_drawn_says_so() -> None:
    for response in ("smell", "preferred", "went-on", "gloss-60", "nothing"):
        with pytest.raises(ReadingsError, match="cannot be drawn"):
            draw_mark(response, 1, rng=np.random.default_rng(1))
    with pytest.raises(ReadingsError, match="not on the scale"):
        draw_mark("grade", 6, rng=np.random.default_rng(1))
    drawn_or_not = {each for each, response in RESPONSES.items() if response.form in ("scale", "kinds")}
    # What is judged by the nose, by the arms, by taste, or by more than a surface.
    assert drawn_or_not - set(DRAWN) == {"smell", "went-on", "looks", "sticks", "wants-coat"}


def test_the_same_seed_draws_the_same_and_places_stay_on_the_picture() -> None:
    for response in DRAWN:
        for value in true_values(response):
            one, other = (draw_mark(response, value, rng=np.random.default_rng(4)) for _ in range(2))
            assert one == other
            for shape in one.shapes:
                assert 0 <= shape.x <= 1
                assert 0 <= shape.y <= 0.625
                assert -1 <= shape.colour <= 1


@given(SEEDS, st.sampled_from(DRAWN), st.integers(5, 60))
def test_a_drill_is_balanced_and_shows_none_twice_in_a_row(seed: int, response: str, n_marks: int) -> None:
    marks = plan_drill(response, n_marks, rng=np.random.default_rng(seed))
    assert len(marks) == n_marks
    numbers = [number for _, number in marks]
    assert all(a != b for a, b in pairwise(numbers))
    assert set(Counter(numbers).values()) == {1, 2}
    assert sum(n == 2 for n in Counter(numbers).values()) == max(1, n_marks // 5)
    # The same number is the same mark, and no value is drawn much oftener than another.
    assert len({(value, number) for value, number in marks}) == len(set(numbers))
    by_value = Counter(value for value, number in {(value, number) for value, number in marks})
    assert max(by_value.values()) - min(by_value.values()) <= 1


def test_a_drill_of_no_or_endless_marks_is_refused() -> None:
    for n_marks in (4, 61):
        with pytest.raises(ReadingsError, match="5 to 60 marks"):
            plan_drill("grade", n_marks, rng=np.random.default_rng(1))
