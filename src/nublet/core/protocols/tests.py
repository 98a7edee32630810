"""Tests, ladders and protocols: what is done to a panel, where, and what is read."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Literal

from nublet.core.plain import Longest, Span
from nublet.core.protocols.acts import Act, Equipment
from nublet.core.protocols.agents import Nature, cautions_of
from nublet.core.protocols.looks import Look, Read
from nublet.core.protocols.sites import Site

MAX_VERSIONS = 30_000
# What a verdict goes by where nobody has said otherwise.
DEFAULT_LOOK = "24h"
TestGroup = Literal["water", "heat", "stain", "wear", "repair", "drying", "looks", "contact", "outdoors"]
TEST_GROUP_WORDS: dict[TestGroup, str] = {
    "water": "Water",
    "heat": "Heat",
    "stain": "Household stains",
    "wear": "Wear",
    "repair": "Repair",
    "drying": "Drying",
    "looks": "Looks and feel",
    "contact": "Food and skin",
    "outdoors": "Outdoors",
}
# After a fail on a ladder: every step is done; harsher steps are not done and count as failed; one harsher step more.
AfterFail = Literal["go-on", "stop", "confirm"]
AFTER_FAIL_WORDS: dict[AfterFail, str] = {
    "go-on": "Go on: every step is done",
    "stop": "Stop: harsher steps are left out and count as failed",
    "confirm": "Confirm: one harsher step more, then stop",
}


@dataclass(frozen=True, kw_only=True)
class Test:
    """What is done at one site, in order, and what is read there.

    Attributes
    ----------
    id, name, short_name : str
        Stable key, full name, and a label short enough for a spot on the drawing.
    group : TestGroup
    site : Site
    acts : tuple of Act
        In order; none for a test that only looks.
    reads : tuple of Read
    looks : tuple of Look
        Of its own; empty for the protocol's.
    on_panel : str
        A name for the panel that it stands on, where it matters which tests share one; empty for wherever there is room.
    says, modelled_on : str
        What it shows, and the public pattern that it follows.
    """

    # pytest is not to take it for a test of its own.
    __test__ = False

    id: Annotated[str, Longest(60)]
    name: Annotated[str, Longest(120)]
    short_name: Annotated[str, Longest(30)]
    group: TestGroup = "stain"
    site: Site
    reads: tuple[Read, ...]
    acts: tuple[Act, ...] = ()
    looks: tuple[Look, ...] = ()
    on_panel: Annotated[str, Longest(30)] = ""
    says: Annotated[str, Longest(2000)] = ""
    modelled_on: Annotated[str, Longest(400)] = ""

    @property
    def main_act(self) -> Act | None:
        """What touches the wood first; ``None`` for a test that only looks."""
        touching = (act for act in self.acts if act.declared.touches)
        return next(touching, self.acts[0] if self.acts else None)

    @property
    def agent(self) -> str:
        """What touches the wood; empty where nothing does."""
        return "" if self.main_act is None else self.main_act.agent

    @property
    def amount(self) -> str:
        """How much, in bench words."""
        return "" if self.main_act is None else self.main_act.amount

    @property
    def covered(self) -> bool:
        """Whether a cover keeps the liquid from drying out."""
        return self.main_act is not None and self.main_act.covered

    @property
    def temperature_c(self) -> float | None:
        """Temperature at contact, °C, where it is part of the test."""
        return None if self.main_act is None else self.main_act.temperature_c

    @property
    def duration_min(self) -> float:
        """How long its main act goes on, minutes: contact, or all turns of a cycle."""
        act = self.main_act
        if act is None:
            return 0.0
        return act.lasts_min + act.cycles * (act.wet_min + act.dry_min)

    @property
    def harshness(self) -> tuple[float, float, float]:
        """Temperature (°C), minutes, and how often: what rises along a ladder."""
        act = self.main_act
        return self.temperature_c or 0.0, self.duration_min, float((act.cycles or act.strokes) if act else 0)

    @property
    def occupies(self) -> frozenset[Equipment]:
        """What it takes up at the bench, in one act or another."""
        return frozenset(each for act in self.acts for each in act.occupies)

    @property
    def natures(self) -> frozenset[Nature]:
        """What it must be kept from: hot things are kept apart on the panel, an acid from bleach."""
        return frozenset(nature for act in self.acts for nature in act.natures)

    @property
    def is_hot(self) -> bool:
        """Whether it burns, and sets vapour alight."""
        return "hot" in self.natures

    @property
    def uses_up_panel(self) -> bool:
        """Whether nothing else can stand on its panel: something touches the whole face, or a share of it."""
        return self.site.kind in ("panel", "part") and any(act.declared.touches for act in self.acts)

    @property
    def responses(self) -> tuple[str, ...]:
        """Ids of what is read, in order."""
        return tuple(read.response for read in self.reads)

    def cautions(self, beside: Iterable[Test] = ()) -> tuple[str, ...]:
        """Ids of the cautions that it calls for among other tests."""
        about = self.natures.union(*(other.natures for other in beside))
        return cautions_of(self.natures, beside=about)

    def act(self, act_id: str) -> Act:
        """Return the act with this id, the last for an empty one. Raises ``KeyError`` when the test has none."""
        if not act_id and self.acts:
            return self.acts[-1]
        for act in self.acts:
            if act.id == act_id:
                return act
        raise KeyError(act_id)


@dataclass(frozen=True, kw_only=True)
class Ladder:
    """Tests of one agent, the mildest first. The result is the highest step passed."""

    id: Annotated[str, Longest(60)]
    name: Annotated[str, Longest(120)]
    tests: tuple[str, ...]
    after_fail: AfterFail = "go-on"


@dataclass(frozen=True, kw_only=True)
class Protocol:
    """A named, versioned list of tests, with the looks of those that have none of their own, and its ladders."""

    id: str
    version: Annotated[int, Span(1, MAX_VERSIONS, "")]
    name: Annotated[str, Longest(120)]
    says: Annotated[str, Longest(2000)]
    tests: tuple[Test, ...]
    looks: tuple[Look, ...]
    ladders: tuple[Ladder, ...] = ()

    def test(self, test_id: str) -> Test:
        """Return the test with this id. Raises ``KeyError`` when the protocol has none."""
        for test in self.tests:
            if test.id == test_id:
                return test
        raise KeyError(test_id)

    def look(self, look_id: str) -> Look:
        """Return the look with this id. Raises ``KeyError`` when the protocol has none."""
        for look in self.all_looks:
            if look.id == look_id:
                return look
        raise KeyError(look_id)

    def looks_of(self, test: Test) -> tuple[Look, ...]:
        """When a test is read: its own looks, else the protocol's."""
        return test.looks or self.looks

    @property
    def all_looks(self) -> tuple[Look, ...]:
        """Every look of every test, each once, the earliest first; those before anything is done at the head."""
        found: dict[str, Look] = {}
        for look in (look for test in self.tests for look in self.looks_of(test)):
            found.setdefault(look.id, look)
        return tuple(sorted(found.values(), key=lambda look: (not look.is_before, look.after_min)))

    def look_meant(self, look_id: str) -> str:
        """Which look an id asks for: :data:`DEFAULT_LOOK`, asked for where nobody has chosen, is whichever verdicts go by."""
        return self.look_for().id if look_id == DEFAULT_LOOK else look_id

    def look_for(self, wanted: str = DEFAULT_LOOK) -> Look:
        """The look with this id; where the protocol has none the one that comes last."""
        looks = self.all_looks
        return next((look for look in looks if look.id == wanted), looks[-1])
