"""Reading trials for screens, each with a fixed number of queries."""

from __future__ import annotations

from django.http import Http404

from nublet.web.people.models import AuditEntry, Person, SubjectKind
from nublet.web.people.policies import within
from nublet.web.trials.models import Trial


def find_trial(person: Person, trial_id: int) -> Trial:
    """Return a trial that the person may see. Raises ``Http404`` for any other, or ``PermissionDenied``."""
    trial = within(person, "see_trial", Trial.objects.all()).filter(pk=trial_id).first()
    if trial is None:
        raise Http404
    return trial


def list_history(trial: Trial) -> list[AuditEntry]:
    """Who did what to a trial, newest first; grades have a record of their own. One query."""
    entries = AuditEntry.objects.filter(
        shop=trial.shop_id, subject_kind=SubjectKind.TRIAL, subject_id=trial.pk
    )
    return list(entries.select_related("person").order_by("-pk"))
