"""What is read of each design is what its plots are, wherever the map came from: against a computation of its own."""

import random
import uuid

import numpy as np
import pytest
from scipy.optimize import minimize

from records.models import Visit
from tests.server.asking import PLAN, Trial, measure_in, site_in
from tests.server.bringing import read
from tests.server.test_importing import bring
from tests.server.test_swapping import FACTORS, SPLIT, swap
from trials.models import Unit

HEIGHT = {"name": "Height", "unit": "cm", "catalogue": "", "sheet": "figure", "settings": {}, "margin": 3,
          "direction": "higher", "expected": 30, "cv_percent": 20}  # fmt: skip
PLANS = {
    "crd": {},
    "rcbd": {},
    "paired_strips": {},
    "latin_square": {},
    "split_plot": {"whole_factor": "kill"},
    "strip_plot": {"whole_factor": "kill", "column_factor": "cover"},
    "incomplete_block": {"block_size": 4},
}


def treatments_for(design):
    if design == "incomplete_block":
        return {"treatments": [{"id": str(uuid.uuid4()), "name": f"Cover {n}"} for n in range(10)]}
    if design != "paired_strips":
        return {"factors": FACTORS, "treatments": [{**one, "id": str(uuid.uuid4())} for one in SPLIT]}
    return {"treatments": [{"id": str(uuid.uuid4()), "name": name} for name in ("Bare", "Rye")]}


def planned(owner, workspace, design):
    plan = {**PLAN, "design": design, **PLANS[design]}
    sites = [site_in("Mill Ground"), site_in("Cold Acre", bearing_deg=0)]
    return Trial(owner, workspace, plan, sites=sites, measures=[measure_in(**HEIGHT)], **treatments_for(design))


def units_at(trial, site):
    units = Unit.objects.filter(season__trial=trial, season__site=site["id"], kind="plot").order_by("order")
    return list(units.select_related("treatment", "parent__parent"))


def grow(owner, trial, site, seed=3):
    """A value for each plot: its treatment, the units that it lies in, and itself; returns label → value."""
    chance = random.Random(seed)
    drift = {}
    values = {}
    for unit in units_at(trial, site):
        around = [("block", unit.block), ("whole", unit.parent.label), ("row", unit.row), ("column", unit.column)]
        value = 30 + 3 * (sum(map(ord, unit.treatment.name)) % 5) + chance.gauss(0, 1)
        for key in around:
            value += drift.setdefault(key, chance.gauss(0, 4))
        values[unit.label] = round(value, 3)
    measure = owner.get(f"/api/v1/trials/{trial}").json()["measures"][0]["id"]
    there = Visit.objects.filter(season__trial=trial, season__site=site["id"]).first()
    visit = str(there.id if there else uuid.uuid4())
    asked = {"name": "In June", "due": "2026-06-24", "measures": [measure]}
    url = f"/api/v1/trials/{trial}/visits/{visit}?site={site['id']}"
    assert owner.put(url, asked, format="json").status_code == 200
    entries = [
        {"id": str(uuid.uuid4()), "unit": str(u.id), "measure": measure, "sample": 1,
         "fields": {"value": str(values[u.label])}, "entered_at": "2026-06-24T08:00:00Z"}
        for u in units_at(trial, site)
    ]  # fmt: skip
    outcomes = owner.put(f"/api/v1/visits/{visit}/entries", {"entries": entries}, format="json").json()["outcomes"]
    assert {one["state"] for one in outcomes} == {"saved"}, outcomes
    return values


def dummies(labels):
    names = sorted(set(map(str, labels)))
    return np.array([[float(str(label) == name) for name in names] for label in labels])


