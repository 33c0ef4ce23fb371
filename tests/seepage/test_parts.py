"""Parts of the simulator by themselves: soil curves, grid, mesh, kernel, what is read off."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from scipy.linalg import solve_banded

from weirant.design.across import section_at
from weirant.design.assess import assess
from weirant.errors import InputError, SolverError
from weirant.job.paths import with_value
from weirant.seepage.flow import Flow, at_rest, state_of
from weirant.seepage.grid import USUAL, Fineness, graded, grid_of
from weirant.seepage.kernel.band import solve_band
from weirant.seepage.kernel.curves import head_at, storage_and_permeability
from weirant.seepage.kernel.step import intake
from weirant.seepage.medium import SPECIFIC_STORAGE, Medium, stone
from weirant.seepage.mesh import WORK, lay_out
from weirant.seepage.rain import steady_rain
from weirant.seepage.results import depth_to_water, table_depths
from weirant.seepage.section import Cover, Cut, Opening, Section, Stratum

LOAM = Medium("loam", 1e-5, 0.078, 0.43, 3.6, 1.56)
CLAY = Medium("clay", 5e-8, 0.068, 0.38, 0.8, 1.09)
STONE = stone("stone", 0.05, 0.4)
SECTION = Section(8.0, 6.0, 1.4, 0.05, (Stratum(LOAM, 0.3), Stratum(CLAY, 1.4)), Cut(0.3, 0.8, 0.45, STONE, LOAM, Opening(0.12, 0.75, 0.01, 0.12, 0.02, 0.0013)),
                  (Cover(2.0, 2.3, 0.5), Cover(2.3, 6.0)), upper_table=0.2, runs_on=True)  # fmt: skip


@pytest.mark.parametrize("medium", [LOAM, CLAY, STONE], ids=lambda m: m.name)
def test_kernel_curves_are_those_of_the_medium_with_their_true_slopes(medium):
    row = medium.row()
    for head in (-5.0, -1.0, -0.3, -0.05, -0.021, -0.004):
        content, capacity, kr, steep = storage_and_permeability(head, row)
        if head < medium.entry:
            assert content == pytest.approx(float(medium.content(head)), rel=1e-10) and kr == pytest.approx(float(medium.permeability(head)), rel=1e-9)
            e = 1e-6 * abs(head)
            above, below = (storage_and_permeability(head + s * e, row) for s in (1, -1))
            assert capacity == pytest.approx((above[0] - below[0]) / (2 * e), rel=1e-4) and steep == pytest.approx((above[2] - below[2]) / (2 * e), rel=1e-3)
            assert head_at(content, row) == pytest.approx(head, rel=1e-6)
    full = storage_and_permeability(0.5, row)
    assert full[0] == pytest.approx(medium.saturated + SPECIFIC_STORAGE * (0.5 - medium.entry)) and full[2] == 1.0


def test_van_genuchten_by_hand():
    """Without air entry: θ = θr + (θs − θr)(1 + |αh|ⁿ)^−m, van Genuchten 1980."""
    medium = dataclasses.replace(LOAM, entry=0.0)
    assert float(medium.content(-1.0)) == pytest.approx(0.078 + 0.352 * (1 + 3.6**1.56) ** (-(1 - 1 / 1.56)))
    assert float(medium.permeability(0.0)) == 1.0 and float(CLAY.permeability(-0.03)) > 10 * float(dataclasses.replace(CLAY, entry=0.0).permeability(-0.03))


def test_band_is_solved_as_by_scipy():
    chance = np.random.default_rng(4)
    n, width = 60, 7
    full = np.zeros((n, n))
    for k in range(n):
        for other in (k - width, k - 1, k + 1, k + width):
            if 0 <= other < n:
                full[k, other] = -chance.uniform(0.1, 1)
    full += np.diag(np.abs(full).sum(axis=0) + 0.1)  # dominated by columns, as the flow's matrix is
    rhs = chance.normal(size=n)
    band, flat = np.zeros((n, 2 * width + 1)), np.zeros((2 * width + 1, n))
    for k in range(n):
        for other in range(max(0, k - width), min(n, k + width + 1)):
            band[k, width + other - k] = full[k, other]
            flat[width + k - other, other] = full[k, other]
    ours = rhs.copy()
    assert solve_band(band, width, ours)
    assert np.allclose(ours, solve_banded((width, width), flat, rhs))
    assert not solve_band(np.zeros((3, 3)), 1, np.ones(3))


def test_openings_let_in_what_an_orifice_lets_in():
    """q = C A √(2 g h) where nothing else resists (FHWA HEC-22)."""
    square = 1 / (0.6 * 0.001) ** 2 / (2 * 9.80665)
    flow, slope = intake(0.05, 1e6, square)
    assert flow == pytest.approx(0.6 * 0.001 * math.sqrt(2 * 9.80665 * 0.05), rel=1e-3) and slope > 0
    assert intake(-0.01, 1.0, square) == (0.0, 0.0) and intake(0.1, 2.0, 0.0) == (0.2, 2.0)


def test_grid_has_edges_on_everything_and_grows_evenly():
    grid = grid_of(SECTION)
    for edge in (-8.0, -0.15, -0.06, 0.06, 0.15, 2.0, 2.3, 6.0):
        assert np.abs(grid.x - edge).min() < 1e-9
    for edge in (0.0, 0.3, 0.45, 0.63, 0.75, 0.8, 1.4):
        assert np.abs(grid.depth - edge).min() < 0.011  # edges nearer than a fifth of a cell are one
    assert np.diff(grid.x).min() > 0.01 and np.diff(grid.x).max() <= USUAL.most * 1.2
    assert (np.diff(grid.x)[1:] / np.diff(grid.x)[:-1]).max() < 2.5
    finer = grid_of(SECTION, USUAL.times(0.5))
    assert 1.7 < finer.shape[0] / grid.shape[0] < 2.3
    assert np.all(np.diff(graded([0.0, 1.0, 1.0 + 1e-9], [], Fineness())) > 1e-7)


def test_mesh_keeps_rain_off_and_water_out_of_walls():
    laid = lay_out(SECTION)
    under = (laid.x > 2.0)
    assert laid.rain_width[under].sum() == 0 and laid.rain_width.sum() == pytest.approx(10.0 * math.cos(math.atan(0.05)), rel=1e-6)
    assert laid.solid.any() and laid.mesh.volume.reshape(laid.media.shape)[laid.solid].sum() == 0
    assert {m.name for m in laid.materials} == {"loam", "clay", "stone"}
    blinded = lay_out(dataclasses.replace(SECTION, cut=dataclasses.replace(SECTION.cut, wrap=1e-6)))
    assert blinded.mesh.across.sum() < laid.mesh.across.sum()


def test_table_and_depth_to_water_are_read_as_a_hole_would_show_them():
    laid = lay_out(dataclasses.replace(SECTION, covers=()))
    state = at_rest(laid, 0.62)
    assert np.allclose(table_depths(laid, state.head), 0.62, atol=0.012) and np.allclose(depth_to_water(laid, state.head), 0.62, atol=0.06)
    perched = np.where(np.broadcast_to(laid.depth, laid.media.shape) < 0.2, 0.05, -0.5).ravel()
    head = state_of(laid, perched).head
    assert np.all(depth_to_water(laid, head) < 0.05) and np.allclose(table_depths(laid, head), SECTION.depth)
    assert np.allclose(table_depths(laid, at_rest(laid, 0.0).head), 0.0, atol=1e-6)


def test_a_section_that_cannot_be_is_refused_and_one_too_large_is_laid_coarser(job):
    """A pipe that stands out of the ground once ended in a logarithm of nought, a trench 1,500 m deep in 20 GB."""
    section = section_at(assess(job))
    high = dataclasses.replace(section.cut, pipe=dataclasses.replace(section.cut.pipe, depth=-0.5))
    with pytest.raises(InputError, match="does not fit into the trench"):
        lay_out(dataclasses.replace(section, cut=high))
    with pytest.raises(InputError, match="ft deep: look at levels and slope"):
        section_at(assess(with_value(job, "runs.r1.invert", 5.0)))
    deep = lay_out(dataclasses.replace(section, depth=50.0, strata=(*section.strata[:-1], dataclasses.replace(section.strata[-1], thickness=50.0))))
    assert deep.grid.shape[0] * deep.grid.shape[1] ** 3 <= WORK and lay_out(section).mesh.volume.size > 1500


def test_a_flow_that_takes_far_too_many_steps_ends_with_how_far_it_came(job, monkeypatch):
    laid = lay_out(section_at(assess(job)))
    flow = Flow(laid, at_rest(laid, 0.5))
    monkeypatch.setattr(flow, "try_step", lambda dt, *_, **__: setattr(flow, "tries", flow.tries + 1) or setattr(flow, "dt", 30.0))  # never closes, never gets short
    monkeypatch.setattr("weirant.seepage.flow.SHRINK", 1.0)
    with pytest.raises(SolverError, match=r"came to 0\.00 h of 24\.0 h in 2,0\d\d steps"):
        list(flow.through(steady_rain(1e-6), 86400.0))
