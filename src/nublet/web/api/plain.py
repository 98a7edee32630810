"""Serializers made from the core's dataclasses, so that a field is named in one place. Shape only: the core checks."""

from __future__ import annotations

from dataclasses import MISSING, Field, fields
from typing import Any, Literal, get_args, get_origin, get_type_hints

from rest_framework import serializers


def serializer_of(
    name: str, target: type[Any], says: str, *, skip: frozenset[str] = frozenset(), **more: Any
) -> type[serializers.Serializer[Any]]:
    """A serializer with a field for each number, text, truth value and choice of a dataclass.

    Parameters
    ----------
    name, says : str
        The serializer's name and docstring, as the API's document shows them.
    target : type
        A dataclass.
    skip : frozenset of str
        Fields to leave out.
    **more : Field or Serializer
        Fields to put in their place.
    """
    hints = get_type_hints(target)
    made = {
        item.name: _field(item, hints[item.name])
        for item in fields(target)
        if item.name not in skip and item.name not in more
    }
    return type(name, (serializers.Serializer,), {"__doc__": says, **made, **more})


def _field(item: Field[Any], hint: Any) -> serializers.Field[Any, Any, Any, Any]:
    required = item.default is MISSING and item.default_factory is MISSING
    kinds = [kind for kind in get_args(hint) if kind is not type(None)] if _is_optional(hint) else [hint]
    (kind,) = kinds
    options: dict[str, Any] = {"required": required, "allow_null": _is_optional(hint)}
    if get_origin(kind) is Literal:
        return serializers.ChoiceField(
            choices=list(get_args(kind)), **options, allow_blank="" in get_args(kind)
        )
    if kind is bool:
        return serializers.BooleanField(**options)
    if kind is float:
        return serializers.FloatField(**options)
    if kind is int:
        return serializers.IntegerField(**options)
    if kind is str:
        return serializers.CharField(**options, allow_blank=True)
    if get_origin(kind) is tuple and get_args(kind)[0] in (int, float):
        child = serializers.IntegerField() if get_args(kind)[0] is int else serializers.FloatField()
        return serializers.ListField(child=child, **options)
    raise TypeError(f"no serializer field for {item.name}: {hint}")


def _is_optional(hint: Any) -> bool:
    return type(None) in get_args(hint)
