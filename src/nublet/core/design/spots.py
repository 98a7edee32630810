"""Which exposure stands where: drawn panel by panel, kept apart where agents must not meet, balanced over the panels.

On each panel the exposures that have so far stood nearest an edge are given the places furthest from one, with ties
and a little more left to chance; so over the panels no agent is always at an edge. Bleach is never next to an acid or
ammonia: between two such rings there is room for another ring with its margins. Where chance does not manage that, a
search does, and if none exists the panel is refused with a size that would do.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nublet.core.design.areas import PanelSize, Side, section_size
from nublet.core.design.layout import Ring, RingPlace, arrange_rings
from nublet.core.protocols.agents import give_off_gas, may_ignite
from nublet.core.protocols.exposures import Exposure

_N_ARRANGEMENTS = 16
_N_PUSHED = 32
_N_ATTEMPTS = 5
_MAX_NODES = 1500
_N_ROUNDS = 3
_TOLERANCE = 1e-9
# What a fault costs when attempts are compared: gas above fire above standing in line of sight, all above balance.
_GAS, _FIRE, _IN_LINE = 1e6, 1e3, 10.0

FloatArray = NDArray[np.float64]


@dataclass(frozen=True, kw_only=True)
class Spot:
    """One exposure's ring on a panel: centre and diameter, mm. ``section`` is ``None`` on an undivided panel."""

    exposure: str
    section: str | None = None
    side: Side = "front"
    x_mm: float
    y_mm: float
    diameter_mm: float


@dataclass(frozen=True, kw_only=True)
class DrawnRing:
    """An exposure's place on a panel, by the section's number; x and y are the panel's."""

    section: int
    exposure: Exposure
    x_mm: float
    y_mm: float


@dataclass(frozen=True, kw_only=True)
class DrawnFace:
    """One face's rings, and whether an agent that burns had to stand beside a hot block."""

    rings: tuple[DrawnRing, ...]
    is_beside_heat: bool


def neighbour_gap_mm(exposures: Sequence[Exposure], margin_mm: float) -> float:
    """Two rings with less than this between their edges are neighbours: no ring would fit between them, mm."""
    return min(exposure.wetted_mm for exposure in exposures) + 2 * margin_mm


@dataclass
class _Taken:
    """An arrangement by its number, and for each exposure in order the number of its place in it."""

    arrangement: int
    places: list[int]

    def swap(self, i: int, j: int) -> None:
        self.places[i], self.places[j] = self.places[j], self.places[i]


