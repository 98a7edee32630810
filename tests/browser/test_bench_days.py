"""The bench days: a pass by touch and by key, what is late, unplugged or cut, and timers that keep time."""

from __future__ import annotations

import math
import re
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from functools import partial
from typing import Any
from uuid import uuid4

import pytest
from django.db.models import Q
from django.utils import timezone
from playwright.sync_api import BrowserContext, Page, Request, expect

from nublet.instruments.simulated import SimulatedInstrument
from nublet.web.bench import clock
from nublet.web.bench.asking import ask_for_plan
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.making import make
from nublet.web.bench.models import BenchPlan, PanelWork, PlannedOperation, WorkEntry
from nublet.web.build_ups.actions import add_build_up, change_build_up
from nublet.web.build_ups.models import TrialBuildUp
from nublet.web.designs.actions import draw_design, start
from nublet.web.designs.models import TrialDeviation, TrialPanel
from nublet.web.people.models import Person
from nublet.web.readings.actions import BenchEntry as Grade
from nublet.web.readings.actions import enter_reading
from nublet.web.trials.actions import create_trial
from nublet.web.trials.models import Trial
from tests.browser.conftest import SignIn

WEEK = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
ALWAYS = {"name": "Nell", "hours": [{"days": WEEK, "from": "00:00", "to": "24:00"}]}
# The usual wipe-off window of a pure drying oil, minutes.
WIPE_FROM, WIPE_TO = 15, 40


TITLE = re.compile(r"(now|(in )?\d+:\d\d( left| late| behind)?) · \w+ .+ · Nublet")


class ServerClock:
    """The server's clock, which a test may turn. It begins on a morning, so that no day ends within a test."""

    def __init__(self) -> None:
        self.ahead = datetime(2100, 3, 2, 9, tzinfo=UTC) - timezone.now()

    def now(self) -> datetime:
        return timezone.now() + self.ahead

    def turn(self, **by: float) -> None:
        self.ahead += timedelta(**by)


@pytest.fixture
def server_clock(monkeypatch: pytest.MonkeyPatch) -> ServerClock:
    turned = ServerClock()
    monkeypatch.setattr(clock, "now", turned.now)
    return turned


@pytest.fixture
def planned(owner: Person, trial: Trial, server_clock: ServerClock) -> Trial:
    """The trial started, its oil's first coat due now."""
    set_bench(owner, {"hands": [ALWAYS]})
    start(owner, trial.pk)
    make(ask_for_plan(owner, trial.pk), limit_s=0.2)
    return trial


@pytest.fixture
def unplanned(owner: Person, trial: Trial, server_clock: ServerClock) -> Trial:
    set_bench(owner, {"hands": [ALWAYS]})
    start(owner, trial.pk)
    return trial


@pytest.fixture
def open_days(sign_in: SignIn, live_server: Any) -> Callable[..., Page]:
    def make(trial: Trial, **size: int) -> Page:
        page = sign_in("nell", **size)
        page.goto(f"{live_server.url}/trials/{trial.pk}/coat-and-cure")
        expect(page.get_by_role("list", name="The day’s work")).to_be_visible()
        return page

    return make


def operation(trial: Trial, kind: str, item: str = "coat 1") -> PlannedOperation:
    """The oil's operation of a kind, or of a test the first board's."""
    own = Q(build_up__name="Marrowby Tung") | Q(build_up__isnull=True)
    return PlannedOperation.objects.filter(own, plan__trial=trial, kind=kind, item=item).order_by("start_at")[
        0
    ]


def take(page: Page, work: PlannedOperation, words: str) -> list[str]:
    """Take an operation in hand; its panels' codes."""
    page.goto(re.sub(r"\?.*", "", page.url) + f"?work={work.pk}")
    expect(page.locator("#desk-title")).to_have_text(words)
    return [panel[0] for panel in work.panels]


