"""Reading the bench for those who read panels. Nothing here knows what a panel carries: the blind holds by absence."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import cast

from django.db.models import Count, Q, QuerySet
from django.http import Http404

from nublet.core.design.areas import Side
from nublet.core.design.codes import shuffle_read_order
from nublet.core.design.whole import SLIP_SIZE
from nublet.core.errors import ReadingsError
from nublet.core.protocols.looks import Look, Reader
from nublet.core.protocols.prompts import Prompt, choice_at, prompts_at
from nublet.core.protocols.sites import SiteKind
from nublet.core.protocols.tests import Protocol, Test
from nublet.web.designs.adapters import Area, blind_areas
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.people.models import Person
from nublet.web.people.policies import may, within
from nublet.web.readings.models import Reading
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

# What whoever reads must be allowed to do: judges what judges do, the hands at the bench what keepers log.
READERS: Mapping[Reader, str] = {"judges": "judge", "hands": "log_work"}


@dataclass(frozen=True, kw_only=True)
class JudgingTask:
    """One look of one trial that a person has to read, or has read, as a judge or as the hands at the bench."""

    trial_id: int
    trial_name: str
    is_simulated: bool
    look: Look
    by: Reader
    n_panels: int
    n_values: int
    n_read: int
    n_panels_left: int
    next_panel: str | None


@dataclass(frozen=True, kw_only=True)
class PairChoice:
    """Which of two pieces of one block is preferred: this one, or the one with the code ``against``; 1 for this one."""

    against: str
    value: float | None


@dataclass(frozen=True, kw_only=True)
class BlindSpot:
    """A site as its reader sees it, with the reader's own values and note.

    ``values`` are in the order of the prompts of its exposure, ``are_beyond`` whether it is more than each; the note is the one
    for the first.
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
    choices: tuple[PairChoice, ...]
    note: str


@dataclass(frozen=True, kw_only=True)
class BlindPanel:
    """A piece as its reader sees it: its code, its size, and its wood, empty for glass."""

    code: str
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
class Sitting:
    """All that the reading screen needs for one person at one look, panels in the person's own order."""

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


def list_judging(person: Person) -> list[JudgingTask]:
    """List the looks that are the person's to read, oldest trial first. Four queries."""
    trials = {by: list(_trials_for(person, by)) for by in READERS}
    everything = {trial.pk: trial for found in trials.values() for trial in found}
    spots: dict[int, dict[tuple[str, str], int]] = defaultdict(dict)
    for trial_id, code, exposure, n in (
        TrialSpot.objects.filter(panel__trial__in=everything, panel__spoiled_at__isnull=True)
        .values("panel__trial", "panel__code", "exposure")
        .annotate(n=Count("pk"))
        .values_list("panel__trial", "panel__code", "exposure", "n")
    ):
        spots[trial_id][code, exposure] = n
    read: dict[tuple[int, str], dict[tuple[str, str], dict[tuple[str, str], int]]] = defaultdict(
        lambda: defaultdict(dict)
    )
    rows = (
        Reading.objects.filter(
            spot__panel__trial__in=everything,
            spot__panel__spoiled_at__isnull=True,
            judge=person,
            value__isnull=False,
            against="",
        )
        .values("spot__panel__trial", "look", "spot__panel__code", "spot__exposure", "response", "view")
        .annotate(n=Count("pk"))
        .values_list(
            "spot__panel__trial", "look", "spot__panel__code", "spot__exposure", "response", "view", "n"
        )
    )
    for trial_id, look_id, code, exposure, response, view, n in rows:
        read[trial_id, look_id][code, exposure][response, view] = n
    tasks: list[JudgingTask] = []
    for trial in sorted(everything.values(), key=lambda trial: trial.pk):
        protocol = protocol_of(trial)
        for by in READERS:
            if trial in trials[by]:
                tasks += _tasks_of(person, trial, protocol, by, spots[trial.pk], read)
    return tasks


def _trials_for(person: Person, by: Reader) -> QuerySet[Trial]:
    started = (
        Trial.objects.filter(started_at__isnull=False)
        .annotate(n_replaced=Count("panels", filter=Q(panels__replaces__isnull=False)))
        .order_by("pk")
    )
    return within(person, READERS[by], started) if may(person, READERS[by]) else started.none()


