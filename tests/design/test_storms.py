"""Storms by shape, from a rainfall table and from files."""

from __future__ import annotations

import dataclasses
import json

import numpy as np
import pytest

from weirant.cli.main import main
from weirant.design.demo import demo_job
from weirant.design.hydrographs import runs_off
from weirant.design.storms import DESIGN, rain_of, rainfall_curve, storm_named, storms_of
from weirant.errors import InputError, JobFileError
from weirant.formats.rain_csv import read_rain
from weirant.formats.rain_days_csv import is_of_days, read_rain_days, write_rain_days
from weirant.formats.rainfall_csv import read_rainfall, write_rainfall
from weirant.instruments.rainfall_service import places, rain_days_at, rainfall_at
from weirant.job.rain import EVEN, OWN, PEAKED, TYPES, Storm
from weirant.methods.rain import rational_peak
from weirant.methods.storms import alternating_blocks, depth_in

JOB = demo_job()


@pytest.mark.parametrize("shape", [EVEN, PEAKED, *TYPES])
def test_every_shape_drops_the_storms_depth(shape):
    rain = rain_of(JOB, Storm("s", shape, 0.1, 86400.0))
    assert rain.until(86400.0) == pytest.approx(0.1, rel=1e-6) and rain.rates[-1] == JOB.water.drainage_rate


def test_type_two_has_its_peak_in_the_middle_of_the_day():
    """USDA TR-55 app. B: in a type II day the half hour round noon brings 38 % (recalled)."""
    rain = rain_of(JOB, Storm("s", "type II", 0.1, 86400.0))
    assert rain.until(12.0 * 3600) - rain.until(11.5 * 3600) == pytest.approx(0.038, rel=0.02)


def test_of_two_depths_for_one_duration_the_larger_counts():
    assert depth_in([300.0, 300.0, 3600.0], [0.02, 0.01, 0.03], 300.0) == pytest.approx(0.02) and depth_in([300.0, 300.0], [0.01, 0.02], 600.0) == 0.02


@pytest.mark.parametrize("shape", [EVEN, PEAKED, "type II"])
def test_what_runs_off_is_all_of_its_share_and_peaks_as_the_rational_method_says(shape):
    """Its peak is C i A for the hardest rain of the time of concentration; with even rain that lasts longer, for the rain itself."""
    rain = rain_of(JOB, Storm("s", shape, 0.1, 86400.0))
    found = runs_off(rain, 200.0, 0.9, 1800.0)
    hardest = max(rain.until(t + 1800.0) - rain.until(t) for t in np.arange(0.0, 86400.0, 60.0)) / 1800.0
    assert found.volumes[-1] == pytest.approx(0.9 * 200 * 0.1) and (np.diff(found.volumes) / np.diff(found.moments)).max() == pytest.approx(rational_peak(0.9, hardest, 200.0), rel=0.02)
    assert (np.diff(found.volumes) >= 0).all() and found.moments[-1] >= 86400.0 + 1800.0 and (shape != EVEN or hardest == pytest.approx(0.1 / 86400.0))


@pytest.mark.parametrize(("number", "inches", "wanted"), [(80, 5.0, 2.89), (75, 5.0, 2.45), (60, 1.2, 0.0), (100, 3.0, 3.0)])
def test_open_ground_sheds_what_its_curve_number_leaves(number, inches, wanted):
    """USDA TR-55 table 2-1: runoff depth by curve number and rain (recalled); nothing before a fifth of what the ground holds has fallen, and never less again."""
    rain = rain_of(JOB, Storm("s", "type II", inches * 0.0254, 86400.0))
    found = runs_off(rain, 100.0, 0.5, 600.0, number)
    assert found.volumes[-1] / 100 / 0.0254 == pytest.approx(wanted, abs=0.006) and (np.diff(found.volumes) >= -1e-12).all()
    begins = found.moments[np.argmax(found.volumes > 1e-9)] if wanted else 0
    assert not wanted or number == 100 or rain.until(float(begins)) == pytest.approx(0.2 * 0.0254 * (1000 / number - 10), rel=0.1)


def test_blocks_hold_the_tables_depth_for_every_length():
    """Chow, Maidment and Mays 1988 §14.4: the k largest blocks lie side by side and hold the depth for k steps."""
    durations, depths = rainfall_curve(JOB, Storm("s", PEAKED, 0.0406, 3600.0))
    blocks = np.array(alternating_blocks(durations, depths, 3600.0, 300.0))
    order = np.argsort(-blocks)
    for k in range(1, len(blocks) + 1):
        assert np.ptp(order[:k]) == k - 1 and blocks[order[:k]].sum() == pytest.approx(depth_in(durations, depths, k * 300.0))


def test_a_storm_is_asked_for_by_name():
    assert next(iter(storms_of(JOB))) == DESIGN
    with pytest.raises(InputError, match="storm is not one of design storm, ten-year day"):
        storm_named(JOB, "flood")


