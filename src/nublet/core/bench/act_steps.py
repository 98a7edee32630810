"""The acts of tests as steps at the bench: what the key says, how it is done, in which window, and what is observed with it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from nublet.core.planning.exposure_work import ActWork
from nublet.core.planning.trial_exposures import BEFORE_ACT, SET_OUT, act_words
from nublet.core.protocols.acts import Act
from nublet.core.protocols.agents import cautions_of
from nublet.core.protocols.looks import BEFORE, Look, Reader
from nublet.core.protocols.prompts import Prompt, prompts_at
from nublet.core.protocols.tests import Protocol, Test
from nublet.core.quantities import Prose, amount, say

# What is held at a temperature that is read at contact; and what is put on from a brew, a bottle or a heating.
_KEPT_HOT = {"heat_block", "iron"}
_POURED = ("lay", "drop", "cycle", "immerse", "stand")
# Nearer to its act than this, the hands observe it with the act itself.
_WITH_THE_ACT_MIN = 5.0


@dataclass(frozen=True, kw_only=True)
class Observation:
    """What is read with an act, by whom: at which look, and which values."""

    look: str
    by: Reader
    prompts: tuple[Prompt, ...]


@dataclass(frozen=True, kw_only=True)
class ActStep:
    """One act of a test as it is done at the bench.

    ``opens_min``, ``aim_min`` and ``closes_min`` count from the end of the act before; ``closes_min`` is empty for what may wait.
    ``how`` is in bench words; ``block_c`` is the temperature that a block or an iron should have at contact; ``pours`` says that a
    pour is named with it.
    """

    id: str
    kind: Literal["act", "lay", "lift"]
    act: str
    verb: str
    words: str
    how: Prose
    minutes: float
    opens_min: float
    aim_min: float
    closes_min: float | None
    is_hot: bool
    block_c: float | None
    pours: bool
    observations: tuple[Observation, ...]


@dataclass(frozen=True, kw_only=True)
class ExposedTest:
    """A test of the trial and what to mind.

    ``ways`` are the acts in order, for each chain that some panel has: a build-up's own mend takes its own time, and bare wood is
    not mended.
    """

    id: str
    name: str
    short_name: str
    agent: str
    is_placed: bool
    ways: tuple[tuple[ActStep, ...], ...]
    cautions: tuple[str, ...]


def exposed_tests(
    protocol: Protocol, chains: Mapping[str, Sequence[Sequence[ActWork]]]
) -> tuple[ExposedTest, ...]:
    """The tests that are done, by the chains as which each is planned on one panel or another, by the test's id."""
    words = act_words(protocol)
    about = {nature for test in protocol.tests for nature in test.natures}
    return tuple(
        ExposedTest(
            id=test.id,
            name=test.name,
            short_name=test.short_name,
            agent="" if test.site.kind == "slip" else test.agent,
            is_placed=test.site.is_placed,
            ways=tuple(
                tuple(_acts(test, protocol.looks_of(test), chain, words)) for chain in chains[test.id]
            ),
            cautions=tuple(cautions_of(test.natures, beside=about)),
        )
        for test in protocol.tests
        if test.id in chains
    )


def _acts(
    test: Test, looks: Sequence[Look], chain: Sequence[ActWork], words: Mapping[tuple[str, str], str]
) -> Iterable[ActStep]:
    before: ActWork | None = None
    for number, work in enumerate(chain):
        act = _act_of(test, work)
        least, most = (0.0, None) if before is None else before.then_min or (0.0, None)
        wanted = None if before is None else before.wanted_min
        yield ActStep(
            id=work.id,
            kind=work.kind,
            act=work.id if work.kind == "act" else "",
            verb=_verb(work, act),
            words=_say(test, work, act, words),
            how=_how(act),
            minutes=work.minutes_per_panel,
            opens_min=least,
            aim_min=least if wanted is None else wanted,
            closes_min=most,
            is_hot=act is not None and act.is_hot,
            block_c=act.temperature_c if act is not None and act.occupies & _KEPT_HOT else None,
            pours=act is not None and bool(act.agent) and act.kind in _POURED and test.site.kind != "slip",
            observations=tuple(_observed(test, looks, work, is_last=number == len(chain) - 1)),
        )
        before = work


def _act_of(test: Test, work: ActWork) -> Act | None:
    """The protocol's act that a planned one is: a turn of turns, or itself; ``None`` for setting out and measuring beforehand."""
    if work.id in (SET_OUT, BEFORE_ACT):
        return None
    known = {act.id: act for act in test.acts}
    if work.kind != "act":
        return next((act for act in test.acts if act.kind == work.kind), None)
    return known.get(work.id) or known.get(work.id.rsplit("-", 1)[0])


_VERBS = {
    "lay": "Laid", "drop": "Dropped", "spread": "Spread", "stroke": "Stroked", "press": "Pressed", "cycle": "Turned",
    "immerse": "Immersed", "stand": "Stood", "put-out": "Out", "take-in": "In", "lift": "Lifted", "damage": "Damaged",
    "abrade": "Abraded", "mend": "Mended", "weigh": "Weighed", "measure": "Measured",
}  # fmt: skip


def _verb(work: ActWork, act: Act | None) -> str:
    """What the key says once it is done."""
    if act is None:
        return "Measured" if work.id == BEFORE_ACT else "Set out"
    return _VERBS.get(act.kind, "Done")


def _say(test: Test, work: ActWork, act: Act | None, words: Mapping[tuple[str, str], str]) -> str:
    """What is done, without its panel."""
    if work.id == BEFORE_ACT:
        return f"Measure before {test.short_name}"
    if act is None:
        return f"Set out for {test.short_name}"
    if act.kind == "lay" and act.agent:
        return f"Lay {act.agent}"
    if act.kind == "lift":
        return f"Lift {test.short_name}"
    return f"{test.short_name}: {words.get((test.id, work.id), act.declared.words)}"


def _how(act: Act | None) -> Prose:
    """Amount, way and numbers of an act, in bench words."""
    if act is None:
        return ""
    parts: list[str] = [
        f"{part[0].upper()}{part[1:]}".rstrip(".")
        for part in (act.amount, act.how, "cover at once" if act.covered else "")
        if part
    ]
    if act.temperature_c is not None:
        parts.append(say("{}", amount("celsius", act.temperature_c)))
    if act.strokes:
        parts.append(f"{act.strokes} strokes {act.grain} the grain")
    # A mug of so many grams says it by its name.
    if act.mass_g and f"{act.mass_g:g}" not in act.agent:
        parts.append(say("{}", amount("grams", act.mass_g)))
    if act.kind == "press" and act.lasts_min:
        parts.append(f"{60 * act.lasts_min:.0f} s")
    return say(" ".join(["{}."] * len(parts)), *parts)


def _observed(test: Test, looks: Sequence[Look], work: ActWork, *, is_last: bool) -> Iterable[Observation]:
    """What is read with an act, because its look comes at once."""
    # Judges are called when all is over; only what passes, such as how a drop stands, is seen with the act.
    readers: tuple[Reader, ...] = ("hands",) if is_last else ("hands", "judges")
    for look in looks:
        if work.id == BEFORE_ACT:
            is_its = look.after == BEFORE
        else:
            base = work.id.rsplit("-", 1)[0]
            is_its = look.after in (work.id, base) or (not look.after and is_last)
        if not is_its or look.after_min > _WITH_THE_ACT_MIN or look.is_far:
            continue
        for by in readers:
            prompts = prompts_at(test, look, by)
            if prompts:
                yield Observation(look=look.id, by=by, prompts=prompts)
