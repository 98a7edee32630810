"""The sitting at which panels meet their tests: how far each test is on each panel, and what to do next.

One pair of hands lays, strokes and presses one thing after the other; what was laid is to be lifted in its own window. A thing is
begun only where all that lies can still be ended in time.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Sequence
from dataclasses import dataclass

from nublet.core.bench.evenness import NOTHING_CLOSED, Closed, as_it_goes
from nublet.core.bench.keys import DoneBook
from nublet.core.planning.chains import STEP_ENDS
from nublet.core.planning.exposure_work import ActWork
from nublet.core.planning.spec import PanelGroup, PlanSpec
from nublet.core.planning.trial_exposures import BEFORE_ACT
from nublet.core.protocols.looks import BEFORE, Look, Reader
from nublet.core.protocols.prompts import prompts_at
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.tests import Test


@dataclass(frozen=True, kw_only=True)
class SiteAt:
    """A test on a panel, and how far it is; moments in seconds since the plan's start.

    Attributes
    ----------
    panel, test : str
    chain : tuple of ActWork
        Its acts in order.
    n_done : int
        How many of them are done.
    since_s : float or None
        When the last of these ended; ``None`` before the first, and where the log does not tell.
    ready_s : float or None
        When the panel has cured, so that the first may be begun; ``None`` while it is not coated.
    """

    panel: str
    test: str
    chain: tuple[ActWork, ...]
    n_done: int = 0
    since_s: float | None = None
    ready_s: float | None = 0.0

    @property
    def is_over(self) -> bool:
        """Whether nothing is left to do."""
        return self.n_done >= len(self.chain)

    @property
    def is_lying(self) -> bool:
        """Whether it was begun and is not over."""
        return 0 < self.n_done < len(self.chain)

    @property
    def is_met(self) -> bool:
        """Whether more was done of it than measuring beforehand."""
        return self.n_done > (1 if self.chain[0].id == BEFORE_ACT else 0)


@dataclass(frozen=True, kw_only=True)
class GuidedStep:
    """One act of a sitting in its turn: the act's place in its chain, when it is begun, and its window where it has one."""

    panel: str
    test: str
    nth: int
    at_s: float
    window_s: tuple[float, float, float] | None


def sites_at(
    spec: PlanSpec,
    book: DoneBook,
    *,
    left_out: Collection[str] = (),
    closed: Closed = NOTHING_CLOSED,
) -> Iterator[SiteAt]:
    """How far each test is on each panel; ``left_out`` are panels that count for nothing any more."""
    for group in spec.groups:
        for panel in group.panels:
            if panel in left_out:
                continue
            ready_s = _ready_s(as_it_goes(group, panel, closed), panel, book)
            for exposure in group.exposures:
                chain = exposure.chain
                n_done = book.n_acts(group.id, panel, exposure)
                last = book.of_act(group.id, panel, exposure.id, chain[n_done - 1]) if n_done else None
                yield SiteAt(
                    panel=panel,
                    test=exposure.id,
                    chain=chain,
                    n_done=n_done,
                    since_s=None if last is None else last.end_s,
                    ready_s=ready_s,
                )


@dataclass(frozen=True, kw_only=True)
class CannotBeHad:
    """What is not read yet and can never be read once a panel has met a test, or was coated."""

    panel: str
    test: str
    look: str
    by: Reader
    what: str


def cannot_be_had(
    test: Test,
    looks: Iterable[Look],
    panels: Iterable[str],
    read: Collection[tuple[str, str, str, str]],
    *,
    after: str = BEFORE,
) -> Iterator[CannotBeHad]:
    """What is to be read just before a test, or on the bare wood, and was not.

    Parameters
    ----------
    test : Test
    looks : iterable of Look
        The test's.
    panels : iterable of str
        Codes of those that have not met it yet, or carry no coat yet.
    read : collection of (panel, test, look, response)
        What was read, by whoever.
    after : str
        ``"before"`` for what is read just before the first act, ``"bare"`` for what is read before the first coat.
    """
    readers: tuple[Reader, ...] = ("hands", "judges")
    before = [look for look in looks if look.after == after]
    for panel in panels:
        for look in before:
            for by in readers:
                missing = [
                    prompt.response
                    for prompt in prompts_at(test, look, by)
                    if (panel, test.id, look.id, prompt.response) not in read
                ]
                if missing:
                    names = dict.fromkeys(_small(RESPONSES[response].name) for response in missing)
                    yield CannotBeHad(panel=panel, test=test.id, look=look.id, by=by, what=", ".join(names))


