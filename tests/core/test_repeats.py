"""Blind repeats: how many, stable, and never next to the first time."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nublet.core.bench.repeats import SHARE, TINY, chosen_again, is_swapped, woven

CODES = [f"K{number}" for number in range(40)]


def test_about_one_in_ten_comes_again_and_another_judge_has_others() -> None:
    mine = chosen_again(CODES, secret="s", judge=1, look="24h")
    assert len(mine) == round(SHARE * len(CODES))
    assert mine == chosen_again(reversed(CODES), secret="s", judge=1, look="24h")
    others = [chosen_again(CODES, secret="s", judge=judge, look="24h") for judge in range(2, 8)]
    assert len({mine, *others}) == 7
    assert chosen_again(CODES, secret="t", judge=1, look="24h") != mine


def test_none_comes_again_in_a_tiny_trial() -> None:
    assert chosen_again(CODES[: TINY - 1], secret="s", judge=1, look="24h") == frozenset()


def test_over_many_trials_every_site_is_as_likely() -> None:
    n = 2000
    counts = dict.fromkeys(CODES, 0)
    for trial in range(n):
        for code in chosen_again(CODES, secret=f"s{trial}", judge=1, look="24h"):
            counts[code] += 1
    # Each is drawn with p = 0.1: five standard deviations are 67.
    assert all(abs(count - 0.1 * n) < 67 for count in counts.values())


@given(st.integers(1, 40), st.sets(st.sampled_from(CODES)), st.text(max_size=5))
def test_one_that_comes_again_comes_after_others(n: int, again: set[str], secret: str) -> None:
    order = CODES[:n]
    found = woven(order, again, secret=secret, judge=3, look="lifted")
    assert [code for code, turn in found if turn == 0] == order
    assert {code for code, turn in found if turn} <= again
    for place, (code, turn) in enumerate(found):
        if turn:
            assert place - found.index((code, 0)) >= 2
    # Where there are enough others after it, it does come again.
    for code in again & set(order[: max(0, n - 2)]):
        assert (code, 1) in found


def test_half_of_the_pairs_are_shown_the_other_way_round() -> None:
    pairs = [(a, b) for a in CODES for b in CODES if a < b]
    swapped = sum(is_swapped(pair, secret="s", judge=1) for pair in pairs)
    # 780 pairs: five standard deviations are 70.
    assert abs(swapped - len(pairs) / 2) < 70
    assert [is_swapped(p, secret="s", judge=1) for p in pairs] != [
        is_swapped(p, secret="s", judge=2) for p in pairs
    ]
