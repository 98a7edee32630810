"""The work of an exposure on one panel: its acts with the windows between them, and its looks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from nublet.core.errors import PlanError
from nublet.core.planning.limits import MAX_MIN, check_number, check_unique, check_window, check_work
from nublet.core.protocols.agents import Nature

# What an act takes up at the bench.
Held = Literal["heat_block", "iron"]
# A hundred turns of wetting and drying, and what goes around them.
MAX_ACTS = 200


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


def check_exposure(exposure: ExposureWork, where: str) -> None:
    """Refuse times that cannot be, and looks or acts that contradict each other. Raises ``PlanError``."""
    if exposure.acts:
        _check_acts(exposure, where)
    else:
        check_work(exposure.lay_minutes_per_panel, f"{where}.lay_minutes_per_panel")
        check_work(exposure.lift_minutes_per_panel, f"{where}.lift_minutes_per_panel")
    check_number(exposure.duration_min, f"{where}.duration_min", most=MAX_MIN)
    check_number(exposure.tolerance_min, f"{where}.tolerance_min", most=MAX_MIN)
    for number, look in enumerate(exposure.looks):
        check_work(look.minutes_per_panel, f"{where}.looks.{number}.minutes_per_panel")
        check_number(look.after_min, f"{where}.looks.{number}.after_min", most=MAX_MIN)
        check_number(look.tolerance_min, f"{where}.looks.{number}.tolerance_min", most=MAX_MIN)
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
    check_unique([act.id for act in exposure.acts], "act", f"{where}.acts")
    for number, act in enumerate(exposure.acts):
        at = f"{where}.acts.{number}"
        check_work(act.minutes_per_panel, f"{at}.minutes_per_panel")
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
            check_window(act.then_min[0], act.then_min[1], f"{at}.then_min", most=MAX_MIN)
