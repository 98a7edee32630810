"""Looks months away: dates that follow from what was done, or from when it is planned, and are no sitting of a plan."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta

from nublet.core.planning.trial_exposures import SET_OUT, far_looks, last_work_of
from nublet.core.protocols.looks import Look
from nublet.core.protocols.spot_tests import is_laid_and_lifted
from nublet.core.protocols.tests import Protocol, Test

# Panel, test, and the id that the act has in a plan.
ActKey = tuple[str, str, str]


@dataclass(frozen=True, kw_only=True)
class FarLook:
    """One look of one test on the panels of which it falls on one day.

    ``is_planned`` says that the act it counts from is planned and not done yet, so that the date may still move.
    """

    test: str
    look: Look
    panels: tuple[str, ...]
    opens_at: datetime
    aim_at: datetime
    closes_at: datetime
    is_planned: bool


def far_dates(
    protocol: Protocol,
    carried: Iterable[tuple[str, str]],
    ended: Mapping[ActKey, datetime],
    planned: Mapping[ActKey, datetime],
    *,
    seen: Collection[tuple[str, str, str]] = (),
) -> list[FarLook]:
    """The dates of all far looks that are still to come, the earliest first.

    Parameters
    ----------
    protocol : Protocol
    carried : iterable of (panel, test)
    ended, planned : mapping of (panel, test, act) to a moment
        When an act was done, and when the plan ends it.
    seen : collection of (panel, test, look)
        What was read already.
    """
    tests = {test.id: test for test in protocol.tests}
    found: dict[tuple[str, str, bool, object], list[tuple[datetime, str]]] = defaultdict(list)
    looks: dict[tuple[str, str], Look] = {}
    for panel, name in sorted(set(carried)):
        test = tests[name]
        for look in _far_looks_of(test, protocol):
            key = (panel, name, SET_OUT if not test.acts else last_work_of(test, look))
            since = ended.get(key) or planned.get(key)
            if since is None or (panel, name, look.id) in seen:
                continue
            aim = since + timedelta(minutes=look.after_min)
            looks[name, look.id] = look
            found[name, look.id, key not in ended, aim.date()].append((aim, panel))
    dates = [
        _on_a_day(name, looks[name, look_id], is_planned, sorted(entries))
        for (name, look_id, is_planned, _), entries in found.items()
    ]
    return sorted(dates, key=lambda each: (each.aim_at, each.test, each.look.id))


def _far_looks_of(test: Test, protocol: Protocol) -> tuple[Look, ...]:
    """Those that are in no plan: what is laid and lifted has all of its looks there."""
    listed = protocol.looks_of(test)
    return () if is_laid_and_lifted(test, listed) else far_looks(listed)


def _on_a_day(test: str, look: Look, is_planned: bool, entries: list[tuple[datetime, str]]) -> FarLook:
    slack = timedelta(minutes=look.give_or_take_min)
    return FarLook(
        test=test,
        look=look,
        panels=tuple(sorted(panel for _, panel in entries)),
        opens_at=entries[-1][0] - slack,
        aim_at=entries[0][0],
        closes_at=entries[0][0] + slack,
        is_planned=is_planned,
    )
