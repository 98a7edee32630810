"""The whole evidence of a table of readings: every test, every species, the judges, and the checks."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from nublet.core.errors import ReadingsError
from nublet.core.evidence.checks import Check, CheckedTest, check_left_out, check_validity, check_wood
from nublet.core.evidence.judge_checks import check_judges
from nublet.core.evidence.judges import JudgesResult, judge_judges
from nublet.core.evidence.levels import FactorLevels, factor_levels
from nublet.core.evidence.missing import LeftOut, absent_cells, count_left_out
from nublet.core.evidence.models.blocks import InteractionResult, species_interaction
from nublet.core.evidence.models.ladders import THRESHOLD
from nublet.core.evidence.on_ladders import weigh_ladders
from nublet.core.evidence.outcomes import ALPHA, School, TestEvidence
from nublet.core.evidence.panel_values import PooledJudges, pool_judges
from nublet.core.evidence.readings import (
    ALL_SPECIES,
    CONTROL_NAMES,
    KNEW,
    PanelValue,
    Reading,
    check_readings,
    choose_look,
    look_key,
)
from nublet.core.evidence.tasks import Design, Fits, Task, check_design, rules_for, weigh_task
from nublet.core.protocols.responses import GRADE, Response

MOST_TESTS = 20_000


@dataclass(frozen=True, kw_only=True)
class Analysis:
    """Everything that a table of readings shows.

    Attributes
    ----------
    look : str or None
    tests : tuple of TestEvidence
        By test and species; with several species each test once more over all of them. Ladders come last.
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
    judges : JudgesResult or None
        How far those who read agree; ``None`` where nobody is named.
    """

    look: str | None
    tests: tuple[TestEvidence, ...]
    interaction: tuple[tuple[str, InteractionResult], ...]
    depends_on_wood: tuple[str, ...]
    species: tuple[str, ...]
    left_out: tuple[LeftOut, ...]
    checks: tuple[Check, ...]
    factors: tuple[FactorLevels, ...] = ()
    judges: JudgesResult | None = None

    @property
    def default_species(self) -> str:
        """What to show first: all woods together, unless it depends on the wood."""
        return default_species(self.species, self.depends_on_wood)


def default_species(woods: Sequence[str], depends_on_wood: Sequence[str]) -> str:
    """All woods together, unless it depends on the wood: then the one with the most panels."""
    if len(woods) > 1 and not depends_on_wood:
        return ALL_SPECIES
    return woods[0] if woods else ALL_SPECIES


@dataclass(frozen=True, kw_only=True)
class Asked:
    """How a table is to be weighed.

    Attributes
    ----------
    design : Design
        ``"auto"`` weighs sections within panels where there are some.
    school : School
    worth : float or None
        The smallest difference worth knowing; ``None`` for what the response declares.
    alpha : float
        Below it a pair is told apart.
    seed : int
        Of the permutations that are drawn where there are too many for all.
    threshold : float
        From which grade on a step of a ladder is passed.
    species : str or None
        Weigh the tests on one wood alone, or on ``"all"``; ``""`` for what the evidence itself says, ``None`` for each and all.
    with_otherwise : bool
        Weigh a trial once more with what was left out.
    """

    design: Design = "auto"
    school: School = "means"
    worth: float | None = None
    alpha: float = ALPHA
    seed: int = 0
    threshold: float = THRESHOLD
    species: str | None = None
    with_otherwise: bool = False


def analyse(
    readings: Sequence[Reading],
    *,
    look: str | None = None,
    response: Response = GRADE,
    control: str | None = None,
    test_names: Mapping[str, str] | None = None,
    asked: Asked | None = None,
    factors: Sequence[FactorLevels] | None = None,
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
    asked : Asked or None
    factors : sequence of FactorLevels or None
        What the build-ups cross; by default what the readings name.

    Raises
    ------
    ReadingsError
        If the table contradicts itself, has no grade at the look, names more than ``MOST_TESTS`` tests, or is not of the design
        that is asked for.
    """
    asked, names = asked or Asked(), test_names or {}
    check_readings(readings, response=response)
    factors = factor_levels(readings) if factors is None else tuple(factors)
    check_design(readings, asked.design, factors)
    chosen = choose_look(readings, look)
    of_test = _by_test(readings, chosen)
    once = {test: [r for r in rows if r.repeat == 0] for test, rows in of_test.items()}
    pooled = {test: pool_judges(rows, response=response) for test, rows in once.items()}
    pooled = {test: found for test, found in pooled.items() if found.values}
    if not pooled:
        raise ReadingsError(
            f"No reading at look {chosen or 'any'} has a {response.noun}. Grade some panels first.",
            field="grade",
        )
    if control is None:
        control = next(
            (n for n in sorted({r.system for r in readings}) if n.casefold() in CONTROL_NAMES), None
        )
    tasks = [task for test, found in pooled.items() for task in _tasks_of(test, found, once[test], chosen)]
    rules, fits = rules_for(
        tasks, response=response, school=asked.school, worth=asked.worth, alpha=asked.alpha, seed=asked.seed
    )
    interaction = _interactions(pooled) if rules.school == "means" else []
    depends = _clear_interactions(interaction)
    woods = _woods(pooled)
    shown = _shown(tasks, woods, default_species(woods, depends) if asked.species == "" else asked.species)
    tests = [one for task in shown for one in weigh_task(task, rules, asked.design, factors, fits)]
    tests += weigh_ladders(of_test, look=chosen, threshold=asked.threshold, rules=replace(rules, worth=None))
    left_out = count_left_out(readings, chosen)
    judges = judge_judges([r for rows in of_test.values() for r in rows] + _of_who_knew(readings, chosen))
    checks = _checks(tasks, fits, pooled, control=control, response=response, names=names)
    if len(woods) > 1:
        clear = [(names.get(test, test), result.p) for test, result in interaction if test in depends]
        checks.append(check_wood(clear, n_tests=len(interaction)))
    checks += check_judges(judges, response)
    checks.append(check_left_out(left_out))
    return Analysis(
        look=chosen,
        tests=tuple(tests),
        interaction=tuple(interaction),
        depends_on_wood=depends,
        species=woods,
        left_out=left_out,
        checks=tuple(checks),
        factors=tuple(factors),
        judges=judges,
    )


