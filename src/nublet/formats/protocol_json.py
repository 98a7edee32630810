"""A protocol as a JSON file: written by hand, shared, compared. docs/protocols.md describes the fields."""

from __future__ import annotations

import json
from collections.abc import Iterable
from typing import Any

from nublet.core.errors import ShelfError
from nublet.core.protocols.plain import protocol_as_plain, protocol_from_dict
from nublet.core.protocols.tests import Protocol

# Sixty tests with all that they can say are a tenth of this.
MAX_CHARACTERS = 2_000_000
MAX_DEPTH = 20


def protocol_to_json(protocol: Protocol) -> dict[str, Any]:
    """The protocol as JSON: what holds its default is left out."""
    return protocol_as_plain(protocol)


def protocol_from_json(text: str) -> Protocol:
    """Read a protocol from JSON text and check it; a file without an id is given one from its name.

    Raises
    ------
    ShelfError
        If the text is no JSON, too large or too deep, or no panel could be put through it; ``field`` is the path of what is at
        fault, where it is in the protocol.
    """
    if len(text) > MAX_CHARACTERS:
        raise ShelfError(
            f"The file has {len(text):,} characters; a protocol has at most {MAX_CHARACTERS:,}. Is it a protocol?"
        )
    _check_depth(text)
    try:
        plain = json.loads(text, object_pairs_hook=_each_once, parse_constant=_no_constant)
    except json.JSONDecodeError as error:
        raise ShelfError(
            f"It is not JSON: {error.msg} at line {error.lineno}, column {error.colno}. Correct it there."
        ) from error
    if not isinstance(plain, dict):
        raise ShelfError("It holds no object. A protocol is one, with 'name', 'tests' and 'looks'.")
    own_id = plain.get("id", "")
    if not isinstance(own_id, str):
        raise ShelfError(f"id is {own_id!r}; it is a text.", field="id")
    return protocol_from_dict(plain, protocol_id=own_id)


def _check_depth(text: str) -> None:
    """Refuse what is nested deeper than any protocol, before a reader runs out of stack on it."""
    depth = 0
    is_text = is_escaped = False
    for sign in text:
        if is_escaped:
            is_escaped = False
        elif is_text:
            is_escaped = sign == "\\"
            is_text = sign != '"'
        elif sign == '"':
            is_text = True
        elif sign in "[{":
            depth += 1
            if depth > MAX_DEPTH:
                raise ShelfError(f"It is nested more than {MAX_DEPTH} deep, which no protocol is.")
        elif sign in "]}":
            depth -= 1


def _each_once(pairs: Iterable[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in pairs:
        if name in found:
            raise ShelfError(f"{name!r} stands twice in one object. Leave one out.", field=name)
        found[name] = value
    return found


def _no_constant(name: str) -> Any:
    raise ShelfError(f"{name} is no number that a protocol can hold. Write one out.")
