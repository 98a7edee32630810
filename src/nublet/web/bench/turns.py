"""A panel's turn in an operation: what it is known by, whether it is still wanted, when, and in which window."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import cast

from nublet.core.bench.due import is_wanted, void_after
from nublet.core.bench.keys import WorkKey
from nublet.core.bench.windows import Window, open_windows
from nublet.core.planning.chains import Kind
from nublet.web.bench.adapters import BenchLog, key_of
from nublet.web.bench.models import PanelWork, PlannedOperation
from nublet.web.designs.models import TrialPanel


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
    found = {w.key.of_trial: w for w in open_windows(log.spec, log.done(), left_out=out)}
    return {key: window for key, window in found.items() if key not in given_up}


def spoiled_panels(trial_ids: Iterable[int]) -> dict[int, set[str]]:
    """Codes of panels that count for nothing any more, by trial. One query."""
    found: dict[int, set[str]] = defaultdict(set)
    rows = TrialPanel.objects.filter(trial__in=trial_ids, spoiled_at__isnull=False)
    for trial_id, code in rows.values_list("trial", "code"):
        found[trial_id].add(code)
    return found


def still_wanted(
    rows: Iterable[PlannedOperation], spoiled: set[str], worked: Mapping[WorkKey, PanelWork]
) -> list[PlannedOperation]:
    """The operations without the turns of spoiled panels and those that follow from work given up; what was worked on stays.

    Operations that keep no turn are left out.
    """
    void = void_after(key for key, work in worked.items() if work.skipped_because)
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
