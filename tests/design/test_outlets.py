"""What is at the end of a drain, and the grates at its beginning: verdicts as figures become known, and what each does in a storm."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from scipy.optimize import brentq

from weirant.checks import asked_again
from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.hydrographs import Hydrograph
from weirant.design.patterns import pattern
from weirant.design.plugged_in_turn import can_be_plugged
from weirant.design.storm_peak import carrying_findings
from weirant.design.storms import storm_named
from weirant.design.through_pipes import through_pipes
from weirant.job.network import BASIN_WALL, DRY_WELL, GRATE_RISER, MAIN
from weirant.job.paths import value_at, with_value
from weirant.job.rain import OWN, Storm
from weirant.job.site import SitePoint
from weirant.library import shipped
from weirant.methods.dry_well import dry_well
from weirant.methods.pipe_flow import pipe_full_flow, pipe_partial_flow
from weirant.outcome.rows import level_for, rows_of, takes
from weirant.words.findings import worded

ROOF = "nodes.n4.outlet"  # the roof's own solid pipe in the demo
BURST = Storm("burst", OWN, 0.02, 1800.0, 600.0, (0.005, 0.01, 0.005))


def job_with(base, path, **values):
    for name, value in values.items():
        base = with_value(base, f"{path}.{name.replace('__', '.')}", value)
    return base


def found(job, code, run):
    return next(f for f in assess(job).findings if (f.code, f.subject) == (code, run))


@pytest.mark.parametrize(("figures", "state", "says"), [
    ({}, "unknown", "hangs on its size"), ({"main__diameter": 0.3, "main__slope": 0.01}, "unknown", "hangs on its size"),
    ({"main__diameter": 0.3, "main__slope": 0.01, "main__own_flow": 0.01}, "unknown", "in a storm is not known"),
    ({"main__diameter": 0.3, "main__slope": 0.01, "main__own_flow": 0.2}, "fails", "backs up into the drain"),
    ({"main__diameter": 0.3, "main__slope": 0.01, "main__own_flow": 0.01, "main__own_storm": 0.5}, "fails", "backs up"),
    ({"main__diameter": 0.3, "main__slope": 0.01, "main__own_flow": 0.01, "main__own_storm": 0.02}, "tight", "Its water then stands"),
    ({"main__diameter": 0.3, "main__slope": 0.01, "main__own_flow": 0.01, "main__own_storm": 0.02, "main__invert": 28.0}, "holds", "stays under the pipe"),
    ({"main__diameter": 0.3, "main__slope": 0.01, "main__own_flow": 0.01, "main__own_storm": 0.02, "main__invert": 28.0, "main__filled": 0.8}, "fails", "runs over"),
])  # fmt: skip
def test_a_main_is_said_to_take_it_only_beside_what_it_carries_itself(figures, state, says):
    job = job_with(demo_job(), ROOF, kind=MAIN, **figures)
    finding = found(job, "takes-it", "r2")
    assert finding.state == state and says in worded(finding, job).reason


def test_a_main_in_a_storm_stands_as_deep_as_all_of_its_water_makes_it():
    job = job_with(demo_job(), ROOF, kind=MAIN, main__diameter=0.3, main__slope=0.01, main__own_flow=0.01, main__own_storm=0.03)
    part = through_pipes(assess(job), BURST, 6).part_of("r2")
    leaves, own_at = part.left_by("n4"), np.interp(part.routed.times, [0, 1800, 3600], [0.01, 0.03, 0.01])
    level, deepest = part.routed.highest[part.nodes["n4"]] - value_at(job, "runs.r2.invert"), float((leaves + own_at).max())
    assert level == pytest.approx(pipe_partial_flow(0.3, 0.013, 0.01, deepest).depth, rel=0.03)
    area = next(w.figure.arguments["area"] for w in assess(job).site.brought if w.source.node in part.nodes)
    assert float(leaves @ part.routed.lengths) == pytest.approx(0.95 * 0.02 * area, rel=0.02) and part.routed.off < 1e-6  # none of the main's own


def test_a_dry_well_fills_and_empties_by_its_voids_and_its_soil():
    """The peak is judged once the storm was followed; what is left soaks away as the published formula of a hole that empties says (ILRI 16)."""
    well = {"soaks__percolation": 1e-5, "soaks__area": 2.0, "soaks__depth": 1.0}
    job = job_with(demo_job(), ROOF, kind=DRY_WELL, **well)
    assert found(job_with(demo_job(), ROOF, kind=DRY_WELL), "takes-it", "r2").case == "well" and found(job, "takes-it", "r2").case == "waits"
    part = through_pipes(assess(job), Storm("short", OWN, 0.004, 600.0, 600.0, (0.004,)), 72).part_of("r2")
    floor = value_at(job, "runs.r2.invert") - 1.0
    depth = part.routed.level[:, part.nodes["n4"]].astype(float) - floor
    falls = np.nonzero((part.routed.kept > 3600) & (depth > 0.1) & (depth < 0.95))[0]
    radius, a, b = math.sqrt(2.0 / math.pi), depth[falls[0]], depth[falls[-1]]
    assert part.routed.kept[falls[-1]] - part.routed.kept[falls[0]] == pytest.approx(dry_well(radius, a, b, 1e-5, 0.4).time, rel=0.02)
    assert part.routed.off < 1e-6 and float(part.left_by("n4") @ part.routed.lengths) == pytest.approx(part.routed.came, rel=0.02)
    for share, rate, state in ((20.0, 2e-5, "holds"), (20.0, 1e-7, "tight"), (0.05, 2e-5, "fails")):
        larger = job_with(job, ROOF, soaks__area=2.0 * share, soaks__percolation=rate)
        told = {(f.code, f.subject): f for f in carrying_findings(assess(larger))}
        assert told["takes-it", "r2"].state == state, (share, rate)
    table = job_with(job, ROOF, soaks__area=40.0, soaks__percolation=2e-5, soaks__water_table=floor + 0.99)
    assert {(f.code, f.subject): f for f in carrying_findings(assess(table))}["takes-it", "r2"].state == "fails"  # only the last of it is left to fill


def test_water_outside_an_outlet_rises_with_the_storm_and_a_flap_keeps_it_out():
    invert = value_at(demo_job(), "runs.r2.invert")
    job = job_with(demo_job(), ROOF, kind=BASIN_WALL, water_level=invert - 0.2, storm_level=invert + 0.3)
    assert (told := found(job, "outlet-level", "r2")).state == "tight" and "In a storm" in worded(told, job).reason
    through = {flap: through_pipes(assess(with_value(job, f"{ROOF}.mouth.flap", flap)), Storm("drizzle", OWN, 1e-4, 3600.0, 3600.0, (1e-4,)), 6).part_of("r2") for flap in (False, True)}
    low, shut = (part.routed.highest[part.nodes["n4"]] for part in through.values())
    assert low == pytest.approx(invert + 0.3, abs=0.01) and shut < invert + 0.3 and through[False].left_by("n4").min() < -1e-6 < through[True].left_by("n4").min()
    assert through[True].routed.level[-1, through[True].nodes["n4"]] < invert + 0.05  # both let go when it has fallen
    assert found(with_value(job, f"{ROOF}.storm_level", invert - 0.1), "outlet-level", "r2").state == "holds"


def test_a_small_mouth_holds_the_water_back_over_the_ground():
    """Swept from wide to narrow, the room under the rims only shrinks, and where it is gone the finding says so, though the pipe is large enough."""
    job, rooms = pattern("swale").job(), []
    outlet = f"nodes.{job.runs[0].nodes[0]}.outlet"
    for across in (0.15, 0.1, 0.07, 0.055, 0.045):
        finding = found(with_value(job, f"{outlet}.mouth.across", across), "over-ground", job.runs[0].id)
        rooms.append(finding.value)
        assert (finding.state == "fails") == (finding.value < 0)
        for fix in finding.fixes:
            assert found(fix.made(with_value(job, f"{outlet}.mouth.across", across)), "over-ground", job.runs[0].id).state == "holds"
    assert rooms == sorted(rooms, reverse=True) and rooms[0] > 0.2 and rooms[-1] < 0 and [f.code for f in finding.fixes] == ["open-mouth"]


def test_a_pipe_too_small_may_lie_twice_and_then_holds():
    job = with_value(pattern("swale").job(), "runs.r1.pipe", "pvc-thick-75")
    finding = found(job, "capacity", "r1")
    (more,) = (fix for fix in finding.fixes if fix.code == "more-pipes")
    one_less = with_value(job, "runs.r1.pipes", more.facts["count"] - 1)
    assert [found(j, "capacity", "r1").state == "fails" for j in (job, one_less, more.made(job))] == [True, True, False]


def test_what_rests_under_a_rim_and_how_it_goes():
    job = pattern("uphill").job()
    run, outlet = job.runs[0].id, f"nodes.{job.runs[0].nodes[0]}.outlet"
    assert value_at(job, f"{outlet}.kind") == GRATE_RISER and found(job, "rest-water", run).case == "stays"
    invert = job.runs[0].invert
    for rate, table, state, case in ((1e-7, None, "tight", "soaks"), (1e-4, None, "holds", "soaks"), (1e-4, invert + 0.1, "tight", "table")):
        told = found(job_with(job, outlet, soaks__percolation=rate, soaks__water_table=table), "rest-water", run)
        assert (told.state, told.case) == (state, case)
    lower = found(with_value(job, f"{outlet}.rise", 0.1), "rest-water", run)
    assert lower.facts["length"].value < found(job, "rest-water", run).facts["length"].value / 2


def test_a_grate_takes_what_it_can_and_the_rest_runs_to_the_next_box():
    """By the finding, whose fixes cure, and in the storm: less gets in through a grate that leaves cover, more stands in its bowl, and no drop is lost."""
    job = pattern("swale").job()
    top = next(n for n in job.nodes if n.name == "box 4")
    assert found(job, "grate", job.runs[0].id).state == "holds"
    over = job_with(job, f"nodes.{top.id}", grate__clear=0.1, basin__size=0.2032, grate__bowl_depth=0.01)
    finding = found(over, "grate", job.runs[0].id)
    assert finding.state == "fails" and finding.piece == top.id and {fix.code for fix in finding.fixes} >= {"deepen-bowl"}
    for fix in finding.fixes:
        assert found(fix.made(over), "grate", job.runs[0].id).state != "fails"
    flat = with_value(job, f"nodes.{top.id}.grate.bowl_depth", 0.0)
    assert found(flat, "grate", job.runs[0].id).case == "flat" and found(job_with(job, f"nodes.{top.id}", basin__size=None), "grate", job.runs[0].id).case == "size"
    burst = Storm("cloudburst", OWN, 0.06, 1800.0, 600.0, (0.02, 0.03, 0.01))
    plain, shut, choked = (through_pipes(assess(j), burst, 6).parts[0] for j in (job, with_value(job, f"nodes.{top.id}.grate.clear", 0.02), over))
    assert shut.pond(top.id)[0] > plain.pond(top.id)[0] and shut.pond(top.id)[1] > plain.pond(top.id)[1] > 0
    assert [s.node for s in choked.spills][:1] == [top.id] and choked.spills[0].leads and max(p.routed.off for p in (plain, choked)) < 1e-9
    covered = through_pipes(assess(with_value(over, "limits.grate_blocked", 0.95)), burst, 6).parts[0]
    assert next(s for s in covered.spills if s.node == top.id).volume > choked.spills[0].volume


def test_the_storm_findings_ask_wells_again_and_nothing_else_than_what_waits():
    outcome = assess(job_with(demo_job(), ROOF, kind=DRY_WELL, soaks__percolation=1e-4, soaks__area=40.0))
    assert asked_again(outcome, "takes-it", outcome.run("r2")).case == "waits" and storm_named(outcome.job, "design storm") is not None
    codes = {(f.code, f.subject) for f in carrying_findings(outcome, only_waiting=True)}
    assert ("takes-it", "r2") in codes


def test_each_exit_and_inlet_is_plugged_alone_and_a_ring_with_three_exits_stands_it(capsys):
    """By the command: a swale's boxes run on to the next below, its only exit floods it; what cannot be plugged is not asked."""
    from weirant.cli.main import main

    assert main(["flow", "pattern:swale", "--storm", "design storm", "--plug", "each"]) == 1
    lines = capsys.readouterr().out.splitlines()
    assert "5 of 5" in lines[0] and "swale line plugged: " in "\n".join(lines) and "from box 4 to box 3" in "\n".join(lines)
    assert main(["flow", "pattern:footing", "--storm", "design storm", "--plug", "each"]) == 0 and "with none of the 3" in capsys.readouterr().out
    assert main(["flow", "pattern:footing", "--plug", "each"]) == 2 and "--storm" in capsys.readouterr().err


