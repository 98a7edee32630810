"""When looks fall due, by what was done; and what can no longer be had."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from nublet.core.bench.look_times import LookTime, PieceLog, check_may_read, judge_seen, look_time
from nublet.core.errors import ReadingsError
from nublet.core.planning.trial_exposures import MendTime, exposure_of, look_window
from nublet.core.protocols.looks import BARE, BEFORE, COATED, Look
from nublet.core.protocols.shipped import PROTOCOLS, TESTS

NOON = datetime(2027, 3, 2, 12, tzinfo=UTC)
TEA = TESTS["black-tea-1h"]
LIFTED = Look(id="lifted", name="When lifted", after_min=0)
DAY = Look(id="24h", name="24 h", after_min=1440)
LAY, LIFT = ("lay", ""), ("lift", "")


def after(minutes: float) -> datetime:
    return NOON + timedelta(minutes=minutes)


def tea(look: Look, log: PieceLog, now: datetime) -> LookTime:
    return look_time(TEA.id, look, look_window(TEA, look, [LIFTED, DAY]), log, now)


LIFTED_AT_NOON = PieceLog(
    begun={(TEA.id, LAY): after(-60), (TEA.id, LIFT): NOON}, ended={(TEA.id, LAY): after(-60), (TEA.id, LIFT): NOON}
)  # fmt: skip


@pytest.mark.parametrize(
    ("minutes", "state"),
    [(0, "coming"), (1295, "coming"), (1296, "due"), (1440, "due"), (1584, "due"), (1585, "late")],
)
def test_a_look_is_due_within_its_tolerance_after_its_own_lift(minutes: float, state: str) -> None:
    found = tea(DAY, LIFTED_AT_NOON, after(minutes))
    assert (found.state, found.aim_at, found.opens_at) == (state, after(1440), after(1296))
    assert found.is_offered == (state != "coming")
    assert found.may_be_read


def test_what_was_not_lifted_is_not_offered_and_refused_in_words() -> None:
    laid = PieceLog(begun={(TEA.id, LAY): NOON}, ended={(TEA.id, LAY): NOON})
    for log in (PieceLog(), laid):
        found = tea(LIFTED, log, after(5))
        assert (found.state, found.is_offered) == ("waiting", False)
        with pytest.raises(ReadingsError, match="When lifted of tea on K7: it is not as far yet"):
            check_may_read(found, where="When lifted of tea on K7")
    # Seen before it was lifted, though it has been lifted since.
    early = tea(LIFTED, LIFTED_AT_NOON, after(-3))
    with pytest.raises(ReadingsError, match="before the act that the look counts from had ended"):
        check_may_read(early, where="x")
    # Two clocks may be a few seconds apart.
    check_may_read(tea(LIFTED, LIFTED_AT_NOON, NOON - timedelta(seconds=4)), where="x")


def test_what_was_given_up_is_looked_at_by_nobody() -> None:
    skipped = PieceLog(ended={(TEA.id, LIFT): NOON}, given_up={(TEA.id, LAY)})
    assert tea(DAY, skipped, after(1440)).state == "shut"


def test_a_later_act_vouches_for_one_that_was_not_logged() -> None:
    boil = TESTS["boil"]
    looks = PROTOCOLS["board-and-utensils"].looks_of(boil)
    work = exposure_of(boil, looks)
    assert work is not None
    first, *_, last = work.chain
    early = next((look for look in looks if look.after and look_window(boil, look, looks)), looks[0])
    window = look_window(boil, early, looks)
    assert window is not None
    assert window.acts[0] == ("act", first.id)
    later = PieceLog(begun={(boil.id, ("act", last.id)): NOON})
    if window.acts[-1][1] != last.id:
        assert look_time(boil.id, early, window, later, after(1)).state == "open"
    assert look_time(boil.id, early, window, PieceLog(), after(1)).state == "waiting"
    # What was measured beforehand vouches for nothing.
    measured = PieceLog(begun={(boil.id, ("act", "before")): NOON})
    assert look_time(boil.id, early, window, measured, after(1)).state == "waiting"


@pytest.mark.parametrize(
    ("minutes", "judgement"),
    [
        (1440, None), (1584, None), (1600, "usable"), (1440 + 3 * 144, "deviation"), (1440 + 3 * 144 + 2, "spoiled"),
        (1100, "deviation"), (900, "spoiled"),
    ],
)  # fmt: skip
def test_early_and_late_looks_are_judged_by_how_many_tolerances_they_are_off(
    minutes: float, judgement: str | None
) -> None:
    at = after(minutes)
    found = judge_seen(tea(DAY, LIFTED_AT_NOON, at), at)
    assert (None if found is None else found[0]) == judgement
    if found is not None:
        assert found[1] == pytest.approx(60 * (minutes - 1440))


def test_bare_wood_is_read_until_the_first_coat_and_never_after() -> None:
    bare = Look(id="bare", name="Bare", after_min=0, after=BARE)
    assert look_window(TEA, bare, [bare]) is None
    coated = PieceLog(coating_at=NOON)
    assert look_time("t", bare, None, PieceLog(), NOON).state == "due"
    assert look_time("t", bare, None, coated, after(-1)).state == "due"
    late = look_time("t", bare, None, coated, after(1))
    assert late.state == "shut"
    with pytest.raises(ReadingsError, match="can never be read again"):
        check_may_read(late, where="colour on K7")
    # What is never coated is bare until it meets a test; measuring beforehand is none.
    measured = PieceLog(begun={("t", ("act", "before")): NOON})
    assert look_time("t", bare, None, measured, after(1)).state == "due"
    met = PieceLog(begun={("t", ("act", "soak")): NOON})
    assert look_time("t", bare, None, met, after(1)).state == "shut"


def test_before_the_test_is_after_the_cure() -> None:
    before = Look(id="before", name="Before", after_min=0, after=BEFORE)
    log = PieceLog(coating_at=after(-9000), coated_at=after(-8000), cured_at=NOON)
    assert look_time("t", before, None, PieceLog(), NOON).state == "waiting"
    assert look_time("t", before, None, log, after(-1441)).state == "coming"
    # Within a day of the cure, so that it is not missed where somebody begins a little early.
    assert look_time("t", before, None, log, after(-1439)).state == "due"
    quick = PieceLog(coating_at=after(-100), coated_at=after(-60), cured_at=NOON)
    assert look_time("t", before, None, quick, after(-59)).state == "due"
    assert look_time("t", before, None, PieceLog(has_coats=False), after(-9999)).state == "due"
    met = PieceLog(
        begun={("t", ("act", "soak")): after(30)}, coated_at=after(-500), cured_at=NOON
    )  # fmt: skip
    assert look_time("t", before, None, met, after(31)).state == "shut"


def test_as_coated_counts_from_the_last_coat() -> None:
    hour = Look(id="c", name="An hour after", after_min=60, after=COATED)
    assert look_time("t", hour, None, PieceLog(), NOON).state == "waiting"
    assert look_time("t", hour, None, PieceLog(has_coats=False), NOON).state == "due"
    log = PieceLog(coated_at=NOON)
    found = look_time("t", hour, None, log, after(55))
    assert (found.state, found.aim_at) == ("due", after(60))


def test_a_mend_in_the_familys_own_way_holds_its_looks_back_until_it_has_cured() -> None:
    mended = TESTS["scratch-and-mend"]
    looks = PROTOCOLS["scratch-and-mend"].looks_of(mended)
    last = max(looks, key=lambda look: (look.after == "", look.after_min))
    quick = look_window(mended, last, looks, mend=MendTime(hands_min=2, cure_min=60))
    slow = look_window(mended, last, looks, mend=MendTime(hands_min=2, cure_min=7 * 1440))
    assert quick is not None
    assert slow is not None
    assert slow.aim_min - quick.aim_min == pytest.approx(7 * 1440 - 60)
    assert quick.acts == slow.acts


def test_the_windows_are_those_that_the_planner_plans() -> None:
    n = 0
    for protocol in PROTOCOLS.values():
        for test in protocol.tests:
            looks = protocol.looks_of(test)
            work = exposure_of(test, looks)
            if work is None:
                continue
            planned = {(look.after, look.after_min, look.tolerance_min) for look in work.looks}
            ids = [act.id for act in work.chain]
            for look in looks:
                window = look_window(test, look, looks)
                if window is None or look.is_far:
                    continue
                kind, act = window.acts[-1]
                after_act = "" if kind == "lift" or act == ids[-1] else act
                middle = (window.opens_min + window.closes_min) / 2
                half = (window.closes_min - window.opens_min) / 2
                if any(read.is_due_at(look) for read in test.reads) and half:
                    close = [
                        p for p in planned
                        if p[0] == after_act and abs(p[1] - middle) <= max(0.01, half) and p[2] >= half - 0.01
                    ]  # fmt: skip
                    assert close, (test.id, look.id, window, planned)
                    n += 1
    assert n > 100
