"""How many coats each panel took where they go on until the sheen is even."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from nublet.core.materials.panel_coats import PanelCoat
from nublet.web.bench.models import PanelWork


@dataclass(frozen=True, kw_only=True)
class PanelTook:
    """The coats that a panel took. ``is_even`` where the log says so; else it took all there were and may want more."""

    panel: str
    n_coats: int
    is_even: bool


@dataclass(frozen=True, kw_only=True)
class CoatsTaken:
    """One layer of a build-up that is coated until the sheen is even, panel by panel; ``most`` is what the recipe allows."""

    build_up_id: int
    build_up: str
    product: str
    most: int
    panels: tuple[PanelTook, ...]


def coats_taken(
    build_up_id: int, build_up: str, coats: Sequence[PanelCoat], works: Sequence[PanelWork]
) -> list[CoatsTaken]:
    """What the panels of a build-up took of each such layer; panels that are still under way are left out.

    Parameters
    ----------
    build_up_id, build_up : int, str
        Number and name.
    coats : sequence of PanelCoat
    works : sequence of PanelWork
        Its log, panels joined.
    """
    even = [coat for coat in coats if coat.of.stop_rule == "even-sheen"]
    layers = [[each for each in even if each.shares_layer(first)] for first in even if first.coat == 1]
    found = []
    for each in layers:
        took = _took({coat.id for coat in each}, works)
        if took:
            found.append(
                CoatsTaken(
                    build_up_id=build_up_id,
                    build_up=build_up,
                    product=each[0].of.product.name,
                    most=len(each),
                    panels=tuple(took),
                )
            )
    return found


def _took(items: set[str], works: Sequence[PanelWork]) -> list[PanelTook]:
    by_panel: dict[str, list[PanelWork]] = defaultdict(list)
    for work in works:
        if work.kind == "coat" and work.item in items and work.ended_at is not None:
            by_panel[work.panel.code].append(work)
    took = []
    for panel, rows in sorted(by_panel.items()):
        n_coats = sum(not row.skipped_because for row in rows)
        is_even = any(row.is_even for row in rows)
        if is_even or n_coats == len(items):
            took.append(PanelTook(panel=panel, n_coats=n_coats, is_even=is_even))
    return took
