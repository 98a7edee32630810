"""How a trial is exposed and graded: the ways from which a tester chooses."""

from __future__ import annotations

from typing import Literal

GradeSchool = Literal["numbers", "words"]
GRADE_SCHOOLS: dict[GradeSchool, str] = {
    "numbers": "Grades 5 to 1",
    "words": "Bench words: clean, faint, marked, damaged",
}
BlockCheck = Literal["flag", "refuse"]
BLOCK_CHECKS: dict[BlockCheck, str] = {
    "flag": "Written down as a deviation",
    "refuse": "Refused: the block is brought to its temperature first",
}
# How far a hot block may be off at contact.
BLOCK_TOLERANCE_C = 2.0
