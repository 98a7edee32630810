"""What went otherwise than its window: still usable, a deviation, or spoiled.

The thresholds are workshop rules of thumb, not measurements, and are stated with each finding. A window that was missed by a
little is *usable*: it is noted and nothing follows. A *deviation* is carried to the evidence. *Spoiled* means that the panel, or
the one spot, would no longer be the build-up, or the exposure, whose name it bears.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import pairwise

from nublet.core.bench.board_judging import judge_boards
from nublet.core.bench.evenness import NOTHING_CLOSED, Closed, as_it_goes
from nublet.core.bench.findings import (
    LOOK_TOLERANCES_DEVIATION,
    SLIP_S,
    DeviationKind,
    Finding,
    Judgement,
    judge_off,
    usable_within_s,
)
from nublet.core.bench.keys import DoneBook, DoneWork
from nublet.core.bench.schools import BLOCK_TOLERANCE_C
from nublet.core.planning.chains import STEP_ENDS
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.spec import CoatStep, PanelGroup, PlanSpec
from nublet.core.quantities import Prose, amount, say

COLDEST_C = 15.0
DAMPEST_RH = 75.0


@dataclass(frozen=True)
class _Rule:
    """Shares of the window's edge by which it may be missed: as usable, and as a deviation (``None`` for always)."""

    usable: float
    deviation: float | None


# Late wiping tears a film that has begun to set; late recoating asks for abrasion and no more; early recoating shuts solvent in.
_LATE = {"late-wipe": _Rule(0.1, 1.0), "late-recoat": _Rule(0.1, None)}
_EARLY = {
    "early-wipe": _Rule(0.1, None),
    "early-recoat": _Rule(0.05, 0.5),
    "uncured-exposure": _Rule(0.02, 0.25),
    # Of an act whose window never closes: what was to dry overnight and dried for three quarters of it is a deviation.
    "early-act": _Rule(0.02, 0.25),
}
_TOLERANCES_DEVIATION, _DURATION_SHARE = 2.0, 0.1


def judge(
    spec: PlanSpec, done: Iterable[DoneWork], *, now_s: float | None = None, closed: Closed = NOTHING_CLOSED
) -> list[Finding]:
    """Hold what was done against its windows, panel by panel in the order of the work.

    With ``now_s`` what is overdue then is judged too, as if it were done at that moment. ``closed`` are steps that are no work
    any more.
    """
    book = DoneBook(done)
    findings: list[Finding] = list(judge_boards(spec, book))
    for group in spec.groups:
        for panel in group.panels:
            own = as_it_goes(group, panel, closed)
            findings += _judge_coats(own, panel, book, now_s)
            findings += _judge_exposures(own, panel, book, now_s)
    return findings


def judge_climate(
    temperature_c: float | None,
    humidity_pct: float | None,
    *,
    coldest_c: float | None = None,
    dampest_pct: float | None = None,
) -> list[tuple[DeviationKind, str]]:
    """What is wrong with the air at a coat, by the label's limits or the usual 15 °C and 75 % RH."""
    low = COLDEST_C if coldest_c is None else coldest_c
    high = DAMPEST_RH if dampest_pct is None else dampest_pct
    found: list[tuple[DeviationKind, str]] = []
    if temperature_c is not None and temperature_c < low:
        found.append(
            (
                "cold-shop",
                say(
                    "coated at {}; it wants {} or more, and cures slower.",
                    amount("celsius", temperature_c),
                    amount("celsius", low),
                ),
            )
        )
    if humidity_pct is not None and humidity_pct > high:
        found.append(
            ("damp-shop", f"coated at {humidity_pct:g} % RH; it wants {high:g} % or less, and dries slower.")
        )
    return found


