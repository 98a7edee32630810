"""A protocol as plain values, as a trial keeps its own and a shop those of its shelf, and back.

Format 2 is what is written now. Format 1, of the trials of earlier releases, is read as it was meant then: ``kind`` "heat" was a
hot block, and an agent's natures followed from its name. A trial's plain form is never written anew, so that the fingerprint of
its record stays what it is.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import replace
from typing import Any

from nublet.core.errors import NubletError, ReadingsError, ShelfError
from nublet.core.plain import as_plain, check_fields, folded, from_plain, tidy
from nublet.core.protocols.agents import Agent, natures_of
from nublet.core.protocols.exposures import Exposure, Protocol
from nublet.core.protocols.responses import RESPONSES

FORMAT = 2
MAX_EXPOSURES = 60
MAX_LOOKS = 12
_ID = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")


def protocol_as_plain(protocol: Protocol) -> dict[str, Any]:
    """The protocol as mappings, lists, texts and numbers."""
    return {"format": FORMAT, **as_plain(protocol)}


def protocol_from_plain(plain: Mapping[str, Any]) -> Protocol:
    """The protocol of its plain form.

    Raises
    ------
    NubletError
        If it is of a format, or names something, that this release does not know.
    """
    try:
        return _read(plain)
    except ShelfError as error:
        raise NubletError(
            f"The protocol cannot be read: {error.message} If a later release wrote it, update this installation.",
            field="protocol",
        ) from error


def recorded_protocol(plain: Mapping[str, Any]) -> dict[str, Any]:
    """What a started trial's record holds of its protocol: of format 1 without its words, as records were written then."""
    if plain.get("format", 1) == 1:
        return {name: plain[name] for name in ("id", "version", "exposures", "looks")}
    return dict(plain)


def protocol_as_dict(protocol: Protocol) -> dict[str, Any]:
    """The protocol as a shelf and its files hold it: without its id, which is the shelf's."""
    return {"format": FORMAT, **as_plain(protocol, leave=("id",))}


def protocol_from_dict(
    plain: Mapping[str, Any], *, protocol_id: str = "", is_stored: bool = False
) -> Protocol:
    """Read a protocol of a shop's own and check it.

    An exposure has the natures that are stated and those that the words for its agent tell: a bleach that is not called one
    is still kept from acids.

    One that ``is_stored`` was checked when it was saved, and is read as it is: limits may since have narrowed, and it must still
    be shown.

    Raises
    ------
    ShelfError
        If a field is unknown, missing, of the wrong kind, or cannot be.
    """
    protocol = _read({"format": FORMAT, "version": 1, "says": "", **plain, "id": protocol_id})
    protocol = replace(
        protocol,
        name=tidy(protocol.name),
        exposures=tuple(
            replace(each, natures=each.natures | natures_of(each.agent)) for each in protocol.exposures
        ),
    )
    if not is_stored:
        check_protocol(protocol)
    return protocol


def with_natures(protocol: Protocol, agents: Iterable[Agent]) -> Protocol:
    """The protocol with the natures that a shop's own agents have, where an exposure names one."""
    known = {folded(agent.name): agent.natures for agent in agents}
    return replace(
        protocol,
        exposures=tuple(
            replace(each, natures=each.natures | known.get(folded(each.agent), frozenset()))
            for each in protocol.exposures
        ),
    )


def check_protocol(protocol: Protocol) -> None:
    """Refuse a protocol that no panel could be put through.

    Raises
    ------
    ShelfError
        Says which field, what it holds, and what would do.
    """
    if not tidy(protocol.name):
        raise ShelfError("Give the protocol a name, such as 'Spirits and wet glasses'.", field="name")
    check_fields(protocol)
    for what, listed, most in (
        ("exposures", protocol.exposures, MAX_EXPOSURES),
        ("looks", protocol.looks, MAX_LOOKS),
    ):
        if not 1 <= len(listed) <= most:
            raise ShelfError(f"A protocol has 1 to {most} {what}; this has {len(listed)}.", field=what)
        _check_ids(what, [(each.id, each.name) for each in listed])
    for index, exposure in enumerate(protocol.exposures):
        _check_exposure(exposure, f"exposures.{index}")
    if len({look.after_min for look in protocol.looks}) < len(protocol.looks):
        raise ShelfError("Two looks are at the same time after lifting. Leave one out.", field="looks")
    try:
        protocol.response  # noqa: B018 - asking it refuses what reads several
    except ReadingsError as error:
        raise ShelfError(error.message, field="exposures") from error


def _check_ids(what: str, named: list[tuple[str, str]]) -> None:
    ids = [each for each, _ in named]
    for index, (own, name) in enumerate(named):
        if not _ID.fullmatch(own):
            raise ShelfError(
                f"{own!r} cannot stand for a {what[:-1]}. Give its id in small letters, digits and hyphens, such as 'wine-1h'.",
                field=f"{what}.{index}.id",
            )
        if ids.index(own) != index:
            raise ShelfError(f"Two {what} have the id {own!r}. Give one another.", field=f"{what}.{index}.id")
        if not tidy(name):
            raise ShelfError(f"Give the {what[:-1]} {own!r} a name.", field=f"{what}.{index}.name")


def _check_exposure(exposure: Exposure, at: str) -> None:
    for what in ("short_name", "agent"):
        if not tidy(getattr(exposure, what)):
            raise ShelfError(
                f"{exposure.name}: {what.replace('_', ' ')} is empty. Fill it in.", field=f"{at}.{what}"
            )
    if exposure.occupies and not exposure.is_hot:
        raise ShelfError(
            f"{exposure.name} takes the hot block and is not hot. Add 'hot' to its natures.",
            field=f"{at}.natures",
        )


def _check_reads(exposure: Exposure, at: str) -> None:
    unknown = [each for each in exposure.reads if each not in RESPONSES]
    if unknown or not exposure.reads:
        raise ShelfError(
            f"{exposure.name} reads {unknown[0] if unknown else 'nothing'!r}. Choose from: {', '.join(RESPONSES)}.",
            field=f"{at}.reads",
        )


def _read(plain: Mapping[str, Any]) -> Protocol:
    form = plain.get("format", 1)
    if form not in (1, FORMAT):
        raise ShelfError(f"It is of format {form!r}, which a later release wrote.", field="format")
    own = {name: value for name, value in plain.items() if name != "format"}
    if form == 1:
        own["exposures"] = [_in_format_2(each) for each in own.get("exposures", ())]
    protocol = from_plain(Protocol, own)
    for index, exposure in enumerate(protocol.exposures):
        _check_reads(exposure, f"exposures.{index}")
    return protocol


def _in_format_2(exposure: Mapping[str, Any]) -> dict[str, Any]:
    try:
        is_block = exposure["kind"] == "heat"
        natures = natures_of(exposure["agent"]) | ({"hot"} if is_block else frozenset())
        kept = {name: value for name, value in exposure.items() if name not in ("kind", "wetted_mm")}
        return {
            **kept,
            "natures": sorted(natures),
            "site": {"wetted_mm": exposure["wetted_mm"]},
            "occupies": ["heat_block"] if is_block else [],
        }
    except (KeyError, TypeError) as fault:
        raise ShelfError(f"an exposure lacks {fault}.", field="exposures") from fault
