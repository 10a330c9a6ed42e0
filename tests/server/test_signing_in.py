"""Signing in: passwords, the session's token, and what guessing costs whom."""

import json
import threading
from datetime import timedelta
from urllib.parse import quote

import pytest
from django.core import signing
from django.test import Client

from config import clock
from config.proxies import TrustedProxies
from crew import throttle
from crew.models import Person, SignInFailures

RIGHT = "a-long-password"


@pytest.fixture(autouse=True)
def _fresh(monkeypatch, settings):
    monkeypatch.setattr(throttle, "SLOW_SECONDS", 0.0)
    throttle._known_waits.clear()
    settings.CLOCK = "2026-11-02T09:00:00+00:00"


@pytest.fixture
def owner(people):
    people["owner"].set_password(RIGHT)
    people["owner"].save()
    return people["owner"]


def sign_in(password=RIGHT, client=None, address="192.0.2.7", email="Owner@fen.example", **headers):
    body = json.dumps({"email": email, "password": password})
    return (client or Client()).post(
        "/api/v1/session", body, content_type="application/json", REMOTE_ADDR=address, **headers
    )


def later(settings, seconds):
    settings.CLOCK = (clock.now() + timedelta(seconds=seconds)).isoformat()


def fail(times, **where):
    for _ in range(times):
        assert sign_in("wrong", **where).status_code == 401


def test_passwords_are_kept_with_argon2_and_writing_needs_the_csrf_token(owner):
    assert owner.password.startswith("argon2$argon2id$")
    refused = sign_in(client=Client(enforce_csrf_checks=True))
    assert (refused.status_code, refused["Content-Type"]) == (403, "application/problem+json")
    client = Client(enforce_csrf_checks=True)
    client.get("/")
    token = client.cookies["csrftoken"].value
    assert sign_in(client=client, HTTP_X_CSRFTOKEN=token).status_code == 200


def test_a_password_that_was_hashed_otherwise_is_taken_and_hashed_anew(owner):
    from django.contrib.auth.hashers import Argon2PasswordHasher

    owner.password = Argon2PasswordHasher().encode(RIGHT, "some-salt-of-old")
    owner.save()
    assert sign_in().status_code == 200
    assert "m=19456,t=2,p=1" in Person.objects.get(pk=owner.pk).password


def test_after_five_failures_each_further_one_waits_twice_as_long_and_waiting_tries_do_not_count(owner, settings):
    fail(4)
    assert sign_in("wrong").status_code == 401
    for seconds in (15, 30, 60):
        for _ in range(3):
            refused = sign_in()  # even with the right password
            assert (refused.status_code, refused.json()["code"]) == (429, "too-many-tries")
            assert refused["Retry-After"] == str(seconds)
        throttle._known_waits.clear()  # another process, which knows of it from the database alone
        assert sign_in()["Retry-After"] == str(seconds)
        later(settings, seconds + 1)
        fail(1)
    later(settings, 121)
    assert sign_in().status_code == 200
    fail(4)  # forgiven: the count began anew
    assert sign_in().status_code == 200


def test_the_wait_has_a_longest_and_an_hour_without_a_failure_forgets(owner, settings):
    assert throttle.PERSON_HERE.wait(4) == timedelta(0)
    assert throttle.PERSON_HERE.wait(10_000) == timedelta(minutes=15)
    fail(5)
    later(settings, 3601)
    fail(4)


def test_strangers_elsewhere_and_in_the_same_range_do_not_lock_a_person_out_of_a_known_device(owner):
    phone = Client()
    assert sign_in(client=phone).status_code == 200
    fail(5, address="203.0.113.9")
    assert sign_in(address="203.0.113.77").status_code == 429  # the range of the guesser
    assert sign_in(address="192.0.2.7").status_code == 200  # the person, elsewhere
    for i in range(40):  # guesses at others from behind the person's own proxy
        sign_in("wrong", address="192.0.2.7", email=f"a{i}@fen.example")
    fail_here = sign_in(address="192.0.2.7", email="new@fen.example")
    assert (fail_here.status_code, int(fail_here["Retry-After"]) <= 60) == (429, True)
    assert sign_in(client=phone).status_code == 200
    other_device = Client()
    other_device.cookies[throttle.COOKIE] = phone.cookies[throttle.COOKIE].value + "x"  # not one that we have given
    assert sign_in(client=other_device).status_code == 429


