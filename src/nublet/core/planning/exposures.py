"""An exposure's acts and looks as chains of blocks: what follows what in which window, and what is occupied meanwhile."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import get_args

from nublet.core.planning.chains import Block, Chain, Hazard, Occupation
from nublet.core.planning.exposure_work import ActWork, ExposureWork, Held, LookTime
from nublet.core.planning.passes import behind, in_seconds, sizes_to_try, split_evenly
from nublet.core.planning.spec import PlanSpec

# A window of which each half is no wider than this is aimed at in its middle; a wider one is used as early as it opens.
_CLOSE_MIN = 20.0
# Of more acts than so many each comes as early as its window opens: aiming at the middle of each and falling back where that fails
# would double what is tried with every act.
_MANY_ACTS = 6


def exposure_chain(
    group_number: int, exposure: ExposureWork, panels: Sequence[int], *, is_loose: bool = False
) -> Chain | None:
    """One exposure on a pass of panels: its acts, and looks. ``None`` when so many cannot go together.

    Paces are slowed only where the panels would otherwise drift out of half of their windows. Looks between two acts are kept
    between them. ``is_loose`` asks for no more than each window says, acts first and then looks, to reckon a bound with.
    """
    nodes = nodes_of(exposure, is_loose=is_loose)
    if nodes is None:
        return None
    blocks = blocks_of(nodes, exposure, panels)
    if not is_loose:
        keep_looks_before_acts(blocks)
        keep_looks_in_order(blocks)
    if any(block.wait_s > block.latest_s for block in blocks):
        return None
    acts = [number for number, block in enumerate(blocks) if block.kind != "look"]
    return Chain(
        number=-1,
        lot=group_number,
        blocks=tuple(blocks),
        occupations=tuple(exposure_occupations(exposure, acts, len(panels))),
    )


def blocks_of(nodes: Sequence[Node], exposure: ExposureWork, panels: Sequence[int]) -> list[Block]:
    """The nodes as blocks of a pass of panels, at a pace at which none drifts out of its window."""
    paces = _paces(nodes, len(panels))
    blocks: list[Block] = []
    for node, pace_s in zip(nodes, paces, strict=True):
        block = replace(node.block, item=exposure.id, panels=tuple(panels), pace_s=pace_s)
        if node.parent is not None:
            block = behind(
                block,
                blocks[node.parent],
                node.parent,
                low_s=node.low_s,
                high_s=node.high_s,
                wanted_s=node.wanted_s,
            )
        blocks.append(block)
    return blocks


@dataclass(frozen=True, kw_only=True)
class Node:
    """A block to be, and its window from the end of its parent on the same panel; how far a pass may drift in it."""

    block: Block
    parent: int | None = None
    low_s: int = 0
    high_s: int | None = None
    wanted_s: int | None = None
    slack_s: float = math.inf


def nodes_of(exposure: ExposureWork, *, is_loose: bool) -> list[Node] | None:
    """An exposure's acts and looks, each behind its parent; ``None`` when a look finds no room between its acts."""
    acts = exposure.chain
    looks: dict[str, list[LookTime]] = {}
    for look in sorted(exposure.looks, key=lambda look: look.after_min):
        looks.setdefault(look.after or acts[-1].id, []).append(look)
    nodes: list[Node] = []
    last_looks: list[Node] = []
    for number, act in enumerate(acts):
        block = Block(
            kind=act.kind, item="", panels=(), unit_s=in_seconds(act.minutes_per_panel), pace_s=0,
            act=act.id if act.kind == "act" else "",
        )  # fmt: skip
        if number == 0:
            nodes.append(Node(block=block))
            own = 0
        else:
            before = acts[number - 1]
            node: Node | None = _behind_act(block, own, before, is_loose=is_loose)
            if node is not None and len(acts) > _MANY_ACTS:
                node = replace(node, wanted_s=node.low_s)
            if looks.get(before.id) and not is_loose and not _brought_forward(before, nodes):
                node = _after_looks(block, _window_of(before), nodes)
            if node is None:
                return None
            own = len(nodes)
            nodes.append(node)
        for look in looks.get(act.id, []):
            seen = _look_node(look, own, is_loose=is_loose)
            (last_looks if is_loose else nodes).append(seen)
    return nodes + last_looks


def _window_of(act: ActWork) -> tuple[float, float | None]:
    return act.then_min if act.then_min is not None else (0.0, None)


