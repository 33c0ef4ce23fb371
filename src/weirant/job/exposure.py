"""What of the site may grow in a drain, crust it or burst it: a few facts that can be seen or asked."""

from __future__ import annotations

from weirant.job.fields import plain, quantity
from weirant.records import dataclass
from weirant.units import display as k


@dataclass(frozen=True)
class Exposure:
    """Whether the water carries ``iron`` (a rust-coloured film on standing water, rust in the soil), whether the stone is of concrete or limestone that gives
    ``lime``, and how deep m the ground freezes; None where nobody has looked.
    """

    iron: bool | None = plain("rust-coloured film on standing water", None)
    lime: bool | None = plain("stone of crushed concrete or limestone", None)
    frost_depth: float | None = quantity("depth to which the ground freezes", k.DEPTH, at_least=0, at_most=5, default=None)
