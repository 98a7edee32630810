"""What a pass is due for: which of its panels' turns are still wanted, and by when the next must be done."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

from nublet.core.bench.keys import VOID_WITHOUT, WorkKey
from nublet.core.bench.windows import Window, wanted_s
from nublet.core.materials.doings import FINISHING, PREPARING
from nublet.core.planning.chains import Kind

# Due things are shown this long ahead; what may wait for ever is shown no longer than so long after it could begin.
AHEAD_S = 12 * 3600.0
OVERDUE_S = 36 * 3600.0

_COATING = ("abrade", "weigh", "coat", "wipe")
Void = frozenset[tuple[str, str, Kind]]


def void_after(given_up: Iterable[WorkKey]) -> Void:
    """Panel, item and kind of all that is no work any more because something before it was given up."""
    return frozenset(
        (key.panel, key.item, follower) for key in given_up for follower in VOID_WITHOUT.get(key.kind, ())
    )


def vouched_for(worked: Iterable[WorkKey]) -> Void:
    """Preparing and finishing that nobody wrote down and that was done all the same: the panel has gone further since."""
    further: dict[str, bool] = {}
    for key in worked:
        if key.kind != "work":
            further[key.panel] = further.get(key.panel, False) or key.kind not in _COATING
    return frozenset(
        (panel, item, "work")
        for panel, is_exposed in further.items()
        for item in (*PREPARING, *(FINISHING if is_exposed else ()))
    )


def is_wanted(key: WorkKey, *, worked: Collection[WorkKey], spoiled: Collection[str], void: Void) -> bool:
    """Whether a panel's turn is still wanted. What was worked on stays, whatever came of the panel."""
    return key in worked or not (key.panel in spoiled or (key.panel, key.item, key.kind) in void)


@dataclass(frozen=True, kw_only=True)
class Due:
    """When a pass is due, in seconds since the plan's start; as in :class:`nublet.core.bench.windows.Window`.

    ``is_window`` is false for work that was planned and waits for nothing: it is due when the plan begins it.
    """

    panels: tuple[str, ...]
    opens_s: float
    closes_s: float | None
    aim_s: float
    is_window: bool


def due_of_pass(
    left: Sequence[tuple[WorkKey, float]], windows: Mapping[WorkKey, Window], *, start_s: float, now_s: float
) -> Due | None:
    """When a pass is due, or ``None`` where that is too far off to say.

    Parameters
    ----------
    left : sequence of (WorkKey, float)
        The turns that are not done, each with the second at which the plan begins it.
    windows : mapping
        Those that stand open, or open later.
    start_s : float
        When the plan begins the pass.
    now_s : float
    """
    planned_s = {key.panel: at for key, at in left}
    timed = [windows[key] for key, _ in left if key in windows]
    if not timed:
        if not left or abs(start_s - now_s) > AHEAD_S:
            return None
        codes = tuple(key.panel for key, _ in left)
        return Due(panels=codes, opens_s=start_s, closes_s=None, aim_s=start_s, is_window=False)
    first = min(timed, key=lambda window: window.opens_s if window.closes_s is None else window.closes_s)
    if first.opens_s > now_s + AHEAD_S or (first.closes_s is None and first.opens_s <= now_s - OVERDUE_S):
        return None
    return Due(
        panels=tuple(window.panel for window in timed),
        opens_s=first.opens_s,
        closes_s=first.closes_s,
        aim_s=wanted_s(first, planned_s[first.panel]),
        is_window=True,
    )
