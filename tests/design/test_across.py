"""From a job to the section that the simulator takes."""

from __future__ import annotations

import dataclasses

import pytest

from weirant.design.across import Ground, section_at, stone_of
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.pedotransfer import predicted, shares_of
from weirant.design.simulation import Wish, place_across, simulated
from weirant.design.storms import DESIGN, storm_named
from weirant.errors import InputError
from weirant.job.paths import with_value
from weirant.library import shipped
from weirant.seepage.grid import ROUGH

JOB = demo_job()


def section(job=JOB, **more):
    return section_at(assess(job), **more)


@pytest.mark.parametrize(("source", "upper", "lower", "runs_on"), [("hillside", True, False, True), ("one side", False, True, False), ("both sides", True, True, False),
                                                                   ("parallel lines", False, False, False)])  # fmt: skip
def test_where_the_water_comes_from_sets_the_ends(source, upper, lower, runs_on):
    found = section(with_value(JOB, "water.source", source))
    assert (found.upper_table is not None, found.lower_table is not None, found.runs_on) == (upper, lower, runs_on)
    assert found.slope == (0.07 if source == "hillside" else 0.0)
    if source == "parallel lines":
        assert found.upslope == found.downslope == JOB.water.reach / 2


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
    slab, wall, lawn = (section(with_value(JOB, "protected.kind", kind)).covers for kind in ("slab edge", "wall", "lawn"))
    assert [c.depth for c in slab] == [JOB.protected.footing_depth, 0.0] and len(wall) == 1 and lawn == ()
    assert slab[0].start == JOB.protected.distance and place_across(assess(JOB), section()) == pytest.approx(JOB.protected.distance - 0.05)


def test_stone_with_fines_lets_far_less_through_and_none_more_than_is_believed():
    clean, dirty = (stone_of(shipped().aggregate(key)).conductivity for key in ("no-57", "crusher-run"))
    assert clean == 0.1 and dirty < clean / 100


def test_a_sample_changes_what_is_not_known():
    usual, sampled = section(), section(ground=Ground(2.0, 0.5, 1.2))
    assert sampled.strata[0].medium.conductivity == pytest.approx(2 * usual.strata[0].medium.conductivity) and sampled.depth == 1.2
    spread = [m.saturated - m.residual for m in (usual.strata[0].medium, sampled.strata[0].medium)]
    assert spread[1] == pytest.approx(spread[0] / 2)
    sideways = section(with_value(JOB, "soil.sideways", 5.0)).strata[0].medium
    assert sideways.conductivity * sideways.sideways == pytest.approx(usual.strata[0].medium.conductivity)


def test_the_lowest_layer_takes_the_curve_of_its_own_grains():
    """Rosetta 3 for the demo's sieve result; without the fine end of it the texture's curve (Carsel and Parrish 1988)."""
    own = section().strata[1].medium
    assert (own.residual, own.saturated, own.alpha, own.shape) == pytest.approx(predicted(shares_of(JOB.soil.gradation)).curve)
    bare = section(with_value(JOB, "soil.gradation", JOB.soil.gradation[:3])).strata[1].medium
    assert (bare.residual, bare.saturated, bare.alpha, bare.shape) == shipped().texture("silt-loam").curve


def test_every_run_can_be_looked_at():
    outcome, wish = assess(JOB), Wish(storm_named(JOB, DESIGN), 15.0, 6.0, fineness=ROUGH, run="r3")
    found = simulated(outcome, wish)
    assert section_at(outcome, 15.0, run="r3").cut.depth == pytest.approx(outcome.run("r3").grade.at(outcome.run("r3").grade.cut, 15.0)) and found.course.balance_error < 1e-5


def test_what_is_missing_is_told():
    with pytest.raises(InputError, match="type the rod readings first"):
        section(dataclasses.replace(JOB, survey=dataclasses.replace(JOB.survey, shots=()), points=()))
    with pytest.raises(InputError, match="lies at the surface"):
        section(station=0.0)
    assert section(with_value(JOB, "soil.hard_layer_depth", None)).depth > 3.0
