"""A build-up over several finished trials: by its difference from a benchmark that stood beside it in each, never by raw means.

Judges, tests, woods and days differ between trials, and move every mean; a difference from what stood on the same boards they move
far less. The differences of several trials are pooled with random effects: each trial has a true difference of its own, spread
around a common one with variance τ² (DerSimonian and Laird 1986). The interval is Hartung and Knapp's, by t with one less than the
trials in degrees of freedom and never narrower than that of fixed weights (Röver, Knapp and Friede 2015), since with few trials τ²
is hardly known. Where one trial alone is finished its own interval stands.

References
----------
DerSimonian, R. and Laird, N. (1986). Meta-analysis in clinical trials. Controlled Clinical Trials 7, 177-188.
Hartung, J. and Knapp, G. (2001). On tests of the overall treatment effect in meta-analysis. Statistics in Medicine 20, 1771-1782.
Röver, C., Knapp, G. and Friede, T. (2015). Hartung-Knapp-Sidik-Jonkman approach and its modification for random-effects
meta-analysis with few studies. BMC Medical Research Methodology 15, 99.
Higgins, J. P. T. and Thompson, S. G. (2002). Quantifying heterogeneity in a meta-analysis. Statistics in Medicine 21, 1539-1558.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy import special

from nublet.core.errors import ReadingsError
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import Response

# From here on trials are said to disagree: p of Q.
_DISAGREE = 0.1
_LEVEL = 0.95


@dataclass(frozen=True, kw_only=True)
class TrialDifference:
    """A build-up's difference from a benchmark in one trial, above 0 where it is better.

    ``df`` are the degrees of freedom of its standard error.
    """

    trial: str
    difference: float
    se: float
    df: float


@dataclass(frozen=True, kw_only=True)
class PooledDifference:
    """The difference over several trials.

    Attributes
    ----------
    mean, se : float
    low, high : float
        95 % interval of the mean over all trials like these.
    next_low, next_high : float or None
        Where the true difference of one more such trial would lie, 95 %; ``None`` for fewer than three trials.
    tau : float or None
        Spread of the trials' true differences, in the response's unit; ``None`` for one trial.
    i2 : float or None
        Share of the spread between trials that is not chance, 0 to 1.
    q, p : float or None
        Cochran's Q and its p-value: whether trials agree.
    says : str
    """

    trials: tuple[TrialDifference, ...]
    mean: float
    se: float
    low: float
    high: float
    next_low: float | None
    next_high: float | None
    tau: float | None
    i2: float | None
    q: float | None
    p: float | None
    says: str


def pool_differences(trials: Sequence[TrialDifference]) -> PooledDifference:
    """Pool one comparison over trials.

    Raises
    ------
    ReadingsError
        If there is no trial, or a standard error is not above 0: without spread nothing says how much a trial weighs.
    """
    if not trials:
        raise ReadingsError("No finished trial has both side by side, so there is no difference to pool.")
    if any(not (math.isfinite(t.se) and t.se > 0 and math.isfinite(t.difference)) for t in trials):
        raise ReadingsError(
            "A trial has no standard error, so that nothing says how much it weighs. Leave it out."
        )
    if len(trials) == 1:
        return _alone(trials[0])
    y = np.array([t.difference for t in trials])
    v = np.array([t.se**2 for t in trials])
    k = len(y)
    w = 1 / v
    fixed = float(w @ y / w.sum())
    q = float(w @ (y - fixed) ** 2)
    tau2 = max(0.0, (q - (k - 1)) / float(w.sum() - (w**2).sum() / w.sum()))
    weights = 1 / (v + tau2)
    total = float(weights.sum())
    mean = float(weights @ y / total)
    by_spread = float(weights @ (y - mean) ** 2) / ((k - 1) * total)
    se = math.sqrt(max(by_spread, 1 / total))
    half = float(special.stdtrit(k - 1, (1 + _LEVEL) / 2)) * se
    p = float(special.chdtrc(k - 1, q))
    beyond = float(special.stdtrit(k - 2, (1 + _LEVEL) / 2)) * math.sqrt(tau2 + se * se) if k > 2 else None
    return PooledDifference(
        trials=tuple(trials),
        mean=mean,
        se=se,
        low=mean - half,
        high=mean + half,
        next_low=None if beyond is None else mean - beyond,
        next_high=None if beyond is None else mean + beyond,
        tau=math.sqrt(tau2),
        i2=max(0.0, (q - (k - 1)) / q) if q > 0 else 0.0,
        q=q,
        p=p,
        says=_say(k, p, math.sqrt(tau2)),
    )


def _alone(trial: TrialDifference) -> PooledDifference:
    half = float(special.stdtrit(trial.df, (1 + _LEVEL) / 2)) * trial.se if trial.df > 0 else math.inf
    return PooledDifference(
        trials=(trial,),
        mean=trial.difference,
        se=trial.se,
        low=trial.difference - half,
        high=trial.difference + half,
        next_low=None,
        next_high=None,
        tau=None,
        i2=None,
        q=None,
        p=None,
        says="One trial alone: whether another would show the same is not known.",
    )


def _say(k: int, p: float, tau: float) -> str:
    if p < _DISAGREE:
        return (
            f"{k} trials do not agree: what they differ by among themselves (SD {tau:.2g}) is more than chance. Look for what "
            "was otherwise: the wood, the coats, the cure."
        )
    if k < 4:
        return f"{k} trials agree as far as so few can show."
    return f"{k} trials agree."


def difference_in_trial(
    trial: str,
    values: Sequence[PanelValue],
    systems: Sequence[str],
    benchmark: str,
    response: Response,
) -> TrialDifference | None:
    """The difference of some build-ups' mean from a benchmark in one test of one trial, by the blocks model.

    Parameters
    ----------
    trial : str
    values : sequence of PanelValue
        Of all build-ups and woods; a panel's sections count with their mean.
    systems : sequence of str
        Build-ups of the trial that count as one, such as one product in two and in three coats.
    benchmark : str
    response : Response
        Compared by differences; says which end is better.

    Returns
    -------
    TrialDifference or None
        Above 0 where they are better. ``None`` where they do not stand together, or nothing shows how much panels differ.
    """
    by_panel: dict[str, list[PanelValue]] = defaultdict(list)
    for value in values:
        by_panel[value.panel].append(value)
    whole = [
        replace(own[0], section="", value=sum(v.value for v in own) / len(own)) for own in by_panel.values()
    ]
    try:
        fit = fit_blocks(whole, ends=response.ends)
    except ReadingsError:
        return None
    own = [name for name in systems if name in fit.systems and name != benchmark]
    if not own or benchmark not in fit.systems or not fit.has_variance or not fit.residual_ms:
        return None
    contrast = np.zeros(len(fit.systems))
    contrast[[fit.systems.index(name) for name in own]] = 1 / len(own)
    contrast[fit.systems.index(benchmark)] = -1
    return TrialDifference(
        trial=trial,
        difference=response.sign * float(contrast @ fit.means),
        se=math.sqrt(fit.residual_ms * float(contrast @ fit.unscaled @ contrast)),
        df=float(fit.residual_df),
    )
