"""What the equations themselves demand of the simulator: unit gradient, layers in series, at rest, mirror, scale, and a wetting front."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from scipy.integrate import quad, solve_ivp
from scipy.optimize import brentq

from weirant.methods.falling_table import glover_mid_head
from weirant.methods.groundwater import interceptor_flow
from weirant.methods.storms import green_ampt
from weirant.seepage.flow import Flow, Means, at_rest, settle, state_of
from weirant.seepage.grid import Fineness
from weirant.seepage.kernel.line import line_course
from weirant.seepage.line_model import drainable_porosity
from weirant.seepage.medium import Medium, stone
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import Rain, steady_rain
from weirant.seepage.section import Cut, Opening, Section, Stratum
from weirant.seepage.storm import simulate

LOAM = Medium("loam", 2.9e-6, 0.078, 0.43, 3.6, 1.56)
SANDY = Medium("loamy sand", 4.05e-5, 0.057, 0.41, 12.4, 2.28)
CLAY = Medium("clay", 5.6e-7, 0.068, 0.38, 0.8, 1.09)


def column(*strata: Stratum, least: float = 0.05):
    """One-dimensional, 0.4 m wide; its foot is held at no pressure, as over a water table."""
    depth = sum(s.thickness for s in strata)
    laid = lay_out(Section(0.2, 0.2, depth, 0.0, strata), Fineness(least, least, 0.0))
    mesh, half = laid.mesh, (laid.grid.depth[-1] - laid.grid.depth[-2]) / 2
    foot = np.arange(mesh.columns) * mesh.rows + mesh.rows - 1
    conductance = strata[-1].medium.conductivity * np.diff(laid.grid.x) / half
    mesh = mesh._replace(head_cell=foot, head_conductance=conductance, head_level=np.full(len(foot), -depth), head_face=np.zeros(len(foot)))
    return dataclasses.replace(laid, mesh=mesh)


def van_genuchten(h: float, soil: Medium, alone: bool = False) -> float:
    """Relative conductivity, written out from van Genuchten 1980 without the air entry."""
    if h >= 0:
        return 1.0
    share = (1 + (soil.alpha * -h) ** soil.shape) ** -soil.exponent
    return math.sqrt(share) * (1 - (1 - share ** (1 / soil.exponent)) ** soil.exponent) ** 2


def test_steady_rain_goes_down_under_its_own_weight_far_above_the_table():
    """Unit gradient: the head is where the soil's conductivity is the rain (Buckingham and Darcy; curve of van Genuchten 1980)."""
    soil = dataclasses.replace(SANDY, entry=-1e-4)
    rate = 0.02 * soil.conductivity
    laid = column(Stratum(soil, 4.0))
    state = at_rest(laid, 4.0)
    settle(laid, state, rate)
    head = state.head.reshape(laid.media.shape)[1, np.searchsorted(laid.depth, 1.0)]
    wanted = brentq(lambda h: van_genuchten(h, soil) - 0.02, -5.0, -1e-3)
    assert head == pytest.approx(wanted, rel=0.02)


@pytest.mark.parametrize("rate", [0.0, 0.05, 0.3, 0.9])
def test_the_profile_over_a_water_table_is_buckinghams(rate):
    """dh/dz = q/K(h) − 1 upward from the table, by SciPy's solver."""
    soil = dataclasses.replace(LOAM, entry=0.0)
    flux = rate * soil.conductivity
    laid = column(Stratum(soil, 1.2), least=0.025)
    state = at_rest(laid, 1.2)
    settle(laid, state, flux)
    heights = 1.2 - laid.depth[::-1]
    exact = solve_ivp(lambda _, h: [flux / (soil.conductivity * van_genuchten(float(h[0]), soil)) - 1], (0, heights[-1]), [0.0], t_eval=heights, rtol=1e-8, atol=1e-10).y[0]
    assert state.head.reshape(laid.media.shape)[1, ::-1] == pytest.approx(exact, abs=0.01)


def test_layers_in_series_let_through_what_their_resistances_allow():
    """Ponded ground over a drained foot: q = (Σd) / Σ(d/K) with a head of the whole height (Darcy)."""
    laid = column(Stratum(SANDY, 0.5), Stratum(LOAM, 0.5))
    step = settle(laid, at_rest(laid, 0.0), 1e-2)
    # the upper layer is so much faster that it would let air in: then the lower one sees no more than its own height and what it draws
    lower = LOAM.conductivity * (0.5 + 0.5) / 0.5
    assert LOAM.conductivity < step.ends_out / 0.4 <= lower
    slow = column(Stratum(LOAM, 0.5), Stratum(LOAM, 0.5))
    assert settle(slow, at_rest(slow, 0.0), 1e-2).ends_out / 0.4 == pytest.approx(LOAM.conductivity, rel=1e-3)
    stacked = column(Stratum(dataclasses.replace(LOAM, conductivity=1e-6), 0.4), Stratum(dataclasses.replace(LOAM, conductivity=5e-7), 0.6))
    assert settle(stacked, at_rest(stacked, 0.0), 1e-2).ends_out / 0.4 == pytest.approx(1.0 / (0.4 / 1e-6 + 0.6 / 5e-7), rel=1e-3)


