"""Who may do what to which object: the one table. What is not in it nobody may do.

A route names an action (``acts``), and so does whatever reads or changes an object; both ask here. An object of another shop, or
one that is not a person's to see, is not there: whoever asks for it learns no more than that.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal, TypeVar

from django.core.exceptions import PermissionDenied
from django.db.models import Model, QuerySet

from nublet.web.people.models import Person, Role

Row = TypeVar("Row", bound=Model)
# Whose objects: the shop's, those that the person asked for, those that the person judges.
Whose = Literal["shop", "asker", "judge"]

OWNERS = frozenset({Role.OWNER})
KEEPERS = frozenset({Role.OWNER, Role.TESTER})
EVERYONE = frozenset(Role)


@dataclass(frozen=True, kw_only=True)
class Policy:
    """Which roles may do something, to whose objects, and what the others are told.

    ``is_open`` is for what needs no sign-in at all.
    """

    roles: frozenset[Role]
    whose: Whose = "shop"
    refusal: str = "This is not for your role. Ask an owner of the shop."
    is_open: bool = False


_BLIND = "Only owners and testers may see this: it would break the blind for a judge."
_CHANGE = "Only owners and testers may change a trial: a judge works blind."
_OWNER = "Only an owner of the shop may do this. Ask one."


def _keepers(refusal: str, *actions: str, whose: Whose = "shop") -> dict[str, Policy]:
    return {action: Policy(roles=KEEPERS, refusal=refusal, whose=whose) for action in actions}


POLICIES: Mapping[str, Policy] = {
    "see_units": Policy(roles=EVERYONE, is_open=True),
    "use_session": Policy(roles=EVERYONE, is_open=True),
    "change_own_password": Policy(roles=EVERYONE),
    **_keepers(_BLIND, "see_people", "see_reference", "calculate", "see_shelf", "see_trials", "see_trial", "see_evidence"),
    **_keepers(_BLIND, "see_bench", "see_days", "read_instrument"),
    **_keepers(_BLIND, "follow_paper", "stop_paper", whose="asker"),
    **_keepers(_CHANGE, "make_trial", "change_trial", "draw_design", "start_trial", "unblind", "deviate", "ask_for_paper"),
    **_keepers(_CHANGE, "plan_days", "log_work", "make_mix"),
    **_keepers("Only owners and testers keep the shelf: a judge works blind.", "change_shelf"),
    **_keepers("Only owners and testers may set up the bench.", "set_bench"),
    "set_instruments": Policy(
        roles=OWNERS, refusal="Only an owner may set where instruments are reached. Ask one."
    ),
    "add_person": Policy(roles=OWNERS, refusal="Only an owner of the shop may add people. Ask one."),
    "change_person": Policy(roles=OWNERS, refusal="Only an owner of the shop may change people. Ask one."),
    "see_audit": Policy(roles=OWNERS, refusal=_OWNER),
    # For a judge nothing is due: which panels are handled together tells that they carry the same.
    "see_due": Policy(roles=EVERYONE),
    "list_judging": Policy(roles=EVERYONE, whose="judge"),
    "judge": Policy(roles=EVERYONE, whose="judge"),
    # Which of them, photographs.selectors says: a judge his own until the trial is unblinded.
    "see_photographs": Policy(roles=EVERYONE),
    "take_photograph": Policy(roles=EVERYONE),
    "practise": Policy(roles=EVERYONE),
}  # fmt: skip


def may(person: Person, action: str) -> bool:
    """Whether a person's role may do something at all; what is not in the table nobody may."""
    policy = POLICIES.get(action)
    return policy is not None and Role(person.role) in policy.roles


def require(person: Person, action: str) -> None:
    """Refuse what a person's role may not do. Raises ``PermissionDenied`` with the policy's words."""
    if not may(person, action):
        policy = POLICIES.get(action)
        raise PermissionDenied(f"Nobody may {action}." if policy is None else policy.refusal)


def within(person: Person, action: str, rows: QuerySet[Row]) -> QuerySet[Row]:
    """The rows that a person may do something to; all others are not there.

    Raises
    ------
    PermissionDenied
        If the person's role may do it to none.
    """
    require(person, action)
    return rows.filter(**_own(person, POLICIES[action].whose))


def _own(person: Person, whose: Whose) -> dict[str, Any]:
    own: dict[str, Any] = {"shop": person.shop_id}
    if whose == "asker":
        own["asked_by"] = person.pk
    if whose == "judge":
        own["judges"] = person.pk
    return own