@pytest.mark.parametrize(("text", "depth", "steps"), [
    ("time_min,depth_mm\n15,2\n30,4\n45,1\n", 0.007, 3),
    ("hours\tin\n1\t0.1\n2\t0.2\n", 0.3 * 0.0254, 2),
    ("date time;rain mm\n2026-05-01T06:00;1,5\n2026-05-01T06:10;0,5\n2026-05-01T06:30;1\n", 0.003, 4),
])  # fmt: skip
def test_rain_is_read(text, depth, steps):
    storm = read_rain(text, "gauge")
    assert (storm.shape, len(storm.readings)) == (OWN, steps) and sum(storm.readings) == pytest.approx(depth) == storm.depth
    assert rain_of(JOB, storm).until(storm.duration) == pytest.approx(depth)


@pytest.mark.parametrize(("text", "words"), [
    ("", "holds no rain"), ("a,b\n1,2\n", "do not tell the units"), ("time_min,depth_mm\n15,x\n10,\n", "line 2: is not a time and a depth"),
    ("time_min,depth_mm\n15,1\n15,1\n", "line 3: its time is not later"), ("min,mm\n" + "".join(f"{i},0\n" for i in range(1, 5100)), "at most 5000"),
    ("min,mm\nnan,1\n", "line 2"), ("min,mm\n5,-1\n", "line 2"),
])  # fmt: skip
def test_rain_that_cannot_be_read_is_told_with_its_line(text, words):
    with pytest.raises(JobFileError, match=words):
        read_rain(text, "gauge.csv")


def test_a_storm_without_readings_or_name_is_a_fault():
    from weirant.job.faults import faults

    found = faults(dataclasses.replace(JOB, storms=(Storm("", EVEN), Storm("x", OWN), Storm("y", OWN, readings=(2.0,)))))
    assert [path for path, _ in found] == ["storms[0].name", "storms[1].readings", "storms[2].readings"]


def test_a_rainfall_table_is_written_and_read_back():
    table = rainfall_at(places()[0], pause=0.0)
    for unit in ("in", "mm"):
        again = read_rainfall(write_rainfall(table, unit), "table")
        assert {(e.duration, e.years): pytest.approx(e.depth, rel=2e-3) for e in again} == {(e.duration, e.years): e.depth for e in table}
    with pytest.raises(InputError, match="is not known to the service"):
        rainfall_at("Atlantis")
    assert all("invented" in place for place in places())


def test_the_days_with_rain_of_a_place_are_written_read_back_and_taken_by_the_plan(tmp_path, capsys):
    wet = rain_days_at(places()[2])
    assert is_of_days("# a place\n" + write_rain_days(wet)) and is_of_days('"Month";"Days"\n1;2\n') and not is_of_days("duration_min,10_years_in\n5,1\n") and not is_of_days("")
    assert read_rain_days(write_rain_days(wet), "days") == pytest.approx(wet, rel=1e-5) and wet[0] == 14 / 31 and wet[1] == 11 / 28.25
    path = tmp_path / "days.csv"
    told = {}
    for start in ("2026-01-05", "2026-07-06"):
        path.write_text(write_rain_days(wet))
        assert main(["schedule", "demo", "--start", start, "--rain", str(path), "--json"]) == 0
        told[start] = json.loads(capsys.readouterr().out)["within"]
    assert told["2026-01-05"] != told["2026-07-06"]
    path.write_text("month,days\n1,40\n")
    assert main(["schedule", "demo", "--rain", str(path)]) == 2 and "line 2" in capsys.readouterr().err


@pytest.mark.parametrize(("lines", "words"), [
    ("", "holds no days"), ("month,days\n", "missing"), ("days,month\n1,2\n", "holds no days"), ("month,days\n1,2\n1,3\n", "line 3.*each of them once"),
    ("month;days\n1;29,5\n", "line 2.*cannot be as many"),
    ("month,days\n13,2\n", "1 to 12"), ("month,days\n2,-1\n", "cannot be as many"), ("month,days\n2\n", "not both"), ("month,days\n2,=1+1\n", "must be a number"),
    ("month,days\n" + "".join(f"{m},3\n" for m in range(1, 12)), "12 are missing")])  # fmt: skip
def test_days_with_rain_that_cannot_be_are_told_with_their_line(lines, words):
    with pytest.raises(JobFileError, match=f"(?s){words}"):
        read_rain_days(lines, "days.csv")


@pytest.mark.parametrize(("text", "words"), [
    ("duration_min,10_years_in\n", "holds no table"), ("a,b\n1,2\n", "cannot be told"), ("duration_min,10_years_in\n5,x\n", "line 2"),
    ("duration_min,10_years_in\n5,1\n5,1.2\n", "5 min, once in 10 years, stands twice"),
    ("duration_min,10_years_in\n5,1\n60,0.5\n", "60 min brings less than 5 min"), ("duration_h,2_years_mm,10_years_mm\n1,30,20\n", "once in 10 years brings less"),
])  # fmt: skip
def test_a_table_that_cannot_be_is_told(text, words):
    with pytest.raises(JobFileError, match=words):
        read_rainfall(text, "table.csv")
