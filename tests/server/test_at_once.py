"""The same request twice at the same moment, and two writers of the same things: each is answered, none is doubled."""

import threading
import uuid
from functools import partial

import pytest
from django.db import connection

from operations.models import Operation
from records.models import Note, Visit, VisitMeasure
from tests.server.asking import PLAN, Trial, measure_in, page, site_in
from trials.models import Trial as Trials

ROUNDS = 8


def at_once(*acts):
    """Answers of acts that start at the same moment, each on a connection of its own."""
    meet, found = threading.Barrier(len(acts)), [None] * len(acts)

    def run(i):
        meet.wait()
        try:
            found[i] = acts[i]()
        finally:
            connection.close()

    threads = [threading.Thread(target=run, args=(i,)) for i in range(len(acts))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


def sent_twice(client, method, url, body):
    def send():
        return getattr(client, method)(url, body, format="json")

    return at_once(send, send)


@pytest.mark.django_db(transaction=True)
def test_what_is_made_under_an_id_of_the_client_is_made_once(owner, workspace):
    trial = Trial(owner, workspace)
    url = f"/api/v1/trials/{trial.id}"
    before = Trials.objects.count()
    new, copy, note = (str(uuid.uuid4()) for _ in range(3))
    spray = {"kind": "spray", "name": "Spray", "due": "2026-05-01"}
    made = {
        "ask": ("put", f"/api/v1/trials/{new}/ask", page(workspace, sites=[site_in("Cold Acre")])),
        "copy": ("post", f"{url}/copy", {"id": copy, "name": "Again", "layout": "copied"}),
        "operation": ("put", f"{url}/operations/{uuid.uuid4()}", spray),
        "note": ("put", f"/api/v1/visits/{trial.visit}/notes/{note}", {"unit": None, "text": "Hares"}),
        "plan": ("post", f"{url}/plan", {**PLAN, "seed": None, "id": str(uuid.uuid4())}),
    }  # fmt: skip
    for what, (method, address, body) in made.items():
        first, second = sent_twice(owner, method, address, body)
        assert {first.status_code, second.status_code} <= {200, 201}, (what, first.content, second.content)
        again = getattr(owner, method)(address, body, format="json")
        assert again.status_code == first.status_code, (what, again.content)
        if what == "plan":
            assert again.json()["plots"] == first.json()["plots"] == second.json()["plots"]
    assert (Trials.objects.count() - before, Operation.objects.count(), Note.objects.count()) == (2, 1, 1)


@pytest.mark.django_db(transaction=True)
def test_one_measure_does_not_get_into_two_visits_that_are_planned_at_once(owner, workspace):
    for _ in range(ROUNDS):
        trial = Trial(owner, workspace, measures=[measure_in()])
        Visit.objects.filter(season__trial=trial.id).delete()
        answers = at_once(*(partial(plan_anew, trial, uuid.uuid4()) for _ in range(2)))
        assert sorted(answer.status_code for answer in answers) == [200, 422]
        assert VisitMeasure.objects.filter(visit__season__trial=trial.id).count() == 1


def plan_anew(trial, id):
    body = {"name": "Weeds", "due": None, "measures": trial.measures}
    return trial.client.put(f"/api/v1/trials/{trial.id}/visits/{id}", body, format="json")


@pytest.mark.django_db(transaction=True)
def test_writers_of_the_same_things_in_another_order_never_wait_for_each_other(owner, workspace):
    """Two trials that share sites and measures, listed the other way round; Ask beside layout, margin beside Ask."""
    sites, measures = [site_in("Mill Ground"), site_in("Cold Acre")], [measure_in(), measure_in("Slugs")]
    one = Trial(owner, workspace, sites=sites, measures=measures)
    turned = [{**m, "id": str(uuid.uuid4())} for m in measures[::-1]]
    other = Trial(owner, workspace, sites=sites[::-1], measures=turned)
    etags = owner.get(f"/api/v1/trials/{one.id}").json()
    margin = etags["measures"][0]
    for round in range(ROUNDS):
        pairs = [
            (lambda r=round: one.ask({**one.page, "question": f"A {r}"}),
             lambda r=round: other.ask({**other.page, "question": f"B {r}"})),
            (lambda r=round: one.ask({**one.page, "question": f"C {r}"}),
             lambda r=round: owner.put(f"/api/v1/trials/{one.id}/layout?site={sites[1]['id']}",
                                       {"field": {"headland": r}, "bearing": 30}, format="json")),
            (lambda r=round: one.ask({**one.page, "question": f"D {r}"}),
             lambda r=round: owner.patch(f"/api/v1/measures/{margin['id']}", {"margin": 3 + r}, format="json",
                                         HTTP_IF_MATCH="*")),
            (lambda r=round: one.plan(**{**PLAN, "seed": r}), lambda r=round: one.ask({**one.page, "name": f"E {r}"})),
        ]  # fmt: skip
        for pair in pairs:
            assert [answer.status_code for answer in at_once(*pair)] == [200, 200]
