"""Looks months away: when each falls due, by the log and the plan."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from nublet.core.bench.far import ActKey, FarLook, far_dates
from nublet.web.bench.adapters import BenchLog
from nublet.web.bench.looks_seen import looks_seen
from nublet.web.bench.models import PanelWork, PlannedOperation
from nublet.web.bench.words import WorkNames
from nublet.web.designs.models import TrialSpot
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class FarDate:
    """A look months away: of which test, on which panels, on which day."""

    what: str
    panels: tuple[str, ...]
    aim_at: datetime
    is_planned: bool


def far_dates_of(
    trial: Trial, log: BenchLog, rows: Iterable[PlannedOperation], names: WorkNames
) -> tuple[FarDate, ...]:
    """The dates in words; see :func:`far_looks_of`."""
    return tuple(
        FarDate(
            what=f"{names.tests[each.test]}, {each.look.name}",
            panels=each.panels,
            aim_at=each.aim_at,
            is_planned=each.is_planned,
        )
        for each in far_looks_of(trial, log, rows)
    )


def far_looks_of(trial: Trial, log: BenchLog, rows: Iterable[PlannedOperation]) -> list[FarLook]:
    """The far looks of a trial's panels that are not read yet. At most two queries, none where it has no such look.

    Parameters
    ----------
    trial : Trial
    log : BenchLog
    rows : iterable of PlannedOperation
        Of the plan that stands.
    """
    protocol = protocol_of(trial)
    if not any(look.is_far for look in protocol.all_looks):
        return []
    spots = TrialSpot.objects.filter(
        panel__trial=trial, panel__spoiled_at__isnull=True, left_out_at__isnull=True
    )
    return far_dates(
        protocol,
        spots.values_list("panel__code", "exposure"),
        _ended(log.works),
        {
            (str(code), row.item, row.act): log.moment(end_s)
            for row in rows
            if row.kind == "act"
            for code, _, end_s in row.panels
        },
        seen=looks_seen(trial),
    )


def _ended(works: Sequence[PanelWork]) -> dict[ActKey, datetime]:
    return {
        (work.panel.code, work.item, work.act): work.ended_at
        for work in works
        if work.kind == "act" and work.ended_at is not None and not work.skipped_because
    }
