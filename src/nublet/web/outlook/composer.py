"""A trial's protocol while it is put together: the draft, what it asks of the trial, and how it lies on a panel."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from django.db import transaction

from nublet.core.design.areas import PanelSize, Section
from nublet.core.design.asking import Asking, TestAsking, ask
from nublet.core.design.cutting import Board
from nublet.core.design.drawn import Spot
from nublet.core.design.trial_design import DesignSpec, draw_one_panel, loads_of
from nublet.core.errors import NubletError
from nublet.core.plain import folded
from nublet.core.protocols import composing
from nublet.core.protocols.agents import Agent
from nublet.core.protocols.checking import check_protocol
from nublet.core.protocols.plain import protocol_as_plain, protocol_from_dict
from nublet.core.protocols.shipped import TESTS
from nublet.core.protocols.steps import as_ladder, harder, milder
from nublet.core.protocols.tests import Protocol, Test
from nublet.core.protocols.timeline import Timeline, timeline_of
from nublet.core.quantities import Prose
from nublet.core.ranking.uses import Unfed, Use, unfed_by
from nublet.web.designs.adapters import planned_boards, spec_of
from nublet.web.people.audit import record
from nublet.web.people.models import Person
from nublet.web.shelf.adapters import OWN_AGENTS, protocols_of, uses_of, woods_of
from nublet.web.trials.actions import drop_design, lock_trial
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

MOST_SUGGESTED = 3


@dataclass(frozen=True, kw_only=True)
class LibraryTest:
    """A test that can be added."""

    id: str
    name: str
    group: str
    site: str
    agent: str
    says: str
    modelled_on: str


@dataclass(frozen=True, kw_only=True)
class LibraryProtocol:
    """A whole protocol that can be added."""

    id: str
    name: str
    says: str
    version: int
    tests: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class Library:
    """All that a protocol can be put together from."""

    tests: tuple[LibraryTest, ...]
    protocols: tuple[LibraryProtocol, ...]


@dataclass(frozen=True, kw_only=True)
class ComposedTest:
    """What there is to show of one test of the draft: its rule of time, what it takes, and where it could go."""

    id: str
    timeline: Timeline
    cautions: tuple[str, ...]
    asked: TestAsking
    ladder: str
    can_be_harder: bool
    can_be_milder: bool
    can_be_ladder: bool


@dataclass(frozen=True, kw_only=True)
class DrawnPanel:
    """One of a build-up's panels as the draft fills it."""

    sections: tuple[Section, ...]
    spots: tuple[Spot, ...]


@dataclass(frozen=True, kw_only=True)
class Composed:
    """A draft and all that follows from it. ``trouble`` says why it cannot be laid on the trial's panels; empty when it can.

    ``has_lots`` tells that a design stands, which a change of the protocol discards.
    """

    protocol: Protocol
    tests: tuple[ComposedTest, ...]
    asking: Asking
    panels: tuple[DrawnPanel, ...]
    panel_length_mm: float
    panel_width_mm: float
    n_build_ups: int
    n_boards: int
    n_judges: int
    trouble: Prose
    unfed: tuple[Unfed, ...]
    is_fixed: bool
    has_lots: bool


def library_of(person: Person) -> Library:
    """What ships and what the shop has made: every test once, whole protocols by name. Two queries."""
    known = protocols_of(person.shop_id, offered_only=True)
    tests = _library_tests(known)
    return Library(
        tests=tuple(
            LibraryTest(
                id=test.id,
                name=test.name,
                group=test.group,
                site=test.site.kind,
                agent=test.agent,
                says=test.says,
                modelled_on=test.modelled_on,
            )
            for test in tests.values()
        ),
        protocols=tuple(
            LibraryProtocol(
                id=protocol.id,
                name=protocol.name,
                says=protocol.says,
                version=protocol.version,
                tests=tuple(test.name for test in protocol.tests),
            )
            for protocol in known.values()
        ),
    )


