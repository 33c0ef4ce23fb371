"""Collects: does the drain hold the water low enough where it matters?"""

from __future__ import annotations

import math
from functools import partial

from weirant.checks.judge import judge, say, say_band
from weirant.job.paths import with_value
from weirant.job.water import ROOF_IN_DRAIN
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.units import display as k

LEAST = 0.005  # m: less is not worth a fix


def drain_level(outcome: Outcome) -> Finding | None:
    """The drain itself lies deep enough: groundwater ends up no lower than the drain."""
    grade, flow, job = outcome.grade, outcome.flow_high, outcome.job
    if grade is None or flow is None:
        return None
    station = protected_station(outcome)
    depth = grade.at(grade.ground - flow.surface, station)
    limit = job.protected.dry_depth
    state = judge(depth, limit, at_most=False)
    reason = (f"Water in the drain stands {say(outcome, depth, k.DEPTH)} below ground beside {job.protected.name}; "
              "the ground gets no drier than that.")  # fmt: skip
    fixes = lowered(outcome, limit * 1.1 - depth) if state == State.FAILS else ()
    return Finding("drain-level", "collects", "Depth of the drain", state, reason, "cp", depth, limit, k.DEPTH, at_most=False,
                   station=station, fixes=fixes, elements=("line.outlet_invert", "protected.dry_depth"))  # fmt: skip


def table(outcome: Outcome) -> Finding | None:
    """The water table at the protected place, over the range of the soil."""
    water, job = outcome.water, outcome.job
    if water is None:
        return None
    found = partial(Finding, key="table", family="collects", title=f"Dry at {job.protected.name}", kind=k.DEPTH, at_most=False,
                elements=("soil", "protected.distance"), station=protected_station(outcome))  # fmt: skip
    if water.table_depth is None:
        return found(state=State.UNKNOWN, source="cp", reason=f"Not known until you have {water.missing}.")
    figure, limit = water.table_depth, job.protected.dry_depth
    state = judge(figure.value, limit, at_most=False, band=figure.band)
    assumed = (
        " The conductivity is only assumed from the texture; an auger-hole or falling-water test settles it."
        if outcome.soil.conductivity_assumed
        else ""
    )
    if outcome.soil.conductivity_assumed and state == State.HOLDS and figure.band:
        state = State.TIGHT
    reason = f"Water is expected {say(outcome, figure.value, k.DEPTH)} below ground{say_band(outcome, figure.band, k.DEPTH)}.{assumed}"
    fixes = lowered(outcome, min(limit * 1.1 - figure.value, over_hard_layer(outcome))) if state == State.FAILS else ()
    return found(
        state=state, source=_source(outcome), reason=reason, value=figure.value, limit=limit, figure=figure, fixes=fixes
    )


def lowered(outcome: Outcome, by: float) -> tuple[Fix, ...]:
    """The whole line so much deeper, m, as a fix; none where it is next to nothing."""
    if by < LEAST:
        return ()
    return (Fix(f"Lower the whole line {say(outcome, by, k.SECTION)}", with_value(outcome.job, "line.outlet_invert", outcome.job.line.outlet_invert - by)),)


def over_hard_layer(outcome: Outcome) -> float:
    """How far the water in the drain stands over the hard layer beside the place, m: deeper, no more of the wet soil drains to it."""
    grade, flow, hard = outcome.grade, outcome.flow_high, outcome.job.soil.hard_layer_depth
    if grade is None or flow is None or hard is None:
        return math.inf
    return hard - grade.at(grade.ground - flow.surface, protected_station(outcome))


def _source(outcome: Outcome) -> str:
    return {"hillside": "neh624", "parallel lines": "hooghoudt1940 vandermolen1991"}.get(
        outcome.job.water.source, "dupuit1863"
    )


def barrier(outcome: Outcome) -> Finding | None:
    """An interceptor that ends above the hard layer lets water pass beneath."""
    grade, soil, job = outcome.grade, outcome.job.soil, outcome.job
    if grade is None or job.water.source != "hillside" or soil.hard_layer_depth is None:
        return None
    station = protected_station(outcome)
    cut = grade.at(grade.cut, station)
    under = soil.hard_layer_depth - cut
    state = judge(under, 0.0, at_most=True, near=0.0) if under <= 0 else State.TIGHT
    reason = (f"The trench bottom reaches the hard layer ({say(outcome, soil.hard_layer_depth, k.DEPTH)} down)." if under <= 0 else
              f"{say(outcome, under, k.DEPTH)} of wet soil are left between trench bottom and hard layer; water there passes under the drain.")  # fmt: skip
    return Finding("barrier", "collects", "Down to the hard layer", state, reason, "neh624", under, 0.0, k.DEPTH,
                   station=station, elements=("soil.hard_layer_depth",))  # fmt: skip


def reach(outcome: Outcome) -> Finding | None:
    """The collecting run passes the whole protected place."""
    place, line = outcome.job.protected, outcome.job.line
    if place.to_station <= place.from_station:
        return None
    missed = max(0.0, line.solid_length - place.from_station) + max(0.0, place.to_station - line.length)
    state = State.FAILS if missed > 0.01 else State.HOLDS
    reason = (f"The collecting run misses {say(outcome, missed, k.STATION)} of {place.name}." if missed > 0.01 else
              f"The collecting run passes the whole of {place.name}.")  # fmt: skip
    fixes = []
    if place.to_station > line.length:
        fixes.append(Fix(f"Lengthen the line to station {say(outcome, place.to_station, k.STATION)}",
                         with_value(outcome.job, "line.length", place.to_station)))  # fmt: skip
    if place.from_station < line.solid_length:
        fixes.append(Fix(f"Collect from station {say(outcome, place.from_station, k.STATION)} on",
                         with_value(outcome.job, "line.solid_length", max(0.0, place.from_station))))  # fmt: skip
    return Finding("reach", "collects", "Length of the collecting run", state, reason, "cp", missed, 0.0, k.STATION,
                   station=place.from_station, fixes=tuple(fixes), elements=("line.length", "line.solid_length"))  # fmt: skip


def roof(outcome: Outcome) -> Finding | None:
    """Roof water stays out of the perforated pipe."""
    job = outcome.job
    if job.water.roof_area <= 0:
        return None
    if job.water.roof_goes != ROOF_IN_DRAIN:
        return Finding(
            "roof",
            "collects",
            "Roof water",
            State.HOLDS,
            "Roof water is kept out of the perforated pipe.",
            "cp",
            elements=("water.roof_goes",),
        )
    return Finding("roof", "collects", "Roof water", State.FAILS,
                   "Roof water goes into the perforated pipe: it brings leaves and grit and leaks into the ground you drain.", "cp",
                   value=1.0, limit=0.0, kind=k.COUNT, fixes=(Fix("Give the roof its own solid pipe", with_value(job, "water.roof_goes", "own solid pipe")),),
                   elements=("water.roof_goes",))  # fmt: skip


def protected_station(outcome: Outcome) -> float:
    """The station at which the protected place is judged: its middle, kept on the collecting run."""
    place, line = outcome.job.protected, outcome.job.line
    middle = (place.from_station + place.to_station) / 2
    return min(max(middle, line.solid_length), line.length)


CHECKS = (drain_level, table, barrier, reach, roof)
