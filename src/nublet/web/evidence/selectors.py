"""Evidence and ranking of a stored trial: rows in, core functions, results out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nublet.core.design.factors import FACTOR_WORDS
from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Asked
from nublet.core.evidence.by_response import (
    ResponseEvidence,
    TestShares,
    readings_of_rows,
    rows_by_response,
    sources_of,
    weigh_response,
)
from nublet.core.evidence.checks import Check
from nublet.core.evidence.judges import JudgesResult
from nublet.core.evidence.levels import FactorLevels, levels_in_order
from nublet.core.evidence.missing import LeftOut
from nublet.core.evidence.outcomes import TestEvidence
from nublet.core.evidence.policy import (
    in_order,
    known_section,
    main_response,
    species_choices,
    tests_on,
)
from nublet.core.evidence.readings import ALL_SPECIES, KNEW, Reading
from nublet.core.evidence.rows import PieceRow
from nublet.core.evidence.stages import StageReached
from nublet.core.evidence.words import Headline, say_headline, say_shares, say_wood
from nublet.core.materials.build_ups import CONTROL_NAME
from nublet.core.protocols.responses import RESPONSES, Response
from nublet.core.protocols.tests import DEFAULT_LOOK, Protocol
from nublet.web.evidence.checks import (
    check_blindness,
    check_laying,
    check_log,
    check_look_times,
    checks_of_plan,
)
from nublet.web.evidence.rows import rows_of, staging_of
from nublet.web.practice.selectors import JudgePractice, practice_of
from nublet.web.readings.models import Reading as ReadingRow
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

NOT_YET = "Nothing has been graded at this look yet. Grade panels under Read; the evidence grows as you go."


@dataclass(frozen=True, kw_only=True)
class ResponseChoice:
    """A scale or measure of which something was read or can be worked out."""

    id: str
    name: str


@dataclass(frozen=True, kw_only=True)
class TestLook:
    """At which look a test was weighed, in words."""

    __test__ = False

    test: str
    name: str


@dataclass(frozen=True, kw_only=True)
class EvidenceView:
    """The evidence of one response at one look and one choice of species: tests with means, or the shares of each step.

    ``looks`` tell at which look each test was weighed; ``practice`` how those judges who wish it to be
    known read marks that were drawn, ``agreement`` how far the judges agree on these panels,
    ``left_out`` what was read then and does not count.
    """

    response: str
    response_choices: tuple[ResponseChoice, ...]
    look: str
    looks: tuple[TestLook, ...]
    species: str
    species_choices: tuple[str, ...]
    n_boards: int
    judges: tuple[str, ...]
    n_readings: int
    is_simulated: bool
    section: str
    section_choices: tuple[str, ...]
    control: str
    benchmarks: tuple[str, ...]
    tests: tuple[TestEvidence, ...]
    shares: tuple[TestShares, ...]
    depends_on_wood: tuple[str, ...]
    headline: Headline
    checks: tuple[Check, ...]
    practice: tuple[JudgePractice, ...]
    factors: tuple[FactorLevels, ...]
    agreement: JudgesResult | None
    left_out: tuple[LeftOut, ...]
    stage: StageReached | None


def readings_of(trial: Trial, *, section: str = "", response: str = "") -> list[Reading]:
    """One response's readings of every look that has begun, of all sections or one; by default its main one's. Five queries."""
    rows = rows_by_response(rows_of(trial, section=section), protocol_of(trial))
    wanted = RESPONSES.get(response) or main_response(protocol_of(trial))
    factors = [
        (factor.factor, {each.system: each.level for each in factor.systems})
        for factor in factors_of(trial, section=section)
    ]
    return [
        replace(reading, levels=tuple((factor, levels.get(reading.system, "")) for factor, levels in factors))
        for reading in readings_of_rows(rows.get(wanted, ()))
    ]


def factors_of(trial: Trial, *, section: str = "") -> tuple[FactorLevels, ...]:
    """What a trial crosses: its build-ups' levels, and those of one section where it is named, by the factors' names. One query."""
    own = trial.section_levels.get(known_section(trial.sections, section), {})
    rows = trial.build_ups.order_by("pk").values_list("name", "levels")
    return levels_in_order(
        {
            name: {FACTOR_WORDS[kind]: level for kind, level in {**levels, **(own if levels else {})}.items()}
            for name, levels in rows
        },
        order=FACTOR_WORDS.values(),
    )


def everything_read(trial: Trial, *, section: str = "") -> list[PieceRow]:
    """What was read of every response, and what was worked out from it. Four queries."""
    rows = rows_by_response(rows_of(trial, section=section), protocol_of(trial))
    return [row for found in rows.values() for row in found if row.value is not None and row.turn == 0]


def weigh_evidence(
    trial: Trial, *, look: str = DEFAULT_LOOK, species: str = "", section: str = "", response: str = ""
) -> EvidenceView:
    """Weigh one response of a trial at one look, of one species, of ``"all"``, or by default of what the evidence itself says.

    Raises
    ------
    ReadingsError
        If nothing has been read at the look, or the species or the response is not in the trial.
    """
    protocol = protocol_of(trial)
    look = protocol.look_meant(look)
    rows = rows_by_response(rows_of(trial, section=section), protocol)
    chosen = choose_response(rows, protocol, response)
    names = names_of(protocol)
    factors = factors_of(trial, section=section)
    found = weigh_response(
        chosen,
        rows.get(chosen, []),
        protocol,
        look=look,
        control=CONTROL_NAME,
        test_names=names,
        factors=factors,
        asked=Asked(species=species, worth=trial.worth_knowing.get(chosen.id)),
        staging=staging_of(trial),
        sources=sources_of(chosen, rows),
    )
    if found is None:
        raise ReadingsError(NOT_YET)
    counted = [row for row in found.rows if row.value is not None and row.left_out is None and row.turn == 0]
    checks = _checks(trial, found, n_systems=len({row.system for row in counted}))
    species, choices, tests, headline = _in_words(found, checks, species, names)
    return EvidenceView(
        response=chosen.id,
        response_choices=tuple(ResponseChoice(id=each.id, name=each.name) for each in rows),
        look=look,
        looks=tuple(
            TestLook(test=test, name=protocol.look(at).name)
            for test, at in found.looks.items()
            if at in {each.id for each in protocol.all_looks}
        ),
        species=species,
        species_choices=choices,
        n_boards=len({row.board for row in counted if species in (ALL_SPECIES, row.species)}),
        # What the hands measure, and what is worked out, has none.
        judges=tuple(sorted({row.judge for row in counted if row.judge})),
        n_readings=len(counted),
        is_simulated=trial.is_simulated,
        section=section,
        section_choices=tuple(trial.sections),
        control=CONTROL_NAME,
        benchmarks=benchmarks_of(trial),
        tests=tests,
        shares=found.shares,
        depends_on_wood=() if found.analysis is None else found.analysis.depends_on_wood,
        headline=headline,
        checks=checks,
        practice=tuple(practice_of(trial.judges.all(), [chosen.id])),
        factors=tuple(each for each in factors if len(each.levels) > 1),
        agreement=None if found.analysis is None else found.analysis.judges,
        left_out=found.left_out,
        stage=found.stage,
    )


def _checks(trial: Trial, found: ResponseEvidence, *, n_systems: int) -> tuple[Check, ...]:
    """What the readings, the plan, the blind and the log show."""
    return (
        *(() if found.analysis is None else found.analysis.checks),
        *checks_of_plan(trial, found.stage),
        check_blindness(trial, n_apart=sum(row.left_out == KNEW for row in found.rows)),
        *check_laying(trial, n_systems=n_systems),
        check_look_times(trial),
        *check_log(trial),
    )


def _in_words(
    found: ResponseEvidence,
    checks: tuple[Check, ...],
    species: str,
    names: dict[str, str],
) -> tuple[str, tuple[str, ...], tuple[TestEvidence, ...], Headline]:
    """Which woods there are to choose from, the tests on the chosen one, and the sentences at the head."""
    if found.analysis is None:
        return ALL_SPECIES, (ALL_SPECIES,), (), say_shares(found.response, checks)
    choices = species_choices(found.analysis)
    species = species or found.analysis.default_species
    tests = in_order(tests_on(found.analysis, species), list(names))
    wood = say_wood(found.analysis, species, test_names=names)
    headline = say_headline(tests, checks, control=CONTROL_NAME, test_names=names, wood=wood)
    return species, choices, tests, headline


def choose_response(rows: dict[Response, list[PieceRow]], protocol: Protocol, wanted: str) -> Response:
    """The response that is asked for, or the main one that was read. Raises ``ReadingsError`` for one that was not."""
    if wanted and wanted not in {response.id for response in rows}:
        known = ", ".join(response.id for response in rows) or "nothing yet"
        raise ReadingsError(f"Nothing was read of {wanted!r}. Choose one of: {known}.", field="response")
    if wanted:
        return RESPONSES[wanted]
    main = main_response(protocol)
    return main if main in rows or not rows else next(iter(rows))


def benchmarks_of(trial: Trial) -> tuple[str, ...]:
    """The names under which benchmarks of the shop stand in a trial. One query."""
    rows = trial.build_ups.filter(version__build_up__is_benchmark=True)
    return tuple(rows.order_by("pk").values_list("name", flat=True))


def weigh_each(
    trial: Trial,
    protocol: Protocol,
    look: str,
    section: str,
    *,
    factors: Sequence[FactorLevels] | None = None,
) -> tuple[list[ResponseEvidence], str]:
    """All responses, and why one of a staged trial cannot be looked at yet."""
    test_names = names_of(protocol)
    weighed, waits, staging = [], "", staging_of(trial)
    read = rows_by_response(rows_of(trial, section=section), protocol)
    for response, rows in read.items():
        try:
            found = weigh_response(
                response,
                rows,
                protocol,
                look=look,
                control=CONTROL_NAME,
                test_names=test_names,
                factors=factors,
                asked=Asked(worth=trial.worth_knowing.get(response.id)),
                staging=staging,
                sources=sources_of(response, read),
            )
        except ReadingsError as error:
            if staging is None:
                raise
            waits = error.message
            continue
        if found is not None:
            weighed.append(found)
    return weighed, waits


def names_of(protocol: Protocol) -> dict[str, str]:
    """What tests and ladders are called, by id."""
    return {
        **{test.id: test.short_name for test in protocol.tests},
        **{ladder.id: ladder.name for ladder in protocol.ladders},
    }


def readings_behind(
    trial: Trial,
    *,
    test: str,
    system: str,
    look: str,
    species: str = ALL_SPECIES,
    section: str = "",
    response: str = "",
) -> list[ReadingRow]:
    """Return the readings behind one point, panel by panel. One query, one for the entries and one for deviations."""
    chosen = RESPONSES.get(response) or main_response(protocol_of(trial))
    rows = ReadingRow.objects.filter(
        spot__panel__trial=trial,
        spot__panel__spoiled_at__isnull=True,
        spot__exposure=test,
        spot__panel__build_up__name=system,
        response__in={chosen.id, *chosen.derived_from},
        value__isnull=False,
    )
    if section:
        rows = rows.filter(spot__section__in={known_section(trial.sections, section), ""})
    # What something is worked out from was read at other looks too.
    if not chosen.derived_from:
        rows = rows.filter(look=look)
    if species != ALL_SPECIES:
        rows = rows.filter(spot__panel__board__species=species)
    return list(
        rows.select_related("spot__panel__board", "spot__panel__trial", "judge")
        .prefetch_related("entries", "spot__panel__deviations")
        .order_by("spot__panel__board__pk", "spot__panel__code", "spot__section", "look", "judge__display_name", "response", "view")
    )  # fmt: skip