@dataclass(frozen=True, kw_only=True)
class Setting:
    """The trial that a protocol is put together for, or a usual one while it stands on the shelf.

    ``spec`` is its design without the protocol; ``sizes`` are larger panels that may be taken where its own are too small.
    """

    spec: DesignSpec
    n_judges: int
    uses: tuple[Use, ...] = ()
    is_fixed: bool = False
    has_lots: bool = False
    sizes: tuple[PanelSize, ...] = ()

    @property
    def n_build_ups(self) -> int:
        """At least two: nothing is compared with fewer."""
        return max(len(self.spec.build_ups), 2)


# What a protocol on the shelf is reckoned for: five build-ups with the control on four boards, and two judges.
_USUAL = Setting(
    spec=DesignSpec(
        build_ups=("1", "2", "3", "4", "bare"),
        bare=("bare",),
        boards=tuple(Board(id=str(number), species="beech") for number in range(1, 5)),
        exposures=(),
        size=PanelSize(length_mm=400, width_mm=150),
    ),
    n_judges=2,
    sizes=(PanelSize(length_mm=600, width_mm=200), PanelSize(length_mm=1000, width_mm=300)),
)


def setting_for(trial: Trial) -> Setting:
    """A trial as a protocol is put together for it. Six queries."""
    rows = list(trial.build_ups.select_related("version").order_by("pk"))
    woods = woods_of(trial.shop_id)
    uses = uses_of(trial.shop_id)
    return Setting(
        spec=spec_of(trial, rows, planned_boards(trial, woods, trial.boards.all()), seed=0),
        n_judges=max(1, trial.judges.count()),
        uses=tuple(uses[use] for use in trial.uses if use in uses),
        is_fixed=trial.is_started,
        has_lots=bool(trial.fingerprint),
    )


def compose(
    shop_id: int,
    draft: Protocol,
    change: Mapping[str, Any] | None = None,
    *,
    setting: Setting = _USUAL,
) -> Composed:
    """Change a draft and say what follows from it; nothing is saved. Three queries.

    Parameters
    ----------
    shop_id : int
    draft : Protocol
    change : mapping or None
        ``what`` is one of :data:`CHANGES`, the rest what that needs.
    setting : Setting

    Raises
    ------
    NubletError
        If the draft, or the change, cannot be; the message says why, ``field`` where.
    """
    own = {folded(agent.name): agent for agent in OWN_AGENTS.known_to(shop_id).values()}
    known = protocols_of(shop_id)
    protocol = draft
    if change is not None:
        protocol = CHANGES[change["what"]](draft, change, known, own)
        check_protocol(protocol)
    return _look_at(protocol, setting, known, own)


def draft_of(trial: Trial, draft: Mapping[str, Any] | None) -> Protocol:
    """A draft as the trial's protocol, whatever it was copied from; without one the protocol that it has.

    Raises
    ------
    ShelfError
        If no panel could be put through it.
    """
    if draft is None:
        return protocol_of(trial)
    plain = {**draft, "version": trial.protocol_version}
    return protocol_from_dict(plain, protocol_id=trial.protocol_plain.get("id", trial.protocol))


@transaction.atomic
def set_protocol(actor: Person, trial_id: int, draft: Mapping[str, Any]) -> Trial:
    """Make a draft the trial's own protocol; a standing design that it does not fit is discarded.

    Raises
    ------
    Http404
    NubletError
        If no panel could be put through it.
    ConflictError
        If the trial has started.
    """
    trial = lock_trial(actor, trial_id)
    before = protocol_of(trial)
    protocol = draft_of(trial, draft)
    if protocol != before:
        drop_design(actor, trial, what="the protocol")
        trial.protocol_plain = protocol_as_plain(protocol)
        trial.save()
        record(
            actor,
            "compose_protocol",
            trial,
            tests=[test.id for test in protocol.tests],
            before=[test.id for test in before.tests],
        )
    return trial


Known = Mapping[str, Protocol]
Own = Mapping[str, Agent]
_Change = Callable[[Protocol, Mapping[str, Any], Known, Own], Protocol]


def _add_test(protocol: Protocol, change: Mapping[str, Any], known: Known, _: Own) -> Protocol:
    tests = _library_tests(known)
    if change["test"] not in tests:
        raise NubletError(
            f"There is no test {change['test']!r} in the library. Reload the page.", field="test"
        )
    return composing.with_test(protocol, tests[change["test"]])


