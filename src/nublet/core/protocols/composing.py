"""Putting a protocol together: tests and whole protocols in and out, other severities, ladders.

Each function returns another protocol. Whether a panel could be put through it is for
:func:`nublet.core.protocols.checking.check_protocol` to say, once for all.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from itertools import count
from typing import Any

from nublet.core.errors import ShelfError
from nublet.core.protocols.agents import Agent
from nublet.core.protocols.steps import at_severity, harder, milder, with_ladder, without_steps
from nublet.core.protocols.tests import Protocol, Test

Own = Mapping[str, Agent]


def with_test(protocol: Protocol, test: Test) -> Protocol:
    """The protocol with one more test at its end.

    Raises
    ------
    ShelfError
        If it is in it already.
    """
    if test.id in {each.id for each in protocol.tests}:
        raise ShelfError(
            f"{test.name} is in the protocol already. Change it there, or take its next step.", field="test"
        )
    return replace(protocol, tests=(*protocol.tests, test))


def with_protocol(protocol: Protocol, other: Protocol) -> Protocol:
    """The protocol with all tests of another that it lacks, and their ladders; each keeps the looks that it had there."""
    had = {test.id for test in protocol.tests}
    new = tuple(
        test if test.looks or other.looks == protocol.looks else replace(test, looks=other.looks)
        for test in other.tests
        if test.id not in had
    )
    taken = {step for ladder in protocol.ladders for step in ladder.tests}
    ids = {ladder.id for ladder in protocol.ladders}
    ladders = tuple(
        ladder for ladder in other.ladders if not taken & set(ladder.tests) and ladder.id not in ids
    )
    return replace(protocol, tests=(*protocol.tests, *new), ladders=(*protocol.ladders, *ladders))


def with_copy(protocol: Protocol, test_id: str) -> Protocol:
    """The protocol with a copy of a test behind it, by an id and a name of its own and in no ladder: to be made another."""
    test = find_test(protocol, test_id)
    ids = {each.id for each in protocol.tests}
    number = next(n for n in count(2) if f"{test_id[:56]}-{n}" not in ids)
    copy = replace(
        test,
        id=f"{test_id[:56]}-{number}",
        name=f"{test.name[:114]}, ours",
        short_name=f"{test.short_name[:27]} {number}",
    )
    place = protocol.tests.index(test) + 1
    return replace(protocol, tests=(*protocol.tests[:place], copy, *protocol.tests[place:]))


def without_test(protocol: Protocol, test_id: str) -> Protocol:
    """The protocol without a test; its ladder has one step fewer, and is none with fewer than two.

    Raises
    ------
    ShelfError
        If it is the last one.
    """
    test = find_test(protocol, test_id)
    if len(protocol.tests) == 1:
        raise ShelfError(f"{test.name} is the only test. Add another before you take it out.", field="test")
    return replace(
        protocol,
        tests=tuple(each for each in protocol.tests if each.id != test_id),
        ladders=tuple(without_steps(protocol.ladders, {test_id})),
    )


def with_step(protocol: Protocol, test_id: str, by: int, own: Own | None = None) -> Protocol:
    """The protocol with the next harder step of a test behind it (``by`` 1), or the next milder before it (-1).

    Raises
    ------
    ShelfError
        If there is no such step, or it is in the protocol already.
    """
    test = find_test(protocol, test_id)
    step = harder(test, own) if by > 0 else milder(test, own)
    if step is None:
        way = "harder" if by > 0 else "milder"
        raise ShelfError(f"There is no {way} step than {test.name}. Change its time yourself.", field="test")
    if step.id in {each.id for each in protocol.tests}:
        raise ShelfError(f"{step.name} is in the protocol already.", field="test")
    place = protocol.tests.index(test) + (by > 0)
    ladders = tuple(
        replace(
            each,
            tests=(*each.tests[: (at := each.tests.index(test_id) + (by > 0))], step.id, *each.tests[at:]),
        )
        if test_id in each.tests
        else each
        for each in protocol.ladders
    )
    return replace(protocol, tests=(*protocol.tests[:place], step, *protocol.tests[place:]), ladders=ladders)


def with_severity(protocol: Protocol, test_id: str, **severity: Any) -> Protocol:
    """The protocol with a test at another severity, by :func:`nublet.core.protocols.steps.at_severity`; names follow.

    Raises
    ------
    ShelfError
        If that is a test which the protocol has already.
    """
    test = find_test(protocol, test_id)
    made = at_severity(test, **severity)
    if made.id != test_id and made.id in {each.id for each in protocol.tests}:
        raise ShelfError(f"{made.name} is in the protocol already. Take one of the two out.", field="test")
    return replace(
        protocol,
        tests=tuple(made if each is test else each for each in protocol.tests),
        ladders=tuple(
            replace(each, tests=tuple(made.id if step == test_id else step for step in each.tests))
            for each in protocol.ladders
        ),
    )


def as_steps(protocol: Protocol, test_id: str, n_steps: int, own: Own | None = None) -> Protocol:
    """The protocol with a test as a ladder of so many steps.

    Raises
    ------
    ShelfError
        If it has no neighbours.
    """
    test = find_test(protocol, test_id)
    made = with_ladder(protocol, test_id, n_steps, own)
    if made is protocol:
        raise ShelfError(f"{test.name} has no harder or milder step, so it is no ladder.", field="test")
    return made


def find_test(protocol: Protocol, test_id: str) -> Test:
    """The test with this id. Raises ``ShelfError`` when the protocol has none."""
    for test in protocol.tests:
        if test.id == test_id:
            return test
    raise ShelfError(f"The protocol has no test {test_id!r}. Reload the page.", field="test")
