"""Figures of the site: surface, best grade, reading of points, and the plan in motion."""

from __future__ import annotations

import dataclasses

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from test_speed import held

from weirant.design.assess import assess
from weirant.design.best_grade import plan_grade
from weirant.design.layout import hold
from weirant.design.schools import schools
from weirant.design.session import Session
from weirant.design.suited import counted_ways
from weirant.formats import job_file
from weirant.formats.points_csv import read_points, recognise
from weirant.ground.grade.best import best_grade
from weirant.ground.grade.demands import JointDemand, NetworkDemand, RunDemand
from weirant.ground.surface import build_surface
from weirant.ground.surface.contours import contour_levels, contours
from weirant.job.network import Node, Outlet, Run, Stretch
from weirant.job.paths import with_value
from weirant.job.run_edits import length
from weirant.job.site import Feature, SitePoint, Spot
from weirant.job.situations import with_place
from weirant.ui.app import make_application
from weirant.ui.window import Window

CHANCE = np.random.default_rng(5)
FRAME = 1 / 60


def test_surface_of_5000_shots_with_contours(benchmark):
    places = CHANCE.uniform(0, 100, (5000, 2))
    levels = 30 + 0.03 * places[:, 0] + 0.5 * np.sin(places[:, 0] / 9) * np.cos(places[:, 1] / 7)

    def work() -> None:
        surface = build_surface(places, levels)
        contours(surface, contour_levels(surface, 0.25))

    benchmark(work)
    held(benchmark, 0.300)


def run(name: str, seed: int, joins: str = "", at: float = 0.0) -> RunDemand:
    """50 stations over rolling ground; branches lie where the ground has risen beside their joint."""
    stations = np.linspace(0, 400.0 if not joins else 100.0, 50)
    ground = 30 + 0.02 * (stations + at) + 0.2 * np.sin(stations / 15 + seed)
    nodes = np.linspace(0, stations[-1], 40 if not joins else 5)
    return RunDemand(name, stations, ground, nodes, np.full(len(nodes) - 1, 0.005), 0.2, 0.11, 0.06, 0.005, 0.3, 0.3, stations > (0 if joins else 5), 1.8,
                     np.full(50, np.inf), stations > 20, None if joins else 29.7)  # fmt: skip


def test_best_grade_of_40_runs_and_2000_stations(benchmark):
    joints = tuple(JointDemand(f"r{i}", 0.0, "main", 10.0 * i, 0.3) for i in range(1, 40))
    network = NetworkDemand((run("main", 0), *(run(f"r{i}", i, "main", 10.0 * i) for i in range(1, 40))), 0.15, joints)
    assert benchmark(best_grade, network, quick=True).is_feasible
    held(benchmark, 0.150)


def test_best_grade_again_while_the_demo_is_dragged(benchmark, job):
    outcomes = [assess(hold(job, "r1", length(job, "r1"), 29.6 + 0.002 * i)) for i in range(10)]
    turn = iter(range(10**9))
    assert benchmark(lambda: plan_grade(outcomes[next(turn) % 10], quick=True)).job is not None
    held(benchmark, 0.033)


def test_100000_points_are_read(benchmark):
    rows = "\n".join(f"P{i},{x:.3f},{y:.3f},{z:.3f},gr" for i, (x, y, z) in enumerate(CHANCE.uniform(0, 100, (100_000, 3))))
    data = f"point,x,y,z,code\n{rows}\n".encode()
    told: list[float] = []
    read = benchmark.pedantic(lambda: read_points(data, recognise(data).layout, progress=lambda s: told.append(s) or True), rounds=5, warmup_rounds=1)
    assert len(read.points) == 100_000 and len(told) > 50
    held(benchmark, 1.0)


@pytest.fixture
def crowded(qtbot, job):
    """The demo with 2,000 things on its plan, in the mapping step."""
    make_application()
    spots = CHANCE.uniform((-45, -4), (27, 45), (2000, 2))
    things = tuple(Feature(f"t{i + 99}", "walk" if i % 2 else "tree", f"thing {i}", (Spot(x, y), Spot(x + 1.0, y + 0.5))[: 1 + i % 2]) for i, (x, y) in enumerate(spots.tolist()))
    window = Window()
    qtbot.addWidget(window, before_close_func=lambda w: w.document.stack.setClean())
    window.resize(1280, 800)
    window.show()
    window.open_job(dataclasses.replace(job, features=(*job.features, *things)), None, "map")
    qtbot.wait(800)
    assert window.sheet is not None
    yield window.sheet.plan_page.plan  # the window lives as long as this frame


def test_a_frame_of_panning_2000_things(benchmark, crowded):
    QTest.mousePress(crowded, Qt.MouseButton.MiddleButton, Qt.KeyboardModifier.NoModifier, QPoint(300, 200))
    places = iter(range(10**9))

    def frame() -> None:
        QTest.mouseMove(crowded, QPoint(300 + next(places) % 60, 200))
        QApplication.processEvents()

    benchmark.pedantic(frame, rounds=90, warmup_rounds=5)
    QTest.mouseRelease(crowded, Qt.MouseButton.MiddleButton, Qt.KeyboardModifier.NoModifier, QPoint(300, 200))
    held(benchmark, FRAME)


def test_a_frame_of_zooming_2000_things(benchmark, crowded):
    ways = iter(range(10**9))

    def frame() -> None:
        up = 24 if next(ways) % 40 < 20 else -24
        at = QPointF(400, 200)
        QApplication.sendEvent(crowded, QWheelEvent(at, QPointF(crowded.mapToGlobal(at.toPoint())), QPoint(), QPoint(0, up), Qt.MouseButton.NoButton,
                                                    Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False))  # fmt: skip
        QApplication.processEvents()

    benchmark.pedantic(frame, rounds=90, warmup_rounds=5)
    held(benchmark, FRAME)


