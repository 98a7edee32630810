"""The bench as it is booked: whose hands, which heat blocks and rack places, and what must not meet what.

:meth:`Bench.place` finds the earliest times at which a chain's blocks all fit; :meth:`Bench.book` takes them. The search is
exact for the chain at hand: a start that cannot be followed up in time jumps to the next that may.
"""

from __future__ import annotations

from bisect import insort
from collections.abc import Sequence
from itertools import pairwise

from nublet.core.planning.bookings import Bookings, PersonBench
from nublet.core.planning.calendar import Span, merge_spans, sitting_at, sittings_of, working_spans
from nublet.core.planning.chains import (
    FOREVER,
    Block,
    Chain,
    Occupation,
    Placed,
    gives_off_gas_with,
    ignites_with,
    least_starts,
)
from nublet.core.planning.layings import Layings
from nublet.core.planning.spec import Busy, BusyAir, PlanSpec

_PATIENCE = 100
_LONGEST_STEP_S = 300


class Bench:
    """What is booked up to a horizon, in seconds since the plan's start."""

    def __init__(self, spec: PlanSpec, horizon_s: int) -> None:
        self.spec = spec
        self.horizon_s = horizon_s
        self.people = [PersonBench(working_spans(person, spec.start, horizon_s)) for person in spec.people]
        self.spans = merge_spans(span for person in self.people for span in person.spans)
        self.sittings = sittings_of(self.spans, spec.start)
        self.cleanup_s = round(spec.cleanup_min * 60)
        self.lots = [Bookings() for _ in spec.lots]
        self.layings = Layings()
        # Whose hands the chain at hand is for; None for whoever can.
        self._only: int | None = None
        self._own_sittings: dict[int, list[Span]] = {}
        self.heat = Bookings()
        self.irons = Bookings()
        self.rack = Bookings()
        self.air: dict[str, Bookings] = {"hot": Bookings(), "solvent": Bookings(), "flammable": Bookings()}
        self.lying: dict[str, Bookings] = {"bleach": Bookings(), "acid": Bookings(), "ammonia": Bookings()}
        # What the placing of the chain at hand has found so far, by block: from when on, the start, and where all stood.
        self._is_tight = False
        self._known: dict[int, list[tuple[int, int | None, list[tuple[int, Placed | None]]]]] = {}
        # How many blocks of bleach, acid and ammonia each sitting has.
        self.in_sitting: dict[str, dict[int, int]] = {"bleach": {}, "acid": {}, "ammonia": {}}
        self._stand_others(spec.busy)

    def _stand_others(self, busy: Busy) -> None:
        """Book what stands in other plans."""
        for number, person in enumerate(self.spec.people):
            own = [each for each in busy.hands if each.name == person.name]
            for begins, ends in merge_spans((each.start_s, each.end_s) for each in own):
                self.people[number].book(begins, ends)
            for each in own:
                if each.product:
                    insort(self.people[number].coats, (each.start_s, each.end_s, each.product))
        for taken in busy.air:
            for bookings, takes in self._occupied(taken):
                bookings.add(taken.start_s, taken.end_s, takes)
            for hazard in set(taken.hazards) & set(self.in_sitting):
                counts = self.in_sitting[hazard]
                for second in (taken.start_s, taken.end_s - 1):
                    sitting = sitting_at(self.sittings, second)
                    counts[sitting] = counts.get(sitting, 0) + 1

    def place(self, chain: Chain, not_before: int = 0, *, only: int | None = None) -> list[Placed] | None:
        """The earliest way to fit a chain in, nothing booked; ``None`` when there is none before the horizon.

        The first block starts as early as can be, each other as near its nominal wait as can be, later rather than earlier. It
        is begun by the person ``only``, where that is given; and where others of its bundle are booked, beside these.
        """
        if any(block.wait_s > block.latest_s for block in chain.blocks):
            return None
        placed: list[Placed | None] = [None] * len(chain.blocks)
        not_before, not_after = max(not_before, chain.not_before_s), chain.not_after_s
        self._only, beside = only, self.layings.beside(chain)
        if beside is not None:
            self._only = beside.person
            begins, ends = self.sitting_of(beside.person, beside.start_s)
            not_before, not_after = max(not_before, begins), min(not_after, ends - chain.blocks[0].length_s)
        self._known = {}
        self._is_tight = self._needs_cleaning_within(chain)
        start = self._earliest(chain, 0, not_before, not_after, placed)
        if start is None or start > not_after:
            return None
        return [block for block in placed if block is not None]

    def _needs_cleaning_within(self, chain: Chain) -> bool:
        """Whether a chain's own coats of two products may come so close that cleaning up between them moves the second."""
        coats = [number for number, block in enumerate(chain.blocks) if block.product]
        if not self.cleanup_s or len({chain.blocks[number].product for number in coats}) < 2:
            return False
        starts = least_starts(chain.blocks)
        return any(
            chain.blocks[one].product != chain.blocks[other].product
            and starts[other] - starts[one] - chain.blocks[one].length_s < self.cleanup_s
            for one, other in pairwise(coats)
        )

    def sitting_of(self, person: int, second: int) -> Span:
        """The sitting of one person that holds a second: their own working span, cut at midnight."""
        opens, closes = self.people[person].span_at(second)
        begins, ends = self.sittings[sitting_at(self.sittings, second)]
        return max(opens, begins), min(closes, ends)

    def sittings_of_person(self, person: int) -> list[Span]:
        """All sittings of one person."""
        if person not in self._own_sittings:
            self._own_sittings[person] = self._cut_at_midnight(person)
        return self._own_sittings[person]

    def _cut_at_midnight(self, person: int) -> list[Span]:
        return [
            (max(opens, begins), min(closes, ends))
            for opens, closes in self.people[person].spans
            for begins, ends in self.sittings
            if max(opens, begins) < min(closes, ends)
        ]

    def book(self, chain: Chain, placed: Sequence[Placed]) -> None:
        """Take the times of a placed chain."""
        self.layings.book(chain, placed)
        for block, at in zip(chain.blocks, placed, strict=True):
            self._take(chain, block, at)
        for occupation in chain.occupations:
            begins, ends = _stretch(chain, occupation, placed)
            for bookings, takes in self._occupied(occupation):
                bookings.add(begins, ends, takes)
            self._count_sittings(occupation, placed, 1)

    def unbook(self, chain: Chain, placed: Sequence[Placed]) -> None:
        """Give back the times of a booked chain."""
        self.layings.unbook(chain, placed)
        for block, at in zip(chain.blocks, placed, strict=True):
            self._give_back(chain, block, at)
        for occupation in chain.occupations:
            begins, ends = _stretch(chain, occupation, placed)
            for bookings, takes in self._occupied(occupation):
                bookings.remove(begins, ends, takes)
            self._count_sittings(occupation, placed, -1)

    def _earliest(
        self,
        chain: Chain,
        number: int,
        low: int,
        high: int,
        placed: list[Placed | None],
        *,
        is_free: bool = True,
    ) -> int | None:
        """Earliest start of a block, and of all that waits for it, from ``low`` on.

        A start after ``high`` is answered as soon as it is known, its followers unplaced: the caller has no use for it but
        to know how far to move. ``is_free`` says that nothing of the chain's own stands in the block's way: then what was
        found from an earlier moment on and lies after this one is still the earliest, and is not sought again.
        """
        if is_free:
            for since, start, known in self._known.get(number, ()):
                if since <= low and start is None:
                    return None
                if since <= low and start is not None and low <= start:
                    for place, at in known:
                        placed[place] = at
                    return start
        block = chain.blocks[number]
        start, tries = low, 0
        while True:
            at = self._next_start(chain, number, start)
            if at is not None and at.start_s > high:
                return at.start_s
            later: int | None = self.horizon_s
            if at is not None:
                self._take(chain, block, at)
                placed[number] = at
                later = self._place_followers(chain, number, at.start_s, placed)
                self._give_back(chain, block, at)
                if later is None:
                    if is_free:
                        known = [(i, placed[i]) for i in chain.subtree(number)]
                        self._known.setdefault(number, []).append((low, at.start_s, known))
                    return at.start_s
            if at is None or later is None or later >= self.horizon_s:
                if is_free:
                    self._known.setdefault(number, []).append((low, None, []))
                return None
            # What crawls on by seconds is in its own way; longer steps find the way out, or that there is none.
            tries += 1
            start = max(at.start_s + min(_LONGEST_STEP_S, max(1, tries - _PATIENCE)), later)

    def _place_followers(
        self, chain: Chain, number: int, start: int, placed: list[Placed | None]
    ) -> int | None:
        """Place what waits for a block; ``None`` when it all fits, else the next start of the block worth trying."""
        taken: list[tuple[Block, Placed]] = []
        later: int | None = None
        last_s = 0
        for child in chain.children[number]:
            block = chain.blocks[child]
            high = start + block.latest_s
            is_free = block.wait_s >= last_s and not self._is_tight
            last_s = max(last_s, block.latest_s + block.length_s)
            found: int | None = None
            if block.nominal_s > block.wait_s:
                found = self._earliest(chain, child, start + block.nominal_s, high, placed, is_free=is_free)
            if found is None or found > high:
                found = self._earliest(chain, child, start + block.wait_s, high, placed, is_free=is_free)
            if found is None:
                later = self.horizon_s
                break
            if found > high:
                later = found - block.latest_s
                break
            at = placed[child]
            if at is not None:
                self._take(chain, block, at)
                taken.append((block, at))
        for block, at in taken:
            self._give_back(chain, block, at)
        return later if later is not None else self._clash(chain, number, placed)

    def _next_start(self, chain: Chain, block_number: int, low: int) -> Placed | None:
        best: Placed | None = None
        block = chain.blocks[block_number]
        length = block.length_s
        for number, person in enumerate(self.people):
            if block_number == 0 and self._only not in (None, number):
                continue
            seek = low
            while True:
                start = person.next_free(seek, length)
                if start is None or (best is not None and start >= best.start_s):
                    break
                later: int | None = None
                if chain.bundle >= 0 and block_number == 0:
                    later = self._turn_after(chain, number, start, start + length)
                if later is None and len(self.people) > 1:
                    # A panel is in one pair of hands at a time.
                    later = self.lots[chain.lot].clear_after(start, start + length)
                if later is None and block.product and self.cleanup_s:
                    later = person.clean_after(start, start + length, block.product, self.cleanup_s)
                if later is None:
                    best = Placed(start, number)
                    break
                seek = max(later, start + 1)
        return best

    def _turn_after(self, chain: Chain, person: int, begins: int, ends: int) -> int | None:
        """``None`` when a bundle may begin there, in one sitting and when it is its turn, else when to try next."""
        closes = self.sitting_of(person, begins)[1]
        return closes if ends > closes else self.layings.clear_after(chain, begins, ends)

    def _clash(self, chain: Chain, number: int, placed: Sequence[Placed | None]) -> int | None:
        """``None`` when what begins with a block meets nothing that it must not, else the next start worth trying."""
        for occupation in chain.occupations:
            if occupation.first is None and number == occupation.last:
                begins, ends = _stretch(chain, occupation, placed)
                # What it holds since before the plan it holds until then: later would be no better.
                if not self._can_hold(occupation, begins, ends) or not self._is_clear(
                    occupation, begins, ends
                ):
                    return self.horizon_s
            if occupation.first != number:
                continue
            begins, ends = _stretch(chain, occupation, placed)
            later = self._clash_of(occupation, begins, ends, placed)
            if later is not None:
                return later
        return None

    def _can_hold(self, occupation: Occupation, begins: int, ends: int) -> bool:
        """Whether blocks and irons are enough for what holds some of them already, beside what is planned."""
        return all(
            not takes or store.room_after(begins, ends, takes=min(takes, capacity), capacity=capacity) is None
            for store, takes, capacity in (
                (self.heat, occupation.heat_blocks, self.spec.heat_blocks),
                (self.irons, occupation.irons, self.spec.irons),
            )
        )

    def _is_clear(self, occupation: Occupation, begins: int, ends: int) -> bool:
        """Whether nothing booked meets what has been hot, or in the air, since before the plan."""
        return all(
            self.air[foe].clear_after(begins, ends) is None for foe in ignites_with(occupation.hazards)
        )

    def _clash_of(
        self, occupation: Occupation, begins: int, ends: int, placed: Sequence[Placed | None]
    ) -> int | None:
        hazards = occupation.hazards
        if occupation.heat_blocks:
            later = self.heat.room_after(
                begins, ends, takes=occupation.heat_blocks, capacity=self.spec.heat_blocks
            )
            if later is not None:
                return later
        if occupation.irons:
            later = self.irons.room_after(begins, ends, takes=occupation.irons, capacity=self.spec.irons)
            if later is not None:
                return later
        if occupation.rack_places and self.spec.rack_places is not None:
            later = self.rack.room_after(
                begins, ends, takes=occupation.rack_places, capacity=self.spec.rack_places
            )
            if later is not None:
                return later
        for foe in ignites_with(hazards):
            later = self.air[foe].clear_after(begins, ends)
            if later is not None:
                return later
        for foe in gives_off_gas_with(hazards):
            later = self.lying[foe].clear_after(begins, ends)
            if later is not None:
                return later
            for sitting in self._sittings_of(occupation, placed):
                if self.in_sitting[foe].get(sitting):
                    return max(begins + 1, begins + self.sittings[sitting][1] - ends)
        return None

    def _occupied(self, occupation: Occupation | BusyAir) -> list[tuple[Bookings, int]]:
        stores: list[tuple[Bookings, int]] = []
        if occupation.heat_blocks:
            stores.append((self.heat, occupation.heat_blocks))
        if occupation.irons:
            stores.append((self.irons, occupation.irons))
        if occupation.rack_places:
            stores.append((self.rack, occupation.rack_places))
        for hazard in occupation.hazards:
            stores.append((self.air[hazard] if hazard in self.air else self.lying[hazard], 1))
        return stores

    def _sittings_of(self, occupation: Occupation, placed: Sequence[Placed | None]) -> list[int]:
        numbers = [occupation.last] if occupation.first is None else [occupation.first, occupation.last]
        return [
            sitting_at(self.sittings, at.start_s) for at in (placed[i] for i in numbers) if at is not None
        ]

    def _count_sittings(self, occupation: Occupation, placed: Sequence[Placed], by: int) -> None:
        for hazard in occupation.hazards & {"bleach", "acid", "ammonia"}:
            counts = self.in_sitting[hazard]
            for sitting in self._sittings_of(occupation, placed):
                counts[sitting] = counts.get(sitting, 0) + by

    def _take(self, chain: Chain, block: Block, at: Placed) -> None:
        end = at.start_s + block.length_s
        person = self.people[at.person]
        person.book(at.start_s, end)
        if block.product:
            insort(person.coats, (at.start_s, end, block.product))
        if len(self.people) > 1:
            self.lots[chain.lot].add(at.start_s, end)

    def _give_back(self, chain: Chain, block: Block, at: Placed) -> None:
        end = at.start_s + block.length_s
        person = self.people[at.person]
        person.free(at.start_s)
        if block.product:
            person.coats.remove((at.start_s, end, block.product))
        if len(self.people) > 1:
            self.lots[chain.lot].remove(at.start_s, end)


def _stretch(chain: Chain, occupation: Occupation, placed: Sequence[Placed | None]) -> tuple[int, int]:
    """From when to when a placed chain occupies what it occupies."""
    last = placed[occupation.last]
    first = None if occupation.first is None else placed[occupation.first]
    begins = occupation.begins_s if first is None else first.start_s
    if last is None:
        return begins, FOREVER
    return begins, last.start_s + chain.blocks[occupation.last].length_s + occupation.after_s
