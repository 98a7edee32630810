"""Whose turn it is at an exposure: what begins on one board, and what therefore may not begin on another meanwhile.

A **bundle** is a board's passes through one exposure. All begin in one sitting of one pair of hands; from the first to the last of
them no other bundle begins the same exposure.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

from nublet.core.planning.calendar import Span
from nublet.core.planning.chains import FOREVER, Chain, Placed


@dataclass(frozen=True)
class Beginning:
    """The first block of a chain as it is booked."""

    start_s: int
    end_s: int
    person: int


@dataclass
class Layings:
    """The beginnings that are booked, by exposure and bundle."""

    by_item: dict[str, dict[int, list[Beginning]]] = field(default_factory=dict)

    def book(self, chain: Chain, placed: Sequence[Placed]) -> None:
        """Take a chain's beginning; nothing for a chain of no bundle."""
        if chain.bundle >= 0:
            self.by_item.setdefault(chain.item, {}).setdefault(chain.bundle, []).append(_begun(chain, placed))

    def unbook(self, chain: Chain, placed: Sequence[Placed]) -> None:
        """Give it back."""
        if chain.bundle >= 0:
            bundles = self.by_item[chain.item]
            bundles[chain.bundle].remove(_begun(chain, placed))
            if not bundles[chain.bundle]:
                del bundles[chain.bundle]

    def beside(self, chain: Chain) -> Beginning | None:
        """A beginning that shares its bundle, which says in whose hands and in which sitting it must be; ``None`` for the first."""
        own = self.by_item.get(chain.item, {}).get(chain.bundle) if chain.bundle >= 0 else None
        return own[0] if own else None

    def clear_after(self, chain: Chain, begins: int, ends: int) -> int | None:
        """``None`` when a chain may begin from ``begins`` to ``ends``, else when to try next; ``FOREVER`` for no more."""
        if chain.bundle < 0:
            return None
        bundles = self.by_item.get(chain.item, {})
        own = bundles.get(chain.bundle)
        low, high = begins, ends
        if own:
            low, high = (
                min(low, *(each.start_s for each in own)),
                max(high, *(each.end_s for each in own)),
            )
        for first, last in self.others(chain):
            if first < high and low < last:
                # Later only takes in more of what lies between.
                return FOREVER if own and low < begins else last
        return None

    def others(self, chain: Chain) -> Iterator[Span]:
        """From the first to the last beginning of each other bundle of a chain's exposure."""
        for bundle, found in self.by_item.get(chain.item, {}).items():
            if bundle != chain.bundle:
                yield min(each.start_s for each in found), max(each.end_s for each in found)


def _begun(chain: Chain, placed: Sequence[Placed]) -> Beginning:
    block, at = chain.blocks[0], placed[0]
    return Beginning(at.start_s, at.start_s + block.length_s, at.person)
