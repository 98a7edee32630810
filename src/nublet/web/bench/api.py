"""HTTP for the bench days. Keepers only, but for what is due, of which a judge's list is empty."""

from __future__ import annotations

from django.http import HttpResponse
from django.utils.text import slugify
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.exceptions import ValidationError
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.web.api.sign_in import person_of
from nublet.web.bench import actions, asking, mix_actions, plan_actions, serializers, shop_serializers
from nublet.web.bench.bench_actions import set_bench
from nublet.web.bench.bench_selectors import read_instrument, view_bench
from nublet.web.bench.cups import shop_for_trial
from nublet.web.bench.due import list_due
from nublet.web.bench.log import view_log
from nublet.web.bench.planner import make_plan
from nublet.web.bench.pour_actions import make_pour
from nublet.web.bench.selectors import view_days
from nublet.web.bench.sheets import ask_for_day_sheet, calendar_of
from nublet.web.bench.shopping_serializers import ShoppingSerializer
from nublet.web.jobs.api import JobSerializer
from nublet.web.trials.api import REFUSED
from nublet.web.trials.selectors import find_trial


class BenchView(APIView):
    """The shop's bench."""

    acts = {"get": "see_bench", "patch": "set_bench"}

    @extend_schema(responses={200: shop_serializers.BenchSerializer, **REFUSED})
    def get(self, request: Request) -> Response:
        """Show hands, hours, places, blocks and instruments."""
        return Response(shop_serializers.BenchSerializer(view_bench(person_of(request))).data)

    @extend_schema(
        request=shop_serializers.BenchFieldsSerializer,
        responses={200: shop_serializers.BenchSerializer, **REFUSED},
    )
    def patch(self, request: Request) -> Response:
        """Change what is given."""
        form = shop_serializers.BenchFieldsSerializer(data=request.data, partial=True)
        form.is_valid(raise_exception=True)
        # A part may be left out, but what is in it is whole.
        sent = request.data if isinstance(request.data, dict) else {}
        whole = {
            "hands": shop_serializers.HandsSerializer,
            "instruments": shop_serializers.InstrumentSerializer,
        }
        for name, shape in whole.items():
            if name in form.validated_data:
                inner = shape(data=sent[name], many=True)
                if not inner.is_valid():
                    raise ValidationError({name: inner.errors})
        fields = dict(form.validated_data)
        if "instruments" in fields:
            fields["instruments"] = {each["kind"]: each["address"] for each in fields["instruments"]}
        set_bench(person_of(request), fields)
        return Response(shop_serializers.BenchSerializer(view_bench(person_of(request))).data)


class InstrumentReadingView(APIView):
    """One reading of an instrument."""

    acts = {"post": "read_instrument"}

    @extend_schema(request=None, responses={200: shop_serializers.ReadingQuantitySerializer, **REFUSED})
    def post(self, request: Request, kind: str) -> Response:
        """Ask an instrument for a reading; what is wrong with it is said, and the value can be typed."""
        found = read_instrument(person_of(request), kind)
        return Response(shop_serializers.ReadingQuantitySerializer(found).data)


class DueView(APIView):
    """What is due."""

    acts = {"get": "see_due"}

    @extend_schema(responses={200: serializers.DueSerializer})
    def get(self, request: Request) -> Response:
        """List what is due now and in the next hours, with the server's time."""
        return Response(serializers.DueSerializer(list_due(person_of(request))).data)


class DaysView(APIView):
    """A trial's bench days."""

    acts = {"get": "see_days"}

    @extend_schema(
        parameters=[serializers.DaysQuerySerializer], responses={200: serializers.DaysSerializer, **REFUSED}
    )
    def get(self, request: Request, trial_id: int) -> Response:
        """Show some days with all that is on them."""
        query = serializers.DaysQuerySerializer(data=request.query_params)
        query.is_valid(raise_exception=True)
        found = view_days(find_trial(person_of(request), trial_id), **query.validated_data)
        return Response(serializers.DaysSerializer(found).data)


class PlanView(APIView):
    """Making a plan."""

    acts = {"post": "plan_days", "delete": "plan_days"}

    @extend_schema(
        request=serializers.AskForPlanSerializer, responses={202: serializers.DaysSerializer, **REFUSED}
    )
    def post(self, request: Request, trial_id: int) -> Response:
        """Begin to make a plan in the background, afresh or from now."""
        form = serializers.AskForPlanSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        asked = dict(form.validated_data)
        start = asking.check_start(asked.pop("start", None))
        asking.ask_for_plan(person_of(request), trial_id, start_at=start, enqueue=make_plan.enqueue, **asked)
        return _answer(request, trial_id, status.HTTP_202_ACCEPTED)

    @extend_schema(responses={202: serializers.DaysSerializer, **REFUSED})
    def delete(self, request: Request, trial_id: int) -> Response:
        """Stop the planner; the best plan so far is kept."""
        plan_actions.stop_plan(person_of(request), trial_id)
        return _answer(request, trial_id, status.HTTP_202_ACCEPTED)


