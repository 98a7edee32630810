"""What is pressed at the bench: the only writer of the log, and of the deviations that are found in it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, cast
from uuid import UUID

from django.db import IntegrityError, transaction

from nublet.core.bench.judging import judge_block
from nublet.core.bench.keys import WorkKey
from nublet.core.bench.measures import MEASURES, check_measures
from nublet.core.bench.standing import StandingWork, standing_work
from nublet.core.errors import PlanError
from nublet.core.planning.chains import Kind
from nublet.core.quantities import say
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench.adapters import standing_columns, to_entry
from nublet.web.bench.clock import AHEAD, checked_moment
from nublet.web.bench.findings import keep_findings
from nublet.web.bench.mix_actions import is_for
from nublet.web.bench.models import Hands, Mix, PanelWork, Pour, WorkEntry, WorkEntryKind
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.bench.pour_actions import agent_of
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.models import Person
from nublet.web.trials.actions import lock_trial
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_MAX_REASON = 2000
_STANDING = ("begun_at", "ended_at", "skipped_because", "is_even", "hands_id", "mix_id", "pour_id", *MEASURES)


@dataclass(frozen=True, kw_only=True)
class BenchEntry:
    """One key press: what was done (``entry``) of which work, on which panels, when."""

    client_id: UUID
    entry: str
    kind: str
    item: str
    panels: Sequence[str]
    at: datetime
    look_after_min: float = 0.0
    nth: int = 1
    act: str = ""
    begun_at: datetime | None = None
    hands: int | None = None
    reason: str = ""
    measured: Mapping[str, Any] = field(default_factory=dict)
    undoes: UUID | None = None


def enter_work(actor: Person, trial_id: int, entry: BenchEntry) -> list[PanelWork]:
    """Add one entry to the log and bring what stands up to date; answers with what stands on its panels.

    The same ``client_id`` sent again changes nothing and answers as the first time.

    Raises
    ------
    Http404, PermissionDenied
    PlanError
        If there is no such panel or work, a time or a measure cannot be, or a reason is missing.
    ConflictError
        If the trial has not started, has no plan, or the ``client_id`` or the entry to take back belongs to other work.
    """
    try:
        with transaction.atomic():
            return _enter(actor, trial_id, entry)
    except IntegrityError:
        # Two requests raced with one client_id; the entry now exists, so go through once more.
        with transaction.atomic():
            return _enter(actor, trial_id, entry)


def _enter(actor: Person, trial_id: int, entry: BenchEntry) -> list[PanelWork]:
    trial = lock_trial(actor, trial_id, "log_work")
    if not trial.is_started:
        raise ConflictError(
            "This trial has not started, so its build-ups could still change under the brush. Start it under Prepare."
        )
    plan = standing_plan(trial)
    if plan is None:
        raise ConflictError("There is no plan to work by. Make one first.")
    earlier = WorkEntry.objects.select_related("undoes").filter(client_id=entry.client_id).first()
    if earlier is not None:
        if earlier.trial_id != trial.pk or not _says_the_same(earlier, entry):
            raise ConflictError("This entry's id belongs to other work. Reload the page and enter it again.")
        return _standing_rows(trial, earlier)
    panels = _find_panels(trial, entry.panels)
    row = WorkEntry(
        trial=trial,
        entry=entry.entry,
        kind=entry.kind,
        item=entry.item,
        look_after_min=entry.look_after_min,
        nth=entry.nth,
        act=entry.act,
        panels=[panel.code for panel in panels],
        at=checked_moment(entry.at, "at"),
        begun_at=None if entry.begun_at is None else checked_moment(entry.begun_at, "begun_at"),
        hands=_find_hands(trial, entry.hands),
        reason=_checked_reason(entry),
        measured=_checked_measures(trial, entry),
        undoes=_find_undone(trial, entry),
        client_id=entry.client_id,
        made_by=actor,
    )
    if row.begun_at is not None and row.begun_at > row.at:
        raise PlanError("It ended before it began. Check the two times.", field="begun_at")
    if row.undoes is not None:
        row.panels = row.undoes.panels
        panels = _find_panels(trial, row.panels)
    _check_is_planned(plan.spec, row)
    row.save()
    _bring_up_to_date(trial, row, panels)
    keep_findings(actor, trial, plan, [panel.code for panel in panels])
    return _standing_rows(trial, row)


def _bring_up_to_date(trial: Trial, entry: WorkEntry, panels: Sequence[TrialPanel]) -> None:
    """Write what stands of the entry's work on its panels."""
    entries = (
        WorkEntry.objects.filter(trial=trial, **_fields_of(entry)).select_related("undoes").order_by("pk")
    )
    listed = [(each.pk, to_entry(each)) for each in entries]
    stands = standing_work(each for _, each in listed)
    for code, boundary in _repeated(entry, panels).items():
        # What was done on the place before it is no work of this one.
        stands[code] = standing_work(each for pk, each in listed if pk > boundary).get(code, StandingWork())
    rows = {row.panel_id: row for row in PanelWork.objects.filter(panel__in=panels, **_fields_of(entry))}
    kept: list[PanelWork] = []
    for panel in panels:
        standing = stands.get(panel.code, StandingWork())
        if standing == StandingWork():
            continue
        row = rows.get(panel.pk) or PanelWork(panel=panel, **_fields_of(entry))
        for name, value in standing_columns(standing).items():
            setattr(row, name, value)
        kept.append(row)
    PanelWork.objects.filter(pk__in={row.pk for row in rows.values()} - {row.pk for row in kept}).delete()
    PanelWork.objects.bulk_create(row for row in kept if row.pk is None)
    PanelWork.objects.bulk_update((row for row in kept if row.pk is not None), _STANDING)


