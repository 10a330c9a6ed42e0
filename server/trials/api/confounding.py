"""One thing at a time: looked at while the treatments are being typed, before anything is kept."""

from __future__ import annotations

from typing import Any, cast

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.protocol.confounding import Mixed, compared, mixed, name_of, worth_knowing
from apercu_core.trial.cover import cautions_about
from apercu_core.trial.descriptions import ASPECTS
from apercu_core.units import System
from apercu_core.words import listed
from crew.models import Person, Workspace
from library.species import species_in
from trials.api import description_shapes as shapes
from trials.descriptions import cover_of, described_treatments, kept_details, typed_rate
from trials.own_controls import own_controls


class AspectsView(APIView):
    @extend_schema(responses=shapes.AspectOut(many=True))
    def get(self, request: Request) -> Response:
        """What can be said of a treatment, and what a factor can change."""
        found = [
            {"key": key, "name": name, "factor": key in shapes.FACTOR_KINDS,
             "said": key not in ("species", "cultivar", "rate", "phase")}
            for key, name in ASPECTS.items()
        ]  # fmt: skip
        return Response(shapes.AspectOut(found, many=True).data)


class ConfoundingView(APIView):
    @extend_schema(request=shapes.ConfoundingIn, responses=shapes.ConfoundingOut)
    def post(self, request: Request) -> Response:
        """Every pair that the question compares, for a second difference; nothing is kept."""
        person = cast(Person, request.user)
        given = shapes.ConfoundingIn(data=request.data)
        given.is_valid(raise_exception=True)
        data = given.validated_data
        workspace = get_object_or_404(Workspace.objects.visible_to(person), id=data["workspace"])
        species, system = species_in(workspace), cast(System, person.units)
        by_id = {str(t["id"]): t for t in data["treatments"]}  # names may be typed twice while they are typed
        kept = {id: kept_details(t["details"], system, t["name"]) for id, t in by_id.items()}
        told = described_treatments([(id, t["levels"], kept[id]) for id, t in by_id.items()], data["factors"], species)
        controls = [id for id, t in by_id.items() if t["is_control"]]
        names = {id: str(t["name"]) for id, t in by_id.items()}
        own = own_controls({id: t["levels"] for id, t in by_id.items()}, data["factors"])
        pairs = compared(list(by_id), controls, own)
        found = [_mixed_json(one, names, system) for one in mixed(told, pairs) if not one.through]
        cautions = [
            {"treatment": id, "said": said} for id in by_id if (said := cautions_about(cover_of(kept[id], species)))
        ]
        worth = [_named(said, names) for said in worth_knowing(told)]
        return Response(shapes.ConfoundingOut({"mixed": found, "cautions": cautions, "worth_knowing": worth}).data)


def _named(text: str, names: dict[str, str]) -> str:
    """A sentence about treatments by their ids, with their names."""
    for id, name in names.items():
        text = text.replace(id, name)
    return text


def _mixed_json(one: Mixed, names: dict[str, str], system: System) -> dict[str, Any]:
    base, treatment = names[one.base], names[one.treatment]

    return {
        "base": one.base, "treatment": one.treatment,
        "said": f"{base} and {treatment} differ in {listed([name_of(aspect) for aspect in one.aspects])} at once.",
        "offers": [
            {"kind": o.kind, "aspect": o.aspect, "like": o.like, "other": o.other, "said": _named(o.said, names),
             "value": o.value,
             "rates": [typed_rate(rate, system) for rate in o.rates_kg_ha]}
            for o in one.offers
        ],
        "remark": one.remark,
    }  # fmt: skip
