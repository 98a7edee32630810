"""One test weighed: means, intervals, pairs and letters."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.evidence.fit import Fit, compare_pairs, t_intervals
from nublet.core.evidence.letters import letter_display
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import GRADE, Better, Response

ALPHA = 0.05
_MOST_NAMED = 6


@dataclass(frozen=True, kw_only=True)
class SystemEvidence:
    """One system's mean in one test. ``se`` and ``ci`` are ``None`` where nothing can carry them."""

    system: str
    mean: float
    se: float | None
    ci: tuple[float, float] | None
    letters: str
    n_panels: int


@dataclass(frozen=True, kw_only=True)
class PairEvidence:
    """Two systems compared. ``told_apart`` is ``None`` when the data cannot say."""

    a: str
    b: str
    difference: float
    se: float | None
    ci: tuple[float, float] | None
    p_tukey: float | None
    told_apart: bool | None


@dataclass(frozen=True, kw_only=True)
class TestEvidence:
    """One test on one species, or on all pooled with boards nested in species.

    ``says`` explains in words why intervals are missing or made otherwise; it is empty in the usual case.
    ``fit`` is ``None`` when the boards do not link the systems. Where nobody said which end of the response is better the order is
    from high to low, and means nothing.
    """

    __test__ = False

    test: str
    species: str
    look: str | None
    systems: tuple[SystemEvidence, ...]
    pairs: tuple[PairEvidence, ...]
    values: tuple[PanelValue, ...]
    fit: Fit | None
    says: str
    response: Response = GRADE

    @property
    def n_panels(self) -> int:
        """Panels with a value."""
        return len(self.values)

    @property
    def better(self) -> Better | None:
        """The better end of its response."""
        return self.response.better


def weigh_test(
    test: str,
    species: str,
    look: str | None,
    values: tuple[PanelValue, ...],
    *,
    response: Response = GRADE,
    most_systems: int = 10_000,
    use_table: bool = False,
) -> TestEvidence:
    """Weigh one test: means, intervals, pairs and letters, best mean first.

    Above ``most_systems`` no pairs are compared, and it says so; ``use_table`` reads p-values from a table, which pays
    where many tests share a design.
    """
    fit: Fit | None = None
    says = ""
    systems: tuple[SystemEvidence, ...]
    pairs: tuple[PairEvidence, ...] = ()
    try:
        fit = fit_blocks(values, ends=response.ends)
    except ReadingsError as error:
        says = error.message
    if fit is None:
        systems = _raw_means(values, response)
    elif len(fit.systems) > most_systems:
        systems, _ = _assemble(fit, values, *_own_intervals(fit), (), response)
        says = f"With {len(fit.systems):,} build-ups there are more pairs than can be listed: only means are shown."
    elif fit.has_variance:
        systems, pairs = _with_variance(fit, values, response, use_table=use_table)
        says = _say_error(fit)
    elif fit.residual_df < 1:
        systems, pairs = _without_intervals(fit, values, response)
        says = (
            "Every panel is needed to estimate the means, so nothing is left to say how sure they are. "
            "Add boards."
        )
    else:
        why = _say_no_spread(values, graded=response.step is not None)
        if response.step is not None:
            systems, pairs = _by_resolution(fit, values, response, response.step)
            says = f"{why} The intervals shown are the scale's own resolution, half a step either way."
        else:
            systems, pairs = _without_intervals(fit, values, response)
            says = why
    return TestEvidence(
        test=test,
        species=species,
        look=look,
        systems=systems,
        pairs=pairs,
        values=values,
        fit=fit,
        says=says,
        response=response,
    )


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


_Weighed = tuple[tuple[SystemEvidence, ...], tuple[PairEvidence, ...]]


def _own_intervals(
    fit: Fit,
) -> tuple[Sequence[float | None], Sequence[tuple[float, float] | None]]:
    """Standard errors and intervals of the means, or nothing where there is no spread."""
    if not fit.has_variance:
        nothing: list[None] = [None] * len(fit.systems)
        return nothing, nothing
    se, ci = t_intervals(fit)
    return list(se), [(float(low), float(high)) for low, high in ci]


