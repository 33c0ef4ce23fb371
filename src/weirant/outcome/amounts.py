"""Bare quantities of one run or of several added up."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Amounts:
    """Dig, stone, pipe volume m³; fabric m²; perforated and solid pipe m."""

    dug: float = 0.0
    stone: float = 0.0
    fabric: float = 0.0
    perforated: float = 0.0
    solid: float = 0.0
    pipe_volume: float = 0.0

    def __add__(self, other: Amounts) -> Amounts:
        return Amounts(self.dug + other.dug, self.stone + other.stone, self.fabric + other.fabric, self.perforated + other.perforated,
                       self.solid + other.solid, self.pipe_volume + other.pipe_volume)  # fmt: skip
