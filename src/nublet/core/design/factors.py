"""What a trial crosses on purpose: preparation, finish, coats, top layer; each on panels or on sections; and what follows from it.

A **crossing** is up to three factors with their levels. Every combination of levels is a *cell*; cells can be taken out. What lies on
panels makes build-ups, what lies on sections makes sections, and names, recipes and levels follow.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import product as every_combination
from typing import Literal

from nublet.core.errors import DesignError
from nublet.core.materials.preparations import Preparation
from nublet.core.materials.recipes import MAX_COATS, Layer, Recipe
from nublet.core.materials.sections import SectionRecipe
from nublet.core.plain import folded

FactorKind = Literal["preparation", "finish", "coats", "top"]
Place = Literal["panels", "sections"]

FACTOR_WORDS: dict[FactorKind, str] = {
    "preparation": "Preparation",
    "finish": "Finish",
    "coats": "Coats",
    "top": "Top layer",
}
MAX_FACTORS = 3
MAX_LEVELS = 12
MAX_CELLS = 60
# Letters of what is made of levels.
MAX_NAME, MAX_SECTION_NAME = 120, 60
_BETWEEN = " · "


@dataclass(frozen=True, kw_only=True)
class Level:
    """One level of a factor: what it is of is told by its factor's kind.

    ``preparation`` of a preparation; ``recipe`` of a finish; ``coats`` of coats; ``layers`` of a top, none for nothing on top.
    """

    name: str
    preparation: Preparation | None = None
    recipe: Recipe | None = None
    coats: int | None = None
    layers: tuple[Layer, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Factor:
    """A factor with its levels, on panels or on sections."""

    kind: FactorKind
    levels: tuple[Level, ...]
    on: Place = "panels"


@dataclass(frozen=True, kw_only=True)
class Crossing:
    """Factors crossed.

    Attributes
    ----------
    factors : tuple of Factor
        Each kind once, a finish on panels among them.
    out : frozenset of tuple of str
        Cells that are taken out: names of levels in the factors' order.
    bare_at : tuple of str
        Levels of the preparation at which a bare piece is wanted: bare charred wood and bare sanded wood are different things.
    """

    factors: tuple[Factor, ...]
    out: frozenset[tuple[str, ...]] = frozenset()
    bare_at: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class CrossedBuildUp:
    """A build-up of a crossing, with its levels by the factors' kinds. ``recipe`` is ``None`` for a bare piece, which is prepared."""

    name: str
    levels: Mapping[FactorKind, str]
    preparation: Preparation
    recipe: Recipe | None


@dataclass(frozen=True, kw_only=True)
class CrossedSection:
    """A section of a crossing, with its levels by the factors' kinds."""

    section: SectionRecipe
    levels: Mapping[FactorKind, str]


@dataclass(frozen=True, kw_only=True)
class Crossed:
    """What a crossing comes to.

    ``left_out`` are sections that some build-ups do not carry, as pairs of a build-up's name and a section's.
    """

    build_ups: tuple[CrossedBuildUp, ...]
    sections: tuple[CrossedSection, ...] = ()
    left_out: frozenset[tuple[str, str]] = field(default=frozenset())

    @property
    def n_cells(self) -> int:
        """Cells that are compared, bare pieces aside."""
        coated = sum(each.recipe is not None for each in self.build_ups)
        return coated * max(1, len(self.sections)) - len(self.left_out)

    @property
    def is_complete(self) -> bool:
        """Whether every level meets every other: only then main effects and interactions can be told."""
        return not self.left_out


