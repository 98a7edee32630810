"""Ranking for a use by draws from what the evidence leaves open.

For each test the systems' true means are drawn from the multivariate t that the blocks model gives them:
means + z sqrt(ν/χ²_ν), z ~ N(0, MS · L (X'X)⁻¹ L'). Each draw is scored, gated and ranked on its own, and the
draws are counted.

A test without spread (all panels alike) is drawn evenly within half a step either way. A test with one
panel a build-up has no spread of its own; the usual spread between panels, an SD of 0.6 grades, is put in
its place, and the result says so. A criterion with no test at all is unknown: in each draw each system
gets any value from 0 to 100 for it, and the score's interval carries the whole range.
"""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nublet.core.errors import RankingError
from nublet.core.evidence.analysis import TestEvidence
from nublet.core.evidence.blocks_model import BlocksFit
from nublet.core.protocols.grades import GRADE_STEP, HIGHEST_GRADE, LOWEST_GRADE
from nublet.core.ranking.profiles import UseProfile

FloatArray = NDArray[np.float64]

N_DRAWS = 10_000
USUAL_PANEL_SD = 0.6
TIED_BELOW = 0.9


@dataclass(frozen=True, kw_only=True)
class GateOutcome:
    """How probable it is that the system's true mean reaches the gate; ``None`` when the test is missing."""

    test: str
    threshold: float
    probability: float | None


@dataclass(frozen=True, kw_only=True)
class CriterionScore:
    """A system's score on one criterion, 0 to 100; ``None`` when no test feeds it."""

    criterion: str
    score: float | None


@dataclass(frozen=True, kw_only=True)
class RankedSystem:
    """One system's place.

    Attributes
    ----------
    score, score_low, score_high : float
        Mean of the draws' scores and the 95 % interval, 0 to 100, unknown criteria carried as a range.
    p_best, p_top_three : float
        Share of draws in which it is the best, or among the best three, of those that pass every gate.
    expected_rank : float
        Mean rank over the draws, 1 is best.
    p_passes : float
        Share of draws in which it passes every gate that has data.
    p_beaten_by_leader : float
        Share of draws in which the leader does better; 0 for the leader itself.
    in_tie_group : bool
        Not told apart from the leader for this use.
    """

    system: str
    score: float
    score_low: float
    score_high: float
    p_best: float
    p_top_three: float
    expected_rank: float
    p_passes: float
    p_beaten_by_leader: float
    in_tie_group: bool
    gates: tuple[GateOutcome, ...]
    criteria: tuple[CriterionScore, ...]


@dataclass(frozen=True, kw_only=True)
class Ranking:
    """The verdict for one use: systems best first, what is unknown, and what had to be assumed.

    ``left_out`` are candidates that some test of the use has no grade for yet.
    """

    profile: UseProfile
    systems: tuple[RankedSystem, ...]
    p_none_passes: float
    unknown_criteria: tuple[str, ...]
    unknown_gates: tuple[str, ...]
    assumed_spread: tuple[str, ...]
    left_out: tuple[str, ...]
    n_draws: int


def rank_systems(
    profile: UseProfile,
    tests: Mapping[str, TestEvidence],
    *,
    excluded: Sequence[str] = (),
    seed: int,
    n_draws: int = N_DRAWS,
) -> Ranking:
    """Rank the systems for a use.

    Parameters
    ----------
    profile : UseProfile
    tests : mapping of test id to TestEvidence
        The evidence at the profile's look, one entry a test.
    excluded : sequence of str
        Systems that are not candidates, such as the untreated control.
    seed : int
        Same seed and same evidence, same ranking.
    n_draws : int

    Raises
    ------
    RankingError
        If no test that the profile asks about has a fitted model.
    """
    usable = {test: evidence.fit for test, evidence in tests.items() if evidence.fit is not None}
    asked = {test for criterion in profile.criteria if criterion.weight > 0 for test in criterion.tests}
    fed = sorted(asked & usable.keys())
    if not fed:
        raise RankingError(
            f"None of the tests that {profile.name!r} asks about has grades that can be weighed yet. Grade "
            "panels at the look that the profile names."
        )
    systems, left_out = _common_systems(profile, usable, excluded)
    means = {
        test: _draw_means(fit, systems, seed=seed, test=test, n_draws=n_draws)
        for test, fit in sorted(usable.items())
    }
    scores, low, high, per_criterion, unknown = _score(
        profile, means, len(systems), seed=seed, n_draws=n_draws
    )
    passes, outcomes, unknown_gates = _apply_gates(profile, means, len(systems), n_draws)

    # A system that fails a gate ranks behind all that pass, and among its like by score.
    standing = np.where(passes, scores, scores - 1000.0)
    ranks = (standing[:, None, :] > standing[:, :, None]).sum(axis=2) + 1
    p_best = ((ranks == 1) & passes).mean(axis=0)
    leader = max(range(len(systems)), key=lambda i: (p_best[i], standing[:, i].mean()))
    beaten = (standing[:, [leader]] > standing).mean(axis=0)

    ranked = [
        RankedSystem(
            system=system,
            score=float(scores[:, i].mean()),
            score_low=float(np.quantile(low[:, i], 0.025)),
            score_high=float(np.quantile(high[:, i], 0.975)),
            p_best=float(p_best[i]),
            p_top_three=float(((ranks[:, i] <= 3) & passes[:, i]).mean()),
            expected_rank=float(ranks[:, i].mean()),
            p_passes=float(passes[:, i].mean()),
            p_beaten_by_leader=float(beaten[i]),
            in_tie_group=bool(beaten[i] < TIED_BELOW),
            gates=tuple(
                GateOutcome(
                    test=gate.test,
                    threshold=gate.threshold,
                    probability=None if found is None else float(found[i]),
                )
                for gate, found in zip(profile.gates, outcomes, strict=True)
            ),
            criteria=tuple(
                CriterionScore(criterion=name, score=None if drawn is None else float(drawn[:, i].mean()))
                for name, drawn in per_criterion.items()
            ),
        )
        for i, system in enumerate(systems)
    ]
    lead = systems[leader]
    ranked.sort(key=lambda row: (row.system != lead, row.expected_rank, -row.score, row.system))
    return Ranking(
        profile=profile,
        systems=tuple(ranked),
        p_none_passes=float((~passes.any(axis=1)).mean()),
        unknown_criteria=unknown,
        unknown_gates=unknown_gates,
        assumed_spread=tuple(test for test, fit in sorted(usable.items()) if fit.residual_df < 1),
        left_out=left_out,
        n_draws=n_draws,
    )


