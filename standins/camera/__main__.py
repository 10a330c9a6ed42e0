"""Take photographs of made-up quadrats into a folder, with what is true of each in truth.csv.

python -m standins.camera FOLDER [--seed 1] [--number 12] [--megapixels 0.5]
"""

from __future__ import annotations

import argparse
import csv
import sys
from pathlib import Path
from typing import get_args

import numpy as np

from standins.camera.photograph import any_conditions, photograph
from standins.camera.scene import Leaf, Soil


def main(arguments: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="python -m standins.camera", description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--number", type=int, default=12)
    parser.add_argument("--megapixels", type=float, default=0.5)
    given = parser.parse_args(arguments)
    given.folder.mkdir(parents=True, exist_ok=True)
    width = int((given.megapixels * 1e6 * 4 / 3) ** 0.5)
    with (given.folder / "truth.csv").open("w", newline="", encoding="utf-8") as file:
        rows = csv.writer(file)
        rows.writerow(["file", "green_percent", "plants", "soil", "leaf"])
        for seed in range(given.seed, given.seed + given.number):
            rng = np.random.default_rng(seed)
            soil: Soil = get_args(Soil)[rng.integers(4)]
            leaf: Leaf = get_args(Leaf)[rng.integers(3)]
            taken = photograph(
                seed, soil, leaf, float(rng.uniform(0, 1)), residue=float(rng.uniform(0, 0.5)),
                size=(width, width * 3 // 4), conditions=any_conditions(seed),
            )  # fmt: skip
            name = f"quadrat-{seed:04d}.jpg"
            (given.folder / name).write_bytes(taken.jpeg)
            rows.writerow([name, f"{taken.scene.cover_percent:.2f}", len(taken.scene.plants), soil, leaf])
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
