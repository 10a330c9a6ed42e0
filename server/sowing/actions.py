"""Changes of a season's sowing: lots and rates, calibrations, go or wait, bags, and what was sown."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from django.db import transaction

from apercu_core.errors import Place, Refused
from apercu_core.sowing.delivered import from_remains
from apercu_core.sowing.go import CHECKS, Check, Decision, needs_note
from apercu_core.sowing.rates import WAYS
from apercu_core.words import number
from config import clock
from config.client_ids import made_before
from config.problems import Conflict
from config.turns import take_turns
from crew.models import Person
from crew.permissions import require
from operations.actions import keep_operation, mark_done
from operations.models import OperationKind
from sowing.calibration import answer_to
from sowing.models import SeedBag, SeedPlan, Sowing, SowingDecision, SowingTest
from sowing.seed import PERCENTS, PLAIN, TRUTHS, LotSaid, SeasonSeed, bag_grams, core_lot, lot_key
from trials.models import Season

SAME_G = 0.5
"""Two bags of one treatment with as much seed, to within this, may take each other's place."""


def keep_seed_plan(
    *, by: Person, season: Season, lots: Mapping[str, Mapping[str, Any]], rates: Sequence[Mapping[str, Any]],
    allowance_g: float, spare_percent: float, filling: str, currency: str,
) -> SeedPlan:  # fmt: skip
    """Keep labels, rates and what is added to them. Raises `Refused` with the place of each figure that can't be."""
    require(by, "record", season)
    with transaction.atomic():
        Season.objects.select_for_update(no_key=True).get(pk=season.pk)
        there = SeasonSeed(season)
        known = {key for key in lots if key in there.said}
        wrong: list[Place] = []
        for key in known:
            lot = LotSaid(key, there.said[key].name, "", "", "", lots[key], {})
            try:
                core_lot(lot)
            except Refused as refusal:
                wrong += [Place(f"{key}.{one.where}", one.what) for one in refusal.places] or [Place(key, str(refusal))]
        if wrong:
            raise Refused("bad-value", f"Some entries of the seed lots can’t be. {wrong[0].what}", wrong)
        plan = there.plan
        fields = (*(f"{name}_percent" for name in PERCENTS), *PLAIN, *TRUTHS)
        plan.lots = {
            key: {name: lots[key].get(name) for name in fields if _is_own(there.said[key], name, lots[key].get(name))}
            for key in sorted(known)
        }
        plan.rates = [_rate(there, one) for one in rates]
        plan.allowance_g, plan.spare_percent = allowance_g, spare_percent
        plan.filling, plan.currency = filling, currency.strip()
        plan.save()
    return plan


def _is_own(said: LotSaid, name: str, value: Any) -> bool:
    """Whether Sow says it; what is as in Ask is left to Ask, so that a change there goes on counting."""
    return value is not None and list(said.asks.get(name, ())) != [value]


def _rate(there: SeasonSeed, one: Mapping[str, Any]) -> dict[str, Any]:
    if one["treatment"] not in there.components or one["lot"] not in there.said:
        raise Refused("bad-specification", "A rate is of a treatment or a lot that isn’t there. Open the page again.")
    if one["way"] not in WAYS:
        raise Refused("bad-specification", f"There is no rate in {one['way']!r}. Choose one of the list.")
    if one["value"] is not None and one["value"] < 0:
        raise _refused(f"{one['treatment']}.{one['lot']}", "A rate can’t be below zero.")
    return {name: one[name] for name in ("treatment", "lot", "way", "value")}


def keep_test(
    *, by: Person, season: Season, id: uuid.UUID, kind: str, about: str, given: Mapping[str, Any]
) -> SowingTest:
    """Keep a calibration; the same again is harmless. Refused where its figures can't be."""
    require(by, "record", season)
    answer_to(kind, given)
    with transaction.atomic():
        take_turns(id)
        test = made_before(SowingTest, id, season_id=season.id) or SowingTest(id=id, season=season, at=clock.now())
        test.kind, test.about, test.given, test.by = kind, about.strip(), dict(given), by
        test.save()
    return test


def keep_decision(
    *, by: Person, season: Season, id: uuid.UUID, day: date, checks: Mapping[str, Check], decision: Decision, note: str
) -> SowingDecision:
    """Keep that one goes or waits. Going against what was seen needs a note."""
    require(by, "record", season)
    if needs_note(checks, decision) and not note.strip():
        raise Refused(
            "bad-value",
            "Not all checks are good. Say in the note why you go all the same.",
            [Place("note", "Say why you go all the same.")],
        )
    if day > clock.today(season.site.time_zone):
        raise _refused("day", f"{day.isoformat()} lies ahead. Decide on the day itself.")
    with transaction.atomic():
        take_turns(id)
        made = made_before(SowingDecision, id, season_id=season.id)
        row = made or SowingDecision(id=id, season=season, at=clock.now())
        row.day, row.checks = day, {name: checks.get(name, "unknown") for name in CHECKS}
        row.decision, row.note, row.by = decision, note.strip(), by
        row.save()
    return row


