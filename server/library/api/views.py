"""The catalogue of measures and sheets, as the core has it, and the rules of entries for devices."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.measures.catalogue import CATALOGUE, Definition
from apercu_core.measures.rules import bundle
from apercu_core.measures.sheets import SHEETS, Sheet
from apercu_core.words import difference_unit
from config.dataclass_shapes import Shape


class SheetOut(Shape):
    class Meta:
        dataclass = Sheet


class DefinitionOut(Shape):
    difference_unit = serializers.SerializerMethodField()
    settings = serializers.DictField(child=serializers.FloatField())
    spread_basis = serializers.CharField()

    class Meta:
        dataclass = Definition

    def get_difference_unit(self, one: Definition) -> str:
        return difference_unit(one.unit)


class CatalogueOut(serializers.Serializer[Any]):
    measures = DefinitionOut(many=True)
    sheets = SheetOut(many=True)


class CatalogueView(APIView):
    @extend_schema(responses=CatalogueOut)
    def get(self, request: Request) -> Response:
        """Measures that ship with the application, and the sheets that values are typed into.

        Settings that only readers of US units use aren't asked of others.
        """
        us = request.user.units == "us"  # type: ignore[union-attr]
        sheets = [replace(s, settings=tuple(x for x in s.settings if us or not x.optional)) for s in SHEETS.values()]
        return Response(CatalogueOut({"measures": list(CATALOGUE.values()), "sheets": sheets}).data)


class RulesOut(serializers.Serializer[Any]):
    """`hash`: of all the rest; `number`: the pattern of numbers that a device reads; `messages`: what is said of
    values, with names in braces that are filled in.
    """

    format = serializers.IntegerField()
    hash = serializers.CharField()
    number = serializers.CharField()
    messages = serializers.DictField(child=serializers.CharField())
    sheets = SheetOut(many=True)
    measures = serializers.ListField(child=serializers.DictField())


class RulesView(APIView):
    @extend_schema(responses=RulesOut)
    def get(self, request: Request) -> Response:
        """The rules of entries as data, for devices that check values without a network; its ETag is their hash."""
        rules = bundle()
        etag = f'"{rules["hash"]}"'
        known = etag in request.headers.get("If-None-Match", "")
        return Response(None if known else rules, status=304 if known else 200, headers={"ETag": etag})
