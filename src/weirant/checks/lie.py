"""Lie: outlets that lie on another run, and runs that were drawn against the fall of the ground."""

from __future__ import annotations

from weirant.checks.judge import can_be
from weirant.ground.joining import join
from weirant.ground.network import AT_END
from weirant.ground.turning import turned_round
from weirant.outcome.commands import do
from weirant.outcome.facts import Amount, Named
from weirant.outcome.finding import Finding, Fix, State
from weirant.outcome.outcome import Outcome
from weirant.outcome.site import RunOutcome
from weirant.units import display as k


def outlet_on_run(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """No outlet lies on another run: water does not get out there, it would have to be joined."""
    run, within = found.run, outcome.rules.outlet_on_run
    if run.outlet is None:
        return None
    here, nearest = run.alignment.point(0.0), None
    if outcome.site.network.others_at(run, run.nodes[0][0].id):
        return None  # it is joined there
    for other in outcome.site.network.runs:
        if other is run or not other.may_be_near(here, within) or run.id == other.run.trench_of or run.run.trench_of == other.id:
            continue
        station, away = other.alignment.nearest(here)
        if away <= within and AT_END < station < other.length - AT_END and (nearest is None or away < nearest[0]):
            nearest = away, station, other
    if nearest is None:
        return None
    away, station, other = nearest
    edit = do(join, identity=run.id, other=other.id, station=station)
    fixes = (Fix("join-here", edit, {"other": Named(other.id)}),) if can_be(edit, outcome.job) else ()
    return Finding(State.FAILS, source="geometry", facts={"other": Named(other.id), "at": Amount(station, k.STATION)}, value=away, limit=within, kind=k.DISTANCE,
                   at_most=False, station=0.0, piece=run.nodes[0][0].id, fixes=fixes, elements=(f"runs.{run.id}.nodes",))  # fmt: skip


def against_fall(outcome: Outcome, found: RunOutcome) -> Finding | None:
    """The ground falls towards the low end of a run, or it may have been drawn from its high end."""
    grade, run, limit = found.grade, found.run, outcome.rules.against_fall
    if grade is None or outcome.site.network.drains_to(run):
        return None
    rises = float(grade.ground[0] - grade.ground[-1])
    if rises <= limit:
        return None
    edit = do(turned_round, identity=run.id)
    fixes = (Fix("turn-round", edit),) if can_be(edit, outcome.job) else ()
    return Finding(State.TIGHT, source="cp", value=rises, limit=limit, kind=k.DEPTH, fixes=fixes, elements=(f"runs.{run.id}.nodes",))


RUN = {"outlet-on-run": outlet_on_run, "against-fall": against_fall}
