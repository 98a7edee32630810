"""However many sign in at once, those at work are answered.

Checking a password costs tens of milliseconds of a core and much memory, on purpose. One is checked at a time in each process,
one more waits, and the rest are asked to come again, so that the threads stay free.
"""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager

from rest_framework import exceptions, status

WAIT_S = 2.0


class BusyError(exceptions.APIException):
    """Others are signing in just now."""

    status_code = status.HTTP_503_SERVICE_UNAVAILABLE
    default_detail = "Many are signing in just now. Try again in a moment."
    default_code = "busy"
    # Goes out as Retry-After, in seconds.
    wait = 1


class Turns:
    """Lets one through at a time and ``n_waiting`` wait; others are refused at once."""

    def __init__(self, *, n_waiting: int = 1, wait_s: float = WAIT_S) -> None:
        self._room = threading.BoundedSemaphore(1 + n_waiting)
        self._turn = threading.Lock()
        self._wait_s = wait_s

    @contextmanager
    def turn(self) -> Iterator[None]:
        """Hold the turn. Raises ``BusyError``."""
        if not self._room.acquire(blocking=False):
            raise BusyError
        try:
            if not self._turn.acquire(timeout=self._wait_s):
                raise BusyError
            try:
                yield
            finally:
                self._turn.release()
        finally:
            self._room.release()


password_turns = Turns()
