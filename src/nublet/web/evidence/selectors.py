"""Evidence and ranking of a stored trial: rows in, core functions, results out."""

from __future__ import annotations

from dataclasses import dataclass

from nublet.core.errors import RankingError, ReadingsError
from nublet.core.evidence.analysis import ALL_SPECIES, Analysis, analyse
from nublet.core.evidence.checks import Check, check_blind, check_deviations, check_windows
from nublet.core.evidence.policy import (
    Judge,
    ReadSpot,
    choose_section,
    in_order,
    long_table,
    species_choices,
    tests_on,
)
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.weighing import TestEvidence
from nublet.core.evidence.words import Headline, say_headline, say_wood
from nublet.core.materials.build_ups import CONTROL_NAME
from nublet.core.protocols.tests import DEFAULT_LOOK, Protocol
from nublet.core.ranking.draws import Ranking, rank_systems
from nublet.core.ranking.profiles import reweigh
from nublet.core.ranking.words import say_verdict
from nublet.web.bench.models import PanelWork
from nublet.web.designs.models import DeviationKind, TrialSpot
from nublet.web.people.models import Person, Role
from nublet.web.readings.models import Reading as ReadingRow
from nublet.web.shelf.adapters import uses_of
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class EvidenceView:
    """The evidence of one look and one choice of species."""

    look: str
    species: str
    species_choices: tuple[str, ...]
    n_boards: int
    judges: tuple[str, ...]
    n_readings: int
    is_simulated: bool
    section: str
    section_choices: tuple[str, ...]
    control: str
    tests: tuple[TestEvidence, ...]
    depends_on_wood: tuple[str, ...]
    headline: Headline
    checks: tuple[Check, ...]


@dataclass(frozen=True, kw_only=True)
class RankingView:
    """The ranking for one use with its sentences."""

    ranking: Ranking
    species: str
    species_choices: tuple[str, ...]
    section: str
    section_choices: tuple[str, ...]
    look: str
    is_simulated: bool
    says: tuple[str, ...]


def readings_of(trial: Trial, *, section: str = "") -> list[Reading]:
    """Return the trial's readings as the core knows them, of every look that has begun. Four queries.

    Spoiled panels are left out. A trial with sections is weighed one section at a time, by default its first.

    A spot that one of the trial's judges has not graded yet is a reading whose grade is missing, so that half a
    trial is not taken for a whole one.
    """
    spots = TrialSpot.objects.filter(
        panel__trial=trial, panel__spoiled_at__isnull=True, section=choose_section(trial.sections, section)
    ).order_by("pk")
    grades = {
        (spot, judge, look): float(value)
        for spot, judge, look, value in ReadingRow.objects.filter(
            spot__panel__trial=trial, value__isnull=False
        ).values_list("spot", "judge", "look", "value")
        if value is not None
    }
    judges = trial.judges.order_by("pk").values_list("pk", "display_name")
    columns = spots.values_list(
        "pk",
        "exposure",
        "panel__build_up__name",
        "panel__board__name",
        "panel__board__species",
        "panel__code",
    )
    return long_table(
        (
            ReadSpot(number=number, test=test, system=system, board=board, species=species, panel=panel)
            for number, test, system, board, species, panel in columns
        ),
        protocol_of(trial).looks,
        [Judge(number=number, name=name) for number, name in judges],
        grades,
        spoiled=_spoiled_results(trial),
    )


def _spoiled_results(trial: Trial) -> set[tuple[str, str, float | None]]:
    """Panels' exposures whose results tell of something else, by the bench log: (code, exposure, look or all). One query."""
    rows = trial.deviations.filter(withdrawn_at__isnull=True).exclude(spoils_exposure="")
    return set(rows.values_list("panel__code", "spoils_exposure", "spoils_look_min"))


