"""Sow: seed for each plot, what is asked, calibrations, bags that are refused, and what was really sown."""

import re
import uuid
from io import BytesIO

import pytest
from pypdf import PdfReader

from operations.models import Operation
from reports.packing_list import packing_html
from sowing.models import Sowing
from tests.server.asking import PLAN, Trial
from tests.server.waiting import file_of
from trials.models import GroundPlot, Season

OAT = {"species": "black-oat", "name": "Black oat", "cultivar": "Sallow", "lot": "HF 31", "rate": "72"}
VETCH = {"species": "common-vetch", "name": "Common vetch", "cultivar": "Dene", "lot": "HF 26", "rate": "40"}
OAT_KEY = "black-oat/sallow/hf-31"
LABEL = {"purity_percent": "90", "germination_percent": "80", "emergence_percent": "50", "tkw_g": "20", "bag_kg": "1"}


@pytest.fixture(autouse=True)
def _clock(settings):
    settings.CLOCK = "2026-09-03T09:00:00+00:00"


def described(name, *parts, **more):
    details = {"components": list(parts), "seed_set": "", "said": {}}
    return {"id": str(uuid.uuid4()), "name": name, "details": details, **more}


@pytest.fixture
def trial(owner, workspace):
    treatments = [described("Oat", OAT), described("Oat and vetch", {**OAT, "rate": "36"}, VETCH),
                  described("Bare", is_control=True)]  # fmt: skip
    return Trial(owner, workspace, treatments=treatments)


def url(trial, *more):
    return "/".join(["/api/v1/trials", trial.id, "sow", *map(str, more)])


def sow(trial, client=None):
    return (client or trial.client).get(url(trial)).json()


def keep(trial, client=None, **changes):
    body = {"lots": [{"key": OAT_KEY, **LABEL}], "rates": [], "allowance_g": "30", "spare_percent": "10", **changes}
    return (client or trial.client).put(url(trial), body, format="json")


def of(shown, name):
    return next(one for one in shown["treatments"] if one["name"] == name)


def a_plot(shown, name, n=0):
    return of(shown, name)["plots"][n]["plot"]


def test_each_plot_has_its_seed_and_the_order_says_what_a_bag_less_means(trial):
    shown = keep(trial).json()
    # 72 kg/ha on 3 × 10 m are 216 g, and 30 g for the drill.
    oats = of(shown, "Oat")
    assert [plot["amounts"] for plot in oats["plots"]] == [[246]] * 4
    part = oats["parts"][0]
    assert (part["bulk"], part["live"], part["seeds"], part["plants"]) == (72, 51.84, 324, 129.6)
    assert [plot["amounts"] for plot in of(shown, "Oat and vetch")["plots"]] == [[138, 150]] * 4
    assert of(shown, "Bare")["plots"][0] == {**of(shown, "Bare")["plots"][0], "amounts": [], "total": 0}
    order = shown["order"][0]
    # 4 × 246 + 4 × 138 = 1536 g, a tenth to spare: two bags of 1 kg.
    assert (order["needed"], order["order"], order["bags"]) == (1.536, 1.6896, 2)
    assert order["one_less"] == "With one bag less 0.536 kg are missing, and 3 plots go without this seed."
    assert len(shown["bare"]) == 4
    assert {stop["plot"] for stop in shown["stops"]}.isdisjoint(shown["bare"])
    assert "Inoculant groups" in " ".join(of(shown, "Oat and vetch")["warnings"])


def test_what_a_rate_needs_is_asked_and_what_is_assumed_is_marked(trial):
    mix = of(sow(trial), "Oat and vetch")["id"]
    wanted = [{"treatment": mix, "lot": OAT_KEY, "way": "plants_m2", "value": "130"}]
    shown = keep(trial, lots=[], rates=wanted).json()
    lot = next(one for one in shown["lots"] if one["key"] == OAT_KEY)
    assert lot["asked"] == ["germination_percent", "purity_percent"]
    assert set(lot["assumed"]) == {"emergence_percent", "tkw_g"}
    assert of(shown, "Oat and vetch")["plots"][0]["amounts"][0] is None
    assert (of(shown, "Oat")["parts"][0]["bulk"], of(shown, "Oat")["parts"][0]["plants"]) == (72, None)
    assert shown["order"][0]["complete"] is False


