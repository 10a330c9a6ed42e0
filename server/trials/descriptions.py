"""Treatments as described in Ask: their covers, what else is said of them, and what that makes of the comparisons."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Any, cast

from apercu_core.errors import Place, Refused
from apercu_core.species.mixing import full_rate
from apercu_core.species.record import Species
from apercu_core.trial.cover import Component, Cover, SeedSet
from apercu_core.trial.descriptions import ASPECTS, TreatmentDescription, describe_treatment
from apercu_core.units import System, parse_quantity, shown_in
from apercu_core.words import number
from library.species import species_in
from trials.models import Treatment, Trial

RATE = "kg/ha"


def kept_details(details: Mapping[str, Any], system: System, where: str) -> dict[str, Any]:
    """Details as they are stored: rates in kg/ha, what wasn't said left out.

    Raises `Refused` with the place of each rate that isn't one; `where`: the treatment's name.
    """
    wrong: list[Place] = []
    components = []
    for one in details.get("components", ()):
        if not one["name"].strip():
            continue
        text, rate = one.get("rate", "").strip(), None
        if text:
            rate = _rate(text, system, f"{where}, {one['name']}", wrong)
        components.append({**{k: v for k, v in one.items() if k != "rate"}, "rate_kg_ha": rate})
    if wrong:
        raise Refused("bad-value", f"{wrong[0].where}: {wrong[0].what}", wrong)
    said = {aspect: text.strip() for aspect, text in details.get("said", {}).items() if text.strip()}
    if strange := set(said) - set(ASPECTS):
        raise Refused("bad-specification", f"{sorted(strange)[0]!r} isn’t a property of a treatment.")
    kept = {"components": components, "seed_set": details.get("seed_set", ""), "said": said}
    return {key: value for key, value in kept.items() if value}


def _rate(text: str, system: System, where: str, wrong: list[Place]) -> float | None:
    unit, factor = shown_in(RATE, system)
    try:
        rate = parse_quantity(text, unit) / factor
    except Refused as refusal:
        wrong.append(Place(where, refusal.message))
        return None
    if rate < 0:
        wrong.append(Place(where, f"A seed rate can’t be below zero; {text} is. Type what is sown, in {unit}."))
    return rate


def typed_rate(rate_kg_ha: float | None, system: System) -> str:
    """A rate as the reader would type it, in the reader's unit; empty for none."""
    return "" if rate_kg_ha is None else number(float(f"{rate_kg_ha * shown_in(RATE, system)[1]:.4g}"))


def shown_details(details: Mapping[str, Any], system: System) -> dict[str, Any]:
    """Stored details as they are typed again, rates in the reader's unit."""
    components = [
        {**{k: v for k, v in one.items() if k != "rate_kg_ha"},
         "rate": typed_rate(one.get("rate_kg_ha"), system)}
        for one in details.get("components", ())
    ]  # fmt: skip
    return {"components": components, "seed_set": details.get("seed_set", ""), "said": details.get("said", {})}


def cover_of(details: Mapping[str, Any], species: Mapping[str, Species], method: str = "") -> Cover:
    """The cover of stored details; `species`: of the workspace, by key; `method`: of sowing, if a factor gives it."""
    parts = []
    broadcast = "broadcast" in (method or details.get("said", {}).get("sowing_method", "")).casefold()
    for one in details.get("components", ()):
        known = species.get(one.get("species", ""))
        parts.append(Component(**one, full_kg_ha=full_rate(known, broadcast=broadcast) if known else None))
    return Cover(tuple(parts), cast(SeedSet, details.get("seed_set", "")))


def described_treatments(
    treatments: Iterable[tuple[str, Mapping[str, str], Mapping[str, Any]]], factors: Sequence[Mapping[str, Any]],
    species: Mapping[str, Species],
) -> tuple[TreatmentDescription, ...]:  # fmt: skip
    """Treatments as (name, levels, stored details), by their aspects."""
    kinds = {str(f["name"]): str(f.get("kind", "")) for f in factors}
    methods = [factor for factor, kind in kinds.items() if kind == "sowing_method"]
    return tuple(
        describe_treatment(
            name, levels=levels, kinds=kinds, said=details.get("said", {}),
            components=cover_of(details, species, " ".join(levels.get(one, "") for one in methods)).components,
        )
        for name, levels, details in treatments
    )  # fmt: skip


def described_in(trial: Trial, treatments: Sequence[Treatment]) -> tuple[TreatmentDescription, ...]:
    """The trial's treatments by their aspects; none where nobody described any of them."""
    if not any(t.levels or t.details for t in treatments):
        return ()
    listed = any(t.details.get("components") for t in treatments)
    species = species_in(trial.workspace) if listed else {}
    return described_treatments([(t.name, t.levels, t.details) for t in treatments], trial.factors, species)


def accepted_in(trial: Trial, treatments: Sequence[Treatment]) -> dict[tuple[str, str], str]:
    """(control, treatment) → why the person keeps the comparison."""
    names = {str(t.id): t.name for t in treatments}
    return {
        (names[one["base"]], names[one["treatment"]]): one["why"]
        for one in trial.accepted
        if one["base"] in names and one["treatment"] in names
    }