def test_a_low_spot_fills_and_empties_through_its_inlet():
    """A shallow dish of 10 m round the top box, as shot: with its grate nearly shut the rain stands in it, no deeper than its rim, and goes down again; the
    depth is that of the volume over the dish (its cone is taken as a prism of the same volume)."""
    job = pattern("swale").job()
    top = next(n for n in job.nodes if n.name == "box 4")
    reach, deep = 10.0, 0.3
    ground = next(f.grade for f in assess(job).site.runs).ground[-1]
    round_it = np.linspace(0, 2 * math.pi, 16, endpoint=False).tolist()
    ring = [(top.x + r * math.cos(a), top.y + r * math.sin(a), float(ground) + level) for r, level in ((reach, deep), (14.0, deep - 0.05)) for a in round_it]
    far = (p for p in job.points if math.hypot(p.x - top.x, p.y - top.y) > 16)
    points = (*far, SitePoint("dish", top.x, top.y, float(ground)), *(SitePoint(f"d{k}", *place) for k, place in enumerate(ring)))
    dish = assess(job_with(dataclasses.replace(job, points=points), f"nodes.{top.id}", grate__clear=0.005, basin__size=0.2032, rim=float(ground)))
    burst = Storm("cloudburst", OWN, 0.18, 1800.0, 600.0, (0.06, 0.09, 0.03))
    part = through_pipes(dish, burst, 24).parts[0]
    deepest, stands = part.pond(top.id)
    assert 0.06 < deepest < deep + 0.01 and 3600 < stands < 86400 and not any(s.node == top.id for s in part.spills) and part.routed.off < 1e-9
    flat = through_pipes(assess(job_with(job, f"nodes.{top.id}", grate__clear=0.005, basin__size=0.2032)), burst, 24).parts[0]
    assert next(s for s in flat.spills if s.node == top.id).volume > 1 and flat.pond(top.id)[0] < deepest + 0.02


