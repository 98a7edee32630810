"""The whole evidence of a table of readings: every test, every species, and the checks."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.evidence.checks import Check, CheckedTest, check_left_out, check_validity, check_wood
from nublet.core.evidence.levels import FactorLevels, factor_levels
from nublet.core.evidence.missing import LeftOut, absent_cells, count_left_out
from nublet.core.evidence.models.blocks import (
    InteractionResult,
    species_interaction,
)
from nublet.core.evidence.panel_values import PooledJudges, pool_judges
from nublet.core.evidence.readings import (
    PanelValue,
    Reading,
    check_readings,
    choose_look,
    look_key,
)
from nublet.core.evidence.weighing import ALPHA, TestEvidence, weigh_test
from nublet.core.protocols.responses import GRADE, Response

ALL_SPECIES = "all"
CONTROL_NAMES = ("control", "bare control", "bare", "untreated")
MOST_TESTS = 20_000
# Every pair of every test is listed up to so many in all; beyond, the tests with the most build-ups list none.
MOST_PAIRS = 1_000_000
_TABLE_PAYS_FROM = 2_000


@dataclass(frozen=True, kw_only=True)
class Analysis:
    """Everything that a table of readings shows.

    Attributes
    ----------
    look : str or None
    tests : tuple of TestEvidence
        By test and species; with several species each test once more over all of them.
    interaction : tuple of (test, InteractionResult)
        System x species, where several species let it be tested.
    depends_on_wood : tuple of str
        The tests in which it is clear: Holm over the tests at 0.05.
    species : tuple of str
        Those with a value, the one with the most panels first.
    left_out : tuple of LeftOut
        Every row that did not count.
    checks : tuple of Check
    factors : tuple of FactorLevels
        Those that the table names, with each build-up's level.
    """

    look: str | None
    tests: tuple[TestEvidence, ...]
    interaction: tuple[tuple[str, InteractionResult], ...]
    depends_on_wood: tuple[str, ...]
    species: tuple[str, ...]
    left_out: tuple[LeftOut, ...]
    checks: tuple[Check, ...]
    factors: tuple[FactorLevels, ...] = ()

    @property
    def default_species(self) -> str:
        """What to show first: all woods together, unless it depends on the wood."""
        if len(self.species) > 1 and not self.depends_on_wood:
            return ALL_SPECIES
        return self.species[0] if self.species else ALL_SPECIES


def analyse(
    readings: Sequence[Reading],
    *,
    look: str | None = None,
    response: Response = GRADE,
    control: str | None = None,
    test_names: Mapping[str, str] | None = None,
) -> Analysis:
    """Turn readings into evidence.

    Parameters
    ----------
    readings : sequence of Reading
    look : str or None
        Which look; by default the only one, or 24 h.
    response : Response
        What was read.
    control : str or None
        The untreated system; by default one called "control", "bare control", "bare" or "untreated".
    test_names : mapping of test to the name that the checks show, or None

    Raises
    ------
    ReadingsError
        If the table contradicts itself, has no grade at the look, or names more than ``MOST_TESTS`` tests.
    """
    check_readings(readings, response=response)
    factors = factor_levels(readings)
    chosen = choose_look(readings, look)
    of_test = _by_test(readings, chosen)
    pooled = {test: pool_judges(rows, response=response) for test, rows in of_test.items()}
    pooled = {test: found for test, found in pooled.items() if found.values}
    if not pooled:
        raise ReadingsError(
            f"No reading at look {chosen or 'any'} has a {response.noun}. Grade some panels first.",
            field="grade",
        )
    if control is None:
        names = sorted({r.system for r in readings})
        control = next((name for name in names if name.casefold() in CONTROL_NAMES), None)
    weigh = _Weigher(look=chosen, response=response, pooled=pooled)
    tests, checked, interaction = _weigh_each(pooled, of_test, weigh, test_names or {})
    depends = _clear_interactions(interaction)
    left_out = count_left_out(readings, chosen)
    panels_on = defaultdict(set)
    for found in pooled.values():
        for value in found.values:
            panels_on[value.species].add(value.panel)
    woods = [name for name in panels_on if name is not None]
    checks = check_validity(checked, control=control, response=response)
    if len(woods) > 1:
        clear = [
            ((test_names or {}).get(test, test), result.p) for test, result in interaction if test in depends
        ]
        checks.append(check_wood(clear, n_tests=len(interaction)))
    checks.append(check_left_out(left_out))
    return Analysis(
        look=chosen,
        tests=tuple(tests),
        interaction=tuple(interaction),
        depends_on_wood=depends,
        species=tuple(sorted(woods, key=lambda name: (-len(panels_on[name]), name))),
        left_out=left_out,
        checks=tuple(checks),
        factors=factors,
    )


def _by_test(readings: Sequence[Reading], look: str | None) -> dict[str, list[Reading]]:
    """The readings that count at a look, by test. Raises ``ReadingsError`` for more tests than can be weighed."""
    key = look_key(look)
    of_test: dict[str, list[Reading]] = defaultdict(list)
    for reading in readings:
        if reading.left_out is None and (look is None or look_key(reading.look) == key):
            of_test[reading.test].append(reading)
    if len(of_test) > MOST_TESTS:
        raise ReadingsError(
            f"The table names {len(of_test):,} different tests; at most {MOST_TESTS:,} are weighed at once. "
            "Is the column 'test' what was done to a spot?",
            field="test",
        )
    return of_test


_Interaction = tuple[str, InteractionResult]


def _weigh_each(
    pooled: Mapping[str, PooledJudges],
    of_test: Mapping[str, Sequence[Reading]],
    weigh: _Weigher,
    names: Mapping[str, str],
) -> tuple[list[TestEvidence], list[CheckedTest], list[_Interaction]]:
    """Every test on each wood, and where there are several once more on all; what the checks look at; what hangs on the wood."""
    tests: list[TestEvidence] = []
    checked: list[CheckedTest] = []
    interaction: list[_Interaction] = []
    for test, found in pooled.items():
        label = names.get(test, test)
        species = sorted({value.species for value in found.values if value.species is not None})
        apart = {name: tuple(v for v in found.values if v.species == name) for name in species}
        if len(species) <= 1:
            apart = {species[0] if species else ALL_SPECIES: found.values}
        for name, values in apart.items():
            one = weigh(test, name, values)
            tests.append(one)
            rows = [r for r in of_test[test] if len(species) <= 1 or r.species == name]
            checked.append(
                CheckedTest(
                    label=label if len(species) <= 1 else f"{label}, {name}",
                    values=values,
                    fit=one.fit,
                    n_missing=sum(r.grade is None for r in rows),
                    absent=absent_cells(rows),
                    judges=found,
                )
            )
        if len(species) > 1:
            tests.append(weigh(test, ALL_SPECIES, found.values))
            if (dependence := species_interaction(found.values)) is not None:
                interaction.append((test, dependence))
    return tests, checked, interaction


def _clear_interactions(interaction: Sequence[tuple[str, InteractionResult]]) -> tuple[str, ...]:
    """The tests in which it depends on the wood, by Holm's step-down over the tests."""
    ordered = sorted(interaction, key=lambda item: item[1].p)
    clear: set[str] = set()
    for index, (test, found) in enumerate(ordered):
        if found.p * (len(ordered) - index) >= ALPHA:
            break
        clear.add(test)
    return tuple(test for test, _ in interaction if test in clear)


class _Weigher:
    """Weighs tests alike, within the number of pairs that can be listed in all."""

    def __init__(
        self,
        *,
        look: str | None,
        response: Response,
        pooled: Mapping[str, PooledJudges],
    ) -> None:
        self._look, self._response = look, response
        sizes = Counter(len({value.system for value in found.values}) for found in pooled.values())
        self._most_systems, total = 0, 0
        for size, n_tests in sorted(sizes.items()):
            # Each of two species and their pool lists the pairs once more.
            total += n_tests * 3 * size * (size - 1) // 2
            if total > MOST_PAIRS:
                break
            self._most_systems = size
        self._use_table = total > _TABLE_PAYS_FROM

    def __call__(self, test: str, species: str, values: tuple[PanelValue, ...]) -> TestEvidence:
        return weigh_test(
            test,
            species,
            self._look,
            values,
            response=self._response,
            most_systems=self._most_systems,
            use_table=self._use_table,
        )
