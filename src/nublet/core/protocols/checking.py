"""What a protocol may be. What cannot be done is refused, with the place and what would do."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from itertools import pairwise

from nublet.core.errors import ShelfError
from nublet.core.plain import check_fields, folded, tidy
from nublet.core.protocols.acts import MAX_CYCLES, Act
from nublet.core.protocols.looks import BARE, BEFORE, COATED, Look, Read
from nublet.core.protocols.responses import RESPONSES, readable
from nublet.core.protocols.sites import check_site
from nublet.core.protocols.tests import Ladder, Protocol, Test
from nublet.core.quantities import amount, say

MAX_TESTS = 60
MAX_ACTS = 20
MAX_LOOKS = 12
MAX_LADDERS = 30
_ID = re.compile(r"[a-z0-9]+(-[a-z0-9]+)*")
_ON_GLASS = ("drop", "spread", "wait", "weigh", "measure")


def check_protocol(protocol: Protocol) -> None:
    """Refuse a protocol that no panel could be put through.

    Raises
    ------
    ShelfError
        Says which field, what it holds, and what would do.
    """
    if not tidy(protocol.name):
        raise ShelfError("Give the protocol a name, such as 'Spirits and wet glasses'.", field="name")
    _check_look_times(protocol.looks, "looks")
    for index, test in enumerate(protocol.tests):
        _check_look_times(test.looks, f"tests.{index}.looks")
    check_fields(protocol)
    _check_number("tests", len(protocol.tests), 1, MAX_TESTS, "tests")
    _check_number("looks", len(protocol.looks), 0, MAX_LOOKS, "looks")
    _check_number("ladders", len(protocol.ladders), 0, MAX_LADDERS, "ladders")
    _check_ids("test", [(each.id, each.name) for each in protocol.tests], "tests")
    _check_ids("look", [(each.id, each.name) for each in protocol.looks], "looks")
    for index, test in enumerate(protocol.tests):
        check_test(test, protocol.looks_of(test), f"tests.{index}")
    _check_looks_agree(protocol)
    _check_panels(protocol)
    _check_ladders(protocol)


def check_test(test: Test, looks: Sequence[Look], at: str) -> None:
    """Refuse a test that nobody could carry out, read at these looks.

    Raises
    ------
    ShelfError
        ``field`` is the path under ``at``.
    """
    if not tidy(test.short_name):
        raise ShelfError(f"{test.name}: short name is empty. Fill it in.", field=f"{at}.short_name")
    check_site(test.site, test.name, f"{at}.site")
    _check_acts(test, at)
    _check_number("looks", len(looks), 1, MAX_LOOKS, f"{at}.looks" if test.looks else "looks")
    if test.looks:
        _check_ids("look", [(each.id, each.name) for each in test.looks], f"{at}.looks")
    for index, look in enumerate(looks):
        _check_look(test, look, f"{at}.looks.{index}" if test.looks else f"looks.{index}")
    moments = Counter((look.after, look.after_min) for look in looks)
    if max(moments.values()) > 1:
        raise ShelfError(
            f"{test.name} has two looks at the same time. Leave one out.",
            field=f"{at}.looks" if test.looks else "looks",
        )
    if not test.reads:
        raise ShelfError(
            f"{test.name} reads nothing. Choose from: {', '.join(readable())}.", field=f"{at}.reads"
        )
    for index, read in enumerate(test.reads):
        _check_read(test, read, looks, f"{at}.reads.{index}")


def _check_number(what: str, n: int, least: int, most: int, at: str) -> None:
    if not least <= n <= most:
        raise ShelfError(f"Here belong {least} to {most} {what}; there are {n}.", field=at)


def _check_ids(what: str, named: Sequence[tuple[str, str]], at: str) -> None:
    ids = [each for each, _ in named]
    for index, (own, name) in enumerate(named):
        if not _ID.fullmatch(own):
            raise ShelfError(
                f"{own!r} cannot stand for a {what}. Give its id in small letters, digits and hyphens, such as 'wine-1h'.",
                field=f"{at}.{index}.id",
            )
        if ids.index(own) != index:
            raise ShelfError(f"Two {what}s have the id {own!r}. Give one another.", field=f"{at}.{index}.id")
        if not tidy(name):
            raise ShelfError(f"Give the {what} {own!r} a name.", field=f"{at}.{index}.name")


def _check_acts(test: Test, at: str) -> None:
    _check_number("acts", len(test.acts), 0, MAX_ACTS, f"{at}.acts")
    _check_ids("act", [(act.id, act.id) for act in test.acts], f"{at}.acts")
    for index, act in enumerate(test.acts):
        path = f"{at}.acts.{index}"
        if act.id in (BARE, BEFORE, COATED):
            raise ShelfError(
                f"{act.id!r} stands for a look before anything is done. Call the act otherwise.",
                field=f"{path}.id",
            )
        if test.site.kind == "slip" and act.kind not in _ON_GLASS:
            raise ShelfError(
                f"{test.name} stands on a slip of glass, on which nobody can {act.declared.words.lower()}. Choose from: "
                f"{', '.join(_ON_GLASS)}.",
                field=f"{path}.kind",
            )
        _check_act(test, act, [each.kind for each in test.acts[:index]], path)


def _check_act(test: Test, act: Act, earlier: Sequence[str], path: str) -> None:
    what = f"{test.name}, {act.id}"
    if act.declared.ends and not set(act.declared.ends) & set(earlier):
        raise ShelfError(
            f"{what}: '{act.kind}' comes before what it ends. Put one of these before it: {', '.join(act.declared.ends)}.",
            field=f"{path}.kind",
        )
    needs_agent = act.kind in ("lay", "drop", "spread", "cycle", "immerse", "stand")
    if needs_agent and not tidy(act.agent):
        raise ShelfError(f"{what}: agent is empty. Say what touches the wood.", field=f"{path}.agent")
    if act.kind == "cycle" and not 1 <= act.cycles <= MAX_CYCLES:
        raise ShelfError(f"{what}: {act.cycles} cycles. Give 1 to {MAX_CYCLES}.", field=f"{path}.cycles")
    if act.kind != "cycle" and (act.cycles or act.wet_min or act.dry_min):
        raise ShelfError(
            f"{what}: only the act 'cycle' has cycles, wet and dry minutes. Leave them out.",
            field=f"{path}.cycles",
        )
    if act.kind == "stroke" and act.strokes < 1:
        raise ShelfError(f"{what}: no strokes. Give 1 or more.", field=f"{path}.strokes")
    if {"heat_block", "iron"} & act.occupies and not act.is_hot:
        taken = "the hot block" if "heat_block" in act.occupies else "the iron"
        raise ShelfError(
            f"{what} takes {taken} and is not hot. Add 'hot' to its natures.", field=f"{path}.natures"
        )
    if act.then_min is not None:
        least, most = act.then_min
        if least < 0 or (most is not None and most < least):
            raise ShelfError(
                f"{what}: the wait after it goes from {least:g} to {most if most is None else format(most, 'g')} min. Give the "
                "least first, from 0.",
                field=f"{path}.then_min",
            )


def _check_look_times(looks: Sequence[Look], at: str) -> None:
    for index, look in enumerate(looks):
        if look.after_min < 0:
            raise ShelfError(
                say(
                    "The look {!r} is {} before its act. A look comes after it: give 0 or more, or say after: 'before'.",
                    look.id,
                    amount("minutes", -look.after_min),
                ),
                field=f"{at}.{index}.after_min",
            )


def _check_look(test: Test, look: Look, at: str) -> None:
    if look.is_before:
        if look.after_min:
            raise ShelfError(
                f"The look {look.id!r} is before anything is done, and also {look.after_min:g} min after. Leave after_min at 0.",
                field=f"{at}.after_min",
            )
        return
    ids = [act.id for act in test.acts]
    if look.after == COATED:
        return
    if look.after and look.after not in ids:
        raise ShelfError(
            f"{test.name}: the look {look.id!r} comes after {look.after!r}, which is none of its acts. Choose from: "
            f"{', '.join([*ids, BEFORE, COATED, BARE])}.",
            field=f"{at}.after",
        )
    if look.after and look.after != ids[-1]:
        act = test.acts[ids.index(look.after)]
        most = act.window_min[1]
        if most is not None and look.after_min > most:
            following = test.acts[ids.index(look.after) + 1]
            raise ShelfError(
                say(
                    "{}: the look {!r} comes {} after {!r}, when {!r} has long begun (after {} at most). Look sooner, or let it wait.",
                    test.name,
                    look.id,
                    amount("minutes", look.after_min),
                    look.after,
                    following.id,
                    amount("minutes", most),
                ),
                field=f"{at}.after_min",
            )


def _check_read(test: Test, read: Read, looks: Sequence[Look], at: str) -> None:
    response = RESPONSES.get(read.response)
    if response is None or not response.is_read:
        derived = " It is worked out, not read." if response is not None else ""
        raise ShelfError(
            f"{test.name} reads {read.response!r}.{derived} Choose from: {', '.join(readable())}.",
            field=f"{at}.response",
        )
    if [each.response for each in test.reads].count(read.response) > 1:
        raise ShelfError(f"{test.name} reads {read.response!r} twice. Leave one out.", field=f"{at}.response")
    if len(set(read.views)) < len(read.views):
        raise ShelfError(
            f"{test.name}: {read.response} names a view twice. Leave one out.", field=f"{at}.views"
        )
    known = {look.id for look in looks}
    missing = [each for each in read.looks if each not in known]
    if missing:
        raise ShelfError(
            f"{test.name}: {read.response} is read at {missing[0]!r}, which is none of its looks. Choose from: "
            f"{', '.join(sorted(known))}.",
            field=f"{at}.looks",
        )


def _check_looks_agree(protocol: Protocol) -> None:
    """One id is one moment throughout: what is chosen to be shown or ranked by is chosen for all tests."""
    first = {look.id: look for look in protocol.looks}
    for index, test in enumerate(protocol.tests):
        for number, look in enumerate(test.looks):
            known = first.setdefault(look.id, look)
            if (known.name, known.after_min) != (look.name, look.after_min):
                raise ShelfError(
                    f"{test.name}: its look {look.id!r} is {look.name!r}, {look.after_min:g} min; elsewhere that is {known.name!r}, "
                    f"{known.after_min:g} min. Give it another id.",
                    field=f"tests.{index}.looks.{number}.id",
                )


def _check_panels(protocol: Protocol) -> None:
    """What uses a panel up shares it with nothing."""
    on: dict[str, tuple[int, Test]] = {}
    for index, test in enumerate(protocol.tests):
        if not test.on_panel or test.site.kind == "slip":
            continue
        before = on.setdefault(folded(test.on_panel), (index, test))[1]
        if before is not test and (before.uses_up_panel or test.uses_up_panel):
            both = before.uses_up_panel and test.uses_up_panel
            does = (
                f"both use up panel {test.on_panel}"
                if both
                else f"share panel {test.on_panel}, which one of them uses up"
            )
            raise ShelfError(
                f"{before.name} and {test.name} {does}. Give each a panel of its own.",
                field=f"tests.{index}.on_panel",
            )


def _check_ladders(protocol: Protocol) -> None:
    _check_ids("ladder", [(each.id, each.name) for each in protocol.ladders], "ladders")
    taken: dict[str, str] = {}
    for index, ladder in enumerate(protocol.ladders):
        at = f"ladders.{index}.tests"
        if len(ladder.tests) < 2:
            raise ShelfError(
                f"The ladder {ladder.name} has {len(ladder.tests)} steps. Give 2 or more.", field=at
            )
        known = {test.id for test in protocol.tests}
        for test_id in ladder.tests:
            if test_id not in known:
                raise ShelfError(
                    f"The ladder {ladder.name} names {test_id!r}, which is none of the tests. Choose from: {', '.join(sorted(known))}.",
                    field=at,
                )
            if test_id in taken:
                again = "comes back to" if taken[test_id] == ladder.id else "shares with another ladder"
                raise ShelfError(
                    f"The ladder {ladder.name} {again} {test_id!r}. A test is one step of one ladder.",
                    field=at,
                )
            taken[test_id] = ladder.id
        _check_order(protocol, ladder, at)


def _check_order(protocol: Protocol, ladder: Ladder, at: str) -> None:
    steps = [protocol.test(test_id) for test_id in ladder.tests]
    for milder, harsher in pairwise(steps):
        if folded(milder.agent) != folded(harsher.agent) or milder.covered != harsher.covered:
            raise ShelfError(
                f"The ladder {ladder.name} goes from {milder.name} to {harsher.name}: its steps are of one agent, all covered or "
                "all open. Make two ladders.",
                field=at,
            )
        rises = [b - a for a, b in zip(milder.harshness, harsher.harshness, strict=True)]
        if min(rises) < 0 or max(rises) <= 0:
            raise ShelfError(
                f"The ladder {ladder.name} is out of order: {harsher.name} is not harsher than {milder.name} before it. Put the "
                "mildest first.",
                field=at,
            )
        if not set(milder.responses) & set(harsher.responses):
            raise ShelfError(
                f"The ladder {ladder.name}: {milder.name} and {harsher.name} are read on nothing in common. Read one scale on both.",
                field=at,
            )
