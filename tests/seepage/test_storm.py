"""What a section does in a storm: balance, the drain's late start, covers, open stone, times read off."""

from __future__ import annotations

import dataclasses
from pathlib import Path

import numpy as np
import pytest

from weirant.errors import InputError
from weirant.seepage.flow import Means, at_rest, settle
from weirant.seepage.grid import Fineness
from weirant.seepage.medium import Medium, stone
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import Rain, staircase
from weirant.seepage.section import Cover, Cut, Opening, Section, Stratum
from weirant.seepage.storm import courses, simulate

LOAM = Medium("loam", 1e-5, 0.078, 0.43, 3.6, 1.56)
PIPE = Opening(0.12, 0.75, 0.01, 0.12, 0.02, 0.0013)
CUT = Cut(0.3, 0.80, 0.45, stone("washed stone", 0.05, 0.4), LOAM, PIPE)
SECTION = Section(6.0, 6.0, 1.5, 0.0, (Stratum(LOAM, 1.5),), CUT)
STORM, DAY = Rain((0.0, 6 * 3600.0), (0.05 / 21600, 0.0)), 86400.0
COARSE = Fineness(0.06, 0.8, 0.25)


@pytest.fixture(scope="module")
def course():
    return simulate(lay_out(SECTION), STORM, 3 * DAY, start_table=0.8)


def test_balance_is_kept(course):
    assert course.balance_error < 1e-5
    assert course.total("rain") == pytest.approx(0.05 * 12.0)
    assert course.total("rain") == pytest.approx(course.total("taken_in") + course.total("ran_off"), rel=1e-6)


def test_plants_and_air_use_what_they_can_and_no_more(course):
    """As much as the rate after the rain, while there is water in reach; nothing under what is covered; the balance is kept."""
    rate = 5e-3 / DAY
    used = simulate(lay_out(SECTION), STORM, 3 * DAY, start_table=0.8, means=Means(drying=rate))
    assert used.total("used") == pytest.approx(rate * 2.75 * DAY * 12.0, rel=0.02) and used.balance_error < 1e-5  # it begins as the rain ends
    assert used.total("pipe") < course.total("pipe") and used.depth_at(3.0)[-1] > course.depth_at(3.0)[-1] + 0.01
    half = simulate(lay_out(dataclasses.replace(SECTION, covers=(Cover(1.0, 6.0),))), STORM, 3 * DAY, start_table=0.8, means=Means(drying=rate))
    assert half.total("used") == pytest.approx(rate * 2.75 * DAY * 7.0, rel=0.02)
    dry = simulate(lay_out(dataclasses.replace(SECTION, cut=None)), Rain((0.0, 60.0), (0.0, 0.0)), 90 * DAY, start_table=1.5, means=Means(drying=2e-2 / DAY))
    assert 0 < dry.total("used") < 0.4 * 2e-2 * 90 * 12.0 and dry.balance_error < 1e-5 and dry.frames[-1].head.min() > -12


def test_the_drain_starts_late_and_from_below(course):
    """A drain gives nothing until the ground is saturated to its level (common practice, no source)."""
    assert course.starts_at is not None and course.starts_at > 1800
    first = np.searchsorted(course.times, course.starts_at)
    assert course.frames[max(first - 2, 0)].table[np.argmin(np.abs(course.laid.x))] >= 0.70


def test_deeper_water_before_means_a_later_start(course):
    later = simulate(lay_out(SECTION), STORM, DAY, start_table=1.4)
    assert later.starts_at is None or later.starts_at > course.starts_at


def test_time_until_dry_is_between_the_states_around_it(course):
    place, depth = 3.0, 0.5
    dry = course.dry_after(place, depth)
    assert dry is not None and course.depth_at(place)[course.times > dry].min() >= depth - 1e-6
    assert course.dry_after(place, 2.0) is None and course.dry_after(place, 0.0) == 0.0


def test_halving_the_cells_changes_the_volume_under_5_per_cent(course):
    finer = simulate(lay_out(SECTION, Fineness().times(0.5)), STORM, 3 * DAY, start_table=0.8)
    assert finer.total("pipe") == pytest.approx(course.total("pipe"), rel=0.05)


def test_rain_on_open_stone_is_told_apart_and_starts_the_drain_at_once(course):
    opened = simulate(lay_out(dataclasses.replace(SECTION, cut=dataclasses.replace(CUT, stone_top=0.0))), STORM, DAY, start_table=0.8)
    assert opened.total("on_stone") >= 0.3 * 0.05 and course.total("on_stone") == 0
    assert opened.starts_at is not None and opened.starts_at < course.starts_at


def test_no_more_runs_on_to_open_stone_than_rains_and_the_steady_state_is_one():
    """In clay under a trench open to the ground: what runs on in a step comes from that step, not from a longer one before."""
    clay = Medium("clay", 5e-8, 0.068, 0.38, 0.8, 1.2, entry=-0.02)
    laid = lay_out(dataclasses.replace(SECTION, slope=0.05, strata=(Stratum(clay, 1.5),), cut=dataclasses.replace(CUT, stone_top=0.0, fill=clay)), COARSE)
    rains = float(laid.rain_width.sum()) * 4e-6
    storm = simulate(laid, Rain((0.0, 21600.0, 22320.0, 43200.0), (2e-6, 4e-6, 1e-6, 0.0)), DAY, start_table=0.3)
    assert 0.3 * rains < max(step.on_stone for step in storm.steps) <= rains and storm.balance_error < 1e-6
    ends = [settle(laid, at_rest(laid, start), 1e-6) for start in (0.02, 1.2)]
    assert ends[0].pipe == pytest.approx(ends[1].pipe, rel=1e-6) and ends[0].pipe > 0.3 * 1e-6 * 12


