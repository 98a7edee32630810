"""A plan's due times as a calendar (iCalendar, RFC 5545), for whatever keeps people's days."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable
from datetime import UTC, date, datetime, timedelta

from icalendar import Alarm, Calendar, Event

from nublet.core.planning.calendar import moment_at
from nublet.core.planning.plan import Operation, Plan

_WARN_BEFORE = timedelta(minutes=5)
VERBS = {
    "work": "Do", "abrade": "Abrade", "weigh": "Weigh", "coat": "Coat", "wipe": "Wipe off", "lay": "Lay", "lift": "Lift", "act": "Do",
    "look": "Look at",
}  # fmt: skip


def plan_to_calendar(
    plan: Plan,
    *,
    name: str,
    made_at: datetime,
    person: int | None = None,
    say: Callable[[Operation], str] | None = None,
    dates: Iterable[tuple[date, str]] = (),
) -> bytes:
    """The operations as events, each with a reminder five minutes before.

    Parameters
    ----------
    plan : Plan
        Without a zone its times float: they are the reader's own.
    name : str
        Of the calendar.
    made_at : datetime
        With a zone.
    person : int or None
        Only this pair of hands, from 0; ``None`` for all.
    say : callable or None
        An event's title; by default verb, step and panels, and no build-up where steps name none.
    dates : iterable of (date, str)
        Whole days with a title each: looks months away.

    Notes
    -----
    An event's identity is made of what is done to which panels, so that a new plan of the same work moves the events of the
    old one instead of adding to them.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Nublet//Bench days//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for operation in plan.operations:
        if person is None or operation.person == person:
            calendar.add_component(_event(plan, operation, name, made_at, say or say_operation))
    for day, title in dates:
        event = Event()
        event.add("summary", title)
        event.add("uid", f"{hashlib.sha256(f'{name}|{title}'.encode()).hexdigest()[:32]}@nublet")
        event.add("dtstamp", made_at.astimezone(UTC))
        event.add("dtstart", day)
        calendar.add_component(event)
    return bytes(calendar.to_ical())


def say_operation(operation: Operation) -> str:
    """An operation in a line."""
    look = (
        ""
        if operation.look_after_min is None
        else f", {operation.look_after_min:g} min after {operation.act or 'lifting'}"
    )
    act = f", {operation.act}" if operation.kind == "act" else ""
    return f"{VERBS[operation.kind]} {operation.item}{act}{look}: {', '.join(panel.panel for panel in operation.panels)}"


def _event(
    plan: Plan, operation: Operation, name: str, made_at: datetime, say: Callable[[Operation], str]
) -> Event:
    event = Event()
    title = say(operation)
    event.add("summary", title)
    event.add("uid", f"{_identity(name, operation)}@nublet")
    event.add("dtstamp", made_at.astimezone(UTC))
    event.add("dtstart", _shown(moment_at(plan.spec.start, operation.start_s)))
    event.add("dtend", _shown(moment_at(plan.spec.start, operation.end_s)))
    event.add("description", plan.spec.people[operation.person].name)
    alarm = Alarm()
    alarm.add("action", "DISPLAY")
    alarm.add("description", title)
    alarm.add("trigger", -_WARN_BEFORE)
    event.add_component(alarm)
    return event


def _shown(moment: datetime) -> datetime:
    return moment if moment.tzinfo is None else moment.astimezone(UTC)


def _identity(name: str, operation: Operation) -> str:
    panels = ",".join(panel.panel for panel in operation.panels)
    parts = [
        name,
        operation.board or operation.group,
        operation.item,
        operation.kind,
        str(operation.look_after_min),
        panels,
    ]
    parts += [operation.act] if operation.act else []
    return hashlib.sha256("\n".join(parts).encode()).hexdigest()[:32]
