"""A soil or a stone by its curves: how much water it holds and how well it conducts at a pressure head."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError
from weirant.language import tr
from weirant.records import dataclass

Array = NDArray[np.float64]
SPECIFIC_STORAGE = 1e-4  # 1/m; recalled as usual for loose soil, of no weight beside the pores that drain


@dataclass(frozen=True)
class Medium:
    """van Genuchten–Mualem curves with a small air entry.

    conductivity m/s downwards (> 0), ``sideways`` its multiple along the layer (> 0), residual and saturated water content
    (0 ≤ residual < saturated ≤ 1), alpha 1/m (> 0), shape n (> 1), entry m of pressure head at air entry (≤ 0).
    Sources: van Genuchten 1980; Vogel, van Genuchten and Cislerova 2001 for the air entry, without which the conductivity of
    clays falls off a cliff at saturation.
    """

    name: str
    conductivity: float
    residual: float
    saturated: float
    alpha: float
    shape: float
    sideways: float = 1.0
    entry: float = -0.02

    def __post_init__(self) -> None:
        for name, holds, rule in (
            ("conductivity", 0 < self.conductivity < math.inf, tr("must be more than 0")),
            ("sideways", 0 < self.sideways < math.inf, tr("must be more than 0")),
            ("residual", 0 <= self.residual < self.saturated, tr("must be from 0 to less than the saturated water content")),
            ("saturated", self.saturated <= 1, tr("must be at most 1")),
            ("alpha", 0 < self.alpha < math.inf, tr("must be more than 0")),
            ("shape", 1 < self.shape < math.inf, tr("must be more than 1")),
            ("entry", -math.inf < self.entry <= 0, tr("must not be more than 0")),
        ):  # fmt: skip
            if not holds:
                raise InputError(tr("{name} of {name_2}", name=name, name_2=self.name), rule, getattr(self, name))

    @property
    def exponent(self) -> float:
        """Mualem's m = 1 − 1/n."""
        return 1 - 1 / self.shape

    def row(self) -> Array:
        """The row (11,) of the kernel's table of materials; its order is that of ``kernel.curves``."""
        m, n = self.exponent, self.shape
        p = (self.alpha * -self.entry) ** n
        entry_share = (1 + p) ** -m
        entry_mualem = 1 - (p / (1 + p)) ** m
        bend = min(-(m ** (1 / n)) / self.alpha, self.entry)
        near = -((((0.98 * entry_share) ** (-1 / m)) - 1) ** (1 / n)) / self.alpha  # head at which 98 % of the pores are full
        span = (self.saturated - self.residual) / entry_share
        return np.array([self.residual, span, self.alpha, n, m, self.entry, entry_share, entry_mualem, bend, SPECIFIC_STORAGE, max(near, bend)])

    def content(self, head: Array | float) -> Array:
        """Water content at pressure heads, m; any shape; without what the specific storage adds."""
        share, entry = self._share(head)
        return np.asarray(self.residual + (self.saturated - self.residual) * share / entry)

    def permeability(self, head: Array | float) -> Array:
        """Conductivity relative to that at saturation, at pressure heads, m; any shape."""
        share, entry = self._share(head)
        m = self.exponent
        ratio = (1 - (1 - share ** (1 / m)) ** m) / (1 - (1 - entry ** (1 / m)) ** m)
        return np.asarray(np.sqrt(share / entry) * ratio**2)

    def _share(self, head: Array | float) -> tuple[Array, float]:
        suction = np.maximum(-np.asarray(head, dtype=float), -self.entry)
        return (1 + (self.alpha * suction) ** self.shape) ** -self.exponent, float((1 + (self.alpha * -self.entry) ** self.shape) ** -self.exponent)


def stone(name: str, conductivity: float, voids: float) -> Medium:
    """Washed stone: holds next to nothing against gravity (alpha 50 1/m, n 2.5: common practice, no source)."""
    return Medium(name, conductivity, 0.01, voids, 50.0, 2.5, entry=0.0)
