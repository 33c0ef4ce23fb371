"""Sections and stretches: what a trench is made of where, and pipes that share one."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
import shapely

from laying import one, only, reason_of, with_changes
from weirant.design.assess import assess
from weirant.design.best_grade import plan_grade
from weirant.design.demo import demo_job
from weirant.design.layout import move_node
from weirant.design.one_trench import lay_beside, out_of, put_into, sides_changed
from weirant.design.order import order_of
from weirant.errors import InputError
from weirant.ground.in_place import in_place, off_its_place
from weirant.ground.network import laid_run
from weirant.job.faults import faults
from weirant.job.geometry import run_of
from weirant.job.paths import value_at, with_value
from weirant.job.section_edits import (
    in_section_of_its_own,
    section_of,
    sections_along,
    split_at,
    stretch_at,
    with_section,
    without_section,
    without_stretch,
)
from weirant.library import shipped
from weirant.methods.pipe_flow import pipe_full_flow
from weirant.outcome.bill import PIPE
from weirant.outcome.finding import State
from weirant.rules import shipped_rules
from weirant.words.findings import worded

DEMO, LIBRARY, RULES = demo_job(), shipped(), shipped_rules()
F, T, H = State.FAILS, State.TIGHT, State.HOLDS


def verdicts(outcome):
    return sorted((f.code, f.subject, str(f.state), f.value, f.limit) for f in outcome.findings)


def beside(job=DEMO, **more):
    """The demo with a second pipe in the trench of its slab drain; and that run's identity."""
    return lay_beside(job, "r1", LIBRARY, RULES, collects=False, **more)


def placed(across, height, width=0.5):
    """The demo with its second pipe at a place of the section, in a trench of a width."""
    job, guest = beside()
    section = section_of(job, run_of(job, "r1").stretches[0].section)
    bores = (dataclasses.replace(section.bores[0], across=-0.1), dataclasses.replace(section.bores[1], across=across, height=height))
    return in_place(with_section(job, dataclasses.replace(section, bores=bores, width=width)), LIBRARY), guest


def test_a_stretch_parted_into_two_alike_changes_nothing():
    parted = split_at(split_at(DEMO, "r1", 10.0), "r1", 40.0)
    assert len(run_of(parted, "r1").stretches) == 4 and not faults(parted)
    before, after = assess(DEMO), assess(parted)
    for old, new in zip(verdicts(before), verdicts(after), strict=True):
        assert old[:3] == new[:3] and old[3] == pytest.approx(new[3], abs=1e-9)
    assert [f.value for f in after.takeoff.rows()] == pytest.approx([f.value for f in before.takeoff.rows()], rel=1e-9)
    assert without_stretch(without_stretch(parted, "r1", "p3"), "r1", "p4").runs[0].stretches[0].to_station == DEMO.runs[0].stretches[0].to_station
    with pytest.raises(InputError, match=r"has an end of a stretch at 32\.8 ft already"):
        split_at(parted, "r1", 10.0)


def test_every_stretch_is_of_its_own_pipe():
    """The narrower one above limits the run, at its own slope; each is counted by its own kind, and lies as deep as it is thick."""
    above = with_value(split_at(DEMO, "r1", 40.0), "runs.r1.stretches.p3.pipe", "corrugated-75")
    wide = with_value(above, "runs.r1.stretches.p1.pipe", "corrugated-150")
    outcome = assess(wide)
    run, small = outcome.run("r1"), LIBRARY.pipe("corrugated-75")
    assert run.flow_high.capacity == pytest.approx(pipe_full_flow(small.inner_diameter, small.roughness_n, 0.012).discharge)
    fullest = run.grade.stations[run.flow_high.full_fraction.argmax()]
    assert one(outcome, "capacity", "r1").station == fullest and stretch_at(wide, "r1", fullest + 1e-3).pipe != "corrugated-150"
    collecting = sum((f.amounts for f in outcome.site.runs[1:]), run.amounts).of("perforated pipe")
    assert collecting["corrugated-75"] == pytest.approx(run.run.length - 40.0)
    # where two stretches meet the trench is as deep as the deeper asks, and the pipe as full as the narrower is
    thick = LIBRARY.pipe("corrugated-150")
    assert run.grade.at(run.grade.invert - run.grade.trench_bottom, 23.7744) == pytest.approx(thick.wall + 0.0508)
    narrow_below = assess(with_value(with_value(above, "runs.r1.stretches.p3.pipe", "corrugated-150"), "runs.r1.stretches.p2.pipe", "corrugated-75")).run("r1")
    at = int(np.argmin(np.abs(narrow_below.grade.stations - 40.0)))
    carries = pipe_full_flow(small.inner_diameter, small.roughness_n, 0.012).discharge
    assert narrow_below.flow_high.full_fraction[at] == pytest.approx(narrow_below.flow_high.discharge[at] / carries)
    assert sum(line.what == PIPE and line.unit == "coil" and not line.size for line in order_of(outcome)) == 2
    for station in (10.0, 30.0, 45.0):
        pipe = LIBRARY.pipe(stretch_at(wide, "r1", station).pipe)
        assert run.grade.at(run.grade.invert - run.grade.trench_bottom, station) == pytest.approx(pipe.wall + 0.0508, abs=2e-4)
    assert value_at(wide, "runs.r1.pipe") == "corrugated-100" and {s.pipe for s in run_of(with_value(wide, "runs.r1.pipe", "dualwall-150"), "r1").stretches} == {"dualwall-150"}