def test_pounds_and_ounces_come_back_as_they_were(trial, people):
    keep(trial, lots=[{"key": OAT_KEY, **LABEL, "bag_kg": "25"}])
    us = {"HTTP_X_UNITS": "us"}
    shown = trial.client.get(url(trial), **us).json()
    assert (shown["units"]["seed"], shown["units"]["order"], shown["units"]["rate"]) == ("oz", "lb", "lb/ac")
    part = of(shown, "Oat")["parts"][0]
    assert (part["way"], part["value"]) == ("lb_ac", 64.24)
    lots = [one["typed"] for one in shown["lots"] if one["key"] == OAT_KEY]
    assert lots[0]["bag_kg"] == 55.12
    body = {"lots": lots, "rates": [], "allowance_g": shown["allowance"], "spare_percent": shown["spare_percent"]}
    assert trial.client.put(url(trial), body, format="json", **us).status_code == 200
    again = sow(trial)
    assert (again["allowance"], again["lots"][0]["typed"]["bag_kg"]) == (30, 25)


@pytest.mark.parametrize(
    ("changes", "where"),
    [
        ({"lots": [{"key": OAT_KEY, "germination_percent": "104"}]}, "germination_percent"),
        ({"lots": [{"key": OAT_KEY, "germination_percent": "90", "hard_seed_percent": "20"}]}, "more than 100 %"),
        ({"lots": [{"key": OAT_KEY, "tkw_g": "0"}]}, "tkw_g"),
        ({"lots": [{"key": OAT_KEY, "bag_kg": "a sack"}]}, "bag_kg"),
        ({"spare_percent": "400"}, "spare_percent"),
        ({"rates": [{"treatment": "x", "lot": OAT_KEY, "way": "kg_ha", "value": "1"}]}, "isn’t there"),
    ],
)
def test_figures_that_can_not_be_are_refused_with_their_place(trial, changes, where):
    before = sow(trial)
    refused = keep(trial, **changes)
    assert refused.status_code in (400, 422), refused.content
    assert where in refused.content.decode()
    assert sow(trial) == before


def test_a_stale_page_of_seed_is_not_saved_over_a_newer_one(trial, owner):
    etag = sow(trial)["etag"]
    assert keep(trial).status_code == 200
    body = {"lots": [], "rates": [], "allowance_g": "0", "spare_percent": "0"}
    stale = owner.put(url(trial), body, format="json", HTTP_IF_MATCH=etag)
    assert stale.status_code == 412
    assert stale.json()["current"]["allowance"] == 30


def test_a_wrong_bag_is_refused_loudly_and_not_ticked(trial):
    shown = keep(trial).json()
    oat, other, mix, bare = (
        a_plot(shown, "Oat"),
        a_plot(shown, "Oat", 1),
        a_plot(shown, "Oat and vetch"),
        shown["bare"][0],
    )

    def place(plot, bag, **more):
        return trial.client.put(url(trial, "placed", plot), {"bag": bag, **more}, format="json")

    wrong = place(oat, mix)
    assert (wrong.status_code, wrong.json()["code"]) == (409, "wrong-bag")
    assert wrong.json()["detail"].startswith(f"STOP. Bag {mix} holds")
    assert place(oat, "999").status_code == 409
    assert place(bare, oat).status_code == 409
    assert not any(stop["placed"] for stop in sow(trial)["stops"])
    assert trial.client.put(url(trial, "bags", oat), {"packed": True}, format="json").status_code == 200
    assert place(oat, oat).status_code == 200
    assert place(other, oat).status_code == 200  # the same seed in the same amount
    ticked = {stop["plot"]: (stop["packed"], stop["placed"]) for stop in sow(trial)["stops"]}
    assert (ticked[oat], ticked[other], ticked[mix]) == ((True, True), (True, True), (False, False))
    assert trial.client.put(url(trial, "bags", oat), {"packed": False}, format="json").status_code == 409
    assert place(oat, oat, placed=False).status_code == 200


