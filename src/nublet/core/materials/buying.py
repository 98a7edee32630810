"""What to buy: the cheapest containers that cover a need, as a small integer programme."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import optimize

from nublet.core.errors import CalculationError

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

    minimise Σ price·n subject to Σ amount·n ≥ need for each material, n whole. Solved exactly by branch and bound.

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
    covers = [optimize.LinearConstraint(amounts, lb=need * (1 - 1e-12))]
    counts = _solve(prices, covers, most)
    cost = float(prices @ counts)
    within = optimize.LinearConstraint(prices[np.newaxis, :], ub=cost + 1e-6 * max(1.0, cost))
    scale = np.where(need > 0, need, 1.0)
    tidier = _solve((amounts / scale[:, np.newaxis]).sum(axis=0) + 1e-9, [*covers, within], most)
    if prices @ tidier <= cost + 1e-9 * max(1.0, cost):
        counts = tidier
    bought = amounts @ counts
    return Purchase(
        counts=tuple(int(n) for n in counts),
        cost=float(prices @ counts),
        bought=tuple(bought.tolist()),
        left_over=tuple(np.maximum(0.0, bought - need).tolist()),
    )


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
