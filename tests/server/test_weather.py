"""Weather of a site: a service that works, fails and comes back, another that speaks the protocol, hands and files."""

import json
import threading
import uuid
from datetime import date, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from jobs import running
from jobs.models import Job
from standins.weather.climate import STATIONS, day_of
from standins.weather.service import Behaviour, WeatherServer
from tests.server.asking import Trial
from weather import client as client_room
from weather.fetching import due_stations, fetch
from weather.models import DayRecord, Station

pytestmark = pytest.mark.usefixtures("empty_queue")
TODAY = date(2026, 9, 3)
SLUICE = STATIONS[0]


@pytest.fixture(autouse=True)
def _frame(settings, monkeypatch):
    settings.CLOCK = f"{TODAY}T09:00:00+00:00"
    settings.PRIVATE_SERVICES = True
    monkeypatch.setattr(client_room, "READ_SECONDS", 0.4)
    monkeypatch.setattr(client_room, "BACKOFF", 0.01)
    monkeypatch.setattr("weather.fetching.YEARS_BACK", 4)


@pytest.fixture
def service():
    with WeatherServer(("127.0.0.1", 0), Behaviour(today=TODAY)) as server:
        threading.Thread(target=server.serve_forever, args=[0.02], daemon=True).start()
        yield server
        server.shutdown()


@pytest.fixture
def trial(owner, workspace):
    return Trial(owner, workspace, starts="2026-08-20", ends="2027-09-01")


def url(trial, *more):
    return "/".join(["/api/v1/trials", trial.id, "weather", *map(str, more)])


def run_jobs():
    for job in Job.objects.filter(state="queued").order_by("created_at"):
        running.run(job.pk)


def register(trial, address, client=None, id=None):
    body = {"name": "District weather", "url": address}
    return (client or trial.client).put(url(trial, "services", id or uuid.uuid4()), body, format="json")


def use(trial, service, key="tarrow-sluice"):
    """Register the service, take its station, and fetch."""
    registered = register(trial, service.url).json()["services"][0]["id"]
    run_jobs()
    answer = trial.client.put(url(trial, "station"), {"service": registered, "key": key}, format="json")
    assert answer.status_code == 200, answer.content
    run_jobs()
    return trial.client.get(url(trial)).json()


def enter(trial, day, client=None, **values):
    return (client or trial.client).put(url(trial, "days", day), values, format="json")


def own_station(trial):
    answer = trial.client.put(
        url(trial, "station"), {"id": str(uuid.uuid4()), "name": "Gauge at the gate"}, format="json"
    )
    assert answer.status_code == 200
    return answer.json()


def send(trial, text, keep=False, **answers):
    file = SimpleUploadedFile("weather.csv", text.encode())
    body = {"file": file, "answers": json.dumps(answers), "keep": keep}
    return trial.client.post(url(trial, "file"), body, format="multipart")


def on(shown, day):
    return next(one for one in shown["days"] if one["day"] == day.isoformat())


def test_a_service_fills_the_season_its_normals_and_the_days_ahead(trial, service):
    shown = use(trial, service)
    assert shown["station"]["name"] == "Tarrow Sluice"
    assert shown["station"]["trouble"] == ""
    assert shown["missing_days"] == 0
    assert shown["normals_from"] == 4
    yesterday = day_of(7, SLUICE, TODAY - timedelta(days=1))
    assert on(shown, yesterday.day) == {
        "day": yesterday.day.isoformat(), "tmin": yesterday.tmin_c, "tmax": yesterday.tmax_c,
        "rain": yesterday.rain_mm, "soil": yesterday.soil_10cm_c, "source": "service",
    }  # fmt: skip
    assert on(shown, TODAY + timedelta(days=6))["source"] == "forecast"
    rain = sum(day_of(7, SLUICE, date(2026, 8, 6) + timedelta(days=i)).rain_mm for i in range(28))
    assert any(f"{rain:.0f} mm of rain on 28 days" in one for one in shown["summary"]["sentences"])
    # Asked again, only the last days come: nothing is doubled, and what the service mended is taken.
    assert fetch(Station.objects.get()) == 4
    assert DayRecord.objects.filter(day=yesterday.day).count() == 1


