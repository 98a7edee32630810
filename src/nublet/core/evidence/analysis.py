"""The whole evidence of a table of readings: every test, every species, and the checks."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.evidence.blocks_model import (
    BlocksFit,
    InteractionResult,
    compare_pairs,
    fit_blocks,
    species_interaction,
    t_intervals,
)
from nublet.core.evidence.checks import Check, CheckedTest, check_left_out, check_validity, check_wood
from nublet.core.evidence.letters import letter_display
from nublet.core.evidence.missing import LeftOut, absent_cells, count_left_out
from nublet.core.evidence.panel_values import PooledJudges, pool_judges
from nublet.core.evidence.readings import (
    Better,
    PanelValue,
    Reading,
    Response,
    check_readings,
    choose_look,
    look_key,
)
from nublet.core.protocols.grades import GRADE_STEP, HIGHEST_GRADE, LOWEST_GRADE

ALPHA = 0.05
ALL_SPECIES = "all"
CONTROL_NAMES = ("control", "bare control", "bare", "untreated")
MOST_TESTS = 20_000
# Every pair of every test is listed up to so many in all; beyond, the tests with the most build-ups list none.
MOST_PAIRS = 1_000_000
_TABLE_PAYS_FROM = 2_000
_MOST_NAMED = 6
_GRADE_ENDS = (LOWEST_GRADE, HIGHEST_GRADE)


@dataclass(frozen=True, kw_only=True)
class SystemEvidence:
    """One system's mean in one test. ``se`` and ``ci`` are ``None`` where nothing can carry them."""

    system: str
    mean: float
    se: float | None
    ci: tuple[float, float] | None
    letters: str
    n_panels: int


@dataclass(frozen=True, kw_only=True)
class PairEvidence:
    """Two systems compared. ``told_apart`` is ``None`` when the data cannot say."""

    a: str
    b: str
    difference: float
    se: float | None
    ci: tuple[float, float] | None
    p_tukey: float | None
    told_apart: bool | None