def test_zones_with_a_share_alone_are_drawn_as_a_share_and_said_to_be_one(trial):
    assert sow(trial)["area"]["unplaced"] is False
    zones = [{"name": "in the row", "share": 0.7, "sown": "as-plot", "sowing": ""},
             {"name": "between", "share": 0.3, "sown": "bare", "sowing": ""}]  # fmt: skip
    Season.objects.filter(trial=trial.id).update(zones=zones)
    area = sow(trial)["area"]
    assert (area["unplaced"], area["fraction"]) == (True, pytest.approx(0.7))
    ground = GroundPlot.objects.get(units__season__trial=trial.id, units__label="101")
    assert area["strips"]["101"] == [[ground.x_m, ground.y_m, pytest.approx(0.7 * ground.width_m), ground.length_m]]


def test_the_packing_list_says_each_bag_in_order_with_its_seed_and_where_the_drill_is_cleaned(owner, workspace):
    alone = [described("Oat", OAT), described("Vetch", VETCH), described("Bare", is_control=True)]
    trial = Trial(owner, workspace, treatments=alone)
    shown = keep(trial).json()
    season = Season.objects.get(trial=trial.id)
    html = packing_html(by=season.trial.workspace.memberships.get(role="owner").person, season=season)
    said = re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", html[html.index("<tbody>") :]))
    at = [said.index(f" {n + 1} {stop['plot']} ") for n, stop in enumerate(shown["stops"])]
    assert at == sorted(at)
    assert said.count("Clean the drill here.") == sum(stop["clean"] for stop in shown["stops"]) > 0
    assert said.count("Black oat 246 g") == 4  # each plot of oat alone
    assert f"Nothing is sown in {', '.join(shown['bare'])}." in html
    assert html.count('class="box"') == 2 * len(shown["stops"])


def enter(trial, id=None, **changes):
    body = {"day": "2026-09-02", "plots": [], "known_by": "nothing", "amounts": [], **changes}
    return trial.client.put(url(trial, "sowings", id or uuid.uuid4()), body, format="json")


def test_what_was_sown_stays_beside_what_was_intended_and_closes_the_operation(trial):
    due = {"kind": "sow", "name": "Drill the covers", "due": "2026-09-01", "done": None, "note": ""}
    trial.client.put(f"/api/v1/trials/{trial.id}/operations/{uuid.uuid4()}", due, format="json")
    shown = keep(trial).json()
    oat, mix = of(shown, "Oat"), of(shown, "Oat and vetch")
    plots = [one["plot"] for one in oat["plots"]]
    # 120 m²: 1000 g filled in, 40 g left are 80 kg/ha, a ninth more than 72.
    amounts = [{"treatment": oat["id"], "filled_g": "1000", "left_g": "40"}]
    kept = enter(trial, plots=plots, known_by="remains", amounts=amounts, depth_cm="3").json()["sowings"][0]
    (delivered,) = kept["delivered"]
    assert (delivered["intended"], delivered["delivered"], delivered["far"]) == (72, 80, True)
    rate = {"treatment": oat["id"], "lot": OAT_KEY, "way": "kg_ha", "value": "100"}
    later = keep(trial, rates=[rate]).json()["sowings"][0]["delivered"][0]
    assert later["intended"] == 72  # what was meant that day, whatever is planned since
    assert delivered["off_percent"] == pytest.approx(11.111, rel=1e-4)
    assert Operation.objects.get(kind="sow").done is None
    rates = [{"treatment": mix["id"], "rate_kg_ha": "75"}]
    last = enter(trial, day="2026-09-03", plots=[p["plot"] for p in mix["plots"]], known_by="counter", amounts=rates)
    assert last.json()["sowings"][1]["delivered"][0]["far"] is False
    done = Operation.objects.get(kind="sow")
    assert (str(done.done), done.name) == ("2026-09-03", "Drill the covers")


