"""What of a job was otherwise in file versions 10 to 15: one sieve result for all of a soil, that of its lowest layer. Only for reading such files."""

from __future__ import annotations

from weirant.job import Job
from weirant.job import soil as today
from weirant.job.fields import quantity, several
from weirant.job.soil import SievePoint
from weirant.records import dataclass
from weirant.units import display as k


@dataclass(frozen=True)
class Soil(today.Soil):
    """A soil with what a laboratory said of it."""

    gradation: tuple[SievePoint, ...] = several("sieve result", ())
    liquid_limit: float | None = quantity("liquid limit", k.COUNT, at_least=0, at_most=300, default=None)
    plasticity_index: float | None = quantity("plasticity index", k.COUNT, at_least=0, at_most=250, default=None)


@dataclass(frozen=True)
class Job15(Job):
    """The fields that were otherwise."""

    soils: tuple[Soil, ...] = several("soils", most=50)
