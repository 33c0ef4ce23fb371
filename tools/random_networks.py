"""Flow that parts, in many networks drawn by chance: trees and meshes, steep, flat, level and reversed, tiny and huge inflows, outlets free, drowned and
at odds, over edges, through holes and flaps, into the ground; and a storm through each. Prints what finds no balance, or closes it less well than a millionth of what flows.

``python tools/random_networks.py --networks 2000`` takes two to three minutes on a processor.
"""

from __future__ import annotations

import argparse
import time

import numpy as np

from weirant.errors import SolverError
from weirant.hydraulics.kernel.kinds import ONE_WAY, OPENING, PIPE
from weirant.hydraulics.outlet_relation import SOAKS_WITHIN
from weirant.hydraulics.parting import PipeMesh, part, soaked
from weirant.hydraulics.routing import Brings, Lift, Stands, Stores, route

CLOSES = 1e-6  # of what comes in or flows
PIECES = 4  # reaches of each pipe


def drawn(seed: int) -> PipeMesh:
    """A network of 2 to 11 nodes: a tree, and up to as many pipes more, some of which begin over the floor of their node."""
    chance = np.random.default_rng(seed)
    nodes = int(chance.integers(2, 12))
    kind = chance.random()
    levels = np.zeros(nodes) if kind < 0.1 else np.round(chance.uniform(0, 1, nodes), 1) if kind < 0.35 else chance.uniform(0, 3, nodes)
    pipes = [(k, int(chance.integers(0, k))) for k in range(1, nodes)]
    pipes += [tuple(chance.choice(nodes, 2, replace=False).tolist()) for _ in range(chance.integers(0, nodes))]
    low, rows = levels.tolist(), []
    for above, below in pipes:
        over, diameter, length, roughness = chance.choice([0, 0, 0.1]), chance.choice([0.05, 0.1, 0.15, 0.3]), chance.uniform(2, 120), chance.choice([0.009, 0.016, 0.02])
        inverts = np.linspace(levels[above] + over, levels[below] + over, PIECES + 1)
        sections = [above, *range(len(low), len(low) + PIECES - 1), below]
        low += inverts[1:-1].tolist()
        full = np.pi * diameter**2 / 4 * (diameter / 4) ** (2 / 3) / roughness
        rows += [(sections[k], sections[k + 1], inverts[k], inverts[k + 1], length / PIECES, diameter, full) for k in range(PIECES)]
    size = 10 ** chance.uniform(-8, -1.5)
    inflow = np.where(chance.random(len(low)) < 0.5, chance.uniform(0, size, len(low)), 0.0)
    held, soaks, kinds = dict[int, float](), dict[int, tuple[float, ...]](), [PIPE] * len(rows)
    for outlet in chance.choice(nodes, chance.integers(1, 3), replace=False).tolist():
        held[outlet] = levels[outlet] + chance.choice([-1, 0, 0.05, 1.0])
        way = chance.random()
        if way < 0.3:  # over an edge, through a hole or a flap into what is held
            crest, beyond = levels[outlet] + chance.choice([0, 0.1, 0.5]), len(low)
            held[beyond] = max(held.pop(outlet), crest) if chance.random() < 0.5 else crest
            low.append(min(crest, held[beyond]))
            rows.append((outlet, beyond, crest, crest, 1.0, chance.uniform(0.01, 0.2), 10 ** chance.uniform(-4, -1)))
            kinds.append(OPENING | (ONE_WAY if chance.random() < 0.5 else 0))
        elif way < 0.45:  # into ground that soaks
            held.pop(outlet)
            soaks[outlet] = levels[outlet] + chance.choice([0, 0.2]), 10 ** chance.uniform(-6, -4), 10 ** chance.uniform(-6, -2)
    levels_held, soaking = np.full(len(low), np.nan), np.zeros((3, len(low)))
    for outlet, level in held.items():
        levels_held[outlet] = level
    for outlet, figures in soaks.items():
        soaking[:, outlet] = figures
    inflow = np.concatenate((inflow, np.zeros(len(low) - len(inflow))))
    starts, stops, high, under, lengths, across, full = (np.array(column) for column in zip(*rows, strict=True))
    return PipeMesh(np.array(low), inflow, levels_held, starts.astype(np.intp), stops.astype(np.intp), high, under, lengths, across, full, np.array(kinds, dtype=np.intp), soaking)


