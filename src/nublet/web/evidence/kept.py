"""What was worked out is worked out again only when its data changed: the same stamp gives the same bytes.

A stamp is a digest of whatever evidence can depend on: of what is small the content, of what is large and only ever added to
(entries of readings, of the bench log) how many there are and the last. The methods themselves are in it too, by their source, so
that an upgrade tells nobody yesterday's verdict.
"""

from __future__ import annotations

import hashlib
import json
import zlib
from collections.abc import Callable, Mapping
from datetime import datetime
from functools import lru_cache
from importlib.resources import files
from typing import Any

from django.core.cache import cache
from django.db.models import Count, Max, Q, QuerySet

import nublet.core
import nublet.web
from nublet.web.bench import clock
from nublet.web.bench.models import PanelWork, WorkEntry
from nublet.web.designs.models import TrialSpot
from nublet.web.evidence.models import KeptResult
from nublet.web.people.models import AuditEntry, SubjectKind
from nublet.web.practice.models import Drill
from nublet.web.readings.models import ReadingEntry
from nublet.web.trials.models import Trial

MOST_KEPT = 60
_SOURCES = (
    (nublet.core, ("evidence", "ranking", "protocols", "measuring", "bench")),
    (nublet.web, ("evidence", "bench", "readings")),
)


def stamp_of(trial: Trial) -> str:
    """A digest of all that the trial's evidence and ranking depend on. Ten queries, whatever the trial's size."""
    spots = TrialSpot.objects.filter(panel__trial=trial)
    judges = trial.judges.order_by("pk")
    parts: list[Any] = [
        methods(),
        [str(getattr(trial, field.attname)) for field in trial._meta.concrete_fields],
        list(judges.values_list("pk", "display_name", "role")),
        list(trial.build_ups.order_by("pk").values_list("pk", "name", "version", "levels", "sections_out")),
        list(trial.panels.order_by("pk").values_list("pk", "code", "build_up", "board", "spoiled_at")),
        spots.aggregate(n=Count("pk"), last=Max("pk"), out=Count("left_out_at")),
        list(trial.deviations.order_by("pk").values_list("pk", "kind", "says", "withdrawn_at")),
        # Whatever is read, corrected or taken back is an entry; only what is left out changes a reading without one.
        _extent_of_readings(trial),
        _extent(AuditEntry.objects.filter(subject_kind=SubjectKind.TRIAL, subject_id=trial.pk)),
        {**_extent(WorkEntry.objects.filter(trial=trial)), **PanelWork.objects.filter(panel__trial=trial).aggregate(
            works=Count("pk"), ended=Count("ended_at"))},
        # What stands on the shelf, and who wishes what to be known; a change of another trial is none of this one's.
        AuditEntry.objects.filter(~Q(subject_kind=SubjectKind.TRIAL), shop=trial.shop_id).aggregate(last=Max("pk")),
        Drill.objects.filter(person__in=judges).aggregate(n=Count("pk"), done=Max("finished_at")),
    ]  # fmt: skip
    return hashlib.sha256(json.dumps(parts, default=_text, sort_keys=True).encode()).hexdigest()


def _extent(rows: QuerySet[Any]) -> dict[str, Any]:
    """How many there are of what is only ever added to, and the last."""
    return rows.aggregate(n=Count("pk"), last=Max("pk"))


def _extent_of_readings(trial: Trial) -> dict[str, Any]:
    """How many entries make a trial's readings, and the last; counted anew only when one was made anywhere. One query, or two."""
    anywhere = _extent(ReadingEntry.objects.all())
    key = f"readings-{trial.pk}-{anywhere['n']}-{anywhere['last']}"
    own: dict[str, Any] | None = cache.get(key)
    if own is None:
        own = _extent(ReadingEntry.objects.filter(reading__spot__panel__trial=trial))
        cache.set(key, own)
    return own


def _text(value: object) -> str:
    return value.isoformat() if isinstance(value, datetime) else str(value)


@lru_cache(maxsize=1)
def methods() -> str:
    """A digest of the source of everything that weighs."""
    digest = hashlib.sha256()
    for package, rooms in _SOURCES:
        for room in rooms:
            for path in sorted((files(package) / room).glob("**/*.py")):  # type: ignore[attr-defined]
                digest.update(path.name.encode() + path.read_bytes())
    return digest.hexdigest()


def kept_or_made(trial: Trial, asked: Mapping[str, Any], make: Callable[[], bytes]) -> tuple[bytes, str]:
    """Return what was asked for and its stamp: from the store where its data has not changed since, else made and kept.

    Parameters
    ----------
    trial : Trial
    asked : mapping
        What tells one question from another: its kind and its parameters.
    make : callable
        Gives the answer's bytes; what it raises is passed on and nothing is kept.

    Notes
    -----
    One query more than :func:`stamp_of` where it is kept. Two who ask at once may both make it; one of two like answers stays.
    """
    stamp = stamp_of(trial)
    question = hashlib.sha256(json.dumps(asked, sort_keys=True, default=_text).encode()).hexdigest()
    found = (
        KeptResult.objects.filter(trial=trial, asked=question, stamp=stamp)
        .values_list("body", flat=True)
        .first()
    )
    if found is not None:
        return zlib.decompress(found), stamp
    body = make()
    KeptResult.objects.update_or_create(
        trial=trial,
        asked=question,
        defaults={"stamp": stamp, "body": zlib.compress(body, 1), "made_at": clock.now()},
    )
    _forget_oldest(trial)
    return body, stamp


def _forget_oldest(trial: Trial) -> None:
    """Keep the store small: who plays with a ranking's weights asks very many questions once."""
    old = list(
        KeptResult.objects.filter(trial=trial)
        .order_by("-made_at", "-pk")
        .values_list("pk", flat=True)[MOST_KEPT:]
    )
    if old:
        KeptResult.objects.filter(pk__in=old).delete()
