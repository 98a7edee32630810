"""Can the evidence be trusted? Each check passes, warns or fails, with the reason and the remedy."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import special

from nublet.core.evidence.fit import Fit, studentised_residuals
from nublet.core.evidence.missing import LeftOut
from nublet.core.evidence.panel_values import PooledJudges
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import Response

Level = Literal["pass", "warn", "fail"]

COMFORTABLE_REPLICATES = 5
FLOOR_REPLICATES = 3
STANDS_ALONE_ALPHA = 0.05

# What a warning does to the verdict, and a failure where that is more.
DOES: Mapping[str, str] = {
    "replicates": "So few boards tell only large differences apart; what is open may well differ.",
    "missing": "Means are adjusted for the panels that are there; intervals are wider where there are fewer.",
    "stands_alone": "It counts as it was read. Leave it out under its readings, with a reason, to see both results.",
    "judges_linked": "A mean may be shifted by who read it, by as much as one judge is more lenient.",
    "judges": "Differences are blurred: fewer are told apart than there are.",
    "discriminates": "Nothing is told apart there; the other tests decide.",
    "control": "A pass there is no strength; differences between finishes still stand.",
    "wood": "The verdict is given wood by wood.",
    "linked": "What is not linked is not compared.",
    "blind": "Whoever knows what a panel carries may read what he expects; the size of that is not known.",
    "exposing": "A difference may be the day's and not the finish's.",
    "pours": "A difference there may be the brew's and not the finish's.",
    "blocks": "A difference there may be the heat's and not the finish's.",
    "deviations": "What was spoiled or left out does not count; all else counts as it was read.",
    "windows": "What missed its window by too much does not count; all else counts as it was read.",
    "looks": "What was seen too far from its time does not count; all else counts as it was read.",
    "worth": "What is told apart stands; what is called alike is to be read with care.",
    "added": "The planned boards decide; the others are shown beside them.",
}
DOES_WHEN_IT_FAILS: Mapping[str, str] = {
    "replicates": "Nothing is told apart: what panels differ by of themselves is not known.",
    "judges": "No verdict should be taken from these readings.",
}


@dataclass(frozen=True, kw_only=True)
class Check:
    """One validity check: its key, its level, what it says in words, and what that does to the verdict."""

    check: str
    level: Level
    says: str

    @property
    def does(self) -> str:
        """What it does to the verdict, in words; empty where it passes."""
        if self.level == "pass":
            return ""
        return DOES_WHEN_IT_FAILS.get(self.check, "") if self.level == "fail" else DOES.get(self.check, "")


@dataclass(frozen=True, kw_only=True)
class CheckedTest:
    """What the checks look at: one test on one species (or on all when none is recorded).

    ``n_missing`` rows have no grade, and ``absent`` (system, board) no row. ``judges`` are those of the whole test.
    """

    label: str
    values: tuple[PanelValue, ...]
    fit: Fit | None
    n_missing: int
    absent: tuple[tuple[str, str], ...] = ()
    judges: PooledJudges | None = None


def check_validity(tests: Sequence[CheckedTest], *, control: str | None, response: Response) -> list[Check]:
    """Run every check that the readings alone can answer.

    Parameters
    ----------
    tests : sequence of CheckedTest
    control : str or None
        The untreated system's name; without one the control check says so.
    response : Response
        The checks of the scale need one that says what is too mild, too harsh and a pass.
    """
    checks = [_replicates(tests), _missing(tests, response), _stands_alone(tests, response.alone_by)]
    if (linked := _judges_linked(tests)) is not None:
        checks.append(linked)
    if response.unmarked_from is not None and response.ruined_to is not None:
        checks.append(_discriminates(tests, response, response.unmarked_from, response.ruined_to))
    if response.passes_from is not None:
        checks.append(_control_fails(tests, control, response, response.passes_from))
    return checks


def _replicates(tests: Sequence[CheckedTest]) -> Check:
    # Sections of one panel are no replicates.
    panels = [{(value.system, value.panel) for value in test.values} for test in tests]
    fewest = min(min(Counter(system for system, _ in own).values()) for own in panels)
    if fewest < 2:
        return Check(
            check="replicates",
            level="fail",
            says="At least one build-up has a single panel: a demonstration, not evidence. Coat panels on "
            f"{FLOOR_REPLICATES} boards or more.",
        )
    if fewest < FLOOR_REPLICATES:
        return Check(
            check="replicates",
            level="warn",
            says=f"At least one build-up has only {fewest} panels. {FLOOR_REPLICATES} is a floor, "
            f"{COMFORTABLE_REPLICATES} is comfortable.",
        )
    return Check(check="replicates", level="pass", says=f"Every build-up has {fewest} panels or more.")


def _missing(tests: Sequence[CheckedTest], response: Response) -> Check:
    n_missing = sum(test.n_missing for test in tests)
    labels = [test.label for test in tests if test.n_missing]
    absent = [f"{system} on {board} ({test.label})" for test in tests for system, board in test.absent]
    says = []
    if n_missing:
        says.append(f"{n_missing} {response.noun}s are missing ({listed(labels)}).")
    if absent:
        n = len(absent)
        says.append(f"{n} {'panel has' if n == 1 else 'panels have'} no row at all: {listed(absent)}.")
    if says:
        says.append("Grade them, or say why they cannot be.")
        return Check(check="missing", level="warn", says=" ".join(says))
    return Check(check="missing", level="pass", says=f"No {response.noun} is missing.")


def check_wood(clear: Sequence[tuple[str, float]], *, n_tests: int) -> Check:
    """Say whether which build-up is better depends on the wood.

    Parameters
    ----------
    clear : sequence of (test, p)
        The tests in which system x species is clear, Holm over ``n_tests``.
    n_tests : int
        Tests in which it could be tested.
    """
    if clear:
        named = listed([f"{test}, p {_p_words(p)}" for test, p in clear])
        return Check(
            check="wood",
            level="warn",
            says=f"Which build-up is better depends on the wood ({named}). Read each wood by itself: a mean over all woods "
            "is nobody's.",
        )
    if not n_tests:
        return Check(
            check="wood",
            level="warn",
            says="Too few build-ups stand on every wood to see whether it depends on the wood.",
        )
    return Check(check="wood", level="pass", says="No test shows that it depends on the wood.")


def check_left_out(left_out: Sequence[LeftOut]) -> Check:
    """Count the rows that the analysis did not use. Missing grades have a check of their own."""
    if not left_out:
        return Check(check="left_out", level="pass", says="Every row counts.")
    named = "; ".join(f"{part.n_rows} {part.why}" for part in left_out)
    return Check(check="left_out", level="pass", says=f"Rows that do not count here: {named}.")


def _judges_linked(tests: Sequence[CheckedTest]) -> Check | None:
    """Whether all judges of a test can be compared; ``None`` when nobody is named."""
    by_groups: dict[tuple[tuple[str, ...], ...], list[str]] = {}
    unnamed: dict[str, int] = {}
    has_judges = False
    for test in tests:
        if test.judges is None:
            continue
        has_judges = has_judges or bool(test.judges.groups)
        if test.judges.splits_a_board:
            by_groups.setdefault(test.judges.groups, []).append(test.label)
        if test.judges.n_unnamed:
            unnamed[test.label] = test.judges.n_unnamed
    says = []
    for groups, labels in by_groups.items():
        apart = " | ".join(", ".join(group) for group in groups[:6])
        says.append(
            f"These judges share no panel on {listed(labels)}, so one may be more lenient and nothing shows it: {apart}. "
            "Their grades stand as given. Let one of each set grade a few panels of the other's."
        )
    if unnamed:
        says.append(
            f"The judge is blank for {sum(unnamed.values())} grades ({listed(list(unnamed))}): they count as given. "
            "Name who graded."
        )
    if says:
        return Check(check="judges_linked", level="warn", says=" ".join(says))
    if not has_judges:
        return None
    return Check(
        check="judges_linked",
        level="pass",
        says="Every judge can be compared with every other, through panels or boards.",
    )


def _stands_alone(tests: Sequence[CheckedTest], alone_by: float | None) -> Check:
    """Panels far from their siblings: by a bound for all panels together, or so far from every sibling as its response says.

    The largest of n externally studentised residuals exceeds t(df - 1) at 0.05 / 2n in at most 5 of 100 clean tables
    (Bonferroni; Cook and Weisberg 1982, section 2.2.2).
    """
    n_panels = sum(len(test.values) for test in tests)
    found: list[str] = []
    for test in tests:
        alone = np.zeros(len(test.values), dtype=bool)
        residuals = studentised_residuals(test.fit) if test.fit is not None else None
        if residuals is not None and test.fit is not None:
            df = test.fit.residuals_df - 1
            alone |= np.abs(residuals) > float(special.stdtrit(df, 1 - STANDS_ALONE_ALPHA / (2 * n_panels)))
        if alone_by is not None:
            alone |= _far_from_siblings(test.values, alone_by)
        found += [f"{test.values[i].panel} on {test.label}" for i in np.flatnonzero(alone)]
    if found:
        return Check(
            check="stands_alone",
            level="warn",
            says=f"Stands alone: {listed(found)}. Repeat the panel before you blame the product.",
        )
    return Check(check="stands_alone", level="pass", says="No panel stands alone among its siblings.")


def _far_from_siblings(values: Sequence[PanelValue], alone_by: float) -> np.ndarray:
    """Panels with three siblings or more, all of them that far away on the same side; shape (n_panels,)."""
    by_system: dict[tuple[str, str], list[int]] = {}
    for index, value in enumerate(values):
        by_system.setdefault((value.system, value.section), []).append(index)
    far = np.zeros(len(values), dtype=bool)
    for members in by_system.values():
        if len(members) <= FLOOR_REPLICATES:
            continue
        ordered = sorted(members, key=lambda index: values[index].value)
        lowest, highest = ordered[0], ordered[-1]
        far[lowest] = values[ordered[1]].value - values[lowest].value >= alone_by - 1e-9
        far[highest] = values[highest].value - values[ordered[-2]].value >= alone_by - 1e-9
    return far


def _p_words(p: float) -> str:
    return "under 0.001" if p < 0.001 else f"{p:.3f}"


def _discriminates(
    tests: Sequence[CheckedTest], response: Response, unmarked_from: float, ruined_to: float
) -> Check:
    mild = [
        test.label for test in tests if all(response.reaches(v.value, unmarked_from) for v in test.values)
    ]
    harsh = [
        test.label
        for test in tests
        if all(response.sign * v.value <= response.sign * ruined_to for v in test.values)
    ]
    says = []
    if mild:
        says.append(f"Too mild, nothing is marked: {listed(mild)}. Take the next harder step.")
    if harsh:
        says.append(f"Too harsh, everything is ruined: {listed(harsh)}. Take the next milder step.")
    if says:
        return Check(check="discriminates", level="warn", says=" ".join(says))
    return Check(check="discriminates", level="pass", says="Every test marks some panels and spares others.")


def _control_fails(
    tests: Sequence[CheckedTest], control: str | None, response: Response, passes_from: float
) -> Check:
    seen = [
        (test.label, float(np.mean([v.value for v in test.values if v.system == control])))
        for test in tests
        if any(v.system == control for v in test.values)
    ]
    if not seen:
        return Check(
            check="control",
            level="warn",
            says="There is no untreated control, so nothing shows that the tests were hard enough.",
        )
    stood = [label for label, mean in seen if response.reaches(mean, passes_from)]
    if stood:
        return Check(
            check="control",
            level="warn",
            says=f"The bare control stood up to {listed(stood)}: a pass there says little about a finish.",
        )
    return Check(
        check="control", level="pass", says="The bare control was marked in every test, as it should be."
    )


def listed(items: Sequence[str], *, most: int = 6) -> str:
    """Some names in a row, and how many more there are."""
    shown = ", ".join(items[:most])
    return f"{shown} and {len(items) - most} more" if len(items) > most else shown
