"""A trial's readings of every scale and measure, each weighed as its declaration allows.

What is read piece by piece goes through :func:`nublet.core.evidence.analysis.analyse`, choices between two through Bradley and
Terry, ladders by the steps that were passed; of kinds, which are only counted, the share of each is shown. What is worked out from
readings is weighed like what was read.
"""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Analysis, Asked, analyse
from nublet.core.evidence.arrangements import Arrangements
from nublet.core.evidence.checks import Check
from nublet.core.evidence.levels import FactorLevels
from nublet.core.evidence.missing import LeftOut
from nublet.core.evidence.models.ladders import Climbed
from nublet.core.evidence.models.preference import Choice
from nublet.core.evidence.on_ladders import weigh_climbed
from nublet.core.evidence.otherwise import Otherwise, compare_results
from nublet.core.evidence.outcomes import Rules, StepShare, TestEvidence
from nublet.core.evidence.readings import ALL_SPECIES, Reading
from nublet.core.evidence.rows import PieceRow, as_counted, if_all_counted, worked_out
from nublet.core.evidence.scored import weigh_preference
from nublet.core.evidence.stages import StageReached, Staging, stage_reached
from nublet.core.protocols.looks import Look
from nublet.core.protocols.responses import RESPONSES, Response, parts_of
from nublet.core.protocols.tests import DEFAULT_LOOK, Protocol, Test


@dataclass(frozen=True, kw_only=True)
class SystemShares:
    """How often each kind was seen on one build-up in one test."""

    system: str
    n_pieces: int
    n_readings: int
    steps: tuple[StepShare, ...] = ()


@dataclass(frozen=True, kw_only=True)
class TestShares:
    """A test of which kinds are counted, at one look."""

    __test__ = False

    test: str
    look: str
    systems: tuple[SystemShares, ...]


@dataclass(frozen=True, kw_only=True)
class ResponseEvidence:
    """All that a trial shows of one response: an analysis, or of what is only counted shares.

    ``looks`` are those that each test went by, ``rows`` what was read then; ``left_out`` what of it did not count and why,
    ``otherwise`` what would be said if it had, where that was asked for; ``stage`` how far a staged trial is read.
    """

    response: Response
    analysis: Analysis | None
    shares: tuple[TestShares, ...]
    looks: Mapping[str, str]
    rows: tuple[PieceRow, ...]
    left_out: tuple[LeftOut, ...] = ()
    otherwise: Otherwise | None = None
    stage: StageReached | None = None


def rows_by_response(rows: Iterable[PieceRow], protocol: Protocol) -> dict[Response, list[PieceRow]]:
    """What was read of each response, and what can be worked out, in the order in which responses are declared.

    A response of which nothing was read is not among them.
    """
    listed = list(rows)
    found: dict[str, list[PieceRow]] = defaultdict(list)
    for row in (*listed, *worked_out(listed, protocol)):
        found[row.response].append(row)
    return {
        response: found[response.id]
        for response in RESPONSES.values()
        if any(row.value is not None for row in found.get(response.id, ()))
    }


def sources_of(response: Response, rows: Mapping[Response, Sequence[PieceRow]]) -> list[PieceRow]:
    """What a response is worked out from, of what :func:`rows_by_response` gives; empty for what is read."""
    return [row for name in response.derived_from for row in rows.get(RESPONSES[name], ())]


def _is_asked_for(row: PieceRow, looks: Mapping[str, str], protocol: Protocol) -> bool:
    """Whether something that is worked out at these looks, of tests or ladders, waits for this row."""
    of_ladders = [ladder.id for ladder in protocol.ladders if row.test in ladder.tests]
    return any(looks.get(test) in ("", row.look) for test in (row.test, *of_ladders))


def look_that_counts(
    test: Test, protocol: Protocol, response: Response, seen: Iterable[str], wanted: str
) -> str:
    """The look that a test goes by: the wanted one where the response is read then, else the last seen after something was done.

    A wanted look at which nothing was read yet is still the one: marks that may recover are no verdict.
    """
    have = set(seen)
    if have == {""}:
        # All looks went into it.
        return ""
    looks = protocol.looks_of(test)
    asked = protocol.look_meant(wanted)
    if asked in have or asked in {look.id for look in looks if _is_read_at(test, look, response)}:
        return asked
    ordered = sorted(
        (each for each in looks if each.id in have),
        key=lambda each: (not each.is_before, _moment(test, each.after), each.after_min),
    )
    return ordered[-1].id if ordered else sorted(have)[-1]


