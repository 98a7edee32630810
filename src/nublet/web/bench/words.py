"""What an operation is called on cards, sheets and in calendars."""

from __future__ import annotations

from collections.abc import Mapping

from nublet.core.bench.judging import say_duration
from nublet.core.protocols.tests import Protocol
from nublet.formats.calendar_ics import VERBS


def exposure_names(protocol: Protocol) -> dict[str, str]:
    """Short names of a protocol's exposures by id."""
    return {exposure.id: exposure.short_name for exposure in protocol.tests}


def say_work(kind: str, item: str, look_after_min: float, nth: int, names: Mapping[str, str]) -> str:
    """A piece of work in a few words; ``names`` are those of the exposures, by id.

    Examples
    --------
    >>> say_work("wipe", "coat 1", 0, 1, {})
    'Wipe off coat 1'
    >>> say_work("weigh", "coat 2", 0, 2, {})
    'Weigh after coat 2'
    >>> say_work("look", "wine-1h", 1440, 1, {"wine-1h": "Wine 1 h"})
    'Look at Wine 1 h, 1 d after lifting'
    """
    if kind == "weigh":
        return f"Weigh {'before' if nth == 1 else 'after'} {item}"
    if kind == "abrade":
        return f"Abrade before {item}"
    if kind == "coat":
        return item.capitalize()
    what = f"{VERBS.get(kind, kind.capitalize())} {names.get(item, item)}"
    if kind != "look":
        return what
    return (
        f"{what}, {say_duration(60 * look_after_min)} after lifting" if look_after_min else f"{what}, lifted"
    )
