"""Woods and agents as CSV or JSON. docs/formats.md describes the columns."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from nublet.core.materials.species import Species, species_as_dict, species_from_dict
from nublet.core.plain import folded
from nublet.core.protocols.agents import Agent, agent_as_dict, agent_from_dict
from nublet.formats.shelf_table import TableKind, figure, number_in, yes_or_no


def _wood_cells(cells: Mapping[str, str]) -> dict[str, Any]:
    row: dict[str, Any] = dict(cells)
    for name in ("density_kg_m3", "janka_n", "absorbency"):
        if name in cells:
            row[name] = number_in(cells[name], name)
    for name in ("tannin_rich", "oily"):
        if name in cells:
            row[name] = yes_or_no(cells[name], name)
    return row


def _agent_cells(cells: Mapping[str, str]) -> dict[str, Any]:
    row: dict[str, Any] = dict(cells)
    if "natures" in cells:
        row["natures"] = _pieces(cells["natures"])
    for name in ("durations_min", "temperatures_c"):
        if name in cells:
            row[name] = [number_in(piece, name) for piece in _pieces(cells[name])]
    return row


def _cells_of_agent(agent: Agent) -> dict[str, Any]:
    plain = agent_as_dict(agent)
    return plain | {
        "natures": "; ".join(plain["natures"]),
        "durations_min": "; ".join(map(figure, agent.durations_min)),
        "temperatures_c": "; ".join(map(figure, agent.temperatures_c)),
    }


def _pieces(cell: str) -> list[str]:
    return [piece.strip() for piece in cell.split(";") if piece.strip()]


SPECIES_TABLE: TableKind[Species] = TableKind(
    noun="wood",
    columns=("name", "pores", "density_kg_m3", "janka_n", "absorbency", "tannin_rich", "oily"),
    required=("name", "pores", "density_kg_m3", "janka_n"),
    cells_as_dict=_wood_cells,
    from_dict=species_from_dict,
    as_dict=species_as_dict,
    cells_of=species_as_dict,
    key=lambda wood: folded(wood.name),
    key_words=lambda wood: repr(wood.name),
)
AGENT_TABLE: TableKind[Agent] = TableKind(
    noun="agent",
    columns=("name", "group", "strength", "amount", "durations_min", "temperatures_c", "natures"),
    required=("name", "group"),
    cells_as_dict=_agent_cells,
    from_dict=agent_from_dict,
    as_dict=agent_as_dict,
    cells_of=_cells_of_agent,
    key=lambda agent: folded(agent.name),
    key_words=lambda agent: repr(agent.name),
)
