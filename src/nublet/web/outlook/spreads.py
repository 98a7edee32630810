"""The spread to plan with: the tester's figure, or what the shop's finished trials show, response by response, or the usual."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import TypeVar, cast

from django.core.cache import cache
from django.db.models import Count, Max, OuterRef, Subquery, Sum

from nublet.core.design.power import Comparison, Spread, pool_spread
from nublet.core.design.response_reach import ResponseReach, response_reach
from nublet.core.evidence.by_response import rows_by_response
from nublet.core.evidence.policy import main_response
from nublet.core.evidence.spread import Strata, strata_of
from nublet.core.protocols.worth import compared
from nublet.web.designs.models import TrialSpot
from nublet.web.evidence.rows import rows_of
from nublet.web.people.models import AuditEntry, SubjectKind
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

_KEEP_S = 24 * 3600

Found = TypeVar("Found")


@dataclass(frozen=True, kw_only=True)
class Spreads:
    """Of panels and of sections within them for the main response; and pooled of every response that finished trials have."""

    panels: Spread
    sections: Spread | None
    by_response: Mapping[str, Spread]


def spreads_for(trial: Trial) -> Spreads:
    """The spread between panels to plan with; simulated trials are planned with simulated ones, real trials with real ones."""
    finished = finished_trials(trial.shop_id, is_simulated=trial.is_simulated, but=trial.pk)
    pooled: dict[str, Strata] = defaultdict(Strata)
    n_trials: dict[str, int] = defaultdict(int)
    for other, state in finished:
        for response, own in _strata(other, state).items():
            n_trials[response] += bool(own.panels)
            pooled[response].panels.extend(own.panels)
            pooled[response].sections.extend(own.sections)
    main = main_response(protocol_of(trial)).id
    own = pooled.get(main, Strata())
    sections = pool_spread(own.sections, n_trials=n_trials[main])
    return Spreads(
        panels=Spread(sd=trial.sd, source="given")
        if trial.sd is not None
        else pool_spread(own.panels, n_trials=n_trials[main]),
        sections=sections if sections.source == "own_trials" and trial.sd is None else None,
        by_response={
            response: found
            for response, strata in pooled.items()
            if (found := pool_spread(strata.panels, n_trials=n_trials[response])).source == "own_trials"
        },
    )


def reaches(trial: Trial, comparisons: Sequence[Comparison], spreads: Spreads) -> tuple[ResponseReach, ...]:
    """What is noticed of each response of the trial's protocol that finished trials tell of; the main one has its own answer."""
    protocol = protocol_of(trial)
    main = main_response(protocol).id
    return tuple(
        response_reach(
            asked,
            comparisons,
            spreads.by_response[asked.response],
            worth=trial.worth_knowing.get(asked.response),
        )
        for asked in compared(protocol)
        if asked.response in spreads.by_response and asked.response != main
    )


def _strata(other: Trial, state: str) -> dict[str, Strata]:
    """Of a finished trial, by response; kept until anything of it changes."""

    def work_out() -> dict[str, Strata]:
        protocol = protocol_of(other)
        return {
            response.id: strata_of(rows, protocol, response)
            for response, rows in rows_by_response(rows_of(other), protocol).items()
        }

    return kept_while_the_same("spread", other, state, work_out)


def kept_while_the_same(what: str, trial: Trial, state: str, work_out: Callable[[], Found]) -> Found:
    """What is worked out from a finished trial, kept for a day while its state (of :func:`finished_trials`) is the same."""
    return cast("Found", cache.get_or_set(f"{what}-{trial.pk}-{state}", work_out, _KEEP_S))


def finished_trials(shop_id: int, *, is_simulated: bool, but: int | None = None) -> list[tuple[Trial, str]]:
    """A shop's trials that are graded through, but for one, each with what changes when anything of it does. One query."""
    spots = (
        TrialSpot.objects.filter(
            panel__trial=OuterRef("pk"), panel__spoiled_at__isnull=True, left_out_at__isnull=True
        )
        .order_by()
        .values("panel__trial")
    )
    # Spots apart from readings, or each spot would count once for every grade.
    graded = spots.filter(readings__value__isnull=False, readings__against="", readings__turn=0)
    changes = (
        AuditEntry.objects.filter(subject_kind=SubjectKind.TRIAL, subject_id=OuterRef("pk"))
        .order_by()
        .values("subject_id")
    )
    trials = (
        Trial.objects.filter(shop=shop_id, is_simulated=is_simulated, started_at__isnull=False)
        .exclude(pk=but or 0)
        .order_by("pk")
        .annotate(
            n_judged=Subquery(spots.annotate(n=Sum("n_judged")).values("n")),
            n_by_hands=Subquery(spots.annotate(n=Sum("n_by_hands")).values("n")),
            n_judges=Count("judges"),
            n_graded=Subquery(graded.annotate(n=Count("readings")).values("n")),
            # What is left out, spoiled or declared changes no grade.
            changed=Subquery(changes.annotate(last=Max("pk")).values("last")),
            latest=Subquery(graded.annotate(at=Max("readings__changed_at")).values("at")),
        )
    )
    finished: list[tuple[Trial, str]] = []
    for other in trials:
        wanted = (other.n_judged or 0) * other.n_judges + (other.n_by_hands or 0)
        if 0 < wanted <= (other.n_graded or 0):
            finished.append(
                (other, f"{wanted}-{other.n_graded}-{other.changed}-{other.latest:%Y%m%d%H%M%S%f}")
            )
    return finished