def saved(page: Page) -> None:
    expect(page.get_by_text("All saved")).to_be_visible()


def works(trial: Trial, kind: str, item: str = "coat 1") -> dict[str, PanelWork]:
    rows = PanelWork.objects.filter(panel__trial=trial, kind=kind, item=item).select_related("panel")
    return {row.panel.code: row for row in rows}


def test_a_coat_and_wipe_pass_by_touch_then_by_key(
    open_days: Callable[..., Page], planned: Trial, server_clock: ServerClock
) -> None:
    page = open_days(planned, width=768, height=1024)
    codes = take(page, operation(planned, "coat"), "Coat 1")
    assert len(codes) == 2
    for words in (f"Start {codes[0]}", f"{codes[0]} done, on to {codes[1]}", f"{codes[1]} done"):
        key = page.get_by_role("button", name=words, exact=True)
        box = key.bounding_box()
        assert box is not None
        assert box["height"] >= 44
        key.click()
        saved(page)
        # Hands take their time: two panels are never coated at once.
        server_clock.turn(seconds=50)
        page.reload()
        take(page, operation(planned, "coat"), "Coat 1")
    coats = works(planned, "coat")
    first, second = coats[codes[0]], coats[codes[1]]
    assert first.begun_at is not None
    assert first.ended_at is not None
    assert second.begun_at == first.ended_at
    assert 45 < (first.ended_at - first.begun_at).total_seconds() < 60

    server_clock.turn(minutes=WIPE_FROM + 3)
    take(page, operation(planned, "wipe"), "Wipe off coat 1")
    expect(page.get_by_text("Rags wet with a drying oil heat themselves")).to_be_visible()
    expect(page.locator(".turns .window").first).to_contain_text("left")
    page.locator("h1").click()
    for _ in range(3):
        page.keyboard.press("Enter")
    expect(page.locator(".desk header")).to_contain_text("done")
    saved(page)
    expect(page.get_by_text("every window held so far")).to_be_visible()
    wiped = works(planned, "wipe")
    assert sorted(wiped) == sorted(codes)
    assert all(row.ended_at for row in wiped.values())
    assert not TrialDeviation.objects.exists()


def test_keys_finish_take_back_and_skip_with_a_reason(open_days: Callable[..., Page], planned: Trial) -> None:
    page = open_days(planned)
    codes = take(page, operation(planned, "coat"), "Coat 1")
    page.locator("h1").click()
    page.keyboard.press("Enter")
    expect(page.locator(".turns li").first).to_have_class("running")
    page.keyboard.press("d")
    expect(page.locator(".turns li.done")).to_have_count(2)
    page.keyboard.press("u")
    expect(page.locator(".turns li.done")).to_have_count(0)
    expect(page.locator(".turns li").first).to_have_class("running")
    page.keyboard.press("s")
    page.keyboard.type("Dropped on its face")
    page.keyboard.press("Enter")
    expect(page.locator(".turns .window").first).to_have_text("skipped")
    expect(page.get_by_text(f"{codes[0]}, coat 1: coat was skipped.")).to_be_visible()
    assert list(WorkEntry.objects.order_by("pk").values_list("entry", flat=True)) == [
        "begin",
        "done",
        "take_back",
        "skip",
    ]
    assert TrialDeviation.objects.filter(reason="Dropped on its face").count() == 2


