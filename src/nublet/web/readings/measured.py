"""What is worked out from what the hands measured, shown beside it at once. Only for hands: a judge measures nothing."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from nublet.core.protocols.derived import ReadValue, derive, derived_of
from nublet.core.protocols.tests import Protocol, Test
from nublet.web.readings.models import Reading
from nublet.web.trials.models import Trial

# Panel's code, place, and look.
SiteLook = tuple[str, int, str]


@dataclass(frozen=True, kw_only=True)
class WorkedOut:
    """One number that follows from what was measured, such as a colour difference; from a view where there are several."""

    response: str
    view: str
    value: float


def worked_out(trial: Trial, protocol: Protocol, test: Test) -> Mapping[SiteLook, tuple[WorkedOut, ...]]:
    """What follows from the measures of one test, by site and look. One query; none where nothing can follow."""
    wanted = {part for response in derived_of(test) for part in response.derived_from}
    if not wanted:
        return {}
    rows = Reading.objects.filter(
        spot__panel__trial=trial,
        spot__exposure=test.id,
        spot__panel__spoiled_at__isnull=True,
        spot__left_out_at__isnull=True,
        response__in=sorted(wanted),
        value__isnull=False,
        turn=0,
    ).values_list(
        "spot__panel__code", "spot__place", "spot__panel__board", "spot__panel__build_up__is_control",
        "look", "response", "view", "value", "judge",
    )  # fmt: skip
    values = []
    sites: dict[str, tuple[str, int]] = {}
    boards: dict[str, int | None] = {}
    bare: dict[int | None, set[str]] = defaultdict(set)
    for code, place, board, is_control, look, response, view, value, reader in rows:
        name = f"{code}/{place}"
        sites[name], boards[name] = (code, place), board
        if is_control and board is not None:
            bare[board].add(name)
        values.append(
            ReadValue(
                panel=name, test=test.id, look=look, response=response, value=float(value or 0), view=view, judge=str(reader)
            )
        )  # fmt: skip
    beside = {
        name: sorted(bare[board])
        for name, board in boards.items()
        if board is not None and name not in bare[board]
    }
    found: dict[SiteLook, list[WorkedOut]] = defaultdict(list)
    for each in derive(values, protocol, bare=beside):
        if each.value is not None and each.look and each.panel in sites and each.test == test.id:
            found[(*sites[each.panel], each.look)].append(
                WorkedOut(response=each.response, view=each.view, value=each.value)
            )
    return {key: tuple(own) for key, own in found.items()}
