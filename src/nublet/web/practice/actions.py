"""Beginning a drill, answering it, and saying who may see how it went: the only writer of drills."""

from __future__ import annotations

import secrets
from datetime import datetime
from decimal import Decimal

from django.db import transaction
from django.http import Http404

from nublet.core.errors import ReadingsError
from nublet.core.protocols.responses import RESPONSES
from nublet.core.simulation.marks import draw_mark, plan_drill, true_values
from nublet.web.api.conflicts import ConflictError
from nublet.web.bench import clock
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.practice.models import Drill, DrillAnswer
from nublet.web.practice.selectors import marks_of, rng_of


def begin_drill(
    person: Person, *, response: str, n_marks: int, seed: int | None = None, at: datetime | None = None
) -> Drill:
    """Begin a drill of drawn marks.

    Parameters
    ----------
    person : Person
    response : str
    n_marks : int
        5 to 60.
    seed : int, optional
        For the same drawings again; by default others each time.
    at : datetime, optional
        By default now.

    Raises
    ------
    ReadingsError
        If the response cannot be drawn, or the number of marks is out of range.
    """
    seed = secrets.randbelow(2**31) if seed is None else seed
    if response not in RESPONSES:
        raise ReadingsError(f"There is no scale {response!r}.", field="response")
    # Whether it can be drawn is known by drawing it.
    draw_mark(response, next(iter(true_values(response)), 0.0), rng=rng_of(seed))
    plan_drill(response, n_marks, rng=rng_of(seed))
    return Drill.objects.create(
        person=person, response=response, seed=seed, n_marks=n_marks, begun_at=at or clock.now()
    )


def answer_mark(
    person: Person, drill_id: int, *, nth: int, value: float, at: datetime | None = None
) -> Drill:
    """Write down what was read on one mark; the last one ends the drill. The same answer again changes nothing.

    Raises
    ------
    Http404
        If the drill is not the person's.
    ReadingsError
        If there is no such mark, or the value is off the scale.
    ConflictError
        If the mark was read otherwise already.
    """
    with transaction.atomic():
        drill = Drill.objects.select_for_update().filter(pk=drill_id, person=person).first()
        if drill is None:
            raise Http404
        if not 0 <= nth < drill.n_marks:
            raise ReadingsError(
                f"This drill has the marks 0 to {drill.n_marks - 1}, and no {nth}.", field="nth"
            )
        response = RESPONSES[drill.response]
        response.check(value, field="value")
        if response.form != "kinds" and value not in {step.value for step in response.steps}:
            raise ReadingsError(f"{value:g} is none of the steps of {response.name_within}.", field="value")
        earlier = drill.answers.filter(nth=nth).first()
        if earlier is None:
            DrillAnswer.objects.create(drill=drill, nth=nth, value=Decimal(str(value)), at=at or clock.now())
        elif float(earlier.value) != value:
            raise ConflictError("This mark was read already, and in practice the first word stands.")
        if drill.finished_at is None and drill.answers.count() == len(marks_of(drill)):
            drill.finished_at = at or clock.now()
            drill.save(update_fields=["finished_at"])
        return drill


def show_practice(person: Person, *, shows: bool) -> Person:
    """Say whether the evidence of the trials that one judges tells how one reads in practice."""
    with transaction.atomic():
        found = Person.objects.select_for_update().get(pk=person.pk)
        if found.shows_practice != shows:
            found.shows_practice = shows
            found.save(update_fields=["shows_practice"])
            record(found, "show_practice", found, shows=shows)
        return found