def test_a_late_wipe_becomes_a_deviation_and_reaches_the_evidence(
    open_days: Callable[..., Page],
    planned: Trial,
    judge: Person,
    server_clock: ServerClock,
    live_server: Any,
) -> None:
    page = open_days(planned)
    codes = take(page, operation(planned, "coat"), "Coat 1")
    page.get_by_role("button", name="All done").click()
    expect(page.locator(".turns li.done")).to_have_count(2)
    expect(page.get_by_role("navigation", name="Due now")).to_contain_text("Wipe")
    server_clock.turn(minutes=WIPE_TO + 9)
    page.reload()
    strip = page.locator(".strip .now")
    expect(strip).to_have_class(re.compile("late"))
    expect(strip).to_contain_text(re.compile(r"9:0\d late"))
    take(page, operation(planned, "wipe"), "Wipe off coat 1")
    page.get_by_role("button", name="All done").click()
    says = f"{codes[0]}, coat 1: wiped off 9 min"
    expect(page.locator(".missed")).to_contain_text(says)
    expect(page.get_by_role("link", name="2 deviations")).to_be_visible()
    for panel in TrialPanel.objects.filter(trial=planned):
        for spot in panel.spots.all():
            grade = Grade(
                client_id=uuid4(), panel=panel.code, exposure=spot.exposure, look="24h", kind="grade", value=4
            )
            enter_reading(judge, planned.pk, grade)
    page.goto(f"{live_server.url}/trials/{planned.pk}/evidence")
    page.locator("summary", has_text="Every check").click()
    expect(page.get_by_text(says)).to_be_visible()


def test_work_written_down_afterwards_has_its_own_times(
    open_days: Callable[..., Page], planned: Trial, server_clock: ServerClock
) -> None:
    server_clock.turn(minutes=12)
    page = open_days(planned)
    codes = take(page, operation(planned, "coat"), "Coat 1")
    page.locator("h1").click()
    page.keyboard.press("o")
    ended = server_clock.now() - timedelta(minutes=4)
    page.get_by_label("Begun at").fill(f"{ended - timedelta(minutes=2):%H:%M:%S}")
    page.get_by_label("done at").fill("25:00")
    expect(page.get_by_text("Write the times as 9:46")).to_be_visible()
    page.get_by_label("done at").fill(f"{ended:%H:%M:%S}")
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator(".turns li.done")).to_have_count(2)
    saved(page)
    first, second = (works(planned, "coat")[code] for code in codes)
    assert second.ended_at == ended.replace(microsecond=0)
    assert first.ended_at == second.begun_at == second.ended_at - timedelta(minutes=1)


def test_an_instrument_unplugged_in_the_middle_is_told_and_typing_goes_on(
    open_days: Callable[..., Page], planned: Trial, owner: Person
) -> None:
    with SimulatedInstrument("climate") as thermo:
        set_bench(owner, {"instruments": {"climate": thermo.address}})
        page = open_days(planned)
        codes = take(page, operation(planned, "coat"), "Coat 1")
        read = page.get_by_role("button", name="Read the climate")
        read.click()
        expect(page.get_by_label("Air")).not_to_have_value("")
        thermo.fault = "unplugged"
        read.click()
        expect(page.get_by_text("fell silent in the middle of its answer")).to_be_visible()
        page.get_by_label("Air").fill("12")
        page.get_by_label("humidity").fill("48")
        page.locator("h1").click()
        page.keyboard.press("Enter")
        # What is typed is kept, and found to be too cold.
        expect(page.get_by_text(f"{codes[0]}, coat 1: coated at 12 °C")).to_be_visible()
    row = works(planned, "coat")[codes[0]]
    assert (row.temperature_c, row.humidity_pct) == (12, 48)


def test_with_the_network_cut_work_goes_on_and_its_wipe_off_counts(
    open_days: Callable[..., Page], planned: Trial, context: BrowserContext
) -> None:
    page = open_days(planned)
    codes = take(page, operation(planned, "coat"), "Coat 1")
    wipe = operation(planned, "wipe")
    context.set_offline(True)
    page.locator("h1").click()
    for _ in range(3):
        page.keyboard.press("Enter")
    expect(page.locator(".turns li.done")).to_have_count(2)
    expect(page.get_by_text("kept here, not sent yet").first).to_be_visible()
    assert not WorkEntry.objects.exists()
    page.locator(".card.wipe").filter(has_text=", ".join(panel[0] for panel in wipe.panels)).first.click()
    expect(page.locator(".turns .window").first).to_have_text(re.compile(r"in 1[45]:\d\d"))
    context.set_offline(False)
    expect(page.get_by_text("All saved")).to_be_visible(timeout=10_000)
    assert sorted(works(planned, "coat")) == sorted(codes)
    assert WorkEntry.objects.count() == 4


