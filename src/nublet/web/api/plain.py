"""Serializers made from dataclasses, so that a field is named in one place. Shape only: the core checks.

:func:`taken` is for what comes in, :func:`shown` for what goes out; both go into whatever a dataclass holds.
"""

from __future__ import annotations

from dataclasses import MISSING, Field, fields, is_dataclass
from datetime import date, datetime
from typing import Annotated, Any, Literal, get_args, get_origin, get_type_hints

from rest_framework import serializers

from nublet.core.plain import bare
from nublet.core.quantities import Typed
from nublet.web.api.prose import ProseField

Shape = type[serializers.Serializer[Any]]

_PLAIN: dict[type, type[serializers.Field[Any, Any, Any, Any]]] = {
    bool: serializers.BooleanField,
    int: serializers.IntegerField,
    float: serializers.FloatField,
    str: serializers.CharField,
    date: serializers.DateField,
    datetime: serializers.DateTimeField,
}


class SetField(serializers.ListField):
    """What has no order of its own, in the same one each time."""

    def to_representation(self, data: Any) -> list[Any]:
        """Sorted."""
        return sorted(super().to_representation(data))


def taken(
    target: type[Any], *, name: str = "", says: str = "", skip: tuple[str, ...] = (), **more: Any
) -> Shape:
    """A serializer of all that a dataclass holds, to fill in: what has a default may be left out.

    Parameters
    ----------
    target : type
        A dataclass; what it holds may be numbers, texts, truth values, choices, days and moments, dataclasses, tuples and
        frozensets of any of these, and ``None``.
    name, says : str
        By default the dataclass's own name and the first paragraph of its docstring.
    skip : tuple of str
        Fields to leave out.
    **more : Field or Serializer
        Fields to put in their place, or beside them.
    """
    return _once(target, name=name, says=says, skip=skip, also=(), more=more, is_taken=True)


def shown(
    target: type[Any],
    *,
    name: str = "",
    says: str = "",
    skip: tuple[str, ...] = (),
    also: tuple[str, ...] = (),
    **more: Any,
) -> Shape:
    """A serializer that shows a dataclass with all that it holds; parameters as of :func:`taken`.

    ``also`` names properties to show as well; their return types say how.
    """
    return _once(target, name=name, says=says, skip=skip, also=also, more=more, is_taken=False)


# One for all: a component of the API's document is one class.
_MADE: dict[tuple[type[Any], bool], Shape] = {}


def _once(
    target: type[Any],
    *,
    name: str,
    says: str,
    skip: tuple[str, ...],
    also: tuple[str, ...],
    more: dict[str, Any],
    is_taken: bool,
) -> Shape:
    key = (target, is_taken)
    is_plain = not (name or says or skip or also or more)
    if is_plain and key in _MADE:
        return _MADE[key]
    hints = get_type_hints(target, include_extras=True)
    made = {
        item.name: _field(
            hints[item.name], is_taken, where=f"{target.__name__}.{item.name}", **_options(item, is_taken)
        )
        for item in fields(target)
        if item.name not in skip and item.name not in more
    }
    for own in also:
        made[own] = _field(
            get_type_hints(getattr(target, own).fget, include_extras=True)["return"], is_taken, where=own
        )
    doc = says or (target.__doc__ or "").split("\n\n")[0]
    shape = type(
        name or f"{target.__name__}Serializer", (serializers.Serializer,), {"__doc__": doc, **made, **more}
    )
    return _MADE.setdefault(key, shape) if is_plain else shape


def _options(item: Field[Any], is_taken: bool) -> dict[str, Any]:
    if not is_taken:
        return {}
    return {"required": item.default is MISSING and item.default_factory is MISSING}


def _field(hint: Any, is_taken: bool, *, where: str, **options: Any) -> Any:
    kind = bare(hint)
    if type(None) in get_args(get_args(hint)[0] if get_origin(hint) is Annotated else hint):
        options["allow_null"] = True
    if get_origin(hint) is Annotated and any(isinstance(each, Typed) for each in get_args(hint)[1:]):
        return ProseField(**options)
    if kind in _PLAIN:
        if kind is str and is_taken:
            options["allow_blank"] = True
        return _PLAIN[kind](**options)
    if is_dataclass(kind) and isinstance(kind, type):
        return _inside(kind, is_taken)(**options)
    if get_origin(kind) is Literal:
        if is_taken:
            options["allow_blank"] = "" in get_args(kind)
        return serializers.ChoiceField(choices=list(get_args(kind)), **options)
    if get_origin(kind) in (tuple, frozenset, list):
        # Of a pair whose second may be missing every item may be.
        held = next((each for each in get_args(kind) if type(None) in get_args(each)), get_args(kind)[0])
        if is_dataclass(held) and isinstance(held, type):
            return _inside(held, is_taken)(many=True, **options)
        listed = SetField if get_origin(kind) is frozenset else serializers.ListField
        return listed(child=_field(held, is_taken, where=where), **options)
    raise TypeError(f"{where}: nothing shows {kind}")


def _inside(target: type[Any], is_taken: bool) -> Shape:
    return taken(target) if is_taken else shown(target)
