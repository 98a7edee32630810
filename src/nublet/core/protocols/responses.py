"""What is read at a look: scales and measures, each declared once.

Whoever enters, keeps, weighs, ranks or writes a reading asks its declaration here; nothing else knows where a scale ends, which
end is better, or what its steps are called. A new one is one entry in ``scales`` or ``measures``.
"""

from __future__ import annotations

from nublet.core.protocols.measures import DERIVED, KNOWN, MEASURES
from nublet.core.protocols.response import Better, Response, ScaleStep
from nublet.core.protocols.scales import GRADE, SCALES

RESPONSES: dict[str, Response] = {
    response.id: response for response in (*SCALES, *MEASURES, *DERIVED, *KNOWN)
}

# Numbers of which nothing is declared, from a file: whoever brings them says which end is better.
ANY_MEASURE = Response(id="measure", name="Measure", noun="value", form="measure")
# A step of a ladder of which only the outcome was written down.
PASSED = Response(
    id="passed",
    name="Passed",
    noun="pass",
    better="high",
    lowest=0,
    highest=1,
    step=1,
    decimals=0,
    passes_from=1,
    weighed=("share",),
    steps=(
        ScaleStep(value=1, key="y", words="Passed", says="It stood this step."),
        ScaleStep(value=0, key="n", words="Failed", says="It did not stand this step."),
    ),
)

__all__ = [
    "ANY_MEASURE",
    "GRADE",
    "PASSED",
    "RESPONSES",
    "Better",
    "Response",
    "ScaleStep",
    "parts_of",
    "readable",
]


def readable() -> tuple[str, ...]:
    """Ids of what a protocol may ask to be read."""
    return tuple(response.id for response in RESPONSES.values() if response.is_read)


def parts_of(response_id: str) -> tuple[Response, ...]:
    """What a read of this response enters: the parts of a group, else itself."""
    response = RESPONSES[response_id]
    return tuple(RESPONSES[part] for part in response.parts) or (response,)