def fault(mesh: PipeMesh) -> str:
    """What is wrong with the flow found in a network; nothing where all is well."""
    try:
        found = part(mesh)
    except SolverError as failed:
        return str(failed)
    if not (np.isfinite(found.level).all() and np.isfinite(found.flow).all()):
        return "a level or a flow that is no number"
    open_, count = np.array(mesh.inflow), len(mesh.low)
    open_ += np.bincount(mesh.below, found.flow, count) - np.bincount(mesh.above, found.flow, count) - soaked(mesh, found.level)[0]
    free = np.isnan(mesh.held)
    off = float(np.abs(open_[free]).max(initial=0.0))
    if off > CLOSES * (mesh.inflow.sum() + np.abs(found.flow).max()):
        return f"a node is off by {off:.1e} m³/s"
    rises = (found.level[mesh.above] - found.level[mesh.below]) * found.flow < -1e-9 * np.abs(found.flow).max(initial=0.0)
    return "water flows up its own surface" if (rises & (found.level[mesh.below] > mesh.invert_below)).any() else ""


def stores_of(mesh: PipeMesh, chance: np.random.Generator) -> Stores:
    """Stone round some pipes, boxes at some sections, rims over which water comes out, away or to a section that lies lower."""
    count, reaches = len(mesh.low), len(mesh.above)
    rim = np.where(chance.random(count) < 0.3, mesh.low + chance.uniform(0.2, 1.5, count), np.inf)
    leads = chance.integers(0, count, count)
    lower = np.where(np.isfinite(rim[leads]), rim[leads], mesh.low[leads]) < rim
    leads = np.where(lower & np.isfinite(rim) & (chance.random(count) < 0.5), leads, -1).astype(np.intp)
    is_pipe = (mesh.kind == PIPE).astype(float)
    return Stores(is_pipe, is_pipe * chance.choice([0, 0.05, 0.2], reaches), chance.choice([0, 0.2, 0.6], reaches), np.where(chance.random(count) < 0.2, 0.2, 0.0),
                  rim, np.ones(count), leads)  # fmt: skip


def soaking(mesh: PipeMesh) -> list[Lift]:
    """What soaks away as a storm takes it."""
    return [Lift(k, -1, since, since + SOAKS_WITHIN, once, once + more * SOAKS_WITHIN) for k, (since, once, more) in enumerate(mesh.soaks.T.tolist()) if more > 0]


def storm_fault(mesh: PipeMesh, seed: int) -> str:
    """What is wrong with a storm of some bursts through a network; nothing where all is well."""
    chance = np.random.default_rng([seed, 1])
    bursts = chance.uniform(0, 1, 12) * (chance.random(12) < 0.5)
    into, most = int(chance.integers(0, len(mesh.low))), 10 ** chance.uniform(-4, 1)
    storm = Brings(np.linspace(0, 7200, 13), np.concatenate(([0.0], np.cumsum(bursts))), ((into, most),))
    pits = [k for k in np.nonzero(np.isnan(mesh.held))[0].tolist() if chance.random() < 0.1]
    lifts = soaking(mesh)
    outside = {k: Stands(np.array([0.0, 7200.0, 20000.0]), mesh.held[k] + np.array([0.0, 0.6, 0.0])) for k in np.nonzero(~np.isnan(mesh.held))[0].tolist() if chance.random() < 0.2}
    for k in pits:
        to, apart, least, most = int(chance.choice([-1, *(n for n in range(len(mesh.low)) if n != k)])), float(chance.uniform(0.05, 0.6)), *sorted(10 ** chance.uniform(-5, -2, 2))
        lifts.append(Lift(k, to, mesh.low[k], mesh.low[k] + apart, least, most, (1800.0, 9000.0) if chance.random() < 0.3 else (0.0, 0.0)))
    try:
        found = route(mesh, stores_of(mesh, chance), [storm], 86400.0, lifts=lifts, outside=outside)
    except SolverError as failed:
        return f"in a storm: {failed}"
    if not np.isfinite(found.level).all():
        return "in a storm: a level that is no number"
    return f"in a storm: the balance is off by {found.off:.1e}" if found.off > CLOSES else ""


def main() -> None:
    """Solve them, and tell."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--networks", type=int, default=2000)
    wanted, began, faults = parser.parse_args().networks, time.perf_counter(), 0
    for seed in range(wanted):
        if told := fault(drawn(seed)) or storm_fault(drawn(seed), seed):
            faults += 1
            print(f"network {seed}: {told}")
    print(f"{wanted} networks in {time.perf_counter() - began:.0f} s, {faults} faults")
    raise SystemExit(1 if faults else 0)


if __name__ == "__main__":
    main()
