"""What becomes of a spot that went wrong: left out, counted again, or repeated on a spare place of its panel.

A test stands on each section of a panel and is done on all of them at once, as the log tells of it; so it is left out, and repeated, on
all of them too.
"""

from __future__ import annotations

from typing import cast

from django.db import transaction
from django.db.models import Q

from nublet.core.design.areas import Side
from nublet.core.design.spare import FreeArea, StandingSite, find_spare
from nublet.core.errors import DesignError
from nublet.core.protocols.prompts import n_values
from nublet.core.quantities import amount, say
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import clock
from nublet.web.bench.models import PanelWork, WorkEntry
from nublet.web.designs.deviations import deviate, find_panel, lock_started
from nublet.web.designs.models import DeviationKind, TrialDeviation, TrialPanel, TrialSpot
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_EXPOSING = ("lay", "lift", "act", "look")


@transaction.atomic
def leave_spot_out(actor: Person, trial_id: int, *, panel: str, exposure: str, reason: str) -> TrialDeviation:
    """Leave a test out on one panel: its readings are kept, and count for nothing from now on.

    Raises
    ------
    Http404, PermissionDenied
    DesignError
        If there is no such spot, or the reason is missing.
    ConflictError
        If it is left out already, or the trial has not started.
    """
    trial = lock_started(actor, trial_id)
    row = find_panel(trial, panel)
    spots = _standing_spots(row, exposure)
    TrialSpot.objects.filter(pk__in=[spot.pk for spot in spots]).update(left_out_at=clock.now())
    return deviate(
        actor,
        trial,
        DeviationKind.SPOT_LEFT_OUT,
        f"{row.code}, {exposure}: left out, and counts for nothing.",
        reason,
        panel=row,
        spoils_exposure=exposure,
    )


@transaction.atomic
def count_spot_again(actor: Person, trial_id: int, *, panel: str, exposure: str) -> None:
    """Let a test count again that was left out on one panel. The deviation is withdrawn, not deleted.

    Raises
    ------
    Http404, PermissionDenied
    ConflictError
        If it is not left out, or was repeated on another place meanwhile.
    """
    trial = lock_started(actor, trial_id)
    row = find_panel(trial, panel)
    told = TrialDeviation.objects.filter(
        trial=trial,
        panel=row,
        kind=DeviationKind.SPOT_LEFT_OUT,
        spoils_exposure=exposure,
        withdrawn_at__isnull=True,
    )
    spots = TrialSpot.objects.filter(panel=row, exposure=exposure)
    last = max(spots.values_list("attempt", flat=True), default=0)
    out = spots.filter(attempt=last, left_out_at__isnull=False)
    if not out.exists() or not told.exists():
        raise ConflictError(f"{exposure} on {row.code} is not left out. Reload the page.", field="panel")
    out.update(left_out_at=None)
    for deviation in told:
        deviation.withdrawn_at = clock.now()
        deviation.save()
        record(actor, "withdraw_deviation", trial, says=deviation.says)


@transaction.atomic
def repeat_spot(actor: Person, trial_id: int, *, panel: str, exposure: str, reason: str) -> TrialDeviation:
    """Repeat a test on a spare place of its panel: what was read on the old place is kept and counts for nothing.

    What the log says of it so far is of the old place; the test is to be done again, from its first act.

    Raises
    ------
    Http404, PermissionDenied
    DesignError
        If there is no such spot, no room for another, or the reason is missing.
    ConflictError
        If the trial has not started.
    """
    trial = lock_started(actor, trial_id)
    row = find_panel(trial, panel)
    if row.is_spoiled:
        raise ConflictError(f"Panel {row.code} is spoiled. Replace it instead.", field="panel")
    spots = _latest_spots(row, exposure)
    places = [_spare_place(trial, row, spot) for spot in spots]
    was = _say_log(row, exposure)
    last_entry = WorkEntry.objects.filter(trial=trial).order_by("-pk").values_list("pk", flat=True).first()
    fresh = []
    protocol = protocol_of(trial)
    test = protocol.test(exposure)
    looks = protocol.looks_of(test)
    for spot, (x, y) in zip(spots, places, strict=True):
        TrialSpot.objects.filter(pk=spot.pk).update(left_out_at=spot.left_out_at or clock.now())
        spot.pk, spot.left_out_at = None, None
        spot.x_mm, spot.y_mm = x, y
        spot.attempt += 1
        spot.entries_after = last_entry or 0
        spot.n_judged, spot.n_by_hands = (
            n_values(test, looks, by="judges"),
            n_values(test, looks, by="hands"),
        )
        fresh.append(spot)
    TrialSpot.objects.bulk_create(fresh)
    _forget_old_place(trial, row, exposure, actor)
    return deviate(
        actor,
        trial,
        DeviationKind.SPOT_REPEATED,
        f"{row.code}, {exposure}: repeated on a spare place of the panel{was}.",
        reason,
        panel=row,
    )


