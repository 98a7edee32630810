"""What a plan is asked for: hands and their hours, what the shop has, and the work of each group of panels.

Durations are in minutes or hours as the field's name says. A group is the panels that carry one build-up; each of its
steps is one coat with what belongs to it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date, datetime
from typing import Literal

from nublet.core.errors import PlanError
from nublet.core.protocols.agents import Nature

# What an act takes up at the bench.
Held = Literal["heat_block", "iron"]
Weekday = Literal["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
WEEKDAYS: tuple[Weekday, ...] = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
DAY_MIN = 24 * 60
MAX_PEOPLE = 4
MAX_PANELS = 1000
MAX_GROUPS = 60
# A hundred turns of wetting and drying, and what goes around them.
MAX_ACTS = 200
# A year of hours and a year of minutes: longer ones are slips of the pen.
MAX_H = 8760.0
MAX_MIN = 525_600.0


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
    """One coat of a group.

    Attributes
    ----------
    id : str
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
    """

    id: str
    minutes_per_panel: float
    wipe: WipeOff | None = None
    recoat_from_h: float = 0.0
    recoat_to_h: float | None = None
    pot_life_min: float | None = None
    product: str = ""
    is_solvent_open: bool = True
    abrade_minutes_per_panel: float = 0.0
    weigh_minutes_per_panel: float = 0.0


@dataclass(frozen=True, kw_only=True)
class LookTime:
    """One look: minutes from the end of an act on the panel to the start of the look, give or take the tolerance.

    ``after`` is the act's id; empty for the last act, which is the lift of what is laid and lifted.
    """

    after_min: float
    tolerance_min: float
    minutes_per_panel: float
    after: str = ""


@dataclass(frozen=True, kw_only=True)
class ActWork:
    """One act of an exposure.

    Attributes
    ----------
    id : str
    minutes_per_panel : float
    then_min : (float, float or None) or None
        Least and greatest minutes from its end to the next act's start, ``None`` for no greatest; of the last act ``None``.
    wanted_min : float or None
        The wait that is wanted, between the two; by default their middle where they lie close, else the least.
    occupies : "heat_block", "iron" or None
        What it holds from its start to the end of the next act, on each panel one; of the last act while it is done.
    is_hot : bool
        For as long.
    kind : "act", "lay" or "lift"
    """

    id: str
    minutes_per_panel: float
    then_min: tuple[float, float | None] | None = None
    wanted_min: float | None = None
    occupies: Held | None = None
    is_hot: bool = False
    kind: Literal["act", "lay", "lift"] = "act"


@dataclass(frozen=True, kw_only=True)
class ExposureWork:
    """One exposure of a group: some acts one after the other, each in its window after the one before, and looks.

    The commonest is laid, left for ``duration_min`` give or take the tolerance, and lifted; ``acts`` stand in place of that.
    """

    id: str
    lay_minutes_per_panel: float = 0.0
    duration_min: float = 0.0
    tolerance_min: float = 0.0
    lift_minutes_per_panel: float = 0.0
    needs_heat_block: bool = False
    looks: tuple[LookTime, ...] = ()
    natures: frozenset[Nature] = frozenset()
    acts: tuple[ActWork, ...] = ()

    @property
    def chain(self) -> tuple[ActWork, ...]:
        """Its acts in order; what is laid and lifted has two."""
        if self.acts:
            return self.acts
        lay = ActWork(
            id="lay",
            kind="lay",
            minutes_per_panel=self.lay_minutes_per_panel,
            then_min=(self.duration_min - self.tolerance_min, self.duration_min + self.tolerance_min),
            wanted_min=self.duration_min,
            occupies="heat_block" if self.needs_heat_block else None,
            is_hot=self.is_hot,
        )
        return lay, ActWork(id="lift", kind="lift", minutes_per_panel=self.lift_minutes_per_panel)

    @property
    def is_hot(self) -> bool:
        """Whether open solvents must stay away from it, at one time or another."""
        return self.needs_heat_block or "hot" in self.natures or any(act.is_hot for act in self.acts)

    def holds(self, held: Held) -> bool:
        """Whether one of its acts takes a heat block, or an iron."""
        return any(act.occupies == held for act in self.chain)

    @property
    def hands_min(self) -> float:
        """Hands-on minutes of one panel, looks among them."""
        return sum(act.minutes_per_panel for act in self.chain) + sum(
            look.minutes_per_panel for look in self.looks
        )

    @property
    def longest_min(self) -> float:
        """From its first act to its last look at the latest, where each window has an end."""
        waits = [act.then_min[1] or act.then_min[0] for act in self.chain if act.then_min is not None]
        return sum(waits) + max((look.after_min + look.tolerance_min for look in self.looks), default=0.0)


@dataclass(frozen=True, kw_only=True)
class PanelGroup:
    """Panels that go through the same steps, cure and exposures. ``condition_h`` they rest before the first coat."""

    id: str
    panels: tuple[str, ...]
    steps: tuple[CoatStep, ...] = ()
    cure_h: float = 0.0
    exposures: tuple[ExposureWork, ...] = ()
    condition_h: float = 0.0


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
    """

    start: datetime
    people: tuple[Hands, ...]
    groups: tuple[PanelGroup, ...]
    heat_blocks: int = 1
    irons: int = 1
    rack_places: int | None = None
    cleanup_min: float = 0.0
    airing_min: float = 0.0

    def __post_init__(self) -> None:
        check_plan_spec(self)


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
    _check_unique([person.name for person in spec.people], "person", "people")
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
    _check_number(spec.cleanup_min, "cleanup_min", most=DAY_MIN)
    _check_number(spec.airing_min, "airing_min", most=MAX_MIN)
    if not spec.groups:
        raise PlanError("There are no groups of panels: nothing to plan. Add one.", field="groups")
    if len(spec.groups) > MAX_GROUPS:
        raise PlanError(
            f"{len(spec.groups)} groups are too many. At most {MAX_GROUPS} are planned at once.",
            field="groups",
        )
    _check_unique([group.id for group in spec.groups], "group", "groups")
    n_panels = sum(len(group.panels) for group in spec.groups)
    if n_panels > MAX_PANELS:
        raise PlanError(
            f"{n_panels} panels are too many. At most {MAX_PANELS} are planned at once.", field="groups"
        )
    for index, group in enumerate(spec.groups):
        _check_group(group, f"groups.{index}")


