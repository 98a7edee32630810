"""The plan's due times as a calendar."""

from __future__ import annotations

import time
from datetime import UTC, datetime, timedelta
from typing import Any

from icalendar import Calendar

from nublet.core.planning.plan import Plan, make_plan
from nublet.formats.calendar_ics import plan_to_calendar
from nublet.formats.schedule_json import plan_spec_from_plain
from tests.core.test_planning import SMALL

MADE = datetime(2027, 2, 28, 12, tzinfo=UTC)


def planned(plain: dict[str, Any]) -> Plan:
    plan = make_plan(plan_spec_from_plain(plain), clock=time.monotonic, limit_s=0.2)
    assert isinstance(plan, Plan)
    return plan


def events(plan: Plan, **more: Any) -> list[Any]:
    return list(
        Calendar.from_ical(plan_to_calendar(plan, name="Saloon tables", made_at=MADE, **more)).walk("VEVENT")
    )


def test_each_operation_is_an_event_with_a_reminder() -> None:
    plan = planned(SMALL)
    found = events(plan)
    assert len(found) == len(plan.operations)
    first = found[0]
    assert first["summary"] == "Coat A1: A-1, A-2, A-3, A-4"
    assert first.decoded("dtstart") == datetime(2027, 3, 1, 9)  # noqa: DTZ001  # floating, as the specification
    assert first.decoded("dtend") - first.decoded("dtstart") == timedelta(minutes=6)
    assert first.walk("VALARM")[0].decoded("trigger") == timedelta(minutes=-5)
    assert found[-1]["summary"].startswith("Look at coffee-1h, 20 min after lifting: A-1")


def test_identities_are_unique_and_stay_when_the_work_is_planned_later() -> None:
    plan = planned(SMALL)
    later = planned(SMALL | {"start": "2027-03-08T09:00"})
    assert len({event["uid"] for event in events(plan)}) == len(plan.operations)
    assert {event["uid"] for event in events(plan)} == {event["uid"] for event in events(later)}
    assert events(plan)[0].decoded("dtstart") != events(later)[0].decoded("dtstart")


def test_times_with_a_zone_are_given_in_utc() -> None:
    plan = planned(SMALL | {"start": "2027-03-01T09:00+02:00"})
    assert events(plan)[0].decoded("dtstart") == datetime(2027, 3, 1, 7, tzinfo=UTC)


def test_one_persons_calendar() -> None:
    plan = planned(SMALL | {"people": 2, "groups": [SMALL["groups"][0], SMALL["groups"][0] | {"id": "B"}]})
    own = [events(plan, person=person) for person in (0, 1)]
    assert all(own)
    assert len(own[0]) + len(own[1]) == len(plan.operations)
