"""Reading a shop's bench, and its instruments."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from nublet.core.errors import PlanError
from nublet.instruments.drivers import Instrument, InstrumentReading
from nublet.instruments.lines import KINDS
from nublet.web.bench.bench_actions import active_hands, bench_of
from nublet.web.bench.models import InstrumentAddress
from nublet.web.bench.paces import ShopPace, shop_paces
from nublet.web.people.models import Person


@dataclass(frozen=True, kw_only=True)
class BenchFacts:
    """What the shop's bench has; every kind of instrument with its address, empty where there is none."""

    time_zone: str
    heat_blocks: int
    irons: int
    rack_places: int | None
    cleanup_min: float
    airing_min: float
    cup_step_ml: float
    scale_step_g: float
    currency: str
    thinner_prices: dict[str, float]
    hands: tuple[dict[str, Any], ...]
    instruments: tuple[dict[str, str], ...]
    paces: tuple[ShopPace, ...]


def view_bench(person: Person) -> BenchFacts:
    """The person's bench. Five queries."""
    bench = bench_of(person.shop)
    addresses = dict(InstrumentAddress.objects.filter(shop=person.shop_id).values_list("kind", "address"))
    return BenchFacts(
        time_zone=bench.time_zone,
        heat_blocks=bench.heat_blocks,
        irons=bench.irons,
        rack_places=bench.rack_places,
        cleanup_min=bench.cleanup_min,
        airing_min=bench.airing_min,
        cup_step_ml=person.shop.cup_step_ml,
        scale_step_g=person.shop.scale_step_g,
        currency=person.shop.currency,
        thinner_prices=person.shop.thinner_prices or {},
        hands=tuple(
            {"id": row.pk, "name": row.name, "hours": row.hours, "days_off": row.days_off}
            for row in active_hands(person.shop_id)
        ),
        instruments=tuple(
            {"kind": kind.id, "name": kind.name, "address": addresses.get(kind.id, "")}
            for kind in KINDS.values()
        ),
        paces=shop_paces(bench),
    )


def instruments_of(shop_id: int) -> tuple[str, ...]:
    """Kinds of the instruments that are set up. One query."""
    rows = InstrumentAddress.objects.filter(shop=shop_id).order_by("kind")
    return tuple(rows.values_list("kind", flat=True))


def read_instrument(person: Person, kind: str) -> InstrumentReading:
    """Ask one of the shop's instruments for a reading.

    Raises
    ------
    PlanError
        If there is no such kind, or none is set up.
    InstrumentError
        If it is not there, does not answer, or answers what cannot be.
    """
    if kind not in KINDS:
        raise PlanError(f"There is no instrument {kind!r}. Choose one of: {', '.join(KINDS)}.", field="kind")
    found = InstrumentAddress.objects.filter(shop=person.shop_id, kind=kind).first()
    if found is None:
        raise PlanError(
            f"No {KINDS[kind].name} is set up. Give its address under Bench, or type the value.", field="kind"
        )
    return Instrument(kind, found.address).read()
