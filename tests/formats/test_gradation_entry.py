"""Sieve results by number and from files, gone on with by a hydrometer: against the standard's table, SciPy, and files that lie."""

from __future__ import annotations

import math

import fluids
import numpy as np
import pytest

from weirant.design.jar import read_readings, with_jar
from weirant.errors import InputError, JobFileError
from weirant.formats.gradation_csv import read_gradation_csv
from weirant.job.soil import SievePoint
from weirant.methods.gradation import read_gradation
from weirant.methods.hydrometer import hydrometer_point
from weirant.methods.soil_tests import water_viscosity

JAR = {"correction": 5.0, "temperature": 20.0, "specific_gravity": 2.65, "dry_grams": 50.0}


@pytest.mark.parametrize(("reading", "depth_cm"), [(0, 16.3), (10, 14.7), (20, 13.0), (30, 11.4), (40, 9.7), (50, 8.1), (60, 6.5)])
def test_a_size_by_the_tables_of_the_standard(reading, depth_cm):
    """ASTM D422 table 2 (effective depth of a 152H) and table 3 (K of 0.01365 at 20 °C and 2.65; both recalled): D = K √(L/T), to half a percent; and Stokes by ``fluids``."""
    point = hydrometer_point(reading, 0, 120, 20, 2.65, 50)
    assert point.size * 1e3 == pytest.approx(0.01365 * math.sqrt(depth_cm / 2), rel=5e-3) and point.percent == pytest.approx(min(2.0 * reading, 100))
    sinks = fluids.v_terminal(D=point.size, rhop=2650.0, rho=998.2, mu=water_viscosity(20) * 998.2, Method="Stokes")
    assert sinks * 120 == pytest.approx(depth_cm / 100, rel=1.5e-2)


@pytest.mark.parametrize(("gravity", "factor"), [(2.95, 0.94), (2.85, 0.96), (2.75, 0.98), (2.65, 1.00), (2.55, 1.02), (2.45, 1.05)])
def test_grains_that_are_heavier_or_lighter(gravity, factor):
    """ASTM D422 table 1 (recalled), rounded as there."""
    assert hydrometer_point(30, 5, 900, 20, gravity, 50).percent / 50 == pytest.approx(factor, abs=5.5e-3)


def test_readings_go_on_from_the_sieve_and_never_rise():
    sieved = tuple(SievePoint(s / 1e3, p) for s, p in ((4.75, 100.0), (2.0, 80.0), (0.425, 76.0), (0.075, 60.0)))
    readings = read_readings("2: 36; 1 min: 40; 15 min: 24; 24 h: 8")
    assert readings == [(60.0, 40.0), (120.0, 36.0), (900.0, 24.0), (86400.0, 8.0)]
    found = with_jar(sieved, readings, **JAR)
    assert found[:4] == sieved and [p.percent for p in found[4:]] == pytest.approx([56.0, 49.6, 30.4, 4.8])
    assert all(a.size > b.size and a.percent >= b.percent for a, b in zip(found, found[1:], strict=False))
    full = with_jar(sieved, [(60.0, 60.0)], **JAR)
    assert full[-1].percent == 60.0  # the jar says more than the finest sieve lets through
    assert [p.percent for p in with_jar((), readings, **JAR)] == pytest.approx([70.0, 62.0, 38.0, 6.0])
    coarse = with_jar(sieved, [(10.0, 50.0), (120.0, 36.0)], **JAR)  # the first still falls through sizes that were sieved
    assert len(coarse) == len(sieved) + 1 and hydrometer_point(50.0, 5.0, 10.0, 20.0, 2.65, 50.0).size > 0.075e-3
    with pytest.raises(InputError, match="finer than the finest sieve"):
        with_jar(sieved, [(1.0, 50.0)], **JAR)


@pytest.mark.parametrize("text", ["", "40", "2 min 36", "2 min: x", "0: 30", "2: 61", "2: -1"])
def test_wrong_readings_are_named(text):
    with pytest.raises(InputError):
        with_jar((), read_readings(text), **JAR)


def test_sieves_may_be_called_by_number():
    read = read_gradation("No. 4: 100, #40: 82, no 200:61, 0.02 mm:30")
    assert read.sizes == (4.75e-3, 425e-6, 75e-6, 2e-5)
    assert read.size_at(70) == pytest.approx(10 ** np.interp(70, [61, 82], np.log10([75e-6, 425e-6])))  # SciPy and NumPy interpolate so
    with pytest.raises(InputError):
        read_gradation("No. 3: 100, No. 200: 5")


@pytest.mark.parametrize("text", ["sieve,percent_passing\nNo. 4,100\nNo. 200,61.5\n", "size_mm;percent_finer\n0,075;61,5\n4,75;100\n", "size_um,percent_passing\n4750,100 %\n75,61.5\n"])
def test_a_result_is_read_from_a_file(text):
    assert [(p.size, p.percent) for p in read_gradation_csv(text, "lab.csv")] == [(pytest.approx(4.75e-3), 100.0), (pytest.approx(75e-6), 61.5)]


@pytest.mark.parametrize(("text", "said"), [
    ("", "holds no sieve result"), ("size_mm,percent_passing\n", "holds no sieve result"), ("a,b\n1,2\n", "cannot be told"), ("size_mm,percent_passing\n4.75,101\n0.075,5\n", "line 2"),
    ("size_mm,percent_passing\n4.75,50\n0.075,60\n", "finer sieve"), ("sieve,percent_passing\nNo. 4,100\nNo. 3,50\n", "line 3"), ("size_mm,percent_passing\nnan,5\n1,4\n", "line 2"),
    ("size_mm,percent_passing\n4.75\n", "line 2"), ("size_mm,percent_passing\n" + "".join(f"{1 + i / 100},50\n" for i in range(61)), "at most 60"),
    ("size_mm,percent_passing\n1,50\n1,40\n", "cannot be read"),
])  # fmt: skip
def test_files_that_lie_are_refused_with_the_line(text, said):
    with pytest.raises(JobFileError) as fault:
        read_gradation_csv(text, "lab.csv")
    assert said in str(fault.value) + str(fault.value.args)
