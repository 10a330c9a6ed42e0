"""A layout that is there already becomes the map, with how it was placed; wrong rows leave everything as it was."""

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.server.asking import PLAN, Trial, site_in
from tests.server.bringing import read
from tests.server.test_swapping import FACTORS, SPLIT
from trials.models import Unit

TABLE = "plot,block,treatment,x_m,y_m,width_m,length_m\n" + "".join(
    f"{b}{n},{b},{t},{4 * n},{12 * i},3,10\n" for i, b in enumerate("AB") for n, t in enumerate(("Bare", "PH", "CV"))
)


def bring(trial, text, allocation="systematic", site="", **typed):
    """`design`: what the person says of a file that doesn't say it; our own files do."""
    chosen = {} if ",design," in text or '"design"' in text else {"design": "rcbd"}
    sent = {"file": SimpleUploadedFile("layout.csv", text.encode()), "allocation": allocation, **chosen, **typed}
    return trial.client.post(f"/api/v1/trials/{trial.id}/plan/file?site={site}", sent, format="multipart")


def plots(trial):
    units = Unit.objects.filter(season__trial=trial.id, kind="plot").select_related("treatment", "ground", "parent")
    return [(u.label, u.block, u.treatment.name, u.ground.x_m, u.ground.y_m) for u in units.order_by("order")]


def test_a_table_becomes_the_map_and_how_it_was_placed_a_doubt(owner, workspace):
    trial = Trial(owner, workspace)
    seen = bring(trial, TABLE).json()
    assert (seen["design"], seen["allocation"], seen["plan"], seen["schematic"]) == ("rcbd", "systematic", None, False)
    assert plots(trial)[:2] == [("A0", "A", "Bare", 0, 0), ("A1", "A", "Phacelia", 4, 0)]
    assert len(plots(trial)) == 6
    (doubt,) = [d for d in read(owner, trial.id)["doubts"] if d["id"] == "not-randomised"]
    assert doubt["finding"] == "Treatments were placed in a fixed order, not randomised."
    drawn = trial.plan(**PLAN).json()  # chance may still have it
    assert (drawn["allocation"], len(drawn["plots"])) == ("drawn", 12)


def test_at_one_of_several_sites_a_layout_may_leave_treatments_out_but_no_control(owner, workspace):
    trial = Trial(owner, workspace)
    few = "\n".join(line for line in TABLE.splitlines() if ",CV," not in line)
    assert "No plot holds Common vetch." in bring(trial, few).json()["detail"]
    trial.ask({**trial.page, "sites": [*trial.page["sites"], site_in("Cold Acre")]})
    bare = "\n".join(line for line in TABLE.splitlines() if ",Bare," not in line)
    assert "No plot holds Bare." in bring(trial, bare).json()["detail"]
    seen = bring(trial, few).json()
    assert seen["not_grown"] == [trial.page["treatments"][2]["id"]]
    assert [c["treatment"] for c in read(owner, trial.id)["measures"][0]["cells"]] == ["Phacelia"]
    assert bring(trial, TABLE).json()["not_grown"] == []


def test_what_goes_out_as_outlines_or_stake_out_list_comes_back_as_the_same_map(owner, workspace):
    trial = Trial(owner, workspace)
    before = plots(trial)
    for path in ("plots.geojson", "stake-out.csv"):
        text = owner.get(f"/api/v1/trials/{trial.id}/{path}").content.decode()
        assert bring(trial, text, "drawn").status_code == 200
        assert [row[:3] for row in plots(trial)] == [row[:3] for row in before]
        assert plots(trial)[-1][3:] == pytest.approx(before[-1][3:], abs=0.02)
        assert not [d for d in read(owner, trial.id)["doubts"] if d["id"] == "not-randomised"]


