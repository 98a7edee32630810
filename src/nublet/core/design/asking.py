"""What a protocol asks of a trial as it grows: places on panels, panels and slips, hands, days, and readings of each judge."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from nublet.core.design.effort import MINUTES_PER_GRADE
from nublet.core.design.whole import share_out
from nublet.core.protocols.looks import Look
from nublet.core.protocols.sites import SiteKind
from nublet.core.protocols.tests import Protocol, Test
from nublet.core.protocols.timeline import timeline_of

_DAY_MIN = 1440.0


@dataclass(frozen=True, kw_only=True)
class TestAsking:
    """What one test takes on each build-up and board, or in slips on each build-up, in hours of hands and in readings.

    ``readings_each`` are one judge's, ``readings_hands`` those of the hands at the bench.
    """

    test: str
    site: SiteKind
    has_own_panel: bool
    expose_h: float
    readings_each: int
    readings_hands: int


@dataclass(frozen=True, kw_only=True)
class Asking:
    """What a whole protocol asks of a trial.

    Attributes
    ----------
    tests : tuple of TestAsking
    sites : mapping of kind to how many, on one build-up and board
    panels_each : int
        Of one build-up on one board: one for rings, strips and looking, and one for each test that uses its panel up.
    n_panels, n_slips : int
    expose_h : float
        Hands-on hours of all acts.
    read_h : float
        Of one judge; and of the hands, with their instruments.
    n_readings_each, n_readings : int
        Of one judge, and of all with the hands'.
    n_days : int
        From the first act to the last look.
    """

    tests: tuple[TestAsking, ...]
    sites: Mapping[SiteKind, int]
    panels_each: int
    n_panels: int
    n_slips: int
    expose_h: float
    read_h: float
    n_readings_each: int
    n_readings: int
    n_days: int


def ask(
    protocol: Protocol,
    *,
    n_build_ups: int,
    n_boards: int,
    n_judges: int,
    n_sections: int = 0,
    n_bare: int = 1,
    slip_replicates: int = 3,
) -> Asking:
    """Reckon what a protocol asks of a trial.

    Parameters
    ----------
    protocol : Protocol
    n_build_ups : int
        The bare control among them.
    n_boards : int
        Of all woods.
    n_judges, n_sections, n_bare, slip_replicates : int
    """
    shares = share_out(protocol.tests)
    panels_each = shares.panels_each()
    coated = n_build_ups - n_bare
    tests = []
    for test in protocol.tests:
        on_wood = n_build_ups * n_boards * max(1, n_sections)
        times = coated * slip_replicates if test.site.kind == "slip" else on_wood
        tests.append(_asked(test, protocol.looks_of(test), times))
    each = sum(asked.readings_each for asked in tests)
    hands = sum(asked.readings_hands for asked in tests)
    longest = max(
        (timeline_of(test, protocol.looks_of(test)).length_min for test in protocol.tests), default=0.0
    )
    return Asking(
        tests=tuple(tests),
        sites=Counter(test.site.kind for test in protocol.tests),
        panels_each=panels_each,
        n_panels=panels_each * n_build_ups * n_boards,
        n_slips=len(shares.slips) * coated * slip_replicates,
        expose_h=sum(asked.expose_h for asked in tests),
        read_h=MINUTES_PER_GRADE * each / 60,
        n_readings_each=each,
        n_readings=each * n_judges + hands,
        n_days=int(-(-longest // _DAY_MIN)),
    )


def _asked(test: Test, looks: tuple[Look, ...], times: int) -> TestAsking:
    judged = hands = 0
    for look in looks:
        for read in test.reads:
            if read.is_due_at(look):
                n = len(read.views or ("",)) * times
                judged += n if read.by == "judges" else 0
                hands += n if read.by == "hands" else 0
    minutes = sum(act.hands_min * max(1, act.cycles) for act in test.acts if act.kind != "wait")
    return TestAsking(
        test=test.id,
        site=test.site.kind,
        has_own_panel=test.uses_up_panel,
        expose_h=minutes * times / 60,
        readings_each=judged,
        readings_hands=hands,
    )
