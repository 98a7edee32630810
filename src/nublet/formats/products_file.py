"""Products as CSV or JSON. docs/formats.md describes the columns."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import fields
from typing import Any

from nublet.core.errors import ShelfError
from nublet.core.materials.product_records import product_as_dict, product_from_dict
from nublet.core.materials.products import Found, Label, Product
from nublet.core.plain import folded, kinds_of
from nublet.formats.shelf_table import TableKind, figure, number_in, yes_or_no

_FIRST = ("name", "maker", "family")
_PLAIN = (
    *_FIRST,
    *(item.name for item in fields(Product) if item.name not in {*_FIRST, "id", "label", "found"}),
)
_LABEL = tuple(f"label.{item.name}" for item in fields(Label))
_FOUND = tuple(f"found.{item.name}" for item in fields(Found))
_NUMBERS = {
    prefix + name
    for target, prefix in ((Product, ""), (Label, "label."), (Found, "found."))
    for name, kind in kinds_of(target).items()
    if kind is float
}
_PART = re.compile(r"^(?P<name>.*\S)\s+(?P<figure>\d+(?:[.,]\d+)?)$")


def _cells_as_dict(cells: Mapping[str, str]) -> dict[str, Any]:
    row: dict[str, Any] = {"label": {}, "found": {}}
    for column, cell in cells.items():
        owner, _, name = column.rpartition(".")
        (row[owner] if owner else row)[name] = _value(column, cell)
    row["containers"] = _read_containers(
        cells.get("containers", ""), [part["name"] for part in row.get("parts", [])]
    )
    return row


def _cells_of(product: Product) -> dict[str, Any]:
    plain = product_as_dict(product)
    row = {name: plain[name] for name in _PLAIN}
    row["parts"] = " : ".join(f"{part.name} {figure(part.share)}" for part in product.parts)
    row["containers"] = "; ".join(_container_text(product, n) for n in range(len(product.containers)))
    row |= {f"label.{name}": value for name, value in plain["label"].items()}
    row |= {f"found.{name}": value for name, value in plain["found"].items()}
    return row


def _value(column: str, cell: str) -> Any:
    if column in _NUMBERS:
        return number_in(cell, column)
    if column == "label.dissolves_wax":
        return yes_or_no(cell, column)
    if column == "parts":
        return [_read_part(text, column) for text in cell.split(":")]
    return cell


def _read_part(text: str, column: str) -> dict[str, Any]:
    found = _PART.match(text.strip())
    if found is None:
        raise ShelfError(
            f"{text.strip()!r} is no part with its share. Write such as 'Base 9 : Hardener 1'.", field=column
        )
    return {"name": found["name"], "share": number_in(found["figure"], column)}


def _read_containers(cell: str, parts: list[str]) -> list[dict[str, Any]]:
    """``Base 900 + Hardener 100 = 39; 1000 = 32``: amounts by part, then the price; no name where there is one part."""
    names = [name.casefold() for name in parts] or ["finish"]
    boxes = []
    for text in filter(None, (piece.strip() for piece in cell.split(";"))):
        held, equals, price = text.rpartition("=")
        if not equals:
            raise ShelfError(
                f"{text!r} has no price. Write such as '1000 = 32.50; 250 = 12'.", field="containers"
            )
        amounts = [0.0] * len(names)
        for piece in held.split("+"):
            named = _PART.match(piece.strip())
            if named is None and len(names) == 1:
                amounts[0] = number_in(piece, "containers")
            elif named is None or named["name"].casefold() not in names:
                raise ShelfError(
                    f"{piece.strip()!r} names no part of this product ({', '.join(parts)}).",
                    field="containers",
                )
            else:
                amounts[names.index(named["name"].casefold())] = number_in(named["figure"], "containers")
        boxes.append({"amounts": amounts, "price": number_in(price, "containers")})
    return boxes


def _container_text(product: Product, index: int) -> str:
    container = product.containers[index]
    if len(product.parts) == 1:
        held = figure(container.amounts[0])
    else:
        held = " + ".join(
            f"{part.name} {figure(amount)}"
            for part, amount in zip(product.parts, container.amounts, strict=True)
            if amount
        )
    return f"{held} = {figure(container.price)}"


PRODUCT_TABLE: TableKind[Product] = TableKind(
    noun="product",
    columns=(*_PLAIN, *_LABEL, *_FOUND),
    required=("name", "family"),
    cells_as_dict=_cells_as_dict,
    from_dict=product_from_dict,
    as_dict=product_as_dict,
    cells_of=_cells_of,
    key=lambda product: (folded(product.name), folded(product.maker)),
    key_words=lambda product: f"{product.name!r} by {product.maker or 'no maker'}",
)
