"""Whether machines fit: gate, ground, depth and width, each on either side of what the machine does."""

from __future__ import annotations

import dataclasses

import pytest

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.machine_fit import DEEP, GATE, LEANS, NARROW, PASSES, STEEP, machine_fits
from weirant.job.paths import with_value
from weirant.library.machines import machines
from weirant.words.machines import fit_words
from weirant.words.pictures import section_words

DEMO = assess(demo_job())


def kinds(outcome, method, machine, gate=None):
    return {fit.kind for fit in machine_fits(outcome, method, gate) if fit.machine.key == machine}


@pytest.mark.parametrize(("method", "machine", "gate", "told"), [
    ("excavator", "excavator", 0.99, {GATE}), ("excavator", "excavator", 1.0, set()), ("excavator", "loader", 1.05, {GATE}), ("excavator", "excavator", None, set()),
    ("trencher", "trencher", None, set()), ("trencher", "excavator", 0.5, set()), ("hand", "excavator", 0.5, set())])  # fmt: skip
def test_the_gate_stops_what_is_wider(method, machine, gate, told):
    assert kinds(DEMO, method, machine, gate) == told


@pytest.mark.parametrize(("width", "method", "told"), [(0.305, "trencher", set()), (0.33, "trencher", {PASSES}), (0.1, "excavator", {NARROW}),
                                                     (0.23, "excavator", set()), (0.7, "excavator", {PASSES})])  # fmt: skip
def test_width_asks_for_passes_or_for_a_wider_trench(width, method, told):
    job = demo_job()
    job = dataclasses.replace(job, sections=tuple(dataclasses.replace(section, width=width) for section in job.sections))
    fits = [fit for fit in machine_fits(assess(job), method) if fit.kind in (NARROW, PASSES)]
    assert {fit.kind for fit in fits} == told and all(fit.passes == 2 for fit in fits if fit.kind == PASSES)


@pytest.mark.parametrize(("field", "value"), [("side_slope", 0.5), ("bench_width", 0.3)])
def test_a_chain_cuts_upright_walls_alone(field, value):
    job = with_value(with_value(demo_job(), f"sections.s1.{field}", value), "sections.s1.bench_height", 0.2)
    assert LEANS in kinds(assess(job), "trencher", "trencher") and LEANS not in kinds(assess(job), "excavator", "excavator") | kinds(DEMO, "trencher", "trencher")
    shallow = with_value(with_value(demo_job(), "sections.s1.bench_width", 0.3), "sections.s1.bench_height", 3.0)  # no trench is so deep that it has one
    assert LEANS not in kinds(assess(shallow), "trencher", "trencher") and "bench" not in section_words(assess(shallow), "r1", 30.0)
    told = section_words(assess(job), "r1", 30.0)
    assert ("its sides lean 0.5 to 1" if field == "side_slope" else "a bench 11 3/4 in wide in each side") in told
    assert any("upright walls alone" in line and "slab drain" in line for line in fit_words(assess(job), machine_fits(assess(job), "trencher")))


def test_depth_and_steep_ground_are_told_with_the_worst_run():
    job = with_value(demo_job(), "runs.r1.invert", demo_job().runs[0].invert - 1.0)
    outcome = assess(job)
    deep = next(fit for fit in machine_fits(outcome, "trencher") if fit.kind == DEEP)
    assert deep.run == "r1" and deep.value == pytest.approx(outcome.run("r1").grade.cut.max()) and deep.is_trouble
    assert any("Trencher: it digs to" in line and "slab drain" in line for line in fit_words(outcome, (deep,)))
    steep = dataclasses.replace(job, points=tuple(dataclasses.replace(p, level=p.level + 0.4 * p.y) for p in job.points))
    told = [fit for fit in machine_fits(assess(steep), "excavator") if fit.kind == STEEP]
    assert told and all(fit.value > machines()["excavator"].slope or fit.machine.key == "loader" for fit in told)
    assert not any(fit.kind == STEEP for fit in machine_fits(DEMO, "excavator"))
