"""Reads the command line and hands over; runs on a bare Python."""

from __future__ import annotations

import argparse
import os
import signal
import subprocess
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import NoReturn

from nublet.cli import environment
from nublet.cli.steps import LauncherError

EPILOG = """\
examples:
  ./nublet demo                          set up everything and serve the demo
  ./nublet demo --reset                  the same from scratch
  ./nublet start                         serve without demo data; makes the first owner
  ./nublet backup shop.tar.gz            all of the shop in one file, while it is in use
  ./nublet restore shop.tar.gz           into an empty installation
  ./nublet analyse readings.csv --json   evidence from a CSV, without server or database
  ./nublet design spec.json --json       boards cut, lots drawn, spots placed, without server or database
  ./nublet schedule spec.json --json     who does what when, without server or database
  ./nublet protocol show table-full      a protocol as JSON, to change and check
  ./nublet test                          run every check
"""

# Each is a module of this package.
OFFLINE_COMMANDS = {
    "analyse": "evidence from a CSV of readings",
    "design": "a trial's design from a JSON specification",
    "schedule": "the bench days' plan from a JSON specification",
    "protocol": "list, show and check protocols",
    "instruments": "read an instrument, or run simulated ones",
}


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one subcommand; return the exit code."""
    arguments = list(sys.argv[1:] if arguments is None else arguments)
    if arguments[:1] and arguments[0] in OFFLINE_COMMANDS:
        return _guarded(lambda: _run_offline(arguments[0], arguments[1:]))
    # Not sooner: the commands above need none of it, and are to start fast.
    from nublet.cli import checks, serving

    options = _parser().parse_args(arguments)
    # Both, because a shell that starts us in the background has Ctrl-C ignored.
    signal.signal(signal.SIGINT, _stop_like_ctrl_c)
    signal.signal(signal.SIGTERM, _stop_like_ctrl_c)
    # A terminal that is closed stops everything too.
    signal.signal(signal.SIGHUP, _stop_like_ctrl_c)
    if options.command == "demo":
        return _guarded(lambda: serving.serve(demo=True, reset=options.reset, port=options.port))
    if options.command == "start":
        return _guarded(lambda: serving.serve(demo=False, reset=False, port=options.port))
    if options.command in ("backup", "restore"):
        from nublet.cli import backup

        act = backup.back_up if options.command == "backup" else backup.restore
        return _guarded(lambda: act(options.file, demo=options.demo))
    return _guarded(lambda: checks.run_checks(options.only, options.rest))


def _parser() -> argparse.ArgumentParser:
    from nublet.cli import checks, serving

    parser = argparse.ArgumentParser(
        prog="./nublet",
        description="Nublet: which wood finish to use for what, and how sure one may be.",
        epilog=EPILOG,
        formatter_class=argparse.RawDescriptionHelpFormatter,
    )
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND")
    demo = commands.add_parser("demo", help="install, build, load the demo and serve it")
    demo.add_argument("--reset", action="store_true", help="throw the demo's data away and start afresh")
    start = commands.add_parser("start", help="serve without demo data")
    for command in (demo, start):
        command.add_argument(
            "--port", type=int, default=serving.USUAL_PORT, help="where to serve (default %(default)s)"
        )
    for name, says in (
        ("backup", "write the shop's database to a file, also while it is in use"),
        ("restore", "put a backup into an empty installation, and verify it"),
    ):
        keeping = commands.add_parser(name, help=says)
        keeping.add_argument("file", type=Path, help="the backup's file")
        keeping.add_argument("--demo", action="store_true", help="the demo's database in place of the shop's")
    test = commands.add_parser("test", help="run all checks")
    test.add_argument(
        "--only",
        choices=checks.CHECK_GROUPS,
        action="append",
        help="run this group alone; may be given more than once",
    )
    test.add_argument(
        "rest", nargs=argparse.REMAINDER, help="after --, arguments for pytest: ./nublet test -- -k letters"
    )
    for name, says in OFFLINE_COMMANDS.items():
        commands.add_parser(name, help=f"{says} (see ./nublet {name} --help)")
    return parser


def _run_offline(command: str, arguments: Sequence[str]) -> int:
    """Hand over to a command that needs neither server nor database, in the project's own environment."""
    module = f"nublet.cli.{command}"
    python = environment.ready_python()
    env = environment.process_environment()
    if os.name == "posix":
        sys.stdout.flush()
        os.execve(python, [str(python), "-m", module, *arguments], env)
    return subprocess.run([str(python), "-m", module, *arguments], env=env).returncode


def _guarded(run: object) -> int:
    """Run; a launcher error is one plain message and exit code 1, Ctrl-C is 130."""
    assert callable(run)
    try:
        return int(run())
    except LauncherError as error:
        print(f"nublet: {error}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 130


def _stop_like_ctrl_c(_signal: int, _frame: object) -> NoReturn:
    raise KeyboardInterrupt