def _by_test(readings: Sequence[Reading], look: str | None) -> dict[str, list[Reading]]:
    """The readings that count at a look, by test. Raises ``ReadingsError`` for more tests than can be weighed."""
    key = look_key(look)
    keys = {name: look_key(name) for name in {reading.look for reading in readings}}
    of_test: dict[str, list[Reading]] = defaultdict(list)
    for reading in readings:
        if reading.left_out is None and (look is None or keys[reading.look] == key):
            of_test[reading.test].append(reading)
    if len(of_test) > MOST_TESTS:
        raise ReadingsError(
            f"The table names {len(of_test):,} different tests; at most {MOST_TESTS:,} are weighed at once. "
            "Is the column 'test' what was done to a spot?",
            field="test",
        )
    return of_test


def _of_who_knew(readings: Sequence[Reading], look: str | None) -> list[Reading]:
    """What stands apart of those who could know: it still tells how far they agree with the others."""
    apart = [reading for reading in readings if reading.left_out == KNEW]
    key = look_key(look)
    return [replace(r, left_out=None) for r in apart if look is None or look_key(r.look) == key]


def _tasks_of(test: str, found: PooledJudges, rows: Sequence[Reading], look: str | None) -> list[Task]:
    """A test on each wood, and where there are several once more on all."""
    species = sorted({value.species for value in found.values if value.species is not None})
    whole = Task(
        test=test,
        species=species[0] if len(species) == 1 else ALL_SPECIES,
        look=look,
        values=found.values,
        rows=rows,
    )
    if len(species) <= 1:
        return [whole]
    apart = [
        Task(
            test=test,
            species=name,
            look=look,
            values=tuple(v for v in found.values if v.species == name),
            rows=[r for r in rows if r.species == name],
        )
        for name in species
    ]
    return [*apart, whole]


def _shown(tasks: Sequence[Task], woods: Sequence[str], wanted: str | None) -> list[Task]:
    """The tasks of one wood, or of all together; of a single wood its own. ``None`` is every one."""
    choices = (*((ALL_SPECIES,) if len(woods) != 1 else ()), *woods)
    if wanted not in (None, ALL_SPECIES, *woods):
        raise ReadingsError(
            f"Nothing was graded on {wanted!r}. Choose one of: {', '.join(choices)}.", field="species"
        )
    if wanted == ALL_SPECIES and len(woods) == 1:
        wanted = woods[0]
    return [task for task in tasks if wanted is None or task.species == wanted]


def _interactions(pooled: Mapping[str, PooledJudges]) -> list[tuple[str, InteractionResult]]:
    """System x species of every test that stands on several woods and lets it be tested."""
    return [
        (test, found)
        for test, each in pooled.items()
        if len({v.species for v in each.values}) > 1
        and (found := species_interaction(_over_sections(each.values))) is not None
    ]


def _over_sections(values: Sequence[PanelValue]) -> list[PanelValue]:
    """One value a panel, the mean of its sections."""
    if not any(value.section for value in values):
        return list(values)
    by_panel: dict[str, list[PanelValue]] = defaultdict(list)
    for value in values:
        by_panel[value.panel].append(value)
    return [
        replace(own[0], section="", value=sum(v.value for v in own) / len(own)) for own in by_panel.values()
    ]


def _checks(
    tasks: Sequence[Task],
    fits: Fits,
    pooled: Mapping[str, PooledJudges],
    *,
    control: str | None,
    response: Response,
    names: Mapping[str, str],
) -> list[Check]:
    n_species = Counter(task.test for task in tasks)
    checked = []
    for task in tasks:
        if task.species == ALL_SPECIES and n_species[task.test] > 1:
            continue
        label = names.get(task.test, task.test)
        values = task.values
        checked.append(
            CheckedTest(
                label=label if n_species[task.test] == 1 else f"{label}, {task.species}",
                values=values,
                fit=fits.get((task.test, task.species)),
                n_missing=sum(r.grade is None for r in task.rows),
                absent=absent_cells(task.rows),
                judges=pooled[task.test],
            )
        )
    return check_validity(checked, control=control, response=response)


def _woods(pooled: Mapping[str, PooledJudges]) -> tuple[str, ...]:
    panels_on: dict[str, set[str]] = defaultdict(set)
    for found in pooled.values():
        for value in found.values:
            if value.species is not None:
                panels_on[value.species].add(value.panel)
    return tuple(sorted(panels_on, key=lambda name: (-len(panels_on[name]), name)))


def _clear_interactions(interaction: Sequence[tuple[str, InteractionResult]]) -> tuple[str, ...]:
    """The tests in which it depends on the wood, by Holm's step-down over the tests."""
    ordered = sorted(interaction, key=lambda item: item[1].p)
    clear: set[str] = set()
    for index, (test, found) in enumerate(ordered):
        if found.p * (len(ordered) - index) >= ALPHA:
            break
        clear.add(test)
    return tuple(test for test, _ in interaction if test in clear)
