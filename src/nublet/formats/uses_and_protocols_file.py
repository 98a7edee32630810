"""Uses and protocols as JSON. docs/formats.md describes the fields."""

from __future__ import annotations

from nublet.core.plain import folded
from nublet.core.protocols.plain import protocol_as_dict, protocol_from_dict
from nublet.core.protocols.tests import Protocol
from nublet.core.ranking.use_records import use_as_dict, use_from_dict
from nublet.core.ranking.uses import Use
from nublet.formats.shelf_table import TableKind

USE_TABLE: TableKind[Use] = TableKind(
    noun="use",
    from_dict=use_from_dict,
    as_dict=use_as_dict,
    key=lambda use: folded(use.name),
    key_words=lambda use: repr(use.name),
)
PROTOCOL_TABLE: TableKind[Protocol] = TableKind(
    noun="protocol",
    from_dict=protocol_from_dict,
    as_dict=protocol_as_dict,
    key=lambda protocol: folded(protocol.name),
    key_words=lambda protocol: repr(protocol.name),
)
