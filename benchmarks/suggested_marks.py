"""How often suggested marks are right, on photographs of the simulated camera by kind of leaf and green cover.

python -m benchmarks.suggested_marks [--seed 4001] [--number 6]
"""

from __future__ import annotations

import argparse
from io import BytesIO

import numpy as np
from PIL import Image

from apercu_core.photo_count.agreement import agreement
from apercu_core.photo_count.suggested_marks import suggested_marks
from standins.camera.photograph import any_conditions, photograph

SOILS = ("sand", "silt", "clay", "peat")
SIZE = (800, 600)


def judged(leaf, cover, seeds):
    """Precision and recall over all plants, and how many there are; a mark within 3 % of the shorter side is right."""
    both = missed = wrong = 0
    for seed in seeds:
        taken = photograph(seed, SOILS[seed % 4], leaf, cover, conditions=any_conditions(seed), size=SIZE)
        marks = suggested_marks(np.asarray(Image.open(BytesIO(taken.jpeg)).convert("RGB"))).marks
        plants = np.asarray(taken.scene.plants).reshape(-1, 2) / SIZE
        found = agreement(plants, marks, *SIZE)
        both, missed, wrong = both + found.both, missed + found.first_only, wrong + found.second_only
    return both / max(1, both + wrong), both / max(1, both + missed), both + missed


def main():
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seed", type=int, default=4001)
    parser.add_argument("--number", type=int, default=6)
    given = parser.parse_args()
    print("leaf,cover,plants,precision,recall")
    for leaf in ("blades", "small", "broad"):
        for cover in (0.01, 0.03, 0.06, 0.12, 0.2):
            precision, recall, plants = judged(leaf, cover, range(given.seed, given.seed + given.number))
            print(f"{leaf},{cover:g},{plants},{precision:.2f},{recall:.2f}")


if __name__ == "__main__":
    main()
