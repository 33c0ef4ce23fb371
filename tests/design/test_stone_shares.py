"""Groundwater in the stone of one trench: one water for all pipes in it, the lower ones first."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laying import one
from weirant.design.assess import assess
from weirant.design.hydrographs import Hydrograph
from weirant.design.patterns import pattern
from weirant.design.stone_shares import AT_ONCE, allotted
from weirant.design.through_pipes import through_pipes
from weirant.ground.in_place import in_place
from weirant.job.paths import with_value
from weirant.job.rain import OWN, Storm
from weirant.library import shipped

JOB = pattern("three-pipes").job()
LEVELS = st.lists(st.tuples(st.floats(0, 0.3), st.floats(1e-6, 1e-2)), min_size=1, max_size=5)


@given(comes=st.floats(1e-7, 1e-1), takers=LEVELS)
def test_all_that_comes_is_taken_the_lower_first_and_none_beyond_what_it_carries_while_another_has_room(comes, takers):
    takes = allotted(comes, takers)
    assert sum(takes) == pytest.approx(comes) and min(takes) >= 0
    is_full = comes > sum(carries for _, carries in takers)
    for (level, carries), take in zip(takers, takes, strict=True):
        assert take <= carries * (1 + 1e-9) or is_full
        if take > 1e-12 * comes and not is_full:  # all that lie surely lower carry all they can
            assert all(other == pytest.approx(can) for (at, can), other in zip(takers, takes, strict=True) if at < level - AT_ONCE)


@pytest.mark.parametrize(("lift", "shares"), [(0.0, [1 / 3] * 3), (AT_ONCE - 1e-4, [1 / 3] * 3), (AT_ONCE + 1e-4, [1 / 2, 1 / 2, 0]), (0.1, [1 / 2, 1 / 2, 0])])
def test_three_pipes_share_by_the_height_of_their_openings(lift, shares):
    """Both sides of two centimetres; what leaves is what the one alone would draw that draws most, and once."""
    section = JOB.sections[0]
    raised = dataclasses.replace(section, bores=(*section.bores[:2], dataclasses.replace(section.bores[2], height=lift)))
    outcome = assess(in_place(dataclasses.replace(JOB, sections=(raised,)), shipped()))
    told = outcome.site.stone_shares
    assert [told[f.id].share for f in outcome.site.runs] == pytest.approx(shares, rel=1e-4)
    alone = [sum(s.rate * s.of.length for s in f.water.inflow_high.seeps) + f.water.storm_flow for f in outcome.site.runs]
    leaves = sum(steady.discharge for steady in outcome.site.exits.values())
    assert leaves == pytest.approx(max(alone), rel=1e-6) and leaves < 0.6 * sum(alone)
    upper = one(outcome, "shares-stone", "r3")
    assert (upper.state, upper.case) == ("holds", "spare" if shares[2] == 0 else "")
    assert {f.subject for f in outcome.findings if f.code == "shares-stone"} == {"r1", "r2", "r3"}


def test_what_the_lower_ones_cannot_carry_comes_to_the_upper_and_a_pipe_of_its_own_trench_takes_its_own():
    wet = with_value(with_value(JOB, "water.drainage_rate", 4e-6), "runs.r1.slope", 0.0006)
    for run in ("r1", "r2"):
        wet = with_value(wet, f"runs.{run}.pipe", "corrugated-75")
    outcome = assess(in_place(wet, shipped()))
    told = outcome.site.stone_shares
    carries = [f.flow_high.capacity for f in outcome.site.runs]
    over = max(told["r1"].comes - carries[0] - carries[1], 0.0)
    assert over > 0 and told["r3"].share * told["r3"].comes == pytest.approx(min(over, carries[2]), rel=0.3)
    apart = assess(dataclasses.replace(JOB, runs=tuple(dataclasses.replace(r, trench_of="", bore="") for r in JOB.runs)))
    assert not apart.site.stone_shares and not [f for f in apart.findings if f.code == "shares-stone"]


def test_in_a_storm_it_is_one_water_too():
    """Whatever each was worked out to draw by itself, into the stone comes what the one draws that draws most."""
    outcome, burst = assess(JOB), Storm("burst", OWN, 0.02, 1800.0, 600.0, (0.005, 0.01, 0.005))
    came = {}
    for drawing in (("r1",), ("r3",), ("r1", "r2", "r3")):
        ground = {(f.id, part.of.station): Hydrograph(np.array([0.0, 7200.0, 7201.0]), np.array([0.0, 7200.0, 7200.0]) * (2e-5 if f.id in drawing else 0.0))
                  for f in outcome.site.runs for part in f.water.parts}  # fmt: skip
        (part,) = through_pipes(outcome, burst, 6, ground=ground).parts
        came[drawing] = part.routed.came
    length = outcome.run("r1").run.collecting_length
    assert all(volume == pytest.approx(2e-5 * 7200 * length, rel=0.05) for volume in came.values())
