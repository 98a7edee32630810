"""Whether a board met its exposures together, by what was done: all of it cured, and begun in one go."""

from __future__ import annotations

from collections.abc import Iterator

from nublet.core.bench.findings import Finding
from nublet.core.bench.keys import DoneBook
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.spec import PanelAt, PlanSpec

# Begun so much later than the first of its board it was another sitting, with another pour.
_ONE_SITTING_S = 8 * 3600.0
_SLIP_S = 60.0


def judge_boards(spec: PlanSpec, book: DoneBook) -> Iterator[Finding]:
    """What was begun on a board before all of it had cured, or in another sitting than the rest.

    Nothing is found where each build-up goes as it is ready.
    A panel of which nothing was written down is not waited for: it may have been spoiled, or coated without a word.
    """
    if not spec.is_together:
        return
    for panels in spec.boards.values():
        cured = {at: cured_s for at in panels if (cured_s := _cured_s(spec, at, book)) is not None}
        begun: dict[str, dict[PanelAt, float]] = {}
        for at in panels:
            for exposure in spec.groups[at.group].exposures:
                start_s = _begun_s(spec, at, exposure, book)
                if start_s is not None:
                    begun.setdefault(exposure.id, {})[at] = start_s
        for item, starts in begun.items():
            first_s = min(starts.values())
            for at, start_s in starts.items():
                others = [cured_s for other, cured_s in cured.items() if other != at]
                if others and start_s < max(others) - _SLIP_S:
                    yield _finding(spec, at, item, "ahead-of-board", start_s - max(others))
                elif start_s > first_s + _ONE_SITTING_S:
                    yield _finding(spec, at, item, "board-apart", start_s - first_s)


_SAYS = {
    "ahead-of-board": "begun before all of its board had cured, so that they do not meet it together.",
    "board-apart": "begun in another sitting than the first of its board: another pour, another day.",
}


def _finding(spec: PlanSpec, at: PanelAt, item: str, kind: str, off_s: float) -> Finding:
    group = spec.groups[at.group]
    panel = group.panels[at.panel]
    return Finding(
        kind="ahead-of-board" if kind == "ahead-of-board" else "board-apart",
        group=group.id,
        panel=panel,
        item=item,
        judgement="deviation",
        says=f"{panel}, {item}: {_SAYS[kind]}",
        off_s=off_s,
        whole_panel=False,
    )


def _cured_s(spec: PlanSpec, at: PanelAt, book: DoneBook) -> float | None:
    """When a panel's last coat that was written down has cured; ``None`` while nothing was."""
    group = spec.groups[at.group]
    coated_s = book.coated_s(group, group.panels[at.panel])
    return coated_s + 3600 * group.cure_h if coated_s else None


def _begun_s(spec: PlanSpec, at: PanelAt, exposure: ExposureWork, book: DoneBook) -> float | None:
    group = spec.groups[at.group]
    work = book.of_act(group.id, group.panels[at.panel], exposure.id, exposure.chain[0])
    return None if work is None else work.start_s
