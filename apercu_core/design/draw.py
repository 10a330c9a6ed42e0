"""Chance, reproducible for ever from a seed.

The shuffle is our own, over raw 64-bit words of numpy's PCG64: the words of that generator are fixed by its
definition (O'Neill, 2014, HMC-CS-2014-0905), whereas the permutations a library makes of them may change.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TypeVar

import numpy as np

from apercu_core.errors import Refused

ALGORITHM = "fisher-yates-pcg64-1"
AS_LISTED = "as-listed-1"
T = TypeVar("T")


class Draw:
    """Uniform integers and shuffles from a seed, 0 ≤ seed < 2⁶³."""

    def __init__(self, seed: int) -> None:
        if not 0 <= seed < 2**63:
            raise Refused("bad-value", f"The seed is {seed}; it must be a whole number from 0 to 2⁶³ − 1.")
        self._words = np.random.PCG64(seed)

    def below(self, n: int) -> int:
        """Uniform on 0 … n − 1; words past the last whole multiple of n are thrown back."""
        limit = (2**64 // n) * n
        while True:
            word = int(self._words.random_raw())
            if word < limit:
                return word % n

    def shuffled(self, items: Sequence[T]) -> list[T]:
        """Fisher and Yates, from the back (Knuth, *TAOCP* 2, algorithm 3.4.2 P)."""
        out = list(items)
        for i in range(len(out) - 1, 0, -1):
            j = self.below(i + 1)
            out[i], out[j] = out[j], out[i]
        return out


class InOrder(Draw):
    """No chance at all: everything stays as it is listed. For layouts that are described, never tested."""

    def __init__(self) -> None:
        super().__init__(0)

    def below(self, n: int) -> int:
        return 0

    def shuffled(self, items: Sequence[T]) -> list[T]:
        return list(items)
