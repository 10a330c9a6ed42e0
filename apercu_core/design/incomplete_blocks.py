"""Resolvable incomplete blocks: which treatments meet in which block, so that all are compared as evenly as can be.

Every replicate holds each treatment once and is parted into incomplete blocks of equal size, or sizes that differ by
one: Patterson and Williams (1976), Biometrika 63, 83–92.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from apercu_core.arrays import Floats, Ints
from apercu_core.design.draw import Draw
from apercu_core.errors import Refused

Replicate = tuple[tuple[int, ...], ...]
"""The incomplete blocks of one replicate, each with the numbers of its treatments, from 0."""

_STARTS = 12
_PLOTS_FOR_A_START = 2500
"""Large arrangements come near the bound from any start, so fewer are tried."""
_GOOD_ENOUGH = 0.9995
"""Share of the bound above which no better arrangement is worth looking for."""
_LEAST_GAIN = 1e-9


@dataclass(frozen=True, slots=True)
class IncompleteBlocks:
    """`efficiency`: average over all pairs of treatments, by comparisons within incomplete blocks alone, against
    complete blocks with the same plot variance; `most`: what no design of this size can exceed.
    """

    replicates: tuple[Replicate, ...]
    efficiency: float
    most: float

    @property
    def sizes(self) -> tuple[int, ...]:
        """Plots in each incomplete block of a replicate."""
        return tuple(len(block) for block in self.replicates[0])


def usual_size(treatments: int) -> int:
    """Plots in an incomplete block: near the square root of the number of treatments, as in a square lattice.

    Among its neighbours one that parts a replicate evenly comes first; thumb.
    """
    root = math.ceil(math.sqrt(treatments))
    near = range(max(2, root - 1), min(root + 3, treatments // 2 + 1))
    return min(near, key=lambda k: (treatments % k != 0, abs(k - root), -k), default=2)


def blocks_in_replicate(treatments: int, size: int) -> int:
    """How many incomplete blocks of at most `size` plots a replicate has. Raises `Refused` where none can be."""
    if treatments < 4:
        raise Refused(
            "bad-design", f"{treatments} treatments are too few for incomplete blocks: use randomised complete blocks."
        )
    most = -(-treatments // 2)
    if not 2 <= size <= most:
        raise Refused(
            "bad-design",
            f"Incomplete blocks of {size} plots: with {treatments} treatments they have 2 to {most}. Larger ones hold "
            "all treatments, or leave one over.",
        )
    blocks = -(-treatments // size)
    if treatments // blocks < 2:
        raise Refused(
            "bad-design",
            f"With {treatments} treatments, incomplete blocks of at most {size} plots leave some with a single plot. "
            "Choose another size.",
        )
    return blocks


@lru_cache(maxsize=128)
def find_incomplete_blocks(treatments: int, size: int, replicates: int) -> IncompleteBlocks:
    """The best arrangement found for at most `size` plots in a block; always the same one, since nothing is drawn.

    Starts are cyclic arrays and arrangements at random from a fixed seed; treatments of one replicate change places as
    long as pairs come to meet more evenly. Raises `Refused` where treatments can't be compared through the blocks.
    """
    if replicates < 2:
        raise Refused("no-replication", f"{replicates} replicate: incomplete blocks need 2 or more.")
    blocks = blocks_in_replicate(treatments, size)
    draw = Draw(treatments * 1_000_000 + size * 1000 + replicates)
    starts = max(1, min(_STARTS, _PLOTS_FOR_A_START // (treatments * replicates)))
    best, efficiency, most = None, 0.0, _bound(treatments, blocks, replicates)
    for start in range(2 * starts):
        make = _cyclic if start < starts else _at_random
        found = _evened(make(draw, treatments, blocks, replicates), treatments)
        own = average_efficiency(found, treatments)
        if own > efficiency + _LEAST_GAIN:
            best, efficiency = found, own
        if efficiency >= _GOOD_ENOUGH * most:
            break
    if best is None:
        raise Refused(
            "bad-design",
            f"{replicates} replicates in incomplete blocks of {size} don’t join all treatments. Use larger blocks or "
            "more replicates.",
        )
    return IncompleteBlocks(best, efficiency, most)


def average_efficiency(replicates: Sequence[Replicate], treatments: int) -> float:
    """Harmonic mean of the canonical efficiency factors; 0 where some treatments can't be compared.

    John and Williams (1995), *Cyclic and Computer Generated Designs*, section 1.6.
    """
    information = len(replicates) * np.eye(treatments)
    for replicate in replicates:
        for block in replicate:
            at = np.ix_(block, block)
            information[at] -= 1 / len(block)
    factors: Floats = np.linalg.eigvalsh(information)[1:] / len(replicates)
    if factors[0] < 1e-9:
        return 0.0
    return float((treatments - 1) / (1 / factors).sum())


def _bound(treatments: int, blocks: int, replicates: int) -> float:
    """No such arrangement can have a higher average efficiency.

    The canonical efficiency factors lack `blocks` − 1 in sum from all being one, since each replicate is complete.
    Their harmonic mean is highest where the loss lies evenly: on as many as there are comparisons of blocks within
    replicates, or on all of them.
    """
    comparisons = treatments - 1
    lossy = min(comparisons, replicates * (blocks - 1))
    return comparisons / (comparisons - lossy + lossy / (1 - (blocks - 1) / lossy))


def _cyclic(draw: Draw, treatments: int, blocks: int, replicates: int) -> tuple[Replicate, ...]:
    """An alpha array drawn at random: treatment u × blocks + v lies, in each replicate, in block v + a(u), modulo
    `blocks`. Treatments beyond the last are left out, so sizes differ by one at most.
    """
    rows = -(-treatments // blocks)
    out = []
    for _ in range(replicates):
        inside: list[list[int]] = [[] for _ in range(blocks)]
        for u in range(rows):
            shift = draw.below(blocks)
            for v in range(blocks):
                if u * blocks + v < treatments:
                    inside[(v + shift) % blocks].append(u * blocks + v)
        out.append(tuple(map(tuple, inside)))
    return tuple(out)


def _at_random(draw: Draw, treatments: int, blocks: int, replicates: int) -> tuple[Replicate, ...]:
    out = []
    for _ in range(replicates):
        order = draw.shuffled(range(treatments))
        out.append(tuple(tuple(order[b::blocks]) for b in range(blocks)))
    return tuple(out)


def _evened(replicates: Sequence[Replicate], treatments: int) -> tuple[Replicate, ...]:
    """Exchanges within replicates until none makes the sum of squared concurrences smaller. Whole numbers only, so that
    every machine finds the same arrangement.
    """
    block_of = np.array([_block_of(replicate, treatments) for replicate in replicates])  # (replicates, treatments)
    blocks = len(replicates[0])
    together = sum((of[:, None] == of[None, :]).astype(np.int64) for of in block_of)
    np.fill_diagonal(together, 0)
    while True:
        gain, r, x, y = min(_best_exchange(together, of, blocks, r) for r, of in enumerate(block_of))
        if gain >= 0:
            break
        of = block_of[r]
        together -= (of[:, None] == of[None, :]).astype(np.int64)
        of[x], of[y] = of[y], of[x]
        together += (of[:, None] == of[None, :]).astype(np.int64)
        np.fill_diagonal(together, 0)
    return tuple(tuple(tuple(int(t) for t in np.flatnonzero(of == b)) for b in range(blocks)) for of in block_of)


def _block_of(replicate: Replicate, treatments: int) -> Ints:
    out = np.empty(treatments, dtype=np.int64)
    for number, block in enumerate(replicate):
        out[list(block)] = number
    return out


def _best_exchange(together: Ints, of: Ints, blocks: int, replicate: int) -> tuple[int, int, int, int]:
    """What exchanging two treatments of different blocks of one replicate does to the sum of squares, at best.

    For x of block B and y of block C, half the change is Σ_C' (λxj − λyj) + Σ_B' (λyj − λxj) + |B'| + |C'|, over the
    treatments that stay in each.
    """
    inside = np.eye(blocks, dtype=np.int64)[of]  # (t, blocks)
    met = together @ inside  # (t, blocks): Σ over a block of how often x meets its treatments
    others = inside.sum(0)[of] - 1
    own = met[np.arange(len(of)), of]
    across = met[:, of]  # (x, y): Σ over y's block of λxj
    change = (across - together) + (across.T - together) - own[:, None] - own[None, :]
    change += others[:, None] + others[None, :]
    change[of[:, None] == of[None, :]] = 0
    at = int(np.argmin(change))
    x, y = divmod(at, len(of))
    return int(change[x, y]), replicate, x, y
