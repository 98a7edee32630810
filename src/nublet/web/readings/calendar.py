"""A reader's looks as a calendar: code and time, and nothing that tells which panels belong together."""

from __future__ import annotations

import hashlib
from datetime import UTC, timedelta

from icalendar import Alarm, Calendar, Event

from nublet.web.bench import clock
from nublet.web.people.models import Person
from nublet.web.readings.order import order_of
from nublet.web.readings.tasks import list_judging
from nublet.web.trials.models import Trial

_LASTS = timedelta(minutes=5)
_WARN_BEFORE = timedelta(minutes=2)


def calendar_for(person: Person) -> bytes:
    """The looks that open for a person within two days, one event a panel, as iCalendar (RFC 5545). Queries as of the list.

    Those of one minute stand in the person's own order.
    """
    now = clock.now()
    tasks = list_judging(person)
    trials = Trial.objects.in_bulk({task.trial_id for task in tasks})
    calendar = Calendar()
    calendar.add("prodid", "-//Nublet//Looks//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"Looks of {person.display_name}")
    for task in tasks:
        place = {
            code: number
            for number, code in enumerate(
                order_of([each.code for each in task.coming], trials[task.trial_id], person, task.look.id, 0)
            )
        }
        for each in sorted(task.coming, key=lambda each: (each.aim_at.replace(second=0), place[each.code])):
            title = f"{'Measure' if task.by == 'hands' else 'Look at'} {each.code}, {task.look.name}"
            event = Event()
            event.add("summary", title)
            parts = "\n".join([str(person.pk), str(task.trial_id), task.look.id, task.by, each.code])
            event.add("uid", f"{hashlib.sha256(parts.encode()).hexdigest()[:32]}@nublet")
            event.add("dtstamp", now.astimezone(UTC))
            event.add("dtstart", each.aim_at.astimezone(UTC))
            event.add("dtend", (each.aim_at + _LASTS).astimezone(UTC))
            event.add("description", task.trial_name)
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", title)
            alarm.add("trigger", -_WARN_BEFORE)
            event.add_component(alarm)
            calendar.add_component(event)
    return bytes(calendar.to_ical())
