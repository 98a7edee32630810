"""Told apart, alike, or open: what a family of pairs comes to, and the letters that show it.

A pair is *told apart* where Tukey-Kramer's p and the permutation's both lie below the bound: the one assumes roughly normal
values of equal spread, the other nothing but that boards could have been dealt otherwise. Where only one of them says so they
*disagree*, and the pair is not told apart. Where boards are so few that chance alone would often make a build-up stand out on
all of them, the permutation is too coarse to overrule: it is shown, and Tukey decides. A pair is *alike* within a smallest
difference worth knowing D where its 90 % interval, adjusted like the 95 % one, lies within ± D: two one-sided tests at 5 %. Else
it is *open*: not told apart is not the same as alike.

References
----------
Schuirmann, D. J. (1987). A comparison of the two one-sided tests procedure and the power approach for assessing the equivalence of
average bioavailability. Journal of Pharmacokinetics and Biopharmaceutics 15, 657-680.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from nublet.core.evidence.fit import Fit, compare_pairs
from nublet.core.evidence.letters import letter_display
from nublet.core.evidence.outcomes import PairEvidence, Rules, Verdict
from nublet.core.evidence.permutation import Tail

FloatArray = NDArray[np.float64]

# A build-up that stands out on every board does so by chance in 1 of k^(b - 1) arrangements. Where that is more than this share of
# the bound the permutation misses what Tukey notices (of differences noticed 8 times in 10: 3 build-ups on 3 boards 0.17, on 4
# boards 0.69, 5 on 3 boards 0.74), and cannot overrule it.
COARSE_FROM = 0.2
# Of arrangements that are drawn so many must be expected below the bound.
FEWEST_BELOW = 10


@dataclass(frozen=True, kw_only=True)
class Permuted:
    """The permutation's p of each pair of a family.

    Attributes
    ----------
    p : ndarray, shape (q,)
    coarse : ndarray of bool, shape (q,)
        Pairs of which it cannot see well enough to overrule another test.
    is_exact : bool
        All arrangements were gone through.
    is_mute : bool
        No arrangement could have shown anything.
    sides : tuple of frozenset
        Groups of systems that were dealt by themselves.
    """

    p: FloatArray
    coarse: NDArray[np.bool_]
    is_exact: bool
    is_mute: bool
    sides: tuple[frozenset[str], ...] = ()


def permuted_of(tail: Tail, *, alpha: float, n_apart: int = 1) -> Permuted:
    """What a tail says of its contrasts. In a family over ``n_apart`` that are dealt apart each has its share of the bound."""
    p = tail.p
    few = not tail.is_exact and len(tail.maxima) * alpha < FEWEST_BELOW
    return Permuted(
        p=p,
        coarse=np.full(len(p), tail.p_alone > alpha / n_apart * COARSE_FROM or few),
        is_exact=tail.is_exact,
        is_mute=tail.smallest_p >= alpha,
    )


def judge_pairs(
    fit: Fit, permuted: Permuted | None, rules: Rules, *, at: str = "", n_families: int = 1
) -> tuple[PairEvidence, ...]:
    """Judge every pair of a fit.

    Parameters
    ----------
    fit : Fit
    permuted : Permuted or None
        In the order of ``numpy.triu_indices``.
    rules : Rules
    at : str
        Where they are compared.
    n_families : int
        Families of Tukey's that are judged together; each p-value counts so many times (Bonferroni).
    """
    if rules.school == "ranks":
        pairs = [replace(pair, told_apart=None) for pair in _plain_pairs(fit, at)]
    elif fit.has_variance and fit.residual_ms is not None:
        pairs = _by_tukey(fit, rules, at, n_families)
    elif fit.residual_df < 1 or rules.response.step is None:
        pairs = _plain_pairs(fit, at)
    else:
        pairs = _by_resolution(fit, rules, at, rules.response.step)
    return tuple(_with_permutation(pair, i, permuted, rules) for i, pair in enumerate(pairs))


def _by_tukey(fit: Fit, rules: Rules, at: str, n_families: int) -> list[PairEvidence]:
    level, alike = 1 - rules.alpha / n_families, 1 - 2 * rules.alpha / n_families
    found = []
    use_table = (len(fit.systems), float(fit.residual_df)) in rules.tabled
    for pair in compare_pairs(fit, level=level, alike_level=alike, use_table=use_table):
        p = min(pair.p_tukey * n_families, 1.0)
        is_within = rules.worth is not None and max(
            abs(pair.difference - pair.half_alike), abs(pair.difference + pair.half_alike)
        ) <= _bound(rules.worth, rules)
        found.append(
            PairEvidence(
                a=pair.a,
                b=pair.b,
                difference=pair.difference,
                se=pair.se,
                ci=(pair.low, pair.high),
                p_tukey=p,
                told_apart=p < rules.alpha,
                verdict="told apart" if p < rules.alpha else "alike" if is_within else "open",
                at=at,
            )
        )
    return found


def _bound(worth: float, rules: Rules) -> float:
    """The difference on the scale that is weighed: a share of one is a logarithm there."""
    return math.log1p(worth) if is_by_logarithms(rules) else worth


def is_by_logarithms(rules: Rules) -> bool:
    """Whether logarithms are weighed, and told back as ratios."""
    return rules.school == "means" and rules.response.weighed_first == "log-means"


def _by_resolution(fit: Fit, rules: Rules, at: str, step: float) -> list[PairEvidence]:
    """A whole step either way for a difference: there is no other spread to go by."""
    found = []
    for pair in _plain_pairs(fit, at):
        difference = pair.difference or 0.0
        # Means carry rounding of about 1e-15; a difference of exactly one step is not more than one.
        apart = abs(difference) > step + 1e-9
        alike = rules.worth is not None and abs(difference) + step <= rules.worth + 1e-9
        found.append(
            replace(
                pair,
                ci=(difference - step, difference + step),
                told_apart=apart,
                verdict="told apart" if apart else "alike" if alike else "open",
            )
        )
    return found


def _plain_pairs(fit: Fit, at: str) -> list[PairEvidence]:
    return [
        PairEvidence(
            a=a, b=b, difference=float(fit.means[i] - fit.means[j]), se=None, ci=None, p_tukey=None, told_apart=None, at=at
        )
        for i, a in enumerate(fit.systems)
        for j, b in enumerate(fit.systems)
        if i < j
    ]  # fmt: skip


def _with_permutation(
    pair: PairEvidence, index: int, permuted: Permuted | None, rules: Rules
) -> PairEvidence:
    if permuted is None:
        return pair
    p = float(permuted.p[index])
    pair = replace(pair, p_permutation=p, is_exact=permuted.is_exact)
    if permuted.is_mute:
        return pair
    says_apart = p < rules.alpha
    if rules.school == "ranks":
        return replace(pair, told_apart=says_apart, verdict="told apart" if says_apart else "open")
    if pair.p_tukey is None or permuted.coarse[index] or says_apart == pair.told_apart:
        return pair
    verdict: Verdict = "alike" if pair.verdict == "alike" else "open"
    return replace(pair, told_apart=False, verdict=verdict, disagrees=True)


def letters_of(ranked: Sequence[str], pairs: Sequence[PairEvidence]) -> dict[str, str]:
    """Letters, the best first; all empty where the data cannot say of some pair."""
    letters = dict.fromkeys(ranked, "")
    if (pairs or len(ranked) == 1) and all(pair.told_apart is not None for pair in pairs):
        letters = letter_display(ranked, {frozenset((p.a, p.b)) for p in pairs if p.told_apart})
    return letters


def best_first(names: Sequence[str], means: FloatArray, *, sign: int) -> list[int]:
    """Places in the order of their means, the better end first; means that differ by rounding alone stand by name."""
    step = 1e-9 * max(float(np.abs(means).max(initial=0.0)), 1e-300)
    return sorted(range(len(names)), key=lambda i: (-sign * round(float(means[i]) / step), names[i]))
