"""Where a run comes to daylight on the surface, shots by tape and angle, and what an odd reading does to the rest."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely

from laying import laid
from weirant.errors import InputError
from weirant.ground.as_built import built_profile, regrades
from weirant.ground.daylight_places import Land, daylight_places
from weirant.ground.flat_plan import FlatPlan
from weirant.ground.places import place_text, point_of, read_place
from weirant.ground.surface import build_surface
from weirant.job.network import AsBuilt, GradeBreak
from weirant.job.survey import Place, Survey
from weirant.units.display import System

FT = 0.3048
RUN = laid(10.0, 0.01, 5.0, 40.0, breaks=(GradeBreak(20.0, 0.02),))


def hill():
    """Level 20 on top of a ridge along x, falling 5 % to the north and 3 % to the south."""
    x, y = np.meshgrid(np.arange(-60, 61, 4.0), np.arange(-80, 81, 4.0))
    return build_surface(np.c_[x.ravel(), y.ravel()], (20 - np.where(y > 0, 0.05 * y, -0.03 * y)).ravel())


def test_daylight_by_hand():
    """1 m deep, laid at 1 %: out after 1 / (0.05 − 0.01) = 25 m to the north, 1 / (0.03 − 0.01) = 50 m to the south."""
    north, south = daylight_places(hill(), (0.0, 0.0), 19.0, 0.01, 0.3, 0.1, Land(None))
    assert (north.length, south.length) == pytest.approx((25.0, 50.0))
    assert north.at == pytest.approx((0.0, 25.0), abs=1e-6) and north.level == pytest.approx(18.75)
    assert north.dig == pytest.approx(0.3 * (25 * 0.5 + 25 * 0.1), rel=1e-3)


def test_daylight_stays_on_the_land_and_off_the_house():
    garden = shapely.box(-50, -70, 50, 20)
    (south,) = daylight_places(hill(), (0.0, 0.0), 19.0, 0.01, 0.3, 0.1, Land(garden))
    assert south.at[1] < 0
    house = shapely.box(-3, -20, 3, -10)
    around = daylight_places(hill(), (0.0, 0.0), 19.0, 0.01, 0.3, 0.1, Land(garden, (house,)))
    assert around and all(abs(p.at[0]) > 5 for p in around)


@pytest.mark.parametrize(("start", "level", "slope", "says"), [
    ((0.0, 0.0), 19.0, 0.0, "slope must be more than 0"), ((500.0, 0.0), 19.0, 0.01, "outside the surveyed ground"),
    ((0.0, 0.0), 21.0, 0.01, "out of the ground already")])  # fmt: skip
def test_daylight_refuses(start, level, slope, says):
    with pytest.raises(InputError, match=says):
        daylight_places(hill(), start, level, slope, 0.3, 0.1, Land(None))


@pytest.mark.parametrize(("text", "place", "at"), [
    ("30, -12", Place("plan", 30 * FT, -12 * FT), (30 * FT, -12 * FT)),
    ("tape 40 left 12", Place("tape", 40 * FT, 12 * FT), (100 - 12 * FT, 200 + 40 * FT)),
    ("tape 40 right 12", Place("tape", 40 * FT, -12 * FT), (100 + 12 * FT, 200 + 40 * FT)),
    ("angle 90 at 60", Place("angle", 90.0, 60 * FT), (50 + 60 * FT * math.sin(math.radians(120)), 60 + 60 * FT * math.cos(math.radians(120)))),
])  # fmt: skip
def test_places_as_they_are_typed(text, place, at):
    """Tape due north from 100, 200; the instrument's zero looks 30° east of north from 50, 60."""
    survey = Survey(tape_x=100, tape_y=200, stand_x=50, stand_y=60, zero_bearing=30)
    found = read_place(text, System.IMPERIAL)
    assert (found.how, found.first, found.second) == (place.how, pytest.approx(place.first), pytest.approx(place.second))
    assert point_of(found, survey) == pytest.approx(at)
    assert read_place(place_text(found, System.IMPERIAL), System.IMPERIAL).second == pytest.approx(found.second)


@pytest.mark.parametrize("text", ["over there", "40", "tape 40 up 3", "angle x at 3", "1, 2, 3"])
def test_places_that_cannot_be_understood(text):
    with pytest.raises(InputError):
        read_place(text, System.METRIC)


def test_readings_beside_the_grade_line():
    built = (AsBuilt("a", 10.0, 10.104), AsBuilt("a", 30.0, 10.45), AsBuilt("b", 10.0, 99.0))
    profile = built_profile(RUN, built, 0.006)
    assert [(r.off, r.within) for r in profile.readings] == [(pytest.approx(0.004), True), (pytest.approx(0.05), False)]
    assert profile.stations.tolist() == [0, 10, 20, 30, 40] and profile.slopes[2] == pytest.approx(0.025)
    assert built_profile(RUN, (AsBuilt("a", 10.0, 9.99),), 0.006).slopes.min() < 0


def test_two_ways_on_from_a_rock():
    """3 in high at 20 m: keep the top and the slope above falls; or lift all above and it stays."""
    kept, lifted = regrades(RUN, 20.0, 10.2 + 0.0762, below=10.0)
    assert kept.slope_above == pytest.approx((10.6 - 10.2762) / 20) and kept.levels[-1] == pytest.approx(10.6)
    assert lifted.slope_above == pytest.approx(0.02) and lifted.levels[-1] == pytest.approx(10.6762)
    assert kept.slope_below == lifted.slope_below == pytest.approx((10.2762 - 10.1) / 10)
    outlet = regrades(RUN, 0.0, 10.05)
    assert [w.stations[0] for w in outlet] == [0.0, 0.0] and outlet[1].slope_above == outlet[1].slope_below == pytest.approx(0.01)
    (end,) = regrades(RUN, 40.0, 10.65)
    assert end.name == "kept as built"


def test_degrees_on_a_flat_plan():
    """A minute of latitude is a nautical mile, 1852 m; near 45° it is 1852.2 m on this ellipsoid (Bowditch, recalled)."""
    plan = FlatPlan(10.0, 45.0)
    assert plan.place(10.0, 45 + 1 / 60)[1] == pytest.approx(1852.2, abs=0.2)
    assert plan.position(*plan.place(10.001, 45.001)) == pytest.approx((10.001, 45.001))
