"""A protocol as plain values, as a trial keeps its own, and back.

Format 2 is what is written now. Format 1, of the trials of earlier releases, is read as it was meant then: ``kind`` "heat" was a
hot block, and an agent's natures followed from its name. A trial's plain form is never written anew, so that the fingerprint of
its record stays what it is.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast, get_args

from nublet.core.errors import NubletError
from nublet.core.protocols.agents import NATURES, Nature, natures_of
from nublet.core.protocols.exposures import Equipment, Exposure, Look, Protocol
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.sites import Site, SiteKind

FORMAT = 2


def protocol_as_plain(protocol: Protocol) -> dict[str, Any]:
    """The protocol as mappings, lists, texts and numbers."""
    return {
        "format": FORMAT,
        "id": protocol.id,
        "version": protocol.version,
        "name": protocol.name,
        "says": protocol.says,
        "exposures": [exposure_as_plain(exposure) for exposure in protocol.exposures],
        "looks": [{"id": look.id, "name": look.name, "after_min": look.after_min} for look in protocol.looks],
    }


def exposure_as_plain(exposure: Exposure) -> dict[str, Any]:
    """One exposure as plain values."""
    return {
        "id": exposure.id,
        "name": exposure.name,
        "short_name": exposure.short_name,
        "agent": exposure.agent,
        "natures": sorted(exposure.natures),
        "site": {"kind": exposure.site.kind, "wetted_mm": exposure.site.wetted_mm},
        "duration_min": exposure.duration_min,
        "covered": exposure.covered,
        "temperature_c": exposure.temperature_c,
        "amount": exposure.amount,
        "occupies": sorted(exposure.occupies),
        "reads": list(exposure.reads),
    }


def protocol_from_plain(plain: Mapping[str, Any]) -> Protocol:
    """The protocol of its plain form.

    Raises
    ------
    NubletError
        If it is of a format, or names something, that this release does not know.
    """
    read = {1: _exposure_of_format_1, FORMAT: _exposure}.get(plain.get("format", 1))
    if read is None:
        raise NubletError(
            f"This protocol is of format {plain.get('format')!r}, which a later release wrote. Update this installation.",
            field="protocol",
        )
    try:
        return Protocol(
            id=plain["id"],
            version=plain["version"],
            name=plain["name"],
            says=plain["says"],
            exposures=tuple(read(each) for each in plain["exposures"]),
            looks=tuple(
                Look(id=look["id"], name=look["name"], after_min=look["after_min"]) for look in plain["looks"]
            ),
        )
    except (KeyError, TypeError) as error:
        raise NubletError(
            f"The protocol cannot be read: {error} is missing or wrong.", field="protocol"
        ) from error


def recorded_protocol(plain: Mapping[str, Any]) -> dict[str, Any]:
    """What a started trial's record holds of its protocol: of format 1 without its words, as records were written then."""
    if plain.get("format", 1) == 1:
        return {name: plain[name] for name in ("id", "version", "exposures", "looks")}
    return dict(plain)


def _exposure(plain: Mapping[str, Any]) -> Exposure:
    site = plain["site"]
    return Exposure(
        **_common(plain),
        natures=frozenset(cast("Nature", _known(each, NATURES, "nature")) for each in plain["natures"]),
        site=Site(
            kind=cast("SiteKind", _known(site["kind"], get_args(SiteKind), "site")),
            wetted_mm=site["wetted_mm"],
        ),
        occupies=frozenset(
            cast("Equipment", _known(each, get_args(Equipment), "equipment")) for each in plain["occupies"]
        ),
        reads=tuple(_known(each, RESPONSES, "response") for each in plain["reads"]),
    )


def _exposure_of_format_1(plain: Mapping[str, Any]) -> Exposure:
    is_block = plain["kind"] == "heat"
    return Exposure(
        **_common(plain),
        natures=natures_of(plain["agent"]) | ({"hot"} if is_block else frozenset()),
        site=Site(wetted_mm=plain["wetted_mm"]),
        occupies=frozenset({"heat_block"}) if is_block else frozenset(),
    )


def _common(plain: Mapping[str, Any]) -> dict[str, Any]:
    names = ("id", "name", "short_name", "agent", "duration_min", "covered", "temperature_c", "amount")
    return {name: plain[name] for name in names}


def _known(name: str, known: Any, what: str) -> str:
    if name not in known:
        raise NubletError(
            f"The protocol names the {what} {name!r}, which this release does not know. Update this installation.",
            field="protocol",
        )
    return name
