"""What fills and blinds a drain over the years: nothing is lost, its laws are those of others, and two drains whose end is known end so."""

from __future__ import annotations

import dataclasses
import json
import math

import fluids
import numpy as np
import pytest

from weirant.cli.main import main
from weirant.clogging.assumed import Assumed
from weirant.clogging.drain import Built, Cloth, IntakeRow, Soils
from weirant.clogging.years import MONTH, cake_conductivity, course, settling, what_parts
from weirant.design.assess import assess
from weirant.design.debris import shed_into
from weirant.design.demo import demo_job
from weirant.design.schools import plausible, schools, ways
from weirant.design.variants import USUAL as KEYS
from weirant.errors import InputError
from weirant.job.network import Basin
from weirant.job.paths import with_value
from weirant.methods.soil_tests import water_viscosity

ROWS = tuple(IntakeRow(0.01 + 0.03 * i, 6e-4) for i in range(4))
BARE = Built("bare", 1.2, 6e-3 / 4, None, 0.09, 0.4, 6e-3, 0.2, 0.1, 0.25, ROWS, 0.1, 0.05, 0.3, 0.6)
PINHOLES = Built("pinholes", 0.35, 1.5e-3, None, 0.0, 0.4, 1e-3, 1e-3, 0.03, 0.25, (IntakeRow(0.004, 5e-4),), 0.1, 0.0, 0.15, 0.3, False)


def soils(inflow=1.5e-6, plasticity=2.0, d10=5e-6, moves=1.5e-5, largest=1e-4):
    """One soil whose curve is straight to its largest grain."""
    one = (np.array([float(v)]) for v in (inflow, plasticity, d10, moves, 1.0))
    return Soils(*one, lambda size: np.array([min(1.0, size / largest)]))


SILT, CLAY = soils(), soils(2e-8, 25.0, 1e-7, 1e-6)


def test_a_bare_drain_in_firm_clay_is_nearly_clean_and_pinholes_in_silt_are_shut_in_a_few_years():
    """And which facts part them: how loose the soil is, and the water that comes, far more than the room for what is let go."""
    clean, shut = course(CLAY, BARE, 20), course(SILT, PINHOLES, 20)
    assert clean.lasts[0] == math.inf and clean.in_stone[-1, 0] < 0.01 * 1400 * BARE.stone * BARE.voids and clean.takes[-1, 0] > 0.95 * clean.takes[0, 0]
    assert 2 <= shut.lasts[0] <= 6
    parts = what_parts((SILT, PINHOLES), (CLAY, BARE))
    assert sorted(parts, key=parts.get) == ["room", "passes", "water", "loose"] and parts["room"] < 1 < parts["water"]


@pytest.mark.parametrize("seed", range(12))
def test_nothing_is_lost(seed):
    """Of any soils in any drain: let go and brought in is found again, to a billionth."""
    chance = np.random.default_rng(seed)
    n = 40
    many = Soils(10 ** chance.uniform(-9, -4, n), chance.uniform(0, 40, n), 10 ** chance.uniform(-7, -3, n), 10 ** chance.uniform(-7, -3, n), 10 ** chance.uniform(-1, 1, n),
                 lambda size: np.clip(size / 10 ** np.linspace(-5, -2, n), 0, 1))  # fmt: skip
    cloth = Cloth(10 ** chance.uniform(-5, -3), float(chance.uniform(0.01, 3)), 1.0, bool(seed % 2)) if seed % 3 else None
    built = dataclasses.replace(BARE, cloth=cloth, open_top=bool(seed % 2), roof=0.5 * (seed % 4), ground=0.2 * (seed % 3), stone=0.09 * (seed % 5 > 0), velocity=0.1 * seed)
    found = course(many, built, 12, flush_every=seed % 4)
    assert found.balance < 1e-9 and all((part >= 0).all() and np.isfinite(part).all() for part in (found.cake, found.in_stone, found.in_pipe, found.out, found.flushed, found.takes))
    order = chance.permutation(n)
    turned = course(Soils(*(values[order] for values in (many.inflow, many.plasticity, many.d10, many.moves, many.turbid)), lambda size: many.passing(size)[order]), built, 12,
                    flush_every=seed % 4)  # fmt: skip
    assert turned.takes == pytest.approx(found.takes[:, order])


