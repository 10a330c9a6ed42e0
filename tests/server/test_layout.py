"""The layout on the ground: kept, checked, moved until something is recorded, and outlined from GeoJSON."""

import pytest

from tests.server.asking import Trial
from trials.models import Site, Unit

SQUARE = [[0, 0], [60, 0], [60, 60], [0, 60]]
POLYGON = {"type": "Polygon", "coordinates": [[[0.1, 52.7], [0.102, 52.7], [0.102, 52.701], [0.1, 52.701]]]}


def layout(owner, trial, **body):
    return owner.put(f"/api/v1/trials/{trial.id}/layout", body, format="json")


def test_a_field_is_kept_and_says_what_does_not_fit_and_where_to(owner, trial):
    pole = {"name": "pole", "points": [[20, 20], [21, 20], [21, 21]]}
    field = {"outline": SQUARE, "headland": 3, "tracks": {"first": 1, "spacing": 24, "width": 0.5}, "guard": 1,
             "harvest_width": 2, "gradient": 90, "obstacles": [pole]}  # fmt: skip
    kept = layout(owner, trial, field=field, bearing=10).json()
    assert kept["fits"] is False
    first = next(p for p in kept["plots"] if p["label"] == "101")
    assert (first["wrong"], first["tracks"]) == (["it reaches into the headland"], 1)
    assert "Turn the trial to 90°" in kept["advice"][0]
    Site.objects.filter(seasons__trial=trial.id).update(slope_percent=4)
    advice = owner.get(f"/api/v1/trials/{trial.id}/layout").json()["advice"]
    assert any("On a slope of 4 %" in one for one in advice)
    assert kept["usable_area"] == pytest.approx(54 * 54)
    shifts = dict.fromkeys(("A", "B", "C", "D"), kept["shift"])
    checked = owner.post(
        f"/api/v1/trials/{trial.id}/layout/check", {"field": field, "shifts": shifts}, format="json"
    ).json()
    assert checked["fits"] is True
    opened = owner.get(f"/api/v1/trials/{trial.id}/layout").json()
    unsaid = {"tree_rows": None, "sown_width": None, "sown_every": 1}
    assert opened["field"] == {**field, "outline": SQUARE, **unsaid}
    assert opened["bearing"] == 10


def test_blocks_move_together_until_the_first_record_is_in(owner, trial):
    def corner(label):
        ground = Unit.objects.get(season__trial=trial.id, label=label, kind="plot").ground
        return ground.x_m, ground.y_m

    before, other = corner("201"), corner("101")
    assert layout(owner, trial, field={}, shifts={"B": [1.5, 4]}).status_code == 200
    assert corner("201") == (before[0] + 1.5, before[1] + 4)
    assert corner("101") == other
    trial.enter(trial.typed("101", "7"))
    late = layout(owner, trial, field={"headland": 2}, shifts={"B": [1, 0]})
    assert late.status_code == 409
    assert "so the plots can’t be moved" in late.json()["detail"]
    assert layout(owner, trial, field={"headland": 2}).status_code == 200  # what is around them may still be told


def test_an_outline_gives_a_site_without_a_place_its_corner(owner, trial):
    found = owner.post(f"/api/v1/trials/{trial.id}/layout/outline", {"geojson": POLYGON}, format="json").json()
    assert found["corner"] == [0.1, 52.7]
    assert found["outline"][0] == pytest.approx([0, 0])
    layout(owner, trial, field={"outline": found["outline"]}, corner=found["corner"])
    site = owner.get(f"/api/v1/trials/{trial.id}").json()["site"]
    assert (site["longitude"], site["latitude"]) == (0.1, 52.7)


