"""What a plan is asked for: hands and their hours, what the shop has, and the work of each group of panels.

Durations are in minutes or hours as the field's name says. A group is the panels that carry one build-up; each of its
steps is one coat with what belongs to it.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from functools import cached_property
from typing import Literal, NamedTuple

from nublet.core.errors import PlanError
from nublet.core.planning.exposure_work import ExposureWork, check_exposure
from nublet.core.planning.limits import (
    DAY_MIN,
    MAX_H,
    MAX_MIN,
    check_number,
    check_unique,
    check_window,
    check_work,
)

StepKind = Literal["coat", "work"]
Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WEEKDAYS: tuple[Weekday, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
MAX_PEOPLE = 4
MAX_PANELS = 1000
MAX_GROUPS = 60


@dataclass(frozen=True, kw_only=True)
class WorkingHours:
    """One span of a working day; ``from_min`` and ``to_min`` in minutes after midnight.

    A span whose end is not after its start runs past midnight.
    """

    days: frozenset[Weekday]
    from_min: float
    to_min: float


@dataclass(frozen=True, kw_only=True)
class Hands:
    """One person's pair of hands: a name, weekly hours, and days on which they do not work."""

    name: str
    hours: tuple[WorkingHours, ...]
    days_off: frozenset[date] = frozenset()


@dataclass(frozen=True, kw_only=True)
class WipeOff:
    """Wiping off: earliest and latest minutes from the end of the panel's own coat to the start of its wiping."""

    from_min: float
    to_min: float
    minutes_per_panel: float


@dataclass(frozen=True, kw_only=True)
class CoatStep:
    """One step of a group: a coat with what belongs to it, or other work such as sanding before the coats or buffing after them.

    Attributes
    ----------
    id : str
    kind : "coat" or "work"
    minutes_per_panel : float
        Hands-on, to coat one panel.
    wipe : WipeOff or None
    recoat_from_h, recoat_to_h : float, float or None
        From the end of this step to the start of the group's next step; ``None`` when it never closes. Without meaning
        for the last step.
    pot_life_min : float or None
        How long a mixed batch lasts; a pass is coated from one batch.
    product : str
        What is coated; two products by the same hands are kept apart by the shop's clean-up time.
    is_solvent_open : bool
        Whether it gives off vapour that a hot block may set alight, from the start of coating to the end of wiping.
    abrade_minutes_per_panel, weigh_minutes_per_panel : float
        Abrading before the coat; one weighing just before it and one just after it. 0 for none.
    ends_when_even : tuple of str
        Ids of the steps, this one among them, that are no work any more where the sheen is even before this coat; empty where the
        coats are counted.
    """

    id: str
    minutes_per_panel: float
    kind: StepKind = "coat"
    wipe: WipeOff | None = None
    recoat_from_h: float = 0.0
    recoat_to_h: float | None = None
    pot_life_min: float | None = None
    product: str = ""
    is_solvent_open: bool = True
    abrade_minutes_per_panel: float = 0.0
    weigh_minutes_per_panel: float = 0.0
    ends_when_even: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class PanelGroup:
    """Panels that go through the same steps, cure and exposures. ``condition_h`` they rest before the first coat.

    ``boards`` names for each panel the board that it was cut from; empty where nobody asks.
    """

    id: str
    panels: tuple[str, ...]
    steps: tuple[CoatStep, ...] = ()
    cure_h: float = 0.0
    exposures: tuple[ExposureWork, ...] = ()
    condition_h: float = 0.0
    boards: tuple[str, ...] = ()


class PanelAt(NamedTuple):
    """One panel of a specification: the number of its group, and its own in it."""

    group: int
    panel: int


@dataclass(frozen=True, kw_only=True)
class BusyHands:
    """Hands that another plan has, seconds since this plan's start; ``product`` is what they coat, empty for all else."""

    name: str
    start_s: int
    end_s: int
    product: str = ""


