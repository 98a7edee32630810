"""What is read at a look: scales and measures, each declared once.

Whoever enters, keeps, weighs, ranks or writes a reading asks its declaration here; nothing else knows where a scale ends, which
end is better, or what its steps are called.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from nublet.core.errors import ReadingsError

Better = Literal["high", "low"]

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
    passes_from : float or None
        From here on towards the better end it is a pass. What is untreated should not reach it.
    unmarked_from, ruined_to : float or None
        A test in which every panel is at least this good is too mild, one in which every panel is at most this good too harsh.
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
    alone_by: float | None = None

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
        named = {step.value: f" ({step.words.lower()})" for step in self.steps}
        low, high = self.ends
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
                    f"{prefix}{self.noun} {value:g} is not on the scale. {self.say_range()}",
                    field=field or self.noun,
                )
        elif not math.isfinite(value) or abs(value) > LARGEST_VALUE or 0 < abs(value) < SMALLEST_VALUE:
            raise ReadingsError(
                f"{prefix}{value:g} is too large or too small to compute with. Give values between "
                f"{SMALLEST_VALUE:g} and {LARGEST_VALUE:g}, in a unit that suits them.",
                field=field or self.noun,
            )
        return float(value)


GRADE = Response(
    id="grade",
    name="Grade",
    noun="grade",
    better="high",
    lowest=1,
    highest=5,
    step=1,
    decimals=2,
    passes_from=4,
    unmarked_from=4.75,
    ruined_to=1.25,
    alone_by=2,
    steps=(
        ScaleStep(value=5, key="5", words="No change", says="No visible change."),
        ScaleStep(
            value=4,
            key="4",
            words="Only when the light glances",
            says="Slight change, seen only when the light glances off the surface.",
        ),
        ScaleStep(
            value=3,
            key="3",
            words="Slight, several directions",
            says="Slight mark, seen from several directions.",
        ),
        ScaleStep(
            value=2, key="2", words="Strong, surface sound", says="Strong mark, surface otherwise sound."
        ),
        ScaleStep(
            value=1,
            key="1",
            words="Surface altered",
            says="Strong mark and the surface is altered: raised, soft, lifted, torn, or something stuck.",
        ),
    ),
)

RESPONSES: dict[str, Response] = {response.id: response for response in (GRADE,)}

# Numbers of which nothing is declared, from a file: whoever brings them says which end is better.
ANY_MEASURE = Response(id="measure", name="Measure", noun="value")
