"""Plain mappings, as they come from a file or a request, to the fields of a dataclass, and what the fields may hold."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Collection, Mapping
from dataclasses import MISSING, dataclass, fields
from typing import Annotated, Any, Literal, get_args, get_origin, get_type_hints

from nublet.core.errors import ShelfError


@dataclass(frozen=True)
class Span:
    """What a number may be, ends included, in a field's ``Annotated``."""

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


def read_fields(
    target: type[Any], plain: Mapping[str, Any], *, prefix: str = "", skip: Collection[str] = ()
) -> dict[str, Any]:
    """Return the values of a dataclass's fields, each of the kind that its annotation names.

    Texts are stripped; ``None`` means the default. Fields in ``skip``, and those of a kind that is none of float, bool
    and text, are left out: the caller reads them.

    Parameters
    ----------
    target : type
        A dataclass.
    plain : mapping
    prefix : str
        Put before a field's name in an error's ``field``, such as ``"label."``.

    Raises
    ------
    ShelfError
        If a field is unknown, missing, or of the wrong kind.
    """
    known = {item.name: item for item in fields(target)}
    unknown = sorted(set(plain) - set(known))
    if unknown:
        raise ShelfError(
            f"There is no field {prefix}{unknown[0]}. Known: {', '.join(prefix + name for name in known)}.",
            field=prefix + unknown[0],
        )
    values: dict[str, Any] = {}
    for name, item in known.items():
        if name in skip:
            continue
        value = plain.get(name)
        if value is None:
            if item.default is MISSING and item.default_factory is MISSING:
                raise ShelfError(f"{words_of(prefix + name)} is missing. Fill it in.", field=prefix + name)
            continue
        values[name] = _read(value, kinds_of(target)[name], prefix + name)
    return values


def check_fields(owner: Any, prefix: str = "") -> None:
    """Refuse a number outside its :class:`Span`, a word that is no choice of its ``Literal``, and a text over its :class:`Longest`.

    Parameters
    ----------
    owner : dataclass instance
    prefix : str
        Put before a field's name in an error's ``field``, such as ``"label."``.

    Raises
    ------
    ShelfError
        Says which field, what it holds, and what would do.
    """
    for name, hint in _hints(type(owner)).items():
        value, path = getattr(owner, name), prefix + name
        for limit in get_args(hint)[1:] if get_origin(hint) is Annotated else ():
            # Written so that not-a-number fails too.
            if isinstance(limit, Span) and value is not None and not limit.low <= value <= limit.high:
                raise ShelfError(
                    f"{words_of(path)} is {value:g} {limit.unit}; it can be {limit.low:g} to {limit.high:g} {limit.unit}.",
                    field=path,
                )
        kind = kinds_of(type(owner))[name]
        if get_origin(kind) is Literal and value not in get_args(kind):
            raise ShelfError(
                f"{words_of(path)}: {value!r} is not a choice. Choose one of: "
                f"{', '.join(word for word in get_args(kind) if word)}.",
                field=path,
            )
        longest = next((each for each in get_args(hint) if isinstance(each, Longest)), Longest()).characters
        if isinstance(value, str) and len(value) > longest:
            raise ShelfError(
                f"{words_of(path)} has {len(value)} characters; {longest} fit. Shorten it.", field=path
            )


def kinds_of(target: type[Any]) -> dict[str, Any]:
    """What each field of a dataclass holds, without ``None`` and without its limits."""
    if target not in _KINDS:
        held = {}
        for name, hint in get_type_hints(target).items():
            own = [kind for kind in get_args(hint) if kind is not type(None)]
            held[name] = own[0] if type(None) in get_args(hint) else hint
        _KINDS[target] = held
    return _KINDS[target]


def _hints(target: type[Any]) -> dict[str, Any]:
    if target not in _HINTS:
        _HINTS[target] = get_type_hints(target, include_extras=True)
    return _HINTS[target]


# Looked up for every product of a shelf: found once.
_KINDS: dict[type[Any], dict[str, Any]] = {}
_HINTS: dict[type[Any], dict[str, Any]] = {}


def read_number(value: object, path: str) -> float:
    """A finite number. Raises ``ShelfError``."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise ShelfError(f"{words_of(path)} is {value!r}; it is a number.", field=path)
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


def _read(value: Any, kind: Any, path: str) -> Any:
    if kind is float:
        return read_number(value, path)
    if kind is bool:
        if not isinstance(value, bool):
            raise ShelfError(f"{words_of(path)} is {value!r}; it is true or false.", field=path)
        return value
    if not isinstance(value, str):
        raise ShelfError(f"{words_of(path)} is {value!r}; it is a text.", field=path)
    return value.strip()
