"""The built application in Debian's headless Chromium, on real PostgreSQL."""

import os
import sys
from pathlib import Path
from subprocess import PIPE, Popen
from threading import Condition, Thread

import pytest
from django.apps import apps
from django.conf import settings as django_settings
from django.core.signals import request_finished, request_started
from django.db import connection
from django.test import Client
from playwright.sync_api import expect

from crew.models import Person
from demo.loading import load

expect.set_options(timeout=15_000)  # a busy machine reads slowly; nothing waits longer than it has to
NOW = "2026-09-18T09:30:00+00:00"
AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
ALL_RULES = {"type": "tag", "values": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}
COLOUR_RULES = {"type": "rule", "values": ["color-contrast", "link-in-text-block"]}
LOOK_RULES = {"type": "rule", "values": [*COLOUR_RULES["values"], "target-size"]}
MODEL_BACKEND = "django.contrib.auth.backends.ModelBackend"
FLAGS = (
    "--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking "
    "--disable-component-update --disable-sync"
).split()


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return {"executable_path": "/usr/bin/chromium", "args": FLAGS}


@pytest.fixture
def browser_context_args(browser_context_args):
    """Nothing is faded in or slid about while a test waits for it; a person can ask for the same."""
    # Requests of a service worker can't be held up or failed by a test; tests of it take a context of their own.
    return {**browser_context_args, "reduced_motion": "reduce", "service_workers": "block"}


class KeptRows:
    """All rows of the database, to be put back after a test emptied it; much quicker than making them anew."""

    def __init__(self):
        self._tables = [model._meta.db_table for model in apps.get_models(include_auto_created=True)]
        with connection.cursor() as cursor:
            self._rows = {table: self._read(cursor, table) for table in self._tables}

    @staticmethod
    def _read(cursor, table):
        with cursor.copy(f'COPY "{table}" TO STDOUT') as copy:
            return b"".join(bytes(part) for part in copy)

    def put_back(self):
        with connection.cursor() as cursor:
            cursor.execute("SET session_replication_role = replica")  # rows come in any order
            cursor.execute("TRUNCATE " + ", ".join(f'"{table}"' for table in self._tables))
            for table, rows in self._rows.items():
                with cursor.copy(f'COPY "{table}" FROM STDIN') as copy:
                    copy.write(rows)
            cursor.execute("SET session_replication_role = DEFAULT")
            for sequence in connection.introspection.sequence_list():
                table, column = sequence["table"], sequence["column"]
                cursor.execute(
                    f"""SELECT setval(pg_get_serial_sequence('"{table}"', %s), COALESCE(MAX("{column}"), 0) + 1)
                        FROM "{table}" """,
                    [column],
                )


class Answering:
    """Counts the requests that the live server is answering: their rows can't be taken away under them."""

    def __init__(self):
        self._requests, self._changed = 0, Condition()
        request_started.connect(self._begun, weak=False)
        request_finished.connect(self._done, weak=False)

    def _begun(self, **_):
        with self._changed:
            self._requests += 1

    def _done(self, **_):
        with self._changed:
            self._requests -= 1
            self._changed.notify_all()

    def wait_for_end(self):
        with self._changed:
            assert self._changed.wait_for(lambda: self._requests == 0, timeout=60), "a request doesn't end"


@pytest.fixture(scope="session")
def answering():
    return Answering()


@pytest.fixture(scope="session")
def kept_demo():
    """Filled by the first test that wants the demo."""
    return {}


@pytest.fixture
def demo(transactional_db, live_server, settings, tmp_path, kept_demo, answering):
    settings.CLOCK = NOW
    settings.MEDIA_ROOT = tmp_path
    if "rows" in kept_demo:
        kept_demo["rows"].put_back()
    else:
        load()
        kept_demo["rows"] = KeptRows()
    yield live_server.url
    answering.wait_for_end()


