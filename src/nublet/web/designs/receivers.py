"""What happens to boards and panels when their trial changes."""

from __future__ import annotations

from typing import Any

from django.dispatch import receiver

from nublet.web.designs.actions import ensure_boards
from nublet.web.designs.models import TrialPanel
from nublet.web.trials.models import Trial
from nublet.web.trials.signals import design_dropped, trial_made, trial_saved


@receiver([trial_made, trial_saved])
def give_boards(sender: type[Trial], trial: Trial, **_: Any) -> None:
    """Every board that the trial asks for has a row."""
    ensure_boards(trial)


@receiver(design_dropped)
def drop_panels(sender: type[Trial], trial: Trial, **_: Any) -> None:
    """A design that no longer fits leaves no panel; its boards are kept."""
    TrialPanel.objects.filter(trial=trial).delete()