@pytest.mark.parametrize(("rate", "upper"), [(2e-5, False), (4e-4, True)])
def test_pipes_in_one_stone_take_the_lower_ones_first(rate, upper):
    """Two below share alike whatever each would have collected by itself; the one above takes nothing until water stands at its openings. Nothing is lost."""
    outcome = assess(pattern("three-pipes").job())
    ground = {(f.id, part.of.station): Hydrograph(np.array([0.0, 7200.0, 7201.0]), np.array([0.0, 7200.0, 7200.0]) * (rate if f.run.run.name == "lower left" else 0.0))
              for f in outcome.site.runs for part in f.water.parts}  # fmt: skip
    (part,) = through_pipes(outcome, BURST, 6, ground=ground).parts
    flows = {f.run.run.name: float(np.abs(part.runs[f.id].most(part.routed, np.array([f.run.length * 0.2 + (24 * 0.3048 if f.run.run.name == "lower left" else 0)]))[0]))
             for f in outcome.site.runs}  # fmt: skip
    assert flows["lower left"] == pytest.approx(flows["lower right"], rel=0.1) and flows["lower right"] > 0 and part.routed.off < 1e-9
    assert (flows["upper"] > 1e-6) == upper and flows["upper"] < 1.01 * flows["lower right"]


def test_a_blocked_roof_entry_spills_all_of_its_roof_over_the_ground():
    top = value_at(demo_job(), "sources.w1.node")
    job = with_value(with_value(demo_job(), f"nodes.{top}.kind", "roof entry"), f"nodes.{top}.name", "downspout")
    outcome = assess(job)
    open_, shut = (through_pipes(outcome, BURST, 6, plugged=plugged).part_of("r2") for plugged in ((), (top,)))
    assert not open_.spills and [s.node for s in shut.spills] == [top] and shut.spills[0].volume == pytest.approx(open_.routed.came, rel=0.01)
    assert top in can_be_plugged(outcome)


