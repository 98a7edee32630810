"""Which windows stand open, or are about to: what each panel waits for now, by what was done to it.

These are the label's and the protocol's own windows, as judged by :mod:`nublet.core.bench.judging`; a plan may keep to
narrower ones.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from nublet.core.bench.evenness import NOTHING_CLOSED, Closed, as_it_goes
from nublet.core.bench.keys import DoneBook, DoneWork, WorkKey
from nublet.core.planning.chains import Kind
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.spec import PanelGroup, PlanSpec


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
    act: str = ""

    @property
    def key(self) -> WorkKey:
        """The work that it is for."""
        return WorkKey(self.panel, self.item, self.kind, self.look_after_min, act=self.act, group=self.group)


def wanted_s(window: Window, planned_s: float) -> float:
    """When work is wanted: a lift at its exact time, a wipe-off as soon as it may; a coat or a look as planned, in its window.

    Parameters
    ----------
    window : Window
    planned_s : float
        When the plan begins it, seconds since the plan's start.
    """
    # An act that ends something timed, such as taking out what was boiled, is as exact as a lift.
    is_exact = (
        window.aim_s > window.opens_s if window.kind == "act" else window.kind not in ("work", "coat", "look")
    )
    if is_exact:
        return window.aim_s
    latest_s = planned_s if window.closes_s is None else window.closes_s
    return max(window.opens_s, min(planned_s, latest_s))


def open_windows(
    spec: PlanSpec,
    done: Iterable[DoneWork],
    *,
    left_out: Iterable[tuple[str, str]] = (),
    closed: Closed = NOTHING_CLOSED,
) -> list[Window]:
    """The windows of all panels on which work was begun, those that close first first; what never closes by its opening.

    Parameters
    ----------
    spec : PlanSpec
    done : iterable of DoneWork
        For what was done twice the last counts.
    left_out : iterable of (str, str)
        Panels, by group and name, that count for nothing any more.
    closed : Closed
        Steps that are no work of a panel any more.
    """
    book = DoneBook(done)
    out = set(left_out)
    found = [
        window
        for group in spec.groups
        for panel in group.panels
        if (group.id, panel) not in out
        for window in (
            *_next_coat(as_it_goes(group, panel, closed), panel, book),
            *_exposures(group, panel, book),
        )
    ]
    return sorted(found, key=lambda w: (w.opens_s if w.closes_s is None else w.closes_s, w.opens_s))


def _next_coat(group: PanelGroup, panel: str, book: DoneBook) -> Iterator[Window]:
    """The wiping or the coat that comes next, if a coat was put on before it; at most one."""
    for number in range(len(group.steps) - 1, -1, -1):
        step = group.steps[number]
        coat = book.of(group.id, panel, step.id, step.kind)
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
                kind=group.steps[number + 1].kind,
                opens_s=opens_s,
                closes_s=None if step.recoat_to_h is None else end_s + 3600 * step.recoat_to_h,
                aim_s=opens_s,
            )
        return


def _exposures(group: PanelGroup, panel: str, book: DoneBook) -> Iterator[Window]:
    for exposure in group.exposures:
        n_done = book.n_acts(group.id, panel, exposure)
        if n_done:
            yield from _next_act(group, panel, exposure, n_done, book)
            yield from _next_looks(group, panel, exposure, n_done, book)


def _next_act(
    group: PanelGroup, panel: str, exposure: ExposureWork, n_done: int, book: DoneBook
) -> Iterator[Window]:
    """The act that comes next; none after the last."""
    chain = exposure.chain
    before = book.of_act(group.id, panel, exposure.id, chain[n_done - 1])
    if before is None or n_done >= len(chain):
        return
    least, most = chain[n_done - 1].then_min or (0.0, None)
    wanted = chain[n_done - 1].wanted_min
    following = chain[n_done]
    opens_s = before.end_s + max(0.0, 60 * least)
    yield Window(
        group=group.id,
        panel=panel,
        item=exposure.id,
        kind=following.kind,
        act=following.id if following.kind == "act" else "",
        opens_s=opens_s,
        closes_s=None if most is None else before.end_s + 60 * most,
        aim_s=opens_s if wanted is None else before.end_s + 60 * wanted,
    )


def _next_looks(
    group: PanelGroup, panel: str, exposure: ExposureWork, n_done: int, book: DoneBook
) -> Iterator[Window]:
    """The looks after what was done: those before an act that was done since are over."""
    chain = exposure.chain
    anchor = chain[n_done - 1]
    after = book.of_act(group.id, panel, exposure.id, anchor)
    is_last = n_done == len(chain)
    for look in exposure.looks:
        is_its = look.after == anchor.id or (is_last and not look.after)
        if after is None or not is_its or book.of_look(group.id, panel, exposure.id, look) is not None:
            continue
        aim_s, tolerance_s = after.end_s + 60 * look.after_min, 60 * look.tolerance_min
        yield Window(
            group=group.id,
            panel=panel,
            item=exposure.id,
            kind="look",
            opens_s=max(after.end_s, aim_s - tolerance_s),
            closes_s=aim_s + tolerance_s,
            aim_s=aim_s,
            look_after_min=look.after_min,
            act=look.after,
        )
