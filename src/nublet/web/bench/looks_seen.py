"""Looks that were read, as the bench days know them: a look is done when somebody read it, and nobody logs it besides."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from nublet.core.bench.sitting import CannotBeHad, cannot_be_had
from nublet.core.protocols.looks import BARE
from nublet.core.protocols.tests import Protocol, Test
from nublet.web.bench.adapters import BenchLog, key_of
from nublet.web.bench.models import PanelWork
from nublet.web.bench.signals import asks_what_was_seen, asks_which_values_were_read
from nublet.web.designs.models import TrialPanel, TrialSpot
from nublet.web.trials.adapters import protocol_of
from nublet.web.trials.models import Trial

# Panel's code, test and look.
SeenKey = tuple[str, str, str]


def looks_seen(trial: Trial) -> dict[SeenKey, datetime]:
    """At which looks something was read, and when first."""
    answers: list[tuple[Any, Any]] = asks_what_was_seen.send(Trial, trial=trial)
    return {key: at for _, seen in answers for key, at in (seen or {}).items()}


def values_read(trial: Trial, tests: Sequence[str]) -> set[tuple[str, str, str, str]]:
    """What was read of some tests: panel's code, test, look and response."""
    answers: list[tuple[Any, Any]] = asks_which_values_were_read.send(Trial, trial=trial, tests=tests)
    return {key for _, found in answers for key in found or ()}


def wanted_on_bare_wood(trial: Trial, codes: Collection[str]) -> tuple[CannotBeHad, ...]:
    """What is to be read on the bare wood of some panels and was not: once they are coated it cannot be had. Two queries at most."""
    protocol = protocol_of(trial)
    tests = [test for test in protocol.tests if any(look.after == BARE for look in protocol.looks_of(test))]
    if not tests or not codes:
        return ()
    carried = set(
        TrialSpot.objects.filter(panel__trial=trial, panel__code__in=codes, left_out_at__isnull=True)
        .values_list("panel__code", "exposure")
        .distinct()
    )
    read = values_read(trial, [test.id for test in tests])
    return tuple(
        each
        for test in tests
        for each in cannot_be_had(
            test,
            protocol.looks_of(test),
            sorted(code for code in codes if (code, test.id) in carried),
            read,
            after=BARE,
        )
    )


def with_looks_seen(log: BenchLog, trial: Trial) -> BenchLog:
    """The log with the planned looks that were read, as work that was done when it was read first. Two queries.

    Where the times of the acts are kept on paper the log stays as it is: it could not tell after which act it was.
    """
    seen = {} if trial.times_on_paper else looks_seen(trial)
    if not seen:
        return log
    protocol = protocol_of(trial)
    tests = {test.id: test for test in protocol.tests}
    panels = {panel.code: panel for panel in TrialPanel.objects.filter(trial=trial)}
    known = {key_of(row) for row in log.works}
    found = []
    for group in log.spec.groups:
        for exposure in group.exposures:
            for look in exposure.looks:
                meant = look_meant(tests[exposure.id], protocol, look.after_min, look.after)
                for code in group.panels:
                    at = seen.get((code, exposure.id, meant))
                    if at is None or code not in panels:
                        continue
                    row = PanelWork(
                        panel=panels[code], kind="look", item=exposure.id, look_after_min=look.after_min, act=look.after,
                        begun_at=at, ended_at=at,
                    )  # fmt: skip
                    if key_of(row) not in known:
                        found.append(row)
    return replace(log, works=[*log.works, *found])


def look_meant(test: Test, protocol: Protocol, after_min: float, after: str) -> str:
    """Id of the protocol's look that a planned one is: after the same act the nearest, as a plan may keep it to part of its window."""
    looks = [look for look in protocol.looks_of(test) if not look.is_before and not look.is_far]
    same = [look for look in looks if after in ("", look.after)] or looks
    return min(same, key=lambda look: abs(look.after_min - after_min)).id if same else ""
