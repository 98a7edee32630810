"""Complete blocks: properties over many made-up specs."""

from __future__ import annotations

from collections import Counter

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nublet.core.design.blocks import Board, Design, allocate_panels, shuffle_read_order
from nublet.core.design.codes import CODE_DIGITS, CODE_LETTERS, draw_codes
from nublet.core.design.layout import PanelSize
from nublet.core.errors import DesignError
from nublet.core.protocols.exposures import TABLE_BASICS
from tests.core.builders import exposure

SIZE = PanelSize(length_mm=400, width_mm=150)


def boards(n: int, species: str = "beech") -> list[Board]:
    return [Board(id=f"{species} {i}", species=species) for i in range(1, n + 1)]


def systems(n: int) -> list[str]:
    return [f"system {i}" for i in range(n)]


@settings(max_examples=60, deadline=None)
@given(n_systems=st.integers(2, 12), n_boards=st.integers(1, 8), seed=st.integers(0, 2**40))
def test_every_board_carries_every_system_once(n_systems: int, n_boards: int, seed: int) -> None:
    design = allocate_panels(
        systems(n_systems), boards(n_boards), TABLE_BASICS.exposures, size=SIZE, seed=seed
    )
    assert Counter((p.board, p.build_up) for p in design.panels) == {
        (board.id, system): 1 for board in boards(n_boards) for system in systems(n_systems)
    }
    for board in boards(n_boards):
        of_board = [p for p in design.panels if p.board == board.id]
        assert [p.position for p in of_board] == list(range(1, n_systems + 1))
    codes = [p.code for p in design.panels]
    assert len(set(codes)) == len(codes)
    assert all(
        {spot.exposure for spot in p.spots} == {e.id for e in TABLE_BASICS.exposures} for p in design.panels
    )


def test_same_seed_same_design_and_another_seed_another() -> None:
    def make(seed: int) -> Design:
        return allocate_panels(systems(7), boards(4), TABLE_BASICS.exposures, size=SIZE, seed=seed)

    assert make(7) == make(7)
    assert make(7).fingerprint != make(8).fingerprint
    assert [p.build_up for p in make(7).panels] != [p.build_up for p in make(8).panels]


def test_a_changed_protocol_leaves_the_lots_alone() -> None:
    full = allocate_panels(systems(5), boards(3), TABLE_BASICS.exposures, size=SIZE, seed=3)
    short = allocate_panels(systems(5), boards(3), TABLE_BASICS.exposures[:2], size=SIZE, seed=3)
    assert [(p.code, p.build_up) for p in full.panels] == [(p.code, p.build_up) for p in short.panels]


def test_the_place_on_the_board_favours_no_system() -> None:
    """Over 600 seeds each system stands first about equally often (chi-squared, 4 df, 99.9 % point)."""
    first = Counter(
        allocate_panels(systems(5), boards(1), [exposure("water")], size=SIZE, seed=seed).panels[0].build_up
        for seed in range(600)
    )
    expected = 600 / 5
    assert sum((first[s] - expected) ** 2 / expected for s in systems(5)) < 18.5


def test_codes_say_nothing_about_the_system() -> None:
    """The rank of a panel's code is uncorrelated with its system over 1,000 seeds."""
    total = np.zeros(4)
    for seed in range(1000):
        design = allocate_panels(systems(4), boards(2), [exposure("water")], size=SIZE, seed=seed)
        rank = {code: i for i, code in enumerate(sorted(p.code for p in design.panels))}
        for panel in design.panels:
            total[systems(4).index(panel.build_up)] += rank[panel.code]
    # Mean rank is 3.5; its standard error over 2,000 panels is 2.29 / sqrt(2000) = 0.05.
    assert np.abs(total / 2000 - 3.5).max() < 0.2


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
    mine = shuffle_read_order(codes, seed=5, judge=1, look="24h")
    assert mine == shuffle_read_order(list(reversed(codes)), seed=5, judge=1, look="24h")
    assert sorted(mine) == sorted(codes)
    others = [
        shuffle_read_order(codes, seed=5, judge=2, look="24h"),
        shuffle_read_order(codes, seed=5, judge=1, look="lifted"),
        shuffle_read_order(codes, seed=6, judge=1, look="24h"),
    ]
    assert all(other != mine for other in others)


@pytest.mark.parametrize(
    ("n_systems", "the_boards", "exposures", "field", "says"),
    [
        (3, [], TABLE_BASICS.exposures, "boards", "no boards"),
        (1, boards(2), TABLE_BASICS.exposures, "build_ups", "at least two"),
        (3, boards(2), [], "protocol", "no exposures"),
        (3, boards(1) * 2, TABLE_BASICS.exposures, "boards", "listed twice"),
        (400, boards(3), [exposure("water")], "boards", "1200 panels"),
    ],
)
def test_impossible_designs_are_refused_with_the_reason(
    n_systems: int, the_boards: list[Board], exposures: tuple[object, ...], field: str, says: str
) -> None:
    with pytest.raises(DesignError, match=says) as refused:
        allocate_panels(systems(n_systems), the_boards, exposures, size=SIZE, seed=1)  # type: ignore[arg-type]
    assert refused.value.field == field
