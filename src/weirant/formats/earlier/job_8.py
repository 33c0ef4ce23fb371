"""What of a job was otherwise in file version 8: every run said itself what it carries. Only for reading such files."""

from __future__ import annotations

from weirant.formats.earlier import job_9
from weirant.job.fields import choice, several
from weirant.job.water import GROUND, PUMP, ROOF, SURFACE
from weirant.records import dataclass


@dataclass(frozen=True)
class Run(job_9.Run):
    """A run as it was in version 9, and what it was said to carry."""

    system: str = choice("carries", GROUND, SURFACE, ROOF, PUMP, default=GROUND)


@dataclass(frozen=True)
class Job8(job_9.Job9):
    """One site with its drains, as it was in version 8."""

    runs: tuple[Run, ...] = several("runs", most=300)
