"""Flow in circular pipes by Manning's formula."""

from __future__ import annotations

import math
from functools import cache
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from weirant.errors import InputError, SolverError
from weirant.language import tr
from weirant.methods.domain import between, not_negative, positive
from weirant.methods.registry import method
from weirant.units.dimension import AREA, DISCHARGE, LENGTH, NUMBER, SLOPE, SPEED

_FULLEST_ANGLE = 5.27810713800479  # central angle of greatest discharge, depth 0.938 of the diameter
NO_PIPE = 0.005, 0.1  # Manning's n under and over which there is no pipe (cp)
_PIPE = {"diameter": LENGTH, "roughness_n": NUMBER, "slope": SLOPE}
_VALID = tr("steady uniform rough-turbulent flow; n 0.008 to 0.035; slope above 0 to 100 %")


class FullFlow(NamedTuple):
    """Discharge in m³/s and mean velocity in m/s of a full pipe."""

    discharge: float
    velocity: float


class PartialFlow(NamedTuple):
    """Depth m, velocity m/s, area m² of flow and the discharge as a share of the full pipe's."""

    depth: float
    velocity: float
    flow_area: float
    full_fraction: float


def _check_pipe(diameter: float, roughness_n: float, slope: float) -> None:
    positive(diameter=diameter, roughness_n=roughness_n, slope=slope)
    between(0.0, 1.0, slope=slope)
    between(*NO_PIPE, roughness_n=roughness_n)


def silted_share(filled: float) -> float:
    """What a round pipe with level sediment up to a share of its height carries full, of what it carries clean (Manning: area times hydraulic radius to the power
    of two thirds; as rough over the sediment as on the wall). ``filled`` from 0 to 1.
    """
    filled = min(max(filled, 0.0), 1.0)
    angle = 2 * math.acos(1 - 2 * filled)  # of the sediment's surface, from the middle
    area = 1 - (angle - math.sin(angle)) / (2 * math.pi)
    around = 1 - angle / (2 * math.pi) + math.sin(angle / 2) / math.pi
    return area * (area / around) ** (2 / 3) if area > 0 else 0.0


@method("pipe-full-flow", keys=_PIPE, results={"discharge": DISCHARGE, "velocity": SPEED},
        formula="Q = (1/n) · A · R^(2/3) · S^(1/2),  A = π D²/4,  R = D/4", sources="chow1959", valid=_VALID)  # fmt: skip
def pipe_full_flow(diameter: float, roughness_n: float, slope: float) -> FullFlow:
    """Discharge and velocity of a circular pipe just flowing full.

    diameter m (> 0), roughness_n Manning's n in s/m^(1/3), slope m/m (above 0 to 1). Raises InputError outside.
    Source: Chow 1959, Open-Channel Hydraulics, eq. 5-6.
    """
    _check_pipe(diameter, roughness_n, slope)
    velocity = (diameter / 4) ** (2 / 3) * slope**0.5 / roughness_n
    return FullFlow(velocity * math.pi * diameter**2 / 4, velocity)


@method("pipe-partial-flow", keys=_PIPE | {"discharge": DISCHARGE},
        results={"depth": LENGTH, "velocity": SPEED, "flow_area": AREA, "full_fraction": NUMBER},
        formula="Q/Q_full = (a − sin a)^(5/3) / (2π a^(2/3)),  depth = D/2 (1 − cos a/2),  a = central angle of the water",
        sources="chow1959", valid=_VALID + tr("; up to the greatest free-surface flow, 1.076 of the full pipe's"))  # fmt: skip
def pipe_partial_flow(diameter: float, roughness_n: float, slope: float, discharge: float) -> PartialFlow:
    """Depth, velocity and area of flow in a circular pipe that carries a given discharge.

    diameter m, roughness_n s/m^(1/3), slope m/m, discharge m³/s (0 to 1.076 of the full pipe's; the smaller of
    two depths is given). Raises InputError where the pipe cannot carry it. Source: Chow 1959, §6-4.
    """
    full = pipe_full_flow(diameter, roughness_n, slope)
    not_negative(discharge=discharge)
    share = discharge / full.discharge
    angle = central_angle(share)
    if angle is None:
        raise InputError("discharge", tr("is more than the pipe carries, {discharge:.4g} m³/s", discharge=full.discharge * _TOP_SHARE),
                         f"{discharge:.4g} m³/s")  # fmt: skip
    area = diameter**2 / 8 * (angle - math.sin(angle))
    velocity = discharge / area if area else 0.0
    return PartialFlow(diameter / 2 * (1 - math.cos(angle / 2)), velocity, area, share)


def _share_at(angle: float) -> float:
    """Discharge as a share of the full pipe's at a central angle of the water surface, rad."""
    return float((angle - math.sin(angle)) ** (5 / 3) / (2 * math.pi * angle ** (2 / 3)))


