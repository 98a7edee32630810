"""How much panels of one board differ by themselves: what later trials are planned with."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from nublet.core.errors import ReadingsError
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.panel_values import panel_values
from nublet.core.evidence.readings import Reading, look_key
from nublet.core.protocols.responses import GRADE, Response


def residual_strata(
    readings: Sequence[Reading], look: str, *, response: Response = GRADE
) -> list[tuple[float, int]]:
    """Residual mean squares of the blocks model, each with its degrees of freedom, one for each test and species.

    Parameters
    ----------
    readings : sequence of Reading
    look : str
        The look to take grades of; missing grades are left out.

    Returns
    -------
    list of (mean square, degrees of freedom)
        In the response's unit squared. Tests whose boards do not link the systems, or that have no residual degrees of freedom, are
        left out. Made for :func:`nublet.core.design.power.pool_spread`.
    """
    groups: dict[tuple[str, str | None], list[Reading]] = defaultdict(list)
    for reading in readings:
        if (
            look_key(reading.look) == look_key(look)
            and reading.grade is not None
            and reading.left_out is None
        ):
            groups[reading.test, reading.species].append(reading)
    strata = []
    for group in groups.values():
        try:
            fit = fit_blocks(panel_values(group, response=response), ends=response.ends)
        except ReadingsError:
            continue
        if fit.residual_ms is not None:
            strata.append((fit.residual_ms, fit.residual_df))
    return strata
