"""Helpers that ask, plan and walk a trial through the API, as the pages do."""

import uuid
from datetime import UTC, datetime

from tests.server.remembered import remembered
from trials.models import Unit, UnitKind

AT = datetime(2026, 6, 24, 8, 0, tzinfo=UTC).isoformat()


def measure_in(name="Weeds", **changes):
    return {
        "id": str(uuid.uuid4()), "name": name, "unit": "weeds/m²", "catalogue": "weeds", "sheet": "frame-count",
        "settings": {"area": 0.25, "frames": 2}, "margin": 10, "margin_kind": "absolute", "direction": "lower",
        "planned": "none", "expected": 40, "cv_percent": 25, **changes,
    }  # fmt: skip


YIELD = {"unit": "t/ha", "catalogue": "grain-yield", "sheet": "moist-yield", "settings": {"standard": 14},
         "margin": 0.5, "direction": "higher", "expected": 7, "cv_percent": 5}  # fmt: skip

COVER = {"unit": "t/ha", "catalogue": "cover-biomass", "sheet": "figure", "settings": {}, "margin": 0.5,
         "direction": "higher", "expected": 2, "cv_percent": 20}  # fmt: skip


def site_in(name="Mill Ground", **changes):
    return {"id": str(uuid.uuid4()), "name": name, "time_zone": "Europe/London", "last_frost": "04-28",
            "latitude": 52.7, "longitude": 0.1, "bearing_deg": 30, **changes}  # fmt: skip


def page(workspace, **changes):
    return {
        "workspace": str(workspace.id),
        "name": "Covers before barley",
        "question": "Does any cover lift barley by half a tonne?",
        "sites": [site_in()],
        "starts": "2026-08-20",
        "ends": "2027-08-10",
        "treatments": [
            {"id": str(uuid.uuid4()), "name": "Phacelia"},
            {"id": str(uuid.uuid4()), "name": "Bare", "is_control": True},
            {"id": str(uuid.uuid4()), "name": "Common vetch"},
        ],
        "measures": [measure_in(), measure_in("Barley", **YIELD)],
        **changes,
    }


PLAN = {"blocks": 4, "width": "3", "length": "10", "gap": "0.5", "alley": "2", "seed": 11}


class Trial:
    """A trial that was asked, planned and given a visit for its measures."""

    def __init__(self, client, workspace, plan=PLAN, **changes):
        self.client, self.id, self.visit = client, str(uuid.uuid4()), str(uuid.uuid4())
        self.page = page(workspace, **changes)
        self.measures = [m["id"] for m in self.page["measures"]]
        by = client.session.get("_auth_user_id")
        remembered([by, self.id, self.visit, self.page, plan], lambda: self._make(plan))

    def _make(self, plan):
        made = self.ask(self.page)
        assert made.status_code == 200, made.content
        assert self.plan(**plan).status_code == 200
        assert self.plan_visit().status_code == 200

    def ask(self, page):
        return self.client.put(f"/api/v1/trials/{self.id}/ask", page, format="json")

    def plan(self, **plan):
        return self.client.post(f"/api/v1/trials/{self.id}/plan", plan, format="json")

    def plan_visit(self, **changes):
        body = {"name": "Weeds in June", "due": "2026-06-24", "measures": self.measures, **changes}
        return self.client.put(f"/api/v1/trials/{self.id}/visits/{self.visit}", body, format="json")

    def unit(self, label):
        return str(Unit.objects.get(season__trial=self.id, label=label, kind=UnitKind.PLOT).id)

    def typed(self, label, text, frame=1, measure=0, **changes):
        fields = text if isinstance(text, dict) else {"count": text}
        return {"id": str(uuid.uuid4()), "unit": self.unit(label), "measure": self.measures[measure],
                "sample": frame, "fields": fields, "entered_at": AT, **changes}  # fmt: skip

    def enter(self, *entries, client=None):
        sent = (client or self.client).put(f"/api/v1/visits/{self.visit}/entries", {"entries": entries}, format="json")
        if sent.status_code != 200:
            return sent
        outcomes = sent.json()["outcomes"]
        assert [one["id"] for one in outcomes] == [one["id"] for one in entries]
        return outcomes

    def open(self, client=None):
        return (client or self.client).get(f"/api/v1/visits/{self.visit}").json()


def stands(trial, label, frame=1, measure=0):
    """The row that stands in a place, as the page sees it."""
    wanted = {"unit": trial.unit(label), "measure": trial.measures[measure], "sample": frame}
    return next((r for r in trial.open()["rows"] if {k: r[k] for k in wanted} == wanted), None)
