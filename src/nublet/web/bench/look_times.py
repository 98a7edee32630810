"""When each look falls due on each of a trial's pieces, by the log; of a trial whose times are kept on paper all are open."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import NamedTuple

from nublet.core.bench.look_times import ALWAYS, Act, LookTime, PieceLog, look_time
from nublet.core.bench.taken import last_coat_at
from nublet.core.materials.panel_coats import PanelCoat, panel_coats
from nublet.core.planning.trial_exposures import LookWindow, MendTime, look_window
from nublet.core.planning.trial_work import cure_after_last_step_h, mend_time
from nublet.core.protocols.looks import BEFORE, COATED, Look
from nublet.core.protocols.tests import Protocol, Test
from nublet.web.bench.models import PanelWork
from nublet.web.build_ups.adapters import sections_by_build_up, to_recipes
from nublet.web.designs.models import TrialPanel
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class _Coated:
    """What a build-up's panels are coated with, and how it is mended. Bare wood and glass have no coats."""

    coats: Sequence[PanelCoat] = ()
    cure_h: float = 0.0
    mend: MendTime | None = None


class _Work(NamedTuple):
    """What a look may count from, by the names of the log's columns."""

    item: str
    kind: str
    act: str
    begun_at: datetime | None
    ended_at: datetime | None
    skipped_because: str
    is_even: bool


_BARE = _Coated()
# Of a piece that the log does not know; what it is coated with only matters where the looks count from that.
_NOTHING = PieceLog()


@dataclass(frozen=True, kw_only=True)
class TrialLooks:
    """When each look of a trial falls due; ``logs`` and ``coated`` are by the pieces' codes."""

    protocol: Protocol
    is_open: bool
    logs: Mapping[str, PieceLog]
    coated: Mapping[str, _Coated]
    _windows: dict[tuple[str, str, MendTime | None], LookWindow | None] = field(default_factory=dict)

    def time(self, code: str, test: Test, look: Look, now: datetime) -> LookTime:
        """When one look of one test falls due on one piece."""
        if self.is_open:
            return ALWAYS
        mend = self.coated.get(code, _BARE).mend
        key = test.id, look.id, mend
        if key not in self._windows:
            self._windows[key] = look_window(test, look, self.protocol.looks_of(test), mend=mend)
        return look_time(test.id, look, self._windows[key], self.logs.get(code, _NOTHING), now)


def looks_of_trials(trials: Iterable[Trial], *, codes: Sequence[str] | None = None) -> dict[int, TrialLooks]:
    """When the looks of some trials fall due, by trial; of all their pieces, or of those with some codes.

    One query, and four more a trial whose looks count from its coats or from a mend.
    """
    listed = list(trials)
    logged = [trial for trial in listed if not trial.times_on_paper]
    works = _works_of(logged, codes)
    found = {}
    for trial in listed:
        protocol = protocol_of(trial)
        coated = _coated(trial, codes) if trial in logged and _counts_from_coats(protocol) else {}
        found[trial.pk] = TrialLooks(
            protocol=protocol,
            is_open=trial.times_on_paper,
            logs={
                code: _log_of(works[trial.pk].get(code, ()), coated.get(code, _BARE))
                for code in {*works[trial.pk], *coated}
            },
            coated=coated,
        )
    return found


def _works_of(trials: Sequence[Trial], codes: Sequence[str] | None) -> dict[int, dict[str, list[_Work]]]:
    found: dict[int, dict[str, list[_Work]]] = defaultdict(lambda: defaultdict(list))
    if not trials:
        return found
    rows = PanelWork.objects.filter(panel__trial__in=trials, kind__in=["coat", "wipe", "lay", "lift", "act"])
    if codes is not None:
        rows = rows.filter(panel__code__in=codes)
    # Thousands of a large trial: without an object each.
    for trial_id, code, *work in rows.order_by("pk").values_list(
        "panel__trial", "panel__code", *_Work._fields
    ):
        found[trial_id][code].append(_Work(*work))
    return found


def _counts_from_coats(protocol: Protocol) -> bool:
    """Whether a look needs to know when a panel was coated and had cured, or how it is mended."""
    # Of one name tests may have looks of their own.
    return any(
        look.after in (BEFORE, COATED) for test in protocol.tests for look in protocol.looks_of(test)
    ) or any(act.by_family for test in protocol.tests for act in test.acts)


def _coated(trial: Trial, codes: Sequence[str] | None) -> dict[str, _Coated]:
    """What each piece is coated with, by code."""
    panels = TrialPanel.objects.filter(trial=trial, slip_test__isnull=True).select_related(
        "build_up__version"
    )
    if codes is not None:
        panels = panels.filter(code__in=codes)
    own = {panel.code: panel.build_up for panel in panels}
    rows = {row.pk: row for row in own.values()}
    recipes = to_recipes(rows.values(), trial.shop_id)
    sections = sections_by_build_up(trial, rows.values())
    known = {
        pk: _Coated(
            coats=panel_coats(recipe, sections[pk]),
            cure_h=cure_after_last_step_h(recipe, sections[pk]),
            mend=mend_time(recipe),
        )
        for pk, recipe in recipes.items()
    }
    return {code: known.get(row.pk, _BARE) for code, row in own.items()}


def _log_of(rows: Sequence[_Work], coated: _Coated) -> PieceLog:
    """What was done to one piece."""
    begun: dict[tuple[str, Act], datetime] = {}
    ended: dict[tuple[str, Act], datetime] = {}
    given_up = set()
    coats: dict[str, datetime] = {}
    even: set[str] = set()
    coating = []
    for row in rows:
        if row.kind in ("coat", "wipe"):
            if row.is_even:
                even.add(row.item)
            elif row.begun_at is not None and not row.skipped_because:
                coating.append(row.begun_at)
                if row.ended_at is not None:
                    coats[row.item] = max(row.ended_at, coats.get(row.item, row.ended_at))
            continue
        key = row.item, (row.kind, row.act)
        if row.skipped_because:
            given_up.add(key)
            continue
        if row.begun_at is not None:
            begun[key] = row.begun_at
        if row.ended_at is not None:
            ended[key] = row.ended_at
    coated_at = last_coat_at(coated.coats, coats, even)
    return PieceLog(
        begun=begun,
        ended=ended,
        given_up=given_up,
        coating_at=min(coating, default=None),
        coated_at=coated_at,
        has_coats=bool(coated.coats),
        cured_at=None if coated_at is None else coated_at + timedelta(hours=coated.cure_h),
    )
