"""The front end's copy of what is declared."""

from __future__ import annotations

import json
from pathlib import Path

from nublet.formats.responses_json import responses_to_json

COPY = Path(__file__).parents[2] / "frontend" / "src" / "api" / "responses.json"


def test_the_front_end_has_what_is_declared() -> None:
    """After a change of a response make it anew (CONTRIBUTING.md)."""
    assert json.loads(COPY.read_text()) == responses_to_json()
