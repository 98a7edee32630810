"""Can the evidence be trusted? Each check passes, warns or fails, with the reason and the remedy."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from nublet.core.evidence.blocks_model import BlocksFit, studentised_residuals
from nublet.core.evidence.readings import PanelValue

Level = Literal["pass", "warn", "fail"]

COMFORTABLE_REPLICATES = 5
FLOOR_REPLICATES = 3
STANDS_ALONE_T = 3.0
ALL_UNMARKED = 4.75
ALL_RUINED = 1.25
CONTROL_SHOULD_FAIL_BELOW = 4.0


@dataclass(frozen=True, kw_only=True)
class Check:
    """One validity check: its key, its level, and what it says in words."""

    check: str
    level: Level
    says: str


@dataclass(frozen=True, kw_only=True)
class CheckedTest:
    """What the checks look at: one test on one species (or on all when none is recorded)."""

    label: str
    values: tuple[PanelValue, ...]
    fit: BlocksFit | None
    n_missing: int


def check_validity(tests: Sequence[CheckedTest], *, control: str | None, is_grade: bool) -> list[Check]:
    """Run every check that the readings alone can answer.

    Parameters
    ----------
    tests : sequence of CheckedTest
    control : str or None
        The untreated system's name; without one the control check says so.
    is_grade : bool
        The scale checks need grades from 1 to 5.
    """
    checks = [_replicates(tests), _missing(tests), _stands_alone(tests)]
    if is_grade:
        checks += [_discriminates(tests), _control_fails(tests, control)]
    return checks


def check_blind(keepers_who_graded: Sequence[str]) -> Check:
    """Check that nobody graded who could look up which panel carries what."""
    if keepers_who_graded:
        return Check(
            check="blind",
            level="warn",
            says=f"{_listed(keepers_who_graded)} graded and also keeps the key to the codes. Let someone grade "
            "who cannot look it up.",
        )
    return Check(check="blind", level="pass", says="Everyone who graded worked from codes alone.")


def check_deviations(says: Sequence[str]) -> Check:
    """Tell what went otherwise than the trial's record, as it was recorded."""
    if says:
        more = f" And {len(says) - 4} more." if len(says) > 4 else ""
        return Check(check="deviations", level="warn", says=f"{' '.join(says[:4])}{more}")
    return Check(check="deviations", level="pass", says="No deviation from the design was recorded.")


def check_windows(missed: Sequence[str], *, n_logged: int) -> Check:
    """Tell whether wipe-off, recoat, cure, lift and look kept their windows, by the bench log.

    Parameters
    ----------
    missed : sequence of str
        What the log was found to have missed, in words.
    n_logged : int
        Pieces of work in the log; without any nothing is known.
    """
    if missed:
        more = f" And {len(missed) - 4} more." if len(missed) > 4 else ""
        return Check(check="windows", level="warn", says=f"{' '.join(missed[:4])}{more}")
    if not n_logged:
        return Check(
            check="windows",
            level="warn",
            says="Nobody wrote down when the panels were coated, wiped and exposed, so nothing shows that each window "
            "was kept. Log the work under Coat and cure.",
        )
    return Check(check="windows", level="pass", says="Every window was kept, by the bench log.")


def _replicates(tests: Sequence[CheckedTest]) -> Check:
    fewest = min(
        sum(value.system == system for value in test.values)
        for test in tests
        for system in {value.system for value in test.values}
    )
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


def _missing(tests: Sequence[CheckedTest]) -> Check:
    n_missing = sum(test.n_missing for test in tests)
    labels = [test.label for test in tests if test.n_missing]
    if n_missing:
        return Check(
            check="missing",
            level="warn",
            says=f"{n_missing} grades are missing ({_listed(labels)}). Grade them, or say why they cannot be.",
        )
    return Check(check="missing", level="pass", says="No grade is missing.")


def _stands_alone(tests: Sequence[CheckedTest]) -> Check:
    found: list[str] = []
    for test in tests:
        residuals = studentised_residuals(test.fit) if test.fit is not None else None
        if residuals is not None:
            found += [
                f"{test.values[i].panel} on {test.label}"
                for i in np.flatnonzero(np.abs(residuals) > STANDS_ALONE_T)
            ]
    if found:
        return Check(
            check="stands_alone",
            level="warn",
            says=f"Stands alone: {_listed(found)}. Repeat the panel before you blame the product.",
        )
    return Check(check="stands_alone", level="pass", says="No panel stands alone among its siblings.")


def _discriminates(tests: Sequence[CheckedTest]) -> Check:
    mild = [test.label for test in tests if all(v.value >= ALL_UNMARKED for v in test.values)]
    harsh = [test.label for test in tests if all(v.value <= ALL_RUINED for v in test.values)]
    says = []
    if mild:
        says.append(f"Too mild, nothing is marked: {_listed(mild)}. Take the next harder step.")
    if harsh:
        says.append(f"Too harsh, everything is ruined: {_listed(harsh)}. Take the next milder step.")
    if says:
        return Check(check="discriminates", level="warn", says=" ".join(says))
    return Check(check="discriminates", level="pass", says="Every test marks some panels and spares others.")


def _control_fails(tests: Sequence[CheckedTest], control: str | None) -> Check:
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
    stood = [label for label, mean in seen if mean >= CONTROL_SHOULD_FAIL_BELOW]
    if stood:
        return Check(
            check="control",
            level="warn",
            says=f"The bare control stood up to {_listed(stood)}: a pass there says little about a finish.",
        )
    return Check(
        check="control", level="pass", says="The bare control was marked in every test, as it should be."
    )


def _listed(items: Sequence[str], *, most: int = 6) -> str:
    shown = ", ".join(items[:most])
    return f"{shown} and {len(items) - most} more" if len(items) > most else shown