def pack_bag(*, by: Person, season: Season, plot: str, packed: bool) -> None:
    """Tick that a plot's bag is packed, with what the sheet says now, or take that back."""
    require(by, "record", season)
    with transaction.atomic():
        there = SeasonSeed(season)
        bag = _bag(there, plot)
        if not packed and bag.placed_at:
            raise Conflict(f"The bag of plot {plot} was already at its plot. Take that back first.")
        if packed and bag.packed_at and holds_what_it_should(there, plot, bag):
            return
        bag.packed_at, bag.packed_by = (clock.now(), by) if packed else (None, None)
        bag.holds = contents_of(there, plot) if packed else None
        bag.save()


def place_bag(*, by: Person, season: Season, plot: str, bag: str, placed: bool = True) -> None:
    """Tick that a bag is at its plot. Raises `WrongBag` where it holds another treatment's seed, or another amount."""
    require(by, "record", season)
    with transaction.atomic():
        there = SeasonSeed(season)
        row = _bag(there, plot)
        if placed:
            _require_alike(there, plot, bag)
        row.placed_at, row.placed_by = (row.placed_at or clock.now(), row.placed_by or by) if placed else (None, None)
        if placed and row.packed_at is None:
            row.packed_at, row.packed_by, row.holds = row.placed_at, by, contents_of(there, plot)
        row.save()


class WrongBag(Conflict):
    default_code = "wrong-bag"


def _require_alike(there: SeasonSeed, plot: str, bag: str) -> None:
    """By what was put into the bag when it was packed, whatever the map and the rates say now."""
    codes = {str(t.id): t.code for t in there.treatments}
    wears = {one.label: one.treatment for one in there.plots}
    needs = f"Plot {plot} gets {codes[wears[plot]]}"
    if bag not in wears:
        raise WrongBag(f"STOP. There is no bag {bag!r} in this trial. {needs}. Nothing was ticked.")
    row = SeedBag.objects.filter(unit__season=there.season, unit__label=bag).first()
    kept = row.holds if row and row.packed_at else None
    if kept is None and bag == plot:
        return
    held, wanted = kept or contents_of(there, bag), contents_of(there, plot)
    if [lot for lot, _ in held["lots"]] != [lot for lot, _ in wanted["lots"]]:
        was = "was packed with" if kept else "holds"
        other = " of another lot" if held["code"] == wanted["code"] else ""
        raise WrongBag(f"STOP. Bag {bag} {was} {held['code']}{other}. {needs}. Don’t sow it here. Nothing was ticked.")
    if not _same_amounts(held, wanted):
        why = "It was packed before the rate or the plot changed" if bag == plot else f"Plot {plot} is of another size"
        mend = f"Pack bag {plot} again." if bag == plot else f"Use bag {plot}."
        raise WrongBag(
            f"STOP. Bag {bag} holds the right seed in another amount: {_grams_said(held)} instead of "
            f"{_grams_said(wanted)}. {why}. Nothing was ticked. {mend}"
        )


def contents_of(there: SeasonSeed, plot: str) -> dict[str, Any]:
    """What the sheet puts into a plot's bag now: the treatment's code, and each lot with its mass, g."""
    treatment = next(one.treatment for one in there.plots if one.label == plot)
    code = next(t.code for t in there.treatments if str(t.id) == treatment)
    lots = [lot_key(one) for one in there.components.get(treatment, ())]
    return {"code": code, "lots": [[lot, g] for lot, g in zip(lots, bag_grams(there.sheet, plot), strict=True)]}


def holds_what_it_should(there: SeasonSeed, plot: str, bag: SeedBag) -> bool:
    """Whether a packed bag holds what its plot needs now; one that was packed before contents were kept is believed."""
    if bag.holds is None:
        return True
    wanted = contents_of(there, plot)
    return [lot for lot, _ in bag.holds["lots"]] == [lot for lot, _ in wanted["lots"]] and _same_amounts(
        bag.holds, wanted
    )


def _same_amounts(one: Mapping[str, Any], two: Mapping[str, Any]) -> bool:
    pairs = zip(one["lots"], two["lots"], strict=True)
    return all(a is not None and b is not None and abs(a - b) <= SAME_G for (_, a), (_, b) in pairs)


def _grams_said(held: Mapping[str, Any]) -> str:
    return " and ".join("an unknown mass" if g is None else f"{number(float(f'{g:.4g}'))} g" for _, g in held["lots"])


def _bag(there: SeasonSeed, plot: str) -> SeedBag:
    _require_sizes(there)
    unit = next((one for one in there.units if one.label == plot), None)
    if unit is None or not there.components.get(str(unit.treatment_id)):
        raise Conflict(f"Plot {plot!r} gets no seed. Look at the packing list.")
    row, _ = SeedBag.objects.select_for_update(of=("self",), no_key=True).get_or_create(unit=unit)
    return row


