"""Uses of a shop's own as plain values, and what a use may be."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from nublet.core.errors import ShelfError
from nublet.core.plain import as_plain, check_fields, from_plain, tidy
from nublet.core.protocols.responses import GRADE, RESPONSES
from nublet.core.ranking.uses import Asked, Use

MAX_CRITERIA = 20
MAX_GATES = 20
MAX_ASKED = 20


def use_as_dict(use: Use) -> dict[str, Any]:
    """The use as plain lists, mappings, texts and numbers, without its id."""
    plain: dict[str, Any] = as_plain(use, leave=("id",))
    return plain


def use_from_dict(plain: Mapping[str, Any], *, use_id: str = "", is_stored: bool = False) -> Use:
    """Read a use and check it. Fields that are missing keep their defaults.

    One that ``is_stored`` was checked when it was saved, and is read as it is: limits may since have narrowed, and it must still
    be shown.

    Raises
    ------
    ShelfError
        If a field is unknown, missing, of the wrong kind, or out of range.
    """
    use = from_plain(Use, {"says": "", **plain}, given={"id": use_id})
    use = replace(use, name=tidy(use.name))
    if not is_stored:
        check_use(use)
    return use


def check_use(use: Use) -> None:
    """Refuse a use that nothing could be ranked for.

    Raises
    ------
    ShelfError
        Says which field, what it holds, and what would do.
    """
    if not tidy(use.name):
        raise ShelfError("Give the use a name, such as 'Buffet counter'.", field="name")
    check_fields(use)
    if not 1 <= len(use.criteria) <= MAX_CRITERIA:
        raise ShelfError(
            f"A use has 1 to {MAX_CRITERIA} criteria; this has {len(use.criteria)}.", field="criteria"
        )
    if len(use.gates) > MAX_GATES:
        raise ShelfError(f"A use has at most {MAX_GATES} gates; this has {len(use.gates)}.", field="gates")
    ids = [criterion.id for criterion in use.criteria]
    for index, criterion in enumerate(use.criteria):
        at = f"criteria.{index}"
        if not criterion.id or not tidy(criterion.name):
            raise ShelfError("Give each criterion an id and a name, such as 'stains' and 'Stains'.", field=at)
        if ids.index(criterion.id) != index:
            raise ShelfError(
                f"Two criteria have the id {criterion.id!r}. Give one another.", field=f"{at}.id"
            )
        if not 1 <= len(criterion.asked) <= MAX_ASKED:
            raise ShelfError(
                f"{criterion.name} asks for {len(criterion.asked)} kinds of test; it can be 1 to {MAX_ASKED}.",
                field=f"{at}.asked",
            )
        for number, asked in enumerate(criterion.asked):
            _check_asked(asked, f"{at}.asked.{number}")
    if not any(criterion.weight > 0 for criterion in use.criteria):
        raise ShelfError(
            "Every weight is 0, so nothing would be ranked. Give at least one criterion a weight.",
            field="criteria",
        )
    for index, gate in enumerate(use.gates):
        at = f"gates.{index}"
        _check_asked(gate.asked, f"{at}.asked")
        response = RESPONSES[gate.asked.response]
        low, high = response.ends or (-float("inf"), float("inf"))
        if not low <= gate.threshold <= high:
            raise ShelfError(
                f"A gate of {gate.threshold:g} cannot be reached or missed. {response.say_range()}",
                field=f"{at}.threshold",
            )


def _check_asked(asked: Asked, at: str) -> None:
    if not asked.id:
        raise ShelfError("Give what is asked an id, such as 'red-wine'.", field=f"{at}.id")
    if not any(tidy(agent) for agent in asked.agents) and (asked.agents or asked.response == GRADE.id):
        raise ShelfError(
            f"{asked.id} names no agent. Name at least one, as the protocols call it.", field=f"{at}.agents"
        )
    if asked.response not in RESPONSES:
        raise ShelfError(
            f"{asked.id} asks for {asked.response!r}. Choose from: {', '.join(RESPONSES)}.",
            field=f"{at}.response",
        )
    for name, (low, high) in (("duration_min", asked.duration_min), ("temperature_c", asked.temperature_c)):
        if low is not None and high is not None and low > high:
            raise ShelfError(
                f"{asked.id}: {name.replace('_', ' ')} goes from {low:g} to {high:g}. Turn them round.",
                field=f"{at}.{name}",
            )
