"""``analyse``: evidence from a CSV of readings, without server or database."""

from __future__ import annotations

import argparse
import io
import math
import sys
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TextIO

from nublet.cli.offline import answer_file
from nublet.core.evidence.analysis import Analysis, Asked, analyse
from nublet.core.evidence.models.ladders import THRESHOLD
from nublet.core.evidence.on_ladders import name_steps
from nublet.core.protocols.responses import ANY_MEASURE, GRADE, PASSED, RESPONSES, Better, Response
from nublet.formats.analysis_json import analysis_to_json
from nublet.formats.analysis_text import describe
from nublet.formats.readings_csv import read_table


def main(arguments: Sequence[str] | None = None) -> int:
    """Analyse one file; 0 when it worked, 2 when the file or the request cannot be used."""
    options = _parser().parse_args(arguments)
    return answer_file(
        "analyse",
        options.file,
        lambda: _analyse(options),
        as_json=analysis_to_json,
        as_words=describe,
        json_wanted=options.json,
    )


def _analyse(options: argparse.Namespace) -> Analysis:
    with _open(options.file) as stream:
        table = read_table(stream, ignore_extra=options.ignore_extra)
    readings = table.readings
    if options.ladder_steps:
        readings = name_steps(readings, options.ladder_steps)
    response = PASSED if table.has_passes else _response(options.response, options.better)
    return analyse(
        readings,
        look=options.look,
        response=response,
        control=options.control,
        asked=Asked(
            design=options.design,
            school=options.school,
            worth=options.equivalence,
            seed=options.seed,
            threshold=1.0 if table.has_passes else options.threshold,
        ),
    )


def _response(name: str, better: Better | None) -> Response:
    """A declared response, or any measure, of which the one who asks says which end is better."""
    return RESPONSES[name] if name in RESPONSES else replace(ANY_MEASURE, better=better)


def _above_nought(text: str) -> float:
    """A smallest difference worth knowing. Raises ``argparse.ArgumentTypeError``."""
    try:
        value = _finite(text)
    except argparse.ArgumentTypeError:
        value = 0.0
    if value <= 0:
        raise argparse.ArgumentTypeError(f"{text!r} is no difference. Give a number above 0, such as 1.")
    return value


def _finite(text: str) -> float:
    """A grade. Raises ``argparse.ArgumentTypeError``."""
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise argparse.ArgumentTypeError(f"{text!r} is no grade. Give a number such as 4.")
    return value


def _whole(text: str) -> int:
    """A seed. Raises ``argparse.ArgumentTypeError``."""
    if not text.isdecimal():
        raise argparse.ArgumentTypeError(f"{text!r} is no seed. Give a whole number from 0.")
    return int(text)


def _steps(text: str) -> tuple[str, ...]:
    """Steps of a ladder. Raises ``argparse.ArgumentTypeError``."""
    steps = tuple(filter(None, (part.strip() for part in text.split(","))))
    if len(steps) < 2 or len(set(steps)) < len(steps):
        raise argparse.ArgumentTypeError(
            f"{text!r} is no ladder. Name two different steps or more, the mildest first."
        )
    return steps


def _open(name: str) -> TextIO:
    if name == "-":
        return io.TextIOWrapper(sys.stdin.buffer, encoding="utf-8-sig", newline="")
    return Path(name).open(newline="", encoding="utf-8-sig")


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./nublet analyse",
        description="Turn a CSV of readings into evidence: means, intervals, pairs, letters, judges, checks.",
    )
    parser.add_argument("file", help="CSV with the columns of docs/formats.md; - for standard input")
    parser.add_argument("--look", help="which look; by default the only one, or 24h")
    parser.add_argument(
        "--response",
        choices=[*RESPONSES, ANY_MEASURE.id],
        default=GRADE.id,
        help="what was read, or any measure",
    )
    parser.add_argument("--better", choices=["high", "low"], help="which end of a measure is better")
    parser.add_argument("--control", help="the untreated system's name")
    parser.add_argument(
        "--design",
        choices=["auto", "blocks", "sections", "factors"],
        default="auto",
        help="how panels hang together; auto weighs sections within panels and factors where the table has them",
    )
    parser.add_argument(
        "--school",
        choices=["means", "ranks"],
        default="means",
        help="means with Tukey and permutation, or ranks alone",
    )
    parser.add_argument(
        "--equivalence",
        type=_above_nought,
        metavar="D",
        help="the smallest difference worth knowing: within it pairs are called alike; by default what the response declares",
    )
    parser.add_argument(
        "--threshold",
        type=_finite,
        default=THRESHOLD,
        help="from which grade on a step of a ladder is passed (4)",
    )
    parser.add_argument(
        "--ladder-steps",
        type=_steps,
        metavar="STEPS",
        help="steps of one ladder with commas between, the mildest first: tests by their names, or numbers of the column step",
    )
    parser.add_argument("--seed", type=_whole, default=0, help="of the permutations that are drawn by chance")
    parser.add_argument("--ignore-extra", action="store_true", help="leave unknown columns out")
    parser.add_argument("--json", action="store_true", help="print JSON")
    return parser


if __name__ == "__main__":
    sys.exit(main())
