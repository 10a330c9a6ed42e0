"""Green cover of one photograph of 12 megapixels: seconds of processor time, from the file's bytes to the value."""

import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent.parent))

from cover_cli.__main__ import cover_of
from standins.camera.photograph import photograph


def main() -> None:
    taken = photograph(1, "silt", "broad", 0.4, size=(4000, 3000))
    print(f"{len(taken.jpeg) / 1e6:.1f} MB, cover {taken.scene.cover_percent:.1f} %")
    for _ in range(3):
        began = time.process_time()
        found = cover_of(taken.jpeg)
        print(f"{time.process_time() - began:.3f} s, {found.percent:.1f} %")


if __name__ == "__main__":
    main()