def looks_that_count(
    rows: Iterable[PieceRow], protocol: Protocol, response: Response, wanted: str
) -> dict[str, str]:
    """The look that each test goes by, in which anything was read; of what is worked out over all looks an empty one."""
    tests = {test.id: test for test in protocol.tests}
    seen: dict[str, set[str]] = defaultdict(set)
    for row in rows:
        if row.value is not None:
            seen[row.test].add(row.look)
    return {
        name: look_that_counts(tests[name], protocol, response, found, wanted)
        if name in tests
        else sorted(found)[-1]
        for name, found in seen.items()
    }


def _is_read_at(test: Test, look: Look, response: Response) -> bool:
    """Whether a response, or what it is worked out from, is read at a look."""
    wanted = {response.id, *response.derived_from}
    return any(
        read.is_due_at(look) and wanted & {part.id for part in parts_of(read.response)} for read in test.reads
    )


def _moment(test: Test, after: str) -> int:
    """Which act a look comes after, by number; the last for none."""
    ids = [act.id for act in test.acts]
    return ids.index(after) if after in ids else len(ids)


def weigh_response(
    response: Response,
    rows: Sequence[PieceRow],
    protocol: Protocol,
    *,
    look: str = DEFAULT_LOOK,
    control: str | None = None,
    test_names: Mapping[str, str] | None = None,
    asked: Asked | None = None,
    factors: Sequence[FactorLevels] | None = None,
    staging: Staging | None = None,
    sources: Sequence[PieceRow] = (),
) -> ResponseEvidence | None:
    """Weigh one response; ``None`` while nothing was read of it at the looks that count.

    Parameters
    ----------
    rows : sequence of PieceRow
        Of the response alone; see :func:`rows_by_response`.
    look : str
        Which look counts; a test that is not read then goes by its last at which the response was read.
    control : str or None
        The untreated build-up.
    test_names : mapping of test to the name that checks show, or None
    asked : Asked or None
        By which school, within which smallest difference worth knowing.
    factors : sequence of FactorLevels or None
        What the build-ups on whole panels cross.
    staging : Staging or None
        Where the trial is looked at before all is read: what counts by now, and by which limit pairs are told apart.
    sources : sequence of PieceRow
        What the response is worked out from, by :func:`sources_of`: a stage is read to the end when these are.

    Raises
    ------
    ReadingsError
        If a staged trial's first stage is not read to the end.
    """
    looks = looks_that_count(rows, protocol, response, look)
    counted = [row for row in rows if row.look == looks.get(row.test)]
    if not any(row.value is not None and row.left_out is None for row in counted):
        return None
    asked, stage = asked or Asked(), None
    if staging is not None:
        asked_for = [row for row in sources if _is_asked_for(row, looks, protocol)]
        stage, counted = stage_reached(counted, staging, sources=asked_for)
        asked = replace(asked, alpha=stage.limit.alpha)
    if response.form == "kinds":
        shares = tuple(
            TestShares(test=name, look=at, systems=_shares(_known(counted, name), response))
            for name, at in looks.items()
        )
        return ResponseEvidence(
            response=response, analysis=None, shares=shares, looks=looks, rows=tuple(counted), stage=stage
        )

    def weigh(chosen: Sequence[PieceRow]) -> Analysis:
        if response.form == "pair":
            return _of_choices(chosen, response, looks, asked)
        if response.id == "highest-step":
            return _of_ladders(chosen, protocol, response, looks, asked)
        # Each test at the look that it goes by.
        at_theirs = readings_of_rows(chosen, with_look=False)
        return analyse(
            at_theirs, response=response, control=control, test_names=test_names, asked=asked, factors=factors
        )

    analysis = weigh(counted)
    if not analysis.tests:
        return None
    out = [row.left_out for row in counted if row.left_out is not None and row.value is not None]
    otherwise = None
    if out and asked.with_otherwise:
        everything = weigh(if_all_counted(counted))
        otherwise = compare_results(analysis.tests, everything.tests, out)
    told = tuple(replace(each, look=looks[each.test]) for each in analysis.tests)
    return ResponseEvidence(
        response=response,
        analysis=replace(analysis, tests=told),
        shares=(),
        looks=looks,
        rows=tuple(counted),
        left_out=tuple(LeftOut(why=why, n_rows=n) for why, n in Counter(out).items()),
        otherwise=otherwise,
        stage=stage,
    )


