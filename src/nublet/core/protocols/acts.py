"""Acts: what is done in a test, one after the other.

What each kind is called, whether it touches the wood and what it takes up stands in :data:`ACT_KINDS`: a new kind is one entry
there.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from nublet.core.plain import Longest, Span
from nublet.core.protocols.agents import MAX_DURATION_MIN, Nature
from nublet.core.protocols.sites import Grain

ActKind = Literal[
    "lay", "drop", "spread", "stroke", "press", "cycle", "immerse", "stand", "put-out", "take-in", "lift", "damage", "abrade",
    "mend", "wait", "weigh", "measure",
]  # fmt: skip
# What a test takes up at the bench for as long as it lasts.
Equipment = Literal["heat_block", "iron", "tray", "outdoor_place"]
EQUIPMENT_WORDS: dict[Equipment, str] = {
    "heat_block": "Hot block",
    "iron": "Iron",
    "tray": "Soak tray",
    "outdoor_place": "Place outdoors",
}
# How far from its time an act may be when nobody has said: 3 % either way, from half a minute to 20 min.
_SHARE, _LEAST_MIN, _MOST_MIN = 0.03, 0.5, 20.0
# What follows at once is done within this.
AT_ONCE_MIN = 10.0
MAX_CYCLES = 150


@dataclass(frozen=True, kw_only=True)
class ActDeclared:
    """What there is to know of a kind of act.

    Attributes
    ----------
    words : str
        On buttons and cards.
    touches : bool
        Whether it changes the surface: a whole panel or a part on which something touches is used up.
    begins : bool
        Whether it begins something that lasts until another act ends it.
    ends : tuple of ActKind
        Of which earlier act it needs one.
    minutes : float
        Hands-on, at one site, where nobody has said otherwise.
    """

    words: str
    touches: bool
    begins: bool = False
    ends: tuple[ActKind, ...] = ()
    minutes: float = 0.75


ACT_KINDS: dict[ActKind, ActDeclared] = {
    "lay": ActDeclared(words="Lay", touches=True, begins=True),
    "drop": ActDeclared(words="Drop", touches=True, begins=True, minutes=0.5),
    "spread": ActDeclared(words="Spread a film", touches=True, begins=True, minutes=1.5),
    "stroke": ActDeclared(words="Stroke", touches=True, minutes=1.0),
    "press": ActDeclared(words="Press", touches=True, minutes=0.5),
    "cycle": ActDeclared(words="Wet and dry in turns", touches=True, minutes=0.25),
    "immerse": ActDeclared(words="Immerse", touches=True, begins=True, minutes=0.5),
    "stand": ActDeclared(words="Stand in water", touches=True, begins=True, minutes=0.5),
    "put-out": ActDeclared(words="Put out", touches=True, begins=True, minutes=1.0),
    "take-in": ActDeclared(words="Take in", touches=False, ends=("put-out",), minutes=1.0),
    "lift": ActDeclared(
        words="Lift and wipe", touches=False, ends=("lay", "drop", "immerse", "stand", "press"), minutes=0.75
    ),
    "damage": ActDeclared(words="Damage", touches=True, minutes=0.5),
    "abrade": ActDeclared(words="Abrade", touches=True, minutes=1.0),
    "mend": ActDeclared(words="Mend", touches=True, ends=("damage", "stroke", "lay", "press"), minutes=2.0),
    "wait": ActDeclared(words="Wait", touches=False, minutes=0.0),
    "weigh": ActDeclared(words="Weigh", touches=False, minutes=0.5),
    "measure": ActDeclared(words="Measure", touches=False, minutes=0.5),
}


@dataclass(frozen=True, kw_only=True)
class Act:
    """One thing that is done.

    Attributes
    ----------
    id : str
        Within its test; a look may name the act that it comes after.
    kind : ActKind
    agent, amount : str
        What touches the wood, and how much of it in bench words.
    covered : bool
        Whether a cover keeps a liquid from drying out.
    temperature_c : float or None
        At contact, °C, where it is part of the test.
    how : str
        The way of wiping, the tool, what is damaged how deep: in bench words.
    lasts_min : float
        How long it goes on before the next act, minutes: contact, drying, cure.
    then_min : (float, float or None) or None
        Least and most minutes from its end to the next act's start, where the usual tolerance of ``lasts_min`` is not meant;
        ``None`` for most is no end.
    minutes : float or None
        Hands-on, at one site; by default that of its kind.
    mass_g, strokes : float, int
        Of a stroke, and how often.
    grain : Grain
        Which way a stroke goes.
    cycles, wet_min, dry_min : int, float, float
        Of a cycle: how often, and for how long each time.
    occupies : frozenset of Equipment
        What it takes up until the next act.
    natures : frozenset of Nature
        What it must be kept from, beside what its agent's name tells.
    by_family : bool
        Whether it is done, and waited for, in the way of the build-up's own family: a mend and its cure.
    """

    id: Annotated[str, Longest(60)]
    kind: ActKind
    agent: Annotated[str, Longest(120)] = ""
    amount: Annotated[str, Longest(400)] = ""
    covered: bool = False
    temperature_c: Annotated[float | None, Span(-40, 400, "°C")] = None
    how: Annotated[str, Longest(400)] = ""
    lasts_min: Annotated[float, Span(0, MAX_DURATION_MIN, "min")] = 0.0
    then_min: tuple[float, float | None] | None = None
    minutes: Annotated[float | None, Span(0, 480, "min")] = None
    mass_g: Annotated[float, Span(0, 100_000, "g")] = 0.0
    strokes: Annotated[int, Span(0, 100_000, "")] = 0
    grain: Grain = "along"
    cycles: Annotated[int, Span(0, MAX_CYCLES, "")] = 0
    wet_min: Annotated[float, Span(0, MAX_DURATION_MIN, "min")] = 0.0
    dry_min: Annotated[float, Span(0, MAX_DURATION_MIN, "min")] = 0.0
    occupies: frozenset[Equipment] = frozenset()
    natures: frozenset[Nature] = frozenset()
    by_family: bool = False

    @property
    def declared(self) -> ActDeclared:
        """What there is to know of its kind."""
        return ACT_KINDS[self.kind]

    @property
    def is_hot(self) -> bool:
        """Whether it burns, and sets vapour alight."""
        return "hot" in self.natures

    @property
    def hands_min(self) -> float:
        """Hands-on minutes at one site; of a cycle each time."""
        return self.declared.minutes if self.minutes is None else self.minutes

    @property
    def window_min(self) -> tuple[float, float | None]:
        """Least and most minutes from its end to the next act's start.

        Examples
        --------
        >>> Act(id="lay", kind="lay", lasts_min=360).window_min
        (349.2, 370.8)
        >>> Act(id="lift", kind="lift").window_min
        (0.0, 10.0)
        """
        if self.then_min is not None:
            return self.then_min
        if self.lasts_min <= 0:
            return 0.0, AT_ONCE_MIN
        tolerance = duration_tolerance_min(self.lasts_min)
        return max(0.0, round(self.lasts_min - tolerance, 3)), round(self.lasts_min + tolerance, 3)

    @property
    def whole_min(self) -> float:
        """From its start until the next act may begin, hands aside, minutes: all turns of a cycle."""
        turns = self.cycles * (self.wet_min + self.dry_min)
        return turns + (self.then_min[0] if self.then_min is not None else self.lasts_min)


def duration_tolerance_min(minutes: float) -> float:
    """How far from its duration a contact may be ended, either way: 3 %, from half a minute to 20 min; never more than half of it.

    Examples
    --------
    >>> duration_tolerance_min(2), duration_tolerance_min(360), duration_tolerance_min(1440)
    (0.5, 10.8, 20.0)
    >>> duration_tolerance_min(0.2)
    0.1
    """
    return min(_MOST_MIN, max(min(_LEAST_MIN, minutes / 2), round(_SHARE * minutes, 2)))
