"""What is worked out from what was read, and never typed: colour differences, gloss kept, uptake, times to a stage, ladders.

References
----------
Turnbull, B. W. (1976), JRSS B 38, 290-295, for values that are known only to lie between two looks. Of the measures their own
modules in :mod:`nublet.core.measuring`.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from nublet.core.errors import ReadingsError
from nublet.core.measuring.colour import Lab, delta_e00, hue_degrees
from nublet.core.measuring.gloss import gloss_kept_pct
from nublet.core.measuring.weights import ring_area_m2
from nublet.core.protocols.looks import Look
from nublet.core.protocols.response import Response
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.tests import Protocol, Test


@dataclass(frozen=True, kw_only=True, slots=True)
class ReadValue:
    """One value as it was read: which panel, test, look, response, by whom and from which view."""

    panel: str
    test: str
    look: str
    response: str
    value: float
    judge: str = ""
    view: str = ""


@dataclass(frozen=True, kw_only=True, slots=True)
class DerivedValue:
    """One value that was worked out. Of a time or a ladder only the ends between which it lies may be known.

    ``value`` is ``None`` then; ``at_least`` and ``at_most`` are the ends, ``None`` for an open one. ``look`` is empty where all
    looks went into it; of a ladder ``test`` is the ladder's id.
    """

    panel: str
    test: str
    look: str
    response: str
    value: float | None
    at_least: float | None = None
    at_most: float | None = None
    judge: str = ""
    view: str = ""


@dataclass(frozen=True, kw_only=True)
class Interval:
    """Between which two ends something lies; ``None`` is an open end."""

    at_least: float | None
    at_most: float | None


def time_to_stage(seen: Iterable[tuple[float, float]], stage: float) -> Interval:
    """When a stage was reached: between the last look without it and the first look from which on it was always there.

    Parameters
    ----------
    seen : iterable of (minutes, stage)
    stage : float
        The value of the stage that is asked for, on a scale that rises.

    Examples
    --------
    >>> time_to_stage([(60, 0), (120, 1), (240, 2), (480, 2)], 2)
    Interval(at_least=120, at_most=240)
    >>> time_to_stage([(60, 0), (120, 1)], 2)
    Interval(at_least=120, at_most=None)
    """
    ordered = sorted(seen)
    not_yet = [minutes for minutes, found in ordered if found < stage]
    last = not_yet[-1] if not_yet else None
    first = next(
        (minutes for minutes, found in ordered if found >= stage and (last is None or minutes > last)), None
    )
    return Interval(at_least=last if last is not None else 0.0, at_most=first)


@dataclass(frozen=True, kw_only=True)
class LadderResult:
    """The highest step passed of a ladder on one panel, 0 for none, between two ends.

    ``is_contradicted`` is a pass above a fail: the step is to be looked at again.
    """

    at_least: int
    at_most: int
    is_contradicted: bool


def highest_step(passed: Sequence[bool | None]) -> LadderResult:
    """Read a ladder, the mildest step first; ``None`` is a step without a reading.

    The first fail is the upper end, whatever the school: steps above it that were left out count as failed. A missing step under
    it may be either, unless a harsher one was passed.

    Examples
    --------
    >>> highest_step([True, True, False])
    LadderResult(at_least=2, at_most=2, is_contradicted=False)
    >>> highest_step([True, None, False])
    LadderResult(at_least=1, at_most=2, is_contradicted=False)
    >>> highest_step([True, False, None])
    LadderResult(at_least=1, at_most=1, is_contradicted=False)
    >>> highest_step([True, False, True]).is_contradicted
    True
    """
    first_fail = next((step for step, each in enumerate(passed) if each is False), None)
    upper = len(passed) if first_fail is None else first_fail
    # A step that was passed vouches for the milder ones beneath it.
    lower = max((step + 1 for step, each in enumerate(passed[:upper]) if each is True), default=0)
    contradicted = first_fail is not None and any(each is True for each in passed[first_fail + 1 :])
    return LadderResult(at_least=lower, at_most=upper, is_contradicted=contradicted)


def share_preferred_pct(choices: Sequence[float]) -> float | None:
    """How often something was preferred, a tie as a half, %; ``None`` without a choice.

    Examples
    --------
    >>> share_preferred_pct([1, 1, 0.5, 0])
    62.5
    """
    return 100 * sum(choices) / len(choices) if choices else None


def derived_of(test: Test) -> tuple[Response, ...]:
    """What can be worked out from what a test reads."""
    read = {part for response in test.responses for part in (response, *RESPONSES[response].parts)}
    return tuple(
        response
        for response in RESPONSES.values()
        if response.form == "derived"
        and set(response.derived_from) <= read
        and response.id not in ("highest-step", "share-preferred")
    )


def derive(
    values: Iterable[ReadValue], protocol: Protocol, *, bare: Mapping[str, Sequence[str]] | None = None
) -> list[DerivedValue]:
    """Work out all that can be from what was read, test by test and panel by panel; ladders by the look that verdicts go by.

    Readings of one panel at one look by several judges are averaged first, except stages, which each judge tells for himself.

    Parameters
    ----------
    values : iterable of ReadValue
    protocol : Protocol
    bare : mapping of str to sequence of str, optional
        By panel the bare panels of its own board, against whose colour at the same look its own is held. A bare panel has none.

    Raises
    ------
    ReadingsError
        If a value belongs to a test that the protocol has not.
    """
    by_place: dict[tuple[str, str], list[ReadValue]] = {}
    tests = {test.id: test for test in protocol.tests}
    for value in values:
        if value.test not in tests:
            raise ReadingsError(f"The protocol {protocol.name} has no test {value.test!r}.", field="test")
        by_place.setdefault((value.panel, value.test), []).append(value)
    found: list[DerivedValue] = []
    for (panel, test_id), rows in by_place.items():
        test = tests[test_id]
        looks = {look.id: look for look in protocol.looks_of(test)}
        beside = [row for other in (bare or {}).get(panel, ()) for row in by_place.get((other, test_id), ())]
        found += _against_bare(panel, test, rows, beside, looks)
        found += _colours(panel, test, rows, looks)
        found += _glosses(panel, test, rows, looks)
        found += _uptakes(panel, test, rows, looks)
        found += _times(panel, test, rows, looks)
    return found + _ladders(by_place, protocol)


def _means(rows: Iterable[ReadValue], response: str) -> dict[tuple[str, str], float]:
    """Mean value of a response by look and view."""
    listed: dict[tuple[str, str], list[float]] = {}
    for row in rows:
        if row.response == response:
            listed.setdefault((row.look, row.view), []).append(row.value)
    return {key: sum(each) / len(each) for key, each in listed.items()}


def _reference(
    looks: Mapping[str, Look], have: Iterable[tuple[str, str]], view: str
) -> tuple[str, str] | None:
    """The reading that later ones are held against: just before the first act, else on the bare wood."""
    for kind in ("before", "bare"):
        for look_id, seen_from in have:
            if look_id in looks and looks[look_id].after == kind and seen_from == view:
                return look_id, seen_from
    return None


def _later(looks: Mapping[str, Look], have: Iterable[tuple[str, str]]) -> list[tuple[str, str]]:
    return [key for key in have if key[0] in looks and not looks[key[0]].is_before]


def _labs(rows: Iterable[ReadValue]) -> dict[tuple[str, str], Lab]:
    """Whole colours by look and view."""
    listed = list(rows)
    parts = [_means(listed, part) for part in RESPONSES["colour"].parts]
    have = [key for key in parts[0] if all(key in part for part in parts)]
    return {key: (parts[0][key], parts[1][key], parts[2][key]) for key in have}


def _against_bare(
    panel: str, test: Test, rows: Sequence[ReadValue], beside: Sequence[ReadValue], looks: Mapping[str, Look]
) -> list[DerivedValue]:
    """How far a panel's colour is from that of its board's bare wood, seen at the same look from the same view."""
    own, wood = _labs(rows), _labs(beside)
    return [
        DerivedValue(
            panel=panel,
            test=test.id,
            look=look,
            view=view,
            response="delta-e00-bare",
            value=RESPONSES["delta-e00-bare"].rounded(delta_e00(wood[look, view], own[look, view])),
        )
        for look, view in _later(looks, own)
        if (look, view) in wood
    ]


def _colours(
    panel: str, test: Test, rows: Sequence[ReadValue], looks: Mapping[str, Look]
) -> list[DerivedValue]:
    colours = _labs(rows)
    have = list(colours)
    found = []
    for key in _later(looks, have):
        look, view = key
        hue = hue_degrees(*colours[key][1:])
        against = _reference(looks, have, view)
        told: dict[str, float | None] = {"hue": hue}
        if against is not None:
            before, after = colours[against], colours[key]
            told |= {
                "delta-e00": delta_e00(before, after),
                "delta-l": after[0] - before[0],
                "delta-b": after[2] - before[2],
            }
        found += [
            DerivedValue(
                panel=panel,
                test=test.id,
                look=look,
                view=view,
                response=name,
                value=RESPONSES[name].rounded(value),
            )
            for name, value in told.items()
            if value is not None
        ]
    return found


def _glosses(
    panel: str, test: Test, rows: Sequence[ReadValue], looks: Mapping[str, Look]
) -> list[DerivedValue]:
    found = []
    for response in RESPONSES.values():
        if response.form != "derived" or not response.id.endswith("-retention"):
            continue
        means = _means(rows, response.derived_from[0])
        for look, view in _later(looks, means):
            against = _reference(looks, means, view)
            kept = None if against is None else gloss_kept_pct(means[against], means[look, view])
            if kept is not None:
                found.append(
                    DerivedValue(
                        panel=panel,
                        test=test.id,
                        look=look,
                        view=view,
                        response=response.id,
                        value=response.rounded(kept),
                    )
                )
    return found


def _uptakes(
    panel: str, test: Test, rows: Sequence[ReadValue], looks: Mapping[str, Look]
) -> list[DerivedValue]:
    if test.site.kind != "spot":
        return []
    means = _means(rows, "weight")
    found = []
    for look, view in _later(looks, means):
        against = _reference(looks, means, view)
        if against is not None:
            taken = (means[look, view] - means[against]) / ring_area_m2(test.site.wetted_mm)
            found.append(
                DerivedValue(
                    panel=panel,
                    test=test.id,
                    look=look,
                    view=view,
                    response="uptake",
                    value=RESPONSES["uptake"].rounded(taken),
                )
            )
    return found


_STAGES = {"minutes-to-touch-dry": 2.0, "minutes-to-hard": 3.0}


def _times(
    panel: str, test: Test, rows: Sequence[ReadValue], looks: Mapping[str, Look]
) -> list[DerivedValue]:
    by_judge: dict[str, list[tuple[float, float]]] = {}
    for row in rows:
        if row.response == "drying-stage" and row.look in looks:
            by_judge.setdefault(row.judge, []).append((looks[row.look].after_min, row.value))
    return [
        DerivedValue(
            panel=panel,
            test=test.id,
            look="",
            judge=judge,
            response=name,
            value=None,
            at_least=lies.at_least,
            at_most=lies.at_most,
        )
        for judge, seen in by_judge.items()
        for name, stage in _STAGES.items()
        for lies in [time_to_stage(seen, stage)]
    ]


def _ladders(
    by_place: Mapping[tuple[str, str], Sequence[ReadValue]], protocol: Protocol
) -> list[DerivedValue]:
    grade = RESPONSES["grade"]
    look = protocol.look_for().id if protocol.tests else ""
    panels = dict.fromkeys(panel for panel, _ in by_place)
    found = []
    for ladder in protocol.ladders:
        for panel in panels:
            passed: list[bool | None] = []
            for test_id in ladder.tests:
                means = _means(by_place.get((panel, test_id), ()), grade.id)
                own = [value for (at, _), value in means.items() if at == look]
                passed.append(grade.reaches(sum(own) / len(own), grade.passes_from or 0) if own else None)
            if all(each is None for each in passed):
                continue
            result = highest_step(passed)
            is_known = result.at_least == result.at_most
            found.append(
                DerivedValue(
                    panel=panel, test=ladder.id, look=look, response="highest-step",
                    value=float(result.at_least) if is_known else None,
                    at_least=float(result.at_least), at_most=float(result.at_most),
                )
            )  # fmt: skip
    return found
