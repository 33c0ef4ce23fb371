"""Iron, lime and frost: what is asked, what is told, at both sides of where it begins to matter."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from laying import one, reason_of
from weirant.checks.aging import left_standing
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.effects import tried
from weirant.design.patterns import pattern
from weirant.job.network import Soakaway
from weirant.job.paths import with_value
from weirant.library import shipped
from weirant.methods.pipe_flow import pipe_full_flow, silted_share

DEMO, UPHILL = demo_job(), pattern("uphill").job()


def exposed(job, **facts):
    return dataclasses.replace(job, exposure=dataclasses.replace(job.exposure, **facts))


def told(job, code, subject="r1"):
    return [f for f in assess(job).findings if f.code == code and f.subject == subject]


def test_iron_is_asked_of_where_water_rests_in_openings_and_told_with_what_makes_it_worse():
    """Of the outlet that rises nobody has looked; of the demo, where the brook stands in solid pipe alone, nothing is asked."""
    assert [str(f.state) for f in told(UPHILL, "slime")] == ["unknown"] and told(DEMO, "slime") == []
    assert str(told(exposed(UPHILL, iron=False), "slime")[0].state) == "holds"
    rusty = assess(exposed(DEMO, iron=True))
    assert one(rusty, "slime", "r1").state == "tight" and "take wider ones" in reason_of(rusty, "slime", "r1") and "standing" not in reason_of(rusty, "slime", "r1")
    fixed = assess(tried(one(rusty, "slime", "r1").fixes[0], rusty.job, shipped()))
    assert "take wider ones" not in reason_of(fixed, "slime", "r1")
    socked = assess(with_value(exposed(DEMO, iron=True), "sections.s1.wrap", "sock"))
    assert one(socked, "slime", "r1").state == "fails" and "leave it off" in reason_of(socked, "slime", "r1")
    assert not [f for f in rusty.findings if f.code == "slime" and f.subject == "r2"]  # solid pipe has no openings
    assert "feeds it" in reason_of(assess(exposed(UPHILL, iron=True)), "slime", "r1")


@pytest.mark.parametrize(("given", "state"), [(None, None), (False, "holds"), (True, "tight")])
def test_lime_is_told_where_it_was_looked_at(given, state):
    assert [str(f.state) for f in told(exposed(DEMO, lime=given), "lime")] == ([state] if state else [])


@pytest.mark.parametrize(("off", "state"), [(-1e-4, "holds"), (1e-4, "tight")])
def test_frost_reaches_what_rests_or_does_not(off, state):
    """Both sides of the depth at which water rests in the pipe with the outlet that rises; a drain that empties does not freeze, whatever the depth."""
    rests = left_standing(assess(UPHILL), assess(UPHILL).run("r1"))
    found = told(exposed(UPHILL, frost_depth=rests.depth + off), "frost")[0]
    assert found.state == state and found.value == pytest.approx(rests.depth)
    assert told(UPHILL, "frost") == []
    dry = with_value(exposed(DEMO, frost_depth=3.0), "nodes.n1.outlet.water_level", None)
    assert told(dry, "frost")[0].state == "holds" and told(dry, "frost")[0].case == "drains"


def test_what_soaks_away_under_a_riser_is_not_left_standing():
    node = next(r for r in UPHILL.runs if r.id == "r1").nodes[0]
    soaks = with_value(UPHILL, f"nodes.{node}.outlet.soaks", Soakaway(percolation=1e-5, area=0.5, depth=0.3))
    assert left_standing(assess(UPHILL), assess(UPHILL).run("r1")) is not None and left_standing(assess(soaks), assess(soaks).run("r1")) is None


def test_water_rests_up_to_its_level_and_in_level_pipe():
    outcome = assess(DEMO)
    found = outcome.run("r1")
    rests, level = left_standing(outcome, found), found.run.outlet.water_level
    assert (rests.low, rests.high) == (0.0, pytest.approx(np.interp(level, found.grade.invert, found.grade.stations), abs=2.0))
    flat = assess(with_value(with_value(DEMO, "nodes.n1.outlet.water_level", None), "runs.r1.slope", 0.0))
    lies = left_standing(flat, flat.run("r1"))
    assert (lies.low, lies.high) == (0.0, pytest.approx(flat.run("r1").run.length))
    assert left_standing(assess(dataclasses.replace(DEMO, points=(), survey=dataclasses.replace(DEMO.survey, shots=()))), outcome.run("r3")) is None


@pytest.mark.parametrize(("filled", "state"), [(0.249, "holds"), (0.251, "tight"), (0.666, "tight"), (0.668, "fails"), (3.0, "fails"), (0.0, None)])
def test_sediment_in_an_old_pipe_is_told_by_how_much_it_fills_and_it_carries_the_rest(filled, state):
    """A pipe that is shut can be worked out as well; half full it carries 0.36 of what it carries clean, whatever its roughness."""
    job = with_value(with_value(DEMO, "runs.r3.status", "existing"), "runs.r3.sediment", filled * 0.102)
    found = assess(job).run("r3")
    told_ = told(job, "sediment", "r3")
    assert [str(f.state) for f in told_] == ([state] if state else []) and not told(with_value(job, "runs.r3.status", "planned"), "sediment", "r3")
    pipe, clean = found.collecting.make.pipe, shipped().pipe("corrugated-100")
    full = [pipe_full_flow(p.inner_diameter, p.roughness_n, 0.01).discharge for p in (pipe, clean)]
    assert full[0] == pytest.approx(max(silted_share(filled), 1e-3) * full[1], rel=1e-9) and pipe.wall == pytest.approx(clean.wall)
    assert silted_share(0.5) == pytest.approx(0.361, abs=1e-3)
