"""The one codec between dataclasses and plain values, as files, requests and tables hold them, and what fields may hold.

A dataclass says by its annotations what its fields are: numbers, texts, truth values, choices (``Literal``), days and moments,
dataclasses, tuples and frozensets of any of these, ``None``. :func:`as_plain` writes it, :func:`from_plain` reads it back, and
:func:`check_fields` holds it to the limits that stand in its annotations.
"""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Callable, Collection, Mapping
from dataclasses import MISSING, dataclass, fields, is_dataclass
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


def as_plain(thing: Any, *, leave: Collection[str] = (), is_brief: bool = False) -> Any:
    """A dataclass, or anything that may be in one, as mappings, lists, texts, numbers and ``None``; sets in order.

    Its own fields in ``leave`` are left out; of a brief form also all fields, inside too, that hold their default, and
    whole numbers stand without a point.
    """
    if is_dataclass(thing):
        return {
            item.name: as_plain(getattr(thing, item.name), is_brief=is_brief)
            for item in fields(thing)
            if item.name not in leave and not (is_brief and getattr(thing, item.name) == item.default)
        }
    if isinstance(thing, frozenset):
        return sorted(as_plain(each) for each in thing)
    if isinstance(thing, tuple | list):
        return [as_plain(each, is_brief=is_brief) for each in thing]
    if is_brief and isinstance(thing, float) and thing.is_integer():
        return int(thing)
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
    return _thing(target, plain, at, error, given or {})


Read = Callable[[Any, str, type[NubletError]], Any]
Check = Callable[[Any, str, type[NubletError]], None]


@dataclass(frozen=True, slots=True)
class _Slot:
    """What there is to know of a field: how it is read, and held to its limits."""

    name: str
    is_optional: bool
    has_default: bool
    read: Read
    check: Check


def _slots(target: type[Any]) -> tuple[_Slot, ...]:
    if target not in _SLOTS:
        hints = get_type_hints(target, include_extras=True)
        _SLOTS[target] = tuple(
            _Slot(
                item.name,
                _is_optional(hints[item.name]),
                item.default is not MISSING or item.default_factory is not MISSING,
                _reader(bare(hints[item.name])),
                _checker(hints[item.name]),
            )
            for item in fields(target)
        )
    return _SLOTS[target]


# Asked for with every product of a shelf: made once.
_SLOTS: dict[type[Any], tuple[_Slot, ...]] = {}


def _thing(
    target: type[Made], plain: object, at: str, error: type[NubletError], given: Mapping[str, Any]
) -> Made:
    if not isinstance(plain, Mapping):
        raise error(f"{words_of(at)} is {plain!r}; it is an object with named fields.", field=at)
    prefix = f"{at}." if at else ""
    slots = _slots(target)
    n_known, values = 0, dict(given)
    for slot in slots:
        name = slot.name
        n_known += name in plain
        if name in given:
            continue
        value = plain.get(name)
        if value is not None:
            values[name] = slot.read(value, prefix + name, error)
        elif slot.is_optional and name in plain:
            values[name] = None
        elif not slot.has_default:
            raise error(f"{words_of(prefix + name)} is missing. Fill it in.", field=prefix + name)
    if n_known < len(plain):
        known = [slot.name for slot in slots]
        unknown = min(str(name) for name in plain if name not in known)
        raise error(
            f"There is no field {prefix}{unknown}. Known: {', '.join(prefix + name for name in known)}.",
            field=prefix + unknown,
        )
    return target(**values)


def _reader(kind: Any) -> Read:
    if is_dataclass(kind) and isinstance(kind, type):
        return lambda value, path, error: _thing(kind, value, path, error, {})
    if get_origin(kind) in (tuple, frozenset):
        return _list_reader(kind)
    if get_origin(kind) is Literal:
        return lambda value, path, error: _choice(value, kind, path, error)
    return _READERS[kind]


def _list_reader(kind: Any) -> Read:
    held, is_set = get_args(kind), get_origin(kind) is frozenset
    is_any_number = is_set or held[-1] is Ellipsis
    # A thing in a list has a place of its own; a number or word is told by what it is.
    each = [
        (_reader(bare(one)), _is_optional(one), is_dataclass(bare(one))) for one in held if one is not ...
    ]

    def read(value: Any, path: str, error: type[NubletError]) -> Any:
        if not isinstance(value, list | tuple | frozenset):
            raise error(f"{words_of(path)} is {value!r}; it is a list.", field=path)
        if not is_any_number and len(value) != len(held):
            raise error(f"{words_of(path)} has {len(value)} items; it has {len(held)}.", field=path)
        ways = each * len(value) if is_any_number else each
        made = (
            None
            if item is None and may_be_none
            else one(item, f"{path}.{number}" if has_place else path, error)
            for number, (item, (one, may_be_none, has_place)) in enumerate(zip(value, ways, strict=True))
        )
        return frozenset(made) if is_set else tuple(made)

    return read


