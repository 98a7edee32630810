"""Tests that only look, and those that let light, weather or glass do the work."""

from __future__ import annotations

from nublet.core.protocols.acts import Act
from nublet.core.protocols.looks import COATED, Look, Read, View
from nublet.core.protocols.shipped.building import (
    COLOUR,
    CURED,
    DAY,
    JUST_BEFORE,
    ON_BARE,
    hours_after,
    months_after,
)
from nublet.core.protocols.sites import Site
from nublet.core.protocols.tests import Test

_FACE = Site(kind="panel")
_SLIP = Site(kind="slip")
_SEEN: tuple[View, ...] = ("square-on", "down-the-length")

COLOUR_OF_FINISH = Test(
    id="colour",
    name="Colour against bare wood",
    short_name="Colour",
    group="looks",
    site=_FACE,
    reads=(COLOUR,),
    looks=(ON_BARE, CURED),
    says="L*, a*, b* on the bare wood of each panel and again when it has cured: ΔE00, lighter or darker, yellower or not.",
    modelled_on="ISO/CIE 11664-6 for the difference",
)
SHEEN = Test(
    id="sheen",
    name="Sheen and evenness",
    short_name="Sheen",
    group="looks",
    site=_FACE,
    reads=(
        Read(response="sheen-seen", views=_SEEN),
        Read(response="evenness", views=_SEEN),
        Read(response="gloss-60", by="hands", views=("along", "across")),
    ),
    looks=(CURED,),
    says="How shiny, and how evenly, square on and down the length; with the gloss meter beside it.",
    modelled_on="ISO 2813 for the gloss",
)
FAULTS = Test(
    id="faults",
    name="Faults of application",
    short_name="Faults",
    group="looks",
    site=_FACE,
    reads=(Read(response="application-faults"), Read(response="looks")),
    looks=(CURED,),
    says="Streaks, lap marks, brush marks, bubbles, runs, nibs, blotches, fibres; and how it looks over all.",
    modelled_on="bench practice",
)
WENT_ON = Test(
    id="went-on",
    name="How it went on",
    short_name="Went on",
    group="looks",
    site=_FACE,
    reads=(Read(response="went-on", by="hands"),),
    looks=(Look(id="coated", name="As coated", after_min=0, after=COATED),),
    says="By whoever coated, at once.",
    modelled_on="bench practice",
)
PREFERENCE = Test(
    id="preference",
    name="Preferred of two",
    short_name="Preferred",
    group="looks",
    site=_FACE,
    reads=(Read(response="preferred"),),
    looks=(CURED,),
    says="Two codes side by side, blind: which would you rather have?",
    modelled_on="paired comparison",
)
FEEL = Test(
    id="feel",
    name="Feel",
    short_name="Feel",
    group="looks",
    site=_FACE,
    reads=(Read(response="touch"),),
    looks=(CURED,),
    says="A fingertip over the whole face.",
    modelled_on="bench practice",
)
WEEP_BACK = Test(
    id="weep-back",
    name="Oil that weeps back",
    short_name="Weeps",
    group="drying",
    site=_FACE,
    reads=(Read(response="weeps-back", by="hands"),),
    looks=(
        hours_after(24, COATED), hours_after(48, COATED), hours_after(72, COATED),
    ),
    says="Whether oil stands on the pores again, one, two and three days after the last coat.",
    modelled_on="bench practice",
)  # fmt: skip
LIGHT = Test(
    id="light",
    name="Daylight, half covered, 30 days",
    short_name="Light",
    group="looks",
    site=Site(kind="part", share=0.5),
    acts=(
        Act(id="cover", kind="lay", agent="daylight", amount="behind window glass, half of the face under card", lasts_min=30 * DAY, then_min=(29 * DAY, 35 * DAY)),
        Act(id="lift", kind="lift", how="card taken off"),
    ),
    reads=(COLOUR, Read(response="looks", looks=("light",))),
    looks=(JUST_BEFORE, Look(id="light", name="After 30 days of light", after_min=0, tolerance_min=DAY)),
    says="How far a month of daylight takes the colour; the covered half stays as it was.",
    modelled_on="bench practice",
)  # fmt: skip

_DRYING_LOOKS = tuple(hours_after(hours) for hours in (1, 2, 4, 8, 24, 48, 72, 96, 168))
_DRIES = (Read(response="drying-stage", by="hands"), Read(response="smell", by="hands"))
DRYING_DROP = Test(
    id="drying-drop",
    name="Drying, a drop on glass",
    short_name="Drop",
    group="drying",
    site=_SLIP,
    acts=(Act(id="drop", kind="drop", agent="the finish itself", amount="one drop, 0.05 mL"),),
    reads=_DRIES,
    looks=_DRYING_LOOKS,
    says="A thick drop: how long it stays wet, whether it wrinkles, when it no longer smells.",
    modelled_on="bench practice",
)
DRYING_FILM = Test(
    id="drying-film",
    name="Drying, a thin film on glass",
    short_name="Film",
    group="drying",
    site=_SLIP,
    acts=(Act(id="spread", kind="spread", agent="the finish itself", amount="drawn out with a card"),),
    reads=_DRIES,
    looks=_DRYING_LOOKS,
    says="A film as thin as a coat: wet, tacky, touch-dry, hard, cured.",
    modelled_on="bench practice",
)

_HAPPENS = tuple(Read(response=each) for each in ("peels", "cracks", "mildew", "wants-coat"))


def outdoors(face: str, months: tuple[int, ...] = (3, 6, 12, 24)) -> Test:
    """A panel put out to the weather and looked at over months."""
    where = "facing south, at 45°" if face == "south" else "in the shade, upright"
    return Test(
        id=f"outdoors-{face}",
        name=f"Outdoors, {'south face' if face == 'south' else 'shade'}",
        short_name=f"Out, {face}",
        group="outdoors",
        site=_FACE,
        acts=(
            Act(
                id="out", kind="put-out", agent="weather", amount=where, occupies=frozenset({"outdoor_place"})
            ),
        ),
        reads=(
            Read(response="looks"),
            *(Read(response=read.response, looks=tuple(f"{n}mo" for n in months)) for read in _HAPPENS),
            Read(response="colour", by="hands"),
            Read(response="gloss-60", by="hands", views=("along", "across")),
        ),
        looks=(JUST_BEFORE, *(months_after(n, "out") for n in months)),
        says="Sun, rain and frost: greying, peeling, mildew, and when it wants a new coat.",
        modelled_on="EN 927-3 in idea",
    )


LOOKING = (COLOUR_OF_FINISH, SHEEN, FAULTS, WENT_ON, PREFERENCE, FEEL, WEEP_BACK, LIGHT)
DRYING = (DRYING_DROP, DRYING_FILM)
OUTDOORS = (outdoors("south"), outdoors("shade"))
