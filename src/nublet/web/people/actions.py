"""What can be done about people: the only writer of these tables."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.contrib.auth import password_validation
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import transaction
from django.http import Http404

from nublet.core.errors import NubletError
from nublet.core.plain import tidy
from nublet.web.people.audit import record
from nublet.web.people.models import Person, Role, Shop
from nublet.web.people.policies import require, within


@transaction.atomic
def open_shop(*, shop_name: str, username: str, display_name: str, password: str) -> Person:
    """Open a shop with its first owner."""
    shop = Shop.objects.create(name=shop_name.strip())
    owner = _make_person(
        shop, username=username, display_name=display_name, role=Role.OWNER, password=password
    )
    record(owner, "open_shop", shop)
    return owner


@transaction.atomic
def add_person(actor: Person, *, username: str, display_name: str, role: str, password: str) -> Person:
    """Add someone to the actor's shop.

    Raises
    ------
    PermissionDenied
        If the actor does not own the shop.
    NubletError
        If a name is taken or the password is too weak.
    """
    require(actor, "add_person")
    person = _make_person(
        actor.shop, username=username, display_name=display_name, role=role, password=password
    )
    record(actor, "add_person", person, role=role)
    return person


class WrongPasswordError(NubletError):
    """The password is not the person's own."""

    code = "wrong_password"


@transaction.atomic
def change_own_password(person: Person, *, old: str, new: str) -> Person:
    """Give oneself another password; every other session of the person ends.

    Raises
    ------
    WrongPasswordError
        If the old password is not the person's own.
    NubletError
        If the new one is too weak.
    """
    row = Person.objects.select_for_update().get(pk=person.pk)
    if not row.check_password(old):
        raise WrongPasswordError("That is not your password now. Type it again.", field="old")
    _set_password(row, new, field="new")
    row.save()
    record(row, "change_own_password", row)
    return row


@transaction.atomic
def change_person(actor: Person, person_id: int, fields: Mapping[str, Any]) -> Person:
    """Change what somebody may do: role, whether they may sign in, a new password, or end their sessions.

    ``fields`` holds any of ``role``, ``is_active``, ``password`` and ``end_sessions``. Whoever may not sign in any more, or has
    a new password, is signed out everywhere. Nobody is deleted: readings show who made them.

    Raises
    ------
    PermissionDenied
        If the actor does not own the shop.
    Http404
        If there is no such person in the shop.
    NubletError
        If the password is too weak, or the shop would be left without an owner who can sign in.
    """
    # All of them, in one order: two owners who demote each other wait for each other.
    people = within(actor, "change_person", Person.objects.select_for_update())
    rows = {row.pk: row for row in people.order_by("pk")}
    row = rows.get(person_id)
    if row is None:
        raise Http404
    row.role = fields.get("role", row.role)
    row.is_active = fields.get("is_active", row.is_active)
    if not any(each.role == Role.OWNER and each.is_active for each in rows.values()):
        raise NubletError(
            "The shop would be left without an owner who can sign in. Make somebody else an owner first.",
            field="role" if "role" in fields else "is_active",
        )
    if fields.get("password"):
        _set_password(row, fields["password"], field="password")
    if fields.get("end_sessions") or not row.is_active:
        row.session_epoch += 1
    row.save()
    changed = {name: fields[name] for name in ("role", "is_active", "end_sessions") if name in fields}
    record(actor, "change_person", row, password=bool(fields.get("password")), **changed)
    return row


def _set_password(person: Person, password: str, *, field: str) -> None:
    try:
        password_validation.validate_password(password, user=person)
    except DjangoValidationError as error:
        raise NubletError(" ".join(error.messages), field=field) from error
    person.set_password(password)


def _make_person(shop: Shop, *, username: str, display_name: str, role: str, password: str) -> Person:
    username, display_name = tidy(username).lower(), tidy(display_name)
    if not username or " " in username:
        raise NubletError("A sign-in name is one word of visible letters. Choose one.", field="username")
    if not display_name:
        raise NubletError("Give the name that readings are shown under.", field="display_name")
    if Person.objects.filter(username=username).exists():
        raise NubletError(f"The sign-in name {username!r} is taken. Choose another.", field="username")
    if Person.objects.filter(shop=shop, display_name=display_name).exists():
        raise NubletError(
            f"There is already a {display_name!r} here. Add an initial, so that readings show who made them.",
            field="display_name",
        )
    person = Person(shop=shop, username=username, display_name=display_name, role=role)
    _set_password(person, password, field="password")
    person.save()
    return person
