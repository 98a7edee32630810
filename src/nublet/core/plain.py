"""The one codec between dataclasses and plain values, as files, requests and tables hold them, and what fields may hold.

A dataclass says by its annotations what its fields are: numbers, texts, truth values, choices (``Literal``), days and moments,
dataclasses, tuples and frozensets of any of these, ``None``. :func:`as_plain` writes it, :func:`from_plain` reads it back, and
:func:`check_fields` holds it to the limits that stand in its annotations.
"""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Collection, Mapping
from dataclasses import MISSING, Field, dataclass, fields, is_dataclass
from datetime import date, datetime
from types import UnionType
from typing import Annotated, Any, Literal, TypeVar, Union, get_args, get_origin, get_type_hints

from nublet.core.errors import NubletError, ShelfError
from nublet.core.quantities import in_unit, say

Made = TypeVar("Made")


@dataclass(frozen=True)
class Span:
    """What a number may be, ends included, in a field's ``Annotated``; of a list what each may be."""

    low: float
    high: float
    unit: str


@dataclass(frozen=True)
class Longest:
    """The most characters of a text, in a field's ``Annotated``; 4,000 where a field has none."""

    characters: int = 4000


def tidy(text: str) -> str:
    """A name as it is kept: single blanks inside, none around; empty when nothing of it can be seen.

    Joiners inside a word are part of how some scripts are written, and stay.

    Examples
    --------
    >>> tidy("  Elm   board "), tidy(" \u200b\ufeff ")
    ('Elm board', '')
    """
    if all(sign.isspace() or unicodedata.category(sign) in _UNSEEN for sign in text):
        return ""
    return " ".join(text.split())


_UNSEEN = frozenset({"Cc", "Cf", "Cs"})


def as_plain(thing: Any, *, leave: Collection[str] = ()) -> Any:
    """A dataclass, or anything that may be in one, as mappings, lists, texts, numbers and ``None``; sets in order.

    Its own fields in ``leave`` are left out.
    """
    if is_dataclass(thing):
        return {
            item.name: as_plain(getattr(thing, item.name)) for item in fields(thing) if item.name not in leave
        }
    if isinstance(thing, frozenset):
        return sorted(as_plain(each) for each in thing)
    if isinstance(thing, tuple | list):
        return [as_plain(each) for each in thing]
    return thing.isoformat() if isinstance(thing, date) else thing


def from_plain(
    target: type[Made],
    plain: object,
    *,
    at: str = "",
    error: type[NubletError] = ShelfError,
    given: Mapping[str, Any] | None = None,
) -> Made:
    """Return the dataclass of its plain form, each field of the kind that its annotation names.

    Texts are stripped; ``None`` means the default where it is not itself a value. Limits are :func:`check_fields`'s.

    Parameters
    ----------
    target : type
        A dataclass.
    plain : object
        A mapping of its fields.
    at : str
        Where it stands, as a dotted path, for an error's ``field``: ``"label"``.
    error : type
        What to raise.
    given : mapping
        Values of fields that the caller reads itself; what ``plain`` holds of them is passed over.

    Raises
    ------
    NubletError
        Of the type ``error``, if a field is unknown, missing, or of the wrong kind.
    """
    return _Reader(error).thing(target, plain, at, given or {})


@dataclass(frozen=True)
class _Reader:
    error: type[NubletError]

    def thing(self, target: type[Made], plain: object, at: str, given: Mapping[str, Any]) -> Made:
        if not isinstance(plain, Mapping):
            raise self.error(f"{words_of(at)} is {plain!r}; it is an object with named fields.", field=at)
        prefix = f"{at}." if at else ""
        known = {item.name: item for item in fields(target)}  # type: ignore[arg-type]
        unknown = sorted(str(name) for name in set(plain) - set(known))
        if unknown:
            raise self.error(
                f"There is no field {prefix}{unknown[0]}. Known: {', '.join(prefix + name for name in known)}.",
                field=prefix + unknown[0],
            )
        values = dict(given)
        for name, item in known.items():
            if name in given:
                continue
            value, hint = plain.get(name), _hints(target)[name]
            if value is not None:
                values[name] = self.value(value, hint, prefix + name)
            elif _is_optional(hint) and name in plain:
                values[name] = None
            elif not _has_default(item):
                raise self.error(f"{words_of(prefix + name)} is missing. Fill it in.", field=prefix + name)
        return target(**values)

    def value(self, value: Any, hint: Any, path: str) -> Any:
        kind = bare(hint)
        if is_dataclass(kind) and isinstance(kind, type):
            return self.thing(kind, value, path, {})
        if get_origin(kind) in (tuple, frozenset):
            return self.items(value, kind, path)
        if get_origin(kind) is Literal:
            return self.choice(value, kind, path)
        if kind in (float, int):
            number = read_number(value, path, error=self.error)
            if kind is int and number != int(number):
                raise self.error(f"{words_of(path)} is {number:g}; it is a whole number.", field=path)
            return int(number) if kind is int else number
        if kind is bool and not isinstance(value, bool):
            raise self.error(f"{words_of(path)} is {value!r}; it is true or false.", field=path)
        if kind is bool:
            return value
        if not isinstance(value, str):
            raise self.error(f"{words_of(path)} is {value!r}; it is a text.", field=path)
        return self.moment(value, kind, path) if kind in (date, datetime) else value.strip()

    def items(self, value: Any, kind: Any, path: str) -> Any:
        if not isinstance(value, list | tuple | frozenset):
            raise self.error(f"{words_of(path)} is {value!r}; it is a list.", field=path)
        held = get_args(kind)
        if get_origin(kind) is frozenset or held[-1] is Ellipsis:
            of = [held[0]] * len(value)
        elif len(value) == len(held):
            of = list(held)
        else:
            raise self.error(f"{words_of(path)} has {len(value)} items; it has {len(held)}.", field=path)
        # A thing in a list has a place of its own; a number or word is told by what it is.
        read = (
            None
            if each is None and _is_optional(one)
            else self.value(each, one, f"{path}.{number}" if is_dataclass(bare(one)) else path)
            for number, (each, one) in enumerate(zip(value, of, strict=True))
        )
        return frozenset(read) if get_origin(kind) is frozenset else tuple(read)

    def choice(self, value: Any, kind: Any, path: str) -> Any:
        if value not in get_args(kind):
            choices = ", ".join(str(word) for word in get_args(kind) if word != "")
            raise self.error(
                f"{words_of(path)}: {value!r} is not a choice. Choose one of: {choices}.", field=path
            )
        return value

    def moment(self, value: str, kind: Any, path: str) -> Any:
        try:
            return kind.fromisoformat(value)
        except ValueError as fault:
            shape = "2027-03-01T09:00" if kind is datetime else "2027-03-01"
            raise self.error(f"{words_of(path)} is {value!r}; write it as {shape}.", field=path) from fault


