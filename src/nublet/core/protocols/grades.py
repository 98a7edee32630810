"""The one grade scale: 1 to 5, in our own words."""

from __future__ import annotations

import math
from dataclasses import dataclass

from nublet.core.errors import ReadingsError

LOWEST_GRADE = 1.0
HIGHEST_GRADE = 5.0
GRADE_STEP = 1.0


@dataclass(frozen=True, kw_only=True)
class GradeMeaning:
    """One step of the scale: ``words`` for the key, ``says`` the full definition."""

    grade: int
    words: str
    says: str


GRADE_MEANINGS: tuple[GradeMeaning, ...] = (
    GradeMeaning(grade=5, words="No change", says="No visible change."),
    GradeMeaning(
        grade=4,
        words="Only when the light glances",
        says="Slight change, seen only when the light glances off the surface.",
    ),
    GradeMeaning(
        grade=3, words="Slight, several directions", says="Slight mark, seen from several directions."
    ),
    GradeMeaning(grade=2, words="Strong, surface sound", says="Strong mark, surface otherwise sound."),
    GradeMeaning(
        grade=1,
        words="Surface altered",
        says="Strong mark and the surface is altered: raised, soft, lifted, torn, or something stuck.",
    ),
)


def check_grade(grade: float, *, field: str = "grade", where: str = "") -> float:
    """Return the grade when it lies on the scale.

    Parameters
    ----------
    grade : float
        A grade from 1 to 5; fractions are allowed, because word scales map onto them (4 for "faint",
        2.5 for "marked").
    field, where : str
        The input's path, and words such as ``"row 7"`` put in front of the message.

    Raises
    ------
    ReadingsError
        If the value is not a finite number from 1 to 5.
    """
    if not math.isfinite(grade) or not LOWEST_GRADE <= grade <= HIGHEST_GRADE:
        prefix = f"{where}: " if where else ""
        raise ReadingsError(
            f"{prefix}grade {grade:g} is not on the scale. Give a number from 1 (surface altered) "
            "to 5 (no change).",
            field=field,
        )
    return float(grade)
