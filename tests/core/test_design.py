"""Lots, codes and orders of a drawn design."""

from __future__ import annotations

import itertools
from collections import Counter
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.design.areas import PanelSize
from nublet.core.design.codes import (
    CODE_DIGITS,
    CODE_LETTERS,
    draw_codes,
    shuffle_read_order,
    stream_of_chance,
)
from nublet.core.design.trial_design import DesignSpec, draw_design, draw_one_panel
from nublet.core.errors import DesignError
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS
from tests.core.builders import exposure, unmeasured_boards

SIZE = PanelSize(length_mm=400, width_mm=150)


def a_spec(n_systems: int = 5, n_boards: int = 3, seed: int = 1) -> DesignSpec:
    return DesignSpec(
        build_ups=tuple(f"system {i}" for i in range(n_systems)),
        boards=unmeasured_boards(n_boards),
        exposures=TABLE_BASICS.tests,
        size=SIZE,
        seed=seed,
    )


@settings(max_examples=40, deadline=None)
@given(n_systems=st.integers(2, 12), n_boards=st.integers(1, 8), seed=st.integers(0, 2**40))
def test_every_board_carries_every_system_once(n_systems: int, n_boards: int, seed: int) -> None:
    spec = a_spec(n_systems, n_boards, seed)
    design = draw_design(spec)
    assert Counter((p.board, p.build_up) for p in design.panels) == {
        (board.id, system): 1 for board in spec.boards for system in spec.build_ups
    }
    for board in spec.boards:
        of_board = [p.position for p in design.panels if p.board == board.id]
        assert of_board == list(range(1, n_systems + 1))


def test_same_seed_same_design_and_another_seed_another() -> None:
    one, other = draw_design(a_spec(7, 4, seed=7)), draw_design(a_spec(7, 4, seed=8))
    assert one == draw_design(a_spec(7, 4, seed=7))
    assert one.fingerprint != other.fingerprint
    assert [p.build_up for p in one.panels] != [p.build_up for p in other.panels]


def test_a_changed_protocol_leaves_the_lots_alone() -> None:
    full = draw_design(a_spec())
    short = draw_design(replace(a_spec(), exposures=TABLE_BASICS.tests[:2], sections=("a", "b")))
    assert [(p.code, p.build_up) for p in full.panels] == [(p.code, p.build_up) for p in short.panels]


def test_the_place_on_the_board_favours_no_system() -> None:
    """Over 600 seeds each system stands first about equally often (chi-squared, 4 df, 99.9 % point)."""
    spec = replace(a_spec(n_boards=1), exposures=(exposure("water"),))
    first = Counter(draw_design(replace(spec, seed=seed)).panels[0].build_up for seed in range(600))
    assert sum((first[s] - 120) ** 2 / 120 for s in spec.build_ups) < 18.5


def test_codes_say_nothing_about_the_system() -> None:
    """The rank of a panel's code is uncorrelated with its system over 1,000 seeds."""
    spec = replace(a_spec(4, 2), exposures=(exposure("water"),))
    total = np.zeros(4)
    for seed in range(1000):
        design = draw_design(replace(spec, seed=seed))
        rank = {code: i for i, code in enumerate(sorted(p.code for p in design.panels))}
        assert len(rank) == 8
        for panel in design.panels:
            total[spec.build_ups.index(panel.build_up)] += rank[panel.code]
    # Mean rank is 3.5; its standard error over 2,000 panels is 2.29 / sqrt(2000) = 0.05.
    assert np.abs(total / 2000 - 3.5).max() < 0.2


def test_sections_stand_in_every_order() -> None:
    spec = replace(a_spec(6, 10), sections=("none", "waxed"), exposures=(exposure("water"),))
    first = Counter(panel.sections[0].name for panel in draw_design(spec).panels)
    assert 15 <= first["waxed"] <= 45


def test_hot_blocks_stand_together_at_one_end() -> None:
    for panel in draw_design(a_spec(10, 5)).panels:
        along = sorted(panel.spots, key=lambda spot: spot.x_mm)
        hot = [TABLE_BASICS.test(spot.exposure).is_hot for spot in along]
        assert sum(a != b for a, b in itertools.pairwise(hot)) == 1


