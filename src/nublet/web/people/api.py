"""HTTP for signing in and for people."""

from __future__ import annotations

from typing import Any

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.middleware.csrf import get_token
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.sign_in import person_of
from nublet.web.people.actions import (
    WrongPasswordError,
    add_person,
    change_own_password,
    change_person,
)
from nublet.web.people.models import Person, Role, SubjectKind
from nublet.web.people.selectors import read_audit
from nublet.web.people.turns import password_turns


class PersonSerializer(serializers.ModelSerializer[Person]):
    """A person as others in the shop see them."""

    class Meta:
        model = Person
        fields = ["id", "username", "display_name", "role", "is_active"]


class SessionSerializer(PersonSerializer):
    """Who is signed in, and where."""

    shop = serializers.CharField(source="shop.name")
    currency = serializers.CharField(source="shop.currency")
    keeps_key = serializers.BooleanField(read_only=True)

    class Meta(PersonSerializer.Meta):
        fields = [*PersonSerializer.Meta.fields, "shop", "currency", "keeps_key"]


class SignInSerializer(serializers.Serializer[Any]):
    """Sign-in name and password."""

    username = serializers.CharField(max_length=60)
    password = serializers.CharField(trim_whitespace=False, max_length=200)


class NewPersonSerializer(serializers.Serializer[Any]):
    """Someone to add."""

    username = serializers.RegexField(
        r"^[\w.-]+$",
        max_length=60,
        error_messages={"invalid": "Use letters, digits, dots, dashes and underscores."},
    )
    display_name = serializers.CharField(max_length=120)
    role = serializers.ChoiceField(choices=Role.choices)
    password = serializers.CharField(trim_whitespace=False, max_length=200)


class SessionView(APIView):
    """Sign in, sign out, and who is signed in."""

    acts = {"get": "use_session", "post": "use_session", "delete": "use_session"}

    @extend_schema(responses={200: SessionSerializer, 401: ProblemSerializer})
    def get(self, request: Request) -> Response:
        """Say who is signed in."""
        get_token(request)
        return Response(SessionSerializer(person_of(request)).data)

    @extend_schema(
        request=SignInSerializer,
        responses={200: SessionSerializer, 400: ProblemSerializer, 503: ProblemSerializer},
    )
    @method_decorator(csrf_protect)
    def post(self, request: Request) -> Response:
        """Sign in."""
        form = SignInSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        with password_turns.turn():
            person = authenticate(
                request._request,
                username=form.validated_data["username"].strip().lower(),
                password=form.validated_data["password"],
            )
        if not isinstance(person, Person):
            raise WrongPasswordError(
                "Sign-in name and password do not belong together. Check both and try again.",
                field="password",
            )
        login(request._request, person)
        return Response(SessionSerializer(person).data)

    @extend_schema(responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        return Response(status=status.HTTP_204_NO_CONTENT)


class PeopleView(APIView):
    """The people of the shop."""

    acts = {"get": "see_people", "post": "add_person"}

    @extend_schema(responses={200: PersonSerializer(many=True)})
    def get(self, request: Request) -> Response:
        """List the people of the shop."""
        people = Person.objects.filter(shop=person_of(request).shop_id).order_by("display_name")
        return Response(PersonSerializer(people, many=True).data)

    @extend_schema(request=NewPersonSerializer, responses={201: PersonSerializer, 400: ProblemSerializer})
    def post(self, request: Request) -> Response:
        """Add someone to the shop."""
        form = NewPersonSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = add_person(person_of(request), **form.validated_data)
        return Response(PersonSerializer(person).data, status=status.HTTP_201_CREATED)


class ChangedPersonSerializer(serializers.Serializer[Any]):
    """What to change about somebody; what is left out stays."""

    role = serializers.ChoiceField(choices=Role.choices, required=False)
    is_active = serializers.BooleanField(required=False)
    password = serializers.CharField(required=False, trim_whitespace=False, max_length=200)
    end_sessions = serializers.BooleanField(required=False)


class OwnPasswordSerializer(serializers.Serializer[Any]):
    """One's own password, as it is and as it shall be."""

    old = serializers.CharField(trim_whitespace=False, max_length=200)
    new = serializers.CharField(trim_whitespace=False, max_length=200)


class PersonView(APIView):
    """One person of the shop."""

    acts = {"patch": "change_person"}

    @extend_schema(
        request=ChangedPersonSerializer,
        responses={200: PersonSerializer, 400: ProblemSerializer, 404: ProblemSerializer},
    )
    def patch(self, request: Request, person_id: int) -> Response:
        """Change role, right to sign in or password, or end all sessions."""
        form = ChangedPersonSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        changed = change_person(person_of(request), person_id, form.validated_data)
        return Response(PersonSerializer(changed).data)


class OwnPasswordView(APIView):
    """One's own password."""

    acts = {"put": "change_own_password"}

    @extend_schema(request=OwnPasswordSerializer, responses={204: None, 400: ProblemSerializer})
    def put(self, request: Request) -> Response:
        """Change it; this session stays, every other ends."""
        form = OwnPasswordSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        person = change_own_password(person_of(request), **form.validated_data)
        update_session_auth_hash(request._request, person)
        return Response(status=status.HTTP_204_NO_CONTENT)


class AuditQuerySerializer(serializers.Serializer[Any]):
    """Of what, and before which entry."""

    subject_kind = serializers.ChoiceField(choices=SubjectKind.choices, required=False)
    subject_id = serializers.IntegerField(required=False)
    before = serializers.IntegerField(required=False)


class AuditLineSerializer(serializers.Serializer[Any]):
    """One change: who did what to which thing."""

    id = serializers.IntegerField(source="entry.pk")
    at = serializers.DateTimeField(source="entry.at")
    person = serializers.CharField(source="entry.person.display_name", default="")
    action = serializers.CharField(source="entry.action")
    says = serializers.CharField()
    subject_kind = serializers.ChoiceField(source="entry.subject_kind", choices=SubjectKind.choices)
    subject_id = serializers.IntegerField(source="entry.subject_id")
    details = serializers.DictField(source="entry.details")


class AuditPageSerializer(serializers.Serializer[Any]):
    """Some of the record; ``before`` asks for what came before it."""

    lines = AuditLineSerializer(many=True)
    before = serializers.IntegerField(allow_null=True)


class AuditView(APIView):
    """Who changed what in the shop."""

    acts = {"get": "see_audit"}

    @extend_schema(
        parameters=[AuditQuerySerializer], responses={200: AuditPageSerializer, 400: ProblemSerializer}
    )
    def get(self, request: Request) -> Response:
        """List what was changed, newest first, of one thing or all."""
        query = AuditQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        found = read_audit(person_of(request), **query.validated_data)
        return Response(AuditPageSerializer(found).data)
