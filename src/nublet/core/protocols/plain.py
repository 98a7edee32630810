"""A protocol as plain values, as a trial keeps its own and a shop those of its shelf, and back.

Format 3 is what is written now: tests of acts at sites. What holds its default is left out, so that a protocol can be written by
hand and two be compared. Format 2, an exposure with an agent on a ring, and format 1, of the trials of earlier releases, are read
as they were meant then: in format 1 ``kind`` "heat" was a hot block, and an agent's natures followed from its name. A trial's plain
form is never written anew, so that the fingerprint of its record stays what it is.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from typing import Any

from nublet.core.errors import NubletError, ShelfError
from nublet.core.plain import as_plain, folded, from_plain, tidy
from nublet.core.protocols.agents import Agent, Nature, natures_of
from nublet.core.protocols.checking import check_protocol
from nublet.core.protocols.responses import readable
from nublet.core.protocols.tests import Protocol

FORMAT = 3


def protocol_as_plain(protocol: Protocol) -> dict[str, Any]:
    """The protocol as mappings, lists, texts and numbers."""
    return {"format": FORMAT, **as_plain(protocol, is_brief=True)}


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
    return {"format": FORMAT, **as_plain(protocol, leave=("id",), is_brief=True)}


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
    form = 2 if "exposures" in plain else FORMAT
    protocol = _read({"format": form, "version": 1, "says": "", **plain, "id": protocol_id})
    protocol = _with_natures(replace(protocol, name=tidy(protocol.name)), natures_of)
    if not is_stored:
        check_protocol(protocol)
    return protocol


def with_natures(protocol: Protocol, agents: Iterable[Agent]) -> Protocol:
    """The protocol with the natures that a shop's own agents have, where a test names one."""
    known = {folded(agent.name): agent.natures for agent in agents}
    return _with_natures(protocol, lambda agent: known.get(folded(agent), frozenset()))


def _with_natures(protocol: Protocol, told_by: Callable[[str], frozenset[Nature]]) -> Protocol:
    tests = tuple(
        replace(
            test,
            acts=tuple(
                replace(act, natures=act.natures | told_by(act.agent)) if act.agent else act
                for act in test.acts
            ),
        )
        for test in protocol.tests
    )
    return replace(protocol, tests=tests)


def _read(plain: Mapping[str, Any]) -> Protocol:
    form = plain.get("format", 1)
    if form not in (1, 2, FORMAT):
        raise ShelfError(f"It is of format {form!r}, which a later release wrote.", field="format")
    own = {name: value for name, value in plain.items() if name != "format"}
    if form == 1:
        own["exposures"] = [_in_format_2(each) for each in own.get("exposures", ())]
    if form in (1, 2):
        listed = own.pop("exposures", None)
        if not isinstance(listed, list | tuple):
            raise ShelfError(f"exposures is {listed!r}; it is a list.", field="exposures")
        own["tests"] = [_in_format_3(each, f"exposures.{index}") for index, each in enumerate(listed)]
    return from_plain(Protocol, {"looks": (), **own})


def _in_format_3(exposure: Mapping[str, Any], at: str) -> dict[str, Any]:
    """An agent laid on a ring for a time, lifted, and read on some scales, as a test of acts."""
    if not isinstance(exposure, Mapping):
        raise ShelfError(f"{at} is {exposure!r}; it is an object with named fields.", field=at)
    acts = ("agent", "natures", "duration_min", "covered", "temperature_c", "amount", "occupies")
    known = ("id", "name", "short_name", "site", "reads", *acts)
    for name in exposure:
        if name not in known:
            raise ShelfError(
                f"There is no field {at}.{name}. Known: {', '.join(known)}.", field=f"{at}.{name}"
            )
    for name in ("agent", "duration_min"):
        if exposure.get(name) is None:
            raise ShelfError(f"{at}.{name} is missing. Fill it in.", field=f"{at}.{name}")
    laid = {name: exposure[name] for name in acts if name in exposure and name != "duration_min"}
    reads = exposure.get("reads", ["grade"])
    if not isinstance(reads, list | tuple) or not reads or not all(each in readable() for each in reads):
        raise ShelfError(f"{at} reads {reads!r}. Choose from: {', '.join(readable())}.", field=f"{at}.reads")
    kept = {name: exposure[name] for name in ("id", "name", "short_name", "site") if name in exposure}
    if isinstance(kept.get("site"), Mapping):
        kept["site"] = {"kind": "spot", **kept["site"]}
    return {
        **kept,
        "group": "heat" if "hot" in laid.get("natures", ()) else "stain",
        "acts": [
            {"id": "lay", "kind": "lay", "covered": True, "lasts_min": exposure["duration_min"], **laid},
            {"id": "lift", "kind": "lift"},
        ],
        "reads": [{"response": response} for response in reads],
    }


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
