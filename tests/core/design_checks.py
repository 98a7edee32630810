"""An independent check of a drawn design: plain arithmetic on the JSON, sharing no code with what drew it."""

from __future__ import annotations

import math
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from itertools import combinations
from typing import Any

SLACK = 1e-6
GAS = ({"bleach"}, {"vinegar", "ammonia 10 %", "citric acid", "red wine"})


def check_design(spec: Mapping[str, Any], design: Mapping[str, Any]) -> None:
    """Fail unless the design keeps every rule of the specification."""
    panels = design["panels"]
    assert len({panel["code"] for panel in panels}) == len(panels)
    check_blocks(spec, panels)
    check_wood(spec, panels)
    for panel in panels:
        check_panel(spec, panel)


def check_blocks(spec: Mapping[str, Any], panels: Sequence[Mapping[str, Any]]) -> None:
    systems = [*spec["systems"], *(["control"] if spec.get("control") else [])]
    for species in spec["species"]:
        boards = [board["id"] for board in spec["boards"] if board["species"] == species]
        on = defaultdict(list)
        for panel in panels:
            if panel["species"] == species:
                assert panel["board"] in boards
                on[panel["board"]].append(panel["system"])
        assert sorted(on) == sorted(boards)
        assert all(len(set(carried)) == len(carried) for carried in on.values())
        sizes = {len(carried) for carried in on.values()}
        assert len(sizes) == 1
        if sizes == {len(systems)}:
            assert all(set(carried) == set(systems) for carried in on.values())
            continue
        each = Counter(system for carried in on.values() for system in carried)
        assert set(each) == set(systems)
        assert len(set(each.values())) == 1
        meet = Counter(
            frozenset(pair) for carried in on.values() for pair in combinations(sorted(carried), 2)
        )
        assert len(meet) == math.comb(len(systems), 2)
        assert len(set(meet.values())) == 1


def check_wood(spec: Mapping[str, Any], panels: Sequence[Mapping[str, Any]]) -> None:
    length, width = spec["panel_mm"]
    kerf, trim = spec["kerf_mm"], spec["end_trim_mm"]
    for board in spec["boards"]:
        of_board = [panel for panel in panels if panel["board"] == board["id"]]
        for panel in of_board:
            start, end = panel["offset_mm"], panel["offset_mm"] + length
            assert panel["species"] == board["species"]
            assert start >= trim - SLACK
            assert end <= board["length_mm"] - trim + SLACK
            assert panel["row"] >= 0
            assert panel["row"] * (width + kerf) + width <= board["width_mm"] + SLACK
            for defect in board["defects"]:
                assert end <= defect["from_mm"] + SLACK or start >= defect["to_mm"] - SLACK
        for one, other in combinations(of_board, 2):
            if one["row"] == other["row"]:
                assert abs(one["offset_mm"] - other["offset_mm"]) >= length + kerf - SLACK


def check_panel(spec: Mapping[str, Any], panel: Mapping[str, Any]) -> None:
    length, width = spec["panel_mm"]
    margin = spec["margin_mm"]
    exposures = {exposure["id"]: exposure for exposure in spec["exposures"]}
    sections = {section["name"]: section for section in panel["sections"]}
    assert sorted(sections) == sorted(spec.get("sections") or [])
    check_sections(list(sections.values()), length, width)
    asked = Counter((e, s) for e in exposures for s in (sections or [None]))
    assert Counter((spot["exposure"], spot["section"]) for spot in panel["spots"]) == asked
    whole = {"x_mm": 0.0, "y_mm": 0.0, "length_mm": length, "width_mm": width}
    for spot in panel["spots"]:
        area = sections.get(spot["section"], whole)
        radius = spot["diameter_mm"] / 2
        assert spot["diameter_mm"] == exposures[spot["exposure"]]["wetted_mm"]
        assert spot["x_mm"] - radius >= area["x_mm"] + margin - SLACK
        assert spot["y_mm"] - radius >= area["y_mm"] + margin - SLACK
        assert spot["x_mm"] + radius <= area["x_mm"] + area["length_mm"] - margin + SLACK
        assert spot["y_mm"] + radius <= area["y_mm"] + area["width_mm"] - margin + SLACK
    room_for_another = min(e["wetted_mm"] for e in exposures.values()) + 2 * margin
    for one, other in combinations(panel["spots"], 2):
        gap = (
            math.hypot(one["x_mm"] - other["x_mm"], one["y_mm"] - other["y_mm"])
            - (one["diameter_mm"] + other["diameter_mm"]) / 2
        )
        assert gap >= margin - SLACK
        agents = {exposures[one["exposure"]]["agent"], exposures[other["exposure"]]["agent"]}
        if agents & GAS[0] and agents & GAS[1]:
            assert gap >= room_for_another - SLACK, f"{agents} are neighbours on {panel['code']}"


def check_sections(sections: Sequence[Mapping[str, Any]], length: float, width: float) -> None:
    for section in sections:
        assert section["x_mm"] >= -SLACK
        assert section["y_mm"] >= -SLACK
        assert section["x_mm"] + section["length_mm"] <= length + SLACK
        assert section["y_mm"] + section["width_mm"] <= width + SLACK
    for one, other in combinations(sections, 2):
        apart = (
            one["x_mm"] + one["length_mm"] <= other["x_mm"] + SLACK
            or other["x_mm"] + other["length_mm"] <= one["x_mm"] + SLACK
            or one["y_mm"] + one["width_mm"] <= other["y_mm"] + SLACK
            or other["y_mm"] + other["width_mm"] <= one["y_mm"] + SLACK
        )
        assert apart
    if sections:
        assert math.isclose(
            sum(s["length_mm"] * s["width_mm"] for s in sections), length * width, rel_tol=1e-6
        )


def edge_means(design: Mapping[str, Any], spec: Mapping[str, Any]) -> dict[str, float]:
    """Each exposure's distance from its ring's edge to the nearest edge of its section or panel, mean over panels, mm."""
    length, width = spec["panel_mm"]
    found: dict[str, list[float]] = defaultdict(list)
    for panel in design["panels"]:
        areas = {section["name"]: section for section in panel["sections"]}
        for spot in panel["spots"]:
            area = areas.get(
                spot["section"], {"x_mm": 0.0, "y_mm": 0.0, "length_mm": length, "width_mm": width}
            )
            x, y = spot["x_mm"] - area["x_mm"], spot["y_mm"] - area["y_mm"]
            nearest = min(x, y, area["length_mm"] - x, area["width_mm"] - y)
            found[spot["exposure"]].append(nearest - spot["diameter_mm"] / 2)
    return {exposure: sum(values) / len(values) for exposure, values in found.items()}
