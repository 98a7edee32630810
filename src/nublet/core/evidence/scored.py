"""What is not averaged: ordered words, yes or no, times, preferences. Scores are weighed by permutation, and told as what was seen.

Ordered words: each reader's readings are ranked among themselves (a judge from one view is a reader), a panel's score is the mean
over its readers. Yes or no: the share of its readers who said the better. Times: log-rank scores. Preferences: the share of choices
that a build-up won with each judge. What is shown beside the letters is what was read: shares of the steps, exact intervals of
shares, median times, the chance of being preferred.

References
----------
Clopper, C. J. and Pearson, E. S. (1934). The use of confidence or fiducial limits illustrated in the case of the binomial.
Biometrika 26, 404-413. Of ranks, times and preferences their own modules in :mod:`nublet.core.evidence.models`.
"""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from scipy import special

from nublet.core.evidence.by_sections import weigh_sections
from nublet.core.evidence.models.preference import Choice, fit_preference, shares_by_judge
from nublet.core.evidence.models.ranks import relative_scores
from nublet.core.evidence.models.times import TimeSeen, log_rank_scores, median_time
from nublet.core.evidence.outcomes import Rules, StepShare, SystemEvidence, TestEvidence, ToldAs
from nublet.core.evidence.readings import PanelValue, Reading
from nublet.core.evidence.verdicts import letters_of
from nublet.core.evidence.weighing import weigh_test
from nublet.core.protocols.responses import Response

_Enrich = Callable[[SystemEvidence], SystemEvidence]


def scores_of(
    readings: Sequence[Reading], response: Response
) -> tuple[tuple[PanelValue, ...], ToldAs] | None:
    """Scores of panels or their sections, 1 or higher for better, and what they stand for; ``None`` for what is averaged.

    Parameters
    ----------
    readings : sequence of Reading
        Of one test on one species at one look.
    """
    graded = [reading for reading in readings if reading.grade is not None]
    way = response.weighed_first
    if not graded or way not in ("ranks", "share", "time"):
        return None
    if way == "time":
        seen = times_of(graded)
        scores = log_rank_scores(seen)
        # A late time scores low: where late is better it is turned.
        sign = 1 if response.better == "low" else -1
        return tuple(
            PanelValue(
                panel=t.piece, system=t.system, board=t.board, species=t.species, section=t.section, value=sign * float(score)
            )
            for t, score in zip(seen, scores, strict=True)
        ), "time"  # fmt: skip
    if way == "share":
        better = response.best if response.best is not None else 0.0
        said = [replace(r, grade=float(math.isclose(r.grade or 0.0, better))) for r in graded]
        return tuple(_means_by_place(said)), "share"
    return tuple(_means_by_place(_ranked_by_reader(graded, response.sign))), "rank"


def _ranked_by_reader(graded: Sequence[Reading], sign: int) -> list[Reading]:
    by_reader: dict[tuple[str | None, str | None], list[Reading]] = defaultdict(list)
    for reading in graded:
        by_reader[reading.judge, reading.view].append(reading)
    return [
        replace(reading, grade=float(score))
        for own in by_reader.values()
        for reading, score in zip(own, relative_scores([sign * (r.grade or 0.0) for r in own]), strict=True)
    ]


def _means_by_place(readings: Sequence[Reading]) -> list[PanelValue]:
    by_place: dict[tuple[str, str], list[Reading]] = defaultdict(list)
    for reading in readings:
        by_place[reading.panel, reading.section or ""].append(reading)
    return [
        PanelValue(
            panel=panel,
            section=section,
            system=own[0].system,
            board=own[0].board,
            species=own[0].species,
            value=sum(r.grade or 0.0 for r in own) / len(own),
        )
        for (panel, section), own in sorted(by_place.items())
    ]


def times_of(graded: Sequence[Reading]) -> list[TimeSeen]:
    """When it happened on each panel or section: between the earliest and the latest that its readers leave open."""
    by_place: dict[tuple[str, str], list[Reading]] = defaultdict(list)
    for reading in graded:
        by_place[reading.panel, reading.section or ""].append(reading)
    found = []
    for (panel, section), own in sorted(by_place.items()):
        after = min((r.grade or 0.0) if r.after is None else r.after for r in own)
        by = None if any(r.is_beyond for r in own) else max(r.grade or 0.0 for r in own)
        found.append(
            TimeSeen(
                piece=panel, section=section, system=own[0].system, board=own[0].board, species=own[0].species, after=after, by=by
            )
        )  # fmt: skip
    return found


