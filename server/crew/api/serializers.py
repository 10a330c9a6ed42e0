"""Shapes of the session."""

from rest_framework import serializers

from crew.models import Role, UnitSystem


class MembershipOut(serializers.Serializer[object]):
    workspace = serializers.UUIDField(source="workspace_id")
    name = serializers.CharField(source="workspace.name")
    role = serializers.ChoiceField(choices=Role.choices)


class SessionOut(serializers.Serializer[object]):
    name = serializers.CharField()
    email = serializers.EmailField()
    units = serializers.ChoiceField(choices=UnitSystem.choices)
    memberships = MembershipOut(many=True)


class SignIn(serializers.Serializer[object]):
    email = serializers.EmailField()
    password = serializers.CharField(trim_whitespace=False)


class Preferences(serializers.Serializer[object]):
    units = serializers.ChoiceField(choices=UnitSystem.choices)