def _repeated(entry: WorkEntry, panels: Sequence[TrialPanel]) -> dict[str, int]:
    """Of panels on which the entry's test was repeated the number of the last entry of the place before. One query."""
    if entry.kind not in ("lay", "lift", "act", "look"):
        return {}
    rows = TrialSpot.objects.filter(panel__in=panels, exposure=entry.item, attempt__gt=1).order_by("attempt")
    return dict(rows.values_list("panel__code", "entries_after"))


def _standing_rows(trial: Trial, entry: WorkEntry) -> list[PanelWork]:
    return list(
        PanelWork.objects.filter(panel__trial=trial, panel__code__in=entry.panels, **_fields_of(entry))
        .select_related("panel", "mix", "hands")
        .order_by("pk")
    )


def _work_of(entry: WorkEntry | BenchEntry) -> WorkKey:
    """The work without its panel: an entry may be for several."""
    return WorkKey(
        "", entry.item, cast("Kind", entry.kind), float(entry.look_after_min), entry.nth, entry.act
    )


def _says_the_same(earlier: WorkEntry, entry: BenchEntry) -> bool:
    """Whether an entry is what was kept under its id. Moments may differ by what a clock that is ahead was put back."""
    undone = None if earlier.undoes is None else earlier.undoes.client_id
    takes_back = earlier.entry == WorkEntryKind.TAKE_BACK
    measured = {name: float(value) for name, value in entry.measured.items() if value is not None}
    return (
        _work_of(earlier) == _work_of(entry)
        and earlier.entry == entry.entry
        # What is taken back says itself which panels it was on.
        and (takes_back or set(earlier.panels) == set(entry.panels))
        and abs(earlier.at - entry.at) <= AHEAD
        and (earlier.begun_at is None) == (entry.begun_at is None)
        and (earlier.begun_at is None or abs(earlier.begun_at - (entry.begun_at or earlier.at)) <= AHEAD)
        and (earlier.hands_id, earlier.reason) == (entry.hands, entry.reason.strip())
        and earlier.measured == measured
        and undone == (entry.undoes if takes_back else None)
    )


def _fields_of(entry: WorkEntry) -> dict[str, Any]:
    return {
        "kind": entry.kind, "item": entry.item, "look_after_min": entry.look_after_min, "nth": entry.nth, "act": entry.act,
    }  # fmt: skip


def _find_panels(trial: Trial, codes: Sequence[str]) -> list[TrialPanel]:
    if not codes:
        raise PlanError("Say which panels: their codes.", field="panels")
    rows = {row.code: row for row in TrialPanel.objects.filter(trial=trial, code__in=codes)}
    missing = [code for code in codes if code not in rows]
    if missing:
        raise PlanError(f"This trial has no panel {missing[0]!r}. Reload the page.", field="panels")
    return [rows[code] for code in dict.fromkeys(codes)]


