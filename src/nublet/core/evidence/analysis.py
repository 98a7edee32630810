"""The whole evidence of a table of readings: every test, every species, and the checks."""

from __future__ import annotations

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
from nublet.core.evidence.checks import Check, CheckedTest, check_validity
from nublet.core.evidence.letters import letter_display
from nublet.core.evidence.readings import (
    PanelValue,
    Reading,
    Response,
    check_readings,
    choose_look,
    panel_values,
)
from nublet.core.protocols.grades import GRADE_STEP

ALPHA = 0.05
ALL_SPECIES = "all"
CONTROL_NAMES = ("control", "bare control", "bare", "untreated")


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
    ``fit`` is ``None`` when the boards do not link the systems.
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


@dataclass(frozen=True, kw_only=True)
class Analysis:
    """Everything: ``tests`` by test and species, ``interaction`` by test, ``checks``."""

    look: str | None
    tests: tuple[TestEvidence, ...]
    interaction: tuple[tuple[str, InteractionResult], ...]
    checks: tuple[Check, ...]


def analyse(
    readings: Sequence[Reading],
    *,
    look: str | None = None,
    response: Response = "grade",
    control: str | None = None,
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
    test_names : mapping of test to the name that the checks show, or None

    Raises
    ------
    ReadingsError
        If the table contradicts itself, or has no grade at the look.
    """
    check_readings(readings, response=response)
    chosen = choose_look(readings, look)
    at_look = [r for r in readings if r.look == chosen or chosen is None]
    if all(r.grade is None for r in at_look):
        raise ReadingsError(
            f"No reading at look {chosen or 'any'} has a grade. Grade some panels first.", field="grade"
        )
    if control is None:
        names = sorted({r.system for r in readings})
        control = next((name for name in names if name.casefold() in CONTROL_NAMES), None)

    tests: list[TestEvidence] = []
    checked: list[CheckedTest] = []
    interaction: list[tuple[str, InteractionResult]] = []
    for test in dict.fromkeys(r.test for r in at_look):
        of_test = [r for r in at_look if r.test == test]
        label = (test_names or {}).get(test, test)
        values = panel_values(of_test)
        if not values:
            continue
        species = sorted({value.species for value in values if value.species is not None})
        for name in species if len(species) > 1 else []:
            on_species = tuple(value for value in values if value.species == name)
            one = weigh_test(test, name, chosen, on_species, response=response)
            tests.append(one)
            n_missing = sum(r.grade is None for r in of_test if r.species == name)
            checked.append(
                CheckedTest(label=f"{label}, {name}", values=on_species, fit=one.fit, n_missing=n_missing)
            )
        pooled_name = species[0] if len(species) == 1 else ALL_SPECIES
        pooled = weigh_test(test, pooled_name, chosen, tuple(values), response=response)
        tests.append(pooled)
        if len(species) <= 1:
            n_missing = sum(r.grade is None for r in of_test)
            checked.append(
                CheckedTest(label=label, values=tuple(values), fit=pooled.fit, n_missing=n_missing)
            )
        elif (found := species_interaction(values)) is not None:
            interaction.append((test, found))
    return Analysis(
        look=chosen,
        tests=tuple(tests),
        interaction=tuple(interaction),
        checks=tuple(check_validity(checked, control=control, is_grade=response == "grade")),
    )


def weigh_test(
    test: str,
    species: str,
    look: str | None,
    values: tuple[PanelValue, ...],
    *,
    response: Response = "grade",
) -> TestEvidence:
    """Weigh one test: means, intervals, pairs and letters, best mean first."""
    fit: BlocksFit | None = None
    says = ""
    systems: tuple[SystemEvidence, ...]
    pairs: tuple[PairEvidence, ...] = ()
    try:
        fit = fit_blocks(values)
    except ReadingsError as error:
        says = error.message
    if fit is None:
        systems = _raw_means(values)
    elif fit.has_variance:
        systems, pairs = _with_variance(fit, values)
    elif fit.residual_df < 1:
        systems, pairs = _without_intervals(fit, values)
        says = (
            "Every panel is needed to estimate the means, so nothing is left to say how sure they are. "
            "Add boards."
        )
    elif response == "grade":
        systems, pairs = _by_resolution(fit, values)
        says = (
            "All panels of each build-up were graded alike, so there is no spread to make an interval from. "
            "The intervals shown are the scale's own resolution, half a step either way."
        )
    else:
        systems, pairs = _without_intervals(fit, values)
        says = "All panels of each build-up measured alike, so there is no spread to make an interval from."
    return TestEvidence(
        test=test,
        species=species,
        look=look,
        systems=systems,
        pairs=pairs,
        values=values,
        fit=fit,
        says=says,
    )


_Weighed = tuple[tuple[SystemEvidence, ...], tuple[PairEvidence, ...]]


def _with_variance(fit: BlocksFit, values: tuple[PanelValue, ...]) -> _Weighed:
    se, ci = t_intervals(fit)
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
        for pair in compare_pairs(fit)
    )
    return _assemble(fit, values, list(se), [(float(low), float(high)) for low, high in ci], pairs)


def _by_resolution(fit: BlocksFit, values: tuple[PanelValue, ...]) -> _Weighed:
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
    return _assemble(fit, values, [None] * len(fit.systems), list(ci), tuple(pairs))


def _without_intervals(fit: BlocksFit, values: tuple[PanelValue, ...]) -> _Weighed:
    nothing: list[None] = [None] * len(fit.systems)
    return _assemble(fit, values, nothing, nothing, tuple(_plain_pairs(fit)))


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


def _raw_means(values: tuple[PanelValue, ...]) -> tuple[SystemEvidence, ...]:
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
    return tuple(sorted(rows, key=lambda row: (-row.mean, row.system)))


def _assemble(
    fit: BlocksFit,
    values: tuple[PanelValue, ...],
    se: Sequence[float | None],
    ci: Sequence[tuple[float, float] | None],
    pairs: tuple[PairEvidence, ...],
) -> _Weighed:
    order = sorted(range(len(fit.systems)), key=lambda i: (-round(float(fit.means[i]), 9), fit.systems[i]))
    ranked = [fit.systems[i] for i in order]
    letters = dict.fromkeys(ranked, "")
    if all(pair.told_apart is not None for pair in pairs):
        letters = letter_display(ranked, {frozenset((p.a, p.b)) for p in pairs if p.told_apart})
    n_panels = {s: sum(value.system == s for value in values) for s in fit.systems}
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
