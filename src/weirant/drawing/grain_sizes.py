"""Grain sizes on a log axis: soil, stone band, fabric openings and pipe openings together."""

from __future__ import annotations

import math
from contextlib import suppress
from functools import partial

from weirant.checks.filters import limits_of_cloth
from weirant.design.schools import COARSER
from weirant.drawing.primitives import Area, Drawing, Handle, Measure, Point, Shape, Stroke, Words
from weirant.errors import InputError
from weirant.ground.stretches import Make
from weirant.job import Job
from weirant.job.paths import with_value
from weirant.job.soil import Soil
from weirant.language import tr
from weirant.methods.gradation import NO_4, NO_200, Gradation
from weirant.methods.granular_filter import granular_filter_limits
from weirant.outcome.outcome import Outcome, SoilFigures
from weirant.rules import Rules
from weirant.units.display import OPENING, System, shown

LEFT, RIGHT = -3.0, 2.0  # log10 of mm
CLAY = 2e-6  # m
SIEVES = ((NO_200, 200), (425e-6, 40), (2e-3, 10), (NO_4, 4))  # m, and the sieve's number


def grain_size_drawing(outcome: Outcome, station: float, run: str = "") -> Drawing:
    """The chart at a station of a run; x is log10 of the size in mm, y the percent passing over 100."""
    found = outcome.chosen(run)
    soil, at = found.soil(station), found.layer_at(station)
    make, figures = found.make(station), outcome.beside(found, station)
    shapes: list[Shape] = []
    system = System(outcome.job.units)
    for decade in range(int(LEFT), int(RIGHT) + 1):
        shapes.append(Stroke(((decade, 0), (decade, 1)), "grid"))
        shapes.append(Words((decade, 0), tr("{size:g} mm", size=10.0 ** decade), "axis", "centre", 0, -11))
    for percent in range(0, 101, 20):
        shapes.append(Stroke(((LEFT, percent / 100), (RIGHT, percent / 100)), "grid"))
        shapes.append(Words((LEFT - 0.2, percent / 100), f"{percent} %", "axis", "left", 3, 2))
    shapes += _sieves()
    for aggregate in dict.fromkeys((make.aggregate, make.against_soil) if make.section.has_stone else ()):
        coarse, fine = _curve(aggregate.coarse_side), _curve(aggregate.fine_side)
        shapes += [Area((*coarse, *reversed(fine)), "stone"), Stroke(coarse, "trench"), Stroke(fine, "trench"),
                   Words(fine[len(fine) // 2], aggregate.name.split(",")[0], "strong", "right", -8, 4)]  # fmt: skip
    handles: list[Handle] = []
    for number in dict.fromkeys((at, *range(len(soil.layers)))):
        of = outcome.layer(soil, number)
        if number == at or not of.gradation_assumed:  # what nobody has sieved is only shown where the stone lies
            curve, name = _curve(of.gradation), _layer_words(of, len(soil.layers))
            shapes += [Stroke(curve, "collecting run" if of.gradation_assumed else "solid run" if number == at else "outline"),
                       Words(curve[len(curve) // 2], name, "strong" if number == at else "label", "right", -8, 4)]  # fmt: skip
            if number == at and (of.gradation.percent_finer(NO_4) or 100.0) < 100.0:  # gravel holds nothing back: what filters are chosen by
                finer = _curve(of.gradation.regraded_on(NO_4))
                shapes += [Stroke(finer, "outline"), Words(finer[len(finer) // 2], tr("what passes No. 4"), "label", "right", -8, 4)]
            if of.gradation_assumed:  # how far such a texture may be finer or coarser
                apart = math.log10(COARSER)
                shapes += [Stroke(tuple((min(max(x + side * apart, LEFT), RIGHT), y) for x, y in curve), "outline") for side in (-1, 1)]
            handles += [] if of.gradation_assumed else _handles(soil, number, "" if number == at else f"{number + 1}-", system)
    shapes += _openings(make)
    shapes += _windows(make, figures, outcome.rules, outcome.job.limits.filters)
    return Drawing(
        tuple(shapes),
        (LEFT - 0.2, 0.0, RIGHT + 0.3, 1.06),
        tuple(handles),
        title=tr("Grain sizes, percent passing"),
        has_foot=True,
        stretches=True,
    )


def _sieves() -> list[Shape]:
    """The sieves that part the soils, by their number, and what lies between them (ASTM D2487; clay under 0.002 mm by the USDA)."""
    shapes: list[Shape] = []
    for size, number in ((CLAY, 0), *SIEVES):
        x = math.log10(size * 1e3)
        shapes += [Stroke(((x, 0), (x, 1)), "grid"), *([Words((x, 0), tr("No. {number}", number=number), "small", "left", 3, 3)] if number else [])]
    edges = [LEFT, *(math.log10(size * 1e3) for size in (CLAY, NO_200, NO_4)), RIGHT]
    names = (tr("clay"), tr("silt"), tr("sand"), tr("gravel"))
    return shapes + [Words(((low + high) / 2, 1.0), name, "axis", "centre", 0, 15) for name, low, high in zip(names, edges, edges[1:], strict=False)]


def _layer_words(of: SoilFigures, layers: int) -> str:
    """What a curve is of: the soil, or a layer of it by its number from the top down, and whether somebody sieved it."""
    if layers == 1:
        return tr("soil, assumed from its texture") if of.gradation_assumed else tr("soil, sieved")
    return tr("layer {number}, assumed from its texture", number=of.layer + 1) if of.gradation_assumed else tr("layer {number}, sieved", number=of.layer + 1)


def _handles(soil: Soil, layer: int, which: str, system: System) -> tuple[Handle, ...]:
    """What passes each sieve of a layer of soil, to be dragged up and down or typed."""
    return tuple(Handle(f"sieve-{which}{i}", (min(max(math.log10(p.size * 1e3), LEFT), RIGHT), p.percent / 100), "y",
                        tr("passing {size}", size=shown(p.size, OPENING, system)), 0.01, partial(_let_pass, soil.id, layer, i), f"soils.{soil.id}.layers.{layer}.gradation.{i}.percent")
                 for i, p in enumerate(soil.layers[layer].gradation))  # fmt: skip


def _let_pass(soil: str, layer: int, index: int, job: Job, to: Point) -> Job:
    """The job with so much passing a sieve: no less than the finer one lets through, no more than the coarser."""
    points = next(s for s in job.soils if s.id == soil).layers[layer].gradation
    least = points[index + 1].percent if index + 1 < len(points) else 0.0
    most = points[index - 1].percent if index else 100.0
    return with_value(job, f"soils.{soil}.layers.{layer}.gradation.{index}.percent", float(min(max(round(100 * to[1]), math.ceil(least)), math.floor(most))))


def _curve(gradation: Gradation) -> tuple[Point, ...]:
    return tuple((min(max(math.log10(size * 1e3), LEFT), RIGHT), percent / 100)
                 for size, percent in zip(gradation.sizes, gradation.percents, strict=True))  # fmt: skip


def _filter_band(soil: SoilFigures) -> list[Shape]:
    """Within which a graded filter beside a soil lies (NEH 633 ch. 26, figure 26-2; recalled): its fine side goes on straight to the top."""
    try:
        of = granular_filter_limits(soil.gradation)
    except InputError:  # the finding says what the soil's curve lacks
        return []
    d15, d60 = math.log10(of.band_d15_min), math.log10(of.band_d60_min)
    fine = ((of.band_d5_min, 5), (of.band_d15_min, 15), (of.band_d60_min, 60), (10 ** (d60 + (d60 - d15) * 40 / 45), 100))
    coarse = ((of.band_d15_max, 5), (of.band_d15_max, 15), (of.band_d60_max, 60), (of.band_d90_max, 90), (of.band_d100_max, 100))
    edge = tuple((min(max(math.log10(size * 1e3), LEFT), RIGHT), percent / 100) for size, percent in (*fine, *reversed(coarse)))
    return [Stroke((*edge, edge[0]), "target"), Words(edge[2], tr("room of a graded filter for this soil"), "label", "right", -6, 4)]


def _windows(make: Make, soil: SoilFigures, rules: Rules, application: str) -> list[Shape]:
    """What each contact allows, as bars on the chart: D15 of stone against this soil, the openings of cloth against it, D85 of stone against the pipe's."""
    found: list[tuple[float | None, float | None, float, str]] = []
    if make.section.has_stone and not make.section.is_in_sand:
        with suppress(InputError):  # where its curve does not tell, the finding says what it lacks
            stone = granular_filter_limits(soil.gradation)
            found.append((stone.d15_min, stone.d15_max, 0.15, tr("D15 of stone that holds this soil")))
    if make.section.is_in_sand:
        with suppress(InputError):
            found.append((None, granular_filter_limits(make.sand.fine_side).d15_max, 0.2, tr("D15 of stone that holds the sand")))
    if make.section.has_cloth and (cloth := limits_of_cloth(soil, make.geotextile.kind, application)) is not None:
        found.append((cloth.o95_min_anticlogging, cloth.o95_max, 0.1, tr("O95 that holds this soil")))
    if make.section.has_stone:
        ratio = rules.slot_ratio if make.pipe.opening_shape == "slot" else rules.hole_ratio
        found.append((ratio * make.pipe.opening, None, 0.85, tr("D85 of stone that stays out of the pipe")))
    shapes: list[Shape] = _filter_band(soil) if make.section.is_in_sand else []
    for least, most, height, words in found:
        low, high = (edge if size is None else min(max(math.log10(size * 1e3), LEFT), RIGHT) for size, edge in ((least, LEFT), (most, RIGHT)))
        if high > low:
            shapes.append(Measure((low, height), (high, height), words))
    return shapes


def _openings(make: Make) -> list[Shape]:
    found = [(tr("pipe slots") if make.pipe.opening_shape == "slot" else tr("pipe holes"), make.pipe.opening, "pipe opening", 0.93)]
    if make.section.has_cloth:
        found.append((tr("fabric O95"), make.geotextile.o95, "fabric", 0.06))
    shapes: list[Shape] = []
    for words, size, line, height in found:
        x = math.log10(size * 1e3)
        shapes += [
            Stroke(((x, 0), (x, 1)), line),
            Words((x, height), tr("{words} {size:.2g} mm", words=words, size=size * 1000.0), "label", "left", 5, 0),
        ]
    return shapes
