"""Sentences in pieces, so that a screen can show their amounts in the person's units."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from nublet.core.quantities import pieces_of


class PieceSerializer(serializers.Serializer[Any]):
    """A part of a sentence: its text in metric units; of an amount also what it is and its metric value.

    ``is_bare`` is an amount without its unit's sign.
    """

    text = serializers.CharField()
    quantity = serializers.CharField(allow_null=True)
    value = serializers.FloatField(allow_null=True)
    is_bare = serializers.BooleanField()


@extend_schema_field(PieceSerializer(many=True))
class ProseField(serializers.Field[Any, Any, Any, Any]):
    """A sentence as its pieces; none for an empty one."""

    def to_representation(self, value: str) -> list[dict[str, Any]]:
        """Piece by piece."""
        return in_pieces(value)


def in_pieces(words: str) -> list[dict[str, Any]]:
    """A sentence's pieces as plain values."""
    return [
        {"text": piece.text, "quantity": piece.quantity, "value": piece.value, "is_bare": piece.is_bare}
        for piece in pieces_of(words)
        if piece.text
    ]