@dataclass(frozen=True, kw_only=True)
class TestEvidence:
    """One test on one species, or on all pooled with boards nested in species.

    ``says`` explains in words why intervals are missing or made otherwise; it is empty in the usual case.
    ``fit`` is ``None`` when the boards do not link the systems. ``better`` is the better end of the response,
    ``None`` when nobody said which: then the order is from high to low, and means nothing.
    """

    __test__ = False

    test: str
    species: str
    look: str | None
    systems: tuple[SystemEvidence, ...]
    pairs: tuple[PairEvidence, ...]
    values: tuple[PanelValue, ...]
    fit: BlocksFit | None
    says: str
    better: Better | None = "high"


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
    """

    look: str | None
    tests: tuple[TestEvidence, ...]
    interaction: tuple[tuple[str, InteractionResult], ...]
    depends_on_wood: tuple[str, ...]
    species: tuple[str, ...]
    left_out: tuple[LeftOut, ...]
    checks: tuple[Check, ...]

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
    response: Response = "grade",
    control: str | None = None,
    better: Better | None = None,
    test_names: Mapping[str, str] | None = None,
) -> Analysis:
    """Turn readings into evidence.

    Parameters
    ----------
    readings : sequence of Reading
    look : str or None
        Which look; by default the only one, or 24 h.
    response : "grade" or "measure"
        Grades lie on 1 to 5; a measure is any number.
    control : str or None
        The untreated system; by default one called "control", "bare control", "bare" or "untreated".
    better : "high", "low" or None
        Which end of a measure is better. Of grades the high one is.
    test_names : mapping of test to the name that the checks show, or None

    Raises
    ------
    ReadingsError
        If the table contradicts itself, has no grade at the look, or names more than ``MOST_TESTS`` tests.
    """
    check_readings(readings, response=response)
    chosen = choose_look(readings, look)
    key = look_key(chosen)
    of_test: dict[str, list[Reading]] = defaultdict(list)
    for reading in readings:
        if reading.left_out is None and (chosen is None or look_key(reading.look) == key):
            of_test[reading.test].append(reading)
    if len(of_test) > MOST_TESTS:
        raise ReadingsError(
            f"The table names {len(of_test):,} different tests; at most {MOST_TESTS:,} are weighed at once. "
            "Is the column 'test' what was done to a spot?",
            field="test",
        )
    pooled = {test: pool_judges(rows, response=response) for test, rows in of_test.items()}
    pooled = {test: found for test, found in pooled.items() if found.values}
    if not pooled:
        raise ReadingsError(
            f"No reading at look {chosen or 'any'} has a grade. Grade some panels first.", field="grade"
        )
    if control is None:
        names = sorted({r.system for r in readings})
        control = next((name for name in names if name.casefold() in CONTROL_NAMES), None)

    weigh = _Weigher(look=chosen, response=response, better=better, pooled=pooled)
    tests: list[TestEvidence] = []
    checked: list[CheckedTest] = []
    interaction: list[tuple[str, InteractionResult]] = []
    for test, found in pooled.items():
        label = (test_names or {}).get(test, test)
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
    depends = _clear_interactions(interaction)
    left_out = count_left_out(readings, chosen)
    panels_on = defaultdict(set)
    for found in pooled.values():
        for value in found.values:
            panels_on[value.species].add(value.panel)
    woods = [name for name in panels_on if name is not None]
    checks = check_validity(checked, control=control, is_grade=response == "grade")
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
    )


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
        better: Better | None,
        pooled: Mapping[str, PooledJudges],
    ) -> None:
        self._look, self._response = look, response
        self._better: Better | None = "high" if response == "grade" else better
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
            better=self._better,
            most_systems=self._most_systems,
            use_table=self._use_table,
        )


def weigh_test(
    test: str,
    species: str,
    look: str | None,
    values: tuple[PanelValue, ...],
    *,
    response: Response = "grade",
    better: Better | None = "high",
    most_systems: int = 10_000,
    use_table: bool = False,
) -> TestEvidence:
    """Weigh one test: means, intervals, pairs and letters, best mean first.

    Above ``most_systems`` no pairs are compared, and it says so; ``use_table`` reads p-values from a table, which pays
    where many tests share a design.
    """
    fit: BlocksFit | None = None
    says = ""
    systems: tuple[SystemEvidence, ...]
    pairs: tuple[PairEvidence, ...] = ()
    try:
        fit = fit_blocks(values, ends=_GRADE_ENDS if response == "grade" else None)
    except ReadingsError as error:
        says = error.message
    if fit is None:
        systems = _raw_means(values, better)
    elif len(fit.systems) > most_systems:
        systems, _ = _assemble(fit, values, *_own_intervals(fit), (), better)
        says = f"With {len(fit.systems):,} build-ups there are more pairs than can be listed: only means are shown."
    elif fit.has_variance:
        systems, pairs = _with_variance(fit, values, better, use_table=use_table)
        says = _say_error(fit)
    elif fit.residual_df < 1:
        systems, pairs = _without_intervals(fit, values, better)
        says = (
            "Every panel is needed to estimate the means, so nothing is left to say how sure they are. "
            "Add boards."
        )
    else:
        why = _say_no_spread(values, graded=response == "grade")
        if response == "grade":
            systems, pairs = _by_resolution(fit, values, better)
            says = f"{why} The intervals shown are the scale's own resolution, half a step either way."
        else:
            systems, pairs = _without_intervals(fit, values, better)
            says = why
    return TestEvidence(
        test=test,
        species=species,
        look=look,
        systems=systems,
        pairs=pairs,
        values=values,
        fit=fit,
        says=says,
        better=better,
    )


def _say_no_spread(values: Sequence[PanelValue], *, graded: bool) -> str:
    """Why there is no spread: every panel alike, or boards that shift all build-ups by the same."""
    first: dict[str, float] = {}
    if all(first.setdefault(value.system, value.value) == value.value for value in values):
        did = "were graded alike" if graded else "measured alike"
        return f"All panels of each build-up {did}, so there is no spread to make an interval from."
    return (
        "The build-ups differ by exactly the same on every board, so once boards are taken out there is no spread to "
        "make an interval from."
    )


def _say_error(fit: BlocksFit) -> str:
    """Which build-ups the error comes from, where it is not all."""
    stuck = [system for system in fit.systems if system not in fit.error_systems]
    if not stuck:
        return ""
    named = ", ".join(stuck[:_MOST_NAMED]) + (
        f" and {len(stuck) - _MOST_NAMED} more" if len(stuck) > _MOST_NAMED else ""
    )
    return (
        f"Every panel of {named} stands at an end of the scale, which hides their spread: how much panels differ is taken "
        "from the other build-ups."
    )


_Weighed = tuple[tuple[SystemEvidence, ...], tuple[PairEvidence, ...]]


def _own_intervals(
    fit: BlocksFit,
) -> tuple[Sequence[float | None], Sequence[tuple[float, float] | None]]:
    """Standard errors and intervals of the means, or nothing where there is no spread."""
    if not fit.has_variance:
        nothing: list[None] = [None] * len(fit.systems)
        return nothing, nothing
    se, ci = t_intervals(fit)
    return list(se), [(float(low), float(high)) for low, high in ci]


def _with_variance(
    fit: BlocksFit, values: tuple[PanelValue, ...], better: Better | None, *, use_table: bool
) -> _Weighed:
    se, ci = _own_intervals(fit)
    pairs = tuple(
        PairEvidence(
            a=pair.a,
            b=pair.b,
            difference=pair.difference,
            se=pair.se,
            ci=(pair.low, pair.high),
            p_tukey=pair.p_tukey,
            told_apart=pair.p_tukey < ALPHA,
        )
        for pair in compare_pairs(fit, use_table=use_table)
    )
    return _assemble(fit, values, se, ci, pairs, better)


def _by_resolution(fit: BlocksFit, values: tuple[PanelValue, ...], better: Better | None) -> _Weighed:
    """Half a step either way for a mean, a whole step for a difference."""
    half = GRADE_STEP / 2
    ci = [(float(mean) - half, float(mean) + half) for mean in fit.means]
    pairs = []
    for pair in _plain_pairs(fit):
        low, high = pair.difference - GRADE_STEP, pair.difference + GRADE_STEP
        # Means carry rounding of about 1e-15; a difference of exactly one step is not more than one.
        apart = abs(pair.difference) > GRADE_STEP + 1e-9
        pairs.append(
            PairEvidence(
                a=pair.a,
                b=pair.b,
                difference=pair.difference,
                se=None,
                ci=(low, high),
                p_tukey=None,
                told_apart=apart,
            )
        )
    return _assemble(fit, values, [None] * len(fit.systems), list(ci), tuple(pairs), better)


def _without_intervals(fit: BlocksFit, values: tuple[PanelValue, ...], better: Better | None) -> _Weighed:
    nothing: list[None] = [None] * len(fit.systems)
    return _assemble(fit, values, nothing, nothing, tuple(_plain_pairs(fit)), better)


def _plain_pairs(fit: BlocksFit) -> list[PairEvidence]:
    return [
        PairEvidence(
            a=a,
            b=b,
            difference=float(fit.means[i] - fit.means[j]),
            se=None,
            ci=None,
            p_tukey=None,
            told_apart=None,
        )
        for i, a in enumerate(fit.systems)
        for j, b in enumerate(fit.systems)
        if i < j
    ]


def _raw_means(values: tuple[PanelValue, ...], better: Better | None) -> tuple[SystemEvidence, ...]:
    by_system: dict[str, list[float]] = {}
    for value in values:
        by_system.setdefault(value.system, []).append(value.value)
    rows = [
        SystemEvidence(
            system=system,
            mean=sum(found) / len(found),
            se=None,
            ci=None,
            letters="",
            n_panels=len(found),
        )
        for system, found in by_system.items()
    ]
    sign = 1 if better == "low" else -1
    return tuple(sorted(rows, key=lambda row: (sign * row.mean, row.system)))


def _assemble(
    fit: BlocksFit,
    values: tuple[PanelValue, ...],
    se: Sequence[float | None],
    ci: Sequence[tuple[float, float] | None],
    pairs: tuple[PairEvidence, ...],
    better: Better | None,
) -> _Weighed:
    sign = 1 if better == "low" else -1
    # Means that differ by rounding alone stand by name, in whatever unit.
    step = 1e-9 * max(float(abs(fit.means).max()), 1e-300)
    order = sorted(
        range(len(fit.systems)), key=lambda i: (sign * round(float(fit.means[i]) / step), fit.systems[i])
    )
    ranked = [fit.systems[i] for i in order]
    letters = dict.fromkeys(ranked, "")
    if (pairs or len(ranked) == 1) and all(pair.told_apart is not None for pair in pairs):
        letters = letter_display(ranked, {frozenset((p.a, p.b)) for p in pairs if p.told_apart})
    n_panels = Counter(value.system for value in values)
    systems = tuple(
        SystemEvidence(
            system=fit.systems[i],
            mean=float(fit.means[i]),
            se=None if se[i] is None else float(se[i] or 0.0),
            ci=ci[i],
            letters=letters[fit.systems[i]],
            n_panels=n_panels[fit.systems[i]],
        )
        for i in order
    )
    return systems, pairs
