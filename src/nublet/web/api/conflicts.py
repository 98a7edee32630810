"""Refusals because of what has already happened. Apart from the answers, which the framework loads late."""

from __future__ import annotations

from nublet.core.errors import NubletError


class ConflictError(NubletError):
    """What was asked contradicts what has already happened, such as readings that exist."""

    code = "conflict"


class OtherPersonError(ConflictError):
    """A page of one person sends what another is signed in for: in another tab somebody else has signed in."""

    code = "other_person"

    def __init__(self, signed_in: str) -> None:
        super().__init__(
            f"{signed_in} is signed in in this browser now, and this page is somebody else's. Nothing was stored: sign in "
            "again here, and what you entered is saved under your own name."
        )
