"""Reading drills: what is drawn, how it went, and how it goes over time."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from django.http import Http404

from nublet.core.errors import ReadingsError
from nublet.core.evidence.agreement import DrillResult, judge_drill
from nublet.core.protocols.responses import RESPONSES
from nublet.core.simulation.marks import DRAWN, MarkPicture, draw_mark, plan_drill, true_values
from nublet.web.people.models import Person
from nublet.web.practice.models import Drill

# How many of the latest marks of a scale say how somebody reads now.
_LATEST_DRILLS = 3
_DRAWINGS_SEED = 20270301


@dataclass(frozen=True, kw_only=True)
class DrillMark:
    """One mark of a drill. What it was drawn for is told once it was read."""

    nth: int
    picture: MarkPicture
    read: float | None
    drawn: float | None


@dataclass(frozen=True, kw_only=True)
class DrillView:
    """A drill with its drawings; ``result`` once all is read."""

    id: int
    response: str
    n_marks: int
    begun_at: datetime
    finished_at: datetime | None
    marks: tuple[DrillMark, ...]
    result: DrillResult | None


@dataclass(frozen=True, kw_only=True)
class DrillLine:
    """A drill that was finished, in a line of the person's progress."""

    id: int
    response: str
    finished_at: datetime
    result: DrillResult


@dataclass(frozen=True, kw_only=True)
class PracticeView:
    """What can be practised, what is unfinished, and how it went so far, the oldest first."""

    drawn: tuple[str, ...]
    open_drill: int | None
    drills: tuple[DrillLine, ...]
    shows: bool


@dataclass(frozen=True, kw_only=True)
class StepDrawing:
    """What a step of a scale looks like."""

    value: float
    picture: MarkPicture


@dataclass(frozen=True, kw_only=True)
class JudgePractice:
    """How a judge who wishes it to be known reads in practice: agreement over his latest marks of one scale."""

    judge: str
    response: str
    kappa: float
    n_marks: int


def rng_of(seed: int) -> np.random.Generator:
    """The generator that a drill's marks come from."""
    return np.random.default_rng(seed)


def marks_of(drill: Drill) -> list[tuple[float, int]]:
    """What a drill's marks were drawn for, and which are the same drawing."""
    return plan_drill(drill.response, drill.n_marks, rng=rng_of(drill.seed))


def view_practice(person: Person) -> PracticeView:
    """All of a person's practice. Two queries."""
    drills = list(Drill.objects.filter(person=person).prefetch_related("answers").order_by("pk"))
    return PracticeView(
        drawn=DRAWN,
        open_drill=next((drill.pk for drill in reversed(drills) if drill.finished_at is None), None),
        drills=tuple(_line(drill) for drill in drills if drill.finished_at is not None),
        shows=person.shows_practice,
    )


def view_drill(person: Person, drill_id: int) -> DrillView:
    """One of a person's drills. Raises ``Http404``. Two queries."""
    drill = Drill.objects.filter(pk=drill_id, person=person).prefetch_related("answers").first()
    if drill is None:
        raise Http404
    read = {answer.nth: float(answer.value) for answer in drill.answers.all()}
    marks = marks_of(drill)
    return DrillView(
        id=drill.pk,
        response=drill.response,
        n_marks=drill.n_marks,
        begun_at=drill.begun_at,
        finished_at=drill.finished_at,
        marks=tuple(
            DrillMark(
                nth=nth,
                picture=_picture(drill, value, number),
                read=read.get(nth),
                drawn=value if nth in read else None,
            )
            for nth, (value, number) in enumerate(marks)
        ),
        result=None if drill.finished_at is None else _result(drill),
    )


def drawings_of(response: str) -> list[StepDrawing]:
    """A drawing of each step of a scale, always the same ones; of kinds of each alone.

    Raises
    ------
    ReadingsError
        If it cannot be drawn.
    """
    if response not in RESPONSES:
        raise ReadingsError(f"There is no scale {response!r}.", field="response")
    wanted = [step.value for step in RESPONSES[response].steps] or list(true_values(response))
    return [
        StepDrawing(value=value, picture=draw_mark(response, value, rng=rng_of(_DRAWINGS_SEED + int(value))))
        for value in wanted
    ]


def practice_of(judges: Iterable[Person], responses: Sequence[str]) -> list[JudgePractice]:
    """How those judges read in practice who wish it to be known, scale by scale. Two queries."""
    shown = {judge.pk: judge.display_name for judge in judges if judge.shows_practice}
    drills = (
        Drill.objects.filter(person__in=list(shown), response__in=list(responses), finished_at__isnull=False)
        .prefetch_related("answers")
        .order_by("-pk")
    )
    latest: dict[tuple[int, str], list[Drill]] = defaultdict(list)
    for drill in drills:
        if len(latest[drill.person_id, drill.response]) < _LATEST_DRILLS:
            latest[drill.person_id, drill.response].append(drill)
    found = []
    for (person, response), own in sorted(latest.items()):
        # Drawings of different drills are different ones, whatever their numbers.
        result = judge_drill(
            response,
            [(a, 1000 * n + number, b) for n, drill in enumerate(own) for a, number, b in _read(drill)],
        )
        if result.kappa is not None:
            found.append(
                JudgePractice(
                    judge=shown[person], response=response, kappa=result.kappa, n_marks=result.n_marks
                )
            )
    return found


def _picture(drill: Drill, value: float, number: int) -> MarkPicture:
    return draw_mark(drill.response, value, rng=np.random.default_rng([drill.seed, number]))


def _line(drill: Drill) -> DrillLine:
    if drill.finished_at is None:
        raise ValueError("not finished")
    return DrillLine(
        id=drill.pk, response=drill.response, finished_at=drill.finished_at, result=_result(drill)
    )


def _result(drill: Drill) -> DrillResult:
    return judge_drill(drill.response, _read(drill))


def _read(drill: Drill) -> list[tuple[float, int, float]]:
    answers = {answer.nth: float(answer.value) for answer in drill.answers.all()}
    return [
        (value, number, answers[nth]) for nth, (value, number) in enumerate(marks_of(drill)) if nth in answers
    ]
