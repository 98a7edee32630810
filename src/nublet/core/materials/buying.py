"""What to buy: the cheapest containers that cover a need, as a small integer programme."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import optimize

from nublet.core.errors import CalculationError

# Looking at so many choices takes less time than setting up a search.
FEW_CHOICES = 20_000
MAX_CONTAINERS = 40


@dataclass(frozen=True, kw_only=True)
class Offer:
    """A container on sale: what it holds of each material, in order, and its price."""

    amounts: tuple[float, ...]
    price: float


@dataclass(frozen=True, kw_only=True)
class Purchase:
    """How many of each offer, in order; what it costs; what is bought and left over of each material."""

    counts: tuple[int, ...]
    cost: float
    bought: tuple[float, ...]
    left_over: tuple[float, ...]


def choose_containers(needs: Sequence[float], offers: Sequence[Offer]) -> Purchase:
    """Choose containers that cover every need at the least cost; of equally cheap choices, the one that leaves least over.

    minimise Σ price·n subject to Σ amount·n ≥ need for each material, n whole. Solved exactly: by looking at every choice
    while there are few, else by branch and bound.

    Parameters
    ----------
    needs : sequence of float
        Of each material (base, hardener), mL or g.
    offers : sequence of Offer
        With amounts of the same materials in the same unit.

    Raises
    ------
    CalculationError
        If nothing on offer holds a material that is needed, or a figure is negative.

    References
    ----------
    Huangfu and Hall, 2018, "Parallelizing the dual revised simplex method", Math. Prog. Comp. 10 (the HiGHS solver behind
    ``scipy.optimize.milp``).

    Examples
    --------
    >>> choose_containers([1300], [Offer(amounts=(1000,), price=30), Offer(amounts=(250,), price=10)]).counts
    (1, 2)
    """
    _check(needs, offers)
    amounts = np.array([offer.amounts for offer in offers], dtype=float).T
    prices = np.array([offer.price for offer in offers])
    need = np.array(needs, dtype=float)
    # Never more of one container than covers every need alone.
    most = np.zeros(len(offers))
    for row, wanted in zip(amounts, need, strict=True):
        most = np.maximum(most, [math.ceil(wanted / held - 1e-9) if held > 0 else 0 for held in row])
    # What a container adds to what is left over, each material by its need.
    bulk = (amounts / np.where(need > 0, need, 1.0)[:, np.newaxis]).sum(axis=0)
    few = math.prod(most + 1) <= FEW_CHOICES
    counts = (_look_at_all if few else _search)(amounts, prices, need, most, bulk)
    bought = amounts @ counts
    return Purchase(
        counts=tuple(int(n) for n in counts),
        cost=float(prices @ counts),
        bought=tuple(bought.tolist()),
        left_over=tuple(np.maximum(0.0, bought - need).tolist()),
    )


def _look_at_all(
    amounts: np.ndarray, prices: np.ndarray, need: np.ndarray, most: np.ndarray, bulk: np.ndarray
) -> np.ndarray:
    choices = np.indices(tuple(int(n) + 1 for n in most)).reshape(len(most), -1).astype(float)
    choices = choices[:, (amounts @ choices >= (need * (1 - 1e-12))[:, np.newaxis]).all(axis=0)]
    costs = prices @ choices
    least = costs.min()
    cheapest = choices[:, costs <= least + 1e-9 * max(1.0, least)]
    return cheapest[:, np.argmin(bulk @ cheapest + 1e-9 * cheapest.sum(axis=0))]


def _search(
    amounts: np.ndarray, prices: np.ndarray, need: np.ndarray, most: np.ndarray, bulk: np.ndarray
) -> np.ndarray:
    covers = [optimize.LinearConstraint(amounts, lb=need * (1 - 1e-12))]
    counts = _solve(prices, covers, most)
    cost = float(prices @ counts)
    within = optimize.LinearConstraint(prices[np.newaxis, :], ub=cost + 1e-6 * max(1.0, cost))
    tidier = _solve(bulk + 1e-9, [*covers, within], most)
    return tidier if prices @ tidier <= cost + 1e-9 * max(1.0, cost) else counts


def _solve(costs: np.ndarray, constraints: list[optimize.LinearConstraint], most: np.ndarray) -> np.ndarray:
    found = optimize.milp(
        costs,
        constraints=constraints,
        integrality=np.ones(len(costs), dtype=np.int_),
        bounds=optimize.Bounds(0, most),
        options={"mip_rel_gap": 0.0},
    )
    if found.x is None:
        raise CalculationError(f"No combination of containers was found: {found.message}", field="containers")
    return np.rint(found.x)


def _check(needs: Sequence[float], offers: Sequence[Offer]) -> None:
    if not 1 <= len(offers) <= MAX_CONTAINERS:
        raise CalculationError(f"Give 1 to {MAX_CONTAINERS} containers to choose from.", field="containers")
    for index, offer in enumerate(offers):
        if len(offer.amounts) != len(needs) or not all(math.isfinite(a) and a >= 0 for a in offer.amounts):
            raise CalculationError(
                f"Container {index + 1} must give {len(needs)} amounts of 0 or more.", field="containers"
            )
        if not (math.isfinite(offer.price) and offer.price >= 0):
            raise CalculationError(
                f"Container {index + 1} has a price of {offer.price:g}. Give 0 or more.", field="containers"
            )
    for index, need in enumerate(needs):
        if not (math.isfinite(need) and need >= 0):
            raise CalculationError(f"A need of {need:g} cannot be covered. Give 0 or more.", field="needs")
        if need > 0 and not any(offer.amounts[index] > 0 for offer in offers):
            raise CalculationError(
                f"Nothing on offer holds material {index + 1}. Add a container that does.", field="containers"
            )
        smallest = min((offer.amounts[index] for offer in offers if offer.amounts[index] > 0), default=1.0)
        if need / smallest > 100_000:
            raise CalculationError(
                f"{need:g} is over 100,000 times the smallest container. Check the units.", field="needs"
            )
