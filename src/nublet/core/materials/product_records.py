"""Products as plain mappings: writing, reading, and the one place that decides what a product may be."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from nublet.core.errors import ShelfError
from nublet.core.materials.families import FAMILIES
from nublet.core.materials.products import Product
from nublet.core.plain import as_plain, check_fields, from_plain, tidy, words_of

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
    check_fields(product)
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
                f"Container {index + 1} must hold something: more than 0, up to 1,000,000 of the unit that it is sold in.",
                field=f"{where}.amounts",
            )
        if not 0 <= container.price <= 1_000_000:
            raise ShelfError(
                f"Container {index + 1} has a price of {container.price:g}. Give 0 to 1,000,000.",
                field=f"{where}.price",
            )


def product_as_dict(product: Product) -> dict[str, Any]:
    """The product as plain lists, mappings and numbers, without its shelf number."""
    plain: dict[str, Any] = as_plain(product, leave=("id",))
    return plain


def product_from_dict(
    plain: Mapping[str, Any], *, product_id: int | None = None, is_stored: bool = False
) -> Product:
    """Read a product and check it. Fields that are missing keep their defaults.

    One that ``is_stored`` was checked when it was saved, and is read as it is: limits may since have narrowed, and it must still
    be shown.

    Raises
    ------
    ShelfError
        If a field is unknown, of the wrong kind, or out of range.
    """
    # A product without parts is one of one part; what is missing of the first two is said by the check.
    plain = {"name": "", "family": "", **plain, "parts": plain.get("parts") or None}
    product = from_plain(Product, plain, given={"id": product_id})
    product = replace(product, name=tidy(product.name), maker=" ".join(product.maker.split()))
    if not is_stored:
        check_product(product)
    return product


def _at(product: Product, path: str) -> Any:
    owner, _, name = path.rpartition(".")
    return getattr(getattr(product, owner) if owner else product, name)