def weigh_evidence(
    trial: Trial, *, look: str = DEFAULT_LOOK, species: str = "", section: str = ""
) -> EvidenceView:
    """Weigh the trial's evidence at one look, of one species, of ``"all"``, or by default of what the evidence itself says.

    Raises
    ------
    ReadingsError
        If nothing has been graded at the look, or the species is not in the trial.
    """
    readings = readings_of(trial, section=section)
    protocol = protocol_of(trial)
    look = protocol.look_meant(look)
    names = {exposure.id: exposure.short_name for exposure in protocol.tests}
    analysis = _analyse(readings, look, protocol)
    at_look = [
        reading
        for reading in readings
        if reading.look == look and reading.grade is not None and reading.left_out is None
    ]
    choices = species_choices(analysis)
    species = species or analysis.default_species
    tests = in_order(tests_on(analysis, species), list(names))
    keepers = sorted(
        Person.objects.filter(readings__spot__panel__trial=trial)
        .exclude(role=Role.JUDGE)
        .distinct()
        .values_list("display_name", flat=True)
    )
    checks = (
        *analysis.checks,
        check_blind(keepers, seed_is_known=trial.seed is not None),
        *_check_deviations(trial),
    )
    return EvidenceView(
        look=look,
        species=species,
        species_choices=choices,
        n_boards=len({r.board for r in at_look if species in (ALL_SPECIES, r.species)}),
        judges=tuple(sorted({reading.judge or "" for reading in at_look})),
        n_readings=len(at_look),
        is_simulated=trial.is_simulated,
        section=choose_section(trial.sections, section),
        section_choices=tuple(trial.sections),
        control=CONTROL_NAME,
        tests=tests,
        depends_on_wood=analysis.depends_on_wood,
        headline=say_headline(
            tests,
            checks,
            control=CONTROL_NAME,
            test_names=names,
            wood=say_wood(analysis, species, test_names=names),
        ),
        checks=checks,
    )


def _check_deviations(trial: Trial) -> tuple[Check, Check]:
    """What was told to have gone otherwise, and what the bench log shows. Three queries."""
    rows = list(trial.deviations.filter(withdrawn_at__isnull=True).order_by("pk").values_list("kind", "says"))
    missed = [says for kind, says in rows if kind == DeviationKind.WINDOW_MISSED]
    told = [says for kind, says in rows if kind != DeviationKind.WINDOW_MISSED]
    n_logged = (
        PanelWork.objects.filter(panel__trial=trial, panel__spoiled_at__isnull=True, ended_at__isnull=False)
        .values("panel")
        .distinct()
        .count()
    )
    n_panels = trial.panels.filter(spoiled_at__isnull=True).count()
    return check_deviations(told), check_windows(missed, n_logged=n_logged, n_panels=n_panels)


def rank_for_use(
    trial: Trial,
    *,
    use: str,
    species: str = "",
    section: str = "",
    weights: dict[str, float] | None = None,
) -> RankingView:
    """Rank the trial's build-ups for a use, the control left out.

    Raises
    ------
    RankingError, ReadingsError
        If the use is unknown, a weight is not usable, or there is nothing to rank by.
    """
    uses = uses_of(trial.shop_id)
    if use not in uses:
        raise RankingError(f"There is no use {use!r}. Choose one of: {', '.join(sorted(uses))}.", field="use")
    protocol = protocol_of(trial)
    profile = reweigh(uses[use].asked_of(protocol), weights or {})
    names = {exposure.id: exposure.short_name for exposure in protocol.tests}
    analysis = _analyse(readings_of(trial, section=section), profile.look, protocol)
    species = species or analysis.default_species
    tests = {test.test: test for test in tests_on(analysis, species)}
    wood = say_wood(analysis, species, test_names=names)
    ranking = rank_systems(profile, tests, excluded=[CONTROL_NAME], seed=trial.pk)
    return RankingView(
        ranking=ranking,
        species=species,
        species_choices=species_choices(analysis),
        section=choose_section(trial.sections, section),
        section_choices=tuple(trial.sections),
        look=profile.look,
        is_simulated=trial.is_simulated,
        says=(*say_verdict(ranking, test_names=names), *((wood,) if wood else ())),
    )


def readings_behind(
    trial: Trial, *, test: str, system: str, look: str, species: str = ALL_SPECIES, section: str = ""
) -> list[ReadingRow]:
    """Return the readings behind one point, panel by panel. One query and one for the entries."""
    rows = ReadingRow.objects.filter(
        spot__panel__trial=trial,
        spot__panel__spoiled_at__isnull=True,
        spot__section=choose_section(trial.sections, section),
        spot__exposure=test,
        spot__panel__build_up__name=system,
        look=look,
        value__isnull=False,
    )
    if species != ALL_SPECIES:
        rows = rows.filter(spot__panel__board__species=species)
    return list(
        rows.select_related("spot__panel__board", "judge")
        .prefetch_related("entries")
        .order_by("spot__panel__board__pk", "spot__panel__code", "judge__display_name")
    )


def _analyse(readings: list[Reading], look: str, protocol: Protocol) -> Analysis:
    if not any(reading.look == look for reading in readings):
        raise ReadingsError(
            "Nothing has been graded at this look yet. Grade panels under Read; the evidence grows as you go."
        )
    return analyse(
        readings,
        look=look,
        control=CONTROL_NAME,
        response=protocol.response,
        test_names={exposure.id: exposure.short_name for exposure in protocol.tests},
    )
