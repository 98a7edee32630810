"""What can be done about people: the only writer of these tables."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import password_validation
from django.core.exceptions import PermissionDenied
from django.core.exceptions import ValidationError as DjangoValidationError
from django.db import transaction

from nublet.core.errors import NubletError
from nublet.core.plain import tidy
from nublet.web.people.models import AuditEntry, Person, Role, Shop


def record(shop: Shop, person: Person | None, action: str, subject: str, **details: Any) -> None:
    """Write one audit entry; call it inside the change's transaction."""
    AuditEntry.objects.create(shop=shop, person=person, action=action, subject=subject, details=details)


@transaction.atomic
def open_shop(*, shop_name: str, username: str, display_name: str, password: str) -> Person:
    """Open a shop with its first owner."""
    shop = Shop.objects.create(name=shop_name.strip())
    owner = _make_person(
        shop, username=username, display_name=display_name, role=Role.OWNER, password=password
    )
    record(shop, owner, "open_shop", shop.name)
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
    if actor.role != Role.OWNER:
        raise PermissionDenied("Only an owner of the shop may add people. Ask one.")
    person = _make_person(
        actor.shop, username=username, display_name=display_name, role=role, password=password
    )
    record(actor.shop, actor, "add_person", person.username, role=role)
    return person


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
    try:
        password_validation.validate_password(password, user=person)
    except DjangoValidationError as error:
        raise NubletError(" ".join(error.messages), field="password") from error
    person.set_password(password)
    person.save()
    return person
