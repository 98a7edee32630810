"""The few views that belong to no subject."""

from __future__ import annotations

import sys

from django.conf import settings
from django.db import DatabaseError, connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.middleware.csrf import get_token
from django.shortcuts import render
from django.views.decorators.csrf import ensure_csrf_cookie

from nublet.web.api.errors import UnreachableError, problem, said_by_the_database


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


def service_worker(request: HttpRequest) -> HttpResponse:
    """What lets the installed page open with the server gone; from the root, so that it may serve every page."""
    path = settings.FRONTEND_DIST / "sw.js"
    if not path.is_file():
        return HttpResponse("// The front end is not built.", content_type="text/javascript", status=404)
    response = HttpResponse(path.read_bytes(), content_type="text/javascript")
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


def no_token(request: HttpRequest, reason: str = "") -> JsonResponse:
    """A request without the token that the page was given: its cookies were cleared. A new one comes with this answer."""
    get_token(request)
    detail = "This browser's cookies were cleared. Nothing is lost: try once more."
    return JsonResponse(
        problem(403, code="no_token", detail=detail), status=403, content_type="application/problem+json"
    )


def server_fault(request: HttpRequest) -> HttpResponse:
    """What nobody caught: problem JSON for the API, 503 while the database is gone, a page in words for people."""
    error = sys.exc_info()[1]
    gone = isinstance(error, DatabaseError) and isinstance(said_by_the_database(error), UnreachableError)
    status = 503 if gone else 500
    detail = (
        "The database does not answer just now. What you entered is kept in this browser; try again in a moment."
        if gone
        else "The server failed at this. What you entered is kept; try again, and tell whoever runs Nublet if it stays so."
    )
    if request.path.startswith(("/api/", "/healthz")):
        body = problem(status, code="database_gone" if gone else "server_fault", detail=detail)
        return JsonResponse(body, status=status, content_type="application/problem+json")
    return HttpResponse(f"<!doctype html><title>Nublet</title><p>{detail}</p>", status=status)


def no_such_address(request: HttpRequest) -> JsonResponse:
    """Any API address that does not exist."""
    return JsonResponse(
        problem(404, code="not_found", detail=f"There is nothing at {request.path}."),
        status=404,
        content_type="application/problem+json",
    )
