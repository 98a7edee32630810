"""The bench as it is booked: free hands, shared heat blocks, clean-up, and what must not meet."""

from __future__ import annotations

import copy
from dataclasses import replace
from datetime import UTC, datetime
from itertools import pairwise
from typing import Any

import pytest

from nublet.core.planning.bench import Bench
from nublet.core.planning.bookings import Bookings, PersonBench
from nublet.core.planning.calendar import sittings_of
from nublet.core.planning.chains import Block, Chain, Placed, gives_off_gas_with, ignites_with
from nublet.core.planning.construct import Work, first_plan, split_work
from nublet.core.planning.search import begin_search, first_rules
from nublet.formats.schedule_json import plan_spec_from_plain
from tests.core.test_planning import changed

HOUR_S = 3600


def test_free_hands_are_found_in_gaps_and_never_across_a_break() -> None:
    hands = PersonBench(spans=[(0, 100), (200, 300)])
    hands.book(10, 40)
    hands.book(60, 90)
    assert hands.next_free(0, 10) == 0
    assert hands.next_free(0, 20) == 40
    assert hands.next_free(0, 21) == 200
    assert hands.next_free(95, 5) == 95
    assert hands.next_free(95, 6) == 200
    assert hands.next_free(0, 101) is None
    hands.free(10)
    assert hands.next_free(0, 60) == 0


@pytest.mark.parametrize("microsecond", [0, 1, 499_999, 500_000, 500_001, 999_999])
def test_sittings_end_at_midnight_whatever_the_fraction_of_a_second_at_which_a_plan_starts(
    microsecond: int,
) -> None:
    start = datetime(2027, 3, 1, 9, 30, 17, microsecond, tzinfo=UTC)
    sittings = sittings_of([(0, 3 * 86_400)], start)
    assert len(sittings) == 4
    assert sittings[0][1] in (52_182, 52_183)
    assert all(before[1] == after[0] for before, after in pairwise(sittings))


def test_another_product_waits_for_the_clean_up_on_both_sides() -> None:
    hands = PersonBench(spans=[(0, 1000)], coats=[(100, 200, "oil")])
    assert hands.clean_after(230, 300, "varnish", 30) is None
    assert hands.clean_after(229, 300, "varnish", 30) == 230
    assert hands.clean_after(0, 70, "varnish", 30) is None
    assert hands.clean_after(0, 71, "varnish", 30) == 230
    assert hands.clean_after(200, 300, "oil", 30) is None


def test_shared_things_are_had_up_to_their_number_and_no_further() -> None:
    blocks = Bookings()
    blocks.add(0, 100, 1)
    blocks.add(50, 150, 1)
    assert blocks.room_after(0, 200, takes=1, capacity=3) is None
    # Both are taken from 50 to 100; one is free before and after.
    assert blocks.room_after(0, 50, takes=1, capacity=2) is None
    assert blocks.room_after(60, 90, takes=1, capacity=2) == 100
    assert blocks.room_after(100, 150, takes=1, capacity=2) is None
    # What only touches does not overlap.
    assert blocks.clear_after(150, 160) is None
    assert blocks.clear_after(140, 160) == 150
    blocks.remove(50, 150, 1)
    assert blocks.room_after(60, 90, takes=1, capacity=2) is None


def test_a_long_booking_is_seen_from_far_behind_its_start() -> None:
    bookings = Bookings()
    bookings.add(0, 10_000)
    for begins in range(100, 1000, 100):
        bookings.add(begins, begins + 1)
    assert bookings.overlapping(5000, 5001) == [(0, 10_000, 1)]


