"""What is taken of a thing, and of a person's time: intervals that are booked and given back."""

from __future__ import annotations

from bisect import bisect_left, bisect_right, insort
from dataclasses import dataclass, field

from nublet.core.planning.calendar import Span


@dataclass
class Bookings:
    """Intervals of time in order, which may overlap, each with how much it takes."""

    intervals: list[tuple[int, int, int]] = field(default_factory=list)
    longest_s: int = 0

    def add(self, begins: int, ends: int, takes: int = 1) -> None:
        """Book an interval."""
        insort(self.intervals, (begins, ends, takes))
        self.longest_s = max(self.longest_s, ends - begins)

    def remove(self, begins: int, ends: int, takes: int = 1) -> None:
        """Free an interval that was booked just so."""
        del self.intervals[bisect_left(self.intervals, (begins, ends, takes))]

    def overlapping(self, begins: int, ends: int) -> list[tuple[int, int, int]]:
        """The intervals that share time with one; none of length 0 does."""
        first = bisect_right(self.intervals, (begins - self.longest_s, -1, -1))
        last = bisect_left(self.intervals, (ends, -1, -1))
        return [item for item in self.intervals[first:last] if item[1] > begins]

    def clear_after(self, begins: int, ends: int) -> int | None:
        """``None`` when nothing overlaps, else when the first of what does ends."""
        met = self.overlapping(begins, ends)
        return min(item[1] for item in met) if met else None

    def room_after(self, begins: int, ends: int, *, takes: int, capacity: int) -> int | None:
        """``None`` when ``takes`` more fit under the capacity all the while, else a time worth trying next."""
        met = self.overlapping(begins, ends)
        if sum(item[2] for item in met) + takes <= capacity:
            return None
        moments = sorted({max(begins, item[0]) for item in met})
        for moment in moments:
            if sum(item[2] for item in met if item[0] <= moment < item[1]) + takes > capacity:
                return min(item[1] for item in met if item[0] <= moment < item[1])
        return None


@dataclass
class PersonBench:
    """One person's working spans and what they are booked for. Booked blocks never overlap."""

    spans: list[Span]
    begins: list[int] = field(default_factory=list)
    ends: list[int] = field(default_factory=list)
    span_ends: list[int] = field(default_factory=list)
    # Coats by start: begin, end, product.
    coats: list[tuple[int, int, str]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.span_ends = [span[1] for span in self.spans]

    def next_free(self, second: int, length: int) -> int | None:
        """The earliest start at or after ``second`` at which so long a block fits into one span; ``None`` for never."""
        for number in range(bisect_right(self.span_ends, second), len(self.spans)):
            opens, closes = self.spans[number]
            start = max(second, opens)
            booking = bisect_right(self.ends, start)
            while start + length <= closes:
                if booking == len(self.begins) or self.begins[booking] >= start + length:
                    return start
                start = max(start, self.ends[booking])
                booking += 1
        return None

    def span_at(self, second: int) -> Span:
        """The working span that holds a second."""
        return self.spans[bisect_right(self.span_ends, second)]

    def book(self, start: int, end: int) -> None:
        """Take the hands for a while."""
        place = bisect_left(self.begins, start)
        self.begins.insert(place, start)
        self.ends.insert(place, end)

    def free(self, start: int) -> None:
        """Give back what was booked from ``start`` on."""
        place = bisect_left(self.begins, start)
        del self.begins[place], self.ends[place]

    def clean_after(self, start: int, end: int, product: str, cleanup_s: int) -> int | None:
        """``None`` when no other product is coated within the clean-up time, else when to try next."""
        near = bisect_right(self.coats, (start - cleanup_s - 86_400, 0, ""))
        for begins, ends, other in self.coats[near:]:
            if begins >= end + cleanup_s:
                break
            if other != product and ends + cleanup_s > start:
                return ends + cleanup_s
        return None