@dataclass(frozen=True, kw_only=True)
class BusyAir:
    """What another plan occupies beside hands: the air and the sitting for what is hazardous, heat blocks, irons, rack places."""

    start_s: int
    end_s: int
    hazards: tuple[str, ...] = ()
    heat_blocks: int = 0
    irons: int = 0
    rack_places: int = 0


@dataclass(frozen=True, kw_only=True)
class Busy:
    """All that stands in other plans of the shop."""

    hands: tuple[BusyHands, ...] = ()
    air: tuple[BusyAir, ...] = ()

    @property
    def end_s(self) -> int:
        """When the last of it is over."""
        ends = [each.end_s for each in self.hands] + [each.end_s for each in self.air]
        return max(ends, default=0)


@dataclass(frozen=True, kw_only=True)
class PlanSpec:
    """All that a plan is made from.

    Attributes
    ----------
    start : datetime
        Nothing begins earlier. With a time zone, hours of work are that zone's; without, they are taken as they stand.
    people : tuple of Hands
    heat_blocks, irons : int
    groups : tuple of PanelGroup
    rack_places : int or None
        Panels that can lie wet at once; ``None`` for as many as there are.
    cleanup_min : float
        Between two products by the same hands.
    airing_min : float
        For how long an open solvent still fills the air after the last of its panels was coated or wiped.
    is_together : bool
        Whether a board's panels meet each exposure together: one pair of hands begins it on all of them in one sitting, none of
        another board's between them, once all of the board's panels have cured.
    busy : Busy
        What stands in other plans of the shop.
    """

    start: datetime
    people: tuple[Hands, ...]
    groups: tuple[PanelGroup, ...]
    heat_blocks: int = 1
    irons: int = 1
    rack_places: int | None = None
    cleanup_min: float = 0.0
    airing_min: float = 0.0
    is_together: bool = False
    busy: Busy = Busy()

    def __post_init__(self) -> None:
        check_plan_spec(self)

    @cached_property
    def boards(self) -> dict[str, tuple[PanelAt, ...]]:
        """The panels of each board, in the order of the groups."""
        found: dict[str, list[PanelAt]] = {}
        for number, group in enumerate(self.groups):
            for panel, board in enumerate(group.boards):
                found.setdefault(board, []).append(PanelAt(number, panel))
        return {board: tuple(panels) for board, panels in found.items()}

    @cached_property
    def lots(self) -> tuple[tuple[PanelAt, ...], ...]:
        """Panels that go through work together: each group's, in order, then each board's where boards are exposed together."""
        groups = tuple(
            tuple(PanelAt(number, panel) for panel in range(len(group.panels)))
            for number, group in enumerate(self.groups)
        )
        return groups + (tuple(self.boards.values()) if self.is_together else ())


