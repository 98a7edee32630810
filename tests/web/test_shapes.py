"""Shapes that are made from dataclasses: all that they hold is shown, and what nobody can show is found when it is declared."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import Literal

import pytest

from nublet.core.quantities import Prose, amount, say
from nublet.web.api.plain import shown, taken


@dataclass(frozen=True, kw_only=True)
class Leaf:
    """A leaf.

    More of it that no document needs.
    """

    name: str
    colour: Literal["green", "brown"]
    torn: bool = False


@dataclass(frozen=True, kw_only=True)
class Branch:
    """A branch."""

    grown_on: date
    seen_at: datetime | None
    leaves: tuple[Leaf, ...]
    longest: Leaf | None
    angles: tuple[float, float]
    window: tuple[float, float | None] | None
    marks: frozenset[str]
    reach: Prose

    @property
    def n_leaves(self) -> int:
        """How many."""
        return len(self.leaves)


@dataclass(frozen=True, kw_only=True)
class Odd:
    """Something that has no form outside."""

    thing: object


LEAF = Leaf(name="first", colour="green")
BRANCH = Branch(
    grown_on=date(2027, 3, 2),
    seen_at=datetime(2027, 3, 2, 9, tzinfo=UTC),
    leaves=(LEAF, Leaf(name="second", colour="brown", torn=True)),
    longest=None,
    angles=(10.5, 20.0),
    window=(1.0, None),
    marks=frozenset("dcabfe"),
    reach=say("{} long", amount("millimetres", 40)),
)


def test_all_that_it_holds_is_shown() -> None:
    assert shown(Branch, also=("n_leaves",))(BRANCH).data == {
        "grown_on": "2027-03-02",
        "seen_at": "2027-03-02T09:00:00Z",
        "leaves": [
            {"name": "first", "colour": "green", "torn": False},
            {"name": "second", "colour": "brown", "torn": True},
        ],
        "longest": None,
        "angles": [10.5, 20.0],
        "window": [1.0, None],
        "marks": list("abcdef"),
        "reach": [
            {"text": "40 mm", "quantity": "millimetres", "value": 40, "is_bare": False},
            {"text": " long", "quantity": None, "value": None, "is_bare": False},
        ],
        "n_leaves": 2,
    }


def test_a_dataclass_has_one_shape_under_its_name() -> None:
    assert shown(Leaf) is shown(Leaf)
    assert type(shown(Branch)().fields["longest"]) is shown(Leaf)
    assert (shown(Leaf).__name__, shown(Leaf).__doc__) == ("LeafSerializer", "A leaf.")
    other = shown(Leaf, name="FlatSerializer", says="Flat.", skip=("torn",))
    assert (other.__doc__, list(other().fields)) == ("Flat.", ["name", "colour"])


def test_what_nobody_can_show_is_found_at_once() -> None:
    with pytest.raises(TypeError, match=r"Odd\.thing: nothing shows"):
        shown(Odd)


@dataclass(frozen=True, kw_only=True)
class Order:
    """What somebody fills in."""

    leaf: Leaf
    note: str = ""
    best_by: date | None = None
    marks: frozenset[Literal["cut", "torn"]] = frozenset()
    window: tuple[float | None, float | None] = (None, None)


def test_what_is_taken_may_leave_out_what_has_a_default() -> None:
    form = taken(Order)(data={"leaf": {"name": "", "colour": "green"}, "note": ""})
    assert form.is_valid(), form.errors
    assert form.validated_data == {"leaf": {"name": "", "colour": "green"}, "note": ""}
    full = {"leaf": {"name": "a", "colour": "brown"}, "best_by": None, "marks": ["torn"], "window": [None, 3]}
    assert taken(Order)(data=full).is_valid()
    for wrong, field in (
        ({}, "leaf"),
        ({"leaf": {"name": "a"}}, "leaf"),
        ({"leaf": {"name": "a", "colour": "blue"}}, "leaf"),
        ({**full, "marks": ["folded"]}, "marks"),
        ({**full, "window": ["soon"]}, "window"),
    ):
        refused = taken(Order)(data=wrong)
        assert not refused.is_valid()
        assert list(refused.errors) == [field]
    assert taken(Leaf) is taken(Leaf) is not shown(Leaf)
