"""What must not matter: how the plan is held, which units are used, which side the place lies on, in which order things were entered."""

from __future__ import annotations

import dataclasses
import math
import sys
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.diagnosis import diagnose
from weirant.design.ensemble import factors_of, samples_of
from weirant.design.from_plan import plan_areas
from weirant.design.hand_methods import hand_methods
from weirant.design.holes import verdicts
from weirant.design.place_drain import PLACED, placed, wet_areas
from weirant.design.storms import DESIGN, storm_named
from weirant.ground.network import run_called
from weirant.job.paths import with_value
from weirant.job.site import Spot
from weirant.words.findings import worded

sys.path.append(str(Path(__file__).parents[2] / "tools"))
import invariance_sweep

JOB = demo_job()
OUTCOME = assess(JOB)


def turned(job, quarters):
    """The same site seen by somebody who holds the plan a quarter turned."""
    def point(x, y):
        for _ in range(quarters):
            x, y = -y, x
        return x, y

    def place(thing):
        x, y = point(thing.x, thing.y)
        return dataclasses.replace(thing, x=x, y=y)

    survey = dataclasses.replace(job.survey, shots=tuple(dataclasses.replace(s, place=place(s.place)) if s.place else s for s in job.survey.shots))
    return dataclasses.replace(
        job, survey=survey, nodes=tuple(map(place, job.nodes)), points=tuple(map(place, job.points)), holes=tuple(map(place, job.holes)),
        features=tuple(dataclasses.replace(f, points=tuple(map(place, f.points))) for f in job.features),
    )  # fmt: skip


def corners(outcome, name):
    return outcome.site.run(name).run.alignment.points


@pytest.mark.parametrize("quarters", [1, 2, 3])
@pytest.mark.parametrize("kind", sorted(PLACED))
def test_which_way_the_plan_is_held_makes_no_difference(kind, quarters):
    other = assess(turned(JOB, quarters))
    before, after = placed(OUTCOME, kind, wet_areas(JOB)[0]), placed(other, kind, wet_areas(other.job)[0])
    new = [r.id for r in before.runs[len(JOB.runs):]]
    assert [r.name for r in before.runs] == [r.name for r in after.runs]
    lines = []
    for outcome, turns in ((assess(before), quarters), (assess(after), 0)):
        found = np.array([corners(outcome, name)[[0, -1]] for name in new])
        for _ in range(turns):
            found = found[:, :, ::-1] * [-1, 1]
        lines.append(found[np.lexsort(np.round(found.reshape(len(found), -1)[:, :4], 1).T)])  # laterals may be counted from either side
    assert lines[1] == pytest.approx(lines[0], abs=0.02)


@pytest.mark.parametrize("quarters", [0, 1, 2, 3])
def test_a_grid_has_its_collector_on_the_lower_side_and_a_curtain_drain_lies_uphill(quarters):
    outcome = assess(turned(JOB, quarters))
    area, surface = wet_areas(outcome.job)[0], outcome.site.surface
    middle = np.mean([[p.x, p.y] for p in area.points], axis=0)

    def level(points):
        return float(np.mean(surface.at(np.asarray(points))[0]))

    grid = assess(placed(outcome, "flat", area))
    laterals = [r.id for r in grid.job.runs if r.name.startswith("lateral")]
    far = [corners(grid, name)[-1] for name in laterals]
    assert laterals and level(corners(grid, run_called(grid.job, "grid collector").id)) < level(far)
    curtain, footing = (corners(assess(placed(outcome, kind, area)), "r5") for kind in ("sideways", "footing"))
    assert level(curtain) > level([middle]) and np.hypot(*(curtain.mean(axis=0) - middle)) > np.hypot(*(footing.mean(axis=0) - middle))


