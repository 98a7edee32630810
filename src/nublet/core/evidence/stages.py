"""Looking at a trial several times: limits that keep the family error over all looks where it was.

With information t_1 < ... < t_K = 1 at the looks (boards read, of all that are planned) a test statistic behaves like a
Brownian motion S(t) at these times. The error that may be spent by time t follows O'Brien and Fleming's form (Lan and DeMets
1983), half of it on each side,

    α*(t) = 4 [1 - Φ(z_{1 - α/4} / √t)],

next to nothing early and nearly all of it at the end. The limit b_k of |Z_k| at look k is where the chance of passing it, no
earlier limit having been passed, is what the look adds: α*(t_k) - α*(t_{k-1}). It is found by carrying the density of S over the
looks (Armitage, McPherson and Rowe 1969) with Gauss-Legendre quadrature. A pair is told apart at look k where its p-value,
whichever way it was found, lies under the *nominal* level 2 [1 - Φ(b_k)] (the significance-level approach: Jennison and Turnbull
2000, section 3.3): exact for normal means of known spread, near enough for t and for the largest of several; measured in
``tests/promises``.

References
----------
Lan, K. K. G. and DeMets, D. L. (1983). Discrete sequential boundaries for clinical trials. Biometrika 70, 659-663.
O'Brien, P. C. and Fleming, T. R. (1979). A multiple testing procedure for clinical trials. Biometrics 35, 549-556.
Armitage, P., McPherson, C. K. and Rowe, B. C. (1969). Repeated significance tests on accumulating data. JRSS A 132, 235-244.
Jennison, C. and Turnbull, B. W. (2000). Group Sequential Methods with Applications to Clinical Trials. Chapman and Hall/CRC.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import optimize, special

from nublet.core.errors import ReadingsError
from nublet.core.evidence.rows import PieceRow

FloatArray = NDArray[np.float64]

MOST_STAGES = 10
_NODES = 240
# Beyond so many standard deviations nothing is left that a computer could tell from nothing.
_FAR = 9.0


@dataclass(frozen=True, kw_only=True)
class StageLimit:
    """One look of several.

    Attributes
    ----------
    n_boards : int
        Boards that are read by then, on each wood.
    information : float
        Of all that are planned, 0 to 1.
    z : float
        The limit of |Z|.
    alpha : float
        The nominal level: below it a p-value of this look tells a pair apart.
    spent : float
        The error that may have been made by then.
    """

    n_boards: int
    information: float
    z: float
    alpha: float
    spent: float


def stage_limits(boards: Sequence[int], *, alpha: float = 0.05) -> tuple[StageLimit, ...]:
    """Find the limits of a trial that is planned in stages.

    Parameters
    ----------
    boards : sequence of int
        Boards that each stage adds, on each wood: (3, 2, 2).
    alpha : float
        The family error over all looks.

    Raises
    ------
    ReadingsError
        If there is no stage, one adds no board, or there are more than ten.

    Notes
    -----
    What one more board tells is taken to be the same for every board: complete blocks alike.

    Examples
    --------
    >>> [round(each.alpha, 4) for each in stage_limits((3, 2, 2))]
    [0.0012, 0.0156, 0.0451]
    >>> stage_limits((5,))[0].alpha
    0.05
    """
    if not boards or len(boards) > MOST_STAGES or any(n < 1 for n in boards):
        raise ReadingsError(
            f"A trial has 1 to {MOST_STAGES} stages, each of at least one board.", field="stages"
        )
    read = np.cumsum(boards)
    times = read / read[-1]
    spent = _spent(times, alpha)
    if len(boards) == 1:
        z = float(special.ndtri(1 - alpha / 2))
        return (StageLimit(n_boards=int(read[0]), information=1.0, z=z, alpha=alpha, spent=alpha),)
    limits = _limits(times, np.diff(spent, prepend=0.0))
    return tuple(
        StageLimit(
            n_boards=int(read[k]),
            information=float(times[k]),
            z=float(limits[k]),
            alpha=float(2 * special.ndtr(-limits[k])),
            spent=float(spent[k]),
        )
        for k in range(len(boards))
    )


def check_stages(stages: Sequence[int], n_boards: int) -> None:
    """Refuse stages that cannot be, or that do not come to so many boards of each wood. Raises ``ReadingsError``."""
    stage_limits(stages)
    if sum(stages) != n_boards:
        raise ReadingsError(
            f"Stages of {', '.join(str(n) for n in stages)} boards come to {sum(stages)} of each wood, but the trial has "
            f"{n_boards}. Change one or the other.",
            field="stages",
        )


@dataclass(frozen=True, kw_only=True)
class Staging:
    """How a trial is looked at: the boards of each wood that each stage adds, and to which stage a board belongs, from 1.

    What stands on no board, such as glass, belongs to none and counts whenever it is read.
    """

    boards: tuple[int, ...]
    stage_of: Mapping[str, int]


@dataclass(frozen=True, kw_only=True)
class StageReached:
    """The last stage whose boards are all read, from 1, of how many; 0 where the first is not.

    ``n_missing`` readings are missing on the boards of the next stage, ``n_waiting`` were made on boards whose stage is not read to
    the end: they are not looked at yet.
    """

    stage: int
    n_stages: int
    limit: StageLimit
    limits: tuple[StageLimit, ...]
    n_missing: int
    n_waiting: int


def stage_reached(
    rows: Sequence[PieceRow], staging: Staging, *, sources: Sequence[PieceRow] = ()
) -> tuple[StageReached, list[PieceRow]]:
    """Find how far a staged trial is read, and which rows count by then.

    Parameters
    ----------
    rows : sequence of PieceRow
        All of one response at the looks that count, what is still missing among them.
    staging : Staging
    sources : sequence of PieceRow
        What they are worked out from, if they are: what is missing is missing there.

    Raises
    ------
    ReadingsError
        If the first stage is not read to the end: whoever looked then would look once more than the limits allow for.
    """
    limits = stage_limits(staging.boards)
    missing: Counter[int] = Counter()
    read: Counter[int] = Counter()
    for row in sources or rows:
        stage = staging.stage_of.get(row.board)
        if stage is None or row.left_out is not None or row.turn:
            continue
        (missing if row.value is None else read)[stage] += 1
    stage = 0
    while stage < len(limits) and read[stage + 1] and not missing[stage + 1]:
        stage += 1
    if stage == 0:
        n = missing[1]
        raise ReadingsError(
            f"Stage 1 of {len(limits)} ({limits[0].n_boards} {'board' if limits[0].n_boards == 1 else 'boards'} of each wood) is "
            f"not read to the end{f': {n} readings are missing' if n > 1 else ': 1 reading is missing' if n else ''}. The limits "
            "allow for a look at the end of each stage, so nothing is weighed before.",
            field="stages",
        )
    counted = [row for row in rows if staging.stage_of.get(row.board, 0) <= stage]
    return (
        StageReached(
            stage=stage,
            n_stages=len(limits),
            limit=limits[stage - 1],
            limits=limits,
            n_missing=missing[stage + 1],
            n_waiting=sum(read[later] for later in range(stage + 1, len(limits) + 1)),
        ),
        counted,
    )


def _spent(times: FloatArray, alpha: float) -> FloatArray:
    return np.asarray(4 * special.ndtr(-special.ndtri(1 - alpha / 4) / np.sqrt(times)))


def _limits(times: FloatArray, adds: FloatArray) -> FloatArray:
    """Limits of |Z| at each look, so that each adds its share of the error."""
    nodes, weights = np.polynomial.legendre.leggauss(_NODES)
    limits = np.empty(len(times))
    # The density of S at the last look, where no limit was passed, times the weights of the nodes: at first all stands at 0.
    at, mass, before = np.zeros(1), np.ones(1), 0.0
    for k, time in enumerate(times):
        root = float(np.sqrt(time - before))
        limit = _limit(float(adds[k]), at, mass, root, far=_FAR * float(np.sqrt(time)))
        limits[k] = limit / np.sqrt(time)
        new = limit * nodes
        apart = (new[:, None] - at[None]) / root
        density = (np.exp(-0.5 * apart * apart) / (root * np.sqrt(2 * np.pi))) @ mass
        at, mass, before = new, density * weights * limit, float(time)
    return limits


def _limit(adds: float, at: FloatArray, mass: FloatArray, root: float, *, far: float) -> float:
    """The limit of |S| that is passed with this chance from where the mass stands; ``far`` where that is too small to find."""

    def passes(limit: float) -> float:
        return float(mass @ (special.ndtr((-limit - at) / root) + special.ndtr((at - limit) / root)))

    if adds <= passes(far):
        return far
    return float(optimize.brentq(lambda limit: passes(limit) - adds, 1e-9, far, xtol=1e-13))
