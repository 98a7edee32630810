"""What stands in other plans of the same shop: hands, heat blocks, irons, the rack and the air that a plan is made round."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Protocol

from nublet.core.planning.chains import Hazard, Occupation
from nublet.core.planning.exposures import exposure_occupations
from nublet.core.planning.passes import coat_occupations
from nublet.core.planning.plan import Operation
from nublet.core.planning.spec import Busy, BusyAir, BusyHands, PanelGroup, PlanSpec


@dataclass(frozen=True)
class _Piece:
    """One panel's part of an operation, by the clock of its own plan."""

    start_s: float
    end_s: float


# Group, panel, item, kind and act.
_Key = tuple[str, str, str, str, str]
# A coat is weighed twice, and a test looked at often: that one was done tells nothing of the next.
_MANY_TIMES = ("weigh", "look")


class DonePiece(Protocol):
    """One piece of work on one panel as it was done, by the clock of its own plan."""

    @property
    def group(self) -> str:
        """The panel's group."""

    @property
    def panel(self) -> str:
        """Its name."""

    @property
    def item(self) -> str:
        """Id of the coat or of the exposure."""

    @property
    def kind(self) -> str:
        """As of an operation."""

    @property
    def act(self) -> str:
        """Id of an act; empty for all else."""

    @property
    def start_s(self) -> float:
        """When it began."""

    @property
    def end_s(self) -> float:
        """When it ended."""


def busy_with(
    spec: PlanSpec,
    operations: Iterable[Operation],
    *,
    later_s: float = 0.0,
    done: Iterable[DonePiece] = (),
    since_s: float = -math.inf,
) -> Busy:
    """What the operations of a plan take of the shop.

    Parameters
    ----------
    spec : PlanSpec
        Of that plan.
    operations : iterable of Operation
        Those that still stand.
    later_s : float
        How many seconds later that plan starts than the one that is made round it.
    done : iterable of DonePiece
        What was done of it: a coat that was just put on still fills the air and the rack, and what lies on a block holds it. What
        was done takes no hands any more, wherever it is planned.
    since_s : float
        What was over by then, by the clock of the plan that is made round it, is left out.
    """
    worked = list(done)
    listed = list(_not_done(operations, {_key_of(each) for each in worked}))
    hands = tuple(
        BusyHands(
            name=spec.people[each.person].name,
            start_s=int(each.start_s + later_s),
            end_s=int(each.end_s + later_s),
            product=_product(spec, each),
        )
        for each in listed
    )
    pieces: dict[_Key, _Piece] = {
        _key_of(each): _Piece(each.start_s + later_s, each.end_s + later_s) for each in worked
    }
    for each in listed:
        for panel in each.panels:
            if each.kind != "look":
                key = panel.group, panel.panel, each.item, each.kind, each.act
                pieces[key] = _Piece(panel.start_s + later_s, panel.end_s + later_s)
    air = [
        taken
        for group in spec.groups
        for name in group.panels
        for taken in (*_of_coats(spec, group, name, pieces), *_of_exposures(group, name, pieces))
        if taken.end_s > since_s
    ]
    return Busy(hands=hands, air=tuple(air))


def _key_of(done: DonePiece) -> _Key:
    return done.group, done.panel, done.item, done.kind, done.act


def _not_done(operations: Iterable[Operation], done: set[_Key]) -> Iterator[Operation]:
    """Operations with the panels on which they are still to be done."""
    for each in operations:
        left = tuple(
            panel
            for panel in each.panels
            if each.kind in _MANY_TIMES
            or (panel.group, panel.panel, each.item, each.kind, each.act) not in done
        )
        if left:
            yield replace(each, panels=left)


def _of_coats(
    spec: PlanSpec, group: PanelGroup, panel: str, pieces: Mapping[_Key, _Piece]
) -> Iterator[BusyAir]:
    """The air and the rack that a panel's coats take."""
    for number, step in enumerate(group.steps):
        coat = pieces.get((group.id, panel, step.id, step.kind, ""))
        if coat is not None:
            ends = pieces.get((group.id, panel, step.id, "wipe", ""), coat)
            for taken in coat_occupations(spec, group, number, 0, 1, 1):
                yield _taken(taken, coat, ends)


def _of_exposures(group: PanelGroup, panel: str, pieces: Mapping[_Key, _Piece]) -> Iterator[BusyAir]:
    """The blocks, irons and air that a panel's exposures take."""
    for exposure in group.exposures:
        acts = [
            pieces.get((group.id, panel, exposure.id, act.kind, act.id if act.kind == "act" else ""))
            for act in exposure.chain
        ]
        for taken in exposure_occupations(exposure, range(len(acts)), 1):
            first, last = acts[taken.first or 0], acts[taken.last]
            if last is not None:
                # What was begun already holds from now on.
                yield _taken(taken, first or _Piece(0.0, 0.0), last)


def _taken(taken: Occupation, first: _Piece, last: _Piece) -> BusyAir:
    return BusyAir(
        start_s=int(first.start_s),
        end_s=int(last.end_s) + taken.after_s,
        hazards=_sorted(taken.hazards),
        heat_blocks=taken.heat_blocks,
        irons=taken.irons,
        rack_places=taken.rack_places,
    )


def _sorted(hazards: frozenset[Hazard]) -> tuple[Hazard, ...]:
    return tuple(sorted(hazards))


def _product(spec: PlanSpec, operation: Operation) -> str:
    """What is coated, for the cleaning up between two products."""
    if operation.kind != "coat":
        return ""
    products: Mapping[str, str] = {
        step.id: step.product for group in spec.groups if group.id == operation.group for step in group.steps
    }
    return products.get(operation.item, "")