def _check_group(group: PanelGroup, where: str) -> None:
    if not group.panels:
        raise PlanError(f"{where} ({group.id!r}) has no panels. Give at least one.", field=f"{where}.panels")
    _check_unique(group.panels, "panel", f"{where}.panels")
    _check_number(group.cure_h, f"{where}.cure_h", most=MAX_H)
    _check_number(group.condition_h, f"{where}.condition_h", most=MAX_H)
    _check_unique(
        [step.id for step in group.steps] + [exposure.id for exposure in group.exposures],
        "step or exposure",
        where,
    )
    for number, step in enumerate(group.steps):
        _check_step(step, f"{where}.steps.{number}")
    for number, exposure in enumerate(group.exposures):
        _check_exposure(exposure, f"{where}.exposures.{number}")


def _check_step(step: CoatStep, where: str) -> None:
    _check_work(step.minutes_per_panel, f"{where}.minutes_per_panel")
    _check_number(step.abrade_minutes_per_panel, f"{where}.abrade_minutes_per_panel", most=DAY_MIN)
    _check_number(step.weigh_minutes_per_panel, f"{where}.weigh_minutes_per_panel", most=DAY_MIN)
    _check_window(step.recoat_from_h, step.recoat_to_h, f"{where}.recoat_after_h", most=MAX_H)
    if step.pot_life_min is not None:
        _check_work(step.pot_life_min, f"{where}.pot_life_min", most=MAX_MIN)
    if step.wipe is not None:
        _check_work(step.wipe.minutes_per_panel, f"{where}.wipe.minutes_per_panel")
        _check_window(step.wipe.from_min, step.wipe.to_min, f"{where}.wipe.after_min", most=MAX_MIN)