def test_the_largest_flow_is_held_against_the_stretch_it_is_too_much_for():
    """A pair at the limit: with the pipe a hair too small the verdict turns."""
    job = with_value(with_value(split_at(DEMO, "r3", 10.0), "water.drainage_rate", 2e-7), "water.storm_depth", 0.0)
    flow = float(assess(job).run("r3").flow_high.discharge[0])
    for fullest, state in ((flow / assess(job).run("r3").flow_high.capacity * 1.0001, (H, T)), (flow / assess(job).run("r3").flow_high.capacity * 0.9999, (F,))):
        assert one(assess(with_value(job, "limits.fullest", fullest)), "capacity", "r3").state in state


def test_filters_are_judged_where_the_pipe_collects_in_the_section_it_lies_in():
    job, section = in_section_of_its_own(DEMO, "r4", "p2")
    odd = with_value(job, f"sections.{section}.geotextile", "slit-film")
    states = {f.subject: f.state for f in assess(odd).findings if f.code == "clogging"}
    assert states == {"r1": H, "r3": H, "r4": F} and not any(f.subject == "r2" for f in assess(odd).findings if f.family == "filters")
    (fix, *_) = one(assess(odd), "clogging", "r4").fixes
    assert one(assess(fix.made(odd)), "clogging", "r4").state == H and fix.made(odd).sections[0] == odd.sections[0]
    two = split_at(odd, "r4", 10.0)
    back = with_value(two, "runs.r4.stretches.p3.section", "s1")  # above 10 m it lies in the old section again: the worse of the two is told
    assert one(assess(back), "clogging", "r4").state == F and one(assess(back), "clogging", "r4").station == 0.0
    rows = [f.label for f in assess(odd).takeoff.rows() if f.label.startswith("Fabric: ")]
    assert len(rows) == 2
    with pytest.raises(InputError, match="is the trench of green side"):
        without_section(odd, section)


def test_a_narrower_section_past_a_footing_digs_less_and_stays_clear():
    job = split_at(split_at(DEMO, "r1", 28.0), "r1", 48.0)
    narrow, section = in_section_of_its_own(job, "r1", "p3")
    narrow = with_value(narrow, f"sections.{section}.width", 0.2)
    before, after = assess(job), assess(narrow)
    grade = before.run("r1").grade
    here = (grade.stations >= 28.0 - 1e-9) & (grade.stations <= 48.0 + 1e-9)
    spared = (0.3048 - 0.2) * float(sum((grade.stations[here][1:] - grade.stations[here][:-1]) * (grade.cut[here][1:] + grade.cut[here][:-1]) / 2))
    assert before.takeoff.dug.value - after.takeoff.dug.value == pytest.approx(spared, rel=1e-9)
    assert one(after, "footing", "r1").value > one(before, "footing", "r1").value - 1e-9
    through = with_value(narrow, f"sections.{section}.width", 0.11)
    assert one(assess(through), "fits", "r1").state == F and one(assess(through), "fits", "r1").station == 28.0


