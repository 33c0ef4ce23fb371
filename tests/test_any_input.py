"""Whatever is put in: answered, or refused in words; never a crash, never a NaN."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laying import laid
from weirant.errors import InputError, WeirantError
from weirant.formats.geojson import read_geojson
from weirant.formats.landxml import read_landxml
from weirant.formats.points_csv import read_points, recognise
from weirant.ground.alignment import alignment_of
from weirant.ground.grade.best import best_grade
from weirant.ground.grade.demands import Aim, NetworkDemand, RunDemand
from weirant.ground.inverts import grade_nodes, with_inverts
from weirant.ground.places import read_place
from weirant.ground.surface import build_surface
from weirant.ground.surface.contours import contour_levels, contours
from weirant.ground.surface.ponding import low_spots
from weirant.instruments.messages import read_message
from weirant.units.display import System
from weirant.units.staff import read_staff, staff_text

SOME = settings(max_examples=150, deadline=None)
FEW = settings(max_examples=40, deadline=None)


@SOME
@given(st.binary(max_size=400) | st.text(max_size=400).map(lambda t: t.encode("utf-8", "replace")))
def test_any_bytes_as_points(data):
    for read in (lambda d: read_points(d, recognise(d).layout), read_landxml, read_geojson):
        try:
            found = read(data)
        except WeirantError as fault:
            assert str(fault) and "Traceback" not in str(fault)
            continue
        assert all(math.isfinite(v) for p in found.points for v in (p.x, p.y, p.level)) and all(r.why for r in found.refused)


@SOME
@given(st.lists(st.tuples(*[st.floats(allow_nan=True, allow_infinity=True)] * 3), min_size=1, max_size=12), st.sampled_from([",", ";", "\t", " "]))
def test_any_numbers_as_points(rows, mark):
    data = "\n".join(mark.join(map(repr, row)) for row in rows).encode()
    found = read_points(data, recognise(data).layout)
    assert len(found.points) + len(found.refused) == len(rows)  # every line is either used or told


@SOME
@given(st.text(max_size=60) | st.text("$GPGA,*0123456789.NEWS", max_size=60))
def test_any_line_from_an_instrument(text):
    try:
        message = read_message(text)
    except InputError as fault:
        assert str(fault)
    else:
        assert message is None


@SOME
@given(st.text(max_size=30) | st.text("0123456789 '\"/.,tapeleftrightangle", max_size=30))
def test_any_text_as_a_reading_or_a_place(text):
    for read in (lambda t: read_staff(t, "feet and inches"), lambda t: read_place(t, System.IMPERIAL).first):
        try:
            assert math.isfinite(read(text))
        except InputError as fault:
            assert str(fault)


@SOME
@given(st.floats(0, 9), st.sampled_from(["feet and inches", "decimal feet", "metres"]))
def test_a_reading_shown_and_read_again_is_the_same_to_the_finest_mark(value, staff):
    finest = {"feet and inches": 0.0254 / 32, "decimal feet": 0.003048 / 2, "metres": 0.0005}[staff]
    assert read_staff(staff_text(value, staff), staff) == pytest.approx(value, abs=finest * 1.01)


CORNERS = st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=2, max_size=8)


@SOME
@given(CORNERS)
def test_any_corners_make_one_run_and_come_back(corners):
    try:
        lie = alignment_of(corners)
    except InputError:
        return
    assert (np.diff(lie.stations) >= 1e-3).all() and lie.point(lie.length) == pytest.approx(corners[-1], abs=2e-3 * len(corners))
    assert all(math.dist(lie.point(float(s)), tuple(p)) < 1e-9 for s, p in zip(lie.stations, lie.points, strict=True))


@SOME
@given(st.lists(st.floats(1e-3, 0.4), min_size=1, max_size=6), st.lists(st.floats(0.5, 20), min_size=6, max_size=6))
def test_any_falling_line_keeps_its_levels(slopes, lengths):
    stations = np.concatenate([[0.0], np.cumsum(lengths[: len(slopes)])])
    levels = 10 + np.concatenate([[0.0], np.cumsum(np.array(slopes) * np.diff(stations))])
    run = laid(1.0, 0.01, 0.0, float(stations[-1]))
    graded = dataclasses.replace(run, run=with_inverts(run, stations, levels))
    assert np.interp(stations, *grade_nodes(graded)) == pytest.approx(levels, abs=1e-4)


@FEW
@given(st.integers(0, 10_000), st.integers(12, 120), st.floats(0.0, 3.0))
def test_any_ground_ponds_within_its_bounds(seed, count, rough):
    chance = np.random.default_rng(seed)
    places = chance.uniform(0, 50, (count, 2))
    surface = build_surface(places, 20 + 0.02 * places[:, 0] + rough * chance.uniform(-1, 1, count))
    whole = float(surface.planes[1].sum())
    for spot in low_spots(surface):
        assert spot.bottom < spot.level <= surface.levels.max() and 0 < spot.area <= whole * (1 + 1e-9)
        assert 0 < spot.volume <= spot.area * spot.depth * (1 + 1e-9) and 0 < spot.catchment <= whole * (1 + 1e-9)
        assert all(np.isfinite(line).all() for line in spot.outline)
    lines = contours(surface, contour_levels(surface, 0.25))
    assert all(np.isfinite(line.points).all() and len(line.points) > 1 for line in lines)


@FEW
@given(st.integers(0, 10_000), st.floats(0.001, 0.03), st.floats(0.0, 0.5), st.sampled_from(list(Aim)))
def test_any_best_grade_keeps_every_demand_or_says_what_could_give_way(seed, least, cover, aim):
    chance = np.random.default_rng(seed)
    stations = np.linspace(0, 60, 31)
    ground = 20 + 0.015 * stations + chance.uniform(-0.25, 0.25, 31)
    nodes = np.linspace(0, 60, 5)
    run = RunDemand("a", stations, ground, nodes, np.full(4, least), 0.15, 0.11, 0.06, 0.005, 0.3, cover, stations > 6, 2.0,
                    np.full(31, np.inf), stations > 6, outlet_least=float(ground[0]))  # fmt: skip
    found = best_grade(NetworkDemand((run,), 0.15), aim)
    if not found.is_feasible:
        assert found.gives and all(amount > 0 for give in found.gives for _, amount in give.amounts)
        return
    levels = found.levels["a"][1]
    slopes, z = np.diff(levels) / np.diff(nodes), np.interp(stations, nodes, levels)
    assert slopes.min() >= least - 1e-6 and slopes.max() <= 0.15 + 1e-6 and levels[0] >= ground[0] - 1e-6
    assert (z[run.covered] <= (ground - 0.11 - cover)[run.covered] + 1e-6).all() and (ground + 0.06 - z).max() <= 2.0 + 1e-6
    assert math.isfinite(found.dig) and found.dig >= -1e-9
