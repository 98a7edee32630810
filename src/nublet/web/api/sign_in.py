"""Sign-in by session cookie, and the roles."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from drf_spectacular.authentication import SessionScheme as SpectacularSessionScheme
from rest_framework import authentication, exceptions
from rest_framework.permissions import BasePermission
from rest_framework.request import Request

from nublet.web.api.conflicts import OtherPersonError
from nublet.web.people.models import Person
from nublet.web.people.policies import POLICIES, may, require

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


class MayAct(BasePermission):
    """Asks the table of policies for the action that a route names; a route that names none is nobody's.

    A view's ``acts`` are a mapping of its methods to actions. Whose objects they are done to is held where those are found.
    """

    def has_permission(self, request: Request, view: Any) -> bool:
        """Whether the person's role may do it. Raises ``PermissionDenied`` in the policy's own words."""
        acts: Mapping[str, str] = getattr(view, "acts", {})
        method = str(request.method).lower()
        asked = (
            list(acts.values())
            if method == "options"
            else [acts.get("get" if method == "head" else method, "")]
        )
        if all(action in POLICIES and POLICIES[action].is_open for action in asked):
            return bool(asked)
        person = person_of(request)
        if not any(may(person, action) for action in asked):
            require(person, asked[0] if asked else "")
        return True


def person_of(request: Request) -> Person:
    """Return the signed-in person. Raises ``NotAuthenticated`` when there is none."""
    if not isinstance(request.user, Person):
        raise exceptions.NotAuthenticated
    return request.user