@pytest.mark.parametrize(("top", "height"), [("soil cap", min), ("open stone", lambda cut, _: cut), ("turf on the stone", lambda cut, _: cut - 0.0508)])
def test_a_trench_with_two_pipes_against_shapely(top, height):
    """Dig, stone and room of the pipes from polygons, for an even trench with laid-back sides and one pipe higher than the other."""
    job, guest = placed(0.1, 0.15, 0.55)
    section = sections_along(job, "r1")[0]
    job = with_section(job, dataclasses.replace(section, side_slope=0.3, top=top))
    outcome = assess(only(job, "r1", guest))
    run, make = outcome.run("r1"), outcome.run("r1").make(40.0)
    assert outcome.run(guest).amounts.dug == 0
    dug = stone = 0.0
    stations = [low + (high - low) * (i + 0.5) / 40 for low, high in zip(run.grade.stations[:-1], run.grade.stations[1:], strict=True) for i in range(40)]
    steps = [(high - low) / 40 for low, high in zip(run.grade.stations[:-1], run.grade.stations[1:], strict=True) for _ in range(40)]
    for station, step in zip(stations, steps, strict=True):
        cut = run.grade.at(run.grade.ground - run.grade.invert, station) + make.below
        if cut <= 0:
            continue

        def trench(up):
            return shapely.Polygon([(-0.275, 0), (0.275, 0), (0.275 + 0.3 * up, up), (-0.275 - 0.3 * up, up)])

        dug += step * trench(cut).area
        if station > run.run.solid_length:
            pipes = [shapely.Point(x, 0.0508 + y + 0.06).buffer(0.06, quad_segs=64) for x, y in ((-0.1, 0.0), (0.1, 0.15))]
            stone += step * trench(height(cut, 0.0508 + 0.15 + 0.12 + 0.1524)).difference(shapely.union_all(pipes)).area
    assert run.amounts.dug == pytest.approx(dug, rel=1e-3) and run.amounts.all_of("stone") == pytest.approx(stone, rel=5e-3)


def test_a_pipe_in_its_place_follows_the_run_whose_trench_it_is():
    job, guest = placed(0.1, 0.2)
    wall = LIBRARY.pipe("corrugated-100").wall

    def lift(j, station):
        here, host = (assess(j).run(r).grade for r in (guest, "r1"))
        return here.at(here.invert, station) - host.at(host.invert, station)

    assert lift(job, 0) == pytest.approx(0.2) and lift(job, 20.0) == pytest.approx(0.2, abs=1e-3)
    thick = in_place(with_value(job, f"runs.{guest}.pipe", "corrugated-150"), LIBRARY)
    assert lift(thick, 0) == pytest.approx(0.2 + LIBRARY.pipe("corrugated-150").wall - wall)
    lower = with_value(job, "runs.r1.invert", DEMO.runs[0].invert - 0.3)
    assert one(assess(lower), "in-place", guest).state == F and off_its_place(lower, LIBRARY, guest) == pytest.approx(0.3)
    (fix,) = one(assess(lower), "in-place", guest).fixes
    assert one(assess(fix.made(lower)), "in-place", guest).state == H and lift(fix.made(lower), 0) == pytest.approx(0.2)
    moved = in_place(move_node("r1", 1)(job, (3.0, 26.0)), LIBRARY)
    line = laid_run(moved, guest)
    assert [laid_run(moved, "r1").alignment.nearest(line.alignment.point(s))[1] for s in (5.0, line.length - 5.0)] == pytest.approx([0.1, 0.1], abs=1e-4)
    backwards = with_changes(job, guest, nodes=run_of(job, guest).nodes[::-1])
    assert "rise towards its low end" in reason_of(assess(backwards), "in-place", guest)
    plan = plan_grade(assess(placed(0.1, 0.005)[0]))
    (at, low), (_, high) = plan.best.levels["r1"], plan.best.levels[guest]
    assert high[0] - low[0] == pytest.approx(0.005, abs=1e-6) and high[-1] - low[-1] == pytest.approx(0.005, abs=1e-6) and at[0] == 0.0
    graded = plan.job
    assert off_its_place(graded, LIBRARY, guest) < 1e-6 and one(assess(graded), "slope", guest).state != F


