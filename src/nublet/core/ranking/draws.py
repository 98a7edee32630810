"""Ranking for a use by draws from what the evidence leaves open.

**Draws.** Panels carry several tests, and a good panel is good in all of them, so the tests' errors go together. With E the
panels' residuals (panels by tests), Σ̂ = E'E/ν is their covariance, ν the residual degrees of freedom, and the systems' true
means are drawn jointly from the multivariate t

    M = M̂ + √(ν/χ²_ν) L Z R',    Z ~ N(0, 1),    L L' = unscaled covariance of one test's means,    R R' = Σ̂

so that any weighted sum of tests is spread as that sum, analysed as one response, would be. The correlations in Σ̂ are shrunk
towards their mean, the more the fewer the degrees of freedom (Ledoit and Wolf 2003), which leaves an even sum as it is.

**How often the best.** The highest of several means is high partly by luck. The systems' means, in the use's own weights,
are taken as draws from one distribution of unknown spread τ: with s² their error variance, B = τ²/(τ² + s²) is drawn from its
posterior under a flat prior on τ, and each draw is pulled to the common mean by B (Efron and Morris 1975; Gelman 2006). With
two systems nothing can be known of τ and nothing is pulled. P(best), ranks and ties come from these draws; the scores shown
do not.

**Gates** speak of the finish on the next board of this wood: a board's own shift, drawn from the spread between the trial's
boards, is added to each draw before it is held against the gate. With one board nothing is known of that spread and none is
added.

A test without spread (all panels alike) is drawn evenly within half a step either way. A test with one panel a build-up has
no spread of its own; the usual spread between panels, an SD of 0.6 grades, is put in its place, and the result says so. What a
criterion has no data for, be it one of its tests or all, is unknown: in each draw each system gets any value from 0 to 100
for it, and the score's interval carries the whole range.

References
----------
Efron, B. and Morris, C. (1975). Data analysis using Stein's estimator and its generalizations. JASA 70, 311-319.
Gelman, A. (2006). Prior distributions for variance parameters in hierarchical models. Bayesian Analysis 1, 515-534.
Ledoit, O. and Wolf, M. (2003). Honey, I shrunk the sample covariance matrix. Journal of Portfolio Management 30, 110-119.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nublet.core.errors import RankingError
from nublet.core.evidence.fit import Fit
from nublet.core.evidence.weighing import TestEvidence
from nublet.core.protocols.responses import Response
from nublet.core.ranking.joint_means import Drawn, JointMeans, stream
from nublet.core.ranking.profiles import Criterion, UseProfile

FloatArray = NDArray[np.float64]

N_DRAWS = 10_000
TIED_BELOW = 0.9
LIKE = 1e-9
# More than any score, so that a gate outweighs them all.
GATE_PENALTY = 1000.0


@dataclass(frozen=True, kw_only=True)
class GateOutcome:
    """How probable it is that the finish reaches the gate on the next board; ``None`` when the test is missing."""

    test: str
    threshold: float
    probability: float | None


@dataclass(frozen=True, kw_only=True)
class CriterionScore:
    """A system's score on one criterion, 0 to 100; ``None`` when no test feeds it.

    ``missing`` are the criterion's tests without data: with some, the score is that of the others, and the whole score
    carries their range.
    """

    criterion: str
    score: float | None
    missing: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class RankedSystem:
    """One system's place.

    Attributes
    ----------
    score, score_low, score_high : float
        Mean of the draws' scores and the 95 % interval, 0 to 100, what is unknown carried as a range.
    p_best, p_top_three : float
        Share of draws in which it is the best, or among the best three, of those that pass every gate. Systems that
        tie in a draw share it.
    expected_rank : float
        Mean rank over the draws, 1 is best; tied systems have the mean of their ranks.
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

    ``left_out`` are candidates that some test of the use has no grade for yet. ``partly_known`` are criteria with data
    for some of their tests, each with those that it lacks. ``without_board_spread`` are gated tests whose gates hold
    for the boards seen alone.
    """

    profile: UseProfile
    systems: tuple[RankedSystem, ...]
    p_none_passes: float
    unknown_criteria: tuple[str, ...]
    partly_known: tuple[tuple[str, tuple[str, ...]], ...]
    unknown_gates: tuple[str, ...]
    assumed_spread: tuple[str, ...]
    without_board_spread: tuple[str, ...]
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
    usable = _usable(profile, tests)
    systems, left_out = _common_systems(usable, excluded)
    outcome = _Outcome(profile, tests, usable, systems, seed=seed, n_draws=n_draws)
    points, passes = outcome.points, outcome.passes
    ranked = [outcome.of(i) for i in range(len(systems))]
    lead = systems[outcome.leader]
    ranked.sort(key=lambda row: (row.system != lead, row.expected_rank, -row.score, row.system))
    gated = {gate.test for gate in profile.gates}
    return Ranking(
        profile=profile,
        systems=tuple(ranked),
        p_none_passes=float((~passes.any(axis=1)).mean()),
        unknown_criteria=tuple(c.id for c in profile.criteria if c.weight > 0 and not points.fed(c)),
        partly_known=tuple(
            (c.id, points.missing[c.id])
            for c in profile.criteria
            if c.weight > 0 and points.fed(c) and points.missing[c.id]
        ),
        unknown_gates=outcome.unknown_gates,
        assumed_spread=tuple(test for test, fit in sorted(usable.items()) if fit.residual_df < 1),
        without_board_spread=tuple(
            test for test, fit in sorted(usable.items()) if test in gated and len(fit.boards) < 2
        ),
        left_out=left_out,
        n_draws=n_draws,
    )


def _usable(profile: UseProfile, tests: Mapping[str, TestEvidence]) -> dict[str, Fit]:
    """The fits of the tests that a profile names. Raises ``RankingError`` where none feeds a criterion that counts."""
    named = {test for criterion in profile.criteria for test in criterion.tests}
    named |= {gate.test for gate in profile.gates}
    usable = {
        test: evidence.fit for test, evidence in tests.items() if test in named and evidence.fit is not None
    }
    asked = {test for criterion in profile.criteria if criterion.weight > 0 for test in criterion.tests}
    if not asked & usable.keys():
        raise RankingError(
            f"None of the tests that {profile.name!r} asks about has grades that can be weighed yet. Grade "
            "panels at the look that the profile names."
        )
    return usable


class _Outcome:
    """What the draws come to: scores, gates and ranks of all systems, and who leads."""

    def __init__(
        self,
        profile: UseProfile,
        tests: Mapping[str, TestEvidence],
        usable: Mapping[str, Fit],
        systems: Sequence[str],
        *,
        seed: int,
        n_draws: int,
    ) -> None:
        self.profile, self.systems = profile, systems
        responses = {test: tests[test].response for test in usable}
        joint = JointMeans(
            {
                test: Drawn(fit=usable[test], values=tests[test].values, response=responses[test])
                for test in sorted(usable)
            },
            systems,
            seed=seed,
            n_draws=n_draws,
        )
        n = len(systems)
        pulled = joint.pulled(_test_shares(profile, usable))
        self.points = _Points(profile, joint.means, responses, n, seed=seed, n_draws=n_draws)
        ranked_by = _Points(profile, pulled, responses, n, seed=seed, n_draws=n_draws)
        self.passes, self.gates, self.unknown_gates = _apply_gates(
            profile, joint.next_board(), responses, n, n_draws
        )
        self.ranks, first = _rank_draws(ranked_by.total, self.passes)
        self.p_best = first.mean(axis=0)
        self.leader = max(
            range(n),
            key=lambda i: (self.p_best[i], -self.ranks[:, i].mean(), self.points.total[:, i].mean()),
        )
        self.beaten = (self.ranks[:, [self.leader]] < self.ranks).mean(axis=0)

    def of(self, i: int) -> RankedSystem:
        """What it comes to for one system."""
        points, passes = self.points, self.passes
        return RankedSystem(
            system=self.systems[i],
            score=float(points.total[:, i].mean()),
            score_low=float(np.quantile(points.low[:, i], 0.025)),
            score_high=float(np.quantile(points.high[:, i], 0.975)),
            p_best=float(self.p_best[i]),
            p_top_three=float(((self.ranks[:, i] <= 3) & passes[:, i]).mean()),
            expected_rank=float(self.ranks[:, i].mean()),
            p_passes=float(passes[:, i].mean()),
            p_beaten_by_leader=float(self.beaten[i]),
            in_tie_group=bool(self.beaten[i] < TIED_BELOW),
            gates=tuple(
                GateOutcome(
                    test=gate.test,
                    threshold=gate.threshold,
                    probability=None if found is None else float(found[i]),
                )
                for gate, found in zip(self.profile.gates, self.gates, strict=True)
            ),
            criteria=tuple(
                CriterionScore(
                    criterion=name,
                    score=None if drawn is None else float(drawn[:, i].mean()),
                    missing=points.missing[name],
                )
                for name, drawn in points.per_criterion.items()
            ),
        )


def _rank_draws(scores: FloatArray, passes: NDArray[np.bool_]) -> tuple[FloatArray, FloatArray]:
    """Ranks in each draw, and each system's share of being its best, both (n_draws, n_systems).

    A system that fails a gate ranks behind all that pass, and among its like by score. Tied systems share their ranks.
    """
    standing = scores + np.where(passes, GATE_PENALTY, 0.0)
    ahead = (standing[:, None, :] > standing[:, :, None] + LIKE).sum(axis=2)
    level = (np.abs(standing[:, None, :] - standing[:, :, None]) <= LIKE).sum(axis=2)
    first = np.where((ahead == 0) & passes, 1.0 / level, 0.0)
    return ahead + (level + 1) / 2, first


def _test_shares(profile: UseProfile, usable: Mapping[str, Fit]) -> dict[str, float]:
    """How much each test weighs in the score; the criteria's weights over their tests."""
    total = sum(criterion.weight for criterion in profile.criteria)
    shares: dict[str, float] = {}
    for criterion in profile.criteria:
        for test in criterion.tests:
            if test in usable:
                shares[test] = shares.get(test, 0.0) + criterion.weight / total / len(criterion.tests)
    return {test: share for test, share in shares.items() if share > 0}