def keep_sowing(*, by: Person, season: Season, id: uuid.UUID, plots: Sequence[str], **said: Any) -> Sowing:
    """Keep what was sown on some plots. Once every plot has its seed, the season's sowing is done."""
    require(by, "record", season)
    if said["day"] > clock.today(season.site.time_zone):
        raise _refused("day", "The day lies ahead. Enter the day on which it was sown.")
    with transaction.atomic():
        take_turns(id)
        Season.objects.select_for_update(no_key=True).get(pk=season.pk)
        there = SeasonSeed(season)
        _require_sizes(there)
        units = _units(there, plots)
        row = made_before(Sowing, id, season_id=season.id) or Sowing(id=id, season=season, at=clock.now())
        taken = Sowing.objects.filter(season=season, units__in=units).exclude(pk=row.pk).first()
        if taken is not None:
            twice = sorted(set(plots) & set(taken.units.values_list("label", flat=True)))
            raise _refused(
                "plots",
                f"{', '.join(twice)}: already entered as sown on {taken.day.isoformat()}. Change that entry, or leave "
                "these plots out.",
            )
        said["amounts"] = _amounts(there, units, said["known_by"], said["amounts"])
        for name, value in said.items():
            setattr(row, name, value.strip() if isinstance(value, str) else value)
        row.by = by
        row.save()
        row.units.set(units)
        _close_operations(by, there)
    return row


def forget_sowing(*, by: Person, season: Season, id: uuid.UUID) -> None:
    """Take an entry back; its history stays."""
    require(by, "record", season)
    Sowing.objects.filter(season=season, id=id).delete()


def _require_sizes(there: SeasonSeed) -> None:
    if not there.drawn_to_scale:
        raise Conflict("The plots have no sizes yet, so seed can’t be worked out. Randomise the plots in Plan.")


def _refused(where: str, what: str) -> Refused:
    return Refused("bad-value", what, [Place(where, what)])


def _units(there: SeasonSeed, plots: Sequence[str]) -> list[Any]:
    sown = {u.label: u for u in there.units if there.components.get(str(u.treatment_id))}
    if unknown := [label for label in plots if label not in sown]:
        raise _refused("plots", f"Plot {unknown[0]} gets no seed. Leave it out.")
    if not plots:
        raise _refused("plots", "No plots are chosen. Choose what was sown.")
    return [sown[label] for label in dict.fromkeys(plots)]


def _amounts(
    there: SeasonSeed, units: Sequence[Any], known_by: str, amounts: Sequence[Mapping[str, Any]]
) -> list[dict[str, Any]]:
    """What is known by treatment, for those among the plots, beside the rate that was intended then."""
    area: dict[str, float] = {}
    of = {plot.label: plot for plot in there.plots}
    for unit in units:
        area[str(unit.treatment_id)] = area.get(str(unit.treatment_id), 0.0) + of[unit.label].sown_m2
    out = []
    for one in amounts:
        key = str(one["treatment"])
        if key not in area or known_by == "nothing":
            continue
        if known_by == "counter":
            if one["rate_kg_ha"] is not None:
                out.append({"treatment": key, "rate_kg_ha": one["rate_kg_ha"], "intended_kg_ha": there.intended(key)})
        elif one["filled_g"] is not None or one["left_g"] is not None:
            if one["filled_g"] is None or one["left_g"] is None:
                raise _refused(f"amounts.{key}", "Enter both what was filled in and what was left.")
            try:
                rate = from_remains(one["filled_g"], one["left_g"], area[key])
            except Refused as refusal:
                raise _refused(f"amounts.{key}", refusal.places[0].what) from None
            kept = {"filled_g": one["filled_g"], "left_g": one["left_g"], "rate_kg_ha": rate}
            out.append({"treatment": key, **kept, "intended_kg_ha": there.intended(key)})
    return out


def _close_operations(by: Person, there: SeasonSeed) -> None:
    """Each planned sowing is done on the last day of its plots, once all of them have their seed.

    Where none was planned, one is kept when the whole trial is sown.
    """
    day_of: dict[str, date] = {}
    for one in Sowing.objects.filter(season=there.season).prefetch_related("units"):
        for unit in one.units.all():
            day_of[unit.label] = one.day
    covered = [plot for plot in there.plots if there.components.get(plot.treatment)]
    planned = list(there.season.operations.filter(kind=OperationKind.SOW).prefetch_related("treatments", "plots"))
    for operation in planned:
        own = {str(t.id) for t in operation.treatments.all()}
        single = {unit.label for unit in operation.plots.all()}
        its = [p.label for p in covered if not (own or single) or p.treatment in own or p.label in single]
        if operation.done is None and its and all(label in day_of for label in its):
            mark_done(by=by, operation=operation, day=max(day_of[label] for label in its))
    if not planned and covered and all(plot.label in day_of for plot in covered):
        keep_operation(
            by=by, season=there.season, id=uuid.uuid5(there.season.id, "sow"), kind=OperationKind.SOW,
            name="Sow the covers", due=None, done=max(day_of.values()), note="",
        )  # fmt: skip
