"""Bare quantities of one run or of several added up."""

from __future__ import annotations

from dataclasses import field

from weirant.records import dataclass

STONE, FABRIC, PERFORATED, SOLID, DRESSING, PAVING, PAVED = "stone", "fabric", "perforated pipe", "solid pipe", "dressing", "pavement", "pavement laid"
BOXES = "boxes"  # room m³ that boxes take of what was dug for them
PLOUGHED = "ploughed"  # length m of pipe that a plough lays without a trench
HARD = "hard"  # what of the dig lies in the hard layer, m³
Good = tuple[str, str]  # what it is, and which product of the library


@dataclass(frozen=True)
class Amounts:
    """Dig and pipe volume m³, and the goods by product: stone m³, fabric m², pipe m, dressing m³, pavement m² (by its thickness m), pipe that is ploughed in m, what of
    the dig lies in the hard layer and what room boxes take of it, m³.
    """

    dug: float = 0.0
    pipe_volume: float = 0.0
    goods: dict[Good, float] = field(default_factory=dict)

    def __add__(self, other: Amounts) -> Amounts:
        goods = dict(self.goods)
        for good, amount in other.goods.items():
            goods[good] = goods.get(good, 0.0) + amount
        return Amounts(self.dug + other.dug, self.pipe_volume + other.pipe_volume, goods)

    def of(self, what: str) -> dict[str, float]:
        """Amounts of one kind of good by product; none of which there is nothing."""
        return {key: amount for (kind, key), amount in self.goods.items() if kind == what and amount > 0}

    def all_of(self, what: str) -> float:
        """Amount of one kind of good, of all products."""
        return sum(self.of(what).values())
