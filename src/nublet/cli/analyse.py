"""``analyse``: evidence from a CSV of readings, without server or database."""

from __future__ import annotations

import argparse
import io
import sys
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import TextIO

from nublet.cli.offline import answer_file
from nublet.core.evidence.analysis import ALL_SPECIES, Analysis, analyse
from nublet.core.evidence.weighing import TestEvidence
from nublet.core.protocols.responses import ANY_MEASURE, GRADE, RESPONSES, Better, Response
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
    return analyse(
        readings,
        look=options.look,
        response=_response(options.response, options.better),
        control=options.control,
    )


def _response(name: str, better: Better | None) -> Response:
    """A declared response, or any measure, of which the one who asks says which end is better."""
    return RESPONSES[name] if name in RESPONSES else replace(ANY_MEASURE, better=better)


def describe(analysis: Analysis) -> str:
    """The analysis as text for a terminal."""
    lines: list[str] = []
    if analysis.depends_on_wood:
        lines += [
            f"It depends on the wood: {', '.join(analysis.depends_on_wood)}. Read each wood by itself there; the mean over "
            '"all" is nobody\'s.',
            "",
        ]
    if any(test.better is None for test in analysis.tests):
        lines += ["Nobody said which end is better, so the order is from high to low: --better high|low.", ""]
    for test in analysis.tests:
        mark = " (depends on the wood)" if _is_mixed(test, analysis) else ""
        lines.append(
            f"{test.test} · {test.species}{mark} · look {test.look or '-'} · {len(test.values)} panels"
        )
        width = max(len(row.system) for row in test.systems)
        digits = _digits(test)
        for row in test.systems:
            interval = "no interval" if row.ci is None else f"{row.ci[0]:{digits}} to {row.ci[1]:{digits}}"
            lines.append(f"  {row.system:{width}}  {row.mean:{digits}}  {interval}  {row.letters}")
        lines += [f"  {test.says}"] if test.says else []
        lines.append("")
    for test_name, found in analysis.interaction:
        lines.append(
            f"build-up × wood, {test_name}: F({found.df[0]}, {found.df[1]}) = {found.f:.2f}, p {found.p:.3g}"
        )
    lines += [""] if analysis.interaction else []
    lines += [f"{check.level:4}  {check.says}" for check in analysis.checks]
    return "\n".join(lines)


def _is_mixed(test: TestEvidence, analysis: Analysis) -> bool:
    return test.species == ALL_SPECIES and test.test in analysis.depends_on_wood


def _digits(test: TestEvidence) -> str:
    """Two decimals for grades; for other values as many as show them."""
    largest = max(abs(row.mean) for row in test.systems)
    return "5.2f" if 0.1 <= largest < 1e5 or largest == 0 else "10.3g"


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
        "--response",
        choices=[*RESPONSES, ANY_MEASURE.id],
        default=GRADE.id,
        help="what was read, or any measure",
    )
    parser.add_argument("--better", choices=["high", "low"], help="which end of a measure is better")
    parser.add_argument("--control", help="the untreated system's name")
    parser.add_argument("--seed", type=int, default=0, help="for methods that draw by chance; none does yet")
    parser.add_argument("--ignore-extra", action="store_true", help="leave unknown columns out")
    parser.add_argument("--json", action="store_true", help="print JSON")
    return parser


if __name__ == "__main__":
    sys.exit(main())
