"""Whether a set of exposures finds room on a panel, and if not, what would: a larger panel, or a second one."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from nublet.core.design.areas import LARGEST_PANEL_MM, Faces, PanelSize, Side
from nublet.core.design.spots import SpotDrawer
from nublet.core.design.whole import share_out
from nublet.core.errors import DesignError
from nublet.core.protocols.agents import give_off_gas
from nublet.core.protocols.tests import Test
from nublet.core.quantities import Words, amount, say

Ladders = Literal["together", "spread"]
MAX_PANELS_EACH = 4


@dataclass(frozen=True, kw_only=True)
class PanelLoad:
    """What one panel of a build-up carries: its rings and strips on each face that is used, front first, and what takes all of it."""

    faces: tuple[tuple[Test, ...], ...]
    lengthwise: bool
    whole: tuple[Test, ...] = ()

    def side(self, index: int) -> Side:
        """The face with this number."""
        return "front" if index == 0 else "back"


def plan_loads(
    size: PanelSize,
    exposures: Sequence[Test],
    *,
    n_sections: int,
    margin_mm: float,
    faces: Faces = "front",
    panels_each: int = 1,
    ladders: Ladders = "together",
) -> tuple[PanelLoad, ...]:
    """Deal the exposures out over the faces and panels of a build-up, and see that they fit.

    Parameters
    ----------
    size : PanelSize
        Of a panel, mm.
    exposures : sequence of Test
    n_sections : int
        Each exposure stands once in each; 0 or 1 for an undivided panel.
    margin_mm : float
    faces : "front" or "both"
        Whether the back carries spots too.
    panels_each : int
        How many panels a build-up has on each board.
    ladders : "together" or "spread"
        Whether the steps of one agent stay on one face or may be spread over them.

    Returns
    -------
    tuple of PanelLoad
        One for each panel of a build-up: those with rings and strips, then one for each test that uses its panel up. Slips
        need none.

    Raises
    ------
    DesignError
        If they do not fit, or agents cannot be kept apart; the message gives sizes that would do.
    """
    if not 1 <= panels_each <= MAX_PANELS_EACH:
        raise DesignError(
            f"{panels_each} panels of each build-up on a board cannot be. Give 1 to {MAX_PANELS_EACH}.",
            field="panels_each",
        )
    shares = share_out(exposures)
    n_faces = 2 if faces == "both" else 1
    if shares.placed:
        groups = deal_exposures(shares.placed, n_faces * panels_each, ladders=ladders)
    else:
        groups = [[]] if shares.looking else []
    loads: list[PanelLoad] = []
    for first in range(0, len(groups), n_faces):
        parts = tuple(tuple(group) for group in groups[first : first + n_faces])
        lengthwise = _orientation(size, parts, n_sections, margin_mm)
        if lengthwise is None:
            raise _refusal(
                size,
                shares.placed,
                parts,
                n_sections,
                margin_mm,
                faces=faces,
                panels_each=panels_each,
                ladders=ladders,
            )
        # What only looks at a face does so on the first panel.
        loads.append(PanelLoad(faces=parts, lengthwise=lengthwise, whole=() if loads else shares.looking))
    loads += [PanelLoad(faces=((),), lengthwise=True, whole=(test,)) for test in shares.using_up]
    return tuple(loads)


def deal_exposures(
    exposures: Sequence[Test], n_groups: int, *, ladders: Ladders = "together"
) -> list[list[Test]]:
    """Deal exposures into groups of about equal room, gas-givers apart where that is possible.

    ``"together"`` keeps the steps of one agent in one group; ``"spread"`` gives them to different groups first.

    Raises
    ------
    DesignError
        If there are fewer to deal than groups.
    """
    if n_groups == 1:
        return [list(exposures)]
    units: dict[str, list[Test]] = {}
    for exposure in exposures:
        together = exposure.agent if ladders == "together" else exposure.id
        units.setdefault(exposure.on_panel or together, []).append(exposure)
    if len(units) < n_groups:
        raise DesignError(
            f"{len(units)} agents cannot be spread over {n_groups} faces or panels. Use fewer, or spread the steps of "
            "each ladder.",
            field="panels_each",
        )
    groups: list[list[Test]] = [[] for _ in range(n_groups)]
    for unit in sorted(units.values(), key=lambda unit: -sum(_room_of(e) for e in unit)):

        def crowd(group: list[Test], unit: Sequence[Test] = unit) -> tuple[int, int, int, float]:
            clashes = sum(give_off_gas(a.natures, b.natures) for a in group for b in unit)
            alike = sum(a.agent == b.agent for a in group for b in unit)
            # An empty face is filled before anything else, so that none is left over.
            return clashes, alike, bool(group), sum(_room_of(e) for e in group)

        min(groups, key=crowd).extend(unit)
    for index, group in enumerate(groups):
        if not group:
            fullest = max(groups, key=len)
            groups[index] = [fullest.pop()]
    order = {exposure.id: index for index, exposure in enumerate(exposures)}
    return [sorted(group, key=lambda e: order[e.id]) for group in groups]


def _room_of(test: Test) -> float:
    along, across = test.site.footprint_mm
    return along * across


def _orientation(
    size: PanelSize, parts: Sequence[tuple[Test, ...]], n_sections: int, margin_mm: float
) -> bool | None:
    """Whether sections lie lengthwise, the first way that every face can be laid; ``None`` when neither will do."""
    for lengthwise in (True, False):
        if all(_can_lay(size, part, max(1, n_sections), margin_mm, lengthwise) for part in parts):
            return lengthwise
        if n_sections <= 1:
            return None
    return None


@lru_cache(maxsize=512)
def _can_lay(
    size: PanelSize, exposures: tuple[Test, ...], n_sections: int, margin_mm: float, lengthwise: bool
) -> bool:
    if not exposures:
        return True
    drawer = SpotDrawer(
        size=size,
        exposures=exposures,
        n_sections=n_sections,
        lengthwise=lengthwise,
        margin_mm=margin_mm,
        rng=np.random.default_rng(0),
    )
    return drawer.fits and drawer.draw() is not None


def _enough_panels(
    size: PanelSize,
    exposures: Sequence[Test],
    n_sections: int,
    margin_mm: float,
    faces: Faces,
    panels_each: int,
    ladders: Ladders,
) -> int | None:
    """How many panels of this size each build-up would need on a board, if that many would do."""
    n_faces = 2 if faces == "both" else 1
    for n in range(panels_each + 1, MAX_PANELS_EACH + 1):
        try:
            groups = deal_exposures(exposures, n_faces * n, ladders=ladders)
        except DesignError:
            return None
        if all(_orientation(size, [tuple(group)], n_sections, margin_mm) is not None for group in groups):
            return n
    return None


def _refusal(
    size: PanelSize,
    exposures: Sequence[Test],
    parts: Sequence[tuple[Test, ...]],
    n_sections: int,
    margin_mm: float,
    *,
    faces: Faces,
    panels_each: int,
    ladders: Ladders,
) -> DesignError:
    n_spots = sum(len(part) for part in parts) * max(1, n_sections)
    room = say(
        "a panel of {} × {} with margins of {}{}{}",
        amount("millimetres", size.length_mm, is_bare=True),
        amount("millimetres", size.width_mm),
        amount("millimetres", margin_mm),
        f", on each of {n_sections} sections" if n_sections > 1 else "",
        ", both faces used" if len(parts) > 1 else "",
    )
    shapes: list[Callable[[float], PanelSize]] = [
        lambda mm: PanelSize(length_mm=mm, width_mm=size.width_mm),
        lambda mm: PanelSize(length_mm=size.length_mm, width_mm=mm),
        lambda mm: PanelSize(length_mm=mm, width_mm=mm),
    ]

    def smallest(shape: Callable[[float], PanelSize], start_mm: float) -> int | None:
        # Room for the rings is quick to see; whether agents can be kept apart is looked for from there only.
        roomy = smallest_side(lambda mm: _has_room(shape(mm), parts, n_sections, margin_mm), start_mm)
        if roomy is None:
            return None
        return smallest_side(
            lambda mm: _orientation(shape(mm), parts, n_sections, margin_mm) is not None, roomy
        )

    longer = smallest(shapes[0], size.length_mm)
    wider = smallest(shapes[1], size.width_mm)
    would_do = [
        say("a panel {} {} would do", amount("millimetres", mm), label)
        for mm, label in ((longer, "long"), (wider, "wide"))
        if mm is not None
    ]
    if not would_do:
        both = smallest(shapes[2], max(size.length_mm, size.width_mm))
        would_do = (
            [say("a panel {} square would do", amount("millimetres", both))] if both is not None else []
        )
    more = _enough_panels(size, exposures, n_sections, margin_mm, faces, panels_each, ladders)
    if more is not None:
        would_do.append(say("{} panels of this size for each build-up on each board would do", more))
    tells = say("; ".join(["{}"] * len(would_do)), *would_do) if would_do else _none_would_do()
    is_crowded = _has_room(size, parts, n_sections, margin_mm)
    field = "panel_width_mm" if wider is not None and longer is None else "panel_length_mm"
    if is_crowded:
        clashing = _clashing(parts)
        return DesignError(
            say("{} cannot be kept apart on {}: {}, or fewer exposures.", clashing, room, tells), field=field
        )
    what = f"{n_spots} spots" if n_spots > 1 else "One spot"
    do = "does" if n_spots == 1 else "do"
    return DesignError(say("{} {} not fit on {}: {}.", what, do, room, tells), field=field)


def _none_would_do() -> Words:
    largest = amount("millimetres", LARGEST_PANEL_MM)
    return say("no panel up to {} would do: use fewer exposures, or smaller rings", largest)


def smallest_side(fits: Callable[[float], bool], start_mm: float) -> int | None:
    """The smallest whole number of mm from ``start_mm`` that fits, found by doubling and halving steps."""
    low = math.floor(start_mm)
    high, step = low, 8
    while not fits(float(high)):
        low, high, step = high, high + step, step * 2
        if low >= LARGEST_PANEL_MM:
            return None
        high = min(high, int(LARGEST_PANEL_MM))
    while high - low > 1:
        middle = (low + high) // 2
        if fits(float(middle)):
            high = middle
        else:
            low = middle
    return high


def _has_room(size: PanelSize, parts: Sequence[tuple[Test, ...]], n_sections: int, margin_mm: float) -> bool:
    """Whether the rings would fit if any could stand beside any."""
    # Most sizes that are tried on the way to one that does are too small by area alone; rings fill π/4 of their squares.
    filled = max(sum(_room_of(test) for test in part) for part in parts) * max(1, n_sections) * math.pi / 4
    if filled > size.length_mm * size.width_mm:
        return False
    return any(
        all(
            SpotDrawer(
                size=size,
                exposures=part,
                n_sections=max(1, n_sections),
                lengthwise=lengthwise,
                margin_mm=margin_mm,
                rng=np.random.default_rng(0),
            ).fits
            for part in parts
        )
        # Undivided, a panel has no sections to lie one way or the other.
        for lengthwise in ((True, False) if n_sections > 1 else (True,))
    )


def _clashing(parts: Sequence[tuple[Test, ...]]) -> str:
    """The agents that must not meet, in words."""
    for part in parts:
        for exposure in part:
            others = dict.fromkeys(e.agent for e in part if give_off_gas(exposure.natures, e.natures))
            if "bleach" in exposure.natures and others:
                return f"{exposure.agent} and {', '.join(others)}"
    return "These exposures"
