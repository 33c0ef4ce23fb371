"""What the test holes say: conductivity of each test, and all evidence combined into low, best and high for each layer."""

from __future__ import annotations

import dataclasses
import math

from weirant.design.pedotransfer import predicted, shares_of
from weirant.errors import InputError
from weirant.job import Job
from weirant.job.holes import AUGER_HOLE, BAIL, FieldTest, TestHole
from weirant.job.identity import SOIL, fresh
from weirant.job.soil import MOST_LAYERS, Band, Layer, Soil
from weirant.job.soils import soil_at, with_soil
from weirant.language import first_small, tr
from weirant.library import Library, shipped
from weirant.methods.field_tests import Fitted, fit_auger_hole, fit_bail, fit_falling_water
from weirant.methods.soil_tests import hazen
from weirant.records import dataclass
from weirant.units.display import in_both

TENTH = 1.2816  # standard deviations to the tenth of a hundred
PLACE = 2.0  # factor by which one hole differs from the next in the same soil (common practice, no source)
HAZEN = 3.0  # factor within which Hazen's formula is believed (common practice, no source)


def fit(test: FieldTest) -> Fitted:
    """Conductivity of a test with the spread of its readings; InputError in the user's words where it cannot be had."""
    times, depths = [r.time for r in test.readings], [r.depth for r in test.readings]
    if test.kind in (AUGER_HOLE, BAIL):
        if test.water is None:
            raise InputError(tr("water before the test"), tr("is missing: let the water come to rest, then read its depth"))
        if test.water >= test.depth:
            raise InputError(tr("water before the test"), tr("must stand in the hole"), in_both(test.water))
        if test.kind == BAIL:
            return fit_bail(times, depths, test.radius, test.open_length, test.water)
        return fit_auger_hole(times, depths, test.radius, test.depth, test.water, test.on_hard_layer)
    return fit_falling_water(times, depths, test.radius, test.depth)


@dataclass(frozen=True)
class Evidence:
    """One figure for a layer's conductivity, m/s, the factor within which it is believed (tenth to middle), and what it is."""

    best: float
    factor: float
    words: str


@dataclass(frozen=True)
class LayerVerdict:
    """What is believed of a layer's conductivity, and why."""

    layer: int
    band: Band
    evidence: tuple[Evidence, ...]


def evidence_for(job: Job, soil: Soil, layer: int, library: Library | None = None) -> tuple[Evidence, ...]:
    """Texture, sieve and every test, in a hole where the soil holds, whose wetted part lies mostly in the layer."""
    library = library or shipped()
    texture = library.texture(soil.layers[layer].texture)
    band = texture.conductivity
    found = [Evidence(band.best, band.high / band.best, tr("usual for {texture}", texture=first_small(texture.name)))]
    gradation = soil.layers[layer].gradation
    shares = shares_of(gradation)
    by_grains = predicted(shares) if shares is not None else None
    if shares is not None and by_grains is not None:  # the texture class tells the same thing more coarsely
        found = [Evidence(by_grains.conductivity, by_grains.factor, tr("by {sand:.0f} % sand, {silt:.0f} % silt, {clay:.0f} % clay (Rosetta 3)",
                                                                       sand=shares.sand, silt=shares.silt, clay=shares.clay))]
    sizes = sorted((p.percent, p.size) for p in gradation)
    d10 = next((size for percent, size in sizes if percent >= 10), None)
    if d10 is not None and 1e-4 <= d10 <= 3e-3:
        found.append(Evidence(hazen(d10, 100), HAZEN, tr("Hazen, by the sieve")))
    for hole in job.holes:
        for number, test in enumerate(hole.tests, 1):
            if soil.layer_at(middle_of(test)) != layer or not _same_ground(job, soil, hole, layer):
                continue
            try:
                fitted = fit(test)
            except InputError:
                continue
            spread = max(math.sqrt(max(fitted.high / fitted.low, 1.0)), 1.05)
            found.append(Evidence(fitted.best, math.exp(math.hypot(math.log(spread), math.log(PLACE))), tr("{kind} in {hole} (test {number}, {used} readings)",
                                                                                                           kind=tr(test.kind), hole=hole.name, number=number, used=fitted.used)))
    return tuple(found)


def middle_of(test: FieldTest) -> float:
    """Depth of the middle of what a test wets, m."""
    top = test.water if test.kind in (AUGER_HOLE, BAIL) and test.water is not None else min((r.depth for r in test.readings), default=0.0)
    return (min(top, test.depth) + test.depth) / 2