def cross(crossing: Crossing) -> Crossed:
    """Cross factors: every combination that is not taken out.

    Raises
    ------
    DesignError
        If there is no finish, a factor has no level or two of one name, a kind comes twice, or nothing is left.

    Examples
    --------
    Five finishes on panels, three tops and one to three coats on sections: five build-ups, nine sections, 45 cells.
    """
    check_crossing(crossing)
    on_panels = [each for each in crossing.factors if each.on == "panels"]
    on_sections = [each for each in crossing.factors if each.on == "sections"]
    build_ups = [_build_up(crossing, on_panels, levels) for levels in _combinations(on_panels)]
    sections = [_section(on_sections, levels) for levels in _combinations(on_sections)] if on_sections else []
    out = {
        (build_up.name, section.section.name)
        for build_up in build_ups
        for section in sections
        if _cell(crossing, {**build_up.levels, **section.levels}) in crossing.out
    }
    if not sections:
        build_ups = [each for each in build_ups if _cell(crossing, each.levels) not in crossing.out]
    kept = [
        each
        for each in build_ups
        if not sections or any((each.name, s.section.name) not in out for s in sections)
    ]
    carried = [s for s in sections if any((each.name, s.section.name) not in out for each in kept)]
    if not kept:
        raise DesignError("Every cell is taken out, so nothing is compared. Leave some in.", field="out")
    names = {each.name for each in kept}
    for name, most in [
        *((each.name, MAX_NAME) for each in (*kept, *_bare(crossing))),
        *((each.section.name, MAX_SECTION_NAME) for each in carried),
    ]:
        if len(name) > most:
            raise DesignError(
                f"{name!r} has {len(name)} letters, and {most} is the most. Give the levels shorter names.",
                field="factors",
            )
    return Crossed(
        build_ups=(*kept, *_bare(crossing)),
        sections=tuple(carried),
        left_out=frozenset(
            pair for pair in out if pair[0] in names and pair[1] in {s.section.name for s in carried}
        ),
    )


def check_crossing(crossing: Crossing) -> None:
    """Refuse a crossing that cannot be made. Raises ``DesignError`` with the path of the part at fault."""
    factors = crossing.factors
    if not 1 <= len(factors) <= MAX_FACTORS:
        raise DesignError(
            f"{len(factors)} factors cannot be crossed. Give 1 to {MAX_FACTORS}.", field="factors"
        )
    kinds = [each.kind for each in factors]
    for index, factor in enumerate(factors):
        where = f"factors.{index}"
        words = FACTOR_WORDS[factor.kind]
        if factor.kind in kinds[:index]:
            raise DesignError(f"{words} comes twice. Put all its levels into one factor.", field=where)
        if factor.kind in ("preparation", "finish") and factor.on == "sections":
            raise DesignError(f"{words} lies on whole panels, not on sections.", field=f"{where}.on")
        _check_levels(factor, where)
    if "finish" not in kinds:
        raise DesignError("A crossing needs a finish on its panels, if only one. Add one.", field="factors")
    n_cells = 1
    for factor in factors:
        n_cells *= len(factor.levels)
    if n_cells > MAX_CELLS:
        raise DesignError(
            f"{n_cells} cells are too many; {MAX_CELLS} is the most. Take levels away.", field="factors"
        )
    names = _level_names(crossing)
    for cell in crossing.out:
        if len(cell) != len(factors) or any(
            name not in known for name, known in zip(cell, names, strict=False)
        ):
            raise DesignError(
                f"{_BETWEEN.join(cell)!r} is no cell of this crossing. Reload the page.", field="out"
            )
    prepared = next((each for each in factors if each.kind == "preparation"), None)
    for name in crossing.bare_at:
        if prepared is None or name not in {level.name for level in prepared.levels}:
            raise DesignError(f"{name!r} is no level of the preparation.", field="bare_at")


def _check_levels(factor: Factor, where: str) -> None:
    if not 1 <= len(factor.levels) <= MAX_LEVELS:
        raise DesignError(
            f"{FACTOR_WORDS[factor.kind]} has {len(factor.levels)} levels. Give 1 to {MAX_LEVELS}.",
            field=f"{where}.levels",
        )
    seen: set[str] = set()
    for number, level in enumerate(factor.levels):
        at = f"{where}.levels.{number}"
        if not folded(level.name):
            raise DesignError(f"A level of {FACTOR_WORDS[factor.kind]} has no name. Give it one.", field=at)
        if folded(level.name) in seen:
            raise DesignError(f"Two levels are called {level.name!r}. Name each once.", field=at)
        seen.add(folded(level.name))
        is_given = {
            "preparation": level.preparation is not None,
            "finish": level.recipe is not None,
            "coats": level.coats is not None and 1 <= level.coats <= MAX_COATS,
            "top": True,
        }[factor.kind]
        if not is_given:
            raise DesignError(
                f"{level.name!r} says no {FACTOR_WORDS[factor.kind].casefold()}. Choose one.", field=at
            )


