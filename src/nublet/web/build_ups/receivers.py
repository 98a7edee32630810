"""What happens to build-ups when their trial changes."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Any

from django.dispatch import receiver

from nublet.core.materials.build_ups import CONTROL
from nublet.web.build_ups.actions import add_benchmarks, check_name_is_blind
from nublet.web.build_ups.adapters import to_full_build_ups
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.trials.models import Trial
from nublet.web.trials.signals import sections_named, trial_checked, trial_made


@receiver(trial_made)
def begin_with_control(sender: type[Trial], trial: Trial, **_: Any) -> None:
    """A trial begins with the bare control and the shop's benchmarks."""
    TrialBuildUp.objects.create(trial=trial, name=CONTROL.name, is_control=True)
    add_benchmarks(trial)


@receiver(trial_checked)
def keep_pairs_and_blind(sender: type[Trial], trial: Trial, fields: Collection[str], **_: Any) -> None:
    """Pairs name the trial's own build-ups, and its name gives none of them away. Raises ``NubletError``."""
    if not trial.pk:
        return
    rows = TrialBuildUp.objects.filter(trial=trial).select_related("version")
    own = {row.pk for row in rows}
    trial.pairs = [list(pair) for pair in trial.pairs if set(pair) <= own]
    if "name" in fields:
        check_name_is_blind(trial, to_full_build_ups(rows, trial.shop_id))


@receiver(sections_named)
def keep_sections_out(
    trial: Trial, follow: Callable[[Mapping[str, Any]], Mapping[str, Any]], **_: Any
) -> None:
    """Where a section is left out goes along with its name."""
    for row in TrialBuildUp.objects.filter(trial=trial):
        followed = list(follow(dict.fromkeys(row.sections_out)))
        if followed != row.sections_out:
            row.sections_out = followed
            row.save(update_fields=["sections_out"])