def _common_systems(
    fits: Mapping[str, Fit], excluded: Sequence[str]
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The candidates that every usable test of the profile knows, and those that only some do."""
    sets = [set(fit.systems) for fit in fits.values()]
    systems = sorted(set.intersection(*sets) - set(excluded))
    if not systems:
        raise RankingError("No build-up has grades in every test of this use yet. Grade more panels.")
    left_out = set.union(*sets) - set(excluded) - set(systems)
    return tuple(systems), tuple(sorted(left_out))


class _Points:
    """Scores of draws, 0 to 100, each (n_draws, n_systems).

    ``total`` has what is unknown drawn, ``low`` and ``high`` have it at 0 and at 100. ``per_criterion`` are those of the
    tests that there are, ``missing`` the tests that there are not.
    """

    def __init__(
        self,
        profile: UseProfile,
        means: Mapping[str, FloatArray],
        responses: Mapping[str, Response],
        n_systems: int,
        *,
        seed: int,
        n_draws: int,
    ) -> None:
        whole = sum(criterion.weight for criterion in profile.criteria)
        self.low: FloatArray = np.zeros((n_draws, n_systems))
        unknown = np.zeros((n_draws, n_systems))
        unknown_share = 0.0
        self.per_criterion: dict[str, FloatArray | None] = {}
        self.missing: dict[str, tuple[str, ...]] = {}
        for criterion in profile.criteria:
            fed = [_points_of(means[test], responses[test]) for test in criterion.tests if test in means]
            self.per_criterion[criterion.id] = np.stack(fed).mean(axis=0) if fed else None
            self.missing[criterion.id] = tuple(test for test in criterion.tests if test not in means)
            n_tests = max(len(criterion.tests), 1)
            share = criterion.weight / whole
            if fed:
                self.low += share / n_tests * np.stack(fed).sum(axis=0)
            if not share:
                continue
            for test in self.missing[criterion.id] or (() if fed else ("",)):
                unknown_share += share / n_tests
                drawn = stream(seed, f"unknown {criterion.id} {test}").uniform(
                    0, 100, size=(n_draws, n_systems)
                )
                unknown += share / n_tests * drawn
        self.total: FloatArray = self.low + unknown
        self.high: FloatArray = self.low + 100 * unknown_share

    def fed(self, criterion: Criterion) -> bool:
        """Whether any test of the criterion has data."""
        return self.per_criterion[criterion.id] is not None


def _points_of(drawn: FloatArray, response: Response) -> FloatArray:
    """0 at the worse end of the response, 100 at the better."""
    if response.ends is None or response.worst is None or response.best is None:
        raise RankingError(f"{response.name} has no ends to score between.")
    held = np.clip(drawn, *response.ends)
    points: FloatArray = 100 * (held - response.worst) / (response.best - response.worst)
    return points


def _apply_gates(
    profile: UseProfile,
    means: Mapping[str, FloatArray],
    responses: Mapping[str, Response],
    n_systems: int,
    n_draws: int,
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
        sign = responses[gate.test].sign
        reached = sign * drawn >= sign * gate.threshold
        passes &= reached
        outcomes.append(reached.mean(axis=0))
    return passes, outcomes, tuple(unknown)
