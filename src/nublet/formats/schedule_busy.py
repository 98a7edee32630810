"""What stands in other plans of a shop, from JSON and to it; the shapes are in ``docs/formats.md``."""

from __future__ import annotations

from typing import Any

from nublet.core.errors import PlanError
from nublet.core.planning.spec import Busy, BusyAir, BusyHands
from nublet.formats.plain_reader import PlainReader

_READ = PlainReader(PlanError)
_HAZARDS = ("acid", "ammonia", "bleach", "flammable", "hot", "solvent")


def busy_from_plain(plain: object) -> Busy:
    """What other plans have taken; nothing where nothing is said. Raises ``PlanError``."""
    if plain is None:
        return Busy()
    whole = _READ.mapping(plain, "busy", {"hands", "air"}, required=())
    hands = _READ.items(whole.get("hands") or [], "busy.hands")
    air = _READ.items(whole.get("air") or [], "busy.air")
    return Busy(
        hands=tuple(_hands(each, f"busy.hands.{index}") for index, each in enumerate(hands)),
        air=tuple(_air(each, f"busy.air.{index}") for index, each in enumerate(air)),
    )


def busy_to_plain(busy: Busy) -> dict[str, Any]:
    """The plain mapping that :func:`busy_from_plain` reads."""
    return {
        "hands": [
            {"name": each.name, "start_s": each.start_s, "end_s": each.end_s, "product": each.product}
            for each in busy.hands
        ],
        "air": [
            {
                "start_s": each.start_s, "end_s": each.end_s, "hazards": list(each.hazards), "heat_blocks": each.heat_blocks,
                "irons": each.irons, "rack_places": each.rack_places,
            }
            for each in busy.air
        ],
    }  # fmt: skip


def _hands(item: object, path: str) -> BusyHands:
    keys = {"name", "start_s", "end_s", "product"}
    plain = _READ.mapping(item, path, keys, required=("name", "start_s", "end_s"))
    start_s, end_s = _span(plain, path)
    product = plain.get("product") or ""
    return BusyHands(
        name=_READ.text(plain["name"], f"{path}.name"),
        start_s=start_s,
        end_s=end_s,
        product=_READ.text(product, f"{path}.product") if product else "",
    )


def _air(item: object, path: str) -> BusyAir:
    keys = {"start_s", "end_s", "hazards", "heat_blocks", "irons", "rack_places"}
    plain = _READ.mapping(item, path, keys, required=("start_s", "end_s"))
    start_s, end_s = _span(plain, path)
    hazards = _READ.texts(plain.get("hazards") or [], f"{path}.hazards")
    for index, hazard in enumerate(hazards):
        _READ.choice(hazard, f"{path}.hazards.{index}", _HAZARDS)
    return BusyAir(
        start_s=start_s,
        end_s=end_s,
        hazards=tuple(hazards),
        heat_blocks=_READ.whole(plain.get("heat_blocks", 0), f"{path}.heat_blocks"),
        irons=_READ.whole(plain.get("irons", 0), f"{path}.irons"),
        rack_places=_READ.whole(plain.get("rack_places", 0), f"{path}.rack_places"),
    )


def _span(plain: Any, path: str) -> tuple[int, int]:
    start_s = _READ.whole(plain["start_s"], f"{path}.start_s")
    end_s = _READ.whole(plain["end_s"], f"{path}.end_s")
    if end_s < start_s:
        raise PlanError(f"{path} ends before it begins. Swap the two.", field=path)
    return start_s, end_s
