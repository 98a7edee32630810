"""``schedule``: a plan of the bench days from a JSON specification, without server or database."""

from __future__ import annotations

import argparse
import sys
import time
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path

from nublet.cli.offline import answer_file, read_text
from nublet.core.errors import PlanError
from nublet.core.planning.calendar import moment_at
from nublet.core.planning.plan import NoPlan, Plan, Progress, make_plan
from nublet.formats.schedule_json import plan_to_json, read_plan_spec
from nublet.formats.sheets.page import PAPERS

NO_PLAN = 3


def main(arguments: Sequence[str] | None = None) -> int:
    """Plan one specification; 0 when it worked, 2 when the file cannot be used, 3 when there is no such plan."""
    options = _parser().parse_args(arguments)
    return answer_file(
        "schedule",
        options.file,
        lambda: _plan(options),
        as_json=plan_to_json,
        as_words=describe,
        json_wanted=options.json,
        rc=lambda answer: NO_PLAN if isinstance(answer, NoPlan) else 0,
    )


def describe(answer: Plan | NoPlan) -> str:
    """The plan as text for a terminal: a line for each operation, day by day."""
    if isinstance(answer, NoPlan):
        return "\n".join(["There is no such plan.", *(reason.says for reason in answer.reasons)])
    start = answer.spec.start
    lines = [
        f"Ends {moment_at(start, answer.end_s):%a %d %B %H:%M}; no plan can end before "
        f"{moment_at(start, answer.lower_bound_s):%a %d %B %H:%M}. {answer.n_sittings} sittings.",
        *answer.says,
    ]
    day = None
    for operation in answer.operations:
        at = moment_at(start, operation.start_s)
        if at.date() != day:
            day = at.date()
            lines += ["", f"{at:%a %d %B}"]
        look = "" if operation.look_after_min is None else f" after {operation.look_after_min:g} min"
        names = [panel.panel for panel in operation.panels]
        which = names[0] if len(names) == 1 else f"{names[0]} to {names[-1]}"
        if operation.board:
            which = f"{operation.board}: {', '.join(names)}"
        lines.append(
            f"  {at:%H:%M:%S}  {answer.spec.people[operation.person].name:10}  {operation.kind:6}  {operation.item}{look}: {which}"
        )
    return "\n".join(lines)


def _plan(options: argparse.Namespace) -> Plan | NoPlan:
    spec = read_plan_spec(read_text(options.file))
    begun = time.monotonic()

    def tell(progress: Progress) -> bool:
        end = moment_at(spec.start, progress.end_s)
        print(f"{time.monotonic() - begun:5.1f} s  ends {end:%Y-%m-%d %H:%M}", file=sys.stderr)
        return False

    plan = make_plan(
        spec,
        clock=time.monotonic,
        limit_s=options.limit,
        tell=tell if options.progress else None,
        seed=options.seed,
    )
    if isinstance(plan, Plan):
        _write_beside(plan, options)
    return plan


def _write_beside(plan: Plan, options: argparse.Namespace) -> None:
    """The calendar and the sheets that were asked for. What writes them is loaded here, because it takes a while."""
    name = "plan" if options.file == "-" else Path(options.file).stem
    if options.calendar:
        from nublet.formats.calendar_ics import plan_to_calendar

        _write(options.calendar, plan_to_calendar(plan, name=name, made_at=datetime.now(UTC)))
    if options.sheets:
        from nublet.formats.sheets.day_sheet import plan_pages
        from nublet.formats.sheets.writing import write_pdf

        pages = plan_pages(plan, PAPERS[options.paper], trial=name)
        _write(options.sheets, write_pdf(pages, title=name))


def _write(name: str, content: bytes) -> None:
    try:
        Path(name).write_bytes(content)
    except OSError as error:
        raise PlanError(f"{name} cannot be written: {error.strerror}. Choose another place.") from error


def _seconds(text: str) -> float:
    """Seconds for the search, from 0."""
    seconds = float(text)
    if not 0 <= seconds <= 3600:
        raise argparse.ArgumentTypeError(f"{text} s cannot be; give 0 to 3600")
    return seconds


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./nublet schedule",
        description="Plan who coats, wipes, lays, lifts and looks when, or say why it cannot be done. Exit code 3: no such plan.",
    )
    parser.add_argument("file", help="JSON with the keys of docs/formats.md; - for standard input")
    parser.add_argument("--json", action="store_true", help="print JSON")
    parser.add_argument("--sheets", help="also write the days to this file, a PDF to print")
    parser.add_argument("--paper", choices=list(PAPERS), default="a4", help="paper of the sheets")
    parser.add_argument("--calendar", help="also write the due times to this file, as iCalendar")
    parser.add_argument(
        "--limit", type=_seconds, help="seconds to search; by default half a second to 13, by size"
    )
    parser.add_argument("--seed", type=int, default=0, help="another seed, another search")
    parser.add_argument("--progress", action="store_true", help="tell the best end so far on standard error")
    return parser


if __name__ == "__main__":
    sys.exit(main())