def check_plan_spec(spec: PlanSpec) -> None:
    """Refuse what nobody can mean: repeated names, negative times, windows that end before they begin.

    What could be meant and cannot be done is not refused here; the planner says why.

    Raises
    ------
    PlanError
        ``field`` is the dotted path of the part at fault.
    """
    if not 1 <= len(spec.people) <= MAX_PEOPLE:
        raise PlanError(
            f"{len(spec.people)} people cannot be planned for. Give 1 to {MAX_PEOPLE}.", field="people"
        )
    check_unique([person.name for person in spec.people], "person", "people")
    for index, person in enumerate(spec.people):
        for number, hours in enumerate(person.hours):
            where = f"people.{index}.hours.{number}"
            if not hours.days:
                raise PlanError(
                    f"{where} names no day. Give at least one of: {', '.join(WEEKDAYS)}.", field=where
                )
            if not (0 <= hours.from_min < DAY_MIN and 0 <= hours.to_min <= DAY_MIN):
                raise PlanError(f"{where} is not within a day. Give times from 00:00 to 24:00.", field=where)
    if not 1990 <= spec.start.year <= 2200:
        raise PlanError(f"The year {spec.start.year} cannot be. Give 1990 to 2200.", field="start")
    for held, n in (("heat_blocks", spec.heat_blocks), ("irons", spec.irons)):
        if not 0 <= n <= 100:
            raise PlanError(f"{n} {held.replace('_', ' ')} cannot be. Give 0 to 100.", field=held)
    if spec.rack_places is not None and spec.rack_places < 1:
        raise PlanError(
            "A rack has at least one place. Leave it out where nothing limits it.", field="rack_places"
        )
    check_number(spec.cleanup_min, "cleanup_min", most=DAY_MIN)
    check_number(spec.airing_min, "airing_min", most=MAX_MIN)
    if not spec.groups:
        raise PlanError("There are no groups of panels: nothing to plan. Add one.", field="groups")
    if len(spec.groups) > MAX_GROUPS:
        raise PlanError(
            f"{len(spec.groups)} groups are too many. At most {MAX_GROUPS} are planned at once.",
            field="groups",
        )
    check_unique([group.id for group in spec.groups], "group", "groups")
    n_panels = sum(len(group.panels) for group in spec.groups)
    if n_panels > MAX_PANELS:
        raise PlanError(
            f"{n_panels} panels are too many. At most {MAX_PANELS} are planned at once.", field="groups"
        )
    for index, group in enumerate(spec.groups):
        _check_group(group, f"groups.{index}")
        if spec.is_together and group.exposures and not group.boards:
            raise PlanError(
                f"groups.{index} ({group.id!r}) does not name its panels' boards. Exposed together goes by boards: give one "
                "entry a panel, or leave together out.",
                field=f"groups.{index}.boards",
            )


def _check_group(group: PanelGroup, where: str) -> None:
    if not group.panels:
        raise PlanError(f"{where} ({group.id!r}) has no panels. Give at least one.", field=f"{where}.panels")
    check_unique(group.panels, "panel", f"{where}.panels")
    if group.boards and len(group.boards) != len(group.panels):
        raise PlanError(
            f"{where} ({group.id!r}) has {len(group.panels)} panels and names {len(group.boards)} boards. Give one entry a panel.",
            field=f"{where}.boards",
        )
    for number, board in enumerate(group.boards):
        if not board.strip():
            raise PlanError(
                f"{where}.boards.{number} is empty. Name the board of the panel.",
                field=f"{where}.boards.{number}",
            )
    check_number(group.cure_h, f"{where}.cure_h", most=MAX_H)
    check_number(group.condition_h, f"{where}.condition_h", most=MAX_H)
    check_unique(
        [step.id for step in group.steps] + [exposure.id for exposure in group.exposures],
        "step or exposure",
        where,
    )
    for number, step in enumerate(group.steps):
        _check_step(step, f"{where}.steps.{number}")
    for number, exposure in enumerate(group.exposures):
        check_exposure(exposure, f"{where}.exposures.{number}")


def _check_step(step: CoatStep, where: str) -> None:
    check_work(step.minutes_per_panel, f"{where}.minutes_per_panel")
    check_number(step.abrade_minutes_per_panel, f"{where}.abrade_minutes_per_panel", most=DAY_MIN)
    check_number(step.weigh_minutes_per_panel, f"{where}.weigh_minutes_per_panel", most=DAY_MIN)
    check_window(step.recoat_from_h, step.recoat_to_h, f"{where}.recoat_after_h", most=MAX_H)
    if step.pot_life_min is not None:
        check_work(step.pot_life_min, f"{where}.pot_life_min", most=MAX_MIN)
    if step.wipe is not None:
        check_work(step.wipe.minutes_per_panel, f"{where}.wipe.minutes_per_panel")
        check_window(step.wipe.from_min, step.wipe.to_min, f"{where}.wipe.after_min", most=MAX_MIN)
