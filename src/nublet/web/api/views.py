"""The few views that belong to no subject."""

from __future__ import annotations

from django.db import connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.csrf import ensure_csrf_cookie

from nublet.web.api.errors import problem


def health(request: HttpRequest) -> JsonResponse:
    """Answer when the application and its database both work."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    return JsonResponse({"status": "ok"})


@ensure_csrf_cookie
def front_end(request: HttpRequest) -> HttpResponse:
    """The built front end; it finds its own page from the address."""
    response = render(request, "index.html")
    response["Cache-Control"] = "no-cache"
    return response


def locked_out(request: HttpRequest, *_: object, **__: object) -> JsonResponse:
    """After too many wrong passwords for one name from one address."""
    detail = "Too many wrong tries for this sign-in name. Wait a quarter of an hour and try again."
    return JsonResponse(
        problem(429, code="locked_out", detail=detail, field="password"),
        status=429,
        content_type="application/problem+json",
    )


def no_such_address(request: HttpRequest) -> JsonResponse:
    """Any API address that does not exist."""
    return JsonResponse(
        problem(404, code="not_found", detail=f"There is nothing at {request.path}."),
        status=404,
        content_type="application/problem+json",
    )
