"""The section simulator against published solutions and against a general-purpose solver."""

from __future__ import annotations

import dataclasses
import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.sparse import diags

from weirant.methods.groundwater import hooghoudt_spacing
from weirant.seepage.flow import Flow, Means, at_rest, settle, state_of
from weirant.seepage.grid import Fineness
from weirant.seepage.medium import Medium
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import steady_rain
from weirant.seepage.results import table_depths
from weirant.seepage.section import Cut, Opening, Section, Stratum

SAND = Medium("coarse sand", 1e-4, 0.02, 0.35, 80.0, 4.0, entry=-0.002)  # a thin capillary fringe, as the formulae take it


def in_soil(width: float, depth: float, pipe: Opening, soil: Medium = SAND) -> Section:
    """A drain with no stone round it, between two lines of symmetry."""
    cut = Cut(8 * pipe.diameter, min(depth, pipe.depth + 4 * pipe.diameter), max(0.0, pipe.depth - 5 * pipe.diameter), soil, soil, pipe)
    return Section(width, width, depth, 0.0, (Stratum(soil, depth),), cut)


@pytest.mark.parametrize(("depth", "barrier", "radius", "least"), [(1.0, 2.0, 0.05, 0.05), (0.8, 3.0, 0.06, 0.06), (1.0, 2.0, 0.05, 0.025), (0.6, 1.5, 0.03, 0.05)])
def test_ponded_drain(depth, barrier, radius, least):
    """D. Kirkham 1949, Flow of ponded water into drain tubes in soil overlying an impervious layer, Trans. AGU 30 (recalled):
    q = 2πK (t + d − r) / ln(tan(π(2d − r)/4h) cot(πr/4h)) for one drain that runs full."""
    pipe = Opening(2 * radius, depth + radius, 0.0, 2 * radius, 2 * radius, 0.0)
    laid = lay_out(in_soil(6 * barrier, barrier, pipe), Fineness(least, 8 * least, 0.12))
    state = at_rest(laid, 0.0)
    step = settle(laid, state, 1e-2)
    formula = 2 * math.pi * SAND.conductivity * (depth - radius) / math.log(math.tan(math.pi * (2 * depth - radius) / (4 * barrier)) / math.tan(math.pi * radius / (4 * barrier)))
    assert step.pipe == pytest.approx(formula, rel=0.015)


def test_discharge_through_a_dam():
    """Q = K (h₁² − h₂²)/2L, exact for a dam with upright faces (I. A. Charny; P. Ya. Polubarinova-Kochina 1952)."""
    section = Section(5.0, 5.0, 4.0, 0.0, (Stratum(SAND, 4.0),), upper_table=1.0, lower_table=3.0)
    laid = lay_out(section, Fineness(0.1, 0.2, 0.1))
    state = at_rest(laid, 2.0)
    step = settle(laid, state, 0.0)
    assert step.ends_in == pytest.approx(SAND.conductivity * (3.0**2 - 1.0**2) / (2 * 10.0), rel=0.01)
    assert step.ends_out == pytest.approx(step.ends_in, rel=1e-6)


def test_infiltration_of_celia():
    """M. A. Celia, E. T. Bouloutas and R. L. Zarba 1990, Water Resources Research 26(7): 1 m of soil at −10 m, its surface held
    at −0.75 m for a day (constants recalled). The reference is SciPy's BDF on lines 5 mm apart, centred conductivities."""
    soil = Medium("their soil", 9.22e-5, 0.102, 0.368, 3.35, 2.0, entry=0.0)
    section = Section(0.5, 0.5, 1.0, 0.0, (Stratum(soil, 1.0),))
    laid = lay_out(section, Fineness(0.025, 0.025, 0.0))
    mesh = laid.mesh
    cells = np.arange(mesh.columns) * mesh.rows
    wet = float(soil.permeability(-0.75))
    mesh = mesh._replace(head_cell=cells, head_conductance=wet * mesh.top.copy(), head_level=np.full(len(cells), -0.75), head_face=np.zeros(len(cells)), top=np.zeros(mesh.columns))
    laid = dataclasses.replace(laid, mesh=mesh)
    flow = Flow(laid, state_of(laid, np.full(mesh.volume.size, -10.0)), Means(longest=600.0))
    ours = sum(step.length * step.ends_in for step in flow.through(steady_rain(0.0), 86400.0))

    n, dz = 200, 0.005

    def lines(_: float, h: np.ndarray) -> np.ndarray:
        whole = np.concatenate(([-0.75], h))
        k = soil.conductivity * soil.permeability(whole)
        gap = np.full(n, dz)
        gap[0] = dz / 2
        down = (k[:-1] + k[1:]) / 2 * ((whole[:-1] - whole[1:]) / gap + 1)
        p = (soil.alpha * -h) ** soil.shape
        capacity = (soil.saturated - soil.residual) * soil.exponent * soil.shape * p / -h * (1 + p) ** (-soil.exponent - 1)
        return (down - np.append(down[1:], 0.0)) / dz / capacity

    found = solve_ivp(lines, (0, 86400.0), np.full(n, -10.0), method="BDF", rtol=1e-6, atol=1e-6, jac_sparsity=diags([1.0, 1.0, 1.0], [-1, 0, 1], shape=(n, n)), t_eval=[86400.0])
    theirs = float(np.sum(soil.content(found.y[:, -1]) - soil.content(-10.0)) * dz)
    assert ours == pytest.approx(theirs, rel=0.03)


def test_spacing_of_hooghoudt():
    """Hooghoudt 1940 with the exact equivalent depth of van der Molen and Wesseling 1991, where the table is flat beside L."""
    pipe = Opening(0.10, 1.05, 0.0, 0.10, 0.05, 0.0)
    laid = lay_out(in_soil(10.0, 4.0, pipe), Fineness(0.05, 0.4, 0.12))
    state = at_rest(laid, 0.8)
    rate = 1e-6
    step = settle(laid, state, rate)
    assert step.pipe == pytest.approx(20.0 * rate, rel=1e-6)
    head = 1.0 - float(table_depths(laid, state.head)[0])
    assert hooghoudt_spacing(SAND.conductivity, SAND.conductivity, 3.0, 0.05, head, rate).spacing == pytest.approx(20.0, rel=0.03)