class WorkEntriesView(APIView):
    """The log's entries."""

    acts = {"post": "log_work"}

    @extend_schema(
        request=serializers.NewWorkEntrySerializer,
        responses={200: serializers.StandingWorkSerializer(many=True), **REFUSED},
    )
    def post(self, request: Request, trial_id: int) -> Response:
        """Begin, end, skip, measure or take back; answers with what stands."""
        form = serializers.NewWorkEntrySerializer(data=request.data)
        form.is_valid(raise_exception=True)
        rows = actions.enter_work(person_of(request), trial_id, actions.BenchEntry(**form.validated_data))
        return Response(serializers.StandingWorkSerializer(rows, many=True).data)


class ShoppingView(APIView):
    """What to buy."""

    acts = {"get": "see_trial"}

    @extend_schema(responses={200: ShoppingSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Choose the cheapest containers for what will be mixed."""
        found = shop_for_trial(find_trial(person_of(request), trial_id))
        return Response(ShoppingSerializer(found).data)


class MixesView(APIView):
    """Mixes."""

    acts = {"post": "make_mix"}

    @extend_schema(
        request=serializers.NewMixSerializer, responses={201: serializers.MixSerializer, **REFUSED}
    )
    def post(self, request: Request, trial_id: int) -> Response:
        """Write a mix down: its pot life counts from now."""
        form = serializers.NewMixSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        mix = mix_actions.mix_for(person_of(request), trial_id, **form.validated_data)
        return Response(serializers.MixSerializer(mix).data, status=status.HTTP_201_CREATED)


class MixView(APIView):
    """One mix."""

    acts = {"delete": "make_mix"}

    @extend_schema(responses={200: serializers.MixSerializer, **REFUSED})
    def delete(self, request: Request, trial_id: int, mix_id: int) -> Response:
        """Say that it is used up or thrown away."""
        mix = mix_actions.empty_mix(person_of(request), trial_id, mix_id)
        return Response(serializers.MixSerializer(mix).data)


class PoursView(APIView):
    """Pours."""

    acts = {"post": "log_work"}

    @extend_schema(
        request=serializers.NewPourSerializer, responses={201: serializers.PourSerializer, **REFUSED}
    )
    def post(self, request: Request, trial_id: int) -> Response:
        """Write down a brew, a bottle or a heating."""
        form = serializers.NewPourSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        pour = make_pour(person_of(request), trial_id, **form.validated_data)
        return Response(serializers.PourSerializer(pour).data, status=status.HTTP_201_CREATED)


class LogView(APIView):
    """The log."""

    acts = {"get": "see_days"}

    @extend_schema(responses={200: serializers.BenchLogSerializer, **REFUSED})
    def get(self, request: Request, trial_id: int) -> Response:
        """Show what was weighed, what was done, and what went otherwise."""
        found = view_log(find_trial(person_of(request), trial_id))
        return Response(serializers.BenchLogSerializer(found).data)


class CalendarView(APIView):
    """The plan as a calendar."""

    acts = {"get": "see_days"}

    @extend_schema(responses={(200, "text/calendar"): OpenApiTypes.BINARY, **REFUSED})
    def get(self, request: Request, trial_id: int) -> HttpResponse:
        """Give the due times as iCalendar."""
        trial = find_trial(person_of(request), trial_id)
        return _file(calendar_of(trial), "text/calendar; charset=utf-8", f"{slugify(trial.name)}-bench.ics")


class DaySheetView(APIView):
    """The days on paper."""

    acts = {"post": "ask_for_paper"}

    @extend_schema(request=serializers.AskForDaySheetSerializer, responses={202: JobSerializer, **REFUSED})
    def post(self, request: Request, trial_id: int) -> Response:
        """Ask for one day, or all, to print."""
        form = serializers.AskForDaySheetSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        job = ask_for_day_sheet(person_of(request), trial_id, **form.validated_data)
        return Response(JobSerializer(job).data, status=status.HTTP_202_ACCEPTED)


def _file(content: bytes, media: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=media)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def _answer(request: Request, trial_id: int, code: int) -> Response:
    found = view_days(find_trial(person_of(request), trial_id))
    return Response(serializers.DaysSerializer(found).data, status=code)