def test_faster_along_the_layers_is_felt_along_and_not_down():
    """Between two held ends the flow goes by the conductivity along the layers; through ponded ground by the one across."""
    def between(sideways: float) -> float:
        soil = dataclasses.replace(LOAM, sideways=sideways)
        laid = lay_out(Section(4.0, 4.0, 1.0, 0.0, (Stratum(soil, 1.0),), upper_table=0.2, lower_table=0.3), Fineness(0.1, 0.4, 0.2))
        return settle(laid, at_rest(laid, 0.25), 0.0).ends_in

    assert between(5.0) == pytest.approx(5.0 * between(1.0), rel=0.03)  # less what the fringe above the table carries


def test_water_at_rest_stays_at_rest():
    """Through layers, trench and wall, for a month: no flow anywhere, whatever the curves."""
    cut = Cut(0.3, 0.9, 0.4, stone("stone", 0.05, 0.4), LOAM, None, wrap=0.5)
    laid = lay_out(Section(3.0, 3.0, 1.5, 0.0, (Stratum(SANDY, 0.4), Stratum(CLAY, 0.5), Stratum(LOAM, 0.6)), cut))
    state = at_rest(laid, 1.1)
    before = state.head.copy()
    for step in Flow(laid, state, Means(longest=86400.0)).through(steady_rain(0.0), 30 * 86400.0):
        assert max(step.taken_in, step.seeped_out, step.ends_in, step.ends_out) < 1e-15
    assert state.head == pytest.approx(before, abs=1e-6)


def test_a_mirrored_section_gives_the_mirrored_answer():
    cut = Cut(0.3, 0.8, 0.5, stone("stone", 0.05, 0.4), LOAM, Opening(0.1, 0.75, 0.01, 0.1, 0.02, 0.002))
    one = Section(4.0, 7.0, 1.2, 0.0, (Stratum(LOAM, 1.2),), cut, upper_table=0.2)
    other = Section(7.0, 4.0, 1.2, 0.0, (Stratum(LOAM, 1.2),), cut, lower_table=0.2)
    rain = Rain((0.0, 7200.0), (5e-6, 0.0))
    first, second = (simulate(lay_out(s), rain, 86400.0, start_table=0.7) for s in (one, other))
    # at the lower end water also comes out of the face above the held level, which here it never does
    assert first.total("pipe") == pytest.approx(second.total("pipe"), rel=1e-3)
    assert first.frames[-1].table == pytest.approx(second.frames[-1].table[::-1], abs=2e-3)


@pytest.mark.parametrize("factor", [0.05, 20.0])
def test_a_faster_soil_in_shorter_time_is_the_same(factor):
    """Richards' equation has no scale of its own: conductivities and rain by a factor, times by its inverse, volumes the same."""
    def volume(f: float) -> float:
        soil, fast = dataclasses.replace(LOAM, conductivity=f * LOAM.conductivity), stone("stone", f * 0.01, 0.4)
        cut = Cut(0.3, 0.8, 0.5, fast, soil, Opening(0.1, 0.75, 0.01, 0.1, 0.02, 0.0))
        laid = lay_out(Section(4.0, 4.0, 1.2, 0.0, (Stratum(soil, 1.2),), cut), Fineness(0.07, 0.5, 0.3))
        done = simulate(laid, Rain((0.0, 7200.0 / f), (f * 5e-6, 0.0)), 86400.0 / f, start_table=0.7, means=Means(longest=3600.0 / f, finest=900.0 / f, run_on=False))
        return done.total("pipe")

    assert volume(factor) == pytest.approx(volume(1.0), rel=0.01)


@pytest.mark.parametrize("entry", [-0.02, -1e-4])
def test_a_wetting_front_lies_between_the_two_extreme_soils(entry):
    """Into dry ground under rain, more than Talsma and Parlange 1972 and less than Green and Ampt 1911 allow, both with the sorptivity
    of J.-Y. Parlange 1975, S² = ∫ K (θs + θ − 2θi) dh (recalled)."""
    first, rate, time, soil = -2.0, 1e-4, 3600.0, dataclasses.replace(SANDY, entry=entry)
    before = float(soil.content(first))
    deficit = soil.saturated - before
    pull = quad(lambda h: float(soil.permeability(h)) * (soil.saturated + float(soil.content(h)) - 2 * before), first, 0.0, points=[-0.1, entry])[0] / 2  # S²/2K
    laid = lay_out(Section(0.2, 0.2, 2.5, 0.0, (Stratum(soil, 2.5),)), Fineness(0.02, 0.02, 0.0))
    flow = Flow(laid, state_of(laid, np.full(laid.mesh.volume.size, first)), Means(pond=0.0, finest=60.0))
    ours = sum(s.length * s.taken_in for s in flow.through(steady_rain(rate), time)) / 0.4
    most = green_ampt(soil.conductivity, pull / deficit, deficit, rate, time)
    gone = soil.conductivity * (time - most.time_to_ponding)
    least = brentq(lambda depth: depth - gone - pull * (1 - math.exp(-depth / pull)), 1e-6, 10.0)
    assert least < ours < most.depth and most.depth < 1.2 * least


