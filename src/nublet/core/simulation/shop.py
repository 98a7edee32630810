"""Plausible readings from invented panels, for any test of the language.

    seen = what S of response r would read at condition( R_fc - slope_c severity + wood_s + B_b + P_p + S_pe ) + J_j + N_jpe

R_fc, slope and severity are those of :mod:`nublet.core.simulation.standing_up`; how a condition reads on each scale and measure
stands in :mod:`nublet.core.simulation.seeing`. wood_s is a shift for the species, B_b ~ N(0, 0.25) the board, P_p ~ N(0, 0.30) the
panel, S_pe ~ N(0, 0.35) the spot, J_j the judge's leniency ~ N(0, 0.15) and N_jpe ~ N(0, 0.25) the judge's noise; the noise of hands
and instruments is each measure's own. The numbers are invented; they are claims about nothing.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from nublet.core.design.trial_design import Panel
from nublet.core.design.whole import Slip
from nublet.core.protocols.looks import Look, Read
from nublet.core.protocols.responses import RESPONSES, parts_of
from nublet.core.protocols.tests import Protocol
from nublet.core.simulation.seeing import Moment, noise_of, plausible, seen_of
from nublet.core.simulation.standing_up import condition, fresh_loss

BOARD_SD = 0.25
PANEL_SD = 0.30
SPOT_SD = 0.35
JUDGE_SD = 0.15
NOISE_SD = 0.25
_WOOD_SHIFT = {"beech": 0.0, "larch": -0.25, "elm": -0.15, "sycamore": 0.05}
HANDS = ""


@dataclass(frozen=True, kw_only=True)
class SimulatedPiece:
    """Something that carries tests: a panel, or a slip of glass with its replicate in place of a board."""

    code: str
    build_up: str
    block: str
    species: str
    tests: tuple[str, ...]


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
    liked: dict[tuple[str, str, str], list[tuple[str, float]]] = {}
    for piece in pieces:
        family = families[piece.build_up]
        shift = rng.normal(0, PANEL_SD) + blocks[piece.block] + _WOOD_SHIFT.get(piece.species, 0.0)
        for test in protocol.tests:
            if test.id not in piece.tests:
                continue
            stands = condition(family, test) + shift + rng.normal(0, SPOT_SD)
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
                        liked.setdefault((piece.block, test.id, look.id), []).append(
                            (piece.code, seen_of(RESPONSES[read.response], at))
                        )
                    else:
                        found += _readings(at, piece.code, read, leniency, rng)
    return found + list(_choices(liked, leniency, rng))


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
    liked: Mapping[tuple[str, str, str], Sequence[tuple[str, float]]],
    leniency: Mapping[str, float],
    rng: np.random.Generator,
) -> Iterator[SimulatedReading]:
    """Each judge chooses between every two pieces of a block, the one that pleases more the more often; near ones tie."""
    for (_, test, look), pieces in liked.items():
        for judge in leniency:
            for index, (one, pleases) in enumerate(pieces):
                for other, rival in pieces[index + 1 :]:
                    ahead = pleases - rival + rng.normal(0, 2 * NOISE_SD)
                    yield SimulatedReading(
                        piece=one, against=other, test=test, look=look, response="preferred", judge=judge,
                        value=0.5 if abs(ahead) < 0.1 else float(ahead > 0),
                    )  # fmt: skip
