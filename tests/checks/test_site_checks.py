"""Checks of every run and of what stands round them: each turned both ways by the one thing it is about."""

from __future__ import annotations

import dataclasses

import pytest

from weirant.design.assess import assess
from weirant.design.layout import add_thing
from weirant.job.line import Line
from weirant.job.network import AsBuilt, Branch
from weirant.job.site import SitePoint
from weirant.outcome.finding import State

FT = 0.3048
F, T, U, H = State.FAILS, State.TIGHT, State.UNKNOWN, State.HOLDS


def with_line(job, index, **changes):
    branches = list(job.branches)
    branches[index] = dataclasses.replace(branches[index], line=dataclasses.replace(branches[index].line, **changes))
    return dataclasses.replace(job, branches=tuple(branches))


def with_limit(job, **changes):
    return dataclasses.replace(job, limits=dataclasses.replace(job.limits, **changes))


def with_feature(job, name, **changes):
    return dataclasses.replace(job, features=tuple(dataclasses.replace(f, **changes) if f.name == name else f for f in job.features))


def beside(job, kind, **changes):
    """A thing 0.5 m from the green drain's collecting run."""
    job = add_thing(job, kind, [(12.0, 2.0), (12.0, 2.55), (15.0, 2.55)])
    return dataclasses.replace(job, features=(*job.features[:-1], dataclasses.replace(job.features[-1], **changes)))


ACROSS = Branch("across", Line(29.05, 0.01, 0.0, 12.0), x=-6.0, y=10.0, bearing=0.0)
CASES = [
    ("layout", lambda j: dataclasses.replace(j, branches=(dataclasses.replace(j.branches[2], joins="nowhere"),)), F, "joins nowhere"),
    ("layout", lambda j: dataclasses.replace(j, branches=(dataclasses.replace(j.branches[0], y=-9.0),)), U, "of the run roof line lie beyond the shots"),
    ("points", lambda j: dataclasses.replace(j, points=(*j.points, SitePoint("slip", -20.0, 20.0, 40.0))), T, "slip stand far off"),
    ("unread", lambda j: dataclasses.replace(j, unread=("a.csv, line 3: x",)), T, "1 lines of files could not be used"),
    ("run-slopes", lambda j: with_line(j, 0, slope=0.002), F, "solid pipe of the run roof line: 0.20 %"),
    ("run-daylight", lambda j: with_line(j, 1, outlet_invert=28.2), F, "is still"),
    ("run-cover", lambda j: with_line(j, 2, slope=0.05), F, "over the run green side"),
    ("depth", lambda j: with_limit(j, most_depth=0.7), F, "Deepest is"),
    ("joints", lambda j: with_line(j, 2, outlet_invert=28.5), F, "under the invert it joins"),
    ("joints", lambda j: with_limit(j, drop_at_joints=0.005), F, "largest drop"),
    ("crossings", lambda j: with_feature(j, "gas line", depth=0.55), F, "cuts into gas line"),
    ("crossings", lambda j: with_feature(j, "gas line", depth=None), U, "The depth of gas line"),
    ("lines-located", lambda j: with_feature(j, "gas line", is_located=False), U, "gas line is not marked yet"),
    ("lines-located", lambda j: with_feature(j, "sprinkler main", is_located=True), None, ""),
    ("boundary", lambda j: with_line(j, 0, length=80.0, solid_length=80.0), F, "leaves the owner's land"),
    ("runs-apart", lambda j: dataclasses.replace(j, branches=(*j.branches, ACROSS)), F, "crosses the main line at station 19.7 ft without a joint"),
    ("site-footings", lambda j: beside(j, "building"), U, "footing depth is not known"),
    ("site-footings", lambda j: beside(j, "building", footing_depth=0.02), F, "inside the 45° line"),
    ("site-footings", lambda j: beside(j, "wall", footing_depth=1.5), H, "outside the 45° line"),
    ("roots", lambda j: with_feature(j, "the old beech", root_radius=12.0), T, "passes the roots of the old beech"),
    ("as-built", lambda j: dataclasses.replace(j, as_built=(AsBuilt("main", 20.0, 28.9),)), F, "runs backwards"),
    ("as-built", lambda j: dataclasses.replace(j, as_built=(AsBuilt("main", 20.0, 28.97124 + 0.012 * 20 + 0.02),)), F, "largest departure"),
    ("as-built", lambda j: dataclasses.replace(j, as_built=(AsBuilt("main", 20.0, 28.97124 + 0.012 * 20),)), H, "largest departure"),
]  # fmt: skip


@pytest.mark.parametrize(("key", "change", "state", "says"), CASES, ids=[f"{c[0]}-{i}" for i, c in enumerate(CASES)])
def test_each_check_turns_on_what_it_is_about(job, key, change, state, says):
    found = {f.key: f for f in assess(change(job)).findings}
    if state is None:
        assert key not in found
        return
    assert found[key].state == state and says in found[key].reason, found[key].reason
    was = {f.key: f.state for f in assess(job).findings}
    assert was.get(key) != state or state in (U, H)


def test_runs_in_a_circle_leave_the_main_line_its_verdict(job):
    circle = dataclasses.replace(job, branches=(dataclasses.replace(job.branches[1], joins="green side"), job.branches[2]))
    found = {f.key: f for f in assess(circle).findings}
    assert "runs in a circle" in found["layout"].reason and found["layout"].state == F
    assert found["outlet-level"].state == F and found["table"].state == H and "ground" not in found


def test_a_site_without_branches_or_things_says_nothing_of_them(job):
    bare = dataclasses.replace(job, branches=(), features=(), points=())
    keys = {f.key for f in assess(bare).findings}
    assert not keys & {"joints", "run-cover", "run-daylight", "crossings", "boundary", "roots", "site-footings", "as-built", "lines-located"}
