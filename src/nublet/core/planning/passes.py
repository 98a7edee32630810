"""Groups of panels split into passes, and each pass's work as a chain of blocks."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from nublet.core.planning.chains import FOREVER, STEP_ENDS, Block, Chain, Kind, Occupation, Release
from nublet.core.planning.spec import CoatStep, PanelGroup, PlanSpec, WipeOff

# Abrading and weighing come just before the coat, the last weighing just after it.
_BEFORE_COAT_S = 30 * 60
WEIGH_WITHIN_S = 5 * 60
_LAST_COAT_WET_S = 24 * 3600
_ROOM_FOR_BOTH_S = 3600


def in_seconds(minutes: float) -> int:
    """Whole seconds of a piece of work, rounded up, so that nobody is promised less time than they need."""
    return math.ceil(round(minutes * 60, 6))


@dataclass(frozen=True)
class PassSize:
    """How many panels go through together, and the sentence that says why it is not all of them (else empty)."""

    panels: int
    says: str = ""


def coat_pass_size(spec: PlanSpec, group: PanelGroup) -> PassSize:
    """The most panels of a group that can be coated together without losing a wipe-off window.

    A pass of k panels takes k coats and k wipings; it is kept within the width of the window, which leaves the hands some
    slack, and within the pot life and the rack.

    Examples
    --------
    A window of 12 min and 2.5 min a panel: 4 panels a pass.
    """
    size, says = len(group.panels), ""
    for step in group.steps:
        limits: list[tuple[int, str]] = []
        if step.wipe is not None:
            width = step.wipe.to_min - step.wipe.from_min
            each = step.minutes_per_panel + step.wipe.minutes_per_panel
            limits.append(
                (int((width + 1e-9) / each), f"the window is {width:g} min and a panel takes {each:g}")
            )
        if step.pot_life_min is not None:
            limits.append(
                (
                    int((step.pot_life_min + 1e-9) / step.minutes_per_panel),
                    f"the pot life is {step.pot_life_min:g} min and a panel takes {step.minutes_per_panel:g}",
                )
            )
        if spec.rack_places is not None:
            limits.append((spec.rack_places, f"the rack has {spec.rack_places} places"))
        for limit, reason in limits:
            if max(1, limit) < size:
                size = max(1, limit)
                says = f"{group.id}, {step.id}: {size} panel{'s' * (size > 1)} a pass: {reason}."
    return PassSize(size, says)


def outlives_its_batch(step: CoatStep) -> bool:
    """Whether a single panel takes longer than a batch lasts."""
    return step.pot_life_min is not None and step.pot_life_min < step.minutes_per_panel


def split_evenly(items: Sequence[int], size: int) -> list[tuple[int, ...]]:
    """Consecutive parts of at most ``size`` items, as equal as can be.

    Examples
    --------
    >>> split_evenly(range(10), 4)
    [(0, 1, 2, 3), (4, 5, 6), (7, 8, 9)]
    """
    n_parts = math.ceil(len(items) / size)
    share, rest = divmod(len(items), n_parts)
    parts, begin = [], 0
    for number in range(n_parts):
        end = begin + share + (number < rest)
        parts.append(tuple(items[begin:end]))
        begin = end
    return parts


def coat_chain(spec: PlanSpec, group_number: int, panels: Sequence[int], *, first_step: int = 0) -> Chain:
    """A pass's way through the steps of its group, from ``first_step`` on. Its number is for the caller to set."""
    group = spec.groups[group_number]
    blocks: list[Block] = []
    occupations: list[Occupation] = []
    for number in range(first_step, len(group.steps)):
        add_step(spec, group, number, tuple(panels), blocks, occupations)
    return Chain(
        number=-1,
        lot=group_number,
        blocks=tuple(blocks),
        occupations=tuple(occupations),
        not_before_s=in_seconds(group.condition_h * 60) if first_step == 0 else 0,
    )


def add_step(
    spec: PlanSpec,
    group: PanelGroup,
    number: int,
    panels: tuple[int, ...],
    blocks: list[Block],
    occupations: list[Occupation],
) -> None:
    """Add one step's blocks behind those that a chain has; the first of them waits for the step before."""
    step = group.steps[number]
    weigh_s = in_seconds(step.weigh_minutes_per_panel)
    before = (
        _block("abrade", step, panels, in_seconds(step.abrade_minutes_per_panel)),
        _block("weigh", step, panels, weigh_s),
    )
    leading = [block for block in before if block.unit_s] + [
        _block(step.kind, step, panels, in_seconds(step.minutes_per_panel))
    ]
    within_s = sum(block.length_s + _BEFORE_COAT_S for block in leading[:-1])
    for position, block in enumerate(leading):
        if position:
            parent = blocks[-1]
            blocks.append(
                behind(block, parent, len(blocks) - 1, low_s=0, high_s=parent.length_s + _BEFORE_COAT_S)
            )
        elif blocks:
            end = last_of_step(blocks)
            low_s, high_s = recoat_window(group.steps[number - 1])
            high_s = None if high_s is None else max(low_s, high_s - within_s)
            first = behind(block, blocks[end], end, low_s=low_s, high_s=high_s)
            if blocks[-1].parent == end:
                first = _after_all_of(first, blocks[-1].latest_s + blocks[-1].length_s)
            blocks.append(first)
        else:
            blocks.append(block)
    coat = end = len(blocks) - 1
    if step.wipe is not None:
        wipe = _block("wipe", step, panels, in_seconds(step.wipe.minutes_per_panel))
        low_s, high_s = wipe_window(step.wipe)
        blocks.append(behind(wipe, blocks[coat], coat, low_s=low_s, high_s=high_s))
        end = len(blocks) - 1
    if weigh_s:
        weighing, done = _block("weigh", step, panels, weigh_s), blocks[end]
        blocks.append(
            behind(weighing, done, end, low_s=0, high_s=done.length_s + weighing.length_s + WEIGH_WITHIN_S)
        )
    occupations.extend(coat_occupations(spec, group, number, coat, end, len(panels)))