def same(one, other):
    """Findings alike in state, value, limit and place."""
    assert [f.code for f in one.findings] == [f.code for f in other.findings]
    for a, b in zip(one.findings, other.findings, strict=True):
        assert (a.state, a.station is None) == (b.state, b.station is None), a.code
        for x, y in ((a.value, b.value), (a.limit, b.limit), (a.station, b.station)):
            assert (x is None) == (y is None) and (x is None or x == pytest.approx(y, rel=1e-6, abs=1e-6)), a.code


@pytest.mark.parametrize("quarters", [1, 2, 3])
def test_the_whole_verdict_is_the_same_however_the_plan_is_held(quarters):
    other = assess(turned(JOB, quarters))
    same(OUTCOME, other)
    assert [r.value for r in other.takeoff.rows()] == pytest.approx([r.value for r in OUTCOME.takeoff.rows()])
    here, there = plan_areas(OUTCOME, "r1"), plan_areas(other, "r1")
    assert (there.roofs, there.paving) == pytest.approx((here.roofs, here.paving)) and there.upslope == pytest.approx(here.upslope, rel=0.05)


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10**6))
def test_on_jobs_drawn_by_chance_nothing_turns_round(seed):
    """Deeper is never wetter, more recharge and rain never drier, tighter soil never drier, a wider range never surer; units and a mirror change nothing."""
    assert invariance_sweep.broken(seed) == []


def test_units_change_words_and_nothing_else():
    metric = assess(with_value(JOB, "units", "metric"))
    same(OUTCOME, metric)
    for a, b in zip(hand_methods(OUTCOME), hand_methods(metric), strict=True):
        assert a.figure.value == b.figure.value and a.outside.split(" ")[0] == b.outside.split(" ")[0]
    assert [r.share for r in diagnose(metric).ranked] == [r.share for r in diagnose(OUTCOME).ranked]
    assert [v.band for v in verdicts(metric.job, metric.job.soils[0])] == [v.band for v in verdicts(JOB, JOB.soils[0])]
    assert {worded(f, metric.job).reason for f in metric.findings} != {worded(f, OUTCOME.job).reason for f in OUTCOME.findings}
    storm = storm_named(JOB, DESIGN)
    one, two = (samples_of(o, storm, factors_of(o, 4)) for o in (OUTCOME, metric))
    assert one == two


def test_left_or_right_is_the_same_to_the_water():
    """The slab on the other side of its drain, and of everything else as far off as it was."""
    lie, run = OUTCOME.run("r1").part.lie, OUTCOME.run("r1").run
    (x, y), (x1, y1) = (run.alignment.point(s) for s in (24.0, 50.0))
    east, north = (x1 - x) / math.dist((x, y), (x1, y1)), (y1 - y) / math.dist((x, y), (x1, y1))
    offs = [2 * ((p.x - x) * -north + (p.y - y) * east) for p in lie.place.points]
    other = dataclasses.replace(lie.place, points=tuple(Spot(p.x + off * north, p.y - off * east) for p, off in zip(lie.place.points, offs, strict=True)))
    bare = dataclasses.replace(JOB, features=(lie.place,))
    there = assess(dataclasses.replace(bare, features=(other,)))
    assert there.run("r1").part.lie.on_left is False
    kept = [[(f.code, f.state, f.value and pytest.approx(f.value, rel=1e-6)) for f in o.findings if f.subject == "r1" and f.code != "footing"] for o in (assess(bare), there)]
    assert kept[0] == kept[1]


def test_the_order_of_shots_points_and_holes_is_the_same_to_the_ground():
    back = dataclasses.replace(JOB, points=JOB.points[::-1], features=JOB.features[::-1], holes=JOB.holes[::-1])
    other = assess(back)
    assert {(f.code, f.subject): f.state for f in other.findings} == {(f.code, f.subject): f.state for f in OUTCOME.findings}
    assert other.takeoff.dug.value == pytest.approx(OUTCOME.takeoff.dug.value, rel=1e-6)
    assert [v.band for v in verdicts(back, back.soils[0])] == [v.band for v in verdicts(JOB, JOB.soils[0])]
