"""Which looks are a reader's to read now: nothing is read before it happened."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from nublet.core.bench.look_times import LookTime, check_may_read
from nublet.core.protocols.looks import Look
from nublet.web.bench import clock
from nublet.web.bench.look_times import looks_of_trials
from nublet.web.designs.models import TrialSpot
from nublet.web.trials.models import Trial


def check_seen(trial: Trial, spot: TrialSpot, look_id: str, seen_at: datetime) -> None:
    """Refuse a reading of what had not happened when it was seen, or could no longer be seen. At most six queries.

    Raises
    ------
    ReadingsError
    """
    code = spot.panel.code
    looks = looks_of_trials([trial], codes=[code])[trial.pk]
    test = looks.protocol.test(spot.exposure)
    look = next(each for each in looks.protocol.looks_of(test) if each.id == look_id)
    check_may_read(looks.time(code, test, look, seen_at), where=f"{look.name} of {test.short_name} on {code}")


def times_of(trial: Trial, spots: Iterable[TrialSpot], look_id: str) -> dict[int, LookTime]:
    """When a look falls due on each site. Four queries."""
    now = clock.now()
    looks = looks_of_trials([trial])[trial.pk]
    found = {}
    for spot in spots:
        test = looks.protocol.test(spot.exposure)
        look = next(each for each in looks.protocol.looks_of(test) if each.id == look_id)
        found[spot.pk] = looks.time(spot.panel.code, test, look, now)
    return found


def say_nothing_due(look: Look, times: Iterable[LookTime]) -> str:
    """Why nothing is to be read at a look yet, and from when on."""
    opens = min((time.opens_at for time in times if time.state == "coming" and time.opens_at), default=None)
    if opens is None:
        return (
            f"Nothing is due at the look {look.name!r} yet: what it counts from is not in the log. "
            "It comes to you when it has been done."
        )
    return f"Nothing is due at the look {look.name!r} yet. The first panel is from {opens:%Y-%m-%d %H:%M} UTC on."
