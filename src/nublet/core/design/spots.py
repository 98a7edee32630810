"""Which test stands where: drawn panel by panel, kept apart where agents must not meet, balanced over the panels.

On each panel the exposures that have so far stood nearest an edge are given the places furthest from one, with ties
and a little more left to chance; so over the panels no agent is always at an edge. Bleach is never next to an acid or
ammonia: between two such there is room for another with its margins. Where chance does not manage that, a search does, and
if none exists the panel is refused with a size that would do.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import islice, product

import numpy as np
from numpy.typing import NDArray

from nublet.core.design.areas import PanelSize, section_size
from nublet.core.design.drawn import DrawnFace, DrawnRing
from nublet.core.design.layout import Shape, SitePlace, arrange_sites, shape_of
from nublet.core.protocols.agents import give_off_gas, may_ignite
from nublet.core.protocols.tests import Test

_N_ARRANGEMENTS = 16
_N_PUSHED = 32
_N_ATTEMPTS = 5
_MAX_NODES = 3000
_MAX_WAYS = 500
_N_ROUNDS = 3
# So many ways to keep agents apart are looked for before they are used again.
_N_WAYS = 3
_TOLERANCE = 1e-9
# What a fault costs when attempts are compared: gas above fire above standing in line of sight, all above balance.
_GAS, _FIRE, _IN_LINE = 1e6, 1e3, 10.0

FloatArray = NDArray[np.float64]


def neighbour_gap_mm(exposures: Sequence[Test], margin_mm: float) -> float:
    """Two sites with less than this between their edges are neighbours: no other would fit between them, mm."""
    return min(min(exposure.site.footprint_mm) for exposure in exposures) + 2 * margin_mm


@dataclass
class _Taken:
    """An arrangement by its number, and for each exposure in order the number of its place in it."""

    arrangement: int
    places: list[int]

    def swap(self, i: int, j: int) -> None:
        self.places[i], self.places[j] = self.places[j], self.places[i]


@dataclass(frozen=True)
class _Bleached:
    """Places for the bleaches of a section, and the section's places that are then too near, as bits."""

    places: tuple[int, ...]
    near: int

    @property
    def occupied(self) -> int:
        return sum(1 << place for place in self.places)


