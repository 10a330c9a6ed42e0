"""Photographs as the API shows and takes them."""

from __future__ import annotations

from typing import Any

from rest_framework import serializers


class PhotographIn(serializers.Serializer[Any]):
    file = serializers.FileField(help_text="JPEG, PNG or WebP.")


class PhotographOut(serializers.Serializer[Any]):
    """`taken`: by the camera's clock; null where it said none."""

    id = serializers.UUIDField()
    width = serializers.IntegerField()
    height = serializers.IntegerField()
    taken = serializers.DateTimeField(allow_null=True)
    by = serializers.CharField(source="by.name")
