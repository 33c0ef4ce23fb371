"""The line model against the section simulator over many sections: prints the tables of docs/line_model.md.

``python tools/line_sweep.py`` takes a minute or two on two processors; ``--odd N`` sets how many sections are drawn by chance.
"""

from __future__ import annotations

import argparse
import dataclasses
import math
from collections.abc import Iterable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from itertools import product

import numpy as np

from weirant.errors import WeirantError
from weirant.library import shipped
from weirant.seepage.flow import at_rest, settle
from weirant.seepage.medium import Medium, stone
from weirant.seepage.mesh import lay_out
from weirant.seepage.results import depth_to_water
from weirant.seepage.section import HARD, Cover, Cut, Opening, Section, Stratum
from weirant.seepage.steady_line import steady_line

RATE = 3.67e-8  # m/s: 1/8 in a day
LEAST, SHARE, INFLOW, DROP = 0.03, 0.05, 0.15, 2e-8  # m, of the drain's depth, of the inflow, m²/s that is next to nothing
STONE = stone("stone", 0.05, 0.4)


@dataclass(frozen=True)
class Case:
    """A section with what it is called in the table, the place it is judged at m across, and the recharge m/s."""

    situation: str
    soil: str
    section: Section
    place: float
    rate: float


@dataclass(frozen=True)
class Miss:
    """What the line says less what the simulator says: depth at the place m, inflow as a share; and whether it is trusted, within m, and right."""

    case: Case
    depth: float
    inflow: float
    is_trusted: bool
    is_right: bool


def medium(key: str) -> Medium:
    """A texture of the library as a medium."""
    texture = shipped().texture(key)
    residual, saturated, alpha, shape = texture.curve
    return Medium(texture.name, texture.conductivity.best, residual, saturated, alpha, shape, entry=-min(0.02, 0.3 / alpha))


def trench(depth: float, soil: Medium, width: float = 0.3, top: float = 0.35, bedding: float = 0.05, water: float = 0.02) -> Cut:
    """A trench with its pipe, the stone ``top`` m high."""
    return Cut(width, depth, max(depth - top, 0.0), STONE, soil, Opening(0.115, depth - bedding, 0.008, 0.115, water, 0.0013))


def lying(situation: str, depth: float, strata: tuple[Stratum, ...], cut: Cut, wet: float, reach: float, beyond: float, slope: float = 0.0, covers: tuple[Cover, ...] = ()) -> Section:
    """A section in a situation, as ``design.across`` lays them."""
    held = min(wet, depth - 0.05)
    if situation == "hillside":
        return Section(reach, beyond, depth, slope, strata, cut, covers, upper_table=held, runs_on=True)
    if situation == "parallel lines":
        return Section(reach / 2, reach / 2, depth, 0.0, strata, cut)
    lower = held if situation == "both sides" else None
    return Section(reach, max(reach, beyond) if lower is not None else beyond, depth, 0.0, strata, cut, covers, upper_table=held, lower_table=lower)


def even() -> list[Case]:
    """Sections as they are dug: every situation in every soil, at every depth over every hard layer."""
    found = []
    situations = (("hillside", 0.02), ("hillside", 0.08), ("hillside", 0.15), ("one side", 0.0), ("both sides", 0.0), ("parallel lines", 0.0))
    for key, (situation, slope), depth, under in product(("loamy-sand", "sandy-loam", "loam", "clay-loam", "silty-clay-loam"), situations, (0.6, 0.9, 1.3), (0.0, 0.2, 0.6, 1.5)):
        soil, hard = medium(key), depth + under
        reach = 12.0 if situation == "parallel lines" else 15.0
        section = lying(situation, hard, (Stratum(soil, hard),), trench(depth, soil), 0.2, reach, 8.0, slope)
        found.append(Case(situation + (f", {slope:.0%}" if slope else ""), key, section, reach / 2 - 0.05 if situation == "parallel lines" else 3.0, RATE))
    return found


def odd(count: int) -> list[Case]:
    """Sections drawn by chance, far beyond what is usual: two layers of any two soils, layers that conduct better along, trenches cut into the hard layer,
    open stone, covers, steep slopes, little and much recharge.
    """
    return [_drawn(np.random.default_rng(seed)) for seed in range(count)]


