"""Triangles, contours and ponds, against SciPy's triangulation, planes and bowls whose volume is known."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from scipy.spatial import Delaunay

from weirant.design.assess import assess
from weirant.design.from_plan import offers, plan_areas
from weirant.errors import InputError
from weirant.ground.surface import build_surface
from weirant.ground.surface.blunders import spikes
from weirant.ground.surface.contours import contour_levels, contours
from weirant.ground.surface.ponding import low_spots
from weirant.ground.surface.upslope import area_draining_to

CHANCE = np.random.default_rng(7)
SCATTER = CHANCE.uniform(0, 60, (400, 2))


def bowl(count=9000, radius=10.0, deep=0.5):
    """A paraboloid in a rim that falls away outside; volume to the rim π r² h / 2."""
    r, turn = np.sqrt(CHANCE.uniform(0, 1, count)) * 1.3 * radius, CHANCE.uniform(0, 2 * math.pi, count)
    ring = np.linspace(0, 2 * math.pi, 1200, endpoint=False)
    places = np.r_[np.c_[r * np.cos(turn), r * np.sin(turn)], radius * np.c_[np.cos(ring), np.sin(ring)]]
    away = np.hypot(*places.T)
    return build_surface(places, np.where(away <= radius + 1e-9, deep * (away / radius) ** 2, deep - 0.03 * (away - radius)))


def test_triangles_are_those_of_scipy():
    surface = build_surface(SCATTER, SCATTER[:, 0])
    theirs = {tuple(sorted(t)) for t in Delaunay(surface.corners).simplices.tolist()}
    assert {tuple(sorted(t)) for t in surface.triangles.tolist()} == theirs


def test_a_plane_comes_out_as_it_went_in():
    """Levels, fall and contours of z = 5 + 0.03 x − 0.02 y."""
    surface = build_surface(SCATTER, 5 + 0.03 * SCATTER[:, 0] - 0.02 * SCATTER[:, 1])
    places = CHANCE.uniform(15, 45, (50, 2))
    levels, inside = surface.at(places)
    assert inside.all() and levels == pytest.approx(5 + 0.03 * places[:, 0] - 0.02 * places[:, 1])
    assert surface.planes[0] == pytest.approx(np.tile([0.03, -0.02], (len(surface.triangles), 1)), abs=1e-9)
    assert surface.at(np.array([[-900.0, 0.0]]))[1].tolist() == [False]
    for line in contours(surface, contour_levels(surface, 0.25)):
        assert 5 + 0.03 * line.points[:, 0] - 0.02 * line.points[:, 1] == pytest.approx(np.full(len(line.points), line.level))
        assert not line.closed
    assert low_spots(surface) == [] and len(spikes(surface)) == 0


def test_ponding_of_a_bowl():
    """Analytic: volume π r² h / 2, area π r²; every drop that falls into the bowl feeds it."""
    (spot,) = low_spots(bowl())
    assert spot.volume == pytest.approx(math.pi * 100 * 0.5 / 2, rel=0.005)
    assert spot.area == pytest.approx(math.pi * 100, rel=0.005)
    assert spot.depth == pytest.approx(0.5, abs=0.002) and spot.catchment == pytest.approx(math.pi * 100, rel=0.03)
    assert math.hypot(*spot.lowest) < 0.5 and math.hypot(*spot.spill) == pytest.approx(10, abs=0.3)
    (edge,) = spot.outline
    assert np.hypot(*edge.T).max() <= 10.01


def test_two_hollows_spill_one_into_the_other_or_off():
    """A V-shaped valley with two sills: each pond stands to its own sill, as a long profile by hand shows."""
    x, y = np.meshgrid(np.arange(0, 31.0), np.arange(-5, 6.0))
    bed = np.interp(x, [0, 8, 12, 20, 24, 30], [3.0, 2.0, 2.4, 1.0, 1.7, 0.5])
    first, second = low_spots(build_surface(np.c_[x.ravel(), y.ravel()], (bed + 0.3 * np.abs(y)).ravel()))
    assert (first.level, first.bottom, second.level, second.bottom) == pytest.approx((1.7, 1.0, 2.4, 2.0))
    assert second.spill[0] == pytest.approx(12, abs=1.1)


@pytest.mark.parametrize(("places", "levels", "says"), [
    ([[0, 0], [1, 1]], [1, 2], "at least three shots"),
    ([[0, 0], [1, 1], [2, 2], [3, 3]], [1, 2, 3, 4], "shots on one line"),
    ([[0, 0], [0, 0], [1e-5, 0], [5, 0]], [1, 2, 3, 4], "at least three shots"),
    ([[0, 0], [1, 0], [math.nan, 1]], [1, 2, 3], "shot 3 must have finite coordinates"),
    ([[0, 0], [1, 0], [2e5, 1]], [1, 2, 3], "within 100 km"),
    ([[0, 0], [1, 0], [0, 1]], [1, math.inf, 3], "shot 2"),
])  # fmt: skip
def test_shots_that_make_no_ground(places, levels, says):
    with pytest.raises(InputError, match=says):
        build_surface(np.array(places, dtype=float), np.array(levels, dtype=float))


def test_twice_shot_places_are_averaged_and_spikes_found():
    places = np.array([[x, y] for x in range(6) for y in range(6)] + [[2, 2]], dtype=float)
    levels = np.full(37, 10.0)
    levels[36] = 10.2
    surface = build_surface(places, levels)
    assert surface.merged == 1 and surface.at(np.array([[2.0, 2.0]]))[0][0] == pytest.approx(10.1)
    levels[14] = levels[36] = 13.0
    surface = build_surface(places, levels)
    assert surface.corners[spikes(surface)].tolist() == [[2.0, 2.0]]


@pytest.mark.parametrize(("line", "area"), [(((2.0, 10.0), (18.0, 10.0)), 16.0 * 20.0), (((2.0, 20.0), (18.0, 20.0)), 16.0 * 10.0), (((0.0, 0.5), (20.0, 0.5)), 20.0 * 29.5)])
def test_ground_draining_to_a_line_across_an_even_slope(line, area):
    """On a plane that falls south the area is that of the strip north of the line, within about half a cell all round."""
    x, y = np.meshgrid(np.linspace(0, 20, 9), np.linspace(0, 30, 9))
    places = np.column_stack((x.ravel(), y.ravel()))
    surface = build_surface(places, 10 + 0.05 * places[:, 1])
    found = area_draining_to(surface, np.array(line))
    assert found == pytest.approx(area, abs=0.75 * (line[1][0] - line[0][0] + area / (line[1][0] - line[0][0])) * 1.2)


@pytest.mark.parametrize("fall", [0.002, 0.005, 0.01, 0.03])
def test_twenty_millimetres_of_noise_do_not_keep_the_water_of_flat_ground(fall):
    """A line along the foot of 1,600 m², shots 2.5 m apart, each off by 20 mm or so: within 5 % of what lies above; along the top next to nothing."""
    for seed in range(3):
        chance = np.random.default_rng(seed)
        places = np.r_[chance.uniform(0, 40, (250, 2)), [[0, 0], [40, 0], [0, 40], [40, 40]]]
        surface = build_surface(places, 10 + fall * places[:, 1] + 0.02 * chance.standard_normal(len(places)))
        assert area_draining_to(surface, np.array([[0.0, 0.4], [40.0, 0.4]])) == pytest.approx(1600, rel=0.05)
        assert fall < 0.005 or area_draining_to(surface, np.array([[0.0, 39.6], [40.0, 39.6]])) < 0.05 * 1600


def test_areas_are_offered_from_the_plan_where_they_differ(job):
    outcome = assess(job)
    areas = plan_areas(outcome, "r1")
    assert areas.upslope is not None and 200 < areas.upslope < 2000 and areas.paving > 40
    names = [name for name, _ in offers(outcome, "r1")]
    assert len(names) == 1 and names[0].startswith("Take the contributing area from the plan")
    taken = offers(outcome, "r1")[0][1]
    assert taken.runs[0].contributing_area == pytest.approx(areas.upslope, abs=0.1) and offers(assess(taken), "r1") == []
    assert plan_areas(assess(dataclasses.replace(job, points=())), "r1").upslope is None
