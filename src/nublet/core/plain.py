"""Plain mappings, as they come from a file or a request, to the fields of a dataclass."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Collection, Mapping
from dataclasses import MISSING, fields
from typing import Any

from nublet.core.errors import ShelfError


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
        A dataclass with ``from __future__ import annotations`` in its module.
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
        values[name] = _read(value, str(item.type), prefix + name)
    return values


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


def _read(value: Any, kind: str, path: str) -> Any:
    if kind.startswith("float"):
        return read_number(value, path)
    if kind == "bool":
        if not isinstance(value, bool):
            raise ShelfError(f"{words_of(path)} is {value!r}; it is true or false.", field=path)
        return value
    if not isinstance(value, str):
        raise ShelfError(f"{words_of(path)} is {value!r}; it is a text.", field=path)
    return value.strip()
