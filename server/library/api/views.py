"""The catalogue of measures and sheets, as the core has it."""

from __future__ import annotations

from typing import Any

from drf_spectacular.utils import extend_schema, extend_schema_field
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.measures.catalogue import CATALOGUE, Definition
from apercu_core.measures.sheets import SHEETS, Sheet
from apercu_core.words import difference_unit


class SettingOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField(allow_blank=True)
    usual = serializers.FloatField(allow_null=True)
    least = serializers.FloatField()
    most = serializers.FloatField()
    hint = serializers.CharField(allow_blank=True)


class SheetOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    formula = serializers.CharField()
    sampled = serializers.BooleanField()
    settings = serializers.SerializerMethodField()

    @extend_schema_field(SettingOut(many=True))
    def get_settings(self, sheet: Sheet) -> Any:
        """Those that only readers of US units use aren't asked of others."""
        us = self.context["request"].user.units == "us"
        return SettingOut([s for s in sheet.settings if us or not s.optional], many=True).data


class DefinitionOut(serializers.Serializer[Any]):
    key = serializers.CharField()
    name = serializers.CharField()
    unit = serializers.CharField()
    difference_unit = serializers.SerializerMethodField()
    sheet = serializers.CharField(source="sheet_key")
    settings = serializers.DictField(child=serializers.FloatField())
    direction = serializers.ChoiceField(choices=("higher", "lower", "none"))
    usual = serializers.FloatField()
    cv_percent = serializers.FloatField()
    spread_basis = serializers.CharField()
    depends = serializers.CharField(allow_blank=True)
    pitfall = serializers.CharField()

    def get_difference_unit(self, one: Definition) -> str:
        return difference_unit(one.unit)


class CatalogueOut(serializers.Serializer[Any]):
    measures = DefinitionOut(many=True)
    sheets = SheetOut(many=True)


class CatalogueView(APIView):
    @extend_schema(responses=CatalogueOut)
    def get(self, request: Request) -> Response:
        """Measures that ship with the application, and the sheets that values are typed into."""
        shape = {"measures": CATALOGUE.values(), "sheets": SHEETS.values()}
        return Response(CatalogueOut(shape, context={"request": request}).data)
