"""Levels of a trial's factors as a table of readings tells them, beside each build-up."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.evidence.readings import Reading


@dataclass(frozen=True, kw_only=True)
class SystemLevel:
    """A build-up's level of one factor."""

    system: str
    level: str


@dataclass(frozen=True, kw_only=True)
class FactorLevels:
    """One factor: its levels in the order in which they come, and which build-up has which.

    A build-up that is no part of the crossing, such as a control, has none.
    """

    factor: str
    levels: tuple[str, ...]
    systems: tuple[SystemLevel, ...]


def factor_levels(readings: Sequence[Reading]) -> tuple[FactorLevels, ...]:
    """Return the factors that a table names, in the order of its columns.

    Raises
    ------
    ReadingsError
        If a build-up has two levels of one factor: it would be two build-ups.
    """
    of_system: dict[str, Reading] = {}
    for reading in readings:
        first = of_system.setdefault(reading.system, reading)
        if first.levels is reading.levels or first.levels == reading.levels:
            continue
        factor, mine, theirs = next(
            (factor, mine, theirs)
            for (factor, mine), (_, theirs) in zip(reading.levels, first.levels, strict=True)
            if mine != theirs
        )
        raise ReadingsError(
            f"{reading.where}: build-up {reading.system!r} has {factor} {mine or 'blank'!r} here but {theirs or 'blank'!r} at "
            f"{first.where}. A build-up has one level of each factor; correct the row or give the build-up its own name.",
            field=f"factor:{factor}",
        )
    return levels_in_order({system: dict(row.levels) for system, row in of_system.items()})


def levels_in_order(
    of_system: Mapping[str, Mapping[str, str]], *, order: Iterable[str] = ()
) -> tuple[FactorLevels, ...]:
    """Turn levels by build-up into factors with their levels; ``order`` names factors that come first."""
    named = [*order, *(factor for levels in of_system.values() for factor in levels)]
    found = []
    for factor in dict.fromkeys(named):
        systems = [(system, levels.get(factor, "")) for system, levels in of_system.items()]
        given = tuple(SystemLevel(system=system, level=level) for system, level in systems if level)
        if given:
            levels = tuple(dict.fromkeys(each.level for each in given))
            found.append(FactorLevels(factor=factor, levels=levels, systems=given))
    return tuple(found)