_TOP_SHARE = _share_at(_FULLEST_ANGLE)  # greatest flow with a free surface


def central_angle(full_fraction: float) -> float | None:
    """Central angle of the water surface (rad) for a discharge given as a share of the full pipe's.

    The smaller of two angles; 0 for no flow; None where the share is beyond the greatest free-surface flow. Newton's
    steps inside a closing bracket, from the power law of a thin stream; raises SolverError with the residual.
    """
    if full_fraction <= 0:
        return 0.0
    if full_fraction >= _TOP_SHARE:
        return _FULLEST_ANGLE if full_fraction <= _TOP_SHARE * (1 + 1e-12) else None
    low, high = 0.0, _FULLEST_ANGLE
    angle: float = min((full_fraction * 2 * math.pi * 6 ** (5 / 3)) ** (3 / 13), 0.97 * high)
    for _ in range(100):
        area, value = angle - math.sin(angle), _share_at(angle)
        low, high = (angle, high) if value < full_fraction else (low, angle)
        growth = value * (5 / 3 * (1 - math.cos(angle)) / area - 2 / 3 / angle)
        step = (value - full_fraction) / growth if growth > 0 else math.inf
        if abs(step) <= 1e-8 * angle:  # the next step would be below the last digit
            return angle - step
        angle = angle - step if low < angle - step < high else (low + high) / 2
    residual = abs(_share_at(angle) - full_fraction) / full_fraction
    if residual > 1e-9:
        raise SolverError(tr("depth of flow in the pipe"), residual)
    return angle


@cache
def _table() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Shares of the full flow, to the power by which a thin stream widens, and the angles they stand at."""
    angles = np.linspace(0.0, _FULLEST_ANGLE * (1 - 1e-9), 1024)[1:]
    shares = (angles - np.sin(angles)) ** (5 / 3) / (2 * math.pi * angles ** (2 / 3))
    return np.append(0.0, shares ** (3 / 13)), np.append(0.0, angles)


def central_angles(full_fractions: NDArray[np.float64]) -> NDArray[np.float64]:
    """``central_angle`` of many shares at once, shape (n,); the whole circle where the pipe runs full under pressure.

    By the same steps, all shares together, from a table that is right to four digits.
    """
    shares = np.asarray(full_fractions, dtype=float)
    free = (shares > 0) & (shares < _TOP_SHARE)
    found = np.where(shares <= 0, 0.0, np.where(shares <= _TOP_SHARE * (1 + 1e-12), _FULLEST_ANGLE, 2 * math.pi))
    wanted = shares[free]
    if not len(wanted):
        return found
    low, high = np.zeros(len(wanted)), np.full(len(wanted), _FULLEST_ANGLE)
    angle = np.interp(wanted ** (3 / 13), *_table())
    for _ in range(100):
        area = angle - np.sin(angle)
        value = area ** (5 / 3) / (2 * math.pi * angle ** (2 / 3))
        under = value < wanted
        low, high = np.where(under, angle, low), np.where(under, high, angle)
        growth = value * (5 / 3 * (1 - np.cos(angle)) / area - 2 / 3 / angle)
        step = np.divide(value - wanted, growth, out=np.full(len(wanted), np.inf), where=growth > 0)
        is_near = np.abs(step) <= 1e-8 * angle  # the next step would be below the last digit
        angle = np.where(is_near | ((low < angle - step) & (angle - step < high)), angle - step, (low + high) / 2)
        if is_near.all():
            found[free] = angle
            return found
    raise SolverError(tr("depth of flow in the pipe"), float(np.max(np.abs(high - low))))


@method("pipe-count-equivalent",
        keys={"diameter": LENGTH, "other_diameter": LENGTH, "roughness_n": NUMBER, "other_roughness_n": NUMBER},
        results={"count": NUMBER}, formula="count = (D/d)^(8/3) · n_other/n", sources="chow1959",
        valid=tr("full pipes on the same slope"))  # fmt: skip
def pipe_count_equivalent(
    diameter: float, other_diameter: float, roughness_n: float, other_roughness_n: float
) -> float:
    """How many pipes of another size carry what one pipe carries, at the same slope.

    diameters m (> 0), roughness s/m^(1/3). The count is not rounded. Source: Manning's formula, Chow 1959 eq. 5-6.
    """
    positive(
        diameter=diameter, other_diameter=other_diameter, roughness_n=roughness_n, other_roughness_n=other_roughness_n
    )
    between(*NO_PIPE, roughness_n=roughness_n, other_roughness_n=other_roughness_n)
    return float((diameter / other_diameter) ** (8 / 3) * other_roughness_n / roughness_n)
