"""The measures: what instruments, clocks and scales give, what is worked out from it, and what is known without reading.

Limits are two: beyond ``lowest`` and ``highest`` a value cannot be and is refused; outside ``unlikely`` it is asked about.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from nublet.core.protocols.response import Response

_measure: Callable[..., Response] = partial(Response, form="measure")
_derived: Callable[..., Response] = partial(Response, form="derived")
_known: Callable[..., Response] = partial(Response, form="known", weighed=("known",))

_COLOURIMETER = "colourimeter"
_L = _measure(
    id="colour-l", name="Lightness L*", noun="L*", lowest=0, highest=100, unlikely=(5, 97), resolution=0.01, decimals=2, n_readings=3,
    instrument=_COLOURIMETER, line=("colour", "l"),
)  # fmt: skip
_A = _measure(
    id="colour-a", name="Red and green a*", noun="a*", lowest=-128, highest=128, unlikely=(-15, 40), resolution=0.01, decimals=2,
    n_readings=3, instrument=_COLOURIMETER, line=("colour", "a"),
)  # fmt: skip
_B = _measure(
    id="colour-b", name="Yellow and blue b*", noun="b*", lowest=-128, highest=128, unlikely=(-10, 60), resolution=0.01, decimals=2,
    n_readings=3, instrument=_COLOURIMETER, line=("colour", "b"),
)  # fmt: skip
COLOUR = Response(
    id="colour", name="Colour", noun="colour", form="group", parts=(_L.id, _A.id, _B.id), weighed=("parts",), instrument=_COLOURIMETER
)  # fmt: skip


def _gloss(degrees: int, top: float) -> Response:
    return _measure(
        id=f"gloss-{degrees}",
        name=f"Gloss at {degrees}°",
        noun="gloss",
        unit="GU",
        lowest=0,
        # A mirror gives 2,000 at 20° and 1,000 at 60°; no wood does.
        highest=2000 if degrees == 20 else 1000,
        unlikely=(0, top),
        resolution=0.1,
        decimals=1,
        n_readings=3,
        instrument="gloss meter",
        line=("gloss", f"g{degrees}"),
    )


_GLOSSES = (_gloss(20, 95), _gloss(60, 100), _gloss(85, 105))
WEIGHT = _measure(
    id="weight", name="Weight", noun="weight", unit="g", lowest=0.001, highest=50_000, unlikely=(1, 10_000), resolution=0.01,
    decimals=3, instrument="balance", line=("balance", "g"),
)  # fmt: skip
SOAK_IN = _measure(
    id="soak-in", name="Time to soak in", noun="time", unit="min", better="high", lowest=0, highest=1440, unlikely=(0, 240),
    resolution=0.1, decimals=2, weighed=("time",), may_exceed=True, instrument="clock",
)  # fmt: skip
MOISTURE = _measure(
    id="moisture", name="Moisture", noun="moisture", unit="%", lowest=0, highest=200, unlikely=(4, 30), resolution=0.1, decimals=1,
    n_readings=2, instrument="moisture meter",
)  # fmt: skip
THICKNESS = _measure(
    id="thickness", name="Film thickness", noun="thickness", unit="µm", lowest=0, highest=5000, unlikely=(0, 400), resolution=1,
    decimals=1, n_readings=3, instrument="film gauge",
)  # fmt: skip
ROUGHNESS = _measure(
    id="roughness", name="Roughness Ra", noun="roughness", unit="µm", better="low", lowest=0, highest=500, unlikely=(0.1, 60),
    resolution=0.01, decimals=2, n_readings=3, instrument="roughness gauge",
)  # fmt: skip

_COLOUR_PARTS = COLOUR.parts
DELTA_E00 = _derived(
    id="delta-e00", name="Colour change ΔE00", noun="ΔE00", better="low", lowest=0, highest=200, decimals=3, derived_from=_COLOUR_PARTS
)  # fmt: skip
# What the finish gives or keeps from the wood, at one age of both: the bare panel has darkened too.
DELTA_E00_BARE = _derived(
    id="delta-e00-bare", name="Colour against bare wood ΔE00", noun="ΔE00", lowest=0, highest=200, decimals=3, derived_from=_COLOUR_PARTS
)  # fmt: skip
DELTA_L = _derived(
    id="delta-l", name="Lighter or darker ΔL*", noun="ΔL*", lowest=-100, highest=100, decimals=3, derived_from=("colour-l",)
)  # fmt: skip
DELTA_B = _derived(
    id="delta-b", name="Yellowing Δb*", noun="Δb*", lowest=-256, highest=256, decimals=3, derived_from=("colour-b",)
)  # fmt: skip
HUE = _derived(
    id="hue", name="Hue angle", noun="hue", unit="°", lowest=0, highest=360, decimals=2, derived_from=("colour-a", "colour-b")
)  # fmt: skip


def _retention(gloss: Response) -> Response:
    degrees = gloss.id.removeprefix("gloss-")
    return _derived(
        id=f"{gloss.id}-retention",
        name=f"Gloss kept at {degrees}°",
        noun="gloss kept",
        unit="%",
        lowest=0,
        highest=100_000,
        decimals=1,
        derived_from=(gloss.id,),
    )


RETENTIONS = tuple(_retention(gloss) for gloss in _GLOSSES)
UPTAKE = _derived(
    id="uptake", name="Water uptake", noun="uptake", unit="g/m²", better="low", lowest=0, highest=100_000, unlikely=(0, 3000), decimals=2,
    weighed=("log-means",), derived_from=("weight",),
)  # fmt: skip
HIGHEST_STEP = _derived(
    id="highest-step", name="Highest step passed", noun="step", better="high", lowest=0, highest=60, decimals=0, step=1, weighed=("ranks",),
    derived_from=("grade",),
)  # fmt: skip
MINUTES_TO_TOUCH_DRY = _derived(
    id="minutes-to-touch-dry", name="Time to touch-dry", noun="time", unit="min", better="low", lowest=0, highest=5_300_000,
    weighed=("time",), may_exceed=True, derived_from=("drying-stage",),
)  # fmt: skip
MINUTES_TO_HARD = _derived(
    id="minutes-to-hard", name="Time to hard", noun="time", unit="min", better="low", lowest=0, highest=5_300_000,
    weighed=("time",), may_exceed=True, derived_from=("drying-stage",),
)  # fmt: skip
SHARE_PREFERRED = _derived(
    id="share-preferred", name="Share preferred", noun="share", unit="%", better="high", lowest=0, highest=100, decimals=1,
    weighed=("paired",), derived_from=("preferred",),
)  # fmt: skip

MEASURES = (_L, _A, _B, COLOUR, *_GLOSSES, WEIGHT, SOAK_IN, MOISTURE, THICKNESS, ROUGHNESS)
DERIVED = (
    DELTA_E00, DELTA_E00_BARE, DELTA_L, DELTA_B, HUE, *RETENTIONS, UPTAKE, HIGHEST_STEP, MINUTES_TO_TOUCH_DRY, MINUTES_TO_HARD, SHARE_PREFERRED,
)  # fmt: skip
KNOWN = (
    _known(id="price", name="Price a square metre", noun="price", better="low"),
    _known(id="hands-on-minutes", name="Hands-on time", noun="time", unit="min", better="low"),
    _known(id="days", name="Days to full cure", noun="days", unit="d", better="low"),
    _known(id="minutes-to-apply", name="Time to apply, from the log", noun="time", unit="min", better="low"),
    _known(id="upkeep", name="Upkeep a year", noun="upkeep", unit="min", better="low"),
)