class SpotDrawer:
    """Draws the spots of panel after panel, remembering how near an edge each exposure has stood.

    Parameters
    ----------
    size : PanelSize
        Of the panel, mm.
    exposures : sequence of Exposure
        Each stands once in each section.
    n_sections : int
        1 for an undivided panel.
    lengthwise : bool
        Whether sections lie one after another along the panel.
    margin_mm : float
    rng : numpy.random.Generator
    """

    def __init__(
        self,
        *,
        size: PanelSize,
        exposures: Sequence[Exposure],
        n_sections: int,
        lengthwise: bool,
        margin_mm: float,
        rng: np.random.Generator,
    ) -> None:
        self.exposures = tuple(exposures)
        self._n_sections, self._lengthwise, self._margin_mm, self._rng = (
            n_sections,
            lengthwise,
            margin_mm,
            rng,
        )
        self._area = section_size(size, n_sections, lengthwise=lengthwise)
        self._arrangements = self._arrange(_N_ARRANGEMENTS)
        self._edge_total = [0.0] * len(exposures)
        self._n_drawn = 0
        natures = [exposure.natures for exposure in exposures]
        pairs = [(i, j) for i in range(len(natures)) for j in range(i)]
        self._gas = [(i, j) for i, j in pairs if give_off_gas(natures[i], natures[j])]
        self._fire = [(i, j) for i, j in pairs if may_ignite(natures[i], natures[j])]
        if self._gas:
            self._arrangements += self._arrange(_N_ARRANGEMENTS, loose=True)
        self._n_even = len(self._arrangements)
        self._clearance = neighbour_gap_mm(exposures, margin_mm)
        by_ring: dict[Ring, list[int]] = {}
        for index, exposure in enumerate(exposures):
            by_ring.setdefault((exposure.kind, exposure.wetted_mm), []).append(index)
        self._alike = by_ring
        self._costs: dict[tuple[int, int, int], tuple[list[list[float]], list[list[float]]]] = {}

    @property
    def fits(self) -> bool:
        """Whether the rings find room at all, whoever stands beside whom."""
        return bool(self._arrangements)

    def draw(self) -> DrawnFace | None:
        """Draw one panel's rings, section by section; ``None`` when agents cannot be kept apart."""
        tried: list[tuple[float, list[_Taken]]] = []
        for _ in range(_N_ATTEMPTS):
            chosen = [int(self._rng.integers(self._n_even)) for _ in range(self._n_sections)]
            taken = [self._hand_out(arrangement, {}) for arrangement in chosen]
            tried.append((self._repair(taken) + self._imbalance(taken), taken))
        cost, taken = min(tried, key=lambda one: one[0])
        if cost >= _GAS:
            found = self._search()
            if found is None:
                return None
            taken = found
        for section in taken:
            for index, place in enumerate(section.places):
                self._edge_total[index] += self._arrangements[section.arrangement][place].edge_mm
        self._n_drawn += self._n_sections
        return DrawnFace(rings=tuple(self._rings(taken)), is_beside_heat=self._fault(taken) % _GAS >= _FIRE)

    def _arrange(self, n: int, *, loose: bool = False, pushed: bool = False) -> list[tuple[RingPlace, ...]]:
        return arrange_rings(
            self._area,
            self.exposures,
            margin_mm=self._margin_mm,
            n_arrangements=n,
            rng=self._rng,
            loose=loose,
            pushed=pushed,
        )

    def _hand_out(self, arrangement: int, fixed: Mapping[int, int]) -> _Taken:
        """Give each exposure a place of its kind and diameter, the worst off first the best place."""
        places = [-1] * len(self.exposures)
        for index, place in fixed.items():
            places[index] = place
        used = set(fixed.values())
        standing = self._arrangements[arrangement]
        for ring, alike in self._alike.items():
            left = [index for index in alike if places[index] < 0]
            free = [n for n, place in enumerate(standing) if place.ring == ring and n not in used]
            edges = [standing[n].edge_mm for n in free]
            stir = 0.2 * (max(edges) - min(edges)) + _TOLERANCE if edges else 0.0
            chance = self._rng.random((2, len(left)))
            debts = [self._edge_total[index] + stir * chance[0, n] for n, index in enumerate(left)]
            worth = [edge + 1e-6 * chance[1, n] for n, edge in enumerate(edges)]
            by_debt = sorted(range(len(left)), key=debts.__getitem__)
            by_worth = sorted(range(len(free)), key=worth.__getitem__, reverse=True)
            for one, other in zip(by_debt, by_worth, strict=True):
                places[left[one]] = free[other]
        return _Taken(arrangement, places)

    def _fault(self, taken: Sequence[_Taken]) -> float:
        """What stands beside what it must not, over all sections of the panel.

        Sections with another between them are apart: the one between is wider than a ring with its margins.
        """
        total = 0.0
        for s, one in enumerate(taken):
            for t in range(max(0, s - 1), min(len(taken), s + 2)):
                other = taken[t]
                gas, fire = self._cost(one.arrangement, other.arrangement, t - s)
                for i, j in self._gas:
                    total += gas[one.places[i]][other.places[j]]
                for i, j in self._fire:
                    total += fire[one.places[i]][other.places[j]]
        return total

    def _cost(self, one: int, other: int, shift: int) -> tuple[list[list[float]], list[list[float]]]:
        """What it costs that two who must not meet stand at each two places of arrangements ``shift`` sections apart."""
        key = (one, other, shift)
        if key not in self._costs:
            here = self._points(one, 0)
            there = self._points(other, shift)
            apart = np.linalg.norm(here[:, None, :2] - there[None, :, :2], axis=2)
            near = apart - here[:, None, 2] - there[None, :, 2] < self._clearance - _TOLERANCE
            gas = np.where(near, _GAS, 0.0)
            if self._gas:
                middle = (here[:, None, :2] + there[None, :, :2]) / 2
                everyone = np.concatenate([here, there])[:, :2] if shift else here[:, :2]
                nearest = np.linalg.norm(middle[:, :, None] - everyone[None, None], axis=3).min(axis=2)
                # Nobody stands between them: no third centre in the circle on the two (Gabriel neighbours).
                gas += np.where(~near & (nearest > apart / 2 - 1e-6), _IN_LINE, 0.0)
            self._costs[key] = gas.tolist(), np.where(near, _FIRE, 0.0).tolist()
        return self._costs[key]

    def _points(self, arrangement: int, shift: int) -> FloatArray:
        """Centres and radii, one row a place, mm."""
        along, across = (
            (shift * self._area.length_mm, 0.0) if self._lengthwise else (0.0, shift * self._area.width_mm)
        )
        return np.array(
            [(p.x_mm + along, p.y_mm + across, p.ring[1] / 2) for p in self._arrangements[arrangement]]
        )

    def _repair(self, taken: list[_Taken]) -> float:
        """Swap exposures that stand where they must not with others of their ring, while that helps."""
        if not self._gas and not self._fire:
            return 0.0
        fault = self._fault(taken)
        restless = sorted({i for pair in (*self._gas, *self._fire) for i in pair})
        alike = {i: group for group in self._alike.values() for i in group}
        for _ in range(_N_ROUNDS):
            if fault == 0.0:
                break
            before = fault
            for section in taken:
                for i in restless:
                    for j in (alike[i][k] for k in self._rng.permutation(len(alike[i]))):
                        section.swap(i, j)
                        tried = self._fault(taken)
                        if tried < fault:
                            fault = tried
                        else:
                            section.swap(i, j)
            if fault >= before:
                break
        return fault

    def _search(self) -> list[_Taken] | None:
        """Look for places that keep what gives off gas apart, trying one arrangement after another."""
        if len(self._arrangements) == self._n_even:
            self._arrangements += self._arrange(_N_PUSHED, loose=True, pushed=True)
        restless = sorted(
            {i for pair in self._gas for i in pair}, key=lambda i: -sum(i in pair for pair in self._gas)
        )
        variables = [(s, i) for i in restless for s in range(self._n_sections)]
        # Those that share the room evenly come first.
        for first in range(len(self._arrangements)):
            chosen = [first, *self._rng.integers(0, len(self._arrangements), self._n_sections - 1).tolist()]
            found: dict[tuple[int, int], int] = {}
            if self._settle(variables, chosen, found, [_MAX_NODES]):
                return [
                    self._hand_out(chosen[s], {i: place for (t, i), place in found.items() if t == s})
                    for s in range(self._n_sections)
                ]
        return None

    def _settle(
        self,
        variables: Sequence[tuple[int, int]],
        chosen: Sequence[int],
        found: dict[tuple[int, int], int],
        nodes_left: list[int],
    ) -> bool:
        """Find places for the variables (section, exposure) that are left, depth first."""
        if len(found) == len(variables):
            return True
        nodes_left[0] -= 1
        if nodes_left[0] < 0:
            return False
        section, index = variables[len(found)]
        standing = self._arrangements[chosen[section]]
        ring = (self.exposures[index].kind, self.exposures[index].wetted_mm)
        used = {place for (s, _), place in found.items() if s == section}
        for place in (int(n) for n in self._rng.permutation(len(standing))):
            if standing[place].ring != ring or place in used:
                continue
            if all(
                abs(s - section) > 1
                or self._cost(chosen[section], chosen[s], s - section)[0][place][other] < _GAS
                for (s, i), other in found.items()
                if (max(index, i), min(index, i)) in self._gas
            ):
                found[section, index] = place
                if self._settle(variables, chosen, found, nodes_left):
                    return True
                del found[section, index]
        return False

    def _imbalance(self, taken: Sequence[_Taken]) -> float:
        """Spread of the exposures' mean distances from an edge, were this panel drawn, as a share of their mean."""
        n = self._n_drawn + self._n_sections
        means = [
            (total + sum(self._arrangements[s.arrangement][s.places[i]].edge_mm for s in taken)) / n
            for i, total in enumerate(self._edge_total)
        ]
        return (max(means) - min(means)) / max(1e-9, sum(means) / len(means))

    def _rings(self, taken: Sequence[_Taken]) -> Iterator[DrawnRing]:
        for s, section in enumerate(taken):
            points = self._points(section.arrangement, s)
            for exposure, place in zip(self.exposures, section.places, strict=True):
                yield DrawnRing(
                    section=s,
                    exposure=exposure,
                    x_mm=round(float(points[place, 0]), 9),
                    y_mm=round(float(points[place, 1]), 9),
                )