@pytest.mark.parametrize(("across", "height", "width", "state", "says"), [
    (0.0709, 0.0, 0.5, H, "2 in of stone and more"), (0.0707, 0.0, 0.5, T, "2 in are left|1 7/8 in are left|left where it is tightest"),
    (0.0201, 0.0, 0.5, T, "left where it is tightest"), (0.0199, 0.0, 0.5, F, "are in each other"), (0.0, 0.0671, 0.5, T, "left where it is tightest"),
    (0.0, 0.066, 0.5, F, "are in each other"), (0.19, 0.0, 0.499, F, "stands in the wall"), (0.19, 0.0, 0.5001, T, "left where it is tightest"),
    (-0.1, 0.1709, 0.5, H, "2 in of stone and more"),
])  # fmt: skip
def test_pipes_fit_or_do_not(across, height, width, state, says):
    job, _ = placed(across, height, width)
    found = one(assess(job), "fits", "r1")
    reason = worded(found, job).reason
    assert found.state == state, reason
    assert any(words in reason for words in says.split("|"))
    if state == F:
        assert one(assess(in_place(found.fixes[0].made(job), LIBRARY)), "fits", "r1").state == H


@pytest.mark.parametrize(("across", "path", "value", "narrow"), [(0.19, "sections.{}.side_slope", 0.5, 0.3892), (0.15, "runs.{}.pipes", 2, 0.558)])
def test_the_wall_that_leans_and_the_second_pipe_of_a_run_count(across, path, value, narrow):
    """By hand: the wall stands 0.5 x 110.8 mm further out at the middle of a 120 mm pipe on 50.8 mm of bedding; two such pipes reach 69 mm further."""
    for width, states in ((narrow - 2e-4, {F}), (narrow + 2e-4, {T, H})):
        job, guest = placed(across, 0.0, width)
        job = with_value(job, path.format(guest if "runs" in path else sections_along(job, "r1")[0].id), value)
        assert one(assess(job), "fits", "r1").state in states


def test_a_bench_stays_where_it_is_when_a_guest_asks_for_a_deeper_trench():
    """A guest at a level of its own, 0.2 m lower: below the old bottom it is dug as wide as the bottom, and above all is as it was."""
    job, guest = beside()
    job = put_into(out_of(job, guest), guest, "r1", LIBRARY, RULES, in_a_place=False)
    dug = {}
    for bench in (0.0, 0.5):
        for lower in (0.0, 0.2):
            laid = with_value(job, f"runs.{guest}.invert", run_of(job, "r1").invert - lower)
            for section in laid.sections:
                laid = with_section(laid, dataclasses.replace(section, bench_width=bench, bench_height=0.45))
            dug[bench, lower] = assess(laid).run("r1").amounts.dug
    assert dug[0.0, 0.2] - dug[0.0, 0.0] > 1 and dug[0.5, 0.0] - dug[0.0, 0.0] > 1
    assert dug[0.5, 0.2] - dug[0.5, 0.0] == pytest.approx(dug[0.0, 0.2] - dug[0.0, 0.0], rel=0.02)


def test_pipes_are_laid_together_and_apart_again():
    job, guest = beside()
    own = sections_along(job, "r1")[0]
    assert not faults(job) and own.id != "s1" and job.sections[0] == DEMO.sections[0]  # the others keep their section
    assert one(assess(job), "fits", "r1").state == H and own.width == pytest.approx(2 * 0.12 + 3 * 0.0508, abs=1e-3)
    turned = sides_changed(job, guest)
    assert [b.across for b in sections_along(turned, "r1")[0].bores] == [-b.across for b in own.bores]
    there, here = (laid_run(in_place(j, LIBRARY), guest).alignment.points for j in (turned, job))
    assert [math.dist(a, b) for a, b in zip(there, here, strict=True)] == pytest.approx([0.1708, 0.1708 * 2**0.5, 0.1708], rel=0.2)  # and in plan
    apart = out_of(job, guest)
    assert len(sections_along(apart, "r1")[0].bores) == 1 and assess(apart).run(guest).amounts.dug > 5 and not faults(apart)
    again = put_into(apart, guest, "r1", LIBRARY, RULES, in_a_place=False)
    assert run_of(again, guest).bore == "" and assess(again).run(guest).amounts.dug == 0
    third, other = lay_beside(job, "r1", LIBRARY, RULES, collects=True)
    assert {run_of(third, r).bore for r in (guest, other)} == {"b2", "b3"} and one(assess(third), "fits", "r1").state == H
    for run, host, says in (("r2", "r2", "in its own trench"), ("r2", guest, "lies in the trench of slab drain itself"), ("r1", "r3", "has slab drain, solid pipe in its own trench")):
        with pytest.raises(InputError, match=says):
            put_into(job, run, host, LIBRARY, RULES, in_a_place=True)
    assert math.isclose(assess(third).takeoff.dug.value, sum(r.amounts.dug for r in assess(third).site.runs))
