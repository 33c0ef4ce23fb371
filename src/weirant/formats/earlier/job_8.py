"""What of a job was otherwise in file version 8: every run said itself what it carries. Only for reading such files."""

from __future__ import annotations

from dataclasses import dataclass

from weirant.job import Job
from weirant.job import network as today
from weirant.job.fields import choice, several
from weirant.job.water import GROUND, PUMP, ROOF, SURFACE


@dataclass(frozen=True)
class Run(today.Run):
    """A run as it is today, and what it was said to carry."""

    system: str = choice("carries", GROUND, SURFACE, ROOF, PUMP, default=GROUND)


@dataclass(frozen=True)
class Job8(Job):
    """One site with its drains, as it was in version 8."""

    runs: tuple[Run, ...] = several("runs", most=300)