def judge_block(block_c: float, wanted_c: float) -> Prose | None:
    """What is wrong with a block's temperature at contact, or ``None`` within 2 °C of what the test asks for."""
    off_c = block_c - wanted_c
    if abs(off_c) <= BLOCK_TOLERANCE_C + 1e-9:
        return None
    return say(
        "the block was {} at contact; it wants {} to {}.",
        amount("celsius", block_c),
        amount("celsius", wanted_c - BLOCK_TOLERANCE_C, is_bare=True),
        amount("celsius", wanted_c + BLOCK_TOLERANCE_C),
    )


def judge_mix(age_min: float, pot_life_min: float | None) -> list[tuple[DeviationKind, str]]:
    """What is wrong with a mix that was this old when a coat began. Without a pot life it does not age."""
    if pot_life_min is None or age_min * 60 <= pot_life_min * 60 + SLIP_S:
        return []
    over = say_duration((age_min - pot_life_min) * 60)
    return [("spent-mix", f"coated from a mix {over} past its pot life; it may not have set through.")]


def _judge_coats(
    group: PanelGroup,
    panel: str,
    book: DoneBook,
    now_s: float | None,
) -> Iterator[Finding]:
    before: tuple[CoatStep, float] | None = None
    for step in group.steps:
        coat = book.of(group.id, panel, step.id, "coat")
        begun_s = coat.start_s if coat is not None else now_s
        is_done = coat is not None
        if step.kind == "work":
            # Nobody need write down that a panel was sanded; what follows vouches for it.
            before = None
            continue
        if before is not None and begun_s is not None:
            low = before[0].recoat_from_h * 3600
            high = None if before[0].recoat_to_h is None else before[0].recoat_to_h * 3600
            place = _Place(group=group.id, panel=panel, item=step.id, is_done=is_done)
            yield from _judge_wait(place, begun_s - before[1], low, high, "early-recoat", "late-recoat")
        if coat is None:
            return
        end_s = coat.end_s
        if step.wipe is not None:
            wiping = book.of(group.id, panel, step.id, "wipe")
            at = wiping.start_s if wiping is not None else now_s
            if at is not None:
                place = _Place(group=group.id, panel=panel, item=step.id, is_done=wiping is not None)
                low, high = step.wipe.from_min * 60, step.wipe.to_min * 60
                yield from _judge_wait(place, at - coat.end_s, low, high, "early-wipe", "late-wipe")
            end_s = wiping.end_s if wiping is not None else end_s
        before = step, end_s


def _judge_exposures(
    group: PanelGroup,
    panel: str,
    book: DoneBook,
    now_s: float | None,
) -> Iterator[Finding]:
    ends = [
        work.end_s
        for step in group.steps
        for kind in STEP_ENDS
        if (work := book.of(group.id, panel, step.id, kind)) is not None
    ]
    for exposure in group.exposures:
        first = book.of_act(group.id, panel, exposure.id, exposure.chain[0])
        if first is not None and ends:
            place = _Place(group=group.id, panel=panel, item=exposure.id, is_done=True, whole_panel=False)
            cured_s = first.start_s - max(ends)
            yield from _judge_wait(
                place, cured_s, group.cure_h * 3600, None, "uncured-exposure", "late-recoat"
            )
        n_done = book.n_acts(group.id, panel, exposure)
        if n_done:
            yield from _judge_acts(group, panel, exposure, n_done, book, now_s)
            yield from _judge_looks(group, panel, exposure, n_done, book, now_s)


