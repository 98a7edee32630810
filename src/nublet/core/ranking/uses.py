"""Intended uses: what each asks of a finish, by agent, severity and response, whatever protocol it is tested by.

A use names no test. Which tests of a trial answer it is found from the trial's own protocol (:meth:`Use.asked_of`), so that a test
of the shop's own feeds a shipped use, and another protocol needs no other use.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated

from nublet.core.materials.compatibility import Demand, FoodSchool
from nublet.core.plain import Longest, Span, folded
from nublet.core.protocols.derived import derived_of
from nublet.core.protocols.responses import GRADE, RESPONSES
from nublet.core.protocols.tests import DEFAULT_LOOK, Protocol, Test
from nublet.core.ranking.profiles import MAX_WEIGHT, Criterion, Gate, UseProfile

Range = tuple[float | None, float | None]
_ANY: Range = (None, None)


@dataclass(frozen=True, kw_only=True)
class Asked:
    """Which tests answer something.

    Attributes
    ----------
    id : str
        What stands for it where no test answers it: that part of a score is then unknown.
    agents : frozenset of str
        Any of these, as protocols call them; case and accents do not matter. None for whatever test reads the response.
    duration_min, temperature_c : (float or None, float or None)
        How severe, from and to; ``None`` is no bound. A test without a temperature is in no bounded range of one.
    response : str
        Id of what is read.
    """

    id: Annotated[str, Longest(60)]
    agents: frozenset[str]
    duration_min: Range = _ANY
    temperature_c: Range = _ANY
    response: str = GRADE.id

    def is_answered_by(self, exposure: Test) -> bool:
        """Whether a test is one that is asked for."""
        return (
            (not self.agents or folded(exposure.agent) in {folded(agent) for agent in self.agents})
            and self.response in _told_by(exposure)
            and _within(exposure.duration_min, self.duration_min)
            and _within(exposure.temperature_c, self.temperature_c)
        )

    def tests(self, protocol: Protocol) -> tuple[str, ...]:
        """Keys of what answers it in the protocol's tests, the mildest first; see :func:`key_of`."""
        found = [exposure for exposure in protocol.tests if self.is_answered_by(exposure)]
        return tuple(key_of(exposure.id, self.response) for exposure in sorted(found, key=_severity))


def key_of(test: str, response: str) -> str:
    """What stands for one response of one test in a ranking: of grades the test's own id, of all else both.

    Examples
    --------
    >>> key_of("wine-1h", "grade"), key_of("scratch", "repair-seen")
    ('wine-1h', 'scratch/repair-seen')
    """
    return test if response == GRADE.id else f"{test}/{response}"


@dataclass(frozen=True, kw_only=True)
class AskedGate:
    """A must-pass: of the tests that answer it the mildest counts, and its response's value is at least ``threshold``."""

    asked: Asked
    threshold: float


@dataclass(frozen=True, kw_only=True)
class AskedCriterion:
    """Something the use cares about, fed by the mean of all tests that answer it."""

    id: Annotated[str, Longest(60)]
    name: Annotated[str, Longest(120)]
    weight: Annotated[float, Span(0, MAX_WEIGHT, "of the score")]
    asked: tuple[Asked, ...]


@dataclass(frozen=True, kw_only=True)
class Use:
    """An intended use: criteria with weights, gates, and the look that the verdict goes by.

    Where a protocol has no such look its last one counts. ``demands`` are what the compatibility rules ask about, such as
    ``alcohol`` or ``food``; ``food_school`` is which products food may touch.
    """

    id: str
    name: Annotated[str, Longest(120)]
    says: Annotated[str, Longest(2000)]
    criteria: tuple[AskedCriterion, ...]
    gates: tuple[AskedGate, ...] = ()
    look: Annotated[str, Longest(30)] = DEFAULT_LOOK
    demands: frozenset[Demand] = frozenset()
    food_school: FoodSchool = "disclosed-only"

    def asked_of(self, protocol: Protocol) -> UseProfile:
        """The use in the tests of a protocol, to rank by."""
        return UseProfile(
            id=self.id,
            name=self.name,
            says=self.says,
            criteria=tuple(
                Criterion(
                    id=criterion.id,
                    name=criterion.name,
                    weight=criterion.weight,
                    tests=_distinct(
                        test for asked in criterion.asked for test in asked.tests(protocol) or (asked.id,)
                    ),
                )
                for criterion in self.criteria
            ),
            gates=tuple(
                Gate(test=(gate.asked.tests(protocol) or (gate.asked.id,))[0], threshold=gate.threshold)
                for gate in self.gates
            ),
            look=protocol.look_for(self.look).id,
        )


@dataclass(frozen=True, kw_only=True)
class Unfed:
    """Something that a use asks for and no test of a protocol answers, and which tests would."""

    use: str
    name: str
    is_gate: bool
    tests: tuple[str, ...]


def unfed_by(use: Use, protocol: Protocol, library: Iterable[Test]) -> list[Unfed]:
    """What a use asks for in vain, each once, with the tests of a library that would answer it, the mildest first.

    What is known without reading, such as a price, is not among it.
    """
    listed = list(library)
    wanted: dict[str, tuple[str, bool, list[Asked]]] = {
        asked.id: (criterion.name, False, [asked])
        for criterion in use.criteria
        if not any(each.tests(protocol) for each in criterion.asked)
        for asked in criterion.asked
        if RESPONSES[asked.response].form != "known"
    }
    wanted |= {
        gate.asked.id: (gate.asked.id.replace("-", " "), True, [gate.asked])
        for gate in use.gates
        if not gate.asked.tests(protocol)
    }
    found = []
    for name, is_gate, asked in wanted.values():
        answering = [test for test in listed if any(each.is_answered_by(test) for each in asked)]
        found.append(
            Unfed(
                use=use.name,
                name=name,
                is_gate=is_gate,
                tests=tuple(test.id for test in sorted(answering, key=_severity)),
            )
        )
    return found


def _told_by(test: Test) -> set[str]:
    """Ids of what a test reads, and of what can be worked out from it."""
    return {*test.responses, *(response.id for response in derived_of(test))}


def _within(value: float | None, bounds: Range) -> bool:
    low, high = bounds
    if value is None:
        return low is None and high is None
    return (low is None or value >= low) and (high is None or value <= high)


def _severity(exposure: Test) -> tuple[float, float]:
    return exposure.temperature_c or 0.0, exposure.duration_min


def _distinct(names: Iterable[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(names))
