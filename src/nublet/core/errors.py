"""Errors that a person can act on.

The tree::

    NubletError
    ├── DesignError        the design cannot be made as asked
    ├── ReadingsError      a reading, or a table of readings, cannot be used
    ├── PhotographError    a file is no photograph that can be kept
    ├── ShelfError         a product, wood or agent cannot be as described
    ├── BuildUpError       a build-up or the list of build-ups is not usable
    │   └── BlockedCombinationError   it would not hold, and nobody declared it an experiment
    ├── CalculationError   a calculator's input is out of range or contradicts itself
    ├── PlanError          a plan was asked for in a way that nobody can mean
    └── RankingError       a ranking was asked for that cannot be given

Each message says what is wrong, where, and what to do. ``code`` is stable, for programs; ``field`` is
the dotted path of the input at fault, or ``None``.
"""

from __future__ import annotations


class NubletError(ValueError):
    """Base of all errors that come from what was asked, not from a fault in the program."""

    code = "invalid"

    def __init__(self, message: str, *, field: str | None = None) -> None:
        super().__init__(message)
        self.message = message
        self.field = field


class DesignError(NubletError):
    """The design cannot be made as asked: no boards, too many spots, a doubtful panel size."""

    code = "design_impossible"


class ReadingsError(NubletError):
    """A reading or a table of readings cannot be used."""

    code = "readings_unusable"


class PhotographError(NubletError):
    """A file is no photograph that can be kept."""

    code = "photograph_refused"


class BuildUpError(NubletError):
    """A build-up, or the list of build-ups of a trial, is not usable."""

    code = "build_up_unusable"


class BlockedCombinationError(BuildUpError):
    """A build-up holds a combination that will not hold, and no reason was given to try it all the same."""

    code = "blocked_combination"


class ShelfError(NubletError):
    """A product, wood or agent cannot be as it is described."""

    code = "shelf_unusable"


class CalculationError(NubletError):
    """A calculator's input is missing, out of range, or contradicts another."""

    code = "calculation_impossible"


class PlanError(NubletError):
    """What a plan is asked for contradicts itself; what can be meant and cannot be done is the plan's own answer."""

    code = "plan_unusable"


class RankingError(NubletError):
    """A ranking was asked for that the profile or the evidence cannot give."""

    code = "ranking_unavailable"
