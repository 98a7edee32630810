"""One test look by look: the mark when the agent was lifted, and what of it has gone a day later, as a pair.

A build-up's *change* is the mean over its panels of the last look less the first, each panel against itself, weighed by the same
model as a reading. A mark that recovers and one that was never there end alike; only the pair tells them apart.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Asked, analyse
from nublet.core.evidence.arrangements import Arrangements
from nublet.core.evidence.by_response import readings_of_rows
from nublet.core.evidence.outcomes import Rules, TestEvidence
from nublet.core.evidence.panel_values import pool_judges
from nublet.core.evidence.policy import tests_on
from nublet.core.evidence.readings import ALL_SPECIES, PanelValue
from nublet.core.evidence.rows import PieceRow
from nublet.core.evidence.weighing import weigh_test
from nublet.core.protocols.responses import Response
from nublet.core.protocols.tests import Protocol


@dataclass(frozen=True, kw_only=True)
class AtLook:
    """A test as it stood at one look."""

    look: str
    name: str
    test: TestEvidence


@dataclass(frozen=True, kw_only=True)
class OverTime:
    """A test at each look that was read, the earliest first.

    ``change`` weighs the last look less the first, panel by panel; ``None`` for what is not averaged, or where fewer than two
    panels were read at both. A change is better the more it goes towards the response's better end.
    """

    looks: tuple[AtLook, ...]
    change: TestEvidence | None


def over_time(
    response: Response,
    rows: Sequence[PieceRow],
    protocol: Protocol,
    test: str,
    *,
    control: str | None = None,
    species: str = ALL_SPECIES,
    asked: Asked | None = None,
) -> OverTime:
    """Weigh one test at each of its looks.

    Parameters
    ----------
    response : Response
        Read piece by piece; choices between two and ladders have no looks of their own.
    rows : sequence of PieceRow
        Of this response, of every look; those of other tests are passed over.
    protocol : Protocol
    test : str
    control : str or None
    species : str
        One wood, or all.
    asked : Asked or None
        The limit by which pairs are told apart, and the smallest difference worth knowing.

    Raises
    ------
    ReadingsError
        If nothing was read of the test.
    """
    asked = asked or Asked()
    own = [row for row in rows if row.test == test and species in (ALL_SPECIES, row.species)]
    by_look: dict[str, list[PieceRow]] = defaultdict(list)
    for row in own:
        by_look[row.look].append(row)
    names = _names(protocol, test)
    read = [look for look in names if any(_counts(row) for row in by_look.get(look, ()))]
    if not read:
        raise ReadingsError("Nothing was read of this test yet.", field="test")
    looks = []
    for look in read:
        readings = readings_of_rows(by_look[look], with_look=False)
        found = analyse(readings, response=response, control=control, asked=replace(asked, species=None))
        looks.append(AtLook(look=look, name=names[look], test=tests_on(found, _whole(species))[0]))
    change = (
        _change(response, by_look[read[0]], by_look[read[-1]], test, species, asked)
        if len(read) > 1
        else None
    )
    return OverTime(looks=tuple(looks), change=change)


def _names(protocol: Protocol, test: str) -> Mapping[str, str]:
    """The test's looks in the order in which they come."""
    found = next((each for each in protocol.tests if each.id == test), None)
    return {} if found is None else {look.id: look.name for look in protocol.looks_of(found)}


def _whole(species: str) -> str:
    return species or ALL_SPECIES


def _counts(row: PieceRow) -> bool:
    return row.value is not None and row.left_out is None and row.turn == 0


def _change(
    response: Response,
    first: Sequence[PieceRow],
    last: Sequence[PieceRow],
    test: str,
    species: str,
    asked: Asked,
) -> TestEvidence | None:
    if response.weighed_first != "means":
        return None
    before, after = (
        {
            (value.panel, value.section): value
            for value in pool_judges(
                readings_of_rows(row for row in rows if _counts(row)), response=response
            ).values
        }
        for rows in (first, last)
    )
    # The panel is the unit: its sections count with their mean.
    moved: dict[str, list[float]] = defaultdict(list)
    about: dict[str, PanelValue] = {}
    for key, value in after.items():
        if key in before:
            moved[value.panel].append(value.value - before[key].value)
            about[value.panel] = value
    if len(moved) < 2:
        return None
    values = tuple(
        replace(about[panel], section="", value=sum(own) / len(own)) for panel, own in moved.items()
    )
    # A difference ends nowhere: the ends of the scale are not its own.
    free = replace(response, lowest=None, highest=None)
    rules = Rules(
        response=free,
        alpha=asked.alpha,
        worth=asked.worth or response.worth_knowing,
        draws=Arrangements(asked.seed),
    )
    return weigh_test(test, species, None, values, rules=rules)
