"""From a job to the section that the simulator takes."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
import shapely

from weirant.design.across import (
    EDGE,
    FARTHEST,
    HARD,
    LEAST_GROUND,
    LEAST_LAYER,
    GroundSample,
    edges_at,
    section_at,
    stand_at,
    stone_of,
)
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.layout import move_thing_corner
from weirant.design.pedotransfer import predicted, shares_of
from weirant.design.simulation import Wish, simulated
from weirant.design.storms import DESIGN, storm_named
from weirant.errors import InputError
from weirant.ground.network import laid_run
from weirant.job.paths import with_value
from weirant.job.site import Feature, Spot
from weirant.job.situations import with_place
from weirant.library import shipped
from weirant.seepage.grid import ROUGH
from weirant.words.findings import worded

JOB = demo_job()


def section(job=JOB, **more):
    return section_at(assess(job), **more)


@pytest.mark.parametrize(("source", "upper", "lower", "runs_on"), [("hillside", True, False, True), ("one side", True, False, False), ("both sides", True, True, False),
                                                                   ("parallel lines", False, False, False)])  # fmt: skip
def test_where_the_water_comes_from_sets_the_ends(source, upper, lower, runs_on):
    found = section(with_value(JOB, "runs.r1.source", source))
    assert (found.upper_table is not None, found.lower_table is not None, found.runs_on) == (upper, lower, runs_on)
    assert found.slope == (0.07 if source == "hillside" else 0.0)
    if source == "parallel lines":
        assert found.upslope == found.downslope == JOB.runs[0].stretches[1].situation.reach / 2


def test_the_trench_is_the_jobs_own():
    found, trench, pipe = section(), JOB.sections[0], shipped().pipe(JOB.runs[0].stretches[0].pipe)
    cut = found.cut
    assert cut.width == trench.width and cut.pipe.diameter == pipe.outer_diameter and cut.depth - cut.pipe.depth == pytest.approx(trench.bedding)
    assert cut.pipe.depth - pipe.outer_diameter - cut.stone_top == pytest.approx(trench.stone_cover) and cut.wrap == shipped().geotextile(JOB.sections[0].geotextile).permittivity
    assert section(with_value(JOB, "sections.s1.top", "open stone")).cut.stone_top == 0.0
    sock = section(with_value(JOB, "sections.s1.wrap", "sock")).cut
    assert sock.wrap is None and sock.pipe.sock is not None
    assert section(drained=False).cut is None and section(station=5.0).cut.pipe is None  # solid pipe takes nothing in


def test_the_place_keeps_rain_off_by_its_kind():
    slab, wall, lawn = (section(with_value(JOB, "features.t10.kind", kind)).covers for kind in ("slab", "wall", "lawn"))
    assert [c.depth for c in slab] == [pytest.approx(12 * 0.0254), 0.0] and len(wall) == 1 and lawn == ()
    assert slab[0].start == pytest.approx(9 * 0.3048, abs=1e-6) and slab[1].end - slab[0].start == pytest.approx(34 * 0.3048, abs=1e-5)
    assert stand_at(assess(JOB), None).place_across(section()) == pytest.approx(9 * 0.3048 - 0.05, abs=1e-6)


def test_a_place_that_the_drain_goes_through_is_judged_at_its_far_edge_and_one_that_is_none_not_at_all():
    """Moved on the plan until the drain lies 1 m inside its near edge: no slab is stood on the trench, and the farthest edge counts."""
    under = moved(JOB, -(9 * 0.3048 + 1.0))
    outcome = assess(under)
    lie, stand = outcome.run("r1").part.lie, stand_at(outcome, None)
    assert (lie.distance, lie.judged) == (0.0, lie.farthest) and section(under).covers == ()
    assert stand.place_across(section(under)) == pytest.approx(34 * 0.3048 - 1.0 - 0.05, abs=1e-5)
    with pytest.raises(InputError, match="keeps no place dry here"):
        _ = stand_at(outcome, None, "r3").place


def test_a_place_all_round_the_drain_is_judged_at_its_farthest_corner():
    """No edge of it crosses the drain; water stands highest where it is farthest off."""
    (west, south), (east, north) = (f(laid_run(JOB, "r1").alignment.points, axis=0) + by for f, by in ((np.min, -2.0), (np.max, 2.0)))
    lawn = Feature("t20", "lawn", "all round", tuple(Spot(float(x), float(y)) for x, y in ((west, south), (east, south), (east, north), (west, north))))
    outcome = assess(with_value(with_place(dataclasses.replace(JOB, features=(*JOB.features, lawn)), "r1", "t20"), "runs.r1.source", "both sides"))
    lie = outcome.run("r1").part.lie
    collecting = shapely.linestrings([laid_run(JOB, "r1").alignment.point(s) for s in (78 * 0.3048, 172 * 0.3048)])
    assert lie.distance == 0.0 and lie.judged == pytest.approx(float(np.max(shapely.distance(shapely.points([(p.x, p.y) for p in lawn.points]), collecting))))
    finding = next(f for f in outcome.findings if (f.code, f.place) == ("table", "t20"))
    assert "told is its farthest corner" in worded(finding, outcome.job).reason
    assert stand_at(outcome, None, "r1").place_across(section(outcome.job, run="r1")) == pytest.approx(min(lie.farthest, FARTHEST) - EDGE)


def moved(job, by):
    """The demo's slab moved square to its drain, m away from it."""
    a, b = (next((n.x, n.y) for n in job.nodes if n.id == name) for name in ("n2", "n3"))
    size = math.dist(a, b)
    out = (-(b[1] - a[1]) / size * by, (b[0] - a[0]) / size * by)
    slab = next(f for f in job.features if f.id == "t10")
    shifted = dataclasses.replace(slab, points=tuple(Spot(p.x + out[0], p.y + out[1]) for p in slab.points))
    return dataclasses.replace(job, features=tuple(shifted if f is slab else f for f in job.features))