def test_a_drain_on_the_hard_layer_takes_what_comes_down_the_slope():
    """K·D·s of the interceptor formula (NRCS NEH 624) comes in from above, and all but what a tilted trench bottom lets by goes into the pipe."""
    soil = dataclasses.replace(SANDY, alpha=60.0, shape=4.0, entry=-0.002)
    cut = Cut(0.3, 1.0, 0.5, stone("stone", 0.05, 0.4), soil, Opening(0.1, 0.99, 0.0, 0.1, 0.0, 0.0))
    laid = lay_out(Section(30.0, 4.0, 1.0, 0.08, (Stratum(soil, 1.0),), cut, upper_table=0.5, runs_on=True))
    step = settle(laid, at_rest(laid, 0.5), 0.0)
    assert step.ends_in == pytest.approx(interceptor_flow(soil.conductivity, 0.5, 0.08), rel=0.03)
    assert 0.93 * step.ends_in < step.pipe <= step.ends_in


def fallen(conductivity: float, depth: float, porosity: float, slope: float, length: float, first: float, time: float) -> float:
    """W. Brutsaert 1994, Water Resources Research 30(10): 2759-2763 (recalled), f ∂h/∂t = K (D ∂²h/∂x² − s ∂h/∂x) on a slope s: what is left
    midway of an even rise, m, the ends being held. On level ground it is Glover's series (as given by Dumm 1960)."""
    n, lean = np.arange(1, 60), slope * length / (2 * depth)
    share = 2 * n * math.pi * (1 - (-1.0) ** n * math.exp(-lean)) / ((n * math.pi) ** 2 + lean**2)
    pace = conductivity * depth / porosity / length**2 * ((n * math.pi) ** 2 + lean**2)
    return first * math.exp(lean / 2) * float(np.sum(share * np.sin(n * math.pi / 2) * np.exp(-pace * time)))


@pytest.mark.parametrize("slope", [0.0, 0.03, 0.06])
def test_a_falling_table_in_two_dimensions_goes_by_the_linear_series(slope):
    """Wide apart in coarse sand, so that it drains at once and flows along the layer: within 7 % of the mound. At 6 % it falls twice as fast as level."""
    spacing, depth, first = 100.0, 2.0, 0.25
    assert fallen(1e-4, 1.1, 0.3, 0.0, spacing, first, 8e5) == pytest.approx(glover_mid_head(1e-4, 1.1, spacing, 0.3, first, 8e5), rel=1e-6)
    soil = Medium("coarse sand", 1e-4, 0.02, 0.35, 30.0, 4.0, entry=-0.002)
    fine = tuple(Stratum(soil, t) for t in (0.7, 0.1, 0.1, 0.1, 1.0))  # edges make rows small where the table falls
    section = Section(spacing / 2, spacing / 2, depth, slope, fine, upper_table=1.0, lower_table=1.0)
    laid = lay_out(section, Fineness(0.03, 2.0, 0.2))
    done = simulate(laid, steady_rain(0.0), 40 * 86400.0, start_table=1.0 - first, means=Means(longest=43200.0))
    given = (drainable_porosity(soil, 1.0) * 1.0 - drainable_porosity(soil, 0.75) * 0.75) / 0.25
    for days in (5.0, 15.0, 40.0):
        at = int(np.argmin(np.abs(done.times - days * 86400)))
        exact = fallen(soil.conductivity, 1.0 + first / 2, given, slope, spacing, first, float(done.times[at]))
        assert 1.0 - done.frames[at].table[len(laid.x) // 2] == pytest.approx(exact, abs=0.07 * first), days
    thin, n, steps = 0.02, 400, 4000
    line = line_course(np.full(n, spacing / n), np.full(n, 1.0 + thin), 1e-4, 1e-4, 9.0, 0.3, 9.0, slope, np.zeros(n), -1, 0.0, 0.0, 1.0, 1.0, False, -1.0,
                       np.zeros(steps), np.full(steps, 3.5e6 / steps), n // 2)[1]  # fmt: skip
    assert line[-1] - 1.0 == pytest.approx(fallen(1e-4, 1.0 + thin / 2, 0.3, slope, spacing, thin, 3.5e6), rel=0.015)
