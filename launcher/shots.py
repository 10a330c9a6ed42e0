"""`./apercu shots`: pictures of the main views, taken in headless Chromium from the demo data."""

from __future__ import annotations

import os
from pathlib import Path

from launcher.instance import manage, server_environment
from launcher.machine import CHROMIUM, require_packages
from launcher.places import ROOT, state_folder
from launcher.postgres import Cluster, free_port
from launcher.run import run
from launcher.say import say, step
from launcher.services import Services
from launcher.setup import python_environment, web_build

TODAY = "2026-09-18"


def take_shots(out: str) -> int:
    """A database and clock of their own, so that the pictures are the same on every machine."""
    require_packages(CHROMIUM)
    python = python_environment("dev")
    web_build()
    cluster = Cluster("shots", durable=False)
    port, weather = free_port(), free_port()
    services: Services | None = None
    try:
        cluster.remove()
        cluster.start()
        environment = {
            **server_environment(cluster.url("postgres")),
            "APERCU_DEMO": "1",
            "APERCU_CLOCK": f"{TODAY}T09:30:00Z",
            "APERCU_ORIGINS": f"http://127.0.0.1:{port}",
            "APERCU_PRIVATE_SERVICES": "1",
            "APERCU_DEMO_WEATHER": f"http://127.0.0.1:{weather}",
        }
        services = Services(environment)
        services.start_weather(weather, TODAY)
        services.wait_for_port("127.0.0.1", weather)
        manage(environment, "loading the demo data", "load_demo")
        services.start_web("127.0.0.1", port)
        services.wait_until_healthy("127.0.0.1", port)
        Path(out).mkdir(parents=True, exist_ok=True)
        with step(f"taking pictures into {out}"):
            run([python, ROOT / "docs" / "take_screenshots.py", f"http://127.0.0.1:{port}", out], "Taking pictures",
                env={**os.environ, "APERCU_STATE": str(state_folder())})  # fmt: skip
    finally:
        if services:
            services.stop()
        cluster.remove()
    for picture in sorted(Path(out).glob("*.png")):
        say(f"    {picture.name}")
    return 0
