"""Papers that were asked for: how far each has come, and what was made."""

from __future__ import annotations

from django.db import models

from nublet.web.people.models import Person, Shop


class JobState(models.TextChoices):
    """How far a job has come."""

    WAITING = "waiting"
    RUNNING = "running"
    DONE = "done"
    FAILED = "failed"
    STOPPED = "stopped"


class Job(models.Model):
    """A file that is made outside the request that asked for it.

    ``says`` is what it is in words; ``wants`` is what its task makes it from. ``n_done`` of ``n_all`` parts, pages as a rule, are
    made; ``n_all`` is 0 until that is known. ``trouble`` says why there is no file.
    """

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT)
    asked_by = models.ForeignKey(Person, on_delete=models.PROTECT)
    says = models.CharField(max_length=200)
    wants = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=JobState.choices, default=JobState.WAITING)
    n_done = models.PositiveIntegerField(default=0)
    n_all = models.PositiveIntegerField(default=0)
    is_stop_asked = models.BooleanField(default=False)
    trouble = models.TextField(blank=True)
    asked_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.CheckConstraint(condition=models.Q(state__in=JobState.values), name="job_state_is_known"),
        ]


class JobFile(models.Model):
    """What a job made. Apart from it, so that following a job reads no file."""

    job = models.OneToOneField(Job, on_delete=models.CASCADE, primary_key=True, related_name="file")
    name = models.CharField(max_length=160)
    media = models.CharField(max_length=80)
    content = models.BinaryField()