def computed(units, values, design):
    """(a, b) → (difference, standard error), from the units alone: least squares, or REML climbed by a simplex."""
    y = np.array([values[u.label] for u in units])
    treatments = sorted({u.treatment.name for u in units})
    x = dummies([u.treatment.name for u in units])
    fixed, random_ = {
        "crd": ([], []),
        "rcbd": ([[u.block for u in units]], []),
        "paired_strips": ([[u.block for u in units]], []),
        "latin_square": ([[u.row for u in units], [u.column for u in units]], []),
        "split_plot": ([], [[u.block for u in units], [(u.block, u.parent.label) for u in units]]),
        "strip_plot": ([], [[u.block for u in units], [(u.block, u.row) for u in units],
                            [(u.block, u.column) for u in units]]),
        "incomplete_block": ([[u.block for u in units]], [[(u.block, u.parent.label) for u in units]]),
    }[design]  # fmt: skip
    for labels in fixed:
        x = np.hstack([x, dummies(labels)[:, 1:]])
    shared = [z @ z.T for z in map(dummies, random_)]

    def parts(theta):
        v = np.exp(theta[0]) * np.eye(len(y)) + sum(np.exp(t) * z for t, z in zip(theta[1:], shared, strict=True))
        w = np.linalg.inv(v)
        c = np.linalg.inv(x.T @ w @ x)
        return v, w, c, c @ x.T @ w @ y

    def unlikely(theta):
        v, w, c, beta = parts(theta)
        r = y - x @ beta
        return np.linalg.slogdet(v)[1] - np.linalg.slogdet(c)[1] + r @ w @ r

    exact = {"method": "Nelder-Mead", "options": {"xatol": 1e-9, "fatol": 1e-11, "maxiter": 20000, "maxfev": 20000}}
    theta = minimize(unlikely, np.ones(1 + len(shared)), **exact).x
    _, _, c, beta = parts(theta)
    found = {}
    for i, a in enumerate(treatments):
        for j, b in enumerate(treatments):
            found[a, b] = (beta[i] - beta[j], np.sqrt(c[i, i] + c[j, j] - 2 * c[i, j]))
    return found


def agrees(owner, trial, site, design):
    """Whether the app reads what was grown as the computation does; returns what it showed."""
    values = grow(owner, trial, site)
    expected = computed(units_at(trial, site), values, design)
    query = f"?site={site['id']}"
    owner.post(f"/api/v1/trials/{trial}/results{query}", {}, format="json")
    # In incomplete blocks Kenward and Roger widen standard errors a little, which the computation doesn't.
    how = {"method": "lsd"} | ({"df_method": "satterthwaite"} if design == "incomplete_block" else {})
    shown = owner.post(f"/api/v1/trials/{trial}/readings{query}", how, format="json").json()
    pairs = shown["measures"][0]["full"]["pairs"]
    assert pairs, shown["measures"][0]["why"]
    for pair in pairs:
        difference, se = expected[pair["a"], pair["b"]]
        assert (pair["estimate"], pair["se"]) == (pytest.approx(difference, abs=2e-4), pytest.approx(se, rel=2e-3))
    return shown


@pytest.mark.parametrize("design", PLANS)
def test_a_plan_its_copies_its_files_and_a_second_site_are_read_as_the_design_that_they_are(owner, workspace, design):
    trial = planned(owner, workspace, design)
    mill, cold = trial.page["sites"]
    plan = {**PLAN, "design": design, **PLANS[design], "seed": 5}
    assert owner.post(f"/api/v1/trials/{trial.id}/plan?site={cold['id']}", plan, format="json").status_code == 200
    csv, geojson = (
        owner.get(f"/api/v1/trials/{trial.id}/{name}?site={mill['id']}").content.decode()
        for name in ("stake-out.csv", "plots.geojson")
    )
    for layout in ("copied", "same-plots"):
        body = {"id": str(uuid.uuid4()), "name": layout, "layout": layout}
        assert owner.post(f"/api/v1/trials/{trial.id}/copy", body, format="json").status_code == 201
        agrees(owner, body["id"], mill, design)
    agrees(owner, trial.id, mill, design)
    agrees(owner, trial.id, cold, design)
    for text in (csv, geojson):
        page = {"measures": [measure_in(**HEIGHT)], "sites": [site_in("Mill Ground")]}
        again = Trial(owner, workspace, {**PLAN, "blocks": 2}, **page, **treatments_for(design))
        seen = bring(again, text, "drawn").json()
        assert seen["design"] == design, seen
        agrees(owner, again.id, again.page["sites"][0], design)


