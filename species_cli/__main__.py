"""Print which species fit a wish, which can't be judged and which can't work, as JSON, without a database."""

from __future__ import annotations

import argparse
import json
import signal
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from apercu_core.errors import Refused
from apercu_core.species.fitting import SpeciesFit, ranked
from apercu_core.species.record import SERVICES
from apercu_core.species.shipped import SHIPPED
from apercu_core.species.wish import Wish
from apercu_core.species.wish_file import read_wish

REFUSED = 2


def reasons_of(fit: SpeciesFit) -> list[str]:
    """What the species serves, then what takes points, then what is worth knowing; each a text."""
    served = [
        f"{SERVICES[r.service]}: {r.rating:g} of 5" + (f" ({r.why})" if r.why else "") + f", weight {r.weight}"
        for r in fit.why
    ]
    return [*served, *(f"−{cost.points:g} points: {cost.text}" for cost in fit.costs), *fit.notes]


def as_json(wish: Wish) -> dict[str, Any]:
    fits = ranked(SHIPPED.values(), wish)
    return {
        "fits": [
            {"species": f.species.name, "score": round(f.score, 1), "reasons": reasons_of(f)}
            for f in fits
            if f.score is not None
        ],
        "cannot_be_judged": [
            {"species": f.species.name, "why": list(f.unknown)} for f in fits if f.unknown and not f.out
        ],
        "out": [{"species": f.species.name, "why": list(f.out)} for f in fits if f.out],
    }


def read_file(path: Path) -> object:
    try:
        return json.loads(path.read_text(encoding="utf-8-sig"))
    except OSError as error:
        raise Refused("bad-value", f"{path}: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise Refused("bad-value", f"{path} isn’t JSON: {error}.") from None


def main(arguments: Sequence[str]) -> int:
    parser = argparse.ArgumentParser(prog="apercu species", description=__doc__)
    parser.add_argument("wish", type=Path, help="the wish, JSON (docs/species.md)")
    given = parser.parse_args(arguments)
    try:
        found = as_json(read_wish(read_file(given.wish)))
    except Refused as refusal:
        print(f"apercu species: {refusal}", file=sys.stderr)
        return REFUSED
    print(json.dumps(found, indent=1, ensure_ascii=False, allow_nan=False))
    return 0


if __name__ == "__main__":
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # `| head` isn't an error
    sys.exit(main(sys.argv[1:]))
