"""Shapes of the session."""

from typing import get_args

from drf_spectacular.utils import extend_schema_field
from rest_framework import serializers

from crew.models import Membership, Role, UnitSystem
from crew.permissions import MAY, Act


class MembershipOut(serializers.Serializer[object]):
    workspace = serializers.UUIDField(source="workspace_id")
    name = serializers.CharField(source="workspace.name")
    role = serializers.ChoiceField(choices=Role.choices)
    may = serializers.SerializerMethodField(help_text="What the person may do there.")

    @extend_schema_field(serializers.ListField(child=serializers.ChoiceField(choices=get_args(Act))))
    def get_may(self, membership: Membership) -> list[str]:
        return sorted(MAY[membership.role])


class SessionOut(serializers.Serializer[object]):
    name = serializers.CharField()
    email = serializers.EmailField()
    units = serializers.ChoiceField(choices=UnitSystem.choices)
    temperature_unit = serializers.CharField()
    rate_unit = serializers.CharField(help_text="Of seed rates.")
    memberships = MembershipOut(many=True)


class SignIn(serializers.Serializer[object]):
    email = serializers.EmailField()
    password = serializers.CharField(trim_whitespace=False)


class Preferences(serializers.Serializer[object]):
    units = serializers.ChoiceField(choices=UnitSystem.choices)
