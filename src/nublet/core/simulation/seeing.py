"""What would be read of an invented panel: each scale and measure from the condition of its surface and the family's ways.

One function a response: it takes the moment and answers a value on that response's own scale, before the judge's rounding.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from nublet.core.materials.families import Family
from nublet.core.protocols.looks import COATED, Look
from nublet.core.protocols.response import Response
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.tests import Test
from nublet.core.simulation.standing_up import against_water, challenge_of, family_of

_MONTH_MIN = 43_830.0
_WOODS = {
    "beech": (74.0, 6.5, 19.0),
    "sycamore": (82.0, 3.5, 16.0),
    "elm": (66.0, 7.0, 21.0),
    "larch": (72.0, 9.5, 26.0),
}
_SEAT_GLOSS = {"in": 9.0, "top": 16.0, "on": 42.0}
_SEAT_PENCIL = {"in": 5.0, "top": 3.0, "on": 9.0}
_REPAIR = {"wipe-on": 3.6, "melts-in": 3.2, "sand-and-recoat": 2.3, "strip": 1.5}
_SMELLS = {"none": 0.5, "water": 0.4, "alcohol": 0.9, "spirit": 1.5, "strong-solvent": 2.0}
_MARKS = {
    "water": (4, 5, 7), "alcohol": (2, 6), "acid": (1,), "dye": (1,), "wet-heat": (2, 7), "dry-heat": (2, 3), "alkali": (1, 6),
    "oil": (1,), "solvent": (6, 2), "wear": (2,), "weather": (1, 5),
}  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class Moment:
    """One test on one invented panel at one look.

    ``condition`` is that of its surface, panel's and spot's own chance among it; ``untouched`` before anything was done.
    """

    family: str | None
    species: str
    test: Test
    look: Look
    condition: float
    panel_shift: float
    rng: np.random.Generator

    @property
    def kin(self) -> Family | None:
        """The family, ``None`` for bare wood."""
        return family_of(self.family)

    @property
    def is_before(self) -> bool:
        """Whether nothing has been done yet."""
        return self.look.is_before

    @property
    def damage(self) -> float:
        """How far from untouched, in grades."""
        return 0.0 if self.is_before or not self.test.acts else max(0.0, 5.0 - self.condition)

    @property
    def months_out(self) -> float:
        """Months of weather so far."""
        return (
            self.look.after_min / _MONTH_MIN if self.test.group == "outdoors" and not self.is_before else 0.0
        )


def _touch(at: Moment) -> float:
    rough = {"in": 0.5, "top": 0.3, "on": 0.2}[at.kin.seat] if at.kin else 1.0
    return rough + 0.6 * at.damage - 0.3 * at.panel_shift


def _kinds(at: Moment) -> float:
    if at.damage < 0.6:
        return 0.0
    first, *others = _MARKS[challenge_of(at.test)]
    seen = {first} | {kind for kind in others if at.rng.random() < 0.25 * at.damage}
    return float(sum(2 ** (kind - 1) for kind in seen))


def _faults(at: Moment) -> float:
    likely = 0.0 if at.kin is None else {"in": 0.04, "top": 0.08, "on": 0.12}[at.kin.seat]
    return float(sum(2**kind for kind in range(8) if at.rng.random() < likely))


def _bead(at: Moment) -> float:
    return (
        3.3
        - 0.75 * (4.9 - against_water(at.family))
        - 0.01 * min(at.look.after_min, 60)
        + at.panel_shift * 0.4
    )


def _soak_in(at: Moment) -> float:
    return float(10 ** (0.55 * (against_water(at.family) - 1.6) - 0.2 + 0.3 * at.panel_shift))


def _stage(at: Moment) -> float:
    kin = at.kin
    if kin is None or kin.sets == "never":
        return 0.0
    touch_dry = (
        max(0.2, 0.5 * kin.usual.recoat_h[0])
        * 60
        * (1.5 if any(act.kind == "drop" for act in at.test.acts) else 1.0)
        * 10 ** (0.3 * at.panel_shift)
    )
    passed = [0.3 * touch_dry, touch_dry, 3 * touch_dry, max(4 * touch_dry, kin.usual.cure_d * 1440)]
    return float(sum(at.look.after_min >= minutes for minutes in passed))


def _smell(at: Moment) -> float:
    strong = 0.1 if at.kin is None else _SMELLS[at.kin.carrier]
    return strong * math.exp(-at.look.after_min / 1440) + 0.3 * at.panel_shift


def _repair(at: Moment) -> float:
    return (1.6 if at.kin is None else _REPAIR[at.kin.repair]) + 0.6 * at.panel_shift


def _weeps(at: Moment) -> float:
    soaks = at.kin is not None and at.kin.seat == "in" and at.kin.sets in ("never", "oxidation")
    days = max(0.5, at.look.after_min / 1440) if at.look.after == COATED else 1.0
    return _chance(at, (0.6 if soaks else 0.02) / days)


def _out_of_doors(lasts_months: dict[str, float]) -> Callable[[Moment], float]:
    """Yes or no, the likelier the longer it has been out."""

    def seen(at: Moment) -> float:
        seat = "bare" if at.kin is None else at.kin.seat
        half = lasts_months[seat]
        return (
            _chance(at, 1 / (1 + math.exp(-(at.months_out - half) / (0.2 * half)))) if at.months_out else 0.0
        )

    return seen


def _chance(at: Moment, likely: float) -> float:
    return float(at.rng.random() < likely)


def _gloss_at(factor: float) -> Callable[[Moment], float]:
    def seen(at: Moment) -> float:
        base = 5.0 if at.kin is None else _SEAT_GLOSS[at.kin.seat]
        kept = max(0.15, 1 - 0.12 * at.damage - 0.02 * at.months_out)
        return max(0.3, factor * base * kept * 10 ** (0.08 * at.panel_shift))

    return seen


def _sheen(at: Moment) -> float:
    gloss = _gloss_at(1.0)(at)
    return 1 + sum(gloss >= edge for edge in (5, 15, 40, 70))


def _lab(at: Moment) -> tuple[float, float, float]:
    light, red, yellow = _WOODS.get(at.species, (72.0, 7.0, 20.0))
    light, red, yellow = light + 2 * at.panel_shift, red + 0.5 * at.panel_shift, yellow + at.panel_shift
    if at.kin is not None and at.look.after != "bare":
        depth = {"in": 9.0, "top": 3.0, "on": 6.0}[at.kin.seat]
        light, red, yellow = light - depth, red + 0.2 * depth, yellow + 0.5 * depth
    dark = at.damage * (1.5 if challenge_of(at.test) in ("acid", "dye", "alkali") else 0.5)
    grey = min(1.0, at.months_out / (24 if at.kin is None else 48))
    light = light - dark - 10 * grey
    return light, red * (1 - 0.8 * grey), yellow * (1 - 0.7 * grey)


def _weight(at: Moment) -> float:
    wetted = sum(act.lasts_min for act in at.test.acts[: _acts_done(at)] if act.kind == "lay")
    taken = 10 ** (1.2 + 0.45 * (5 - against_water(at.family)) - 0.3 * at.panel_shift) * math.sqrt(
        wetted / 60
    )
    area = math.pi * (at.test.site.wetted_mm / 2000) ** 2
    return 400 + 20 * at.panel_shift + (0 if at.is_before else taken * area)


def _acts_done(at: Moment) -> int:
    ids = [act.id for act in at.test.acts]
    return ids.index(at.look.after) + 1 if at.look.after in ids else len(ids)


def _sticks(at: Moment) -> float:
    soft = at.kin is not None and at.kin.sets in ("evaporation", "coalescence")
    return _chance(at, 0.4 if soft else 0.03)


def _evenness(at: Moment) -> float:
    even = 4.0 if at.kin is None else {"in": 4.3, "top": 3.9, "on": 3.7}[at.kin.seat]
    return even + at.panel_shift - 0.2 * at.damage


def _looks(at: Moment) -> float:
    return (2.8 if at.kin is None else 4.0) + at.panel_shift - 0.5 * at.damage - 0.05 * at.months_out


def _went_on(at: Moment) -> float:
    ease = 4.5 if at.kin is None else {"in": 4.4, "top": 3.8, "on": 3.2}[at.kin.seat]
    return ease + 0.5 * at.panel_shift


SEEN: dict[str, Callable[[Moment], float]] = {
    "grade": lambda at: at.condition if not at.is_before else 5.0,
    "change-kinds": _kinds,
    "application-faults": _faults,
    "went-on": _went_on,
    "touch": _touch,
    "evenness": _evenness,
    "looks": _looks,
    "sheen-seen": _sheen,
    "drying-stage": _stage,
    "smell": _smell,
    "bead": _bead,
    "repair-seen": _repair,
    "peels": _out_of_doors({"bare": 1e9, "in": 1e9, "top": 60.0, "on": 20.0}),
    "cracks": _out_of_doors({"bare": 14.0, "in": 30.0, "top": 40.0, "on": 22.0}),
    "mildew": _out_of_doors({"bare": 8.0, "in": 10.0, "top": 26.0, "on": 36.0}),
    "wants-coat": _out_of_doors({"bare": 4.0, "in": 9.0, "top": 20.0, "on": 24.0}),
    "weeps-back": _weeps,
    "sticks": _sticks,
    "rub-off": lambda at: (1.6 if at.kin is None else 0.5) - 0.4 * at.panel_shift,
    "preferred": _looks,
    "pencil": lambda at: (2.0 if at.kin is None else _SEAT_PENCIL[at.kin.seat]) + at.panel_shift,
    "colour-l": lambda at: _lab(at)[0],
    "colour-a": lambda at: _lab(at)[1],
    "colour-b": lambda at: _lab(at)[2],
    "gloss-20": _gloss_at(0.4),
    "gloss-60": _gloss_at(1.0),
    "gloss-85": _gloss_at(1.3),
    "weight": _weight,
    "soak-in": _soak_in,
    "moisture": lambda at: 9.0 + 0.5 * at.panel_shift + at.damage,
    "thickness": lambda at: (0.0 if at.kin is None else {"in": 5.0, "top": 10.0, "on": 60.0}[at.kin.seat]) * 10 ** (0.1 * at.panel_shift),
    "roughness": lambda at: 3.0 + at.damage + 0.3 * at.panel_shift,
}  # fmt: skip
# What hands and instruments scatter by, where it is not the judges' own noise; of what is counted or told yes or no nothing.
NOISE: dict[str, float] = {
    "colour-l": 0.25, "colour-a": 0.1, "colour-b": 0.2, "gloss-20": 0.3, "gloss-60": 0.4, "gloss-85": 0.5, "weight": 0.004,
    "soak-in": 0.2, "moisture": 0.2, "thickness": 1.0, "roughness": 0.1,
}  # fmt: skip


def seen_of(response: Response, at: Moment) -> float:
    """What is there to be read, on the response's own scale, before anybody's noise.

    A response that the model has no words for goes from its better end to its worse one as the surface is harmed.
    """
    known = SEEN.get(response.id)
    if known is not None:
        return known(at)
    if response.form == "kinds":
        return float(at.damage >= 0.6)
    low, high = response.unlikely or response.ends or (0.0, 1.0)
    best, worst = (low, high) if response.better == "low" else (high, low)
    harm = min(1.0, max(0.0, 0.1 + 0.2 * at.damage - 0.1 * at.panel_shift))
    return best + (worst - best) * harm


def noise_of(response: Response) -> float:
    """The SD that hands and instruments scatter by; an instrument that is not listed by what it can tell."""
    return NOISE.get(response.id, response.resolution or 0.0)


def plausible(response_id: str, value: float) -> float:
    """A value as it would be written down: on the scale's steps, within what can be."""
    response = RESPONSES[response_id]
    low, high = response.ends or (-math.inf, math.inf)
    if response.form in ("scale", "kinds"):
        value = float(np.rint(value))
    return response.rounded(float(np.clip(value, low, high)))