def test_stone_with_fines_lets_far_less_through_and_none_more_than_is_believed():
    clean, dirty = (stone_of(shipped().aggregate(key)).conductivity for key in ("no-57", "crusher-run"))
    assert clean == 0.1 and dirty < clean / 100


def test_a_sample_changes_what_is_not_known():
    usual, sampled = section(), section(ground=GroundSample(2.0, 0.5, 1.2))
    assert sampled.strata[0].medium.conductivity == pytest.approx(2 * usual.strata[0].medium.conductivity) and sampled.depth == 1.2
    spread = [m.saturated - m.residual for m in (usual.strata[0].medium, sampled.strata[0].medium)]
    assert spread[1] == pytest.approx(spread[0] / 2)
    sideways = section(with_value(JOB, "soils.g1.sideways", 5.0)).strata[0].medium
    assert sideways.conductivity * sideways.sideways == pytest.approx(usual.strata[0].medium.conductivity)


def test_the_lowest_layer_takes_the_curve_of_its_own_grains():
    """Rosetta 3 for the demo's sieve result; without the fine end of it the texture's curve (Carsel and Parrish 1988)."""
    own = section().strata[1].medium
    assert (own.residual, own.saturated, own.alpha, own.shape) == pytest.approx(predicted(shares_of(JOB.soils[0].layers[-1].gradation)).curve)
    bare = section(with_value(JOB, "soils.g1.layers.1.gradation", JOB.soils[0].layers[-1].gradation[:3])).strata[1].medium
    assert (bare.residual, bare.saturated, bare.alpha, bare.shape) == shipped().texture("silt-loam").curve


def test_every_run_can_be_looked_at():
    outcome, wish = assess(with_place(JOB, "r3", "t2")), Wish(storm_named(JOB, DESIGN), 15.0, 6.0, fineness=ROUGH, run="r3")
    found = simulated(outcome, wish)
    assert section_at(outcome, 15.0, run="r3").cut.depth == pytest.approx(outcome.run("r3").grade.at(outcome.run("r3").grade.cut, 15.0)) and found.course.balance_error < 1e-5


@pytest.mark.parametrize("drained", [True, False])
@pytest.mark.parametrize("hard", [0.001, LEAST_LAYER, LEAST_LAYER + 0.001, LEAST_GROUND - 0.01, LEAST_GROUND])
def test_ground_that_is_hard_from_the_top_is_all_of_the_hard_layer(hard, drained):
    found = section(with_value(JOB, "soils.g1.hard_layer_depth", hard), drained=drained)
    assert sum(stratum.thickness for stratum in found.strata) >= found.depth - 1e-9 and found.depth >= LEAST_GROUND
    assert (found.strata[0].medium.name == HARD) == (hard <= LEAST_LAYER) and 0 < found.upper_table < found.depth


def test_what_is_missing_is_told():
    with pytest.raises(InputError, match="type the rod readings first"):
        section(dataclasses.replace(JOB, survey=dataclasses.replace(JOB.survey, shots=()), points=()))
    with pytest.raises(InputError, match="lies at the surface"):
        section(station=0.0)
    assert section(with_value(JOB, "soils.g1.hard_layer_depth", None)).depth > 3.0


def test_the_edges_of_a_place_askew_are_those_at_the_station():
    """Square to the run, cut by shapely; past the place it counts as it lies at all."""
    slab = next(f for f in JOB.features if f.id == "t10")
    askew = move_thing_corner("t10", 0)(JOB, (slab.points[0].x + 0.5, slab.points[0].y - 3.0))
    found = assess(askew).run("r1")
    outline = shapely.polygons([(p.x, p.y) for p in next(f for f in askew.features if f.id == "t10").points])
    run, part = found.run.alignment, found.part
    seen = []
    for station in np.linspace(part.lie.low + 0.5, part.lie.high - 0.5, 5):
        (x, y), bearing = run.point(station), run.bearing(station)
        square = [shapely.linestrings([(x, y), (x - side * 40 * np.sin(bearing), y + side * 40 * np.cos(bearing))]) for side in (-1, 1)]
        (cut,) = [c for line in square if not (c := shapely.intersection(line, outline)).is_empty]
        wanted = sorted(float(np.hypot(a - x, b - y)) for a, b in shapely.get_coordinates(cut))
        assert edges_at(found, part, station) == pytest.approx(wanted, abs=1e-6)
        seen.append(wanted[0])
    assert max(seen) > min(seen) + 1.0 and edges_at(found, part, run.length + 30.0)[0] == part.lie.distance
