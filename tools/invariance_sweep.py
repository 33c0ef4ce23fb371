"""What must not turn round, on many jobs drawn by chance: deeper is never wetter, more rain and recharge never drier, tighter soil never quicker, a wider
range never surer; units and mirroring change nothing. Prints what breaks, and by how much.

``python tools/invariance_sweep.py`` takes some minutes on two processors; ``--jobs N`` sets how many are drawn, ``--storms N`` in how many of them the
section simulator is asked too, for what waits and for the design storm.
"""

from __future__ import annotations

import argparse
import dataclasses
import math
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from functools import partial

import numpy as np

from weirant.design.assess import assess
from weirant.design.first_job import BEGINNINGS, Answers, falling_with_the_ground
from weirant.design.storm_verdict import storm_findings
from weirant.design.worked_out import with_nothing_waiting
from weirant.errors import WeirantError
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.site import Spot
from weirant.job.soil import Band, Layer, Soil
from weirant.job.water import BOTH_SIDES, HILLSIDE, ONE_SIDE, PARALLEL
from weirant.library import shipped
from weirant.outcome.finding import WAITS, Finding, State
from weirant.outcome.outcome import Outcome

SLACK, SLACK_TIME = 0.02, 1800.0  # m of water and s of drying that mesh and turns of the sum are worth
DEEPER, MORE, TIGHTER, WIDER = 0.1, 1.5, 0.5, 2.0  # m; times


def drawn(seed: int) -> Job:
    """A job drawn by chance: any soil of one or two layers, any source, drain, place, section, seepage and storm that is not absurd."""
    chance = np.random.default_rng(seed)
    textures = [texture.key for texture in shipped().textures.values() if texture.key not in ("sand",)]
    beginning = BEGINNINGS[int(chance.integers(len(BEGINNINGS)))]
    job = falling_with_the_ground(beginning, Answers(str(chance.choice(textures)), float(chance.uniform(6, 30)), float(chance.uniform(5, 20)),
                                                     float(chance.uniform(0.8, 5)), float(chance.uniform(1.2, 4.0)), str(chance.choice(["imperial", "metric"]))))  # fmt: skip
    layers = [_layer(chance, str(chance.choice(textures)), None)]
    if chance.random() < 0.4:
        layers.insert(0, _layer(chance, str(chance.choice(textures)), float(chance.uniform(0.15, 0.5))))
    wet = float(chance.uniform(0.05, 0.45))
    soil = Soil(tuple(layers), wet + float(chance.uniform(0.3, 2.0)), wet, float(chance.uniform(0.01, 0.15)), sideways=float(chance.choice([1.0, 1.0, 2.0])))
    job = dataclasses.replace(job, soils=(soil,), assumed=())
    for path, value in {"runs.r1.source": str(chance.choice([HILLSIDE, ONE_SIDE, BOTH_SIDES, PARALLEL])), "runs.r1.reach": float(chance.uniform(5, 40)),
                        "features.t1.dry_depth": float(chance.uniform(0.15, 0.6)), "sections.s1.width": float(chance.uniform(0.25, 0.5)),
                        "sections.s1.top": str(chance.choice(["soil cap", "soil cap", "open stone"])), "water.drainage_rate": math.exp(chance.uniform(math.log(2e-9), math.log(1e-7))),
                        "water.storm_depth": float(chance.uniform(0.01, 0.1)), "water.storm_duration": float(chance.uniform(1, 24)) * 3600}.items():  # fmt: skip
        job = with_value(job, path, value)
    return with_value(job, "runs.r1.invert", job.runs[0].invert - float(chance.uniform(0.0, 0.5)))


def _layer(chance: np.random.Generator, texture: str, thickness: float | None) -> Layer:
    best = shipped().texture(texture).conductivity.best * math.exp(chance.uniform(-1.2, 1.2))
    return Layer(texture, thickness, Band(best / chance.uniform(1.0, 3.0), best, best * chance.uniform(1.0, 3.0)))


def mirrored(job: Job) -> Job:
    """The same site seen in a mirror."""
    nodes = tuple(dataclasses.replace(node, x=-node.x) for node in job.nodes)
    return dataclasses.replace(job, nodes=nodes, features=tuple(dataclasses.replace(f, points=tuple(Spot(-p.x, p.y) for p in f.points)) for f in job.features))


def with_conductivity(job: Job, by: float = 1.0, wider: float = 1.0) -> Job:
    """All layers conducting so many times as well, over a range so many times as wide."""
    def told(layer: Layer) -> Layer:
        band = layer.conductivity
        assert band is not None
        return dataclasses.replace(layer, conductivity=Band(band.low * by / wider, band.best * by, band.high * by * wider))

    return dataclasses.replace(job, soils=tuple(dataclasses.replace(s, layers=tuple(map(told, s.layers))) for s in job.soils))


