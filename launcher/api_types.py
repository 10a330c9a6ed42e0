"""The API's description and the front end's types from it: written, or checked to be current."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

from launcher.places import ROOT, SERVER, WEB
from launcher.run import run
from launcher.say import warn

SCHEMA = ROOT / "docs" / "openapi.json"
TYPES = WEB / "src" / "api" / "schema.d.ts"


def generate(folder: Path) -> tuple[str, str]:
    """(OpenAPI description, TypeScript types), made anew from the server's code."""
    schema, types = folder / "openapi.json", folder / "schema.d.ts"
    environment = {"PYTHONPATH": f"{ROOT}:{SERVER}", "DJANGO_SETTINGS_MODULE": "config.settings", "APERCU_TESTING": "1"}
    command: list[str | Path] = [
        sys.executable,
        "-m",
        "manage",
        "spectacular",
        "--format",
        "openapi-json",
        "--file",
        schema,
    ]
    run([*command, "--validate", "--fail-on-warn"], "Describing the API", cwd=SERVER, env={**os.environ, **environment})
    run(["npx", "--no-install", "openapi-typescript", schema, "-o", types], "Making types of it", cwd=WEB)
    return schema.read_text(encoding="utf-8"), types.read_text(encoding="utf-8")


def main(arguments: list[str]) -> int:
    """With --check: 1 and a message if what is committed isn't what the code says; else write it."""
    with tempfile.TemporaryDirectory() as folder:
        schema, types = generate(Path(folder))
    if arguments == ["--check"]:
        stale = [
            path for path, text in ((SCHEMA, schema), (TYPES, types)) if not path.exists() or path.read_text() != text
        ]
        if stale:
            warn(f"Not current: {', '.join(str(path.relative_to(ROOT)) for path in stale)}.")
            warn("Run:  .apercu/venv/bin/python -m launcher.api_types")
        return 1 if stale else 0
    SCHEMA.write_text(schema, encoding="utf-8")
    TYPES.parent.mkdir(parents=True, exist_ok=True)
    TYPES.write_text(types, encoding="utf-8")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