def _with_variance(
    fit: Fit, values: tuple[PanelValue, ...], response: Response, *, use_table: bool
) -> _Weighed:
    se, ci = _own_intervals(fit)
    pairs = tuple(
        PairEvidence(
            a=pair.a,
            b=pair.b,
            difference=pair.difference,
            se=pair.se,
            ci=(pair.low, pair.high),
            p_tukey=pair.p_tukey,
            told_apart=pair.p_tukey < ALPHA,
        )
        for pair in compare_pairs(fit, use_table=use_table)
    )
    return _assemble(fit, values, se, ci, pairs, response)


def _by_resolution(fit: Fit, values: tuple[PanelValue, ...], response: Response, step: float) -> _Weighed:
    """Half a step either way for a mean, a whole step for a difference."""
    half = step / 2
    ci = [(float(mean) - half, float(mean) + half) for mean in fit.means]
    pairs = []
    for pair in _plain_pairs(fit):
        low, high = pair.difference - step, pair.difference + step
        # Means carry rounding of about 1e-15; a difference of exactly one step is not more than one.
        apart = abs(pair.difference) > step + 1e-9
        pairs.append(
            PairEvidence(
                a=pair.a,
                b=pair.b,
                difference=pair.difference,
                se=None,
                ci=(low, high),
                p_tukey=None,
                told_apart=apart,
            )
        )
    return _assemble(fit, values, [None] * len(fit.systems), list(ci), tuple(pairs), response)


def _without_intervals(fit: Fit, values: tuple[PanelValue, ...], response: Response) -> _Weighed:
    nothing: list[None] = [None] * len(fit.systems)
    return _assemble(fit, values, nothing, nothing, tuple(_plain_pairs(fit)), response)


def _plain_pairs(fit: Fit) -> list[PairEvidence]:
    return [
        PairEvidence(
            a=a,
            b=b,
            difference=float(fit.means[i] - fit.means[j]),
            se=None,
            ci=None,
            p_tukey=None,
            told_apart=None,
        )
        for i, a in enumerate(fit.systems)
        for j, b in enumerate(fit.systems)
        if i < j
    ]


def _raw_means(values: tuple[PanelValue, ...], response: Response) -> tuple[SystemEvidence, ...]:
    by_system: dict[str, list[float]] = {}
    for value in values:
        by_system.setdefault(value.system, []).append(value.value)
    rows = [
        SystemEvidence(
            system=system,
            mean=sum(found) / len(found),
            se=None,
            ci=None,
            letters="",
            n_panels=len(found),
        )
        for system, found in by_system.items()
    ]
    sign = -response.sign
    return tuple(sorted(rows, key=lambda row: (sign * row.mean, row.system)))


def _assemble(
    fit: Fit,
    values: tuple[PanelValue, ...],
    se: Sequence[float | None],
    ci: Sequence[tuple[float, float] | None],
    pairs: tuple[PairEvidence, ...],
    response: Response,
) -> _Weighed:
    sign = -response.sign
    # Means that differ by rounding alone stand by name, in whatever unit.
    step = 1e-9 * max(float(abs(fit.means).max()), 1e-300)
    order = sorted(
        range(len(fit.systems)), key=lambda i: (sign * round(float(fit.means[i]) / step), fit.systems[i])
    )
    ranked = [fit.systems[i] for i in order]
    letters = dict.fromkeys(ranked, "")
    if (pairs or len(ranked) == 1) and all(pair.told_apart is not None for pair in pairs):
        letters = letter_display(ranked, {frozenset((p.a, p.b)) for p in pairs if p.told_apart})
    n_panels = Counter(value.system for value in values)
    systems = tuple(
        SystemEvidence(
            system=fit.systems[i],
            mean=float(fit.means[i]),
            se=None if se[i] is None else float(se[i] or 0.0),
            ci=ci[i],
            letters=letters[fit.systems[i]],
            n_panels=n_panels[fit.systems[i]],
        )
        for i in order
    )
    return systems, pairs
