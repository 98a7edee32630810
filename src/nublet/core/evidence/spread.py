"""How much panels of one board, and sections of one panel, differ by themselves: what later trials are planned with."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

from nublet.core.errors import ReadingsError
from nublet.core.evidence.by_response import looks_that_count, readings_of_rows
from nublet.core.evidence.models.blocks import fit_blocks
from nublet.core.evidence.models.sections import fit_sections
from nublet.core.evidence.panel_values import panel_values
from nublet.core.evidence.readings import PanelValue, Reading
from nublet.core.evidence.rows import PieceRow
from nublet.core.protocols.responses import Response
from nublet.core.protocols.tests import DEFAULT_LOOK, Protocol

Stratum = tuple[float, int]


@dataclass(frozen=True, kw_only=True)
class Strata:
    """Mean squares with their degrees of freedom, of panels within boards and of sections within panels.

    In the response's unit squared, or of natural logarithms where ratios are compared.
    """

    panels: list[Stratum] = field(default_factory=list)
    sections: list[Stratum] = field(default_factory=list)


def strata_of(rows: Sequence[PieceRow], protocol: Protocol, response: Response) -> Strata:
    """What a trial's rows of one response tell of its spread, at the look that counts, one stratum for each test, wood and section.

    Empty for what is not compared by differences or ratios.
    """
    if response.weighed_first not in ("means", "log-means"):
        return Strata()
    looks = looks_that_count(rows, protocol, response, DEFAULT_LOOK)
    groups: dict[tuple[str, str | None], list[Reading]] = defaultdict(list)
    counted = (row for row in rows if row.look == looks.get(row.test) and row.turn == 0)
    for reading in readings_of_rows(counted, with_look=False):
        if reading.grade is not None and reading.left_out is None:
            groups[reading.test, reading.species].append(reading)
    found = Strata()
    for group in groups.values():
        values = _weighed(panel_values(group, response=response), response)
        for section in sorted({value.section for value in values}):
            own = [replace(value, section="") for value in values if value.section == section]
            _add(found.panels, own, response)
        try:
            error = fit_sections(values, ends=_ends(response)).section_error
        except ReadingsError:
            continue
        if error.ms is not None and error.df > 0:
            found.sections.append((error.ms, int(error.df)))
    return found


def _weighed(values: Sequence[PanelValue], response: Response) -> list[PanelValue]:
    if response.weighed_first != "log-means":
        return list(values)
    return [replace(value, value=math.log(value.value)) for value in values if value.value > 0]


def _ends(response: Response) -> tuple[float, float] | None:
    return None if response.weighed_first == "log-means" else response.ends


def _add(strata: list[Stratum], values: Sequence[PanelValue], response: Response) -> None:
    try:
        fit = fit_blocks(values, ends=_ends(response))
    except ReadingsError:
        return
    if fit.residual_ms is not None:
        strata.append((fit.residual_ms, fit.residual_df))