def _forget_old_place(trial: Trial, row: TrialPanel, exposure: str, actor: Person) -> None:
    """What stood of the old place, and what followed from it, is over; its entries stay."""
    PanelWork.objects.filter(panel=row, item=exposure, kind__in=_EXPOSING).delete()
    old = TrialDeviation.objects.filter(trial=trial, panel=row, withdrawn_at__isnull=True).exclude(
        kind=DeviationKind.PANEL_REPLACED
    )
    for deviation in old.filter(Q(spoils_exposure=exposure) | Q(found_key__isnull=False)):
        # A key names what was missed, then the test: "late-lift wine-1h", "skipped lay wine-1h 0".
        if deviation.spoils_exposure != exposure and exposure not in (deviation.found_key or "").split(" "):
            continue
        deviation.withdrawn_at = clock.now()
        deviation.save()
        record(actor, "withdraw_deviation", trial, says=deviation.says)


def _standing_spots(row: TrialPanel, exposure: str) -> list[TrialSpot]:
    spots = list(TrialSpot.objects.filter(panel=row, exposure=exposure, left_out_at__isnull=True))
    if not spots and TrialSpot.objects.filter(panel=row, exposure=exposure).exists():
        raise ConflictError(f"{exposure} on {row.code} is left out already.", field="panel")
    if not spots:
        known = TrialSpot.objects.filter(panel=row).values_list("exposure", flat=True).distinct()
        raise DesignError(
            f"Panel {row.code} has no spot {exposure!r}. It has: {', '.join(sorted(known)) or 'none'}.",
            field="exposure",
        )
    return spots


def _latest_spots(row: TrialPanel, exposure: str) -> list[TrialSpot]:
    """The spots of the last attempt, whether they still count or not."""
    spots = list(TrialSpot.objects.filter(panel=row, exposure=exposure).order_by("place", "-attempt"))
    if not spots:
        raise DesignError(f"Panel {row.code} has no spot {exposure!r}.", field="exposure")
    last = max(spot.attempt for spot in spots)
    return [spot for spot in spots if spot.attempt == last]


def _spare_place(trial: Trial, row: TrialPanel, spot: TrialSpot) -> tuple[float, float]:
    protocol = protocol_of(trial)
    test = protocol.test(spot.exposure)
    if not test.site.is_placed:
        raise DesignError(
            f"{test.short_name} takes all that it stands on, so that {row.code} has no spare place for it. Replace the panel.",
            field="exposure",
        )
    area = FreeArea(
        x_mm=0, y_mm=0, length_mm=trial.panel_length_mm, width_mm=trial.panel_width_mm
    )  # fmt: skip
    if spot.place:
        section = row.sections[spot.place - 1]
        area = FreeArea(
            **{name: section[name] for name in ("x_mm", "y_mm", "length_mm", "width_mm")}
        )  # fmt: skip
    standing = TrialSpot.objects.filter(panel=row, side=cast("Side", spot.side))
    found = find_spare(
        test,
        area,
        [
            StandingSite(test=protocol.test(each.exposure), x_mm=each.x_mm, y_mm=each.y_mm)
            for each in standing
            if protocol.test(each.exposure).site.is_placed
        ],
        margin_mm=trial.margin_mm,
    )
    if found is None:
        raise DesignError(
            say(
                "There is no spare place for {} on {} that keeps {} from all others. Replace the panel.",
                test.short_name,
                row.code,
                amount("millimetres", trial.margin_mm),
            ),
            field="panel",
        )
    return found


def _say_log(row: TrialPanel, exposure: str) -> str:
    """What the log told of the old place, in words."""
    works = PanelWork.objects.filter(
        panel=row, item=exposure, kind__in=_EXPOSING, begun_at__isnull=False
    ).order_by("begun_at")
    says = [
        f"{work.act or work.kind} {work.begun_at:%Y-%m-%d %H:%M}"
        for work in works
        if work.begun_at is not None
    ]
    return f" (the first: {', '.join(says)} UTC)" if says else ""