def test_a_cake_grows_as_filtration_at_a_constant_rate_does():
    """Ruth's law in closed form: the head rises in a straight line with the volume that went through, by c/(ρ K) on each square metre."""
    given = dataclasses.replace(Assumed(), bridge=1e12)
    fine = Soils(*(np.array([v]) for v in (1e-6, 0.0, 2e-6, 1.5e-5, 1.0)), lambda size: np.array([0.25]))  # half of what moves stays on it
    built = dataclasses.replace(BARE, cloth=Cloth(1e-5, 0.5, 1.2), conductivity=1e9, rows=(IntakeRow(0.2, 1.0),))
    found = course(fine, built, 20, given)
    volume = 1e-6 * MONTH * 12 * np.arange(21) * given.wet
    grown = 0.5 * given.turbid * volume
    conductivity = float(cake_conductivity(np.array([2e-6]), given.cake_voids)[0])
    head = 1e-6 / 1.2 * (1 / 0.5 + grown / 1.2 / (given.packed * conductivity))
    assert found.cake[:, 0] == pytest.approx(grown) and found.takes[:, 0] == pytest.approx(0.25 / head, rel=1e-3)


def test_stone_that_fills_lets_water_through_by_the_cube_of_what_is_open():
    """As in the law of Kozeny and Carman, until what settled carries the water itself."""
    slow = dataclasses.replace(BARE, conductivity=1e-5, rows=(IntakeRow(0.5, 1.0),))
    found = course(soils(d10=1e-9), slow, 20)
    open_ = 1 - found.in_stone[:, 0] / (1400 * slow.stone * slow.voids)
    assert open_[-1] < 0.65 and found.takes[:, 0] / found.takes[0, 0] == pytest.approx(open_**3)


@pytest.mark.parametrize("size", [2e-6, 10e-6, 40e-6])
def test_grains_sink_as_by_a_general_law_of_drag(size):
    viscosity = water_viscosity(10.0)
    assert float(settling(np.array([size]))[0]) == pytest.approx(fluids.v_terminal(D=size, rhop=2650.0, rho=1000.0, mu=viscosity * 1000.0), rel=0.02)


def takes(of=SILT, built=BARE, years=20, **given):
    return float(course(of, built, years, **given).lasts[0])


def test_each_thing_turns_the_outcome_the_way_it_should():
    base = takes(years=60)
    assert takes(soils(3e-6), years=60) < base < takes(soils(0.75e-6), years=60)  # more water
    assert takes(soils(plasticity=6.0), years=60) > base and takes(built=dataclasses.replace(BARE, below=0.1), years=60) > base  # firmer soil, more bedding
    assert takes(built=dataclasses.replace(BARE, rows=ROWS[:1]), years=60) < base  # holes at the bottom alone are blinded first
    assert takes(built=dataclasses.replace(BARE, open_top=True), years=60) < base
    coarse = soils(largest=1e-2)
    assert takes(coarse, years=60) > takes(coarse, dataclasses.replace(BARE, opening=6e-2 / 4), years=60)  # a bridge of coarse grains, or none
    held = course(soils(largest=2e-4), dataclasses.replace(BARE, cloth=Cloth(1.2e-4, 1.7, 1.2)), 30)
    assert held.let_go[-1, 0] < 0.2 * course(soils(largest=2e-4), BARE, 30).let_go[-1, 0]
    flushed = [takes(built=dataclasses.replace(PINHOLES, all_round=True), years=60, flush_every=every) for every in (0, 2)]
    assert flushed[0] < flushed[1] and takes(built=dataclasses.replace(BARE, all_round=False), years=60, flush_every=2) == base < takes(years=60, flush_every=2)


def test_schools_on_the_ground_of_a_job_and_what_they_hang_on():
    outcome = assess(demo_job())
    found = outcome.run("r1")
    told = {school.key: school for school in schools(outcome, found)}
    assert list(told) == list(KEYS) and max(school.course.balance for school in told.values()) < 1e-9
    lies = {key: float(np.median(school.course.in_stone[-1])) for key, school in told.items()}
    assert told["wrap"].silted < 0.5 * told["bare"].silted and told["wrap"].built.meets == pytest.approx(0.212e-3 / 1.8) and lies["sand"] < 0.6 * lies["bare"]
    assert told["bare"].built.meets == pytest.approx(outcome.library.aggregate("stone-19").coarse_side.need(15) / 4)  # after Sherard
    assert told["bare"].lasts[0] < math.inf == told["bare"].lasts[2]
    full = schools(outcome, found, 100, ["bare"], Assumed(turbid=100.0, washes=0.0))[0]
    assert full.in_pipe == full.built.diameter and full.silted <= 1 and full.lasts[1] == 1
    middle = plausible(outcome, found)
    assert middle.inflow[0] == pytest.approx(found.water.parts[0].inflow.value) and middle.plasticity[0] == 5.0 and len(middle.inflow) == 100
    assert 0.08 < np.mean(middle.turbid > 3.0) < 0.12 and ways(outcome, found, found.make(found.part.station))["sock"].cloth.on_pipe
    with pytest.raises(InputError, match="nothing that could clog"):
        schools(outcome, outcome.run("r2"))
    part = found.water.parts[0]
    dry = dataclasses.replace(part, inflow=dataclasses.replace(part.inflow, value=0.0))
    with pytest.raises(InputError, match="no water in the wet season"):
        schools(outcome, dataclasses.replace(found, water=dataclasses.replace(found.water, parts=(dry,))))
    unknown = assess(with_value(demo_job(), "soils.g1.hard_layer_depth", None))
    with pytest.raises(InputError, match="what water comes to it is not known"):
        schools(unknown, unknown.run("r1"))


