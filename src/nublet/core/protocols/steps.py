"""The next harder and the next milder step of a test, and a test as a ladder.

Steps are the agent's own, from the shelf: its contact times or its temperatures. What is done so many times goes by factors. A step
that ships is the shipped test, by its own id; any other is the test with its severity and its names changed.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace
from itertools import pairwise

from nublet.core.plain import folded
from nublet.core.protocols.acts import MAX_CYCLES, Act
from nublet.core.protocols.agents import STAIN_LADDER_MIN, Agent, known_agent
from nublet.core.protocols.shipped import TESTS
from nublet.core.protocols.shipped.building import degrees, span_id, span_words
from nublet.core.protocols.tests import AfterFail, Ladder, Protocol, Test

_TIMES_FACTOR = 4
_MOST_STROKES = 400
Own = Mapping[str, Agent]


def harder(test: Test, own: Own | None = None) -> Test | None:
    """The next harsher step, or ``None`` at the end of what is known.

    Parameters
    ----------
    test : Test
    own : mapping of folded name to Agent, or None
        The shop's own agents.

    Examples
    --------
    >>> harder(TESTS["coffee-1h"]).id, harder(TESTS["dry-heat-180"]) is None
    ('coffee-2h', True)
    """
    return _next(test, 1, own)


def milder(test: Test, own: Own | None = None) -> Test | None:
    """The next milder step, or ``None`` at the beginning.

    Examples
    --------
    >>> milder(TESTS["damp-100"]).id, milder(TESTS["iron-115"]) is None
    ('damp-25', True)
    """
    return _next(test, -1, own)


def as_ladder(
    test: Test, n_steps: int = 4, own: Own | None = None, *, after_fail: AfterFail = "go-on"
) -> tuple[tuple[Test, ...], Ladder | None]:
    """The test among its neighbours: as many steps as asked for, the mildest first; no ladder where there is but one.

    Examples
    --------
    >>> steps, ladder = as_ladder(TESTS["wet-heat-70"], 3)
    >>> [step.id for step in steps], ladder.id
    (['wet-heat-55', 'wet-heat-70', 'wet-heat-85'], 'ladder-wet-heat-70')
    """
    steps = [test]
    while len(steps) < n_steps:
        before, after = milder(steps[0], own), harder(steps[-1], own)
        if before is None and after is None:
            break
        # In turns, so that the test stays in the middle.
        is_upper = after is not None and (before is None or len(steps) % 2 == 0)
        if is_upper and after is not None:
            steps.append(after)
        elif before is not None:
            steps.insert(0, before)
    if len(steps) < 2:
        return tuple(steps), None
    name = test.agent[:1].upper() + test.agent[1:]
    return tuple(steps), Ladder(
        id=f"ladder-{test.id}"[:60],
        name=name[:120],
        tests=tuple(step.id for step in steps),
        after_fail=after_fail,
    )


def with_ladder(protocol: Protocol, test_id: str, n_steps: int = 4, own: Own | None = None) -> Protocol:
    """The protocol with one of its tests as a ladder: its missing steps beside it, and in no other ladder any more.

    Raises
    ------
    KeyError
        If the protocol has no such test.
    """
    steps, ladder = as_ladder(protocol.test(test_id), n_steps, own)
    if ladder is None:
        return protocol
    ids = {step.id for step in steps}
    place = next(index for index, each in enumerate(protocol.tests) if each.id == test_id)
    kept = [each for each in protocol.tests if each.id not in ids]
    before = sum(each.id not in ids for each in protocol.tests[:place])
    had = {each.id: each for each in protocol.tests}
    tests = (*kept[:before], *(had.get(step.id, step) for step in steps), *kept[before:])
    return replace(protocol, tests=tests, ladders=(*without_steps(protocol.ladders, ids), ladder))


def without_steps(ladders: Iterable[Ladder], ids: set[str]) -> list[Ladder]:
    """Ladders without some of their steps; what is left with one step is none."""
    left = [replace(each, tests=tuple(step for step in each.tests if step not in ids)) for each in ladders]
    return [each for each in left if len(each.tests) > 1]


def _next(test: Test, by: int, own: Own | None) -> Test | None:
    act = test.main_act
    if act is None:
        return None
    if act.cycles or act.strokes:
        times = act.cycles or act.strokes
        wanted = times * _TIMES_FACTOR if by > 0 else times // _TIMES_FACTOR
        most = MAX_CYCLES if act.cycles else _MOST_STROKES
        return _at(test, act, times=wanted) if 1 < wanted <= most else None
    agent = (own or {}).get(folded(act.agent)) or known_agent(act.agent)
    temperatures = agent.temperatures_c if agent else ()
    if len(temperatures) > 1 and act.temperature_c is not None:
        step = _beside(temperatures, act.temperature_c, by)
        return None if step is None else _at(test, act, temperature_c=step)
    if act.lasts_min <= 0 or act.kind == "put-out":
        return None
    durations = agent.durations_min if agent and len(agent.durations_min) > 1 else STAIN_LADDER_MIN
    step = _beside(durations, act.lasts_min, by)
    return None if step is None else _at(test, act, lasts_min=step)


def at_severity(
    test: Test,
    *,
    lasts_min: float | None = None,
    temperature_c: float | None = None,
    times: int | None = None,
) -> Test:
    """The test for another time, at another temperature, or so often: what is not given stays; names follow.

    Examples
    --------
    >>> at_severity(TESTS["coffee-1h"], lasts_min=45).name
    'Coffee, covered 45 min'
    """
    act = test.main_act
    if act is None:
        return test
    return _at(test, act, lasts_min=lasts_min, temperature_c=temperature_c, times=times)


def _beside(steps: Iterable[float], now: float, by: int) -> float | None:
    """The nearest step above, or below."""
    ordered = sorted(steps, reverse=by < 0)
    return next((step for step in ordered if (step - now) * by > 1e-9), None)


def _at(
    test: Test,
    act: Act,
    *,
    lasts_min: float | None = None,
    temperature_c: float | None = None,
    times: int | None = None,
) -> Test:
    """The test at another severity: the one that ships where one does."""
    changed = replace(
        act,
        lasts_min=act.lasts_min if lasts_min is None else lasts_min,
        temperature_c=act.temperature_c if temperature_c is None else temperature_c,
        cycles=times if times is not None and act.cycles else act.cycles,
        strokes=times if times is not None and act.strokes else act.strokes,
        # A window of its own was meant for the time before.
        then_min=act.then_min if lasts_min is None else None,
    )
    acts = tuple(changed if each is act else each for each in test.acts)
    made = replace(test, acts=acts)
    for shipped in TESTS.values():
        if shipped.acts == acts and shipped.site == test.site:
            return replace(
                made, id=shipped.id, name=shipped.name, short_name=shipped.short_name, says=shipped.says
            )
    old, new = _words(act), _words(changed)
    return replace(
        made,
        id=_renamed(test.id, old[1], new[1], "-")[:60],
        name=_renamed(test.name, old[0], new[0], ", ")[:120],
        short_name=_renamed(test.short_name, old[0], new[0], " ")[:30],
        says=test.says.replace(old[0], new[0]),
    )


def _words(act: Act) -> tuple[str, str]:
    """What tells an act's severity, in a name and in an id."""
    if act.cycles or act.strokes:
        times = str(act.cycles or act.strokes)
        return times, times
    agent = known_agent(act.agent)
    if act.temperature_c is not None and agent is not None and len(agent.temperatures_c) > 1:
        return degrees(act.temperature_c), f"{act.temperature_c:g}"
    return span_words(act.lasts_min), span_id(act.lasts_min)


def _renamed(text: str, old: str, new: str, between: str) -> str:
    return text.replace(old, new) if old in text else f"{text}{between}{new}"


def is_rising(tests: Iterable[Test]) -> bool:
    """Whether each is harsher than the one before."""
    return all(one.harshness < other.harshness for one, other in pairwise(tests))
