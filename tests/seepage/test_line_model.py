"""The line model against the exact series, the section simulator, a general-purpose solver and Darcy's balance."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from weirant.methods.falling_table import glover_mid_head, van_schilfgaarde_spacing
from weirant.seepage.kernel.line import line_course
from weirant.seepage.line_model import line_run
from weirant.seepage.medium import Medium, stone
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import Rain, steady_rain
from weirant.seepage.section import Cut, Opening, Section, Stratum
from weirant.seepage.storm import simulate

K, MU, DAY = 1e-5, 0.1, 86400.0


def falling(depth: float, spacing: float, first: float, time: float, cells: int, steps: int, mean: float) -> float:
    """Height midway over drains that hold the table at their level, m, by the kernel alone; half the spacing is cut into cells."""
    width = np.full(cells, spacing / 2 / cells)
    lengths = np.full(steps, time / steps)
    return float(line_course(width, np.full(cells, depth + first), K, K, depth, MU, 1e3, 0.0, np.zeros(cells), -1, 0.0, 0.0, depth, -1.0, False, mean,
                             np.zeros(steps), lengths, cells - 1)[1][-1]) - depth  # fmt: skip


@pytest.mark.parametrize("days", [1, 4, 12])
def test_falling_table_follows_the_whole_series(days):
    """Glover's series in full, as given by Dumm 1960 (ILRI Publication 16 §8.3), not the short form with 1.16."""
    exact = glover_mid_head(K, 2.0, 20.0, MU, 0.5, days * DAY)
    assert falling(2.0, 20.0, 0.5, days * DAY, 200, 4000, 2.0) == pytest.approx(exact, rel=0.005)


def test_heads_not_small_beside_the_depth_against_a_general_solver_and_van_schilfgaarde():
    """The full equation on SciPy's BDF; and van Schilfgaarde's spacing (1963) comes back from the fall that it was made for, within a tenth."""
    depth, spacing, first, time, n = 1.0, 20.0, 0.8, 6 * DAY, 200
    dx = spacing / 2 / n

    def lines(_: float, h: np.ndarray) -> np.ndarray:
        whole = np.concatenate(([depth], h, [h[-1]]))
        gap = np.full(n + 1, dx)
        gap[0] = dx / 2
        flux = K * (whole[1:] + whole[:-1]) / 2 * np.diff(whole) / gap
        return np.diff(flux) / dx / MU

    theirs = solve_ivp(lines, (0, time), np.full(n, depth + first), method="LSODA", rtol=1e-8, atol=1e-10, lband=1, uband=1, t_eval=[time]).y[-1, -1] - depth
    ours = falling(depth, spacing, first, time, n, 3000, -1.0)
    assert ours == pytest.approx(theirs, rel=0.005)
    assert van_schilfgaarde_spacing(K, depth, time, MU, first, ours) == pytest.approx(spacing, rel=0.10)


LOAM = Medium("loam", 1e-5, 0.078, 0.43, 3.6, 1.56)
SLOPE = Section(15.0, 10.0, 0.9, 0.07, (Stratum(LOAM, 0.9),), Cut(0.3, 0.9, 0.55, stone("stone", 0.05, 0.4), LOAM, Opening(0.12, 0.85, 0.01, 0.12, 0.02, 0.0013)),
                upper_table=0.15, runs_on=True)  # fmt: skip


def test_steady_flow_on_a_slope_is_darcys_below_the_drain():
    rate = 1.5e-8
    line = line_run(SLOPE, steady_rain(rate), DAY, 9.0, porosity=0.1)
    assert 0.9 - line.depth[-1] == pytest.approx(rate * 9.0 / (K * 0.07) + 0.05 * 0.5, abs=0.05)


def test_line_and_section_agree_on_the_volume_of_a_storm():
    """Within a tenth: the line knows nothing of the water above the table."""
    rain = Rain((0.0, 6 * 3600.0), (0.05 / 21600, 1.5e-8))
    line = line_run(SLOPE, rain, 3 * DAY, 5.0)
    from weirant.seepage.flow import at_rest, settle

    laid = lay_out(SLOPE)
    state = at_rest(laid, 0.15)
    settle(laid, state, 1.5e-8)
    section = simulate(laid, rain, 3 * DAY, state)
    assert line.volume == pytest.approx(section.total("pipe"), rel=0.10)


def test_line_keeps_its_water():
    flat = dataclasses.replace(SLOPE, slope=0.0, cut=None, upper_table=None, runs_on=False)
    rain = Rain((0.0, 3600.0), (0.01 / 3600, 0.0))
    before, after = (line_run(flat, r, DAY, 0.0, porosity=0.2, settle_rate=0.0) for r in (steady_rain(0.0), rain))
    gained = np.mean(after.thickness - before.thickness) * 0.2
    assert gained + after.ran_off / 25.0 == pytest.approx(0.01, rel=1e-6)
