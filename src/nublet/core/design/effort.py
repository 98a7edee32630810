"""What a design costs in working hours: estimates, from round minutes a piece that every shop may time for itself."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from nublet.core.materials.mixes import Work
from nublet.core.materials.panel_coats import panel_minutes
from nublet.core.materials.recipes import Recipe
from nublet.core.materials.sections import SectionRecipe

# Sawing, squaring, stamping the code and masking, a panel; soaking, laying, lifting and wiping, a spot; one grade.
MINUTES_PER_PANEL = 6.0
MINUTES_PER_SPOT = 1.5
MINUTES_PER_GRADE = 0.2


@dataclass(frozen=True, kw_only=True)
class Effort:
    """Hands-on hours of a trial's stages."""

    prepare_h: float
    coat_h: float
    expose_h: float
    read_h: float

    @property
    def total_h(self) -> float:
        """All of it."""
        return self.prepare_h + self.coat_h + self.expose_h + self.read_h


def estimate_effort(
    coated: Iterable[tuple[Recipe, Sequence[SectionRecipe]]],
    work: Work,
    *,
    n_panels: int,
    n_spots: int,
    n_grades_a_spot: int,
) -> Effort:
    """Estimate the hands-on hours of a trial.

    Parameters
    ----------
    coated : iterable of (Recipe, sequence of SectionRecipe)
        Each build-up's recipe with those of its panels' sections, carried out on ``work``.
    work : Work
    n_panels, n_spots : int
        Of the whole trial, the control's among them.
    n_grades_a_spot : int
        Looks times judges.

    Examples
    --------
    >>> bare = estimate_effort([], Work(n_panels=3, face_m2=0.06), n_panels=3, n_spots=18, n_grades_a_spot=4)
    >>> round(bare.prepare_h, 2), bare.coat_h, round(bare.expose_h, 2), round(bare.read_h, 2)
    (0.3, 0.0, 0.45, 0.24)
    """
    coating = sum(
        panel_minutes(recipe, sections, work.area_m2(recipe), work.n_panels) for recipe, sections in coated
    )
    return Effort(
        prepare_h=MINUTES_PER_PANEL * n_panels / 60,
        coat_h=coating / 60,
        expose_h=MINUTES_PER_SPOT * n_spots / 60,
        read_h=MINUTES_PER_GRADE * n_spots * n_grades_a_spot / 60,
    )