def _drawn(chance: np.random.Generator) -> Case:
    keys = [texture.key for texture in shipped().textures.values()]
    depth, under = float(chance.uniform(0.45, 1.6)), float(chance.choice([0.0, 0.0, chance.uniform(0.05, 0.5), chance.uniform(0.5, 3.0)]))
    hard = depth + under
    base = medium(str(chance.choice(keys)))
    base = dataclasses.replace(base, conductivity=base.conductivity * math.exp(chance.uniform(-1.6, 1.6)), sideways=float(chance.choice([1, 1, 3, 8])))
    strata = [Stratum(base, hard)]
    if chance.random() < 0.4:
        top = float(chance.uniform(0.15, min(0.6, hard - 0.1)))
        strata = [Stratum(medium(str(chance.choice(keys))), top), Stratum(base, hard - top)]
    if chance.random() < 0.15:  # the trench is cut into the hard layer
        strata, hard = _cut_in(strata, depth - float(chance.uniform(0.03, 0.25)), depth), depth
    cut = trench(depth, strata[0].medium, float(chance.uniform(0.2, 0.6)), float(chance.uniform(0.2, 0.6)) if chance.random() < 0.7 else depth,
                 float(chance.uniform(0.0, 0.1)), float(chance.uniform(0.01, 0.06)))  # fmt: skip
    situation, near, reach = str(chance.choice(["hillside", "hillside", "one side", "both sides", "parallel lines"])), float(chance.uniform(1.0, 6.0)), float(chance.uniform(4.0, 30.0))
    covers = (Cover(near, near + 0.25, float(chance.uniform(0.0, min(0.5, 0.8 * hard)))), Cover(near + 0.25, near + 6.0)) if chance.random() < 0.4 else ()
    section = lying(situation, hard, tuple(strata), cut, float(chance.uniform(0.0, min(0.9 * depth, 0.6))), reach, near + 6.5, float(chance.uniform(0.01, 0.25)), covers)
    return Case(situation, "any", section, (reach / 2 if situation == "parallel lines" else near) - 0.05, math.exp(chance.uniform(math.log(1e-9), math.log(2e-7))))


def _cut_in(strata: list[Stratum], hard: float, depth: float) -> list[Stratum]:
    kept, top = [], 0.0
    for stratum in strata:
        if top < hard:
            kept.append(Stratum(stratum.medium, min(stratum.thickness, hard - top)))
            top += stratum.thickness
    tight = dataclasses.replace(kept[-1].medium, name=HARD, conductivity=min(s.medium.conductivity for s in kept) / 100)
    return [*kept, Stratum(tight, depth)]


def compared(case: Case) -> Miss | None:
    """Both models on one case; None where the simulator does not settle."""
    section = case.section
    laid = lay_out(section)
    table = section.upper_table if section.upper_table is not None else 0.6 * section.depth
    state = at_rest(laid, table)
    try:
        step = settle(laid, state, case.rate)
    except WeirantError:
        return None
    line = steady_line(section, case.rate)
    depth = float(line.depth(case.place)[0]) - float(np.interp(case.place, laid.x, depth_to_water(laid, state.head)))
    flow = float(line.flow[0]) - step.pipe
    assert section.cut is not None
    is_right = abs(depth) <= max(LEAST, SHARE * section.cut.depth) and (abs(flow) <= INFLOW * step.pipe or abs(flow) <= DROP)
    return Miss(case, depth, flow / max(step.pipe, DROP), bool(line.is_sound[0]), is_right)


def run(cases: list[Case]) -> list[Miss]:
    """All of them, on all processors."""
    with ProcessPoolExecutor() as executor:
        return [miss for miss in executor.map(compared, cases, chunksize=8) if miss is not None]


def _row(name: str, misses: list[Miss]) -> str:
    trusted = [m for m in misses if m.is_trusted]
    worst = max((abs(m.depth) for m in trusted), default=0.0), max((abs(m.inflow) for m in trusted if m.is_right), default=0.0)
    outside = sum(not m.is_right for m in trusted)
    return (f"| {name} | {len(misses)} | {len(trusted)} | {np.median([abs(m.depth) for m in trusted] or [0]) * 100:.1f} | {worst[0] * 100:.1f} | {worst[1]:.0%} | {outside} | "
            f"{sum(not m.is_right for m in misses if not m.is_trusted)} |")  # fmt: skip


def table(misses: list[Miss], by: Iterable[str]) -> list[str]:
    """The lines of a table, grouped by fields of the cases."""
    lines = ["| | sections | trusted | depth off, median cm | at most cm | inflow off, at most | trusted and outside | not trusted and outside |", "|---|---|---|---|---|---|---|---|"]
    for field in by:
        names = dict.fromkeys(getattr(m.case, field) for m in misses)
        lines += [_row(name, [m for m in misses if getattr(m.case, field) == name]) for name in names]
    return [*lines, _row("**all**", misses)]


def main() -> None:
    """Print both tables."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--odd", type=int, default=600)
    given = parser.parse_args()
    print("\n".join(table(run(even()), ("situation", "soil"))))
    chance = run(odd(given.odd))
    print("\n" + "\n".join(table(chance, ("situation",))))
    waiting = [m for m in chance if not m.is_trusted]
    times = sorted((1 + m.inflow if m.inflow > 0 else 1 / max(1 + m.inflow, 1e-3)) for m in waiting)
    print(f"\nNot trusted: inflow within 3 times in {np.mean([t <= 3 for t in times]):.0%} of {len(times)}.")


if __name__ == "__main__":
    main()
