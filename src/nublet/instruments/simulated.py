"""Simulated instruments that ship: each listens on a port of 127.0.0.1 and speaks the line protocol. Bare Python.

What lies on or before them is set with ``PUT`` on the line, which no real instrument knows; without it each makes
plausible values of its own. Faults can be switched on, for the tests and for seeing what the application says.
"""

from __future__ import annotations

import random
import socketserver
import threading
import time
from collections.abc import Callable, Mapping
from contextlib import suppress
from types import TracebackType
from typing import Literal

from nublet.instruments.lines import KINDS, PUT, READ, WHO, ZERO, write_answer, write_refusal

HOST = "127.0.0.1"
_POLL_S = 0.05
Fault = Literal["none", "slow", "garbled", "unplugged", "unstable", "wild"]

# Middle and spread of what each shows by itself.
_USUAL: dict[str, dict[str, tuple[float, float, int]]] = {
    "balance": {"g": (412.0, 0.02, 2)},
    "climate": {"c": (20.4, 0.2, 1), "rh": (51.0, 1.0, 1)},
    "block": {"c": (70.3, 0.4, 1)},
    "colour": {"l": (71.2, 0.15, 2), "a": (8.1, 0.1, 2), "b": (24.6, 0.15, 2)},
    "gloss": {"g20": (2.4, 0.1, 1), "g60": (14.2, 0.3, 1), "g85": (21.5, 0.5, 1)},
}


class SimulatedInstrument:
    """One simulated instrument; a context manager that listens while it is open.

    Parameters
    ----------
    kind : str
    port : int
        0 for any that is free.
    seed : int
    """

    def __init__(self, kind: str, *, port: int = 0, seed: int = 0) -> None:
        self.kind = KINDS[kind]
        self.rng = random.Random(f"{kind} {seed}")  # noqa: S311
        self.fault: Fault = "none"
        self.slow_s = 5.0
        self.put: dict[str, float] = {}
        self.code = ""
        self.zero_g = 0.0
        self.lock = threading.Lock()
        instrument = self

        class Handler(socketserver.StreamRequestHandler):
            def handle(self) -> None:
                with suppress(OSError):
                    for line in self.rfile:
                        if not instrument.answer(line, self.wfile.write):
                            return

        class Server(socketserver.ThreadingTCPServer):
            allow_reuse_address = True
            daemon_threads = True

        self.server = Server((HOST, port), Handler)
        self.thread = threading.Thread(target=self.server.serve_forever, args=(_POLL_S,), daemon=True)

    @property
    def address(self) -> str:
        """Where it listens, as pyserial opens it."""
        return f"socket://{HOST}:{self.server.server_address[1]}"

    def __enter__(self) -> SimulatedInstrument:
        self.thread.start()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.server.shutdown()
        self.server.server_close()

    def answer(self, line: bytes, write: Callable[[bytes], object]) -> bool:
        """Answer one line; false when the line is to be closed."""
        said = self.reply(line.decode("ascii", "replace").split()).encode("ascii")
        if self.fault == "slow":
            time.sleep(self.slow_s)
        if self.fault == "unplugged":
            write(said[: len(said) // 2])
            return False
        if self.fault == "garbled":
            middle = len(said) // 2
            said = said[:middle] + bytes([said[middle] ^ 0x15]) + said[middle + 1 :]
        write(said + b"\n")
        return True

    def reply(self, words: list[str]) -> str:
        """What it says to some words, as a line."""
        verb = words[0] if words else ""
        with self.lock:
            if verb == WHO:
                return write_answer(self.kind.id, {"model": "simulated"})
            if verb == PUT:
                return self._put(words[1:])
            if verb == ZERO and self.kind.id == "balance":
                self.zero_g += self._values()["g"]
                return write_answer(self.kind.id, {"zeroed": "yes"})
            if verb == READ:
                return self._read()
        return write_refusal("unknown", f"it does not know {verb or 'an empty line'}")

    def _read(self) -> str:
        if self.kind.id == "scanner":
            code, self.code = self.code, ""
            return (
                write_answer("scanner", {"code": code})
                if code
                else write_refusal("empty", "nothing was scanned")
            )
        values: Mapping[str, object] = self._values()
        if self.fault == "wild":
            values = dict.fromkeys(values, 99999999)
        if self.kind.id == "balance":
            values = {**values, "stable": "no" if self.fault == "unstable" else "yes"}
        return write_answer(self.kind.id, values)

    def _values(self) -> dict[str, float]:
        found = {}
        for name, (middle, spread, digits) in _USUAL[self.kind.id].items():
            value = self.put.get(name, middle) + self.rng.gauss(0, spread)
            found[name] = round(value - (self.zero_g if self.kind.id == "balance" else 0), digits)
        return found

    def _put(self, words: list[str]) -> str:
        for word in words:
            name, _, value = word.partition("=")
            if self.kind.id == "scanner" and name == "code":
                self.code = value
            elif name in self.kind.quantities:
                try:
                    self.put[name] = float(value)
                except ValueError:
                    return write_refusal("number", f"{value} is no number")
            else:
                return write_refusal("unknown", f"it has no {name}")
        return write_answer(self.kind.id, {"put": "yes"})


class SimulatedBench:
    """One simulated instrument of each kind; a context manager. ``first_port`` 0 takes any that are free."""

    def __init__(self, *, first_port: int = 0, seed: int = 0) -> None:
        self.instruments = {
            kind: SimulatedInstrument(kind, port=first_port + number if first_port else 0, seed=seed)
            for number, kind in enumerate(KINDS)
        }

    @property
    def addresses(self) -> dict[str, str]:
        """Where each kind listens."""
        return {kind: instrument.address for kind, instrument in self.instruments.items()}

    def __enter__(self) -> SimulatedBench:
        for instrument in self.instruments.values():
            instrument.__enter__()
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        for instrument in self.instruments.values():
            instrument.__exit__(kind, error, trace)