def _find_hands(trial: Trial, number: int | None) -> Hands | None:
    if number is None:
        return None
    row = Hands.objects.filter(shop=trial.shop_id, pk=number).first()
    if row is None:
        raise PlanError("These hands are not of your shop. Choose from the list.", field="hands")
    return row


def _find_undone(trial: Trial, entry: BenchEntry) -> WorkEntry | None:
    if entry.entry != WorkEntryKind.TAKE_BACK:
        return None
    row = WorkEntry.objects.filter(trial=trial, client_id=entry.undoes).first() if entry.undoes else None
    if row is None or _work_of(row) != _work_of(entry) or row.entry == WorkEntryKind.TAKE_BACK:
        raise ConflictError("There is no such entry to take back. Reload the page.", field="undoes")
    if WorkEntry.objects.filter(undoes=row).exists():
        raise ConflictError("This entry was taken back already. Reload the page.", field="undoes")
    return row


def _checked_reason(entry: BenchEntry) -> str:
    reason = entry.reason.strip()
    if entry.entry == WorkEntryKind.SKIP and not reason:
        raise PlanError("Say why it is skipped, such as 'panel dropped'.", field="reason")
    if len(reason) > _MAX_REASON:
        raise PlanError(f"Keep it to {_MAX_REASON} letters.", field="reason")
    return reason


def _checked_measures(trial: Trial, entry: BenchEntry) -> dict[str, Any]:
    numbers = {name: value for name, value in entry.measured.items() if name not in ("mix", "pour")}
    measured: dict[str, Any] = dict(check_measures(numbers, n_panels=len(entry.panels)))
    _check_block(trial, entry, measured.get("block_c"))
    number = entry.measured.get("mix")
    if number is not None:
        mix = Mix.objects.filter(trial=trial, pk=number).first()
        if mix is None or not is_for(mix, trial, entry.item, entry.panels):
            raise PlanError("This mix is not for this coat. Choose another.", field="measured.mix")
        measured["mix"] = int(number)
    number = entry.measured.get("pour")
    if number is not None:
        pour = Pour.objects.filter(trial=trial, pk=number).first()
        if pour is None or pour.agent != agent_of(trial, entry.item):
            raise PlanError("This pour is not for this test. Choose another.", field="measured.pour")
        measured["pour"] = int(number)
    return measured


def _check_block(trial: Trial, entry: BenchEntry, block_c: float | None) -> None:
    """Refuse a block that is off its temperature, where the tester wants it refused; else it is found as a deviation."""
    if block_c is None or trial.block_check != "refuse":
        return
    wanted = next((test.temperature_c for test in protocol_of(trial).tests if test.id == entry.item), None)
    says = None if wanted is None else judge_block(block_c, wanted)
    if says is not None:
        raise PlanError(
            say("{}: {} Bring it there first, then lay.", ", ".join(entry.panels), says),
            field="measured.block_c",
        )


def _check_is_planned(spec: Mapping[str, Any], entry: WorkEntry) -> None:
    """Refuse work that no recipe and no protocol of the plan knows; whether it is in order is judged, not refused."""
    codes = set(entry.panels)
    for group in spec["groups"]:
        own = codes & set(group["panels"])
        if not own:
            continue
        names = {"lay", "lift", "act", "look"}
        known = group["exposures"] if entry.kind in names else group["steps"]
        found = next((each for each in known if each["id"] == entry.item), None)
        if found is None or not _is_in(found, entry):
            raise PlanError(
                f"{entry.kind.capitalize()} {entry.item!r} is no work of panel {min(own)}. Reload the page.",
                field="item",
            )


def _is_in(exposure: Mapping[str, Any], entry: WorkEntry) -> bool:
    """Whether an exposure, or a coat, has the act or the look that an entry is for."""
    if entry.kind == "look":
        looks = {(look["after_min"], look.get("after", "")) for look in exposure.get("looks", [])}
        return (entry.look_after_min, entry.act) in looks
    if entry.entry == WorkEntryKind.EVEN:
        return entry.kind == "coat" and bool(exposure.get("ends_when_even"))
    if entry.kind == "act":
        return entry.act in {act["id"] for act in exposure.get("acts", [])}
    return not entry.act