def test_more_water_wants_larger_stone_at_the_outlet_and_none_wants_none():
    job, told = pattern("eave").job(), []
    for factor in (0.01, 1.0, 40.0):
        sources = tuple(dataclasses.replace(s, area=None if s.area is None else s.area * factor, share=s.share) for s in job.sources)
        told.append(next((f for f in assess(dataclasses.replace(job, sources=sources)).findings if f.code == "erosion"), None))
    assert told[0] is None and told[1].state == "holds" and told[2].state == "tight" and told[2].value > 10 * told[1].value


def test_nothing_is_said_of_water_over_the_ground_above_what_may_hold_it_back_unknown():
    """Of the run into it and of those that come into that run: a well or main not measured, a well in the storm that was not followed yet."""
    def told(job, run):
        return [f for f in assess(job).findings if (f.code, f.subject) == ("over-ground", run)]

    demo = demo_job()
    assert told(demo, "r3") and told(demo, "r4")  # which comes into it
    for kind, figures in ((DRY_WELL, {}), (MAIN, {}), (MAIN, {"main__diameter": 0.3, "main__slope": 0.01})):
        unknown = job_with(demo, "nodes.n7.outlet", kind=kind, **figures)
        assert not told(unknown, "r3") and not told(unknown, "r4") and told(unknown, "r1")
    measured = job_with(demo, "nodes.n7.outlet", kind=MAIN, main__diameter=0.3, main__slope=0.01, main__own_flow=0.001)
    assert told(measured, "r3") and told(measured, "r4")
    well = job_with(demo, "nodes.n7.outlet", kind=DRY_WELL, soaks__percolation=1e-4, soaks__area=9.0)
    assert [f.case for run in ("r3", "r4") for f in told(well, run)] == ["waits", "waits"]
    followed = {(f.code, f.subject): f for f in carrying_findings(assess(well))}
    assert {str(followed["over-ground", run].state) for run in ("r3", "r4")} == {"holds"}
    alone = {(f.code, f.subject): f for f in carrying_findings(assess(job_with(demo, ROOF, kind=DRY_WELL, soaks__percolation=1e-4, soaks__area=9.0)))}
    assert alone["takes-it", "r2"].state == "holds" and not told(job_with(demo, ROOF, kind=DRY_WELL, soaks__percolation=1e-4), "r2")  # nothing is open along the roof's pipe
    nothing = job_with(dataclasses.replace(demo, sources=(dataclasses.replace(demo.sources[0], area=None, thing=""),)), ROOF, kind=DRY_WELL, soaks__percolation=1e-4)
    assert found(nothing, "takes-it", "r2").case == "missing"  # and is not said to be worked out


