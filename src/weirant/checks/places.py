"""Where along its run the place to keep dry is judged."""

from __future__ import annotations

from weirant.ground.network import LaidRun
from weirant.job import Job
from weirant.outcome.outcome import Outcome


def served_station(job: Job, run: LaidRun) -> float:
    """The station at which a run is judged: the middle of the place where it serves one, else of what collects; on the collecting part, m."""
    place = job.protected
    middle = (place.from_station + place.to_station) / 2 if run.id == place.run else (run.solid_length + run.length) / 2
    return min(max(middle, run.solid_length), run.length)


def protected_station(outcome: Outcome) -> float:
    """The station of the run that serves the place at which the place is judged, m; nought where no run does."""
    served = outcome.served
    return served_station(outcome.job, served.run) if served is not None else 0.0
