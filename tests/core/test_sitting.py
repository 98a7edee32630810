"""The order of a sitting: what lies is ended in its window, whatever else is begun."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from nublet.core.bench.keys import DoneBook, DoneWork
from nublet.core.bench.sitting import GuidedStep, SiteAt, cannot_be_had, guide, sites_at
from nublet.core.planning.exposure_work import ActWork
from nublet.core.planning.trial_exposures import exposure_of
from nublet.core.protocols.acts import duration_tolerance_min
from nublet.core.protocols.shipped import PROTOCOLS, TESTS
from nublet.formats.schedule_json import plan_spec_from_plain
from tests.core.plan_specs import large_spec


def laid(
    panel: str, test: str = "wine", minutes: float = 60.0, *, hands: float = 0.75, **more: object
) -> SiteAt:
    slack = duration_tolerance_min(minutes)
    return SiteAt(
        panel=panel,
        test=test,
        chain=(
            ActWork(
                id="lay",
                kind="lay",
                minutes_per_panel=hands,
                then_min=(minutes - slack, minutes + slack),
                wanted_min=minutes,
            ),
            ActWork(id="lift", kind="lift", minutes_per_panel=hands),
        ),
        **more,  # type: ignore[arg-type]
    )


def kept(steps: list[GuidedStep]) -> bool:
    return all(
        step.window_s is None or step.window_s[0] - 1e-6 <= step.at_s <= step.window_s[2] + 1e-6
        for step in steps
    )


def test_a_board_is_laid_in_its_order_and_lifted_in_the_same() -> None:
    steps = guide([], [laid(code) for code in ("X7", "K3", "P6", "T4", "J6")], now_s=0)
    assert [step.panel for step in steps] == ["X7", "K3", "P6", "T4", "J6"] * 2
    assert [step.nth for step in steps] == [0] * 5 + [1] * 5
    assert [step.at_s for step in steps[:5]] == [0, 45, 90, 135, 180]
    assert steps[5].at_s == 45 + 3600
    assert kept(steps)


def test_nothing_is_begun_that_would_make_a_lift_late() -> None:
    lying = laid("X7", minutes=10, n_done=1, since_s=0.0)
    # Wanted at 600 s and closed at 630: what takes two minutes is begun before 480 or after it.
    for now, first in ((400.0, "K3"), (590.0, "X7")):
        steps = guide([lying], [laid("K3", "coffee", hands=2.0)], now_s=now)
        assert steps[0].panel == first
        assert kept(steps)
    steps = guide([lying], [laid("K3", "coffee", hands=2.0)], now_s=520.0)
    assert (steps[0].panel, steps[0].nth) == ("X7", 1)
    assert steps[0].at_s == 600


def test_what_is_late_already_is_no_reason_to_stand_idle() -> None:
    late = laid("X7", minutes=10, n_done=1, since_s=-5000.0)
    steps = guide([late], [laid("K3")], now_s=0)
    assert {(step.panel, step.nth) for step in steps} == {("X7", 1), ("K3", 0), ("K3", 1)}
    assert next(step.at_s for step in steps if step.panel == "X7") <= 45


def test_turns_follow_each_other_and_wait_for_nobody() -> None:
    turns = tuple(
        ActWork(id=f"wet-{n}", minutes_per_panel=0.25, then_min=(60.0, 4320.0) if n < 4 else None)
        for n in (1, 2, 3, 4)
    )
    steps = guide([], [SiteAt(panel=code, test="damp", chain=turns) for code in ("A1", "B2")], now_s=0)
    assert len(steps) == 8
    assert kept(steps)
    by_panel = [step.nth for step in steps if step.panel == "A1"]
    assert by_panel == [0, 1, 2, 3]


@given(
    st.lists(st.sampled_from([2.0, 10.0, 15.0, 60.0, 120.0]), min_size=1, max_size=4),
    st.integers(2, 8),
    st.sampled_from([0.25, 0.75, 2.0]),
    st.floats(0, 5000),
)
def test_from_an_empty_bench_every_window_is_kept(
    minutes: list[float], n_panels: int, hands: float, now: float
) -> None:
    free = [
        laid(f"P{number}", f"t{nth}", each, hands=hands)
        for nth, each in enumerate(minutes)
        for number in range(n_panels)
    ]
    steps = guide([], free, now_s=now)
    assert kept(steps)
    assert len(steps) == 2 * len(free)
    begun = [(step.test, step.panel) for step in steps if step.nth == 0]
    assert begun == [(site.test, site.panel) for site in free]
    # One pair of hands: nothing overlaps.
    ordered = sorted(steps, key=lambda step: step.at_s)
    assert ordered == steps
    assert all(b.at_s - a.at_s >= 60 * hands - 1e-6 for a, b in pairwise(steps))
    assert all(math.isfinite(step.at_s) for step in steps)


def test_how_far_each_test_is_by_the_log() -> None:
    spec = plan_spec_from_plain(large_spec(n_groups=2, n_panels=2, n_exposures=3))
    group = next(group for group in spec.groups if group.exposures and group.steps)
    panel, exposure = group.panels[0], group.exposures[0]
    before = {(site.panel, site.test): site for site in sites_at(spec, DoneBook([]))}
    assert before[panel, exposure.id].ready_s is None
    assert not before[panel, exposure.id].is_lying
    done = [
        DoneWork(group=group.id, panel=panel, item=step.id, kind="coat", start_s=0, end_s=100.0 + number)
        for number, step in enumerate(group.steps)
        if step.kind == "coat"
    ]
    lay = DoneWork(group=group.id, panel=panel, item=exposure.id, kind="lay", start_s=9000, end_s=9030)
    book = DoneBook([*done, lay])
    site = {(site.panel, site.test): site for site in sites_at(spec, book)}[panel, exposure.id]
    assert site.ready_s == done[-1].end_s + 3600 * group.cure_h
    assert (site.n_done, site.is_lying, site.since_s) == (1, True, 9030)
    (lift,) = guide([site], [], now_s=9100)
    assert lift.window_s is not None
    opens, wanted, closes = lift.window_s
    assert (wanted, (opens + closes) / 2) == (9030 + 60 * exposure.duration_min, wanted)
    assert panel not in {site.panel for site in sites_at(spec, book, left_out=[panel])}


def test_what_can_never_be_had_is_told_value_by_value_until_the_test_is_met() -> None:
    test = TESTS["scratch-and-mend"]
    looks = PROTOCOLS["scratch-and-mend"].looks_of(test)
    work = exposure_of(test, looks)
    assert work is not None
    site = SiteAt(panel="K7", test=test.id, chain=work.chain)
    before = next(look for look in looks if look.is_before)
    both = {(each.by, each.what) for each in cannot_be_had(test, looks, ["K7"], ())}
    assert both == {("judges", "grade"), ("hands", "lightness L*, red and green a*, yellow and blue b*")}
    # One judge's grade makes up for no colour, and two of three colour values for none of the third.
    read = [("K7", test.id, before.id, each) for each in ("grade", "colour-l", "colour-a")]
    (left,) = cannot_be_had(test, looks, ["K7"], read)
    assert (left.by, left.what, left.panel, left.look) == ("hands", "yellow and blue b*", "K7", before.id)
    assert list(cannot_be_had(test, looks, ["K7"], [*read, ("K7", test.id, before.id, "colour-b")])) == []
    # Measuring beforehand meets nothing; the first act does.
    assert [replace(site, n_done=n).is_met for n in (0, 1, 2)] == [False, False, True]


def test_what_is_read_on_bare_wood_can_never_be_had_under_a_coat() -> None:
    protocol = PROTOCOLS["colour-swatches"]
    test = next(
        test for test in protocol.tests if any(look.after == "bare" for look in protocol.looks_of(test))
    )
    looks = protocol.looks_of(test)
    bare = next(look for look in looks if look.after == "bare")
    (left,) = cannot_be_had(test, looks, ["K7"], (), after="bare")
    assert (left.panel, left.look, left.by) == ("K7", bare.id, "hands")
    assert "lightness L*" in left.what
    read = [("K7", test.id, bare.id, f"colour-{part}") for part in "lab"]
    assert list(cannot_be_had(test, looks, ["K7"], read, after="bare")) == []
