"""Ladders: the same agent at rising severity, and the highest step that each panel stood.

A panel's result lies between two steps, and where a step was not read between two results: ``at_least`` to ``at_most`` steps passed
(:func:`nublet.core.protocols.derived.highest_step`). What a build-up stands is told as the interval in which the median panel gives
in: after the last step passed and by the first failed, open where the median panel passed all (censored above) or none
(censored below). Differences between build-ups are in steps passed, boards taken out.

References
----------
Conover, W. J. (1999). Practical Nonparametric Statistics, 3rd ed., section 3.2. Wiley.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.evidence.models.times import MedianTime, TimeSeen, median_time
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.derived import highest_step

THRESHOLD = 4.0


@dataclass(frozen=True, kw_only=True)
class Climbed:
    """How many steps one panel passed: between two numbers, alike where every step that decides was read."""

    panel: str
    system: str
    board: str
    species: str | None
    at_least: int
    at_most: int
    is_contradicted: bool = False


@dataclass(frozen=True, kw_only=True)
class LadderSystem:
    """What one build-up stands.

    ``median_after`` and ``median_by`` are places of steps from 0: the last that the median panel passed and the first that it
    failed; ``None`` before the first and beyond the last. ``low_after`` and ``high_by`` are the ends of its interval alike,
    ``level`` how sure.
    """

    system: str
    n: int
    mean_steps_passed: float
    median_after: int | None
    median_by: int | None
    low_after: int | None
    high_by: int | None
    level: float
    n_passed_all: int


@dataclass(frozen=True, kw_only=True)
class LadderEvidence:
    """One ladder on one species.

    ``values`` are steps passed, a panel at the middle of what is known of it. ``contradicted`` panels passed a step above a
    failed one and ``unsure`` ones lack a step that would decide.
    """

    steps: tuple[str, ...]
    systems: tuple[LadderSystem, ...]
    values: tuple[PanelValue, ...]
    contradicted: tuple[str, ...]
    unsure: tuple[str, ...]
    threshold: float | None


def weigh_ladder(
    climbed: Sequence[Climbed], steps: Sequence[str], *, threshold: float | None = THRESHOLD
) -> LadderEvidence:
    """Read a ladder over its panels.

    Parameters
    ----------
    climbed : sequence of Climbed
    steps : sequence of str
        Names, the mildest first.
    threshold : float or None
        From which grade on a step counts as passed; ``None`` where passes were told as such.

    Raises
    ------
    ReadingsError
        If nothing was read.
    """
    if not climbed:
        raise ReadingsError("No step of this ladder was read.", field="step")
    values = tuple(
        PanelValue(
            panel=each.panel, system=each.system, board=each.board, species=each.species, value=(each.at_least + each.at_most) / 2
        )
        for each in climbed
    )  # fmt: skip
    # It gives in at the step after the last one passed: in places from 1, open where that is beyond the last.
    ends = [
        TimeSeen(
            piece=each.panel, system=each.system, board=each.board, species=each.species, after=each.at_least,
            by=each.at_most + 1 if each.at_most < len(steps) else None,
        )
        for each in climbed
    ]  # fmt: skip
    return LadderEvidence(
        steps=tuple(steps),
        systems=tuple(
            _of_system(
                system,
                [v for v in values if v.system == system],
                [e for e in ends if e.system == system],
                len(steps),
            )
            for system in sorted({value.system for value in values})
        ),
        values=values,
        contradicted=tuple(each.panel for each in climbed if each.is_contradicted),
        unsure=tuple(each.panel for each in climbed if each.at_least < each.at_most),
        threshold=threshold,
    )


def climb(about: PanelValue, passed: Mapping[int, bool], n_steps: int) -> Climbed:
    """How far one panel came, from what was passed of its steps by their places from 0; those not read are absent."""
    result = highest_step([passed.get(step) for step in range(n_steps)])
    return Climbed(
        panel=about.panel,
        system=about.system,
        board=about.board,
        species=about.species,
        at_least=result.at_least,
        at_most=result.at_most,
        is_contradicted=result.is_contradicted,
    )


def _of_system(
    system: str, values: Sequence[PanelValue], ends: Sequence[TimeSeen], n_steps: int
) -> LadderSystem:
    median: MedianTime = median_time(ends)
    return LadderSystem(
        system=system,
        n=len(values),
        mean_steps_passed=sum(value.value for value in values) / len(values),
        median_after=_passed(median.after),
        median_by=_failed(median.by),
        low_after=_passed(median.low),
        high_by=_failed(median.high),
        level=median.level,
        n_passed_all=sum(value.value >= n_steps for value in values),
    )


def _passed(place: float) -> int | None:
    """The place from 0 of the step that was passed last; ``None`` where none was."""
    return None if place < 1 else int(place) - 1


def _failed(place: float | None) -> int | None:
    return None if place is None else int(place) - 1
