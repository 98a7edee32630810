"""The demo's practice and photographs: drills of three readers who are not alike, and pictures that no camera took."""

from __future__ import annotations

import io
import uuid
from datetime import datetime, timedelta

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

from nublet.core.protocols.responses import RESPONSES
from nublet.web.people.models import Person
from nublet.web.photographs.actions import PhotographEntry, take_photograph
from nublet.web.practice.actions import answer_mark, begin_drill, show_practice
from nublet.web.practice.selectors import marks_of
from nublet.web.readings.models import Reading
from nublet.web.trials.models import Trial

_N_MARKS = 20
# By how much each leans and errs, in steps of a grade, drill after drill: practice helps.
_READERS = ((0.0, (0.5, 0.4, 0.3)), (-0.4, (0.8, 0.6, 0.5)), (0.5, (0.7, 0.6, 0.35)))
_TEST = "coffee-1h"
_SIZE = (960, 600)


def load_practice(judges: list[Person], *, seed: int, now: datetime) -> None:
    """Three drills of grades for each, on three days before this one; the last of them lets the evidence tell."""
    rng = np.random.default_rng(seed)
    steps = [step.value for step in RESPONSES["grade"].steps]
    for number, (judge, (lean, errors)) in enumerate(zip(judges, _READERS, strict=True)):
        for turn, error in enumerate(errors):
            at = now - timedelta(days=9 - 3 * turn, hours=number)
            drill = begin_drill(
                judge, response="grade", n_marks=_N_MARKS, seed=seed + 10 * number + turn, at=at
            )
            for nth, (value, _) in enumerate(marks_of(drill)):
                seen = value + rng.normal(lean, error)
                read = min(steps, key=lambda step: abs(step - seen))
                answer_mark(judge, drill.pk, nth=nth, value=read, at=at + timedelta(seconds=12 * (nth + 1)))
    show_practice(judges[-1], shows=True)


def load_photographs(judge: Person, trial: Trial, *, seed: int) -> None:
    """What the first board's panels showed of one test at both looks, as that judge read it."""
    board = trial.boards.order_by("pk")[0]
    rows = (
        Reading.objects.filter(
            judge=judge, spot__panel__board=board, spot__exposure=_TEST, response="grade", view__in=["", "square-on"], turn=0
        )
        .select_related("spot__panel")
        .order_by("spot__panel__code", "look", "pk")
    )  # fmt: skip
    seen = set()
    for row in rows:
        key = row.spot_id, row.look
        if row.value is None or key in seen:
            continue
        seen.add(key)
        name = f"{row.spot.panel.code} {row.spot.place} {row.look}"
        picture = _photograph(float(row.value), figure=seed + row.spot_id % 997)
        take_photograph(
            judge,
            trial.pk,
            PhotographEntry(
                client_id=uuid.uuid5(uuid.NAMESPACE_OID, f"{seed} {name}"),
                panel=row.spot.panel.code,
                exposure=_TEST,
                place=row.spot.place,
                look=row.look,
                at=row.seen_at,
            ),
            lambda picture=picture: picture,  # type: ignore[misc]
        )


def _photograph(grade: float, *, figure: int) -> bytes:
    """A ring on wood, the darker the lower its grade, with what it is written on it."""
    rng = np.random.default_rng(figure)
    width, height = _SIZE
    lines = rng.normal(0, 1, (height, 1)) * 9 + rng.normal(0, 1, (height, width)) * 5
    ground = np.clip(np.array([212, 176, 132]) + lines[:, :, None], 0, 255).astype(np.uint8)
    wood = Image.fromarray(ground, "RGB").filter(ImageFilter.GaussianBlur(1.2))
    strength = int(255 * min(0.62, 0.16 * (5 - grade)))
    ring = Image.new("L", _SIZE, 0)
    draw = ImageDraw.Draw(ring)
    at, reach = (width * 0.5, height * 0.5), 190
    draw.ellipse([at[0] - reach, at[1] - reach, at[0] + reach, at[1] + reach], fill=strength // 3)
    draw.ellipse([at[0] - reach, at[1] - reach, at[0] + reach, at[1] + reach], outline=strength, width=16)
    wood.paste((70, 42, 24), mask=ring.filter(ImageFilter.GaussianBlur(3)))
    ImageDraw.Draw(wood).text(
        (20, height - 40), "simulated: no camera took this", fill=(60, 50, 40), font_size=22
    )
    out = io.BytesIO()
    wood.save(out, "JPEG", quality=88)
    return out.getvalue()
