"""A panel's turn in an operation: what it is known by, whether it is still wanted, when, and in which window."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from nublet.core.bench.due import is_wanted, void_after, vouched_for
from nublet.core.bench.evenness import NOTHING_CLOSED, Closed, void_by
from nublet.core.bench.keys import WorkKey
from nublet.core.bench.windows import Window, open_windows, wanted_s
from nublet.core.planning.chains import Kind
from nublet.web.bench.adapters import BenchLog, key_of
from nublet.web.bench.models import PanelWork, PlannedOperation
from nublet.web.designs.models import TrialPanel


@dataclass(frozen=True, kw_only=True)
class PanelTurn:
    """One panel's turn in an operation: planned, what was done, and the window that stands open for it."""

    code: str
    start_at: datetime
    end_at: datetime
    begun_at: datetime | None
    ended_at: datetime | None
    skipped_because: str
    is_even: bool
    opens_at: datetime | None
    closes_at: datetime | None
    aim_at: datetime | None
    weight_before_g: float | None
    weight_after_g: float | None


def turn_key(row: PlannedOperation, code: str) -> WorkKey:
    """What a panel's turn in an operation is known by in the log."""
    return WorkKey(code, row.item, cast("Kind", row.kind), row.look_after_min, row.nth, row.act)


def is_done(row: PlannedOperation, works: Mapping[WorkKey, PanelWork]) -> bool:
    """Whether each of its panels was done or given up."""
    found = (works.get(turn_key(row, panel[0])) for panel in row.panels)
    return all(work is not None and work.ended_at is not None for work in found)


def worked_at(row: PlannedOperation, works: Mapping[WorkKey, PanelWork]) -> datetime:
    """When an operation was begun, or will be by the plan."""
    begun = [
        work.begun_at
        for panel in row.panels
        if (work := works.get(turn_key(row, panel[0]))) is not None and work.begun_at is not None
    ]
    return min(begun, default=row.start_at)


def windows_of(log: BenchLog, left_out: Sequence[str]) -> dict[WorkKey, Window]:
    """The windows that stand open or open later, by the work that they are for; ``left_out`` are panels' codes."""
    out = [(log.group_of(code) or "", code) for code in left_out]
    given_up = {key_of(row) for row in log.works if row.skipped_because}
    found = {w.key.of_trial: w for w in open_windows(log.spec, log.done(), left_out=out, closed=log.closed)}
    return {key: window for key, window in found.items() if key not in given_up}


def spoiled_panels(trial_ids: Iterable[int]) -> dict[int, set[str]]:
    """Codes of panels that count for nothing any more, by trial. One query."""
    found: dict[int, set[str]] = defaultdict(set)
    rows = TrialPanel.objects.filter(trial__in=trial_ids, spoiled_at__isnull=False)
    for trial_id, code in rows.values_list("trial", "code"):
        found[trial_id].add(code)
    return found


def still_wanted(
    rows: Iterable[PlannedOperation],
    spoiled: set[str],
    worked: Mapping[WorkKey, PanelWork],
    closed: Closed = NOTHING_CLOSED,
) -> list[PlannedOperation]:
    """The operations without the turns of spoiled panels, those that follow from work given up, what is closed, and preparing that a coat vouches for.

    What was worked on stays.

    Operations that keep no turn are left out.
    """
    given_up = (key for key, work in worked.items() if work.skipped_because)
    void = void_after(given_up) | vouched_for(worked) | void_by(closed)
    kept = []
    for row in rows:
        row.panels = [
            panel
            for panel in row.panels
            if is_wanted(turn_key(row, panel[0]), worked=worked, spoiled=spoiled, void=void)
        ]
        if row.panels:
            kept.append(row)
    return kept


def panel_turn(
    row: PlannedOperation,
    panel: Sequence[Any],
    log: BenchLog,
    works: Mapping[WorkKey, PanelWork],
    windows: Mapping[WorkKey, Window],
) -> PanelTurn:
    """One panel's turn: planned, as it was done, and the window that stands open for it."""
    code, start_s, end_s = panel
    work = works.get(turn_key(row, code))
    window = windows.get(turn_key(row, code))
    weighed = [works.get(WorkKey(code, row.item, "weigh", nth=nth)) for nth in (1, 2)]
    before, after = (None if each is None else each.weight_g for each in weighed)
    is_closing = window is not None and window.closes_s is not None
    return PanelTurn(
        code=code,
        start_at=log.moment(start_s),
        end_at=log.moment(end_s),
        begun_at=None if work is None else work.begun_at,
        ended_at=None if work is None else work.ended_at,
        skipped_because="" if work is None else work.skipped_because,
        is_even=work is not None and work.is_even,
        opens_at=None if window is None else log.moment(window.opens_s),
        closes_at=log.moment(window.closes_s or 0) if window is not None and is_closing else None,
        aim_at=None if window is None else log.moment(wanted_s(window, start_s)),
        weight_before_g=before,
        weight_after_g=after,
    )
