"""A lot of seed: what stands on its label, what is assumed in place of it, and what is still to be asked."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from apercu_core.agronomy.given import not_negative, positive, refuse, share, share_above_zero
from apercu_core.species.record import Species

Fact = Literal["tkw_g", "purity", "germination", "emergence"]
USUAL_EMERGENCE = 0.7
"""Of live seeds drilled into a good seedbed; thumb. It is marked as assumed wherever it is used."""
ASKED: Mapping[Fact, str] = {
    "tkw_g": "thousand-kernel weight", "purity": "purity", "germination": "germination",
    "emergence": "field emergence",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Lot:
    """Shares 0 to 1, None where nobody said. `tkw_g`: g per 1,000 pure seeds, without a coat.

    `coat`: of the coated mass; `coat_counted`: whether the label's purity already leaves the coat out;
    `bushel_lb`: of the crop's standard bushel; `assumed`: facts that are no label's, and where they come from.
    """

    key: str
    name: str
    tkw_g: float | None = None
    purity: float | None = None
    germination: float | None = None
    emergence: float | None = None
    hard_seed: float = 0.0
    count_hard_seed: bool = False
    coat: float = 0.0
    coat_counted: bool = False
    bag_kg: float | None = None
    price_per_kg: float | None = None
    bushel_lb: float | None = None
    assumed: Mapping[str, str] = ()  # type: ignore[assignment]

    def __post_init__(self) -> None:
        for name, value in (("purity", self.purity), ("germination", self.germination), ("emergence", self.emergence)):
            if value is not None:
                share_above_zero(name, value)
        for name, value in (("tkw_g", self.tkw_g), ("bag_kg", self.bag_kg), ("bushel_lb", self.bushel_lb)):
            if value is not None:
                positive(name, value)
        if self.price_per_kg is not None:
            not_negative("price_per_kg", self.price_per_kg)
        share("hard_seed", self.hard_seed)
        if share("coat", self.coat) == 1:
            raise refuse("coat", "the coat can’t be all of the mass. Enter its share, such as 35 %.")
        if self.germination is not None and self.germination + self.hard_seed > 1 + 1e-12:
            raise refuse(
                "hard_seed",
                "germination and hard seed together are more than 100 %. Check both on the label: some labels "
                "already count hard seed as germinated.",
            )

    @property
    def bare(self) -> float:
        """Share of the bag's mass that is seed and what came with it, without the coat."""
        return 1.0 if self.coat_counted else 1.0 - self.coat

    def missing(self, needed: Iterable[Fact]) -> tuple[Fact, ...]:
        return tuple(fact for fact in needed if getattr(self, fact) is None)


def with_assumptions(lot: Lot, species: Species | None) -> Lot:
    """The lot with what may be assumed: seed weight from the species guide, and a usual emergence.

    Purity and germination are never assumed: they differ from lot to lot, and a label or a test says them.
    """
    found: dict[str, float] = {}
    said: dict[str, str] = {}
    middle = species.middle("tkw") if species else None
    if lot.tkw_g is None and middle:
        found["tkw_g"], said["tkw_g"] = middle, "middle of the species guide"
    if lot.emergence is None:
        found["emergence"], said["emergence"] = USUAL_EMERGENCE, "usual in a good seedbed"
    return replace(lot, **found, assumed=said)  # type: ignore[arg-type]
