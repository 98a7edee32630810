"""``instruments``: read one from the command line, or run the simulated ones."""

from __future__ import annotations

import argparse
import json
import signal
import sys
import threading
from collections.abc import Sequence
from types import FrameType

from nublet.instruments.drivers import Instrument
from nublet.instruments.errors import InstrumentError
from nublet.instruments.lines import KINDS
from nublet.instruments.simulated import SimulatedBench


def main(arguments: Sequence[str] | None = None) -> int:
    """Read one instrument, or serve the simulated ones until Ctrl-C; 2 when an instrument gave nothing."""
    parser = _parser()
    options = parser.parse_args(arguments)
    if options.simulate:
        return _simulate(options.first_port)
    if options.address is None:
        parser.error("give a kind and an address, or --simulate")
    try:
        reading = Instrument(options.kind, options.address, timeout_s=options.timeout).read()
    except InstrumentError as error:
        print(f"nublet instruments: {error.message}", file=sys.stderr)
        return 2
    print(json.dumps({"kind": reading.kind, "values": reading.values, "code": reading.code}))
    return 0


def _simulate(first_port: int) -> int:
    stop = threading.Event()

    def end(_signal: int, _frame: FrameType | None) -> None:
        stop.set()

    for how in (signal.SIGINT, signal.SIGTERM):
        signal.signal(how, end)
    with SimulatedBench(first_port=first_port) as bench:
        for kind, address in bench.addresses.items():
            print(f"{KINDS[kind].name:18}  {address}")
        print("Ctrl-C stops them.", flush=True)
        stop.wait()
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="./nublet instruments",
        description="Read an instrument (docs/instruments.md), or run simulated ones.",
    )
    parser.add_argument("kind", nargs="?", choices=KINDS, help="what to read")
    parser.add_argument("address", nargs="?", help="/dev/ttyUSB0, or socket://127.0.0.1:8331")
    parser.add_argument("--timeout", type=float, default=2.0, help="seconds to wait for an answer")
    parser.add_argument("--simulate", action="store_true", help="run one simulated instrument of each kind")
    parser.add_argument(
        "--first-port", type=int, default=0, help="ports from this on; by default any that are free"
    )
    return parser


if __name__ == "__main__":
    sys.exit(main())
