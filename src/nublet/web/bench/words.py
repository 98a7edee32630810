"""What an operation is called on cards, sheets and in calendars."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from nublet.core.bench.judging import say_duration
from nublet.core.planning.trial_exposures import act_words
from nublet.core.protocols.spot_tests import is_laid_and_lifted
from nublet.core.protocols.tests import Protocol
from nublet.formats.calendar_ics import VERBS


@dataclass(frozen=True, kw_only=True)
class WorkNames:
    """What a protocol's tests are called for short, by id; what their acts are; and which are laid and lifted."""

    tests: Mapping[str, str] = field(default_factory=dict)
    acts: Mapping[tuple[str, str], str] = field(default_factory=dict)
    lifted: frozenset[str] = frozenset()


def names_of(protocol: Protocol) -> WorkNames:
    """The names of a protocol's work."""
    return WorkNames(
        tests={test.id: test.short_name for test in protocol.tests},
        acts=act_words(protocol),
        lifted=frozenset(
            test.id for test in protocol.tests if is_laid_and_lifted(test, protocol.looks_of(test))
        ),
    )


def say_shortly(kind: str, item: str, names: WorkNames, *, act: str = "") -> str:
    """A piece of work in the fewest words, where its panels stand beside it: a coat by its number, an act by what is done.

    Examples
    --------
    >>> say_shortly("coat", "coat 1", WorkNames())
    'coat 1'
    >>> damp = WorkNames(tests={"damp": "Damp 25×"}, acts={("damp", "wet-3"): "wet and dry in turns, 3 of 25"})
    >>> say_shortly("act", "damp", damp, act="wet-3")
    'wet and dry in turns, 3 of 25'
    """
    if kind == "act":
        return names.acts.get((item, act), act)
    return item if kind in ("coat", "work") else kind


def say_work(
    kind: str, item: str, look_after_min: float, nth: int, names: WorkNames, *, act: str = ""
) -> str:
    """A piece of work in a few words.

    Examples
    --------
    >>> say_work("wipe", "coat 1", 0, 1, WorkNames())
    'Wipe off coat 1'
    >>> say_work("weigh", "coat 2", 0, 2, WorkNames())
    'Weigh after coat 2'
    >>> wine = WorkNames(tests={"wine-1h": "Wine 1 h"}, lifted=frozenset({"wine-1h"}))
    >>> say_work("look", "wine-1h", 1440, 1, wine)
    'Look at Wine 1 h, 1 d after lifting'
    >>> damp = WorkNames(tests={"damp": "Damp 25×"}, acts={("damp", "wet-3"): "wet and dry in turns, 3 of 25"})
    >>> say_work("act", "damp", 0, 1, damp, act="wet-3")
    'Damp 25×: wet and dry in turns, 3 of 25'
    """
    if kind == "weigh":
        return f"Weigh {'before' if nth == 1 else 'after'} {item}"
    if kind == "abrade":
        return f"Abrade before {item}"
    if kind in ("coat", "work"):
        return item.capitalize()
    test = names.tests.get(item, item)
    if kind == "act":
        words = names.acts.get((item, act), act)
        return test if words.casefold() == test.casefold() else f"{test}: {words}"
    what = f"{VERBS.get(kind, kind.capitalize())} {test}"
    if kind != "look":
        return what
    if item in names.lifted or not names.acts:
        return (
            f"{what}, {say_duration(60 * look_after_min)} after lifting"
            if look_after_min
            else f"{what}, lifted"
        )
    return f"{what}, {say_duration(60 * look_after_min)} on" if look_after_min else f"{what}, at once"
