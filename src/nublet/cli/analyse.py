"""``analyse``: evidence from a CSV of readings, without server or database."""

from __future__ import annotations

import argparse
import io
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import TextIO

from nublet.cli.offline import answer_file
from nublet.core.evidence.analysis import Analysis, analyse
from nublet.formats.analysis_json import analysis_to_json
from nublet.formats.readings_csv import read_readings


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
        readings = read_readings(stream, ignore_extra=options.ignore_extra)
    return analyse(readings, look=options.look, response=options.response, control=options.control)


def describe(analysis: Analysis) -> str:
    """The analysis as text for a terminal."""
    lines: list[str] = []
    for test in analysis.tests:
        lines.append(f"{test.test} · {test.species} · look {test.look or '-'} · {len(test.values)} panels")
        width = max(len(row.system) for row in test.systems)
        for row in test.systems:
            interval = "no interval" if row.ci is None else f"{row.ci[0]:5.2f} to {row.ci[1]:5.2f}"
            lines.append(f"  {row.system:{width}}  {row.mean:5.2f}  {interval}  {row.letters}")
        lines += [f"  {test.says}"] if test.says else []
        lines.append("")
    lines += [f"{check.level:4}  {check.says}" for check in analysis.checks]
    return "\n".join(lines)


def _open(name: str) -> TextIO:
    if name == "-":
        return io.TextIOWrapper(sys.stdin.buffer, encoding="utf-8-sig", newline="")
    return Path(name).open(newline="", encoding="utf-8-sig")


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./nublet analyse",
        description="Turn a CSV of readings into evidence: means, intervals, pairs, letters.",
    )
    parser.add_argument("file", help="CSV with the columns of docs/formats.md; - for standard input")
    parser.add_argument("--look", help="which look; by default the only one, or 24h")
    parser.add_argument(
        "--response", choices=["grade", "measure"], default="grade", help="grades 1 to 5, or any measure"
    )
    parser.add_argument("--control", help="the untreated system's name")
    parser.add_argument("--seed", type=int, default=0, help="for methods that draw by chance; none does yet")
    parser.add_argument("--ignore-extra", action="store_true", help="leave unknown columns out")
    parser.add_argument("--json", action="store_true", help="print JSON")
    return parser


if __name__ == "__main__":
    sys.exit(main())