def _judge_acts(
    group: PanelGroup, panel: str, exposure: ExposureWork, n_done: int, book: DoneBook, now_s: float | None
) -> Iterator[Finding]:
    """Each act against its window after the one before; the next one too, as if it were done now."""
    for before, act in pairwise(exposure.chain[: n_done + 1]):
        since = book.of_act(group.id, panel, exposure.id, before)
        work = book.of_act(group.id, panel, exposure.id, act)
        at = work.start_s if work is not None else now_s
        # One between two that were logged was done too, nobody knows when.
        is_unknown = work is None and act is not exposure.chain[min(n_done, len(exposure.chain) - 1)]
        if since is None or at is None or is_unknown:
            continue
        place = _Place(
            group=group.id,
            panel=panel,
            item=exposure.id,
            act=act.id if act.kind == "act" else "",
            is_done=work is not None,
            whole_panel=False,
        )
        if act.kind == "lift":
            allowed_min = max(
                _TOLERANCES_DEVIATION * exposure.tolerance_min, _DURATION_SHARE * exposure.duration_min
            )
            off_s = at - since.end_s - exposure.duration_min * 60
            yield from _judge_off(
                place, off_s, exposure.tolerance_min * 60, allowed_min * 60, "early-lift", "late-lift"
            )
            continue
        yield from _judge_act(place, at - since.end_s, before.then_min or (0.0, None))


def _judge_act(place: _Place, waited_s: float, window_min: tuple[float, float | None]) -> Iterator[Finding]:
    least, most = window_min
    if most is None:
        yield from _judge_wait(place, waited_s, max(0.0, 60 * least), None, "early-act", "late-act")
        return
    middle_s, half_s = 30 * (least + most), 30 * (most - least)
    allowed_s = max(_TOLERANCES_DEVIATION * half_s, _DURATION_SHARE * middle_s)
    yield from _judge_off(place, waited_s - middle_s, half_s, allowed_s, "early-act", "late-act")


def _judge_looks(
    group: PanelGroup, panel: str, exposure: ExposureWork, n_done: int, book: DoneBook, now_s: float | None
) -> Iterator[Finding]:
    """Each look against its time after its act; one that is overdue too, as if it were done now."""
    chain = exposure.chain
    acts = {act.id: act for act in chain}
    for look in exposure.looks:
        anchor = acts.get(look.after, chain[-1])
        after = book.of_act(group.id, panel, exposure.id, anchor)
        work = book.of_look(group.id, panel, exposure.id, look)
        place = _Place(
            group=group.id,
            panel=panel,
            item=exposure.id,
            act=look.after,
            is_done=work is not None,
            whole_panel=False,
            look_after_min=look.after_min,
        )
        if work is not None and (after is None or work.start_s < after.start_s):
            # What was done after it and logged vouches for the act that was not.
            if after is None and n_done > chain.index(anchor):
                continue
            off_s = 0.0 if after is None else work.start_s - after.start_s
            yield place.found("look-before-lift", off_s, -1.0, -1.0)
            continue
        at = work.start_s if work is not None else now_s
        if after is None or at is None:
            continue
        tolerance_s = look.tolerance_min * 60
        off_s = at - after.end_s - look.after_min * 60
        allowed_s = LOOK_TOLERANCES_DEVIATION * tolerance_s
        yield from _judge_off(place, off_s, tolerance_s, allowed_s, "early-look", "late-look")


@dataclass(frozen=True, kw_only=True)
class _Place:
    """Whose window it is; ``whole_panel`` and the rest as in :class:`Finding`."""

    group: str
    panel: str
    item: str
    is_done: bool
    act: str = ""
    whole_panel: bool = True
    look_after_min: float | None = None

    @property
    def _what(self) -> str:
        return f"{self.item}, {self.act}" if self.act and self.look_after_min is None else self.item

    def found(self, kind: DeviationKind, off_s: float, usable_s: float, deviation_s: float | None) -> Finding:
        """The finding, by how far a miss is usable and how far a deviation (``None`` for always)."""
        judgement = judge_off(off_s, usable_s=usable_s, deviation_s=deviation_s)
        return Finding(
            kind=kind,
            group=self.group,
            panel=self.panel,
            item=self.item,
            act=self.act,
            judgement=judgement,
            says=_say(kind, self.panel, self._what, off_s, judgement),
            off_s=off_s,
            whole_panel=self.whole_panel,
            look_after_min=self.look_after_min,
            is_done=self.is_done,
        )


