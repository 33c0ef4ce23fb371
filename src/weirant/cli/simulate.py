"""``simulate``: a storm on a section, without Qt."""

from __future__ import annotations

import csv
import io
from argparse import Namespace
from typing import Any

from weirant.cli.giving import check_one_way, give
from weirant.cli.job_commands import open_job
from weirant.cli.storms_given import hours_given, storm_given, told_on_terminal
from weirant.design.assess import assess
from weirant.design.simulation import (
    Refined,
    Simulation,
    Wish,
    peak_bracket,
    refined,
    simulated,
)
from weirant.design.storms import called_storm
from weirant.errors import InputError
from weirant.ground.network import LaidRun, run_called
from weirant.language import tr
from weirant.units import parse
from weirant.units.dimension import LENGTH
from weirant.units.display import INFLOW, RAIN_DEPTH, STATION, System, in_both, shown
from weirant.words.facts import water_words
from weirant.words.storm import begins, dry_words, words_of_volume


def simulate(given: Namespace) -> int:
    """Run a storm on the section at a station; 0 where the place kept dry is dry again as soon as wanted, 1 where it is not."""
    check_one_way(given)
    job = open_job(given.job)
    outcome = assess(job)
    run = run_called(job, given.run).id if given.run else ""
    station = None if given.station is None else _station(outcome.chosen(run).run, given.station)
    wish = Wish(storm_given(job, given.storm), station, hours_given(given.hours), not given.without_drain, run=run)
    found = simulated(outcome, wish, told_on_terminal())
    cells = refined(outcome, wish, found) if given.check_cells else None
    give(given, lambda: as_json(found, cells), lambda: as_csv(found), lambda: _lines(found, System(job.units), cells))
    return 0 if found.in_time else 1


def _station(run: LaidRun, text: str) -> float:
    station = parse(text, LENGTH, "--station", strict=True)
    if not 0 <= station <= run.length:
        raise InputError("--station", tr("must lie on {run}, 0 to {length}", run=run.name, length=in_both(run.length, STATION)), text)
    return station


def as_json(found: Simulation, cells: Refined | None = None) -> dict[str, Any]:
    """Everything of a simulation in SI: volumes per metre of drain m², flows m²/s, depths m, times s.

    With ``cells`` also by what share the volume changes on cells half as large.
    """
    course, low_high = found.course, peak_bracket(found.course)
    lines = range(0, len(course.frames), max(1, len(course.frames) // 40))
    return {
        "storm": {"name": found.storm.name, "shape": found.storm.shape, "depth": course.rain.until(found.storm_ends), "duration": found.storm_ends},
        "hours": course.until / 3600, "cells": int(course.laid.mesh.volume.size), "balance_error": course.balance_error,
        **({} if cells is None else {"change_on_halved_cells": cells.change}),
        "volumes": {"rain": course.total("rain"), "soaked_in": course.total("taken_in"), "on_open_stone": course.total("on_stone"), "ran_off": course.total("ran_off"),
                    "used_by_plants": course.total("used"),
                    "seeped_out": course.total("seeped_out"), "pipe": course.total("pipe"), "from_the_ends": course.total("ends_in"),
                    "to_the_ends": course.total("ends_out"), "stored_before": course.stored_before, "stored_after": course.stored_after},
        "pipe_before": course.pipe_before, "drain_starts": course.starts_at, "peak": {"hourly_mean": low_high[0], "moment": low_high[1], "time": course.peak[1]},
        "before": {"seepage": found.seepage, "measured": found.measured, "stands": float(course.depth_at(found.place)[0])},
        "place": {"across": found.place, "dry_depth": found.dry_depth, "wet_before": found.wet_before, "dry_after_rain": found.after_rain,
                  "wanted_within": found.dry_within, "in_time": found.in_time,
                  "shallowest_water": float(course.depth_at(found.place).min())},
        "hydrograph": [{"time": s.time, "length": s.length, "pipe": s.pipe, "rain": s.rain, "ran_off": s.ran_off} for s in course.steps],
        "water_table": {"across": course.laid.x.tolist(), "lines": [{"time": course.frames[i].time, "depth": course.frames[i].table.tolist()} for i in lines]},
    }  # fmt: skip


def as_csv(found: Simulation) -> str:
    """The hydrograph with the depth to water at the place, a line a step, SI."""
    course, out = found.course, io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(["time_h", "rain_m2_per_s", "pipe_m2_per_s", "ran_off_m2_per_s", "depth_to_water_m"])
    times, depths = course.times, course.depth_at(found.place)
    for step in course.steps:
        depth = float(depths[min(int(times.searchsorted(step.time)), len(depths) - 1)])
        writer.writerow([f"{step.time / 3600:.4f}", f"{step.rain:.6g}", f"{step.pipe:.6g}", f"{step.ran_off:.6g}", f"{depth:.4f}"])
    return out.getvalue()


def _lines(found: Simulation, system: System, cells: Refined | None = None) -> list[str]:
    course, (low, high) = found.course, peak_bracket(found.course)
    return [
        tr("Rain       {storm_ends} in {storm_ends_2:.1f} h ({storm}, {shape})",
           storm_ends=shown(course.rain.until(found.storm_ends), RAIN_DEPTH, system), storm_ends_2=found.storm_ends / 3600, storm=called_storm(found.storm), shape=tr(found.storm.shape)),
        tr("Drain      {course}", course=begins(course)),
        tr("Peak       {low} over an hour, {high} for a moment", low=shown(low, INFLOW, system), high=shown(high, INFLOW, system)),
        tr("Volume     {volume} of drain; rain straight onto open stone {on_stone}", volume=words_of_volume(course.total("pipe"), system),
           on_stone=words_of_volume(course.total("on_stone"), system)),
        tr("The place  {found}; water at its highest {min}", found=dry_words(found, system), min=water_words(float(course.depth_at(found.place).min()), system)),
        tr("Balance    off by {balance_error:.1e} of what went through; {size} cells, {steps} steps", balance_error=course.balance_error,
           size=course.laid.mesh.volume.size, steps=len(course.steps)),
        *([] if cells is None else [tr("Cells      half as large change the volume by {share:.1f} %", share=100 * cells.change)]),
    ]