def test_a_long_steady_time_leaves_no_flood_behind():
    """Rain faster than the soil, with an open trench below: what runs over the ground counts for its own step only."""
    laid = lay_out(dataclasses.replace(SECTION, slope=0.05, cut=dataclasses.replace(CUT, stone_top=0.0)), COARSE)
    state = at_rest(laid, 0.8)
    assert settle(laid, state, 5e-5).on_stone > 0.3 * 5e-5 and state.overland == 0.0
    after = simulate(laid, Rain((0.0,), (0.0,)), 3600.0, state)
    assert after.total("on_stone") < 1e-6 and after.balance_error < 1e-5


def test_a_steady_state_goes_on_as_it_is():
    """What the pipe takes before is what it takes in the first, short steps: nothing is left over from the long ones."""
    laid = lay_out(dataclasses.replace(SECTION, upper_table=0.3), COARSE)
    state = at_rest(laid, 0.3)
    steady = settle(laid, state, 1e-8)
    after = simulate(laid, Rain((0.0,), (1e-8,)), 6 * 3600.0, state)
    assert after.pipe_before == pytest.approx(steady.pipe, rel=1e-6) and after.ran_before and after.starts_at is None
    assert after.pipe == pytest.approx(steady.pipe, rel=1e-3) and after.steps[0].length <= 60
    assert after.stored_after == pytest.approx(after.stored_before, rel=1e-6)


def test_a_slab_keeps_rain_off_and_a_wall_keeps_water_back():
    slab = dataclasses.replace(SECTION, covers=(Cover(2.0, 6.0),))
    assert simulate(lay_out(slab, COARSE), STORM, DAY, start_table=0.8).total("rain") == pytest.approx(0.05 * 8.0)
    shut = lay_out(dataclasses.replace(SECTION, cut=None, covers=(Cover(2.0, 2.5, 1.5),), upper_table=0.2, lower_table=1.4), COARSE)
    state = at_rest(shut, 0.8)
    assert settle(shut, state, 0.0).ends_in == pytest.approx(0.0, abs=1e-12)


def test_a_wrap_that_blinds_holds_the_water_up():
    """Permittivity stands in series with soil and stone: a clean fabric is not felt, a blinded one is."""
    def steady(wrap: float | None) -> float:
        laid = lay_out(dataclasses.replace(SECTION, cut=dataclasses.replace(CUT, wrap=wrap), upper_table=0.1, lower_table=0.1), COARSE)
        return settle(laid, at_rest(laid, 0.4), 0.0).pipe

    assert steady(1.0) == pytest.approx(steady(None), rel=1e-3)
    assert steady(1e-6) < 0.5 * steady(None)


def test_a_course_can_be_left_at_any_time():
    laid = lay_out(SECTION, COARSE)
    for course in courses(laid, STORM, 3 * DAY, at_rest(laid, 0.8)):
        if course.steps[-1].time > 3600:
            break
    assert 3600 < course.reached < DAY and course.frames and not course.is_whole
    assert course.total("taken_in") > 0 and course.balance_error < 1e-3  # what Newton left over in the last step is told


@pytest.mark.parametrize("seed", range(2001, 2013))
def test_random_sections_hold_their_balance(seed, monkeypatch):
    """A handful of what tools/sweep_sections.py runs by the thousand."""
    monkeypatch.syspath_prepend(str(Path(__file__).parents[2] / "tools"))
    from sweep_sections import LIMIT, one

    _, error, _, fault = one(seed)
    assert not fault and error <= LIMIT


@pytest.mark.parametrize(("make", "words"), [
    (lambda: Medium("loam", 0.0, 0.1, 0.4, 3.0, 1.5), "conductivity of loam must be more than 0"),
    (lambda: Medium("loam", 1e-6, 0.5, 0.4, 3.0, 1.5), "residual of loam must be from 0"),
    (lambda: dataclasses.replace(SECTION, slope=0.9), "slope of the section must be between 0 and 60 %"),
    (lambda: dataclasses.replace(SECTION, depth=0.5), "trench must end above the hard layer"),
    (lambda: Rain((0.0, 0.0), (1.0, 2.0)), "its times must grow"),
    (lambda: Rain((0.0,), (float("nan"),)), "must be numbers of 0 or more"),
])  # fmt: skip
def test_what_cannot_be_is_told(make, words):
    with pytest.raises(InputError, match=words):
        make()


def test_a_staircase_of_rain_keeps_its_depth():
    rain = staircase([0.01, 0.02, 0.005], 600.0, 1e-8)
    assert rain.depth == pytest.approx(0.035) and rain.until(900.0) == pytest.approx(0.02) and rain.until(3600.0) == pytest.approx(0.035 + 1800e-8)
    assert rain.rate(700.0) == pytest.approx(0.02 / 600) and rain.next_break(600.0) == 1200.0