def left_s(page: Page) -> float:
    """What the strip's timer reads, seconds; late is negative."""
    text = page.locator("[data-timer]").inner_text()
    found = re.fullmatch(r"(in )?(\d+):(\d\d)( left| late)?", text)
    assert found, text
    seconds = 60 * int(found[2]) + int(found[3])
    return -seconds if found[4] == " late" else seconds


def assert_in_time(page: Page, expected_s: Callable[[], float]) -> None:
    """What the strip shows, a whole second, is within one of what it should be while it was read."""
    before = expected_s()
    shown = left_s(page)
    assert math.ceil(expected_s()) - 1 <= shown <= math.ceil(before) + 1, (before, shown, expected_s())


TURNS = """async () => {
  for (let turn = 0; turn < 50; turn++)
    await new Promise((done) => {
      const { port1, port2 } = new MessageChannel()
      port1.onmessage = () => done()
      port2.postMessage(0)
    })
}"""


def is_due_asked_since(moment_ms: float, request: Request) -> bool:
    """Whether what is due was asked for at `moment_ms` (since 1970) or later."""
    return request.url.endswith("/api/due") and request.timing["startTime"] >= moment_ms


def settle_in_time(page: Page, server_clock: ServerClock, expected_s: Callable[[], float]) -> None:
    """Half a second for both clocks at a time, until the answer has come to the screen and is right."""
    for last in [False] * 19 + [True]:
        page.clock.run_for(500)
        server_clock.turn(milliseconds=500)
        try:
            assert_in_time(page, expected_s)
        except AssertionError:
            if last:
                raise
        else:
            return


def test_timers_keep_the_servers_time_over_an_hour(
    open_days: Callable[..., Page],
    planned: Trial,
    server_clock: ServerClock,
    context: BrowserContext,
    live_server: Any,
) -> None:
    page = open_days(planned)
    # Nothing else is to be due meanwhile.
    PlannedOperation.objects.exclude(build_up__name="Marrowby Tung", item="coat 1").delete()
    take(page, operation(planned, "coat"), "Coat 1")
    page.get_by_role("button", name="All done").click()
    saved(page)
    coated = max(row.ended_at for row in works(planned, "coat").values() if row.ended_at)
    opens, closes = coated + timedelta(minutes=WIPE_FROM), coated + timedelta(minutes=WIPE_TO)

    def expected_s() -> float:
        now = server_clock.now()
        return ((opens if now < opens else closes) - now).total_seconds()

    # This device's clock is two hours wrong, and goes slow: 357 s when 360 have passed.
    page.clock.install(time=datetime.now(tz=timezone.get_current_timezone()) + timedelta(hours=2))
    page.goto(f"{live_server.url}/")
    expect(page.locator("[data-timer]")).to_be_visible()
    for step in range(10):
        if step == 3:
            page.reload()
            expect(page.locator("[data-timer]")).to_be_visible()
        elif step == 6:
            page.clock.set_system_time(datetime.now(tz=timezone.get_current_timezone()) - timedelta(hours=5))
        # Asked after the turn, and answered: an earlier one's answer may still be on its way, or be given up by the jump.
        server_clock.turn(seconds=360)
        turned = 1000 * time.time()
        with page.expect_event("requestfinished", partial(is_due_asked_since, turned)):
            page.clock.fast_forward(357_000)
        # The page has had its turns at the answer before its clock goes on: how long it took is part of what it reckons.
        page.evaluate(TURNS)
        settle_in_time(page, server_clock, expected_s)
    assert expected_s() < -15 * 60
    # A second device, its clock right, reads the same.
    other = context.new_page()
    other.goto(f"{live_server.url}/")
    expect(other.locator("[data-timer]")).to_be_visible()
    assert_in_time(other, expected_s)


