"""The species guide and the mix builder."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any, cast
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from apercu_core.amounts import amounts_in
from apercu_core.errors import Refused
from apercu_core.species.carried import parts_of
from apercu_core.species.crops import CROPS
from apercu_core.species.fitting import SpeciesFit, ranked
from apercu_core.species.in_units import shown_cell, stored_cell, unit_in
from apercu_core.species.mix_parts import Part
from apercu_core.species.mixing import Mix, Step, additive_series, full_rate, mixed, replacement_series
from apercu_core.species.record import FIELDS, SERVICES, SOURCES, Species, Value
from apercu_core.species.sheet import shown, to_csv
from apercu_core.species.wish import Frosts, Wish, frosts_around
from apercu_core.units import System, shown_in
from crew.models import Person, Workspace
from crew.page_units import system_of
from library.api import species_shapes as shapes
from library.species import cells_of, forget_species, keep_species, species_in, species_named, take_in

MOST_BYTES = 2_000_000
RATE = "kg/ha"


def _workspace(request: Request, id: UUID) -> Workspace:
    person = cast(Person, request.user)
    return get_object_or_404(Workspace.objects.visible_to(person), id=id)


def _lines(value: Value) -> list[str]:
    """A value as it is read on screen, pests and dangers each on a line."""
    if isinstance(value, tuple):
        return [shown(value).replace("-", "−")]
    return [part.replace("->", "→") for part in parts_of(shown(value))]


def _species_json(one: Species, system: System) -> dict[str, Any]:
    facts = [
        {
            "field": key, "text": shown_cell(FIELDS[key], shown(fact.value), system), "source": fact.source,
            "cited": fact.cited, "lines": [shown_cell(FIELDS[key], line, system) for line in _lines(fact.value)],
        }
        for key, fact in one.facts.items()
    ]  # fmt: skip
    return {"key": one.key, "name": one.name, "own": one.own, "facts": facts}


def _fit_json(fit: SpeciesFit, system: System) -> dict[str, Any]:
    def said(texts: Sequence[str]) -> list[str]:
        return [amounts_in(text, system) for text in texts]

    return {
        "key": fit.species.key, "name": fit.species.name, "own": fit.species.own, "score": fit.score,
        "out": said(fit.out), "unknown": said(fit.unknown), "notes": said(fit.notes), "partners": fit.partners,
        "costs": [{"points": cost.points, "text": amounts_in(cost.text, system)} for cost in fit.costs],
        "why": [
            {"service": SERVICES[r.service], "rating": r.rating, "weight": r.weight, "why": amounts_in(r.why, system)}
            for r in fit.why
        ],
    }  # fmt: skip


class SpeciesView(APIView):
    @extend_schema(responses=shapes.GuideOut)
    def get(self, request: Request, id: UUID) -> Response:
        """All species of a workspace, shipped and own, with the fields that a record has."""
        species, system = species_in(_workspace(request, id)).values(), system_of(request)
        shape = {
            "fields": [replace(field, unit=unit_in(field, system)) for field in FIELDS.values()],
            "crops": list(CROPS), "purposes": _purposes(),
            "species": [_species_json(one, system) for one in sorted(species, key=lambda s: s.name)],
            "sources": [{"key": key, "cited": cited} for key, cited in SOURCES.items()],
        }  # fmt: skip
        return Response(shapes.GuideOut(shape).data)


def _purposes() -> list[dict[str, str]]:
    return [{"key": key, "label": label} for key, label in SERVICES.items()]


class FitView(APIView):
    @extend_schema(request=shapes.WishIn, responses=shapes.SpeciesFitOut(many=True))
    def post(self, request: Request, id: UUID) -> Response:
        """Species for a purpose and a place: what fits, ranked; what can't be judged; what can't work."""
        workspace = _workspace(request, id)
        given = shapes.WishIn(data=request.data, context={"request": request})
        given.is_valid(raise_exception=True)
        data = dict(given.validated_data)
        sown, first, last = data.pop("sown"), data.pop("first_frost"), data.pop("last_frost")
        for crop in ("before", "after"):
            data[crop] = (data[crop],) if data[crop] else ()
        frosts = frosts_around(sown, first, last) if sown else Frosts()
        wish = Wish(frosts=frosts, **(data | {"ways": tuple(data["ways"])}))
        fits = ranked(species_in(workspace).values(), wish)
        return Response(shapes.SpeciesFitOut([_fit_json(fit, system_of(request)) for fit in fits], many=True).data)


class MixView(APIView):
    @extend_schema(request=shapes.MixIn, responses=shapes.MixOut)
    def post(self, request: Request, id: UUID) -> Response:
        """What a mix is: rates and shares three ways, what partners do, and ladders from its first two species."""
        workspace = _workspace(request, id)
        given = shapes.MixIn(data=request.data)
        given.is_valid(raise_exception=True)
        data, system = given.validated_data, system_of(request)
        rate = shown_in(RATE, system)[1]
        parts = [_part(workspace, one, data["broadcast"], rate) for one in data["parts"]]
        total = data["total"] if data["total"] is None else data["total"] / rate
        mix = mixed(parts, data["way"], total, data["weights"], data["stage"])
        pair = len(parts) > 1 and all(part.full for part in parts[:2])
        ladders = {
            "replacement": replacement_series(parts[0], parts[1], data["steps"]) if pair else [],
            "additive": additive_series(parts[0], parts[1], data["steps"]) if pair else [],
        }
        return Response(shapes.MixOut(_mix_json(mix, parts, ladders, system)).data)


def _part(workspace: Workspace, given: dict[str, Any], broadcast: bool, rate: float) -> Part:
    """`rate`: from kg/ha to the unit that the full rate is typed in."""
    species = species_named(workspace, given["key"])
    full, tkw = given["full"], given["tkw"]
    return Part(
        species, given["share"] or 0.0,
        full_rate(species, broadcast=broadcast) if full is None else full / rate,
        species.middle("tkw") if tkw is None else tkw,
    )  # fmt: skip


def _mix_json(mix: Mix, parts: list[Part], ladders: dict[str, list[Step]], system: System) -> dict[str, Any]:
    rate_unit, rate = shown_in(RATE, system)
    seeds_unit, seeds = shown_in("seeds/m²", system)

    def turned(value: float | None, factor: float) -> float | None:
        return None if value is None else value * factor

    components = [
        {
            "key": c.species.key, "name": c.species.name, "rate": c.rate * rate, "of_full": c.of_full,
            "of_mass": c.of_mass, "of_seeds": c.of_seeds, "seeds": turned(c.seeds, seeds),
            "full": turned(part.full, rate), "tkw": part.tkw,
            "brings": [SERVICES[s] for s in mix.brings[c.species.key]],
        }
        for c, part in zip(mix.components, parts, strict=True)
    ]  # fmt: skip
    steps = {
        kind: [{"name": s.name, "rates": [{"key": k, "rate": r * rate} for k, r in s.rates.items()]} for s in ladder]
        for kind, ladder in ladders.items()
    }
    return {
        "components": components, "total": mix.total * rate, "rate_unit": rate_unit, "seeds_unit": seeds_unit,
        "sum_of_full": mix.sum_of_full, "separation": amounts_in(mix.separation, system),
        "carbon_nitrogen": mix.carbon_nitrogen, "carbon_nitrogen_note": mix.carbon_nitrogen_note,
        "services": [{"service": SERVICES[s], "rating": r} for s, r in mix.services.items()],
        "notes": [amounts_in(note, system) for note in mix.notes], "enough": mix.enough, **steps,
    }  # fmt: skip


class OneSpeciesView(APIView):
    @extend_schema(request=shapes.CellsIn, responses=shapes.SpeciesOut)
    def put(self, request: Request, id: UUID, key: str) -> Response:
        """Keep an own record, as cells: `field` and `field_source`."""
        workspace = _workspace(request, id)
        given = shapes.CellsIn(data=request.data)
        given.is_valid(raise_exception=True)
        system, known = system_of(request), species_in(workspace).get(key)
        before = cells_of(known) if known else {}
        cells = {
            column: stored_cell(FIELDS[column], text, system, before.get(column, "")) if column in FIELDS else text
            for column, text in given.validated_data["cells"].items()
        }
        kept = keep_species(by=cast(Person, request.user), workspace=workspace, key=key, cells=cells)
        return Response(shapes.SpeciesOut(_species_json(kept, system)).data)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: UUID, key: str) -> Response:
        """Take an own record away."""
        forget_species(by=cast(Person, request.user), workspace=_workspace(request, id), key=key)
        return Response(status=204)


class SpeciesTableView(APIView):
    parser_classes = (MultiPartParser,)

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, id: UUID) -> HttpResponse:
        """All species as CSV, a column for each field and one for its source."""
        text = to_csv(species_in(_workspace(request, id)).values())
        return HttpResponse(
            text, content_type="text/csv; charset=utf-8",
            headers={"Content-Disposition": 'attachment; filename="species.csv"'},
        )  # fmt: skip

    @extend_schema(request={"multipart/form-data": shapes.TableIn}, responses=shapes.SpeciesOut(many=True))
    def post(self, request: Request, id: UUID) -> Response:
        """Take in own records from such a table: all of it, or nothing and every cell that is wrong."""
        workspace = _workspace(request, id)
        given = shapes.TableIn(data=request.data)
        given.is_valid(raise_exception=True)
        file = given.validated_data["file"]
        if file.size > MOST_BYTES:
            raise Refused("bad-value", f"The file has more than {MOST_BYTES // 1_000_000} MB: too large for species.")
        try:
            text = file.read().decode("utf-8-sig")
        except UnicodeDecodeError:
            raise Refused("not-a-table", "The file isn’t UTF-8 text. Save it as CSV (UTF-8), then try again.") from None
        taken = take_in(by=cast(Person, request.user), workspace=workspace, text=text)
        return Response(
            shapes.SpeciesOut([_species_json(one, system_of(request)) for one in taken], many=True).data, status=201
        )
