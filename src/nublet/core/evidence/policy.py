"""What is weighed, of what a trial holds: which readings are missing, which do not count, which section and which woods.

These are rules of the job, not of the tables: a half-graded trial is not taken for a whole one, a spoiled result is kept and does
not count, sections are weighed one at a time, and woods together only where they agree.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import ALL_SPECIES, Analysis
from nublet.core.evidence.readings import Reading
from nublet.core.evidence.weighing import TestEvidence
from nublet.core.protocols.looks import Look

SPOILED_RESULT = "spoiled, by the bench log"


@dataclass(frozen=True, kw_only=True)
class ReadSpot:
    """A spot that is to be read: its number, its test, and what its panel is."""

    number: int
    test: str
    system: str
    board: str
    species: str
    panel: str


@dataclass(frozen=True, kw_only=True)
class Judge:
    """Who reads: a number, and the name that tables show."""

    number: int
    name: str


def long_table(
    spots: Iterable[ReadSpot],
    looks: Sequence[Look],
    judges: Sequence[Judge],
    values: Mapping[tuple[int, int, str], float],
    *,
    spoiled: Collection[tuple[str, str, float | None]] = (),
) -> list[Reading]:
    """All readings of every look that has begun, those that are still missing among them.

    Parameters
    ----------
    spots : iterable of ReadSpot
        Those that count.
    looks : sequence of Look
        The protocol's.
    judges : sequence of Judge
        All who are to read: a spot that one of them has not read yet is a reading whose value is missing, so that half a trial
        is not taken for a whole one.
    values : mapping of (spot, judge, look) to float
        What was read.
    spoiled : collection of (panel, test, minutes after lifting, or None for every look)
        Results that tell of something else; their readings are kept and do not count.
    """
    begun = {look for _, _, look in values}
    return [
        Reading(
            test=spot.test,
            system=spot.system,
            board=spot.board,
            species=spot.species,
            panel=spot.panel,
            judge=judge.name,
            look=look.id,
            grade=values.get((spot.number, judge.number, look.id)),
            left_out=SPOILED_RESULT
            if (spot.panel, spot.test, None) in spoiled or (spot.panel, spot.test, look.after_min) in spoiled
            else None,
        )
        for spot in spots
        for look in looks
        if look.id in begun
        for judge in judges
    ]


def choose_section(sections: Sequence[str], wanted: str) -> str:
    """The section asked for, or the first; empty where panels have none. Raises ``ReadingsError`` for an unknown one."""
    if not wanted:
        return sections[0] if sections else ""
    if wanted not in sections:
        raise ReadingsError(
            f"This trial has no section {wanted!r}. Choose one of: {', '.join(sections) or 'none'}.",
            field="section",
        )
    return wanted


def species_choices(analysis: Analysis) -> tuple[str, ...]:
    """The woods, those with the most panels first, and all together where it is more than one."""
    if len(analysis.species) > 1:
        return (ALL_SPECIES, *analysis.species)
    return analysis.species or (ALL_SPECIES,)


def tests_on(analysis: Analysis, species: str) -> tuple[TestEvidence, ...]:
    """The tests on one wood, or on all together; ``"all"`` of a single wood is that wood.

    Raises
    ------
    ReadingsError
        If nothing was read on it.
    """
    choices = species_choices(analysis)
    if species == ALL_SPECIES and ALL_SPECIES not in choices:
        species = choices[0]
    if species not in choices:
        raise ReadingsError(
            f"Nothing was graded on {species!r}. Choose one of: {', '.join(choices)}.", field="species"
        )
    return tuple(test for test in analysis.tests if test.species == species)


def in_order(tests: Iterable[TestEvidence], order: Sequence[str]) -> tuple[TestEvidence, ...]:
    """Tests in the order of their protocol."""
    return tuple(sorted(tests, key=lambda test: order.index(test.test)))
