"""What readings say to a change of their trial."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import datetime
from typing import Any

from django.db.models import Exists, Min, OuterRef
from django.db.models.functions import Coalesce
from django.dispatch import receiver

from nublet.web.api.conflicts import ConflictError
from nublet.web.bench.signals import (
    asks_what_was_seen,
    asks_which_values_were_read,
    asks_which_were_read,
)
from nublet.web.people.models import Person
from nublet.web.readings.models import Reading
from nublet.web.trials.models import Trial
from nublet.web.trials.signals import asks_whether_read, judges_chosen


@receiver(asks_whether_read)
def tell_whether_read(sender: type[Trial], trial: Trial, **_: Any) -> bool:
    """Whether a value of the trial stands. One query."""
    return Reading.objects.filter(spot__panel__trial=trial, value__isnull=False).exists()


@receiver(asks_what_was_seen)
def tell_what_was_seen(sender: type[Trial], trial: Trial, **_: Any) -> dict[tuple[str, str, str], datetime]:
    """At which looks something was read, by panel and exposure, and when first. One query."""
    rows = (
        Reading.objects.filter(spot__panel__trial=trial, spot__left_out_at__isnull=True, value__isnull=False)
        .order_by()
        .values("spot__panel__code", "spot__exposure", "look")
        .annotate(first=Min(Coalesce("seen_at", "changed_at")))
    )
    return {(row["spot__panel__code"], row["spot__exposure"], row["look"]): row["first"] for row in rows}


@receiver(asks_which_values_were_read)
def tell_which_values_were_read(
    sender: type[Trial], trial: Trial, tests: Sequence[str], **_: Any
) -> set[tuple[str, str, str, str]]:
    """What was read of some tests, by panel, look and response. One query."""
    rows = Reading.objects.filter(
        spot__panel__trial=trial,
        spot__exposure__in=tests,
        spot__left_out_at__isnull=True,
        value__isnull=False,
    )
    return set(rows.values_list("spot__panel__code", "spot__exposure", "look", "response").distinct())


@receiver(asks_which_were_read)
def tell_which_were_read(sender: type[Trial], trials: Collection[int], **_: Any) -> set[int]:
    """Which trials have readings. One query."""
    read = Exists(Reading.objects.filter(spot__panel__trial=OuterRef("pk"), value__isnull=False))
    return set(Trial.objects.filter(read, pk__in=trials).values_list("pk", flat=True))


@receiver(judges_chosen)
def keep_who_graded(sender: type[Trial], trial: Trial, judges: Sequence[Person], **_: Any) -> None:
    """Whoever has graded stays a judge. Raises ``ConflictError``."""
    graded = Person.objects.filter(readings__spot__panel__trial=trial).exclude(
        pk__in=[judge.pk for judge in judges]
    )
    for judge in graded.distinct()[:1]:
        raise ConflictError(
            f"{judge.display_name} has graded panels of this trial and cannot be taken off it.",
            field="judges",
        )
