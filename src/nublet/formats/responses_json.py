"""The declared responses as JSON, for who draws and enters them.

``frontend/src/api/responses.json`` is made by
    python -m nublet.formats.responses_json > frontend/src/api/responses.json
"""

from __future__ import annotations

import json
from typing import Any

from nublet.core.protocols.responses import RESPONSES


def responses_to_json() -> dict[str, Any]:
    """Each response by its id: what a scale's ends and steps are, and which end is better."""
    return {
        response.id: {
            "name": response.name,
            "noun": response.noun,
            "unit": response.unit,
            "better": response.better,
            "lowest": response.lowest,
            "highest": response.highest,
            "step": response.step,
            "passes_from": response.passes_from,
            "steps": [
                {"value": step.value, "key": step.key, "words": step.words, "says": step.says}
                for step in response.steps
            ],
        }
        for response in RESPONSES.values()
    }


if __name__ == "__main__":
    print(json.dumps(responses_to_json(), indent=2, ensure_ascii=False))
