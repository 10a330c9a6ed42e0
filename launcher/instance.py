"""One running Apercu: its own database, web and worker, started and stopped together."""

from __future__ import annotations

import fcntl
import os
import secrets
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from launcher.places import ROOT, SERVER, Stamp, fingerprint, state_folder
from launcher.postgres import Cluster
from launcher.run import run
from launcher.safety import require_safe
from launcher.say import say, step
from launcher.services import Services, StopAsked, require_port, stop_on_signals
from launcher.setup import python_environment, web_build
from launcher.trouble import Exit, Trouble


@contextmanager
def only_one(name: str) -> Iterator[None]:
    """Hold the instance's lock; the system releases it even if the launcher is killed."""
    path = state_folder() / f"{name}.lock"
    with path.open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            lock.seek(0)
            raise Trouble(
                f"The {name} runs already, {lock.read().strip()}.",
                "Stop it with Ctrl-C there first, or wait for its end.",
                Exit.ALREADY_RUNNING,
            ) from None
        lock.truncate(0)
        lock.write(f"as process {os.getpid()}")
        lock.flush()
        yield


def secret_key() -> str:
    """The signing key of this machine, made once."""
    path = state_folder() / "secret-key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(50))
    return path.read_text()


def server_environment(database_url: str) -> dict[str, str]:
    return {
        "PYTHONPATH": f"{ROOT}:{SERVER}",
        "DJANGO_SETTINGS_MODULE": "config.settings",
        "DATABASE_URL": database_url,
        "APERCU_SECRET_KEY": os.environ.get("APERCU_SECRET_KEY") or secret_key(),
        "APERCU_STATE": str(state_folder()),
    }


def manage(environment: dict[str, str], what: str, *arguments: str) -> None:
    with step(what):
        run([python_environment("run"), "-m", "manage", *arguments], what, cwd=SERVER, env=environment)


def run_instance(
    host: str, port: int, environment: Callable[[], dict[str, str]], ready: Callable[[], None],
    prepare: list[list[str]], look_after: Callable[[], None] = lambda: None,
    start_first: Callable[[Services], None] = lambda services: None,
) -> int:  # fmt: skip
    """Start web and worker, say so, and keep them running until Ctrl-C; whatever happens, stop what was started.

    `start_first`: starts what the preparation already needs.
    """
    stop_on_signals()
    services: Services | None = None
    start = time.monotonic()
    try:
        require_port(host, port)
        python_environment("run")
        web_build()
        settings = environment()
        services = Services(settings)
        start_first(services)
        for what, *command in prepare:
            manage(settings, what, *command)
        with step("starting web and worker"):
            services.start_web(host, port)
            services.start_worker()
            services.wait_until_healthy(host, port)
        say(f"\nApercu answers after {time.monotonic() - start:.1f} s.")
        ready()
        services.keep_running(look_after)
    except StopAsked:
        say("\nStopping …")
    finally:
        if services:
            services.stop()
    return 0


WEATHER_PORT = 8765
"""Of the demo’s simulated weather service; the demo's data name it."""


def _start_weather(services: Services) -> None:
    """Where the port is taken, the demo goes on without, as without any service that is down."""
    try:
        require_port("127.0.0.1", WEATHER_PORT)
    except Trouble:
        say(f"Port {WEATHER_PORT} is taken: what answers there is asked for the weather.")
        return
    services.start_weather(WEATHER_PORT, os.environ.get("APERCU_CLOCK", "")[:10])
    services.wait_for_port("127.0.0.1", WEATHER_PORT)


def run_demo(port: int, reset: bool) -> int:
    """The demo: its own database, made-up data, kept between runs unless `reset`."""
    address = f"http://127.0.0.1:{port}"
    cluster = Cluster("demo", durable=True)
    shape = [*SERVER.glob("*/migrations/*.py"), *(SERVER / "demo").rglob("*.py"), ROOT / "requirements" / "run.txt"]
    loaded = Stamp("demo-data", fingerprint(*sorted(shape)))
    there = loaded.is_current() and (cluster.data / "PG_VERSION").exists() and not reset
    if not there:
        loaded.clear()

    def environment() -> dict[str, str]:
        if reset:
            cluster.remove()
        cluster.start()
        return {
            **server_environment(cluster.url("postgres")),
            "APERCU_DEMO": "1",
            "APERCU_ORIGINS": address,
            "APERCU_PRIVATE_SERVICES": "1",
            "APERCU_DEMO_WEATHER": f"http://127.0.0.1:{WEATHER_PORT}",
        }

    def ready() -> None:
        loaded.write()
        say(f"\n  Open      {address}\n  Sign in   maren@harrowfen.example   with   demo-of-apercu\n\nCtrl-C stops it.")

    with only_one("demo"):
        try:
            prepare = [] if there else [["loading the demo data", "load_demo"]]
            return run_instance("127.0.0.1", port, environment, ready, prepare, cluster.look_after, _start_weather)
        finally:
            cluster.stop()


def run_serve(host: str, port: int) -> int:
    """The real thing, with settings from the environment (docs/serving.md)."""
    url = os.environ.get("DATABASE_URL")
    missing = [name for name in ("DATABASE_URL", "APERCU_SECRET_KEY", "APERCU_ORIGINS") if not os.environ.get(name)]
    if missing or url is None:
        raise Trouble(
            f"Not set in the environment: {', '.join(missing)}.",
            "Set them as docs/serving.md says; `./apercu demo` needs no settings.",
            Exit.USAGE,
        )
    require_safe(os.environ)
    prepare = [
        ["checking the settings", "check", "--deploy", "--fail-level", "WARNING"],
        ["bringing the database up to date", "migrate", "--verbosity", "0"],
    ]
    return run_instance(
        host,
        port,
        lambda: server_environment(url),
        lambda: say(f"\n  Listening on {host}:{port}\n\nCtrl-C stops it."),
        prepare,
    )
