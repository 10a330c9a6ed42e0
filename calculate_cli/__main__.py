"""Do an agronomic calculation of a JSON case, or of a folder of them, without a database."""

from __future__ import annotations

import argparse
import json
import signal
import sys
from collections.abc import Sequence
from pathlib import Path

from apercu_core.errors import Refused
from calculate_cli.calculations import Answer, calculated
from calculate_cli.fields import object_of

REFUSED = 2


def answer_to(path: Path) -> Answer:
    try:
        case = json.loads(path.read_text(encoding="utf-8-sig"))
    except OSError as error:
        raise Refused("bad-value", f"{path}: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise Refused("bad-value", f"{path} isn’t JSON: {error}.") from None
    return calculated(*object_of(case))


def whole_folder(suite: Path, out: Path) -> int:
    if not suite.is_dir():
        raise Refused("bad-value", f"{suite} isn’t a folder. Name the folder of the cases.")
    out.mkdir(parents=True, exist_ok=True)
    for path in sorted(suite.glob("*.json")):
        try:
            answer = answer_to(path)
        except Refused as refusal:
            answer = {"refused": True, "message": str(refusal)}
        (out / path.name).write_text(_json(answer), encoding="utf-8")
    return 0


def _json(answer: Answer) -> str:
    return json.dumps(answer, indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def main(arguments: Sequence[str]) -> int:
    parser = argparse.ArgumentParser(prog="apercu calculate", description=__doc__)
    parser.add_argument("case", type=Path, nargs="?", help="the case, JSON (docs/calculate.md)")
    parser.add_argument("--suite", type=Path, metavar="DIR", help="a folder of cases")
    parser.add_argument("--out", type=Path, metavar="DIR", help="folder for the answers of --suite")
    given = parser.parse_args(arguments)
    if (given.case is None) == (given.suite is None) or (given.suite is None) != (given.out is None):
        parser.error("give one case, or --suite DIR with --out DIR")
    try:
        if given.suite is not None:
            return whole_folder(given.suite, given.out)
        print(_json(answer_to(given.case)), end="")
    except (Refused, OSError) as refusal:
        print(f"apercu calculate: {refusal}", file=sys.stderr)
        return REFUSED
    return 0


if __name__ == "__main__":
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # `| head` isn't an error
    sys.exit(main(sys.argv[1:]))
