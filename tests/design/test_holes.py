"""Field tests fitted, evidence combined, textures told."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest

from weirant.design.demo import demo_job
from weirant.design.holes import Evidence, combined, evidence_for, fit, taken_over, verdicts
from weirant.design.pedotransfer import Shares, predicted, shares_of
from weirant.errors import InputError
from weirant.job.faults import faults
from weirant.job.holes import AUGER_HOLE, BAIL, FALLING_WATER, FieldTest, WaterReading
from weirant.library import shipped
from weirant.methods.soil_tests import auger_hole
from weirant.methods.usda_texture import (
    BALL,
    GRITTY,
    LONG,
    MIDDLE,
    NEITHER,
    NO_BALL,
    NO_RIBBON,
    SHORT,
    SMOOTH,
    texture_by_feel,
    usda_texture,
)

K, R = 5e-6, 0.05


def readings(times, depths):
    return tuple(WaterReading(float(t), float(d)) for t, d in zip(times, depths, strict=True))


def rising(k: float) -> FieldTest:
    """Readings that Ernst's formula itself makes, step by step (van Beers 1958)."""
    y, depths, times = 0.45, [0.2 + 0.45], [0.0]
    for step in range(40):
        y -= k / auger_hole(R, 0.6, y, 1e-3, 1.0, False) * 1e-3 * 2.0
        depths.append(0.2 + y)
        times.append(2.0 * (step + 1))
    return FieldTest(AUGER_HOLE, R, 0.8, 0.2, readings=readings(times, depths))


TIMES = np.arange(0, 3700, 600)
FALLING = FieldTest(FALLING_WATER, R, 0.5, readings=readings(TIMES, 0.5 - (0.425 * np.exp(-2 * K / R * TIMES) - R / 2)))
BAILED = FieldTest(BAIL, R, 2.0, 0.5, 0.6, readings=readings(TIMES, 0.5 + 1.0 * np.exp(-K * TIMES * 2 * 0.6 / (R**2 * math.log(0.6 / R)))))


@pytest.mark.parametrize("test", [rising(K), FALLING, BAILED], ids=lambda t: t.kind)
def test_a_fit_gives_back_the_conductivity_that_made_the_readings(test):
    found = fit(test)
    assert found.best == pytest.approx(K, rel=0.02) and found.low <= found.best <= found.high and found.used >= 2


@pytest.mark.parametrize(("change", "words"), [
    ({"readings": ()}, "at least two are needed"),
    ({"water": None}, "water before the test is missing"),
    ({"water": 0.9}, r"must stand in the hole: 2\.95 ft \(0\.900 m\)"),
    ({"readings": readings([0, 10], [0.1, 0.1])}, "bail the hole first"),
    ({"readings": readings([0, 60], [0.65, 0.25])}, "read more often"),
    ({"readings": readings([0, 10, 20], [0.60, 0.61, 0.62])}, "readings must rise"),
    ({"kind": FALLING_WATER, "readings": readings([0, 10], [0.5, 0.4])}, "readings must fall"),
    ({"kind": FALLING_WATER, "readings": readings([0, 10], [0.5, 0.9])}, "deeper than the hole"),
    ({"kind": BAIL, "open_length": 0.01}, "open length of the pipe must be more than its radius"),
])  # fmt: skip
def test_readings_that_do_not_serve_are_told(change, words):
    with pytest.raises(InputError, match=words):
        fit(dataclasses.replace(rising(K), **change))


def test_sharper_evidence_counts_for_more_and_disagreement_widens():
    sharp, loose = Evidence(1e-5, 1.5, "a test"), Evidence(1e-7, 10.0, "a guess")
    assert combined((sharp, loose)).best == pytest.approx(math.exp((math.log(1e-5) / math.log(1.5) ** 2 + math.log(1e-7) / math.log(10) ** 2)
                                                                 / (1 / math.log(1.5) ** 2 + 1 / math.log(10) ** 2)))  # fmt: skip
    agreeing, apart = combined((sharp, sharp)), combined((sharp, dataclasses.replace(sharp, best=1e-6)))
    assert agreeing.high / agreeing.best < 1.5 < apart.high / apart.best
    assert combined((loose,)).high == pytest.approx(1e-6)


