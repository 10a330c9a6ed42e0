"""The catalogue of measures and sheets, as the core has it, and the rules of entries for devices."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, cast

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.amounts import amounts_in, shown_number
from apercu_core.glossary import GLOSSARY, OF_THE_CODE, Term
from apercu_core.measures.catalogue import CATALOGUE
from apercu_core.measures.definition import Definition
from apercu_core.measures.rules import bundle
from apercu_core.measures.sheet import Setting, Sheet
from apercu_core.measures.sheets import SHEETS
from apercu_core.units import System, shown_in
from apercu_core.words import difference_unit
from config.dataclass_shapes import Shape


class SheetOut(Shape):
    class Meta:
        dataclass = Sheet


class DefinitionOut(Shape):
    """`shown_unit`: of `usual`, in the units of the signed-in person, which texts are in too."""

    difference_unit = serializers.SerializerMethodField()
    shown_unit = serializers.SerializerMethodField()
    usual = serializers.SerializerMethodField()
    pitfall = serializers.SerializerMethodField()
    settings = serializers.DictField(child=serializers.FloatField())
    spread_basis = serializers.CharField()

    class Meta:
        dataclass = Definition
        exclude = ("example", "preset")

    def get_difference_unit(self, one: Definition) -> str:
        return difference_unit(self.get_shown_unit(one))

    def get_shown_unit(self, one: Definition) -> str:
        return shown_in(one.unit, self.context["system"])[0]

    def get_usual(self, one: Definition) -> float:
        return shown_number(one.usual, shown_in(one.unit, self.context["system"])[1])

    def get_pitfall(self, one: Definition) -> str:
        return amounts_in(one.pitfall, self.context["system"])


class CatalogueOut(serializers.Serializer[Any]):
    measures = DefinitionOut(many=True)
    sheets = SheetOut(many=True)


class CatalogueView(APIView):
    @extend_schema(responses=CatalogueOut)
    def get(self, request: Request) -> Response:
        """Measures that ship with the application, and the sheets that values are typed into, in the person's units.

        Settings that only readers of US units use aren't asked of others.
        """
        system = cast(System, request.user.units)  # type: ignore[union-attr]
        sheets = [
            replace(
                sheet,
                said=amounts_in(sheet.said, system),
                settings=tuple(_setting(one, system) for one in sheet.settings if system == "us" or not one.optional),
            )
            for sheet in SHEETS.values()
        ]
        shown = CatalogueOut({"measures": list(CATALOGUE.values()), "sheets": sheets}, context={"system": system})
        return Response(shown.data)


def _setting(one: Setting, system: System) -> Setting:
    """A setting in the reader's units."""
    unit, factor = shown_in(one.unit, system)
    usual = None if one.usual is None else shown_number(one.usual, factor)
    least, most = shown_number(one.least, factor), shown_number(one.most, factor)
    return replace(one, unit=unit, usual=usual, hint=amounts_in(one.hint, system), least=least, most=most)


class TermOut(Shape):
    """A term in plain words."""

    class Meta:
        dataclass = Term
        exclude = ("rooms",)


class GlossaryView(APIView):
    @extend_schema(responses=TermOut(many=True))
    def get(self, request: Request) -> Response:
        """Terms that a reader of the help may look up: those that only the code knows are left out."""
        terms = [term for term in GLOSSARY if term.name not in OF_THE_CODE]
        return Response(TermOut(sorted(terms, key=lambda term: term.name.casefold()), many=True).data)


class StandingRulesOut(serializers.Serializer[Any]):
    """Formulas that say how counts stand against a `threshold` and against what was `sown`; `given`: numbers that they
    name.
    """

    threshold = serializers.CharField()
    sown = serializers.CharField()
    messages = serializers.DictField(child=serializers.CharField())
    given = serializers.DictField(child=serializers.JSONField())


class RulesOut(serializers.Serializer[Any]):
    """`hash`: of all the rest; `number`: the pattern of numbers that a device reads; `messages`: what is said of
    values, with names in braces that are filled in.
    """

    format = serializers.IntegerField()
    hash = serializers.CharField()
    number = serializers.CharField()
    messages = serializers.DictField(child=serializers.CharField())
    sheets = SheetOut(many=True)
    standing = StandingRulesOut()
    measures = serializers.ListField(child=serializers.DictField())


class RulesView(APIView):
    @extend_schema(responses=RulesOut)
    def get(self, request: Request) -> Response:
        """The rules of entries as data, for devices that check values without a network; its ETag is their hash."""
        rules = bundle()
        etag = f'"{rules["hash"]}"'
        known = etag in request.headers.get("If-None-Match", "")
        return Response(None if known else rules, status=304 if known else 200, headers={"ETag": etag})
