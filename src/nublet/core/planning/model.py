"""Blocks that move, as a model of OR-tools' CP-SAT: what they may not do to each other and to what stands."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from ortools.sat.python import cp_model

from nublet.core.planning.bench import Bench
from nublet.core.planning.bookings import Bookings
from nublet.core.planning.calendar import DAY_S, Span, merge_spans, sitting_at
from nublet.core.planning.chains import (
    FOREVER,
    Block,
    Chain,
    Occupation,
    Placed,
    gives_off_gas_with,
    ignites_with,
)
from nublet.core.planning.construct import Placement, released_at


@dataclass
class Move:
    """A moving block: its start, and for each person who may do it whether they do."""

    chain: Chain
    number: int
    start: Any
    doers: dict[int, Any]
    interval: Any
    range_s: Span

    @property
    def block(self) -> Block:
        """The block that moves."""
        return self.chain.blocks[self.number]


class Model:
    """The model; ``is_sound`` is false when a block has no time at all, which ends the attempt."""

    def __init__(
        self,
        bench: Bench,
        chains: Sequence[Chain],
        moving: Sequence[int],
        placement: Placement,
        end_s: int,
        *,
        stays_in_sitting: bool,
    ) -> None:
        self.stays_in_sitting = stays_in_sitting
        self.bench, self.chains, self.placement, self.end_s = bench, chains, placement, end_s
        self.moving = list(moving)
        self.gaps: dict[tuple[int, int], list[Span]] = {}
        self.cp = cp_model.CpModel()
        self.moves: dict[tuple[int, int], Move] = {}
        self.is_sound = all(self._add_chain(chains[number]) for number in self.moving)
        if self.is_sound:
            self._add_releases()
            self._add_hands()
            self._add_occupations()
            self._add_bundles()

    def answer(self, solver: cp_model.CpSolver) -> Placement:
        """Where the moving chains now stand."""
        found: Placement = {}
        for number in self.moving:
            placed = []
            for block in range(len(self.chains[number].blocks)):
                move = self.moves[number, block]
                person = next(p for p, lit in move.doers.items() if lit is True or solver.boolean_value(lit))
                placed.append(Placed(solver.value(move.start), person))
            found[number] = placed
        return found

    def _add_chain(self, chain: Chain) -> bool:
        low = max(chain.not_before_s, released_at(chain, self._standing()))
        occupied = [o for o in chain.occupations if gives_off_gas_with(o.hazards)]
        for number, block in enumerate(chain.blocks):
            lowest = low if number == 0 else 0
            highest = chain.not_after_s if number == 0 else FOREVER
            if self.stays_in_sitting:
                at = self.placement[chain.number][number].start_s
                begins, ends = self.bench.sittings[sitting_at(self.bench.sittings, at)]
                lowest, highest = max(lowest, begins), min(highest, ends - 1)
            barred = [
                self.bench.sittings[sitting]
                for occupation in occupied
                if number in (occupation.first, occupation.last)
                for foe in gives_off_gas_with(occupation.hazards)
                for sitting, n in self.bench.in_sitting[foe].items()
                if n
            ]
            domains = {
                person: self._times(chain, block, person, lowest, highest, barred)
                for person in range(len(self.bench.people))
            }
            domains = {person: spans for person, spans in domains.items() if spans}
            if not domains:
                return False
            self._add_move(chain, number, domains)
        for number, block in enumerate(chain.blocks):
            if block.parent is not None:
                parent = self.moves[chain.number, block.parent].start
                start = self.moves[chain.number, number].start
                self.cp.add(start >= parent + block.wait_s)
                if block.latest_s < FOREVER:
                    self.cp.add(start <= parent + block.latest_s)
        return True

    def _add_move(self, chain: Chain, number: int, domains: dict[int, list[Span]]) -> None:
        block, at = chain.blocks[number], self.placement[chain.number][number]
        union = merge_spans((a, b + 1) for spans in domains.values() for a, b in spans)
        name = f"{chain.number}.{number}"
        start = self.cp.new_int_var_from_domain(_domain((a, b - 1) for a, b in union), name)
        self.cp.add_hint(start, at.start_s)
        doers: dict[int, Any] = {}
        if len(domains) == 1:
            doers = {next(iter(domains)): True}
        else:
            doers = {person: self.cp.new_bool_var(f"{name} by {person}") for person in domains}
            self.cp.add_exactly_one(doers.values())
            for person, lit in doers.items():
                self.cp.add_linear_expression_in_domain(start, _domain(domains[person])).only_enforce_if(lit)
                self.cp.add_hint(lit, person == at.person)
        interval = self.cp.new_fixed_size_interval_var(start, block.length_s, name)
        self.moves[chain.number, number] = Move(
            chain, number, start, doers, interval, (union[0][0], union[-1][1] + block.length_s)
        )

    def _times(
        self, chain: Chain, block: Block, person: int, low: int, high: int, barred: Sequence[Span]
    ) -> list[Span]:
        """Starts, as closed spans, at which a person could do a block if nothing else moved."""
        length = block.length_s
        high = min(high, self.end_s - length)
        gaps = self._gaps(person, chain.lot)
        extra = list(barred)
        if chain.bundle >= 0 and block is chain.blocks[0]:
            # Neither may it lie in another bundle's turn, nor reach into it.
            extra += list(self.bench.layings.others(chain))
        if block.product and self.bench.cleanup_s:
            away = self.bench.cleanup_s
            coats = self.bench.people[person].coats
            extra += [(a - away, b + away) for a, b, other in coats if other != block.product]
        if extra:
            gaps = _without(gaps, merge_spans(extra))
        return [
            (max(a, low), min(b - length, high))
            for a, b in gaps
            if b - a >= length and b > low and a <= high and max(a, low) <= min(b - length, high)
        ]

    def _gaps(self, person: int, group: int) -> list[Span]:
        """When a person is free and, where there are several, nobody has the group in hand."""
        key = (person, group if len(self.bench.people) > 1 else -1)
        if key not in self.gaps:
            hands = self.bench.people[person]
            taken = list(zip(hands.begins, hands.ends, strict=True))
            if key[1] >= 0:
                taken = merge_spans([*taken, *((a, b) for a, b, _ in self.bench.lots[group].intervals)])
            self.gaps[key] = _without(hands.spans, taken)
        return self.gaps[key]

    def _standing(self) -> Placement:
        moving = set(self.moving)
        return {
            number: placed if number not in moving else [Placed(-FOREVER, 0)] * len(placed)
            for number, placed in self.placement.items()
        }

    def _add_releases(self) -> None:
        moving = set(self.moving)
        for chain in self.chains:
            for release in chain.releases:
                if chain.number in moving and release.chain in moving:
                    self.cp.add(
                        self.moves[chain.number, 0].start
                        >= self.moves[release.chain, release.block].start + release.wait_s
                    )
                elif release.chain in moving:
                    begins = self.placement[chain.number][0].start_s
                    self.cp.add(self.moves[release.chain, release.block].start + release.wait_s <= begins)

    def _add_hands(self) -> None:
        moves = list(self.moves.values())
        for person in range(len(self.bench.people)):
            intervals = []
            for move in moves:
                lit = move.doers.get(person)
                if lit is True:
                    intervals.append(move.interval)
                elif lit is not None:
                    intervals.append(
                        self.cp.new_optional_fixed_size_interval_var(move.start, move.block.length_s, lit, "")
                    )
            self.cp.add_no_overlap(intervals)
        if len(self.bench.people) > 1:
            for group in {move.chain.lot for move in moves}:
                self.cp.add_no_overlap([move.interval for move in moves if move.chain.lot == group])
        if self.bench.cleanup_s:
            coats = [move for move in moves if move.block.product]
            for index, one in enumerate(coats):
                for other in coats[index + 1 :]:
                    if one.block.product != other.block.product:
                        self._clean_between(one, other)

    def _clean_between(self, one: Move, other: Move) -> None:
        gap = self.bench.cleanup_s
        for person in set(one.doers) & set(other.doers):
            same = [lit for lit in (one.doers[person], other.doers[person]) if lit is not True]
            first = self.cp.new_bool_var("")
            self.cp.add(one.start + one.block.length_s + gap <= other.start).only_enforce_if([first, *same])
            self.cp.add(other.start + other.block.length_s + gap <= one.start).only_enforce_if(
                [~first, *same]
            )

    def _add_bundles(self) -> None:
        """A bundle begins in one sitting of one pair of hands, and no other of its exposure begins meanwhile."""
        bundles: dict[tuple[str, int], list[Move]] = {}
        for number in self.moving:
            chain = self.chains[number]
            if chain.bundle >= 0:
                bundles.setdefault((chain.item, chain.bundle), []).append(self.moves[number, 0])
        turns: dict[str, list[Any]] = {}
        for (item, _), moves in bundles.items():
            moves.sort(key=lambda move: self.placement[move.chain.number][0].start_s)
            if len(moves) > 1:
                for one, other in pairwise(moves):
                    self.cp.add(one.start + one.block.length_s <= other.start)
                self._in_one_sitting(moves)
            elif len(self.bench.people) == 1:
                # One pair of hands lays nothing else meanwhile.
                continue
            size = self.cp.new_int_var(0, 2 * self.bench.horizon_s, "")
            end = moves[-1].start + moves[-1].block.length_s
            turns.setdefault(item, []).append(self.cp.new_interval_var(moves[0].start, size, end, ""))
            others = list(self.bench.layings.others(moves[0].chain))
            if len(moves) > 1 and others:
                self.cp.add_no_overlap([turns[item][-1], *(self._fixed(span) for span in others)])
        for item, own in turns.items():
            singles = (
                []
                if len(self.bench.people) > 1
                else [
                    moves[0].interval for (of, _), moves in bundles.items() if of == item and len(moves) == 1
                ]
            )
            self.cp.add_no_overlap([*own, *singles])

    def _in_one_sitting(self, moves: Sequence[Move]) -> None:
        """All begun by one person, in one span of that person's time."""
        low = max(move.range_s[0] for move in moves) - DAY_S
        high = min(move.range_s[1] for move in moves) + DAY_S
        sittings = [
            (person, *span)
            for person in sorted(set.intersection(*(set(move.doers) for move in moves)))
            for span in self.bench.sittings_of_person(person)
            if span[1] > low and span[0] < high
        ]
        if not sittings:
            self.is_sound = False
            return
        which = self.cp.new_int_var(0, len(sittings) - 1, "")
        at = [self.cp.new_int_var(0, self.bench.horizon_s, "") for _ in range(2)]
        for edge, variable in zip((1, 2), at, strict=True):
            self.cp.add_element(which, [sitting[edge] for sitting in sittings], variable)
        for move in moves:
            self.cp.add(move.start >= at[0])
            self.cp.add(move.start + move.block.length_s <= at[1])
            for person, lit in move.doers.items():
                own = [number for number, sitting in enumerate(sittings) if sitting[0] == person]
                domain = cp_model.Domain.from_values(own)
                if lit is True:
                    self.cp.add_linear_expression_in_domain(which, domain)
                elif own:
                    self.cp.add_linear_expression_in_domain(which, domain).only_enforce_if(lit)
                else:
                    self.cp.add(lit == 0)

    def _add_occupations(self) -> None:
        stretches = [
            (number, occupation, *self._stretch(self.chains[number], occupation))
            for number in self.moving
            for occupation in self.chains[number].occupations
        ]
        spec = self.bench.spec
        heat = [(o.heat_blocks, stretch, range_s) for _, o, stretch, range_s in stretches if o.heat_blocks]
        self._hold(heat, self.bench.heat, spec.heat_blocks)
        irons = [(o.irons, stretch, range_s) for _, o, stretch, range_s in stretches if o.irons]
        self._hold(irons, self.bench.irons, spec.irons)
        if spec.rack_places is not None:
            rack = [
                (o.rack_places, stretch, range_s) for _, o, stretch, range_s in stretches if o.rack_places
            ]
            self._hold(rack, self.bench.rack, spec.rack_places)
        standing = {
            foe: merge_spans((a, b) for a, b, _ in store.intervals)
            for stores in (self.bench.air, self.bench.lying)
            for foe, store in stores.items()
        }
        for number, occupation, stretch, range_s in stretches:
            for foe in ignites_with(occupation.hazards) | gives_off_gas_with(occupation.hazards):
                fixed = [span for span in standing[foe] if _meet(span, range_s)]
                if fixed:
                    self.cp.add_no_overlap([stretch, *(self._fixed(span) for span in fixed)])
                # Each pair once: the hot one and the bleach lead.
                if occupation.hazards & {"hot", "bleach"}:
                    for of, other, other_stretch, other_range in stretches:
                        # What a chain is by itself it need not be kept from.
                        if foe in other.hazards and of != number and _meet(range_s, other_range):
                            self.cp.add_no_overlap([stretch, other_stretch])

    def _stretch(self, chain: Chain, occupation: Occupation) -> tuple[Any, Span]:
        """What an occupation takes as an interval, and the range in which it can lie."""
        last = self.moves[chain.number, occupation.last]
        end = last.start + last.block.length_s + occupation.after_s
        first = None if occupation.first is None else self.moves[chain.number, occupation.first]
        begins = occupation.begins_s if first is None else first.start
        size = self.cp.new_int_var(0, 2 * self.bench.horizon_s, "")
        low = occupation.begins_s if first is None else first.range_s[0]
        return self.cp.new_interval_var(begins, size, end, ""), (low, last.range_s[1] + occupation.after_s)

    def _hold(self, wanted: Sequence[tuple[int, Any, Span]], booked: Bookings, capacity: int) -> None:
        if not wanted:
            return
        whole = min(span[0] for *_, span in wanted), max(span[1] for *_, span in wanted)
        fixed = [(takes, self._fixed((a, b))) for a, b, takes in booked.intervals if _meet((a, b), whole)]
        pairs = [*((takes, stretch) for takes, stretch, _ in wanted), *fixed]
        if capacity == 1:
            self.cp.add_no_overlap([interval for _, interval in pairs])
        else:
            self.cp.add_cumulative(
                [interval for _, interval in pairs], [takes for takes, _ in pairs], capacity
            )

    def _fixed(self, span: Span) -> Any:
        return self.cp.new_fixed_size_interval_var(span[0], span[1] - span[0], "")

    def sittings_that_stand(self) -> set[int]:
        """Numbers of the sittings in which something stands that does not move."""
        return {
            sitting_at(self.bench.sittings, begin) for person in self.bench.people for begin in person.begins
        }


def _meet(one: Span, other: Span) -> bool:
    return one[0] < other[1] and other[0] < one[1]


def _domain(spans: Iterable[Span]) -> cp_model.Domain:
    return cp_model.Domain.from_intervals([[a, b] for a, b in spans])


def _without(spans: Sequence[Span], taken: Sequence[Span]) -> list[Span]:
    """The spans less what is taken; both disjoint and in order."""
    left: list[Span] = []
    first = 0
    for begins, ends in spans:
        while first < len(taken) and taken[first][1] <= begins:
            first += 1
        number, at = first, begins
        while number < len(taken) and taken[number][0] < ends:
            if taken[number][0] > at:
                left.append((at, taken[number][0]))
            at = max(at, taken[number][1])
            number += 1
        if at < ends:
            left.append((at, ends))
    return left