def test_limits_have_a_case_on_either_side():
    """A main by what comes on top of its own, a well that backs up under the ground, roof water that soaks out, stone at an outlet."""
    measured = {"kind": MAIN, "main__diameter": 0.3, "main__slope": 0.01, "main__own_flow": 0.001, "main__invert": 26.0}
    ours = assess(job_with(demo_job(), ROOF, **measured)).site.exits["n4"].discharge
    room = pipe_full_flow(0.3, 0.013, 0.01).discharge - ours
    assert [found(job_with(demo_job(), ROOF, **measured, main__own_storm=room + by), "takes-it", "r2").state == "fails" for by in (-0.2 * ours, 0.2 * ours)] == [False, True]
    seen = set()
    for area in np.geomspace(0.05, 40.0, 12):  # ever larger: over the ground, into the pipe, under it
        job = job_with(demo_job(), ROOF, kind=DRY_WELL, soaks__percolation=1e-4, soaks__area=float(area), soaks__depth=1.0)
        seen.add({(f.code, f.subject): f for f in carrying_findings(assess(with_value(job, "runs.r2.invert", 28.3)))}["takes-it", "r2"].case)
    assert {"well-over", "well-backs", "well-holds"} <= seen
    mixed = assess(with_value(demo_job(), "sources.w1.node", "n3"))
    told = next(f for f in mixed.findings if f.code == "gives-back")
    assert told.limit == pytest.approx(0.1 * told.facts["comes"].value) and (told.state == "tight") == (told.value > told.limit)
    stones = {}
    for factor in (1.0, 1.5, 2.0, 2.5, 3.0, 4.0):
        eave = pattern("eave").job()
        wide = dataclasses.replace(eave, sources=tuple(dataclasses.replace(s, area=None if s.area is None else s.area * factor) for s in eave.sources))
        stone = next(f for f in assess(wide).findings if f.code == "erosion")
        stones[stone.value] = str(stone.state)
    assert {state for size, state in stones.items() if size > 0.05} == {"tight"} and {state for size, state in stones.items() if size <= 0.05} == {"holds"}