def test_a_sowing_that_can_not_be_is_refused(trial):
    shown = keep(trial).json()
    oat = of(shown, "Oat")
    plot, id = oat["plots"][0]["plot"], uuid.uuid4()
    assert "lies ahead" in enter(trial, day="2026-09-04", plots=[plot]).content.decode()
    assert "gets no seed" in enter(trial, plots=shown["bare"][:1]).content.decode()
    assert "No plots" in enter(trial).content.decode()
    left = [{"treatment": oat["id"], "filled_g": "100", "left_g": "400"}]
    assert "can’t be left" in enter(trial, plots=[plot], known_by="remains", amounts=left).content.decode()
    half = [{"treatment": oat["id"], "filled_g": "100"}]
    assert "Enter both" in enter(trial, plots=[plot], known_by="remains", amounts=half).content.decode()
    assert enter(trial, id, plots=[plot]).status_code == 200
    assert enter(trial, id, plots=[plot]).status_code == 200  # the same again
    assert "already entered" in enter(trial, plots=[plot]).content.decode()
    assert Sowing.objects.count() == 1
    assert trial.client.delete(url(trial, "sowings", id)).status_code == 200
    assert Sowing.objects.count() == 0


def test_going_against_what_was_seen_needs_a_note(trial):
    body = {"day": "2026-09-03", "checks": {"weeds": "bad", "moisture": "good"}, "decision": "go", "note": ""}
    path = url(trial, "decisions", uuid.uuid4())
    refused = trial.client.put(path, body, format="json")
    assert (refused.status_code, refused.json()["errors"][0]["where"]) == (422, "note")
    kept = trial.client.put(path, {**body, "note": "rain from tonight"}, format="json").json()["decisions"][0]
    assert (kept["decision"], kept["checks"]["weather"], kept["note"]) == ("go", "unknown", "rain from tonight")
    assert trial.client.put(path, {**body, "decision": "wait"}, format="json").status_code == 200


DRILL = {"bulk_kg_ha": "100", "row_spacing_m": "12.5", "rows": "8", "distance_m": "40", "setting": "30"}
SPREADER = {"left": "2", "right": "2", "centre": True, "spacing_m": "3", "tray_area_m2": "0.5", "mode": "same_way",
            "width_m": "6", "masses_g": ["0", "2", "4", "2", "0"]}  # fmt: skip
TANK = {"tank_l": "1000", "volume_l_ha": "500", "bulk_kg_ha": "50", "seed_density_kg_l": "1", "area_ha": "5"}


def test_calibrations_answer_and_are_kept(trial):
    def answer(kind, given):
        return trial.client.post(url(trial, kind), given, format="json")

    off = answer("drill", {**DRILL, "catches_g": ["440", "442", "438"]}).json()
    assert (off["decision"], off["expected_g"]) == ("adjust", 400)
    assert "27.3 next" in off["said"]
    even = answer("spreader", SPREADER).json()
    assert (even["cv_percent"], even["achieved"], even["quality"]) == (pytest.approx(0, abs=1e-9), 80, "good")
    assert "half" not in even["said"]
    short = answer("spreader", {**SPREADER, "masses_g": ["0", "2", "4", "2"]})
    assert (short.status_code, "make 5 masses; 4 are entered" in short.content.decode()) == (422, True)
    settled = answer("tank", {**TANK, "samples_g_l": ["100", "100", "70"]}).json()
    assert settled["said"].startswith("3 loads, each for 2 ha: 100 kg of seed in 900 L of water.")
    assert "settles" in settled["said"]
    id = uuid.uuid4()
    body = {"kind": "drill", "about": "Oat, 3 m drill", "given": {**DRILL, "catches_g": ["400", "401", "399"]}}
    for _ in range(2):
        kept = trial.client.put(url(trial, "tests", id), body, format="json").json()["tests"]
    assert [(one["about"], one["quality"]) for one in kept] == [("Oat, 3 m drill", "good")]
    assert trial.client.put(url(trial, "tests", id), {**body, "kind": "weigh"}, format="json").status_code == 400


