"""What is worked out from something that was left out: it does not count, and what it would say stands beside what counts."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nublet.core.errors import ReadingsError
from nublet.core.evidence.analysis import Asked
from nublet.core.evidence.by_response import ResponseEvidence, rows_by_response, sources_of, weigh_response
from nublet.core.evidence.rows import PieceRow, if_all_counted, worked_out
from nublet.core.evidence.stages import Staging
from nublet.core.protocols.responses import RESPONSES
from nublet.core.protocols.shipped import PROTOCOLS

PROTOCOL = PROTOCOLS["table-full"]
LADDER = PROTOCOL.ladders[0]
WHY = "left out by hand"
# How many steps each build-up stands, board by board.
STOOD = {"Tung": [1, 1, 2, 1], "Satin": [3, 4, 3, 4]}


def climbed(stood: dict[str, list[int]] = STOOD) -> list[PieceRow]:
    """Grades of every step of the ladder: 5 up to what the panel stands, 2 above."""
    return [
        PieceRow(
            piece=f"{system[0]}{board}", system=system, board=f"b{board}", species="beech", test=test, look="24h",
            response="grade", value=5.0 if step <= steps else 2.0, judge="Nell",
        )
        for system, boards in stood.items()
        for board, steps in enumerate(boards)
        for step, test in enumerate(LADDER.tests, start=1)
    ]  # fmt: skip


def left_out(rows: list[PieceRow], piece: str, tests: tuple[str, ...]) -> list[PieceRow]:
    return [replace(row, left_out=WHY) if row.piece == piece and row.test in tests else row for row in rows]


def steps_passed(rows: list[PieceRow]) -> ResponseEvidence:
    response = RESPONSES["highest-step"]
    found = weigh_response(
        response, rows_by_response(rows, PROTOCOL)[response], PROTOCOL, asked=Asked(with_otherwise=True)
    )
    assert found is not None
    return found


def test_a_ladder_with_a_step_left_out_counts_without_it_and_tells_what_it_would_say() -> None:
    # Without the fail at the second step, what T0 stands lies anywhere up to the next one that it failed.
    rows = left_out(climbed(), "T0", (LADDER.tests[1],))
    own = [row for row in worked_out(rows, PROTOCOL) if row.piece == "T0" and row.response == "highest-step"]
    assert [(row.after, row.value, row.left_out) for row in own] == [(1, 2, None), (None, 1, WHY)]
    found = steps_passed(rows)
    assert [(each.why, each.n_rows) for each in found.left_out] == [(WHY, 1)]
    assert found.otherwise is not None
    whole = steps_passed(climbed())
    assert whole.left_out == ()
    assert whole.otherwise is None
    before = {row.system: row.mean for row in whole.analysis.tests[0].systems} if whole.analysis else {}
    (moved,) = found.otherwise.means
    assert (moved.system, moved.otherwise) == ("Tung", before["Tung"])
    assert moved.mean is not None
    assert moved.otherwise is not None
    assert moved.mean > moved.otherwise


def test_a_piece_of_which_nothing_counts_stands_in_the_other_result_alone() -> None:
    rows = left_out(climbed(), "S0", LADDER.tests)
    found = steps_passed(rows)
    assert found.analysis is not None
    counted = {row.system: row.n_panels for row in found.analysis.tests[0].systems}
    assert counted == {"Tung": 4, "Satin": 3}
    assert [(each.why, each.n_rows) for each in found.left_out] == [(WHY, 1)]
    assert found.otherwise is not None
    assert {each.system for each in found.otherwise.means} == {"Satin"}


def test_as_if_all_counted_is_what_would_be_if_nothing_had_been_left_out() -> None:
    def highest(rows: list[PieceRow]) -> set[PieceRow]:
        return {row for row in rows if row.response == "highest-step"}

    for tests in (LADDER.tests[1:2], LADDER.tests[:1], LADDER.tests):
        rows = left_out(climbed(), "T0", tuple(tests))
        assert highest(if_all_counted(worked_out(rows, PROTOCOL))) == highest(worked_out(climbed(), PROTOCOL))


def test_bare_wood_left_out_tells_on_what_was_held_against_it() -> None:
    protocol = PROTOCOLS["colour-swatches"]
    colours = {"Bare control": (70.0, 8.0, 22.0), "Tung": (60.0, 10.0, 28.0), "Satin": (66.0, 8.0, 24.0)}
    rows = [
        PieceRow(
            piece=f"{system[0]}{board}", system=system, board=f"b{board}", species="beech", test="colour", look="cured",
            response=part, value=value + board,
        )
        for system, lab in colours.items()
        for board in range(3)
        for part, value in zip(RESPONSES["colour"].parts, lab, strict=True)
    ]  # fmt: skip
    against = RESPONSES["delta-e00-bare"]
    out = [replace(row, left_out=WHY) if row.piece == "B1" else row for row in rows]
    own = rows_by_response(out, protocol)[against]
    assert {row.piece for row in own if row.left_out is None} == {"T0", "T2", "S0", "S2"}
    assert {row.piece: row.left_out for row in own if row.left_out} == {"T1": WHY, "S1": WHY}
    assert set(if_all_counted(own)) == set(rows_by_response(rows, protocol)[against])


def test_what_follows_from_the_bare_wood_that_is_left_counts_and_the_other_is_told() -> None:
    # Two bare panels on the second board: with one left out, what is held against bare wood there is another.
    protocol, against = PROTOCOLS["colour-swatches"], RESPONSES["delta-e00-bare"]
    lightness = {
        ("Bare control", "B"): 70.0,
        ("Bare control", "X"): 76.0,
        ("Tung", "T"): 60.0,
        ("Satin", "S"): 66.0,
    }
    rows = [
        PieceRow(
            piece=f"{letter}{board}", system=system, board=f"b{board}", species="beech", test="colour", look="cured",
            response=part, value=value + board * (1 if letter == "T" else 2),
        )
        for (system, letter), lightness_of in lightness.items()
        for board in range(4)
        if letter != "X" or board == 1
        for part, value in zip(RESPONSES["colour"].parts, (lightness_of, 8.0, 22.0), strict=True)
    ]  # fmt: skip
    out = [replace(row, left_out=WHY) if row.piece == "X1" else row for row in rows]
    without = [row for row in rows if row.piece != "X1"]

    def weighed(chosen: list[PieceRow]) -> ResponseEvidence:
        found = weigh_response(
            against, rows_by_response(chosen, protocol)[against], protocol, asked=Asked(with_otherwise=True)
        )
        assert found is not None
        return found

    def means(found: ResponseEvidence) -> dict[str, float | None]:
        assert found.analysis is not None
        return {row.system: row.mean for row in found.analysis.tests[0].systems}

    found = weighed(out)
    assert means(found) == means(weighed(without))
    assert [(each.why, each.n_rows) for each in found.left_out] == [(WHY, 2)]
    assert found.otherwise is not None
    assert {each.system: each.otherwise for each in found.otherwise.means} == means(weighed(rows))


def test_a_stage_of_what_is_worked_out_waits_for_all_that_it_is_worked_out_from() -> None:
    response = RESPONSES["highest-step"]
    staging = Staging(boards=(2, 2), stage_of={"b0": 1, "b1": 1, "b2": 2, "b3": 2})

    def stage_of(rows: list[PieceRow]) -> int:
        read = rows_by_response(rows, PROTOCOL)
        found = weigh_response(
            response, read[response], PROTOCOL, staging=staging, sources=sources_of(response, read)
        )
        assert found is not None
        assert found.stage is not None
        return found.stage.stage

    def unread(*pieces: str) -> list[PieceRow]:
        return [replace(row, value=None) if row.piece in pieces else row for row in climbed()]

    assert stage_of(climbed()) == 2
    # A panel of which nothing was read has no row of what is worked out, and is waited for all the same.
    assert stage_of(unread("S3")) == 1
    with pytest.raises(
        ReadingsError, match=r"Stage 1 of 2 .* is not read to the end: 3 readings are missing"
    ):
        stage_of(unread("T1", "S3"))