def test_a_service_that_fails_says_so_keeps_what_is_there_and_comes_back(trial, service, settings):
    use(trial, service)
    before = DayRecord.objects.count()
    service.behaviour.failing = True
    service.behaviour.today = TODAY + timedelta(days=2)
    settings.CLOCK = f"{TODAY + timedelta(days=2)}T09:00:00+00:00"
    job = trial.client.post(url(trial, "fetch")).json()
    run_jobs()
    assert trial.client.get(f"/api/v1/jobs/{job['id']}").json()["state"] == "done"
    shown = trial.client.get(url(trial)).json()
    assert "answered 503" in shown["station"]["trouble"]
    assert shown["station"]["answered_at"] < shown["station"]["tried_at"]
    assert shown["missing"] == [{"first": "2026-09-03", "last": "2026-09-04", "days": 2}]
    assert DayRecord.objects.count() == before
    assert due_stations() == []  # left alone for an hour
    service.behaviour.failing = False
    settings.CLOCK = f"{TODAY + timedelta(days=2)}T10:00:00+00:00"
    (station,) = due_stations()
    fetch(station)
    shown = trial.client.get(url(trial)).json()
    assert (shown["station"]["trouble"], shown["missing_days"]) == ("", 0)


def test_a_service_that_is_slow_or_away_never_holds_a_page(trial, service):
    use(trial, service)
    service.behaviour.slow = 1.0
    station = Station.objects.get()
    fetch(station)
    assert "didn’t answer in time" in station.trouble
    service.shutdown()
    service.server_close()
    fetch(station)
    assert "can’t be reached" in station.trouble
    assert trial.client.get(url(trial)).json()["missing_days"] == 0


class Other(BaseHTTPRequestHandler):
    """Another service of the same protocol: one station, whole degrees, a day without rain, one that can't be."""

    answers = {
        "/v1/stations": {"stations": [{"id": "7/a", "name": "Hut", "latitude": 52, "longitude": 1, "extra": True}]},
        "/v1/stations/7%2Fa/forecast": {"days": []},
    }
    days = [
        {"day": "2026-09-01", "tmin_c": 9, "tmax_c": 20, "rain_mm": None},
        {"day": "2026-09-02", "tmin_c": 31, "tmax_c": 20, "rain_mm": 4},
    ]

    def do_GET(self):
        path = self.path.split("?")[0]
        said = {"days": self.days} if path.endswith("/days") else self.answers.get(path)
        body = b"<html>" if said is None else json.dumps(said).encode()
        self.send_response(200)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, *_):
        pass


@pytest.fixture
def other():
    with ThreadingHTTPServer(("127.0.0.1", 0), Other) as server:
        threading.Thread(target=server.serve_forever, args=[0.02], daemon=True).start()
        server.url = f"http://127.0.0.1:{server.server_port}"
        yield server
        server.shutdown()


def test_any_service_of_the_protocol_serves_and_impossible_values_are_missing(trial, other, monkeypatch):
    shown = use(trial, other, key="7/a")
    assert on(shown, date(2026, 9, 1)) == {
        "day": "2026-09-01", "tmin": 9, "tmax": 20, "rain": None, "soil": None, "source": "service",
    }  # fmt: skip
    second = on(shown, date(2026, 9, 2))
    assert (second["tmin"], second["tmax"], second["rain"]) == (None, 20, 4)
    assert shown["normals_from"] == 0
    monkeypatch.setattr(Other, "answers", {})
    registered = register(trial, other.url, id=shown["services"][0]["id"]).json()
    run_jobs()
    (said,) = trial.client.get(url(trial)).json()["services"]
    assert "can’t be read" in said["trouble"]
    assert said["stations"] == registered["services"][0]["stations"]  # what it named before stays


def test_only_an_owner_registers_a_service_and_none_within_the_network(trial, client_of, settings):
    for role in ("researcher", "technician", "reader"):
        assert register(trial, "https://weather.example", client=client_of(role)).status_code == 403
    settings.PRIVATE_SERVICES = False
    for address in (
        "http://127.0.0.1:9",
        "http://[::1]/",
        "http://[",
        "http://169.254.1.1",
        "ftp://x.example",
        "http://a@b.example",
    ):
        refused = register(trial, address)
        assert refused.status_code == 422
        assert refused.json()["errors"][0]["where"] == "url"


def test_a_hand_comes_before_a_file_and_a_file_before_the_service(trial, service):
    use(trial, service)
    day = date(2026, 9, 1)
    simulated = day_of(7, SLUICE, day)
    assert send(trial, f"date,rain (mm),tmax (°C)\n{day},11,19.5\n", keep=True).json()["kept"]
    assert enter(trial, day, rain_mm="12.5").status_code == 200
    shown = on(trial.client.get(url(trial)).json(), day)
    assert (shown["rain"], shown["tmax"], shown["tmin"], shown["source"]) == (12.5, 19.5, simulated.tmin_c, "hand")
    assert on(enter(trial, day).json(), day)["rain"] == 11  # emptied by hand: the file's counts again