NITROGEN = {"name": "nitrogen", "levels": ["0 kg N", "50 kg N"]}


def crossed(owner, trial):
    body = {"id": str(uuid.uuid4()), "name": "Crossed", "layout": "crossed", "factor": NITROGEN}
    return owner.post(f"/api/v1/trials/{trial.id}/copy", body, format="json")


@pytest.mark.parametrize("design", PLANS)
def test_a_factor_crossed_onto_blocks_is_a_split_plot_and_onto_other_strata_is_refused(owner, workspace, design):
    trial = planned(owner, workspace, design)
    made = crossed(owner, trial)
    if design not in ("rcbd", "paired_strips"):
        assert (made.status_code, "can’t be analysed yet" in made.json()["detail"]) == (422, True)
        return
    id = made.json()["id"]
    agrees(owner, id, trial.page["sites"][0], "split_plot")
    again = owner.post(f"/api/v1/trials/{id}/plan", PLAN, format="json")
    assert (again.status_code, "can’t be" in again.json()["detail"]) == (409, True)


def test_a_crossed_trial_keeps_how_its_old_plots_came_to_their_treatments(owner, workspace):
    """Fixed order, or changed by hand: what the earlier plots are doesn't become chance by a new factor inside them."""
    trial = planned(owner, workspace, "rcbd")
    mill = trial.page["sites"][0]
    swap(trial, "1101", "1102", why="stones")
    moved = crossed(owner, trial).json()["id"]
    grow(owner, moved, mill)
    (doubt,) = [one for one in read(owner, moved)["doubts"] if one["id"] == "not-randomised"]
    assert "1101 and 1102 were swapped (stones)" in doubt["finding"]
    trial.plan(**PLAN, systematic=True)
    fixed = crossed(owner, trial).json()["id"]
    grow(owner, fixed, mill)
    shown = read(owner, fixed)["measures"][0]
    assert {cell["verdict"] for cell in shown["cells"]} == {"no-answer"}
    assert "fixed order" in shown["refusal"]


def test_how_treatments_came_to_their_plots_belongs_to_a_site(owner, workspace):
    trial = planned(owner, workspace, "rcbd")
    mill, cold = trial.page["sites"]
    url = f"/api/v1/trials/{trial.id}"
    trial.plan(**PLAN, systematic=True)
    owner.post(f"{url}/plan?site={cold['id']}", PLAN, format="json")  # drawing one says nothing of the other
    csv = owner.get(f"{url}/stake-out.csv?site={cold['id']}").content.decode()

    def said():
        return [owner.get(f"{url}?site={site['id']}").json()["allocation"] for site in (mill, cold)]

    assert said() == ["systematic", "drawn"]
    assert bring(trial, csv, "unknown", site=cold["id"]).status_code == 200
    assert said() == ["systematic", "unknown"]
    other = bring(trial, csv, "drawn", site=mill["id"])
    assert (other.status_code, "holds plots of Cold Acre" in other.json()["detail"]) == (422, True)
    copy = {"id": str(uuid.uuid4()), "name": "Again", "layout": "copied"}
    made = owner.post(f"{url}/copy", copy, format="json").json()
    assert made["allocation"] == "systematic"
    for site in (mill, cold):
        grow(owner, trial.id, site)
    owner.post(f"{url}/results?site={mill['id']}", {}, format="json")
    owner.post(f"{url}/results?site={cold['id']}", {}, format="json")
    verdicts = [
        {
            c["verdict"]
            for c in owner.post(f"{url}/readings?site={s['id']}", {}, format="json").json()["measures"][0]["cells"]
        }
        for s in (mill, cold)
    ]
    assert verdicts[0] == {"no-answer"}
    assert "no-answer" not in verdicts[1]