def test_by_the_command_line(tmp_path, capsys):
    assert main(["filter", "demo", "--school", "bare", "--school", "wrap", "--years", "5", "--csv", str(tmp_path / "years.csv")]) == 0
    assert main(["filter", "demo", "--school", "bare", "--years", "5"]) == 0
    said = capsys.readouterr().out
    assert "Bare 3/4 in stone" in said and "never a promise" in said and len((tmp_path / "years.csv").read_text().splitlines()) == 1 + 2 * 6
    assert main(["filter", "demo", "--json", "--years", "2"]) == 0
    found = json.loads(capsys.readouterr().out)
    assert [school["school"] for school in found["schools"]] == list(KEYS) and all(school["balance"] < 1e-9 for school in found["schools"])
    assert main(["filter", "demo", "--school", "bare", "--assume", "turbid=1", "--assume", "wet=100 %"]) == 0
    said = capsys.readouterr().out
    assert "only assumed" not in said and main(["filter", "pattern:grid", "--school", "bare"]) == 0 and "its grading is only assumed" in capsys.readouterr().out
    assert "turbid = 1 " in said and "a tenth fail by" in said and "6 years" in said.splitlines()[2]
    for wrong, says in ((["--json", "--csv", "x.csv"], "cannot stand beside"), (["--assume", "turbid"], "needs KEY=VALUE"), (["--assume", "washes=2"], "as much or as little"),
                        (["--assume", "packed=0"], "as much or as little"),
                        (["--assume", "hope=1"], "needs KEY=VALUE"), (["--assume", "turbid=nan"], "turbid"), (["--years", "0"], "from 1 to 100"), (["--years", "1.5"], "whole number"),
                        (["--school", "hope"], "is none of"), (["--run", "roof line"], "nothing that could clog")):  # fmt: skip
        assert main(["filter", "demo", *wrong]) == 2 and says in capsys.readouterr().err


def test_what_roofs_and_inlets_bring_lies_in_the_pipe_they_are_led_into_and_entries_hold_some_back():
    """Of the demo's roof, which has its own solid pipe: nothing until it is led into the drain; then its area by the metre, less behind a basket and a sump."""
    job = demo_job()
    assert shed_into(assess(job), assess(job).run("r1")) == (0.0, 0.0)
    led = with_value(job, "sources.w1.node", job.runs[0].nodes[-1])
    outcome = assess(led)
    area = led.sources[0].area
    assert shed_into(outcome, outcome.run("r1")) == (area, 0.0) and shed_into(outcome, outcome.run("r3")) == (0.0, 0.0)
    entry = dataclasses.replace(next(n for n in led.nodes if n.id == led.sources[0].node), kind="roof entry", entry="through a leaf basket", basin=Basin("round", 0.3, 0.15))
    held = dataclasses.replace(led, nodes=tuple(entry if n.id == entry.id else n for n in led.nodes))
    assert shed_into(assess(held), assess(held).run("r1"))[0] == pytest.approx(area * 0.3 * 0.5)
    paved = with_value(led, "sources.w1.kind", "paving")
    assert shed_into(assess(paved), assess(paved).run("r1")) == (0.0, area)
    of_roof, of_ground = (schools(o, o.run("r1"), keys=["as-drawn"])[0].course.brought[-1, 0] for o in (outcome, assess(paved)))
    assert of_roof == pytest.approx(30 * 0.15 * area / outcome.run("r1").run.collecting_length) and of_ground == pytest.approx(2 * of_roof)  # kg/m² in a year, as assumed
    clean, dirty = (schools(o, o.run("r1"), keys=["as-drawn"])[0] for o in (assess(job), outcome))
    assert dirty.in_pipe > 5 * clean.in_pipe + 1e-4 and dirty.course.balance < 1e-9