def test_the_sharp_picture_of_2000_things(benchmark, crowded):
    """Once after each movement; it should not hold the window up for long."""
    benchmark.pedantic(crowded.repaint, rounds=10, warmup_rounds=1)
    held(benchmark, 0.080)


def network_job(job, runs: int):
    """A comb: a collector, and laterals to both sides of it, over 500 points, with 60 walks between."""
    nodes = [Node("n1", 0.0, 0.0, outlet=Outlet(water_level=20.0)), *(Node(f"n{i + 1}", 0.0, 4.0 * i) for i in range(1, runs + 1))]
    ways = [Run("r1", "collector", tuple(n.id for n in nodes), 29.0, 0.006, (Stretch(is_solid=True, to_station=3.0), Stretch(is_solid=False, id="p2")))]
    for i in range(1, runs):
        nodes.append(Node(f"n{runs + 1 + i}", 13.0 if i % 2 else -13.0, 4.0 * i + 0.5))
        ways.append(Run(f"r{i + 1}", f"lateral {i}", (f"n{i + 1}", nodes[-1].id), 29.02 + 0.024 * i, 0.006))
    spots = CHANCE.uniform((-18, -5), (18, 4 * runs + 5), (500, 2))
    points = tuple(SitePoint(f"p{i}", float(x), float(y), 30.2 + 0.006 * float(y) + 0.1 * float(CHANCE.random())) for i, (x, y) in enumerate(spots))
    things = tuple(Feature(f"t{i}", "walk", f"walk {i}", (Spot(float(x), float(y)), Spot(float(x) + 3, float(y) + 2))) for i, (x, y) in enumerate(spots[:60]))
    lawn, patch = (Feature(f"t{len(things) + i}", "lawn", name, tuple(Spot(x, y) for x, y in ((-15.0, low), (15.0, low), (15.0, high), (-15.0, high))), dry_depth=dry)
                   for i, (name, low, high, dry) in enumerate((("lawn", 2.0, 4.0 * runs, 0.3), ("clay", 2.0 * runs, 4.0 * runs, None))))  # fmt: skip
    clay = dataclasses.replace(job.soils[0], id="g2", name="clay", area=patch.id)
    source = dataclasses.replace(job.sources[0], node=nodes[-1].id)
    site = dataclasses.replace(job, runs=tuple(ways), nodes=tuple(nodes), points=points, features=(*things, lawn, patch), survey=dataclasses.replace(job.survey, shots=()), holes=(),
                               soils=(*job.soils, clay), sources=(source,))  # fmt: skip
    for run in ways:  # every run keeps the lawn dry
        site = with_place(site, run.id, lawn.id)
    return site


@pytest.mark.parametrize(("runs", "seconds"), [(60, 0.033), (120, 0.066)])
def test_an_invert_dragged_in_a_network(benchmark, job, runs, seconds):
    """60 runs with 2,400 stations; twice as many take twice as long at the most."""
    site, session, turn = network_job(job, runs), Session(), iter(range(10**9))
    assess(site, session=session)
    jobs = [with_value(site, "runs.r3.invert", site.runs[2].invert + 0.0005 * i) for i in range(40)]
    benchmark(lambda: assess(jobs[next(turn) % 40], session=session))
    held(benchmark, seconds)


def test_an_invert_dragged_in_a_network_with_its_repaint(benchmark, qtbot, job):
    """60 runs in an open window, the findings and drawings with it."""
    make_application()
    window = Window()
    qtbot.addWidget(window, before_close_func=lambda w: w.document.stack.setClean())
    window.resize(1280, 800)
    window.show()
    site, turn = network_job(job, 60), iter(range(10**9))
    window.open_job(site, None)
    window.document.take_run("r3")
    window.document.dragging = True

    def drag() -> None:
        window.document.change(with_value(site, "runs.r3.invert", site.runs[2].invert + 0.0005 * (next(turn) % 40 + 1)), "drag", "drag")
        QApplication.processEvents()

    benchmark.pedantic(drag, rounds=60, warmup_rounds=5)
    held(benchmark, 0.033)


def test_a_network_of_60_runs_is_opened(benchmark, job):
    text = job_file.to_text(network_job(job, 60))
    benchmark.pedantic(lambda: assess(job_file.from_text(text), session=Session()), rounds=5, warmup_rounds=1)
    held(benchmark, 1.0)


def test_two_networks_open_side_by_side_cost_what_each_costs_alone(benchmark, job):
    sites = [network_job(job, 60), network_job(dataclasses.replace(job, name="other"), 60)]
    sessions = [Session(), Session()]
    for site, session in zip(sites, sessions, strict=True):
        assess(site, session=session)
    turn = iter(range(10**9))

    def edit() -> None:
        i = next(turn)
        assess(with_value(sites[i % 2], "runs.r3.invert", 29.0 + 0.0005 * (i % 40)), session=sessions[i % 2])

    benchmark(edit)
    held(benchmark, 0.033)


def test_thirty_years_of_every_school_on_a_hundred_soils(benchmark, job):
    outcome = assess(job)
    benchmark.pedantic(lambda: schools(outcome, outcome.run("r1"), 30), rounds=5, warmup_rounds=1)
    held(benchmark, 2.0)


def test_all_schools_with_all_products_on_a_soil(benchmark, job):
    outcome = assess(job)
    benchmark(lambda: counted_ways(outcome, outcome.run("r1")))  # without the blends of graded filters, which are told beside them
    held(benchmark, 0.050)