def test_sowing_of_another_workspace_is_not_there_and_readers_only_look(trial, client_of):
    assert client_of("stranger").get(url(trial)).status_code == 404
    assert keep(trial, client_of("stranger")).status_code == 404
    assert keep(trial, client_of("reader")).status_code == 403
    assert sow(trial, client_of("reader"))["scaled"] is True


def test_a_trial_without_map_says_so_and_weighs_nothing_out(owner, workspace):
    trial = Trial.__new__(Trial)
    trial.client, trial.id = owner, str(uuid.uuid4())
    from tests.server.asking import page

    owner.put(f"/api/v1/trials/{trial.id}/ask", page(workspace, treatments=[described("Oat", OAT), described("Bare")]),
              format="json")  # fmt: skip
    shown = sow(trial)
    assert (shown["scaled"], shown["stops"], shown["order"]) == (False, [], [])


def test_a_map_whose_plots_are_sown_or_have_operations_of_their_own_stays(trial):
    plot = of(keep(trial).json(), "Oat")["plots"][0]["plot"]
    id = uuid.uuid4()
    assert enter(trial, id, plots=[plot]).status_code == 200
    again = trial.plan(**{**PLAN, "seed": 12})
    assert (again.status_code, "Plots are entered as sown" in again.json()["detail"]) == (409, True)
    swap = {"first": trial.unit("101"), "second": trial.unit("102"), "why": "stones"}
    assert trial.client.post(f"/api/v1/trials/{trial.id}/swap", swap, format="json").status_code == 409
    assert sow(trial)["sowings"][0]["plots"] == [plot]
    trial.client.delete(url(trial, "sowings", id))
    operation = {"kind": "till", "name": "Hoe", "due": "2026-09-10", "plots": ["101"]}
    trial.client.put(f"/api/v1/trials/{trial.id}/operations/{id}", operation, format="json")
    assert "single plots" in trial.plan(**{**PLAN, "seed": 12}).json()["detail"]
    trial.client.put(f"/api/v1/trials/{trial.id}/operations/{id}", {**operation, "plots": []}, format="json")
    assert trial.plan(**{**PLAN, "seed": 12}).status_code == 200


def test_what_ask_says_goes_on_counting_until_sow_says_otherwise(trial, owner):
    labelled = [{**one, "details": {**one["details"], "components": [
        {**part, "germination_percent": germination, "purity_percent": 95} for part in one["details"]["components"]
    ]}} for one, germination in zip(trial.page["treatments"][:2], (90, 90), strict=True)]  # fmt: skip

    def ask(*treatments):
        assert trial.ask({**trial.page, "treatments": [*treatments, trial.page["treatments"][2]]}).status_code == 200
        return next(one for one in sow(trial)["lots"] if one["key"] == OAT_KEY)

    lot = ask(*labelled)
    assert (lot["typed"]["germination_percent"], lot["asks"]) == (90, {})
    assert keep(trial, lots=[lot["typed"]]).status_code == 200  # saved as it was shown
    labelled[0]["details"]["components"][0]["germination_percent"] = 84
    labelled[1]["details"]["components"][0]["germination_percent"] = 84
    assert ask(*labelled)["typed"]["germination_percent"] == 84
    labelled[1]["details"]["components"][0]["germination_percent"] = 90
    lot = ask(*labelled)  # two treatments say two things of one lot: neither is used
    assert (lot["typed"]["germination_percent"], lot["asks"]) == (None, {"germination_percent": [84, 90]})
    keep(trial, lots=[{"key": OAT_KEY, "germination_percent": "86"}])
    assert sow(trial)["lots"][0]["used"]["germination_percent"] == 86


