"""What readings say to a change of their trial."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.dispatch import receiver

from nublet.web.api.conflicts import ConflictError
from nublet.web.people.models import Person
from nublet.web.trials.models import Trial
from nublet.web.trials.signals import judges_chosen


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
