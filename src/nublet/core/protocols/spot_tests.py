"""The commonest test: one agent laid on a ring, lifted and wiped."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from nublet.core.protocols.acts import Act, Equipment
from nublet.core.protocols.agents import Nature, natures_of
from nublet.core.protocols.looks import Look, Read
from nublet.core.protocols.sites import Site
from nublet.core.protocols.tests import Test, TestGroup

CLOTH = "wiped with a damp cloth, then a dry one"


def laid_on_spot(
    test_id: str,
    agent: str,
    *,
    wetted_mm: float,
    name: str = "",
    short_name: str = "",
    group: TestGroup = "stain",
    lasts_min: float = 0.0,
    temperature_c: float | None = None,
    amount: str = "",
    covered: bool = True,
    natures: Collection[Nature] = (),
    occupies: Collection[Equipment] = (),
    reads: tuple[Read, ...] = (Read(response="grade"),),
    how: str = CLOTH,
    modelled_on: str = "",
    says: str = "",
) -> Test:
    """Return a test of one agent on one ring; the natures that the agent's name tells come to those given.

    Examples
    --------
    >>> wine = laid_on_spot("wine-1h", "red wine", wetted_mm=40, lasts_min=60)
    >>> wine.agent, wine.duration_min, sorted(wine.natures)
    ('red wine', 60.0, ['acid'])
    """
    lay = Act(
        id="lay",
        kind="lay",
        agent=agent,
        amount=amount,
        covered=covered,
        temperature_c=temperature_c,
        lasts_min=lasts_min,
        natures=natures_of(agent) | frozenset(natures),
        occupies=frozenset(occupies),
    )
    return Test(
        id=test_id,
        name=name or test_id,
        short_name=short_name or test_id,
        group=group,
        site=Site(kind="spot", wetted_mm=wetted_mm),
        acts=(lay, Act(id="lift", kind="lift", how=how)),
        reads=reads,
        modelled_on=modelled_on,
        says=says,
    )


def is_laid_and_lifted(test: Test, looks: Iterable[Look]) -> bool:
    """Whether a test is something laid for a time and lifted, looked at from then on, whatever it stands on."""
    if [act.kind for act in test.acts] != ["lay", "lift"] or test.occupies - {"heat_block"}:
        return False
    return test.acts[0].then_min is None and all(look.after in ("", test.acts[1].id) for look in looks)
