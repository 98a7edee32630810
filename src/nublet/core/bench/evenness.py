"""Coated until the sheen is even, and no more: what the log closes of a panel's work."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace

from nublet.core.bench.keys import DoneBook, DoneWork, WorkKey
from nublet.core.planning.chains import Kind
from nublet.core.planning.spec import CoatStep, PanelGroup, PlanSpec

EVEN_SAYS = "The sheen is even: no more coats."
# All that a step may bring with it.
_OF_A_STEP: tuple[Kind, ...] = ("abrade", "weigh", "coat", "wipe", "work")

# Ids of the steps that are no work of a panel any more, by its group and name.
Closed = Mapping[tuple[str, str], frozenset[str]]
NOTHING_CLOSED: Closed = {}


def closed_steps(spec: PlanSpec, even: Iterable[WorkKey], done: Iterable[DoneWork] = ()) -> Closed:
    """What is closed where the sheen was even before some coat: that coat, and those after it in its layer.

    Parameters
    ----------
    spec : PlanSpec
    even : iterable of WorkKey
        The coats before which it was seen; groups are left out of account, as a trial gives no code twice.
    done : iterable of DoneWork
        What was put on all the same is not closed.
    """
    on_it = {(work.group, work.panel, work.item) for work in done if work.kind in ("coat", "work")}
    seen: dict[str, list[str]] = {}
    for key in even:
        seen.setdefault(key.panel, []).append(key.item)
    return {
        (group.id, panel): frozenset(
            each
            for step in group.steps
            if step.id in seen[panel]
            for each in step.ends_when_even
            if (group.id, panel, each) not in on_it
        )
        for group in spec.groups
        for panel in group.panels
        if panel in seen
    }


def void_by(closed: Closed) -> frozenset[tuple[str, str, Kind]]:
    """Panel, item and kind of all that is no work any more."""
    return frozenset(
        (panel, step, kind) for (_, panel), steps in closed.items() for step in steps for kind in _OF_A_STEP
    )


def as_it_goes(group: PanelGroup, panel: str, closed: Closed) -> PanelGroup:
    """A panel's group with the steps that it really has; the wait for the next is that of the last one that was closed.

    A panel of which nothing is closed has its group as it stands.
    """
    ended = closed.get((group.id, panel))
    if not ended:
        return group
    steps: list[CoatStep] = []
    for step in group.steps:
        if step.id not in ended:
            steps.append(step)
        elif steps:
            steps[-1] = replace(steps[-1], recoat_from_h=step.recoat_from_h, recoat_to_h=step.recoat_to_h)
    return replace(group, steps=tuple(steps))


def stand_ins(spec: PlanSpec, book: DoneBook, closed: Closed) -> Iterator[DoneWork]:
    """The closed steps as if they had been done at the end of the panel's last coat, which is when its cure began.

    For planning what is left, which knows of each step only whether it is done and when.
    """
    for group in spec.groups:
        for panel in group.panels:
            ended = closed.get((group.id, panel))
            if not ended:
                continue
            at_s = _ended_s(group, panel, book, ended)
            for step in group.steps:
                if step.id in ended:
                    kinds: tuple[Kind, ...] = (step.kind,) if step.wipe is None else (step.kind, "wipe")
                    for kind in kinds:
                        yield DoneWork(
                            group=group.id, panel=panel, item=step.id, kind=kind, start_s=at_s, end_s=at_s
                        )


def _ended_s(group: PanelGroup, panel: str, book: DoneBook, ended: frozenset[str]) -> float:
    """When the last step before the closed ones ended."""
    first = next(number for number, step in enumerate(group.steps) if step.id in ended)
    return book.coated_s(replace(group, steps=group.steps[:first]), panel)
