"""What weighing gives: systems, pairs, levels, cells, one test as a whole."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

from nublet.core.evidence.arrangements import N_ARRANGEMENTS, Arrangements
from nublet.core.evidence.fit import Effect, Fit
from nublet.core.evidence.models.ladders import LadderEvidence
from nublet.core.evidence.models.ranks import FriedmanResult
from nublet.core.evidence.models.times import MedianTime
from nublet.core.evidence.readings import PanelValue
from nublet.core.protocols.responses import GRADE, Better, Response

ALPHA = 0.05

# Means of panels with Tukey's p and the permutation beside it, or ranks by permutation alone.
School = Literal["means", "ranks"]
Verdict = Literal["told apart", "alike", "open"]
# What a system's mean and a pair's difference are: in the response's unit; a ratio of geometric means; how often it stands above
# one drawn from all; a share of panels; a median time; how likely it is preferred to another.
ToldAs = Literal["difference", "ratio", "rank", "share", "time", "preference"]


@dataclass(frozen=True, kw_only=True)
class Rules:
    """By which rules a test is weighed.

    Attributes
    ----------
    response : Response
    school : School
    alpha : float
        Below it a pair is told apart; smaller than 0.05 at the stages of a trial that is looked at several times.
    worth : float or None
        The smallest difference worth knowing, in the response's unit, or as a share of one where it is told as ratios. Without
        one nothing is called alike.
    draws : Arrangements or None
        Where permutations come from; ``None`` for none.
    most_systems : int
        Above it no pairs are listed.
    tabled : frozenset of (k, df)
        Studentized ranges that so many pairs ask for that a table of each pays.
    scores : ToldAs or None
        Of the school of ranks: values are scores already, higher is better, and this is what they stand for.
    """

    response: Response = GRADE
    school: School = "means"
    alpha: float = ALPHA
    worth: float | None = None
    draws: Arrangements | None = field(default_factory=lambda: Arrangements(0, N_ARRANGEMENTS))
    most_systems: int = 10_000
    tabled: frozenset[tuple[int, float]] = frozenset()
    scores: ToldAs | None = None


@dataclass(frozen=True, kw_only=True)
class StepShare:
    """How often one step, or one kind, was read; ``low`` and ``high`` are the exact interval of a yes or no."""

    words: str
    share: float
    low: float | None = None
    high: float | None = None


@dataclass(frozen=True, kw_only=True)
class SystemEvidence:
    """One system in one test. ``se`` and ``ci`` are ``None`` where nothing can carry them; ``mean`` where it is no number.

    ``steps`` are shares of a scale that is not averaged, ``time`` a median that lies between looks.
    """

    system: str
    mean: float | None
    se: float | None
    ci: tuple[float, float] | None
    letters: str
    n_panels: int
    steps: tuple[StepShare, ...] = ()
    time: MedianTime | None = None


@dataclass(frozen=True, kw_only=True)
class PairEvidence:
    """Two compared: ``a`` less (or over) ``b``.

    ``told_apart`` is ``None`` when the data cannot say. ``disagrees`` where Tukey and the permutation do not say the same, so that
    the pair is not told apart. ``is_exact``: the permutation went through all arrangements. ``at`` is the section, or the system,
    at which they were compared.
    """

    a: str
    b: str
    difference: float | None
    se: float | None
    ci: tuple[float, float] | None
    p_tukey: float | None
    told_apart: bool | None
    p_permutation: float | None = None
    is_exact: bool = False
    verdict: Verdict = "open"
    disagrees: bool = False
    at: str = ""


@dataclass(frozen=True, kw_only=True)
class LevelEvidence:
    """The mean at one level of a factor, or on one section, over all that carries it."""

    factor: str
    level: str
    mean: float | None
    se: float | None
    ci: tuple[float, float] | None
    letters: str


@dataclass(frozen=True, kw_only=True)
class FactorEvidence:
    """One factor: its levels, the best first, and their pairs."""

    factor: str
    levels: tuple[LevelEvidence, ...]
    pairs: tuple[PairEvidence, ...]


@dataclass(frozen=True, kw_only=True)
class CellEvidence:
    """One section of one build-up."""

    system: str
    section: str
    mean: float | None
    se: float | None
    ci: tuple[float, float] | None
    n_panels: int


@dataclass(frozen=True, kw_only=True)
class OddCell:
    """The cell of a crossing that breaks the rule most, where its two sides do meet; ``section`` is empty between factors."""

    system: str
    section: str


@dataclass(frozen=True, kw_only=True)
class SedEvidence:
    """Standard errors of differences, root mean squares over the pairs of a kind; ``None`` where there is no spread."""

    systems: float | None
    sections: float | None
    sections_within_system: float | None
    systems_within_section: float | None


@dataclass(frozen=True, kw_only=True)
class SectionsEvidence:
    """A split plot: the sections over all systems, every cell, and the pairs of each kind."""

    sections: FactorEvidence
    cells: tuple[CellEvidence, ...]
    sed: SedEvidence
    within_system: tuple[PairEvidence, ...]
    within_section: tuple[PairEvidence, ...]
    section_residual_df: int
    section_residual_ms: float | None
    set_aside: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class TestEvidence:
    """One test on one species, or on all pooled with boards nested in species.

    ``says`` explains in words why intervals are missing or made otherwise; it is empty in the usual case.
    ``fit`` is ``None`` when the boards do not link the systems. Where nobody said which end of the response is better the order is
    from high to low, and means nothing. ``section`` is the one that it was read on, where sections are not weighed together.
    ``worth`` is the smallest difference worth knowing by which pairs were called alike.
    """

    __test__ = False

    test: str
    species: str
    look: str | None
    systems: tuple[SystemEvidence, ...]
    pairs: tuple[PairEvidence, ...]
    values: tuple[PanelValue, ...]
    fit: Fit | None
    says: str
    response: Response = GRADE
    school: School = "means"
    told_as: ToldAs = "difference"
    effects: tuple[Effect, ...] = ()
    friedman: FriedmanResult | None = None
    sections: SectionsEvidence | None = None
    margins: tuple[FactorEvidence, ...] = ()
    ladder: LadderEvidence | None = None
    odd: OddCell | None = None
    section: str = ""
    worth: float | None = None
    alpha: float = ALPHA

    @property
    def n_panels(self) -> int:
        """Panels, or sections of panels, with a value."""
        return len(self.values)

    @property
    def better(self) -> Better | None:
        """The better end of its response."""
        return self.response.better

    @property
    def design(self) -> str:
        """``"sections"`` or ``"blocks"``."""
        return "sections" if self.sections is not None else "blocks"
