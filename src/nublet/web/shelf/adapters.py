"""Rows of the shelf to the core's types and back."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Generic, TypeVar

from nublet.core.materials.families import FAMILIES
from nublet.core.materials.product_records import product_as_dict, product_from_dict
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Recipe, product_ids, recipe_from_dict
from nublet.core.materials.species import SPECIES, Species, species_as_dict, species_from_dict
from nublet.core.protocols.agents import AGENTS, Agent, agent_as_dict, agent_from_dict
from nublet.core.protocols.plain import protocol_as_dict, protocol_from_dict, with_natures
from nublet.core.protocols.shipped import PROTOCOLS
from nublet.core.protocols.tests import Protocol
from nublet.core.ranking.shipped import USES
from nublet.core.ranking.use_records import use_as_dict, use_from_dict
from nublet.core.ranking.uses import Use
from nublet.formats.products_file import PRODUCT_TABLE
from nublet.formats.shelf_table import TableKind
from nublet.formats.uses_and_protocols_file import PROTOCOL_TABLE, USE_TABLE
from nublet.formats.woods_and_agents_file import AGENT_TABLE, SPECIES_TABLE
from nublet.web.people.models import Shop
from nublet.web.shelf.models import (
    BuildUpVersion,
    ShelfAgent,
    ShelfItem,
    ShelfProduct,
    ShelfProtocol,
    ShelfSpecies,
    ShelfUse,
)

Row = TypeVar("Row", bound=ShelfItem)
Thing = TypeVar("Thing")


@dataclass(frozen=True, kw_only=True)
class ShelfKind(Generic[Row, Thing]):
    """How one kind of thing is kept: its table, its rows, its file, and what ships beside it.

    ``identity_of`` gives the columns that together are unique in a shop.
    """

    noun: str
    rows: type[Row]
    from_dict: Callable[[Mapping[str, Any]], Thing]
    as_dict: Callable[[Thing], dict[str, Any]]
    fill: Callable[[Row, Thing], None]
    identity_of: Callable[[Row], dict[str, str]]
    table: TableKind[Thing]
    shipped: Mapping[str, Thing]
    # The core's thing of a row, and how it follows what it was before; by default it takes its place.
    to_thing: Callable[[Row], Thing]
    follow: Callable[[Thing, Thing], Thing] = lambda thing, _: thing

    def owned_by(self, shop_id: int) -> Any:
        """The shop's own rows."""
        return self.rows._default_manager.filter(shop=shop_id)

    def known_to(self, shop_id: int, *, offered_only: bool = False) -> dict[str, Thing]:
        """What ships and the shop's own by name, by id; of kinds with keys. One query."""
        own = self.owned_by(shop_id).order_by("name")
        if offered_only:
            own = own.filter(is_archived=False)
        return {**self.shipped, **{row.key: self.to_thing(row) for row in own}}


def to_product(row: ShelfProduct) -> Product:
    """The core's product of a row."""
    return product_from_dict(row.plain, product_id=row.pk, is_stored=True)


def woods_of(shop_id: int, *, offered_only: bool = False) -> dict[str, Species]:
    """All woods that a shop can choose from or has used, by id: what ships and its own. One query.

    ``offered_only``, here and below, leaves those in the archive out.
    """
    return WOODS.known_to(shop_id, offered_only=offered_only)


def uses_of(shop_id: int) -> dict[str, Use]:
    """All uses of a shop, by id. One query."""
    return OWN_USES.known_to(shop_id)


def protocols_of(shop_id: int, *, offered_only: bool = False) -> dict[str, Protocol]:
    """All protocols of a shop, by id, with what its own agents must be kept from. Two queries."""
    agents = OWN_AGENTS.known_to(shop_id).values()
    known = OWN_PROTOCOLS.known_to(shop_id, offered_only=offered_only)
    return {name: with_natures(protocol, agents) for name, protocol in known.items()}


def products_named(recipes: Iterable[Mapping[str, Any]], shop_id: int) -> dict[int, Product]:
    """The shelf's products that stored recipes name, by shelf number, archived ones too. One query."""
    wanted = set().union(*(product_ids(plain) for plain in recipes))
    rows = ShelfProduct.objects.filter(shop=shop_id, pk__in=wanted)
    return {row.pk: to_product(row) for row in rows}


