"""What is worked out from what the hands measured, shown beside it at once. Only for hands: a judge measures nothing."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass

from nublet.core.evidence.rows import bare_beside
from nublet.core.protocols.derived import ReadValue, derive, derived_of
from nublet.core.protocols.tests import Protocol, Test
from nublet.web.designs.models import TrialPanel
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


def worked_out(
    trial: Trial, protocol: Protocol, test: Test, *, panel: TrialPanel | None = None
) -> Mapping[SiteLook, tuple[WorkedOut, ...]]:
    """What follows from the measures of one test, by site and look. One query; none where nothing can follow.

    With ``panel`` only what its own board tells is read: all that is needed for that one.
    """
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
    )
    if panel is not None:
        # A slip of glass is of no board.
        rows = (
            rows.filter(spot__panel__board=panel.board_id)
            if panel.board_id
            else rows.filter(spot__panel=panel)
        )
    found_rows = rows.values_list(
        "spot__panel__code", "spot__place", "spot__panel__board", "spot__panel__build_up__name",
        "look", "response", "view", "value", "judge",
    )  # fmt: skip
    values = []
    sites: dict[str, tuple[str, int]] = {}
    pieces: list[tuple[str, str, str]] = []
    for code, place, board, build_up, look, response, view, value, reader in found_rows:
        name = f"{code}/{place}"
        sites[name] = (code, place)
        pieces.append((name, str(board or code), build_up))
        values.append(
            ReadValue(
                panel=name, test=test.id, look=look, response=response, value=float(value or 0), view=view, judge=str(reader)
            )
        )  # fmt: skip
    found: dict[SiteLook, list[WorkedOut]] = defaultdict(list)
    for each in derive(values, protocol, bare=bare_beside(pieces)):
        if each.value is not None and each.look and each.panel in sites and each.test == test.id:
            found[(*sites[each.panel], each.look)].append(
                WorkedOut(response=each.response, view=each.view, value=each.value)
            )
    return {key: tuple(own) for key, own in found.items()}
