"""HTTP for the shelf. Keepers only: what is on it would break the blind for a judge."""

from __future__ import annotations

from typing import IO, Any

from django.http import HttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers, status
from rest_framework.parsers import BaseParser, JSONParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.errors import ShelfError
from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.sign_in import person_of
from nublet.web.shelf import actions, selectors
from nublet.web.shelf import serializers as shapes
from nublet.web.shelf.adapters import (
    OWN_AGENTS,
    OWN_PROTOCOLS,
    OWN_USES,
    PRODUCTS,
    WOODS,
    ShelfKind,
    things_on_shelf,
)

REFUSED = {400: ProblemSerializer, 403: ProblemSerializer, 404: ProblemSerializer}
MOST_BYTES = 30_000_000
KINDS: dict[str, ShelfKind[Any, Any]] = {
    "products": PRODUCTS,
    "species": WOODS,
    "agents": OWN_AGENTS,
    "uses": OWN_USES,
    "protocols": OWN_PROTOCOLS,
}


class BytesParser(BaseParser):
    """A file as it is, so that its encoding can be looked at."""

    media_type = "application/octet-stream"

    def parse(  # type: ignore[override]
        self, stream: IO[Any], media_type: str | None = None, parser_context: Any = None
    ) -> bytes:
        """Read the file. Raises ``ShelfError`` when it is too large."""
        content: bytes = stream.read(MOST_BYTES + 1)
        if len(content) > MOST_BYTES:
            raise ShelfError("The file is over 30 MB. Split it.", field="file")
        return content


class ProductsView(APIView):
    """The products on the shelf."""

    acts = {"get": "see_shelf", "post": "change_shelf"}

    @extend_schema(
        operation_id="find_products",
        parameters=[shapes.ProductSearchSerializer],
        responses={200: shapes.ProductPageSerializer, **REFUSED},
    )
    def get(self, request: Request) -> Response:
        """Find products: every word must match; a page from ``start``."""
        form = shapes.ProductSearchSerializer(data=request.query_params)
        form.is_valid(raise_exception=True)
        page = selectors.find_products(person_of(request), **form.validated_data)
        return Response(shapes.ProductPageSerializer(page).data)

    @extend_schema(
        request=shapes.ProductFieldsSerializer, responses={201: shapes.ProductDetailSerializer, **REFUSED}
    )
    def post(self, request: Request) -> Response:
        """Put a product on the shelf."""
        row = actions.add_item(person_of(request), PRODUCTS, _valid(shapes.ProductFieldsSerializer, request))
        return _answer_product(request, row.pk, status.HTTP_201_CREATED)


class ProductView(APIView):
    """One product."""

    acts = {"get": "see_shelf", "put": "change_shelf"}

    @extend_schema(responses={200: shapes.ProductDetailSerializer, **REFUSED})
    def get(self, request: Request, item_id: int) -> Response:
        """Show a product."""
        return _answer_product(request, item_id)

    @extend_schema(
        request=shapes.ProductFieldsSerializer, responses={200: shapes.ProductDetailSerializer, **REFUSED}
    )
    def put(self, request: Request, item_id: int) -> Response:
        """Change a product."""
        plain = _valid(shapes.ProductFieldsSerializer, request)
        actions.change_item(person_of(request), PRODUCTS, item_id, plain)
        return _answer_product(request, item_id)


class BatchesView(APIView):
    """The batches of a product."""

    acts = {"post": "change_shelf"}

    @extend_schema(
        request=shapes.BatchFieldsSerializer, responses={201: shapes.ProductDetailSerializer, **REFUSED}
    )
    def post(self, request: Request, item_id: int) -> Response:
        """Write a batch down."""
        actions.keep_batch(person_of(request), item_id, **_valid(shapes.BatchFieldsSerializer, request))
        return _answer_product(request, item_id, status.HTTP_201_CREATED)


class BatchView(APIView):
    """One batch."""

    acts = {"put": "change_shelf"}

    @extend_schema(
        request=shapes.BatchFieldsSerializer, responses={200: shapes.ProductDetailSerializer, **REFUSED}
    )
    def put(self, request: Request, item_id: int, batch_id: int) -> Response:
        """Change a batch."""
        fields = _valid(shapes.BatchFieldsSerializer, request)
        actions.keep_batch(person_of(request), item_id, batch_id=batch_id, **fields)
        return _answer_product(request, item_id)