@pytest.fixture
def worker(demo):
    """The worker, as the start command starts it, on the test's database; it is gone before that is emptied."""
    known = connection.settings_dict
    database = f"postgresql://{known['USER']}@{known['HOST']}:{known['PORT']}/{known['NAME']}"
    manage = Path(__file__).parents[2] / "server" / "manage.py"
    given = {**os.environ, "DATABASE_URL": database, "APERCU_CLOCK": NOW, "APERCU_PRIVATE_SERVICES": "1"}
    command = [sys.executable, manage, "procrastinate", "worker"]
    with Popen(command, env=given, stderr=PIPE, text=True) as process:
        # A busy machine takes its time to start it, which isn't the page's time to wait for a job.
        started = any("Launching a worker" in line for line in process.stderr)
        Thread(target=process.stderr.read, daemon=True).start()  # or the worker would wait for a reader of its log
        assert started, "the worker ended"
        yield
        process.terminate()


class Desk:
    """A page with Maren signed in, that fails the test on any error that the page's own code doesn't answer."""

    def __init__(self, page, url):
        self.page, self.url, self.faults = page, url, []
        page.on("pageerror", lambda error: self.faults.append(str(error)))
        page.on("console", self._note)

    def _note(self, message):
        """An answer that isn't 200 is in the log too; whether it was to come is the test's to say."""
        if message.type == "error" and not message.text.startswith("Failed to load resource"):
            self.faults.append(message.text)

    def sign_in(self, email="maren@harrowfen.example"):
        """With a session made on the server: the form itself is filled in where signing in is what is tested."""
        client = Client()
        client.force_login(Person.objects.get(email=email), backend=MODEL_BACKEND)
        session = client.cookies[django_settings.SESSION_COOKIE_NAME].value
        self.page.context.add_cookies(
            [{"name": django_settings.SESSION_COOKIE_NAME, "value": session, "url": self.url}]
        )
        self.page.goto(self.url)
        self.page.get_by_role("heading", name="Today").wait_for()
        self.page.locator(".trials a").first.wait_for()  # it moves what stands below it when it comes

    def open_trial(self, name):
        """From the list on Today: what is due in a trial has its name too, leads elsewhere and may be there first."""
        self.page.locator(".trials").get_by_role("link", name=name).click()

    def open_board(self):
        self.open_trial("Covers before maincrop potato")
        self.page.get_by_role("heading", name="Results", exact=True).wait_for()

    def axe(self):
        """Violations of WCAG 2.2 A and AA on the page as it stands; no rule is off.

        Light has all rules; dark changes colours only, field mode sizes too, and each has the rules that see these.
        """
        self.page.evaluate("document.fonts.ready")
        if not self.page.evaluate("'axe' in window"):
            self.page.evaluate(AXE.read_text(encoding="utf-8"))
        return [
            *self._axe_in("Light", ALL_RULES), *self._axe_in("Dark", COLOUR_RULES),
            *self._axe_in("Sunlight", LOOK_RULES),
        ]  # fmt: skip

    def _axe_in(self, mode, rules):
        self.page.evaluate(
            "mode => [...document.querySelectorAll('.modes button')].find(b => b.innerText === mode).click()", mode
        )
        self.page.wait_for_function("mode => document.documentElement.dataset.mode === mode", arg=mode.lower())
        options = {"runOnly": rules, "resultTypes": ["violations"]}
        # What lies behind a dialog can't be reached.
        found = self.page.evaluate(
            "options => axe.run(document.querySelector('.v-dialog.v-overlay--active') ?? document, options)", options
        )
        return [
            f"{mode}: {v['id']}: {n['target']} {n['failureSummary'][:250]}"
            for v in found["violations"]
            for n in v["nodes"]
        ]


@pytest.fixture
def desk(page, demo):
    desk = Desk(page, demo)
    yield desk
    page.close()  # it would go on asking while the tables are emptied
    assert desk.faults == []
