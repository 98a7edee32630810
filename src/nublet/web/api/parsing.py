"""Reading what is sent: JSON that is neither nested without end nor anything but JSON, and numbers that are numbers."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from django.conf import settings
from rest_framework import parsers, serializers
from rest_framework.exceptions import ParseError

DEEPEST = 40


class BoundedJSONParser(parsers.JSONParser):
    """JSON of bounded depth: what recurses over it, here and later, ends."""

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        """Parse, or say what is wrong."""
        try:
            found = super().parse(stream, media_type, parser_context)
        except RecursionError as error:
            raise ParseError(_TOO_DEEP) from error
        if not isinstance(found, dict | list):
            raise ParseError("Send an object with the fields by name.")
        _check_depth(found)
        return found


_TOO_DEEP = f"What was sent is nested more than {DEEPEST} deep. Nothing here is."


def _check_depth(found: Any) -> None:
    level = [found]
    for _ in range(DEEPEST):
        level = [
            part
            for whole in level
            for part in (whole.values() if isinstance(whole, dict) else whole)
            if isinstance(part, dict | list)
        ]
        if not level:
            return
    raise ParseError(_TOO_DEEP)


class NumberField(serializers.FloatField):
    """A finite number; true and false are none."""

    def to_internal_value(self, data: Any) -> float:
        """The number, refused in words when it is none."""
        if isinstance(data, bool):
            raise serializers.ValidationError("true and false are no numbers.")
        value = super().to_internal_value(data)
        if not math.isfinite(value):
            raise serializers.ValidationError("Give a finite number.")
        return float(value)


class TrustedProxyMiddleware:
    """Believe X-Forwarded headers of the proxies that are named, and take them off every other request.

    ``NUBLET_PROXIES`` names their addresses. Of such a request the last address in X-Forwarded-For, which the proxy itself
    added, is the client's; its X-Forwarded-Proto decides whether the request came over TLS.
    """

    def __init__(self, get_response: Any) -> None:
        self.get_response = get_response

    def __call__(self, request: Any) -> Any:
        """Rewrite the request's own address, or forget what somebody claims."""
        meta = request.META
        if meta.get("REMOTE_ADDR") in settings.TRUSTED_PROXIES:
            chain = [part.strip() for part in meta.get("HTTP_X_FORWARDED_FOR", "").split(",") if part.strip()]
            if chain:
                meta["REMOTE_ADDR"] = chain[-1]
        else:
            for name in ("HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_HOST"):
                meta.pop(name, None)
        return self.get_response(request)


class AnswerHeadersMiddleware:
    """What every answer carries: nothing of the API is kept by a browser, and no page asks for a device."""

    def __init__(self, get_response: Any) -> None:
        self.get_response = get_response

    def __call__(self, request: Any) -> Any:
        """Add the headers."""
        response = self.get_response(request)
        headers: Mapping[str, str] = {"Permissions-Policy": _NO_DEVICES}
        if request.path.startswith("/api/"):
            headers = {**headers, "Cache-Control": "no-store"}
        for name, value in headers.items():
            response.headers.setdefault(name, value)
        return response


_NO_DEVICES = "camera=(), microphone=(), geolocation=(), payment=(), usb=(), serial=(), bluetooth=()"
