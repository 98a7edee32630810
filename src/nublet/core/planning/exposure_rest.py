"""What is left of an exposure once its first acts were done, as parts that wait for the last of these."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nublet.core.planning.chains import FOREVER, Block, Occupation
from nublet.core.planning.exposure_work import ExposureWork
from nublet.core.planning.exposures import (
    Node,
    blocks_of,
    exposure_occupations,
    keep_looks_before_acts,
    keep_looks_in_order,
    nodes_of,
)


@dataclass(frozen=True, kw_only=True)
class RestPart:
    """Part of what is left of an exposure: blocks of which the first begins so long after the end of the last act that was done.

    ``high_s`` is ``None`` for no greatest wait.
    """

    blocks: tuple[Block, ...]
    occupations: tuple[Occupation, ...]
    low_s: int
    high_s: int | None


def rest_parts(
    exposure: ExposureWork, n_done: int, panels: Sequence[int], *, begins_s: int
) -> list[RestPart] | None:
    """What is left of an exposure of which the first acts were done, as parts that wait for the last of these alone.

    Parameters
    ----------
    exposure : ExposureWork
        With the looks that are still to come: those after the last act that was done, and after later ones.
    n_done : int
        At least 1.
    panels : sequence of int
    begins_s : int
        When the last act that was done began.

    Returns
    -------
    list of RestPart or None
        A look and the next act are parts of their own where neither can come in the other's way; ``None`` when so many panels
        cannot go together.
    """
    left = replace(exposure, acts=exposure.chain[n_done - 1 :])
    nodes = nodes_of(left, is_loose=False)
    if nodes is None:
        return None
    blocks = blocks_of(nodes, left, panels)
    latest = [block.latest_s for block in blocks]
    keep_looks_before_acts(blocks)
    keep_looks_in_order(blocks)
    if any(block.wait_s > block.latest_s for block in blocks):
        return None
    return [
        _part(left, nodes, blocks, root, latest[root] - blocks[root].latest_s, len(panels), begins_s)
        for root in range(1, len(blocks))
        if blocks[root].parent == 0
    ]


def _part(
    left: ExposureWork,
    nodes: Sequence[Node],
    blocks: Sequence[Block],
    root: int,
    narrowed_s: int,
    n_panels: int,
    begins_s: int,
) -> RestPart:
    """A block that waits for the first, and all that waits for it."""
    place = {root: 0}
    for number in range(root + 1, len(blocks)):
        parent = blocks[number].parent
        if parent in place:
            place[number] = len(place)
    own = [replace(blocks[root], parent=None, wait_s=0, latest_s=FOREVER, nominal_s=0)]
    for number in list(place)[1:]:
        parent = blocks[number].parent
        own.append(replace(blocks[number], parent=None if parent is None else place[parent]))
    acts = [number for number, block in enumerate(blocks) if block.kind != "look"]
    has_acts = len(acts) > 1 and acts[1] in place
    occupied = [None, *[place[number] for number in acts[1:]]] if has_acts else []
    high_s = nodes[root].high_s
    return RestPart(
        blocks=tuple(own),
        occupations=tuple(exposure_occupations(left, occupied, n_panels, begins_s=begins_s))
        if has_acts
        else (),
        low_s=nodes[root].low_s,
        high_s=None if high_s is None else high_s - narrowed_s,
    )
