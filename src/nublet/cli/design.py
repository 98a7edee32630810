"""``design``: a trial's design from a JSON specification, without server or database."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence

from nublet.cli.offline import answer_file, read_text
from nublet.core.design.trial_design import Design, draw_design
from nublet.core.design.words import say_design
from nublet.formats.design_json import design_to_json, read_design_spec


def main(arguments: Sequence[str] | None = None) -> int:
    """Design one trial; 0 when it worked, 2 when the file or what it asks cannot be used."""
    options = _parser().parse_args(arguments)
    return answer_file(
        "design",
        options.file,
        lambda: draw_design(read_design_spec(read_text(options.file))),
        as_json=design_to_json,
        as_words=describe,
        json_wanted=options.json,
    )


def describe(design: Design) -> str:
    """The design as text for a terminal."""
    lines = list(say_design(design))
    board = ""
    for panel in design.panels:
        if panel.board != board:
            board = panel.board
            lines += ["", f"{board} ({panel.species})"]
        lines.append(f"  {panel.code}  at {panel.offset_mm:7.1f} mm, lane {panel.row + 1}  {panel.build_up}")
    return "\n".join([*lines, "", f"fingerprint {design.fingerprint}"])


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./nublet design",
        description="Cut boards into panels, draw lots and codes, and place every spot, or say why it cannot be done.",
    )
    parser.add_argument("file", help="JSON with the keys of docs/formats.md; - for standard input")
    parser.add_argument("--json", action="store_true", help="print JSON")
    return parser


if __name__ == "__main__":
    sys.exit(main())
