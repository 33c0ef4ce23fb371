"""How sure is it? The same storm on many plausible grounds, on any executor, and which unknown matters most."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from concurrent.futures import Executor, as_completed

import numpy as np
from numpy.typing import NDArray

from weirant.design.across import GroundSample, section_at, stand_at
from weirant.design.simulation import HOURS, steady_state
from weirant.design.storms import rain_of
from weirant.errors import InputError, WeirantError
from weirant.job.rain import Storm
from weirant.language import tr
from weirant.outcome.outcome import Outcome
from weirant.records import dataclass
from weirant.seepage.flow import BRISK
from weirant.seepage.grid import ROUGH
from weirant.seepage.line_model import line_run
from weirant.seepage.mesh import lay_out
from weirant.seepage.rain import Rain
from weirant.seepage.section import Section
from weirant.seepage.storm import courses

Array = NDArray[np.float64]
# spread of what is not measured, as the factor between the middle and the tenth or ninetieth of a hundred (common practice, no source)
POROSITY, HARD_LAYER, RAIN = 1.35, 1.25, 1.3
TENTH = 1.2816  # standard deviations
UNKNOWNS = (tr("conductivity of the soil"), tr("pores that drain"), tr("depth of the hard layer"), tr("rain of the storm"))
TESTS = (tr("an auger-hole or falling-water test in the wet layer"), tr("a water level watched through one storm"), tr("augering a few more holes down to the hard layer"),
         tr("a rain gauge, or the rainfall table of a nearby station"))  # fmt: skip


@dataclass(frozen=True)
class Sample:
    """One plausible ground: what the simulator needs of it, plain data that any worker can be sent."""

    section: Section
    rain: Rain
    until: float
    place: float
    rate: float
    by_line: bool = False
    drying: float = 0.0


@dataclass(frozen=True, eq=False)
class SampleResult:
    """Depth to water at the place, m, at even times (MOMENTS,), the volume of the pipe m², and the depth of the water table at even places
    over the section, m (MOMENTS, ACROSS); empty where the flow could not be solved, the tables also by the line model.
    """

    depth: Array
    volume: float
    tables: NDArray[np.float32]


MOMENTS, ACROSS, CHUNK = 60, 48, 50
NONE = np.zeros((0, ACROSS), dtype=np.float32)


def answer(sample: Sample) -> SampleResult:
    """Simulate one sample; a plain function of plain data, so that any executor can run it anywhere."""
    times = np.linspace(sample.until / MOMENTS, sample.until, MOMENTS)
    try:
        if sample.by_line:
            line = line_run(sample.section, sample.rain, sample.until, sample.place, settle_rate=sample.rate)
            return SampleResult(np.interp(times, line.times, line.depth), line.volume, NONE)
        laid = lay_out(sample.section, ROUGH)
        *_, course = courses(laid, sample.rain, sample.until, steady_state(laid, sample.rate), dataclasses.replace(BRISK, drying=sample.drying), frames=MOMENTS)
        across = places_of(sample.section)
        lines = np.array([np.interp(across, laid.x, frame.table) for frame in course.frames])
        tables = np.column_stack([np.interp(times, course.times, lines[:, i]) for i in range(ACROSS)]).astype(np.float32)
        return SampleResult(np.interp(times, course.times, course.depth_at(sample.place)), course.total("pipe"), tables)
    except WeirantError:
        return SampleResult(np.zeros(0), 0.0, NONE)


def places_of(section: Section) -> Array:
    """Where the table of every sample is kept, m across (ACROSS,): closer near the drain. Samples of one job reach equally far."""
    near = (np.arange(1, ACROSS // 2 + 1) / (ACROSS // 2)) ** 1.5
    return np.concatenate((-section.upslope * near[::-1], section.downslope * near))


def answer_all(samples: list[Sample]) -> list[SampleResult]:
    """Several samples in one call: the line model takes less than a millisecond, so that sending it takes longer than working it."""
    return [answer(sample) for sample in samples]


@dataclass(frozen=True, eq=False)
class Ensemble:
    """What came of the samples: factors (samples, 4) of the unknowns, depths to water at the place m (samples, times) at ``times`` s, volumes
    m² (samples,), and the water table over the section, ``tables`` m (samples, times, ACROSS) at ``across`` m, empty by the line model;
    ``storm_ends`` s; to be dry to ``dry_depth`` m ``wanted`` s after it; ``lost`` samples could not be solved.
    """

    factors: Array
    times: Array
    depths: Array
    volumes: Array
    across: Array
    tables: NDArray[np.float32]
    storm_ends: float
    dry_depth: float
    wanted: float
    lost: int

    @property
    def after_rain(self) -> Array:
        """Time from the end of the rain until the place is dry, s (samples,); infinite where it is not within the time."""
        wet = self.depths < self.dry_depth - 1e-9
        last = np.where(wet.any(axis=1), wet.shape[1] - 1 - np.argmax(wet[:, ::-1], axis=1), -1)
        dry = np.where(last < 0, 0.0, self.times[np.minimum(last + 1, len(self.times) - 1)])
        return np.where(last == len(self.times) - 1, np.inf, np.maximum(dry - self.storm_ends, 0.0))

    def dry_within(self, seconds: float) -> int:
        """In how many of a hundred samples the place is dry within a time after the rain."""
        return round(100 * float(np.mean(self.after_rain <= seconds)))

    def band(self, low: float = 0.1, high: float = 0.9) -> tuple[Array, Array, Array]:
        """Times s, and depths m (times,) that a share of the samples is shallower than."""
        return self.times, np.quantile(self.depths, low, axis=0), np.quantile(self.depths, high, axis=0)

    def table_band(self, time: float, low: float = 0.1, high: float = 0.9) -> tuple[Array, Array, Array] | None:
        """Places m across, and depths of the water table m (ACROSS,) there at a time, s, that a share of the samples is shallower than; None by
        the line model.
        """
        if not self.tables.size:
            return None
        after = min(int(np.searchsorted(self.times, time)), len(self.times) - 1)
        before = max(after - 1, 0)
        gap = self.times[after] - self.times[before]
        share = min(max((time - self.times[before]) / gap, 0.0), 1.0) if gap > 0 else 1.0
        tables = (1 - share) * self.tables[:, before] + share * self.tables[:, after]
        return self.across, np.quantile(tables, low, axis=0), np.quantile(tables, high, axis=0)

    def leanings(self) -> list[tuple[str, float]]:
        """Rank correlation of each unknown with the wetness of the place (its mean depth to water), the strongest first.

        Spearman's, from −1 to 1: above 0 where more of it is drier. An unknown that was held has none.
        """
        from scipy.stats import spearmanr

        wetness = self.depths.mean(axis=1)
        found = []
        for index, name in enumerate(UNKNOWNS):
            column = self.factors[:, index]
            if np.ptp(column) > 1e-12 and np.ptp(wetness) > 1e-9:
                found.append((name, float(spearmanr(column, wetness).statistic)))
        return sorted(found, key=lambda item: -abs(item[1]))

    def words(self) -> str:
        """The verdict in a sentence."""
        within = min(self.wanted, float(self.times[-1]) - self.storm_ends)  # nobody has looked farther
        share = self.dry_within(within)
        out = tr("Dry within {within:g} h of the rain in {share} of 100 plausible grounds.", within=within / 3600, share=share)
        leanings = self.leanings()
        if leanings and abs(leanings[0][1]) > 0.2:
            name = leanings[0][0]
            out += tr(" What is not known matters in this order: {leanings}. Next test: {tests}.",
                      leanings=", ".join((n for n, r in leanings if abs(r) > 0.1)), tests=TESTS[UNKNOWNS.index(name)])
        return out


def factors_of(outcome: Outcome, count: int, seed: int = 1, run: str = "") -> Array:
    """Factors (count, 4) on the unknowns by a Latin hypercube: log-normal, the job's low and high conductivity being the tenth and the
    ninetieth of a hundred. A hard layer whose depth is not known is left alone.
    """
    from scipy.stats import norm, qmc

    if not 2 <= count <= 100_000:
        raise InputError(tr("number of samples"), tr("must be between 2 and 100,000"), count)
    soil = outcome.chosen(run).part.soil
    band = outcome.soil(soil).conductivity
    normal = norm.ppf(qmc.LatinHypercube(4, rng=np.random.default_rng(seed)).random(count))
    down, up = np.log(band.best / band.low) / TENTH, np.log(band.high / band.best) / TENTH
    logs = np.column_stack((normal[:, 0] * np.where(normal[:, 0] < 0, down, up), normal[:, 1] * np.log(POROSITY) / TENTH,
                            normal[:, 2] * (np.log(HARD_LAYER) / TENTH if soil.hard_layer_depth is not None else 0.0),
                            normal[:, 3] * np.log(RAIN) / TENTH))  # fmt: skip
    return np.asarray(np.exp(logs))


def samples_of(outcome: Outcome, storm: Storm, factors: Array, station: float | None = None, hours: float = HOURS, by_line: bool = False,
               run: str = "") -> list[Sample]:
    """A sample for each row of factors."""
    rain, rate = rain_of(outcome.job, storm), outcome.job.water.drainage_rate
    stand = stand_at(outcome, station, run)
    hard, wet = stand.part.soil.hard_layer_depth, stand.part.soil.water_table_depth or 0.0
    out = []
    for conductivity, porosity, depth, much in factors.tolist():
        ground = GroundSample(conductivity, porosity, None if hard is None else max(hard * depth, wet + 0.15, 0.3))
        section = section_at(outcome, station, run=run, ground=ground)
        wetter = dataclasses.replace(rain, rates=(*(r * much for r in rain.rates[:-1]), rain.rates[-1]))
        out.append(Sample(section, wetter, hours * 3600.0, stand.place_across(section), rate, by_line, outcome.job.water.drying))
    return out


def ensemble(outcome: Outcome, storm: Storm, executor: Executor, count: int = 100, *, station: float | None = None, hours: float = HOURS,
             by_line: bool = False, run: str = "", seed: int = 1, told: Callable[[int], bool] | None = None) -> Ensemble:  # fmt: skip
    """Run a storm on many plausible grounds.

    ``executor`` is any ``concurrent.futures`` executor: it is handed calls of ``answer_all``, a plain function with plain data that can be
    pickled, one for each section and one for fifty lines. ``told`` is given how many are done and answers whether to go on. Raises InputError where the job does not
    say enough, or where next to no sample could be solved.
    """
    place = stand_at(outcome, station, run).place
    factors = factors_of(outcome, count, seed, run)
    size = CHUNK if by_line else 1
    # handed over as they are made, so that the first are worked on meanwhile
    waiting = {executor.submit(answer_all, samples_of(outcome, storm, factors[first : first + size], station, hours, by_line, run)): first
               for first in range(0, count, size)}  # fmt: skip
    answers: dict[int, SampleResult] = {}
    for done in as_completed(waiting):
        answers.update(enumerate(done.result(), waiting[done]))
        if told is not None and not told(len(answers)):
            for future in waiting:
                future.cancel()
            break
    kept = sorted(i for i, a in answers.items() if len(a.depth))
    if len(kept) < 2:
        raise InputError("", tr("too few of the plausible grounds could be worked out to say how sure it is"))
    rain = rain_of(outcome.job, storm)
    times = np.linspace(hours * 3600 / MOMENTS, hours * 3600, MOMENTS)
    return Ensemble(factors[kept], times, np.array([answers[i].depth for i in kept]), np.array([answers[i].volume for i in kept]), places_of(section_at(outcome, station, run=run)),
                    np.array([answers[i].tables for i in kept]), rain.times[-1], place.dry_depth or 0.0, place.dry_within, len(answers) - len(kept))  # fmt: skip