def _choice(value: Any, kind: Any, path: str, error: type[NubletError]) -> Any:
    if value not in get_args(kind):
        choices = ", ".join(str(word) for word in get_args(kind) if word != "")
        raise error(f"{words_of(path)}: {value!r} is not a choice. Choose one of: {choices}.", field=path)
    return value


def _whole(value: Any, path: str, error: type[NubletError]) -> int:
    number = read_number(value, path, error=error)
    if number != int(number):
        raise error(f"{words_of(path)} is {number:g}; it is a whole number.", field=path)
    return int(number)


def _flag(value: Any, path: str, error: type[NubletError]) -> bool:
    if not isinstance(value, bool):
        raise error(f"{words_of(path)} is {value!r}; it is true or false.", field=path)
    return value


def _text(value: Any, path: str, error: type[NubletError]) -> str:
    if not isinstance(value, str):
        raise error(f"{words_of(path)} is {value!r}; it is a text.", field=path)
    return value.strip()


def _moment(kind: type[date], shape: str) -> Read:
    def read(value: Any, path: str, error: type[NubletError]) -> Any:
        text = _text(value, path, error)
        try:
            return kind.fromisoformat(text)
        except ValueError as fault:
            raise error(f"{words_of(path)} is {text!r}; write it as {shape}.", field=path) from fault

    return read


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
    for slot in _slots(type(owner)):
        value = getattr(owner, slot.name)
        if value is not None:
            slot.check(value, prefix + slot.name, error)


def _checker(hint: Any) -> Check:
    kind = bare(hint)
    limits = get_args(hint)[1:] if get_origin(hint) is Annotated else ()
    if is_dataclass(kind):
        return lambda value, path, error: check_fields(value, f"{path}.", error=error)
    if get_origin(kind) in (tuple, frozenset):
        return _list_checker(bare(get_args(kind)[0]), limits)
    checks = _limits_of(kind, limits)

    def check(value: Any, path: str, error: type[NubletError]) -> None:
        for one in checks:
            one(value, path, error)

    return check


def _list_checker(kind: Any, limits: Collection[Any]) -> Check:
    has_place, checks = is_dataclass(kind), _limits_of(kind, limits)

    def check(value: Any, path: str, error: type[NubletError]) -> None:
        for number, each in enumerate(value):
            if has_place:
                check_fields(each, f"{path}.{number}.", error=error)
            elif each is not None:
                for one in checks:
                    one(each, path, error)

    return check


def _limits_of(kind: Any, limits: Collection[Any]) -> list[Check]:
    """What one value is held to."""
    checks: list[Check] = [_span_check(limit) for limit in limits if isinstance(limit, Span)]
    if get_origin(kind) is Literal:
        checks.append(lambda value, path, error: _choice(value, kind, path, error))
    elif kind is str:
        longest = next((each for each in limits if isinstance(each, Longest)), Longest()).characters

        def check_length(value: Any, path: str, error: type[NubletError]) -> None:
            if len(value) > longest:
                words = f"{words_of(path)} has {len(value)} characters; {longest} fit. Shorten it."
                raise error(words, field=path)

        checks.append(check_length)
    return checks


def _span_check(span: Span) -> Check:
    def check(value: Any, path: str, error: type[NubletError]) -> None:
        # Written so that not-a-number fails too.
        if not span.low <= value <= span.high:
            low, high = in_unit(span.low, span.unit, is_bare=True), in_unit(span.high, span.unit)
            words = say("{} is {}; it can be {} to {}.", words_of(path), in_unit(value, span.unit), low, high)
            raise error(words, field=path)

    return check


def bare(hint: Any) -> Any:
    """A field's annotation without ``None`` and without its limits."""
    if get_origin(hint) is Annotated:
        hint = get_args(hint)[0]
    if get_origin(hint) in (Union, UnionType):
        (hint,) = (kind for kind in get_args(hint) if kind is not type(None))
    return hint


def kinds_of(target: type[Any]) -> dict[str, Any]:
    """What each field of a dataclass holds, without ``None`` and without its limits."""
    return {name: bare(hint) for name, hint in get_type_hints(target, include_extras=True).items()}


def _is_optional(hint: Any) -> bool:
    return type(None) in get_args(get_args(hint)[0] if get_origin(hint) is Annotated else hint)


def read_number(value: object, path: str, *, error: type[NubletError] = ShelfError) -> float:
    """A finite number. Raises ``error``."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise error(f"{words_of(path)} is {value!r}; it is a number.", field=path)
    return float(value)


_READERS: dict[Any, Read] = {
    float: lambda value, path, error: read_number(value, path, error=error),
    int: _whole,
    bool: _flag,
    str: _text,
    date: _moment(date, "2027-03-01"),
    datetime: _moment(datetime, "2027-03-01T09:00"),
}


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
