"""Sump pits and pumped discharge."""

from __future__ import annotations

import math
from typing import NamedTuple

from weirant.errors import InputError
from weirant.language import tr
from weirant.methods.domain import not_negative, positive
from weirant.methods.intake import GRAVITY
from weirant.methods.registry import method
from weirant.units.dimension import AREA, DISCHARGE, LENGTH, NUMBER, TIME
from weirant.units.display import in_both


class SumpCycle(NamedTuple):
    """Length of a cycle s, starts in an hour, and how long the pump runs in each s."""

    cycle_time: float
    starts_per_hour: float
    run_time: float


class PitInflow(NamedTuple):
    """What comes to a pit and what its pump lifts, both m³/s."""

    inflow: float
    pump_discharge: float


class PumpHead(NamedTuple):
    """Total head and the part lost to friction in the straight pipe, both m."""

    total_head: float
    friction_loss: float


@method("sump", keys={"inflow": DISCHARGE, "pump_discharge": DISCHARGE, "pit_area": AREA, "level_on": LENGTH,
                      "level_off": LENGTH},
        results={"cycle_time": TIME, "starts_per_hour": NUMBER, "run_time": TIME},
        formula="V = A (on − off),  cycle = V/Q_in + V/(Q_pump − Q_in)", sources="geometry",
        valid=tr("steady inflow, one pump of constant discharge"))  # fmt: skip
def sump(inflow: float, pump_discharge: float, pit_area: float, level_on: float, level_off: float) -> SumpCycle:
    """Cycle of a sump pump between its two float levels.

    inflow and pump_discharge m³/s (pump more than inflow), pit_area m², level_on above level_off m. Balance of volume.
    """
    positive(inflow=inflow, pump_discharge=pump_discharge, pit_area=pit_area)
    if not (math.isfinite(level_on) and math.isfinite(level_off) and level_on > level_off):
        raise InputError("level_on", tr("must lie above level_off"), tr("{level_on} and {level_off}", level_on=in_both(level_on), level_off=in_both(level_off)))
    if pump_discharge <= inflow:
        raise InputError(
            "pump_discharge", tr("must be more than the inflow, or the pit overflows"), f"{pump_discharge:g} m³/s"
        )
    volume = pit_area * (level_on - level_off)
    run_time = volume / (pump_discharge - inflow)
    cycle = volume / inflow + run_time
    return SumpCycle(cycle, 3600 / cycle, run_time)


@method("pit-inflow", keys={"cycle_time": TIME, "run_time": TIME, "pit_area": AREA, "level_on": LENGTH, "level_off": LENGTH},
        results={"inflow": DISCHARGE, "pump_discharge": DISCHARGE}, formula="V = A (on − off),  q = V/(t − t_run),  Q = q t/t_run", sources="geometry",
        valid=tr("steady inflow, one pump; times read off a watch from start to start, and from start to stop"))  # fmt: skip
def pit_inflow(cycle_time: float, run_time: float, pit_area: float, level_on: float, level_off: float) -> PitInflow:
    """What comes to a pit, and what its pump lifts, of a pump that was watched: so long from start to start, running so long each time.

    cycle_time more than run_time s, pit_area m², level_on above level_off m. Balance of volume.
    """
    positive(cycle_time=cycle_time, run_time=run_time, pit_area=pit_area)
    if not (math.isfinite(level_on) and math.isfinite(level_off) and level_on > level_off):
        raise InputError("level_on", tr("must lie above level_off"), tr("{level_on} and {level_off}", level_on=in_both(level_on), level_off=in_both(level_off)))
    if run_time >= cycle_time:
        raise InputError("run_time", tr("must be less than the time from start to start"), f"{run_time:g} s")
    inflow = pit_area * (level_on - level_off) / (cycle_time - run_time)
    return PitInflow(inflow, inflow * cycle_time / run_time)


@method("pump-head", keys={"discharge": DISCHARGE, "static_lift": LENGTH, "pipe_diameter": LENGTH, "length": LENGTH,
                           "roughness_c": NUMBER, "minor_k": NUMBER},
        results={"total_head": LENGTH, "friction_loss": LENGTH},
        formula="h_f = 10.67 L Q^1.852 / (C^1.852 D^4.8704),  H = lift + h_f + k v²/2g", sources="hazen_williams",
        valid=tr("water near 15 °C, pipes of 50 mm and more, C 60 to 150"))  # fmt: skip
def pump_head(discharge: float, static_lift: float, pipe_diameter: float, length: float, roughness_c: float,
              minor_k: float) -> PumpHead:  # fmt: skip
    """Head a pump must give: lift, friction by Hazen–Williams and minor losses.

    discharge m³/s, pipe_diameter m, length m, roughness_c (all > 0), static_lift m and minor_k (0 or more).
    Source: Williams and Hazen 1905 in SI form.
    """
    positive(discharge=discharge, pipe_diameter=pipe_diameter, length=length, roughness_c=roughness_c)
    not_negative(static_lift=static_lift, minor_k=minor_k)
    friction = 10.67 * length * discharge**1.852 / (roughness_c**1.852 * pipe_diameter**4.8704)
    velocity = discharge / (math.pi * pipe_diameter**2 / 4)
    return PumpHead(static_lift + friction + minor_k * velocity**2 / (2 * GRAVITY), friction)


class PumpDuty(NamedTuple):
    """Where the pump works: discharge m³/s and the head m it gives there."""

    discharge: float
    head: float


@method("pump-duty", keys={"shut_off_head": LENGTH, "rated_discharge": DISCHARGE, "rated_head": LENGTH, "static_lift": LENGTH, "pipe_diameter": LENGTH, "length": LENGTH,
                           "roughness_c": NUMBER, "minor_k": NUMBER},
        results={"discharge": DISCHARGE, "head": LENGTH}, formula="H₀ − (H₀ − H₁)(Q/Q₁)² = lift + h_f(Q) + k v²/2g", sources="hazen_williams",
        valid=tr("pump curve as a parabola through its head when shut off and one point; pipes of 50 mm and more, C 60 to 150"))  # fmt: skip
def pump_duty(shut_off_head: float, rated_discharge: float, rated_head: float, static_lift: float, pipe_diameter: float, length: float, roughness_c: float,
              minor_k: float) -> PumpDuty:  # fmt: skip
    """Discharge and head at which a pump and its rising main agree.

    shut_off_head m (more than rated_head and static_lift), rated_discharge m³/s and rated_head m a point of the pump's curve, the rest as for
    pump-head. Halves the interval between no flow and that at which the curve comes down to the lift.
    """
    positive(shut_off_head=shut_off_head, rated_discharge=rated_discharge, rated_head=rated_head, pipe_diameter=pipe_diameter, length=length, roughness_c=roughness_c)
    not_negative(static_lift=static_lift, minor_k=minor_k)
    for key, less in (("rated_head", rated_head), ("static_lift", static_lift)):
        if shut_off_head <= less:
            raise InputError("shut_off_head", tr("must be more than {key}", key=key), in_both(shut_off_head))
    bend = (shut_off_head - rated_head) / rated_discharge**2
    low, high = 0.0, math.sqrt((shut_off_head - static_lift) / bend)
    for _ in range(200):
        middle = (low + high) / 2
        if middle in (low, high):
            break
        wanted = pump_head(middle, static_lift, pipe_diameter, length, roughness_c, minor_k).total_head
        low, high = (middle, high) if shut_off_head - bend * middle**2 > wanted else (low, middle)
    return PumpDuty(low, shut_off_head - bend * low**2)