def test_what_burns_is_kept_from_the_hot_blocks_where_it_can_be() -> None:
    roomy = replace(a_spec(8, 4), size=PanelSize(length_mm=500, width_mm=150))
    assert draw_design(roomy).beside_heat == ()
    tight = replace(
        a_spec(4, 2),
        exposures=(exposure("ethanol", agent="ethanol 48 %"), exposure("block", 100, "heat")),
        size=PanelSize(length_mm=190, width_mm=130),
    )
    assert len(draw_design(tight).beside_heat) == 8


def test_one_more_panel_carries_what_the_others_of_its_part_do() -> None:
    spec = replace(a_spec(), panels_each=2, sections=("none", "waxed"), exposures=TABLE_BASICS.tests[:4])
    other = next(panel for panel in draw_design(spec).panels if panel.part == 2)
    sections, spots = draw_one_panel(spec, 2, rng=np.random.default_rng(5))
    assert {s.exposure for s in spots} == {s.exposure for s in other.spots}
    assert {s.name for s in sections} == {"none", "waxed"}


@given(n=st.integers(1, 400), seed=st.integers(0, 2**32))
@settings(max_examples=30, deadline=None)
def test_codes_are_distinct_and_unambiguous(n: int, seed: int) -> None:
    codes = draw_codes(n, rng=np.random.default_rng(seed))
    assert len(set(codes)) == n
    assert set("".join(codes)) <= set(CODE_LETTERS + CODE_DIGITS)
    assert not set("".join(codes)) & set("0O1IL5S2Z8BUV")
    assert len(codes[0]) == (2 if n <= 85 else 3)


def test_each_judge_has_an_order_of_their_own_that_does_not_change() -> None:
    codes = draw_codes(40, rng=np.random.default_rng(1))
    mine = shuffle_read_order(codes, secret="a", judge=1, look="24h")
    assert mine == shuffle_read_order(list(reversed(codes)), secret="a", judge=1, look="24h")
    assert sorted(mine) == sorted(codes)
    others = [
        shuffle_read_order(codes, secret="a", judge=2, look="24h"),
        shuffle_read_order(codes, secret="a", judge=1, look="lifted"),
        shuffle_read_order(codes, secret="b", judge=1, look="24h"),
        shuffle_read_order(codes, secret="a", judge=1, look="24h", n_replaced=1),
    ]
    assert all(other != mine for other in others)


def test_a_secret_of_few_bits_is_found_from_the_order_and_one_of_many_is_not() -> None:
    """What a judge sees is the order; what he has is the source. The same search finds 12 bits and misses 256."""
    codes = draw_codes(40, rng=np.random.default_rng(1))
    tried = [str(number) for number in range(4096)]

    def search(seen: list[str]) -> list[str]:
        return [s for s in tried if shuffle_read_order(codes, secret=s, judge=7, look="24h") == seen]

    assert search(shuffle_read_order(codes, secret="1879", judge=7, look="24h")) == ["1879"]
    hidden = "9f2c" * 16
    assert search(shuffle_read_order(codes, secret=hidden, judge=7, look="24h")) == []


def test_a_stream_tells_nothing_of_another() -> None:
    """The places of spots can be seen, the lots cannot: their states come from the seed by a hash each."""
    states = {
        name: stream_of_chance(7, name).bit_generator.state["state"]["state"]
        for name in ("lots", "codes", "places", "orders")
    }
    assert len(set(states.values())) == 4
    naive = [np.random.default_rng(child) for child in np.random.SeedSequence(7).spawn(4)]
    assert not {rng.bit_generator.state["state"]["state"] for rng in naive} & set(states.values())
    assert stream_of_chance(2**255 + 1, "lots").random() != stream_of_chance(2**255, "lots").random()


def test_a_replacement_stands_anywhere_in_the_order() -> None:
    """Over many secrets the new code's place is even, and no nearer to the old one's than chance has it."""
    codes = draw_codes(30, rng=np.random.default_rng(2))
    new = "T4M"
    distances = []
    for number in range(400):
        secret = f"secret {number}"
        before = shuffle_read_order(codes, secret=secret, judge=1, look="24h")
        after = shuffle_read_order([*codes[1:], new], secret=secret, judge=1, look="24h", n_replaced=1)
        distances.append(abs(before.index(codes[0]) - after.index(new)))
    # Two even places among 30 lie (30² - 1) / 90 = 10 apart on average.
    assert 9 < np.mean(distances) < 11


def test_more_panels_than_anyone_can_keep_are_refused() -> None:
    with pytest.raises(DesignError, match="1200 panels") as refused:
        draw_design(a_spec(400, 3))
    assert refused.value.field == "boards"
