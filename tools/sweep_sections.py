#!/usr/bin/env python3
"""Sweep of random sections through a storm and to a steady state: none may fail, none may break the water balance.

    ./weirant python tools/sweep_sections.py [--count 2000] [--seed 1] [--jobs 2]

Soils from 1e-9 to 1e-3 m/s, stone to 0.1 m/s, slopes to 25 %, storms to 150 mm in 15 minutes. One line at the end; exit code 1
where a section failed or its balance is worse than 1e-5 of what went through.
"""

from __future__ import annotations

import argparse
import math
import sys
import time
from concurrent.futures import ProcessPoolExecutor

import numpy as np

from weirant.errors import WeirantError
from weirant.seepage.flow import at_rest, settle
from weirant.seepage.medium import Medium, stone
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import Rain
from weirant.seepage.section import Cover, Cut, Opening, Section, Stratum
from weirant.seepage.storm import simulate

LIMIT = 1e-5


def soil(chance: np.random.Generator, name: str) -> Medium:
    """A soil between clay (1e-9 m/s) and coarse sand (1e-3 m/s); its curve goes with its conductivity, loosely."""
    log_k = chance.uniform(-9, -3)
    coarse = min(max((log_k + 9) / 6 + chance.normal(0, 0.15), 0.0), 1.0)
    return Medium(name, 10**log_k, chance.uniform(0.02, 0.1), chance.uniform(0.32, 0.5), 0.5 * 30**coarse, 1.08 + 1.8 * coarse**1.5, chance.uniform(0.5, 10))


def section(chance: np.random.Generator) -> Section:
    """A section with one to three layers, with or without drain, wall, slab, wrap, sock, ends of every kind."""
    depth = chance.uniform(0.5, 3.5)
    strata = tuple(Stratum(soil(chance, f"layer {i + 1}"), chance.uniform(0.1, 1.2)) for i in range(chance.integers(1, 4)))
    cut, at = None, chance.uniform(0.35, min(depth, 2.0))
    if chance.random() < 0.9:
        diameter = chance.choice([0.075, 0.10, 0.15])
        bedding = chance.uniform(0, 0.1) if at > 0.5 else 0.0
        pipe = Opening(diameter, at - bedding, chance.uniform(0, 0.02), diameter, chance.uniform(0, 1.5) * diameter, chance.uniform(2e-4, 4e-3),
                       chance.uniform(0.05, 2) if chance.random() < 0.3 else None)
        top = 0.0 if chance.random() < 0.3 else max(0.0, at - bedding - diameter - chance.uniform(0.05, 0.2))
        cut = Cut(chance.uniform(0.2, 0.6), at, top, stone("stone", 10 ** chance.uniform(-3, -1), 0.4), soil(chance, "fill"), pipe,
                  chance.choice([0.0, 0.0, 0.5]), chance.uniform(0.02, 2) if chance.random() < 0.5 else None)
    covers = (Cover(2.0, 6.0, chance.choice([0.0, 0.3, 0.6]) if depth > 0.9 else 0.0),) if chance.random() < 0.5 else ()
    slope = chance.uniform(0, 0.25) if chance.random() < 0.7 else 0.0
    upper = chance.uniform(0, depth) if chance.random() < 0.6 else None
    lower = chance.uniform(0.2, depth) if chance.random() < 0.3 else None
    return Section(chance.uniform(4, 20), chance.uniform(7, 15), depth, slope, strata, cut, covers, upper, lower, slope > 0 and lower is None and chance.random() < 0.6)


def one(seed: int) -> tuple[int, float, float, str]:
    """Seed, balance error, seconds and what went wrong."""
    chance = np.random.default_rng(seed)
    cut = section(chance)
    storm = chance.uniform(0.01, 0.15)
    lasts = chance.choice([900.0, 3600.0, 21600.0])
    rain = Rain((0.0, float(lasts)), (float(storm / lasts), 0.0))
    began = time.perf_counter()
    try:
        laid = lay_out(cut)
        done = simulate(laid, rain, 24 * 3600.0, start_table=chance.uniform(0.1, cut.depth))
        settle(laid, at_rest(laid, chance.uniform(0.1, cut.depth)), chance.uniform(0, 1e-7))  # raises where in and out differ
    except WeirantError as fault:
        return seed, math.nan, time.perf_counter() - began, str(fault)
    return seed, done.balance_error, time.perf_counter() - began, ""


def main() -> int:
    """Run the sweep."""
    take = argparse.ArgumentParser(description=__doc__)
    take.add_argument("--count", type=int, default=2000)
    take.add_argument("--seed", type=int, default=1)
    take.add_argument("--jobs", type=int, default=2)
    given = take.parse_args()
    worst, failed, spent = 0.0, [], []
    with ProcessPoolExecutor(given.jobs) as pool:
        for seed, error, seconds, fault in pool.map(one, range(given.seed, given.seed + given.count), chunksize=5):
            spent.append(seconds)
            if fault or not error <= LIMIT:
                failed.append(seed)
                print(f"section {seed}: {fault or f'balance {error:.2g}'} ({seconds:.1f} s)", flush=True)
            else:
                worst = max(worst, error)
            if len(spent) % 200 == 0:
                print(f"{len(spent)} done", file=sys.stderr, flush=True)
    print(f"{given.count} sections, {len(failed)} failed; worst balance {worst:.1e}; median {np.median(spent):.2f} s, longest {max(spent):.1f} s")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
