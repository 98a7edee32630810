"""The expose stage: which panels meet which test when, how far each is, and what to do next. For keepers; no build-up is named."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from nublet.core.bench.act_steps import ExposedTest, exposed_tests
from nublet.core.bench.keys import DoneBook
from nublet.core.bench.schools import BLOCK_TOLERANCE_C
from nublet.core.bench.sitting import CannotBeHad, SiteAt, cannot_be_had, guide, sites_at
from nublet.core.planning.exposure_work import ActWork
from nublet.core.protocols.tests import Protocol
from nublet.web.bench import clock
from nublet.web.bench.adapters import BenchLog, log_of
from nublet.web.bench.bench_actions import active_hands, bench_of
from nublet.web.bench.bench_selectors import instruments_of
from nublet.web.bench.exposing_panels import ExposedPanel, panels_of
from nublet.web.bench.findings import Missed, find_missed
from nublet.web.bench.looks_seen import values_read
from nublet.web.bench.models import (
    BenchPlan,
    Hands,
    PlannedOperation,
    Pour,
    ShopBench,
)
from nublet.web.bench.plan_actions import standing_plan
from nublet.web.bench.pour_actions import latest_pours
from nublet.web.designs.models import DeviationKind
from nublet.web.people.models import Person
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

# A sitting is laid out so far ahead.
_MOST_STEPS = 60


@dataclass(frozen=True, kw_only=True)
class ExposedSite:
    """A test on a panel, and how far it is: how many of its acts are done, and when the last of them ended.

    ``way`` is the number of its chain among the test's ways; ``ready_at`` is when the panel has cured, empty while it is not coated.
    """

    panel: str
    test: str
    way: int
    n_done: int
    since_at: datetime | None
    ready_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class Meeting:
    """Panels that meet a test in one sitting, from one pour, in a drawn order.

    ``shared`` is their board, or their replicate on glass; empty where each goes as it is ready.
    """

    id: str
    shared: str
    test: str
    panels: tuple[str, ...]
    planned_at: datetime | None
    hands: int | None
    n_begun: int
    n_over: int


@dataclass(frozen=True, kw_only=True)
class LeftOutSpot:
    """A test that was left out on a panel, and why."""

    panel: str
    test: str
    reason: str


@dataclass(frozen=True, kw_only=True)
class NextStep:
    """One act of the sitting in its turn."""

    panel: str
    test: str
    nth: int
    at: datetime


@dataclass(frozen=True, kw_only=True)
class ExposeView:
    """All that the expose page shows. ``meeting`` is the one in hand; without a plan there is none."""

    now: datetime
    trial: Trial
    bench: ShopBench
    has_plan: bool
    block_tolerance_c: float
    hands: tuple[Hands, ...]
    is_judge: bool
    instruments: tuple[str, ...]
    tests: tuple[ExposedTest, ...]
    meetings: tuple[Meeting, ...]
    meeting: str
    panels: tuple[ExposedPanel, ...]
    sites: tuple[ExposedSite, ...]
    steps: tuple[NextStep, ...]
    pours: tuple[Pour, ...]
    missed: tuple[Missed, ...]
    left_out: tuple[LeftOutSpot, ...]
    cannot_be_had: tuple[CannotBeHad, ...]


def view_exposing(person: Person, trial: Trial, *, meeting: str = "", work: int | None = None) -> ExposeView:
    """The sitting in hand: the one asked for, that of a planned operation, that in which something lies, or the next by the plan.

    A fixed number of queries. ``is_judge`` tells whether the person grades in the trial.
    """
    now = clock.now()
    plan = standing_plan(trial)
    log = None if plan is None else log_of(plan)
    protocol = protocol_of(trial)
    panels = panels_of(trial)
    sites = [] if log is None else _sites(log, panels, set(() if plan is None else plan.left_out))
    rows = (
        []
        if plan is None
        else list(plan.operations.filter(kind__in=["lay", "act"]).order_by("start_at", "pk"))
    )
    meetings = _meetings(sites, rows, panels, is_together=trial.exposing == "together")
    chosen = _chosen(meetings, meeting or _meeting_of(meetings, plan, work))
    own = {(code, chosen.test) for code in chosen.panels} if chosen is not None else set()
    shown = [site for site in sites if site.is_lying or (site.panel, site.test) in own]
    codes = {site.panel for site in shown}
    ways = _ways(sites)
    left_out = tuple(_left_out(trial))
    return ExposeView(
        now=now,
        trial=trial,
        bench=bench_of(trial.shop),
        has_plan=plan is not None,
        block_tolerance_c=BLOCK_TOLERANCE_C,
        hands=tuple(active_hands(trial.shop_id)),
        is_judge=trial.judges.filter(pk=person.pk).exists(),
        instruments=instruments_of(trial.shop_id),
        tests=exposed_tests(protocol, ways),
        meetings=tuple(meetings),
        meeting="" if chosen is None else chosen.id,
        panels=tuple(panels[code] for code in sorted(codes) if code in panels),
        sites=() if log is None else tuple(_shown(site, log, ways) for site in shown),
        steps=() if log is None else _steps(shown, chosen, log, now),
        pours=tuple(latest_pours(trial)),
        missed=() if log is None else tuple(_missed(log, trial, sites)),
        left_out=left_out,
        cannot_be_had=() if chosen is None else tuple(_cannot_be_had(trial, protocol, sites, chosen)),
    )


def _sites(log: BenchLog, panels: Mapping[str, ExposedPanel], left_out: set[str]) -> list[SiteAt]:
    """How far each test is on each panel on which it still counts."""
    carried = {(code, spot.exposure) for code, panel in panels.items() for spot in panel.spots}
    found = sites_at(log.spec, DoneBook(log.done(with_skipped=True)), left_out=left_out, closed=log.closed)
    return [site for site in found if (site.panel, site.test) in carried]


def _meetings(
    sites: Sequence[SiteAt],
    rows: Sequence[PlannedOperation],
    panels: Mapping[str, ExposedPanel],
    *,
    is_together: bool,
) -> list[Meeting]:
    """Who meets what together, in the order of the plan; what is over comes last."""
    by_key = {(site.panel, site.test): site for site in sites}
    planned: dict[tuple[str, str], PlannedOperation] = {}
    order: dict[tuple[str, str], int] = {}
    for row in rows:
        for panel in row.panels:
            site = by_key.get((str(panel[0]), row.item))
            if site is not None and _is_first(site.chain[0], row):
                planned.setdefault((site.panel, site.test), row)
                order.setdefault((site.panel, site.test), len(order))
    together: dict[tuple[str, str], list[SiteAt]] = defaultdict(list)
    for site in sites:
        first_row = planned.get((site.panel, site.test))
        block = panels[site.panel].block
        # Those that go as each is ready are as many as the plan takes in one go.
        shared = block if is_together else "" if first_row is None else str(first_row.pk)
        together[shared, site.test].append(site)
    found = []
    for (shared, test), own in together.items():
        own.sort(key=lambda site: (order.get((site.panel, test), -1), site.since_s or 0.0, site.panel))
        first = next((planned[site.panel, test] for site in own if (site.panel, test) in planned), None)
        found.append(
            Meeting(
                id=f"{test}|{shared}",
                shared=shared if is_together else "",
                test=test,
                panels=tuple(site.panel for site in own),
                planned_at=None if first is None else first.start_at,
                hands=None if first is None else first.hands_id,
                n_begun=sum(site.n_done > 0 for site in own),
                n_over=sum(site.is_over for site in own),
            )
        )

    def place(each: Meeting) -> tuple[bool, bool, float, str]:
        planned_at = 0.0 if each.planned_at is None else each.planned_at.timestamp()
        return each.n_over == len(each.panels), each.planned_at is None, planned_at, each.id

    return sorted(found, key=place)


def _is_first(act: ActWork, row: PlannedOperation) -> bool:
    return (row.kind, row.act) == (act.kind, act.id if act.kind == "act" else "")


def _chosen(meetings: Sequence[Meeting], wanted: str) -> Meeting | None:
    """The meeting asked for; else the one that is begun and has panels left to begin, else the next that is not begun."""
    asked = next((each for each in meetings if each.id == wanted), None)
    if asked is not None:
        return asked
    half = next((each for each in meetings if 0 < each.n_begun < len(each.panels)), None)
    return half or next((each for each in meetings if not each.n_begun), None) or next(iter(meetings), None)


def _meeting_of(meetings: Sequence[Meeting], plan: BenchPlan | None, work: int | None) -> str:
    """The meeting of a planned operation, such as one that the due strip leads to; empty for none."""
    row = None if plan is None or work is None else plan.operations.filter(pk=work).first()
    if row is None:
        return ""
    codes = {str(panel[0]) for panel in row.panels}
    return next((each.id for each in meetings if each.test == row.item and codes & {*each.panels}), "")


def _steps(
    shown: Sequence[SiteAt], chosen: Meeting | None, log: BenchLog, now: datetime
) -> tuple[NextStep, ...]:
    place = {code: number for number, code in enumerate(() if chosen is None else chosen.panels)}
    free = sorted(
        (site for site in shown if not site.n_done and chosen is not None and site.test == chosen.test),
        key=lambda site: place.get(site.panel, len(place)),
    )
    found = guide([site for site in shown if site.is_lying], free[:_MOST_STEPS], now_s=log.seconds(now))
    return tuple(
        NextStep(panel=step.panel, test=step.test, nth=step.nth, at=log.moment(step.at_s))
        for step in found[: 4 * _MOST_STEPS]
    )


def _ways(sites: Iterable[SiteAt]) -> dict[str, list[tuple[ActWork, ...]]]:
    """The chains as which each test is planned on one panel or another."""
    found: dict[str, list[tuple[ActWork, ...]]] = defaultdict(list)
    for site in sites:
        if site.chain not in found[site.test]:
            found[site.test].append(site.chain)
    return found


def _shown(site: SiteAt, log: BenchLog, ways: Mapping[str, Sequence[tuple[ActWork, ...]]]) -> ExposedSite:
    return ExposedSite(
        panel=site.panel,
        test=site.test,
        way=ways[site.test].index(site.chain),
        n_done=site.n_done,
        since_at=None if site.since_s is None else log.moment(site.since_s),
        ready_at=None if site.ready_s is None else log.moment(site.ready_s),
    )


def _missed(log: BenchLog, trial: Trial, sites: Iterable[SiteAt]) -> Iterable[Missed]:
    """What went otherwise with tests that count, of which somebody has to decide whether they do."""
    counting = {(site.panel, site.test) for site in sites}
    for each in find_missed(log, trial, log.codes):
        if each.judgement != "usable" and (each.panel, each.exposure) in counting:
            yield each


def _cannot_be_had(
    trial: Trial, protocol: Protocol, sites: Iterable[SiteAt], meeting: Meeting
) -> Iterable[CannotBeHad]:
    """What is still to be read before the meeting's panels have met its test. One query."""
    test = protocol.test(meeting.test)
    own = [
        site.panel
        for site in sites
        if site.test == test.id and site.panel in meeting.panels and not site.is_met
    ]
    return cannot_be_had(test, protocol.looks_of(test), own, values_read(trial, [test.id]))


def _left_out(trial: Trial) -> Iterable[LeftOutSpot]:
    """What somebody left out. One query."""
    rows = trial.deviations.filter(kind=DeviationKind.SPOT_LEFT_OUT, withdrawn_at__isnull=True)
    for code, test, reason in rows.order_by("pk").values_list("panel__code", "spoils_exposure", "reason"):
        yield LeftOutSpot(panel=code, test=test, reason=reason)
