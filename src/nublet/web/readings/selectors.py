"""Reading the bench for those who read panels. Nothing here knows what a panel carries: the blind holds by absence."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import cast

from django.db.models import Count, Q
from django.http import Http404

from nublet.core.bench.repeats import chosen_again, is_swapped, woven
from nublet.core.design.areas import Side
from nublet.core.design.whole import SLIP_SIZE
from nublet.core.errors import ReadingsError
from nublet.core.protocols.looks import Look, Reader
from nublet.core.protocols.prompts import Prompt, choice_at, prompts_at
from nublet.core.protocols.sites import SiteKind
from nublet.core.protocols.tests import Protocol, Test
from nublet.web.bench.bench_selectors import instruments_of
from nublet.web.designs.adapters import Area, blind_areas
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.models import Person
from nublet.web.people.policies import within
from nublet.web.readings.due import say_nothing_due, times_of
from nublet.web.readings.measured import WorkedOut, worked_out
from nublet.web.readings.models import Reading
from nublet.web.readings.order import READERS, order_of
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class PairChoice:
    """Which of two pieces of one block is preferred: this one, or the one with the code ``against``; 1 for this one.

    Where it ``is_swapped`` the other one is shown at the left.
    """

    against: str
    is_swapped: bool
    value: float | None


@dataclass(frozen=True, kw_only=True)
class BlindSpot:
    """A site as its reader sees it, with the reader's own values and note.

    ``values`` are in the order of the prompts of its exposure, ``are_beyond`` whether it is more than each, and ``singles`` the
    readings of which each is the mean; the note is the one for the first. ``worked_out`` is what follows, for the hands.
    """

    exposure: str
    kind: SiteKind
    place: int
    side: Side
    x_mm: float
    y_mm: float
    diameter_mm: float
    along_mm: float
    across_mm: float
    values: tuple[float | None, ...]
    are_beyond: tuple[bool, ...]
    singles: tuple[tuple[float, ...], ...]
    choices: tuple[PairChoice, ...]
    note: str
    worked_out: tuple[WorkedOut, ...] = ()


@dataclass(frozen=True, kw_only=True)
class BlindPanel:
    """A piece as its reader sees it: its code, its size, and its wood, empty for glass.

    ``turn`` is 1 where some of it comes round a second time: its values are then those of that time.
    """

    code: str
    turn: int
    species: str
    length_mm: float
    width_mm: float
    areas: tuple[Area, ...]
    spots: tuple[BlindSpot, ...]


@dataclass(frozen=True, kw_only=True)
class ReadTest:
    """A test, and what is asked of the reader at the sitting's look."""

    test: Test
    prompts: tuple[Prompt, ...]
    choice: str


@dataclass(frozen=True, kw_only=True)
class JudgeProgress:
    """How much of what is due now one of the judges has read."""

    judge: str
    n_read: int


@dataclass(frozen=True, kw_only=True)
class Sitting:
    """All that the reading screen needs for one person at one look, panels in the person's own order.

    ``progress`` tells how far each judge is, and no value of anybody else's; ``instruments`` which can be read, for the hands.
    """

    trial_id: int
    trial_name: str
    is_simulated: bool
    judge: str
    judge_id: int
    by: Reader
    look: Look
    looks: tuple[Look, ...]
    exposures: tuple[ReadTest, ...]
    panels: tuple[BlindPanel, ...]
    grade_school: str
    progress: tuple[JudgeProgress, ...]
    instruments: tuple[str, ...]


_Read = dict[int, dict[tuple[str, str, str], Reading]]


def check_started(trial: Trial) -> None:
    """Refuse to grade a trial that no keeper has started. Raises ``ReadingsError``."""
    if not trial.is_started:
        raise ReadingsError(
            "This trial has not started, so there is nothing to grade yet. A keeper starts it under Prepare.",
            field="trial",
        )