def _tasks_of(
    person: Person,
    trial: Trial,
    protocol: Protocol,
    by: Reader,
    spots: Mapping[tuple[str, str], int],
    read: Mapping[tuple[int, str], Mapping[tuple[str, str], Mapping[tuple[str, str], int]]],
) -> Iterable[JudgingTask]:
    for look in protocol.all_looks:
        asked = {
            test.id: prompts_at(test, look, by)
            for test in protocol.tests
            if look.id in {each.id for each in protocol.looks_of(test)}
        }
        wanted: dict[str, int] = defaultdict(int)
        done: dict[str, int] = defaultdict(int)
        found = read.get((trial.pk, look.id), {})
        for (code, exposure), n in spots.items():
            prompts = asked.get(exposure, ())
            if prompts:
                wanted[code] += n * len(prompts)
                values = found.get((code, exposure), {})
                done[code] += sum(values.get((prompt.response, prompt.view), 0) for prompt in prompts)
        if not wanted:
            continue
        order = _order(list(wanted), trial, person, look.id, trial.n_replaced)  # type: ignore[attr-defined]
        left = [code for code in order if done[code] < wanted[code]]
        yield JudgingTask(
            trial_id=trial.pk,
            trial_name=trial.name,
            is_simulated=trial.is_simulated,
            look=look,
            by=by,
            n_panels=len(wanted),
            n_values=sum(wanted.values()),
            n_read=sum(done.values()),
            n_panels_left=len(left),
            next_panel=left[0] if left else None,
        )


def _order(codes: list[str], trial: Trial, person: Person, look_id: str, n_replaced: int) -> list[str]:
    return shuffle_read_order(
        codes, secret=trial.order_secret, judge=person.pk, look=look_id, n_replaced=n_replaced
    )


def check_started(trial: Trial) -> None:
    """Refuse to grade a trial that no keeper has started. Raises ``ReadingsError``."""
    if not trial.is_started:
        raise ReadingsError(
            "This trial has not started, so there is nothing to grade yet. A keeper starts it under Prepare.",
            field="trial",
        )


def open_sitting(person: Person, trial_id: int, look_id: str, by: Reader = "judges") -> Sitting:
    """Open one look of one trial for a judge, or for the hands at the bench. Four queries.

    Raises
    ------
    Http404
        If the trial is not the person's to read.
    ReadingsError
        If the protocol has no such look, nothing is asked at it, or the trial has not started.
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
        TrialSpot.objects.filter(panel__trial=trial, panel__spoiled_at__isnull=True, exposure__in=list(asked))
        .select_related("panel__board")
        .order_by("pk")
    )
    if not spots:
        raise ReadingsError("Every panel of this trial is spoiled: there is nothing to grade.")
    mine: dict[int, dict[tuple[str, str, str], Reading]] = defaultdict(dict)
    for reading in Reading.objects.filter(spot__panel__trial=trial, judge=person, look=look_id):
        mine[reading.spot_id][reading.response, reading.view, reading.against] = reading
    panels = {spot.panel.code: spot.panel for spot in spots}
    by_panel: dict[str, list[BlindSpot]] = defaultdict(list)
    partners = _partners(spots, asked)
    for spot in spots:
        by_panel[spot.panel.code].append(
            _blind_spot(spot, asked[spot.exposure], mine[spot.pk], partners.get(spot.pk, ()))
        )
    n_replaced = trial.panels.filter(replaces__isnull=False).count()
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
        panels=tuple(
            _blind_panel(trial, panels[code], by_panel[code])
            for code in _order(list(by_panel), trial, person, look_id, n_replaced)
        ),
    )


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


def _blind_panel(trial: Trial, panel: TrialPanel, spots: Iterable[BlindSpot]) -> BlindPanel:
    length, width = trial.panel_length_mm, trial.panel_width_mm
    if panel.is_slip:
        length, width = SLIP_SIZE.length_mm, SLIP_SIZE.width_mm
    return BlindPanel(
        code=panel.code,
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
    partners: Iterable[str],
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
        choices=tuple(
            PairChoice(against=code, value=_value(mine.get((asked.choice, "", code)))) for code in partners
        ),
        note=own[0].note if own and own[0] is not None else "",
    )


def _value(reading: Reading | None) -> float | None:
    return None if reading is None or reading.value is None else float(reading.value)
