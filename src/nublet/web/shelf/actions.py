"""What can be done to the shelf: one function a change, and the only writers of its tables."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, Literal, TypeVar

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from django.utils.text import slugify

from nublet.core.errors import ShelfError
from nublet.core.materials.batches import use_by
from nublet.core.materials.product_records import product_as_dict
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Recipe, product_ids, recipe_as_dict
from nublet.core.plain import folded
from nublet.formats.shelf_table import RowFault
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.people.policies import require, within
from nublet.web.shelf.adapters import PRODUCTS, ShelfKind, products_named, to_product
from nublet.web.shelf.models import BuildUp, BuildUpVersion, ProductBatch, ShelfItem

Row = TypeVar("Row", bound=ShelfItem)
Thing = TypeVar("Thing")
Keep = Literal["nothing", "all", "good"]


@dataclass(frozen=True, kw_only=True)
class ImportResult:
    """What an import came to: rows that are good, rows that were written, and the faults of the others."""

    n_good: int
    n_written: int
    faults: tuple[RowFault, ...]


@transaction.atomic
def add_item(actor: Person, kind: ShelfKind[Row, Thing], plain: Mapping[str, Any]) -> Row:
    """Put something on the shelf.

    Raises
    ------
    PermissionDenied
        If the actor is a judge.
    ShelfError
        If it cannot be as described, or its name is taken.
    """
    require(actor, "change_shelf")
    row = kind.rows(shop=actor.shop)
    _write(kind, row, plain)
    record(actor, f"add_{kind.noun}", row, name=row.name)
    return row


@transaction.atomic
def change_item(actor: Person, kind: ShelfKind[Row, Thing], item_id: int, plain: Mapping[str, Any]) -> Row:
    """Change something on the shelf; a started trial keeps it as it was. Raises as :func:`add_item`."""
    row = _lock(actor, kind, item_id)
    before = row.plain
    _write(kind, row, plain)
    # What it was stays in the record: nothing that was entered is lost.
    record(actor, f"change_{kind.noun}", row, name=row.name, before=before)
    return row


@transaction.atomic
def duplicate_item(actor: Person, kind: ShelfKind[Row, Thing], item_id: int) -> Row:
    """Put a copy on the shelf, under a name that is free."""
    row = _lock(actor, kind, item_id)
    taken = set(kind.owned_by(actor.shop_id).values_list("name", flat=True))
    stem = row.name[:105]
    names = (f"{stem} copy", *(f"{stem} copy {n}" for n in range(2, len(taken) + 3)))
    copy = kind.rows(shop=actor.shop)
    _write(kind, copy, {**row.plain, "name": next(name for name in names if name not in taken)})
    record(actor, f"duplicate_{kind.noun}", row, copy=copy.pk)
    return copy


@transaction.atomic
def archive_item(actor: Person, kind: ShelfKind[Row, Thing], item_id: int, *, is_archived: bool) -> Row:
    """Take something off the shelf, or put it back. Nothing is deleted."""
    row = _lock(actor, kind, item_id)
    row.is_archived = is_archived
    row.save()
    record(
        actor,
        f"{'archive' if is_archived else 'restore'}_{kind.noun}",
        row,
        name=row.name,
    )
    return row


@transaction.atomic
def import_items(actor: Person, kind: ShelfKind[Row, Thing], content: bytes, *, keep: Keep) -> ImportResult:
    """Read a CSV or JSON file onto the shelf, in one transaction.

    Parameters
    ----------
    actor : Person
    kind : ShelfKind
    content : bytes
        The file.
    keep : "nothing", "all" or "good"
        ``nothing`` only looks. ``all`` writes when every row is good, else nothing. ``good`` writes the good rows.

    Raises
    ------
    PermissionDenied, ShelfError
        If the actor is a judge, or the file as a whole cannot be read.
    """
    require(actor, "change_shelf")
    read = kind.table.read(content)
    faults = list(read.faults)
    good: list[Row] = []
    taken = {_folded(kind, row) for row in kind.owned_by(actor.shop_id)}
    keys = _taken_keys(kind, actor.shop_id)
    for line, thing in read.things:
        row = kind.rows(shop=actor.shop, plain=kind.as_dict(thing))
        kind.fill(row, thing)
        if _folded(kind, row) in taken or _ships(kind, row.name):
            reason = f"A {kind.noun} of this name is already on the shelf. Rename this one or leave it out."
            faults.append(RowFault(line=line, column="name", reason=reason))
            continue
        _give_key(row, keys)
        good.append(row)
    faults.sort(key=lambda fault: fault.line)
    writes = good if keep == "good" or (keep == "all" and not faults) else []
    if writes:
        kind.rows._default_manager.bulk_create(writes, batch_size=500)
        record(actor, f"import_{kind.noun}s", actor.shop, written=len(writes), left_out=len(faults))
    return ImportResult(n_good=len(good), n_written=len(writes), faults=tuple(faults))


@transaction.atomic
def keep_batch(
    actor: Person,
    product_id: int,
    *,
    batch_id: int | None = None,
    number: str,
    opened_on: date | None = None,
    best_before: date | None = None,
    is_used_up: bool = False,
    note: str = "",
) -> ProductBatch:
    """Write down a batch of a product, or change one.

    Raises
    ------
    Http404, PermissionDenied
    ShelfError
        If it has no number, the number is taken, or a date cannot be.
    """
    product = _lock(actor, PRODUCTS, product_id)
    batch = (
        ProductBatch(product=product)
        if batch_id is None
        else product.batches.select_for_update().filter(pk=batch_id).first()
    )
    if batch is None:
        raise Http404
    batch.number = number.strip()
    batch.opened_on, batch.best_before = opened_on, best_before
    batch.is_used_up, batch.note = is_used_up, note.strip()
    if not batch.number:
        raise ShelfError("Give the batch the number that stands on the container.", field="number")
    if product.batches.filter(number=batch.number).exclude(pk=batch.pk).exists():
        raise ShelfError(
            f"Batch {batch.number} of {product.name} is already written down. Change that one.",
            field="number",
        )
    use_by(
        opened_on=opened_on,
        best_before=best_before,
        keeps_opened_d=to_product(product).label.keeps_opened_d,
    )
    batch.save()
    record(actor, "keep_batch", product, batch=batch.number)
    return batch


def make_version(actor: Person, name: str, recipe: Recipe) -> BuildUpVersion:
    """Return the version of the named build-up that has just this recipe, made now if there is none.

    Call it inside a transaction of the caller's; the version is the caller's audit entry to name.
    """
    build_up, _ = BuildUp.objects.get_or_create(shop=actor.shop, name=name)
    # The lock keeps two who make a version at once from taking the same number.
    BuildUp.objects.select_for_update().get(pk=build_up.pk)
    plain = recipe_as_dict(recipe)
    versions = list(build_up.versions.order_by("number"))
    products = products_named([plain], actor.shop_id)
    for version in versions:
        if version.recipe == plain and version.products in ({}, _as_they_are(plain, products)):
            return version
    number = versions[-1].number + 1 if versions else 1
    return BuildUpVersion.objects.create(build_up=build_up, number=number, recipe=plain, made_by=actor)


def freeze_versions(versions: Sequence[BuildUpVersion], shop_id: int) -> None:
    """Freeze versions that a trial has begun to use, with their products as they are now."""
    products = products_named((version.recipe for version in versions), shop_id)
    for version in versions:
        if version.frozen_at is None:
            version.products = _as_they_are(version.recipe, products)
            version.frozen_at = timezone.now()
            version.save()


def products_as_they_are(recipes: Iterable[Mapping[str, Any]], shop_id: int) -> dict[str, Any]:
    """The products that stored recipes name, as they are now, by shelf number. One query where they name any."""
    plain = list(recipes)
    wanted = set().union(*(product_ids(each) for each in plain))
    products = products_named(plain, shop_id) if wanted else {}
    return {str(number): product_as_dict(products[number]) for number in sorted(products)}


def _as_they_are(plain: Mapping[str, Any], products: Mapping[int, Product]) -> dict[str, Any]:
    return {str(number): product_as_dict(products[number]) for number in sorted(product_ids(plain))}


def _write(kind: ShelfKind[Row, Thing], row: Row, plain: Mapping[str, Any]) -> None:
    thing = kind.from_dict(plain)
    name_before = row.name
    if row.pk is not None:
        thing = kind.follow(thing, kind.to_thing(row))
    kind.fill(row, thing)
    row.plain = kind.as_dict(thing)
    # One that had its name before something of that name shipped keeps it.
    if _ships(kind, row.name) and row.name != name_before:
        raise ShelfError(
            f"A {kind.noun} called {row.name!r} ships with Nublet. Choose another name, such as '{row.name}, ours'.",
            field="name",
        )
    others = kind.owned_by(row.shop_id).exclude(pk=row.pk)
    if others.filter(**kind.identity_of(row)).exists():
        raise ShelfError(
            f"There is already a {kind.noun} called {row.name!r} on the shelf or in its archive. Choose another name.",
            field="name",
        )
    _give_key(row, _taken_keys(kind, row.shop_id))
    row.save()


def _lock(actor: Person, kind: ShelfKind[Row, Any], item_id: int) -> Row:
    rows = within(actor, "change_shelf", kind.rows._default_manager.select_for_update())
    row: Row | None = rows.filter(pk=item_id).first()
    if row is None:
        raise Http404
    return row


def _folded(kind: ShelfKind[Row, Any], row: Row) -> tuple[str, ...]:
    return tuple(folded(value) for value in kind.identity_of(row).values())


def _ships(kind: ShelfKind[Any, Any], name: str) -> bool:
    return folded(name) in {folded(thing.name) for thing in kind.shipped.values()}


def _give_key(row: ShelfItem, taken: set[str]) -> None:
    """Give a wood or agent its key, once, from its first name, so that what is written with it stays right."""
    if getattr(row, "key", None) != "":
        return
    stem = slugify(row.name)[:50] or "own"
    key = next(key for key in (stem, *(f"{stem}-{n}" for n in range(2, 30_000))) if key not in taken)
    taken.add(key)
    row.key = key  # type: ignore[attr-defined]


def _taken_keys(kind: ShelfKind[Any, Any], shop_id: int) -> set[str]:
    if not kind.shipped:
        return set()
    return set(kind.shipped) | set(kind.owned_by(shop_id).values_list("key", flat=True))
