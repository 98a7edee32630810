"""Agents: what is put on a spot. Strengths and ladders are bench defaults that a protocol may change.

Modelled on the cold-liquid, heat and household-chemical tests named in ``docs/protocols.md``.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Annotated, Any, Literal

from nublet.core.errors import ShelfError
from nublet.core.plain import Longest, Span, as_plain, check_fields, folded, from_plain, tidy

AgentGroup = Literal["water", "heat", "stain", "wear"]
Nature = Literal["acid", "ammonia", "bleach", "flammable", "iron", "hot"]
GROUP_WORDS: dict[AgentGroup, str] = {
    "water": "Water",
    "heat": "Heat",
    "stain": "Household stains",
    "wear": "Wear and repair",
}
NATURES: dict[Nature, str] = {
    "acid": "An acid: never with bleach",
    "ammonia": "Ammonia: never with bleach",
    "bleach": "Bleach: never with an acid or ammonia",
    "flammable": "Burns: away from hot tests",
    "iron": "Iron: blackens tannin-rich wood",
    "hot": "Hot: burns, and sets vapour alight",
}
STAIN_LADDER_MIN = (2.0, 10.0, 60.0, 120.0, 360.0, 960.0, 1440.0)
# Ten years: what stands outdoors is looked at for so long.
MAX_DURATION_MIN = 10 * 365 * 24 * 60
WATER_LADDER_MIN = (10.0, 60.0, 360.0, 960.0, 1440.0)


@dataclass(frozen=True, kw_only=True)
class Agent:
    """One agent.

    ``strength`` is its concentration in words. ``amount`` is a usual dose in bench words, ``durations_min`` a
    usual ladder of contact times, ``temperatures_c`` a ladder of temperatures, either empty when it has none.
    ``natures`` say what it must be kept from.
    """

    id: str
    name: Annotated[str, Longest(120)]
    group: AgentGroup
    strength: str = ""
    amount: str = ""
    durations_min: Annotated[tuple[float, ...], Span(0, MAX_DURATION_MIN, "min")] = ()
    temperatures_c: Annotated[tuple[float, ...], Span(-40, 400, "°C")] = ()
    natures: frozenset[Nature] = frozenset()

    @property
    def cautions(self) -> tuple[str, ...]:
        """Ids of the cautions that it calls for by itself."""
        return cautions_of(self.natures, beside=self.natures)


_NATURE_CAUTIONS: dict[Nature, str] = {
    "bleach": "bleach",
    "ammonia": "ammonia",
    "flammable": "flammable-agent",
    "hot": "hot-block",
}


def cautions_of(natures: Collection[Nature], *, beside: Collection[Nature]) -> tuple[str, ...]:
    """Ids of the cautions that natures call for, each once.

    Parameters
    ----------
    natures : collection of Nature
        Of the agent in hand.
    beside : collection of Nature
        Of all agents that are about: an acid calls for the caution on bleach where there is bleach, and nowhere else.

    Examples
    --------
    >>> cautions_of({"hot", "acid"}, beside={"hot", "acid"})
    ('hot-block',)
    >>> cautions_of({"acid"}, beside={"acid", "bleach"})
    ('bleach',)
    """
    ordered = sorted(natures, key=list(NATURES).index)
    found = [_NATURE_CAUTIONS[n] for n in ordered if n in _NATURE_CAUTIONS]
    if give_off_gas(natures, beside):
        found.insert(0, "bleach")
    return tuple(dict.fromkeys(found))


_DISC = "25 mm paper disc, soaked; covered or open"
_DROP = "1 mL, covered or open"
_SMEAR = "a 25 mm smear, covered or open"


def _agent(
    agent_id: str,
    name: str,
    group: AgentGroup,
    *natures: Nature,
    strength: str = "",
    amount: str = "",
    durations: tuple[float, ...] = (),
    temperatures: tuple[float, ...] = (),
) -> Agent:
    return Agent(
        id=agent_id,
        name=name,
        group=group,
        strength=strength,
        amount=amount,
        durations_min=durations,
        temperatures_c=temperatures,
        natures=frozenset(natures),
    )


def _stain(
    agent_id: str,
    name: str,
    *natures: Nature,
    strength: str = "",
    amount: str = _DISC,
    durations: tuple[float, ...] = STAIN_LADDER_MIN,
) -> Agent:
    return _agent(agent_id, name, "stain", *natures, strength=strength, amount=amount, durations=durations)


AGENTS: dict[str, Agent] = {
    agent.id: agent
    for agent in (
        _agent("wet-glass", "Chilled wet glass", "water", amount="ice water 250 mL, wetted foot", durations=(60, 240)),
        _agent("water-spot", "Water, covered spot", "water", amount="25 mm paper disc, soaked, under a 40 mm cover", durations=WATER_LADDER_MIN),
        _agent("water-bead", "Water bead", "water", amount="50 µL drop: shape at once, time to soak in", durations=(0,)),
        _agent("uptake-ring", "Water uptake ring", "water", amount="ring filled 10 mm deep, weighed before and after", durations=(60, 1440)),
        _agent("damp-cloth", "Damp-cloth cycles", "water", amount="25 or 100 wipes and dryings"),
        _agent("edge-stand", "Edge or end-grain stand", "water", amount="5 mm of water in a tray", durations=(60, 1440)),
        _agent("boil", "Boil, half-immersed", "water", "hot", amount="half in boiling water, dry overnight", durations=(5,), temperatures=(100,)),
        _agent("dry-block", "Hot block, dry", "heat", "hot", amount="100 mm block", durations=(20,), temperatures=(70, 85, 100, 120, 140, 160, 180)),
        _agent("wet-block", "Hot block on a damp cloth", "heat", "hot", amount="100 mm block, damp cloth, 2 mL water", durations=(20,), temperatures=(55, 70, 85, 100)),
        _agent("hot-mug", "Hot mug with a wet foot", "heat", "hot", amount="a mug filled at 85 °C", durations=(15,), temperatures=(85,)),
        _agent("brief-iron", "Brief iron", "heat", "hot", amount="8 s", durations=(0.133,), temperatures=(115, 200)),
        _stain("coffee", "Coffee", strength="brewed, 40 g/L"),
        _stain("black-tea", "Black tea", strength="brewed 5 min, 10 g/L"),
        _stain("red-wine", "Red wine", "acid"),
        _stain("cola", "Cola", "acid"),
        _stain("soda-water", "Soda water"),
        _stain("citric-acid", "Orange or lemon juice", "acid", strength="citric acid 10 %"),
        _stain("vinegar", "Vinegar", "acid", strength="acetic acid 4–10 %"),
        _stain("olive-oil", "Olive oil"),
        _stain("tomato-sauce", "Tomato sauce", "acid", amount=_SMEAR),
        _stain("mustard", "Mustard", "acid", amount=_SMEAR),
        _stain("beetroot", "Beetroot", amount=_SMEAR),
        _stain("turmeric", "Turmeric paste", amount=_SMEAR, strength="1 part in 2 parts water"),
        _stain("soy-sauce", "Soy sauce"),
        _stain("milk", "Milk"),
        _stain("ethanol-48", "Ethanol", "flammable", strength="48 %"),
        _stain("spirits-40", "Spirits", "flammable", strength="40 %"),
        _stain("hand-sanitiser", "Hand sanitiser gel", "flammable", amount=_DROP),
        _stain("ammonia-10", "Ammonia", "ammonia", strength="10 %"),
        _stain("washing-up", "Washing-up liquid", strength="1 %"),
        _stain("bleach", "Dilute bleach", "bleach", strength="1 part in 10"),
        _stain("acetone", "Acetone", "flammable", amount=_DROP, durations=(0.167, 2)),
        _stain("ballpoint", "Ballpoint ink", amount="a drawn line"),
        _stain("marker", "Marker ink", amount="a drawn line"),
        _stain("iron-water", "Iron-rich water", "iron", strength="iron sulphate 1 %"),
        _stain("saliva", "Saliva-like salt water", strength="salt and bicarbonate, buffered"),
        _stain("hand-cream", "Cosmetics, hand cream", amount=_SMEAR),
        _agent("scratch", "Scratch", "wear", amount="a 680 g mug, 15 strokes"),
        _agent("pencil", "Pencil hardness", "wear", amount="pencils 6B to 6H at 45°"),
        _agent("spot-repair", "Repair", "wear", amount="damage, mend by the family's way, grade beside the untouched area"),
    )
}  # fmt: skip


def must_not_meet(one: Agent, other: Agent) -> str | None:
    """Return why two agents must be kept from each other, in words, or ``None``.

    Examples
    --------
    >>> must_not_meet(AGENTS["bleach"], AGENTS["vinegar"])
    'Dilute bleach with Vinegar gives off poison gas.'
    >>> must_not_meet(AGENTS["milk"], AGENTS["vinegar"]) is None
    True
    """
    if give_off_gas(one.natures, other.natures):
        return f"{one.name} with {other.name} gives off poison gas."
    for first, second in ((one, other), (other, one)):
        if "hot" in first.natures and "flammable" in second.natures:
            return f"{first.name} may set {second.name} alight."
    return None


# What a protocol's free words for an agent tell of its nature, for agents that are not on the list by that name.
_NATURE_WORDS: tuple[tuple[Nature, str], ...] = (
    ("bleach", r"bleach|hypochlorite|chlorine"),
    ("ammonia", r"ammonia"),
    (
        "acid",
        r"acid|vinegar|acetic|citric|lemon|lime|orange|juice|cola\b|wine\b|tomato|ketchup|mustard|cordial",
    ),
    ("flammable", r"ethanol|alcohol|spirits?\b|sanitiser|acetone|solvent|turpentine|naphtha|shellac thinner"),
    ("iron", r"\biron[- ](rich|water|sul)"),
    ("hot", r"\bhot\b|boil"),
)


def natures_of(agent: str) -> frozenset[Nature]:
    """The natures that an agent has by its id, its name, or the words of its description.

    Examples
    --------
    >>> sorted(natures_of("vinegar")), sorted(natures_of("ethanol 48 %")), sorted(natures_of("milk"))
    (['acid'], ['flammable'], [])
    """
    known = known_agent(agent)
    if known is not None:
        return known.natures
    words = folded(agent)
    return frozenset(nature for nature, pattern in _NATURE_WORDS if re.search(pattern, words))


# What protocols call an agent beside its id, its name, and its name with its strength.
_ALSO_CALLED = {
    "water": "water-spot",
    "hot block": "dry-block",
    "damp cloth": "damp-cloth",
    "boiling water": "boil",
    "lemon juice (citric acid 10 %)": "citric-acid",
}


def known_agent(words: str) -> Agent | None:
    """The agent that a protocol's words name, or ``None``.

    Examples
    --------
    >>> [known_agent(words).id for words in ("ethanol 48 %", "Red  Wine", "water")]
    ['ethanol-48', 'red-wine', 'water-spot']
    """
    return _by_name().get(folded(words))


@lru_cache(maxsize=1)
def _by_name() -> dict[str, Agent]:
    keys = {
        folded(key): agent
        for agent in AGENTS.values()
        for key in (agent.id, agent.name, f"{agent.name} {agent.strength}")
    }
    return keys | {folded(words): AGENTS[agent_id] for words, agent_id in _ALSO_CALLED.items()}


def give_off_gas(one: Collection[Nature], other: Collection[Nature]) -> bool:
    """Whether one is bleach and the other an acid or ammonia: never side by side, never in one sitting."""
    return ("bleach" in one and bool({"acid", "ammonia"} & set(other))) or (
        "bleach" in other and bool({"acid", "ammonia"} & set(one))
    )


def may_ignite(one: Collection[Nature], other: Collection[Nature]) -> bool:
    """Whether one is hot and the other burns: kept apart in place and time."""
    return ("hot" in one and "flammable" in other) or ("hot" in other and "flammable" in one)


def check_agent(agent: Agent) -> None:
    """Refuse an agent with an empty name, an unknown group or nature, or an impossible ladder.

    Raises
    ------
    ShelfError
        ``field`` says which part is at fault.
    """
    if not tidy(agent.name):
        raise ShelfError("Give the agent a name, such as 'Blackcurrant cordial'.", field="name")
    check_fields(agent)


def agent_as_dict(agent: Agent) -> dict[str, Any]:
    """The agent as plain lists, texts and numbers, without its id."""
    plain: dict[str, Any] = as_plain(agent, leave=("id",))
    return plain


def agent_from_dict(plain: Mapping[str, Any], *, agent_id: str = "", is_stored: bool = False) -> Agent:
    """Read an agent and check it. Fields that are missing keep their defaults.

    One that ``is_stored`` was checked when it was saved, and is read as it is: limits may since have narrowed, and it must still
    be shown.

    Raises
    ------
    ShelfError
        If a field is unknown, missing, of the wrong kind, or out of range.
    """
    agent = from_plain(Agent, plain, given={"id": agent_id})
    agent = replace(agent, name=tidy(agent.name))
    if not is_stored:
        check_agent(agent)
    return agent
