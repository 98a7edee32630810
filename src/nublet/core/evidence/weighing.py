"""One test weighed: means or ranks, intervals, pairs in three answers, letters, factors."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from nublet.core.errors import ReadingsError
from nublet.core.evidence.dealing import deal_blocks, deal_margin
from nublet.core.evidence.fit import Fit, t_intervals
from nublet.core.evidence.levels import FactorLevels
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.models.factors import FactorsResult, odd_system, weigh_factors
from nublet.core.evidence.models.ranks import friedman, scored
from nublet.core.evidence.outcomes import (
    ALPHA,
    FactorEvidence,
    LevelEvidence,
    OddCell,
    PairEvidence,
    Rules,
    SystemEvidence,
    TestEvidence,
    ToldAs,
)
from nublet.core.evidence.readings import PanelValue
from nublet.core.evidence.verdicts import (
    Permuted,
    best_first,
    is_by_logarithms,
    judge_pairs,
    letters_of,
)
from nublet.core.protocols.responses import Response

__all__ = ["ALPHA", "PairEvidence", "SystemEvidence", "TestEvidence", "weigh_test"]

FloatArray = NDArray[np.float64]
_MOST_NAMED = 6


def weigh_test(
    test: str,
    species: str,
    look: str | None,
    values: tuple[PanelValue, ...],
    *,
    rules: Rules | None = None,
    factors: Sequence[FactorLevels] = (),
    fit: Fit | None = None,
) -> TestEvidence:
    """Weigh one test without sections, best first.

    Parameters
    ----------
    test, species : str
    look : str or None
    values : tuple of PanelValue
        In the response's unit.
    rules : Rules or None
    factors : sequence of FactorLevels
        What the build-ups cross, if anything.
    fit : Fit or None
        Of these very values by :func:`fit_of`, where it was made already.
    """
    rules = rules or Rules()
    weighed, said = as_weighed(values, rules)
    says = [said] if said else []
    told = told_as(rules)
    try:
        fit = fit or fit_of(weighed, rules)
    except ReadingsError as error:
        return TestEvidence(
            test=test, species=species, look=look, systems=_raw_means(values, rules.response), pairs=(), values=values, fit=None,
            says=error.message, response=rules.response, school=rules.school, told_as=told, worth=rules.worth, alpha=rules.alpha,
        )  # fmt: skip
    crossed = weigh_factors(fit, factors) if rules.school == "means" else None
    lists_pairs = len(fit.systems) <= rules.most_systems
    permuted = deal_blocks(fit, weighed, rules) if lists_pairs else None
    pairs = judge_pairs(fit, permuted, rules) if lists_pairs else ()
    margins = () if crossed is None else margins_of(crossed, fit, weighed, rules)
    says += [crossed.says] if crossed is not None and crossed.says else []
    says += [_say_how(fit, weighed, rules)] if lists_pairs else [
        f"With {len(fit.systems):,} build-ups there are more pairs than can be listed: only means are shown."
    ]  # fmt: skip
    says += _say_permutation(permuted, pairs, rules)
    return TestEvidence(
        test=test,
        species=species,
        look=look,
        systems=systems_of(fit, weighed, pairs, rules),
        pairs=tuple(told_back(pair, rules) for pair in pairs),
        values=values,
        fit=fit,
        says=" ".join(filter(None, says)),
        response=rules.response,
        school=rules.school,
        told_as=told,
        effects=(*fit.effects, *(() if crossed is None else crossed.effects))
        if rules.school == "means"
        else (),
        friedman=friedman(values) if lists_pairs else None,
        margins=margins,
        odd=None if (odd := _odd(fit, crossed, rules)) is None else OddCell(system=odd, section=""),
        worth=rules.worth,
        alpha=rules.alpha,
    )


def told_as(rules: Rules) -> ToldAs:
    """What means and differences are."""
    if rules.school == "ranks":
        return rules.scores or "rank"
    return "ratio" if is_by_logarithms(rules) else "difference"


def as_weighed(values: tuple[PanelValue, ...], rules: Rules) -> tuple[tuple[PanelValue, ...], str]:
    """The values on the scale on which they are weighed, and what has to be said of it."""
    if rules.school == "ranks":
        return (values if rules.scores else scored(values, sign=rules.response.sign)), ""
    if not is_by_logarithms(rules):
        return values, ""
    above = [value.value for value in values if value.value > 0]
    least = (min(above) if above else 1.0) / 2
    n_lifted = len(values) - len(above)
    said = (
        f"{n_lifted} {'value is' if n_lifted == 1 else 'values are'} not above 0 and {'stands' if n_lifted == 1 else 'stand'} as "
        "half the smallest that is: ratios know no 0."
        if n_lifted
        else ""
    )
    return tuple(replace(value, value=float(np.log(max(value.value, least)))) for value in values), said


def fit_of(weighed: Sequence[PanelValue], rules: Rules) -> Fit:
    """The blocks model of values as they are weighed; scores have no ends that hide their spread."""
    has_ends = rules.school == "means" and not is_by_logarithms(rules)
    return fit_blocks(weighed, ends=rules.response.ends if has_ends else None)


def systems_of(
    fit: Fit, values: Sequence[PanelValue], pairs: Sequence[PairEvidence], rules: Rules
) -> tuple[SystemEvidence, ...]:
    """The systems of a fit, best first."""
    sign = 1 if rules.school == "ranks" else rules.response.sign
    order = best_first(fit.systems, fit.means, sign=sign)
    letters = letters_of([fit.systems[i] for i in order], pairs)
    n_panels = Counter(value.system for value in values)
    se, ci = intervals_of(fit, rules)
    return tuple(
        SystemEvidence(
            system=fit.systems[i],
            mean=told_mean(float(fit.means[i]), rules),
            se=se[i],
            ci=ci[i],
            letters=letters[fit.systems[i]],
            n_panels=n_panels[fit.systems[i]],
        )
        for i in order
    )


def intervals_of(
    fit: Fit, rules: Rules
) -> tuple[Sequence[float | None], Sequence[tuple[float, float] | None]]:
    """Standard errors and intervals of the means: from the spread, else from how finely the scale is read, else none."""
    step = rules.response.step if rules.school == "means" else None
    if fit.has_variance and fit.residual_ms is not None:
        se, ci = t_intervals(fit)
        return [float(each) for each in se], [
            (told_mean(float(low), rules), told_mean(float(high), rules)) for low, high in ci
        ]
    nothing: list[None] = [None] * len(fit.systems)
    if step is None or fit.residual_df < 1:
        return nothing, nothing
    return nothing, [(float(mean) - step / 2, float(mean) + step / 2) for mean in fit.means]


def told_mean(value: float, rules: Rules) -> float:
    """A mean as it is told: of logarithms the geometric mean."""
    return float(np.exp(value)) if is_by_logarithms(rules) else value


def told_back(pair: PairEvidence, rules: Rules) -> PairEvidence:
    """A pair as it is told: a difference of logarithms is a ratio; its standard error stays that of the logarithm."""
    if not is_by_logarithms(rules):
        return pair
    ci = None if pair.ci is None else (float(np.exp(pair.ci[0])), float(np.exp(pair.ci[1])))
    return replace(
        pair, difference=None if pair.difference is None else float(np.exp(pair.difference)), ci=ci
    )


def _odd(fit: Fit, crossed: FactorsResult | None, rules: Rules) -> str | None:
    return None if crossed is None else odd_system(fit, crossed, alpha=rules.alpha)


def margins_of(
    crossed: FactorsResult, fit: Fit, weighed: Sequence[PanelValue], rules: Rules
) -> tuple[FactorEvidence, ...]:
    """The factors of a crossing, level by level."""
    return tuple(
        factor_of(margin.factor, margin.fit, deal_margin(fit, weighed, margin, rules), rules)
        for margin in crossed.margins
    )


def factor_of(factor: str, fit: Fit, permuted: Permuted | None, rules: Rules) -> FactorEvidence:
    """The levels of a factor, best first, and their pairs."""
    pairs = judge_pairs(fit, permuted, rules)
    sign = 1 if rules.school == "ranks" else rules.response.sign
    order = best_first(fit.systems, fit.means, sign=sign)
    letters = letters_of([fit.systems[i] for i in order], pairs)
    se, ci = intervals_of(fit, rules)
    return FactorEvidence(
        factor=factor,
        levels=tuple(
            LevelEvidence(
                factor=factor,
                level=fit.systems[i],
                mean=told_mean(float(fit.means[i]), rules),
                se=se[i],
                ci=ci[i],
                letters=letters[fit.systems[i]],
            )
            for i in order
        ),
        pairs=tuple(told_back(pair, rules) for pair in pairs),
    )


def _say_how(fit: Fit, values: Sequence[PanelValue], rules: Rules) -> str:
    """Why intervals are missing, or where they come from, where it is not the usual."""
    if fit.has_variance:
        return _say_error(fit)
    if fit.residual_df < 1:
        return "Every panel is needed to estimate the means, so nothing is left to say how sure they are. Add boards."
    why = _say_no_spread(values, graded=rules.response.step is not None)
    if rules.response.step is None or rules.school == "ranks":
        return why
    return f"{why} The intervals shown are the scale's own resolution, half a step either way."


def _say_no_spread(values: Sequence[PanelValue], *, graded: bool) -> str:
    """Why there is no spread: every panel alike, or boards that shift all build-ups by the same."""
    first: dict[str, float] = {}
    if all(first.setdefault(value.system, value.value) == value.value for value in values):
        did = "were graded alike" if graded else "measured alike"
        return f"All panels of each build-up {did}, so there is no spread to make an interval from."
    return (
        "The build-ups differ by exactly the same on every board, so once boards are taken out there is no spread to "
        "make an interval from."
    )


def _say_error(fit: Fit) -> str:
    """Which build-ups the error comes from, where it is not all."""
    stuck = [system for system in fit.systems if system not in fit.error_systems]
    if not stuck:
        return ""
    named = ", ".join(stuck[:_MOST_NAMED]) + (
        f" and {len(stuck) - _MOST_NAMED} more" if len(stuck) > _MOST_NAMED else ""
    )
    return (
        f"Every panel of {named} stands at an end of the scale, which hides their spread: how much panels differ is taken "
        "from the other build-ups."
    )


def _say_permutation(permuted: Permuted | None, pairs: Sequence[PairEvidence], rules: Rules) -> list[str]:
    says = []
    if permuted is not None and permuted.is_mute and rules.school == "ranks":
        says.append("So few boards can be dealt in too few ways for ranks to show anything: add boards.")
    return says + say_disagreements(pairs)


def say_disagreements(pairs: Sequence[PairEvidence]) -> list[str]:
    """What is said of pairs of which Tukey and the permutation do not say the same."""
    n = sum(pair.disagrees for pair in pairs)
    if not n:
        return []
    return [
        f"Of {n} {'pair' if n == 1 else 'pairs'} Tukey and the permutation within boards do not say the same: "
        f"{'it is' if n == 1 else 'they are'} not called told apart."
    ]


def _raw_means(values: tuple[PanelValue, ...], response: Response) -> tuple[SystemEvidence, ...]:
    by_system: dict[str, list[float]] = {}
    for value in values:
        by_system.setdefault(value.system, []).append(value.value)
    means: Mapping[str, float] = {system: sum(found) / len(found) for system, found in by_system.items()}
    return tuple(
        SystemEvidence(
            system=system, mean=means[system], se=None, ci=None, letters="", n_panels=len(by_system[system])
        )
        for system in sorted(means, key=lambda name: (-response.sign * means[name], name))
    )
