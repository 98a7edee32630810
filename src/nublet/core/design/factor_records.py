"""A crossing as plain lists, mappings and numbers, and back; and the levels of preparation that ship."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, cast, get_args

from nublet.core.design.factors import Crossing, Factor, FactorKind, Level, Place
from nublet.core.errors import DesignError, NubletError
from nublet.core.materials.preparations import Preparation, preparation_from_dict
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import layer_from_dict, recipe_by_label, simple_recipe
from nublet.core.plain import as_plain, tidy

_SANDED = (80, 120, 180)
PREPARATIONS: dict[str, Preparation] = {
    "sanded to 180": Preparation(grits=_SANDED),
    "sanded to 120": Preparation(grits=(80, 120)),
    "sanded to 240": Preparation(grits=(80, 120, 180, 240)),
    "grain raised first": Preparation(grits=_SANDED, water_popped=True),
    "wiped with solvent": Preparation(grits=_SANDED, cleaning="solvent"),
    "cleaned": Preparation(grits=_SANDED, washed="cleaner"),
    "de-greyed": Preparation(grits=(), washed="de-greyer"),
    "charred lightly": Preparation(grits=(), charring="light", brushed=True),
    "charred, medium": Preparation(grits=(), charring="medium", brushed=True),
    "charred deep": Preparation(grits=(), charring="deep", brushed=True),
}
_KEYS = {"factors", "out", "bare_at"}
_USUAL_COATS = 2


def presets_as_plain() -> list[dict[str, Any]]:
    """The preparations that ship, as levels."""
    return [{"name": name, "preparation": as_plain(each)} for name, each in PREPARATIONS.items()]


def crossing_from_dict(plain: Mapping[str, Any], products: Mapping[int, Product]) -> Crossing:
    """Read a crossing. A finish is a product as its label asks, or a family in two coats.

    Parameters
    ----------
    plain : mapping
        ``factors`` with ``kind``, ``on`` and ``levels``; ``out``; ``bare_at``.
    products : mapping of int to Product
        Those that it may name, by shelf number.

    Raises
    ------
    DesignError
        If a kind or a place is unknown, or a level says nothing; ``field`` is the path.
    """
    unknown = sorted(set(plain) - _KEYS)
    if unknown:
        raise DesignError(f"A crossing has no {unknown[0]!r}.", field=unknown[0])
    return Crossing(
        factors=tuple(
            _factor(each, products, f"factors.{index}")
            for index, each in enumerate(plain.get("factors") or ())
        ),
        out=frozenset(tuple(tidy(str(name)) for name in cell) for cell in plain.get("out") or ()),
        bare_at=tuple(tidy(str(name)) for name in plain.get("bare_at") or ()),
    )


def product_ids_of(plain: Mapping[str, Any]) -> set[int]:
    """Shelf numbers of all products that a plain crossing names."""
    levels: Sequence[Mapping[str, Any]] = [
        level for factor in plain.get("factors") or () for level in factor.get("levels") or ()
    ]
    named = [level.get("product") for level in levels]
    named += [layer.get("product") for level in levels for layer in level.get("layers") or ()]
    return {number for number in named if number is not None}


def _factor(plain: Mapping[str, Any], products: Mapping[int, Product], where: str) -> Factor:
    kind, on = plain.get("kind"), plain.get("on", "panels")
    if kind not in get_args(FactorKind):
        raise DesignError(
            f"{kind!r} is no factor. Choose one of: {', '.join(get_args(FactorKind))}.", field=f"{where}.kind"
        )
    if on not in get_args(Place):
        raise DesignError(f"{on!r} is no place. Choose panels or sections.", field=f"{where}.on")
    return Factor(
        kind=cast("FactorKind", kind),
        on=cast("Place", on),
        levels=tuple(
            _level(cast("FactorKind", kind), level, products, f"{where}.levels.{number}")
            for number, level in enumerate(plain.get("levels") or ())
        ),
    )


def _level(kind: FactorKind, plain: Mapping[str, Any], products: Mapping[int, Product], where: str) -> Level:
    name = tidy(str(plain.get("name") or ""))
    try:
        if kind == "preparation":
            given = plain.get("preparation")
            return Level(name=name, preparation=None if given is None else preparation_from_dict(given))
        if kind == "coats":
            coats = plain.get("coats")
            return Level(name=name, coats=coats if isinstance(coats, int) else None)
        if kind == "top":
            return Level(
                name=name,
                layers=tuple(
                    layer_from_dict(layer, products, index)
                    for index, layer in enumerate(plain.get("layers") or ())
                ),
            )
        number, family = plain.get("product"), str(plain.get("family") or "")
        if number is not None and number not in products:
            raise DesignError(f"Product {number} is not on your shelf. Choose another.")
        if number is not None:
            return Level(name=name, recipe=recipe_by_label(products[number]))
        return Level(name=name, recipe=simple_recipe(family, _USUAL_COATS) if family else None)
    except NubletError as error:
        raise DesignError(error.message, field=where) from error
