"""A drain year by year: what the soil lets go, what stays on the cloth, in the stone and in the pipe, what is washed out, and what the drain takes still."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from weirant.clogging.assumed import Assumed
from weirant.clogging.drain import Array, Built, Soils
from weirant.methods.intake import GRAVITY, ORIFICE_COEFFICIENT
from weirant.methods.soil_tests import water_viscosity
from weirant.records import dataclass

MONTHS, MONTH = 12, 365.25 * 86400 / 12
MOBILE = 0.5  # share of a soil, the finer half, of which grains move between the others (common practice, no source)
QUICK = 0.43  # m/s over which silt moves on in a pipe: NRCS 606, 1.4 ft/s (recalled)
SILTED = 0.95  # of the voids from which on stone counts as full
OPEN_BY = 0.005  # m that sediment in a pipe may lie over its lowest openings before it shuts them (common practice, no source)
LEAST = 1e-12


@dataclass(frozen=True, eq=False)
class Clogged:
    """What became of a drain at the end of each year, arrays (years + 1, soils): kg in a metre let go by the soil, on the cloth, in the voids of the stone, in the
    pipe, washed out and flushed; and how many times what comes the drain could take under the head it has.
    """

    let_go: Array
    cake: Array
    in_stone: Array
    in_pipe: Array
    out: Array
    flushed: Array
    takes: Array
    brought: Array

    @property
    def balance(self) -> float:
        """The largest share of what came in that is not found again."""
        came = self.let_go + self.brought
        kept = self.cake + self.in_stone + self.in_pipe + self.out + self.flushed
        return float((np.abs(came - kept) / np.maximum(came, LEAST)).max())

    @property
    def lasts(self) -> Array:
        """The year (n,) in which the drain no longer takes what comes; infinite where it does to the end."""
        fails = self.takes < 1
        return np.where(fails.any(axis=0), fails.argmax(axis=0).astype(float), np.inf)


def course(soils: Soils, built: Built, years: int, assumed: Assumed | None = None, flush_every: int = 0) -> Clogged:
    """Follow a drain for so many years, in steps of a month, flushed every so many (0: never)."""
    given, n = assumed or Assumed(), len(soils.inflow)
    passing = np.clip(soils.passing(built.meets), 0.0, 1.0)
    cloth = built.cloth
    stopped = 1 - np.minimum(soils.passing(cloth.opening) / MOBILE, 1.0) if cloth is not None else np.zeros(n)  # of the grains that move
    bridge = given.bridge * built.area * passing / np.maximum(1 - passing, LEAST)
    loose = given.turbid * soils.turbid * 10 ** (-soils.plasticity / given.plasticity)
    water = soils.inflow * MONTH * given.wet
    kept_by_stone = 1 - np.exp(-settling(soils.moves) * built.width / np.maximum(soils.inflow, LEAST))
    washes = given.washes * min(1.0, (built.velocity / QUICK) ** 2)
    blown = given.blown * built.width / MONTHS if built.open_top else 0.0
    grit = (built.roof * given.roof_grit + built.ground * given.ground_grit) / MONTHS
    state = np.zeros((7, n))  # let go, cake, stone, pipe, out, flushed, brought
    let_go, cake, stone, pipe, out, flushed, brought = state
    found, takes = np.zeros((years + 1, 7, n)), np.zeros((years + 1, n))
    takes[0] = _takes(soils, built, given, cake, stone, pipe)
    room = given.packed * built.stone * built.voids * SILTED
    for month in range(years * MONTHS):
        goes = loose * water * np.exp(-let_go / np.maximum(bridge, LEAST))
        let_go += goes
        stays = goes * stopped if cloth is not None and not cloth.on_pipe else np.zeros(n)
        passes = goes - stays
        free = np.maximum(room - stone, 0.0)
        into_stone = np.minimum(passes * kept_by_stone + blown, free)
        stone += into_stone
        brought += blown + grit
        leaves_stone = passes + blown - into_stone
        if cloth is not None and cloth.on_pipe:
            stays = leaves_stone * stopped
            leaves_stone = leaves_stone - stays
        cake += stays
        lands = leaves_stone + grit
        out += lands * washes
        pipe += lands * (1 - washes)
        if flush_every and (month + 1) % (flush_every * MONTHS) == 0:
            for of, share in ((pipe, given.flushed), (stone, given.reaches if built.all_round else 0.0)):
                flushed += of * share
                of *= 1 - share
        if (month + 1) % MONTHS == 0:
            year = (month + 1) // MONTHS
            found[year], takes[year] = state, _takes(soils, built, given, cake, stone, pipe)
    return Clogged(found[:, 0], found[:, 1], found[:, 2], found[:, 3], found[:, 4], found[:, 5], takes, found[:, 6])


def settling(size: Array) -> Array:
    """Speed m/s at which grains of a size m sink in still water at 10 °C, (n,), by Stokes; what sinks faster than water rises over an area stays there (Hazen 1904)."""
    return np.asarray(1.65 * GRAVITY * size**2 / (18 * water_viscosity(10.0)))


def cake_conductivity(d10: Array, void_ratio: float) -> Array:
    """Conductivity m/s of fines settled on a cloth, by Kozeny and Carman at 10 °C, of the size m a tenth is finer than, (n,)."""
    return GRAVITY / water_viscosity(10.0) * d10**2 / 180 * void_ratio**3 / (1 + void_ratio)


def _takes(soils: Soils, built: Built, given: Assumed, cake: Array, stone: Array, pipe: Array) -> Array:
    """How many times what comes the drain could take: through cloth, cake and stone under the head there is, and through the openings that are still free."""
    clogs = cake_conductivity(soils.d10, given.cake_voids)
    resists = np.zeros(len(cake))
    if built.cloth is not None:
        area = built.cloth.area
        resists = cake / (given.packed * area) / clogs / area + 1 / (built.cloth.permittivity * area)
    left = np.clip(1 - stone / max(given.packed * built.stone * built.voids, LEAST), 0.0, 1.0)
    girth = (built.area + np.pi * built.diameter) / 2
    resists = resists + built.through / (np.maximum(built.conductivity * left**3, clogs) * girth)
    in_trench = stone / (given.packed * max(built.voids, LEAST) * built.width)  # it settles from the bottom up
    in_pipe = pipe / (given.packed * built.diameter)
    free = np.zeros(len(stone))
    for row in built.rows:
        open_ = ((in_trench < built.below + row.height + LEAST) | (built.stone <= LEAST)) & (in_pipe < row.height + OPEN_BY)
        free += np.where(open_, row.area, 0.0)
    openings: NDArray[np.float64] = ORIFICE_COEFFICIENT * free * (2 * GRAVITY * built.head) ** 0.5
    return np.minimum(built.head / resists, openings) / np.maximum(soils.inflow, LEAST)


def what_parts(one: tuple[Soils, Built], other: tuple[Soils, Built], assumed: Assumed | None = None) -> dict[str, float]:
    """By which facts two drains part, each as how many times the first is to the second (by the means of their soils): the water that comes, how loose the soil is,
    what of it passes, and the room for it.
    """
    given = assumed or Assumed()

    def facts(soils: Soils, built: Built) -> dict[str, float]:
        passing = float(np.clip(soils.passing(built.meets), 1e-4, 1 - 1e-4).mean())
        loose = float((soils.turbid * 10 ** (-soils.plasticity / given.plasticity)).mean())
        room = built.stone * built.voids + 0.25 * np.pi * built.diameter**2
        return {"water": float(soils.inflow.mean()), "loose": loose, "passes": passing / (1 - passing), "room": room}

    mine, others = facts(*one), facts(*other)
    return {name: mine[name] / max(others[name], LEAST) for name in mine}
