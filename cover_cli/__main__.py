"""Green cover of photographs as CSV, without a database: file, green_percent, threshold, note."""

from __future__ import annotations

import argparse
import signal
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path

import numpy as np

from apercu_core.cells import written
from apercu_core.cover.green_cover import GreenCover, green_cover
from apercu_core.errors import Refused
from picture_files.reading import ABOUT_PIXELS, opened

ENDINGS = (".jpg", ".jpeg", ".png", ".webp")


def cover_of(data: bytes, threshold: float | None = None) -> GreenCover:
    """Of the photograph in a file. Raises `Refused` for one that can't be read."""
    return green_cover(np.asarray(opened(data, about_pixels=ABOUT_PIXELS).image, dtype=np.uint8), threshold)


def _files(given: Sequence[Path]) -> Iterator[tuple[Path, str]]:
    """Each photograph, those of a folder by name; with why there is none."""
    for path in given:
        if not path.is_dir():
            yield path, ""
            continue
        inside = sorted(one for one in path.iterdir() if one.suffix.lower() in ENDINGS and one.is_file())
        if not inside:
            yield path, f"There are no photographs in this folder. They end in {', '.join(ENDINGS)}."
        for one in inside:
            yield one, ""


def _row(path: Path, why_not: str, threshold: float | None) -> tuple[list[object], bool]:
    """The line of one file, and whether it has a value."""
    if not why_not:
        try:
            found = cover_of(path.read_bytes(), threshold)
            return [str(path), round(found.percent, 2), round(found.threshold, 3), " ".join(found.notes)], True
        except OSError as fault:
            why_not = f"The file can’t be opened: {fault.strerror or fault}."
        except Refused as refusal:
            why_not = str(refusal)
    return [str(path), "", "", why_not], False


def main(arguments: Sequence[str]) -> int:
    parser = argparse.ArgumentParser(prog="apercu cover", description=__doc__)
    parser.add_argument("files", type=Path, nargs="+", metavar="FILE", help="photographs, or folders of them")
    parser.add_argument("--threshold", type=float, help="greenness from which a pixel counts, instead of the one found")
    given = parser.parse_args(arguments)
    if given.threshold is not None and not -1 <= given.threshold <= 2:
        parser.error("--threshold: greenness runs from -1 to 2; green usually begins between 0.06 and 0.3")
    print("file,green_percent,threshold,note")
    all_read = True
    for path, why_not in _files(given.files):
        cells, read = _row(path, why_not, given.threshold)
        all_read = all_read and read
        print(written([cells]).rstrip("\r\n"), flush=True)
    return 0 if all_read else 1


if __name__ == "__main__":
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)  # `| head` isn't an error
    sys.exit(main(sys.argv[1:]))
