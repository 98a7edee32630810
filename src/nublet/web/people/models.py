"""Shops, people and the audit record."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar

from django.contrib.auth.models import AbstractBaseUser, BaseUserManager
from django.db import models
from django.utils.crypto import salted_hmac


class Role(models.TextChoices):
    """What a person may do. Judges see codes only."""

    OWNER = "owner"
    TESTER = "tester"
    JUDGE = "judge"


class Shop(models.Model):
    """One finishing shop; everything belongs to one, and nobody sees another's.

    ``currency`` stands behind its prices as it is written there. The steps are the smallest of its syringe or cup and of its
    scale; ``thinner_prices`` are money a litre, by what a product is carried by.
    """

    name = models.CharField(max_length=120)
    currency = models.CharField(max_length=8, blank=True, default="", db_default="")
    cup_step_ml = models.FloatField(default=0.5, db_default=0.5)
    scale_step_g = models.FloatField(default=0.1, db_default=0.1)
    thinner_prices = models.JSONField(default=dict, null=True)

    class Meta:
        constraints = [
            models.CheckConstraint(
                condition=models.Q(cup_step_ml__gt=0, scale_step_g__gt=0), name="a_measure_has_a_step"
            ),
        ]

    def __str__(self) -> str:
        return self.name


class PersonManager(BaseUserManager["Person"]):
    """Looks people up by their sign-in name."""


class Person(AbstractBaseUser):
    """Someone who signs in."""

    username = models.CharField(max_length=60, unique=True)
    display_name = models.CharField(max_length=120)
    shop = models.ForeignKey(Shop, on_delete=models.PROTECT, related_name="people")
    role = models.CharField(max_length=10, choices=Role.choices)
    is_active = models.BooleanField(default=True)
    # Counted up to end every session of the person: it goes into the sign-in that each session holds.
    session_epoch = models.PositiveIntegerField(default=0)
    # Whether the evidence of the trials that the person judges tells how he reads in practice.
    shows_practice = models.BooleanField(default=False, db_default=False)

    USERNAME_FIELD = "username"
    objects: ClassVar[PersonManager] = PersonManager()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["shop", "display_name"], name="one_display_name_a_shop"),
            models.CheckConstraint(condition=models.Q(role__in=Role.values), name="role_is_known"),
        ]

    def __str__(self) -> str:
        return self.display_name

    def get_session_auth_hash(self) -> str:
        """What a session must hold to stay signed in; another once the password changes or sessions are ended."""
        signed = salted_hmac(
            "nublet.people.session", f"{self.password}:{self.session_epoch}", algorithm="sha256"
        )
        return str(signed.hexdigest())

    def get_session_auth_fallback_hash(self) -> Iterator[str]:
        """None: the signing key is never exchanged for another while sessions last."""
        return iter(())

    @property
    def keeps_key(self) -> bool:
        """Whether the person may know which panel carries which build-up."""
        return self.role in (Role.OWNER, Role.TESTER)


class SubjectKind(models.TextChoices):
    """What a change is done to."""

    SHOP = "shop"
    PERSON = "person"
    TRIAL = "trial"
    BUILD_UP = "build_up"
    PRODUCT = "product"
    WOOD = "wood"
    AGENT = "agent"
    USE = "use"
    PROTOCOL = "protocol"


class AuditEntry(models.Model):
    """Who changed what and when. Written in the change's own transaction, never altered.

    ``action`` is one of those declared in :mod:`nublet.web.people.audit`; ``subject_id`` is the number of the thing of that kind.
    """

    shop = models.ForeignKey(Shop, on_delete=models.PROTECT)
    person = models.ForeignKey(Person, on_delete=models.PROTECT, null=True)
    action = models.CharField(max_length=60)
    subject_kind = models.CharField(max_length=20, choices=SubjectKind.choices)
    subject_id = models.BigIntegerField()
    details = models.JSONField(default=dict)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["subject_kind", "subject_id"], name="changes_of_a_subject")]
        constraints = [
            models.CheckConstraint(
                condition=models.Q(subject_kind__in=SubjectKind.values), name="subject_kind_is_known"
            ),
        ]
