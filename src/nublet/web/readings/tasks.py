"""What there is to read for a person over all trials: what is due now, and what comes next. Codes and times, nothing else."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db.models import Count, Q, QuerySet

from nublet.core.bench.look_times import LookTime
from nublet.core.protocols.looks import Look, Reader
from nublet.core.protocols.prompts import choice_at, prompts_at
from nublet.web.bench import clock
from nublet.web.bench.look_times import TrialLooks, looks_of_trials
from nublet.web.designs.models import TrialSpot
from nublet.web.people.models import Person
from nublet.web.people.policies import may, within
from nublet.web.readings.models import Reading
from nublet.web.readings.order import READERS, order_of
from nublet.web.trials.models import Trial

# What opens later than this is told by its day alone, in the calendar.
_AHEAD = timedelta(days=2)


@dataclass(frozen=True, kw_only=True)
class ComingLook:
    """A look of one piece that opens later."""

    code: str
    opens_at: datetime
    aim_at: datetime


@dataclass(frozen=True, kw_only=True)
class JudgingTask:
    """One look of one trial that a person has to read now, has read, or will have to read soon.

    Counts are of what is due or read, choices between two pieces apart: ``n_choices``, of which ``n_chosen`` are made.
    ``closes_at`` is when the first of what is left should have been read, ``coming`` what opens within two days, the soonest first.
    """

    trial_id: int
    trial_name: str
    is_simulated: bool
    look: Look
    by: Reader
    n_panels: int
    n_values: int
    n_read: int
    n_choices: int
    n_chosen: int
    n_panels_left: int
    next_panel: str | None
    closes_at: datetime | None
    coming: tuple[ComingLook, ...]


# Of one trial's sites, by the test: how many of it a piece has, and the piece's block, by its code.
_Spots = Mapping[str, Mapping[str, tuple[int, int | None]]]
_Read = Mapping[tuple[str, str], Mapping[tuple[str, str], int]]


def list_judging(person: Person) -> list[JudgingTask]:
    """List the looks that are the person's to read, oldest trial first.

    Five queries, and four a trial as in :func:`looks_of_trials`.
    """
    now = clock.now()
    trials = {by: list(_trials_for(person, by)) for by in READERS}
    everything = {trial.pk: trial for found in trials.values() for trial in found}
    spots = _spots_of(everything)
    read = _read_by(person, everything)
    looks = looks_of_trials(everything.values())
    tasks: list[JudgingTask] = []
    for trial in sorted(everything.values(), key=lambda trial: trial.pk):
        for by in READERS:
            if trial in trials[by]:
                tasks += _tasks_of(person, trial, looks[trial.pk], by, spots[trial.pk], read, now)
    return tasks


def _trials_for(person: Person, by: Reader) -> QuerySet[Trial]:
    started = (
        Trial.objects.filter(started_at__isnull=False)
        .annotate(n_replaced=Count("panels", filter=Q(panels__replaces__isnull=False)))
        .order_by("pk")
    )
    return within(person, READERS[by], started) if may(person, READERS[by]) else started.none()


def _spots_of(trials: Iterable[int]) -> dict[int, dict[str, dict[str, tuple[int, int | None]]]]:
    found: dict[int, dict[str, dict[str, tuple[int, int | None]]]] = defaultdict(lambda: defaultdict(dict))
    rows = (
        TrialSpot.objects.filter(
            panel__trial__in=trials, panel__spoiled_at__isnull=True, left_out_at__isnull=True
        )
        .values("panel__trial", "panel__code", "exposure", "panel__board")
        .annotate(n=Count("pk"))
    )
    for row in rows:
        found[row["panel__trial"]][row["exposure"]][row["panel__code"]] = row["n"], row["panel__board"]
    return found


def _read_by(
    person: Person, trials: Iterable[int]
) -> dict[tuple[int, str], dict[tuple[str, str], dict[tuple[str, str], int]]]:
    """How many values of each kind the person has given, by trial and look, and by piece and test."""
    found: dict[tuple[int, str], dict[tuple[str, str], dict[tuple[str, str], int]]] = defaultdict(
        lambda: defaultdict(dict)
    )
    rows = (
        Reading.objects.filter(
            spot__panel__trial__in=trials,
            spot__panel__spoiled_at__isnull=True,
            spot__left_out_at__isnull=True,
            judge=person,
            value__isnull=False,
            turn=0,
        )
        .values("spot__panel__trial", "look", "spot__panel__code", "spot__exposure", "response", "view")
        .annotate(n=Count("pk"))
        .values_list(
            "spot__panel__trial", "look", "spot__panel__code", "spot__exposure", "response", "view", "n"
        )
    )
    for trial_id, look_id, code, exposure, response, view, n in rows:
        found[trial_id, look_id][code, exposure][response, view] = n
    return found


def _tasks_of(
    person: Person,
    trial: Trial,
    looks: TrialLooks,
    by: Reader,
    spots: _Spots,
    read: Mapping[tuple[int, str], _Read],
    now: datetime,
) -> Iterator[JudgingTask]:
    protocol = looks.protocol
    for look in protocol.all_looks:
        tally = _Tally()
        found = read.get((trial.pk, look.id), {})
        for test in protocol.tests:
            # A test has its own looks of this name.
            own = next((each for each in protocol.looks_of(test) if each.id == look.id), None)
            prompts, choice = (
                ((), "") if own is None else (prompts_at(test, own, by), choice_at(test, own, by))
            )
            if own is None or not (prompts or choice):
                continue
            carried = spots.get(test.id, {})
            times = {code: looks.time(code, test, own, now) for code in carried}
            after = _n_after(carried, times) if choice else {}
            for code, (n, _) in carried.items():
                values = found.get((code, test.id), {})
                n_read = sum(values.get((prompt.response, prompt.view), 0) for prompt in prompts)
                tally.add(code, n * len(prompts), n_read, times[code])
                tally.add_choices(code, n * after.get(code, 0), values.get((choice, ""), 0) if choice else 0)
        coming = tally.coming_by(now + _AHEAD)
        if not tally.wanted and not coming:
            continue
        order = order_of(tally.wanted, trial, person, look.id, trial.n_replaced)  # type: ignore[attr-defined]
        left = [code for code in order if tally.is_left(code)]
        yield JudgingTask(
            trial_id=trial.pk,
            trial_name=trial.name,
            is_simulated=trial.is_simulated,
            look=look,
            by=by,
            n_panels=len(tally.wanted),
            n_values=sum(tally.wanted.values()),
            n_read=sum(tally.done.values()),
            n_choices=sum(tally.choices.values()),
            n_chosen=sum(tally.chosen.values()),
            n_panels_left=len(left),
            next_panel=left[0] if left else None,
            closes_at=min(tally.closes, default=None),
            coming=coming,
        )


def _n_after(carried: Mapping[str, tuple[int, int | None]], times: Mapping[str, LookTime]) -> dict[str, int]:
    """With how many pieces of its block each is compared: with those that are due too and come after it by code."""
    due = [code for code in carried if times[code].is_offered]
    return {
        code: sum(other > code and carried[other][1] == carried[code][1] for other in due) for code in due
    }


class _Tally:
    """What is wanted and done at one look, by code."""

    def __init__(self) -> None:
        self.wanted: dict[str, int] = {}
        self.done: dict[str, int] = defaultdict(int)
        self.choices: dict[str, int] = defaultdict(int)
        self.chosen: dict[str, int] = defaultdict(int)
        self.closes: list[datetime] = []
        self._coming: dict[str, LookTime] = {}

    def add(self, code: str, n_asked: int, n_read: int, time: LookTime) -> None:
        """Count one test's sites on one piece: what is due, and what was read all the same."""
        if time.is_offered or n_read:
            self.wanted[code] = self.wanted.get(code, 0) + (n_asked if time.is_offered else n_read)
            self.done[code] += n_read
        if time.is_offered and n_read < n_asked and time.closes_at is not None:
            self.closes.append(time.closes_at)
        if time.state == "coming" and n_read < n_asked and time.opens_at is not None:
            known = self._coming.get(code)
            if known is None or known.opens_at is None or time.opens_at < known.opens_at:
                self._coming[code] = time

    def add_choices(self, code: str, n_asked: int, n_chosen: int) -> None:
        """Count the choices between a piece and those after it."""
        if n_asked or n_chosen:
            self.wanted.setdefault(code, 0)
            self.choices[code] += max(n_asked, n_chosen)
            self.chosen[code] += n_chosen

    def is_left(self, code: str) -> bool:
        """Whether anything of a piece is still to be read."""
        return self.done[code] < self.wanted[code] or self.chosen[code] < self.choices[code]

    def coming_by(self, latest: datetime) -> tuple[ComingLook, ...]:
        """What opens by a moment, the soonest first."""
        found = [
            ComingLook(code=code, opens_at=time.opens_at, aim_at=time.aim_at or time.opens_at)
            for code, time in self._coming.items()
            if time.opens_at is not None and time.opens_at <= latest
        ]
        return tuple(sorted(found, key=lambda each: (each.opens_at, each.code)))
