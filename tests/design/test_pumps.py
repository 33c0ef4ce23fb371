"""Pumps in pits: where they work against the published formula in other units, their cycles against the closed form, and the pit through a storm."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from scipy.optimize import brentq

from weirant.design.assess import assess
from weirant.design.demo import demo_job
from weirant.design.pumps import works_at
from weirant.design.storms import storm_named
from weirant.design.through_pipes import through_pipes
from weirant.errors import JobFileError
from weirant.formats.job_file import from_text, to_text
from weirant.formats.pump_csv import read_pump_curve
from weirant.hydraulics.pit_cycles import pit_cycles
from weirant.job.network import OPEN_PIPE, PUMP_PIT, PUMPED_ON, Pump, PumpPoint
from weirant.job.paths import value_at, with_value
from weirant.job.removal import without_run
from weirant.methods.pumps import sump
from weirant.outcome.finding import State
from weirant.words.findings import worded

FT, GPM, INCH = 0.3048, 3.785411784e-3 / 60, 0.0254
NODE = "nodes.n1.outlet"


def pumped(**pump):
    """The demo, its slab drain ending in a pit; the floor lies 2 ft under the pipe."""
    job = with_value(demo_job(), f"{NODE}.kind", PUMPED_ON)
    for name, value in {"lets_go_at": 30.5, **pump}.items():
        job = with_value(job, f"{NODE}.pump.{name}", value)
    return job


def found(job, code):
    return next(f for f in assess(job).findings if f.code == code)


@pytest.mark.parametrize(("lift", "length", "inches", "pumps"), [(5, 40, 2, 1), (15, 40, 1.5, 1), (2, 400, 1.25, 1), (20, 10, 3, 2), (0, 5, 2, 1)])
def test_a_pump_works_where_its_curve_meets_its_pipe(lift, length, inches, pumps):
    """Hazen–Williams in US units, h ft = 10.44 L Q^1.85 / (C^1.85 d^4.8655) with Q gpm and d in (handbooks, recalled), and 5 velocity heads; by brentq."""
    points = [(0.0, 25.0), (20.0, 18.0), (35.0, 8.0)]
    pump = Pump(curve=tuple(PumpPoint(q * GPM, h * FT) for q, h in points), main_diameter=inches * INCH, main_length=length * FT, pumps=pumps)

    def over(q):
        head = np.interp(q / pumps, *zip(*points, strict=True)) if q / pumps <= 35 else 8 - (q / pumps - 35) * 10 / 15
        speed = q * GPM / FT**3 / (np.pi * (inches / 12) ** 2 / 4)
        return head - lift - 10.44 * length * q**1.85 / (140**1.85 * inches**4.8655) - 5 * speed**2 / 64.35

    discharge, head = works_at(pump, lift * FT)
    assert discharge / GPM == pytest.approx(brentq(over, 0.01, 200), rel=0.005) and head > lift * FT
    assert works_at(pump, 25.1 * FT) == (None, None)


@pytest.mark.parametrize("share", [0.05, 0.3, 0.5, 0.9])
def test_cycles_start_by_start_are_those_of_the_closed_form(share):
    """Geometry: V/q + V/(Q − q). Half of what it lifts gives the most starts; without power there are none."""
    lifts, volume, ends = 1.5e-3, 0.05, np.array([100.0, 9000.0, 400_000.0])
    wanted, comes = sump(share * lifts, lifts, 0.2, 0.35, 0.1), np.full(3, share * lifts)
    cycles = pit_cycles(ends, comes, volume, lifts)
    assert np.diff(cycles.starts) == pytest.approx(wanted.cycle_time) and (cycles.stops - cycles.starts)[:-1] == pytest.approx(wanted.run_time)
    assert cycles.most_in_an_hour in (np.floor(wanted.starts_per_hour), np.ceil(wanted.starts_per_hour)) and cycles.lifted == pytest.approx(share * lifts * 4e5, abs=volume)
    halted = pit_cycles(ends, comes, volume, lifts, idle=(50_000.0, 90_000.0))
    assert not ((halted.starts > 50_000) & (halted.starts < 90_000)).any() and halted.lifted == pytest.approx(cycles.lifted, abs=2 * volume if share < 0.9 else 10)
    assert pit_cycles(ends, comes * 0, volume, lifts).run_time == 0


def test_the_pit_lifts_a_storm_floods_without_power_and_leads_into_another_run():
    job = pumped()
    outcome, storm = assess(job), storm_named(job, "cloudburst")
    part = through_pipes(outcome, storm, 48).part_of("r1")
    cycles, routed = part.pumps["n1"], part.routed
    assert routed.off < 1e-9 and routed.lifted == pytest.approx(routed.came, rel=0.02) and cycles.lifted == pytest.approx(routed.lifted, rel=0.02)
    assert len(cycles.starts) > 100 and not part.spills and cycles.most_in_an_hour <= np.ceil(outcome.site.pumps["n1"].starts_per_hour(1.0))
    dark = through_pipes(outcome, storm, 48, power_cut=(0, 12 * 3600)).part_of("r1")
    assert dark.routed.spilled > 1 and dark.spills[0].node == "n1" and dark.routed.off < 1e-9 and not (dark.pumps["n1"].starts < 12 * 3600).any()
    kept = through_pipes(assess(pumped(battery=13 * 3600.0)), storm, 48, power_cut=(0.0, 12 * 3600.0)).part_of("r1")
    assert kept.routed.spilled == 0
    shut = through_pipes(outcome, storm, 48, plugged=["n1"]).part_of("r1")  # neither drains nor lifts
    assert shut.routed.lifted == 0 and shut.routed.spilled > dark.routed.spilled and shut.pumps == {}
    two = with_value(with_value(pumped(battery=13 * 3600.0, leads="n7"), "nodes.n7.outlet.kind", PUMPED_ON), "nodes.n7.outlet.pump.lets_go_at", 30.5)
    each = through_pipes(assess(two), storm, 48, power_cut=(0.0, 12 * 3600.0)).part_of("r1").pumps  # one with a battery, one without
    assert (each["n1"].starts < 12 * 3600).any() and not (each["n7"].starts < 12 * 3600).any() and len(each["n7"].starts)
    joined = assess(pumped(leads="n6"))  # into the top of the roof line
    both = through_pipes(joined, storm, 48)
    assert both.part_of("r1") is both.part_of("r2") and both.part_of("r2").routed.left == pytest.approx(routed.came + 6.4562, rel=0.02)
    duty = joined.site.pumps["n1"].discharge
    assert joined.run("r2").flow_high.discharge.max() == pytest.approx(outcome.run("r2").flow_high.discharge.max() + duty)  # the pipe takes all of it while it runs


def test_findings_of_a_pump_name_what_is_wrong():
    sound = {f.code: f.state for f in assess(pumped(freeze_relief=True)).findings}
    assert [sound[code] for code in ("pump", "pump-floats", "pump-pipe", "pump-way")] == [State.HOLDS] * 4
    low = found(pumped(lets_go_at=40.0), "pump")
    assert low.state == State.FAILS and "lifts none" in worded(low, pumped()).reason
    weak = (PumpPoint(0.0, 5.0), PumpPoint(5e-5, 0.5))
    assert found(pumped(curve=weak), "pump").state == State.FAILS and "floods" in worded(found(pumped(curve=weak), "pump"), pumped()).reason
    narrow = with_value(pumped(), "nodes.n1.basin.size", 0.25)
    starts = found(narrow, "pump-starts")
    assert starts.state == State.FAILS and starts.value > 15
    assert found(with_value(pumped(), "nodes.n1.basin.size", 1.5), "pump-starts").state == State.HOLDS
    assert found(pumped(starts=0.9), "pump-floats").state == State.TIGHT and found(pumped(main_diameter=0.03, main_length=2.0, pumps=4), "pump-pipe").case == "quick"
    both = with_value(with_value(pumped(leads="n9"), "nodes.n7.outlet.kind", PUMPED_ON), "nodes.n7.outlet.pump.leads", "n3")
    assert [f.state for f in assess(both).findings if f.code == "pump-way"] == [State.FAILS] * 2  # each into the drain of the other
    drowned = through_pipes(assess(with_value(pumped(), "nodes.n1.basin.sump", None)), storm_named(demo_job(), "cloudburst"), 12).part_of("r1")
    assert drowned.routed.spilled > 1 and len(drowned.pumps["n1"].starts) == 0 == drowned.routed.lifted  # it starts a foot over the rim
    round_and_round = found(pumped(leads=demo_job().runs[0].nodes[-1]), "pump-way")
    assert round_and_round.state == State.FAILS and "its own pit" in worded(round_and_round, pumped()).reason
    assert found(pumped(battery=7 * 3600.0), "pump-power").state == State.HOLDS and found(pumped(), "pump-power").state == State.TIGHT


def test_a_pump_comes_and_goes_with_its_pit_and_is_kept_in_the_file():
    job = pumped(leads="n6")
    assert value_at(job, "nodes.n1.kind") == PUMP_PIT and value_at(job, "nodes.n1.basin.sump") == pytest.approx(0.6096) and from_text(to_text(job), "it") == job
    away = with_value(job, f"{NODE}.kind", OPEN_PIPE)
    assert (value_at(away, f"{NODE}.pump"), value_at(away, "nodes.n1.kind"), value_at(away, "nodes.n1.basin")) == (None, "plain", None) and from_text(to_text(away), "it") == away
    gone = without_run(job, "r2")
    assert value_at(gone.job, f"{NODE}.pump.leads") == "" and any("then leads nowhere" in words for words in gone.with_it)
    for wrong in ({"starts": 0.05}, {"curve": (PumpPoint(0.0, 2.0),)}, {"pumps": 9}, {"leads": "n1"}):
        node = next(n for n in job.nodes if n.id == "n1")
        bad = dataclasses.replace(node, outlet=dataclasses.replace(node.outlet, pump=dataclasses.replace(node.outlet.pump, **wrong)))
        with pytest.raises(JobFileError, match=f"pump.{next(iter(wrong))}"):
            from_text(to_text(dataclasses.replace(job, nodes=tuple(bad if n.id == "n1" else n for n in job.nodes))), "it")


@pytest.mark.parametrize(("text", "says"), [
    ("discharge_gpm,head_ft\n0,25\n20,18\n35,8\n", ""), ("Head_m;Discharge_l_per_s\n7,6;0\n5,5;1,26\n2,4;2,2\n", ""), ("head_ft,discharge_gpm\n8,35\n25,0\n18,20\n", ""),
    ("", "holds no pump curve"), ("discharge,head\n0,25\n20,18\n", "cannot be told"), ("discharge_gpm,head_ft\n0,25\n20,30\n", "falling head"),
    ("discharge_gpm,head_ft\n0,25\n", "two points"), ("discharge_gpm,head_ft\n0,25\n20\n", "line 3"), ("discharge_gpm,head_ft\n0,25\nnan,18\n", "line 3"),
    ("discharge_gpm,head_m\n0,900\n20,18\n", "look at its units"), ("discharge_gpm,head_ft\n" + "".join(f"{k},{90 - k}\n" for k in range(60)), "at most 40"),
])  # fmt: skip
def test_a_pump_curve_is_read_from_csv_or_refused_with_the_line(text, says):
    if says:
        with pytest.raises(JobFileError, match=says):
            read_pump_curve(text, "pump.csv")
        return
    curve = read_pump_curve(text, "pump.csv")
    assert [p.discharge for p in curve] == pytest.approx([0, 20 * GPM, 35 * GPM], rel=0.01) and [p.head for p in curve] == pytest.approx([25 * FT, 18 * FT, 8 * FT], rel=0.02)