def _judge_wait(
    place: _Place,
    waited_s: float,
    low_s: float,
    high_s: float | None,
    early: DeviationKind,
    late: DeviationKind,
) -> Iterator[Finding]:
    """A wait against a window. What is not done yet cannot be too early."""
    if place.is_done and waited_s < low_s - 0.5:
        kind, rule, edge_s, off_s = early, _EARLY[early], low_s, waited_s - low_s
    elif high_s is not None and waited_s > high_s + 0.5:
        kind, rule, edge_s, off_s = late, _LATE[late], high_s, waited_s - high_s
    else:
        return
    deviation_s = None if rule.deviation is None else rule.deviation * edge_s
    yield place.found(kind, off_s, max(SLIP_S, rule.usable * edge_s), deviation_s)


def _judge_off(
    place: _Place,
    off_s: float,
    tolerance_s: float,
    deviation_s: float,
    early: DeviationKind,
    late: DeviationKind,
) -> Iterator[Finding]:
    """A moment against a tolerance. What is not done yet cannot be too early."""
    if abs(off_s) > tolerance_s + 0.5 and (off_s > 0 or place.is_done):
        kind = early if off_s < 0 else late
        yield place.found(kind, off_s, usable_within_s(tolerance_s), deviation_s)


_WHAT: dict[DeviationKind, str] = {
    "early-wipe": "wiped off {} too early",
    "late-wipe": "wiped off {} too late",
    "early-recoat": "recoated {} too early",
    "late-recoat": "recoated {} too late",
    "uncured-exposure": "exposed {} before full cure",
    "early-lift": "lifted {} too early",
    "late-lift": "lifted {} too late",
    "early-look": "looked at {} too early",
    "late-look": "looked at {} too late",
    "early-act": "done {} too early",
    "late-act": "done {} too late",
    "look-before-lift": "looked at before it was lifted",
}
_THEN: dict[tuple[DeviationKind, Judgement], str] = {
    ("late-wipe", "deviation"): "the film had begun to set",
    ("late-wipe", "spoiled"): "it has set: sand it back, or replace the panel",
    ("late-recoat", "deviation"): "abrade before the coat",
    ("early-recoat", "deviation"): "solvent may be shut in",
    ("early-recoat", "spoiled"): "the coat beneath was still wet: replace the panel",
    ("uncured-exposure", "spoiled"): "the result tells of the cure, not of the finish",
    ("late-lift", "spoiled"): "it is another exposure: leave the result out",
    ("late-act", "spoiled"): "it is another test: leave the result out",
    ("early-act", "spoiled"): "it is another test: leave the result out",
    ("early-lift", "spoiled"): "it is another exposure: leave the result out",
    ("late-look", "spoiled"): "this look is lost",
    ("early-look", "spoiled"): "this look is lost",
    ("look-before-lift", "spoiled"): "this look shows nothing: leave it out, or correct the log",
}


def _say(kind: DeviationKind, panel: str, item: str, off_s: float, judgement: Judgement) -> str:
    words = f"{panel}, {item}: {_WHAT[kind].format(say_duration(abs(off_s)))}"
    then = "still usable" if judgement == "usable" else _THEN.get((kind, judgement), judgement)
    return f"{words}; {then}."


def say_duration(seconds: float) -> str:
    """A length of time in the two units that matter.

    Examples
    --------
    >>> say_duration(95), say_duration(4000), say_duration(200_000)
    ('1 min 35 s', '1 h 6 min', '2 d 7 h')
    """
    whole = round(seconds)
    for unit, size, smaller, small_size in (
        ("d", 86_400, "h", 3600),
        ("h", 3600, "min", 60),
        ("min", 60, "s", 1),
    ):
        if whole >= size:
            rest = whole % size // small_size
            return f"{whole // size} {unit}" + (f" {rest} {smaller}" if rest else "")
    return f"{whole} s"