def _behind_act(block: Block, parent: int, before: ActWork, *, is_loose: bool) -> Node:
    """An act in its window after the one before, nothing between them."""
    least, most = _window_of(before)
    if most is None:
        return Node(block=block, parent=parent, low_s=in_seconds(max(0.0, least)), high_s=None)
    low_s = max(0, math.ceil(round(least * 60, 6)))
    high_s = math.floor(round(most * 60, 6))
    half = (most - least) / 2
    wanted = before.wanted_min
    if wanted is None:
        wanted = least + half if half <= _CLOSE_MIN else least
    return Node(
        block=block,
        parent=parent,
        low_s=low_s,
        high_s=high_s + is_loose,
        wanted_s=round(wanted * 60),
        slack_s=math.floor(half * 60),
    )


def _look_node(look: LookTime, parent: int, *, is_loose: bool) -> Node:
    around = _around(look.after_min, look.tolerance_min)
    return Node(
        block=Block(
            kind="look", item="", panels=(), unit_s=in_seconds(look.minutes_per_panel), pace_s=0, look_after_min=look.after_min,
            act=look.after,
        ),
        parent=parent,
        low_s=around["low_s"],
        high_s=around["high_s"] + is_loose,
        wanted_s=around["wanted_s"],
        slack_s=math.floor(look.tolerance_min * 60),
    )  # fmt: skip


def _brought_forward(act: ActWork, nodes: list[Node]) -> bool:
    """Whether the last look after an act has time before the next may begin at all; it is then held to that time."""
    last, least_s = nodes[-1], math.ceil(round(_window_of(act)[0] * 60, 6))
    if last.low_s + last.block.unit_s > least_s:
        return False
    nodes[-1] = _until(last, min(last.high_s or 0, least_s - last.block.unit_s))
    return True