def weigh_scores(
    test: str,
    species: str,
    look: str | None,
    readings: Sequence[Reading],
    *,
    rules: Rules,
    has_sections: bool = False,
) -> TestEvidence | None:
    """Weigh one test of a response that is not averaged; ``None`` where nothing was read or it is only counted.

    Parameters
    ----------
    readings : sequence of Reading
        Of one test on one species at one look.
    has_sections : bool
        Weigh sections within panels.

    Raises
    ------
    ReadingsError
        If build-ups and sections cannot be weighed together.
    """
    found = scores_of(readings, rules.response)
    if found is None:
        return None
    values, scores = found
    by_scores = replace(rules, school="ranks", scores=scores)
    weigh = weigh_sections if has_sections else weigh_test
    evidence = weigh(test, species, look, values, rules=by_scores)
    enrich = _enriched([r for r in readings if r.grade is not None], rules.response, scores)
    return replace(evidence, systems=tuple(enrich(row) for row in evidence.systems))


def _enriched(graded: Sequence[Reading], response: Response, scores: ToldAs) -> _Enrich:
    """What each system is told by."""
    by_system: dict[str, list[Reading]] = defaultdict(list)
    for reading in graded:
        by_system[reading.system].append(reading)

    def tell(row: SystemEvidence) -> SystemEvidence:
        own = by_system[row.system]
        if scores == "time":
            return replace(row, mean=None, se=None, ci=None, time=median_time(times_of(own)))
        if scores == "share":
            return _as_share(row, own, response)
        return replace(row, se=None, ci=None, steps=step_shares([r.grade or 0.0 for r in own], response))

    return tell


def _as_share(row: SystemEvidence, own: Sequence[Reading], response: Response) -> SystemEvidence:
    """The share of panels on which it happened, as at least half of the readers of each say, with its exact interval."""
    worse = response.worst if response.worst is not None else 1.0
    panels = _means_by_place([replace(r, grade=float(math.isclose(r.grade or 0.0, worse))) for r in own])
    n, n_worse = len(panels), sum(panel.value >= 0.5 for panel in panels)
    low, high = share_interval(n_worse, n)
    steps = tuple(
        StepShare(
            words=step.words,
            share=n_worse / n if math.isclose(step.value, worse) else 1 - n_worse / n,
            low=low if math.isclose(step.value, worse) else 1 - high,
            high=high if math.isclose(step.value, worse) else 1 - low,
        )
        for step in response.steps
    )
    return replace(row, mean=n_worse / n, se=None, ci=(low, high), n_panels=n, steps=steps)


def share_interval(n_yes: int, n: int, *, level: float = 0.95) -> tuple[float, float]:
    """The exact interval of a share.

    Parameters
    ----------
    n_yes, n : int
        Of n panels, n above 0.

    Examples
    --------
    >>> [round(end, 4) for end in share_interval(2, 10)]
    [0.0252, 0.5561]
    >>> [round(end, 4) for end in share_interval(0, 5)]
    [0.0, 0.5218]
    """
    tail = (1 - level) / 2
    low = 0.0 if n_yes == 0 else float(special.betaincinv(n_yes, n - n_yes + 1, tail))
    high = 1.0 if n_yes == n else float(special.betaincinv(n_yes + 1, n - n_yes, 1 - tail))
    return low, high


def step_shares(values: Sequence[float], response: Response) -> tuple[StepShare, ...]:
    """How often each step of a scale was read, in the order of the scale."""
    return tuple(
        StepShare(
            words=step.words, share=sum(math.isclose(value, step.value) for value in values) / len(values)
        )
        for step in response.steps
    )


def weigh_preference(
    test: str, species: str, look: str | None, choices: Sequence[Choice], *, rules: Rules
) -> TestEvidence:
    """Weigh blind choices between build-ups: chances by Bradley and Terry, told apart by permutation within judges.

    Raises
    ------
    ReadingsError
        If there are no choices, or no chain of them links the build-ups.
    """
    fit = fit_preference(choices)
    values = shares_by_judge(choices)
    evidence = weigh_test(
        test, species, look, values, rules=replace(rules, school="ranks", scores="preference")
    )
    chance, ci = fit.preferred_over_average()
    n_choices = Counter(name for choice in choices if choice.a != choice.b for name in (choice.a, choice.b))
    told: Mapping[str, tuple[float, tuple[float, float]]] = {
        system: (float(chance[i]), (float(ci[i, 0]), float(ci[i, 1]))) for i, system in enumerate(fit.systems)
    }
    ordered = sorted(evidence.systems, key=lambda row: (-told[row.system][0], row.system))
    letters = letters_of([row.system for row in ordered], evidence.pairs)
    says = [evidence.says]
    if not fit.is_bounded:
        says.append(
            "Some were always or never chosen, so their chances have no bound of their own: half a choice each way was added "
            "between all that were compared."
        )
    if fit.n_judges < 2:
        says.append("One judge's taste: nothing shows how far others share it.")
    return replace(
        evidence,
        systems=tuple(
            replace(
                row,
                mean=told[row.system][0],
                se=None,
                ci=told[row.system][1],
                letters=letters[row.system],
                n_panels=n_choices[row.system],
            )
            for row in ordered
        ),
        says=" ".join(filter(None, says)),
    )
