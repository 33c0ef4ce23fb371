"""Files of every format, wounded: read or refused in words, and what is read is fit for a job.

A few of each here; tools/fuzz_readers.py runs 2,000 of each (WEIRANT_FUZZ sets how many).
"""

from __future__ import annotations

import dataclasses
import json
import os

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.errors import WeirantError
from weirant.formats import job_file
from weirant.formats.geojson import read_geojson
from weirant.formats.landxml import read_landxml, write_landxml
from weirant.formats.points_csv import read_points, recognise, shift_wanted, write_points
from weirant.formats.rain_csv import read_rain
from weirant.formats.rainfall_csv import read_rainfall, write_rainfall
from weirant.formats.survey_csv import read_survey, write_survey
from weirant.instruments.messages import read_message
from weirant.instruments.stand_ins import gga, sentence
from weirant.job.faults import faults
from weirant.job.removal import without_thing
from weirant.methods.catalogue import REGISTRY

JOB = demo_job()
MANY = settings(max_examples=int(os.environ.get("WEIRANT_FUZZ", "40")), deadline=None, suppress_health_check=list(HealthCheck), database=None)
PIECES = [b"1e308", b"-1", b"null", b"[", b"}", b'"', b"true", b"NaN", b"9" * 400, b"\\ud83d", b"<?pi?>", b"&x;", b",,,,", b"\n", b"\r", b"\0", b"\xff", b"=", b"'", b";", b"-", b".",
          b":", b" ", b"\t", b"0", b"<a>", b"</a>", b"e", b"1_0"]  # fmt: skip
WOUND = st.tuples(st.floats(0, 1), st.sampled_from(["cut", "put", "take", "twice", "swap", "end"]), st.sampled_from(PIECES), st.integers(1, 40))


def wounded(data: bytes, wounds) -> bytes:
    for share, kind, piece, length in wounds:
        at = int(share * len(data))
        if kind == "put":
            data = data[:at] + piece + data[at:]
        elif kind == "take":
            data = data[:at] + data[at + length :]
        elif kind == "cut":
            data = data[:at] + piece + data[at + length :]
        elif kind == "twice":
            data = data[: at + length] + data[at:]
        elif kind == "swap":
            data = data[at:] + data[:at]
        else:
            data = data[: max(at, 1)]
    return data


def text(data):
    return data.decode("utf-8", "replace")


def points(found):
    return dataclasses.replace(without_thing(JOB, "t10").job, points=found.points, features=tuple(dataclasses.replace(f, id=f"t{i}") for i, f in enumerate(found.features)))


def csv_points(data):
    layout = recognise(data).layout
    return points(read_points(data, layout, "m", shift_wanted(data, layout)[0]))


def storm(data):
    return dataclasses.replace(JOB, storms=(read_rain(text(data), "rain"),))


def notes(data):
    REGISTRY["level-notes"].calculate({"benchmark": "100 ft", "notes": text(data), "length_unit": "ft"})
    return JOB


GEO = {"type": "FeatureCollection", "features": [
    {"type": "Feature", "properties": {"name": "a", "code": "b", "elevation": 3}, "geometry": {"type": "Point", "coordinates": [-30.0, 45.0, 20.0]}},
    {"type": "Feature", "properties": {"kind": "gas line", "depth": 0.5, "is_located": True}, "geometry": {"type": "LineString", "coordinates": [[-30.0, 45.0], [-30.0001, 45.0001]]}},
    {"type": "Feature", "properties": {"kind": "lawn"}, "geometry": {"type": "Polygon", "coordinates": [[[-30, 45], [-30.0001, 45], [-30, 45.0001], [-30, 45]]]}}]}  # fmt: skip
FORMATS = {
    "job": (job_file.to_bytes(JOB), lambda d: job_file.from_text(text(d))),
    "points": (write_points(JOB.points[:12], "ft").encode(), csv_points),
    "landxml": (write_landxml(JOB.points[:8], "m", "site", "2026-11-25"), lambda d: points(read_landxml(d))),
    "geojson": (json.dumps(GEO).encode(), lambda d: points(read_geojson(d))),
    "readings": (write_survey(JOB.survey.shots, "ft", {"r1": "slab drain"}).encode(),
                 lambda d: dataclasses.replace(JOB, survey=dataclasses.replace(JOB.survey, shots=read_survey(text(d), {"slab drain": "r1"}, "r1")))),
    "rain": (b"time_h,depth_in\n1,0.5\n2,1.0\n3.5,0.25\n", storm),
    "rainfall": (write_rainfall(JOB.rainfall, "in").encode(), lambda d: dataclasses.replace(JOB, rainfall=read_rainfall(text(d), "table"))),
    "instrument": (sentence(gga(-30.0, 45.0, 31.5, 4, 60.0)).encode(), lambda d: read_message(sentence(text(d)[1:-3].replace("*", ""))) and JOB),
    "level notes": (b"BM:bs 4.32, A:fs 5.10, TP1:fs 6.02 bs 3.11, BM:fs 1.41", notes),
}


@pytest.mark.parametrize("name", FORMATS)
def test_a_wounded_file_is_read_or_refused(name):
    whole, read = FORMATS[name]

    @MANY
    @given(st.lists(WOUND, min_size=1, max_size=4))
    @example([])
    def check(wounds):
        try:
            job = read(wounded(whole, wounds))
        except WeirantError as fault:
            assert str(fault) and "Traceback" not in str(fault) and len(str(fault)) < 20_000
            return
        if job is not None and not faults(job):
            assert assess(job).findings

    check()
    assert name == "instrument" or not faults(read(whole))  # unwounded it is sound
