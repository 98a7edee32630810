"""HTTP for the calculators and the units on screen. They keep nothing and know no trial."""

from __future__ import annotations

from typing import Any

from django.http import Http404
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from nublet.core.calculators.declare import Answer, ChoiceInput, Figure, NumberInput, TableInput, TextInput
from nublet.core.calculators.shipped import CALCULATORS
from nublet.web.api.errors import ProblemSerializer
from nublet.web.api.plain import shown
from nublet.web.api.prose import ProseField
from nublet.web.api.units import ScreenUnit, screen_units


class OptionSerializer(serializers.Serializer[Any]):
    """One of a few choices."""

    id = serializers.CharField()
    name = serializers.CharField()


class ColumnSerializer(serializers.Serializer[Any]):
    """A number, text or choice that a calculator asks for; what does not apply is null."""

    kind = serializers.ChoiceField(choices=["number", "choice", "text"])
    name = serializers.CharField()
    label = serializers.CharField()  # type: ignore[assignment]
    hint = serializers.CharField()
    quantity = serializers.CharField(allow_null=True)
    default = serializers.JSONField()
    low = serializers.FloatField(allow_null=True)
    high = serializers.FloatField(allow_null=True)
    shown_when = serializers.ListField(child=serializers.CharField(), allow_null=True)
    options = OptionSerializer(many=True)


class CalculatorInputSerializer(ColumnSerializer):
    """The same, or a table with columns."""

    kind = serializers.ChoiceField(choices=["number", "choice", "text", "table"])
    columns = ColumnSerializer(many=True)
    fewest = serializers.IntegerField()


class CalculatorSerializer(serializers.Serializer[Any]):
    """A calculator: what it asks, its formula and source."""

    id = serializers.CharField()
    name = serializers.CharField()
    question = serializers.CharField()
    formula = serializers.CharField()
    source = serializers.CharField()  # type: ignore[assignment]
    inputs = CalculatorInputSerializer(many=True)


FigureSerializer = shown(Figure, quantity=serializers.CharField())


class AnswerColumnSerializer(serializers.Serializer[Any]):
    """A column of an answer's table; the quantity is "words" for texts."""

    label = serializers.CharField()  # type: ignore[assignment]
    quantity = serializers.CharField()


class AnswerTableSerializer(serializers.Serializer[Any]):
    """Rows of an answer."""

    title = serializers.CharField()
    columns = AnswerColumnSerializer(many=True)
    rows = serializers.ListField(child=serializers.ListField(child=serializers.JSONField()))


class AnswerSerializer(serializers.Serializer[Any]):
    """What a calculator answers."""

    figures = FigureSerializer(many=True)
    tables = AnswerTableSerializer(many=True)
    notes = serializers.ListField(child=ProseField())


class AskSerializer(serializers.Serializer[Any]):
    """Values for a calculator's inputs by name; what is missing takes its default."""

    values = serializers.DictField()


ScreenUnitSerializer = shown(ScreenUnit)


class CalculatorsView(APIView):
    """The calculators."""

    acts = {"get": "calculate"}

    @extend_schema(responses={200: CalculatorSerializer(many=True)})
    def get(self, request: Request) -> Response:
        """List the calculators with what each asks."""
        listed = [
            {
                "id": one.id,
                "name": one.name,
                "question": one.question,
                "formula": one.formula,
                "source": one.source,
                "inputs": [_describe(entry) for entry in one.inputs],
            }
            for one in CALCULATORS.values()
        ]
        return Response(CalculatorSerializer(listed, many=True).data)


class CalculatorView(APIView):
    """One calculator."""

    acts = {"post": "calculate"}

    @extend_schema(
        request=AskSerializer,
        responses={200: AnswerSerializer, 400: ProblemSerializer, 404: ProblemSerializer},
    )
    def post(self, request: Request, calculator_id: str) -> Response:
        """Compute an answer."""
        if calculator_id not in CALCULATORS:
            raise Http404
        form = AskSerializer(data=request.data)
        form.is_valid(raise_exception=True)
        answer = CALCULATORS[calculator_id].answer(form.validated_data["values"])
        return Response(AnswerSerializer(_plain_answer(answer)).data)


class UnitsView(APIView):
    """The units on screen."""

    acts = {"get": "see_units"}

    @extend_schema(responses={200: ScreenUnitSerializer(many=True)})
    def get(self, request: Request) -> Response:
        """List every quantity with its metric and its US unit."""
        return Response(ScreenUnitSerializer(list(screen_units().values()), many=True).data)


def _describe(one: NumberInput | ChoiceInput | TextInput | TableInput) -> dict[str, Any]:
    described: dict[str, Any] = {
        "kind": one.kind,
        "name": one.name,
        "label": one.label,
        "hint": "",
        "quantity": None,
        "default": one.default,
        "low": None,
        "high": None,
        "shown_when": None,
        "options": [],
        "columns": [],
        "fewest": 0,
    }
    if isinstance(one, NumberInput):
        own = ("hint", "quantity", "low", "high", "shown_when")
        return described | {name: getattr(one, name) for name in own}
    if isinstance(one, ChoiceInput):
        options = [{"id": option, "name": words} for option, words in one.options]
        return described | {"hint": one.hint, "options": options}
    if isinstance(one, TableInput):
        columns = [_describe(column) for column in one.columns]
        return described | {"hint": one.hint, "columns": columns, "fewest": one.fewest}
    return described


def _plain_answer(answer: Answer) -> dict[str, Any]:
    tables = [
        {
            "title": table.title,
            "columns": [{"label": label, "quantity": quantity} for label, quantity in table.columns],
            "rows": table.rows,
        }
        for table in answer.tables
    ]
    return {"figures": answer.figures, "tables": tables, "notes": answer.notes}