def _same_ground(job: Job, soil: Soil, hole: TestHole, layer: int) -> bool:
    """A hole where another soil holds, or that was logged in another, says nothing of the soil's layer."""
    textures = {h.texture for h in hole.log}
    return soil_at(job, hole.x, hole.y).id == soil.id and (not textures or soil.layers[layer].texture in textures)


def combined(evidence: tuple[Evidence, ...]) -> Band:
    """Low, best and high of all evidence together: means of the logarithms, each weighed by how sharp it is.

    The high and low ends are the tenth and ninetieth of a hundred. (Pooling by inverse variance; common practice, no source.)
    """
    weights = [1 / (math.log(e.factor) / TENTH) ** 2 for e in evidence]
    mean = sum(w * math.log(e.best) for w, e in zip(weights, evidence, strict=True)) / sum(weights)
    # evidence that disagrees widens the band
    scatter = sum(w * (math.log(e.best) - mean) ** 2 for w, e in zip(weights, evidence, strict=True)) / sum(weights)
    spread = math.exp(TENTH * math.sqrt(1 / sum(weights) + (scatter / len(evidence) if len(evidence) > 1 else 0.0)))
    best = math.exp(mean)
    return Band(best / spread, best, min(best * spread, 1.0))


def verdicts(job: Job, soil: Soil) -> tuple[LayerVerdict, ...]:
    """Every layer of a soil with what is believed of it."""
    out = []
    for layer in range(len(soil.layers)):
        evidence = evidence_for(job, soil, layer)
        out.append(LayerVerdict(layer, combined(evidence), evidence))
    return tuple(out)


def taken_over(job: Job, soil: Soil, hole: TestHole | None = None) -> Job:
    """The job with the combined conductivities in the layers of a soil, no longer assumed; with the depths of a hole where it has them and was
    dug in that soil.
    """
    found = verdicts(job, soil)
    layers = tuple(dataclasses.replace(layer, conductivity=verdict.band) if len(verdict.evidence) > 1 else layer for layer, verdict in zip(soil.layers, found, strict=True))
    stem = f"soils.{soil.id}"
    new, known = dataclasses.replace(soil, layers=layers), [f"{stem}.layers.{v.layer}.conductivity" for v in found]
    if hole is not None and not _same_ground(job, soil, hole, len(layers) - 1):
        hole = None
    if hole is not None and hole.hard_depth is not None:
        new, known = dataclasses.replace(new, hard_layer_depth=hole.hard_depth), [*known, f"{stem}.hard_layer_depth"]
    if hole is not None and hole.water_depth is not None:
        new, known = dataclasses.replace(new, water_table_depth=hole.water_depth), [*known, f"{stem}.water_table_depth"]
    job = with_soil(job, new)
    return dataclasses.replace(job, assumed=tuple(p for p in job.assumed if p not in known))


def own_soil(job: Job, hole: str) -> Job:
    """The job with a soil that holds round a hole, by its log and its tests. Raises InputError where nothing was logged, or one holds there already."""
    return _with_own_soil(job, next(h for h in job.holes if h.id == hole))


def _with_own_soil(job: Job, hole: TestHole) -> Job:
    if not hole.log:
        raise InputError(hole.name, tr("has no soil log; write down what was dug through first"))
    if any(soil.hole == hole.id for soil in job.soils):
        raise InputError(hole.name, tr("has a soil of its own already"))
    here = soil_at(job, hole.x, hole.y)
    thick = [b.to_depth - a for a, b in zip([0.0, *(h.to_depth for h in hole.log)], hole.log, strict=False)]
    layers = tuple(Layer(h.texture, None if i + 1 == len(hole.log) else thick[i]) for i, h in enumerate(hole.log[:MOST_LAYERS]))
    layers = (*layers[:-1], dataclasses.replace(layers[-1], thickness=None))
    new = Soil(layers, hole.hard_depth, hole.water_depth if hole.water_depth is not None else here.water_table_depth, here.water_table_slope,
               id=fresh(job.soils, SOIL), name=tr("soil at {hole}", hole=hole.name), hole=hole.id, hard_layer=here.hard_layer)  # fmt: skip
    return taken_over(dataclasses.replace(job, soils=(*job.soils, new)), new, hole)
