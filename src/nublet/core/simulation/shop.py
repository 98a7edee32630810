"""Plausible readings from invented panels, for any test of the language.

    seen = what S of response r would read at condition( R_fc - slope_c severity + wood_s + B_b + P_p + S_pe ) + J_j + N_jpe

R_fc, slope and severity are those of :mod:`nublet.core.simulation.standing_up`; how a condition reads on each scale and measure
stands in :mod:`nublet.core.simulation.seeing`. wood_s is a shift for the species, B_b ~ N(0, 0.25) the board, P_p ~ N(0, 0.30) the
panel, S_pe ~ N(0, 0.35) the spot, J_j the judge's leniency ~ N(0, 0.15) and N_jpe ~ N(0, 0.25) the judge's noise; the noise of hands
and instruments is each measure's own. A section stands as the better of the families that lie on it, a quarter of a grade worse for
each coat fewer, and is seen as what lies on top; a panel's sections share P_p. A preparation shifts all that it lies beneath. The
numbers are invented; they are claims about nothing.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from nublet.core.design.trial_design import Panel
from nublet.core.design.whole import Slip
from nublet.core.materials.preparations import Preparation
from nublet.core.protocols.looks import Look, Read
from nublet.core.protocols.responses import RESPONSES, parts_of
from nublet.core.protocols.tests import Protocol, Test
from nublet.core.simulation.seeing import Moment, noise_of, plausible, seen_of
from nublet.core.simulation.standing_up import condition, fresh_loss

BOARD_SD = 0.25
PANEL_SD = 0.30
SPOT_SD = 0.35
JUDGE_SD = 0.15
NOISE_SD = 0.25
_WOOD_SHIFT = {"beech": 0.0, "larch": -0.25, "elm": -0.15, "sycamore": 0.05}
FEWER_COAT = 0.25
_CHARRED_SHIFT = {"none": 0.0, "light": 0.2, "medium": 0.3, "deep": 0.1}
_POPPED_SHIFT = 0.1
HANDS = ""


@dataclass(frozen=True, kw_only=True)
class SimulatedSection:
    """What lies on a section, by families from below, and how many coats fewer than on the panel."""

    name: str
    families: tuple[str, ...]
    n_fewer: int = 0


def preparation_shift(preparation: Preparation | None) -> float:
    """Grades by which a preparation moves what lies on it."""
    if preparation is None:
        return 0.0
    return _CHARRED_SHIFT[preparation.charring] + (_POPPED_SHIFT if preparation.water_popped else 0.0)


@dataclass(frozen=True, kw_only=True)
class SimulatedPiece:
    """Something that carries tests: a panel, or a slip of glass with its replicate in place of a board.

    ``sections`` are a panel's; ``shift`` are grades by which its preparation moves it.
    """

    code: str
    build_up: str
    block: str
    species: str
    tests: tuple[str, ...]
    sections: tuple[SimulatedSection, ...] = ()
    shift: float = 0.0


def slips_as_pieces(slips: Sequence[Slip]) -> list[SimulatedPiece]:
    """The slips of a design as pieces, each replicate a block."""
    return [
        SimulatedPiece(
            code=slip.code,
            build_up=slip.build_up,
            block=f"slip {slip.replicate}",
            species="",
            tests=(slip.test,),
        )
        for slip in slips
    ]


@dataclass(frozen=True, kw_only=True)
class SimulatedReading:
    """One invented value: which piece, test, look, response and view; ``judge`` is empty for the hands at the bench.

    Of a preference ``against`` is the other piece.
    """

    piece: str
    test: str
    look: str
    response: str
    value: float
    judge: str = HANDS
    view: str = ""
    against: str = ""
    section: str = ""


def pieces_of(panels: Sequence[Panel], tests: Sequence[str] | None = None) -> list[SimulatedPiece]:
    """The panels of a design as pieces, with the tests whose spots they carry, or with those that are given."""
    return [
        SimulatedPiece(
            code=panel.code,
            build_up=panel.build_up,
            block=panel.board,
            species=panel.species,
            tests=tuple(dict.fromkeys(spot.exposure for spot in panel.spots) if tests is None else tests),
        )
        for panel in panels
    ]


def simulate(
    pieces: Sequence[SimulatedPiece],
    families: Mapping[str, str | None],
    protocol: Protocol,
    judges: Sequence[str],
    *,
    rng: np.random.Generator,
    looks: Sequence[Look] | None = None,
) -> list[SimulatedReading]:
    """Read every test of every piece as every judge, or the hands, would at every look.

    Parameters
    ----------
    pieces : sequence of SimulatedPiece
    families : mapping of build-up to family id, or to None for bare wood
    protocol : Protocol
    judges : sequence of str
    rng : numpy.random.Generator
        Same state, same readings.
    looks : sequence of Look or None
        Those that have come; all by default.
    """
    blocks = {block: rng.normal(0, BOARD_SD) for block in dict.fromkeys(piece.block for piece in pieces)}
    leniency = {judge: rng.normal(0, JUDGE_SD) for judge in judges}
    come = None if looks is None else {look.id for look in looks}
    found: list[SimulatedReading] = []
    liked: dict[tuple[str, str, str, str], list[tuple[str, float]]] = {}
    for piece in pieces:
        shift = (
            rng.normal(0, PANEL_SD) + blocks[piece.block] + _WOOD_SHIFT.get(piece.species, 0.0) + piece.shift
        )
        for test, section in (
            (test, section)
            for test in protocol.tests
            if test.id in piece.tests
            for section in _sections_for(piece, families[piece.build_up])
        ):
            family = section.families[-1] if section.families else None
            stands = _stands(section, test) + shift + rng.normal(0, SPOT_SD)
            for look in protocol.looks_of(test):
                if come is not None and look.id not in come:
                    continue
                at = Moment(
                    family=family, species=piece.species, test=test, look=look, condition=stands - fresh_loss(test, look),
                    panel_shift=shift, rng=rng,
                )  # fmt: skip
                for read in test.reads:
                    if not read.is_due_at(look):
                        continue
                    if RESPONSES[read.response].form == "pair":
                        liked.setdefault((piece.block, section.name, test.id, look.id), []).append(
                            (piece.code, seen_of(RESPONSES[read.response], at))
                        )
                    else:
                        found += [
                            replace(each, section=section.name)
                            for each in _readings(at, piece.code, read, leniency, rng)
                        ]
    return found + list(_choices(liked, leniency, rng))


def _sections_for(piece: SimulatedPiece, family: str | None) -> Sequence[SimulatedSection]:
    """Its sections, or the whole of it as one; bare wood is bare all over."""
    whole = () if family is None else (family,)
    if family is None and piece.sections:
        return [SimulatedSection(name=each.name, families=()) for each in piece.sections]
    return piece.sections or [SimulatedSection(name="", families=whole)]


def _stands(section: SimulatedSection, test: Test) -> float:
    best = max(condition(family, test) for family in (section.families or (None,)))
    return best - FEWER_COAT * section.n_fewer


def _readings(
    at: Moment, code: str, read: Read, leniency: Mapping[str, float], rng: np.random.Generator
) -> Iterator[SimulatedReading]:
    for response in parts_of(read.response):
        seen = seen_of(response, at)
        readers = [HANDS] if read.by == "hands" else list(leniency)
        is_judged = response.form == "scale" and response.weighed != ("share",)
        for view in read.views or ("",):
            for reader in readers:
                noise = rng.normal(0, NOISE_SD) if is_judged else rng.normal(0, 1) * noise_of(response)
                value = seen + noise + (leniency.get(reader, 0.0) * response.sign if is_judged else 0.0)
                yield SimulatedReading(
                    piece=code, test=at.test.id, look=at.look.id, response=response.id, judge=reader, view=view,
                    value=plausible(response.id, value),
                )  # fmt: skip


def _choices(
    liked: Mapping[tuple[str, str, str, str], Sequence[tuple[str, float]]],
    leniency: Mapping[str, float],
    rng: np.random.Generator,
) -> Iterator[SimulatedReading]:
    """Each judge chooses between every two pieces of a block, the one that pleases more the more often; near ones tie."""
    for (_, section, test, look), pieces in liked.items():
        for judge in leniency:
            for index, (one, pleases) in enumerate(pieces):
                for other, rival in pieces[index + 1 :]:
                    ahead = pleases - rival + rng.normal(0, 2 * NOISE_SD)
                    yield SimulatedReading(
                        piece=one, against=other, section=section, test=test, look=look, response="preferred", judge=judge,
                        value=0.5 if abs(ahead) < 0.1 else float(ahead > 0),
                    )  # fmt: skip
