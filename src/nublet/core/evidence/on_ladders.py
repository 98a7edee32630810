"""Ladders in a table of readings: which spots were steps of one, and how far each panel climbed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import replace

from nublet.core.errors import ReadingsError
from nublet.core.evidence.models.ladders import THRESHOLD, Climbed, climb, weigh_ladder
from nublet.core.evidence.outcomes import Rules, TestEvidence
from nublet.core.evidence.panel_values import pool_judges
from nublet.core.evidence.readings import ALL_SPECIES, PanelValue, Reading
from nublet.core.evidence.weighing import weigh_test
from nublet.core.protocols.responses import PASSED, RESPONSES
from nublet.core.protocols.worth import usual_worth


def weigh_ladders(
    of_test: Mapping[str, Sequence[Reading]], *, look: str | None, threshold: float, rules: Rules
) -> list[TestEvidence]:
    """Weigh every ladder that the rows name, on each wood and on all.

    Parameters
    ----------
    of_test : mapping of test to its readings at the look
    look : str or None
    threshold : float
        From which value on, towards the better end, a step is passed.
    rules : Rules

    Raises
    ------
    ReadingsError
        If a row names a ladder and no step.
    """
    by_ladder: dict[str, list[Reading]] = defaultdict(list)
    for rows in of_test.values():
        for reading in rows:
            if reading.ladder is not None and reading.repeat == 0:
                by_ladder[reading.ladder].append(reading)
    found = []
    for ladder, rows in sorted(by_ladder.items()):
        blank = next((r for r in rows if r.step is None), None)
        if blank is not None:
            raise ReadingsError(
                f"{blank.where}: the step of ladder {ladder!r} is blank. Give its number, the mildest being the lowest.",
                field="step",
            )
        numbers = sorted({r.step for r in rows if r.step is not None})
        climbed = _climbed(rows, numbers, threshold, rules)
        species = sorted({each.species for each in climbed if each.species is not None})
        names = tuple(f"{number:g}" for number in numbers)
        # Where passes were written down nothing was held against a grade.
        told = None if rules.response.id == PASSED.id else threshold
        if len(species) > 1:
            found += [
                weigh_climbed(
                    ladder, s, look, [c for c in climbed if c.species == s], names, rules, threshold
                )
                for s in species
            ]
        found.append(
            weigh_climbed(
                ladder,
                species[0] if len(species) == 1 else ALL_SPECIES,
                look,
                climbed,
                names,
                rules,
                told,
            )
        )
    return found


def name_steps(readings: Sequence[Reading], steps: Sequence[str]) -> list[Reading]:
    """Tell which rows are steps of one ladder.

    Parameters
    ----------
    readings : sequence of Reading
    steps : sequence of str
        The mildest first: names of tests, or numbers of the column ``step`` where the table has ladders already; other steps are
        then no part of them.

    Raises
    ------
    ReadingsError
        If a step is neither in the table.
    """
    tests = {reading.test for reading in readings}
    if all(step in tests for step in steps):
        place = {step: float(index) for index, step in enumerate(steps, start=1)}
        return [
            replace(r, ladder=" < ".join(steps), step=place[r.test]) if r.test in place else r
            for r in readings
        ]
    numbers = {f"{r.step:g}": r.step for r in readings if r.step is not None}
    unknown = [step for step in steps if step not in numbers and step not in tests]
    if unknown or not all(step in numbers for step in steps):
        known = ", ".join(sorted(tests)[:12]) if not numbers else ", ".join(sorted(numbers, key=float))
        named = (unknown or [step for step in steps if step not in numbers])[0]
        raise ReadingsError(f"The table has no step {named!r}. Found: {known}.", field="step")
    kept = {numbers[step] for step in steps}
    return [r if r.step is None or r.step in kept else replace(r, ladder=None, step=None) for r in readings]


def _climbed(
    rows: Sequence[Reading], numbers: Sequence[float], threshold: float, rules: Rules
) -> list[Climbed]:
    """How far each panel came; of several judges of a step their mean decides."""
    passed: dict[str, dict[int, bool]] = defaultdict(dict)
    about: dict[str, PanelValue] = {}
    for place, number in enumerate(numbers):
        pooled = pool_judges([r for r in rows if r.step == number], response=rules.response)
        for value in pooled.values:
            about.setdefault(value.panel, value)
            passed[value.panel][place] = rules.response.reaches(value.value, threshold)
    return [climb(value, passed[panel], len(numbers)) for panel, value in sorted(about.items())]


def weigh_climbed(
    ladder: str,
    species: str,
    look: str | None,
    climbed: Sequence[Climbed],
    steps: Sequence[str],
    rules: Rules,
    threshold: float | None = THRESHOLD,
) -> TestEvidence:
    """Weigh one ladder: the median step of each build-up, and pairs by steps passed."""
    result = weigh_ladder(climbed, steps, threshold=threshold)
    by_steps = replace(
        rules,
        response=RESPONSES["highest-step"],
        school="means",
        scores=None,
        worth=usual_worth(RESPONSES["highest-step"]) if rules.worth is None else rules.worth,
        tabled=frozenset(),
    )
    evidence = weigh_test(ladder, species, look, result.values, rules=by_steps)
    says = [evidence.says]
    if result.contradicted:
        says.append(f"Passed above a fail: {', '.join(result.contradicted[:6])}. Look at those steps again.")
    if result.unsure:
        says.append(
            f"A step that would decide was not read on {', '.join(result.unsure[:6])}: counted in the middle of what is known."
        )
    return replace(evidence, ladder=result, says=" ".join(filter(None, says)))