def test_each_planned_sowing_closes_by_itself_and_keeps_what_it_is_for(trial):
    shown = keep(trial).json()
    oat, mix = of(shown, "Oat"), of(shown, "Oat and vetch")
    for one, due in ((oat, "2026-09-01"), (mix, "2026-09-05")):
        body = {
            "kind": "sow",
            "name": f"Sow {one['name']}",
            "due": due,
            "treatments": [one["id"]],
            "machine": "3 m drill",
        }
        trial.client.put(f"/api/v1/trials/{trial.id}/operations/{uuid.uuid4()}", body, format="json")
    enter(trial, plots=[plot["plot"] for plot in oat["plots"]])
    found = trial.client.get(f"/api/v1/trials/{trial.id}/season").json()["operations"]
    assert {one["name"]: (one["done"], one["treatments"], one["machine"]) for one in found} == {
        "Sow Oat": ("2026-09-02", [oat["id"]], "3 m drill"), "Sow Oat and vetch": (None, [mix["id"]], "3 m drill"),
    }  # fmt: skip


def test_a_reading_knows_how_covers_were_sown_and_what_only_some_plots_got(trial):
    shown = keep(trial).json()
    oat, mix = of(shown, "Oat"), of(shown, "Oat and vetch")
    rates = [{"treatment": oat["id"], "rate_kg_ha": "80"}]
    plots = [plot["plot"] for plot in oat["plots"]]
    assert enter(trial, plots=plots, known_by="counter", amounts=rates).status_code == 200
    late = [plot["plot"] for plot in mix["plots"]]
    assert enter(trial, day="2026-09-03", plots=late).status_code == 200
    hoed = {"kind": "till", "name": "Hoe", "done": "2026-09-03", "treatments": [oat["id"]]}
    trial.client.put(f"/api/v1/trials/{trial.id}/operations/{uuid.uuid4()}", hoed, format="json")
    trial.enter(*(trial.typed(label, "7") for label in ("101", "102", "201", "202")))
    trial.client.post(f"/api/v1/trials/{trial.id}/results", {}, format="json")
    reading = trial.client.post(f"/api/v1/trials/{trial.id}/readings", {}, format="json")
    assert reading.status_code == 200
    found = {doubt["id"]: doubt["finding"] for doubt in reading.json()["doubts"]}
    assert found["sown-off"] == "Oat got 11 % more seed than intended."
    assert "Oat on 2 September and Oat and vetch on 3 September" in found["sown-apart"]
    assert found["unequal-operations"] == "“Hoe” was done on Oat only."


def test_a_map_without_sizes_packs_and_sows_nothing(trial):
    plot = a_plot(keep(trial).json(), "Oat")
    GroundPlot.objects.update(schematic=True)
    for path, body in (("placed", {"bag": plot}), ("bags", {"packed": True})):
        refused = trial.client.put(url(trial, path, plot), body, format="json")
        assert (refused.status_code, "no sizes" in refused.json()["detail"]) == (409, True)
    assert enter(trial, plots=[plot]).status_code == 409
    assert sow(trial)["stops"] == []


def test_a_spreader_test_in_us_units_is_drawn_in_ounces(trial):
    given = {**SPREADER, "width_m": "20", "spacing_m": "10", "tray_area_m2": "5"}
    found = trial.client.post(url(trial, "spreader"), given, format="json", HTTP_X_UNITS="us").json()
    assert found["masses"] == pytest.approx([0, 2, 4, 2, 0], rel=1e-4)
    assert max(max(piece[2:]) for piece in found["laps"]["same_way"]) == pytest.approx(4, rel=1e-4)
    assert (found["width"], found["positions"][-1]) == pytest.approx((20, 20))