def _common_systems(
    profile: UseProfile, fits: Mapping[str, BlocksFit], excluded: Sequence[str]
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The candidates that every usable test of the profile knows, and those that only some do."""
    asked = {test for criterion in profile.criteria for test in criterion.tests}
    asked |= {gate.test for gate in profile.gates}
    sets = [set(fit.systems) for test, fit in fits.items() if test in asked]
    systems = sorted(set.intersection(*sets) - set(excluded))
    if not systems:
        raise RankingError("No build-up has grades in every test of this use yet. Grade more panels.")
    left_out = set.union(*sets) - set(excluded) - set(systems)
    return tuple(systems), tuple(sorted(left_out))


def _stream(seed: int, name: str) -> np.random.Generator:
    """A stream of chance of its own for each test, so that one more test does not change the others."""
    key = int.from_bytes(hashlib.sha256(name.encode()).digest()[:8], "big")
    return np.random.default_rng(np.random.SeedSequence([seed, key]))


def _draw_means(fit: BlocksFit, systems: Sequence[str], *, seed: int, test: str, n_draws: int) -> FloatArray:
    """Draws of the true means, shape (n_draws, len(systems))."""
    rng = _stream(seed, test)
    at = [fit.systems.index(system) for system in systems]
    means, c = fit.means[at], fit.unscaled[np.ix_(at, at)]
    if fit.residual_df >= 1 and not fit.has_variance:
        half = GRADE_STEP / 2
        return np.asarray(means + rng.uniform(-half, half, size=(n_draws, len(at))))
    normal = rng.standard_normal((n_draws, len(at)))
    if fit.residual_df < 1 or fit.residual_ms is None:
        return np.asarray(means + USUAL_PANEL_SD * normal @ _root(c).T)
    inflation = np.sqrt(fit.residual_df / rng.chisquare(fit.residual_df, size=(n_draws, 1)))
    return np.asarray(means + np.sqrt(fit.residual_ms) * inflation * (normal @ _root(c).T))


def _root(c: FloatArray) -> FloatArray:
    """A square root of a covariance that may be singular to rounding."""
    values, vectors = np.linalg.eigh(c)
    root: FloatArray = vectors * np.sqrt(np.clip(values, 0.0, None))
    return root


def _score(
    profile: UseProfile, means: Mapping[str, FloatArray], n_systems: int, *, seed: int, n_draws: int
) -> tuple[FloatArray, FloatArray, FloatArray, dict[str, FloatArray | None], tuple[str, ...]]:
    """Scores (n_draws, n_systems) with unknown criteria drawn, and with them at 0 and at 100."""
    total = sum(criterion.weight for criterion in profile.criteria)
    known = np.zeros((n_draws, n_systems))
    drawn_unknown = np.zeros((n_draws, n_systems))
    unknown_weight = 0.0
    per_criterion: dict[str, FloatArray | None] = {}
    unknown: list[str] = []
    for criterion in profile.criteria:
        fed = [means[test] for test in criterion.tests if test in means]
        share = criterion.weight / total
        if fed:
            grade = np.clip(np.stack(fed), LOWEST_GRADE, HIGHEST_GRADE).mean(axis=0)
            points = 100 * (grade - LOWEST_GRADE) / (HIGHEST_GRADE - LOWEST_GRADE)
            per_criterion[criterion.id] = points
            known += share * points
        else:
            per_criterion[criterion.id] = None
            if share == 0:
                continue
            unknown.append(criterion.id)
            unknown_weight += share
            drawn_unknown += share * _stream(seed, f"unknown {criterion.id}").uniform(
                0, 100, size=(n_draws, n_systems)
            )
    return known + drawn_unknown, known, known + 100 * unknown_weight, per_criterion, tuple(unknown)


def _apply_gates(
    profile: UseProfile, means: Mapping[str, FloatArray], n_systems: int, n_draws: int
) -> tuple[NDArray[np.bool_], list[FloatArray | None], tuple[str, ...]]:
    passes = np.ones((n_draws, n_systems), dtype=bool)
    outcomes: list[FloatArray | None] = []
    unknown: list[str] = []
    for gate in profile.gates:
        drawn = means.get(gate.test)
        if drawn is None:
            outcomes.append(None)
            unknown.append(gate.test)
            continue
        reached = drawn >= gate.threshold
        passes &= reached
        outcomes.append(reached.mean(axis=0))
    return passes, outcomes, tuple(unknown)
