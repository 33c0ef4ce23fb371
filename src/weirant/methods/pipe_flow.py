"""Flow in circular pipes by Manning's formula."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike, NDArray

from weirant.errors import InputError, SolverError
from weirant.methods.domain import between, not_negative, positive
from weirant.methods.registry import method
from weirant.units.dimension import AREA, DISCHARGE, LENGTH, NUMBER, SLOPE, SPEED

_FULLEST_ANGLE = 5.27810713800479  # central angle of greatest discharge, depth 0.938 of the diameter
_PIPE = {"diameter": LENGTH, "roughness_n": NUMBER, "slope": SLOPE}
_VALID = "steady uniform rough-turbulent flow; n 0.008 to 0.035; slope above 0 to 100 %"


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
    between(0.0, 1.0, slope=slope, roughness_n=roughness_n)


@method("pipe-full-flow", keys=_PIPE, results={"discharge": DISCHARGE, "velocity": SPEED},
        formula="Q = (1/n) · A · R^(2/3) · S^(1/2),  A = π D²/4,  R = D/4", sources="chow1959", valid=_VALID)  # fmt: skip
def pipe_full_flow(diameter: float, roughness_n: float, slope: float) -> FullFlow:
    """Discharge and velocity of a circular pipe just flowing full.

    diameter m (> 0), roughness_n Manning's n in s/m^(1/3), slope m/m (above 0 to 1). Raises InputError outside.
    Source: Chow 1959, Open-Channel Hydraulics, eq. 5-6.
    """
    _check_pipe(diameter, roughness_n, slope)
    velocity = (diameter / 4) ** (2 / 3) * slope**0.5 / roughness_n
    return FullFlow(velocity * np.pi * diameter**2 / 4, velocity)


@method("pipe-partial-flow", keys=_PIPE | {"discharge": DISCHARGE},
        results={"depth": LENGTH, "velocity": SPEED, "flow_area": AREA, "full_fraction": NUMBER},
        formula="Q/Q_full = (a − sin a)^(5/3) / (2π a^(2/3)),  depth = D/2 (1 − cos a/2),  a = central angle of the water",
        sources="chow1959", valid=_VALID + "; up to the greatest free-surface flow, 1.076 of the full pipe's")  # fmt: skip
def pipe_partial_flow(diameter: float, roughness_n: float, slope: float, discharge: float) -> PartialFlow:
    """Depth, velocity and area of flow in a circular pipe that carries a given discharge.

    diameter m, roughness_n s/m^(1/3), slope m/m, discharge m³/s (0 to 1.076 of the full pipe's; the smaller of
    two depths is given). Raises InputError where the pipe cannot carry it. Source: Chow 1959, §6-4.
    """
    full = pipe_full_flow(diameter, roughness_n, slope)
    not_negative(discharge=discharge)
    share = discharge / full.discharge
    angle = float(central_angle(share))
    if np.isnan(angle):
        raise InputError("discharge", f"is more than the pipe carries, {full.discharge * _TOP_SHARE:.4g} m³/s",
                         f"{discharge:.4g} m³/s")  # fmt: skip
    area = diameter**2 / 8 * (angle - np.sin(angle))
    velocity = discharge / area if area else 0.0
    return PartialFlow(diameter / 2 * (1 - np.cos(angle / 2)).item(), float(velocity), float(area), share)


def _share_at(angle: NDArray[np.float64]) -> NDArray[np.float64]:
    return (angle - np.sin(angle)) ** (5 / 3) / (2 * np.pi * angle ** (2 / 3))


_TOP_SHARE = float(_share_at(np.asarray(_FULLEST_ANGLE)))  # greatest flow with a free surface over full flow
_ROOT = 3 / 13  # a thin stream's flow grows with the angle to the power 13/3
_TABLE_ANGLES = np.linspace(1e-3, _FULLEST_ANGLE, 400)
_TABLE_SHARES = _share_at(_TABLE_ANGLES) ** _ROOT


def central_angle(full_fraction: ArrayLike) -> NDArray[np.float64]:
    """Central angle of the water surface (rad) for discharges given as shares of the full pipe's.

    Any shape; the smaller of two angles; NaN where the share is beyond the greatest free-surface flow. A table gives
    the start, Newton's steps the rest; raises SolverError with the residual where they do not close.
    """
    share = np.asarray(full_fraction, dtype=float)
    flows = (share > 0) & (share <= _TOP_SHARE * (1 + 1e-12))
    wanted = np.where(flows, np.minimum(share, _TOP_SHARE * (1 - 1e-9)), 0.5)
    angle = np.interp(wanted**_ROOT, _TABLE_SHARES, _TABLE_ANGLES)
    for _ in range(6):
        area, slope = angle - np.sin(angle), 1 - np.cos(angle)
        value = area ** (5 / 3) / (2 * np.pi * angle ** (2 / 3))
        growth = value * (5 / 3 * slope / area - 2 / 3 / angle)
        angle = np.clip(angle - (value - wanted) / np.maximum(growth, 1e-9 * value / angle), angle / 2, _FULLEST_ANGLE)
    residual = float(np.max(np.abs(_share_at(angle) - wanted) / wanted, initial=0.0))
    if residual > 1e-7:
        raise SolverError("depth of flow in the pipe", residual)
    return np.where(flows, angle, np.where(share <= 0, 0.0, np.nan))


@method("pipe-count-equivalent",
        keys={"diameter": LENGTH, "other_diameter": LENGTH, "roughness_n": NUMBER, "other_roughness_n": NUMBER},
        results={"count": NUMBER}, formula="count = (D/d)^(8/3) · n_other/n", sources="chow1959",
        valid="full pipes on the same slope")  # fmt: skip
def pipe_count_equivalent(
    diameter: float, other_diameter: float, roughness_n: float, other_roughness_n: float
) -> float:
    """How many pipes of another size carry what one pipe carries, at the same slope.

    diameters m (> 0), roughness s/m^(1/3). The count is not rounded. Source: Manning's formula, Chow 1959 eq. 5-6.
    """
    positive(
        diameter=diameter, other_diameter=other_diameter, roughness_n=roughness_n, other_roughness_n=other_roughness_n
    )
    return float((diameter / other_diameter) ** (8 / 3) * other_roughness_n / roughness_n)