def open_sitting(person: Person, trial_id: int, look_id: str, by: Reader = "judges") -> Sitting:
    """Open one look of one trial for a judge, or for the hands at the bench: what is due now, and what the person has read of it.

    Five queries, and four more as in :func:`nublet.web.bench.look_times.looks_of_trials`.

    Raises
    ------
    Http404
        If the trial is not the person's to read.
    ReadingsError
        If the protocol has no such look, nothing is asked at it, nothing of it is due, or the trial has not started.
    """
    trial = within(person, READERS[by], Trial.objects.all()).filter(pk=trial_id).first()
    if trial is None:
        raise Http404
    check_started(trial)
    protocol = protocol_of(trial)
    looks = tuple(look for look in protocol.all_looks if _asked_at(protocol, look, by))
    look_id = protocol.look_meant(look_id)
    if look_id not in {look.id for look in looks} and look_id in {look.id for look in protocol.all_looks}:
        # The look that nobody chose may be one at which others read.
        look_id = looks[-1].id if looks else look_id
    look = next((look for look in looks if look.id == look_id), None)
    if look is None:
        raise ReadingsError(f"This protocol has no look {look_id!r}. Go back and choose one.", field="look")
    asked = {each.test.id: each for each in _asked_at(protocol, look, by)}
    spots = list(
        TrialSpot.objects.filter(
            panel__trial=trial,
            panel__spoiled_at__isnull=True,
            left_out_at__isnull=True,
            exposure__in=list(asked),
        )
        .select_related("panel__board")
        .order_by("pk")
    )
    if not spots:
        raise ReadingsError("Every panel of this trial is spoiled: there is nothing to grade.")
    mine, again = _own_readings(trial, person, look_id)
    times = times_of(trial, spots, look_id)
    due = [spot for spot in spots if times[spot.pk].is_offered or mine[spot.pk]]
    if not due:
        raise ReadingsError(say_nothing_due(look, times.values()), field="look")
    panels = _panels_in_order(
        trial,
        person,
        look_id,
        due,
        asked,
        (mine, again),
        repeated=_repeated(trial, person, look_id, spots, asked) if by == "judges" else frozenset(),
    )
    return Sitting(
        trial_id=trial.pk,
        trial_name=trial.name,
        is_simulated=trial.is_simulated,
        judge=person.display_name,
        judge_id=person.pk,
        by=by,
        look=look,
        looks=looks,
        exposures=tuple(asked.values()),
        panels=_with_worked_out(trial, protocol, asked, look_id, panels) if by == "hands" else panels,
        grade_school=trial.grade_school,
        progress=_progress(trial, look_id, due, asked) if by == "judges" else (),
        instruments=instruments_of(trial.shop_id) if by == "hands" else (),
    )


def _panels_in_order(
    trial: Trial,
    person: Person,
    look_id: str,
    spots: Sequence[TrialSpot],
    asked: Mapping[str, ReadTest],
    read: tuple[_Read, _Read],
    *,
    repeated: frozenset[int],
) -> tuple[BlindPanel, ...]:
    """The panels with what is due on each, in the person's own order; what comes again woven in. One query."""
    mine, again = read
    panels = {spot.panel.code: spot.panel for spot in spots}
    by_panel: dict[tuple[str, int], list[BlindSpot]] = defaultdict(list)
    partners = _pairs(trial, person, _partners(spots, asked), {spot.pk: spot.panel.code for spot in spots})
    for spot in spots:
        test = asked[spot.exposure]
        by_panel[spot.panel.code, 0].append(_blind_spot(spot, test, mine[spot.pk], partners.get(spot.pk, ())))
        if spot.pk in repeated:
            by_panel[spot.panel.code, 1].append(_blind_spot(spot, test, again[spot.pk], ()))
    n_replaced = trial.panels.filter(replaces__isnull=False).count()
    order = woven(
        order_of((code for code, _ in by_panel), trial, person, look_id, n_replaced),
        (code for code, turn in by_panel if turn),
        secret=trial.order_secret,
        judge=person.pk,
        look=look_id,
    )
    return tuple(_blind_panel(trial, panels[code], by_panel[code, turn], turn=turn) for code, turn in order)


def _with_worked_out(
    trial: Trial,
    protocol: Protocol,
    asked: Mapping[str, ReadTest],
    look_id: str,
    panels: tuple[BlindPanel, ...],
) -> tuple[BlindPanel, ...]:
    """The panels with what follows from what the hands measured on them. A query for each test of which something can follow."""
    found = {test_id: worked_out(trial, protocol, each.test) for test_id, each in asked.items()}
    return tuple(
        replace(
            panel,
            spots=tuple(
                replace(spot, worked_out=found[spot.exposure].get((panel.code, spot.place, look_id), ()))
                for spot in panel.spots
            ),
        )
        for panel in panels
    )


def _own_readings(trial: Trial, person: Person, look_id: str) -> tuple[_Read, _Read]:
    """What the person has read at a look, the first time and the second. One query."""
    mine: _Read = defaultdict(dict)
    again: _Read = defaultdict(dict)
    for reading in Reading.objects.filter(spot__panel__trial=trial, judge=person, look=look_id):
        own = again if reading.turn else mine
        own[reading.spot_id][reading.response, reading.view, reading.against] = reading
    return mine, again


