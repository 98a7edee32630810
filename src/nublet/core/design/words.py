"""A drawn design in sentences: what it is, what it can show, and what to mind."""

from __future__ import annotations

from nublet.core.design.blocks import SpeciesBlocks
from nublet.core.design.fitting import PanelLoad
from nublet.core.design.outlook import Outlook, look_ahead
from nublet.core.design.power import Comparison, Spread
from nublet.core.design.trial_design import Design
from nublet.core.protocols.agents import give_off_gas


def comparisons_of(blocks: tuple[SpeciesBlocks, ...]) -> list[Comparison]:
    """How precisely each species' boards compare."""
    return [
        Comparison(n_build_ups=b.n_build_ups, n_boards=b.n_boards, block_size=b.block_size) for b in blocks
    ]


def outlook_of(design: Design, spread: Spread | None = None) -> Outlook:
    """What a drawn design can show, by the usual spread unless another is given."""
    return look_ahead(comparisons_of(design.blocks), spread or Spread(), n_sections=len(design.spec.sections))


def say_design(design: Design, spread: Spread | None = None) -> list[str]:
    """Say a design: its panels, its blocks, what it can show, how the spots stand, and what to mind."""
    says = [say_blocks(blocks, len(design.loads)) for blocks in design.blocks]
    if design.blocks:
        says += outlook_of(design, spread).says
    says += _say_sections(design)
    says += say_loads(design.loads)
    if design.slips:
        n = design.spec.slip_replicates
        says.append(
            f"{len(design.slips)} slips of glass, {n} of each test for each build-up with a finish: they need no board, and each "
            "replicate stands for a block."
        )
    says += _say_apart(design)
    return says


def say_blocks(blocks: SpeciesBlocks, panels_each: int = 1) -> str:
    """One species' boards and panels, in a sentence."""
    n_panels = sum(len(cut.places) for cut in blocks.cuts)
    boards = "1 board" if blocks.n_boards == 1 else f"{blocks.n_boards} boards"
    each = f", {panels_each} panels of each" if panels_each > 1 else ""
    if blocks.is_complete:
        return f"{blocks.species}: {boards}, each with all {blocks.n_build_ups} build-ups{each}: {n_panels} panels."
    return (
        f"{blocks.species}: {boards}, {blocks.block_size} of {blocks.n_build_ups} build-ups on each and every two equally "
        f"often together{each}: {n_panels} panels (balanced incomplete blocks, efficiency {blocks.efficiency:.2f})."
    )


def say_loads(loads: tuple[PanelLoad, ...]) -> list[str]:
    """How the exposures are dealt out, where there is more than one face or panel to deal them to."""
    says = []
    own = [test.name for load in loads for test in load.whole if test.uses_up_panel]
    if own:
        says.append(
            f"{_listed(own)} {'uses its panel up and has one' if len(own) == 1 else 'use their panels up and have one each'}."
        )
    parts = [sum(len(face) for face in load.faces) for load in loads if any(load.faces)]
    if len(parts) > 1:
        says.append(
            f"Each build-up has {len(parts)} panels on a board for the rest, with {_listed(parts)} of the exposures. A difference between "
            "two exposures on different panels is also one between panels."
        )
    if any(len(load.faces) > 1 for load in loads):
        says.append("Both faces carry spots: coat both alike, and expose one after the other has been read.")
    return says


def _say_sections(design: Design) -> list[str]:
    if not design.spec.sections:
        return []
    names = ", ".join(repr(name) for name in design.spec.sections)
    return [f"Each panel has {len(design.spec.sections)} sections ({names}) in an order drawn for it."]


def _say_apart(design: Design) -> list[str]:
    says = []
    exposures = design.spec.exposures
    gases = [
        one.agent
        for index, one in enumerate(exposures)
        if any(give_off_gas(one.natures, other.natures) for j, other in enumerate(exposures) if j != index)
    ]
    if gases:
        says.append(
            f"{_listed(list(dict.fromkeys(gases)))}: bleach stands next to no acid and no ammonia. Lay them in different "
            "sittings too."
        )
    if design.beside_heat:
        says.append(
            f"On {_listed(list(design.beside_heat[:8]))}{' and others' if len(design.beside_heat) > 8 else ''} something "
            "that burns stands beside a hot block: never have both on at once."
        )
    return says


def _listed(items: list[str] | list[int]) -> str:
    words = [str(item) for item in items]
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"
