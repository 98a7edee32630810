"""Drills: what was drawn for somebody, and what he read."""

from __future__ import annotations

from django.db import models

from nublet.web.people.models import Person


class Drill(models.Model):
    """A series of drawn marks of one response. ``seed`` makes the same drawings again."""

    person = models.ForeignKey(Person, on_delete=models.PROTECT, related_name="drills")
    response = models.CharField(max_length=30)
    seed = models.BigIntegerField()
    n_marks = models.PositiveSmallIntegerField()
    begun_at = models.DateTimeField()
    finished_at = models.DateTimeField(null=True)


class DrillAnswer(models.Model):
    """What was read on one mark of a drill. The first answer stands: a second look at the same drawing comes by itself."""

    drill = models.ForeignKey(Drill, on_delete=models.PROTECT, related_name="answers")
    nth = models.PositiveSmallIntegerField()
    value = models.DecimalField(max_digits=16, decimal_places=4)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["drill", "nth"], name="one_answer_a_mark")]
