"""How many coats each panel took where they go on until the sheen is even, and when it had its last."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Protocol

from nublet.core.materials.panel_coats import PanelCoat


class StandingCoat(Protocol):
    """What stands of one coat on one panel, as of :class:`nublet.core.bench.standing.StandingWork`."""

    @property
    def ended_at(self) -> datetime | None:
        """When it was done or given up."""

    @property
    def skipped_because(self) -> str:
        """Why it was not done; empty where it was."""

    @property
    def is_even(self) -> bool:
        """Whether it was not wanted, because the sheen was even."""


@dataclass(frozen=True, kw_only=True)
class PanelTook:
    """The coats that a panel took. ``is_even`` where the log says so; else it took all there were and may want more."""

    panel: str
    n_coats: int
    is_even: bool


@dataclass(frozen=True, kw_only=True)
class LayerTaken:
    """One layer that is coated until the sheen is even, panel by panel; ``most`` is what the recipe allows."""

    product: str
    most: int
    panels: tuple[PanelTook, ...]


def coats_taken(
    coats: Sequence[PanelCoat], stands: Iterable[tuple[str, str, StandingCoat]]
) -> list[LayerTaken]:
    """What panels of one build-up took of each such layer; panels that are still under way are left out, and layers without any.

    Parameters
    ----------
    coats : sequence of PanelCoat
        Of the build-up's panels.
    stands : iterable of (str, str, StandingCoat)
        Panel, coat's id, and what stands of it.
    """
    by_panel: dict[str, dict[str, StandingCoat]] = defaultdict(dict)
    for panel, item, standing in stands:
        if standing.ended_at is not None:
            by_panel[panel][item] = standing
    even = [coat for coat in coats if coat.of.stop_rule == "even-sheen"]
    found = []
    for first in even:
        items = {coat.id for coat in even if coat.shares_layer(first)}
        took = tuple(_took(items, by_panel)) if first.coat == 1 else ()
        if took:
            found.append(LayerTaken(product=first.of.product.name, most=len(items), panels=took))
    return found


def _took(items: set[str], by_panel: Mapping[str, Mapping[str, StandingCoat]]) -> Iterable[PanelTook]:
    for panel, works in sorted(by_panel.items()):
        own = [works[item] for item in items & works.keys()]
        n_coats = sum(not each.skipped_because for each in own)
        is_even = any(each.is_even for each in own)
        if is_even or n_coats == len(items):
            yield PanelTook(panel=panel, n_coats=n_coats, is_even=is_even)


def last_coat_at(
    coats: Sequence[PanelCoat], done: Mapping[str, datetime], even: Collection[str]
) -> datetime | None:
    """When a panel had its last coat; ``None`` before that, and for one that is never coated.

    Parameters
    ----------
    coats : sequence of PanelCoat
        All that it may get, in their order.
    done : mapping of coat to a moment
        When each ended, with its wiping.
    even : collection of str
        Coats that the sheen made needless; the rest of their layer is needless with them.
    """
    if not coats:
        return None
    last = coats[-1]
    is_needless = any(each.id in even and each.shares_layer(last) for each in coats)
    return max(done.values(), default=None) if last.id in done or is_needless else None