def _repeated(
    trial: Trial, person: Person, look_id: str, spots: Sequence[TrialSpot], asked: Mapping[str, ReadTest]
) -> frozenset[int]:
    """The sites that come round again to a judge: numbers of those with values to give."""
    if not trial.blind_repeats:
        return frozenset()
    names = {
        f"{spot.panel.code}|{spot.exposure}|{spot.place}": spot.pk
        for spot in spots
        if asked[spot.exposure].prompts
    }
    chosen = chosen_again(names, secret=trial.order_secret, judge=person.pk, look=look_id)
    return frozenset(names[name] for name in chosen)


def _pairs(
    trial: Trial, person: Person, partners: Mapping[int, tuple[str, ...]], codes: Mapping[int, str]
) -> dict[int, tuple[tuple[str, bool], ...]]:
    """With which pieces each site is compared, and whether the other one is shown at the left."""
    return {
        number: tuple(
            (other, is_swapped((codes[number], other), secret=trial.order_secret, judge=person.pk))
            for other in others
        )
        for number, others in partners.items()
    }


def _progress(
    trial: Trial, look_id: str, spots: Sequence[TrialSpot], asked: Mapping[str, ReadTest]
) -> tuple[JudgeProgress, ...]:
    """How many values each judge has given of what judges are asked for and is due now. One query."""
    rows = (
        trial.judges.order_by("pk")
        .annotate(
            n=Count(
                "readings",
                filter=Q(
                    readings__spot__in=[spot.pk for spot in spots],
                    readings__look=look_id,
                    # Who judges may hold the instruments as well.
                    readings__response__in={
                        prompt.response for each in asked.values() for prompt in each.prompts
                    },
                    readings__value__isnull=False,
                    readings__against="",
                    readings__turn=0,
                ),
            )
        )
        .values_list("display_name", "n")
    )
    return tuple(JudgeProgress(judge=name, n_read=n) for name, n in rows)


def _asked_at(protocol: Protocol, look: Look, by: Reader) -> tuple[ReadTest, ...]:
    """The tests of which anything is asked of a reader at a look, and what."""
    found = []
    for test in protocol.tests:
        if look.id in {each.id for each in protocol.looks_of(test)}:
            prompts, choice = prompts_at(test, look, by), choice_at(test, look, by)
            if prompts or choice:
                found.append(ReadTest(test=test, prompts=prompts, choice=choice))
    return tuple(found)


def _partners(spots: Sequence[TrialSpot], asked: Mapping[str, ReadTest]) -> dict[int, tuple[str, ...]]:
    """With which pieces of its block each site is compared, by code: with those after it."""
    alike: dict[tuple[str, int, int | None], list[TrialSpot]] = defaultdict(list)
    for spot in spots:
        if asked[spot.exposure].choice:
            alike[spot.exposure, spot.place, spot.panel.board_id].append(spot)
    return {
        spot.pk: tuple(sorted(other.panel.code for other in group if other.panel.code > spot.panel.code))
        for group in alike.values()
        for spot in group
    }


def _blind_panel(trial: Trial, panel: TrialPanel, spots: Iterable[BlindSpot], *, turn: int = 0) -> BlindPanel:
    length, width = trial.panel_length_mm, trial.panel_width_mm
    if panel.is_slip:
        length, width = SLIP_SIZE.length_mm, SLIP_SIZE.width_mm
    return BlindPanel(
        code=panel.code,
        turn=turn,
        species=panel.species,
        length_mm=length,
        width_mm=width,
        areas=blind_areas(panel),
        # Front first, then column by column from the left, top first: the way the keys go.
        spots=tuple(sorted(spots, key=lambda spot: (spot.side != "front", spot.x_mm, -spot.y_mm))),
    )


def _blind_spot(
    spot: TrialSpot,
    asked: ReadTest,
    mine: Mapping[tuple[str, str, str], Reading],
    partners: Iterable[tuple[str, bool]],
) -> BlindSpot:
    own = [mine.get((prompt.response, prompt.view, "")) for prompt in asked.prompts]
    return BlindSpot(
        exposure=spot.exposure,
        kind=cast("SiteKind", spot.kind),
        place=spot.place,
        side=cast("Side", spot.side),
        x_mm=spot.x_mm,
        y_mm=spot.y_mm,
        diameter_mm=spot.diameter_mm,
        along_mm=spot.along_mm,
        across_mm=spot.across_mm,
        values=tuple(_value(reading) for reading in own),
        are_beyond=tuple(reading is not None and reading.is_beyond for reading in own),
        singles=tuple(() if reading is None else tuple(reading.singles) for reading in own),
        choices=tuple(
            PairChoice(against=code, is_swapped=swapped, value=_value(mine.get((asked.choice, "", code))))
            for code, swapped in partners
        ),
        note=own[0].note if own and own[0] is not None else "",
    )


def _value(reading: Reading | None) -> float | None:
    return None if reading is None or reading.value is None else float(reading.value)
