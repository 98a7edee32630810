"""Marks that never were: drawn from a known grade, to practise reading on and to look up what a step looks like.

A picture is a ground and shapes on it. Each shape changes three things of the surface, and what one sees of each hangs on the lamp:
``colour`` from every side, ``gloss`` and ``height`` only when the light glances. So a grade 4 has no colour at all, and a grade 1 is
raised. The browser shades it (``frontend/src/kit/mark/shade.ts``); what is where is said here.

The grades follow the scale's own words (:mod:`nublet.core.protocols.scales`); how strong a picture of each is has been chosen so that
neighbours differ as they do on a panel: by more than a careful eye mistakes, by less than a hasty one sees.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from nublet.core.errors import ReadingsError
from nublet.core.protocols.responses import RESPONSES

Shape = Literal[
    "disc",
    "ring",
    "dots",
    "fibres",
    "streaks",
    "cracks",
    "patches",
    "edge",
    "print",
    "stroke",
    "cloth",
    "drop",
]
Ground = Literal["wood", "glass"]


@dataclass(frozen=True, kw_only=True)
class MarkShape:
    """One shape on a surface.

    Attributes
    ----------
    shape : Shape
    x, y, r : float
        Its middle and reach, in widths of the picture, whose height is 0.625.
    colour : float
        -1 black to 1 white, over what is there.
    gloss : float
        -1 as dull, 1 as shiny as can be, added to the ground's.
    height : float
        How far it stands up, 1 for as much as a raised ring does; below 0 it is sunk.
    figure : int
        A number that what is irregular in it is drawn from.
    """

    shape: Shape
    x: float = 0.5
    y: float = 0.31
    r: float = 0.2
    colour: float = 0.0
    gloss: float = 0.0
    height: float = 0.0
    figure: int = 0


@dataclass(frozen=True, kw_only=True)
class MarkPicture:
    """A surface under a lamp: its ground's own gloss from 0 to 1, the number that its grain is drawn from, and what is on it."""

    ground: Ground
    gloss: float
    figure: int
    shapes: tuple[MarkShape, ...]


def seen_at(picture: MarkPicture, elevation_deg: float) -> float:
    """How strongly the strongest shape stands out under a lamp, 0 for not at all; about 0.05 is what an eye just sees.

    Parameters
    ----------
    picture : MarkPicture
    elevation_deg : float
        Of lamp and eye over the surface: 90 square on, 10 glancing.

    Notes
    -----
    Contrast of a slope under a distant light goes with the cotangent of its elevation (Lambert); the mirror's share of what comes
    back grows towards glancing as (1 - sin)^2, a smooth stand-in for Fresnel's rise.
    """
    sine = math.sin(math.radians(elevation_deg))
    glance = (1 - sine) ** 2
    slope = min(1.0, math.cos(math.radians(elevation_deg)) / max(sine, 0.1) / 4)
    return max(
        (abs(each.colour) + abs(each.gloss) * glance + abs(each.height) * slope for each in picture.shapes),
        default=0.0,
    )


def draw_mark(response_id: str, value: float, *, rng: np.random.Generator) -> MarkPicture:
    """Draw what a step of a scale, or some kinds of change, look like; no two drawings are the same.

    Raises
    ------
    ReadingsError
        If it cannot be drawn, such as a smell, or the value is none of the response's.
    """
    if response_id not in DRAWN:
        raise ReadingsError(
            f"{RESPONSES[response_id].name if response_id in RESPONSES else response_id} cannot be drawn. "
            f"Choose one of: {', '.join(RESPONSES[each].name_within for each in DRAWN)}.",
            field="response",
        )
    RESPONSES[response_id].check(value)
    shapes = _DRAWERS[response_id](value, rng)
    ground: Ground = "glass" if response_id == "drying-stage" else "wood"
    gloss = _sheen(value, rng) if response_id == "sheen-seen" else rng.uniform(0.35, 0.55)
    return MarkPicture(
        ground=ground,
        gloss=round(float(gloss), 3),
        figure=_seed(rng),
        shapes=tuple(shapes),
    )


