"""From rod readings to ground, grade line, daylight and cut sheet."""

from __future__ import annotations

import numpy as np
import pytest

from laying import laid, made
from weirant.design.assess import assess
from weirant.ground.cut_sheet import cut_sheet
from weirant.ground.grade_line import lay
from weirant.ground.levels import Ground, reduce_book
from weirant.job.paths import with_value
from weirant.job.survey import Shot, Survey
from weirant.units.display import System

FT = 0.3048


def line_of(invert):
    """The grade line of a run 50 m long, 10 m of it solid, at 1 %."""
    run = laid(invert, 0.01, 10, 50)
    return lay(GROUND, run, made(run, stone=0.32))


def book(*shots, **changes):
    return reduce_book(Survey(tuple(shots), benchmark_elevation=30.0, staff_length=4.0, **changes), System.IMPERIAL)


def test_the_demo_book_closes(outcome):
    assert outcome.book.misclosure == pytest.approx(-0.01 * FT)
    assert outcome.book.grounds["r1"].at(172 * FT) == pytest.approx(99.54 * FT, abs=0.002)
    assert outcome.book.grounds["r1"].at(0.0) == pytest.approx(94.577 * FT, abs=0.002)


@pytest.mark.parametrize(
    ("shot", "says", "left_out"),
    [
        (
            Shot("G", 10.0, None, 4.5),
            "rod reading 14.76 ft is longer than your 13.12 ft staff. Check the reading",
            True,
        ),
        (Shot("G", 10.0, None, None, "5.1o"), 'the entry "5.1o" is not a reading', True),
        (Shot("G", 10.0, None, None), "there is no rod reading", True),
        (Shot("G", 10.0, None, 3.9), "more than 3.28 ft off its neighbours", False),
    ],
)
def test_blunders_are_marked_and_kept(shot, says, left_out):
    found = book(Shot("BM", None, 1.5, None), Shot("A", 0.0, None, 1.0), shot, Shot("B", 20.0, None, 1.2))
    assert len(found.shots) == 4 and found.shots[2].shot == shot
    assert says in found.shots[2].mark and found.shots[2].left_out is left_out
    assert (10.0 in found.grounds[""].stations) is not left_out


def test_each_run_has_the_ground_booked_along_it():
    """A spike is looked for among the shots of one run only."""
    first, second = ([Shot(f"{run}{s}", s, None, 1.0 + off, run=run) for s in (0.0, 5.0, 10.0)] for run, off in (("r1", 0.0), ("r2", 1.6)))
    found = book(Shot("BM", None, 2.5, None), *(shot for pair in zip(first, second, strict=True) for shot in pair))
    assert not found.marked and set(found.grounds) == {"r1", "r2"}
    assert found.grounds["r1"].at(5.0) - found.grounds["r2"].at(5.0) == pytest.approx(1.6)


def test_a_broken_turning_point_takes_what_follows_with_it():
    found = book(
        Shot("BM", None, 1.5, None), Shot("A", 0.0, None, 1.0), Shot("TP", None, 1.0, 9.0), Shot("B", 5.0, None, 1.0)
    )
    assert [s.elevation is None for s in found.shots] == [False, False, True, True]
    assert found.grounds == {}


@pytest.mark.parametrize(
    "shots", [(), (Shot("A", 0.0, None, 1.0),), (Shot("BM", None, 1.5, None), Shot("A", 0.0, None, 1.0))]
)
def test_too_little_to_know_the_ground(shots):
    assert book(*shots).grounds == {}


def test_the_later_of_two_shots_at_one_station_counts():
    found = book(
        Shot("BM", None, 1.5, None), Shot("A", 0.0, None, 1.0), Shot("B", 5.0, None, 1.0), Shot("B", 5.0, None, 1.1)
    )
    assert found.grounds[""].at(5.0) == pytest.approx(30.4)


GROUND = Ground(np.array([0.0, 10.0, 50.0]), np.array([9.0, 10.5, 11.0]))


def test_the_line_keeps_one_grade_and_meets_the_ground_once():
    line = line_of(9.3)
    assert np.allclose(np.diff(line.invert) / np.diff(line.stations), 0.01)
    assert line.daylight == pytest.approx(0.3 / (0.15 - 0.01))
    assert line.at(line.ground - line.invert, line.daylight) == pytest.approx(0, abs=1e-9)
    assert line.at(line.cut, 50.0) == pytest.approx(11.0 - 9.8 + 0.06)
    assert line.at(line.cover, 50.0) == pytest.approx(11.0 - 9.8 - 0.11)


@pytest.mark.parametrize(("outlet", "daylight"), [(8.0, None), (9.0, 0.0), (12.0, 50.0)])
def test_daylight_or_none(outlet, daylight):
    found = line_of(outlet).daylight
    assert found == (None if daylight is None else pytest.approx(daylight))


def test_daylight_agrees_with_the_named_calculation():
    from weirant.methods.levelling import daylight

    by_hand = daylight(10.5, 0.15, 9.3 + 0.1, 0.01)
    assert 10.0 - by_hand.distance == pytest.approx(line_of(9.3).daylight)


def test_the_cut_sheet_reads_like_the_staff():
    line = line_of(9.3)
    lines = cut_sheet(line, 20.0, 12.0, {10.0: "solid ends", 99.0: "beyond"})
    assert [row.station for row in lines] == [0, 10, 20, 40, 50]
    assert [row.note for row in lines] == ["", "solid ends", "", "", ""]
    for row in lines:
        assert row.rod == pytest.approx(12.0 - row.trench_bottom)
        assert row.cut == pytest.approx(row.ground - row.trench_bottom)


def test_a_line_past_the_last_shot_says_how_far(job):
    assert assess(with_value(job, "runs.r1.length", 60.0)).run("r1").grade.beyond_survey == pytest.approx(60.0 - 172 * FT)
