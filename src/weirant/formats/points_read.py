"""What comes of reading a file of points: the points, the lines that could not be used and why, things worth saying."""

from __future__ import annotations

import math
from dataclasses import field

from weirant.ground.flat_plan import FlatPlan
from weirant.job.site import Feature, SitePoint
from weirant.language import tr
from weirant.records import dataclass

FARTHEST = 1e5  # m from the origin of the plan
FAR = 20_000.0  # m from the origin; points farther away are moved near it
Shift = tuple[float, float]
NO_SHIFT: Shift = (0.0, 0.0)
LOWEST, HIGHEST = -500.0, 9000.0  # m


@dataclass(frozen=True)
class Refused:
    """A line or thing of a file that could not be used: where, its text (shortened where very long), and why."""

    where: str
    text: str
    why: str


@dataclass(frozen=True)
class PointsRead:
    """Points and features read, what was refused, and notes such as how the encoding or the axes were taken.

    ``shift`` is what was taken off east and north, m; ``origin`` the position in degrees that the plan was laid about.
    """

    points: tuple[SitePoint, ...]
    refused: tuple[Refused, ...] = ()
    notes: tuple[str, ...] = ()
    features: tuple[Feature, ...] = field(default=())
    shift: Shift = NO_SHIFT
    origin: FlatPlan | None = None


def shift_for(east: float, north: float, of_job: Shift) -> tuple[Shift, str]:
    """What is taken off a file that has a point at east and north, m, and what is to be said of it.

    The job's own shift serves every file; a file that was moved near the origin already is left as it is. A job without one takes whole kilometres
    where the points lie far away.
    """
    far = max(abs(east), abs(north))
    if of_job != NO_SHIFT:
        if max(abs(east - of_job[0]), abs(north - of_job[1])) > FARTHEST and far <= FAR:
            return NO_SHIFT, tr("The points lie near the origin: they were taken as moved already, like the plan of this job.")
        return of_job, tr("As with this job's other files, {of_job:,.0f} m were taken off east and {of_job_2:,.0f} m off north.", of_job=of_job[0], of_job_2=of_job[1])
    if not FAR < far < 1e9:
        return NO_SHIFT, ""
    found = (1000.0 * (east // 1000.0), 1000.0 * (north // 1000.0))
    return found, tr("{found:,.0f} m were taken off east and {found_2:,.0f} m off north, so that the plan lies near its origin; they are put back on writing.",
                     found=found[0], found_2=found[1])


def fault_in(x: float, y: float, level: float) -> str:
    """Why a point cannot be used; empty where it can."""
    if not (math.isfinite(x) and math.isfinite(y) and math.isfinite(level)):
        return tr("coordinates and level must be finite numbers")
    if abs(x) > FARTHEST or abs(y) > FARTHEST:
        return tr("lies more than 100 km from the origin; shift the coordinates when reading")
    if not LOWEST <= level <= HIGHEST:
        return tr("its level is not one on land; check the unit")
    return ""


def whole(text: str) -> str:
    """A text without half characters, which no file could keep."""
    return text if text.isascii() else text.encode("utf-16", "surrogatepass").decode("utf-16", "replace")
