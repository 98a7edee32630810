"""What a reader is asked at a look, value by value: a scale or one measure, from one view."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from nublet.core.protocols.looks import Look, Read, Reader
from nublet.core.protocols.responses import RESPONSES, parts_of
from nublet.core.protocols.tests import Test


@dataclass(frozen=True, kw_only=True)
class Prompt:
    """One value that is asked for; ``view`` is empty where any will do."""

    response: str
    view: str = ""


def prompts_at(test: Test, look: Look, by: Reader) -> tuple[Prompt, ...]:
    """What is asked of a reader at one site of a test at a look; choices between two pieces are asked apart.

    Parameters
    ----------
    test : Test
    look : Look
        One of the test's.
    by : Reader

    Examples
    --------
    >>> from nublet.core.protocols.looks import Look, Read
    >>> from nublet.core.protocols.sites import Site
    >>> shown = Test(id="t", name="t", short_name="t", site=Site(kind="panel"), reads=(
    ...     Read(response="gloss-60", by="hands", views=("along", "across")), Read(response="grade")))
    >>> [prompt.view for prompt in prompts_at(shown, Look(id="24h", name="24 h", after_min=1440), "hands")]
    ['along', 'across']
    """
    return tuple(
        Prompt(response=part.id, view=view)
        for read in _reads_at(test, look, by)
        if not is_choice(read)
        for part in parts_of(read.response)
        for view in read.views or ("",)
    )


def choice_at(test: Test, look: Look, by: Reader) -> str:
    """The response by which two pieces are chosen between at a look, or an empty text."""
    return next((read.response for read in _reads_at(test, look, by) if is_choice(read)), "")


def is_choice(read: Read) -> bool:
    """Whether one of two pieces is chosen."""
    return RESPONSES[read.response].form == "pair"


def n_values(test: Test, looks: Iterable[Look], *, by: Reader) -> int:
    """How many values one reader gives for one site over all looks; choices between two pieces not counted."""
    return sum(len(prompts_at(test, look, by)) for look in looks)


def _reads_at(test: Test, look: Look, by: Reader) -> tuple[Read, ...]:
    return tuple(read for read in test.reads if read.by == by and read.is_due_at(look))