def test_a_plan_is_made_in_the_background_and_shows_how_far_it_is(
    sign_in: SignIn, unplanned: Trial, live_server: Any, workers: None, server_clock: ServerClock
) -> None:
    # The worker is a process of its own, with a clock of its own.
    server_clock.ahead = timedelta()
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{unplanned.pk}/coat-and-cure")
    page.get_by_role("button", name="Make the plan").click()
    expect(page.get_by_role("heading", name="Planning…")).to_be_visible()
    # The server answers while the planner works.
    assert page.request.get(f"{live_server.url}/api/due").ok
    expect(page.get_by_role("list", name="The day’s work")).to_be_visible(timeout=30_000)
    plan = BenchPlan.objects.get()
    assert (plan.state, plan.weighs) == ("done", True)
    assert plan.progress
    expect(page.locator(".block").first).to_be_visible()
    page.get_by_role("button", name="Plan again from now").click()
    expect(page.get_by_role("heading", name="Planning again from now…")).to_be_visible()
    expect(page.get_by_role("heading", name="Planning again from now…")).to_have_count(0, timeout=30_000)
    assert list(BenchPlan.objects.values_list("state", "is_again")) == [("done", False), ("done", True)]


def test_trials_are_planned_together_and_each_tells_what_moved(
    sign_in: SignIn,
    owner: Person,
    planned: Trial,
    live_server: Any,
    workers: None,
    server_clock: ServerClock,
) -> None:
    other = create_trial(
        owner, name="Buffet counter", uses=["dining-table"], species=["white-oak"], boards_per_species=2
    )
    add_build_up(owner, other.pk, name="Ousel", family="shellac-dewaxed", coats=2)
    draw_design(owner, other.pk, seed=9)
    start(owner, other.pk)
    # The worker is a process of its own, with a clock of its own; the plan that stands is of another year by it.
    server_clock.ahead = timedelta()
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{other.pk}/coat-and-cure")
    together = page.get_by_role("group", name="Plan these together")
    together.get_by_label("Saloon tables").focus()
    page.keyboard.press("Space")
    page.get_by_role("button", name="Make the plan").click()
    expect(page.get_by_role("list", name="The day’s work")).to_be_visible(timeout=60_000)
    page.get_by_text("How it was planned").click()
    expect(page.get_by_text("Planned together with Saloon tables.")).to_be_visible()
    page.get_by_role("link", name="Saloon tables", exact=True).first.click()
    expect(page.get_by_text("Against the plan before, here")).to_contain_text("go to another day")
    # Asked again, the two of them go together unless the box is cleared.
    page.get_by_role("button", name="Plan again from now").click()
    expect(page.get_by_role("button", name="Plan 2 trials from now")).to_be_visible()
    page.get_by_role("button", name="Leave it as it is").click()
    plans = BenchPlan.objects.filter(state="done").order_by("pk")
    assert [(plan.trial.name, plan.lead_id is None) for plan in plans] == [
        ("Saloon tables", True),
        ("Buffet counter", True),
        ("Saloon tables", False),
    ]


