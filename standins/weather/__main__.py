"""`python -m standins.weather --port 8765`: the simulated weather service by itself."""

from __future__ import annotations

import argparse
from contextlib import suppress
from datetime import date

from standins.weather.service import Behaviour, WeatherServer


def main() -> None:
    parser = argparse.ArgumentParser(
        prog="python -m standins.weather", description="A simulated weather service with an invented climate."
    )
    parser.add_argument("--host", default="127.0.0.1", help="address to listen on (127.0.0.1)")
    parser.add_argument("--port", type=int, default=8765, help="port to listen on (8765)")
    parser.add_argument("--seed", type=int, default=7, help="which climate (7)")
    parser.add_argument("--today", type=date.fromisoformat, help="the day after the last record (the real one)")
    parser.add_argument("--slow", type=float, default=0.0, help="seconds before each answer (0)")
    parser.add_argument("--failing", action="store_true", help="answer everything with 503")
    given = parser.parse_args()
    behaviour = Behaviour(given.seed, given.today, given.slow, given.failing)
    with WeatherServer((given.host, given.port), behaviour) as server:
        print(f"Simulated weather at {server.url}. Ctrl-C stops it.", flush=True)
        with suppress(KeyboardInterrupt):
            server.serve_forever()


if __name__ == "__main__":
    main()