class SpotDrawer:
    """Draws the spots of panel after panel, remembering how near an edge each exposure has stood.

    Parameters
    ----------
    size : PanelSize
        Of the panel, mm.
    exposures : sequence of Test
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
        exposures: Sequence[Test],
        n_sections: int,
        lengthwise: bool,
        margin_mm: float,
        rng: np.random.Generator,
    ) -> None:
        self.exposures = tuple(exposures)
        self._shapes = tuple(shape_of(exposure) for exposure in exposures)
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
        in_gas = sorted({i for pair in self._gas for i in pair})
        self._bleaches = [i for i in in_gas if "bleach" in natures[i]]
        self._averse = [i for i in in_gas if i not in self._bleaches]
        if self._gas:
            self._arrangements += self._arrange(_N_ARRANGEMENTS, loose=True)
        self._n_even = len(self._arrangements)
        self._clearance = neighbour_gap_mm(exposures, margin_mm)
        by_shape: dict[Shape, list[int]] = {}
        for index, shape in enumerate(self._shapes):
            by_shape.setdefault(shape, []).append(index)
        self._alike = by_shape
        self._ways: list[tuple[int, ...]] = []
        self._dead_ends: set[tuple[int, ...]] = set()
        self._averse_shapes = Counter(self._shapes[index] for index in self._averse)
        self._has_clashing_bleaches = any({i, j} <= set(self._bleaches) for i, j in self._gas)
        self._options: dict[int, list[_Bleached]] = {}
        self._near: dict[tuple[int, int, int], list[int]] = {}
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
            taken = [self._hand_out(arrangement) for arrangement in chosen]
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

    def _arrange(self, n: int, *, loose: bool = False, pushed: bool = False) -> list[tuple[SitePlace, ...]]:
        return arrange_sites(
            self._area,
            self._shapes,
            margin_mm=self._margin_mm,
            n_arrangements=n,
            rng=self._rng,
            loose=loose,
            pushed=pushed,
        )

    def _hand_out(self, arrangement: int, bleached: _Bleached | None = None) -> _Taken:
        """Give each exposure a place of its kind and diameter, the worst off first the best place.

        With ``bleached`` the bleaches stand where it says, and what they must not meet stands away from them.
        """
        places = [-1] * len(self.exposures)
        if bleached is not None:
            for index, place in zip(self._bleaches, bleached.places, strict=True):
                places[index] = place
        standing = self._arrangements[arrangement]
        for shape, alike in self._alike.items():
            left = [index for index in alike if places[index] < 0]
            free = [n for n, place in enumerate(standing) if place.shape == shape and n not in places]
            if bleached is not None:
                averse = [index for index in left if index in self._averse]
                away = [n for n in free if not bleached.near >> n & 1]
                chosen = [away[n] for n in self._rng.permutation(len(away))[: len(averse)]]
                self._deal(places, averse, chosen, standing)
                left = [index for index in left if index not in averse]
                free = [n for n in free if n not in chosen]
            self._deal(places, left, free, standing)
        return _Taken(arrangement, places)

    def _deal(
        self, places: list[int], left: Sequence[int], free: Sequence[int], standing: Sequence[SitePlace]
    ) -> None:
        """Deal out as many places as there are exposures, nearly in the order of what each is owed."""
        edges = [standing[n].edge_mm for n in free]
        stir = 0.2 * (max(edges) - min(edges)) + _TOLERANCE if edges else 0.0
        chance = self._rng.random((2, len(left)))
        debts = [self._edge_total[index] + stir * chance[0, n] for n, index in enumerate(left)]
        worth = [edge + 1e-6 * chance[1, n] for n, edge in enumerate(edges)]
        by_debt = sorted(range(len(left)), key=debts.__getitem__)
        by_worth = sorted(range(len(free)), key=worth.__getitem__, reverse=True)
        for one, other in zip(by_debt, by_worth, strict=True):
            places[left[one]] = free[other]

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
            here, there = self._points(one, 0), self._points(other, shift)
            away = np.abs(here[:, None, :2] - there[None, :, :2])
            apart = np.linalg.norm(away, axis=2)
            # From edge to edge: rings by their radii, strips by their sides.
            sides = np.maximum(away - here[:, None, 2:4] - there[None, :, 2:4], 0.0)
            gap = np.linalg.norm(sides, axis=2) - here[:, None, 4] - there[None, :, 4]
            near = gap < self._clearance - _TOLERANCE
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
        """Centres, half sides of strips, and radii of rings, one row a place, mm."""
        along, across = (
            (shift * self._area.length_mm, 0.0) if self._lengthwise else (0.0, shift * self._area.width_mm)
        )
        return np.array(
            [
                (p.x_mm + along, p.y_mm + across, 0.0, 0.0, p.shape.along_mm / 2)
                if p.shape.is_round
                else (p.x_mm + along, p.y_mm + across, p.shape.along_mm / 2, p.shape.across_mm / 2, 0.0)
                for p in self._arrangements[arrangement]
            ]
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
        for chosen in self._candidates():
            if chosen in self._dead_ends:
                continue
            settled = self._settle(chosen, [], [_MAX_NODES])
            if settled is None:
                self._dead_ends.add(chosen)
                continue
            if chosen not in self._ways:
                self._ways.append(chosen)
            taken = [
                self._hand_out(arrangement, one) for arrangement, one in zip(chosen, settled, strict=True)
            ]
            self._repair(taken)
            return taken
        return None

    def _candidates(self) -> Iterator[tuple[int, ...]]:
        """Arrangements for the sections: those that have served before, then those that share the room evenly first."""
        if len(self._ways) >= _N_WAYS:
            for way in self._rng.permutation(len(self._ways)):
                yield self._ways[way]
        usable = [n for n in range(len(self._arrangements)) if self._bleach(n)]
        for first in usable:
            others = self._rng.integers(0, len(usable), self._n_sections - 1)
            yield first, *(usable[n] for n in others)

    def _bleach(self, arrangement: int) -> list[_Bleached]:
        """The ways to place the bleaches of one section that leave room for what they must not meet."""
        if arrangement not in self._options:
            standing = self._arrangements[arrangement]
            of_ring = [
                [n for n, place in enumerate(standing) if place.shape == self._shapes[index]]
                for index in self._bleaches
            ]
            ways = (way for way in product(*of_ring) if len(set(way)) == len(way))
            found = []
            for way in islice(ways, _MAX_WAYS):
                near = self._too_near(arrangement, arrangement, 0, way)
                option = _Bleached(way, near)
                if not self._do_bleaches_clash(way, near) and self._has_room(arrangement, option):
                    found.append(option)
            self._options[arrangement] = found
        return self._options[arrangement]

    def _settle(
        self, chosen: Sequence[int], settled: list[_Bleached], nodes_left: list[int]
    ) -> list[_Bleached] | None:
        """Place the bleaches section by section, depth first; each section's ``near`` counts its neighbours' too."""
        here = len(settled)
        if here == len(chosen):
            return settled
        options = self._bleach(chosen[here])
        for n in self._rng.permutation(len(options)):
            nodes_left[0] -= 1
            if nodes_left[0] < 0:
                return None
            mine, before = options[n], settled[-1:]
            if before:
                (last,) = before
                near_here = self._too_near(chosen[here - 1], chosen[here], 1, last.places)
                near_last = self._too_near(chosen[here], chosen[here - 1], -1, mine.places)
                if self._do_bleaches_clash(mine.places, near_here):
                    continue
                mine = _Bleached(mine.places, mine.near | near_here)
                before = [_Bleached(last.places, last.near | near_last)]
                if not self._has_room(chosen[here], mine) or not self._has_room(chosen[here - 1], before[0]):
                    continue
            found = self._settle(chosen, [*settled[:-1], *before, mine], nodes_left)
            if found is not None:
                return found
        return None

    def _too_near(self, one: int, other: int, shift: int, places: Sequence[int]) -> int:
        """The places of arrangement ``other``, ``shift`` sections on, that are too near places of ``one``, as bits."""
        key = (one, other, shift)
        if key not in self._near:
            gas = self._cost(one, other, shift)[0]
            self._near[key] = [
                sum(1 << n for n, cost in enumerate(row) if cost >= _GAS and (shift or n != place))
                for place, row in enumerate(gas)
            ]
        near = 0
        for place in places:
            near |= self._near[key][place]
        return near

    def _do_bleaches_clash(self, places: Sequence[int], near: int) -> bool:
        """Whether a bleach that is an acid too stands near another."""
        if not self._has_clashing_bleaches:
            return False
        return any(near >> place & 1 for place in places)

    def _has_room(self, arrangement: int, option: _Bleached) -> bool:
        """Whether what must not meet the bleaches finds places away from them."""
        standing = self._arrangements[arrangement]
        barred = option.near | option.occupied
        for shape, wanted in self._averse_shapes.items():
            if sum(p.shape == shape and not barred >> n & 1 for n, p in enumerate(standing)) < wanted:
                return False
        return True

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
