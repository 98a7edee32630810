"""What can be set about a shop's bench: its zone, its hands, its instruments. The only writer of these tables."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any
from zoneinfo import ZoneInfo

from django.db import transaction

from nublet.core.errors import PlanError
from nublet.core.plain import tidy
from nublet.core.planning.spec import MAX_PEOPLE
from nublet.instruments.lines import KINDS
from nublet.web.bench.adapters import to_hands
from nublet.web.bench.models import Hands, InstrumentAddress, ShopBench
from nublet.web.bench.paces import check_paces
from nublet.web.people.audit import record
from nublet.web.people.models import Person, Shop
from nublet.web.people.policies import require

# What pyserial opens and an owner may name: a port of this machine, or a socket.
_ADDRESSES = ("/dev/", "socket://", "COM")


def bench_of(shop: Shop) -> ShopBench:
    """The shop's bench, made with usual figures the first time it is asked for."""
    found, _ = ShopBench.objects.get_or_create(shop=shop)
    return found


@transaction.atomic
def set_bench(actor: Person, fields: Mapping[str, Any]) -> ShopBench:
    """Change what the bench has; only what is given changes.

    Raises
    ------
    PermissionDenied
        If the actor is a judge, or sets an instrument's address without owning the shop.
    PlanError
        If the zone is unknown, or hands or an address cannot be.
    """
    require(actor, "set_bench")
    bench = ShopBench.objects.select_for_update().get(pk=bench_of(actor.shop).pk)
    for name in ("time_zone", "heat_blocks", "irons", "rack_places", "cleanup_min", "airing_min"):
        if name in fields:
            setattr(bench, name, fields[name])
    try:
        ZoneInfo(bench.time_zone)
    except (KeyError, ValueError, OSError) as error:
        raise PlanError(
            f"{bench.time_zone!r} is not a time zone. Write it as a region and a city, or UTC.",
            field="time_zone",
        ) from error
    if "paces" in fields:
        bench.paces = check_paces(fields["paces"])
    bench.save()
    of_shop = [
        name for name in ("cup_step_ml", "scale_step_g", "currency", "thinner_prices") if name in fields
    ]
    for name in of_shop:
        value = fields[name]
        setattr(actor.shop, name, tidy(value) if isinstance(value, str) else value)
    actor.shop.save(update_fields=of_shop)
    if "hands" in fields:
        _set_hands(actor.shop, fields["hands"])
    if "instruments" in fields:
        _set_instruments(actor, fields["instruments"])
    record(actor, "set_bench", actor.shop, fields=sorted(fields))
    return bench


def active_hands(shop_id: int) -> list[Hands]:
    """The hands that work at the bench, in the order of their lanes. One query."""
    return list(Hands.objects.filter(shop=shop_id, is_active=True).order_by("pk"))


def _set_hands(shop: Shop, wanted: Sequence[Mapping[str, Any]]) -> None:
    """Make the shop's active hands those that are wanted, known by their names or, renamed, by their numbers."""
    if len(wanted) > MAX_PEOPLE:
        raise PlanError(f"{len(wanted)} pairs of hands are too many. At most {MAX_PEOPLE}.", field="hands")
    known = {row.pk: row for row in Hands.objects.filter(shop=shop)}
    by_name = {row.name: row for row in known.values()}
    kept = set()
    for index, plain in enumerate(wanted):
        name = tidy(str(plain.get("name") or ""))
        row = known.get(plain.get("id") or 0) or by_name.get(name) or Hands(shop=shop)
        row.name, row.hours, row.days_off = (
            name,
            list(plain.get("hours", row.hours or [])),
            sorted(plain.get("days_off", row.days_off or [])),
        )
        row.is_active = True
        where = f"hands.{index}"
        if not name:
            raise PlanError("Give each pair of hands a name.", field=f"{where}.name")
        other = by_name.get(name)
        if (other is not None and other.pk != row.pk) or row.pk in kept:
            raise PlanError(f"There are hands called {name!r} already.", field=f"{where}.name")
        try:
            to_hands(row)
        except PlanError as error:
            part = (error.field or "").removeprefix("hands")
            said = error.message.removeprefix("hands.")
            raise PlanError(f"{name}: {said}", field=where + part) from error
        row.save()
        by_name[name] = row
        kept.add(row.pk)
    Hands.objects.filter(shop=shop).exclude(pk__in=kept).update(is_active=False)


def _set_instruments(actor: Person, wanted: Mapping[str, str]) -> None:
    require(actor, "set_instruments")
    for kind, given in wanted.items():
        address = str(given).strip()
        if kind not in KINDS:
            raise PlanError(
                f"There is no instrument {kind!r}. Choose one of: {', '.join(KINDS)}.",
                field=f"instruments.{kind}",
            )
        if address and not address.startswith(_ADDRESSES):
            raise PlanError(
                f"{address!r} is no address. Give a port such as /dev/ttyUSB0, or socket://127.0.0.1:8331.",
                field=f"instruments.{kind}",
            )
        if address:
            InstrumentAddress.objects.update_or_create(
                shop=actor.shop, kind=kind, defaults={"address": address}
            )
        else:
            InstrumentAddress.objects.filter(shop=actor.shop, kind=kind).delete()
