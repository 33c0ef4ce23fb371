"""Figures of the simulator: steady states, a storm, ensembles, and the interface while it runs."""

from __future__ import annotations

import dataclasses
import time

import pytest
from PyQt6.QtCore import QTimer
from test_speed import held

from weirant.design.across import section_at
from weirant.design.assess import assess
from weirant.design.ensemble import ensemble
from weirant.design.pool import own_pool
from weirant.design.simulation import steady_state
from weirant.design.storms import DESIGN, rain_of, storm_named
from weirant.outcome.finding import DRY_IN_TIME
from weirant.seepage.grid import Fineness
from weirant.seepage.mesh import lay_out
from weirant.seepage.storm import courses
from weirant.ui.app import make_application
from weirant.ui.storm.page import WITH, WITHOUT
from weirant.ui.window import Window

CELLS = Fineness(0.05, 0.45, 0.19)


@pytest.fixture
def outcome(job):
    return assess(job)


def test_steady_state_from_nothing(benchmark, outcome):
    laid = lay_out(section_at(outcome), CELLS)
    print(laid.mesh.volume.size, "cells")
    benchmark(steady_state, laid, outcome.job.water.drainage_rate)
    held(benchmark, 0.030)


def test_steady_state_from_the_last_one(benchmark, outcome):
    section = section_at(outcome)
    rate, turn = outcome.job.water.drainage_rate, iter(range(10**9))
    laids = [lay_out(dataclasses.replace(section, upper_table=section.upper_table + 0.005 * i), CELLS) for i in range(5)]
    guess = (laids[0], steady_state(laids[0], rate))
    benchmark(lambda: steady_state(laids[next(turn) % 5], rate, guess))
    held(benchmark, 0.020)


def test_a_storm_of_72_hours(benchmark, outcome):
    laid = lay_out(section_at(outcome), CELLS)
    start, rain = steady_state(laid, outcome.job.water.drainage_rate), rain_of(outcome.job, storm_named(outcome.job, DESIGN))
    benchmark(lambda: list(courses(laid, rain, 72 * 3600.0, start.copy())))
    held(benchmark, 0.15)


@pytest.mark.parametrize(("by_line", "count", "rate"), [(True, 3000, 1500), (False, 60, 10)])
def test_ensemble(benchmark, outcome, by_line, count, rate):
    storm = storm_named(outcome.job, DESIGN)
    ensemble(outcome, storm, own_pool(), 500 if by_line else 8, by_line=by_line)  # the processes start and load once
    benchmark.pedantic(ensemble, (outcome, storm, own_pool(), count), {"by_line": by_line}, rounds=3)
    held(benchmark, count / rate)


def test_the_interface_is_free_while_it_runs(benchmark, qtbot, job):
    """The longest the interface thread does not get round to a timer of 1 ms, after a change: while two storms are simulated and drawn, and
    the finding of the design storm is worked out besides.
    """
    make_application()
    window = Window()
    qtbot.addWidget(window, before_close_func=lambda w: w.document.stack.setClean())
    window.resize(1280, 800)
    window.show()
    window.open_job(job, None, "storm")
    page = window.sheet.views["storm"]
    qtbot.waitUntil(lambda: WITHOUT in page.found and not page.runner.is_running, timeout=60_000)
    gaps: list[float] = []
    last = [time.perf_counter()]

    def beat() -> None:
        now = time.perf_counter()
        gaps.append(now - last[0])
        last[0] = now

    timer = QTimer()
    timer.setInterval(1)
    timer.timeout.connect(beat)

    def work(inches: float) -> None:
        window.document.set_value("water.storm_depth", inches * 0.0254)
        gaps.clear()
        last[0] = time.perf_counter()
        timer.start()
        qtbot.waitUntil(lambda: page.found[WITH].storm.depth == inches * 0.0254 and WITHOUT in page.found and not page.runner.is_running, timeout=60_000)
        qtbot.waitUntil(lambda: any(f.code == DRY_IN_TIME for f in window.document.outcome.findings), timeout=60_000)
        timer.stop()

    window.watch.begin()
    longest: list[float] = []
    for turn in range(5):
        work(2.0 + 0.1 * turn)
        longest.append(max(gaps))
    print("longest gaps, ms:", [round(1000 * g) for g in longest])
    benchmark(lambda: None)
    assert sorted(longest)[2] < 0.050