def readings_of_rows(rows: Iterable[PieceRow], *, with_look: bool = True) -> list[Reading]:
    """The rows as the analysis asks for them; without their looks where each test is weighed at its own."""
    return [
        Reading(
            test=row.test,
            system=row.system,
            board=row.board,
            species=row.species,
            panel=row.piece,
            section=row.section or None,
            judge=row.judge or None,
            look=(row.look or None) if with_look else None,
            view=row.view or None,
            repeat=row.turn,
            grade=row.value,
            is_beyond=row.is_beyond,
            after=row.after,
            left_out=row.left_out,
        )
        for row in as_counted(rows)
    ]


def _known(rows: Iterable[PieceRow], test: str) -> list[PieceRow]:
    return [
        row
        for row in rows
        if row.test == test and row.value is not None and row.left_out is None and row.turn == 0
    ]


def _of_choices(
    rows: Sequence[PieceRow], response: Response, looks: Mapping[str, str], asked: Asked
) -> Analysis:
    """Preferences, test by test; one that nothing can be told of yet is left out."""
    found, checks = [], []
    rules = Rules(response=response, alpha=asked.alpha, draws=Arrangements(asked.seed))
    for test in looks:
        choices = [
            Choice(judge=row.judge, a=row.system, b=row.against, won=row.value or 0.0)
            for row in _known(rows, test)
            if row.against and row.against != row.system
        ]
        try:
            found.append(weigh_preference(test, ALL_SPECIES, None, choices, rules=rules))
        except ReadingsError as error:
            checks.append(Check(check="linked", level="warn", says=error.message))
    return _bare_analysis(tuple(found), tuple(checks))


def _of_ladders(
    rows: Sequence[PieceRow], protocol: Protocol, response: Response, looks: Mapping[str, str], asked: Asked
) -> Analysis:
    """Ladders, by how far each panel climbed; the steps are called by their tests."""
    names = {test.id: test.short_name for test in protocol.tests}
    rules = Rules(response=response, alpha=asked.alpha, worth=asked.worth, draws=Arrangements(asked.seed))
    found: list[TestEvidence] = []
    woods: dict[str, None] = {}
    for ladder in protocol.ladders:
        climbed = [
            Climbed(
                panel=row.piece if not row.section else f"{row.piece}, {row.section}",
                system=row.system,
                board=row.board,
                species=row.species,
                at_least=int(row.value or 0) if row.after is None else int(row.after),
                at_most=int(row.value or 0),
            )
            for row in _known(rows, ladder.id)
        ]
        if ladder.id in looks and climbed:
            steps = [names.get(test, test) for test in ladder.tests]
            species = sorted({each.species for each in climbed if each.species})
            woods |= dict.fromkeys(species)
            if len(species) > 1:
                found += [
                    weigh_climbed(
                        ladder.id, one, None, [c for c in climbed if c.species == one], steps, rules
                    )
                    for one in species
                ]
            on = species[0] if len(species) == 1 else ALL_SPECIES
            found.append(weigh_climbed(ladder.id, on, None, climbed, steps, rules))
    return replace(_bare_analysis(tuple(found), ()), species=tuple(woods))


def _bare_analysis(tests: tuple[TestEvidence, ...], checks: tuple[Check, ...]) -> Analysis:
    return Analysis(
        look=None, tests=tests, interaction=(), depends_on_wood=(), species=(), left_out=(), checks=checks
    )


def _shares(rows: Sequence[PieceRow], response: Response) -> tuple[SystemShares, ...]:
    """How often each kind was seen, build-up by build-up in the order of their names."""
    by_system: dict[str, list[PieceRow]] = defaultdict(list)
    for row in rows:
        by_system[row.system].append(row)
    return tuple(
        SystemShares(
            system=system,
            n_pieces=len({(row.piece, row.section) for row in own}),
            n_readings=len(own),
            steps=tuple(
                StepShare(
                    words=step.words,
                    share=sum(bool(int(row.value or 0) & int(step.value)) for row in own) / len(own),
                )
                for step in response.steps
            ),
        )
        for system, own in sorted(by_system.items())
    )