def check_fields(owner: Any, prefix: str = "", *, error: type[NubletError] = ShelfError) -> None:
    """Refuse a number outside its :class:`Span`, a word that is no choice of its ``Literal``, and a text over its :class:`Longest`.

    Dataclasses inside are looked into.

    Parameters
    ----------
    owner : dataclass instance
    prefix : str
        Put before a field's name in an error's ``field``, such as ``"label."``.
    error : type
        What to raise.

    Raises
    ------
    NubletError
        Of the type ``error``; says which field, what it holds, and what would do.
    """
    for name, hint in _hints(type(owner)).items():
        value, path, kind = getattr(owner, name), prefix + name, bare(hint)
        limits = get_args(hint)[1:] if get_origin(hint) is Annotated else ()
        is_list = isinstance(value, tuple | frozenset)
        one = get_args(kind)[0] if is_list and get_args(kind) else kind
        for number, each in enumerate(value if is_list else (value,)):
            if is_dataclass(each) and not isinstance(each, type):
                check_fields(each, f"{path}.{number}." if is_list else f"{path}.", error=error)
            elif each is not None:
                _check_value(each, one, limits, path, error)


def _check_value(value: Any, kind: Any, limits: Collection[Any], path: str, error: type[NubletError]) -> None:
    for limit in limits:
        # Written so that not-a-number fails too.
        if isinstance(limit, Span) and not limit.low <= value <= limit.high:
            raise error(
                say(
                    "{} is {}; it can be {} to {}.",
                    words_of(path),
                    in_unit(value, limit.unit),
                    in_unit(limit.low, limit.unit, is_bare=True),
                    in_unit(limit.high, limit.unit),
                ),
                field=path,
            )
    if get_origin(kind) is Literal:
        _Reader(error).choice(value, kind, path)
    longest = next((each for each in limits if isinstance(each, Longest)), Longest()).characters
    if isinstance(value, str) and len(value) > longest:
        raise error(f"{words_of(path)} has {len(value)} characters; {longest} fit. Shorten it.", field=path)


def bare(hint: Any) -> Any:
    """A field's annotation without ``None`` and without its limits."""
    if get_origin(hint) is Annotated:
        hint = get_args(hint)[0]
    if get_origin(hint) in (Union, UnionType):
        (hint,) = (kind for kind in get_args(hint) if kind is not type(None))
    return hint


def kinds_of(target: type[Any]) -> dict[str, Any]:
    """What each field of a dataclass holds, without ``None`` and without its limits."""
    return {name: bare(hint) for name, hint in _hints(target).items()}


def _hints(target: type[Any]) -> dict[str, Any]:
    if target not in _HINTS:
        _HINTS[target] = get_type_hints(target, include_extras=True)
    return _HINTS[target]


# Looked up for every product of a shelf: found once.
_HINTS: dict[type[Any], dict[str, Any]] = {}


def _is_optional(hint: Any) -> bool:
    return type(None) in get_args(get_args(hint)[0] if get_origin(hint) is Annotated else hint)


def _has_default(item: Field[Any]) -> bool:
    return item.default is not MISSING or item.default_factory is not MISSING


def read_number(value: object, path: str, *, error: type[NubletError] = ShelfError) -> float:
    """A finite number. Raises ``error``."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise error(f"{words_of(path)} is {value!r}; it is a number.", field=path)
    return float(value)


def words_of(path: str) -> str:
    """A field's path as words: ``label.pot_life_min`` is "label pot life min"."""
    return path.replace(".", " ").replace("_", " ")


def folded(name: str) -> str:
    """A name without case, accents and superfluous space: two that fold alike are one name, as the database has it.

    Examples
    --------
    >>> folded(" Café  NOIR") == folded("cafe noir")
    True
    """
    plain = unicodedata.normalize("NFKD", " ".join(name.split()).casefold())
    return "".join(sign for sign in plain if not unicodedata.combining(sign))
