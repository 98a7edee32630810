"""What is planned: passes of panels as chains of blocks of work, with the waits that must lie between them.

A **block** is the same work on each panel of a pass, one after the other by one pair of hands: all of a pass's coats, or
all of its wipings. A **chain** is a tree of blocks in which each block but the first waits for an earlier one: coat, wipe,
coat, wipe; or lay, lift, look, look. Times are whole seconds since the plan's start, and waits run from start to start.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

Kind = Literal["work", "abrade", "weigh", "coat", "wipe", "lay", "lift", "act", "look"]
Hazard = Literal["hot", "solvent", "flammable", "bleach", "acid", "ammonia"]
# What ends a step of a group.
STEP_ENDS: tuple[Kind, ...] = ("work", "coat", "wipe")
_AIR: frozenset[Hazard] = frozenset({"solvent", "flammable"})
SOURS: frozenset[Hazard] = frozenset({"acid", "ammonia"})
# Longer than any plan: a wait without an end.
FOREVER = 10**10


def ignites_with(hazards: frozenset[Hazard]) -> set[Hazard]:
    """What must not be in the air, or hot, while something with these hazards is: anywhere in the shop."""
    return set(_AIR if "hot" in hazards else ()) | ({"hot"} if hazards & _AIR else set())


def gives_off_gas_with(hazards: frozenset[Hazard]) -> set[Hazard]:
    """What must not lie, nor be laid or lifted in the same sitting, beside something with these hazards."""
    return set(SOURS if "bleach" in hazards else ()) | ({"bleach"} if hazards & SOURS else set())


@dataclass(frozen=True, kw_only=True)
class Block:
    """The same work on each panel of a pass.

    Attributes
    ----------
    kind : str
    item : str
        Id of the step or exposure.
    panels : tuple of int
        Numbers of the lot's panels, in the order in which they are done.
    unit_s, pace_s : int
        Hands-on seconds for one panel, and from the start of one panel to the start of the next.
    parent : int or None
        Number of the block in the chain that this one waits for.
    wait_s, latest_s : int
        Least and greatest wait from the parent's start to this start.
    nominal_s : int
        The wait that is wanted, between the two.
    look_after_min : float or None
    product : str
        What is coated; empty for all else.
    act : str
        Id of the act that is done, or that a look comes after; empty for what is laid and lifted.
    """

    kind: Kind
    item: str
    panels: tuple[int, ...]
    unit_s: int
    pace_s: int
    parent: int | None = None
    wait_s: int = 0
    latest_s: int = FOREVER
    nominal_s: int = 0
    look_after_min: float | None = None
    product: str = ""
    act: str = ""

    @cached_property
    def length_s(self) -> int:
        """Seconds from the first panel's start to the last panel's end."""
        return self.pace_s * (len(self.panels) - 1) + self.unit_s

    def start_of(self, position: int, block_start: int) -> int:
        """Start of the work on the panel at a position in the pass."""
        return block_start + position * self.pace_s

    def end_of(self, position: int, block_start: int) -> int:
        """End of the work on the panel at a position in the pass."""
        return self.start_of(position, block_start) + self.unit_s


@dataclass(frozen=True, kw_only=True)
class Occupation:
    """What a chain occupies from the start of one block to the end of another, and ``after_s`` longer.

    ``hazards`` are what it must be kept from; ``heat_blocks``, ``irons`` and ``rack_places`` how many it takes. ``begins_s``
    is set instead of a first block when it began before the plan did.
    """

    last: int
    first: int | None = None
    begins_s: int = 0
    after_s: int = 0
    hazards: frozenset[Hazard] = frozenset()
    heat_blocks: int = 0
    irons: int = 0
    rack_places: int = 0


@dataclass(frozen=True, kw_only=True)
class Release:
    """A chain's first block starts at least ``wait_s`` after the start of a block of another chain."""

    chain: int
    block: int
    wait_s: int


@dataclass(frozen=True, kw_only=True)
class Chain:
    """A pass of panels through some blocks.

    ``lot`` is the number of the lot (:attr:`nublet.core.planning.spec.PlanSpec.lots`) whose panels it is about.
    Chains of one ``bundle`` begin in one sitting of one pair of hands, and no other bundle of their exposure begins between them;
    -1 for a chain of none.
    ``not_before_s`` and ``not_after_s`` bound the first block's start; ``releases`` name the chains that it waits for.
    ``rank`` puts chains with a last moment before all others, in an order that is known to meet them.
    ``is_overdue`` says that the window of the first block has closed.
    ``tail_s`` is the least time from the first block's start to the last block's end.
    """

    number: int
    lot: int
    blocks: tuple[Block, ...]
    occupations: tuple[Occupation, ...] = ()
    releases: tuple[Release, ...] = ()
    not_before_s: int = 0
    not_after_s: int = FOREVER
    rank: int = FOREVER
    is_overdue: bool = False
    bundle: int = -1

    @cached_property
    def shape(self) -> object:
        """What decides where it fits beside its release: two chains of one shape fit the same places."""
        blocks = tuple(
            (
                len(b.panels),
                b.kind,
                b.unit_s,
                b.pace_s,
                b.parent,
                b.wait_s,
                b.latest_s,
                b.nominal_s,
                b.product,
            )
            for b in self.blocks
        )
        return blocks, self.occupations, self.not_after_s, self.item if self.bundle >= 0 else ""

    @cached_property
    def tail_s(self) -> int:
        """Least time from the first block's start to the last end, hours of work left aside."""
        starts = least_starts(self.blocks)
        return max(start + block.length_s for start, block in zip(starts, self.blocks, strict=True))

    @cached_property
    def hazards(self) -> frozenset[Hazard]:
        """All that it must be kept from."""
        return frozenset(hazard for occupation in self.occupations for hazard in occupation.hazards)

    @property
    def item(self) -> str:
        """The step or exposure that it begins with."""
        return self.blocks[0].item

    def subtree(self, number: int) -> list[int]:
        """A block and all that waits for it, directly or not."""
        found = [number]
        for child in self.children[number]:
            found += self.subtree(child)
        return found

    @cached_property
    def children(self) -> tuple[tuple[int, ...], ...]:
        """For each block the numbers of the blocks that wait for it."""
        return tuple(
            tuple(i for i, block in enumerate(self.blocks) if block.parent == number)
            for number in range(len(self.blocks))
        )


def least_starts(blocks: Sequence[Block]) -> list[int]:
    """Each block's earliest start after the first one's, from the waits alone."""
    starts: list[int] = []
    for block in blocks:
        starts.append(0 if block.parent is None else starts[block.parent] + block.wait_s)
    return starts


def at_least(chain: Chain) -> Chain:
    """The chain with every wait wanted at its least."""
    return replace(chain, blocks=tuple(replace(block, nominal_s=0) for block in chain.blocks))


@dataclass(frozen=True)
class Placed:
    """When a block starts, and who does it."""

    start_s: int
    person: int