def test_a_pit_counts_as_empty_when_a_tenth_of_its_rise_is_left_also_after_what_was_looked_at():
    job = job_with(demo_job(), ROOF, kind=DRY_WELL, soaks__percolation=1e-5, soaks__area=2.0, soaks__depth=1.0)
    outcome, short = assess(job), Storm("short", OWN, 0.004, 600.0, 600.0, (0.004,))
    soaks = outcome.site.outlets["n4"].soaks
    long, cut = (through_pipes(outcome, short, hours).part_of("r2") for hours in (72, 3))
    level = long.routed.level[:, long.nodes["n4"]].astype(float)
    left = np.nonzero(level > level[0] + 0.1 * (level.max() - level[0]))[0][-1]
    assert long.filled("n4", soaks, 600.0).empties == pytest.approx(long.routed.kept[left + 1] - 600, abs=800)
    assert cut.filled("n4", soaks, 600.0).empties == pytest.approx(long.filled("n4", soaks, 600.0).empties, rel=0.05)  # in closed form from there on
    assert long.filled("n4", soaks, 600.0).empties > 3 * 3600


@pytest.mark.parametrize("openings", ["down", "all round"])
def test_rows_take_in_what_is_over_them_and_the_level_for_an_inflow_is_that_of_scipy(openings):
    pipe = next(p for p in shipped().pipes.values() if p.openings == openings and p.open_area_per_length > 0)
    rows = rows_of(demo_job(), pipe)
    assert takes(rows, rows[0].height * 0.99, 0.5) == 0.0 < takes(rows, rows[0].height * 1.01, 0.5) and sum(row.area for row in rows) == pytest.approx(pipe.open_area_per_length)
    wanted = 0.3 * takes(rows, pipe.inner_diameter, 0.5)
    level = level_for(rows, wanted, 0.5, pipe.inner_diameter)

    def over(h):
        return sum(0.6 * row.area * 0.5 * math.sqrt(2 * 9.80665 * max(h - row.height, 0.0)) for row in rows) - wanted

    assert level == pytest.approx(brentq(over, 0.0, pipe.inner_diameter), abs=1e-5) and level_for(rows, 2 * takes(rows, 0.2, 0.5), 0.5, 0.2) is None


def test_water_in_the_soil_close_under_a_rim_is_tight():
    job = pattern("swale").job()
    outlet, states = f"nodes.{job.runs[0].nodes[0]}.outlet", {}
    for across in np.linspace(0.075, 0.12, 46):
        told = found(with_value(job, f"{outlet}.mouth.across", float(across)), "over-ground", job.runs[0].id)
        states[told.value] = str(told.state)
    assert {"fails", "tight", "holds"} == set(states.values())
    assert all(state == ("fails" if room < -1e-3 else "tight" if room < 0.0508 else "holds") for room, state in states.items())