def _add_protocol(protocol: Protocol, change: Mapping[str, Any], known: Known, _: Own) -> Protocol:
    if change["protocol"] not in known:
        raise NubletError(f"There is no protocol {change['protocol']!r}. Reload the page.", field="protocol")
    return composing.with_protocol(protocol, known[change["protocol"]])


# What can be done to a draft beside changing its fields.
CHANGES: Mapping[str, _Change] = {
    "add_test": _add_test,
    "add_protocol": _add_protocol,
    "copy": lambda protocol, change, _, __: composing.with_copy(protocol, change["test"]),
    "remove": lambda protocol, change, _, __: composing.without_test(protocol, change["test"]),
    "harder": lambda protocol, change, _, own: composing.with_step(protocol, change["test"], 1, own),
    "milder": lambda protocol, change, _, own: composing.with_step(protocol, change["test"], -1, own),
    "ladder": lambda protocol, change, _, own: composing.as_steps(
        protocol, change["test"], change.get("steps") or 4, own
    ),
    "severity": lambda protocol, change, _, __: composing.with_severity(
        protocol,
        change["test"],
        lasts_min=change.get("lasts_min"),
        temperature_c=change.get("temperature_c"),
        times=change.get("times"),
    ),
}


def _library_tests(known: Known) -> dict[str, Test]:
    """Every test that ships, and those of the shop's own protocols, by id; what ships keeps its id."""
    own = {test.id: test for protocol in known.values() for test in protocol.tests}
    return {**own, **TESTS}


def _look_at(protocol: Protocol, setting: Setting, known: Known, own: Own) -> Composed:
    spec = replace(setting.spec, exposures=protocol.tests)
    panels, trouble = _on_panels(spec)
    for size in setting.sizes:
        if trouble:
            spec = replace(spec, size=size)
            panels, trouble = _on_panels(spec)
    asking = ask(
        protocol,
        n_build_ups=setting.n_build_ups,
        n_boards=len(spec.boards),
        n_judges=setting.n_judges,
        n_sections=len(spec.sections),
        n_bare=max(1, len(spec.bare)),
        slip_replicates=spec.slip_replicates,
    )
    library = list(_library_tests(known).values())
    ladder_of = {step: ladder.id for ladder in protocol.ladders for step in ladder.tests}
    return Composed(
        protocol=protocol,
        tests=tuple(
            ComposedTest(
                id=test.id,
                timeline=timeline_of(test, protocol.looks_of(test)),
                cautions=test.cautions(protocol.tests),
                asked=asked,
                ladder=ladder_of.get(test.id, ""),
                can_be_harder=harder(test, own) is not None,
                can_be_milder=milder(test, own) is not None,
                can_be_ladder=test.id not in ladder_of and as_ladder(test, 2, own)[1] is not None,
            )
            for test, asked in zip(protocol.tests, asking.tests, strict=True)
        ),
        asking=asking,
        panels=panels,
        panel_length_mm=spec.size.length_mm,
        panel_width_mm=spec.size.width_mm,
        n_build_ups=setting.n_build_ups,
        n_boards=len(spec.boards),
        n_judges=setting.n_judges,
        trouble=trouble,
        unfed=tuple(
            Unfed(use=each.use, name=each.name, is_gate=each.is_gate, tests=each.tests[:MOST_SUGGESTED])
            for use in setting.uses
            for each in unfed_by(use, protocol, library)
        ),
        is_fixed=setting.is_fixed,
        has_lots=setting.has_lots,
    )


def _on_panels(spec: DesignSpec) -> tuple[tuple[DrawnPanel, ...], Prose]:
    """One build-up's panels on a board as the draft fills them; or none, and why it does not fit."""
    try:
        parts = range(1, len(loads_of(spec)) + 1)
        drawn = [draw_one_panel(spec, part, rng=np.random.default_rng(part)) for part in parts]
    except NubletError as error:
        return (), error.message
    return tuple(DrawnPanel(sections=sections, spots=spots) for sections, spots in drawn), ""
