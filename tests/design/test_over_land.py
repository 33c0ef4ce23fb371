"""Water that comes over a rim: where it runs over the ground as it was shot, and that the next inlet takes it in."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest

from weirant.design.assess import assess
from weirant.design.patterns import pattern
from weirant.design.through_pipes import through_pipes
from weirant.ground.surface import build_surface
from weirant.ground.surface.descent import runs_to
from weirant.job.rain import OWN, Storm
from weirant.words.through import spill_words, verdict

GRID = np.array([(x, y) for x in range(-20, 21, 4) for y in range(0, 61, 4)], dtype=float)


@pytest.mark.parametrize(("level", "start", "inlets", "wanted"), [
    (lambda x, y: 0.02 * y, (0, 50), [(0, 30), (0, 10)], 0), (lambda x, y: 0.02 * y, (0, 50), [(9, 30), (0.5, 10)], 1),  # down a plane, past one that lies aside
    (lambda x, y: 0.01 * y + 0.05 * abs(x), (12, 50), [(0, 8)], 0),  # into a swale and along it
    (lambda x, y: 0.01 * abs(y - 28) + 0.03 * abs(x), (0, 50), [(0, 10)], None),  # it stays in a hollow
    (lambda x, y: 0.02 * y, (0, 50), [], None), (lambda x, y: 0.0 * y, (0, 50), [(0, 30)], None), (lambda x, y: 0.02 * x, (0, 50), [(0, 30)], None),  # off the known ground
])  # fmt: skip
def test_water_runs_to_the_first_inlet_that_it_comes_by(level, start, inlets, wanted):
    surface = build_surface(GRID, np.array([level(x, y) for x, y in GRID]))
    assert runs_to(surface, start, np.array(inlets, dtype=float).reshape(-1, 2)) == wanted


def test_what_the_top_box_of_a_swale_does_not_hold_runs_to_the_next():
    """Its pipe as far as the next a 2 in one: what it does not carry comes over the rim and in again below, and nothing is lost."""
    job = pattern("swale").job()
    storm = Storm("burst", OWN, 0.05, 1800.0, 600.0, (0.02, 0.025, 0.005))
    run, (below, top) = job.runs[0], (next(node for node in job.nodes if node.name == name) for name in ("box 3", "box 4"))
    at = next(station for node, station in assess(job).run(run.id).run.nodes if node.id == below.id)
    parts = (dataclasses.replace(run.stretches[0], to_station=at), dataclasses.replace(run.stretches[0], id="p9", pipe="pvc-thick-50"))
    narrow = assess(dataclasses.replace(job, runs=(dataclasses.replace(run, stretches=parts),)))
    whole, through = through_pipes(assess(job), storm, 6).parts[0], through_pipes(narrow, storm, 6)
    spilt = through.parts[0]
    assert [(s.node, s.leads) for s in spilt.spills] == [(top.id, below.id)] and spilt.spills[0].volume > 1 and "runs over land to box 3" in spill_words(narrow, spilt.spills[0])
    assert spilt.routed.spilled == 0 and spilt.routed.off < 1e-9 and spilt.routed.left == pytest.approx(whole.routed.left, rel=1e-3) and "from box 4 to box 3" in verdict(narrow, through)
    lone = dataclasses.replace(narrow, site=dataclasses.replace(narrow.site, surface=None))
    assert through_pipes(lone, storm, 6).parts[0].routed.spilled == pytest.approx(spilt.spills[0].volume, rel=0.01)  # where no ground is known it is gone