def _check_exposure(exposure: ExposureWork, where: str) -> None:
    if exposure.acts:
        _check_acts(exposure, where)
    else:
        _check_work(exposure.lay_minutes_per_panel, f"{where}.lay_minutes_per_panel")
        _check_work(exposure.lift_minutes_per_panel, f"{where}.lift_minutes_per_panel")
    _check_number(exposure.duration_min, f"{where}.duration_min", most=MAX_MIN)
    _check_number(exposure.tolerance_min, f"{where}.tolerance_min", most=MAX_MIN)
    for number, look in enumerate(exposure.looks):
        _check_work(look.minutes_per_panel, f"{where}.looks.{number}.minutes_per_panel")
        _check_number(look.after_min, f"{where}.looks.{number}.after_min", most=MAX_MIN)
        _check_number(look.tolerance_min, f"{where}.looks.{number}.tolerance_min", most=MAX_MIN)
        if look.after and look.after not in [act.id for act in exposure.chain]:
            raise PlanError(
                f"{exposure.id!r} has a look after {look.after!r}, which is none of its acts.",
                field=f"{where}.looks.{number}.after",
            )
    times = [(look.after, look.after_min) for look in exposure.looks]
    for number, moment in enumerate(times):
        if moment in times[:number]:
            raise PlanError(
                f"{exposure.id!r} has two looks after {moment[1]:g} min. Give each its own time.",
                field=f"{where}.looks.{number}.after_min",
            )


def _check_acts(exposure: ExposureWork, where: str) -> None:
    if len(exposure.acts) > MAX_ACTS:
        raise PlanError(
            f"{exposure.id!r} has {len(exposure.acts)} acts. At most {MAX_ACTS} are planned.",
            field=f"{where}.acts",
        )
    _check_unique([act.id for act in exposure.acts], "act", f"{where}.acts")
    for number, act in enumerate(exposure.acts):
        at = f"{where}.acts.{number}"
        _check_work(act.minutes_per_panel, f"{at}.minutes_per_panel")
        is_last = number == len(exposure.acts) - 1
        if is_last and act.then_min is not None:
            raise PlanError(
                f"{exposure.id!r}: nothing comes after {act.id!r}, its last act. Leave then_min out; looks count from its end.",
                field=f"{at}.then_min",
            )
        if not is_last:
            if act.then_min is None:
                raise PlanError(
                    f"{at}.then_min is missing: the least and greatest minutes from the end of {act.id!r} to the next act.",
                    field=f"{at}.then_min",
                )
            _check_window(act.then_min[0], act.then_min[1], f"{at}.then_min", most=MAX_MIN)


def _check_unique(names: list[str] | tuple[str, ...], what: str, where: str) -> None:
    seen: set[str] = set()
    for name in names:
        if not name.strip():
            raise PlanError(f"A {what} under {where} has no name. Give it one.", field=where)
        if name in seen:
            raise PlanError(f"The {what} {name!r} is listed twice. Give each its own name.", field=where)
        seen.add(name)


def _check_number(value: float, where: str, *, most: float) -> None:
    if not (math.isfinite(value) and 0 <= value <= most):
        raise PlanError(f"{where} is {value:g}; give 0 to {most:g}.", field=where)


def _check_work(value: float, where: str, *, most: float = DAY_MIN) -> None:
    if not (math.isfinite(value) and 0 < value <= most):
        raise PlanError(f"{where} is {value:g}; give more than 0, at most {most:g}.", field=where)


def _check_window(low: float, high: float | None, where: str, *, most: float) -> None:
    _check_number(low, where, most=most)
    if high is not None:
        _check_number(high, where, most=most)
        if high < low:
            raise PlanError(
                f"{where} closes ({high:g}) before it opens ({low:g}). Swap the two.", field=where
            )