def test_a_shared_device_knows_the_last_five_people_who_signed_in_on_it(people):
    tablet, names = Client(), [f"p{n}@fen.example" for n in range(7)]
    for name in names:
        Person.objects.create_person(name, name, RIGHT)
        assert sign_in(client=tablet, email=name).status_code == 200
    assert sign_in(client=tablet, email=names[2]).status_code == 200  # who comes back is the newest again
    known = signing.loads(tablet.cookies[throttle.COOKIE].value, salt=throttle._SALT)
    assert list(known) == [throttle._hash(names[n]) for n in (3, 4, 5, 6, 2)]


def test_guesses_from_everywhere_slow_down_everybody_but_known_devices(owner, monkeypatch):
    monkeypatch.setattr(throttle, "ALL", throttle.Limit(20, 1, 10))
    phone = Client()
    assert sign_in(client=phone).status_code == 200
    for i in range(20):
        sign_in("wrong", address=f"10.0.{i}.1", email=f"a{i}@fen.example")
    refused = sign_in(address="198.51.100.1")
    assert (refused.status_code, refused["Retry-After"]) == (429, "1")
    assert sign_in(client=phone).status_code == 200


def test_failures_are_kept_without_addresses_or_names_and_are_forgotten(owner, settings):
    fail(1)
    kept = list(SignInFailures.objects.values_list("key", flat=True))
    assert len(kept) == 3
    assert not [key for key in kept if "owner" in key or "192" in key]
    later(settings, 3601)
    assert throttle.forget_old() == 3


def test_one_password_at_a_time_is_hashed_and_who_waits_too_long_is_told(owner, monkeypatch):
    monkeypatch.setattr(throttle, "HASH_WAIT", 0.01)
    with throttle.hashing():
        found = []
        thread = threading.Thread(target=lambda: found.append(_refusal()))
        thread.start()
        thread.join()
    assert found == [2]
    assert _refusal() == 0


def _refusal():
    try:
        with throttle.hashing():
            return 0
    except throttle.MustWait as wait:
        return wait.seconds


@pytest.mark.parametrize(
    ("remote", "said", "client"),
    [
        ("198.51.100.4", "10.1.1.1", "198.51.100.4"),  # no proxy of ours: its word isn't taken
        ("127.0.0.1", "10.1.1.1, 203.0.113.5", "203.0.113.5"),  # only what our proxy itself has seen
        ("127.0.0.1", "203.0.113.5, 10.9.0.2", "203.0.113.5"),  # through two of ours
        ("127.0.0.1", "rubbish", "127.0.0.1"),
        ("127.0.0.1", "", "127.0.0.1"),
    ],
)
def test_an_address_is_believed_only_from_a_trusted_proxy(rf, settings, remote, said, client):
    settings.TRUSTED_PROXIES = ["127.0.0.1", "10.9.0.0/16"]
    seen = []
    proxies = TrustedProxies(lambda request: seen.append(request.META) or "")
    proxies(rf.get("/", REMOTE_ADDR=remote, HTTP_X_FORWARDED_FOR=said, HTTP_X_FORWARDED_PROTO="https"))
    assert seen[0]["REMOTE_ADDR"] == client
    assert ("HTTP_X_FORWARDED_PROTO" in seen[0]) == (remote == "127.0.0.1")


def test_a_change_that_says_whose_it_is_is_not_taken_under_somebody_else_s_session(client_of, people):
    client = client_of("owner")
    as_joss = {"HTTP_X_PERSON": quote("technician@fen.example"), "format": "json"}
    refused = client.patch("/api/v1/session", {"units": "us"}, **as_joss)
    assert (refused.status_code, "Somebody else is signed in" in refused.json()["detail"]) == (401, True)
    assert client.get("/api/v1/session").json()["units"] == "metric"
    own = {"HTTP_X_PERSON": quote("owner@fen.example"), "format": "json"}
    assert client.patch("/api/v1/session", {"units": "us"}, **own).json()["units"] == "us"
