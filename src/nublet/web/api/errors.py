"""One mapping from errors to problem JSON (RFC 9457), for every route."""

from __future__ import annotations

from http import HTTPStatus
from typing import Any

from django.core.exceptions import PermissionDenied
from django.db import DatabaseError, DataError, IntegrityError, InterfaceError
from django.http import Http404
from rest_framework import exceptions, serializers
from rest_framework.response import Response
from rest_framework.views import exception_handler

from nublet.core.errors import NubletError
from nublet.web.api.conflicts import ConflictError
from nublet.web.api.prose import PieceSerializer, in_pieces


class ProblemSerializer(serializers.Serializer[Any]):
    """The form of every refusal: what is wrong, where, and what to do."""

    type = serializers.CharField()
    title = serializers.CharField()
    status = serializers.IntegerField()
    code = serializers.CharField()
    detail = serializers.CharField()
    field = serializers.CharField(allow_null=True)
    pieces = PieceSerializer(many=True)


def problem(status: int, *, code: str, detail: str, field: str | None = None) -> dict[str, Any]:
    """Return the problem document."""
    return {
        "type": "about:blank",
        "title": HTTPStatus(status).phrase,
        "status": status,
        "code": code,
        "detail": detail,
        "field": field,
        "pieces": in_pieces(detail),
    }


def answer_problem(error: Exception, context: dict[str, Any]) -> Response | None:
    """Answer any expected error as problem JSON; others go on to be a plain 500."""
    if isinstance(error, DatabaseError):
        error = said_by_the_database(error) or error
    response = exception_handler(error, context)
    if isinstance(error, UnreachableError):
        body = problem(503, code=error.code, detail=error.message)
    elif isinstance(error, ConflictError):
        body = problem(409, code=error.code, detail=error.message, field=error.field)
    elif isinstance(error, NubletError):
        body = problem(400, code=error.code, detail=error.message, field=error.field)
    elif response is None:
        return None
    elif isinstance(error, exceptions.ValidationError):
        field, detail = _first_complaint(error.detail)
        body = problem(400, code="invalid", detail=detail, field=field)
    elif isinstance(error, Http404 | exceptions.NotFound):
        body = problem(
            404, code="not_found", detail="It does not exist, or it is not yours to see. Go back to the list."
        )
    elif isinstance(error, exceptions.NotAuthenticated | exceptions.AuthenticationFailed):
        body = problem(
            401, code="signed_out", detail="You are signed out. Sign in to go on; nothing is lost."
        )
    elif isinstance(error, PermissionDenied | exceptions.PermissionDenied):
        body = problem(403, code="forbidden", detail=_words(error) or "You may not do this.")
    else:
        body = problem(
            response.status_code, code=getattr(error, "default_code", "error"), detail=_words(error)
        )
    return Response(
        body,
        status=body["status"],
        content_type="application/problem+json",
        headers=None if response is None else dict(response.headers),
    )


_DUPLICATE, _UNREACHABLE = 1062, frozenset({1040, 1053, 1927, 2002, 2003, 2006, 2013})
_CHECK_FAILED = 4025


class UnreachableError(NubletError):
    """The database does not answer."""

    code = "database_gone"


def said_by_the_database(error: DatabaseError) -> NubletError | None:
    """What a refusal of the database means to a person; ``None`` for what is a fault of ours.

    A rule of the database that keeps a second of the same kind out means that two did the same at once; another rule, or a
    value that does not fit, that something was entered that cannot be kept.
    """
    number = error.args[0] if error.args and isinstance(error.args[0], int) else 0
    if isinstance(error, InterfaceError) or number in _UNREACHABLE:
        return UnreachableError(
            "The database does not answer just now. What you entered is kept in this browser; try again in a moment."
        )
    if isinstance(error, IntegrityError) and number == _DUPLICATE:
        return ConflictError(
            "Somebody did the same at the same moment, and theirs was kept. Load the page again and look."
        )
    if isinstance(error, IntegrityError | DataError) or number == _CHECK_FAILED:
        return NubletError(
            "Something that was sent cannot be kept: a value is too long or out of range. Check it."
        )
    return None


def _words(error: Exception) -> str:
    return str(getattr(error, "detail", "") or error)


def _first_complaint(detail: Any, path: str = "") -> tuple[str | None, str]:
    """The first leaf of a validation error, with its dotted path."""
    if isinstance(detail, dict):
        key, value = next(iter(detail.items()))
        step = "" if key == "non_field_errors" else str(key)
        return _first_complaint(value, ".".join(part for part in (path, step) if part))
    if isinstance(detail, list):
        for index, item in enumerate(detail):
            if isinstance(item, dict | list) and item:
                return _first_complaint(item, f"{path}.{index}" if path else str(index))
            if not isinstance(item, dict | list):
                return path or None, f"{path}: {item}" if path else str(item)
    return path or None, str(detail)
