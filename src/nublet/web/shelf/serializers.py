"""The shapes that the shelf's routes take and give. Shape only: the rules are in the core and the actions."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers

from nublet.core.materials.preparations import Preparation
from nublet.core.materials.products import Product
from nublet.core.materials.recipes import Layer, Recipe
from nublet.core.materials.species import Species
from nublet.core.protocols.acts import ACT_KINDS, Act
from nublet.core.protocols.agents import GROUP_WORDS, Agent
from nublet.core.protocols.looks import READER_WORDS, Look, Read
from nublet.core.protocols.sites import SITE_WORDS
from nublet.core.protocols.tests import TEST_GROUP_WORDS, Ladder, Protocol, Test
from nublet.core.ranking.uses import Use
from nublet.web.api.plain import shown, taken
from nublet.web.shelf.actions import ImportResult
from nublet.web.shelf.models import ProductBatch

# The API's document names these choices by where they stand.
AGENT_GROUPS, TEST_GROUPS = list(GROUP_WORDS), list(TEST_GROUP_WORDS)
ACT_KIND_IDS, READERS, SITE_KINDS = list(ACT_KINDS), list(READER_WORDS), list(SITE_WORDS)

ProductFieldsSerializer = taken(
    Product, name="ProductFieldsSerializer", says="A product's own fields.", skip=("id",)
)
SpeciesFieldsSerializer = taken(
    Species, name="SpeciesFieldsSerializer", says="A wood's own fields.", skip=("id",)
)
AgentFieldsSerializer = taken(
    Agent, name="AgentFieldsSerializer", says="An agent's own fields.", skip=("id",)
)
UseFieldsSerializer = taken(Use, name="UseFieldsSerializer", says="A use's own fields.", skip=("id",))
_LOOKS = taken(Look, name="LookFieldsSerializer")
ProtocolFieldsSerializer = taken(
    Protocol,
    name="ProtocolFieldsSerializer",
    says="A protocol's own fields; its version is the shelf's to count.",
    skip=("id",),
    version=serializers.IntegerField(read_only=True),
    tests=taken(
        Test,
        name="TestFieldsSerializer",
        acts=taken(Act, name="ActFieldsSerializer")(many=True, required=False),
        reads=taken(Read, name="ReadFieldsSerializer")(many=True),
        looks=_LOOKS(many=True, required=False),
    )(many=True),
    looks=_LOOKS(many=True, required=False),
    ladders=taken(Ladder, name="LadderFieldsSerializer")(many=True, required=False),
)


class ProductRowSerializer(serializers.Serializer[Any]):
    """A product as a list shows it."""

    id = serializers.IntegerField()
    is_archived = serializers.BooleanField()
    name = serializers.CharField(source="product.name")
    maker = serializers.CharField(source="product.maker")
    family = serializers.CharField(source="product.family")
    sheen = serializers.CharField(source="product.sheen")
    tint = serializers.CharField(source="product.tint")
    disclosure = serializers.CharField(source="product.disclosure")
    obtained = serializers.CharField(source="product.obtained")
    price_per_l = serializers.FloatField(allow_null=True)


class ProductPageSerializer(serializers.Serializer[Any]):
    """A page of products."""

    n_found = serializers.IntegerField()
    rows = ProductRowSerializer(many=True)


class ProductSearchSerializer(serializers.Serializer[Any]):
    """What to look for among the products."""

    search = serializers.CharField(required=False, default="", allow_blank=True, max_length=120)
    family = serializers.CharField(required=False, default="", allow_blank=True, max_length=60)
    is_archived = serializers.BooleanField(required=False, default=False)
    start = serializers.IntegerField(required=False, default=0, min_value=0, max_value=1_000_000)


class BatchFieldsSerializer(serializers.ModelSerializer[ProductBatch]):
    """A batch to write down."""

    class Meta:
        model = ProductBatch
        fields = ["number", "opened_on", "best_before", "is_used_up", "note"]


class BatchSerializer(serializers.Serializer[Any]):
    """A batch with its last good day."""

    id = serializers.IntegerField(source="batch.pk")
    number = serializers.CharField(source="batch.number")
    opened_on = serializers.DateField(source="batch.opened_on", allow_null=True)
    best_before = serializers.DateField(source="batch.best_before", allow_null=True)
    is_used_up = serializers.BooleanField(source="batch.is_used_up")
    note = serializers.CharField(source="batch.note")
    use_by = serializers.DateField(allow_null=True)
    is_past = serializers.BooleanField()


class ProductDetailSerializer(serializers.Serializer[Any]):
    """A product with its batches and the build-ups that name it."""

    id = serializers.IntegerField()
    is_archived = serializers.BooleanField()
    product = ProductFieldsSerializer()
    price_per_l = serializers.FloatField(allow_null=True)
    batches = BatchSerializer(many=True)
    used_in = serializers.ListField(child=serializers.CharField())


def _row_of(
    fields: type[serializers.Serializer[Any]], name: str, noun: str
) -> type[serializers.Serializer[Any]]:
    """A thing as the list of its kind shows it."""
    return type(
        f"{name}Serializer",
        (serializers.Serializer,),
        {
            "__doc__": f"A {noun}; ``item_id`` is null for what ships.",
            "item_id": serializers.IntegerField(allow_null=True),
            "is_archived": serializers.BooleanField(),
            "id": serializers.CharField(),
            noun: fields(source="thing"),
        },
    )


WoodSerializer = _row_of(SpeciesFieldsSerializer, "Wood", "wood")
AgentSerializer = _row_of(AgentFieldsSerializer, "Agent", "agent")
ShelfUseSerializer = _row_of(UseFieldsSerializer, "ShelfUse", "use")
ShelfProtocolSerializer = _row_of(ProtocolFieldsSerializer, "ShelfProtocol", "protocol")


class ItemSerializer(serializers.Serializer[Any]):
    """The number and name of something that was written."""

    id = serializers.IntegerField()
    name = serializers.CharField()


class ArchiveSerializer(serializers.Serializer[Any]):
    """Off the shelf, or back."""

    is_archived = serializers.BooleanField()


ImportResultSerializer = shown(ImportResult)


class ImportOptionsSerializer(serializers.Serializer[Any]):
    """What to keep of a file: nothing only looks."""

    keep = serializers.ChoiceField(choices=["nothing", "all", "good"], default="nothing")


LayerSerializer = taken(
    Layer,
    name="LayerSerializer",
    says="One product in some coats; known by family alone where there is no product.",
    product=serializers.IntegerField(required=False, allow_null=True),
    family=serializers.CharField(required=False, allow_blank=True),
)
RecipeSerializer = taken(
    Recipe,
    says="A recipe: products by shelf number.",
    preparation=taken(Preparation)(),
    layers=LayerSerializer(many=True),
    final_product=serializers.IntegerField(required=False, allow_null=True),
)


class DrawnLayerSerializer(serializers.Serializer[Any]):
    """A layer as a cross-section shows it."""

    name = serializers.CharField(source="product.name")
    family = serializers.CharField(source="product.family")
    seat = serializers.ChoiceField(choices=["in", "on", "top"], source="product.kind.seat")
    coats = serializers.IntegerField()


class LibraryRowSerializer(serializers.Serializer[Any]):
    """A version of a build-up to use again."""

    version = serializers.IntegerField(source="version.pk")
    name = serializers.CharField(source="version.build_up.name")
    number = serializers.IntegerField(source="version.number")
    is_frozen = serializers.BooleanField(source="version.is_frozen")
    layers = DrawnLayerSerializer(many=True, source="recipe.all_layers")
