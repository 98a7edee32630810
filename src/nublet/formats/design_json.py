"""A design's specification from JSON, and the drawn design to JSON; the shapes are in ``docs/formats.md``."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, cast

from nublet.core.design.areas import PanelSize
from nublet.core.design.blocks import ARRANGEMENTS, Arrangement
from nublet.core.design.cutting import DEFAULT_END_TRIM_MM, DEFAULT_KERF_MM, Board, Defect, Saw
from nublet.core.design.trial_design import DEFAULT_MARGIN_MM, Design, DesignSpec, Panel
from nublet.core.design.words import say_design
from nublet.core.errors import DesignError
from nublet.core.plain import as_plain, from_plain
from nublet.core.protocols.sites import check_site
from nublet.core.protocols.spot_tests import laid_on_spot
from nublet.core.protocols.tests import Test
from nublet.formats.plain_reader import PlainReader, shown

CONTROL_ID = "control"
_READ = PlainReader(DesignError)
_KEYS = {
    "systems", "control", "species", "sections", "boards", "panel_mm", "kerf_mm", "end_trim_mm", "exposures",
    "margin_mm", "seed", "end_piece_mm", "pairs", "faces", "panels_each", "ladders", "arrangement", "block_size", "tests",
    "slip_replicates", "bare",
}  # fmt: skip
_BOARD_KEYS = {"id", "species", "length_mm", "width_mm", "defects"}
_EXPOSURE_KEYS = {"id", "agent", "wetted_mm", "kind"}


def read_design_spec(text: str) -> DesignSpec:
    """Read a specification from JSON text.

    Raises
    ------
    DesignError
        If it is not JSON, or a key is unknown, missing or of the wrong kind; ``field`` is the key's path.
    """
    return spec_from_plain(_READ.json(text))


def spec_from_plain(plain: object) -> DesignSpec:
    """A specification from a plain mapping. Raises ``DesignError``."""
    spec = _READ.mapping(
        plain, "the specification", _KEYS, required=("systems", "species", "boards", "panel_mm")
    )
    systems = _READ.texts(spec["systems"], "systems")
    if _READ.flag(spec.get("control", False), "control"):
        if CONTROL_ID in systems:
            raise DesignError(
                f"systems lists {CONTROL_ID!r} and control is true: the control would be in it twice. Drop one.",
                field="systems",
            )
        systems = [*systems, CONTROL_ID]
    species = _READ.texts(spec["species"], "species")
    if not species:
        raise DesignError("species is empty. Name at least one wood.", field="species")
    boards = tuple(
        _board(item, f"boards.{i}") for i, item in enumerate(_READ.items(spec["boards"], "boards"))
    )
    _check_species(species, boards)
    panel = _READ.items(spec["panel_mm"], "panel_mm")
    if len(panel) != 2:
        raise DesignError("panel_mm is a list of two: length along the grain, and width.", field="panel_mm")
    seed = _READ.number(spec.get("seed", 0), "seed")
    if seed < 0 or seed != int(seed):
        raise DesignError(f"seed is {seed:g}; it is a whole number from 0.", field="seed")
    block_size = spec.get("block_size")
    return DesignSpec(
        build_ups=tuple(systems),
        # Board by board in the order of the species, so that panels come wood by wood.
        boards=tuple(sorted(boards, key=lambda board: species.index(board.species))),
        exposures=_tests(spec),
        size=PanelSize(
            length_mm=_READ.number(panel[0], "panel_mm.0"), width_mm=_READ.number(panel[1], "panel_mm.1")
        ),
        margin_mm=_READ.number(spec.get("margin_mm", DEFAULT_MARGIN_MM), "margin_mm"),
        sections=tuple(_READ.texts(spec.get("sections") or [], "sections")),
        saw=Saw(
            kerf_mm=_READ.number(spec.get("kerf_mm", DEFAULT_KERF_MM), "kerf_mm"),
            end_trim_mm=_READ.number(spec.get("end_trim_mm", DEFAULT_END_TRIM_MM), "end_trim_mm"),
            end_piece_mm=_READ.number(spec.get("end_piece_mm", 0), "end_piece_mm"),
        ),
        pairs=tuple(
            _pair(item, f"pairs.{i}") for i, item in enumerate(_READ.items(spec.get("pairs", []), "pairs"))
        ),
        faces=_READ.choice(spec.get("faces", "front"), "faces", ("front", "both")),
        panels_each=_READ.whole(spec.get("panels_each", 1), "panels_each"),
        ladders=_READ.choice(spec.get("ladders", "together"), "ladders", ("together", "spread")),
        arrangement=cast(
            "Arrangement", _READ.choice(spec.get("arrangement", "auto"), "arrangement", tuple(ARRANGEMENTS))
        ),
        block_size=None if block_size is None else _READ.whole(block_size, "block_size"),
        slip_replicates=_READ.whole(spec.get("slip_replicates", 3), "slip_replicates"),
        bare=tuple(_READ.texts(spec.get("bare", [CONTROL_ID] if CONTROL_ID in systems else []), "bare")),
        seed=int(seed),
    )


def design_to_json(design: Design) -> dict[str, Any]:
    """A design as plain mappings, lists, texts and numbers."""
    return {
        "fingerprint": design.fingerprint,
        "panels": [_panel(panel, design) for panel in design.panels],
        "says": say_design(design),
        **({"slips": [as_plain(slip) for slip in design.slips]} if design.slips else {}),
    }


def _panel(panel: Panel, design: Design) -> dict[str, Any]:
    plain: dict[str, Any] = {
        "code": panel.code,
        "board": panel.board,
        "species": panel.species,
        "system": panel.build_up,
        "offset_mm": panel.offset_mm,
        "row": panel.row,
        "sections": [
            {
                "name": s.name, "x_mm": s.x_mm, "y_mm": s.y_mm, "length_mm": s.length_mm, "width_mm": s.width_mm,
            }
            for s in panel.sections
        ],
        "spots": [
            {
                "exposure": spot.exposure, "section": spot.section, "x_mm": spot.x_mm, "y_mm": spot.y_mm,
                "diameter_mm": spot.diameter_mm,
            }
            | ({"side": spot.side} if design.spec.faces == "both" else {})
            | (
                {"kind": spot.kind, "along_mm": spot.along_mm, "across_mm": spot.across_mm}
                if spot.kind != "spot"
                else {}
            )
            for spot in panel.spots
        ],
    }  # fmt: skip
    if len(design.loads) > 1:
        plain["part"] = panel.part
    return plain


def _board(item: object, path: str) -> Board:
    plain = _READ.mapping(item, path, _BOARD_KEYS, required=("id", "species"))
    return Board(
        id=_READ.text(plain["id"], f"{path}.id"),
        species=_READ.text(plain["species"], f"{path}.species"),
        length_mm=_READ.measure(plain.get("length_mm"), f"{path}.length_mm"),
        width_mm=_READ.measure(plain.get("width_mm"), f"{path}.width_mm"),
        defects=tuple(
            _defect(defect, f"{path}.defects.{i}")
            for i, defect in enumerate(_READ.items(plain.get("defects") or [], f"{path}.defects"))
        ),
    )


def _defect(item: object, path: str) -> Defect:
    plain = _READ.mapping(item, path, {"from_mm", "to_mm", "kind"}, required=("from_mm", "to_mm"))
    return Defect(
        from_mm=_READ.number(plain["from_mm"], f"{path}.from_mm"),
        to_mm=_READ.number(plain["to_mm"], f"{path}.to_mm"),
    )


def _tests(spec: Mapping[str, Any]) -> tuple[Test, ...]:
    """Rings in short under ``exposures``, and tests of the protocol language under ``tests``."""
    if "exposures" not in spec and "tests" not in spec:
        raise DesignError("exposures is missing. Give exposures, or tests of a protocol.", field="exposures")
    rings = [
        _exposure(item, f"exposures.{i}")
        for i, item in enumerate(_READ.items(spec.get("exposures") or [], "exposures"))
    ]
    tests = [
        from_plain(Test, item, at=f"tests.{i}", error=DesignError)
        for i, item in enumerate(_READ.items(spec.get("tests") or [], "tests"))
    ]
    for index, test in enumerate(tests):
        check_site(test.site, test.name, f"tests.{index}.site")
    return (*rings, *tests)


def _exposure(item: object, path: str) -> Test:
    plain = _READ.mapping(item, path, _EXPOSURE_KEYS, required=("id", "agent", "wetted_mm"))
    name = _READ.text(plain["id"], f"{path}.id")
    is_block = _READ.choice(plain.get("kind", "liquid"), f"{path}.kind", ("liquid", "heat")) == "heat"
    agent = _READ.text(plain["agent"], f"{path}.agent")
    return laid_on_spot(
        name,
        agent,
        wetted_mm=_READ.number(plain["wetted_mm"], f"{path}.wetted_mm"),
        natures={"hot"} if is_block else (),
    )


def _check_species(species: Sequence[str], boards: Sequence[Board]) -> None:
    for index, board in enumerate(boards):
        if board.species not in species:
            raise DesignError(
                f"Board {board.id!r} is of {board.species!r}, which species does not list. Add it there, or correct the "
                "board.",
                field=f"boards.{index}.species",
            )
    for index, name in enumerate(species):
        if name in species[:index]:
            raise DesignError(f"species lists {name!r} twice. List each once.", field=f"species.{index}")
        if boards and not any(board.species == name for board in boards):
            raise DesignError(
                f"There is no board of {name!r}. Add one, or take it out of species.",
                field=f"species.{index}",
            )


def _pair(value: object, path: str) -> tuple[str, str]:
    names = _READ.texts(value, path)
    if len(names) != 2:
        raise DesignError(f"{path} is {shown(value)}; it is a list of two systems.", field=path)
    return names[0], names[1]