def _until(look: Node, latest_s: int) -> Node:
    """A look in a window that closes sooner."""
    return replace(
        look,
        high_s=latest_s,
        wanted_s=min(look.wanted_s or 0, latest_s),
        slack_s=min(look.slack_s, (latest_s - look.low_s) // 2),
    )


def _after_looks(block: Block, window: tuple[float, float | None], nodes: list[Node]) -> Node | None:
    """An act behind the last look that comes before it, in its own window whenever within its own that look falls.

    The look is brought forward where it would leave no time for the act.
    """
    least_s, most_s = in_seconds(window[0]), None if window[1] is None else math.floor(window[1] * 60)
    last = nodes[-1]
    low_s = max(0, least_s - last.low_s - last.block.unit_s)
    if most_s is None:
        return Node(block=block, parent=len(nodes) - 1, low_s=low_s)
    latest_s = min(last.high_s or 0, (most_s - last.block.unit_s + last.low_s) // 2 + 1)
    if latest_s < last.low_s or low_s > most_s - latest_s - last.block.unit_s:
        return None
    nodes[-1] = _until(last, latest_s)
    high_s = most_s - latest_s - last.block.unit_s
    return Node(
        block=block,
        parent=len(nodes) - 1,
        low_s=low_s,
        high_s=high_s,
        wanted_s=low_s,
        slack_s=(high_s - low_s) // 2,
    )


@dataclass
class _Taken:
    """What is occupied from one act to another."""

    hazards: set[Hazard] = field(default_factory=set)
    heat_blocks: int = 0
    irons: int = 0


def exposure_occupations(
    exposure: ExposureWork, blocks: Sequence[int | None], n_panels: int, *, begins_s: int = 0
) -> Iterator[Occupation]:
    """What an exposure occupies.

    Heat blocks and irons from an act to the next, the air while something is hot; and from the first act to the last the air and
    the sitting for what is hazardous.

    Parameters
    ----------
    exposure : ExposureWork
    blocks : sequence of int or None
        Of each act its block in the chain; ``None`` for one that was done before it, at ``begins_s``.
    n_panels : int
    """
    known: dict[str, Hazard] = {
        "flammable": "flammable",
        "bleach": "bleach",
        "acid": "acid",
        "ammonia": "ammonia",
    }
    spans: dict[tuple[int | None, int], _Taken] = {}

    def span(first: int, last: int) -> _Taken:
        end = blocks[last]
        return _Taken() if end is None else spans.setdefault((blocks[first], end), _Taken())

    acts = exposure.chain
    hazards: set[Hazard] = {known[nature] for nature in exposure.natures if nature in known}
    if "hot" in exposure.natures:
        hazards.add("hot")
    if hazards:
        span(0, len(acts) - 1).hazards |= hazards
    for number, act in enumerate(acts):
        if act.is_hot:
            span(number, min(number + 1, len(acts) - 1)).hazards.add("hot")
    for held in get_args(Held):
        for first_act, last_act in _runs([act.occupies == held for act in acts]):
            until = min(last_act + 1, len(acts) - 1)
            # What is held while one act is done, and no longer, goes from panel to panel.
            n = n_panels if until > first_act else 1
            if held == "heat_block":
                span(first_act, until).heat_blocks = n
            else:
                span(first_act, until).irons = n
    for (first, last), taken in spans.items():
        yield Occupation(
            first=first,
            begins_s=begins_s if first is None else 0,
            last=last,
            hazards=frozenset(taken.hazards),
            heat_blocks=taken.heat_blocks,
            irons=taken.irons,
        )


def _runs(flags: Sequence[bool]) -> Iterator[tuple[int, int]]:
    """First and last of each run of true ones."""
    first: int | None = None
    for number, flag in enumerate([*flags, False]):
        if flag and first is None:
            first = number
        elif not flag and first is not None:
            yield first, number - 1
            first = None


def exposure_passes(
    spec: PlanSpec,
    group_number: int,
    exposure: ExposureWork,
    panels: Sequence[int],
    fits: Callable[[Chain], bool],
    parts: int = 1,
) -> list[Chain]:
    """An exposure's passes, at least so many parts and else as large as can be; empty when not even one panel fits."""
    most = min(math.ceil(len(panels) / parts), most_together(spec, exposure.chain, len(panels)))
    for size in sizes_to_try(len(panels), most):
        made = [exposure_chain(group_number, exposure, part) for part in split_evenly(panels, size)]
        whole = [chain for chain in made if chain is not None]
        if len(whole) == len(made) and fits(whole[0]):
            return whole
    return []


def most_together(spec: PlanSpec, acts: Sequence[ActWork], n_panels: int) -> int:
    """How many of so many panels can go through acts to the end of an exposure together, by the blocks and irons that there are."""
    most = n_panels
    for number, act in enumerate(acts):
        if act.occupies is not None:
            held = spec.heat_blocks if act.occupies == "heat_block" else spec.irons
            # What is held while the last act is done, and no longer, goes from panel to panel.
            is_alone = number == len(acts) - 1
            most = min(most, n_panels if is_alone and held else held)
    return most


def _paces(nodes: Sequence[Node], n: int) -> list[int]:
    """Seconds from one panel to the next in each block: as short as can be with neighbours no further apart than they may drift."""
    gaps = max(1, n - 1)
    paces = [float(node.block.unit_s) for node in nodes]
    is_settled = False
    while not is_settled:
        is_settled = True
        for number, node in enumerate(nodes):
            if node.parent is None:
                continue
            slack = node.slack_s / gaps
            for one, other in ((number, node.parent), (node.parent, number)):
                if paces[one] < paces[other] - slack - 1e-9:
                    paces[one], is_settled = paces[other] - slack, False
    return [math.ceil(round(pace, 6)) for pace in paces]


def keep_looks_in_order(blocks: list[Block]) -> None:
    """Narrow the waits of looks after one act so that each leaves the hands to the next in time. May leave one with no wait at all."""
    for number in range(len(blocks) - 2, 0, -1):
        block, following = blocks[number], blocks[number + 1]
        if block.kind != "look" or following.kind != "look" or block.parent != following.parent:
            continue
        latest_s = min(block.latest_s, following.latest_s - block.length_s)
        blocks[number] = replace(
            block, latest_s=latest_s, nominal_s=max(block.wait_s, min(block.nominal_s, latest_s))
        )


def keep_looks_before_acts(blocks: list[Block]) -> None:
    """Have a look that waits for the same act as the next act does done before that may begin: neither is in the other's way."""
    for act in blocks:
        for number, block in enumerate(blocks):
            if (
                block.kind == "look"
                and act.kind != "look"
                and act.parent is not None
                and block.parent == act.parent
            ):
                latest_s = min(block.latest_s, act.wait_s - block.length_s)
                blocks[number] = replace(
                    block, latest_s=latest_s, nominal_s=max(block.wait_s, min(block.nominal_s, latest_s))
                )


def _around(minutes: float, tolerance: float) -> dict[str, int]:
    return {
        "low_s": max(0, math.ceil(round((minutes - tolerance) * 60, 6))),
        "high_s": math.floor(round((minutes + tolerance) * 60, 6)),
        "wanted_s": round(minutes * 60),
    }
