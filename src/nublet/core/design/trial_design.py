"""The whole design of a trial: boards cut, lots drawn, codes given, sections and spots placed, and its fingerprint."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from nublet.core.design.areas import (
    Faces,
    PanelSize,
    Section,
    check_panel_size,
    check_sections,
    mark_sections,
)
from nublet.core.design.blocks import Arrangement, SpeciesBlocks, draw_lots, plan_blocks
from nublet.core.design.codes import draw_codes, stream_of_chance
from nublet.core.design.cutting import Board, Saw
from nublet.core.design.drawn import DrawnFace, DrawnRing, Spot
from nublet.core.design.fitting import Ladders, PanelLoad, plan_loads
from nublet.core.design.layout import check_margin, check_placed
from nublet.core.design.spots import SpotDrawer
from nublet.core.design.whole import Slip, check_whole, plan_slips, share_out, whole_spots
from nublet.core.errors import DesignError
from nublet.core.plain import as_plain
from nublet.core.protocols.tests import Test

MAX_PANELS = 1000
MAX_SLIP_REPLICATES = 20
DEFAULT_MARGIN_MM = 15.0
_N_REDRAWS = 5


@dataclass(frozen=True, kw_only=True)
class DesignSpec:
    """What is asked of a design.

    Attributes
    ----------
    build_ups : tuple of str
        Names or ids, the control included, each once.
    boards : tuple of Board
        The blocks.
    exposures : tuple of Test
        Each stands once on each section, or once on the build-up's panels of a board when there are no sections.
    size : PanelSize
        Of every panel, mm.
    margin_mm : float
        Beyond each wetted ring, mm.
    sections : tuple of str
        Parts of each panel with a different top layer, in an order drawn for each panel; none for undivided panels.
    saw : Saw
    pairs : tuple of (str, str)
        Build-ups to be cut next to each other on every board.
    faces, panels_each, ladders
        See :func:`nublet.core.design.fitting.plan_loads`.
    arrangement, block_size
        See :func:`nublet.core.design.blocks.plan_blocks`.
    slip_replicates : int
        How many slips of glass each build-up has of each test on glass.
    bare : tuple of str
        Build-ups without a finish: they have no slips.
    seed : int
        Same seed and same input, same design.
    """

    build_ups: tuple[str, ...]
    boards: tuple[Board, ...]
    exposures: tuple[Test, ...]
    size: PanelSize
    margin_mm: float = DEFAULT_MARGIN_MM
    sections: tuple[str, ...] = ()
    saw: Saw = field(default_factory=Saw)
    pairs: tuple[tuple[str, str], ...] = ()
    faces: Faces = "front"
    panels_each: int = 1
    ladders: Ladders = "together"
    arrangement: Arrangement = "auto"
    block_size: int | None = None
    slip_replicates: int = 3
    bare: tuple[str, ...] = ()
    seed: int = 0


@dataclass(frozen=True, kw_only=True)
class Panel:
    """One test piece: where it comes from, what it carries, and its spots.

    ``position`` counts the panels of their board from 1 in the order of cutting; ``part`` tells apart the panels of one
    build-up on one board, from 1; ``code`` is all that a judge sees.
    """

    code: str
    board: str
    species: str
    position: int
    offset_mm: float
    row: int
    build_up: str
    part: int = 1
    sections: tuple[Section, ...] = ()
    spots: tuple[Spot, ...]


@dataclass(frozen=True, kw_only=True)
class Design:
    """A drawn design. ``fingerprint`` is the SHA-256 of the canonical JSON of what was asked and what was drawn.

    ``beside_heat`` are the codes of panels on which an agent that burns had to stand beside a hot block.
    """

    spec: DesignSpec
    blocks: tuple[SpeciesBlocks, ...]
    loads: tuple[PanelLoad, ...]
    panels: tuple[Panel, ...]
    beside_heat: tuple[str, ...]
    fingerprint: str
    slips: tuple[Slip, ...] = ()


def draw_design(spec: DesignSpec) -> Design:
    """Design a trial.

    Returns
    -------
    Design
        Its panels board by board in the order of cutting.

    Raises
    ------
    DesignError
        Nothing to compare, a repeated name, no exposures, too many panels, boards that are too short, spots that do not
        fit or cannot be kept apart. The message says which and what would do.

    Notes
    -----
    Independent streams of chance come from the seed (lots, codes, places, order of sections), so that a changed
    protocol does not change which panel carries which build-up. Each stream's own seed is a SHA-256 of the seed and the
    stream's name: whoever works out one stream from what can be seen of it, such as the places of the spots, learns
    nothing of the others.
    """
    check_spec(spec)
    loads = loads_of(spec)
    # On slips alone nothing is cut.
    blocks = _blocks_of(spec, len(loads)) if loads else []
    n_panels = sum(len(cut.places) for species in blocks for cut in species.cuts)
    _check_number(n_panels, spec)
    lots, codes, places, orders = (
        stream_of_chance(spec.seed, name) for name in ("lots", "codes", "places", "orders")
    )
    pairs = [(spec.build_ups.index(one), spec.build_ups.index(other)) for one, other in spec.pairs]
    coated = [name for name in spec.build_ups if name not in spec.bare]
    wanted_slips = plan_slips(share_out(spec.exposures).slips, coated, spec.slip_replicates)
    drawn_codes = iter(draw_codes(n_panels + len(wanted_slips), rng=codes))
    drawers = [_drawers(spec, load, places) for load in loads]
    panels: list[Panel] = []
    beside_heat: list[str] = []
    for species in blocks:
        for cut, numbers in zip(species.cuts, draw_lots(species, pairs, rng=lots), strict=True):
            carried = [(number, part) for number in numbers for part in range(len(loads))]
            for position, ((number, part), place) in enumerate(
                zip(carried, cut.places, strict=True), start=1
            ):
                names = [spec.sections[i] for i in orders.permutation(len(spec.sections))]
                faces = [_draw_face(drawer) for drawer in drawers[part]]
                code = next(drawn_codes)
                sections = mark_sections(spec.size, names, lengthwise=loads[part].lengthwise)
                panels.append(
                    Panel(
                        code=code,
                        board=cut.board.id,
                        species=species.species,
                        position=position,
                        offset_mm=place.offset_mm,
                        row=place.row,
                        build_up=spec.build_ups[number],
                        part=part + 1,
                        sections=sections,
                        spots=_spots(spec, loads[part], faces, sections),
                    )
                )
                if any(face.is_beside_heat for face in faces):
                    beside_heat.append(code)
    slips = tuple(
        Slip(code=next(drawn_codes), build_up=build_up, replicate=replicate, test=test)
        for build_up, replicate, test in wanted_slips
    )
    return Design(
        spec=spec,
        blocks=tuple(blocks),
        loads=loads,
        panels=tuple(panels),
        beside_heat=tuple(beside_heat),
        slips=slips,
        fingerprint=fingerprint_of(
            {"spec": as_plain(spec), "panels": as_plain(panels), "slips": as_plain(slips)}
        ),
    )


def _blocks_of(spec: DesignSpec, panels_each: int) -> Sequence[SpeciesBlocks]:
    return plan_blocks(
        len(spec.build_ups),
        spec.boards,
        spec.size,
        spec.saw,
        panels_each=panels_each,
        arrangement=spec.arrangement,
        block_size=spec.block_size,
    )


def draw_one_panel(
    spec: DesignSpec, part: int, *, rng: np.random.Generator
) -> tuple[tuple[Section, ...], tuple[Spot, ...]]:
    """Draw the sections and spots of one more panel for part ``part`` (from 1), such as one that replaces another."""
    load = loads_of(spec)[part - 1]
    names = [spec.sections[i] for i in rng.permutation(len(spec.sections))]
    faces = [_draw_face(drawer) for drawer in _drawers(spec, load, rng)]
    sections = mark_sections(spec.size, names, lengthwise=load.lengthwise)
    return sections, _spots(spec, load, faces, sections)


def loads_of(spec: DesignSpec) -> tuple[PanelLoad, ...]:
    """What each panel of a build-up carries. Raises ``DesignError`` when it does not fit."""
    return plan_loads(
        spec.size,
        spec.exposures,
        n_sections=len(spec.sections),
        margin_mm=spec.margin_mm,
        faces=spec.faces,
        panels_each=spec.panels_each,
        ladders=spec.ladders,
    )


def canonical_json(content: Any) -> str:
    """The one JSON text of some content: keys sorted, no spaces."""
    return json.dumps(content, sort_keys=True, separators=(",", ":"), ensure_ascii=False)


def fingerprint_of(content: Any) -> str:
    """SHA-256 of the canonical JSON, 64 hexadecimal digits."""
    return hashlib.sha256(canonical_json(content).encode()).hexdigest()


def check_spec(spec: DesignSpec) -> None:
    """Refuse what no design can be made of, before any board is cut. Raises ``DesignError``."""
    if not spec.boards and share_out(spec.exposures).has_panels:
        raise DesignError(
            "There are no boards. Give at least one board; three are a floor and five are comfortable.",
            field="boards",
        )
    if len(spec.build_ups) < 2:
        raise DesignError(
            "A design needs at least two build-ups (the control counts as one). Add build-ups under "
            "Candidates.",
            field="build_ups",
        )
    for name, list_field, items in (
        ("build-up", "build_ups", list(spec.build_ups)),
        ("board", "boards", [board.id for board in spec.boards]),
    ):
        twice = sorted({item for item in items if items.count(item) > 1})
        if twice:
            raise DesignError(f"The {name} {twice[0]!r} is listed twice. List each once.", field=list_field)
    if not spec.exposures:
        raise DesignError(
            "The protocol has no exposures: nothing would be tested. Choose another protocol.",
            field="protocol",
        )
    check_panel_size(spec.size)
    check_margin(spec.margin_mm)
    check_sections(spec.sections)
    check_placed(spec.exposures)
    check_whole(spec.exposures, n_sections=len(spec.sections), saw=spec.saw)
    if not 1 <= spec.slip_replicates <= MAX_SLIP_REPLICATES:
        raise DesignError(
            f"{spec.slip_replicates} slips of each cannot be. Give 1 to {MAX_SLIP_REPLICATES}.",
            field="slip_replicates",
        )
    _check_pairs(spec)


def _check_pairs(spec: DesignSpec) -> None:
    paired: set[str] = set()
    for pair in spec.pairs:
        for name in pair:
            if name not in spec.build_ups:
                raise DesignError(
                    f"{name!r} is to be cut beside another but is not in the trial.", field="pairs"
                )
            if name in paired:
                raise DesignError(
                    f"{name!r} is in two pairs. A build-up can be cut next to one other only.", field="pairs"
                )
            paired.add(name)
        if len(set(pair)) < 2:
            raise DesignError(f"{pair[0]!r} cannot be cut beside itself.", field="pairs")


def _check_number(n_panels: int, spec: DesignSpec) -> None:
    if n_panels > MAX_PANELS:
        raise DesignError(
            f"{len(spec.build_ups)} build-ups on {len(spec.boards)} boards make {n_panels} panels; {MAX_PANELS} is "
            "the most. Use fewer boards or build-ups.",
            field="boards",
        )


def _drawers(spec: DesignSpec, load: PanelLoad, rng: np.random.Generator) -> list[SpotDrawer]:
    return [
        SpotDrawer(
            size=spec.size,
            exposures=face,
            n_sections=max(1, len(spec.sections)),
            lengthwise=load.lengthwise,
            margin_mm=spec.margin_mm,
            rng=rng,
        )
        for face in load.faces
        if face
    ]


def _draw_face(drawer: SpotDrawer) -> DrawnFace:
    for _ in range(_N_REDRAWS):
        face = drawer.draw()
        if face is not None:
            return face
    raise DesignError(
        "No place was found for agents that must not meet, though there may be one. Use a slightly larger panel, or "
        "another seed.",
        field="panel_length_mm",
    )


def _spots(
    spec: DesignSpec, load: PanelLoad, faces: Sequence[DrawnFace], sections: Sequence[Section]
) -> tuple[Spot, ...]:
    """A panel's spots: what is placed on its faces, then what takes all of it."""
    names = [section.name for section in sections]
    placed = [_spot(ring, names, load, side) for side, face in enumerate(faces) for ring in face.rings]
    return (*placed, *whole_spots(load.whole, spec.size, sections))


def _spot(ring: DrawnRing, names: Sequence[str], load: PanelLoad, side: int) -> Spot:
    site = ring.exposure.site
    along, across = site.footprint_mm
    is_ring = site.kind == "spot"
    return Spot(
        exposure=ring.exposure.id,
        kind=site.kind,
        section=names[ring.section] if names else None,
        side=load.side(side),
        x_mm=ring.x_mm,
        y_mm=ring.y_mm,
        diameter_mm=site.wetted_mm,
        along_mm=0.0 if is_ring else along,
        across_mm=0.0 if is_ring else across,
    )
