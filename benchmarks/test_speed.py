"""The figures the product promises. Run: ./weirant bench. They are printed, and held against their limits by the median."""

from __future__ import annotations

import dataclasses
import itertools
import os
import random
import subprocess
import sys
import threading
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from weirant.design.assess import assess
from weirant.design.session import Session
from weirant.formats import job_file
from weirant.job.paths import with_value
from weirant.job.site import SitePoint
from weirant.ui.app import make_application
from weirant.ui.window import Window
from weirant.ui.work import in_background

ROOT = Path(__file__).parents[1]


def held(benchmark, limit: float) -> None:
    """Fail where the median is over the limit, s."""
    assert benchmark.stats["median"] < limit


def whole_process(benchmark, arguments: list[str], limit: float, **environment: str) -> None:
    """Time a command from its start to its end, through the launcher; the first run warms the disk."""
    command = [str(ROOT / "weirant"), *arguments]

    def run() -> None:
        subprocess.run(command, env={**os.environ, **environment}, stdout=subprocess.DEVNULL, check=False)

    benchmark.pedantic(run, rounds=7, warmup_rounds=1)
    held(benchmark, limit)


def test_whole_job_recalculation(benchmark, job):
    session = Session()
    turn = iter(range(10**9))
    benchmark(lambda: assess(with_value(job, "runs.r1.invert", 28.97 + 0.0005 * (next(turn) % 40)), session=session))
    held(benchmark, 0.020)


@pytest.mark.parametrize(
    ("view", "key"), [("profile", "outlet"), ("profile", "bottom"), ("section", "width"), ("section", "stone")]
)
def test_drag_step_with_its_repaint(benchmark, qtbot, view, key):
    make_application()
    window = Window()
    qtbot.addWidget(window, before_close_func=lambda w: w.document.stack.setClean())
    window.resize(1280, 800)
    window.show()
    window.open_demo()
    qtbot.wait(600)
    assert window.sheet is not None
    window.sheet.turn_to("line" if view == "profile" else "trench", view)
    qtbot.wait(100)
    canvas = window.sheet.views.canvas(view)
    assert canvas is not None
    at = canvas.handle_position(key).toPoint()
    QTest.mousePress(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    places = iter(range(10**9))

    def step() -> None:
        way = next(places) % 30 * (6 if view == "section" else 1)  # far enough for the section's step to change
        QTest.mouseMove(canvas, at + (QPoint(way, 0) if key == "width" else QPoint(0, -way)))
        QApplication.processEvents()

    benchmark.pedantic(step, rounds=60, warmup_rounds=10)
    QTest.mouseRelease(canvas, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    held(benchmark, 0.033)


@pytest.mark.parametrize("step", ["line", "trench", "map", "materials"])
def test_swap_on_the_stage_with_its_repaint(benchmark, qtbot, step):
    make_application()
    window = Window()
    qtbot.addWidget(window, before_close_func=lambda w: w.document.stack.setClean())
    window.resize(1280, 800)
    window.show()
    window.open_demo()
    assert window.sheet is not None
    sheet = window.sheet
    sheet.rail.choose(step)
    qtbot.wait(600)
    views = itertools.cycle([view for view in sheet.step.views if sheet.views.canvas(view) is not None])

    def swap() -> None:
        sheet.show_view(next(views))
        assert sheet.stage.isVisible()  # with all that stands beside it
        QApplication.processEvents()  # the stage is painted; what is small beside it follows, drawing by drawing

    benchmark.pedantic(swap, rounds=24, warmup_rounds=6)
    held(benchmark, 0.050)


def test_a_step_is_turned_to_while_jobs_are_worked_out_beside_it(benchmark, qtbot, job):
    make_application()
    window, done = Window(), threading.Event()
    qtbot.addWidget(window, before_close_func=lambda w: w.document.stack.setClean())
    window.resize(1280, 800)
    window.show()
    window.open_demo()
    assert window.sheet is not None
    sheet, steps = window.sheet, itertools.cycle(["line", "trench"])
    for _ in range(2):
        sheet.rail.choose(next(steps))
        qtbot.wait(600)

    def work() -> None:
        while not done.is_set():
            assess(job)

    def turn() -> None:
        sheet.rail.choose(next(steps))
        assert sheet.card.isVisible()

    in_background(work, lambda _: None, lambda _: None)
    benchmark.pedantic(turn, rounds=20, warmup_rounds=2)
    done.set()
    held(benchmark, 0.150)


def test_first_usable_window(benchmark):
    whole_process(benchmark, ["demo"], 0.8, QT_QPA_PLATFORM="offscreen", WEIRANT_STOP_WHEN_SHOWN="1")


def test_check_command(benchmark, job, tmp_path):
    job_file.save(job, tmp_path / "demo.weirant")
    whole_process(benchmark, ["check", str(tmp_path / "demo.weirant")], 0.4)


def test_calc_command(benchmark):
    whole_process(benchmark, ["calc", "kirpich", "length=100", "slope=0.05"], 0.4)


def test_launcher_alone(benchmark):
    """What the launcher costs before Python: its time for --version less Python's own."""
    whole_process(benchmark, ["--version"], 0.1 + 0.15)


def test_python_alone(benchmark):
    """Beside the launcher: the same answer without it."""

    def run() -> None:
        subprocess.run([sys.executable, "-m", "weirant", "--version"], env={**os.environ, "PYTHONPATH": str(ROOT / "src")},
                       stdout=subprocess.DEVNULL, check=False)  # fmt: skip

    benchmark.pedantic(run, rounds=7, warmup_rounds=1)


def test_a_job_of_ten_megabytes_opened(benchmark, job):
    """Read and worked out: 64,000 points."""
    chance = random.Random(1)
    points = tuple(SitePoint(f"P{n}", chance.uniform(-50, 50), chance.uniform(-50, 50), 30 + chance.random(), "x") for n in range(64_000))
    texts = iter(job_file.to_text(dataclasses.replace(job, name=f"{n}", points=points)) for n in range(10))  # another each time: nothing is kept from the last
    assert len(next(texts)) > 10_000_000
    benchmark.pedantic(lambda text: assess(job_file.from_text(text)), setup=lambda: ((next(texts),), {}), rounds=4)
    held(benchmark, 2.0)