def test_numbers_are_read_as_typed_in_the_persons_unit_and_refused_at_their_field(owner, trial, people):
    box = {"name": "pole", "x": "10", "y": "0", "width": "10 ft", "length": "1,5 m"}
    typed = {"headland": "9,125", "gradient": "-90", "tracks": {"first": "", "spacing": "24", "width": ""},
             "obstacles": [box, {"name": "", "x": "", "y": "", "width": "", "length": ""}]}  # fmt: skip
    kept = layout(owner, trial, field=typed, bearing="").json()
    assert (kept["field"]["headland"], kept["field"]["gradient"], kept["field"]["tracks"]) == (9.125, 270, None)
    (pole,) = kept["field"]["obstacles"]
    assert pole["points"][2] == pytest.approx([10 + 3.048, 1.5])
    people["owner"].units = "us"
    people["owner"].save()
    assert layout(owner, trial, field={"headland": "10"}).json()["field"]["headland"] == pytest.approx(3.048)
    wrong = {"headland": "3x", "tracks": {"first": "0", "spacing": "12 5", "width": "1"}, "sown_every": "1.5"}
    for method, path in (("put", "layout"), ("post", "layout/check")):
        answer = getattr(owner, method)(f"/api/v1/trials/{trial.id}/{path}", {"field": wrong}, format="json")
        assert {e["where"] for e in answer.json()["errors"]} == {
            "field.headland", "field.tracks.spacing", "field.sown_every",
        }  # fmt: skip
    sized = owner.post(f"/api/v1/trials/{trial.id}/layout/outline", {"width": "100", "length": "60 m"}, format="json")
    assert sized.json()["outline"][2] == pytest.approx([30.48, 60])


@pytest.mark.parametrize(("field", "says"), [
    ({"outline": [[0, 0], [9, 9], [9, 0], [0, 9]]}, "The outline crosses itself near x 4.5 m, y 4.5 m"),
    ({"outline": SQUARE, "headland": 40}, "leaves nothing of the field"),
    ({"tracks": {"first": 0, "spacing": 1, "width": 2}}, "a spacing that is wider"),
])  # fmt: skip
def test_what_is_no_field_is_refused_and_what_was_kept_stays(owner, trial, field, says):
    layout(owner, trial, field={"headland": 2})
    refused = layout(owner, trial, field=field)
    assert refused.status_code == 422
    assert says in refused.json()["detail"]
    assert owner.get(f"/api/v1/trials/{trial.id}/layout").json()["field"]["headland"] == 2


def test_what_a_site_is_known_for_is_kept_and_earlier_trials_on_it_are_named(owner, workspace, trial):
    grown = [{"year": "2025", "crop": "barley", "cover": "", "tillage": "ploughed"}]
    known = {"slope_percent": 2.5, "drainage": "tiles", "coldest_c": -12, "grown": grown, "weeds": "black-grass",
             "pests": "", "carry_over": "nothing seen"}  # fmt: skip
    later = Trial(owner, workspace, sites=[trial.page["sites"][0] | known])
    opened = owner.get(f"/api/v1/trials/{later.id}").json()
    assert {key: opened["site"][key] for key in known} == known
    assert opened["earlier"] == {trial.page["sites"][0]["id"]: [trial.page["name"]]}


def test_what_is_sown_between_rows_of_trees_is_kept_with_its_share_of_the_ground(owner, trial):
    rows = {"first": -5, "spacing": 30, "width": 1}
    field = {"tree_rows": rows, "sown_width": 12, "sown_every": 2, "tracks": {"first": 1, "spacing": 24, "width": 0.6}}
    kept = layout(owner, trial, field=field).json()
    assert kept["planted_fraction"] == pytest.approx(12 / 30 / 2)
    zones = next(p["zones"] for p in kept["plots"] if p["label"] == "101")
    assert zones == pytest.approx({"wheel track": 0.2, "between": 0.8})
    wide = layout(owner, trial, field={**field, "sown_width": 30})
    assert "between the rows there are 29 m" in wide.json()["detail"]
    assert owner.get(f"/api/v1/trials/{trial.id}/layout").json()["field"]["sown_width"] == 12
