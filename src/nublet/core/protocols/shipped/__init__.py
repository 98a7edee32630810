"""The protocols that ship: what a trial's own may be copied from. Changing one changes no trial."""

from __future__ import annotations

from nublet.core.protocols.exposures import Protocol
from nublet.core.protocols.shipped.table_basics import TABLE_BASICS

PROTOCOLS: dict[str, Protocol] = {protocol.id: protocol for protocol in (TABLE_BASICS,)}
