"""Rod readings and cut sheets as CSV."""

from __future__ import annotations

import csv
import io

import pytest

from weirant.design.sheets import crew_cut_sheet
from weirant.errors import JobFileError
from weirant.formats.cut_sheet_csv import write_cut_sheet
from weirant.formats.survey_csv import read_survey, write_survey
from weirant.job.survey import Place, Shot
from weirant.units.display import System


@pytest.mark.parametrize("unit", ["ft", "m"])
def test_readings_survive_the_round_trip(job, unit):
    back = read_survey(write_survey(job.survey.shots, unit, {"r1": "slab drain", "r2": "x"}), {"slab drain": "r1"}, "r9")
    assert [s.point for s in back] == [s.point for s in job.survey.shots]
    for ours, theirs in zip(job.survey.shots, back, strict=True):
        assert theirs.run == ours.run  # along which run a station counts
        for field in ("station", "backsight", "foresight"):
            value = getattr(ours, field)
            assert getattr(theirs, field) == (None if value is None else pytest.approx(value, abs=5e-5))


def test_places_in_plan_survive_the_round_trip_and_strange_ones_are_kept():
    shots = tuple(Shot("a", None, None, 1.0, place=place) for place in (Place("plan", 3.048, -6.096), Place("tape", 12.192, 3.6576), Place("angle", 35.5, 18.288)))
    for unit in ("ft", "m"):
        back = read_survey(write_survey(shots, unit))
        for ours, theirs in zip(shots, back, strict=True):
            assert (theirs.place.how, theirs.place.first, theirs.place.second) == (ours.place.how, pytest.approx(ours.place.first), pytest.approx(ours.place.second))
    (odd,) = read_survey("point,station_ft,backsight_ft,rod_reading_ft,place_ft\nA,,,5,by the oak\n")
    assert odd.place is None and odd.unread == "by the oak"


@pytest.mark.parametrize(
    "text",
    [
        "point;station_m;backsight_m;rod_reading_m\nBM;;1,52;\nA;3,5;;1,1\n",
        "point\tstation_m\tbacksight_m\trod_reading_m\nBM\t\t1.52\t\nA\t3.5\t\t1.1\n",
        "\ufeffPoint,Station_m,Backsight_m,Rod_reading_m\r\nBM,,1.52,\r\nA,3.5,,1.1\r\n",
    ],
)
def test_delimiters_and_decimal_commas(text):
    first, second = read_survey(text)
    assert (first.backsight, second.station, second.foresight) == (1.52, 3.5, 1.1)


def test_what_is_no_number_is_kept():
    (shot,) = read_survey("point,station_ft,backsight_ft,rod_reading_ft\nA,10,,five\n")
    assert (shot.foresight, shot.unread) == (None, "five")


@pytest.mark.parametrize(("text", "says"), [("", "empty"), ("a,b,c\n1,2,3\n", "no column station_ft or station_m")])
def test_files_that_do_not_serve(text, says):
    with pytest.raises(JobFileError, match=says):
        read_survey(text)


@pytest.mark.parametrize(("system", "unit", "factor"), [(System.IMPERIAL, "ft", 0.3048), (System.METRIC, "m", 1.0)])
def test_cut_sheet(outcome, system, unit, factor):
    lines = crew_cut_sheet(outcome)
    rows = list(csv.DictReader(io.StringIO(write_cut_sheet(lines, system))))
    assert len(rows) == len(lines)
    for row, line in zip(rows, lines, strict=True):
        assert float(row[f"rod_{unit}"]) * factor == pytest.approx(line.rod, abs=6e-4)
        assert row["note"] == line.note
