"""Serializers made from dataclasses, so that a field is named in one place. Shape only: the core checks.

:func:`serializer_of` is for what is taken in, field by field; :func:`shown` for what is given out, whatever is in it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import MISSING, Field, fields, is_dataclass
from datetime import date, datetime
from types import MappingProxyType, UnionType
from typing import Any, Literal, Union, get_args, get_origin, get_type_hints

from rest_framework import serializers

_PLAIN: dict[type, type[serializers.Field[Any, Any, Any, Any]]] = {
    bool: serializers.BooleanField,
    int: serializers.IntegerField,
    float: serializers.FloatField,
    str: serializers.CharField,
    date: serializers.DateField,
    datetime: serializers.DateTimeField,
}


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


def shown(
    target: type[Any],
    *,
    name: str = "",
    says: str = "",
    skip: tuple[str, ...] = (),
    also: tuple[str, ...] = (),
    **more: Any,
) -> type[serializers.Serializer[Any]]:
    """A serializer that shows a dataclass with all that it holds.

    Parameters
    ----------
    target : type
        A dataclass; what it holds may be numbers, texts, truth values, choices, days and moments, dataclasses, tuples of any of
        these, and ``None``.
    name, says : str
        By default the dataclass's own name and the first paragraph of its docstring.
    skip : tuple of str
        Fields to leave out.
    also : tuple of str
        Properties to show as well; their return types say how.
    **more : Field or Serializer
        Fields to put in their place, or beside them.
    """
    if not (name or says or skip or also or more):
        # One for all: a component of the API's document is one class.
        return _shown_once(target)
    return _make(target, name=name, says=says, skip=skip, also=also, more=more)


def _make(
    target: type[Any],
    *,
    name: str = "",
    says: str = "",
    skip: tuple[str, ...] = (),
    also: tuple[str, ...] = (),
    more: Mapping[str, Any] = MappingProxyType({}),
) -> type[serializers.Serializer[Any]]:
    hints = get_type_hints(target)
    made = {
        item.name: _shown_field(hints[item.name], where=f"{target.__name__}.{item.name}")
        for item in fields(target)
        if item.name not in skip and item.name not in more
    }
    for own in also:
        made[own] = _shown_field(get_type_hints(getattr(target, own).fget)["return"], where=own)
    doc = says or (target.__doc__ or "").split("\n\n")[0]
    attributes = {"__doc__": doc, **made, **more}
    return type(name or f"{target.__name__}Serializer", (serializers.Serializer,), attributes)


_MADE: dict[type[Any], type[serializers.Serializer[Any]]] = {}


def _shown_once(target: type[Any]) -> type[serializers.Serializer[Any]]:
    if target not in _MADE:
        _MADE[target] = _make(target)
    return _MADE[target]


def _shown_field(hint: Any, *, where: str) -> Any:
    if get_origin(hint) in (Union, UnionType):
        (kind,) = (each for each in get_args(hint) if each is not type(None))
        return _one(kind, where=where, allow_null=True)
    return _one(hint, where=where)


def _one(kind: Any, *, where: str, **options: Any) -> Any:
    if kind in _PLAIN:
        return _PLAIN[kind](**options)
    if is_dataclass(kind) and isinstance(kind, type):
        return _shown_once(kind)(**options)
    if get_origin(kind) is Literal:
        return serializers.ChoiceField(choices=list(get_args(kind)), **options)
    if get_origin(kind) in (tuple, frozenset, list):
        # Of a pair whose second may be missing every item may be.
        held = next((each for each in get_args(kind) if _is_optional(each)), get_args(kind)[0])
        if is_dataclass(held) and isinstance(held, type):
            return _shown_once(held)(many=True, **options)
        return serializers.ListField(child=_shown_field(held, where=where), **options)
    raise TypeError(f"{where}: nothing shows {kind}")
