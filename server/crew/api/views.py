"""Signing in and out."""

from __future__ import annotations

from typing import cast

from django.contrib.auth import authenticate, login, logout
from django.utils.decorators import method_decorator
from django.views.decorators.csrf import csrf_protect, ensure_csrf_cookie
from drf_spectacular.utils import extend_schema
from rest_framework import exceptions, status
from rest_framework.permissions import AllowAny, IsAuthenticated
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.amounts import temperature_unit
from apercu_core.units import System, shown_in
from crew import throttle
from crew.actions import prefer_units
from crew.api.serializers import Preferences, SessionOut, SignIn
from crew.models import Person


def _out(person: Person) -> Response:
    memberships = person.memberships.select_related("workspace").order_by("workspace__name", "id")
    shape = {
        "name": person.name, "email": person.email, "units": person.units, "memberships": memberships,
        "temperature_unit": temperature_unit(cast(System, person.units)),
        "rate_unit": shown_in("kg/ha", cast(System, person.units))[0],
    }  # fmt: skip
    return Response(SessionOut(shape).data)


class SessionView(APIView):
    def get_permissions(self) -> list[AllowAny | IsAuthenticated]:
        return [AllowAny()] if self.request.method == "POST" else [IsAuthenticated()]

    @extend_schema(responses=SessionOut)
    @method_decorator(ensure_csrf_cookie)
    def get(self, request: Request) -> Response:
        """Who is signed in."""
        return _out(cast(Person, request.user))

    @extend_schema(request=SignIn, responses=SessionOut)
    @method_decorator(csrf_protect)
    def post(self, request: Request) -> Response:
        """Sign in. After some failures the next try has to wait, longer each time."""
        given = SignIn(data=request.data)
        given.is_valid(raise_exception=True)
        email = given.validated_data["email"].lower()
        django_request = request._request
        limits = throttle.limits_of(django_request, email)
        throttle.require_no_wait(limits)
        with throttle.hashing():
            person = authenticate(django_request, email=email, password=given.validated_data["password"])
        if person is None:
            throttle.note_failure(limits)
            raise exceptions.AuthenticationFailed("E-mail and password don’t match. Try again.", "wrong-password")
        throttle.note_success(limits)
        login(django_request, person)
        answer = _out(person)
        throttle.know_device(django_request, answer, email)
        return answer

    @extend_schema(request=Preferences, responses=SessionOut)
    def patch(self, request: Request) -> Response:
        """Change what the signed-in person prefers, on every machine."""
        given = Preferences(data=request.data)
        given.is_valid(raise_exception=True)
        return _out(prefer_units(cast(Person, request.user), given.validated_data["units"]))

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        return Response(status=status.HTTP_204_NO_CONTENT)