def true_values(response_id: str) -> tuple[float, ...]:
    """What a drill draws: the steps of a scale; of kinds some that come together and each alone."""
    response = RESPONSES[response_id]
    if response.form != "kinds":
        return tuple(sorted(step.value for step in response.steps))
    alone = [step.value for step in response.steps]
    pairs = [alone[n] + alone[(n + 3) % len(alone)] for n in range(len(alone))]
    return (0.0, *alone, *pairs)


def plan_drill(response_id: str, n_marks: int, *, rng: np.random.Generator) -> list[tuple[float, int]]:
    """Which marks a drill shows: true values about equally often, one in five shown twice and never one after the other.

    Parameters
    ----------
    response_id : str
    n_marks : int
        5 to 60.
    rng : numpy.random.Generator

    Returns
    -------
    list of (float, int)
        The true value, and the number of the drawing: where a number comes again, it is the same drawing.
    """
    if not 5 <= n_marks <= 60:
        raise ReadingsError(f"A drill has 5 to 60 marks, not {n_marks}.", field="n_marks")
    values = true_values(response_id)
    n_again = max(1, n_marks // 5)
    n_drawn = n_marks - n_again
    turns = math.ceil(n_drawn / len(values))
    drawn = [float(values[at]) for _ in range(turns) for at in rng.permutation(len(values))][:n_drawn]
    # The whole range of the scale comes again, not what happens to stand first.
    again = sorted(rng.permutation(n_drawn)[:n_again])
    order = [(value, number) for number, value in enumerate(drawn)]
    for number in again:
        places = [
            place
            for place in range(len(order) + 1)
            if all(order[near][1] != number for near in (place - 1, place) if 0 <= near < len(order))
        ]
        order.insert(int(rng.choice(places)) if places else len(order), (drawn[number], int(number)))
    return order


def _near(rng: np.random.Generator, low: float, high: float) -> float:
    return round(float(rng.uniform(low, high)), 3)


def _seed(rng: np.random.Generator) -> int:
    return int(rng.integers(1, 2**31))


def _placed(rng: np.random.Generator) -> dict[str, float]:
    return {"x": _near(rng, 0.4, 0.6), "y": _near(rng, 0.27, 0.36), "r": _near(rng, 0.16, 0.22)}


def _sign(rng: np.random.Generator) -> int:
    return 1 if rng.random() < 0.5 else -1


def _grade(value: float, rng: np.random.Generator) -> list[MarkShape]:
    at, seed = _placed(rng), _seed(rng)
    form: Shape = "ring" if rng.random() < 0.6 else "disc"
    # The bench's words have a step between two grades.
    step = value if float(value).is_integer() else float(rng.choice([math.floor(value), math.ceil(value)]))
    pale = _sign(rng)
    if step >= 5:
        return []
    if step == 4:
        if rng.random() < 0.6:
            return [MarkShape(shape=form, **at, gloss=_sign(rng) * _near(rng, 0.3, 0.5), figure=seed)]
        return [MarkShape(shape="ring", **at, height=_near(rng, 0.2, 0.3), figure=seed)]
    if step == 3:
        return [
            MarkShape(
                shape=form,
                **at,
                colour=pale * _near(rng, 0.1, 0.14),
                gloss=-_near(rng, 0.2, 0.35),
                figure=seed,
            )
        ]
    if step == 2:
        return [
            MarkShape(
                shape=form,
                **at,
                colour=pale * _near(rng, 0.34, 0.46),
                gloss=-_near(rng, 0.3, 0.5),
                figure=seed,
            )
        ]
    altered = rng.choice(["ring", "blister", "fibres", "residue"])
    stain = MarkShape(shape="disc", **at, colour=pale * _near(rng, 0.34, 0.5), gloss=-0.4, figure=seed)
    return [stain, *_ALTERED[str(altered)](at, rng)]


def _raised(at: dict[str, float], rng: np.random.Generator) -> list[MarkShape]:
    return [MarkShape(shape="ring", **at, height=_near(rng, 0.8, 1), figure=_seed(rng))]


def _blister(at: dict[str, float], rng: np.random.Generator) -> list[MarkShape]:
    return [MarkShape(shape="dots", **at, height=_near(rng, 0.8, 1), figure=_seed(rng))]


def _fibres(at: dict[str, float], rng: np.random.Generator) -> list[MarkShape]:
    return [MarkShape(shape="fibres", **at, height=_near(rng, 0.7, 1), figure=_seed(rng))]


def _residue(at: dict[str, float], rng: np.random.Generator) -> list[MarkShape]:
    return [
        MarkShape(
            shape="patches",
            **at,
            colour=_near(rng, 0.25, 0.4),
            height=_near(rng, 0.7, 0.9),
            gloss=-0.5,
            figure=_seed(rng),
        )
    ]


_ALTERED: Mapping[str, Callable[[dict[str, float], np.random.Generator], list[MarkShape]]] = {
    "ring": _raised, "blister": _blister, "fibres": _fibres, "residue": _residue,
}  # fmt: skip
# What each kind of change looks like, by its value.
_CHANGES: Mapping[str, Mapping[str, object]] = {
    "Colour": {"shape": "disc", "colour": -0.3},
    "Gloss": {"shape": "disc", "gloss": -0.6},
    "Blister": {"shape": "dots", "height": 0.9},
    "Swelling": {"shape": "disc", "height": 0.9},
    "Raised grain": {"shape": "fibres", "height": 0.9},
    "Softening": {"shape": "print", "height": -0.8},
    "Ring": {"shape": "ring", "colour": 0.28},
    "Residue": {"shape": "patches", "colour": 0.35, "height": 0.6},
}
_FAULTS: Mapping[str, Mapping[str, object]] = {
    "Streaks": {"shape": "streaks", "gloss": 0.55, "r": 0.5},
    "Lap marks": {"shape": "edge", "colour": -0.16, "gloss": 0.3, "r": 0.1},
    "Brush marks": {"shape": "fibres", "height": 0.5, "r": 0.6},
    "Bubbles": {"shape": "dots", "height": 0.7, "r": 0.35},
    "Runs": {"shape": "stroke", "height": 0.9, "gloss": 0.3, "r": 0.22},
    "Dust nibs": {"shape": "dots", "height": 0.5, "r": 0.45},
    "Blotches": {"shape": "patches", "colour": -0.22, "r": 0.4},
    "Fibres raised": {"shape": "fibres", "height": 0.9, "r": 0.3},
}


def _kinds(response_id: str, looks: Mapping[str, Mapping[str, object]]) -> Callable[..., list[MarkShape]]:
    def draw(value: float, rng: np.random.Generator) -> list[MarkShape]:
        found = []
        for step in RESPONSES[response_id].kinds_in(value):
            own = looks[step.words]
            at: dict[str, object] = {**_placed(rng), **own, "figure": _seed(rng)}
            found.append(MarkShape(**at))  # type: ignore[arg-type]
        return found

    return draw


def _by_step(steps: Mapping[float, tuple[Mapping[str, object], ...]]) -> Callable[..., list[MarkShape]]:
    """A drawer of a scale whose steps look the same each time but for their place and what is irregular."""

    def draw(value: float, rng: np.random.Generator) -> list[MarkShape]:
        return [
            MarkShape(**{**_placed(rng), **each, "figure": _seed(rng)})  # type: ignore[arg-type]
            for each in steps[value]
        ]

    return draw


def _pencil(value: float, rng: np.random.Generator) -> list[MarkShape]:
    """Strokes from the softest at the left to the hardest at the right: from one on they scratch."""
    steps = true_values("pencil")
    return [
        MarkShape(
            shape="stroke",
            x=round(0.06 + 0.88 * n / (len(steps) - 1), 3),
            r=0.16,
            colour=0.0 if step >= value else -0.06,
            height=-_near(rng, 0.7, 0.9) if step >= value else 0.0,
            figure=_seed(rng),
        )
        for n, step in enumerate(steps)
    ]


def _sheen(value: float, rng: np.random.Generator) -> float:
    return {1: 0.02, 2: 0.22, 3: 0.45, 4: 0.7, 5: 0.97}[int(value)] + float(rng.uniform(-0.02, 0.02))


_WHOLE: Mapping[str, object] = {"x": 0.5, "y": 0.31, "r": 0.6}
_FINGER: Mapping[str, object] = {"shape": "print", "x": 0.32, "r": 0.12}
_NAIL: Mapping[str, object] = {"shape": "stroke", "x": 0.7, "r": 0.1}
_DRAWERS: Mapping[str, Callable[..., list[MarkShape]]] = {
    "grade": _grade,
    "change-kinds": _kinds("change-kinds", _CHANGES),
    "application-faults": _kinds("application-faults", _FAULTS),
    "evenness": _by_step(
        {
            5 - n: ({"shape": "patches", **_WHOLE, "gloss": gloss, "colour": colour},)
            for n, (gloss, colour) in enumerate(
                [(0.0, 0.0), (0.25, 0.0), (0.45, -0.06), (0.6, -0.14), (0.8, -0.3)]
            )
        }
    ),
    "sheen-seen": _by_step(dict.fromkeys((1, 2, 3, 4, 5), ())),
    "touch": _by_step(
        {
            0: (),
            1: ({"shape": "fibres", **_WHOLE, "height": 0.25},),
            2: ({"shape": "fibres", **_WHOLE, "height": 0.55},),
            3: ({"shape": "fibres", **_WHOLE, "height": 1.0}, {"shape": "dots", **_WHOLE, "height": 0.5}),
        }
    ),
    "bead": _by_step(
        {
            3: ({"shape": "drop", "height": 1.0, "gloss": 1.0, "colour": -0.16, "r": 0.09},),
            2: ({"shape": "drop", "height": 0.25, "gloss": 0.9, "colour": -0.1, "r": 0.17},),
            1: ({"shape": "disc", "colour": -0.3, "r": 0.2},),
        }
    ),
    "repair-seen": _by_step(
        {
            4: (),
            3: ({"shape": "disc", "gloss": 0.45, "r": 0.22},),
            2: ({"shape": "disc", "gloss": 0.3, "colour": -0.16, "r": 0.22},),
            1: ({"shape": "disc", "colour": -0.35, "r": 0.22}, {"shape": "ring", "height": 0.9, "r": 0.22}),
        }
    ),
    "drying-stage": _by_step(
        {
            0: (
                {**_FINGER, "shape": "streaks", "gloss": -0.7, "colour": 0.2, "height": 0.5},
                {**_NAIL, "height": -1.0},
            ),
            1: ({**_FINGER, "height": 0.9, "gloss": -0.5, "colour": 0.08}, {**_NAIL, "height": -1.0}),
            2: ({**_FINGER, "gloss": -0.3}, {**_NAIL, "height": -0.8}),
            3: ({**_NAIL, "height": -0.3},),
            4: (),
        }
    ),
    "rub-off": _by_step(
        {
            0: ({"shape": "cloth", **_WHOLE},),
            1: ({"shape": "cloth", **_WHOLE, "colour": -0.2},),
            2: ({"shape": "cloth", **_WHOLE, "colour": -0.6},),
        }
    ),
    "peels": _by_step({0: (), 1: ({"shape": "patches", "colour": 0.35, "height": -0.8, "gloss": -0.6},)}),
    "cracks": _by_step({0: (), 1: ({"shape": "cracks", "colour": -0.4, "height": -0.6, "r": 0.4},)}),
    "mildew": _by_step({0: (), 1: ({"shape": "dots", "colour": -0.5, "r": 0.4},)}),
    "weeps-back": _by_step({0: (), 1: ({"shape": "dots", "gloss": 0.9, "height": 0.3, "r": 0.45},)}),
    "pencil": _pencil,
}
DRAWN: tuple[str, ...] = tuple(_DRAWERS)