def test_outlines_tell_a_site_without_a_place_where_it_lies(owner, workspace):
    trial = Trial(owner, workspace)
    outlines = owner.get(f"/api/v1/trials/{trial.id}/plots.geojson").content.decode()
    site = {**trial.page["sites"][0], "latitude": None, "longitude": None, "bearing_deg": 0}
    trial.ask({**trial.page, "sites": [site]})
    seen = bring(trial, outlines, "unknown").json()
    assert (seen["site"]["latitude"], seen["site"]["longitude"]) == pytest.approx((52.7, 0.1), abs=1e-3)
    assert seen["site"]["bearing_deg"] == pytest.approx(30, abs=0.2)


def test_wrong_rows_are_told_by_line_and_the_map_stays(owner, workspace):
    trial = Trial(owner, workspace)
    before = plots(trial)
    answer = bring(trial, TABLE.replace("A1,A,PH,4", "A1,A,Rye,four"))
    assert answer.status_code == 422
    told = [(e["where"], e["what"][:24]) for e in answer.json()["errors"]]
    assert told == [("line 3, x_m", "'four' isn’t a number."), ("line 3, treatment", "'Rye' isn’t a treatment ")]
    assert plots(trial) == before


def test_a_table_without_sizes_takes_the_size_that_is_typed_in_the_person_s_unit(owner, workspace, people):
    people["owner"].units = "us"
    people["owner"].save()
    trial = Trial(owner, workspace, plan=PLAN | {"width": "10", "length": "33", "gap": "0", "alley": "0"})
    bare = "plot,treatment,x_m,y_m\n1,Bare,0,0\n2,PH,4,0\n3,CV,8,0\n4,Bare,12,0\n"
    assert "type the size in Plan" in bring(trial, bare).json()["detail"]
    seen = bring(trial, bare, width="10", length="33 ft", design="crd").json()
    assert seen["design"] == "crd"
    assert seen["plots"][0]["width"] == pytest.approx(3.048)


def test_whole_plots_in_the_file_make_it_a_split_plot(owner, workspace):
    trial = Trial(owner, workspace, factors=FACTORS, treatments=SPLIT)
    cells = [(k, c) for k in ("early", "late") for c in ("oat", "rye")]
    rows = "".join(
        f'{b}{n},{b},{k}{b},"{k}, {c}",{4 * n},{12 * i},3,10\n'
        for i, b in enumerate("AB") for n, (k, c) in enumerate(cells)
    )  # fmt: skip
    head = "plot,block,whole_plot,treatment,x_m,y_m,width_m,length_m\n"
    split = {"design": "split_plot"}
    assert bring(trial, head + rows, **split).json()["design"] == "split_plot"
    mixed = rows.replace("lateA", "earlyA")
    assert "no factor of the trial has one level in each" in bring(trial, head + mixed, **split).json()["detail"]
    # block 1 with whole plot 11 isn't block 11 with whole plot 1
    blocks = rows.replace(",A,", ",1,").replace(",B,", ",11,").replace("earlyA", "11").replace("lateA", "2")
    seen = bring(trial, head + blocks.replace("earlyB", "1").replace("lateB", "12"), **split).json()
    assert len({p["whole_plot"] for p in seen["plots"]}) == 4


def test_the_design_of_a_foreign_file_is_asked_and_an_empty_block_is_a_question(owner, workspace):
    trial = Trial(owner, workspace)
    asked = bring(trial, TABLE, design="")
    assert (asked.status_code, "doesn’t say its design" in asked.json()["detail"]) == (422, True)
    hole = TABLE.replace("A1,A,", "A1,,")
    (place,) = bring(trial, hole).json()["errors"]
    assert place["where"] == "plot A1, block"
    assert bring(trial, hole, design="crd").json()["design"] == "crd"
    square = bring(trial, TABLE, design="latin_square")
    assert [e["where"] for e in square.json()["errors"]][:1] == ["plot A0, row"]
    own = owner.get(f"/api/v1/trials/{trial.id}/stake-out.csv").content.decode()
    differs = bring(trial, own, design="rcbd")
    assert "says its design is completely randomised, and you chose" in differs.json()["detail"]


def test_once_something_is_recorded_the_map_stays(owner, workspace):
    trial = Trial(owner, workspace)
    trial.enter(trial.typed("101", "7"))
    assert bring(trial, TABLE).status_code == 409