def test_missing_days_are_shown_and_filled_by_hand(trial):
    assert own_station(trial)["missing_days"] == 28
    assert enter(trial, "2026-08-31", tmin_c="9", tmax_c="18", rain_mm="0").status_code == 200
    runs = trial.client.get(url(trial)).json()["missing"]
    assert [(run["first"], run["days"]) for run in runs] == [("2026-08-06", 25), ("2026-09-01", 2)]
    for day, values, said in (
        ("2026-08-31", {"tmin_c": "19", "tmax_c": "18"}, "lies above the maximum"),
        ("2026-09-04", {"rain_mm": "1"}, "lies ahead"),
        ("2026-08-31", {"rain_mm": "wet"}, "isn’t a"),
    ):
        refused = enter(trial, day, **values)
        assert refused.status_code in (400, 422)
        assert said in json.dumps(refused.json(), ensure_ascii=False)
    assert enter(trial, "someday", rain_mm="1").status_code == 404


def test_a_file_in_the_wrong_unit_is_asked_about_before_anything_is_kept(trial):
    own_station(trial)
    rows = "".join(f"2026-08-{d},{50 + d % 3},{68 + d % 5}\n" for d in range(20, 31))
    text = f"date,tmin_c,tmax_c\n{rows}"
    asked = send(trial, text, keep=True).json()
    assert next(q["id"] for q in asked["questions"] if not q["answer"]) == "temperature_unit"
    assert not asked["kept"]
    assert DayRecord.objects.count() == 0
    kept = send(trial, text, keep=True, temperature_unit="f").json()
    assert (kept["kept"], kept["days"], kept["first"]) == (True, 11, "2026-08-20")
    assert DayRecord.objects.get(day="2026-08-21").tmax_c == pytest.approx((69 - 32) / 1.8, abs=0.01)
    assert send(trial, "date,rain (mm)\n2026-09-20,4\n", keep=True).status_code == 422  # days ahead aren't records


def test_a_sowing_has_its_rain_and_degree_days_since(trial, people, client_of):
    own_station(trial)
    path = f"/api/v1/trials/{trial.id}/operations/{uuid.uuid4()}"
    trial.client.put(path, {"kind": "sow", "name": "Sow", "done": "2026-08-28"}, format="json")
    rows = "".join(f"2026-08-{d},10,18,{d - 27}\n" for d in range(28, 32)) + "2026-09-01,10,18,5\n2026-09-02,10,18,6\n"
    assert send(trial, f"date,tmin_c,tmax_c,rain_mm\n{rows}".replace("rain_mm", "rain (mm)"), keep=True).json()["kept"]

    def sowing(client):
        return client.get(f"/api/v1/trials/{trial.id}/season").json()["operations"][0]

    shown = sowing(trial.client)
    # Rain of days 1 to 5 after the 28th: 2 + 3 + 4 + 5 + 6; the sixth to tenth aren't over yet. Six days of 10 °C d.
    assert shown["rain_after"] == [{"days": 5, "rain": 20.0}, {"days": 10, "rain": None}]
    assert shown["warmth"] == "60 °C d above 4 °C since then"
    people["technician"].units = "us"
    people["technician"].save()
    assert sowing(client_of("technician"))["warmth"] == "108 °F d above 39.2 °F since then"


def test_people_of_another_custom_read_and_type_their_units(trial, people, client_of):
    people["technician"].units = "us"
    people["technician"].save()
    own_station(trial)
    hand = client_of("technician")
    shown = enter(trial, "2026-09-01", client=hand, tmin_c="50", tmax_c="68", rain_mm="0.5").json()
    assert (shown["temperature_unit"], shown["rain_unit"]) == ("°F", "in")
    found = on(shown, date(2026, 9, 1))
    assert (found["tmin"], found["tmax"], found["rain"]) == (50, 68, 0.5)
    kept = DayRecord.objects.get()
    assert (kept.tmin_c, kept.tmax_c, kept.rain_mm) == (10, 20, pytest.approx(12.7))


def test_strangers_find_nothing_and_readers_change_nothing(trial, client_of, service):
    use(trial, service)
    assert client_of("stranger").get(url(trial)).status_code == 404
    reader = client_of("reader")
    assert reader.get(url(trial)).status_code == 200
    assert enter(trial, "2026-09-01", client=reader, rain_mm="1").status_code == 403
    assert reader.post(url(trial, "fetch")).status_code == 403
