"""What `serve` refuses to start with: settings that would leave people's data open."""

from __future__ import annotations

from collections.abc import Mapping
from ipaddress import ip_address
from urllib.parse import urlsplit

from launcher.trouble import Exit, Trouble

SHORTEST_KEY = 50
"""Characters, as Django's own deployment check asks for."""
FEWEST_DIFFERENT = 8
_ONLY_FOR_TESTS = ("APERCU_TESTING", "APERCU_DEMO", "APERCU_CLOCK")
_DEBUG = ("DEBUG", "DJANGO_DEBUG", "APERCU_DEBUG")


def require_safe(environment: Mapping[str, str]) -> None:
    """Raises `Trouble` with everything that isn't safe, and what to set instead."""
    found = [*_key(environment.get("APERCU_SECRET_KEY", "")), *_origins(environment.get("APERCU_ORIGINS", ""))]
    found += [f"{name} is set: it is for tests and the demo only. Unset it." for name in _ONLY_FOR_TESTS
              if environment.get(name)]  # fmt: skip
    found += [f"{name} is set: errors would show the inside of the application. Unset it." for name in _DEBUG
              if environment.get(name, "").lower() not in ("", "0", "false", "no", "off")]  # fmt: skip
    if found:
        raise Trouble(
            "Apercu doesn’t start with settings that aren’t safe:\n" + "\n".join(f"  {one}" for one in found),
            "Correct them as docs/serving.md says.",
            Exit.USAGE,
        )


def _key(key: str) -> list[str]:
    if len(key) >= SHORTEST_KEY and len(set(key)) >= FEWEST_DIFFERENT:
        return []
    made = "python3 -c 'import secrets; print(secrets.token_urlsafe(50))'"
    needs = f"it needs {SHORTEST_KEY} characters or more, {FEWEST_DIFFERENT} of them different"
    return [f"APERCU_SECRET_KEY is too easy to guess: {needs}. Make one:  {made}"]


def _origins(text: str) -> list[str]:
    origins = [one.strip() for one in text.split(",") if one.strip()]
    found = [] if origins else ["APERCU_ORIGINS names no address."]
    for origin in origins:
        try:
            parts = urlsplit(origin)
            host, port = parts.hostname or "", parts.port
        except ValueError:
            host, port, parts = "", None, urlsplit("")
        plain = f"{parts.scheme}://{host if ':' not in host else f'[{host}]'}{'' if port is None else f':{port}'}"
        if parts.scheme not in ("http", "https") or not host or "*" in host or plain.lower() != origin.lower():
            found.append(f"{origin!r} in APERCU_ORIGINS isn’t an address like https://trials.example.org.")
        elif host == "testserver":
            found.append("'testserver' in APERCU_ORIGINS is the name that tests use. Take it out.")
        elif parts.scheme == "http" and not _is_this_machine(host):
            found.append(f"{origin!r} in APERCU_ORIGINS isn’t encrypted: passwords could be read. Use https.")
    return found


def _is_this_machine(host: str) -> bool:
    try:
        return ip_address(host).is_loopback
    except ValueError:
        return host == "localhost"
