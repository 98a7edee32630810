"""Household stains: each agent covered and open, at every step of its ladder of contact times."""

from __future__ import annotations

from nublet.core.protocols.acts import Act
from nublet.core.protocols.agents import AGENTS, Agent
from nublet.core.protocols.shipped.building import MARK, lifted, span_id, span_words
from nublet.core.protocols.sites import Site
from nublet.core.protocols.spot_tests import CLOTH
from nublet.core.protocols.tests import Test, TestGroup

# As protocols and uses call them, where that is not the agent's name in small letters.
_CALLED = {
    "ethanol-48": "ethanol 48 %",
    "spirits-40": "spirits 40 %",
    "ammonia-10": "ammonia 10 %",
    "vinegar": "vinegar",
    "citric-acid": "lemon juice (citric acid 10 %)",
    "water-spot": "water",
}
_WIPED = {
    "olive-oil": "wiped dry, then with a cloth and a drop of washing-up liquid",
    "ballpoint": "wiped with a damp cloth, then with spirits on a cloth",
    "marker": "wiped with a damp cloth, then with spirits on a cloth",
    "acetone": "left to flash off, then wiped dry",
    "bleach": "rinsed twice with a wet cloth, then dried",
    "ammonia-10": "rinsed twice with a wet cloth, then dried",
}
_IN_CONTACT = ("saliva", "hand-cream")
_LINES = ("ballpoint", "marker")
_PATTERN = "EN 12720 / ISO 4211-1 in pattern, agents of ASTM D1308 and D3023"


def called(agent: Agent) -> str:
    """What a protocol calls an agent."""
    return _CALLED.get(agent.id, agent.name.lower())


def stain(agent_id: str, minutes: float, *, covered: bool = True) -> Test:
    """One agent on one spot for some minutes; inks are drawn lines on a strip."""
    agent = AGENTS[agent_id]
    name = agent.name.split(",")[0] + (
        f" {agent.strength}" if "%" in agent.strength and len(agent.strength) < 6 else ""
    )
    is_line = agent_id in _LINES
    group: TestGroup = (
        "contact" if agent_id in _IN_CONTACT else "water" if agent.group == "water" else "stain"
    )
    return Test(
        id=f"{agent_id}-{span_id(minutes)}{'' if covered else '-open'}",
        name=f"{name}, {'covered' if covered else 'open'} {span_words(minutes)}",
        short_name=f"{name.split(' ink')[0]} {span_words(minutes)}"[:30],
        group=group,
        site=Site(kind="strip", length_mm=60, width_mm=20) if is_line else Site(kind="spot", wetted_mm=40),
        acts=(
            Act(
                id="lay",
                kind="lay",
                agent=called(agent),
                amount=agent.amount.replace("; covered or open", "").replace(", covered or open", ""),
                covered=covered,
                lasts_min=minutes,
                natures=agent.natures,
            ),
            lifted(_WIPED.get(agent_id, CLOTH)),
        ),
        reads=MARK,
        says=f"{agent.name}{f', {agent.strength}' if agent.strength else ''}, on the surface for {span_words(minutes)}.",
        modelled_on=_PATTERN,
    )


def _all_steps() -> tuple[Test, ...]:
    found = []
    for agent in AGENTS.values():
        if agent.group != "stain":
            continue
        # A drawn line is always open.
        for covered in (False,) if agent.id in _LINES else (True, False):
            found += [stain(agent.id, minutes, covered=covered) for minutes in agent.durations_min]
    return tuple(found)


STAINS = _all_steps()
