"""Several readings of an instrument that make one value: their mean, and how far apart they lie."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import fmean, stdev

from nublet.core.errors import ReadingsError
from nublet.core.protocols.response import Response

# More than a patient hand takes of one spot; a longer list is a mistake.
MOST_SINGLES = 20


@dataclass(frozen=True, kw_only=True)
class MeanOfSingles:
    """The mean of single readings, and their standard deviation (n - 1), ``None`` for one alone; in the response's unit."""

    value: float
    spread: float | None


def mean_of_singles(singles: Sequence[float], response: Response, *, where: str = "") -> MeanOfSingles:
    """Check single readings and give their mean as it is kept.

    Parameters
    ----------
    singles : sequence of float, shape (n,), 1 to 20
        In the response's unit.
    response : Response
        A measure.
    where : str
        Words such as ``"panel K7"`` put in front of a message.

    Raises
    ------
    ReadingsError
        If there is none or there are too many, one of them cannot be, or the response is not measured.

    Examples
    --------
    >>> from nublet.core.protocols.responses import RESPONSES
    >>> mean_of_singles([14.1, 14.4, 14.3], RESPONSES["gloss-60"])
    MeanOfSingles(value=14.3, spread=0.1528)
    """
    prefix = f"{where}: " if where else ""
    if response.form != "measure":
        raise ReadingsError(
            f"{prefix}{response.name} is judged once and not averaged from several readings.", field="singles"
        )
    if not 1 <= len(singles) <= MOST_SINGLES:
        raise ReadingsError(
            f"{prefix}One value is made of 1 to {MOST_SINGLES} readings, not {len(singles)}.", field="singles"
        )
    for number, single in enumerate(singles, start=1):
        response.check(single, field="singles", where=f"{prefix}reading {number}")
    spread = round(stdev(singles), 4) if len(singles) > 1 else None
    return MeanOfSingles(value=response.rounded(fmean(singles)), spread=spread)