def test_what_is_unbooked_leaves_the_bench_as_it_was() -> None:
    plain = changed("groups.0.exposures.0.id", "bleach-1h") | {"rack_places": 8, "people": 2}
    spec = plan_spec_from_plain(plain)
    work = split_work(spec)
    bench = Bench(spec, 30 * 24 * HOUR_S)
    before = copy.deepcopy((bench.people, bench.spans))
    coat = work.chains[0]
    bleach = next(chain for chain in work.chains if "bleach" in chain.hazards)
    for chain in (coat, bleach):
        at = bench.place(chain, 0)
        assert at is not None
        bench.book(chain, at)
        assert bench.place(chain, 0) != at, "two passes stand in one place"
        assert (sum(bench.in_sitting["bleach"].values()) > 0) is (chain is bleach)
        bench.unbook(chain, at)
        assert bench.place(chain, 0) == at
    assert (bench.people, bench.spans) == before
    assert sum(bench.in_sitting["bleach"].values()) == 0
    stores = [bench.heat, bench.rack, *bench.lots, *bench.air.values(), *bench.lying.values()]
    assert [store.intervals for store in stores] == [[]] * len(stores)


def test_a_start_that_cannot_be_followed_up_jumps_to_the_next_that_can() -> None:
    """A coat that must be wiped 3 to 4 h later cannot begin where the wiping would fall after hours."""
    plain = changed("groups.0.steps.0.wipe", {"after_min": [180, 240], "minutes_per_panel": 1})
    plain["groups"][0]["panels"] = 1
    spec = plan_spec_from_plain(plain)
    chain = split_work(spec).chains[0]
    bench = Bench(spec, 30 * 24 * HOUR_S)
    late = bench.place(chain, 5 * HOUR_S + 1800)
    assert late is not None
    # From 14:30 on it is too late on Monday: the first day on which it can be followed up is Tuesday, at 9:00.
    assert late[0] == Placed(24 * HOUR_S, 0)
    early = bench.place(chain, 5 * HOUR_S)
    assert early is not None
    assert (early[0].start_s, early[1].start_s) == (5 * HOUR_S, 5 * HOUR_S + 90 + 3 * HOUR_S)


@pytest.mark.parametrize(
    ("hazards", "air", "gas"),
    [
        ({"hot"}, {"solvent", "flammable"}, set()),
        ({"flammable"}, {"hot"}, set()),
        ({"solvent"}, {"hot"}, set()),
        ({"bleach"}, set(), {"acid", "ammonia"}),
        ({"acid"}, set(), {"bleach"}),
        ({"ammonia"}, set(), {"bleach"}),
        (set(), set(), set()),
    ],
)
def test_what_must_not_meet_is_mutual(hazards: set[str], air: set[str], gas: set[str]) -> None:
    assert ignites_with(frozenset(hazards)) == air  # type: ignore[arg-type]
    assert gives_off_gas_with(frozenset(hazards)) == gas  # type: ignore[arg-type]
    for foe in air:
        assert hazards <= ignites_with(frozenset({foe}))  # type: ignore[arg-type]
    for foe in gas:
        assert hazards <= gives_off_gas_with(frozenset({foe}))  # type: ignore[arg-type]


def _hour(**more: Any) -> Block:
    return Block(kind="look", item="coffee-1h", panels=(0,), unit_s=HOUR_S, pace_s=HOUR_S, **more)


def test_an_order_that_takes_the_room_of_what_has_a_last_moment_is_no_plan_and_ends_no_search() -> None:
    """One pair of hands: the second piece of work fits into the wait that is wanted, and not after the least wait."""
    spec = plan_spec_from_plain(changed("groups.0.panels", 1))
    waits = Chain(
        number=0, lot=0, rank=0, blocks=(_hour(), _hour(parent=0, wait_s=HOUR_S, nominal_s=3 * HOUR_S))
    )
    must = Chain(number=1, lot=0, rank=1, blocks=(_hour(),), not_after_s=HOUR_S)
    work = Work(spec=spec, chains=[waits, must])
    rule = first_rules()[0]
    made = first_plan(work, rule)
    assert made is not None
    assert [at.start_s for number in (0, 1) for at in made[1][number]] == [0, 3 * HOUR_S, HOUR_S]
    assert first_plan(work, rule, is_close=True) is None
    search = begin_search([work], clock=lambda: 0.0, until=1.0)
    assert search.kept[0].end_s == 4 * HOUR_S
    both_now = [replace(waits, not_after_s=0), replace(must, not_after_s=0)]
    with pytest.raises(RuntimeError, match="no room"):
        begin_search([Work(spec=spec, chains=both_now)], clock=lambda: 0.0, until=1.0)
