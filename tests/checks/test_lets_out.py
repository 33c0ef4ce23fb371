"""Where water runs on that was let out over the ground: it is followed by the shots, not guessed."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from laying import one, reason_of
from weirant.design import runs_on
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.session import Session
from weirant.ground.surface.descent import trail
from weirant.job.network import INLET, LAWN, POP_UP, Node, Outlet, Run, Stretch
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.survey import Survey

DEMO = demo_job()
PLANE = lambda x, y: 30 + 0.02 * y  # noqa: E731


def thing(kind, low, high, dry=None):
    return Feature("t1", kind, "the thing", tuple(Spot(x, y) for x, y in ((-30.0, low), (30.0, low), (30.0, high), (-30.0, high))), dry_depth=dry)


def site(*features, level=PLANE, inlet=(12.0, 52.0), kind=POP_UP, own=True, water=None, reverse=1.0, shot_from=0):
    """Ground that falls to the south; a run that lets out at (0, 40), with an inlet at its top, or that inlet on another run that lets out beside a brook."""
    grid = [(float(x), float(y)) for x in range(-40, 41, 4) for y in range(shot_from, 65, 2)]
    points = tuple(SitePoint(f"p{i}", reverse * x, y, level(x, y)) for i, (x, y) in enumerate(grid))
    top = Node("n3", *inlet, kind=INLET)
    nodes = [Node("n1", 0.0, 40.0, outlet=Outlet(kind, water)), Node("n2", 0.0, 55.0), top, Node("n4", 30.0, 2.0, outlet=Outlet("open pipe", 29.0))]
    solid = (Stretch(is_solid=True),)
    runs = (Run("r1", "line", ("n1", "n2", *(["n3"] if own else [])), 29.8, 0.01, solid), Run("r2", "other", ("n4", *([] if own else ["n3"]), *(["n5"] if own else [])), 28.0, 0.01, solid))
    nodes += [Node("n5", 34.0, 10.0)] if own else []
    nodes = [dataclasses.replace(n, x=reverse * n.x) for n in nodes]
    return dataclasses.replace(DEMO, survey=Survey(), points=points, features=features, nodes=tuple(nodes), runs=runs, sources=(), holes=())


@pytest.mark.parametrize("mirrored", [1.0, -1.0])
@pytest.mark.parametrize(("made", "state", "case"), [
    ({}, "holds", ""), ({"inlet": (0.5, 20.0)}, "fails", "back"), ({"inlet": (0.5, 20.0), "own": False}, "holds", "taken"), ({"inlet": (5.0, 20.0)}, "holds", ""),
    ({"features": (thing("slab", 10.0, 20.0, 0.3),)}, "fails", "thing"), ({"features": (thing("slab", 10.0, 20.0),)}, "tight", "thing"),
    ({"features": (thing("slab", 45.0, 50.0, 0.3),)}, "holds", ""), ({"features": (thing("boundary", 8.0, 60.0),)}, "tight", "boundary"),
    ({"level": lambda x, y: 30 + 0.01 * abs(y - 20) + 0.03 * abs(x)}, "tight", "hollow"), ({"level": lambda x, y: 30 + 0.01 * min(abs(y - 20), 10) + 0.004 * abs(x)}, "holds", ""),
    ({"features": (thing("slab", 41.0, 50.0, 0.3),)}, "holds", ""), ({"features": (thing("slab", 30.0, 39.0, 0.3),)}, "fails", "thing"),  # beside what it runs away from, or to
    ({"features": (thing("boundary", 41.0, 60.0),)}, "holds", ""), ({"features": (thing("boundary", 39.0, 60.0),)}, "tight", "boundary"),
    ({"shot_from": 38}, "unknown", "edge"), ({"shot_from": 34}, "holds", ""),
    ({"water": 30.0}, "", ""), ({"features": (Feature("t1", "brook", "brook", (Spot(-30.0, 39.0), Spot(30.0, 39.0))),)}, "", ""), ({"kind": "curb core"}, "", ""),
])  # fmt: skip
def test_water_that_is_let_out_is_followed_to_where_it_does_harm(made, state, case, mirrored):
    made = dict(made)
    outcome = assess(site(*made.pop("features", ()), reverse=mirrored, **made))
    found = [f for f in outcome.findings if f.code == "runs-on" and f.subject == "r1"]
    assert [(str(f.state), f.case) for f in found] == ([(state, case)] if state else [])


def test_a_lawn_is_told_how_much_of_it_soaks_the_water_away_and_a_neighbour_is_named():
    job = dataclasses.replace(site(thing("boundary", 8.0, 60.0), kind=LAWN), sources=(dataclasses.replace(DEMO.sources[0], node="n3", area=100.0),))
    outcome = assess(job)
    found, best = one(outcome, "runs-on", "r1"), outcome.job.soils[0].layers[0].conductivity.best
    assert found.facts["area"].value == pytest.approx(outcome.site.exits["n1"].discharge / best) and found.caution == "neighbour"
    assert "of this lawn to soak away" in reason_of(outcome, "runs-on", "r1") and "over the boundary" in reason_of(outcome, "runs-on", "r1")


def test_what_does_not_move_the_outlet_or_the_ground_does_not_follow_the_water_again(monkeypatch):
    followed = []
    monkeypatch.setattr(runs_on, "trail", lambda *given: followed.append(1) or trail(*given))
    session, job = Session(), site(thing("slab", 10.0, 20.0, 0.3))
    assess(job, session=session)
    for invert in np.linspace(29.5, 29.9, 4).tolist():
        assess(dataclasses.replace(job, runs=(dataclasses.replace(job.runs[0], invert=invert), job.runs[1])), session=session)
    assert len(followed) == 1
    assess(dataclasses.replace(job, nodes=(dataclasses.replace(job.nodes[0], y=41.0), *job.nodes[1:])), session=session)
    assert len(followed) == 2