def broken(seed: int, storm: bool = False) -> list[tuple[str, float]]:
    """What turns round in the job of a seed, and by how much (m, s, or a share); with the design storm simulated too where ``storm``."""
    job = drawn(seed)
    try:
        here = assess(job)
        others = {"deeper": with_value(job, "runs.r1.invert", job.runs[0].invert - DEEPER), "recharge": with_value(job, "water.drainage_rate", job.water.drainage_rate * MORE),
                  "tighter": with_conductivity(job, TIGHTER), "rain": with_value(job, "water.storm_depth", job.water.storm_depth * MORE),
                  "wider": with_conductivity(job, wider=WIDER), "units": with_value(job, "units", "metric" if job.units == "imperial" else "imperial"), "mirror": mirrored(job)}
        found = {name: assess(other) for name, other in others.items()}
        if storm:
            here, found = with_nothing_waiting(here), {name: with_nothing_waiting(outcome) for name, outcome in found.items()}
        return [*_of_tables(here, found), *_of_the_same(here, found), *(_of_storms(here, found) if storm else ())]
    except WeirantError as fault:
        return [(f"refused: {fault}", 0.0)]


def _of(outcome: Outcome, code: str) -> Finding | None:
    return next((f for f in outcome.findings if f.code == code and f.case != WAITS), None)


def _of_tables(here: Outcome, found: dict[str, Outcome]) -> Iterator[tuple[str, float]]:
    """The water table of the wet season: none of the three soils is drier for more recharge or in tighter ground, nor wetter for a deeper drain."""
    was = _of(here, "table")
    if was is None or was.figure is None or was.figure.band is None:
        return
    for name, sign in (("deeper", 1), ("recharge", -1), ("tighter", -1)):
        now = _of(found[name], "table")
        if now is not None and now.figure is not None and now.figure.band is not None:
            by = max(sign * (before - after) for before, after in zip((*was.figure.band, was.figure.value), (*now.figure.band, now.figure.value), strict=True))
            if by > SLACK:
                yield f"table: {name}", by
    wider = _of(found["wider"], "table")
    if wider is not None and wider.state == State.HOLDS != was.state:
        yield "table: a wider range is surer", 1.0


def _of_the_same(here: Outcome, found: dict[str, Outcome]) -> Iterator[tuple[str, float]]:
    """Units and a mirror change no figure; more rain is never less in the pipe."""
    for name in ("units", "mirror"):
        for was, now in zip(_sorted(here), _sorted(found[name]), strict=True):
            by = abs((was.value or 0.0) - (now.value or 0.0)) / max(abs(was.value or 0.0), 1e-3)
            if (was.code, was.state) != (now.code, now.state) or by > 1e-6:
                yield f"{name}: {was.code}", by
    storms = [max((part.in_storm for found in outcome.site.runs if found.water is not None for part in found.water.parts), default=0.0) for outcome in (here, found["rain"])]
    if storms[1] < storms[0]:
        yield "storm water: rain", storms[0] - storms[1]


def _sorted(outcome: Outcome) -> list[Finding]:
    return sorted(outcome.findings, key=lambda f: (f.about, f.piece, f.station or 0.0))


def _of_storms(here: Outcome, found: dict[str, Outcome]) -> Iterator[tuple[str, float]]:
    """Drying after the design storm: never sooner for more rain or recharge or in tighter ground, nor later for a deeper drain."""
    was = _seconds(here)
    for name, sign in (("deeper", -1), ("recharge", 1), ("rain", 1), ("tighter", 1)):
        now = _seconds(found[name])
        if was is not None and now is not None and sign * (was - now) > SLACK_TIME:
            yield f"drying: {name}", sign * (was - now)


def _seconds(outcome: Outcome) -> float | None:
    finding = next(iter(storm_findings(outcome) or ()), None)
    if finding is None or finding.state == State.UNKNOWN:
        return None
    return finding.value if finding.value is not None else 1e6  # not within the time looked at


def main() -> None:
    """Print what breaks, with the seeds that show it."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--jobs", type=int, default=2000)
    parser.add_argument("--storms", type=int, default=60)
    given = parser.parse_args()
    with ProcessPoolExecutor() as executor:
        plain = executor.map(partial(broken), range(given.jobs), chunksize=20)
        stormy = executor.map(partial(broken, storm=True), range(given.storms), chunksize=2)
        told: Counter[str] = Counter()
        worst: dict[str, tuple[float, int]] = {}
        for seeds in (plain, stormy):
            for seed, breaks in enumerate(seeds):
                for name, by in breaks:
                    told[name] += 1
                    worst[name] = max(worst.get(name, (0.0, seed)), (by, seed))
    print(f"{given.jobs} jobs, {given.storms} storms: {'nothing turns round' if not told else ''}")
    for name, times in told.most_common():
        print(f"{times:5d}  {name}: at most {worst[name][0]:.4g} (seed {worst[name][1]})")


if __name__ == "__main__":
    main()
