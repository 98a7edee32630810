"""What a scale or a measure is: the form of their declarations, which stand in :mod:`nublet.core.protocols.responses`."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Literal

from nublet.core.errors import ReadingsError
from nublet.core.quantities import in_unit, say

Better = Literal["high", "low"]
# A step of several; any of several; one of two that are shown; a number; several numbers taken at once; worked out from what was
# read; known without reading.
Form = Literal["scale", "kinds", "pair", "measure", "group", "derived", "known"]
# What the evidence may do with its values.
Weighing = Literal["means", "ranks", "share", "time", "log-means", "paired", "counted", "known", "parts"]
WEIGHING_WORDS: dict[Weighing, str] = {
    "means": "Means of panels",
    "ranks": "Ranks within boards",
    "share": "Share of panels",
    "time": "Time until it was seen",
    "log-means": "Means of logarithms, told as ratios",
    "paired": "How often it was preferred",
    "counted": "Counted, not scored",
    "known": "Known, not read",
    "parts": "By what is worked out from it",
}

# Beyond these, squares leave what a number can hold.
LARGEST_VALUE = 1e100
SMALLEST_VALUE = 1e-100


@dataclass(frozen=True, kw_only=True)
class ScaleStep:
    """One step of a scale: the key that enters it, ``words`` for that key, ``says`` the full definition."""

    value: float
    key: str
    words: str
    says: str


@dataclass(frozen=True, kw_only=True)
class Response:
    """A scale or a measure.

    Attributes
    ----------
    id, name, noun : str
        Stable key; name; and what one value is called in a sentence.
    unit : str
        Empty for a scale.
    better : "high", "low" or None
        Which end is better; ``None`` when nobody has said.
    steps : tuple of ScaleStep
        The best first; empty for a measure.
    step : float or None
        From one step to the next, which is how finely a scale can be read; ``None`` for a measure.
    lowest, highest : float or None
        Values beyond are refused. A scale's ends are also where its spread is hidden.
    decimals : int
        To how many a value is kept: word scales map onto fractions of a step.
    form : Form
    weighed : tuple of Weighing
        What the evidence may do with it, the usual way first. Only what has ``"means"`` or ``"log-means"`` is ever averaged.
    parts : tuple of str
        Of a group: ids of the measures that are taken at once.
    derived_from : tuple of str
        Of what is derived: ids of what it is worked out from.
    unlikely : (float, float) or None
        What lies outside is asked about once, and kept when it is confirmed.
    resolution : float or None
        How finely a measure's instrument tells.
    n_readings : int
        How many readings make one value.
    instrument : str
        What gives it, in words; empty for eyes and fingers.
    line : (str, str) or None
        Kind of the instrument that can be read for it, and what it is called on that instrument's line.
    may_exceed : bool
        Whether "longer than" can be said of it.
    passes_from : float or None
        From here on towards the better end it is a pass. What is untreated should not reach it.
    unmarked_from, ruined_to : float or None
        A test in which every panel is at least this good is too mild, one in which every panel is at most this good too harsh.
    worth_knowing : float or None
        The smallest difference that is usually worth knowing, in its unit; of what is compared by ratios as a share of one.
    alone_by : float or None
        A panel that lies this far from every one of its siblings stands alone.
    """

    id: str
    name: str
    noun: str
    unit: str = ""
    better: Better | None = None
    steps: tuple[ScaleStep, ...] = ()
    step: float | None = None
    lowest: float | None = None
    highest: float | None = None
    decimals: int = 4
    passes_from: float | None = None
    unmarked_from: float | None = None
    ruined_to: float | None = None
    worth_knowing: float | None = None
    alone_by: float | None = None
    form: Form = "scale"
    weighed: tuple[Weighing, ...] = ("means",)
    parts: tuple[str, ...] = ()
    derived_from: tuple[str, ...] = ()
    unlikely: tuple[float, float] | None = None
    resolution: float | None = None
    n_readings: int = 1
    instrument: str = ""
    line: tuple[str, str] | None = None
    may_exceed: bool = False

    @property
    def is_read(self) -> bool:
        """Whether somebody or something reads it: a protocol may ask for it."""
        return self.form not in ("derived", "known")

    @property
    def weighed_first(self) -> Weighing:
        """How its values are usually weighed; a scale of stages by its steps, whatever time is worked out from them."""
        return next((way for way in self.weighed if way != "time" or self.form != "scale"), self.weighed[0])

    @property
    def is_averaged(self) -> bool:
        """Whether its steps are far enough alike to be averaged, or it is a measure."""
        return bool({"means", "log-means"} & set(self.weighed))

    def kinds_in(self, value: float) -> tuple[ScaleStep, ...]:
        """Which of several kinds a value holds: it is the sum of theirs, 0 for none.

        Examples
        --------
        >>> kinds = Response(id="k", name="Kinds", noun="kinds", form="kinds", steps=(
        ...     ScaleStep(value=1, key="c", words="Colour", says=""), ScaleStep(value=2, key="g", words="Gloss", says="")))
        >>> [step.words for step in kinds.kinds_in(2)]
        ['Gloss']
        """
        return tuple(step for step in self.steps if int(value) & int(step.value))

    def is_unlikely(self, value: float) -> bool:
        """Whether a value that can be is so far out that it is asked about."""
        return self.unlikely is not None and not self.unlikely[0] <= value <= self.unlikely[1]

    @property
    def ends(self) -> tuple[float, float] | None:
        """Lowest and highest, or ``None`` for what does not end."""
        return None if self.lowest is None or self.highest is None else (self.lowest, self.highest)

    @property
    def width(self) -> float | None:
        """From end to end."""
        return None if self.lowest is None or self.highest is None else self.highest - self.lowest

    @property
    def best(self) -> float | None:
        """The better end, where there is one."""
        return self.lowest if self.better == "low" else self.highest

    @property
    def worst(self) -> float | None:
        """The worse end, where there is one."""
        return self.highest if self.better == "low" else self.lowest

    @property
    def name_within(self) -> str:
        """The name as it stands within a sentence: signs such as ΔE00 or L* keep their capitals."""
        return self.name[:1].lower() + self.name[1:]

    @property
    def sign(self) -> int:
        """1 where high is better, -1 where low is: what is multiplied by it is better the higher."""
        return -1 if self.better == "low" else 1

    def reaches(self, value: float, bound: float) -> bool:
        """Whether a value is at least as good as a bound."""
        return self.sign * value >= self.sign * bound

    def rounded(self, value: float) -> float:
        """A value as it is kept."""
        return round(value, self.decimals)

    def say_range(self) -> str:
        """What to give, as a request: "Give a number from 1 (surface altered) to 5 (no change)."."""
        if self.ends is None:
            return f"Give a number{f' in {self.unit}' if self.unit else ''}."
        low, high = self.ends
        if self.form == "kinds":
            return f"Give any of: {', '.join(step.words.lower() for step in self.steps)}."
        if self.form == "measure":
            return say("Give a number from {} to {}.", in_unit(low, self.unit), in_unit(high, self.unit))
        named = {step.value: f" ({step.words.lower()})" for step in self.steps}
        return f"Give a number from {low:g}{named.get(low, '')} to {high:g}{named.get(high, '')}."

    def check(self, value: float, *, field: str = "", where: str = "") -> float:
        """Return the value when it can be.

        Parameters
        ----------
        value : float
        field, where : str
            The input's path, by default the noun; and words such as ``"row 7"`` put in front of the message.

        Raises
        ------
        ReadingsError
            If it is not finite, off the scale, or too large or small to compute with.
        """
        prefix = f"{where}: " if where else ""
        if self.ends is not None:
            if not math.isfinite(value) or not self.ends[0] <= value <= self.ends[1]:
                raise ReadingsError(
                    f"{prefix}{self.noun} {value:g} {'is not on the scale' if self.steps else 'cannot be'}. {self.say_range()}",
                    field=field or self.noun,
                )
        elif not math.isfinite(value) or abs(value) > LARGEST_VALUE or 0 < abs(value) < SMALLEST_VALUE:
            raise ReadingsError(
                f"{prefix}{value:g} is too large or too small to compute with. Give values between "
                f"{SMALLEST_VALUE:g} and {LARGEST_VALUE:g}, in a unit that suits them.",
                field=field or self.noun,
            )
        return float(value)

    def check_all(self, values: Iterable[float], refuse: Callable[[], None]) -> None:
        """Call ``refuse`` if any of many values could be refused by :meth:`check`, so that few are looked at one by one."""
        low, high = self.ends or (-LARGEST_VALUE, LARGEST_VALUE)
        if not all(low <= value <= high for value in values) or self.ends is None:
            refuse()