def to_recipe(version: BuildUpVersion, products: Mapping[int, Product]) -> Recipe:
    """The recipe of a version: with the products as they were when it is frozen, else as they are on the shelf."""
    if version.frozen_at is not None:
        products = {
            int(number): product_from_dict(plain, product_id=int(number), is_stored=True)
            for number, plain in version.products.items()
        }
    return recipe_from_dict(version.recipe, products, is_stored=True)


def outline_of(plain: Mapping[str, Any]) -> Recipe:
    """A stored recipe with each product known by its family alone: enough to draw it, and no query."""
    layers = [{**layer, "product": None} for layer in plain["layers"]]
    return recipe_from_dict({**plain, "layers": layers, "final_product": None}, {}, is_stored=True)


def _fill_product(row: ShelfProduct, product: Product) -> None:
    row.name, row.maker, row.family = product.name, product.maker, product.family
    words = (product.name, product.maker, FAMILIES[product.family].name, product.tint, product.sheen)
    row.search_text = " ".join(word for word in words if word).casefold()[:500]


def _fill_name(row: ShelfItem, thing: Species | Agent | Use | Protocol) -> None:
    row.name = thing.name


def _next_version(protocol: Protocol, before: Protocol) -> Protocol:
    same = replace(protocol, id=before.id, version=before.version)
    return same if same == before else replace(protocol, version=before.version + 1)


PRODUCTS: ShelfKind[ShelfProduct, Product] = ShelfKind(
    noun="product",
    rows=ShelfProduct,
    from_dict=product_from_dict,
    as_dict=product_as_dict,
    fill=_fill_product,
    identity_of=lambda row: {"name": row.name, "maker": row.maker},
    table=PRODUCT_TABLE,
    shipped={},
    to_thing=to_product,
)
WOODS: ShelfKind[ShelfSpecies, Species] = ShelfKind(
    noun="wood",
    rows=ShelfSpecies,
    from_dict=species_from_dict,
    as_dict=species_as_dict,
    fill=_fill_name,
    identity_of=lambda row: {"name": row.name},
    table=SPECIES_TABLE,
    shipped=SPECIES,
    to_thing=lambda row: species_from_dict(row.plain, species_id=row.key, is_stored=True),
)
OWN_AGENTS: ShelfKind[ShelfAgent, Agent] = ShelfKind(
    noun="agent",
    rows=ShelfAgent,
    from_dict=agent_from_dict,
    as_dict=agent_as_dict,
    fill=_fill_name,
    identity_of=lambda row: {"name": row.name},
    table=AGENT_TABLE,
    shipped=AGENTS,
    to_thing=lambda row: agent_from_dict(row.plain, agent_id=row.key, is_stored=True),
)
OWN_USES: ShelfKind[ShelfUse, Use] = ShelfKind(
    noun="use",
    rows=ShelfUse,
    from_dict=use_from_dict,
    as_dict=use_as_dict,
    fill=_fill_name,
    identity_of=lambda row: {"name": row.name},
    table=USE_TABLE,
    shipped=USES,
    to_thing=lambda row: use_from_dict(row.plain, use_id=row.key, is_stored=True),
)
OWN_PROTOCOLS: ShelfKind[ShelfProtocol, Protocol] = ShelfKind(
    noun="protocol",
    rows=ShelfProtocol,
    from_dict=protocol_from_dict,
    as_dict=protocol_as_dict,
    fill=_fill_name,
    identity_of=lambda row: {"name": row.name},
    table=PROTOCOL_TABLE,
    shipped=PROTOCOLS,
    to_thing=lambda row: protocol_from_dict(row.plain, protocol_id=row.key, is_stored=True),
    follow=_next_version,
)


def things_on_shelf(kind: ShelfKind[Any, Thing], shop: Shop) -> list[Thing]:
    """The shop's own things of a kind that are not archived, by name, for its files."""
    rows = kind.owned_by(shop.pk).filter(is_archived=False).order_by("name")
    return [kind.to_thing(row) for row in rows]
