"""What stands beside one response's evidence: the board of all responses at once, and one test over its looks."""

from __future__ import annotations

from dataclasses import dataclass, replace

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Asked
from nublet.core.evidence.by_response import TestShares, rows_by_response, sources_of, weigh_response
from nublet.core.evidence.levels import FactorLevels
from nublet.core.evidence.otherwise import Otherwise
from nublet.core.evidence.outcomes import TestEvidence
from nublet.core.evidence.over_time import OverTime, over_time
from nublet.core.evidence.policy import in_order, main_response, species_choices, tests_on
from nublet.core.evidence.readings import ALL_SPECIES
from nublet.core.evidence.stages import stage_reached
from nublet.core.materials.build_ups import CONTROL_NAME
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.tests import DEFAULT_LOOK
from nublet.web.evidence.rows import rows_of, staging_of
from nublet.web.evidence.selectors import (
    NOT_YET,
    benchmarks_of,
    choose_response,
    factors_of,
    names_of,
    weigh_each,
)
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial


@dataclass(frozen=True, kw_only=True)
class BoardResponse:
    """One response on the board: its tests, or of kinds their shares."""

    id: str
    name: str
    tests: tuple[TestEvidence, ...]
    shares: tuple[TestShares, ...]


@dataclass(frozen=True, kw_only=True)
class BoardView:
    """Build-ups against everything that was read. ``waits`` says why something of a staged trial is not shown yet."""

    look: str
    species: str
    species_choices: tuple[str, ...]
    section: str
    section_choices: tuple[str, ...]
    control: str
    benchmarks: tuple[str, ...]
    is_simulated: bool
    factors: tuple[FactorLevels, ...]
    responses: tuple[BoardResponse, ...]
    waits: str


def view_board(trial: Trial, *, look: str = DEFAULT_LOOK, species: str = "", section: str = "") -> BoardView:
    """Weigh everything that was read, on one wood or by default as the main response says.

    Raises
    ------
    ReadingsError
        If nothing was read at all, or nothing on the wood.
    """
    protocol = protocol_of(trial)
    look = protocol.look_meant(look)
    factors = factors_of(trial, section=section)
    weighed, waits = weigh_each(trial, protocol, look, section, factors=factors)
    if not weighed:
        raise ReadingsError(waits or NOT_YET)
    by_response = {each.response: each for each in weighed}
    main = by_response.get(main_response(protocol)) or weighed[0]
    choices = (ALL_SPECIES,) if main.analysis is None else species_choices(main.analysis)
    if species and species not in choices:
        raise ReadingsError(
            f"Nothing was graded on {species!r}. Choose one of: {', '.join(choices)}.", field="species"
        )
    species = species or (ALL_SPECIES if main.analysis is None else main.analysis.default_species)
    order = list(names_of(protocol))
    return BoardView(
        look=look,
        species=species,
        species_choices=choices,
        section=section,
        section_choices=tuple(trial.sections),
        control=CONTROL_NAME,
        benchmarks=benchmarks_of(trial),
        is_simulated=trial.is_simulated,
        factors=tuple(each for each in factors if len(each.levels) > 1),
        responses=tuple(
            BoardResponse(
                id=each.response.id,
                name=each.response.name,
                tests=()
                if each.analysis is None or species not in (ALL_SPECIES, *species_choices(each.analysis))
                else in_order(tests_on(each.analysis, species), order),
                shares=each.shares,
            )
            for each in weighed
        ),
        waits=waits,
    )


def view_over_time(
    trial: Trial, *, test: str, response: str = "", species: str = ALL_SPECIES, section: str = ""
) -> OverTime:
    """One test of one response at each look that was read.

    Raises
    ------
    ReadingsError
        If nothing was read of it.
    """
    protocol, staging = protocol_of(trial), staging_of(trial)
    chosen = RESPONSES.get(response) or main_response(protocol)
    read = rows_by_response(rows_of(trial, section=section), protocol)
    rows = read.get(chosen, [])
    if chosen.form in ("pair", "kinds") or chosen.id == "highest-step":
        raise ReadingsError(f"{chosen.name} has no looks of its own.", field="response")
    asked = Asked(worth=trial.worth_knowing.get(chosen.id))
    if staging is not None:
        # What is looked at is what the last look of the trial was allowed to see, at every look of a test.
        reached, counted = stage_reached(
            [row for row in rows if row.test == test],
            staging,
            sources=[row for row in sources_of(chosen, read) if row.test == test],
        )
        rows, asked = counted, replace(asked, alpha=reached.limit.alpha)
    return over_time(
        chosen, rows, protocol, test, control=CONTROL_NAME, species=species or ALL_SPECIES, asked=asked
    )


def view_otherwise(
    trial: Trial, *, look: str = DEFAULT_LOOK, species: str = "", section: str = "", response: str = ""
) -> Otherwise:
    """What one response's evidence would say if what was left out had counted; parameters as of the evidence.

    Raises
    ------
    ReadingsError
        If nothing was read at the look.
    """
    protocol = protocol_of(trial)
    rows = rows_by_response(rows_of(trial, section=section), protocol)
    chosen = choose_response(rows, protocol, response)
    found = weigh_response(
        chosen,
        rows.get(chosen, []),
        protocol,
        look=protocol.look_meant(look),
        control=CONTROL_NAME,
        factors=factors_of(trial, section=section),
        asked=Asked(species=species, worth=trial.worth_knowing.get(chosen.id), with_otherwise=True),
        staging=staging_of(trial),
        sources=sources_of(chosen, rows),
    )
    if found is None:
        raise ReadingsError(NOT_YET)
    return found.otherwise or Otherwise(left_out=(), means=(), pairs=())
