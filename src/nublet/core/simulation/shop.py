"""Plausible readings from invented panels.

    grade = round( M_fe + look_fl + wood_s + B_b + P_p + S_pe + J_j + N_jpe ),  held to 1..5

M_fe is how family f stands up to exposure e, look_fl what is not yet recovered at lifting, wood_s a shift for
the species, B_b ~ N(0, 0.25) the board, P_p ~ N(0, 0.30) the panel, S_pe ~ N(0, 0.35) the spot, J_j the
judge's leniency ~ N(0, 0.15) and N_jpe ~ N(0, 0.25) the judge's noise. Bare wood has M of its own. The
numbers are invented, in keeping with how the families behave; they are claims about nothing.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from nublet.core.design.trial_design import Panel
from nublet.core.protocols.looks import Look
from nublet.core.protocols.responses import GRADE
from nublet.core.protocols.tests import Test

BOARD_SD = 0.25
PANEL_SD = 0.30
SPOT_SD = 0.35
JUDGE_SD = 0.15
NOISE_SD = 0.25
NOT_YET_RECOVERED = 0.7

_BARE = {"water": 1.6, "ethanol": 2.3, "wine": 1.2, "coffee": 1.4, "wet-heat": 2.5, "dry-heat": 3.6}
_STANDS_UP: dict[str, dict[str, float]] = {
    "non-drying-oil": {"water": 2.8, "ethanol": 2.4, "wine": 2.0, "coffee": 2.1, "wet-heat": 3.2, "dry-heat": 3.8},
    "pure-drying-oil": {"water": 3.9, "ethanol": 3.0, "wine": 3.0, "coffee": 3.1, "wet-heat": 3.8, "dry-heat": 4.1},
    "oil-varnish-blend": {"water": 4.6, "ethanol": 3.8, "wine": 4.3, "coffee": 4.4, "wet-heat": 4.2, "dry-heat": 4.4},
    "hardwax-2k": {"water": 4.9, "ethanol": 4.1, "wine": 4.4, "coffee": 4.6, "wet-heat": 4.7, "dry-heat": 4.7},
    "waterborne-clear": {"water": 4.9, "ethanol": 4.2, "wine": 4.8, "coffee": 4.7, "wet-heat": 4.3, "dry-heat": 4.3},
    "shellac-dewaxed": {"water": 3.1, "ethanol": 1.2, "wine": 3.9, "coffee": 3.6, "wet-heat": 2.3, "dry-heat": 2.8},
    "wax": {"water": 2.6, "ethanol": 2.2, "wine": 2.4, "coffee": 2.4, "wet-heat": 2.0, "dry-heat": 2.6},
    "hydrophobic-topcoat": {"water": 4.9, "ethanol": 4.4, "wine": 4.7, "coffee": 4.7, "wet-heat": 4.5, "dry-heat": 4.4},
}  # fmt: skip
_USUAL = {"water": 4.2, "ethanol": 3.5, "wine": 4.0, "coffee": 4.0, "wet-heat": 3.9, "dry-heat": 4.1}
_RECOVERS = {"water": 0.6, "ethanol": 0.3, "wine": 0.1, "coffee": 0.1, "wet-heat": 0.7, "dry-heat": 0.4}
_ENDS = GRADE.ends or (-np.inf, np.inf)
_WOOD_SHIFT = {"beech": 0.0, "larch": -0.25, "elm": -0.15, "sycamore": 0.05}


@dataclass(frozen=True, kw_only=True)
class SimulatedGrade:
    """One invented grade: which panel, exposure, look and judge."""

    panel: str
    exposure: str
    look: str
    judge: str
    grade: float


def simulate_grades(
    panels: Sequence[Panel],
    families: Mapping[str, str | None],
    exposures: Sequence[Test],
    looks: Sequence[Look],
    judges: Sequence[str],
    *,
    rng: np.random.Generator,
) -> list[SimulatedGrade]:
    """Grade every spot of every panel as every judge at every look.

    Parameters
    ----------
    panels : sequence of Panel
    families : mapping of build-up to family id, or to None for bare wood
    exposures, looks, judges : sequences
    rng : numpy.random.Generator
        Same state, same grades.
    """
    boards = {board: rng.normal(0, BOARD_SD) for board in dict.fromkeys(p.board for p in panels)}
    leniency = {judge: rng.normal(0, JUDGE_SD) for judge in judges}
    grades: list[SimulatedGrade] = []
    for panel in panels:
        panel_shift = rng.normal(0, PANEL_SD) + boards[panel.board] + _WOOD_SHIFT.get(panel.species, 0.0)
        for exposure in exposures:
            stands = true_grade(families[panel.build_up], exposure) + panel_shift + rng.normal(0, SPOT_SD)
            for look in looks:
                seen = stands - (
                    NOT_YET_RECOVERED * _RECOVERS[_agent_key(exposure)] if look.after_min <= 0 else 0.0
                )
                for judge in judges:
                    raw = seen + leniency[judge] + rng.normal(0, NOISE_SD)
                    grades.append(
                        SimulatedGrade(
                            panel=panel.code,
                            exposure=exposure.id,
                            look=look.id,
                            judge=judge,
                            grade=float(np.clip(np.rint(raw), *_ENDS)),
                        )
                    )
    return grades


def true_grade(family: str | None, exposure: Test) -> float:
    """Return the invented mean, before chance, of a family (``None``: bare wood) for an exposure."""
    stands_up = _BARE if family is None else _STANDS_UP.get(family, _USUAL)
    return stands_up[_agent_key(exposure)]


def _agent_key(exposure: Test) -> str:
    """The row of the tables above that an exposure belongs to; its id starts with it."""
    for key in _USUAL:
        if exposure.id.startswith(key):
            return key
    raise KeyError(f"the simulated shop has no exposure like {exposure.id!r}")
