"""Water down a wall and soil gas up a drain: asked of what lies there, at both sides of where it begins, and mended by the fix."""

from __future__ import annotations

import dataclasses

import pytest

from laying import one, reason_of
from weirant.checks.at_buildings import BESIDE
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.effects import tried
from weirant.job.network import VENT
from weirant.job.paths import with_value
from weirant.job.site import Feature, Spot
from weirant.library import shipped

DEMO = demo_job()


def beside(off, **fields):
    """A wall square to nothing, along the collecting part of the slab drain, so far m from its trench's edge."""
    found = assess(DEMO).run("r1")
    (x0, y0), (x1, y1) = (found.run.alignment.point(s) for s in (30.0, 36.0))
    long = ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5
    away = off + found.collecting.make.section.width / 2
    nx, ny = -(y1 - y0) / long * away, (x1 - x0) / long * away
    wall = Feature("t90", "wall", "the store wall", (Spot(x0 + nx, y0 + ny), Spot(x1 + nx, y1 + ny)), **fields)
    return dataclasses.replace(DEMO, features=(*DEMO.features, wall))


@pytest.mark.parametrize(("off", "board", "wrap", "state"), [
    (BESIDE - 0.01, True, "full wrap", "tight"), (BESIDE + 0.01, True, "full wrap", None), (BESIDE - 0.01, True, "wrap to a wall", "holds"), (BESIDE - 0.01, True, "lining", "holds"),
    (BESIDE - 0.01, False, "full wrap", "tight"), (BESIDE - 0.01, None, "full wrap", None),
])  # fmt: skip
def test_what_a_board_brings_down_the_wall_gets_to_the_stone(off, board, wrap, state):
    outcome = assess(with_value(beside(off, has_board=board), "sections.s1.wrap", wrap))
    found = [f for f in outcome.findings if f.code == "drain-board" and f.subject == "r1"]
    assert [str(f.state) for f in found] == ([state] if state else [])
    if found and found[0].fixes:
        assert one(assess(tried(found[0].fixes[0], outcome.job, shipped())), "drain-board", "r1").state == "holds"
    assert board is not False or "no drain board" in reason_of(outcome, "drain-board", "r1")


@pytest.mark.parametrize(("kind", "footing", "vent", "state"), [
    ("building", None, False, "tight"), ("building", None, True, "holds"), ("slab", 0.3, False, "tight"), ("slab", None, False, None),
])
def test_a_drain_that_collects_under_a_floor_is_a_way_for_soil_gas(kind, footing, vent, state):
    """Under a building, or a slab with a footing; a slab in the open has no room over it."""
    found = assess(DEMO).run("r1")
    x, y = found.run.alignment.point(45.0)
    floor = Feature("t91", kind, "the new hall", tuple(Spot(x + dx, y + dy) for dx, dy in ((-3, -3), (3, -3), (3, 3), (-3, 3))), footing_depth=footing)
    job = dataclasses.replace(DEMO, features=(*DEMO.features, floor))
    if vent:
        top = job.runs[0].nodes[-1]
        job = dataclasses.replace(job, nodes=tuple(dataclasses.replace(n, kind=VENT) if n.id == top else n for n in job.nodes))
    found = [f for f in assess(job).findings if f.code == "under-slab" and f.subject == "r1"]
    assert [str(f.state) for f in found] == ([state] if state else []) and all(f.caution == "soil-gas" for f in found)
