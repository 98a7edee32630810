"""What a piece of work is known by, in plans, in the log and in what is judged; and work as it was done."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import NamedTuple

from nublet.core.planning.chains import STEP_ENDS, Kind
from nublet.core.planning.exposure_work import ActWork, ExposureWork, LookTime
from nublet.core.planning.spec import PanelGroup

# What is no work any more where some work was given up: no wiping without a coat, no lift without a lay.
VOID_WITHOUT: dict[Kind, tuple[Kind, ...]] = {
    "coat": ("wipe", "weigh"),
    "lay": ("lift", "look"),
    "lift": ("look",),
}


class WorkKey(NamedTuple):
    """One piece of work on one panel.

    Attributes
    ----------
    panel : str
        Its code.
    item : str
        Id of the coat or of the exposure.
    kind : Kind
    look_after_min : float
        Of a look the time after lifting, min; 0 for all else.
    nth : int
        1; of a coat's two weighings the one after it is the second.
    act : str
        Id of the act that is done, or that a look comes after; empty for what is laid and lifted, and for looks after the last act.
    group : str
        Of a specification whose groups name their panels alike; a trial's codes are its own, and leave it empty.
    """

    panel: str
    item: str
    kind: Kind
    look_after_min: float = 0.0
    nth: int = 1
    act: str = ""
    group: str = ""

    @property
    def of_trial(self) -> WorkKey:
        """The same without the group: a trial gives no code twice."""
        return self._replace(group="")


@dataclass(frozen=True, kw_only=True)
class DoneWork:
    """One piece of work on one panel as it was done, in seconds since the plan's start."""

    group: str
    panel: str
    item: str
    kind: Kind
    start_s: float
    end_s: float
    look_after_min: float = 0.0
    act: str = ""

    @property
    def key(self) -> WorkKey:
        """What it was. Of two weighings the last counts: they are counted apart."""
        return WorkKey(self.panel, self.item, self.kind, self.look_after_min, act=self.act, group=self.group)


class DoneBook:
    """What was done, to be looked up; for what was done twice the last counts."""

    def __init__(self, works: Iterable[DoneWork]) -> None:
        self._by_key = {work.key: work for work in works}

    def __iter__(self) -> Iterator[DoneWork]:
        return iter(self._by_key.values())

    def of(
        self, group: str, panel: str, item: str, kind: Kind, look_after_min: float = 0.0, act: str = ""
    ) -> DoneWork | None:
        """The work, or ``None`` while it is not done."""
        return self._by_key.get(WorkKey(panel, item, kind, look_after_min, act=act, group=group))

    def of_act(self, group: str, panel: str, item: str, act: ActWork) -> DoneWork | None:
        """One act of an exposure, or ``None`` while it is not done."""
        return self.of(group, panel, item, act.kind, act=act.id if act.kind == "act" else "")

    def of_look(self, group: str, panel: str, item: str, look: LookTime) -> DoneWork | None:
        """One look at an exposure, or ``None`` while it is not done."""
        return self.of(group, panel, item, "look", look.after_min, look.after)

    def coated_s(self, group: PanelGroup, panel: str) -> float:
        """When the last step ended, a coat's with its wiping; 0 before the first."""
        ends = [
            work.end_s
            for step in group.steps
            for kind in STEP_ENDS
            if (work := self.of(group.id, panel, step.id, kind)) is not None
        ]
        return max(ends, default=0.0)

    def n_acts(self, group: str, panel: str, exposure: ExposureWork) -> int:
        """How many of an exposure's acts are done: one that is done vouches for those before it."""
        chain = exposure.chain
        done = (
            number
            for number in range(len(chain), 0, -1)
            if self.of_act(group, panel, exposure.id, chain[number - 1]) is not None
        )
        return next(done, 0)
