"""The ground: layers with what a sieve said of them, hard layer, water table."""

from __future__ import annotations

from weirant.job.fields import choice, plain, quantity, several
from weirant.language import tr
from weirant.records import dataclass
from weirant.units import display as k


@dataclass(frozen=True)
class Band:
    """A figure known only between bounds: low, best and high, SI."""

    low: float = quantity("low conductivity", k.CONDUCTIVITY, above=0, at_most=1.0)
    best: float = quantity("best conductivity", k.CONDUCTIVITY, above=0, at_most=1.0)
    high: float = quantity("high conductivity", k.CONDUCTIVITY, above=0, at_most=1.0)


@dataclass(frozen=True)
class SievePoint:
    """Percent finer than a size in m."""

    size: float = quantity("sieve size", k.OPENING, above=0, at_most=1)
    percent: float = quantity("percent passing", k.COUNT, at_least=0, at_most=100)


@dataclass(frozen=True)
class Layer:
    """One layer of soil, with what a laboratory said of it; the lowest has no thickness and reaches the hard layer. No conductivity: by texture."""

    texture: str = plain("soil texture")
    thickness: float | None = quantity("layer thickness", k.DEPTH, above=0, at_most=30, default=None)
    conductivity: Band | None = plain("own conductivity", None)
    gradation: tuple[SievePoint, ...] = several("sieve result", ())
    liquid_limit: float | None = quantity("liquid limit", k.COUNT, at_least=0, at_most=300, default=None)
    plasticity_index: float | None = quantity("plasticity index", k.COUNT, at_least=0, at_most=250, default=None)


MOST_LAYERS = 8
HARDPAN, ROCK = HARD_LAYERS = ("hardpan or soft rock", "solid rock")  # what a tooth bar rips, and what wants a breaker


@dataclass(frozen=True)
class Soil:
    """A soil: layers from the top down, depths in m below ground where wet. It holds as far as no other test hole is nearer than its own, within the
    outline of a thing, or, with neither, everywhere else.
    """

    layers: tuple[Layer, ...] = several("soil layers", most=MOST_LAYERS)
    hard_layer_depth: float | None = quantity("depth of the hard layer", k.DEPTH, above=0, at_most=50, default=None)
    water_table_depth: float | None = quantity(
        "depth to water when wet", k.DEPTH, at_least=0, at_most=50, default=None)  # fmt: skip
    water_table_slope: float | None = quantity(
        "slope of the water table", k.SLOPE, above=0, at_most=0.6, default=None)  # fmt: skip
    sideways: float = quantity("times faster along the layers", k.RATIO, at_least=0.1, at_most=100, default=1.0)
    id: str = plain("identity of the soil", "g1")
    name: str = plain("name of the soil", tr("the ground"))
    hole: str = plain("holds round the test hole", "")
    area: str = plain("holds within", "")
    hard_layer: str = choice("what the hard layer is", *HARD_LAYERS, default=HARDPAN)

    @property
    def boundaries(self) -> list[float | None]:
        """Depth m at which each layer begins; None where the thickness of one above it is not known."""
        found: list[float | None] = [0.0]
        for layer in self.layers[:-1]:
            above = found[-1]
            found.append(None if above is None or layer.thickness is None else above + layer.thickness)
        return found

    def layer_at(self, depth: float) -> int:
        """Number of the layer at a depth m; at a boundary the one below."""
        return sum(begins is not None and depth >= begins for begins in self.boundaries[1:])
