"""Reading the shelf for screens, each with a fixed number of queries."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any, Generic

from django.http import Http404

from nublet.core.materials.batches import use_by
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Recipe, product_ids
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import ShelfKind, Thing, outline_of, to_product
from nublet.web.shelf.models import BuildUpVersion, ProductBatch, ShelfProduct

PAGE = 50


@dataclass(frozen=True, kw_only=True)
class ProductRow:
    """A product as a list shows it."""

    id: int
    is_archived: bool
    product: Product
    price_per_l: float | None


@dataclass(frozen=True, kw_only=True)
class ProductPage:
    """Some of the products that were asked for, and how many there are."""

    n_found: int
    rows: tuple[ProductRow, ...]


@dataclass(frozen=True, kw_only=True)
class BatchRow:
    """A batch with the last day on which it is good."""

    batch: ProductBatch
    use_by: date | None
    is_past: bool


@dataclass(frozen=True, kw_only=True)
class ProductDetail:
    """A product with its batches, and the build-ups that name it."""

    id: int
    is_archived: bool
    product: Product
    price_per_l: float | None
    batches: tuple[BatchRow, ...]
    used_in: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class ThingRow(Generic[Thing]):
    """A thing to choose; ``item_id`` is the number of the shop's own, ``None`` for what ships."""

    item_id: int | None
    is_archived: bool
    id: str
    thing: Thing


@dataclass(frozen=True, kw_only=True)
class LibraryRow:
    """A version of a build-up to use again; ``recipe`` is known by families alone."""

    version: BuildUpVersion
    recipe: Recipe


def find_products(
    person: Person, *, search: str = "", family: str = "", is_archived: bool = False, start: int = 0
) -> ProductPage:
    """Find products whose words hold every word of ``search``, by name, a page from ``start``. Two queries."""
    rows = ShelfProduct.objects.filter(shop=person.shop_id, is_archived=is_archived)
    if family:
        rows = rows.filter(family=family)
    for word in search.casefold().split():
        rows = rows.filter(search_text__contains=word)
    page = rows.order_by("name", "maker")[start : start + PAGE]
    return ProductPage(n_found=rows.count(), rows=tuple(_product_row(row) for row in page))


def find_product(person: Person, product_id: int, *, today: date) -> ProductDetail:
    """A product of the shop. Three queries. Raises ``Http404`` for any other."""
    row = ShelfProduct.objects.filter(shop=person.shop_id, pk=product_id).prefetch_related("batches").first()
    if row is None:
        raise Http404
    product = to_product(row)
    versions = BuildUpVersion.objects.filter(build_up__shop=person.shop_id).select_related("build_up")
    users = [v for v in versions.order_by("build_up__name", "number") if row.pk in product_ids(v.recipe)]
    return ProductDetail(
        id=row.pk,
        is_archived=row.is_archived,
        product=product,
        price_per_l=product.price_per_l(),
        batches=tuple(
            _batch_row(batch, product, today)
            for batch in sorted(row.batches.all(), key=lambda b: (b.is_used_up, b.number))
        ),
        used_in=tuple(f"{v.build_up.name}, version {v.number}" for v in users),
    )


def list_things(person: Person, kind: ShelfKind[Any, Thing]) -> list[ThingRow[Thing]]:
    """The shop's own things of a kind with keys, then those that ship. One query."""
    own = kind.owned_by(person.shop_id).order_by("name")
    return [
        *(
            ThingRow(item_id=row.pk, is_archived=row.is_archived, id=row.key, thing=kind.to_thing(row))
            for row in own
        ),
        *(
            ThingRow(item_id=None, is_archived=False, id=name, thing=each)
            for name, each in kind.shipped.items()
        ),
    ]


def list_versions(person: Person) -> list[LibraryRow]:
    """All versions of the shop's build-ups, newest of each name first. One query."""
    versions = BuildUpVersion.objects.filter(build_up__shop=person.shop_id).select_related("build_up")
    return [
        LibraryRow(version=version, recipe=outline_of(version.recipe))
        for version in versions.order_by("build_up__name", "-number")
    ]


def _product_row(row: ShelfProduct) -> ProductRow:
    product = to_product(row)
    return ProductRow(
        id=row.pk, is_archived=row.is_archived, product=product, price_per_l=product.price_per_l()
    )


def _batch_row(batch: ProductBatch, product: Product, today: date) -> BatchRow:
    last = use_by(
        opened_on=batch.opened_on,
        best_before=batch.best_before,
        keeps_opened_d=product.label.keeps_opened_d,
    )
    return BatchRow(batch=batch, use_by=last, is_past=last is not None and last < today)
