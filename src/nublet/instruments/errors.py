"""What can go wrong with an instrument.

The tree::

    InstrumentError                what was asked of an instrument was not had; the value can still be typed
    ├── InstrumentAbsentError      nothing is there: switched off, unplugged, the address wrong
    ├── InstrumentSilentError      it is there and did not answer in time, or fell silent in the middle
    ├── InstrumentGarbledError     it answered, and what came is not what it sent
    ├── InstrumentMismatchError    another kind of instrument answered
    └── InstrumentRefusedError     it answered that it could not, or with a value that cannot be
"""

from __future__ import annotations

from nublet.core.errors import NubletError


class InstrumentError(NubletError):
    """Base. Each message names the instrument and its address, and what to look at."""

    code = "instrument_failed"


class InstrumentAbsentError(InstrumentError):
    """Nothing is there."""

    code = "instrument_absent"


class InstrumentSilentError(InstrumentError):
    """No answer, or half of one."""

    code = "instrument_silent"


class InstrumentGarbledError(InstrumentError):
    """The answer was damaged on its way."""

    code = "instrument_garbled"


class InstrumentMismatchError(InstrumentError):
    """Another kind of instrument is at this address."""

    code = "instrument_mismatch"


class InstrumentRefusedError(InstrumentError):
    """The instrument could not, or said what cannot be."""

    code = "instrument_refused"