def _small(name: str) -> str:
    """A name within a sentence: its symbol keeps its letter."""
    return name[:1].lower() + name[1:]


def _ready_s(group: PanelGroup, panel: str, book: DoneBook) -> float | None:
    """When a panel has cured; at once where it has no coats."""
    coats = [step for step in group.steps if step.kind == "coat"]
    if not coats:
        return 0.0
    is_coated = any(book.of(group.id, panel, coats[-1].id, kind) is not None for kind in STEP_ENDS)
    return book.coated_s(group, panel) + 3600 * group.cure_h if is_coated else None


@dataclass
class _Timed:
    """An act that is to be begun in its window, and what comes after it."""

    site: SiteAt
    nth: int
    opens_s: float
    wanted_s: float
    closes_s: float

    @property
    def act(self) -> ActWork:
        return self.site.chain[self.nth]

    def after(self, end_s: float) -> _Timed | None:
        """What is to be done after it, when it ends at a moment."""
        return _timed(self.site, self.nth + 1, end_s)


def guide(lying: Iterable[SiteAt], free: Sequence[SiteAt], *, now_s: float) -> list[GuidedStep]:
    """In which order one pair of hands goes on: what lies is ended in its window, what is free is begun as soon as that allows.

    Parameters
    ----------
    lying : iterable of SiteAt
        Begun and not over.
    free : sequence of SiteAt
        To be begun, in this order.
    now_s : float

    Returns
    -------
    list of GuidedStep
        All acts that are left, in their order. Nothing that lies and could be ended in its window misses it for what is begun.

    Notes
    -----
    Before each free step the acts that are due are laid out by earliest closing (Jackson 1955, Scheduling a production line to
    minimize maximum tardiness), each not before it is wanted; only where all keep their windows is the free one begun.
    """
    now = now_s
    timed = [each for site in lying if (each := _timed(site, site.n_done, site.since_s)) is not None]
    waiting = list(free)
    found: list[GuidedStep] = []
    while timed or waiting:
        first = waiting[0] if waiting else None
        if first is not None:
            minutes = first.chain[0].minutes_per_panel
            ends = now + 60 * minutes
            follower = _timed(first, 1, ends)
            after = [*timed, follower] if follower is not None else timed
            if _n_missed(after, ends) <= _n_missed(timed, now):
                waiting.pop(0)
                found.append(GuidedStep(panel=first.panel, test=first.test, nth=0, at_s=now, window_s=None))
                timed, now = list(after), ends
                continue
        chosen = _next_of(timed, now)
        timed.remove(chosen)
        begins = max(now, chosen.wanted_s)
        found.append(
            GuidedStep(
                panel=chosen.site.panel,
                test=chosen.site.test,
                nth=chosen.nth,
                at_s=begins,
                window_s=(chosen.opens_s, chosen.wanted_s, chosen.closes_s),
            )
        )
        now = begins + 60 * chosen.act.minutes_per_panel
        follower = chosen.after(now)
        if follower is not None:
            timed.append(follower)
    return found


def _timed(site: SiteAt, nth: int, end_s: float | None) -> _Timed | None:
    """The act at a place of a chain, when the one before it ended at a moment."""
    if nth >= len(site.chain):
        return None
    least, most = site.chain[nth - 1].then_min or (0.0, None)
    wanted = site.chain[nth - 1].wanted_min
    since = 0.0 if end_s is None else end_s
    return _Timed(
        site=site,
        nth=nth,
        opens_s=since + 60 * least,
        wanted_s=since + 60 * (least if wanted is None else wanted),
        closes_s=float("inf") if most is None else since + 60 * most,
    )


def _next_of(timed: Sequence[_Timed], now: float) -> _Timed:
    """Of what is wanted by now that which closes first; else what is wanted first."""
    wanted = [each for each in timed if each.wanted_s <= now]
    if wanted:
        return min(wanted, key=lambda each: (each.closes_s, each.wanted_s))
    return min(timed, key=lambda each: (each.wanted_s, each.closes_s))


def _n_missed(timed: Sequence[_Timed], now: float) -> int:
    """How many acts miss their windows when nothing else is begun, those that follow from them among them."""
    left = list(timed)
    n = 0
    while left:
        chosen = _next_of(left, now)
        left.remove(chosen)
        begins = max(now, chosen.wanted_s)
        n += begins > chosen.closes_s + 1e-6
        now = begins + 60 * chosen.act.minutes_per_panel
        follower = chosen.after(now)
        # What may wait for ever misses nothing.
        if follower is not None and follower.closes_s < float("inf"):
            left.append(follower)
    return n
