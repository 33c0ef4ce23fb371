"""A pump in a pit: does it lift what comes, without starting too often, from under the drain, through its pipe, and what when the power is out?"""

from __future__ import annotations

from functools import partial

import numpy as np

from weirant.checks.judge import judge
from weirant.language import tr
from weirant.outcome.facts import Amount, Lasting
from weirant.outcome.figure import Figure
from weirant.outcome.finding import Finding, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.pump import FITTINGS, PLASTIC, PumpOutcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k

SPARE = 1.25  # times what comes that a pump is wanted to lift (cp)


def _pit(outcome: Outcome, found: RunOutcome) -> PumpOutcome | None:
    """The pump at the low end of a run."""
    return outcome.site.pumps.get(found.run.nodes[0][0].id)


def _comes(outcome: Outcome, pit: PumpOutcome) -> tuple[float, Finding | None]:
    """What comes to a pit, m³/s, and why nothing can be said where that is not known."""
    leaves = outcome.site.exits.get(pit.node)
    if leaves is None:
        return 0.0, Finding(State.UNKNOWN, "nothing", source="cp", piece=pit.node)
    if leaves.missing or leaves.shared:
        return leaves.discharge, Finding(State.UNKNOWN, "missing", source="cp", piece=pit.node, facts={"missing": leaves.missing or leaves.shared})
    return leaves.discharge, None


def lifts(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The pump lifts the most that comes in the wet season, by a quarter more."""
    pit = _pit(outcome, found)
    if pit is None:
        return None
    said = partial(Finding, source="hazen_williams cp", piece=pit.node, station=0.0, caution="electric",
                   elements=tuple(f"nodes.{pit.node}.outlet.pump.{name}" for name in ("curve", "main_diameter")))  # fmt: skip
    if pit.lift is None:
        return said(State.UNKNOWN, "level")
    lift = Amount(pit.lift, k.DEPTH)
    if pit.discharge is None:
        return said(State.FAILS, "low", facts={"lift": lift, "most": Amount(pit.most_head, k.DEPTH)}, value=pit.lift, limit=pit.most_head, kind=k.DEPTH)
    comes, doubt = _comes(outcome, pit)
    state = State.FAILS if comes > pit.discharge else State.TIGHT if comes * SPARE > pit.discharge else State.HOLDS
    if doubt is not None and state != State.FAILS:
        return doubt
    figure = Figure(tr("What the pump lifts"), pit.discharge, k.DISCHARGE, "pump-head",
                    {"discharge": pit.discharge, "static_lift": max(pit.lift, 0.0), "pipe_diameter": pit.pump.main_diameter, "length": pit.pump.main_length,
                     "roughness_c": PLASTIC, "minor_k": FITTINGS}, "total_head")  # fmt: skip
    return said(state, facts={"lift": lift, "head": Amount(pit.head or 0.0, k.DEPTH), "comes": Amount(comes, k.DISCHARGE)}, value=comes, limit=pit.discharge, kind=k.DISCHARGE,
                figure=figure)


def starts(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """It does not start too often, at the worst inflow that may come."""
    pit = _pit(outcome, found)
    if pit is None or pit.discharge is None or pit.between_floats <= 0:
        return None
    comes, doubt = _comes(outcome, pit)
    at_worst = pit.starts_per_hour(comes if doubt is None else np.inf)
    limit = outcome.rules.most_starts
    state = judge(at_worst, limit, at_most=True)
    if doubt is not None and state != State.HOLDS:
        return doubt
    wanted = 3600 * pit.discharge / 4 / limit / pit.area  # what the floats must be apart for the worst inflow of all
    return Finding(state, source="geometry cp", piece=pit.node, value=at_worst, limit=limit, kind=k.COUNT, station=0.0,
                   facts={"starts": round(at_worst, 1), "apart": Amount(pit.pump.starts - pit.pump.stops, k.SECTION), "wanted": Amount(wanted, k.SECTION)},
                   elements=(f"nodes.{pit.node}.outlet.pump.starts", f"nodes.{pit.node}.basin.size"))  # fmt: skip


def floats(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """It starts before water stands in the drain."""
    pit = _pit(outcome, found)
    if pit is None:
        return None
    under = pit.invert - pit.floor - pit.pump.starts
    state = State.HOLDS if under >= -1e-9 else State.TIGHT
    return Finding(state, source="cp", piece=pit.node, value=under, limit=0.0, kind=k.SECTION, at_most=False, station=0.0, facts={"off": Amount(abs(under), k.SECTION)},
                   elements=(f"nodes.{pit.node}.outlet.pump.starts", f"nodes.{pit.node}.basin.sump"))  # fmt: skip


def without_power(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """How long the pit holds what comes while the power is out, from the upper float to where water comes out of it."""
    pit = _pit(outcome, found)
    if pit is None or found.grade is None:
        return None
    comes, doubt = _comes(outcome, pit)
    if doubt is not None:
        return doubt
    node = found.run.nodes[0][0]
    rim = max(float(found.grade.ground[0]) if node.rim is None else node.rim, pit.invert)
    room = pit.area * max(rim - pit.floor - pit.pump.starts, 0.0)
    lasts = (room / comes if comes > 0 else np.inf) + pit.pump.battery
    state = State.HOLDS if lasts >= outcome.rules.power_cut else State.TIGHT
    return Finding(state, source="geometry cp", piece=pit.node, value=min(lasts, 1e9), limit=outcome.rules.power_cut, kind=k.DURATION, at_most=False, station=0.0,
                   facts={"lasts": Lasting(lasts, 1e9), "battery": Lasting(pit.pump.battery, 1e9) if pit.pump.battery else None},
                   elements=(f"nodes.{pit.node}.outlet.pump.battery",))  # fmt: skip


def pipe_up(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """In the pipe up water is quick enough to carry grit, and not so quick that it hammers."""
    pit = _pit(outcome, found)
    if pit is None or not pit.discharge:
        return None
    area = np.pi * pit.pump.main_diameter**2 / 4
    speed, least, most = pit.discharge / area, outcome.rules.least_velocity_up, outcome.rules.most_velocity_up
    said = partial(Finding, source="cp", piece=pit.node, value=speed, kind=k.VELOCITY, station=0.0, elements=(f"nodes.{pit.node}.outlet.pump.main_diameter",))
    if speed > most:
        return said(State.TIGHT, "quick", limit=most)
    return said(State.HOLDS if speed >= least else State.TIGHT, "slow" if speed < least else "", limit=least, at_most=False)


def comes_back(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """What it lifts does not come back to it; and nothing runs back down its pipe, or freezes in it."""
    pit = _pit(outcome, found)
    if pit is None:
        return None
    said = partial(Finding, source="geometry cp", piece=pit.node, station=0.0, elements=(f"nodes.{pit.node}.outlet.pump.leads",))
    if pit.comes_back:
        return said(State.FAILS, "round")
    lacks = [name for name, is_there in (("valve", pit.pump.check_valve), ("frost", pit.pump.freeze_relief or bool(pit.pump.leads))) if not is_there]
    return said(State.TIGHT if lacks else State.HOLDS, "lacks" if lacks else "", facts={"valve": "valve" in lacks, "frost": "frost" in lacks, "away": not pit.pump.leads})


RUN = {"pump": lifts, "pump-starts": starts, "pump-floats": floats, "pump-power": without_power, "pump-pipe": pipe_up, "pump-way": comes_back}