def things_views(
    kind: ShelfKind[Any, Any],
    fields: type[serializers.Serializer[Any]],
    row: type[serializers.Serializer[Any]],
) -> tuple[type[APIView], type[APIView]]:
    """The doors of one kind of thing with keys: all to choose from and a new one; and one of the shop's own, to change."""
    noun = kind.noun

    class ThingsView(APIView):
        acts = {"get": "see_shelf", "post": "change_shelf"}

        @extend_schema(
            description=f"List the shop's own {noun}s and those that ship.", responses={200: row(many=True)}
        )
        def get(self, request: Request) -> Response:
            return Response(row(selectors.list_things(person_of(request), kind), many=True).data)

        @extend_schema(
            description=f"Put a {noun} on the shelf.",
            request=fields,
            responses={201: shapes.ItemSerializer, **REFUSED},
        )
        def post(self, request: Request) -> Response:
            written = actions.add_item(person_of(request), kind, _valid(fields, request))
            return Response(shapes.ItemSerializer(written).data, status=status.HTTP_201_CREATED)

    class ThingView(APIView):
        acts = {"put": "change_shelf"}

        @extend_schema(
            description=f"Change a {noun}.",
            request=fields,
            responses={200: shapes.ItemSerializer, **REFUSED},
        )
        def put(self, request: Request, item_id: int) -> Response:
            written = actions.change_item(person_of(request), kind, item_id, _valid(fields, request))
            return Response(shapes.ItemSerializer(written).data)

    return ThingsView, ThingView


THINGS = {
    "species": things_views(WOODS, shapes.SpeciesFieldsSerializer, shapes.WoodSerializer),
    "agents": things_views(OWN_AGENTS, shapes.AgentFieldsSerializer, shapes.AgentSerializer),
    "uses": things_views(OWN_USES, shapes.UseFieldsSerializer, shapes.ShelfUseSerializer),
    "protocols": things_views(OWN_PROTOCOLS, shapes.ProtocolFieldsSerializer, shapes.ShelfProtocolSerializer),
}


class DuplicateView(APIView):
    """A copy of something on the shelf."""

    acts = {"post": "change_shelf"}

    @extend_schema(request=None, responses={201: shapes.ItemSerializer, **REFUSED})
    def post(self, request: Request, kind: str, item_id: int) -> Response:
        """Put a copy on the shelf."""
        copy = actions.duplicate_item(person_of(request), KINDS[kind], item_id)
        return Response(shapes.ItemSerializer(copy).data, status=status.HTTP_201_CREATED)


class ArchiveView(APIView):
    """The archive."""

    acts = {"post": "change_shelf"}

    @extend_schema(request=shapes.ArchiveSerializer, responses={200: shapes.ItemSerializer, **REFUSED})
    def post(self, request: Request, kind: str, item_id: int) -> Response:
        """Take something off the shelf, or put it back."""
        is_archived = _valid(shapes.ArchiveSerializer, request)["is_archived"]
        row = actions.archive_item(person_of(request), KINDS[kind], item_id, is_archived=is_archived)
        return Response(shapes.ItemSerializer(row).data)


class ShelfFileView(APIView):
    """A kind of thing as a file, out and in."""

    acts = {"get": "see_shelf", "post": "change_shelf"}

    parser_classes = [BytesParser, JSONParser]

    @extend_schema(
        parameters=[OpenApiParameter("form", enum=["csv", "json"], default="csv")],
        responses={(200, "text/csv"): OpenApiTypes.STR, **REFUSED},
    )
    def get(self, request: Request, kind: str) -> HttpResponse:
        """Take the shop's own things of a kind away as CSV or JSON."""
        things = things_on_shelf(KINDS[kind], person_of(request).shop)
        table = KINDS[kind].table
        as_json = request.query_params.get("form") == "json"
        text, form = (table.write_json(things), "json") if as_json else (table.write_csv(things), "csv")
        media_type = "application/json" if as_json else "text/csv; charset=utf-8"
        headers = {"Content-Disposition": f'attachment; filename="{kind}.{form}"'}
        return HttpResponse(text, content_type=media_type, headers=headers)

    @extend_schema(
        parameters=[shapes.ImportOptionsSerializer],
        request={"application/octet-stream": OpenApiTypes.BINARY},
        responses={200: shapes.ImportResultSerializer, **REFUSED},
    )
    def post(self, request: Request, kind: str) -> Response:
        """Look a CSV or JSON file over, and keep of it what is asked for."""
        form = shapes.ImportOptionsSerializer(data=request.query_params)
        form.is_valid(raise_exception=True)
        if not isinstance(request.data, bytes):
            raise ShelfError("Send the file itself, as application/octet-stream.", field="file")
        found = actions.import_items(person_of(request), KINDS[kind], request.data, **form.validated_data)
        return Response(shapes.ImportResultSerializer(found).data)


class VersionsView(APIView):
    """The shop's build-ups in all their versions."""

    acts = {"get": "see_shelf"}

    @extend_schema(responses={200: shapes.LibraryRowSerializer(many=True)})
    def get(self, request: Request) -> Response:
        """List versions to use again, newest of each name first."""
        return Response(
            shapes.LibraryRowSerializer(selectors.list_versions(person_of(request)), many=True).data
        )


def _valid(shape: type[serializers.BaseSerializer[Any]], request: Request) -> dict[str, Any]:
    form = shape(data=request.data)
    form.is_valid(raise_exception=True)
    fields: dict[str, Any] = form.validated_data
    return fields


def _answer_product(request: Request, product_id: int, code: int = status.HTTP_200_OK) -> Response:
    found = selectors.find_product(person_of(request), product_id, today=timezone.now().date())
    return Response(shapes.ProductDetailSerializer(found).data, status=code)
