"""Products as plain mappings: writing, reading, and the one place that decides what a product may be."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from typing import Any

from nublet.core.errors import ShelfError
from nublet.core.materials.families import FAMILIES
from nublet.core.materials.products import Container, Found, Label, Part, Product
from nublet.core.plain import check_fields, read_fields, read_number, tidy, words_of

_WINDOWS = (
    ("label.wipe_off_from_min", "label.wipe_off_to_min"),
    ("label.recoat_from_h", "label.recoat_to_h"),
    ("label.temperature_from_c", "label.temperature_to_c"),
)
MAX_PARTS = 4


def check_product(product: Product) -> None:
    """Refuse a product that cannot be as it is described.

    Raises
    ------
    ShelfError
        Says which field, what it holds, and what would do.
    """
    if not tidy(product.name):
        raise ShelfError("Give the product a name.", field="name")
    if product.family not in FAMILIES:
        raise ShelfError(
            f"{product.family!r} is not a finish family. Choose one of: {', '.join(sorted(FAMILIES))}.",
            field="family",
        )
    for owner, prefix in ((product, ""), (product.label, "label."), (product.found, "found.")):
        check_fields(owner, prefix)
    for first, last in _WINDOWS:
        low_end, high_end = _at(product, first), _at(product, last)
        if low_end is not None and high_end is not None and low_end > high_end:
            raise ShelfError(
                f"{words_of(last)} is {high_end:g}, less than {words_of(first)}, {low_end:g}. Turn them round.",
                field=last,
            )
    _check_parts(product)


def _check_parts(product: Product) -> None:
    if not 1 <= len(product.parts) <= MAX_PARTS:
        raise ShelfError(
            f"A product has 1 to {MAX_PARTS} parts; this has {len(product.parts)}.", field="parts"
        )
    names = [part.name.strip().casefold() for part in product.parts]
    for index, part in enumerate(product.parts):
        if not names[index]:
            raise ShelfError(
                "Give each part a name, such as 'Base' and 'Hardener'.", field=f"parts.{index}.name"
            )
        if len(part.name) > 60:
            raise ShelfError(
                "A part's name has at most 60 characters. Shorten it.", field=f"parts.{index}.name"
            )
        if names.index(names[index]) != index:
            raise ShelfError(f"Two parts are called {part.name!r}. Rename one.", field=f"parts.{index}.name")
        if not 0 < part.share <= 1000:
            raise ShelfError(
                f"{part.name}: a share of {part.share:g} cannot be mixed. Give more than 0, up to 1000.",
                field=f"parts.{index}.share",
            )
    for index, container in enumerate(product.containers):
        where = f"containers.{index}"
        if len(container.amounts) != len(product.parts):
            raise ShelfError(
                f"Container {index + 1} gives {len(container.amounts)} amounts; the product has {len(product.parts)} "
                "parts. Give one for each, 0 for what it does not hold.",
                field=where,
            )
        if not all(0 <= amount <= 1_000_000 for amount in container.amounts) or not any(container.amounts):
            raise ShelfError(
                f"Container {index + 1} must hold something: more than 0, up to 1,000,000 mL or g.",
                field=f"{where}.amounts",
            )
        if not 0 <= container.price <= 1_000_000:
            raise ShelfError(
                f"Container {index + 1} has a price of {container.price:g}. Give 0 to 1,000,000.",
                field=f"{where}.price",
            )


def product_as_dict(product: Product) -> dict[str, Any]:
    """The product as plain lists, mappings and numbers, without its shelf number."""
    plain = asdict(product)
    del plain["id"]
    plain["parts"] = [dict(part) for part in plain["parts"]]
    plain["containers"] = [
        {"amounts": list(box["amounts"]), "price": box["price"]} for box in plain["containers"]
    ]
    return plain


def product_from_dict(plain: Mapping[str, Any], *, product_id: int | None = None) -> Product:
    """Read a product and check it. Fields that are missing keep their defaults.

    Raises
    ------
    ShelfError
        If a field is unknown, of the wrong kind, or out of range.
    """
    nested = {"id", "parts", "containers", "label", "found"}
    product = Product(
        **read_fields(Product, {"name": "", "family": "", **plain}, skip=nested),
        id=product_id,
        label=Label(**read_fields(Label, _mapping(plain, "label"), prefix="label.")),
        found=Found(**read_fields(Found, _mapping(plain, "found"), prefix="found.")),
        parts=tuple(
            Part(**read_fields(Part, _entry(part, f"parts.{index}"), prefix=f"parts.{index}."))
            for index, part in enumerate(_list(plain, "parts"))
        )
        or (Part(name="Finish"),),
        containers=tuple(_container(box, index) for index, box in enumerate(_list(plain, "containers"))),
    )
    product = replace(product, name=tidy(product.name), maker=" ".join(product.maker.split()))
    check_product(product)
    return product


def _container(box: object, index: int) -> Container:
    entry = _entry(box, f"containers.{index}")
    amounts = [
        read_number(amount, f"containers.{index}.amounts")
        for amount in _list(entry, "amounts", f"containers.{index}.")
    ]
    price = read_number(entry.get("price", 0), f"containers.{index}.price")
    return Container(amounts=tuple(amounts), price=price)


def _mapping(plain: Mapping[str, Any], name: str) -> Mapping[str, Any]:
    return _entry(plain.get(name) or {}, name)


def _entry(value: object, path: str) -> Mapping[str, Any]:
    if not isinstance(value, Mapping):
        raise ShelfError(f"{words_of(path)} is {value!r}; it is an object with named fields.", field=path)
    return value


def _list(plain: Mapping[str, Any], name: str, prefix: str = "") -> list[Any]:
    value = plain.get(name) or []
    if not isinstance(value, list | tuple):
        raise ShelfError(f"{words_of(prefix + name)} is {value!r}; it is a list.", field=prefix + name)
    return list(value)


def _at(product: Product, path: str) -> Any:
    owner, _, name = path.rpartition(".")
    return getattr(getattr(product, owner) if owner else product, name)
