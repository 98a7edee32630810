"""Sign-in by session cookie, and the roles."""

from __future__ import annotations

from typing import Any

from drf_spectacular.authentication import SessionScheme as SpectacularSessionScheme
from rest_framework import authentication, exceptions
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from nublet.web.api.conflicts import OtherPersonError
from nublet.web.people.models import Person, Role

PERSON_HEADER = "X-Nublet-Person"


class SessionAuthentication(authentication.SessionAuthentication):
    """Session sign-in that answers 401, not 403, to whoever is signed out, so that the page can ask again.

    A page says in a header whose it is; where somebody else is signed in by now, it is refused.
    """

    def authenticate(self, request: Request) -> tuple[Any, None] | None:
        """The signed-in person, who must be the page's own."""
        found = super().authenticate(request)
        whose = request.headers.get(PERSON_HEADER, "")
        # Signing out is the browser's, whoever is signed in.
        signs_out = request.method == "DELETE" and request.path == "/api/session"
        if found is not None and whose and whose != str(found[0].pk) and not signs_out:
            raise OtherPersonError(found[0].display_name)
        return found

    def authenticate_header(self, request: Request) -> str:
        """Name a scheme; without one the answer would be 403."""
        return "Session"

    def enforce_csrf(self, request: Request) -> None:
        """Say a failed CSRF check in words that help."""
        try:
            super().enforce_csrf(request)
        except exceptions.PermissionDenied as error:
            raise exceptions.PermissionDenied(
                "This page is out of date. Reload it and try again; what you entered is kept."
            ) from error


class SessionScheme(SpectacularSessionScheme):  # type: ignore[no-untyped-call]
    """Describes our sign-in in the OpenAPI document."""

    target_class = SessionAuthentication  # type: ignore[assignment]


class IsKeeper(BasePermission):
    """Owners and testers: they know which panel carries what. Judges do not pass."""

    message = "Only owners and testers may see this: it would break the blind for a judge."

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the person keeps the key."""
        return person_of(request).keeps_key


class IsOwner(BasePermission):
    """Owners alone."""

    message = "Only an owner of the shop may do this. Ask one."

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the person owns the shop."""
        return person_of(request).role == Role.OWNER


def person_of(request: Request) -> Person:
    """Return the signed-in person. Raises ``NotAuthenticated`` when there is none."""
    if not isinstance(request.user, Person):
        raise exceptions.NotAuthenticated
    return request.user