def test_a_hole_in_other_ground_gives_the_line_no_depths():
    job = demo_job()
    deeper = dataclasses.replace(job, holes=tuple(dataclasses.replace(h, hard_depth=1.1, water_depth=0.4) for h in job.holes))
    own, other = (taken_over(deeper, deeper.soils[0], hole).soils[0] for hole in deeper.holes)
    assert (own.hard_layer_depth, own.water_table_depth) == (1.1, 0.4)
    assert (other.hard_layer_depth, other.water_table_depth) == (job.soils[0].hard_layer_depth, job.soils[0].water_table_depth)


def test_the_demos_holes_speak_for_their_own_ground_only():
    job = demo_job()
    words = [e.words for e in evidence_for(job, job.soils[0], 1)]
    assert any("TH1" in w for w in words) and not any("TH2" in w for w in words)
    changed = taken_over(job, job.soils[0], job.holes[0])
    assert changed.soils[0].layers[1].conductivity == verdicts(job, job.soils[0])[1].band and changed.soils[0].layers[0] == job.soils[0].layers[0]
    assert not faults(changed) and changed.soils[0].hard_layer_depth == job.holes[0].hard_depth


@pytest.mark.parametrize(("shares", "texture"), [
    ((92, 5, 3), "sand"), ((82, 12, 6), "loamy-sand"), ((65, 25, 10), "sandy-loam"), ((40, 40, 20), "loam"), ((20, 65, 15), "silt-loam"), ((7, 87, 6), "silt"),
    ((60, 13, 27), "sandy-clay-loam"), ((32, 34, 34), "clay-loam"), ((10, 56, 34), "silty-clay-loam"), ((52, 6, 42), "sandy-clay"), ((6, 47, 47), "silty-clay"),
    ((20, 20, 60), "clay"),
])  # fmt: skip
def test_texture_triangle(shares, texture):
    """The middles of the classes of the USDA triangle (Soil Survey Manual ch. 3; points recalled)."""
    assert usda_texture(*shares) == texture


def test_every_answer_by_feel_leads_to_a_class_of_the_library():
    """Thien 1979 (recalled): a long gritty ribbon is sandy clay, a short smooth one silt loam."""
    found = {texture_by_feel(b, r, g) for b in (NO_BALL, BALL) for r in (NO_RIBBON, SHORT, MIDDLE, LONG) for g in (GRITTY, SMOOTH, NEITHER)}
    assert found <= set(shipped().textures) and len(found) == 11
    assert texture_by_feel(BALL, LONG, GRITTY) == "sandy-clay" and texture_by_feel(BALL, SHORT, SMOOTH) == "silt-loam"


def test_faults_of_holes_are_told_by_their_place():
    job = demo_job()
    hole = job.holes[0]
    bad = dataclasses.replace(hole, id="h9", log=tuple(reversed(hole.log)), tests=(dataclasses.replace(hole.tests[0], readings=readings([5, 5], [0.5, 0.4])),))
    assert [path for path, _ in faults(dataclasses.replace(job, holes=(hole, bad)))] == ["holes[1].name", "holes[1].log", "holes[1].tests[0].readings"]


def test_grains_give_a_conductivity_by_the_pedotransfer_library():
    """Loam of 40/40/20: Rosetta 3 gives 12.3 cm/day (its own library, run here); Carsel and Parrish 1988 have 25 for loam: within their spread."""
    found = predicted(Shares(40.0, 40.0, 20.0))
    assert found.conductivity * 86400 * 100 == pytest.approx(12.3, rel=0.02) and 0.4 < found.conductivity / shipped().texture("loam").conductivity.best < 2
    assert found.curve[1] == pytest.approx(shipped().texture("loam").curve[1], abs=0.06)
    shares = shares_of(demo_job().soils[0].layers[-1].gradation)
    assert (round(shares.sand), round(shares.silt), round(shares.clay)) == (44, 48, 8)  # by hand: 56.3 % is finer than 0.05 mm on the log scale, 8 % than 0.002
    assert shares_of(demo_job().soils[0].layers[-1].gradation[:3]) is None
