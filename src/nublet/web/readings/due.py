"""Which looks are a reader's to read now: nothing is read before it happened."""

from __future__ import annotations

from datetime import datetime

from nublet.core.bench.look_times import check_may_read
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
