"""The twelve patterns: the model can say each, and it is assessed, graded, cut, counted, saved, read back and drawn without a false verdict."""

from __future__ import annotations

import math

import numpy as np
import pytest

from weirant.design.across import Stand, section_at
from weirant.design.assess import assess
from weirant.design.best_grade import plan_grade
from weirant.design.patterns import PATTERNS, pattern
from weirant.design.sheets import crew_cut_sheet
from weirant.design.simulation import steady_state
from weirant.drawing.across import across_drawing
from weirant.drawing.pattern import pattern_drawing
from weirant.drawing.plan import plan_drawing
from weirant.drawing.profile import profile_drawing
from weirant.drawing.section import section_drawing
from weirant.drawing.way import reaches_of, way_drawing, ways_of
from weirant.errors import InputError
from weirant.formats import job_file
from weirant.ground.set_in import fittings_of
from weirant.job.faults import faults
from weirant.outcome.finding import State
from weirant.outcome.trench_pipes import pipes_at
from weirant.paper.owner_sheet import owner_sheet_pdf
from weirant.seepage.mesh import lay_out
from weirant.seepage.results import depth_to_water, pipe_flow

FT, IN = 0.3048, 0.0254
OUTCOMES = {key: assess(found.job()) for key, found in PATTERNS.items()}


@pytest.mark.parametrize("key", PATTERNS)
def test_a_pattern_goes_all_the_way(qtbot, key):
    outcome = OUTCOMES[key]
    job = outcome.job
    assert faults(job) == [] and job_file.from_text(job_file.to_text(job)) == job and not job.is_surveyed
    assert [f for f in outcome.findings if f.state == State.FAILS] == []
    plan = plan_grade(outcome)
    assert plan.job is not None and faults(plan.job) == [] and plan.dig <= plan.dig_before + 1e-6
    assert not {f.code for f in assess(plan.job).findings if f.state == State.FAILS} - {"drain-level", "table"}  # what collects may be laid less deep
    for found in outcome.site.runs:
        lines = crew_cut_sheet(outcome, found.id)
        assert len(lines) > 1 and lines[0].station == 0.0 and lines[-1].station == pytest.approx(found.run.length, abs=1e-3)
        for station in (0.0, found.run.length / 2, found.run.length):
            assert section_drawing(outcome, station, found.id).shapes and across_drawing(outcome, station, None, found.id).shapes
        assert profile_drawing(outcome, found.id).shapes
        for way in ways_of(outcome, found.id)[:6]:
            whole = way_drawing(outcome, way, found.id)
            assert whole.bounds[2] >= sum(reach.high - reach.low for reach in reaches_of(outcome, way))
            for x, z in [point for shape in whole.shapes for point in getattr(shape, "points", [getattr(shape, "at", (0.0, 0.0))])]:
                assert whole.bounds[0] <= x <= whole.bounds[2] and math.isfinite(z)
    assert plan_drawing(outcome, 0.0).shapes and pattern_drawing(job).shapes and owner_sheet_pdf(outcome).startswith(b"%PDF")
    rows = {f.label: f.value for f in outcome.takeoff.rows()}
    pipe = sum(f.run.length * f.run.run.pipes for f in outcome.site.runs if f.run.run.status == "planned")
    assert rows["Dig"] > 0 and rows["Perforated pipe"] + rows["Solid pipe"] == pytest.approx(pipe)


def fittings(outcome):
    return [words for found in outcome.site.runs for _, words in fittings_of(outcome.site.network, found.run)]


def test_each_says_what_the_trade_says_of_it():
    """Lengths, falls and parts as they are spoken of."""
    runs = {key: {f.run.name: f for f in outcome.site.runs} for key, outcome in OUTCOMES.items()}
    curtain = runs["curtain"]["curtain"]
    assert len(curtain.run.bends) == 1 and abs(curtain.run.bends[0][1]) == pytest.approx(90) and curtain.rim - curtain.run.invert == pytest.approx(1 * FT)
    ring = OUTCOMES["ring"]
    legs = [runs["ring"][name] for name in ("west leg", "east leg")]
    assert sum(leg.run.length for leg in legs) == pytest.approx(700 * FT, rel=0.01) and legs[0].run.nodes[-1][0].id == legs[1].run.nodes[-1][0].id
    assert [len(pipes_at(ring.site, leg, 40.0)) for leg in legs] == [2, 2] and all(f.amounts.dug == 0 for f in ring.site.runs if f.run.run.bore)
    assert sum("roof" in kinds for kinds in ring.site.carries.values()) == 2 + 5 and sum(words == "inlet" for words in fittings(ring)) == 6
    grid = OUTCOMES["grid"]
    assert len(grid.site.runs) == 7 and sum(words.startswith("cross") for words in fittings(grid)) >= 4 and len(grid.site.exits) == 1
    tube = runs["court"]["balance tube"]
    assert tube.run.grade[1][0] == tube.run.grade[1][-1] and len(OUTCOMES["court"].site.network.others_at(tube.run, tube.run.nodes[-1][0].id)) == 1
    assert not any(f.code == "roof" and f.state == State.FAILS for f in OUTCOMES["court"].findings)
    swale = runs["swale"]["swale line"]
    assert swale.run.length == pytest.approx(300 * FT) and not any(f.code in ("served", "table", "place-wanted") for f in OUTCOMES["swale"].findings)
    assert runs["eave"]["eave line"].run.length == pytest.approx(220 * FT, rel=0.01) and runs["eave"]["eave line"].run.slope == pytest.approx(1 / 60)
    assert len(OUTCOMES["footing"].site.exits) == 3
    lateral = runs["laterals"]["lateral 2"]
    assert lateral.run.length == pytest.approx(800 * FT) and lateral.run.slope == 0.0025 and lateral.grade.cut.max() < 40 * IN
    old = [f for f in OUTCOMES["old-drain"].findings if f.subject == "r1"]
    assert {f.code for f in old} >= {"slope", "capacity"} and not {f.family for f in old} & {"trenches", "stands", "filters"}
    assert runs["old-drain"]["old drain"].amounts.dug == 0 and "wye to new line" in fittings(OUTCOMES["old-drain"])
    assert runs["uphill"]["drain"].flow.standing > 150 * FT
    three = OUTCOMES["three-pipes"]
    assert sorted((p.across, round(p.height, 3)) for p in pipes_at(three.site, three.run("r1"), 20.0)) == [(-0.10922, 0.051), (0.0, 0.216), (0.10922, 0.051)]
    assert runs["nearly-level"]["line"].run.slope == 0.001
    with pytest.raises(InputError, match="there are curtain, ring"):
        pattern("moat")


@pytest.mark.parametrize("key", sorted(PATTERNS))
def test_both_models_tell_the_same_water(key):
    """The line that the verdict rests on, and the section simulator on the same section: within 3 cm or a twentieth of the drain's depth, and 15 % of the inflow."""
    outcome, seen = OUTCOMES[key], set()
    for found in outcome.site.runs:
        for water in (w for w in (found.water.parts if found.water else ()) if w.known_table is not None):
            section = section_at(outcome, water.of.station, run=found.id)
            if section in seen:
                continue
            seen.add(section)
            laid = lay_out(section)
            state, place = steady_state(laid, outcome.job.water.drainage_rate), Stand(found, water.of, water.of.station).place_across(section)
            assert float(np.interp(place, laid.x, depth_to_water(laid, state.head))) == pytest.approx(water.table_depth.value, abs=max(0.03, 0.05 * section.cut.depth))
            assert pipe_flow(laid, state.head) == pytest.approx(water.inflow.value, rel=0.15, abs=2e-8)
