"""Which windows stand open, or are about to: what each panel waits for now, by what was done to it.

These are the label's and the protocol's own windows, as judged by :mod:`nublet.core.bench.judging`; a plan may keep to
narrower ones.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from nublet.core.bench.keys import DoneBook, DoneWork, WorkKey
from nublet.core.planning.chains import Kind
from nublet.core.planning.spec import ExposureWork, PanelGroup, PlanSpec


@dataclass(frozen=True, kw_only=True)
class Window:
    """When the next work on a panel may begin, in seconds since the plan's start.

    ``closes_s`` is ``None`` for what may wait for ever. ``aim_s`` is the moment that is wanted: the end of an exposure, the
    time of a look; for all else the opening.
    """

    group: str
    panel: str
    item: str
    kind: Kind
    opens_s: float
    closes_s: float | None
    aim_s: float
    look_after_min: float = 0.0

    @property
    def key(self) -> WorkKey:
        """The work that it is for."""
        return WorkKey(self.panel, self.item, self.kind, self.look_after_min, group=self.group)


def wanted_s(window: Window, planned_s: float) -> float:
    """When work is wanted: a lift at its exact time, a wipe-off as soon as it may; a coat or a look as planned, in its window.

    Parameters
    ----------
    window : Window
    planned_s : float
        When the plan begins it, seconds since the plan's start.
    """
    if window.kind not in ("coat", "look"):
        return window.aim_s
    latest_s = planned_s if window.closes_s is None else window.closes_s
    return max(window.opens_s, min(planned_s, latest_s))


def open_windows(
    spec: PlanSpec, done: Iterable[DoneWork], *, left_out: Iterable[tuple[str, str]] = ()
) -> list[Window]:
    """The windows of all panels on which work was begun, those that close first first; what never closes by its opening.

    Parameters
    ----------
    spec : PlanSpec
    done : iterable of DoneWork
        For what was done twice the last counts.
    left_out : iterable of (str, str)
        Panels, by group and name, that count for nothing any more.
    """
    book = DoneBook(done)
    out = set(left_out)
    found = [
        window
        for group in spec.groups
        for panel in group.panels
        if (group.id, panel) not in out
        for window in (*_next_coat(group, panel, book), *_exposures(group, panel, book))
    ]
    return sorted(found, key=lambda w: (w.opens_s if w.closes_s is None else w.closes_s, w.opens_s))


def _next_coat(group: PanelGroup, panel: str, book: DoneBook) -> Iterator[Window]:
    """The wiping or the coat that comes next, if a coat was put on before it; at most one."""
    for number in range(len(group.steps) - 1, -1, -1):
        step = group.steps[number]
        coat = book.of(group.id, panel, step.id, "coat")
        if coat is None:
            continue
        wiping = book.of(group.id, panel, step.id, "wipe")
        if step.wipe is not None and wiping is None:
            opens_s = coat.end_s + 60 * step.wipe.from_min
            yield Window(
                group=group.id,
                panel=panel,
                item=step.id,
                kind="wipe",
                opens_s=opens_s,
                closes_s=coat.end_s + 60 * step.wipe.to_min,
                aim_s=opens_s,
            )
        elif number + 1 < len(group.steps):
            end_s = coat.end_s if wiping is None else wiping.end_s
            opens_s = end_s + 3600 * step.recoat_from_h
            yield Window(
                group=group.id,
                panel=panel,
                item=group.steps[number + 1].id,
                kind="coat",
                opens_s=opens_s,
                closes_s=None if step.recoat_to_h is None else end_s + 3600 * step.recoat_to_h,
                aim_s=opens_s,
            )
        return


def _exposures(group: PanelGroup, panel: str, book: DoneBook) -> Iterator[Window]:
    for exposure in group.exposures:
        lay = book.of(group.id, panel, exposure.id, "lay")
        if lay is not None:
            yield from _spot(group, panel, exposure, lay, book)


def _spot(
    group: PanelGroup, panel: str, exposure: ExposureWork, lay: DoneWork, book: DoneBook
) -> Iterator[Window]:
    lift = book.of(group.id, panel, exposure.id, "lift")
    if lift is None:
        aim_s, tolerance_s = lay.end_s + 60 * exposure.duration_min, 60 * exposure.tolerance_min
        yield Window(
            group=group.id,
            panel=panel,
            item=exposure.id,
            kind="lift",
            opens_s=max(lay.end_s, aim_s - tolerance_s),
            closes_s=aim_s + tolerance_s,
            aim_s=aim_s,
        )
        return
    for look in exposure.looks:
        if book.of(group.id, panel, exposure.id, "look", look.after_min) is None:
            aim_s, tolerance_s = lift.end_s + 60 * look.after_min, 60 * look.tolerance_min
            yield Window(
                group=group.id,
                panel=panel,
                item=exposure.id,
                kind="look",
                opens_s=max(lift.end_s, aim_s - tolerance_s),
                closes_s=aim_s + tolerance_s,
                aim_s=aim_s,
                look_after_min=look.after_min,
            )
