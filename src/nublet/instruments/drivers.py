"""Real instruments, over pyserial: a serial port (``/dev/ttyUSB0``), or a socket (``socket://127.0.0.1:8331``)."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import serial

from nublet.instruments.errors import (
    InstrumentAbsentError,
    InstrumentGarbledError,
    InstrumentMismatchError,
    InstrumentRefusedError,
    InstrumentSilentError,
)
from nublet.instruments.lines import (
    KINDS,
    MAX_LINE,
    READ,
    ZERO,
    Answer,
    DamagedLineError,
    InstrumentKind,
    read_answer,
    read_quantities,
)

_TYPE_IT = "Or type the value."
_TRIES = 3
_BAUD = 9600


@dataclass(frozen=True, kw_only=True)
class InstrumentReading:
    """What an instrument said: its numbers by name on the line, and for a scanner the code."""

    kind: str
    values: dict[str, float]
    code: str = ""


class Instrument:
    """One instrument at one address.

    Parameters
    ----------
    kind : str
        One of :data:`nublet.instruments.lines.KINDS`.
    address : str
        Anything that pyserial opens.
    timeout_s : float
        For a whole answer, opening the line aside.
    clock : callable
        Seconds that only ever grow.
    """

    def __init__(
        self, kind: str, address: str, *, timeout_s: float = 2.0, clock: Callable[[], float] = time.monotonic
    ) -> None:
        if kind not in KINDS:
            raise InstrumentMismatchError(
                f"There is no instrument called {kind!r}. Choose one of: {', '.join(KINDS)}.", field="kind"
            )
        self.kind: InstrumentKind = KINDS[kind]
        self.address, self.timeout_s, self.clock = address, timeout_s, clock

    @property
    def _who(self) -> str:
        return f"The {self.kind.name} at {self.address}"

    def read(self) -> InstrumentReading:
        """Ask for one reading. A damaged line, or a pan that still swings, is asked for again, three times in all.

        Raises
        ------
        InstrumentError
            Which says what is wrong and what to look at.
        """
        answer = self._ask_until_good(READ)
        if not self.kind.quantities:
            code = answer.fields.get("code", "")
            if not code:
                raise InstrumentRefusedError(
                    f"{self._who} read no code. Hold the label flat and scan it again. {_TYPE_IT}"
                )
            return InstrumentReading(kind=self.kind.id, values={}, code=code)
        try:
            return InstrumentReading(kind=self.kind.id, values=read_quantities(self.kind, answer.fields))
        except ValueError as error:
            raise InstrumentRefusedError(
                f"{self._who} answered what cannot be: {error}. Check its sensor. {_TYPE_IT}"
            ) from error

    def zero(self) -> None:
        """Set a balance to zero with what lies on it. Raises as :meth:`read`."""
        self._ask_until_good(ZERO)

    def _ask_until_good(self, verb: str) -> Answer:
        problem: Exception | None = None
        for _ in range(_TRIES):
            try:
                answer = read_answer(self._exchange(verb))
            except DamagedLineError as error:
                problem = error
                continue
            if answer.refused:
                raise InstrumentRefusedError(f"{self._who} says: {answer.refused}. {_TYPE_IT}")
            if answer.kind != self.kind.id:
                other = (
                    KINDS[answer.kind].name if answer.kind in KINDS else f"something called {answer.kind!r}"
                )
                raise InstrumentMismatchError(
                    f"At {self.address} a {other} answers, not a {self.kind.name}. Correct the address under Settings."
                )
            if answer.fields.get("stable", "yes") == "yes":
                return answer
            problem = None
        if problem is None:
            raise InstrumentRefusedError(
                f"{self._who} does not come to rest. Keep draughts and hands off it and try again. {_TYPE_IT}"
            )
        raise InstrumentGarbledError(
            f"{self._who} answers, and its lines come damaged ({problem}). Check the cable and the speed of the line "
            f"({_BAUD} baud). {_TYPE_IT}"
        ) from problem

    def _exchange(self, verb: str) -> bytes:
        """One line out, one line in."""
        try:
            line = serial.serial_for_url(self.address, baudrate=_BAUD, timeout=0.1)
        except (OSError, ValueError) as error:
            raise InstrumentAbsentError(
                f"{self._who} is not there. Is it switched on and plugged in, and is the address right? {_TYPE_IT}"
            ) from error
        with line:
            received = b""
            until = self.clock() + self.timeout_s
            try:
                line.write(f"{verb}\n".encode("ascii"))
                while not received.endswith(b"\n"):
                    if self.clock() >= until:
                        raise self._silence(received)
                    received += line.read(1)
                    if len(received) > MAX_LINE:
                        raise DamagedLineError("a line without an end")
            except OSError as error:
                raise self._silence(received, unplugged=True) from error
        return received

    def _silence(self, received: bytes, *, unplugged: bool = False) -> InstrumentSilentError:
        if received:
            return InstrumentSilentError(
                f"{self._who} fell silent in the middle of its answer. Was it unplugged? {_TYPE_IT}"
            )
        how = "closed the line" if unplugged else f"did not answer within {self.timeout_s:g} s"
        return InstrumentSilentError(
            f"{self._who} {how}. Wake it, or unplug it and plug it in again. {_TYPE_IT}"
        )