def wipe_window(wipe: WipeOff) -> tuple[int, int]:
    """Least and greatest seconds from the end of a panel's coat to the start of its wiping."""
    return in_seconds(wipe.from_min), math.floor(round(wipe.to_min * 60, 6))


def recoat_window(step: CoatStep) -> tuple[int, int | None]:
    """Least and greatest seconds from the end of a panel's step to the start of its next.

    Labels count from coating or from wiping off. The least is counted from the later of the two; the greatest from the
    earlier, where the window is wide enough for that.
    """
    low_s = in_seconds(step.recoat_from_h * 60)
    if step.recoat_to_h is None:
        return low_s, None
    high_s = math.floor(round(step.recoat_to_h * 3600, 6))
    if step.wipe is not None:
        wiped_s = wipe_window(step.wipe)[1] + in_seconds(step.wipe.minutes_per_panel)
        if high_s - wiped_s >= low_s + _ROOM_FOR_BOTH_S:
            high_s -= wiped_s
    return low_s, high_s


def coat_occupations(
    spec: PlanSpec,
    group: PanelGroup,
    number: int,
    coat: int | None,
    end: int,
    n_panels: int,
    *,
    begins_s: int = 0,
) -> Iterator[Occupation]:
    """What a step's pass occupies: the air while solvents are open, and places of the rack until it is dry enough."""
    step = group.steps[number]
    if step.is_solvent_open:
        yield Occupation(
            first=coat,
            begins_s=begins_s,
            last=end,
            after_s=in_seconds(spec.airing_min),
            hazards=frozenset({"solvent"}),
        )
    if spec.rack_places is not None and step.kind == "coat":
        is_last = all(later.kind != "coat" for later in group.steps[number + 1 :])
        dry_s = (
            min(in_seconds(group.cure_h * 60), _LAST_COAT_WET_S)
            if is_last
            else in_seconds(step.recoat_from_h * 60)
        )
        yield Occupation(first=coat, begins_s=begins_s, last=end, after_s=dry_s, rack_places=n_panels)


def released_by(chain: Chain, coats: Sequence[Chain], cure_s: int) -> tuple[Release, ...]:
    """When an exposure's pass may begin: once each of its panels has cured from the end of its own last step."""
    own = {panel: position for position, panel in enumerate(chain.blocks[0].panels)}
    releases = []
    for coat in coats:
        end = last_of_step(coat.blocks)
        block = coat.blocks[end]
        waits = [
            block.end_of(position, 0) + cure_s - chain.blocks[0].start_of(own[panel], 0)
            for position, panel in enumerate(block.panels)
            if panel in own
        ]
        if waits:
            releases.append(Release(chain=coat.number, block=end, wait_s=max(waits)))
    return tuple(releases)


def last_of_step(blocks: Sequence[Block]) -> int:
    """Number of the last block that ends a step: a wiping, a coat or other work, whatever is weighed after it."""
    return max(i for i, block in enumerate(blocks) if block.kind in STEP_ENDS)


def sizes_to_try(n_panels: int, most: int) -> Iterator[int]:
    """Sizes of passes from the largest down, each that splits the panels otherwise than the one before."""
    seen = 0
    for size in range(min(most, n_panels), 0, -1):
        n_parts = math.ceil(n_panels / size)
        if n_parts != seen:
            seen = n_parts
            yield math.ceil(n_panels / n_parts)


def numbered(chains: Sequence[Chain], first: int) -> list[Chain]:
    """The chains with their numbers, from ``first`` on."""
    return [replace(chain, number=first + index) for index, chain in enumerate(chains)]


def behind(
    block: Block,
    parent: Block,
    parent_number: int,
    *,
    low_s: int,
    high_s: int | None,
    wanted_s: int | None = None,
) -> Block:
    """Return the block behind another: each panel waits ``low_s`` to ``high_s`` from the other's end on it."""
    drifts = [position * (parent.pace_s - block.pace_s) for position in range(len(block.panels))]
    wait_s = parent.unit_s + low_s + max(drifts)
    latest_s = FOREVER if high_s is None else parent.unit_s + high_s + min(drifts)
    nominal_s = wait_s if wanted_s is None else parent.unit_s + wanted_s + (max(drifts) + min(drifts)) // 2
    return _after_all_of(
        replace(block, parent=parent_number, wait_s=wait_s, latest_s=latest_s, nominal_s=nominal_s),
        parent.length_s,
    )


def _after_all_of(block: Block, length_s: int) -> Block:
    wait_s = max(block.wait_s, length_s)
    return replace(block, wait_s=wait_s, nominal_s=max(wait_s, min(block.nominal_s, block.latest_s)))


def _block(kind: Kind, step: CoatStep, panels: tuple[int, ...], unit_s: int) -> Block:
    return Block(
        kind=kind,
        item=step.id,
        panels=panels,
        unit_s=unit_s,
        pace_s=unit_s,
        product=step.product if kind == "coat" else "",
    )