def _combinations(factors: Sequence[Factor]) -> list[tuple[Level, ...]]:
    return list(every_combination(*(each.levels for each in factors)))


def _level_names(crossing: Crossing) -> list[set[str]]:
    return [{level.name for level in each.levels} for each in crossing.factors]


def _cell(crossing: Crossing, levels: Mapping[FactorKind, str]) -> tuple[str, ...]:
    """A cell by the names of its levels, in the factors' order."""
    return tuple(levels[each.kind] for each in crossing.factors)


def _levels_of(factors: Sequence[Factor], levels: Sequence[Level]) -> dict[FactorKind, str]:
    return {factor.kind: level.name for factor, level in zip(factors, levels, strict=True)}


def _build_up(crossing: Crossing, factors: Sequence[Factor], levels: Sequence[Level]) -> CrossedBuildUp:
    by_kind = {factor.kind: level for factor, level in zip(factors, levels, strict=True)}
    recipe = by_kind["finish"].recipe
    # Checked before: a finish has one.
    assert recipe is not None  # noqa: S101
    if "preparation" in by_kind and (preparation := by_kind["preparation"].preparation) is not None:
        recipe = replace(recipe, preparation=preparation)
    coats = by_kind["coats"].coats if "coats" in by_kind else _most_coats(crossing)
    if coats is not None:
        recipe = replace(recipe, layers=layers_with_coats(recipe.layers, coats))
    if "top" in by_kind and by_kind["top"].layers:
        recipe = replace(
            recipe, layers=(*recipe.layers, *by_kind["top"].layers), final="none", final_product=None
        )
    return CrossedBuildUp(
        name=_BETWEEN.join(level.name for level in levels),
        levels=_levels_of(factors, levels),
        preparation=recipe.preparation,
        recipe=recipe,
    )


def _most_coats(crossing: Crossing) -> int | None:
    """How many coats a panel gets where they are crossed on its sections: as many as any section."""
    found = [
        level.coats or 0
        for each in crossing.factors
        if each.kind == "coats" and each.on == "sections"
        for level in each.levels
    ]
    return max(found, default=None)


def layers_with_coats(layers: Sequence[Layer], coats: int) -> tuple[Layer, ...]:
    """Layers with so many coats altogether: the first so many from the wood; more than there are go to the topmost layer.

    Examples
    --------
    Three coats of oil with two are two; two with three are three.
    """
    left = coats
    found: list[Layer] = []
    for layer in layers:
        n = min(layer.coats, left)
        left -= n
        if n:
            found.append(layer.first(n))
    if left:
        found[-1] = replace(found[-1], coats=found[-1].coats + left)
    return tuple(found)


def _section(factors: Sequence[Factor], levels: Sequence[Level]) -> CrossedSection:
    by_kind = {factor.kind: level for factor, level in zip(factors, levels, strict=True)}
    coats = by_kind["coats"].coats if "coats" in by_kind else None
    most = max(
        (level.coats or 0 for factor in factors if factor.kind == "coats" for level in factor.levels),
        default=0,
    )
    return CrossedSection(
        section=SectionRecipe(
            name=_BETWEEN.join(level.name for level in levels),
            coats=None if coats == most else coats,
            layers=by_kind["top"].layers if "top" in by_kind else (),
        ),
        levels=_levels_of(factors, levels),
    )


def _bare(crossing: Crossing) -> list[CrossedBuildUp]:
    """A bare piece at each level of the preparation where one is wanted."""
    found = []
    for factor in crossing.factors:
        if factor.kind != "preparation":
            continue
        for level in factor.levels:
            if level.name in crossing.bare_at and level.preparation is not None:
                found.append(
                    CrossedBuildUp(
                        name=f"Bare{_BETWEEN}{level.name}",
                        levels={"preparation": level.name},
                        preparation=level.preparation,
                        recipe=None,
                    )
                )
    return found