@pytest.fixture
def packed(trial):
    """The bags of one plot of oat and one of the mix, of a block, are packed; and their plots."""
    shown = keep(trial).json()
    pair = a_plot(shown, "Oat"), a_plot(shown, "Oat and vetch")
    for plot in pair:
        assert trial.client.put(url(trial, "bags", plot), {"packed": True}, format="json").status_code == 200
    return trial, *pair


def stop_of(trial, plot):
    return next(one for one in sow(trial)["stops"] if one["plot"] == plot)


def place(trial, plot, bag):
    return trial.client.put(url(trial, "placed", plot), {"bag": bag}, format="json")


def test_bags_keep_what_was_put_into_them_when_their_plots_are_swapped(packed):
    trial, oat, mix = packed
    body = {"first": trial.unit(oat), "second": trial.unit(mix), "why": "Wet corner"}
    assert trial.client.post(f"/api/v1/trials/{trial.id}/swap", body, format="json").status_code == 200
    for plot in (oat, mix):
        assert (stop_of(trial, plot)["packed"], stop_of(trial, plot)["repack"]) == (False, True)
        wrong = place(trial, plot, plot)
        assert (wrong.status_code, wrong.json()["code"]) == (409, "wrong-bag")
        assert f"STOP. Bag {plot} was packed with" in wrong.json()["detail"]
    assert place(trial, mix, oat).status_code == 200  # the bag that was packed with oat, at the plot that has it now
    assert trial.client.put(url(trial, "bags", oat), {"packed": True}, format="json").status_code == 200
    assert (stop_of(trial, oat)["packed"], stop_of(trial, oat)["repack"]) == (True, False)
    assert place(trial, oat, oat).status_code == 200


@pytest.mark.parametrize("change", ["rate", "lot"])
def test_a_bag_that_was_packed_before_a_rate_or_a_lot_changed_is_stopped(packed, change):
    trial, oat, _ = packed
    treatment = of(sow(trial), "Oat")
    if change == "rate":
        rates = [{"treatment": treatment["id"], "lot": OAT_KEY, "value": "36", "way": "kg_ha"}]
        assert keep(trial, rates=rates).status_code == 200
        said = "instead of 138 g"
    else:
        page = trial.page
        page["treatments"][0]["details"]["components"] = [{**OAT, "lot": "L-77"}]
        assert trial.ask(page).status_code == 200
        said = "another lot"
    assert stop_of(trial, oat)["repack"]
    assert said in place(trial, oat, oat).json()["detail"]


def test_a_map_whose_bags_are_packed_is_not_randomised_away(packed):
    trial, *plots = packed
    refused = trial.plan(**{**PLAN, "seed": 3})
    assert refused.status_code == 409
    assert "Seed bags are packed" in refused.json()["detail"]
    for plot in plots:
        trial.client.put(url(trial, "bags", plot), {"packed": False}, format="json")
    assert trial.plan(**{**PLAN, "seed": 3}).status_code == 200


@pytest.mark.usefixtures("empty_queue")
@pytest.mark.parametrize(("file", "labels"), [("bags.pdf", 8), ("labels.pdf", 12), ("packing-list.pdf", 8)])
def test_each_file_of_labels_opens_and_names_every_bag_or_plot(trial, file, labels):
    shown = keep(trial).json()
    answer = file_of(trial.client, trial.id, file)
    assert answer.status_code == 200
    pages = PdfReader(BytesIO(answer.content)).pages
    text = " ".join(page.extract_text() for page in pages)
    plots = [stop["plot"] for stop in shown["stops"]]
    wanted = plots if file != "labels.pdf" else [*plots, *shown["bare"]]
    assert len(wanted) == labels
    assert all(re.search(rf"\b{plot}\b", text) for plot in wanted)
    if file == "bags.pdf":
        assert len(re.findall(r"Black oat", text)) == labels