def test_a_panel_is_told_to_be_even_by_a_key_and_gets_no_more_coats(
    sign_in: SignIn, owner: Person, trial: Trial, live_server: Any, server_clock: ServerClock
) -> None:
    row = TrialBuildUp.objects.get(trial=trial, name="Marrowby Tung")
    layer = {"family": "pure-drying-oil", "coats": 3, "stop_rule": "even-sheen"}
    change_build_up(owner, trial.pk, row.pk, name=row.name, recipe={"layers": [layer]})
    draw_design(owner, trial.pk, seed=5)
    set_bench(owner, {"hands": [ALWAYS]})
    start(owner, trial.pk)
    make(ask_for_plan(owner, trial.pk), limit_s=0.2)
    page = sign_in("nell")
    page.goto(f"{live_server.url}/trials/{trial.pk}/coat-and-cure")
    codes = take(page, operation(trial, "coat"), "Coat 1")
    # Before its first coat nothing is even.
    expect(page.get_by_role("button", name="no more coats")).to_have_count(0)
    page.get_by_role("button", name="All done").click()
    saved(page)
    take(page, operation(trial, "coat", "coat 2"), "Coat 2")
    expect(page.get_by_role("button", name=f"{codes[0]} is even: no more coats")).to_be_visible()
    page.keyboard.press("e")
    turns = page.get_by_role("list", name="Panels of this pass")
    expect(turns.get_by_role("listitem").filter(has_text=codes[0])).to_contain_text("even, no coat")
    saved(page)
    took = page.get_by_role("table", name="Coats until the sheen was even")
    expect(took).to_contain_text(f"{codes[0]} 1")
    take(page, operation(trial, "coat", "coat 3"), "Coat 3")
    expect(turns.get_by_role("listitem").first).to_be_visible()
    expect(turns).not_to_contain_text(codes[0])
    assert works(trial, "coat", "coat 2")[codes[0]].is_even
    assert not TrialDeviation.objects.filter(panel__code=codes[0]).exists()
    # Taken back, it is coated like the others.
    take(page, operation(trial, "coat", "coat 2"), "Coat 2")
    page.keyboard.press("u")
    expect(page.get_by_role("button", name=f"{codes[0]} is even: no more coats")).to_be_visible()
    saved(page)
    expect(took).to_have_count(0)


def test_the_title_tells_what_is_due_once_asked_to(open_days: Callable[..., Page], planned: Trial) -> None:
    page = open_days(planned)
    take(page, operation(planned, "coat"), "Coat 1")
    page.get_by_role("button", name="All done").click()
    expect(page.locator("[data-timer]")).to_contain_text(":")
    assert page.title() == "Nublet"
    page.get_by_label("In the window’s title").check()
    expect(page).to_have_title(TITLE)
    page.reload()
    expect(page).to_have_title(TITLE)


def test_a_board_is_laid_from_one_pour(
    open_days: Callable[..., Page], planned: Trial, live_server: Any
) -> None:
    page = open_days(planned)
    lay = operation(planned, "lay", "wine-1h")
    page.goto(f"{live_server.url}/trials/{planned.pk}/coat-and-cure?work={lay.pk}")
    desk = page.locator(".desk")
    expect(desk).to_contain_text(lay.board)
    expect(desk).to_contain_text("No pour is written down yet")
    page.get_by_label("Pour", exact=True).fill("bottle 2")
    page.keyboard.press("Enter")
    expect(desk).to_contain_text("From bottle 2")
    page.get_by_role("button", name=re.compile("^Start")).click()
    # A later sitting of the same test, opened anew, has it at hand.
    expect(page.get_by_text("All saved")).to_be_visible()
    page.reload()
    expect(page.locator(".desk")).to_contain_text("From bottle 2")
    work = PanelWork.objects.get(panel__trial=planned, kind="lay", item="wine-1h")
    assert work.pour is not None
    assert (work.pour.agent, work.pour.batch) == ("red wine", "bottle 2")


def test_a_look_leads_to_where_it_is_graded(
    open_days: Callable[..., Page], planned: Trial, live_server: Any
) -> None:
    page = open_days(planned)
    look = operation(planned, "look", "wine-1h")
    page.goto(f"{live_server.url}/trials/{planned.pk}/coat-and-cure?work={look.pk}")
    page.get_by_role("link", name="Grade these panels under Read").click()
    expect(page).to_have_url(re.compile(rf"/trials/{planned.pk}/read/"))
    expect(page.locator("svg.panel")).to_be_visible()
