"""How routes are described in the OpenAPI document."""

from __future__ import annotations

from typing import Any

from drf_spectacular.openapi import AutoSchema

from nublet.web.people.policies import POLICIES


class RouteSchema(AutoSchema):
    """A route needs a sign-in unless the policy of its action says that it is open."""

    def get_auth(self) -> list[Any]:
        """The ways to be let in."""
        auth: list[Any] = list(super().get_auth())
        action = getattr(self.view, "acts", {}).get(self.method.lower(), "")
        is_open = action in POLICIES and POLICIES[action].is_open
        return [*auth, {}] if is_open and {} not in auth else auth
