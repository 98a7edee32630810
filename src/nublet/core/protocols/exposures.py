"""Exposures, looks and protocols: what is done to a panel, where, and what is read."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from nublet.core.errors import ReadingsError
from nublet.core.plain import Longest, Span
from nublet.core.protocols.agents import MAX_DURATION_MIN, Nature
from nublet.core.protocols.responses import GRADE, RESPONSES, Response
from nublet.core.protocols.sites import Site

MAX_VERSIONS = 30_000
# What a verdict goes by where nobody has said otherwise.
DEFAULT_LOOK = "24h"
# What a test takes up at the bench for as long as it lasts.
Equipment = Literal["heat_block"]


@dataclass(frozen=True, kw_only=True)
class Exposure:
    """One agent put on one site.

    Attributes
    ----------
    id, name, short_name : str
        Stable key, full name, and a label short enough for a spot on the drawing.
    agent : str
        What touches the wood.
    natures : frozenset of Nature
        What it must be kept from: hot things are kept apart on the panel, an acid from bleach.
    site : Site
        Where it happens.
    duration_min : float
        Contact time, minutes.
    covered : bool
        Whether a cover keeps the liquid from drying out.
    temperature_c : float or None
        Temperature at contact, °C, where it is part of the test.
    amount : str
        How much, in bench words.
    occupies : frozenset of Equipment
        What it takes up while it lies.
    reads : tuple of str
        Ids of the responses that are read at each look.
    """

    id: Annotated[str, Longest(60)]
    name: Annotated[str, Longest(120)]
    short_name: Annotated[str, Longest(30)]
    agent: Annotated[str, Longest(120)]
    site: Site
    natures: frozenset[Nature] = frozenset()
    duration_min: Annotated[float, Span(0, MAX_DURATION_MIN, "min")]
    covered: bool = True
    temperature_c: Annotated[float | None, Span(-40, 400, "°C")] = None
    amount: Annotated[str, Longest(400)] = ""
    occupies: frozenset[Equipment] = frozenset()
    reads: tuple[str, ...] = (GRADE.id,)

    @property
    def is_hot(self) -> bool:
        """Whether it burns, and sets vapour alight."""
        return "hot" in self.natures


@dataclass(frozen=True, kw_only=True)
class Look:
    """One reading occasion, ``after_min`` minutes after the spot was lifted and wiped."""

    id: Annotated[str, Longest(30)]
    name: Annotated[str, Longest(60)]
    after_min: Annotated[float, Span(0, MAX_DURATION_MIN, "min")]


@dataclass(frozen=True, kw_only=True)
class Protocol:
    """A named, versioned list of exposures with the looks at which each is graded."""

    id: str
    version: Annotated[int, Span(1, MAX_VERSIONS, "")]
    name: Annotated[str, Longest(120)]
    says: Annotated[str, Longest(2000)]
    exposures: tuple[Exposure, ...]
    looks: tuple[Look, ...]

    @property
    def response(self) -> Response:
        """What all of its exposures read. Raises ``ReadingsError`` when they read more than one response."""
        read = {response for exposure in self.exposures for response in exposure.reads}
        if len(read) != 1:
            raise ReadingsError(
                f"{self.name} is read on {len(read)} scales ({', '.join(sorted(read))}), and tests are weighed on one scale "
                "at a time. Give the tests of each scale a protocol of their own."
            )
        return RESPONSES[read.pop()]

    def exposure(self, exposure_id: str) -> Exposure:
        """Return the exposure with this id. Raises ``KeyError`` when the protocol has none."""
        for exposure in self.exposures:
            if exposure.id == exposure_id:
                return exposure
        raise KeyError(exposure_id)

    def look(self, look_id: str) -> Look:
        """Return the look with this id. Raises ``KeyError`` when the protocol has none."""
        for look in self.looks:
            if look.id == look_id:
                return look
        raise KeyError(look_id)

    def look_meant(self, look_id: str) -> str:
        """Which look an id asks for: :data:`DEFAULT_LOOK`, asked for where nobody has chosen, is whichever verdicts go by."""
        return self.look_for().id if look_id == DEFAULT_LOOK else look_id

    def look_for(self, wanted: str = DEFAULT_LOOK) -> Look:
        """The look with this id; where the protocol has none the one that comes last."""
        last = max(self.looks, key=lambda look: look.after_min)
        return next((look for look in self.looks if look.id == wanted), last)
